"""Several answers to one question: their least-squares mean with what they share, and what to do when they disagree."""

from __future__ import annotations

import math
from collections.abc import Mapping
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import Evidence, joined, text_of
from speedchain.results import result
from speedchain.stages import WhyStep
from speedchain.uncertainty import COVERAGE_FACTOR, Budget, UncertaintyInput, covariance
from speedchain.wheel.methods import by_method
from speedchain.wheel.model import SingleMethod, Wheel
from speedchain.wheel.value import Value

AGREE_WITHIN = 2.0
"""Two methods disagree when they differ by more than twice the standard uncertainty of their difference."""
CONSISTENT = 0.05
"""Probability of a χ² as large or larger, below which values are not consistent. Cox, Metrologia 39 (2002) 589."""
A_MAJORITY = 3
"""Methods that must agree before another one is left out: two may agree by chance. Common practice."""
A_COPY = 0.999
"""Correlation from which two methods are one piece of knowledge, entered twice."""

Array = NDArray[np.float64]


@result
class Mean:
    """Least-squares mean [mm], its standard and expanded uncertainty [mm], weights (sum 1), χ² and who was left out.

    `left_out` are the places of values outside the largest consistent subset; `consistent` is False where no such
    subset is clear, and then the expanded uncertainty reaches the far end of every value's own interval.
    """

    value_mm: float
    u_mm: float
    expanded_mm: float
    weights: tuple[float, ...]
    chi_square: float
    left_out: tuple[int, ...]
    consistent: bool


def covariances(values_mm: Array, budgets: tuple[Budget, ...]) -> Array:
    """Covariance matrix of the methods [mm²], by the inputs that they share; of half the expanded uncertainties.

    Examples
    --------
    >>> shared = (UncertaintyInput(source="row", u_pct=1.0),)
    >>> covariances(np.array([100.0, 200.0]), (shared, shared)).tolist()
    [[1.0, 2.0], [2.0, 4.0]]
    """
    relative = np.array([[covariance(first, second) for second in budgets] for first in budgets]) / 1e4
    return np.asarray(relative * np.outer(values_mm, values_mm))


def _copies(matrix: Array) -> set[int]:
    """The places of values that repeat a better or an earlier one."""
    u = np.sqrt(np.diag(matrix))
    order = sorted(range(u.size), key=lambda place: (u[place], place))
    kept: list[int] = []
    for place in order:
        if all(matrix[place, other] < A_COPY * u[place] * u[other] for other in kept):
            kept.append(place)
    return set(range(u.size)) - set(kept)


def _least_squares(values_mm: Array, matrix: Array, places: tuple[int, ...]) -> tuple[Array, float]:
    """Weights of the values at `places` (zero elsewhere), and their χ²."""
    chosen = list(places)
    inverse = np.linalg.inv(matrix[np.ix_(chosen, chosen)])
    part = inverse.sum(axis=1) / inverse.sum()
    off = values_mm[chosen] - float(part @ values_mm[chosen])
    weights = np.zeros(values_mm.size)
    weights[chosen] = part
    return weights, float(off @ inverse @ off)


def _is_consistent(chi_square: float, number: int) -> bool:
    from scipy.special import chdtrc

    return number < 2 or float(chdtrc(number - 1, chi_square)) >= CONSISTENT


