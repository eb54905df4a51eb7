"""Shown against true speed becomes an observation, or a refusal that names its field."""

from __future__ import annotations

from typing import Any

from tests.api.base import ApiTestCase
from tests.installations import CAR, document


class Observing(ApiTestCase):
    def observe(self, **entries: Any) -> Any:
        known = document(CAR, readouts__0__current_setting=20_000)
        pair = {"true_kmh": 100, "shown_kmh": 95}
        comparison = {"kind": "drive", "on": "2026-05-02", "pairs": [pair], "expanded_pct": 0.3} | entries
        return self.send("post", "/bench/observe", {"document": known, "comparison": comparison})

    def test_a_drive_is_kept_in_the_document(self) -> None:
        answer = self.observe(setting="20000")
        self.assertEqual(answer.status_code, 200)
        kept = answer.json()["observations"]
        self.assertEqual([(item["kind"], item["pulses_per_km"]) for item in kept], [("drive", 19_000)])
        evaluated = self.send("post", "/evaluate", answer.json()).json()
        self.assertEqual(evaluated["result"]["readouts"][0]["to_type"]["text"], "19000")
        self.assertEqual(evaluated["result"]["known"]["observations"][0]["weight"], 1.0)

    def test_what_cannot_be_used_is_refused_by_field(self) -> None:
        for entries, path in (
            ({"pairs": [{"true_kmh": 100, "shown_kmh": 0}]}, "shown_kmh"),
            ({"pairs": []}, "pairs"),
            ({"setting": "round"}, "setting"),
            ({"setting": "1e12"}, ""),
            ({"readout": 7}, "readout"),
            ({"of": "reader"}, "of"),
            ({"on": "1066-10-14"}, "on"),
            ({"expanded_pct": 90}, "expanded_pct"),
        ):
            with self.subTest(entries):
                answer = self.observe(**entries)
                self.assertEqual(answer.status_code, 422, answer.content)
                problem = answer.json()["problems"][0]
                self.assertIn(path, problem["path"])
                self.assertTrue(problem["message"] and problem["remedy"])
