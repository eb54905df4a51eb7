"""Uncertainty budgets and the mean of dependent methods: what must hold for any of them."""

from __future__ import annotations

import itertools
import math
from unittest import TestCase

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from speedchain.uncertainty import (
    Budget,
    UncertaintyInput,
    covariance,
    expanded_pct,
    one_input,
    scaled,
    standard_pct,
    student_factor,
)
from speedchain.uncertainty.mean import covariances, least_squares_mean
from speedchain.wheel.repeats import repeated, scatter_rules

inputs = st.builds(
    UncertaintyInput,
    source=st.sampled_from(["make", "row", "tape", "deflection", "tread"]),
    u_pct=st.floats(0.05, 3) | st.floats(-3, -0.05),
    coverage_factor=st.sampled_from([2.0, 2.87, 13.97]),
)
budgets: st.SearchStrategy[Budget] = st.lists(inputs, min_size=1, max_size=4, unique_by=lambda item: item.source).map(
    tuple
)


def own(*u_pct: float) -> tuple[Budget, ...]:
    """Independent budgets."""
    return tuple([one_input(f"own {place}", u) for place, u in enumerate(u_pct)])


class Budgets(TestCase):
    @given(budgets)
    def test_expanded_is_never_less_than_twice_the_standard_uncertainty(self, budget: Budget) -> None:
        self.assertGreaterEqual(expanded_pct(budget), 2 * standard_pct(budget) * (1 - 1e-12))
        if all(part.coverage_factor == 2 for part in budget):
            self.assertAlmostEqual(expanded_pct(budget), 2 * standard_pct(budget))

    @given(budgets, st.floats(0.1, 5))
    def test_scaling_scales_both(self, budget: Budget, factor: float) -> None:
        self.assertAlmostEqual(standard_pct(scaled(budget, factor)), factor * standard_pct(budget))
        self.assertAlmostEqual(expanded_pct(scaled(budget, factor)), factor * expanded_pct(budget))

    @given(budgets, budgets)
    def test_covariance_is_a_covariance(self, first: Budget, second: Budget) -> None:
        """Symmetric, and within the limits of Cauchy and Schwarz; with itself it is (U/2)²."""
        self.assertAlmostEqual(covariance(first, second), covariance(second, first))
        bound = math.sqrt(covariance(first, first) * covariance(second, second))
        self.assertLessEqual(abs(covariance(first, second)), bound * (1 + 1e-9))
        self.assertAlmostEqual(covariance(first, first), (expanded_pct(first) / 2) ** 2)

    @given(st.lists(budgets, min_size=1, max_size=5))
    def test_a_matrix_of_them_has_no_negative_variance(self, listed: list[Budget]) -> None:
        matrix = covariances(np.full(len(listed), 2000.0), tuple(listed))
        self.assertGreaterEqual(float(np.linalg.eigvalsh(matrix).min()), -1e-6 * float(np.trace(matrix)))

    def test_more_readings_need_a_smaller_factor(self) -> None:
        factors = [student_factor(freedom) for freedom in (1, 2, 3, 5, 10, 100, 1000)]
        self.assertEqual(factors, sorted(factors, reverse=True))
        self.assertAlmostEqual(student_factor(10_000), 2.0, places=3)


class Means(TestCase):
    values = st.lists(st.tuples(st.floats(1990, 2010), st.floats(0.1, 2)), min_size=2, max_size=5)

    @settings(deadline=None)
    @given(values)
    def test_the_order_of_the_methods_does_not_matter(self, pairs: list[tuple[float, float]]) -> None:
        first = least_squares_mean(tuple([mm for mm, _ in pairs]), own(*[u for _, u in pairs]))
        for order in itertools.islice(itertools.permutations(pairs), 4):
            other = least_squares_mean(tuple([mm for mm, _ in order]), own(*[u for _, u in order]))
            self.assertAlmostEqual(first.value, other.value, places=6)
            self.assertAlmostEqual(first.expanded, other.expanded, places=6)

    @settings(deadline=None)
    @given(values)
    def test_a_copy_changes_nothing(self, pairs: list[tuple[float, float]]) -> None:
        mm, listed = tuple([value for value, _ in pairs]), own(*[u for _, u in pairs])
        once, twice = least_squares_mean(mm, listed), least_squares_mean((*mm, mm[0]), (*listed, listed[0]))
        self.assertAlmostEqual(once.value, twice.value, places=6)
        self.assertAlmostEqual(once.expanded, twice.expanded, places=6)

    @settings(deadline=None)
    @given(values)
    def test_weights_sum_to_one_and_another_method_that_agrees_never_makes_it_less_sure(
        self, pairs: list[tuple[float, float]]
    ) -> None:
        mm, listed = tuple([value for value, _ in pairs]), own(*[u for _, u in pairs])
        all_of_them, fewer = least_squares_mean(mm, listed), least_squares_mean(mm[:-1], listed[:-1])
        self.assertAlmostEqual(sum(all_of_them.weights), 1)
        assume(all_of_them.consistent and fewer.consistent and not all_of_them.left_out and not fewer.left_out)
        self.assertLessEqual(all_of_them.u, fewer.u * (1 + 1e-9))

    def test_what_all_share_stays(self) -> None:
        """Ten readings with one tape of 1 % and 1 % of their own: 1 % and 1/√10 %."""
        tape = UncertaintyInput(source="tape", u_pct=1.0)
        listed = tuple([(tape, UncertaintyInput(source=f"own {n}", u_pct=1.0)) for n in range(10)])
        mean = least_squares_mean((2000.0,) * 10, listed)
        self.assertAlmostEqual(100 * mean.u / 2000, math.hypot(1, 1 / math.sqrt(10)))

    def test_three_that_agree_outvote_one_and_two_do_not(self) -> None:
        three = least_squares_mean((2000.0, 2001.0, 1999.0, 2100.0), own(0.1, 0.1, 0.1, 0.1))
        self.assertEqual((three.left_out, three.consistent), ((3,), True))
        two = least_squares_mean((2000.0, 2001.0, 2100.0), own(0.1, 0.1, 0.1))
        self.assertEqual((two.left_out, two.consistent), ((), False))
        self.assertGreaterEqual(two.value + two.expanded, 2100)
        self.assertLessEqual(two.value - two.expanded, 2000)


class Scatter(TestCase):
    @given(st.floats(0.1, 5), st.integers(2, 8))
    def test_scatter_as_expected_or_less_keeps_k_at_2(self, expected: float, number: int) -> None:
        same = tuple([2000.0] * number)
        part = repeated(same, expected, source="runs")
        self.assertFalse(scatter_rules(same, expected))
        self.assertEqual(part.coverage_factor, 2)
        self.assertAlmostEqual(part.u_pct, 100 * expected / math.sqrt(number) / 2000)

    @given(st.floats(1, 50))
    def test_scatter_beyond_it_rules_with_its_own_factor(self, apart: float) -> None:
        readings = (2000.0 - apart, 2000.0 + apart)
        part = repeated(readings, 0.1, source="runs")
        self.assertTrue(scatter_rules(readings, 0.1))
        self.assertAlmostEqual(part.coverage_factor, student_factor(1))
        self.assertAlmostEqual(part.u_pct, 100 * apart / 2000)
