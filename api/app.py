"""The API: thin routes that check access, call the core or the workshop, and return."""

from __future__ import annotations

from typing import Any

from django.db import DatabaseError, connection
from django.http import HttpRequest
from ninja import NinjaAPI
from ninja.errors import ValidationErrorContext
from ninja.security import SessionAuth

from api import bench, fits, problems, sensing, session, vehicles
from api.schemas import Health


class Api(NinjaAPI):
    """Ninja with the core's own words for what is wrong with a field."""

    def validation_error_from_error_contexts(self, error_contexts: list[ValidationErrorContext[Any]]) -> Any:
        """The core's error in place of Ninja's."""
        return problems.from_contexts(error_contexts)


api = Api(title="Wheelometron", version="1", docs_url=None, auth=SessionAuth())
problems.register(api)
api.add_router("/session", session.router, tags=["session"])
api.add_router("/vehicles", vehicles.router, tags=["vehicles"])
api.add_router("", sensing.router, tags=["sensing"])
api.add_router("", bench.router, tags=["bench"])
# Last, since Ninja describes a model as the last route has it: here as given, with plain numbers.
api.add_router("", fits.router, tags=["fits"])


@api.get("/health", auth=None, response={200: Health, 503: Health}, operation_id="health")
def health(request: HttpRequest) -> tuple[int, Health]:
    """200 while app and database answer, 503 otherwise."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except DatabaseError:
        return 503, Health(status="failing", database="away")
    return 200, Health(status="ok", database="ok")
