"""Reciprocal runs, slip and signal health of recordings that are simulated with known faults."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from speedchain.fields import said
from speedchain.runs import (
    Drive,
    Health,
    Reciprocal,
    Slip,
    SpeedRecord,
    health_of,
    mean_of_means,
    reciprocal,
    rows_of,
    slip_of,
)

WATER = {"speeds_kmh": (10.0, 10.0, 10.0, 10.0), "hold_s": 90.0, "change_s": 20.0, "shown_step_kmh": 0.0}


class ReciprocalRuns(TestCase):
    def found(self, **changes: object) -> Reciprocal:
        rows = rows_of(Drive(**(WATER | changes)))  # type: ignore[arg-type]
        shown = SpeedRecord(rows.time_s, rows.shown_kmh)
        found = reciprocal(SpeedRecord(rows.time_s, rows.true_kmh), shown, rows.course_deg, least_kmh=3)
        assert found is not None
        return found

    def test_a_steady_current_cancels(self) -> None:
        for current in (-3.0, 0.0, 2.0):
            found = self.found(current_kmh=current, shown_per_true=0.94)
            self.assertAlmostEqual(found.error_pct, -6, delta=0.3)
            self.assertAlmostEqual(found.current_first_kmh, current, delta=0.1)
            self.assertEqual([run.back for run in found.runs], [False, True, False, True])

    def test_a_current_that_turns_cancels_as_in_the_mean_of_means(self) -> None:
        """Bowditch's means of four runs at even times, and the current that changes evenly: the same."""
        found = self.found(current_kmh=3, current_change_kmh_h=-30, true_noise_kmh=0, shown_noise_kmh=0)
        by_means = mean_of_means(np.array([run.ground_kmh for run in found.runs]))
        self.assertAlmostEqual(found.water_kmh, by_means, delta=0.02)
        self.assertAlmostEqual(found.water_kmh, 10, delta=0.02)
        plain = float(np.mean([run.ground_kmh for run in found.runs]))
        self.assertGreater(abs(plain - 10), 5 * abs(found.water_kmh - 10))
        self.assertLess(found.current_last_kmh, found.current_first_kmh - 2)

    def test_the_means_by_their_formulas(self) -> None:
        v = np.array([11.3, 7.9, 12.4, 8.1])
        self.assertAlmostEqual(mean_of_means(v[:2]), (v[0] + v[1]) / 2)
        self.assertAlmostEqual(mean_of_means(v[:3]), (v[0] + 2 * v[1] + v[2]) / 4)
        self.assertAlmostEqual(mean_of_means(v), (v[0] + 3 * v[1] + 3 * v[2] + v[3]) / 8)

    def test_its_uncertainty_holds_the_truth(self) -> None:
        held = 0
        random = np.random.default_rng(4)
        for seed in range(120):
            error = float(random.uniform(-8, 8))
            count = int(random.integers(2, 7))
            found = self.found(
                seed=seed,
                shown_per_true=1 + error / 100,
                current_kmh=float(random.uniform(-3, 3)),
                current_change_kmh_h=float(random.normal(0, 4 if count == 2 else 10)),
                speeds_kmh=(10.0,) * count,
            )
            held += abs(found.error_pct - error) <= found.expanded_pct
        self.assertGreaterEqual(held, 110)  # 95 % of 120 are 114 ± 2.4
        self.assertLess(held, 120)

    def test_a_wave_is_not_the_end_of_a_run(self) -> None:
        """The noise of a small boat parts a run; the two halves are one."""
        for seed in range(6):
            rows = rows_of(Drive(seed=seed, **WATER))  # type: ignore[arg-type]
            true = rows.true_kmh.copy()
            true[(rows.time_s > 60) & (rows.time_s < 62)] += 1.2
            shown = SpeedRecord(rows.time_s, rows.shown_kmh)
            found = reciprocal(SpeedRecord(rows.time_s, true), shown, rows.course_deg, least_kmh=3)
            assert found is not None
            self.assertEqual([run.back for run in found.runs], [False, True, False, True])

    def test_one_way_alone_says_nothing_and_advice_says_what_is_missing(self) -> None:
        rows = rows_of(Drive(speeds_kmh=(10.0,), hold_s=90))
        shown = SpeedRecord(rows.time_s, rows.shown_kmh)
        self.assertIsNone(reciprocal(SpeedRecord(rows.time_s, rows.true_kmh), shown, rows.course_deg, least_kmh=3))
        self.assertIn("third run", self.found(speeds_kmh=(10.0, 10.0)).advice)
        self.assertIn("Leave the throttle", self.found(speeds_kmh=(10.0, 8.0, 10.0)).advice)
        self.assertEqual(self.found().advice, "")


