"""The API: thin routes that check access, call the core or the workshop, and return."""

from __future__ import annotations

from threading import Lock
from typing import Any

from django.db import connection
from django.http import HttpRequest
from ninja import NinjaAPI
from ninja.errors import ValidationErrorContext
from ninja.security import SessionAuth

from api import (
    answers,
    bench,
    corners,
    faults,
    installations,
    jobs,
    pairing,
    practice,
    problems,
    recordings,
    sensing,
    service,
    session,
    shelf,
    vehicles,
    work,
)
from api.described import described
from api.limits import BoundedParser
from api.schemas import Health


class Api(NinjaAPI):
    """Ninja with the core's own words for what is wrong with a field."""

    _description: Any = None
    """Made once, by one thread, when somebody asks for it: it takes seconds, and the app itself has no use for it."""
    _describing = Lock()

    def get_openapi_schema(self, **options: Any) -> Any:
        """The description, with the refusals that every route can answer, their media type, and the limits of
        bodies."""
        with self._describing:
            if self._description is None or any(options.values()):
                self._description = described(super().get_openapi_schema(**options))
            return self._description

    def validation_error_from_error_contexts(self, error_contexts: list[ValidationErrorContext[Any]]) -> Any:
        """The core's error in place of Ninja's."""
        return problems.from_contexts(error_contexts)


api = Api(title="Wheelometron", version="1", docs_url=None, auth=SessionAuth(), parser=BoundedParser())
problems.register(api)
api.add_router("/session", session.router, tags=["session"])
api.add_router("/pairing", pairing.router, tags=["session"])
api.add_router("/vehicles", vehicles.router, tags=["vehicles"])
api.add_router("/vehicles", corners.router, tags=["vehicles"])
api.add_router("/bin", vehicles.bin_router, tags=["vehicles"])
api.add_router("", sensing.router, tags=["sensing"])
api.add_router("", bench.router, tags=["bench"])
api.add_router("/vehicles", recordings.of_vehicle, tags=["recordings"])
api.add_router("/recordings", recordings.router, tags=["recordings"])
api.add_router("/recordings", answers.router, tags=["recordings"])
api.add_router("/installations", jobs.of_installation, tags=["jobs"])
api.add_router("/sheets", jobs.router, tags=["jobs"])
api.add_router("/installations", faults.of_installation, tags=["faults"])
api.add_router("/faults", faults.router, tags=["faults"])
api.add_router("/practice", practice.router, tags=["practice"])
api.add_router("/fault-table", faults.table_router, tags=["faults"])
api.add_router("/templates", jobs.templates_router, tags=["jobs"])
api.add_router("/shelf", shelf.router, tags=["shelf"])
api.add_router("/shared", jobs.shared_router, tags=["jobs"])
api.add_router("/vehicles", service.of_vehicle, tags=["service"])
api.add_router("/calendar", service.calendar_router, tags=["service"])
api.add_router("", service.router, tags=["service"])
api.add_router("/work", work.router, tags=["work"])
# Last, since Ninja describes a model as the last route has it: here as given, with plain numbers.
api.add_router("", installations.router, tags=["installations"])


@api.get("/health", auth=None, response=Health, operation_id="health")
def health(request: HttpRequest) -> Health:
    """200 while app and database answer, 503 otherwise."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1")
    return Health(status="ok", database="ok")
