"""Readings beside the true speed: their pattern, and the causes of each."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from speedchain import evaluate
from speedchain.fields import DocumentError, InputError
from speedchain.views.readings import Diagnosis, Readings, diagnose
from tests.installations import CAR, CYCLE, installation

SPEEDS = (20.0, 40.0, 60.0, 80.0, 100.0)
ROLLED = {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 5782}}


def diagnosed(shown: list[float], base: dict[str, Any] = CAR, **changes: Any) -> Diagnosis:
    entered = installation(base, **changes)
    pairs = [{"true_kmh": v, "shown_kmh": s} for v, s in zip(SPEEDS, shown, strict=False)]
    return diagnose(entered, evaluate(entered), Readings.model_validate({"pairs": pairs}))


class Patterns(TestCase):
    def test_a_constant_ratio_is_ranked_as_a_setting_is(self) -> None:
        found = diagnosed([round(v * 1.609344) for v in SPEEDS], wheel=ROLLED)
        self.assertEqual((found.pattern, found.causes[0].code), ("constant", "unit_mile"))
        self.assertAlmostEqual(found.ratio, 1.609344, delta=0.01)

    def test_one_pair_gives_a_ratio(self) -> None:
        found = diagnosed([40.0], wheel=ROLLED)
        self.assertEqual((found.pattern, found.causes[0].code), ("constant", "edges_two"))
        self.assertIn("2 times the true speed", found.text)

    def test_an_offset_is_no_matter_of_the_setting(self) -> None:
        found = diagnosed([v + 8 for v in SPEEDS])
        self.assertEqual((found.pattern, found.causes[0].code), ("offset", "offset"))
        self.assertAlmostEqual(found.offset_kmh, 8, delta=0.5)

    def test_a_limit_holds_the_display(self) -> None:
        found = diagnosed([20, 40, 60, 62, 62])
        self.assertEqual((found.pattern, found.causes[0].code), ("saturating", "limit"))
        self.assertAlmostEqual(found.end_kmh or 0, 62, delta=0.5)

    def test_pulses_missed_with_speed(self) -> None:
        found = diagnosed([20, 39, 57, 73, 88])
        self.assertEqual((found.pattern, found.causes[0].code), ("falling", "missed"))
        rising = diagnosed([20, 41, 63, 86, 111])
        self.assertEqual(rising.causes[0].code, "growth")

    def test_a_step_of_the_display_is_no_pattern(self) -> None:
        self.assertEqual(diagnosed([20, 41, 60, 81, 100]).pattern, "constant")

    def test_a_reed_that_counts_double(self) -> None:
        found = diagnosed([40, 80, 120], CYCLE, sensor={"kind": "reed"}, target__count=1)
        self.assertEqual(found.causes[0].code, "double")

    def test_what_cannot_be_read(self) -> None:
        with self.assertRaises(InputError) as caught:
            diagnosed([0.0, 0.0])
        self.assertIn("magnet test", str(caught.exception))
        with self.assertRaises((InputError, DocumentError, ValueError)):
            Readings.model_validate({"pairs": [{"true_kmh": 50, "shown_kmh": 50}] * 2})