class Slips(TestCase):
    def found(self, **changes: object) -> Slip:
        drive = Drive(driven=True, speeds_kmh=(50.0, 90.0, 60.0, 110.0), hold_s=30, change_s=10, **changes)  # type: ignore[arg-type]
        rows = rows_of(drive)
        found = slip_of(SpeedRecord(rows.time_s, rows.true_kmh), SpeedRecord(rows.time_s, rows.driven_kmh))
        assert found is not None
        return found

    def test_false_slip_at_cruise_is_a_matter_of_the_tyre(self) -> None:
        """70 mph with a circumference 1.5 % off are 1.05 mph of false slip (the trade's own example)."""
        found = self.found(false_slip_pct=1.5)
        self.assertAlmostEqual(found.false_pct, 1.5, delta=max(found.false_expanded_pct, 0.05))
        self.assertAlmostEqual(found.entry_factor, 1 / 1.015, delta=0.001)
        self.assertIn("Multiply its circumference by 0.98", found.advice)
        self.assertGreater(found.dead_band_pct, found.false_pct)

    def test_slip_under_power_is_found_with_its_time(self) -> None:
        found = self.found(slip_pct_per_m_s2=4, true_noise_kmh=0.03, shown_noise_kmh=0.02, shown_step_kmh=0)
        self.assertAlmostEqual(found.false_pct, 0, delta=0.1)
        self.assertIn("The wheels match", found.advice)
        # from rest to 50 km/h in 10 s are 1.39 m/s²: 5.6 %
        self.assertGreaterEqual(len(found.events), 2)
        self.assertAlmostEqual(max(event.highest_pct for event in found.events), 5.6, delta=1.5)
        medians = [band.median_pct for band in found.bands]
        self.assertGreater(medians[-1], 3)
        self.assertLess(abs(medians[0]), 1)

    def test_a_channel_that_lags_is_no_slip(self) -> None:
        rows = rows_of(Drive(driven=True, speeds_kmh=(50.0, 90.0), slip_pct_per_m_s2=0, shown_late_s=0))
        late = SpeedRecord(rows.time_s + 2.5, rows.driven_kmh)
        found = slip_of(SpeedRecord(rows.time_s, rows.true_kmh), late)
        assert found is not None
        self.assertAlmostEqual(found.lag_s, 2.5, delta=0.1)
        self.assertLess(max((event.highest_pct for event in found.events), default=0), 3)

    def test_its_uncertainty_holds_the_truth(self) -> None:
        held, random = 0, np.random.default_rng(6)
        for seed in range(100):
            false = (seed % 9 - 4) / 2
            driving = float(random.normal(0, 0.1))  # points: air drag on the driven wheel, bends
            found = self.found(false_slip_pct=false + driving, seed=seed, shown_step_kmh=0)
            held += abs(found.false_pct - false) <= found.false_expanded_pct
        self.assertGreaterEqual(held, 90)

    def test_without_cruise_there_is_no_answer(self) -> None:
        t = np.arange(0, 30, 0.1)
        self.assertIsNone(slip_of(SpeedRecord(t, 3 * t), SpeedRecord(t, 3 * t)))


