"""The whole line: figures, findings, the next action, and what must hold for every installation."""

from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from speedchain import evaluate
from speedchain.readout import ENCODINGS
from speedchain.readout.encodings import set_pulses_per_km, value_for
from tests.installations import CYCLE, installation

ROLL_OUT = {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 5790}}


def codes(result: Any) -> dict[str, str]:
    return {finding.code: finding.severity for finding in result.findings}


class Findings(TestCase):
    def test_a_neighbours_chart_row_is_pointed_out(self) -> None:
        result = evaluate(installation(CYCLE, readouts__0__current_setting=2105))
        self.assertEqual(codes(result), {"readout.chart_neighbour": "warning"})
        self.assertIn("700x25C", result.findings[0].message)
        self.assertIn("2130", result.findings[0].remedy)
        self.assertEqual(codes(evaluate(installation(CYCLE, readouts__0__current_setting=2136))), {})

    def test_reading_low_on_the_road_blocks_when_it_is_sure(self) -> None:
        self.assertEqual(codes(evaluate(installation(readouts__0__current_setting=24906))), {})
        self.assertEqual(
            codes(evaluate(installation(readouts__0__current_setting=25000))), {"readout.may_under_read": "note"}
        )
        blocked = evaluate(installation(readouts__0__current_setting=26500))
        self.assertEqual(codes(blocked), {"readout.under_reads": "blocking"})
        self.assertEqual(blocked.next_action.code, "readout.under_reads")
        self.assertIn("Enter 24905\u00a0pulses per km.", blocked.next_action.action)
        logger = codes(evaluate(installation(purpose="slip_control", readouts__0__current_setting=26500)))
        self.assertEqual(logger, {"purpose.false_slip": "note"})

    def test_above_the_band(self) -> None:
        """At 100 km/h true the band of UN Regulation 39 ends at 114 km/h shown."""
        inside, outside = round(24905.37 / 1.139), round(24905.37 / 1.141)
        far = {"readout.far_off": "warning"}  # and yet permitted
        self.assertEqual(codes(evaluate(installation(readouts__0__current_setting=inside))), far)
        self.assertEqual(
            codes(evaluate(installation(readouts__0__current_setting=outside))),
            far | {"readout.above_range": "warning"},
        )

    def test_a_sensor_that_cannot_see_the_target(self) -> None:
        self.assertEqual(codes(evaluate(installation(sensor__kind="reed"))), {"sensor.blind": "blocking"})

    def test_out_of_the_readers_range(self) -> None:
        result = evaluate(installation(readouts__0__maximum=9999))
        self.assertEqual(codes(result)["readout.out_of_range"], "blocking")
        self.assertEqual(result.readouts[0].nearest.value, 9999)

    def test_a_number_the_reader_cannot_hold(self) -> None:
        self.assertIn(
            "readout.not_enterable", codes(evaluate(installation(CYCLE, readouts__0__current_setting=2130.5)))
        )

    def test_methods_that_disagree(self) -> None:
        wheel = {"marking": {"text": "205/55R16"}, "method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 6100}}
        self.assertIn("wheel.methods_disagree", codes(evaluate(installation(wheel=wheel))))
        wheel["roll_out"] = {"turns": 3, "distance_mm": 5800}
        self.assertNotIn("wheel.methods_disagree", codes(evaluate(installation(wheel=wheel))))

    def test_notes_on_marking_drive_and_brake_control(self) -> None:
        self.assertIn("wheel.marking", codes(evaluate(installation(CYCLE, wheel__marking__text="700x28"))))
        self.assertIn("wheel.marking", codes(evaluate(installation(CYCLE, wheel__marking__text="28-620"))))
        self.assertIn("drive.driven_wheel", codes(evaluate(installation(drive__driven=True))))
        self.assertIn(
            "target.brake_control_count", codes(evaluate(installation(purpose="brake_control", target__count=29)))
        )


class NextActions(TestCase):
    def test_the_road_from_guess_to_proof(self) -> None:
        changes: dict[str, Any] = {}
        steps = []
        for code, change in [
            ("target.count", {"target__basis": "counted"}),  # ± one whole tooth of 48 outweighs the marking's 2 %
            ("wheel.roll_out", {"wheel": ROLL_OUT}),
            ("readout.read_back", {"readouts__0__current_setting": 24870}),
            ("prove", {}),
        ]:
            action = evaluate(installation(**changes)).next_action
            steps.append(action.code)
            self.assertTrue(action.steps)
            self.assertEqual(action.code, code)
            changes |= change
        verification = {"test": "road", "on": "2026-06-01", "by": "race engineer"}
        for stage in ("wheel", "drive", "target", "sensor", "signal", "readouts__0"):
            changes[f"{stage}__verification"] = verification
        changes["wheel"] = ROLL_OUT | {"verification": verification}
        done = evaluate(installation(**{k: v for k, v in changes.items() if k != "wheel__verification"}))
        self.assertEqual(done.next_action.code, "done")
        self.assertEqual({stage.evidence for stage in done.stages}, {"verified"})

    def test_what_is_promised_is_what_comes(self) -> None:
        before = evaluate(installation(target__basis="counted"))
        rolled = {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 3 * 1927.295}}
        after = evaluate(installation(target__basis="counted", wheel=rolled))
        self.assertAlmostEqual(before.next_action.after_pct, after.shown.expanded_uncertainty_pct, places=3)

    def test_measuring_from_the_shaft_and_on_the_water(self) -> None:
        shaft = {"kind": "axle_ratio", "axle_ratio": {"ratio": 3.73}}
        result = evaluate(installation(wheel=ROLL_OUT, target__basis="counted", drive=shaft))
        self.assertEqual(result.next_action.code, "drive.count")
        self.assertIn("ack stands", result.next_action.caution)
        boat = evaluate(
            installation(
                vehicle_kind="boat",
                purpose="water_speed",
                wheel={"method": "entered", "entered": {"circumference_mm": 370.4}},
                target={"kind": "paddle_magnets", "count": 4},
                sensor__kind="paddlewheel",
            )
        )
        self.assertEqual(boat.next_action.code, "wheel.water_run")
        self.assertIn("paddle", boat.stages[0].figures[0].name)

    def test_shares_add_up(self) -> None:
        result = evaluate(installation())
        self.assertAlmostEqual(sum(part.share_pct for part in result.contributions), 100)
        self.assertEqual([part.stage for part in result.contributions[:2]], ["target", "wheel"])


