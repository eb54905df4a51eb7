"""What was observed of the chain, what a change makes void, and what to do with each kind of reader."""

from __future__ import annotations

from datetime import date
from typing import Any
from unittest import TestCase

import numpy as np

from speedchain import Evaluation, Installation, evaluate
from speedchain.bench.records import verify_stage
from speedchain.fields import InputError, Verification
from speedchain.observing import SpeedComparison, SpeedPair, observe
from speedchain.vehicle.part_change import part_changed
from speedchain.vehicle.pulse_change import pulse_change_tasks
from speedchain.vehicle.tyre_change import NewTyre, change_tyre
from tests.installations import CAR, CYCLE, installation
from tests.sizes import sized

SAMPLES = sized(2000, 200)
ON = "2026-05-02"


def seen(true_kmh: float, shown_kmh: float, **entries: Any) -> SpeedComparison:
    pairs = (SpeedPair(true_kmh=true_kmh, shown_kmh=shown_kmh),)
    return SpeedComparison(**{"kind": "drive", "on": ON, "pairs": pairs, "expanded_pct": 0.2} | entries)


def after(known: Installation, comparison: SpeedComparison) -> tuple[Installation, Evaluation]:
    used = observe(known, evaluate(known), comparison)
    return used, evaluate(used)


class Observed(TestCase):
    def test_a_drive_is_not_overruled_by_an_assumed_wheel(self) -> None:
        """Right to ± 0.2 % on the road, a wheel of ± 2.3 %: the setting stays, the ± is the drive's, nothing blocks."""
        known = installation(CAR, readouts__0__current_setting=25_700)
        self.assertIn("readout.under_reads", [item.code for item in evaluate(known).findings])
        _, found = after(known, seen(100, 100))
        self.assertAlmostEqual(found.pulses_per_km, 25_700, delta=5)
        self.assertLess(found.chain_expanded_uncertainty_pct, 0.21)
        self.assertEqual(found.readouts[0].to_type.value, 25_700)
        self.assertFalse([item.message for item in found.findings if item.severity == "blocking"])

    def test_a_second_run_corrects_from_the_setting_of_that_run(self) -> None:
        """20 000 set, 5.04 % low: 20 000 × 0.9496 = 18 992. Then 19 000 set, 1.0 % low: 19 000 × 0.99 = 18 810."""
        known = installation(CAR, readouts__0__current_setting=20_000, speedometer_rule="none")
        used, found = after(known, seen(100, 94.96))
        self.assertEqual(found.readouts[0].to_type.value, 18_992)
        _, found = after(used, seen(100, 99.0, setting=19_000))
        self.assertEqual(found.readouts[0].to_type.value, 18_810)
        self.assertGreater(found.chain_expanded_uncertainty_pct, 0.9)  # the first said something else

    def test_the_same_recording_counts_once(self) -> None:
        known = installation(CAR, readouts__0__current_setting=20_000)
        used, _ = after(known, seen(100, 94.96, recording="a" * 64))
        used, _ = after(used, seen(100, 95.0, recording="a" * 64))
        self.assertEqual([round(item.pulses_per_km) for item in used.observations], [19_000])

    def test_known_from_speeds_in_every_setting_format(self) -> None:
        """Shows 50 at 48 true: pulses per km delivered are 50/48 of those set, whatever the format. By hand: 2105 mm
        with one magnet are 10⁶/2105 = 475.06 per km, a table of 100 Hz at 36 km/h is 10 000 per km."""
        table = [{"speed_kmh": 36, "set_frequency_hz": 100}, {"speed_kmh": 72, "set_frequency_hz": 200}]
        codes = [{"code": "7", "circumference_mm": 2105}, {"code": "8", "circumference_mm": 2130}]
        for changes, set_per_km in (
            ({"readouts__0__current_setting": 2105}, 475.06),
            ({"readouts__0__encoding": "pulses_per_km", "readouts__0__current_setting": 480}, 480),
            ({"readouts__0__encoding": "frequency_table", "readouts__0__table": table}, 10_000),
            ({"readouts__0__encoding": "chart_code", "readouts__0__codes": codes,
                "readouts__0__current_setting_code": "7"},
             475.06),
        ):  # fmt: skip
            with self.subTest(changes):
                known = installation(CYCLE, **changes)
                used, _ = after(known, seen(48, 50, kind="read"))
                self.assertAlmostEqual(
                    used.observations[0].pulses_per_km, set_per_km * 50 / 48, delta=0.01 * set_per_km / 48
                )

    def test_the_setting_at_the_comparison_takes_the_display_s_own_unit(self) -> None:
        known = installation(CYCLE, readouts__0__current_setting=2105)
        used, _ = after(known, seen(48, 50, setting="210 cm"))
        self.assertAlmostEqual(used.observations[0].pulses_per_km, 1e6 / 2100 * 50 / 48, places=3)
        self.assertEqual(used.observations[0].setting, "2100\u00a0mm")

    def test_a_fixed_reader_s_own_number(self) -> None:
        """It shows 85 at 75: it is made for 75/85 of the pulses per km that arrive."""
        known = installation(CAR, readouts__0__entry="fixed", readouts__0__current_setting=20_000)
        used, found = after(known, seen(75, 85, of="reader"))
        arriving = found.readouts[0].delivered_per_km
        self.assertAlmostEqual(used.readouts[0].current_setting or 0, arriving * 75 / 85, delta=1)
        self.assertAlmostEqual(found.readouts[0].in_use.error_pct, 100 * (85 / 75 - 1), places=2)
        self.assertEqual(used.observations, ())

    def test_what_cannot_be_known_is_refused_with_a_remedy(self) -> None:
        car = installation(CAR)
        for known, comparison, path in (
            (car, seen(100, 95), "setting"),
            (car, seen(100, 0, setting=20_000), "pairs.0.shown_kmh"),
            (installation(CAR, readouts__0__entry="learned"), seen(100, 95), "readout"),
            (car, seen(100, 95, readout=3), "readout"),
            (car, seen(1, 1, setting=20_000, expanded_pct=None), "pairs.0.true_kmh"),
            (car, seen(100, 95, setting=20_000, of="reader"), "of"),
        ):
            with self.subTest(path), self.assertRaises(InputError) as caught:
                after(known, comparison)
            self.assertEqual(caught.exception.problems[0].path, path)
            self.assertTrue(caught.exception.problems[0].remedy)

    def test_pairs_read_by_eye(self) -> None:
        """Of one pair at 50: u = √((0.3/50)² + (1/√12/55)² + 0.2 %²) = 0.82 %, ± 1.6 %; of four pairs that agree,
        less."""
        known = installation(CAR, readouts__0__current_setting=20_000)
        one, _ = after(known, seen(50, 55, kind="read", expanded_pct=None))
        self.assertAlmostEqual(one.observations[0].expanded_pct, 1.64, places=2)
        four = SpeedComparison(
            kind="read", on=ON, pairs=tuple([SpeedPair(true_kmh=v, shown_kmh=1.1 * v) for v in (40, 50, 60, 70)])
        )  # type: ignore[arg-type]
        many, _ = after(known, four)
        self.assertLess(many.observations[0].expanded_pct, 1.0)

    def test_one_way_on_the_water_is_not_sure_of_the_current(self) -> None:
        """Half a knot of current, 0.9 km/h, at 18 km/h: 2 × 0.9/18 = 10 % more than both ways tell."""
        known = installation(
            CAR, vehicle_kind="boat", purpose="water_speed", wheel={"method": "paddle", "paddle": {}},
            target={"kind": "paddle_magnets", "count": 4}, sensor={"kind": "paddlewheel"},
            readouts__0__current_setting=10_800,
        )  # fmt: skip
        one_way, _ = after(known, seen(18, 17, kind="read", expanded_pct=None))
        both, _ = after(known, seen(18, 17, kind="there_and_back", expanded_pct=None))
        self.assertGreater(one_way.observations[0].expanded_pct, 10)
        self.assertLess(both.observations[0].expanded_pct, 5)

    def test_growth_brings_it_from_its_speed_to_the_check_speed(self) -> None:
        """2 % growth at 200: at 100 the wheel is 0.5 % larger than at a crawl, at 200 2 %, so 1.02/1.005 more
        pulses."""
        corrections = {"growth_pct": 2, "growth_at_kmh": 200}
        known = installation(CAR, wheel__corrections=corrections, readouts__0__current_setting=20_000)
        _, found = after(known, seen(200, 200, expanded_pct=0.02))
        self.assertAlmostEqual(found.pulses_per_km, 20_000 * 1.02 / 1.005, delta=1)


