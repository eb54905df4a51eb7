"""Recorded drives against what others compute: SciPy's ODRPACK, closed forms, and coverage by simulation."""

from __future__ import annotations

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np
from scipy import odr

from speedchain.runs import Slip, SpeedRecord, slip_of, speed_check, tune_change
from speedchain.runs.align import alike_points, lag_between
from speedchain.runs.regression import line_through
from speedchain.runs.slip import SlipEvent
from tests.sizes import sized

COVERAGE_DRIVES = sized(1000, 80)


class ErrorsInBothVariables(TestCase):
    def test_against_odrpack(self) -> None:
        """scipy.odr (ODRPACK, P. T. Boggs et al.), an independent program for the same least squares."""
        random = np.random.default_rng(11)
        for _ in range(20):
            x = random.uniform(10, 120, 14)
            u_x, u_y = random.uniform(0.1, 0.8, 14), random.uniform(0.1, 1.2, 14)
            true, shown = x + random.normal(0, u_x), 1.03 * x + 1.5 + random.normal(0, u_y)
            data = odr.RealData(true, shown, sx=u_x, sy=u_y)
            both = odr.ODR(data, odr.Model(lambda b, x: b[0] + b[1] * x), beta0=[0.0, 1.0], sstol=1e-14).run()
            line = line_through(true, shown, u_x, u_y, through_zero=False, robust=False)
            np.testing.assert_allclose([line.offset, line.ratio], both.beta, rtol=2e-4)
            np.testing.assert_allclose([line.u_offset, line.u_ratio], np.sqrt(np.diag(both.cov_beta)), rtol=2e-3)
            self.assertAlmostEqual(line.chi2, both.sum_square, delta=1e-6 * line.chi2)
            one = odr.ODR(data, odr.Model(lambda b, x: b[0] * x), beta0=[1.0], sstol=1e-14).run()
            zero = line_through(true, shown, u_x, u_y, through_zero=True, robust=False)
            self.assertAlmostEqual(zero.ratio, float(one.beta[0]), delta=1e-6)

    def test_a_case_worked_by_hand(self) -> None:
        """Deming's line through zero with equal uncertainties: r = b + √(b² + 1), b = (Σy² − Σx²)/(2Σxy)."""
        x, y = np.array([1.0, 2.0, 3.0]), np.array([1.1, 1.9, 3.2])
        b = (float(y @ y) - float(x @ x)) / (2 * float(x @ y))
        line = line_through(x, y, np.ones(3), np.ones(3), through_zero=True, robust=False)
        self.assertAlmostEqual(line.ratio, b + math.sqrt(b * b + 1), places=9)

    def test_a_wild_pair_hardly_moves_the_robust_line(self) -> None:
        x = np.linspace(20, 100, 20)
        random = np.random.default_rng(1)
        y = 1.02 * x + random.normal(0, 0.2, 20)
        y[7] *= 0.5
        u = np.full(20, 0.15)
        plain = line_through(x, y, u, u, through_zero=True, robust=False).ratio
        robust = line_through(x, y, u, u, through_zero=True).ratio
        self.assertGreater(abs(plain - 1.02), 0.01)
        self.assertLess(abs(robust - 1.02), 0.002)


class Clocks(TestCase):
    def test_a_known_lag_is_found_within_its_uncertainty(self) -> None:
        random = np.random.default_rng(4)
        inside = 0
        for _ in range(40):
            lag = random.uniform(-5, 5)
            time_s = np.arange(0, 300, 0.2)
            corners = np.arange(0, 310, 15)
            speeds = random.uniform(20, 100, corners.size)
            true = np.interp(time_s, corners, speeds)
            shown = np.interp(time_s - lag, corners, speeds) + random.normal(0, 0.3, time_s.size)
            found = lag_between(SpeedRecord(time_s, true), SpeedRecord(time_s, shown))
            self.assertTrue(found.found)
            self.assertAlmostEqual(found.lag_s, lag, delta=0.05)
            inside += abs(found.lag_s - lag) < 4 * found.u_s
        self.assertGreaterEqual(inside, 36)

    def test_records_that_have_nothing_in_common_give_no_lag(self) -> None:
        random = np.random.default_rng(5)
        time_s = np.arange(0, 200, 0.5)
        walk = [50 + np.cumsum(random.normal(0, 0.5, time_s.size)) for _ in range(2)]
        self.assertFalse(lag_between(*(SpeedRecord(time_s, one) for one in walk)).found)

    def test_alike_points_against_the_variance_of_means(self) -> None:
        """Of a first-order process the mean of n scatters (1 + ρ)/(1 − ρ) times as much as of independent samples."""
        random = np.random.default_rng(6)
        for rho in (0.0, 0.5, 0.8):
            runs = np.zeros((3000, 800))
            noise = random.normal(size=runs.shape)
            for at in range(1, runs.shape[1]):
                runs[:, at] = rho * runs[:, at - 1] + noise[:, at]
            runs = runs[:, 200:]
            measured = runs.mean(axis=1).var() * runs.shape[1] / runs.var()
            stated = np.mean([alike_points(run) for run in runs])
            self.assertAlmostEqual(stated / measured, 1, delta=0.2)