wheels = st.floats(100, 6000).map(lambda mm: {"method": "entered", "entered": {"circumference_mm": mm}})
counts = st.integers(1, 1000)
ratios = st.floats(0.1, 20)


LINEAR = sorted(set(ENCODINGS) - {"frequency_table", "chart_code", "percent_correction"})


class Properties(TestCase):
    def built(self, wheel: Any, count: int, ratio: float, encoding: str, **changes: Any) -> Any:
        readout = {"name": "R", "encoding": encoding, "set_pulses_per_turn": count, "minimum": 10}
        readout["maximum"] = min(6000, ENCODINGS[encoding].kind.maximum)
        if encoding.startswith("pulses"):
            readout |= {"minimum": 1, "maximum": 1_000_000}
        drive = {"kind": "axle_ratio", "axle_ratio": {"ratio": ratio}}
        return installation(
            purpose="slip_control", wheel=wheel, target__count=count, drive=drive, readouts=[readout | changes]
        )

    @given(wheels, counts, ratios, st.sampled_from(LINEAR))
    def test_shown_is_true_when_the_exact_number_is_typed(
        self, wheel: Any, count: int, ratio: float, code: str
    ) -> None:
        exact = evaluate(self.built(wheel, count, ratio, code)).readouts[0].exact
        if 10 <= exact <= 6000:
            typed = evaluate(self.built(wheel, count, ratio, code, current_setting=exact))
            self.assertAlmostEqual(typed.shown.shown_kmh, 100, places=9)

    @given(wheels, counts, ratios, st.sampled_from(LINEAR))
    def test_encode_then_decode_is_identity_within_the_step(
        self, wheel: Any, count: int, ratio: float, code: str
    ) -> None:
        result = evaluate(self.built(wheel, count, ratio, code))
        readout = result.readouts[0]
        if not readout.minimum <= readout.exact <= readout.maximum:
            return
        factor = count if ENCODINGS[code].per_turn else 1
        result = set_pulses_per_km(ENCODINGS[code], factor, readout.nearest.value)
        back = value_for(ENCODINGS[code], factor, result)
        self.assertAlmostEqual(back, readout.nearest.value, delta=1e-9 * abs(back))
        self.assertLessEqual(abs(readout.nearest.value - readout.exact), readout.step / 2 * (1 + 1e-9))

    @given(wheels, counts, ratios)
    def test_road_displays_are_rounded_towards_over_reading(self, wheel: Any, count: int, ratio: float) -> None:
        for code in LINEAR:
            document = self.built(wheel, count, ratio, code).model_copy(update={"purpose": "true_speed"})
            readout = evaluate(document).readouts[0]
            if readout.minimum + readout.step <= readout.exact <= readout.maximum - readout.step:
                self.assertGreaterEqual(readout.to_type.error_pct, -1e-6)
