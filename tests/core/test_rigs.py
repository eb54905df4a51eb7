"""What faults physically do, and what each test then gives: expectations by the physics of the parts, not by the
table."""

from __future__ import annotations

from collections import Counter
from unittest import TestCase

import numpy as np

from speedchain import Installation
from speedchain.faults import TESTS, table_for
from speedchain.faults.causes import BY_CODE as CAUSE
from speedchain.faults.inject import PUTS, inject
from speedchain.faults.perform import OUTCOMES, cured, perform, seen_by, symptoms_shown
from speedchain.faults.practice import base_of
from speedchain.faults.rig import Rig, display, path_works, strength
from speedchain.fitted import applies, fitted

CAR, CYCLE, COIL, BOAT = (base_of(name)[0] for name in ("car", "bicycle", "coil", "boat"))
OFTEN = 60


def usual(document: Installation, cause: str, test: str, seeds: int = OFTEN) -> str:
    """The most frequent outcome of a test over sizes of a fault, people's errors included."""
    found = Counter()
    for seed in range(seeds):
        random = np.random.default_rng(seed)
        found[perform(inject(cause, document, random), test, random)] += 1
    return found.most_common(1)[0][0]


class Electrical(TestCase):
    """Ohm's law and continuity: what a meter and a waved magnet give."""

    def test_without_supply_nothing_switches(self) -> None:
        for test, outcome in (
            ("supply", "none"),
            ("output", "stays"),
            ("magnet", "nothing"),
            ("spin", "nothing"),
            ("lead", "fine"),
        ):
            self.assertEqual(usual(CAR, "no_supply", test), outcome, test)

    def test_an_open_signal_wire_leaves_the_sensor_switching(self) -> None:
        for test, outcome in (
            ("supply", "right"),
            ("output", "switches"),
            ("magnet", "nothing"),
            ("lead", "open"),
            ("pulled_up", "zero"),
        ):
            self.assertEqual(usual(CAR, "signal_open", test), outcome, test)

    def test_a_missing_pull_up_leaves_the_lead_fine(self) -> None:
        for test, outcome in (("lead", "fine"), ("pulled_up", "zero"), ("supply", "right"), ("swap_sensor", "same")):
            self.assertEqual(usual(CAR, "pull_up_missing", test), outcome, test)

    def test_a_dead_sensor_is_cured_by_another(self) -> None:
        for test, outcome in (("swap_sensor", "cured"), ("magnet", "nothing"), ("supply", "right"), ("look", "fine")):
            self.assertEqual(usual(CAR, "sensor_dead", test), outcome, test)

    def test_a_conditioner_that_is_destroyed_has_its_signal_at_the_input(self) -> None:
        self.assertEqual(usual(COIL, "conditioner_destroyed", "conditioner"), "input_only")
        self.assertEqual(usual(COIL, "sensor_dead", "conditioner"), "none")

    def test_ignition_is_seen_with_the_engine_running_only(self) -> None:
        self.assertEqual(usual(CAR, "noise_ignition", "engine_off"), "with_engine")
        self.assertEqual(usual(CAR, "noise_ignition", "tie"), "better")
        self.assertEqual(usual(CAR, "gap_wide", "engine_off"), "nothing")


