"""How parts are combined: edges, the state that each method is valid in, converters, settings that nobody has read
back."""

from __future__ import annotations

import itertools
from fractions import Fraction
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from speedchain import Evaluation, evaluate
from speedchain.signal.ratio import best_ratio
from speedchain.vehicle.tyre_change import NewTyre, TyreChange, change_tyre
from speedchain.views.over_speed import over_speed
from speedchain.wheel import Comparison, compare, evaluate_wheel
from speedchain.wheel.entries import SpeedDerived
from speedchain.wheel.model import Wheel
from speedchain.wheel.run import from_speed_derived
from tests.core.test_arrival import COIL, CONVERTER, HALL
from tests.core.test_vehicle import wheel
from tests.installations import CAR, CYCLE, implied, installation

POINT = {"vr": {"measured_vpp": 2, "at_hz": 100}}


def evaluated(base: dict[str, Any] = CAR, **changes: Any) -> Evaluation:
    return evaluate(installation(base, **changes))


class Edges(TestCase):
    """A tooth of which both edges are counted is still one cycle: physics sees teeth, settings see edges."""

    def test_a_coil_gives_the_same_voltage_however_many_edges_are_counted(self) -> None:
        """48 teeth on 1927.3 mm at 200 km/h are 1383.6 Hz: 13.84 × 2 V."""
        for edges in (1, 2):
            coil = evaluated(COIL, signal=POINT, target__edges=edges).signal_detail.coil
            assert coil is not None
            self.assertAlmostEqual(coil.at_top_vpp, 2 * 13.836, places=2)
            self.assertAlmostEqual(coil.min_speed_kmh, evaluated(COIL, signal=POINT).signal_detail.coil.min_speed_kmh)  # type: ignore[union-attr]

    def test_frequencies_and_pulse_lengths_are_of_teeth(self) -> None:
        one, two = (evaluated(HALL, target__edges=edges) for edges in (1, 2))
        self.assertAlmostEqual(two.pulses_per_km, 2 * one.pulses_per_km)
        self.assertEqual(one.signal_detail.rates[0].top_hz, two.signal_detail.rates[0].top_hz)
        self.assertEqual(one.signal_detail.rates[-1].shortest_ms, two.signal_detail.rates[-1].shortest_ms)
        self.assertEqual(one.pulse_times.top_hz, two.pulse_times.top_hz)

    def test_no_false_alarm_from_counting_both_edges(self) -> None:
        """700 teeth at 200 km/h are 20.2 kHz: too fast for 15 kHz; 300 teeth are 8.6 kHz, with both edges as with
        one."""
        for teeth, edges, fast in ((700, 1, True), (300, 1, False), (300, 2, False)):
            codes = [one.code for one in evaluated(HALL, target__count=teeth, target__edges=edges).findings]
            self.assertEqual("sensor.too_fast" in codes, fast, (teeth, edges))

    def test_a_converter_counts_the_edges(self) -> None:
        one, two = (
            evaluated(HALL, target__edges=edges, signal={"converter": CONVERTER}).signal_detail for edges in (1, 2)
        )
        assert one.conversion is not None
        assert two.conversion is not None
        self.assertAlmostEqual(one.conversion.ratio / two.conversion.ratio, 2, places=3)
        self.assertAlmostEqual(one.rates[2].top_hz / two.rates[2].top_hz, 1, places=3)

    def test_a_paddle_s_frequency_is_that_of_its_magnets(self) -> None:
        boat = {
            "purpose": "water_speed",
            "vehicle_kind": "boat",
            "wheel": {"method": "paddle", "paddle": {"pulses_per_nautical_mile": 20_000}},
            "sensor": {"kind": "paddlewheel"},
            "check_speed_kmh": "10 kn",
        }
        for edges in (1, 2):
            target = {"kind": "paddle_magnets", "count": 4, "edges": edges}
            result = evaluated(CAR, **boat, target=target)
            self.assertAlmostEqual(result.pulses_per_km * 1.852, 20_000)
            self.assertAlmostEqual(result.signal_detail.rates[0].top_hz, 55.556 / edges, places=2)


