"""Every way to the circumference: value, uncertainty, evidence, grounds, arithmetic."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from speedchain.fields.errors import InputError
from speedchain.stages.findings import Finding
from speedchain.stages.result import Stage
from speedchain.wheel import Wheel, evaluate_wheel, parse_marking, roll_out_uncertainty_pct
from speedchain.wheel.chart import CYCLE_CHART, chart_row_of, neighbour_row


def wheel(method: str, kind: str = "car", **parts: Any) -> tuple[Stage, tuple[Finding, ...]]:
    found = evaluate_wheel(Wheel(method=method, **parts), vehicle_kind=kind)
    return found.stage, found.findings


class Methods(TestCase):
    def test_the_school_follows_tyre_and_vehicle(self) -> None:
        for text, kind, factor in [
            ("205/55R16", "car", 3.05),
            ("205/55R16", "motorcycle", math.pi),
            ("205/55-16", "car", math.pi),
            ("31x10.50R15", "car", 3.05),
            ("28-622", "bicycle", math.pi),
        ]:
            with self.subTest(f"{text} {kind}"):
                stage, _ = wheel("marking", kind, marking={"text": text})
                self.assertAlmostEqual(stage.value / parse_marking(text).diameter_mm, factor)

    def test_a_school_that_is_asked_for_is_used(self) -> None:
        stage, _ = wheel("marking", "bicycle", marking={"text": "28-622", "factor": "etrto_3_05"})
        self.assertAlmostEqual(stage.value, 3.05 * 678)
        self.assertIn("2130.0 mm", stage.why[1].source)

    def test_evidence_and_starting_uncertainty(self) -> None:
        for method, part, evidence, u_pct in [
            ("marking", {"text": "205/55R16"}, "assumed", 1.0),
            ("marking", {"text": "205/55-16"}, "assumed", 1.5),
            ("marking", {"text": "205/55R16", "relative_uncertainty_pct": 2.5}, "assumed", 2.5),
            ("entered", {"circumference_mm": 2105, "source": "chart"}, "assumed", 0.7),
            ("entered", {"circumference_mm": 2105, "source": "previous_setting"}, "assumed", 2.0),
            ("entered", {"circumference_mm": 2105, "source": "measured_elsewhere"}, "measured", 0.3),
            ("entered", {"circumference_mm": 2105, "relative_uncertainty_pct": "0.1 %"}, "assumed", 0.1),
        ]:
            with self.subTest(f"{method} {part}"):
                stage, _ = wheel(method, **{method: part})
                self.assertEqual(stage.evidence, evidence)
                self.assertAlmostEqual(stage.relative_standard_uncertainty_pct, u_pct)
                self.assertTrue(stage.grounds)

    def test_a_tape_read_worse_is_less_sure(self) -> None:
        fine, _ = wheel("taped_diameter", taped_diameter={"diameter_mm": 660, "reading_mm": 1})
        rough, _ = wheel("taped_diameter", taped_diameter={"diameter_mm": 660, "reading_mm": "20 mm"})
        self.assertEqual(fine.evidence, "measured")
        self.assertLess(fine.relative_standard_uncertainty_pct, rough.relative_standard_uncertainty_pct)
        self.assertAlmostEqual(
            rough.relative_standard_uncertainty_pct,
            math.hypot(
                100 * 20 / math.sqrt(3) / 660,
                1.5 / math.sqrt(3) * (0.5 / (1 - 0.065 / 2) - 1 / 3 / (1 - 0.065 / 3)),  # a radial: 5 to 8 %
                6.5 / 12,
            ),
            places=3,
        )

    def test_more_turns_are_surer_in_proportion(self) -> None:
        self.assertAlmostEqual(roll_out_uncertainty_pct(2000, 1) / roll_out_uncertainty_pct(2000, 5), 5)
        one, _ = wheel("roll_out", roll_out={"turns": 1, "distance_mm": 2070})
        self.assertIn("1 turn", one.grounds)

    def test_a_proof_makes_it_proven_and_leaves_the_figure(self) -> None:
        entries = {"roll_out": {"turns": 3, "distance_mm": 6210}}
        plain, _ = wheel("roll_out", **entries)
        verified, _ = wheel("roll_out", **entries, verification={"test": "measured_distance", "on": "2026-06-01"})
        self.assertEqual((plain.evidence, verified.evidence), ("measured", "verified"))
        self.assertEqual(plain.value, verified.value)

    def test_the_water_has_its_own_words(self) -> None:
        stage, _ = wheel("entered", "boat", entered={"circumference_mm": 370.4})
        self.assertIn("paddle", stage.figures[0].name)

    def test_methods_not_in_use_are_kept_and_compared(self) -> None:
        parts = {"marking": {"text": "205/55R16"}, "roll_out": {"turns": 3, "distance_mm": 6150}}
        for method in parts:
            with self.subTest(method):
                _, findings = wheel(method, **parts)
                self.assertEqual([finding.code for finding in findings], ["wheel.methods_disagree"])
                self.assertIn("%", findings[0].message)


class Chart(TestCase):
    def test_the_right_row_is_no_neighbour(self) -> None:
        for row in CYCLE_CHART:
            etrto = f"{row.width_mm:g}-{row.bead_seat_mm}"
            with self.subTest(row.label):
                self.assertEqual(chart_row_of(etrto), row)
                self.assertIsNone(neighbour_row(etrto, row.circumference_mm))

    def test_other_rims_are_no_neighbours(self) -> None:
        self.assertIsNone(neighbour_row("47-406", 2105))
        self.assertIsNone(chart_row_of("44-622"))

    def test_an_inch_size_finds_its_row(self) -> None:
        for text, label in [("26x2.1", "26x2.1"), ("20x1.75", "20x1.75"), ("29x2.2", "29x2.2")]:
            row = chart_row_of(text)
            assert row is not None
            self.assertEqual(row.label, label)

    def test_chart_and_formula_differ_by_less_than_four_percent(self) -> None:
        """Chart and formula differ by up to 4 % for small fat tyres; common practice."""
        for row in CYCLE_CHART:
            formula = math.pi * (row.bead_seat_mm + 2 * row.width_mm)
            with self.subTest(row.label):
                self.assertLess(abs(formula / row.circumference_mm - 1), 0.04)


class Markings(TestCase):
    def test_what_was_understood_is_said(self) -> None:
        for text, words in [
            ("205/55R16", "205 mm wide, sidewall 55 % of that, radial, 16 in rim"),
            ("120/70-17", "diagonal or belted"),
            ("31x10.50R15", "31 in across"),
            ("28-622", "622\u00a0mm bead seat"),
            ("650B x 47", "on 650B, a 584\u00a0mm bead seat"),
        ]:
            with self.subTest(text):
                self.assertIn(words, parse_marking(text).understood)

    def test_limits_name_the_part_that_broke_them(self) -> None:
        for text, part in [
            ("600/55R16", "section width"),
            ("205/15R16", "aspect ratio"),
            ("205/55R4", "rim"),
            ("70x10-15", "outer diameter"),
            ("20x30-10", "width"),
            ("20x8-25", "rim"),
            ("10-622", "tyre width"),
            ("28-150", "bead seat"),
        ]:
            with self.subTest(text), self.assertRaises(InputError) as caught:
                parse_marking(text)
            self.assertIn(part, caught.exception.problems[0].message)

    @given(st.integers(50, 500), st.integers(20, 110), st.integers(5, 30))
    def test_metric_round_trip(self, width: int, aspect: int, rim: int) -> None:
        marking = parse_marking(f"{width}/{aspect}R{rim}")
        self.assertAlmostEqual((marking.diameter_mm - 25.4 * rim) * 50 / width, aspect, places=9)

    @given(st.text(max_size=45))
    def test_any_text_is_read_or_refused(self, text: str) -> None:
        try:
            self.assertGreater(parse_marking(text).diameter_mm, 0)
        except InputError as error:
            self.assertTrue(error.problems[0].remedy)