class Mechanical(TestCase):
    """The sensor as it is placed, by the core's own strength and the bench's pulses."""

    def test_a_wide_gap_weakens_and_a_magnet_by_hand_does_not_mind(self) -> None:
        rig = inject("gap_wide", CAR, np.random.default_rng(3))
        self.assertLess(strength(rig), strength(Rig(cause="", entered=CAR, true=CAR)))
        self.assertEqual(usual(CAR, "gap_wide", "gap"), "wide")
        self.assertEqual(usual(CAR, "gap_wide", "magnet"), "shows")

    def test_a_strip_along_the_ring_is_better_after_a_quarter_turn(self) -> None:
        self.assertEqual(usual(CAR, "clocking", "quarter_turn"), "better")
        self.assertEqual(usual(CAR, "gap_wide", "quarter_turn"), "same")

    def test_a_magnet_on_the_old_wheel(self) -> None:
        for test, outcome in (("look", "missing"), ("magnet", "shows"), ("spin", "nothing")):
            self.assertEqual(usual(CYCLE, "target_left_behind", test), outcome, test)

    def test_the_shaft_before_a_held_differential_turns_half(self) -> None:
        """Kinematics of the differential: the shaft turns with the mean of both wheels."""
        rig = inject("wheel_held", COIL, np.random.default_rng(1))
        self.assertAlmostEqual(display(rig, 50).ratio, 0.5, delta=0.01)

    def test_a_reed_that_is_passed_in_its_middle_counts_double(self) -> None:
        rig = inject("reed_at_end", CYCLE, np.random.default_rng(1))
        self.assertTrue(symptoms_shown(rig)["double"] or symptoms_shown(rig)["nothing"])

    def test_turns_matter_on_the_water_alone(self) -> None:
        rig = inject("paddle_off_centre", BOAT, np.random.default_rng(1))
        self.assertEqual([name for name, there in symptoms_shown(rig).items() if there], ["in_turns"])
        self.assertEqual(usual(BOAT, "paddle_off_centre", "straight"), "one_turn")


class Arithmetical(TestCase):
    """Ratios of what is shown, by hand."""

    def test_settings(self) -> None:
        for cause, ratios in (
            ("edges_half", (0.5,)),
            ("edges_double", (2.0,)),
            ("setting_unit", (1.609344, 1 / 1.609344, 10, 0.1)),
        ):
            found = display(inject(cause, CAR, np.random.default_rng(2)), 50).ratio
            self.assertLess(min(abs(found / ratio - 1) for ratio in ratios), 0.01, cause)

    def test_another_ring_by_its_count(self) -> None:
        rig = inject("wrong_count", CAR, np.random.default_rng(4))
        teeth = display(rig, 50).ratio * CAR.target.count
        self.assertAlmostEqual(teeth, round(teeth), delta=0.5)
        self.assertNotEqual(round(teeth), CAR.target.count)

    def test_a_high_limit_leaves_low_speeds_alone(self) -> None:
        rig = inject("filter_slow", CAR, np.random.default_rng(2))
        self.assertAlmostEqual(display(rig, 10).ratio, 1, delta=0.02)
        self.assertLess(display(rig, 180).ratio, 0.6)


class Everything(TestCase):
    def test_every_cause_can_be_put_in_noticed_and_cured(self) -> None:
        bases = {name: base_of(name) for name in ("car", "bicycle", "coil", "boat")}
        reached = set()
        for document, _ in bases.values():
            for cause in table_for(fitted(document)).causes[:-1]:
                for seed in range(12):
                    random = np.random.default_rng(seed)
                    rig = inject(cause, document, random)
                    if seen_by(rig, random) is not None:
                        reached.add(cause)
                        break
                else:
                    self.fail(f"{cause} is never noticed on {document.name}")
        self.assertGreater(len(reached), 50)
        right = [
            cured(inject("gap_wide", CAR, np.random.default_rng(s)), "gap_wide", np.random.default_rng(s))
            for s in range(200)
        ]
        self.assertGreater(right.count("cured"), 180)

    def test_every_test_gives_one_of_its_outcomes(self) -> None:
        for document in (CAR, CYCLE, COIL, BOAT):
            facts = fitted(document)
            for cause in sorted(PUTS):
                if not applies(CAUSE[cause].when, CAUSE[cause].unless, facts):
                    continue
                rig = inject(cause, document, np.random.default_rng(7))
                for test in TESTS:
                    self.assertIn(
                        OUTCOMES[test.code](rig, np.random.default_rng(7)), test.outcomes, f"{cause} {test.code}"
                    )

    def test_people_err_at_the_stated_rate(self) -> None:
        """4 % wrong: binomial, 2000 trials, three standard deviations."""
        rig = Rig(cause="", entered=CAR, true=CAR)
        wrong = sum(perform(rig, "battery", np.random.default_rng(seed)) != "good" for seed in range(2000))
        self.assertAlmostEqual(wrong / 2000, 0.04, delta=3 * (0.04 * 0.96 / 2000) ** 0.5)
        self.assertTrue(path_works(rig))
