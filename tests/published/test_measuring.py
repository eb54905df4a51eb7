"""Methods, combination and corrections against books, standards, `scipy` and `uncertainties`."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np
from scipy import optimize, stats
from uncertainties import ufloat

from speedchain.uncertainty import Mean, UncertaintyInput, least_squares_mean, student_factor
from speedchain.wheel import Wheel, compare, evaluate_wheel
from speedchain.wheel.corrections import wear_mm
from speedchain.wheel.entries import RollOut, SpeedDerived
from speedchain.wheel.repeats import repeated
from speedchain.wheel.run import from_roll_out, from_speed_derived
from speedchain.wheel.taped import from_axle_height


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


def independent_mean(values: tuple[float, ...], us: tuple[float, ...]) -> Mean:
    budgets = [
        (UncertaintyInput(source=str(place), u_pct=100 * u / value),)
        for place, (value, u) in enumerate(zip(values, us, strict=True))
    ]
    return least_squares_mean(values, tuple(budgets))


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
        mean = independent_mean(self.values, self.us)
        self.assertAlmostEqual(mean.value, fitted[0], places=6)
        self.assertAlmostEqual(mean.u, math.sqrt(covariance[0, 0]), places=6)

    def test_against_uncertainties(self) -> None:
        """Propagation through the weighted mean by the `uncertainties` package."""
        x = [ufloat(value, u) for value, u in zip(self.values, self.us, strict=True)]
        weights = [1 / u**2 for u in self.us]
        result = sum(w * one for w, one in zip(weights, x, strict=True)) / sum(weights)
        mean = independent_mean(self.values, self.us)
        self.assertAlmostEqual(result.nominal_value, mean.value, places=9)
        self.assertAlmostEqual(result.std_dev, mean.u, places=9)

    def test_shared_inputs_against_the_normal_equations(self) -> None:
        """Generalised least squares: two values that share an input, solved as a joint least-squares problem of the
        circumference and of every input by `numpy.linalg.lstsq`."""
        rng = np.random.default_rng(17)
        for _ in range(200):
            truth, shared = 2000.0, rng.uniform(0.1, 1, 3) * rng.choice((-1, 1), 3)
            own = rng.uniform(0.1, 1, 3)
            values = truth + rng.normal(0, 5, 3)
            budgets = tuple(
                [
                    (UncertaintyInput(source="shared", u_pct=s), UncertaintyInput(source=f"own {n}", u_pct=o))
                    for n, (s, o) in enumerate(zip(shared, own, strict=True))
                ]
            )
            mean = least_squares_mean(tuple(values), budgets)
            s_mm, o_mm = shared / 100 * values, own / 100 * values
            # unknowns: circumference, the shared input in units of its u; rows weighted by 1/own, prior of the input
            rows = np.column_stack([1 / o_mm, s_mm / o_mm])
            system = np.vstack([rows, [0, 1]])
            solved, *_ = np.linalg.lstsq(system, np.append(values / o_mm, 0), rcond=None)
            covariance = np.linalg.inv(system.T @ system)
            if not mean.left_out and mean.consistent:
                self.assertAlmostEqual(mean.value, float(solved[0]), places=6)
                self.assertAlmostEqual(mean.u, math.sqrt(covariance[0, 0]), places=6)

    def test_chi_square_is_chi_square(self) -> None:
        """Drawn from what they claim, χ² of n values follows `scipy.stats.chi2` with n − 1 degrees of freedom."""
        rng = np.random.default_rng(3)
        draws = rng.normal(2000, 5, (4000, 4))
        found = [independent_mean(tuple(row), (5.0,) * 4).chi_square for row in draws]
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
        part = repeated(readings, 0.1, source="runs")
        self.assertAlmostEqual(part.u_pct / 100 * 2070.5, float(stats.sem(readings)))
        t = stats.t(3).ppf((1 + stats.norm.cdf(2) - stats.norm.cdf(-2)) / 2)
        self.assertAlmostEqual(part.coverage_factor, float(t))

    def test_table_g_2_of_the_gum(self) -> None:
        """JCGM 100:2008, Table G.2, column 95.45 %: ν 1, 2, 3, 4, 5, 10, 50; from memory."""
        for freedom, k in ((1, 13.97), (2, 4.53), (3, 3.31), (4, 2.87), (5, 2.65), (10, 2.28), (50, 2.05)):
            self.assertAlmostEqual(student_factor(freedom), k, delta=0.006)

    def test_what_all_share_does_not_average_out(self) -> None:
        """JCGM 101: runs with one tape and marks of their own; 20 000 seeded experiments of five runs each."""
        rng = np.random.default_rng(11)
        means = (6210 + rng.normal(0, 2, (20_000, 1)) + rng.normal(0, math.sqrt(2) * 3, (20_000, 5))).mean(axis=1)
        entry = RollOut(turns=3, distance_mm=6210, repeats_mm=(6210,) * 4, mark_mm=3)
        self.assertAlmostEqual(float(means.std()) / 6210 * 100 / from_roll_out(entry).u_pct, 1, delta=0.02)


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
