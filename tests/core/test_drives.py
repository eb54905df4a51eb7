"""Every drive arrangement: ratio, cautions, gears to choose from."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from speedchain import evaluate
from speedchain.drive import Drive, DriveDetail, evaluate_drive
from speedchain.fields.errors import DocumentError
from speedchain.stages.findings import Finding
from speedchain.stages.result import Stage
from tests.installations import installation

BOX = {"axle_ratio": 4.1, "low_ratio": 2.5}
CABLE = {"axle_ratio": 3.5, "drive_teeth": 8, "driven_teeth": 20}


class Arrangements(TestCase):
    def drive(self, purpose: str = "gearbox_or_gauge", **entries: Any) -> tuple[Stage, DriveDetail, dict[str, Finding]]:
        found = evaluate_drive(Drive(**entries), purpose=purpose, circumference_mm=2000.0, speed_kmh=60.0)
        return found.stage, found.detail, {one.code: one for one in found.findings}

    def test_a_counted_ratio_is_computed_and_doubled_when_one_wheel_is_held(self) -> None:
        for held, ratio in ((False, 3.73), (True, 7.46)):
            entry = {"basis": "counted", "wheel_turns": 10, "shaft_turns": 37.3, "one_wheel_held": held}
            stage, _, _ = self.drive(kind="axle_ratio", axle_ratio=entry)
            self.assertAlmostEqual(stage.value, ratio)
            self.assertEqual(stage.evidence, "measured")
            self.assertAlmostEqual(stage.relative_standard_uncertainty_pct, 100 * 0.05 / 3**0.5 / 37.3)

    def test_a_ratio_that_is_missing_or_absurd_is_refused(self) -> None:
        for entry, path in [
            ({}, "ratio"),
            ({"basis": "counted"}, "shaft_turns"),
            ({"basis": "counted", "wheel_turns": 1, "shaft_turns": 600}, "shaft_turns"),
        ]:
            with self.assertRaises(DocumentError) as caught:
                installation(drive={"kind": "axle_ratio", "axle_ratio": entry})
            self.assertEqual(caught.exception.problems[0].path, f"drive.axle_ratio.{path}")

    def test_a_shaft_tells_of_the_wheel_on_the_stand_before_the_spin_test(self) -> None:
        found = self.drive(kind="axle_ratio", axle_ratio={"ratio": 3.73})[2]["drive.one_wheel_on_stand"]
        self.assertEqual(found.parameters, {"speed_kmh": 60.0, "half_kmh": 30.0})
        self.assertIn("shows half, 30 km/h", found.message)
        self.assertIn("never under a vehicle on a jack", found.remedy)
        self.assertNotIn("drive.one_wheel_on_stand", self.drive(kind="hub")[2])

    def test_low_range_matters_before_the_box_only(self) -> None:
        for side, used, ratio in [
            ("axle", "low", 4.1),
            ("gearbox", "high", 4.1),
            ("gearbox", "low", 10.25),
        ]:
            stage, _, codes = self.drive(kind="transfer_box", transfer_box={**BOX, "range": used, "sensed": side})
            self.assertAlmostEqual(stage.value, ratio)
            self.assertEqual("drive.range" in codes, side == "gearbox")

    def test_a_geared_rotor_stands_still_when_coasting(self) -> None:
        for motor, ratio, warned in [
            ({"gear_ratio": 4.4}, 4.4, True),
            ({"gear_ratio": 4.4, "freewheel": False}, 4.4, False),
            ({"gear_ratio": 4.4, "sensed": "wheel"}, 1.0, False),
            ({}, 1.0, False),
        ]:
            stage, _, codes = self.drive(kind="hub_motor", hub_motor=motor)
            self.assertEqual((stage.value, "drive.freewheel" in codes), (ratio, warned))

    def test_the_better_driven_gear_is_named(self) -> None:
        stage, detail, codes = self.drive(kind="cable", cable=CABLE)
        self.assertAlmostEqual(stage.value, 1.4)
        self.assertEqual(detail.best_driven_teeth, 23)
        self.assertIn("drive.driven_gear", codes)
        self.assertEqual([gear.teeth for gear in detail.gears if gear.in_use], [20])
        _, _, codes = self.drive(kind="cable", cable={**CABLE, "driven_teeth": 23})
        self.assertNotIn("drive.driven_gear", codes)
        _, detail, _ = self.drive(kind="cable", cable={**CABLE, "wanted_turns": 690, "wanted_per": "km"})
        self.assertEqual(detail.best_driven_teeth, 20)

    def test_a_gauge_with_its_constant_reads_what_the_gears_give(self) -> None:
        """With 700 turns a km on a gauge of 621.4 (1000 a mile) the needle reads 12.7 % high."""
        gauge = {"name": "Gauge", "encoding": "turns_per_mile", "current_setting": 1000}
        wheel = {"method": "entered", "entered": {"circumference_mm": 2000}}
        evaluation = evaluate(
            installation(wheel=wheel, drive={"kind": "cable", "cable": CABLE}, target__count=1, readouts=[gauge])
        )
        gears = {gear.teeth: gear.error_pct for gear in evaluation.drive_detail.gears}
        self.assertAlmostEqual(evaluation.shown.error_pct, gears[20])
        self.assertAlmostEqual(gears[20], 100 * (700 * 1.609344 / 1000 - 1))

    def test_no_gears_at_all_is_refused(self) -> None:
        with self.assertRaises(DocumentError) as caught:
            installation(drive={"kind": "cable", "cable": {**CABLE, "min_driven_teeth": 20, "max_driven_teeth": 15}})
        self.assertEqual(caught.exception.problems[0].path, "drive.cable.max_driven_teeth")


class Purposes(TestCase):
    def test_choices_that_work_against_the_purpose_are_named(self) -> None:
        shaft = {"kind": "axle_ratio", "axle_ratio": {"ratio": 3.73}}
        for changes, code in [
            ({"purpose": "true_speed", "drive": {"driven": True}}, "drive.driven_wheel"),
            ({"purpose": "slip_control"}, "purpose.false_slip"),
            ({"purpose": "brake_control", "drive": shaft}, "purpose.brake_at_wheel"),
            ({"purpose": "gearbox_or_gauge"}, "purpose.shaft"),
            ({"purpose": "cycle_display", "vehicle_kind": "e_bike"}, "purpose.assist"),
            ({"purpose": "water_speed"}, "purpose.paddle"),
            ({"purpose": "direction"}, "purpose.two_channels"),
        ]:
            with self.subTest(code):
                found = [finding.code for finding in evaluate(installation(**changes)).findings]
                self.assertIn(code, found)
        self.assertEqual([f.code for f in evaluate(installation()).findings], [])
