"""Practice over the API: begun, played, ended; each account sees its own."""

from __future__ import annotations

from typing import Any

from tests.api.base import ApiTestCase


class Practice(ApiTestCase):
    def begin(self, **body: Any) -> dict[str, Any]:
        answer = self.send("post", "/practice", body)
        self.assertEqual(answer.status_code, 201)
        return answer.json()

    def move(self, case: dict[str, Any], **move: Any) -> Any:
        return self.send("post", f"/practice/{case['id']}/moves", {"count": case["moves"], "move": move})

    def test_a_case_is_played_solved_and_counted(self) -> None:
        case = self.begin(case=1)
        self.assertIn("Today the display is blank", case["play"]["sentence"])
        self.assertIsNone(case["outcome"])
        self.assertEqual(case["play"]["shown_kmh"], 0)
        case = self.move(case, kind="test", code="battery", caution_read=True).json()
        case = self.move(case, kind="cure", code="reader_battery").json()
        self.assertTrue(case["play"]["solved"])
        ended = self.send("post", f"/practice/{case['id']}/end", {}).json()["outcome"]
        self.assertEqual((ended["solved"], ended["points"]), (True, 100))
        self.assertGreater(len(ended["expert"]), 1)
        again = self.send("post", f"/practice/{case['id']}/end", {}).json()["outcome"]
        self.assertEqual(again["points"], 100)
        self.refused(self.move(case, kind="test", code="look"), 422)
        listed = self.send("get", "/practice").json()
        self.assertEqual((listed["graded"][0]["best"], listed["mean_points"]), (100, 100))

    def test_a_repeat_counts_once_and_a_skipped_caution_costs(self) -> None:
        case = self.begin(case=2)
        first = self.move(case, kind="test", code="look").json()
        self.assertTrue(first["play"]["done"][0]["skipped"])
        self.assertEqual(first["play"]["minutes"], 22)
        self.assertEqual(self.move(case, kind="test", code="look").json()["moves"], 1)

    def test_giving_up_scores_nothing_and_says_what_it_was(self) -> None:
        case = self.begin()
        ended = self.send("post", f"/practice/{case['id']}/end", {}).json()
        self.assertEqual((ended["number"], ended["outcome"]["points"]), (0, 0))
        self.assertTrue(ended["outcome"]["cause"])

    def test_what_cannot_be_is_refused_and_others_do_not_see_it(self) -> None:
        self.refused(self.send("post", "/practice", {"case": 11}), 422)
        case = self.begin(case=5)
        self.refused(self.move(case, kind="test", code="horoscope"), 422)
        self.refused(self.move(case, kind="place", air_gap_mm=1), 422)  # a paddle has no gap
        self.refused(self.move(case, kind="cure", code="gremlins"), 422)
        self.client.force_login(self.their_vehicle.workshop.members.first().user)
        self.refused(self.send("get", f"/practice/{case['id']}"), 404)