class Void(TestCase):
    """Each dependence, changed one way and the other."""

    def counted(self, stage: str, known: Installation, test: str) -> Installation:
        verification = Verification(test=test, on=ON)  # type: ignore[arg-type]
        return verify_stage(known, evaluate(known), verification, stage=stage)  # type: ignore[arg-type]

    def test_each_dependence_makes_what_hangs_on_it_void_and_nothing_else(self) -> None:
        placed = {"placement": {"air_gap_mm": 0.8, "air_gap_basis": "measured"}}
        pressed = {"wheel__measured": {"pressure_bar": 2.2}}
        known = installation(CAR, **placed, **pressed)
        tests = {
            "wheel": "road", "drive": "road", "target": "second_count", "sensor": "magnet", "signal": "spin",
            "readout": "road",
        }  # fmt: skip
        for stage, test in tests.items():
            known = self.counted(stage, known, test)
        self.assertEqual(evaluate(known).voids, ())
        document = known.model_dump(mode="json")
        for change, stages in (
            ({"wheel": document["wheel"] | {"marking": {"text": "195/65R15"}}}, {"wheel", "readout"}),
            ({"wheel": document["wheel"] | {"measured": {"pressure_bar": 2.6}}}, {"wheel"}),
            ({"target": document["target"] | {"count": 46}}, {"target", "sensor", "readout"}),
            ({"sensor": document["sensor"] | {"kind": "hall_differential"}}, {"sensor", "signal"}),
            ({"placement": document["placement"] | {"air_gap_mm": 1.1}}, {"sensor"}),
            ({"drive": document["drive"] | {"kind": "sprockets", "sprockets": {"wheel_teeth": 45, "shaft_teeth": 15}}},
             {"drive", "readout"}),
            ({"notes": "washed"}, set()),
        ):  # fmt: skip
            with self.subTest(change):
                changed = evaluate(Installation.model_validate(document | change))
                self.assertEqual({item.stage for item in changed.voids}, stages)
                for stage in changed.stages:
                    if stage.stage in stages:
                        self.assertNotEqual(stage.evidence, "verified")

    def test_after_a_change_of_tyre_everything_is_learned_again(self) -> None:
        """Cadence 70 s: 50 km/h held for 20 s, by this reader's own ride."""
        ride = {"outcome": "learned", "hold_kmh": 50, "hold_s": 20, "key_off_s": 30, "on": ON}
        known = installation(CAR, readouts__0__entry="learned", readouts__0__learning_ride=ride)
        self.assertEqual(evaluate(known).readouts[0].evidence, "measured")
        change = change_tyre(known, NewTyre(marking="195/65R15"))
        found = evaluate(change.after)
        self.assertEqual(found.readouts[0].evidence, "assumed")
        self.assertIn("readout.learn_again", [item.code for item in found.findings])
        text = next(item.text for item in change.tasks if item.stage == "readout")
        for word in ("Dash", "50\u00a0km/h", "20\u00a0s", "30\u00a0s"):
            self.assertIn(word, text)
        self.assertNotIn("Enter", text)

    def test_after_a_change_of_tyre_no_drive_counts(self) -> None:
        known, _ = after(installation(CAR, readouts__0__current_setting=20_000), seen(100, 95))
        change = change_tyre(known, NewTyre(marking="205/55R16"))  # the same size, and yet another tyre
        found = evaluate(change.after)
        self.assertFalse(found.known.observed)
        self.assertEqual(found.known.observations[0].stale, "before the change of tyre")
        self.assertAlmostEqual(found.pulses_per_km, 24_905, delta=1)

    def test_a_part_that_was_changed_voids_what_was_found_before_that_day(self) -> None:
        """Each kind of part, and of each stage whether its test from the day before still holds."""
        placed = {"placement": {"air_gap_mm": 0.8, "air_gap_basis": "measured"}}
        known, _ = after(installation(CAR, readouts__0__current_setting=20_000, **placed), seen(100, 95))
        for stage in ("wheel", "drive", "target", "sensor", "signal", "readout"):
            known = self.counted(stage, known, "road")
        for kind, void, observed in (
            ("tyre", {"wheel", "readout"}, False),
            ("ring", {"target", "sensor", "readout"}, False),
            ("sensor", {"sensor", "signal"}, True),
            ("loom", {"signal"}, True),
            ("battery", {"readout"}, True),
            ("display", {"readout"}, True),
            ("brake", set(), True),
        ):
            with self.subTest(kind):
                found = evaluate(part_changed(known, kind, date(2026, 5, 3)))
                self.assertEqual({item.stage for item in found.voids}, void)
                self.assertEqual(found.known.observed, observed)
                same_day = part_changed(known, kind, date(2026, 5, 2))
                self.assertEqual(same_day, known)

    def test_what_was_learned_is_gone_with_the_controller_and_not_with_the_battery(self) -> None:
        ride = {"outcome": "learned", "on": ON}
        known = installation(CAR, readouts__0__entry="learned", readouts__0__learning_ride=ride)
        for kind, again in (("display", True), ("tyre", True), ("battery", False), ("sensor", False)):
            found = evaluate(part_changed(known, kind, date(2026, 5, 3)))
            self.assertEqual([item.ride for item in found.voids], [True] * again, kind)

    def test_an_edit_puts_the_ride_on_the_list(self) -> None:
        ride = {"outcome": "learned", "on": ON, "state": {"target": "toothed ring 48 × 1"}}
        before = installation(CAR, readouts__0__entry="learned", readouts__0__learning_ride=ride)
        document = before.model_dump(mode="json")
        changed = Installation.model_validate(document | {"target": document["target"] | {"count": 46}})
        tasks = pulse_change_tasks(before, changed)
        self.assertTrue(any("learning ride" in item.text for item in tasks or ()))

    def test_wear_since_then_is_counted(self) -> None:
        """3 mm less tread: 2π × 3 mm of 1927 mm are 0.98 % more pulses per km."""
        worn = {"corrections": {"tread_now_mm": 8}}
        known = installation(CAR, wheel=CAR["wheel"] | worn, readouts__0__current_setting=20_000)
        used, _ = after(known, seen(100, 100, expanded_pct=0.02))
        document = used.model_dump(mode="json")
        document["wheel"]["corrections"]["tread_now_mm"] = 5
        now = evaluate(Installation.model_validate(document))
        self.assertAlmostEqual(now.pulses_per_km, 20_000 * (1 + 2 * 3.14159 * 3 / 1927), delta=20)