class Growth(TestCase):
    """Every method has the speed that it is valid at; only the growth beyond that is added."""

    GROWS = {"growth_pct": 2, "growth_at_kmh": 100}

    def circumference(self, speed_kmh: float, **entries: Any) -> float:
        given = Wheel.model_validate({"corrections": self.GROWS} | entries)
        return evaluate_wheel(given, vehicle_kind="car", speed_kmh=speed_kmh).stage.value

    def test_a_circumference_found_at_speed_is_right_at_that_speed(self) -> None:
        derived = {
            "method": "speed_derived",
            "speed_derived": {"set_circumference_mm": 2000, "shown_kmh": 100, "true_kmh": 100},
        }
        self.assertAlmostEqual(self.circumference(100, **derived), 2000)
        self.assertAlmostEqual(self.circumference(200, **derived), 2000 * 1.08 / 1.02)
        by_clock = {"basis": "timed_distance", "true_km": 1, "time_s": 36, "shown_kmh": 100}
        derived["speed_derived"] = {"set_circumference_mm": 2000, **by_clock}
        self.assertAlmostEqual(self.circumference(100, **derived), 2000)

    def test_a_radial_s_factor_holds_at_60_km_h(self) -> None:
        """3.05·D is the rolling circumference at 60 km/h; ETRTO Standards Manual, from memory."""
        marking = {"method": "marking", "marking": {"text": "205/55R16"}}
        self.assertAlmostEqual(self.circumference(60, **marking), 3.05 * 631.9, places=6)
        self.assertAlmostEqual(self.circumference(100, **marking) / (3.05 * 631.9), 1.02 / 1.0072, places=9)

    def test_a_roll_out_is_at_a_crawl(self) -> None:
        rolled = {"method": "roll_out", "roll_out": {"turns": 1, "distance_mm": 2000}}
        self.assertAlmostEqual(self.circumference(100, **rolled), 2040)

    def test_methods_are_brought_to_one_state_before_they_are_combined(self) -> None:
        """A marking of the new tyre and a roll-out of the worn one: 5 mm of tread lost is 31.4 mm."""
        entries = {
            "method": "combined",
            "marking": {"text": "205/55R16", "factor": "pi"},
            "roll_out": {"turns": 3, "distance_mm": 3 * 1953.8},
            "corrections": {"tread_now_mm": 3, "tread_new_mm": 8},
            "measured": {},
        }
        found = evaluate_wheel(Wheel.model_validate(entries), vehicle_kind="car")
        self.assertAlmostEqual(found.stage.value, 1953.8, delta=0.3)
        self.assertEqual([one.code for one in found.detail.corrections if one.applied], [])


