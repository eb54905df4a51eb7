"""Spins, lock-ups and the tables made of them: on drives whose slip is known."""

from __future__ import annotations

import csv
import io
from unittest import TestCase

import numpy as np

from speedchain.fields import said
from speedchain.runs import (
    Channel,
    Slip,
    SpeedRecord,
    TractionWanted,
    health_of,
    slip_of,
    traction_table,
    tune_change,
)

T = np.arange(0.0, 400.0, 0.05)


def speed_at(kmh: float, at_s: float) -> np.ndarray:
    """From 20 km/h up to a speed, held from `at_s` for 20 s, and back."""
    return np.interp(T, [at_s - 20, at_s, at_s + 20, at_s + 40], [20, kmh, kmh, 20], left=20, right=20)


def driven(of: np.ndarray, spins: list[tuple[float, float, float]], false_pct: float = 1.0) -> SpeedRecord:
    """The driven wheel: at the reference's speed, false slip and a little noise, but for spins (at, for s, %)."""
    noise = np.random.default_rng(3).normal(0, 0.05, T.size)
    slip = np.full(T.size, false_pct) + noise
    for at_s, seconds, pct in spins:
        slip[(at_s <= T) & (at_s + seconds > T)] += pct
    return SpeedRecord(T, of * (1 + slip / 100))


def slip(spins: list[tuple[float, float, float]]) -> Slip:
    reference = np.maximum(speed_at(50, 60), speed_at(90, 240))
    found = slip_of(SpeedRecord(T, reference), driven(reference, spins))
    assert found is not None
    return found


class SpinsThatDecide(TestCase):
    def test_those_that_are_long_and_large_enough(self) -> None:
        """At 50 km/h for 3 s and at 90 for 3 s; a glitch of 0.1 s and 0.8 % at 20 km/h decide nothing."""
        found = slip([(65, 3, 12), (245, 3, 8), (75, 0.1, 60), (150, 2, 0.8)])
        self.assertEqual([round(event.at_kmh, -1) for event in found.spins], [50, 90])
        np.testing.assert_allclose([event.highest_pct - found.false_pct for event in found.spins], [12, 8], atol=0.3)
        small = [event for event in found.events if not event.counts]
        self.assertIn(20, [round(event.at_kmh) for event in small])

    def test_the_limit_of_low_speed_is_16_mph(self) -> None:
        for kmh, counts in ((24.0, False), (27.5, True)):
            reference = np.full(T.size, kmh)
            found = slip_of(SpeedRecord(T, reference), driven(reference, [(100, 3, 0.8)]))
            assert found is not None
            self.assertEqual([event.counts for event in found.events if event.kind == "spin"], [counts], kmh)

    def test_a_locked_wheel_is_one(self) -> None:
        """It stops for half a second while braking from 90 to 20 km/h; while cruising the same is none."""
        reference = np.interp(T, [0, 200, 210, 400], [90, 90, 20, 20])
        wheel = driven(reference, [])
        for at_s in (100.0, 203.0):
            wheel.kmh[(at_s <= T) & (at_s + 0.5 > T)] = 0
        found = slip_of(SpeedRecord(T, reference), wheel)
        assert found is not None
        (lock,) = [event for event in found.events if event.kind == "lock"]
        self.assertAlmostEqual(lock.from_s, 203.0, delta=0.3)
        self.assertLess(lock.highest_pct, -90)
        self.assertFalse(lock.counts)

    def test_a_locked_wheel_does_not_move_the_clock(self) -> None:
        """It locks for 1.5 s in a braking of 8 s, in each of four: no spin is found, and no channel is behind."""
        in_run = T % 100
        reference = np.interp(in_run, [0, 30, 62, 70, 100], [0, 100, 100, 20, 0])
        wheel = driven(reference, [])
        for at_s in (64.0, 164.0, 264.0, 364.0):
            wheel.kmh[(at_s <= T) & (at_s + 1.5 > T)] = 0
        found = slip_of(SpeedRecord(T, reference), wheel)
        assert found is not None
        self.assertAlmostEqual(found.lag_s, 0, delta=0.05)
        self.assertEqual([event.kind for event in found.events], ["lock"] * 4)


