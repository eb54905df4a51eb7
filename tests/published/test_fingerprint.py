"""Fingerprints of simulated rings that the core did not make: count, and the tooth that is out of place."""

from __future__ import annotations

import contextlib
from unittest import TestCase

import numpy as np

from speedchain.fields import InputError
from speedchain.runs import fingerprint
from tests.simulated.rings import made, tally
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


class Captures(TestCase):
    """Captures as they come: short ones, wobbling and accelerating ones, with lost, extra and double edges."""

    def test_what_is_called_sure_is_right(self) -> None:
        """Of all at most 0.2 % sure and wrong; of the sure 98 % right; 90 % of the clean ones of three turns are sure;
        of those that are sure and have no bent tooth at most 1 % are said to have one."""
        found = tally(sized(6000, 400), seed=27)
        self.assertLessEqual(found.wrong, max(0.002 * found.captures, 1))
        self.assertGreaterEqual(found.right, 0.98 * found.sure)
        self.assertGreaterEqual(found.clean_sure, 0.9 * found.clean)
        self.assertGreater(found.clean, 0.1 * found.captures)
        self.assertLessEqual(found.flawed, max(0.01 * found.right, 2))

    def ring(self, count: int, turns: float, extra_at: int | None = None) -> np.ndarray:
        random = np.random.default_rng(3)
        place = (np.arange(count) + random.normal(0, 0.01, count)) / count
        edges = (place[None, :] + np.arange(int(turns) + 1)[:, None]).ravel()
        edges = edges[edges < turns] + random.normal(0, 1e-5, int((edges < turns).sum()))
        if extra_at is not None:
            edges = np.append(edges, (edges[extra_at] + edges[extra_at + 1]) / 2)
        return np.sort(edges)

    def test_one_extra_edge_in_ten_turns_doubles_nothing(self) -> None:
        found = fingerprint(self.ring(36, 10, extra_at=170))
        self.assertEqual((found.pulses_per_turn, found.sure, found.slips), (36, True, True))
        self.assertEqual([tooth for tooth in found.flaws if tooth.flaw == "missing"], [])

    def test_half_a_turn_is_never_sure(self) -> None:
        for turns in (0.5, 1.0, 1.5, 2.0):
            with contextlib.suppress(InputError):
                self.assertFalse(fingerprint(self.ring(40, turns)).sure, turns)


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
        found = fingerprint(edges, count=count)  # a wave alone tells no teeth apart
        self.assertEqual((found.pulses_per_turn, found.flaws), (48, ()))
        self.assertAlmostEqual(found.runout_deg, np.degrees(e_by_r), delta=0.03)
        greatest = (1.0 + np.pi / 2) / (2 * np.pi) * count + 1  # sin is 1 a quarter turn after φ0
        self.assertAlmostEqual(found.runout_at, greatest, delta=1.5)