def least_squares_mean(values_mm: tuple[float, ...], budgets: tuple[Budget, ...]) -> Mean:
    """The mean of several values of one quantity, some of whose inputs may be shared.

    x̄ = (1ᵀV⁻¹x)/(1ᵀV⁻¹1), u² = 1/(1ᵀV⁻¹1), χ² = rᵀV⁻¹r. A value that is a copy of another one counts once. When χ² says
    that the values do not belong together, the mean is that of the largest consistent subset, if it is a majority of
    at least three and the only one of its size; else of all, with ± to the far end of every value's interval.

    Parameters
    ----------
    N ≥ 1 values [mm] and their budgets [%].

    References
    ----------
    Generalised least squares (Aitken, Proc. R. Soc. Edinburgh 55 (1935)); M. G. Cox, "The evaluation of key comparison
    data: determining the largest consistent subset", Metrologia 44 (2007) 187; from memory.

    Examples
    --------
    >>> tape, chart = (UncertaintyInput(source="tape", u_pct=0.1),), (UncertaintyInput(source="chart", u_pct=0.2),)
    >>> mean = least_squares_mean((2070.0, 2080.0), (tape, chart))
    >>> round(mean.value_mm, 1), mean.left_out
    (2072.0, ())
    """
    values = np.array(values_mm)
    matrix = covariances(values, budgets)
    everyone = tuple(sorted(set(range(values.size)) - _copies(matrix)))
    weights, chi_square = _least_squares(values, matrix, everyone)
    chosen, consistent = everyone, _is_consistent(chi_square, len(everyone))
    if not consistent and (subset := _largest_consistent(values, matrix, everyone)) is not None:
        chosen, consistent = subset, True
        weights, _ = _least_squares(values, matrix, subset)
    mean_mm = float(weights @ values)
    half = math.sqrt(float(weights @ matrix @ weights))
    expanded_mm = COVERAGE_FACTOR * half
    if not consistent:
        own = COVERAGE_FACTOR * np.sqrt(np.diag(matrix))
        expanded_mm = float(np.max(np.abs(values - mean_mm) + own))
    return Mean(
        value_mm=mean_mm,
        u_mm=half if consistent else expanded_mm / COVERAGE_FACTOR,
        expanded_mm=expanded_mm,
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


def all_values(wheel: Wheel, vehicle_kind: str, pulses_per_turn: float) -> dict[SingleMethod, Value]:
    """What every method with entries says."""
    return {method: by_method(wheel, method, vehicle_kind, pulses_per_turn) for method in wheel.methods_entered()}


def mean_of(values: Mapping[SingleMethod, Value]) -> Mean:
    """The mean of what the methods say, all brought to one state.

    Examples
    --------
    >>> wheel = Wheel(method="combined", entered={"circumference_mm": 2072}, roll_out={"turns": 3, "distance_mm": 6210})
    >>> round(mean_of(all_values(wheel, "car", 1)).value_mm, 1)
    2070.0
    """
    return least_squares_mean(
        tuple([value.circumference_mm for value in values.values()]), tuple([value.budget for value in values.values()])
    )


def combined(values: Mapping[SingleMethod, Value]) -> Value:
    """All methods taken together as one value.

    Examples
    --------
    >>> wheel = Wheel(method="combined", entered={"circumference_mm": 2072}, roll_out={"turns": 3, "distance_mm": 6210})
    >>> round(combined(all_values(wheel, "car", 1)).circumference_mm, 1)
    2070.0
    """
    listed = list(values.values())
    mean = mean_of(values)
    used = [(w, v) for w, v in zip(mean.weights, listed, strict=True) if w]
    evidence: Evidence = "measured" if any(v.evidence == "measured" for _, v in used) else "assumed"
    terms = " + ".join([f"{w:.3f} × {v.circumference_mm:.1f}" for w, v in used])
    note = ""
    if mean.left_out:
        names = joined(", ", [listed[place].grounds for place in mean.left_out])
        note = text_of("; left out, because the others agree without it: {0}", names)
    elif not mean.consistent:
        note = "; they disagree, so ± reaches the far end of each"
    why = (
        WhyStep(
            formula="C = Σ w_i·C_i, generalised least squares",
            with_numbers=text_of("{0} = {1:.1f} mm", terms, mean.value_mm),
            source=text_of("mean of {0} methods by their uncertainty and what they share{1}", len(used), note),
        ),
    )
    return Value(
        circumference_mm=mean.value_mm,
        budget=(
            UncertaintyInput(
                source="combination",
                u_pct=100 * mean.u_mm / mean.value_mm,
                coverage_factor=mean.expanded_mm / mean.u_mm,
            ),
        ),
        evidence=evidence,
        grounds=text_of("{0} methods combined", len(used)),
        why=why,
    )