class Tables(TestCase):
    FOUND = slip([(65, 3, 12), (245, 3, 8)])

    def test_per_cent_of_torque_over_per_cent_of_spin(self) -> None:
        table = traction_table(self.FOUND, TractionWanted(most=40, columns=5, rows=2, least_kmh=15))
        starts = 1.2 * 0.5  # the threshold is less than what is worth a step
        self.assertAlmostEqual(table.spins[0], starts)
        self.assertAlmostEqual(table.spins[-1], 12, delta=0.3)
        np.testing.assert_allclose(np.diff(table.spins), (table.spins[-1] - starts) / 4)
        # the row of low speeds ends at 12 %, that of high speeds at 8 % already
        self.assertEqual(table.cells[0], (0.0, 10.0, 20.0, 30.0, 40.0))
        self.assertEqual((table.cells[1][0], table.cells[1][-1]), (0.0, 40.0))
        self.assertGreater(table.cells[1][2], 25)
        self.assertEqual(table.speeds[0], 15)
        self.assertAlmostEqual(table.speeds[-1], 99, delta=1)
        self.assertAlmostEqual(table.hand_over_kmh or 0, 70, delta=1)
        self.assertIn("Spins that decide: 2", said(table.advice))

    def test_degrees_over_spin_in_mph(self) -> None:
        """3.2 mph of spin at 32 mph are 10 %: as far into the row as 10 % is."""
        table = traction_table(
            self.FOUND,
            TractionWanted(action="retard", most=12, spin_in="mph", speed_in="mph", columns=8, rows=5, least_kmh=10),
        )
        self.assertAlmostEqual(table.speeds[0], 10 / 1.609344)
        for speed, cells in zip(table.speeds, table.cells, strict=True):
            for spin, cell in zip(table.spins, cells, strict=True):
                at_pct = 100 * spin / speed
                self.assertEqual(cell % 0.5, 0)
                if at_pct < 0.6:
                    self.assertEqual(cell, 0)
                if at_pct > 12.5:
                    self.assertEqual(cell, 12)

    def test_as_csv_it_is_read_again_by_the_standard_library(self) -> None:
        table = traction_table(self.FOUND, TractionWanted(action="cut", spin_in="km/h", rows=3, columns=4))
        head, *rows = csv.reader(io.StringIO(table.csv))
        self.assertEqual(head[0], "front speed, km/h \\ spin, km/h -> cut, %")
        np.testing.assert_allclose([float(cell) for cell in head[1:]], table.spins, atol=0.006)
        np.testing.assert_allclose([[float(cell) for cell in row[1:]] for row in rows], table.cells)
        np.testing.assert_allclose([float(row[0]) for row in rows], table.speeds, atol=0.06)

    def test_without_a_spin_it_asks_for_launches(self) -> None:
        table = traction_table(slip([]), TractionWanted())
        self.assertEqual((table.decided, table.hand_over_kmh), (0, None))
        self.assertIn("record hard launches", said(table.advice))


class Tunes(TestCase):
    def test_pairs_by_speed_with_what_has_no_partner(self) -> None:
        before, after = slip([(65, 3, 12), (245, 3, 8)]), slip([(66, 2, 6)])
        found = tune_change(before, after)
        (pair,) = found.pairs
        self.assertAlmostEqual(pair.at_kmh, 50, delta=1)
        np.testing.assert_allclose((pair.before_pct, pair.after_pct), (12, 6), atol=0.3)
        self.assertEqual((found.before_alone, found.after_alone), (1, 0))
        self.assertIn("can be chance", said(found.text))

    def test_nothing_to_compare(self) -> None:
        found = tune_change(slip([(65, 3, 12)]), slip([]))
        self.assertEqual((found.pairs, found.chance), ((), None))
        self.assertIn("Spins before: 1, after: 0", said(found.text))


class WhatElseWasRecorded(TestCase):
    """A display that drops out: with the supply, with vibration, or with nothing."""

    AT = np.arange(20.0, 380.0, 30.0)

    def signal(self) -> SpeedRecord:
        kmh = 60 + 2 * np.sin(T / 7)
        for at_s in self.AT:
            kmh[(at_s <= T) & (at_s + 0.4 > T)] = 0
        return SpeedRecord(T, kmh)

    def channel(self, name: str, unit: str, usual: float, then: float) -> Channel:
        values = np.random.default_rng(1).normal(usual, 0.05, T.size)
        for at_s in self.AT:
            values[(at_s - 1 <= T) & (at_s + 1.4 > T)] += then - usual
        return Channel(name=name, quantity="other", unit=unit, time_s=T, values=values)

    def test_the_supply_that_drops_is_named_and_one_that_does_not_is_not(self) -> None:
        found = health_of(
            self.signal(), None, [self.channel("Battery", "V", 13.8, 11.2), self.channel("Oil", "bar", 4.0, 4.0)]
        )
        (one,) = found.beside
        self.assertEqual((one.channel, one.low, one.together, one.events), ("Battery", True, 12, 12))
        self.assertIn("supply drops", said(one.advice))

    def test_vibration(self) -> None:
        (one,) = health_of(self.signal(), None, [self.channel("Vibration", "g", 0.3, 3.0)]).beside
        self.assertEqual((one.low, one.together), (False, 12))
        self.assertIn("shakes", said(one.advice))

    def test_noise_alone_is_rarely_named(self) -> None:
        """200 channels that have nothing to do with it, and wander: one in a thousand drives of 10 may name one."""
        rng = np.random.default_rng(5)
        named = 0
        for _ in range(20):
            others = [
                Channel(name=f"n{i}", quantity="other", unit="", time_s=T, values=rng.normal(size=T.size).cumsum())
                for i in range(10)
            ]
            named += len(health_of(self.signal(), None, others).beside)
        self.assertLessEqual(named, 1)

    def test_a_gap_in_the_recording_is_an_event_and_no_fault(self) -> None:
        kmh = 60 + 2 * np.sin(T / 7)
        kmh[(T > 100) & (T < 104)] = np.nan
        found = health_of(SpeedRecord(T, kmh))
        self.assertEqual(
            [(event.kind, round(event.from_s), round(event.to_s)) for event in found.events], [("gap", 100, 104)]
        )
        self.assertEqual(found.kinds, ())

    def test_the_share_of_pulses_that_is_missing(self) -> None:
        """Twelve dropouts of 0.4 s in 400 s: 1.2 %."""
        found = health_of(self.signal())
        self.assertAlmostEqual(found.missing_pct, 1.2, delta=0.1)
        self.assertEqual(found.doubled_pct, 0)
        self.assertIn("1.2 % are missing", said(found.counted))