class SharedInputs(TestCase):
    """Methods that share an input are not two pieces of knowledge."""

    CHART = {"label": "700x28C", "circumference_mm": 2136}

    def compared(self, kind: str = "bicycle", **entries: Any) -> Comparison:
        return compare(Wheel.model_validate({"method": next(iter(entries))} | entries), kind)

    def test_one_chart_row_typed_and_chosen_counts_once(self) -> None:
        typed = {"circumference_mm": 2136, "source": "chart"}
        both, alone = self.compared(chart=self.CHART, entered=typed), self.compared(chart=self.CHART)
        self.assertAlmostEqual(both.combined_expanded_mm, alone.combined_expanded_mm)
        self.assertIn("Counted once", both.text)
        other = self.compared(chart=self.CHART, entered={"circumference_mm": 2140, "source": "chart"})
        self.assertTrue(alone.combined_expanded_mm / 2**0.5 < other.combined_expanded_mm < alone.combined_expanded_mm)

    def test_an_axle_height_on_the_marking_s_diameter_adds_less_than_one_on_its_own(self) -> None:
        marking, height = {"text": "28-622", "factor": "pi"}, {"axle_height_mm": 332}
        shared = self.compared(marking=marking, axle_height=height)
        own = self.compared(marking=marking, axle_height=height | {"unloaded_diameter_mm": 678})
        self.assertGreater(shared.combined_expanded_mm, own.combined_expanded_mm)

    def test_tapes_across_and_round_find_the_deflection(self) -> None:
        """R 330 mm flattened by 10 mm (3 %): each alone is off by its share, together they are right."""
        across, round_it = {"diameter_mm": 650, "reading_mm": 0.1}, {"circumference_mm": 2073.45, "reading_mm": 0.1}
        true_mm = 2 * 3.14159265 * (330 - 10 / 3)
        result = self.compared(taped_diameter=across, taped_circumference=round_it)
        self.assertAlmostEqual(result.combined_mm, true_mm, delta=0.4)
        self.assertTrue(all(abs(line.circumference_mm - true_mm) > 3 for line in result.lines))

    def test_one_of_four_that_is_off_is_left_out_and_named(self) -> None:
        result = self.compared(
            roll_out={"turns": 3, "distance_mm": 6300},
            taped_diameter={"diameter_mm": 666},
            chart={"label": "row", "circumference_mm": 2163},
            entered={"circumference_mm": 2101, "source": "measured_elsewhere"},
        )
        self.assertEqual([line.method for line in result.lines if line.left_out], ["chart"])
        self.assertIn("without cycle chart", result.text)
        self.assertAlmostEqual(result.combined_mm, 2100, delta=2)

    def test_two_that_disagree_reach_to_the_far_end_of_both(self) -> None:
        result = self.compared(
            roll_out={"turns": 3, "distance_mm": 6300},
            entered={"circumference_mm": 2163, "source": "measured_elsewhere"},
        )
        low, high = (result.combined_mm + sign * result.combined_expanded_mm for sign in (-1, 1))
        for line in result.lines:
            self.assertTrue(low <= line.circumference_mm - line.expanded_mm + 1e-6 or line.method == "roll_out")
            self.assertTrue(line.circumference_mm + line.expanded_mm <= high + 1e-6)
        self.assertIn("do not agree", result.text)

    def test_wear_is_in_the_comparison(self) -> None:
        """A marking of the new tyre and a roll-out of the worn one agree once the tread lost is entered."""
        parts = {
            "marking": {"text": "205/55R16", "factor": "pi", "relative_uncertainty_pct": 0.5},
            "roll_out": {"turns": 3, "distance_mm": 3 * 1945.0},
        }
        self.assertFalse(self.compared("car", **parts).agree)
        worn = self.compared("car", **parts, corrections={"tread_now_mm": 1.6, "tread_new_mm": 8})
        self.assertTrue(worn.agree)
        self.assertAlmostEqual(worn.lines[0].circumference_mm, 1985.2 - 2 * 3.14159 * 6.4, delta=0.1)

    def test_a_new_tread_is_typical_of_the_vehicle(self) -> None:
        """2 mm on a bicycle, 8 mm on a car: common practice."""
        for kind, lost_mm in (("bicycle", 1.0), ("motorcycle", 4.0), ("car", 7.0)):
            entries = {"method": "marking", "marking": {"text": "28-622"}, "corrections": {"tread_now_mm": 1}}
            found = evaluate_wheel(Wheel.model_validate(entries), vehicle_kind=kind).detail.corrections
            now = next(item for item in found if item.code == "tread_now")
            self.assertAlmostEqual(now.change_mm, -2 * 3.14159265 * lost_mm, places=5, msg=kind)


