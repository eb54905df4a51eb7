"""Methods for the circumference side by side: repeats, corrections, combination and quarrels."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from speedchain import evaluate
from speedchain.fields.errors import DocumentError
from speedchain.uncertainty import UncertaintyInput, least_squares_mean
from speedchain.wheel import Wheel, compare, evaluate_wheel, growth_factor
from tests.installations import CYCLE, installation

THREE: dict[str, Any] = {
    "method": "roll_out",
    "marking": {"text": "20x1.75"},
    "taped_diameter": {"diameter_mm": 475},
    "roll_out": {"turns": 3, "distance_mm": 4365},
}


def value(kind: str = "bicycle", pulses: float = 1.0, speed: float = 100.0, **parts: Any) -> float:
    return evaluate_wheel(Wheel(**parts), vehicle_kind=kind, pulses_per_turn=pulses, speed_kmh=speed).stage.value


class Methods(TestCase):
    def test_axle_height_lies_between_loaded_and_unloaded(self) -> None:
        parts = {"method": "axle_height", "axle_height": {"axle_height_mm": 300}, "marking": {"text": "205/55R16"}}
        unloaded = 205 * 0.55 * 2 + 16 * 25.4
        self.assertTrue(2 * math.pi * 300 < value(**parts) < math.pi * unloaded)
        stage = evaluate_wheel(Wheel(**parts), vehicle_kind="car").stage
        self.assertEqual(stage.evidence, "assumed")
        parts["axle_height"] = {"axle_height_mm": 300, "unloaded_diameter_mm": 630}
        stage = evaluate_wheel(Wheel(**parts), vehicle_kind="car").stage
        self.assertEqual(stage.evidence, "measured")

    def test_axle_height_refuses_what_cannot_be(self) -> None:
        for height, marking, path in [
            (300, None, "axle_height.unloaded_diameter_mm"),
            (630, "205/55R16", "axle_height.axle_height_mm"),
            (100, "205/55R16", "axle_height.axle_height_mm"),
        ]:
            wheel: dict[str, Any] = {"method": "axle_height", "axle_height": {"axle_height_mm": height}}
            if marking:
                wheel["marking"] = {"text": marking}
            with self.subTest(str(height)), self.assertRaises(DocumentError) as caught:
                installation(wheel=wheel)
            self.assertEqual(caught.exception.problems[0].path, f"wheel.{path}")

    def test_each_way_of_comparing_with_true_speed(self) -> None:
        for entry in [
            {"true_kmh": 98, "shown_kmh": 100},
            {"basis": "measured_distance", "true_km": 9.8, "shown_km": 10},
            {"basis": "timed_distance", "true_km": "1 mile", "time_s": 1.609344 / 98 * 3600, "shown_kmh": 100},
        ]:
            with self.subTest(str(entry)):
                result = value(method="speed_derived", speed_derived={"set_circumference_mm": 2000, **entry})
                self.assertAlmostEqual(result, 1960)

    def test_what_a_comparison_lacks_is_named(self) -> None:
        with self.assertRaises(DocumentError) as caught:
            installation(
                wheel={"method": "speed_derived", "speed_derived": {"set_circumference_mm": 2000, "true_kmh": 50}}
            )
        self.assertEqual(caught.exception.problems[0].path, "wheel.speed_derived.shown_kmh")

    def test_a_paddle_counts_by_the_nautical_mile_whatever_its_magnets(self) -> None:
        for magnets in (2, 4):
            boat = installation(
                CYCLE,
                vehicle_kind="boat",
                wheel={"method": "paddle", "paddle": {"pulses_per_nautical_mile": 20_000}},
                target={"kind": "paddle_magnets", "count": magnets},
                sensor__kind="paddlewheel",
                readouts=[{"name": "Display", "encoding": "pulses_per_nautical_mile"}],
            )
            evaluation = evaluate(boat)
            self.assertAlmostEqual(evaluation.pulses_per_km, 20_000 / 1.852)
            self.assertEqual(evaluation.readouts[0].to_type.value, 20_000)
        calibrated = value("boat", 4, method="paddle", paddle={"calibration_pct": 2.5})
        self.assertAlmostEqual(calibrated, 370.4 * 1.025)

    def test_repeats_give_mean_and_scatter_and_promise_more(self) -> None:
        runs = {"turns": 3, "distance_mm": 6210, "repeats_mm": [6216, "6.204 m"]}
        found = evaluate_wheel(Wheel(method="roll_out", roll_out=runs), vehicle_kind="car")
        stage, detail = found.stage, found.detail
        self.assertAlmostEqual(stage.value, 2070)
        result = detail.progress[0]
        self.assertEqual(result.readings, 3)
        self.assertAlmostEqual(result.scatter_mm or 0, 2.0)
        self.assertLess(result.one_more_turn_expanded_mm or 99, result.expanded_mm)
        self.assertLess(result.one_more_reading_expanded_mm, result.expanded_mm)

    def test_runs_that_scatter_too_much_are_pointed_out(self) -> None:
        runs = {"turns": 3, "distance_mm": 6210, "repeats_mm": [8280]}
        findings = evaluate_wheel(Wheel(method="roll_out", roll_out=runs), vehicle_kind="car").findings
        self.assertEqual([finding.code for finding in findings], ["wheel.runs_scatter"])


class Corrections(TestCase):
    roll = {"method": "roll_out", "roll_out": {"turns": 1, "distance_mm": 2000}}

    def test_wear_counts_from_what_was_measured(self) -> None:
        worn = {"tread_now_mm": 3}
        self.assertAlmostEqual(value(**self.roll, corrections=worn), 2000)
        result = value(**self.roll, corrections=worn, measured={"tread_depth_mm": 5})
        self.assertAlmostEqual(result, 2000 - 2 * math.pi * 2)
        marked = {"method": "marking", "marking": {"text": "28-622"}}
        result = value(**marked, corrections={"tread_new_mm": 4, "tread_now_mm": 3})
        self.assertAlmostEqual(result, math.pi * 678 - 2 * math.pi)

    def test_another_load_applies_only_when_it_is_driven_with(self) -> None:
        for applies, expected in ((False, 2000), (True, 1980)):
            other = {"turns": 2, "distance_mm": 3960, "load": "two up", "applies": applies}
            self.assertAlmostEqual(value(**self.roll, corrections={"other_load": other}), expected)

    def test_growth_is_with_the_square_of_speed(self) -> None:
        grown = {"growth_pct": 4, "growth_at_kmh": 200}
        self.assertAlmostEqual(value(speed=100, **self.roll, corrections=grown), 2020)
        wheel = Wheel(**self.roll, corrections=grown)
        self.assertAlmostEqual(growth_factor(wheel, 200), 1.04)
        self.assertEqual(growth_factor(Wheel(**self.roll), 200), 1.0)

    def test_what_is_to_come_is_shown_but_not_used(self) -> None:
        detail = evaluate_wheel(Wheel(method="marking", marking={"text": "205/55R16"}), vehicle_kind="car").detail
        limit = next(one for one in detail.corrections if one.code == "tread_limit")
        self.assertFalse(limit.applied)
        self.assertAlmostEqual(limit.change_mm, -2 * math.pi * 6.4)
        self.assertTrue(next(one for one in detail.corrections if one.code == "make").either_way)


class Quarrels(TestCase):
    def test_three_methods_that_do_not_agree(self) -> None:
        result = compare(Wheel(**THREE), "velomobile")
        self.assertFalse(result.agree)
        self.assertEqual(len(result.lines), 3)
        self.assertAlmostEqual(sum(line.weight_pct for line in result.lines), 100)
        self.assertIn("do not agree", result.text)
        self.assertTrue(any(one.causes for one in result.disagreements))

    def test_the_likely_cause_is_the_mistake_that_was_made(self) -> None:
        roll = {"turns": 3, "distance_mm": 6210}
        for parts, cause in [
            ({"roll_out": {"turns": 4, "distance_mm": 6210}, "taped_diameter": {"diameter_mm": 659}}, "turns"),
            ({"roll_out": roll, "taped_diameter": {"diameter_mm": 329.5}}, "radius"),
            ({"roll_out": roll, "entered": {"circumference_mm": 659, "source": "measured_elsewhere"}}, "pi"),
            ({"roll_out": {"turns": 3, "distance_mm": 4788}, "marking": {"text": "20x1 1/8"}}, ""),
            ({"roll_out": {"turns": 3, "distance_mm": 4360}, "marking": {"text": "20x1 1/8"}}, "notation"),
        ]:
            with self.subTest(cause):
                result = compare(Wheel(method="roll_out", **parts), "velomobile")
                if cause:
                    self.assertIn(cause, result.disagreements[0].causes[0].code)
                else:
                    self.assertTrue(result.agree)

    def test_a_tape_blames_the_tyre_and_not_the_marking(self) -> None:
        """A car's honest roll-out of 1928 mm, tape of 1972 mm round the tread and 3.05·D of its marking are one
        wheel."""
        car = {
            "roll_out": {"turns": 3, "distance_mm": 3 * 1928},
            "taped_circumference": {"circumference_mm": 1972},
            "marking": {"text": "205/55R16"},
        }
        self.assertTrue(compare(Wheel(method="roll_out", **car), "car").agree)
        # taken for a bicycle's, the same tape disagrees: the tyre is flattened more, and nothing is read or rolled
        # again
        soft = compare(Wheel(method="roll_out", construction="bicycle", **car), "car").disagreements
        tape = next(one for one in soft if {one.first, one.second} == {"roll_out", "taped_circumference"})
        self.assertTrue(tape.causes[0].code.endswith("flattened"), tape.causes)
        self.assertIn("axle height", tape.finding.remedy)
        for one in soft:
            self.assertFalse(any(cause.code.endswith("school") for cause in one.causes), one)

    def test_a_cycle_s_tread_and_no_car_s_factor(self) -> None:
        """2 mm of tread are all that a bicycle tyre has; 3.05 is for the radials of cars."""
        parts = {"roll_out": {"turns": 3, "distance_mm": 3 * 2040}, "marking": {"text": "28-622"}}
        causes = compare(Wheel(method="roll_out", **parts), "bicycle").disagreements[0].causes
        self.assertFalse([one for one in causes if one.code.endswith("school")], causes)
        worn = [one.text for one in causes if one.code == "worn"]
        self.assertTrue(all("1.5 mm" in text or "0.8 mm" in text for text in worn), worn)

    def test_paper_against_a_tape_is_settled_by_rolling(self) -> None:
        for tape in (1700.0, 1800.0, 1850.0, 2060.0, 2150.0, 2300.0):
            parts = {"marking": {"text": "205/55R16"}, "taped_circumference": {"circumference_mm": tape}}
            for one in compare(Wheel(method="marking", **parts), "car").disagreements:
                said = " ".join([one.finding.remedy, *[cause.fix for cause in one.causes]])
                for never in ("factor", "marking again", "sidewall", "Repeat the roll-out"):
                    self.assertNotIn(never, said, tape)

    def test_the_height_of_the_axle_says_how_far_the_tyre_is_flattened(self) -> None:
        axle = {"axle_height_mm": 290, "unloaded_diameter_mm": 630}  # δ = 25/315
        tape = {"method": "taped_circumference", "taped_circumference": {"circumference_mm": 1980}}
        self.assertAlmostEqual(value("car", **tape, axle_height=axle), 1980 * (1 - 25 / 315 / 3))
        self.assertAlmostEqual(value("car", **tape), 1980 * (1 - 0.065 / 3))
        self.assertAlmostEqual(value("car", **tape, construction="solid"), 1980 * (1 - 0.0025 / 3))

    def test_combined_is_the_weighted_mean_and_needs_two(self) -> None:
        stage = evaluate_wheel(Wheel(**THREE | {"method": "combined"}), vehicle_kind="velomobile").stage
        result = compare(Wheel(**THREE), "velomobile")
        self.assertAlmostEqual(stage.value, result.combined_mm)
        self.assertEqual(stage.evidence, "measured")
        with self.assertRaises(DocumentError) as caught:
            installation(wheel={"method": "combined", "marking": {"text": "28-622"}})
        self.assertEqual(caught.exception.problems[0].path, "wheel.method")

    def test_a_quarrel_warns_at_the_wheel(self) -> None:
        evaluation = evaluate(installation(CYCLE, wheel=THREE))
        self.assertIn("wheel.methods_disagree", [finding.code for finding in evaluation.findings])

    def test_the_schools_are_told_with_the_reason(self) -> None:
        self.assertIn("In use: 3.05", compare(Wheel(method="marking", marking={"text": "205/55R16"}), "car").schools)
        self.assertIn("In use: π", compare(Wheel(method="marking", marking={"text": "28-622"}), "bicycle").schools)

    @given(st.lists(st.tuples(st.floats(1500, 2500), st.floats(0.1, 50)), min_size=1, max_size=9))
    def test_the_mean_lies_within_and_is_no_worse_than_the_best(self, pairs: list[tuple[float, float]]) -> None:
        values, us = zip(*pairs, strict=True)
        budgets = [
            (UncertaintyInput(source=str(place), u_pct=100 * u / value),) for place, (value, u) in enumerate(pairs)
        ]
        mean = least_squares_mean(values, tuple(budgets))
        self.assertTrue(min(values) - 1e-6 <= mean.value <= max(values) + 1e-6)
        used = [u for u, weight in zip(us, mean.weights, strict=True) if weight]
        if mean.consistent:
            self.assertLessEqual(mean.u, min(used) * (1 + 1e-6))
        else:  # ± reaches every value
            self.assertTrue(all(abs(v - mean.value) < mean.expanded for v in values))