class Coverage(TestCase):
    def test_the_stated_uncertainty_covers_the_truth(self) -> None:
        """93 % and more of simulated drives hold the truth within ±, with correlated noise, parts that differ,
        offsets."""
        for kind in ("plain", "parts differ", "slow noise", "offset"):
            random = np.random.default_rng(21)
            covered = 0
            for _ in range(COVERAGE_DRIVES):
                covered += self.holds(random, kind)
            with self.subTest(kind):
                self.assertGreaterEqual(covered / COVERAGE_DRIVES, 0.93)

    @staticmethod
    def holds(random: np.random.Generator, kind: str) -> bool:
        rho, scatter = (0.9, 0.1) if kind == "slow noise" else (0.7, 0.2)
        time_s = np.arange(0.0, 900.0)
        corners, speeds, factors = [0.0, 20.0], [0.0, 50.0], [1.0, 1.0]
        while corners[-1] < 800:
            speed = random.uniform(40, 100)
            factor = 1 + random.normal(0, 0.003) if kind == "parts differ" else 1.0
            corners += [corners[-1] + 15, corners[-1] + 15 + random.uniform(50, 100)]
            speeds += [speed, speed]
            factors += [factor, factor]
        really = np.interp(time_s, corners, speeds)
        noise = np.zeros(time_s.size)
        white = random.normal(0, scatter, time_s.size)
        for at in range(1, time_s.size):
            noise[at] = rho * noise[at - 1] + white[at]
        shown_s = np.arange(0.0, 900.0, 0.25)
        offset = 1.0 if kind == "offset" else 0.0
        at = np.interp(shown_s - 0.8, corners, speeds) * np.interp(shown_s - 0.8, corners, factors)
        shown = np.round((offset + 1.017 * at + random.normal(0, 0.15, shown_s.size)) / 0.1) * 0.1
        found = speed_check(
            SpeedRecord(time_s, really + noise), SpeedRecord(shown_s, shown), source_u_pct=0, display_step_kmh=0.1
        )
        assert found is not None
        return bool(abs(found.error_pct - 100 * (0.017 + offset / found.at_kmh)) <= found.expanded_pct)


class SignTest(TestCase):
    """S. Siegel, Nonparametric Statistics for the Behavioral Sciences, 1956, table D (one-tailed), from memory: N = 8,
    x = 0: .004; N = 10, x = 1: .011; N = 12, x = 2: .019."""

    def test_the_chance_of_paired_spins(self) -> None:
        for pairs, worse, one_tailed in ((8, 0, 0.004), (10, 1, 0.011), (12, 2, 0.019)):
            with self.subTest(pairs=pairs):
                events = [
                    SlipEvent(from_s=0, to_s=1, highest_pct=10, at_kmh=0, from_kmh=40 + 20 * place)
                    for place in range(pairs)
                ]
                after = [replace(event, highest_pct=12 if place < worse else 5) for place, event in enumerate(events)]
                found = tune_change(self.slip(events), self.slip(after))
                self.assertEqual(len(found.pairs), pairs)
                self.assertAlmostEqual((found.chance or 0) / 2, one_tailed, delta=0.0006)

    def slip(self, events: list[SlipEvent]) -> Slip:
        still = np.arange(0.0, 100.0, 0.1)
        found = slip_of(SpeedRecord(still, np.full(1000, 50.0)), SpeedRecord(still, np.full(1000, 50.0)))
        assert found is not None
        return replace(found, events=tuple(events))