class Drives(TestCase):
    def test_two_labels_of_a_transfer_box_are_two_uncertainties(self) -> None:
        """0.5 % each: √2·0.5 % in low range on the gearbox side, 0.5 % elsewhere."""
        for side, gear, u_pct in (("gearbox", "low", 0.5 * 2**0.5), ("gearbox", "high", 0.5), ("axle", "low", 0.5)):
            box = {"axle_ratio": 4.1, "low_ratio": 2.5, "sensed": side, "range": gear}
            stage = evaluated(drive={"kind": "transfer_box", "transfer_box": box}).stages[1]
            self.assertAlmostEqual(stage.relative_standard_uncertainty_pct, u_pct)

    def test_a_ratio_is_counted_only_with_its_count(self) -> None:
        for turns, evidence in ((None, "assumed"), (37.3, "measured")):
            axle = {"ratio": 3.73, "basis": "counted", "wheel_turns": 10, "shaft_turns": turns}
            self.assertEqual(evaluated(drive={"kind": "axle_ratio", "axle_ratio": axle}).stages[1].evidence, evidence)

    def test_a_sensor_without_a_target_is_not_asked_for_teeth(self) -> None:
        for kind in ("inertial", "radar"):
            result = evaluated(sensor={"kind": kind})
            self.assertEqual(result.stages[2].expanded_uncertainty_pct, 0)
            self.assertNotEqual(result.next_action.code, "target.count")

    def test_a_table_with_an_offset_is_read_off_the_table(self) -> None:
        """40 km/h more at every frequency: right at no speed, and not in proportion."""
        exact = evaluated(CAR).pulses_per_km / 3600
        points = [{"speed_kmh": v, "set_frequency_hz": round((v - 10) * exact, 1)} for v in (40, 120)]
        table = [{"name": "Dash", "encoding": "frequency_table", "table": points}]
        entered = installation(CAR, readouts=table, speedometer_rule="us_393_82")
        result = evaluate(entered)
        self.assertAlmostEqual(result.readouts[0].shown_at_kmh(50 * 1.609344), 50 * 1.609344 + 10, places=1)
        (found,) = [item for item in result.findings if item.code == "readout.above_range"]
        self.assertIn("10.0 km/h", found.message)


class FewReadings(TestCase):
    def test_the_k_of_the_figure_is_said(self) -> None:
        for repeats, k in (([], 2.0), ([6240], 13.9), ([6240, 6225, 6190, 6230], 2.8)):
            rolled = {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 6210, "repeats_mm": repeats}}
            result = evaluated(CYCLE, wheel=rolled, readouts__0__display_step_kmh=0.01)
            self.assertAlmostEqual(result.shown.coverage_factor, k, delta=0.1)
            self.assertAlmostEqual(result.stages[0].coverage_factor, k, delta=0.1)

    def test_a_display_of_whole_km_h_counts_its_step(self) -> None:
        """Half a km/h in 25 is 2 %, rectangular: 1.15 %; with 0.5 % of the satellite 1.26 %."""
        compared = {"set_circumference_mm": 2050, "true_kmh": 25, "shown_kmh": 25}
        for step, u_pct in ((1, 1.258), (0.1, 0.513)):
            entry = SpeedDerived.model_validate(compared | {"shown_step_kmh": step})
            self.assertAlmostEqual(from_speed_derived(entry).u_pct, u_pct, places=3)
        stated = SpeedDerived.model_validate(compared | {"relative_uncertainty_pct": 0.2})
        self.assertAlmostEqual(from_speed_derived(stated).u_pct, 0.2)
        far = {"basis": "measured_distance", "set_circumference_mm": 2050, "true_km": 1, "shown_km": 1}
        entry = SpeedDerived.model_validate(far | {"shown_step_km": 0.1})
        self.assertAlmostEqual(from_speed_derived(entry).u_pct, (0.3**2 + (5 / 3**0.5) ** 2) ** 0.5, places=6)

    def test_an_assumed_count_is_one_whole_tooth_out(self) -> None:
        target = evaluated(CAR).stages[2]
        self.assertAlmostEqual(target.expanded_uncertainty_pct, 100 / 48)
        self.assertEqual(evaluated(CAR, target__basis="counted").stages[2].expanded_uncertainty_pct, 0)