class Healths(TestCase):
    def found(self, **changes: object) -> Health:
        rows = rows_of(Drive(hold_s=60, **changes))  # type: ignore[arg-type]
        return health_of(SpeedRecord(rows.time_s, rows.shown_kmh))

    def test_a_clean_drive_has_no_events(self) -> None:
        for seed in range(20):
            found = self.found(seed=seed)
            self.assertEqual(found.events, (), seed)
            self.assertIn("clean", found.text)

    def test_dropouts_and_doubles_are_told_apart(self) -> None:
        found = self.found(dropouts=5, doubles=3, seed=8)
        counts = {kind.kind: kind.count for kind in found.kinds}
        self.assertGreaterEqual(counts["dropout"], 4)  # two may fall together, or into standing
        self.assertGreaterEqual(counts["double"], 2)
        self.assertEqual({kind.kind: kind.stage for kind in found.kinds}["double"], "signal")
        self.assertNotIn("spike", counts)

    def test_halves_spikes_and_stuck_values(self) -> None:
        random = np.random.default_rng(1)
        t = np.arange(0, 120, 0.2)
        v = 60 + random.normal(0, 0.2, t.size)
        for place, kind, factor in ((100, "half", 0.5), (200, "spike", 1.45), (300, "dropout", 0.0)):
            with self.subTest(kind):
                broken = v.copy()
                broken[place : place + 2] *= factor
                events = health_of(SpeedRecord(t, broken)).events
                self.assertEqual([(event.kind, round(event.from_s, 1)) for event in events], [(kind, place / 5)])
        stuck = v.copy()
        stuck[300:360] = stuck[300]
        self.assertEqual([event.kind for event in health_of(SpeedRecord(t, stuck)).events], ["stuck"])

    def test_hard_braking_and_a_stop_are_no_events(self) -> None:
        t = np.arange(0, 60, 0.1)
        v = np.interp(t, [0, 10, 30, 33, 50, 60], [0, 90, 90, 0, 0, 40])  # 8.3 m/s² down
        self.assertEqual(health_of(SpeedRecord(t, v + np.random.default_rng(2).normal(0, 0.1, t.size))).events, ())


class Bands(TestCase):
    """What is missing at some speeds, and a ripple once per turn."""

    def setUp(self) -> None:
        random = np.random.default_rng(6)
        self.time_s = np.arange(0.0, 240.0, 0.1)
        self.true = np.interp(self.time_s, [0, 40, 80, 160, 200, 240], [0, 40, 120, 120, 20, 0])
        self.noise = random.normal(0, 0.1, self.time_s.size)

    def found(self, shown: np.ndarray, reference: bool = True) -> Health:
        true = SpeedRecord(self.time_s, self.true) if reference else None
        return health_of(SpeedRecord(self.time_s, shown), true)

    def test_nothing_below_a_speed(self) -> None:
        shown = np.where(self.true < 15, 0.0, self.true + self.noise)
        kind = next(kind for kind in self.found(shown).kinds if kind.kind == "low")
        self.assertAlmostEqual(kind.to_kmh, 15, delta=2)
        self.assertEqual(kind.stage, "signal")

    def test_it_falls_behind_at_the_top(self) -> None:
        shown = np.minimum(self.true, 100) + self.noise
        kind = next(kind for kind in self.found(shown).kinds if kind.kind == "high")
        self.assertAlmostEqual(kind.from_kmh, 105, delta=3)  # from here on it is 5 % behind

    def test_a_sound_one_and_one_that_is_wrong_all_over_have_neither(self) -> None:
        for factor in (1.0, 0.9):
            found = self.found(factor * self.true + self.noise)
            self.assertEqual([kind.kind for kind in found.kinds if kind.kind in ("low", "high", "ripple")], [])

    def test_a_ripple_once_per_turn_gives_the_wheel(self) -> None:
        """A wheel of 1.95 m round whose ring makes 0.8 % once per turn, at any speed."""
        for kmh in (12.0, 20.0):
            self.true = np.full(self.time_s.size, kmh) + 3 * np.sin(self.time_s / 20)
            way = np.cumsum(self.true / 3.6 * 0.1)
            shown = self.true * (1 + 0.008 * np.sin(2 * np.pi * way / 1.95)) + self.noise
            kind = next(kind for kind in self.found(shown, reference=False).kinds if kind.kind == "ripple")
            said_of_it = said(kind.text)
            self.assertIn("1.95 m", said_of_it)
            self.assertRegex(said_of_it, r"± 0\.[678] %")
