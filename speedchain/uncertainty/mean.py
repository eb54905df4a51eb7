"""Several values of one quantity: their least-squares mean with what they share, and what to do when they disagree."""

from __future__ import annotations

import math
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from speedchain.results import result
from speedchain.uncertainty.budget import Budget, covariance
from speedchain.uncertainty.propagation import COVERAGE_FACTOR

CONSISTENT = 0.05
"""Probability of a χ² as large or larger, below which values are not consistent. Cox, Metrologia 39 (2002) 589."""
A_MAJORITY = 3
"""Values that must agree before another one is left out: two may agree by chance. Common practice."""
A_COPY = 0.999
"""Correlation from which two values are one piece of knowledge, entered twice."""

Array = NDArray[np.float64]


@result
class Mean:
    """Least-squares mean, its standard and expanded uncertainty in the same unit, weights (sum 1), χ² and who was left
    out.

    `left_out` are the places of values outside the largest consistent subset; `consistent` is False where no such
    subset is clear, and then the expanded uncertainty reaches the far end of every value's own interval.
    """

    value: float
    u: float
    expanded: float
    weights: tuple[float, ...]
    chi_square: float
    left_out: tuple[int, ...]
    consistent: bool


def covariances(given: Array, budgets: tuple[Budget, ...]) -> Array:
    """Covariance matrix of values, by the inputs that they share; of half the expanded uncertainties.

    Examples
    --------
    >>> from speedchain.uncertainty import UncertaintyInput
    >>> shared = (UncertaintyInput(source="row", u_pct=1.0),)
    >>> covariances(np.array([100.0, 200.0]), (shared, shared)).tolist()
    [[1.0, 2.0], [2.0, 4.0]]
    """
    relative = np.array([[covariance(first, second) for second in budgets] for first in budgets]) / 1e4
    return np.asarray(relative * np.outer(given, given))


def _copies(matrix: Array) -> set[int]:
    """The places of values that repeat a better or an earlier one."""
    u = np.sqrt(np.diag(matrix))
    order = sorted(range(u.size), key=lambda place: (u[place], place))
    kept: list[int] = []
    for place in order:
        if all(matrix[place, other] < A_COPY * u[place] * u[other] for other in kept):
            kept.append(place)
    return set(range(u.size)) - set(kept)


def _least_squares(given: Array, matrix: Array, places: tuple[int, ...]) -> tuple[Array, float]:
    """Weights of the values at `places` (zero elsewhere), and their χ²."""
    chosen = list(places)
    inverse = np.linalg.inv(matrix[np.ix_(chosen, chosen)])
    part = inverse.sum(axis=1) / inverse.sum()
    off = given[chosen] - float(part @ given[chosen])
    weights = np.zeros(given.size)
    weights[chosen] = part
    return weights, float(off @ inverse @ off)


def _is_consistent(chi_square: float, number: int) -> bool:
    from scipy.special import chdtrc

    return number < 2 or float(chdtrc(number - 1, chi_square)) >= CONSISTENT


def least_squares_mean(given: tuple[float, ...], budgets: tuple[Budget, ...]) -> Mean:
    """The mean of several values of one quantity, some of whose inputs may be shared.

    x̄ = (1ᵀV⁻¹x)/(1ᵀV⁻¹1), u² = 1/(1ᵀV⁻¹1), χ² = rᵀV⁻¹r. A value that is a copy of another one counts once. When χ²
    says that the values do not belong together, the mean is that of the largest consistent subset, if it is a majority
    of at least three and the only one of its size; else of all, with ± to the far end of every value's interval.

    Parameters
    ----------
    N ≥ 1 values in one unit and their budgets [%].

    References
    ----------
    Generalised least squares (Aitken, Proc. R. Soc. Edinburgh 55 (1935)); M. G. Cox, "The evaluation of key comparison
    data: determining the largest consistent subset", Metrologia 44 (2007) 187; from memory.

    Examples
    --------
    >>> from speedchain.uncertainty import UncertaintyInput
    >>> tape, chart = (UncertaintyInput(source="tape", u_pct=0.1),), (UncertaintyInput(source="chart", u_pct=0.2),)
    >>> mean = least_squares_mean((2070.0, 2080.0), (tape, chart))
    >>> round(mean.value, 1), mean.left_out
    (2072.0, ())
    """
    values = np.array(given)
    matrix = covariances(values, budgets)
    everyone = tuple(sorted(set(range(values.size)) - _copies(matrix)))
    weights, chi_square = _least_squares(values, matrix, everyone)
    chosen, consistent = everyone, _is_consistent(chi_square, len(everyone))
    if not consistent and (subset := _largest_consistent(values, matrix, everyone)) is not None:
        chosen, consistent = subset, True
        weights, _ = _least_squares(values, matrix, subset)
    mean = float(weights @ values)
    half = math.sqrt(float(weights @ matrix @ weights))
    expanded = COVERAGE_FACTOR * half
    if not consistent:
        own = COVERAGE_FACTOR * np.sqrt(np.diag(matrix))
        expanded = float(np.max(np.abs(values - mean) + own))
    return Mean(
        value=mean,
        u=half if consistent else expanded / COVERAGE_FACTOR,
        expanded=expanded,
        weights=tuple(weights.tolist()),
        chi_square=chi_square,
        left_out=tuple(sorted(set(everyone) - set(chosen))),
        consistent=consistent,
    )


def _largest_consistent(values: Array, matrix: Array, places: tuple[int, ...]) -> tuple[int, ...] | None:
    """The only largest subset that is consistent, of more than half and at least three."""
    for size in range(len(places) - 1, len(places) // 2, -1):
        found = [
            subset
            for subset in combinations(places, size)
            if _is_consistent(_least_squares(values, matrix, subset)[1], size)
        ]
        if found:
            return found[0] if len(found) == 1 and size >= A_MAJORITY else None
    return None
