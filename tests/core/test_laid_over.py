"""Two recordings laid over each other: drives whose shift is known."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from speedchain.fields import InputError
from speedchain.runs import AlignedBy, SpeedRecord, laid_over

T = np.arange(0.0, 300.0, 0.1)


def drive(begins_s: float, waits_s: float, seed: int = 1, hz: float = 10.0) -> SpeedRecord:
    """Standing for a while, then a drive of a fixed shape."""
    time_s = np.arange(0.0, 300.0, 1 / hz)
    moved = np.maximum(time_s - waits_s, 0)
    kmh = np.minimum(12 * moved, 50 + 25 * np.sin(moved / 11) + 8 * np.sin(moved / 3.7))
    return SpeedRecord(begins_s + time_s, kmh + np.random.default_rng(seed).normal(0, 0.2, time_s.size))


class LaidOver(TestCase):
    def test_each_way_of_aligning_finds_the_shift_that_was_put_in(self) -> None:
        """The second one waits 7 s, the first 19 s: to be shifted by 12 s. By the clock it began 40 s later."""
        one, two = drive(1000.0, 19.0), drive(1040.0, 7.0, seed=2, hz=4.0)
        wanted: dict[AlignedBy, float] = {"begin": 0.0, "clock": 40.0, "launch": 12.0, "speed": 12.0}
        for by, shift_s in wanted.items():
            with self.subTest(by):
                found = laid_over(one, two, by)
                self.assertAlmostEqual(found.shift_s, shift_s, delta=0.25)
        self.assertLess(laid_over(one, two, "speed").differ_kmh or 99, 1.0)
        self.assertGreater(laid_over(one, two, "begin").differ_kmh or 0, 5.0)

    def test_gaps_and_a_part_of_the_drive(self) -> None:
        one, two = drive(0.0, 19.0), drive(0.0, 19.0, seed=3)
        cut = slice(1000, 2400)
        part = SpeedRecord(two.time_s[cut].copy(), two.kmh[cut].copy())
        part.kmh[300:330] = np.nan
        self.assertAlmostEqual(laid_over(one, part, "speed").shift_s, 100.0, delta=0.25)

    def test_what_cannot_be_is_refused_in_words(self) -> None:
        one = drive(0.0, 19.0)
        still = SpeedRecord(T, np.zeros(T.size))
        never = SpeedRecord(T, np.full(T.size, np.nan))
        short = SpeedRecord(T[:50], np.full(50, 40.0))
        cases: tuple[tuple[SpeedRecord, AlignedBy, str], ...] = (
            (still, "launch", "never reaches"),
            (never, "begin", "no speed"),
            (short, "speed", "shorter than"),
            (drive(1e6, 3.0), "clock", "same time"),
        )
        for other, by, words in cases:
            with self.subTest(words), self.assertRaisesRegex(InputError, words):
                laid_over(one, other, by)
