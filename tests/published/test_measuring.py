"""Methods, combination and corrections against books, standards, `scipy` and `uncertainties`."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np
from scipy import optimize, stats
from uncertainties import ufloat

from speedchain.wheel import Wheel, compare, evaluate_wheel
from speedchain.wheel.combination import weighted_mean
from speedchain.wheel.corrections import wear_mm
from speedchain.wheel.entries import SpeedDerived
from speedchain.wheel.methods import from_axle_height, from_speed_derived
from speedchain.wheel.repeats import mean_uncertainty


class Jazar(TestCase):
    """Jazar, Vehicle Dynamics: Theory and Application, "tireprint and effective radius"; relations from memory."""

    def test_effective_radius_from_the_tireprint(self) -> None:
        """v = R_eff·ω where R_eff = R·sin φ/φ and R_loaded = R·cos φ, φ half the contact angle; for small deflection
        R − (R − R_loaded)/3. The closed form with the sine is the independent statement here."""
        for radius, loaded in ((320.0, 300.0), (316.0, 304.0), (340.0, 333.0)):
            phi = math.acos(loaded / radius)
            exact = radius * math.sin(phi) / phi
            entry = {"axle_height_mm": loaded, "unloaded_diameter_mm": 2 * radius}
            ours = from_axle_height(Wheel(method="axle_height", axle_height=entry)).circumference_mm / (2 * math.pi)
            self.assertAlmostEqual(ours / exact, 1, delta=0.0005)
            self.assertTrue(loaded < ours < radius)

    def test_twice_pi_axle_height_is_too_small(self) -> None:
        """For 205/55R16 with an axle 304 mm high; the size, 631.9 mm across, is the trade's own check value."""
        entry = {"axle_height_mm": 304}
        wheel = Wheel(method="axle_height", axle_height=entry, marking={"text": "205/55R16"})
        ours = from_axle_height(wheel).circumference_mm
        self.assertTrue(2 * math.pi * 304 < ours < math.pi * 631.9)


class Combination(TestCase):
    """Inverse-variance means, JCGM 100:2008, done again by general-purpose libraries."""

    values = (1555.0, 1549.0, 1561.5)
    us = (6.0, 3.0, 4.5)

    def test_against_scipy_least_squares(self) -> None:
        """Weighted least squares of a constant: `scipy.optimize.curve_fit` with absolute sigmas."""

        def constant(x: np.ndarray, c: float) -> np.ndarray:
            return np.full_like(x, c)

        fitted, covariance = optimize.curve_fit(
            constant, np.arange(3.0), self.values, sigma=self.us, absolute_sigma=True
        )
        mean = weighted_mean(self.values, self.us)
        self.assertAlmostEqual(mean.value_mm, fitted[0], places=6)
        widened = max(1.0, mean.birge_ratio)
        self.assertAlmostEqual(mean.u_mm / widened, math.sqrt(covariance[0, 0]), places=6)

    def test_against_uncertainties(self) -> None:
        """Propagation through the weighted mean by the `uncertainties` package."""
        x = [ufloat(value, u) for value, u in zip(self.values, self.us, strict=True)]
        weights = [1 / u**2 for u in self.us]
        result = sum(w * one for w, one in zip(weights, x, strict=True)) / sum(weights)
        mean = weighted_mean(self.values, self.us)
        self.assertAlmostEqual(result.nominal_value, mean.value_mm, places=9)
        self.assertAlmostEqual(result.std_dev * max(1.0, mean.birge_ratio), mean.u_mm, places=9)

    def test_chi_square_is_chi_square(self) -> None:
        """Drawn from what they claim, χ² of n values follows `scipy.stats.chi2` with n − 1 degrees of freedom."""
        rng = np.random.default_rng(3)
        draws = rng.normal(2000, 5, (4000, 4))
        found = [weighted_mean(tuple(row), (5.0,) * 4).chi_square for row in draws]
        self.assertGreater(stats.kstest(found, stats.chi2(3).cdf).pvalue, 0.001)

    def test_disagreement_is_called_at_twice_the_joint_uncertainty(self) -> None:
        """Two honest methods differ by more than twice their joint u in 4.6 % of cases (normal law, `scipy.stats`)."""
        share = 2 * stats.norm.sf(2)
        rng = np.random.default_rng(5)
        called = 0
        for _ in range(1500):
            a, b = rng.normal(2000, 20), rng.normal(2000, 6)
            wheel = Wheel(
                method="entered",
                entered={"circumference_mm": a, "relative_uncertainty_pct": 2000 / a},
                chart={"label": "row", "circumference_mm": b, "relative_uncertainty_pct": 600 / b},
            )
            called += not compare(wheel, "bicycle").agree
        self.assertAlmostEqual(called / 1500, share, delta=4 * math.sqrt(share / 1500))


class Repeats(TestCase):
    def test_mean_of_repeats_against_scipy(self) -> None:
        """Standard error of the mean by `scipy.stats.sem` (JCGM 100:2008, 4.2.3), where scatter rules."""
        readings = (2070.0, 2074.0, 2067.0, 2071.0)
        self.assertAlmostEqual(mean_uncertainty(readings, 0.0, 0.1), float(stats.sem(readings)))

    def test_what_all_share_does_not_average_out(self) -> None:
        """JCGM 101: readings with a common error and their own; 20 000 seeded experiments of five readings each."""
        rng = np.random.default_rng(11)
        means = (rng.normal(0, 2, (20_000, 1)) + rng.normal(0, 3, (20_000, 5))).mean(axis=1)
        result = mean_uncertainty((0.0,) * 5, 2.0, 3.0)
        self.assertAlmostEqual(float(means.std()) / result, 1, delta=0.02)


class TradeValues(TestCase):
    """All common practice."""

    def test_wear_of_a_car_tyre(self) -> None:
        """8 mm → 1.6 mm is −40 mm, −2 % on a 2 m tyre."""
        self.assertAlmostEqual(wear_mm(6.4), -40, delta=0.3)
        wheel = Wheel(
            method="entered",
            entered={"circumference_mm": 2000},
            measured={"tread_depth_mm": 8},
            corrections={"tread_now_mm": 1.6},
        )
        self.assertAlmostEqual(100 * (evaluate_wheel(wheel, vehicle_kind="car").stage.value / 2000 - 1), -2, delta=0.02)

    def test_shown_against_true(self) -> None:
        """C_new = C_set × true/shown: set 1985, 97 by satellite at 100 shown → 1925."""
        entry = SpeedDerived(set_circumference_mm=1985, true_kmh=97, shown_kmh=100)
        self.assertAlmostEqual(from_speed_derived(entry).circumference_mm, 1925, delta=0.5)

    def test_a_tyre_of_another_height(self) -> None:
        """200/55-17 against 190/55-17: 651.8 and 640.8 mm, +1.7 %."""
        wide, narrow = (
            evaluate_wheel(Wheel(method="marking", marking={"text": text}), vehicle_kind="motorcycle").stage.value
            for text in ("200/55-17", "190/55-17")
        )
        self.assertAlmostEqual(wide / math.pi, 651.8, places=1)
        self.assertAlmostEqual(narrow / math.pi, 640.8, places=1)
        self.assertAlmostEqual(100 * (wide / narrow - 1), 1.7, places=1)
