"""Absurd requests on every route: none is a failure of the server. A sample always, the whole with `./test --long`."""

from __future__ import annotations

import json
from collections.abc import Iterator
from copy import deepcopy
from typing import Any

import schemathesis.openapi
from django.contrib.auth.models import User
from django.test import TestCase
from hypothesis import HealthCheck, Phase, given, seed, settings
from schemathesis import Case, GenerationMode

from api.app import api
from tests.api.test_access import BODIES, KINDS, routes
from tests.sizes import LONG, sized
from workshop.demo import load_demo
from workshop.models import (
    DueItem,
    FaultRecord,
    InstallationRecord,
    OwnTemplate,
    PartRecord,
    SheetRecord,
    Task,
    Vehicle,
)

RAW = "RAW-TEXT"
ABSURD: tuple[Any, ...] = (
    None, True, -1, 0, 10**30, -(10**12), 1e308, "", " ", "a\x00b", "\ud800", "9" * 5000, "9999-12-31",
    "0001-01-01T00:00:00Z",
    "١٢", "=1+1", "{0}", [], {}, [[[]]], {"a": {"b": []}}, ["\x00"], {"\x00": 1}, f"{RAW}NaN", f"{RAW}-Infinity",
    f"{RAW}1e999",
)  # fmt: skip
"""What no field takes, or hardly: in place of every value of a body that is right."""
IDS = (0, -1, 2**31, 2**63, 10**30, "x", "%00", "%ED%A0%80", "..", "a" * 300)


def changed(body: Any) -> Iterator[Any]:
    """The body with each absurd value at each of its places, and itself replaced by each."""
    yield from ABSURD
    places = list(_places(body))
    for place in places:
        for value in ABSURD:
            copy = deepcopy(body)
            inner = copy
            for step in place[:-1]:
                inner = inner[step]
            inner[place[-1]] = value
            yield copy


def _places(body: Any, above: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    items = body.items() if isinstance(body, dict) else enumerate(body) if isinstance(body, list) else ()
    for name, value in items:
        yield (*above, name)
        yield from _places(value, (*above, name))


def as_json(body: Any) -> bytes:
    """JSON that may hold what JSON does not know."""
    text = json.dumps(body)
    for word in ("NaN", "-Infinity", "1e999"):
        text = text.replace(f'"{RAW}{word}"', word)
    return text.encode()


class Fuzz(TestCase):
    """In the demo world, as one who may do everything."""

    @classmethod
    def setUpTestData(cls) -> None:
        load_demo(recordings=LONG)

    def setUp(self) -> None:
        self.user = User.objects.get(username="demo")
        self.client.force_login(self.user)
        self.client.raise_request_exception = False
        self.failed: list[str] = []
        first = {
            "vehicle_id": Vehicle, "installation_id": InstallationRecord, "sheet_id": SheetRecord,
            "fault_id": FaultRecord,
            "part_id": PartRecord, "item_id": DueItem, "task_id": Task, "template_id": OwnTemplate,
        }  # fmt: skip
        found = {name: getattr(model.objects.first(), "pk", 1) for name, model in first.items()}
        self.ids = found | {
            "number": 1, "work_id": 1, "recording_id": 1, "photo_id": 1, "practice_id": 1, "link_id": 1,
            "place": "dash",
            "step": "safe_ground", "key": "k-1234567", "secret": "nobody", "ending": "csv", "kind": "vehicle",
        }  # fmt: skip

    def ask(self, method: str, path: str, body: bytes = b"", media: str = "application/json") -> int:
        answer = self.client.generic(method.upper(), path, body, media if body else "application/octet-stream")
        if answer.status_code >= 500:
            self.failed.append(f"{answer.status_code} {method} {path} {body[:200]!r}")
        return int(answer.status_code)

    def address(self, path: str, **other: Any) -> str:
        return path.format_map(_Any(self.ids | other))

    def test_every_value_of_every_body(self) -> None:
        count = 0
        for method, path in routes():
            if method == "get" or path in KINDS:
                continue
            self.client.force_login(self.user)  # one of the routes signs out
            for number, body in enumerate(changed(BODIES.get((method, path), {}))):
                if LONG or (number * 7 + count) % 23 == 0:
                    self.ask(method, self.address(path), as_json(body))
            count += 1
        self.assertGreater(count, 50)
        self.assertEqual(self.failed, [])

    def test_every_part_of_every_address(self) -> None:
        for at, (method, path) in enumerate(routes()):
            names = [name for name in self.ids if "{" + name + "}" in path]
            for number, value in enumerate(IDS):
                if method == "get" and (LONG or (at + number) % 3 == 0):
                    for name in names:
                        self.ask(method, self.address(path, **{name: value}))
                    self.ask(method, f"{self.address(path)}?search={value}&before={value}&offset={value}&limit={value}")
        self.assertEqual(self.failed, [])

    def test_generated_from_the_description(self) -> None:
        """By schemathesis, from the API's own OpenAPI: what it allows, and what it does not."""
        described = schemathesis.openapi.from_dict(json.loads(json.dumps(api.get_openapi_schema(), default=str)))
        asked = 0
        modes = (GenerationMode.POSITIVE, GenerationMode.NEGATIVE)
        for place, result in enumerate(described.get_all_operations()):
            self.client.force_login(self.user)
            for mode in modes if LONG else modes[place % 2 :][:1]:
                asked += self.generated(result.ok(), mode, sized(40, 1))
        self.assertGreater(asked, sized(2000, 50))
        self.assertEqual(self.failed, [])

    def generated(self, operation: Any, mode: GenerationMode, examples: int) -> int:
        asked = 0

        @seed(20261129)
        @settings(
            max_examples=examples,
            deadline=None,
            database=None,
            phases=(Phase.generate,),
            suppress_health_check=list(HealthCheck),
        )
        @given(case=operation.as_strategy(generation_mode=mode))
        def run(case: Case) -> None:
            nonlocal asked
            asked += 1
            sent = case.as_transport_kwargs(base_url="http://testserver")
            body = json.dumps(sent["json"]).encode() if sent.get("json") is not None else sent.get("data") or b""
            query = "&".join(f"{name}={value}" for name, value in (sent.get("params") or {}).items())
            path = sent["url"].removeprefix("http://testserver") + (f"?{query}" if query else "")
            if isinstance(body, bytes | str):
                self.ask(
                    operation.method, path, body if isinstance(body, bytes) else body.encode("utf-8", "surrogatepass")
                )

        try:
            run()
        except Exception as error:  # nothing can be generated that breaks this operation, or its schema is out of reach
            if "Unsatisfiable" not in type(error).__name__ and "InvalidArgument" not in type(error).__name__:
                raise
        return asked


class _Any(dict[str, Any]):
    def __missing__(self, name: str) -> Any:
        return 1
