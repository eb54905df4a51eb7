"""Fingerprints of simulated rings that the core did not make: count, and the tooth that is out of place."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from speedchain.runs import fingerprint
from tests.simulated.rings import made
from tests.sizes import sized

CAPTURES = sized(1000, 100)


class Counts(TestCase):
    least, most, seed = 3, 60, 31

    def test_counts_are_right_and_the_bent_tooth_is_named(self) -> None:
        """At least 99.5 % of the counts, no wrong one that is called sure, 98 % of the teeth."""
        random = np.random.default_rng(self.seed)
        right = wrong = named = 0
        for _ in range(CAPTURES):
            ring = made(random, self.least, self.most)
            found = fingerprint(ring.edges_s)
            if found.sure and found.pulses_per_turn == ring.count:
                right += 1
                named += [tooth.number - 1 for tooth in found.flaws] == [ring.bent]
            elif found.sure:
                wrong += 1
        self.assertEqual(wrong, 0)
        self.assertGreaterEqual(right, 0.995 * CAPTURES)
        self.assertGreaterEqual(named, 0.98 * right)


class LargeCounts(Counts):
    least, most, seed = 61, 120, 32


class Even(TestCase):
    def test_an_even_ring_gives_no_count(self) -> None:
        """Nothing repeats once per turn: noise alone must not be read as a count."""
        random = np.random.default_rng(5)
        for _ in range(60):
            edges = np.cumsum(np.full(1500, 0.01)) + random.normal(0, 1e-4, 1500)
            self.assertFalse(fingerprint(np.sort(edges)).sure)

    def test_runout_is_the_first_order(self) -> None:
        """An eccentricity e on a radius R moves a tooth at angle φ by e/R·sin(φ − φ0): plain geometry."""
        count, e_by_r = 48, 0.02
        angle = np.arange(count) / count * 2 * np.pi
        angle = angle + e_by_r * np.sin(angle - 1.0)
        edges = ((angle / (2 * np.pi))[None, :] + np.arange(30)[:, None]).ravel() * 0.1
        found = fingerprint(edges)
        self.assertEqual((found.pulses_per_turn, found.flaws), (48, ()))
        self.assertAlmostEqual(found.runout_deg, np.degrees(e_by_r), delta=0.03)
        greatest = (1.0 + np.pi / 2) / (2 * np.pi) * count + 1  # sin is 1 a quarter turn after φ0
        self.assertAlmostEqual(found.runout_at, greatest, delta=1.5)
