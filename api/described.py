"""The OpenAPI description, completed: every route's refusals with their media type, limits of bodies, keys of
writes."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from pydantic import BaseModel

from api.limits import body_limit_bytes
from api.problems import MEDIA_TYPE, TITLES
from speedchain.document.schema import describe_fields

EVERYWHERE = (405, 500, 503, 507)
WITH_BODY = (400, 413, 415, 422)
REF = "#/components/schemas/"
PROBLEM = {"$ref": "#/components/schemas/ProblemOut"}
SPEED_UNIT = {
    "in": "header",
    "name": "X-Speed-Unit",
    "required": False,
    "schema": {"type": "string", "enum": ["km/h", "mph", "kn"]},
    "description": "The unit of the speeds in texts; figures are km/h always.",
}
LENGTH_UNIT = {
    "in": "header",
    "name": "X-Length-Unit",
    "required": False,
    "schema": {"type": "string", "enum": ["mm", "in"]},
    "description": "The unit of the lengths in texts, by default inches beside mph; figures are mm always.",
}
KEY = {
    "in": "header",
    "name": "Idempotency-Key",
    "required": False,
    "schema": {"type": "string", "pattern": "^[A-Za-z0-9-]{8,80}$"},
    "description": "Made by the client, new for every write; a repeat with the same key gets the first answer.",
}


KEEPS = {"x-keeps": True}
"""Of a route with POST that keeps something, for its `openapi_extra`; the others with POST only compute."""


def a_file(*media: str) -> dict[str, Any]:
    """Of a route that answers with a file of one of these media types, for its `openapi_extra`."""
    return {"x-file": media}


def described(schema: Any) -> Any:
    """Complete a description made by Ninja, in place."""
    schema["components"]["parameters"] = {"SpeedUnit": SPEED_UNIT, "LengthUnit": LENGTH_UNIT}
    for path, operations in schema["paths"].items():
        for method, operation in operations.items():
            _complete(path, method, operation)
    _take_texts(schema)
    return schema


def _take_texts(schema: dict[str, Any]) -> None:
    """Describe what requests may hold as the models read it: numbers, or text with a unit.

    A model that is also part of an answer, where its numbers are numbers, is described for requests as `NameInput`.
    """
    components = schema["components"]["schemas"]
    operations = [item for methods in schema["paths"].values() for item in methods.values()]
    asked = _reached([item.get("requestBody", {}) for item in operations], components)
    answered = _reached([item["responses"] for item in operations], components)
    for name in answered:  # an answer has all of its fields
        if "properties" in components[name]:
            components[name]["required"] = list(components[name]["properties"])
    models = {model.__name__: model for model in _all_of(BaseModel)}
    found: dict[str, Any] = {}
    for name in sorted(asked):
        described = models[name].model_json_schema(mode="validation", ref_template=REF + "{model}")
        found |= described.pop("$defs", {})
        found[name] = described
    renamed = {name: f"{name}Input" if name in answered else name for name in found}
    for name, described in sorted(found.items()):
        describe_fields(name, described)
        components[renamed[name]] = _renamed(described, renamed)
    for operation in operations:
        if "requestBody" in operation:
            operation["requestBody"] = _renamed(operation["requestBody"], renamed)


def _all_of(model: type[BaseModel]) -> Iterator[type[BaseModel]]:
    for inner in model.__subclasses__():
        yield inner
        yield from _all_of(inner)


def _reached(nodes: Any, components: dict[str, Any]) -> set[str]:
    """Names of all components that are referred to, directly or by one another."""
    found: set[str] = set()
    waiting = list(_references(nodes))
    while waiting:
        name = waiting.pop()
        if name not in found:
            found.add(name)
            waiting += _references(components[name])
    return found


def _references(node: Any) -> Iterator[str]:
    if isinstance(node, dict):
        if "$ref" in node:
            yield node["$ref"].removeprefix(REF)
        node = list(node.values())
    if isinstance(node, list):
        for inner in node:
            yield from _references(inner)


def _renamed(node: Any, names: dict[str, str]) -> Any:
    """The same with references to other names."""
    if isinstance(node, list):
        return [_renamed(inner, names) for inner in node]
    if not isinstance(node, dict):
        return node
    changed = {key: _renamed(value, names) for key, value in node.items()}
    if "$ref" in changed:
        name = changed["$ref"].removeprefix(REF)
        changed["$ref"] = REF + names.get(name, name)
    return changed


def _complete(path: str, method: str, operation: dict[str, Any]) -> None:
    responses = operation["responses"]
    body = operation.get("requestBody")
    if media := operation.pop("x-file", None):
        responses[200]["content"] = {kind: {"schema": {"type": "string", "format": "binary"}} for kind in media}
    statuses = {int(status) for status in responses} | set(EVERYWHERE)
    if body is not None:
        statuses |= set(WITH_BODY)
        body["content"]["application/json"]["x-max-bytes"] = body_limit_bytes(path)
    if method != "get":
        statuses.add(403)
    operation.setdefault("parameters", []).extend(
        [{"$ref": f"#/components/parameters/{name}"} for name in ("SpeedUnit", "LengthUnit")]
    )
    if operation.pop("x-keeps", False) or method in ("put", "delete"):
        operation.setdefault("parameters", []).append(KEY)
    for status in sorted(statuses):
        if status < 400:
            continue
        answer = responses.setdefault(status, {"content": {"": {"schema": PROBLEM}}})
        answer["description"] = TITLES.get(status, "Error")
        answer["content"] = {MEDIA_TYPE: {"schema": next(iter(answer["content"].values()))["schema"]}}
        if status == 503:
            answer["headers"] = {"Retry-After": {"schema": {"type": "integer"}, "description": "Seconds to wait."}}
