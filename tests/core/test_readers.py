"""Readers with a table, a code chart, a percentage or a way of their own; timing; the reverse; the band over speed."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from speedchain import Evaluation, evaluate
from speedchain.fields.errors import DocumentError, InputError
from speedchain.readout.model import Timing
from speedchain.readout.timing import timing_of
from speedchain.uncertainty.ranking import Hypothesis, likeliest
from speedchain.views.over_speed import over_speed
from tests.installations import CAR, CYCLE, implied, installation

WHEEL = {"method": "entered", "entered": {"circumference_mm": 2000, "source": "measured_elsewhere"}}


def read(base: dict[str, Any] = CYCLE, **readout: Any) -> Any:
    entries = {"name": "R", "encoding": "circumference_mm", **readout}
    return evaluate(installation(base, wheel=WHEEL, readouts=[entries]))


class Ways(TestCase):
    def test_a_percentage_corrects_what_the_reader_assumes(self) -> None:
        result = read(encoding="percent_correction", base_pulses_per_km=510).readouts[0]
        self.assertEqual(result.to_type.value, 2.0)
        wrong = read(encoding="percent_correction", base_pulses_per_km=510, current_setting=-2).readouts[0]
        self.assertAlmostEqual(wrong.in_use.error_pct, 100 * (500 / 510 * 0.98 - 1))

    def test_a_code_chart_gives_its_nearest_line(self) -> None:
        codes = [{"code": c, "circumference_mm": mm} for c, mm in (("7", 1920), ("8", 1990), ("9", 2060))]
        result = read(encoding="chart_code", codes=codes).readouts[0]
        self.assertEqual((result.to_type.text, result.below.text, result.above.text), ("8", "8", "9"))
        self.assertEqual(
            read(encoding="chart_code", codes=codes, current_setting_code="9").readouts[0].in_use.text, "9"
        )
        with self.assertRaises(DocumentError) as caught:
            read(encoding="chart_code", codes=codes, current_setting_code="12")
        self.assertEqual(caught.exception.problems[0].path, "readouts.0.current_setting_code")

    def test_a_table_reads_true_and_a_wrong_point_bends_it(self) -> None:
        points: list[dict[str, Any]] = [{"speed_kmh": 30}, {"speed_kmh": 60}, {"speed_kmh": 120}]
        evaluation = evaluate(
            installation(wheel=WHEEL, readouts=[{"name": "R", "encoding": "frequency_table", "table": points}],
                check_speeds_kmh=[45, 90])
        ).readouts[0]  # fmt: skip
        self.assertEqual(len(evaluation.table), 3)
        for one in evaluation.residuals:
            self.assertLess(abs(one.error_pct), 0.1)
        points[1]["set_frequency_hz"] = evaluation.table[1].exact_hz * 1.1
        bent = read(CAR, encoding="frequency_table", table=points).readouts[0]
        self.assertLess(bent.in_use.error_pct, -1)

    def test_a_way_of_your_own(self) -> None:
        own = {"label": "Dial units", "unit": "units", "direct": False, "scale": 100_000, "step": 0.5, "minimum": 10}
        result = read(encoding="custom", custom=own).readouts[0]
        self.assertEqual((result.to_type.value, result.unit, result.label), (200.0, "units", "Dial units"))
        self.assertAlmostEqual(
            read(encoding="custom", custom=own, current_setting=190).readouts[0].in_use.error_pct, -5
        )

    def test_digits_bound_the_number_and_pad_it(self) -> None:
        evaluation = evaluate(installation(CYCLE, wheel=WHEEL, target__count=3, readouts__0__digits=4)).readouts[0]
        self.assertEqual((evaluation.to_type.text, evaluation.maximum), ("0667", 9999))
        findings = evaluate(installation(CYCLE, wheel=WHEEL, readouts__0__digits=3)).findings
        self.assertIn("readout.out_of_range_per_turn", [finding.code for finding in findings])

    def test_what_an_encoding_lacks_is_named(self) -> None:
        for entries, path in [
            ({"encoding": "percent_correction"}, "base_pulses_per_km"),
            ({"encoding": "frequency_table", "table": [{"speed_kmh": 5}]}, "table"),
            ({"encoding": "frequency_table", "table": [{"speed_kmh": 9}, {"speed_kmh": 5}]}, "table"),
            ({"encoding": "chart_code"}, "codes"),
            ({"encoding": "chart_code", "codes": [{"code": "1", "circumference_mm": 2000}] * 2}, "codes"),
            ({"encoding": "custom"}, "custom"),
        ]:
            with self.subTest(path), self.assertRaises(DocumentError) as caught:
                read(**entries)
            self.assertEqual(caught.exception.problems[0].path, f"readouts.0.{path}")

    def test_a_gear_ratio_the_reader_is_told_counts(self) -> None:
        drive = {"kind": "axle_ratio", "axle_ratio": {"ratio": 4}}
        dash = {"name": "Dash", "encoding": "teeth_and_diameter", "set_pulses_per_turn": 48, "set_gear_ratio": 4}
        evaluation = evaluate(installation(wheel=WHEEL, drive=drive, purpose="slip_control", readouts=[dash])).readouts[
            0
        ]
        self.assertEqual(evaluation.to_type.value, 637)


class Times(TestCase):
    def test_lowest_speed_by_what_comes_first(self) -> None:
        for timing, lowest, by in [
            ({"time_out_s": 2}, 3.6, "the time-out"),
            ({"time_out_s": 2, "minimum_kmh": 5}, 5, "its own minimum"),
            ({"method": "gate", "gate_s": 0.5}, 14.4, "one pulse in the gate"),
            ({}, 0, "no limit: it waits for ever"),
        ]:
            result = timing_of(Timing(**timing), 36, 500)
            self.assertAlmostEqual(result.min_speed_kmh, lowest)
            self.assertEqual(result.lowest_by, by)

    def test_averaging_is_finer_and_later(self) -> None:
        one, four = (timing_of(Timing(pulses_averaged=k), 100, 24_000) for k in (1, 4))
        self.assertAlmostEqual(one.resolution_kmh / four.resolution_kmh, 4)
        self.assertAlmostEqual(four.update_s / one.update_s, 4)

    def test_a_display_that_shows_nothing_at_the_speed_to_check_blocks(self) -> None:
        evaluation = evaluate(installation(CYCLE, check_speed_kmh=5, readouts__0__timing={"time_out_s": 1}))
        self.assertIn("readout.too_slow", [finding.code for finding in evaluation.findings])


class Reverse(TestCase):
    def cause(self, base: dict[str, Any], **changes: Any) -> tuple[str, str]:
        found = implied(base, wheel=WHEEL, **changes)[0]
        return found.causes[0].code, found.causes[0].fix

    def test_each_known_mistake_is_recognised(self) -> None:
        four = {"name": "D", "encoding": "teeth_and_diameter", "set_pulses_per_turn": 48}
        for base, changes, code in [
            (CYCLE, {"readouts__0__current_setting": 637}, "pi"),
            (CYCLE, {"readouts__0__current_setting": 2000}, "right"),
            (CYCLE, {"readouts__0__current_setting": 2000, "target__count": 3}, "pulses_left_out"),
            (CYCLE, {"readouts__0__current_setting": 200}, "places"),
            (CYCLE, {"readouts__0__current_setting": 78.7, "readouts__0__minimum": 1}, "inch"),
            (CAR, {"readouts__0__current_setting": 38624}, "unit_mile"),
            (CAR, {"readouts__0__current_setting": 48000}, "edges_half"),
            (CAR, {"readouts": [{**four, "current_setting": 2000}]}, "pi"),
            (CAR, {"readouts": [{**four, "current_setting": "61.2 cm"}], "target__basis": "counted"}, "other_tyre"),
            (CAR, {"readouts__0__current_setting": 24500}, "tooth"),
        ]:
            with self.subTest(f"{code} {changes}"):
                found, fix = self.cause(base, **changes)
                self.assertEqual(found, code)
                self.assertTrue(fix)

    def test_a_ratio_left_out(self) -> None:
        drive = {"kind": "axle_ratio", "axle_ratio": {"ratio": 3.73}}
        self.assertEqual(self.cause(CAR, drive=drive, readouts__0__current_setting=24000)[0], "ratio_out")

    def test_the_chart_row_is_told_by_name(self) -> None:
        found = implied(CYCLE, readouts__0__current_setting=2105)[0]
        self.assertEqual(found.causes[0].code, "chart")
        self.assertIn("700x25C", found.causes[0].text)
        self.assertAlmostEqual(found.run_per_turn_mm, 2105)

    def test_nothing_is_claimed_for_a_ratio_nobody_makes(self) -> None:
        self.assertEqual(likeliest(7.3, 0.5, [Hypothesis(code="two", ratio=2.0, prior=1.0, text="", fix="")]), ())


class OverSpeed(TestCase):
    def test_low_on_the_road_leaves_the_band_and_a_number_brings_it_in(self) -> None:
        car = installation(wheel=WHEEL, target__basis="counted", readouts__0__current_setting=24500)
        result = over_speed(car, evaluate(car))
        self.assertEqual([span.side for span in result.leaves], ["below"])
        nominal, surely = result.numbers
        self.assertEqual((nominal.text, nominal.surely), ("24000", False))
        self.assertGreater(surely.error_pct, 0.59)
        self.assertIn("24000\u00a0pulses per km brings it in", result.text)

    def test_far_above_leaves_the_band_only_where_ten_percent_and_four_are_passed(self) -> None:
        car = installation(wheel=WHEEL, target__basis="counted", readouts__0__current_setting=24000 / 1.14)
        result = over_speed(car, evaluate(car))
        (span,) = result.leaves
        self.assertEqual(span.side, "above")
        self.assertTrue(100 < span.from_kmh < 105)

    def test_growth_bends_the_curve(self) -> None:
        slick = WHEEL | {"corrections": {"growth_pct": 4, "growth_at_kmh": 200}}
        car = installation(purpose="slip_control", wheel=slick, check_speed_kmh=100)
        result = over_speed(car, evaluate(car), max_speed_kmh=200)
        self.assertAlmostEqual(result.shown_kmh[-1] / result.true_kmh[-1], 1.01 / 1.04, places=3)

    def test_growth_is_in_the_residuals_at_every_check_speed(self) -> None:
        slick = WHEEL | {"corrections": {"growth_pct": 4, "growth_at_kmh": 200}}
        evaluation = evaluate(
            installation(purpose="slip_control", wheel=slick, check_speed_kmh=100, check_speeds_kmh=[50, 200])
        )
        here, slow, fast = evaluation.readouts[0].residuals
        self.assertLess(abs(here.error_pct), 0.01)
        self.assertAlmostEqual(slow.error_pct, 100 * (1.01 / 1.0025 - 1), delta=0.01)
        self.assertAlmostEqual(fast.error_pct, 100 * (1.01 / 1.04 - 1), delta=0.01)

    def test_no_band_where_the_law_has_none(self) -> None:
        for changes in ({"speedometer_rule": "none"}, {"purpose": "slip_control"}, {"vehicle_kind": "kart"}):
            car = installation(**changes)
            self.assertEqual(over_speed(car, evaluate(car)).band_true_kmh, [])

    def test_a_readout_that_is_not_there(self) -> None:
        with self.assertRaises(InputError):
            over_speed(installation(), evaluate(installation()), place=3)


class NothingToEnter(TestCase):
    """Brake-control units, fixed gauges and dashes that learn on a ride."""

    ROLLED = {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 5782}}

    def fixed(self, **changes: Any) -> Evaluation:
        reader = {"name": "Unit", "encoding": "pulses_per_km", "entry": "fixed", "current_setting": 22_830}
        return evaluate(
            installation(CAR, **{"wheel": self.ROLLED, "target__basis": "counted", "readouts": [reader]} | changes)
        )

    def test_a_fixed_reader_is_solved_backwards(self) -> None:
        """24 905 pulses per km for 22 830: a ring of 44 teeth in place of 48 is right within 0.1 %."""
        (found,) = self.fixed().fixed_readers
        self.assertIn("it shows 9.1 % more than true", found.text)
        ways = {way.code: way for way in found.ways}
        self.assertIn("44 teeth in place of 48", ways["ring"].text)
        after = self.fixed(target={"count": 44, "basis": "counted"})
        self.assertAlmostEqual(after.shown.error_pct, ways["ring"].error_pct, places=6)
        self.assertLess(abs(ways["converter"].error_pct), 0.01)
        self.assertIn("mm diameter", ways["tyre"].text)
        self.assertEqual(after.fixed_readers[0].ways, ())
        self.assertNotIn("readout.fixed_off", [item.code for item in after.findings])

    def test_a_gauge_on_a_cable_takes_another_gear(self) -> None:
        cable = {"axle_ratio": 3.73, "drive_teeth": 8, "driven_teeth": 20}
        gauge = {"name": "Gauge", "encoding": "turns_per_km", "entry": "fixed", "current_setting": 700}
        result = self.fixed(
            drive={"kind": "cable", "cable": cable}, target={"count": 1, "basis": "counted"}, readouts=[gauge]
        )
        ways = {way.code: way for way in result.fixed_readers[0].ways}
        self.assertIn("driven gear of 22 teeth", ways["gear"].text)
        after = self.fixed(
            drive={"kind": "cable", "cable": cable | {"driven_teeth": 22}},
            target={"count": 1, "basis": "counted"},
            readouts=[gauge],
        )
        self.assertAlmostEqual(after.shown.error_pct, ways["gear"].error_pct, places=6)

    def test_a_fixed_reader_is_never_told_to_enter_a_number(self) -> None:
        result = self.fixed()
        self.assertEqual(result.shown.condition, "")
        self.assertNotEqual(result.next_action.code, "readout.read_back")
        self.assertFalse(any(item.remedy.startswith("Enter") for item in result.findings if item.stage == "readout"))
        with self.assertRaises(DocumentError) as caught:
            installation(CAR, readouts=[{"name": "Unit", "encoding": "pulses_per_km", "entry": "fixed"}])
        self.assertEqual(caught.exception.problems[0].path, "readouts.0.current_setting")

    def test_a_reader_that_learns_asks_for_its_ride(self) -> None:
        reader = {"name": "Dash", "encoding": "pulses_per_km", "entry": "learned"}
        waiting = self.fixed(readouts=[reader])
        self.assertEqual(waiting.next_action.code, "readout.learning_ride")
        self.assertIn("Closed ground", waiting.next_action.caution)
        self.assertEqual(waiting.shown.condition, "once it has learned its setting")
        ride = {"hold_kmh": "25 mph", "hold_s": 10, "key_off_s": 60, "outcome": "learned", "on": "2026-06-01"}
        done = self.fixed(readouts=[reader | {"learning_ride": ride}])
        self.assertEqual((done.readouts[0].evidence, done.readouts[0].grounds), ("measured", "learned on a ride"))
        self.assertEqual(done.next_action.code, "prove")
        self.assertAlmostEqual(done.shown.error_pct, 0, delta=0.001)  # six digits of what it learned
