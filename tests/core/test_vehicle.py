"""Several installations on one vehicle, and a change of tyre."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

import numpy as np

from speedchain import Installation, evaluate
from speedchain.fields import DocumentError, Verification
from speedchain.vehicle.copying import copy_installation
from speedchain.vehicle.pulse_change import pulse_change_tasks
from speedchain.vehicle.sheet import SheetSettings, VehicleSheet, vehicle_sheet
from speedchain.vehicle.tyre_change import NewTyre, TyreChange, change_tyre
from tests.installations import installation


def wheel(name: str, place: str, mm: float, **changes: Any) -> Installation:
    entries = {"method": "entered", "entered": {"circumference_mm": mm, "source": "measured_elsewhere"}}
    counted = {"kind": "toothed_ring", "count": 48, "basis": "counted"}
    return installation(**{"name": name, "sensed_at": place, "wheel": entries, "target": counted, **changes})


def sheet(*installations: Installation, **settings: Any) -> VehicleSheet:
    return vehicle_sheet(tuple(enumerate(installations)), SheetSettings(**settings))


def marked(name: str, place: str, marking: str = "205/55R16", **changes: Any) -> Installation:
    return wheel(name, place, 1, wheel={"method": "marking", "marking": {"text": marking}}, **changes)


class ComparesCounts(TestCase):
    """A brake-control unit has no setting: it counts pulses of all wheels and takes a difference for slip."""

    def unit(self, place: str, count: int, mm: float = 1928, **changes: Any) -> Installation:
        unit = {"name": "Unit", "encoding": "pulses_per_km", "entry": "counts"}
        ring = {"kind": "toothed_ring", "count": count, "basis": "counted"}
        return wheel(place, place, mm, purpose="brake_control", target=ring, readouts=[unit | changes])

    def test_unequal_counts_are_false_slip(self) -> None:
        """46 pulses where the others send 48 look like a wheel 4.17 % slower; a tyre 1 % smaller like one 1.01 %
        faster."""
        for count, mm, slip_pct in ((48, 1928, 0.0), (46, 1928, 100 * (46 / 48 - 1)), (48, 1928 / 1.01, 1.0)):
            found = sheet(self.unit("front_left", 48), self.unit("rear_left", count, mm))
            self.assertEqual([one.shows_speed for row in found.rows for one in row.displays], [False, False])
            self.assertAlmostEqual(found.slip[0].slip_pct, slip_pct, places=6)
            self.assertAlmostEqual(found.slip[0].curve_pct[-1], slip_pct, places=6)
            assert found.parity is not None
            self.assertEqual(found.parity.counts_equal, count == 48)

    def test_there_is_nothing_to_enter_and_what_it_takes_is_said(self) -> None:
        known = self.unit("front_left", 48, least_pulses_per_turn=44, most_pulses_per_turn=52)
        found = evaluate(known)
        self.assertEqual(
            found.readouts[0].action, "It cannot be set: it takes 44 to 52 pulses per turn, the same at every wheel"
        )
        self.assertAlmostEqual(found.readouts[0].in_use.error_pct, 0.0, delta=0.001)
        self.assertEqual(found.readouts[0].evidence, "measured")
        self.assertNotIn("Enter", " ".join([item.message + item.remedy for item in found.findings]))
        self.assertNotIn("target.brake_control_count", {item.code for item in found.findings})
        few = {item.code: item for item in evaluate(self.unit("front_left", 39)).findings}
        self.assertEqual(few["readout.count_not_accepted"].severity, "blocking")
        self.assertIn("40 to 50 pulses per turn of the wheel; 39 arrive", few["readout.count_not_accepted"].message)

    def test_another_tyre_asks_for_no_number(self) -> None:
        change = change_tyre(self.unit("front_left", 48), NewTyre(marking="195/65R15"))
        self.assertEqual(change.readouts[0].action, "")
        self.assertIn("Unit gets 0.4 % fewer pulses than before", change.text)  # 1928/1935 − 1
        self.assertFalse([item.text for item in change.tasks if "Enter" in item.text])

    def test_a_range_the_wrong_way_round_is_refused(self) -> None:
        with self.assertRaises(DocumentError) as caught:
            self.unit("front", 48, least_pulses_per_turn=50, most_pulses_per_turn=40)
        (problem,) = caught.exception.problems
        self.assertEqual((problem.path, problem.limit), ("readouts.0.most_pulses_per_turn", "at least 50"))


class SameTyres(TestCase):
    """Two tyres of one marking are off together: their false slip is known better than either circumference."""

    def slip(self, *wheels: Installation) -> Any:
        return sheet(*wheels).slip[0]

    def test_one_marking_leaves_the_difference_of_two_such_tyres(self) -> None:
        same = self.slip(marked("F", "front"), marked("R", "rear"))
        self.assertAlmostEqual(same.expanded_pct, 2 * math.sqrt(2) * 0.2, places=9)
        self.assertEqual(same.slip_pct, 0.0)

    def test_another_marking_shares_nothing(self) -> None:
        front, rear = marked("F", "front"), marked("R", "rear", "225/50R16")
        alone = [evaluate(item).chain_expanded_uncertainty_pct for item in (front, rear)]
        self.assertAlmostEqual(self.slip(front, rear).expanded_pct, math.hypot(*alone), places=9)

    def test_one_rolled_out_and_one_on_paper_share_nothing(self) -> None:
        rolled = {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 5790}, "marking": {"text": "205/55R16"}}
        front, rear = wheel("F", "front", 1, wheel=rolled), marked("R", "rear")
        alone = [evaluate(item).chain_expanded_uncertainty_pct for item in (front, rear)]
        self.assertAlmostEqual(self.slip(front, rear).expanded_pct, math.hypot(*alone), places=9)

    def test_an_axle_ratio_read_off_a_label_is_no_part_of_the_tyre(self) -> None:
        geared = marked("R", "rear", drive={"kind": "axle_ratio", "axle_ratio": {"ratio": 3.73, "basis": "label"}})
        drive = evaluate(geared).stages[1].expanded_uncertainty_pct
        self.assertGreater(drive, 0)
        self.assertAlmostEqual(
            self.slip(marked("F", "front"), geared).expanded_pct, math.hypot(drive, 2 * math.sqrt(2) * 0.2), places=9
        )

    def test_simulated_pairs_of_tyres_are_covered(self) -> None:
        """Draw make, marking and factor once a vehicle, and the difference of its tyres twice: numpy, 20 000
        vehicles."""
        front = marked("F", "front")
        budget = evaluate(front).wheel_detail.budget
        rng = np.random.default_rng(20261128)
        together = sum(part.u_pct * rng.standard_normal(20_000) for part in budget)
        one, other = (together + 0.2 * rng.standard_normal(20_000) for _ in range(2))
        slip_pct = 100 * ((1 + one / 100) / (1 + other / 100) - 1)
        within = np.mean(np.abs(slip_pct) <= self.slip(front, marked("R", "rear")).expanded_pct)
        self.assertTrue(0.945 <= within <= 0.965, within)

    def test_what_the_uncertainty_allows_is_no_false_slip(self) -> None:
        """0.5 % between two displays of equal tyres is within 0.57 %; 0.7 % is a finding."""
        right = evaluate(marked("F", "front", purpose="slip_control")).readouts[0].exact
        for off_pct, found in ((0.5, False), (0.7, True)):
            front = marked("F", "front", purpose="slip_control", readouts__0__current_setting=round(right))
            typed = round(right / (1 + off_pct / 100))
            rear = marked(
                "R", "rear", purpose="slip_control", drive={"driven": True}, readouts__0__current_setting=typed
            )
            codes = [item.code for item in sheet(front, rear).findings]
            self.assertEqual("sheet.false_slip" in codes, found, off_pct)


class Sheet(TestCase):
    def test_one_speed_through_every_installation(self) -> None:
        result = sheet(wheel("F", "front", 1900), wheel("R", "rear", 2000), speed_kmh="45 mph")
        for row, mm in zip(result.rows, (1900, 2000), strict=True):
            self.assertAlmostEqual(row.frequency_hz, 45 * 1.609344 / 3.6 * 48 / (mm / 1000))
            self.assertAlmostEqual(row.displays[0].shown_kmh, 45 * 1.609344, delta=0.01)

    def test_parity_is_of_counts_and_circumferences(self) -> None:
        for count, mm, tolerance, equal, within in [
            (48, 2000, 1, True, True),
            (48, 2030, 1, True, False),
            (48, 2030, 2, True, True),
            (47, 2000, 1, False, True),
        ]:
            other = wheel("R", "rear_left", mm, target__count=count, purpose="brake_control")
            front = wheel("F", "front_left", 2000, purpose="brake_control")
            parity = sheet(front, other, tolerance_pct=tolerance).parity
            assert parity is not None
            self.assertEqual((parity.counts_equal, parity.within), (equal, within))

    def test_counts_need_not_match_where_nothing_compares_them(self) -> None:
        """Front and rear of a motorcycle, or a logger's two wheels."""
        self.assertIsNone(sheet(wheel("F", "front", 1900), wheel("R", "rear", 2000, target__count=44)).parity)

    def test_equal_names_are_told_apart(self) -> None:
        names = [row.name for row in sheet(*[wheel("Speed, hub", p, 2000) for p in ("front", "rear", "rear")]).rows]
        self.assertEqual(names[0], "Speed, hub, front wheel or axle")
        self.assertEqual(names[1:], ["Speed, hub, rear wheel or axle (1)", "Speed, hub, rear wheel or axle (2)"])

    def test_unequal_wheels_block_brake_control_and_missing_ones_are_named(self) -> None:
        result = sheet(
            wheel("F", "front_left", 2000, purpose="brake_control"),
            wheel("R", "rear_left", 2100, purpose="brake_control"),
        )
        self.assertEqual([finding.code for finding in result.findings], ["sheet.parity", "sheet.four_wheels"])
        self.assertIn("front right, rear right", result.findings[1].message)

    def test_false_slip_over_speed(self) -> None:
        slick = {
            "method": "entered",
            "entered": {"circumference_mm": 2000, "source": "measured_elsewhere"},
            "corrections": {"growth_pct": 2, "growth_at_kmh": 100},
        }
        rear = wheel("R", "rear", 2000, purpose="slip_control", drive={"driven": True}, wheel=slick)
        result = sheet(wheel("F", "front", 2000, purpose="slip_control"), rear, speed_kmh=100)
        (curve,) = result.slip
        self.assertLess(abs(curve.slip_pct), 0.01)
        at = dict(zip(curve.speeds_kmh, curve.curve_pct, strict=True))
        self.assertAlmostEqual(at[150.0], 100 * (1.02 / 1.045 - 1), delta=0.01)

    def test_a_tyre_that_does_not_match_is_slip_that_is_not_there(self) -> None:
        """1.5 % of tyre error is 1.05 mph of false slip at 70 mph; common practice."""
        number = {"name": "Logger", "encoding": "pulses_per_km", "current_setting": 24_000}
        rear = wheel("R", "rear", 2000 / 1.015, purpose="slip_control", drive={"driven": True}, readouts=[number])
        front = wheel("F", "front", 2000, purpose="slip_control", readouts=[number])
        result = sheet(front, rear, speed_kmh="70 mph")
        self.assertAlmostEqual(result.slip[0].slip_kmh / 1.609344, 1.05, places=2)
        self.assertIn("sheet.false_slip", [finding.code for finding in result.findings])

    def test_inner_and_outer_wheel_in_a_left_turn(self) -> None:
        result = sheet(
            wheel("L", "rear_left", 2000), wheel("R", "rear_right", 2000), wheel("S", "middle", 2000),
            speed_kmh=20, track_mm=1500, radius_m=7.5,
        )  # fmt: skip
        self.assertEqual([row.turn_kmh for row in result.rows], [18.0, 22.0, 20.0])
        self.assertIn("18.0", result.turn_text)

    def test_slip_needs_two_wheels(self) -> None:
        result = sheet(wheel("F", "front", 2000, purpose="slip_control"))
        self.assertEqual([finding.code for finding in result.findings], ["sheet.slip_needs_two"])


