"""Drive, target, sensor, signal and readout, each on its own."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

from speedchain import evaluate
from speedchain.drive import Drive, evaluate_drive
from speedchain.fields.errors import InputError
from speedchain.fields.evidence import STAGES, VERIFIES, Verification, check_verification
from speedchain.fields.purposes import PURPOSES
from speedchain.readout import ENCODINGS, Readout, ReadoutResult, evaluate_readout, readout_rules
from speedchain.readout.entry_range import nearest_enterable
from speedchain.regulations import BANDS
from speedchain.sensor import SEES, Sensor, evaluate_sensor
from speedchain.signal import Signal, signal_stage
from speedchain.target import Target, evaluate_target
from speedchain.uncertainty.propagation import combine_pct
from tests.installations import CYCLE, installation

ROAD = Verification(test="road", on="2026-06-01")
MORE: dict[str, dict[str, Any]] = {
    "percent_correction": {"base_pulses_per_km": 520},
    "frequency_table": {"table": [{"speed_kmh": 40}, {"speed_kmh": 80}, {"speed_kmh": 160}]},
    "chart_code": {
        "codes": [{"code": "C3", "circumference_mm": 1960}, {"code": "C4", "circumference_mm": 2005}],
    },
}


class Drives(TestCase):
    def test_each_arrangement(self) -> None:
        for entries, ratio, evidence, u_pct in [
            ({}, 1.0, "measured", 0.0),
            ({"kind": "axle_ratio", "axle_ratio": {"ratio": "41/11"}}, 41 / 11, "assumed", 0.5),
            (
                {
                    "kind": "axle_ratio",
                    "axle_ratio": {"ratio": 3.73, "basis": "counted", "wheel_turns": 10, "shaft_turns": 37.3},
                },
                3.73,
                "measured",
                100 * 0.05 / math.sqrt(3) / 37.3,
            ),
            ({"kind": "sprockets", "sprockets": {"wheel_teeth": 45, "shaft_teeth": 15}}, 3.0, "measured", 0.0),
        ]:
            with self.subTest(str(entries)):
                stage = evaluate_drive(Drive(**entries), purpose="true_speed").stage
                self.assertAlmostEqual(stage.value, ratio)
                self.assertEqual(stage.evidence, evidence)
                self.assertAlmostEqual(stage.relative_standard_uncertainty_pct, u_pct)

    def test_a_driven_wheel_only_matters_for_true_speed(self) -> None:
        for purpose in PURPOSES:
            findings = evaluate_drive(Drive(driven=True), purpose=purpose.code).findings
            self.assertEqual(bool(findings), purpose.code == "true_speed", purpose.code)


class Targets(TestCase):
    def test_counts_and_edges(self) -> None:
        stage = evaluate_target(Target(count=48, edges=2, basis="counted")).stage
        self.assertEqual(
            (stage.value, stage.evidence, stage.relative_standard_uncertainty_pct), (96.0, "measured", 0.0)
        )
        self.assertEqual(stage.figures[1].value, 7.5)

    def test_an_assumed_ring_may_be_one_tooth_out_magnets_are_seen(self) -> None:
        ring = evaluate_target(Target(count=48)).stage
        self.assertAlmostEqual(ring.relative_standard_uncertainty_pct, 100 / math.sqrt(6) / 48)
        magnets = evaluate_target(Target(kind="magnets", count=3)).stage
        self.assertEqual((magnets.relative_standard_uncertainty_pct, magnets.evidence), (0.0, "assumed"))

    def test_brake_control_wants_forty_to_fifty(self) -> None:
        """40 to 50 teeth, equal at each wheel; common practice."""
        for count, warned in [(39, True), (40, False), (50, False), (51, True)]:
            known = installation(purpose="brake_control", target__count=count)
            codes = {item.code for item in evaluate(known).findings}
            self.assertEqual("target.brake_control_count" in codes, warned, count)


class Sensors(TestCase):
    def test_iron_for_vr_magnets_for_switches(self) -> None:
        """Which kinds installation together; common practice."""
        for kind, target, seen in [
            ("variable_reluctance", "toothed_ring", True),
            ("variable_reluctance", "magnets", True),  # a dynamo
            ("variable_reluctance", "multipole_ring", False),
            ("reed", "magnets", True),
            ("reed", "toothed_ring", False),
            ("hall_switch", "multipole_ring", True),
            ("hall_gear_tooth", "multipole_ring", False),
            ("hall_differential", "multipole_ring", True),
            ("magnetoresistive", "drilled_rotor", True),
            ("paddlewheel", "paddle_magnets", True),
            ("paddlewheel", "toothed_ring", False),
        ]:
            found = evaluate_sensor(Sensor(kind=kind), target=Target(kind=target, count=4))
            stage, findings = found.stage, found.findings
            with self.subTest(f"{kind} {target}"):
                self.assertEqual(stage.value, float(seen))
                self.assertEqual([finding.severity for finding in findings], [] if seen else ["blocking"])

    def test_every_target_has_a_sensor_and_the_remedy_names_it(self) -> None:
        findings = evaluate_sensor(Sensor(kind="reed"), target=Target(kind="bolt_heads", count=5)).findings
        able = [kind.replace("_", " ") for kind, targets in SEES.items() if "bolt_heads" in targets]
        self.assertGreater(len(able), 2)
        for kind in able:
            self.assertIn(kind, findings[0].remedy)


class Signals(TestCase):
    def test_frequency_and_period(self) -> None:
        stage = signal_stage(Signal(), speed_kmh=36, pulses_per_km=1000, u_pct=1.0)
        self.assertEqual([figure.value for figure in stage.figures[:2]], [10.0, 100.0])
        self.assertEqual(
            signal_stage(Signal(verification=ROAD), speed_kmh=36, pulses_per_km=1000, u_pct=1.0).evidence, "verified"
        )


class Proofs(TestCase):
    def test_a_test_proves_only_what_it_can(self) -> None:
        for test, able in VERIFIES.items():
            for stage in STAGES:
                with self.subTest(f"{test} {stage}"):
                    verification = Verification(test=test, on="2026-06-01")
                    if stage in able:
                        check_verification(stage, verification)
                    else:
                        with self.assertRaises(InputError) as caught:
                            check_verification(stage, verification)
                        self.assertIn("Use ", caught.exception.problems[0].remedy)

    def test_no_proof_is_fine_and_quadrature_is_quadrature(self) -> None:
        check_verification("wheel", None)
        self.assertEqual(combine_pct(()), 0.0)
        self.assertAlmostEqual(combine_pct((1.0, 2.0, 2.0)), 3.0)


class Readouts(TestCase):
    def read(self, encoding: str, purpose: str = "slip_control", ppk: float = 500.0, **entries: Any) -> ReadoutResult:
        readout = Readout(name="R", encoding=encoding, **entries)
        outcome = evaluate_readout(
            readout,
            rule=BANDS["un_r39"] if purpose == "true_speed" else None,
            pulses_per_km_at=lambda _: ppk,
            true_kmh=100.0,
        )
        self.findings = tuple(readout_rules(readout, outcome, check_speed_kmh=100.0))
        return outcome

    def test_every_encoding_of_the_same_wheel_is_true(self) -> None:
        """500 pulses per km is a wheel of 2 m with one pulse a turn, 636.6 mm across."""
        for encoding, value in [
            ("circumference_mm", 2000),
            ("circumference_cm", 200),
            ("circumference_in", 78.7),
            ("pulses_per_km", 500),
            ("pulses_per_mile", 805),
            ("pulses_per_100_m", 50),
            ("pulses_per_nautical_mile", 900),
            ("metres_per_pulse", 2),
            ("mm_per_pulse", 2000),
            ("hz_per_kmh", 0.139),
            ("kmh_per_hz", 7.2),
            ("hz_per_knot", 0.26),
            ("teeth_and_diameter", 637),
            ("teeth_and_diameter_in", 25.1),
            ("turns_per_km", 500),
            ("turns_per_mile", 805),
            ("percent_correction", 4),
            ("frequency_table", 11.1),
            ("chart_code", 2005),
        ]:
            with self.subTest(encoding):
                readout = self.read(encoding, **MORE.get(encoding, {}))
                self.assertEqual(readout.to_type.value, value)
                self.assertLess(abs(readout.to_type.error_pct), 3)
        self.assertEqual(self.read("chart_code", **MORE["chart_code"]).to_type.text, "C4")

    def test_rounding_goes_towards_over_reading_on_the_road(self) -> None:
        for encoding in ENCODINGS:
            more = MORE.get(encoding, {})
            with self.subTest(encoding):
                road = self.read(encoding, "true_speed", 500.4, **more)
                self.assertGreaterEqual(road.to_type.shown_kmh, 100 - 1e-9)
                if not road.table:
                    self.assertLessEqual(min(road.below.shown_kmh, road.above.shown_kmh), 100 + 1e-9)
                logger = self.read(encoding, "slip_control", 500.4, **more)
                worse = max(abs(logger.below.error_pct), abs(logger.above.error_pct))
                self.assertLessEqual(abs(logger.to_type.error_pct), worse)

    def test_over_and_under_have_names(self) -> None:
        self.assertEqual(self.read("circumference_mm", current_setting=2010).in_use.reads, "over")
        self.assertEqual(self.read("circumference_mm", current_setting=1990).in_use.reads, "under")
        self.assertEqual(self.read("circumference_mm", current_setting=2000).in_use.reads, "true")
        self.assertEqual(self.read("pulses_per_km", current_setting=510).in_use.reads, "under")

    def test_evidence_of_the_number(self) -> None:
        self.assertEqual(self.read("circumference_mm").evidence, "assumed")
        self.assertEqual(self.read("circumference_mm", current_setting=2000).evidence, "measured")
        self.assertEqual(self.read("circumference_mm", current_setting=2000, verification=ROAD).evidence, "verified")

    def test_a_readers_own_range_and_step(self) -> None:
        readout = self.read("circumference_mm", ppk=487.3, step=5, minimum=1500, maximum="2.2 m")
        self.assertEqual((readout.below.value, readout.above.value), (2050, 2055))
        self.read("circumference_mm", ppk=300, maximum=2200)
        self.assertEqual(self.findings[0].code, "readout.out_of_range_per_turn")
        self.assertIn("2200", self.findings[0].remedy)

    def test_the_displays_own_step_is_part_of_the_uncertainty(self) -> None:
        coarse, fine = (
            self.read("circumference_mm", display_step_kmh=1),
            self.read("circumference_mm", display_step_kmh=0.1),
        )
        self.assertAlmostEqual(coarse.relative_standard_uncertainty_pct, 1 / math.sqrt(12), places=4)
        self.assertAlmostEqual(
            coarse.relative_standard_uncertainty_pct / fine.relative_standard_uncertainty_pct, 10, places=1
        )

    def test_the_counting_of_the_reader_is_part_of_it(self) -> None:
        """3 magnets on 2 m, 1 s gate at 60 km/h: 25 pulses a second; one more or less is 2.4 km/h, triangular."""
        fast = installation(
            CYCLE,
            wheel={"method": "entered", "entered": {"circumference_mm": 2000}},
            target__count=3,
            check_speed_kmh=60,
            readouts__0__timing={"method": "gate", "gate_s": 1},
            readouts__0__display_step_kmh=0.01,
        )
        u_kmh = evaluate(fast).shown.relative_standard_uncertainty_pct / 100 * 60
        chain = evaluate(fast).chain_relative_standard_uncertainty_pct / 100 * 60
        self.assertAlmostEqual(math.hypot(2.4 / math.sqrt(6), 0.01 / math.sqrt(12), chain), u_kmh, places=6)

    def test_the_grid_of_enterable_numbers(self) -> None:
        for exact, step, expected in [
            (2072.5, 1, (2072, 2073, 2072)),
            (2072.6, 1, (2072, 2073, 2073)),
            (2072.0, 1, (2072, 2072, 2072)),
            (0.3, 0.1, (100, 100, 100)),
            (521.04, 0.1, (521.0, 521.1, 521.0)),
            (50, 1, (100, 100, 100)),
            (1e9, 1, (9999, 9999, 9999)),
        ]:
            with self.subTest(str(exact)):
                self.assertEqual(nearest_enterable(exact, 100, 9999, step), expected)
