"""The estimate of the chain against a joint least-squares solution by NumPy, and its coverage by simulation."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np

from tests.simulated.chain import CASES, PER_KM, coverage_of_chain, estimate, read
from tests.sizes import sized

SIMULATIONS = sized(6000, 500)


class JointSolution(TestCase):
    def test_it_is_the_joint_least_squares_solution_of_all_factors(self) -> None:
        """Unknown ln C, ln R, ln N; rows: each factor's own value, each observation of ln N + ln R − ln C, all divided
        by their standard uncertainty; solved by `numpy.linalg.lstsq`, its covariance by `numpy.linalg.inv`."""
        random = np.random.default_rng(7)
        for _ in range(60):
            us = random.uniform(0.2, 1.0, 3)
            own = random.uniform(0.1, 0.8, random.integers(1, 4))
            truth = PER_KM * (1 + random.normal(0, 0.002))
            seen = [truth * (1 + random.normal(0, u) / 200) for u in own]
            rows = [np.eye(3)[i] / (us[i] / 100) for i in range(3)]
            rights = [0.0, 0.0, 0.0]
            for per_km, u in zip(seen, own, strict=True):
                rows.append(np.array([-1.0, 1.0, 1.0]) / (u / 100))
                rights.append(math.log(per_km / PER_KM) / (u / 100))
            matrix = np.array(rows)
            solved = np.linalg.lstsq(matrix, np.array(rights), rcond=None)[0]
            whole = np.array([-1.0, 1.0, 1.0])
            u = math.sqrt(whole @ np.linalg.inv(matrix.T @ matrix) @ whole)
            found = estimate(tuple(us), PER_KM, *[read(x, 2 * u) for x, u in zip(seen, own, strict=True)])  # type: ignore[arg-type]
            if not found.agree:
                continue
            self.assertAlmostEqual(found.pulses_per_km / PER_KM, math.exp(whole @ solved), delta=3e-5)
            self.assertAlmostEqual(found.u_pct / 100, u, delta=0.01 * u)

    def test_drives_against_satellites_share_their_scale(self) -> None:
        """Of ± 0.3 % each, u = 0.15 %, 0.1 % is the satellites' own: many of them stay at u = 0.1 %, by hand."""
        many = estimate((1.0, 0, 0), PER_KM, *[read(PER_KM, 0.3, "drive") for _ in range(40)])
        self.assertGreater(many.u_pct, 0.0995)
        alike = estimate((1.0, 0, 0), PER_KM, *[read(PER_KM, 0.3) for _ in range(40)])
        self.assertAlmostEqual(alike.u_pct, 1 / math.sqrt(40 / 0.15**2 + 1), places=4)


class Coverage(TestCase):
    """95.45 % is claimed."""

    def covered(self, name: str) -> float:
        return coverage_of_chain(CASES[name], SIMULATIONS)

    def test_all_as_stated(self) -> None:
        for name in ("one observation", "two observations", "four observations"):
            with self.subTest(name):
                self.assertTrue(0.93 <= self.covered(name) <= 0.975)

    def test_a_part_is_wrong(self) -> None:
        """A count that is a tooth out: what was observed of the whole is right all the same."""
        for name in ("one observation, the parts 8 % wrong", "four observations, the parts 8 % wrong"):
            with self.subTest(name):
                self.assertTrue(0.93 <= self.covered(name) <= 0.975)

    def test_an_observation_is_wrong(self) -> None:
        """One of four off by 5 %: the majority counts."""
        self.assertTrue(0.93 <= self.covered("four observations, one of them 5 % wrong") <= 0.975)

    def test_of_two_that_disagree_the_stated_interval_reaches_both(self) -> None:
        self.assertGreater(self.covered("two observations, one of them 5 % wrong"), 0.93)
