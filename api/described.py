"""The OpenAPI description, completed: every route's refusals with their media type, limits of bodies, keys of writes."""

from __future__ import annotations

from typing import Any

from api.limits import body_limit_bytes
from api.problems import MEDIA_TYPE, TITLES

CREATING = ("addVehicle", "addInstallation", "fitTyre", "startRun")
"""Routes with POST that keep something; the others with POST only compute."""
EVERYWHERE = (405, 500, 503)
WITH_BODY = (400, 413, 415, 422)
FILES = {
    "wiringPdf": ["application/pdf"],
    "benchCardPdf": ["application/pdf"],
    "benchFile": ["text/csv", "text/plain"],
    "ringFile": ["image/vnd.dxf", "image/svg+xml", "application/pdf"],
    "bracketFile": ["image/vnd.dxf", "image/svg+xml", "application/pdf"],
}
"""Routes that answer with a file, and its media types."""
PROBLEM = {"$ref": "#/components/schemas/ProblemOut"}
KEY = {
    "in": "header",
    "name": "Idempotency-Key",
    "required": False,
    "schema": {"type": "string", "pattern": "^[A-Za-z0-9-]{8,80}$"},
    "description": "Made by the client, new for every write; a repeat with the same key gets the first answer.",
}


def described(schema: Any) -> Any:
    """Complete a description made by Ninja, in place."""
    for path, operations in schema["paths"].items():
        for method, operation in operations.items():
            _complete(path, method, operation)
    return schema


def _complete(path: str, method: str, operation: dict[str, Any]) -> None:
    responses = operation["responses"]
    body = operation.get("requestBody")
    if media := FILES.get(operation["operationId"]):
        responses[200]["content"] = {kind: {"schema": {"type": "string", "format": "binary"}} for kind in media}
    statuses = {int(status) for status in responses} | set(EVERYWHERE)
    if body is not None:
        statuses |= set(WITH_BODY)
        body["content"]["application/json"]["x-max-bytes"] = body_limit_bytes(path)
    if method != "get":
        statuses.add(403)
    if method in ("put", "delete") or operation["operationId"] in CREATING:
        operation.setdefault("parameters", []).append(KEY)
    for status in sorted(statuses):
        if status < 400:
            continue
        answer = responses.setdefault(status, {"content": {"": {"schema": PROBLEM}}})
        answer["description"] = TITLES.get(status, "Error")
        answer["content"] = {MEDIA_TYPE: {"schema": next(iter(answer["content"].values()))["schema"]}}
        if status == 503:
            answer["headers"] = {"Retry-After": {"schema": {"type": "integer"}, "description": "Seconds to wait."}}