class Converters(TestCase):
    def test_what_a_setting_implies_behind_a_converter(self) -> None:
        """A gauge that takes 16 000 pulses per km, fed with them, is right: no wheel of 6 m."""
        gauge = [{"name": "Gauge", "encoding": "pulses_per_km", "current_setting": 16_000}]
        result = evaluated(HALL, signal={"converter": CONVERTER}, readouts=gauge)
        (setting,) = implied(HALL, signal={"converter": CONVERTER}, readouts=gauge)
        self.assertAlmostEqual(setting.run_per_turn_mm / result.stages[0].value, 1, places=3)
        self.assertEqual(setting.causes[0].code, "right")

    def test_above_its_output_limit_the_needle_stays(self) -> None:
        gauge = [{"name": "Gauge", "encoding": "pulses_per_km", "current_setting": 16_000}]
        capped = installation(
            HALL, signal={"converter": CONVERTER | {"cap_kmh": 90}}, readouts=gauge, check_speeds_kmh=[60, 150]
        )
        result = evaluate(capped)
        self.assertEqual([round(row.shown_kmh) for row in result.readouts[0].residuals], [90, 60, 90])
        self.assertAlmostEqual(result.shown.shown_kmh, 90, delta=0.01)
        curve = over_speed(capped, result, 0, 180)
        self.assertAlmostEqual(max(curve.shown_kmh), 90, delta=0.01)
        before = [gauge[0] | {"before_converter": True, "current_setting": 24_905}]
        free = installation(HALL, signal={"converter": CONVERTER | {"cap_kmh": 90}}, readouts=before)
        self.assertAlmostEqual(evaluate(free).shown.shown_kmh, 100, delta=0.1)

    @settings(max_examples=300, deadline=None)
    @given(st.floats(0.001, 40), st.sampled_from([1, 2, 3, 7, 30]), st.sampled_from([1, 2, 5, 9, 40]))
    def test_the_best_ratio_is_the_best_of_all(self, wanted: float, most_p: int, most_q: int) -> None:
        """Against every p/q; 0.4042 by a divider is 1/3, not 1/2."""
        wanted = min(max(wanted, 1 / most_q), most_p)
        found = best_ratio(wanted, most_p, most_q)
        every = (Fraction(p, q) for p, q in itertools.product(range(1, most_p + 1), range(1, most_q + 1)))
        best = min(abs(one - Fraction(wanted)) for one in every)
        self.assertEqual(abs(Fraction(found.numerator, found.denominator) - Fraction(wanted)), best)

    def test_a_divider(self) -> None:
        self.assertEqual(best_ratio(0.4042, 1, 9999).denominator, 3 if abs(1 / 3 - 0.4042) < abs(1 / 2 - 0.4042) else 2)


class Tyres(TestCase):
    NUMBER = {"name": "Logger", "encoding": "pulses_per_km", "current_setting": 24_000}

    def changed(self, driven: bool, **changes: Any) -> TyreChange:
        mine = wheel("Mine", "front", 2000, purpose="slip_control", drive={"driven": driven}, **changes)
        other = wheel(
            "Other", "rear", 2000, purpose="slip_control", drive={"driven": not driven}, readouts=[self.NUMBER]
        )
        return change_tyre(mine, NewTyre(marking="205/55R16", circumference_mm=1900), (other,))

    def test_false_slip_is_driven_over_free_whichever_wheel_changes(self) -> None:
        """1900 for 2000 mm: the driven wheel then seems 5.26 % fast; as the free one it makes −5 %."""
        self.assertAlmostEqual(self.changed(True).false_slip[0].slip_pct, 100 * (2000 / 1900 - 1))
        self.assertAlmostEqual(self.changed(False).false_slip[0].slip_pct, 100 * (1900 / 2000 - 1))

    def test_a_setting_that_nobody_has_read_back_is_not_known(self) -> None:
        change = self.changed(True)
        self.assertEqual(change.readouts[0].now, "")
        self.assertIsNone(change.readouts[0].shown_kmh)
        self.assertIn("not known: read it back", change.text)
        self.assertIn("(current setting not known) and read it back", change.tasks[0].text)
        known = self.changed(True, readouts=[self.NUMBER])
        self.assertEqual(known.readouts[0].now, "24000")
        self.assertAlmostEqual(known.readouts[0].shown_kmh or 0, 100 * 48 * 1e6 / 1900 / 24_000, places=3)
        self.assertIn("with its setting unchanged, Logger shows", known.text)

    def test_the_headline_says_with_which_setting(self) -> None:
        self.assertEqual(evaluated().shown.condition, "if 24905\u00a0pulses per km is entered")
        self.assertEqual(evaluated(readouts__0__current_setting=24_905).shown.condition, "")


