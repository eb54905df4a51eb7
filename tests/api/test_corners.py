"""The corners of a vehicle over the API: all of what was found or none, and another workshop's stay its own."""

from __future__ import annotations

from typing import Any

from tests.api.base import ApiTestCase
from tests.installations import CAR, document
from workshop.models import Revision


class Corners(ApiTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.path = f"/vehicles/{self.vehicle.pk}/corners"
        self.ids = []
        for place in ("front_left", "front_right", "rear_left", "rear_right"):
            made = document(CAR, name=place, purpose="brake_control", sensed_at=place)
            answer = self.send("post", f"/vehicles/{self.vehicle.pk}/installations", made)
            self.assertEqual(answer.status_code, 201, answer.content)
            self.ids.append(answer.json()["id"])

    def heads(self) -> list[dict[str, Any]]:
        return [Revision.objects.filter(installation=pk).latest("number").document for pk in self.ids]

    def test_all_four_at_once(self) -> None:
        shown = self.send("get", self.path).json()["corners"]
        self.assertEqual([row["installation"] for row in shown], self.ids)  # the other installation is none
        rows = [
            {
                "installation": pk,
                "base_revision": 1,
                "found": {"count": "48", "resistance_ohm": "1k1", "outcome": "agreed"},
            }
            for pk in self.ids
        ]
        rows[3]["found"] = {"count": 46, "air_gap_mm": "0.9"}
        kept = self.send("put", self.path, {"corners": rows, "by": "mechanic"})
        self.assertEqual(kept.status_code, 200, kept.content)
        self.assertIn("46 are counted here", kept.json()["corners"][3]["wrong"][0])
        self.assertEqual([head["target"]["count"] for head in self.heads()], [48, 48, 48, 46])
        self.assertEqual(self.heads()[0]["test_records"][-1]["by"], "mechanic")
        number = Revision.objects.count()
        self.send(
            "put", self.path, {"corners": [{"installation": self.ids[3], "base_revision": 2, "found": {"count": 46}}]}
        )
        self.assertEqual(Revision.objects.count(), number)  # nothing new

    def test_one_bad_value_keeps_none(self) -> None:
        before = self.heads()
        rows = [
            {"installation": self.ids[0], "base_revision": 1, "found": {"count": 46}},
            {"installation": self.ids[1], "base_revision": 1, "found": {"air_gap_mm": "wide"}},
        ]
        refused = self.refused(self.send("put", self.path, {"corners": rows}), 422)
        self.assertIn("air_gap_mm", refused["problems"][0]["path"])
        self.assertEqual(self.heads(), before)

    def test_a_corner_that_was_changed_meanwhile_is_not_written_over(self) -> None:
        first = [{"installation": self.ids[0], "base_revision": 1, "found": {"count": 46}}]
        self.assertEqual(self.send("put", self.path, {"corners": first}).status_code, 200)
        rows = [{"installation": pk, "base_revision": 1, "found": {"count": 44}} for pk in self.ids]
        self.refused(self.send("put", self.path, {"corners": rows}), 409)
        self.assertEqual([head["target"]["count"] for head in self.heads()], [46, 48, 48, 48])

    def test_of_others_and_of_another_vehicle(self) -> None:
        rows = [{"installation": self.their_installation.pk, "base_revision": 1, "found": {"count": 46}}]
        self.refused(self.send("put", self.path, {"corners": rows}), 404)
        self.refused(self.send("get", f"/vehicles/{self.their_vehicle.pk}/corners"), 404)
        self.client.force_login(self.their_vehicle.workshop.members.first().user)
        self.refused(self.send("put", self.path, {"corners": []}), 404)
