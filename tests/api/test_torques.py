"""A torque from the manual is asked once an axle: other installations of the same axle have it, those of another do
not."""

from __future__ import annotations

from typing import Any

from tests.api.base import ApiTestCase
from tests.installations import CAR, document

FRONT, REAR = {"sensed_at": "front"}, {"sensed_at": "rear"}


class Lent(ApiTestCase):
    def sheet_of(self, name: str, **changes: Any) -> dict[str, Any]:
        made = document(CAR, name=name, **changes)
        answer = self.send("post", f"/vehicles/{self.vehicle.pk}/installations", made)
        self.assertEqual(answer.status_code, 201, answer.content)
        begun = self.send("post", f"/installations/{answer.json()['id']}/sheets", {"template": "wheel_swap"})
        self.assertEqual(begun.status_code, 201, begun.content)
        found: dict[str, Any] = begun.json()
        return found

    def torque(self, sheet: dict[str, Any]) -> dict[str, Any] | None:
        step: dict[str, Any] = next(item for item in sheet["steps"] if item["code"] == "torque_wheel")
        known: dict[str, Any] | None = step["torque"]
        return known

    def test_once_an_axle(self) -> None:
        first = self.sheet_of("Dash", **FRONT)
        self.assertIsNone(self.torque(first))
        entry = {
            "key": "k-1234567",
            "step": "torque_wheel",
            "what": "done",
            "value": "110",
            "unit": "N·m",
            "acknowledged": True,
            "by": "fitter",
            "at": "2026-05-02T10:00:00Z",
        }
        self.assertEqual(self.send("post", f"/sheets/{first['id']}/entries", {"entries": [entry]}).status_code, 200)
        second = self.torque(self.sheet_of("Logger", **FRONT))
        assert second is not None
        self.assertEqual((second["value"], second["unit"]), ("110", "N·m"))
        self.assertIsNotNone(self.torque(self.sheet_of("Brake control", sensed_at="front_left")))
        self.assertIsNone(self.torque(self.sheet_of("Slip log", **REAR)))
        self.assertIsNone(self.torque(self.sheet_of("Somewhere")))