class FailedTests(TestCase):
    """A failure outranks what was known before, leads the next step, and clears by a later pass of the same test."""

    PROVED = {"test": "road", "on": "2026-05-01"}

    def having_tested(self, *records: tuple[str, str], **changes: Any) -> Evaluation:
        listed = [{"test": test, "on": "2026-05-02", "outcome": outcome} for test, outcome in records]
        return evaluated(test_records=listed, **changes)

    def evidence(self, result: Evaluation) -> dict[str, str]:
        return {stage.stage: stage.evidence for stage in result.stages}

    def test_the_stages_of_the_test_and_no_others(self) -> None:
        spin = self.evidence(self.having_tested(("spin", "nothing"), wheel__verification=self.PROVED))
        self.assertEqual(spin.pop("wheel"), "verified")
        self.assertEqual(set(spin.values()), {"failed"})
        magnet = self.evidence(self.having_tested(("magnet", "nothing")))
        self.assertEqual([name for name, one in magnet.items() if one == "failed"], ["sensor", "signal"])

    def test_it_outranks_an_older_pass_and_leads_the_next_step(self) -> None:
        result = self.having_tested(
            ("bench", "differed"), readouts__0__verification=self.PROVED, signal__verification=self.PROVED
        )
        self.assertEqual(self.evidence(result)["readout"], "failed")
        self.assertEqual(result.next_action.code, "test.bench_failed")
        self.assertEqual(result.findings[0].severity, "blocking")

    def test_only_a_later_pass_of_the_same_test_clears_it(self) -> None:
        for records, failed in (
            ((("spin", "differed"), ("spin", "agreed")), False),
            ((("spin", "agreed"), ("spin", "differed")), True),
            ((("spin", "differed"), ("magnet", "agreed")), True),
            ((("magnet", "nothing"), ("magnet", "differed")), False),  # some speed by hand is a pass
        ):
            self.assertEqual("failed" in self.evidence(self.having_tested(*records)).values(), failed, records)

    def test_it_says_what_was_expected_and_what_was_shown(self) -> None:
        record = {"test": "spin", "on": "2026-05-02", "outcome": "differed", "expected_kmh": 6.9, "shown_kmh": 13.8}
        (found,) = evaluated(test_records=[record]).findings
        self.assertIn("13.8 km/h shown, 6.9 km/h expected", found.message)
        self.assertIn("check count, edges and setting", found.remedy)


class Significance(TestCase):
    """One rule: an error is a mistake when it is beyond what uncertainty and step explain."""

    def implied(self, setting: float, base: dict[str, Any] = CAR, **changes: Any) -> Any:
        return implied(base, readouts__0__current_setting=setting, **changes)[0]

    def test_a_small_error_beside_a_large_uncertainty_is_no_mistake(self) -> None:
        """± 3 % from a marking and an assumed count: −0.38 % is within, −6 % is wrong."""
        within, wrong = self.implied(25_000), self.implied(26_500)
        self.assertEqual(within.verdict, "within")
        self.assertIn("within the uncertainty of ± 2.8 %", within.sentence)
        self.assertEqual(wrong.verdict, "wrong")
        self.assertTrue(wrong.causes)
        self.assertEqual(self.implied(24_905).sentence, "right")

    def test_a_setting_one_step_off_is_no_mistake(self) -> None:
        """A display that takes whole centimetres cannot be set closer than half of one."""
        known = {"wheel": {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 6312}}}
        for setting, verdict in ((210, "within"), (211, "within"), (209, "wrong")):
            found = self.implied(setting, CYCLE, readouts__0__encoding="circumference_cm", readouts__0__step=1, **known)
            self.assertEqual(found.verdict, verdict, setting)

    def test_a_race_log_is_not_nagged(self) -> None:
        result = evaluated(purpose="slip_control", readouts__0__current_setting=24_910)
        self.assertEqual([one.code for one in result.findings if one.stage == "readout"], [])
