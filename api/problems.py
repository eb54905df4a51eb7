"""Problem details (RFC 9457) for everything the API refuses."""

from __future__ import annotations

import logging
import sys
from dataclasses import asdict, replace
from typing import Any

from django.core.serializers.json import DjangoJSONEncoder
from django.db import InterfaceError, OperationalError
from django.http import HttpRequest, JsonResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationErrorContext

from speedchain.fields import said, text_of
from speedchain.fields.errors import Problem, SpeedchainError, problems_from_pydantic
from workshop.access import NotFoundError, ReadOnlyError
from workshop.installations import readable
from workshop.storage import disk_is_full, is_nearly_full
from workshop.vehicles import FullError, NameTakenError, StaleError
from workshop.work import BusyError

TITLES = {
    400: "This request cannot be read",
    401: "Sign in first",
    403: "Not allowed",
    404: "Not found",
    405: "Method not allowed",
    409: "Conflict",
    413: "Too large",
    415: "Wrong media type",
    422: "Some fields need correcting",
    429: "Too many requests",
    500: "Server error",
    503: "Temporarily unavailable",
    507: "Disk full",
}
MEDIA_TYPE = "application/problem+json"
STALE = "urn:wheelometron:problem:newer-version"
TAKEN = "urn:wheelometron:problem:name-taken"
RETRY_AFTER_S = 2
log = logging.getLogger(__name__)


class FieldProblem(Schema):
    """One field that cannot be used."""

    path: str
    message: str
    remedy: str = ""
    limit: str = ""
    value: str = ""
    missing: bool = False


class ProblemOut(Schema):
    """Problem details, RFC 9457, with the fields that are wrong."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    problems: list[FieldProblem] = []


def problem(
    status: int, detail: str, problems: tuple[Problem, ...] = (), kind: str = "about:blank", **more: Any
) -> JsonResponse:
    """One answer in `application/problem+json`."""
    body = {"type": kind, "title": said(TITLES.get(status, "Error")), "status": status, "detail": said(detail)}
    body["problems"] = [
        asdict(replace(item, message=said(item.message), remedy=said(item.remedy), limit=said(item.limit)))
        for item in problems
    ]
    return JsonResponse(body | more, status=status, content_type=MEDIA_TYPE, encoder=DjangoJSONEncoder)


def unavailable() -> JsonResponse:
    """The answer while the database cannot be reached: come back in a moment."""
    answer = problem(503, "The database cannot be reached. Nothing was changed. Try again in a moment.")
    answer["Retry-After"] = str(RETRY_AFTER_S)
    return answer


def of_database(error: BaseException | None) -> JsonResponse:
    """The answer to a failure of the database: its disk is full, or it cannot be reached."""
    if disk_is_full(error) or is_nearly_full():
        return problem(507, "The disk of the server is full. Nothing was changed. Free space on it, then try again.")
    return unavailable()


def locked_out(request: HttpRequest, _response: Any = None, credentials: Any = None) -> JsonResponse:
    """The answer to a sign-in after too many failures."""
    return problem(429, "Too many failed sign-ins with this name from here. Wait 15 minutes, then try again.")


def bad_request(request: HttpRequest, exception: Exception) -> JsonResponse:
    """The answer to a request that is refused before any route sees it."""
    return problem(400, "This request cannot be read.")


def no_route(request: HttpRequest, exception: Exception) -> JsonResponse:
    """The answer where there is no route at all."""
    return problem(404, "There is no such address. The API's routes are in /api/openapi.json.")


def failed(request: HttpRequest) -> JsonResponse:
    """The answer to a failure of our own: 503 when the database is away, 500 otherwise."""
    if isinstance(error := sys.exc_info()[1], OperationalError | InterfaceError):
        return of_database(error)
    return problem(500, "The server failed on this request. Nothing was changed.")


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
        return problem(422, error.problems[0].text if error.problems else "Bad input.", error.problems)

    @api.exception_handler(NotFoundError)
    def not_found(request: HttpRequest, error: NotFoundError) -> JsonResponse:
        return problem(404, "This does not exist in your workshop, or was deleted.")

    @api.exception_handler(ReadOnlyError)
    def read_only(request: HttpRequest, error: ReadOnlyError) -> JsonResponse:
        return problem(403, "Your account may read only. Ask your workshop for an account that may edit.")

    @api.exception_handler(NameTakenError)
    def taken(request: HttpRequest, error: NameTakenError) -> JsonResponse:
        message = "Your workshop has a vehicle of this name already."
        return problem(409, message, (Problem("name", message, "Choose another name."),), TAKEN)

    @api.exception_handler(FullError)
    def full(request: HttpRequest, error: FullError) -> JsonResponse:
        return problem(
            422, text_of("At most {0} {1} are kept. Delete what is no longer used.", error.limit, error.what)
        )

    @api.exception_handler(BusyError)
    def busy(request: HttpRequest, error: BusyError) -> JsonResponse:
        return problem(429, "Three runs of your workshop are in progress. Wait for one, or stop one.")

    @api.exception_handler(StaleError)
    def stale(request: HttpRequest, error: StaleError) -> JsonResponse:
        from api.schemas import RevisionOut

        detail = text_of("You started from version {0}; version {1} is newer.", error.base, error.newest)
        if error.base == error.newest:
            detail = text_of("Version {0} was changed after you opened it.", error.newest)
        if error.head is None:
            return problem(409, detail, kind=STALE, base=error.base, newest=error.newest)
        theirs = RevisionOut.of(error.head).model_dump(mode="json") if readable(error.head) else None
        yours = getattr(request, "refused_document", None)
        return problem(409, detail, kind=STALE, base=error.base, newest=error.newest, theirs=theirs, yours=yours)

    @api.exception_handler(AuthenticationError)
    def signed_out(request: HttpRequest, error: AuthenticationError) -> JsonResponse:
        return problem(401, "You are not signed in, or no longer. Sign in and try again.")

    @api.exception_handler(HttpError)
    def other(request: HttpRequest, error: HttpError) -> JsonResponse:
        cause = error.__cause__  # Ninja wraps what its parser raises
        if isinstance(cause, SpeedchainError):
            return problem(422, cause.problems[0].text, cause.problems)
        refused = cause if isinstance(cause, HttpError) else error
        return problem(refused.status_code, str(refused))

    @api.exception_handler(OperationalError)
    @api.exception_handler(InterfaceError)
    def away(request: HttpRequest, error: Exception) -> JsonResponse:
        log.warning("database: %s", str(error).splitlines()[0] if str(error) else type(error).__name__)
        return of_database(error)

    @api.exception_handler(Exception)
    def broken(request: HttpRequest, error: Exception) -> JsonResponse:
        log.exception("%s %s", request.method, request.path, exc_info=error)
        return problem(500, "The server failed on this request. Nothing was changed.")