class Told(TestCase):
    """One function says what to do with a reader."""

    def action(self, **changes: Any) -> str:
        return evaluate(installation(CAR, **changes)).readouts[0].action

    def test_each_way_of_telling(self) -> None:
        table = [{"speed_kmh": 36}, {"speed_kmh": 72}]
        self.assertEqual(self.action(), "Enter 24905\u00a0pulses per km")
        self.assertEqual(
            self.action(readouts__0__encoding="frequency_table", readouts__0__table=table),
            "Enter the frequencies of its table",
        )
        self.assertIn("hold 40\u00a0km/h for 10\u00a0s", self.action(readouts__0__entry="learned"))
        fixed = self.action(readouts__0__entry="fixed", readouts__0__current_setting=18_679)
        self.assertIn("It cannot be set: fit 36 teeth, or a converter 3/4", fixed)

    def test_no_ring_that_under_reads_is_offered_where_the_rule_forbids_it(self) -> None:
        """18 500/24 905.4 × 48 = 35.65 teeth: 36 over-reads by 1.0 %; of 36.3 teeth 36 would under-read, so 37."""
        for setting, rule, teeth in ((18_500, "un_r39", 36), (18_835, "un_r39", 37), (18_835, "none", 36)):
            known = installation(
                CAR, readouts__0__entry="fixed", readouts__0__current_setting=setting, speedometer_rule=rule
            )
            ways = {way.code: way for way in evaluate(known).fixed_readers[0].ways}
            self.assertEqual(ways["ring"].short, f"{teeth} teeth")