class Tyre(TestCase):
    def change(self, document: Installation, others: Any = (), **new: Any) -> TyreChange:
        return change_tyre(document, NewTyre(**new), others)

    def test_smaller_reads_high(self) -> None:
        """28 in in place of 29.5 in: −5.1 % circumference, 5.4 % fast; common practice."""
        marking = {"method": "marking", "marking": {"text": "29.5x10.5-15"}}
        right = evaluate(installation(wheel=marking)).pulses_per_km
        slick = installation(purpose="slip_control", wheel=marking, readouts__0__current_setting=round(right))
        result = self.change(slick, marking="28.0x10.5-15")
        self.assertAlmostEqual(result.change_pct, -5.1, places=1)
        self.assertAlmostEqual(result.readouts[0].error_pct, 5.4, places=1)

    def test_what_was_measured_on_the_old_tyre_is_gone_and_due_again(self) -> None:
        verification = {"test": "road", "on": "2026-06-01"}
        old = installation(
            purpose="slip_control",
            wheel={"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 5800}, "verification": verification},
            readouts__0__current_setting=24828,
            readouts__0__verification=verification,
        )
        result = self.change(old, others=(wheel("Front", "front", 1900, drive={"driven": True}),), marking="215/55R16")
        self.assertIsNone(result.after.wheel.roll_out)
        self.assertIsNone(result.after.wheel.verification)
        self.assertIsNone(result.after.readouts[0].verification)
        self.assertEqual(result.after.readouts[0].current_setting, 24828)
        tasks = " | ".join(item.text for item in result.tasks)
        for words in (
            "Enter ",
            "Roll out the new 215/55R16",
            "Verify the display again",
            "Match the settings again with Front",
        ):
            self.assertIn(words, tasks)
        self.assertAlmostEqual(result.false_slip[0].slip_pct, 100 * (result.new_mm / result.old_mm - 1))
        self.assertAlmostEqual(evaluate(result.after).shown.error_pct, result.readouts[0].error_pct)

    def test_a_measured_new_tyre_needs_no_roll_out(self) -> None:
        result = self.change(installation(), marking="205/55R16", circumference_mm="1.94 m")
        self.assertEqual(result.after.wheel.method, "entered")
        self.assertNotIn("Roll out", " ".join(item.text for item in result.tasks))


class PulseChanges(TestCase):
    """Another ring or gearing makes tasks, as another tyre does."""

    def entered(self, count: int = 48, setting: float | None = 24_000, **changes: Any) -> Installation:
        number = {"name": "Logger", "encoding": "pulses_per_km", "current_setting": setting}
        target = {"kind": "toothed_ring", "count": count, "basis": "counted"}
        return wheel("Mine", "front", 2000, target=target, readouts=[number], **changes)

    def test_a_ring_with_fewer_teeth_asks_for_a_new_setting(self) -> None:
        (task,) = pulse_change_tasks(self.entered(), self.entered(44)) or ()
        self.assertIn("Enter 22000\u00a0pulses per km into Logger", task.text)
        self.assertIn("(now 24000)", task.text)

    def test_a_gear_change_does_too_and_a_tested_one_is_tested_again(self) -> None:
        proved = {"test": "road", "on": "2026-05-01"}
        shaft = {"kind": "axle_ratio", "axle_ratio": {"ratio": 4.1}}
        after = self.entered(drive=shaft)
        after = after.model_copy(
            update={"target": after.target.model_copy(update={"verification": Verification.model_validate(proved)})}
        )
        tasks = pulse_change_tasks(self.entered(), after) or ()
        self.assertEqual([task.stage for task in tasks], ["readout", "target"])

    def test_nothing_is_asked_where_nothing_changed_or_nobody_had_set_it(self) -> None:
        self.assertIsNone(pulse_change_tasks(self.entered(), self.entered(notes="x")))
        self.assertEqual(pulse_change_tasks(self.entered(setting=None), self.entered(44, None)), ())
        self.assertEqual(pulse_change_tasks(self.entered(44), self.entered(48)), ())  # back to the ring it is set for


class Copies(TestCase):
    """A copy for another corner claims nothing that was found out on the original."""

    def copy(self, original: Installation) -> Installation:
        return copy_installation(original, name="Rear right", sensed_at="rear_right", vehicle_kind="car")

    def test_nothing_in_it_is_measured_tested_or_read_back(self) -> None:
        proof = {"test": "spin", "on": "2026-05-02", "value": 48}
        rolled = {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 5790}, "marking": {"text": "205/55R16"}}
        original = wheel(
            "Front left",
            "front_left",
            1,
            wheel=rolled,
            target={"kind": "toothed_ring", "count": 48, "basis": "counted", "verification": proof},
            test_records=[{"test": "spin", "on": "2026-05-02", "outcome": "agreed"}],
            readouts__0__current_setting=25000,
        )
        copy = self.copy(original)
        claims = {stage.stage for stage in evaluate(copy).stages if stage.evidence != "assumed"}
        self.assertEqual(claims, {"drive"})  # a hub turns with its wheel, wherever it is
        self.assertEqual((copy.wheel.method, copy.wheel.roll_out), ("marking", None))
        self.assertEqual((copy.target.count, copy.target.verification, copy.test_records), (48, None, ()))
        self.assertIsNone(copy.readouts[0].current_setting)
        self.assertEqual(Installation.model_validate(copy.model_dump(mode="json")), copy)

    def test_without_a_marking_the_circumference_is_a_previous_setting(self) -> None:
        copy = self.copy(wheel("Front left", "front_left", 1937.0))
        assert copy.wheel.entered is not None
        self.assertEqual((copy.wheel.entered.circumference_mm, copy.wheel.entered.source), (1937.0, "previous_setting"))
        self.assertAlmostEqual(evaluate(copy).stages[0].expanded_uncertainty_pct, 4.0)

    def test_a_reader_that_is_made_for_one_number_keeps_it(self) -> None:
        fixed = wheel("F", "front", 2000, readouts__0__entry="fixed", readouts__0__current_setting=24000)
        self.assertEqual(self.copy(fixed).readouts[0].current_setting, 24000)

    def test_a_boat_keeps_its_paddle_and_not_its_calibration(self) -> None:
        paddle = {"method": "paddle", "paddle": {"pulses_per_nautical_mile": 21000, "calibration_pct": 3}}
        copy = copy_installation(
            wheel("Log", "hull", 1, wheel=paddle, vehicle_kind="boat", target={"kind": "paddle_magnets", "count": 4}),
            name="Spare",
            sensed_at="hull",
            vehicle_kind="boat",
        )
        assert copy.wheel.paddle is not None
        self.assertEqual((copy.wheel.paddle.pulses_per_nautical_mile, copy.wheel.paddle.calibration_pct), (21000, None))
