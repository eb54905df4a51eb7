"""Problem details (RFC 9457) for everything the API refuses."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.core.serializers.json import DjangoJSONEncoder
from django.http import HttpRequest, JsonResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationErrorContext

from speedchain.errors import Problem, SpeedchainError, problems_from_pydantic
from workshop.runs import BusyError
from workshop.services import FullError, NameTakenError, NotFoundError, StaleError

TITLES = {
    400: "This request cannot be read",
    401: "Sign in first",
    403: "Not allowed",
    404: "Not found",
    409: "Somebody saved before you",
    413: "Too large",
    422: "Some fields cannot be used",
    429: "Too many tries",
}


UNREADABLE = "This request is not JSON that can be read, or it is larger than 5 MB."


class FieldProblem(Schema):
    """One field that cannot be used."""

    path: str
    message: str
    remedy: str = ""
    limit: str = ""
    value: str = ""


class ProblemOut(Schema):
    """Problem details, RFC 9457, with the fields that are wrong."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    problems: list[FieldProblem] = []


def problem(status: int, detail: str, problems: tuple[Problem, ...] = (), **more: Any) -> JsonResponse:
    """One answer in `application/problem+json`."""
    body = {"type": "about:blank", "title": TITLES.get(status, "Error"), "status": status, "detail": detail}
    body["problems"] = [asdict(item) for item in problems]
    return JsonResponse(body | more, status=status, content_type="application/problem+json", encoder=DjangoJSONEncoder)


def locked_out(request: HttpRequest, _response: Any = None, credentials: Any = None) -> JsonResponse:
    """The answer to a sign-in after too many failures."""
    return problem(429, "Too many failed sign-ins with this name from here. Wait a quarter of an hour, then try again.")


def bad_request(request: HttpRequest, exception: Exception) -> JsonResponse:
    """The answer to a request that is refused before any route sees it."""
    return problem(400, UNREADABLE)


def no_route(request: HttpRequest, exception: Exception) -> JsonResponse:
    """The answer where there is no route at all."""
    return problem(404, "There is no such address. The API's routes are in /api/openapi.json.")


def from_contexts(contexts: list[ValidationErrorContext[Any]]) -> SpeedchainError:
    """Pydantic's errors of a request as the core's, with paths that begin inside the body."""
    problems: list[Problem] = []
    for context in contexts:
        listed = context.pydantic_validation_error.errors(include_url=False)
        problems += problems_from_pydantic([{**error, "loc": error["loc"][1:]} for error in listed])
    return SpeedchainError(*problems)


def register(api: NinjaAPI) -> None:
    """Answer every refusal with problem details."""

    @api.exception_handler(SpeedchainError)
    def unusable(request: HttpRequest, error: SpeedchainError) -> JsonResponse:
        return problem(422, str(error.problems[0]) if error.problems else "Bad input.", error.problems)

    @api.exception_handler(NotFoundError)
    def not_found(request: HttpRequest, error: NotFoundError) -> JsonResponse:
        return problem(404, "There is no such thing in your workshop.")

    @api.exception_handler(NameTakenError)
    def taken(request: HttpRequest, error: NameTakenError) -> JsonResponse:
        message = "Your workshop has a vehicle of this name already."
        return problem(422, message, (Problem("name", message, "Choose another name."),))

    @api.exception_handler(FullError)
    def full(request: HttpRequest, error: FullError) -> JsonResponse:
        return problem(422, "This workshop or vehicle holds as many as it may. Delete what is no longer used.")

    @api.exception_handler(BusyError)
    def busy(request: HttpRequest, error: BusyError) -> JsonResponse:
        return problem(429, "Three runs of your workshop are going already. Wait for one, or stop one.")

    @api.exception_handler(StaleError)
    def stale(request: HttpRequest, error: StaleError) -> JsonResponse:
        from api.schemas import RevisionOut

        head = RevisionOut.of(error.head).model_dump(mode="json")
        detail = f"You started from revision {error.base}; revision {error.head.number} is newer."
        yours = getattr(request, "refused_document", None)
        return problem(409, detail, base=error.base, theirs=head, yours=yours)

    @api.exception_handler(AuthenticationError)
    def signed_out(request: HttpRequest, error: AuthenticationError) -> JsonResponse:
        return problem(401, "You are not signed in, or no longer. Sign in and try again.")

    @api.exception_handler(HttpError)
    def other(request: HttpRequest, error: HttpError) -> JsonResponse:
        if error.status_code == 400:
            return problem(400, UNREADABLE)
        return problem(error.status_code, str(error))