class TurnsCounted(TestCase):
    """Pulses over turns of the wheel by hand observe the ring and the gearing together, and not the wheel."""

    def known(self, pulses: int, **changes: Any) -> Any:
        axle = {"kind": "axle_ratio", "driven": True, "axle_ratio": {"ratio": 3.73, "basis": "label"}}
        counts = [{"on": ON, "wheel_turns": 10, "pulses": pulses} | changes]
        return installation(CAR, drive=axle, target__count=10, target__basis="counted", turn_counts=counts)

    def test_against_numpy(self) -> None:
        """ln(ratio) 0.5 %, ln(count) 0, ln of both by hand: u² = (1/√3/375)² + (0.05/√3/10)²; a joint solution by
        lstsq."""
        u_hand = np.hypot(1 / np.sqrt(3) / 375, 0.05 / np.sqrt(3) / 10)
        u_drive = 0.005
        rows = np.array([[1 / u_drive], [1 / u_hand]])
        seen = np.array([np.log(37.3) / u_drive, np.log(37.5) / u_hand])
        (mean,), *_ = np.linalg.lstsq(rows, seen, rcond=None)
        u_pct = 100 / np.sqrt((rows**2).sum())
        found = evaluate(self.known(375))
        self.assertAlmostEqual(found.turned.pulses_per_turn / np.exp(mean), 1, delta=2e-5)
        self.assertAlmostEqual(found.turned.expanded_pct, 2 * u_pct, delta=0.01)
        self.assertAlmostEqual(found.pulses_per_turn_of_wheel, found.turned.pulses_per_turn, places=9)
        self.assertAlmostEqual(found.stages[1].value, 3.73 * found.turned.pulses_per_turn / 37.3, places=9)
        self.assertEqual((found.stages[1].evidence, found.stages[0].evidence), ("measured", "assumed"))
        plain = evaluate(installation(CAR))
        self.assertAlmostEqual(found.stages[0].value, plain.stages[0].value)  # the wheel is not touched
        self.assertAlmostEqual(
            found.chain_expanded_uncertainty_pct,
            np.hypot(plain.stages[0].expanded_uncertainty_pct, found.turned.expanded_pct),
            delta=0.001,
        )

    def test_a_held_wheel_halves_the_turns_of_the_shaft(self) -> None:
        held = evaluate(self.known(187, one_wheel_held=True))
        self.assertEqual((held.turned.counts[0].pulses_per_turn, held.turned.agree), (37.4, True))

    def test_an_assumed_count_is_the_one_that_gives_way(self) -> None:
        """48 assumed on a hub, 470 pulses in ten turns: 47, and the spin test, the setting and the bench go by it."""
        counts = [{"on": ON, "wheel_turns": 10, "pulses": 470}]
        found = evaluate(installation(CAR, turn_counts=counts))
        self.assertAlmostEqual(found.stages[2].value, 47.0, delta=0.1)
        self.assertAlmostEqual(found.readouts[0].to_type.value / (found.stages[2].value * 1e6 / 1927.3), 1, delta=0.001)

    def test_a_count_that_cannot_be_does_not_spoil_what_is_sure(self) -> None:
        """3 magnets that were counted twice, and 48 pulses a turn: the 3 stand with their own ±, and a finding asks."""
        counts = [{"on": ON, "wheel_turns": 10, "pulses": 482}]
        sure = installation(CYCLE, target__count=3)
        found, plain = evaluate(installation(CYCLE, target__count=3, turn_counts=counts)), evaluate(sure)
        self.assertEqual(found.stages[2].value, 3)
        self.assertEqual(found.chain_expanded_uncertainty_pct, plain.chain_expanded_uncertainty_pct)
        self.assertEqual(found.turned.counts[0].weight, 0)
        self.assertIn("target.turns_otherwise", {item.code for item in found.findings})

    def test_a_lamp_shows_each_tooth_once_though_the_reader_counts_both_its_edges(self) -> None:
        counts = [{"on": ON, "wheel_turns": 10, "pulses": 480}]
        found = evaluate(installation(CAR, target__edges=2, target__basis="counted", turn_counts=counts))
        self.assertEqual((found.turned.agree, found.stages[2].value), (True, 96))

    def test_another_tyre_leaves_it_and_another_ring_does_not(self) -> None:
        for kind, counts in (("tyre", True), ("wheel", True), ("ring", False)):
            known = part_changed(self.known(380), kind, date(2026, 5, 3))
            found = evaluate(known)
            self.assertEqual(found.turned.counts[0].weight > 0, counts, kind)
        then = self.known(380, state={"ratio": 4.1})
        self.assertEqual(evaluate(then).turned.counts[0].stale, "before the change of gearing")

    def test_coverage(self) -> None:
        """Ratios that the label holds within 0.5 %, turns marked to a twentieth, whole pulses: ± holds 93 to 97 %."""
        random = np.random.default_rng(26)
        held = 0
        for _ in range(SAMPLES):
            ratio = 3.73 * (1 + 0.005 * random.standard_normal())
            turned = 10 + random.uniform(-0.05, 0.05)
            pulses = int(np.floor(10 * ratio * turned + random.uniform(0, 1)))
            found = evaluate(self.known(pulses)).turned
            held += abs(found.pulses_per_turn / (10 * ratio) - 1) <= found.expanded_pct / 100
        self.assertGreaterEqual(held / SAMPLES, 0.93)
