"""Several answers to one question: their inverse-variance mean, and whether they agree."""

from __future__ import annotations

import math

from speedchain.fields import Evidence
from speedchain.results import result
from speedchain.stages import WhyStep
from speedchain.wheel.methods import Value, by_method
from speedchain.wheel.model import SingleMethod, Wheel

AGREE_WITHIN = 2.0
"""Two methods disagree when they differ by more than twice their joint standard uncertainty."""


@result
class Mean:
    """Inverse-variance mean [mm], its standard uncertainty [mm], weights (sum 1), χ² and the Birge ratio."""

    value_mm: float
    u_mm: float
    weights: tuple[float, ...]
    chi_square: float
    birge_ratio: float


def weighted_mean(values_mm: tuple[float, ...], u_mm: tuple[float, ...]) -> Mean:
    """Inverse-variance mean of independent values of one quantity.

    w_i ∝ 1/u_i²; u = 1/sqrt(Σ 1/u_i²); χ² = Σ (x_i − x̄)²/u_i²; where χ²/(n−1) > 1 the uncertainty is widened by the
    Birge ratio sqrt(χ²/(n−1)), for then the values differ by more than they claim.

    Parameters
    ----------
    N ≥ 1 values [mm] and their standard uncertainties [mm].

    References
    ----------
    JCGM 100:2008, 5.1.2; R. T. Birge, "The calculation of errors by the method of least squares", Physical Review
    40 (1932); formulas from memory.

    Examples
    --------
    >>> mean = weighted_mean((2070.0, 2080.0), (1.0, 2.0))
    >>> mean.value_mm, round(mean.birge_ratio, 2)
    (2072.0, 4.47)
    """
    raw = [1 / u**2 for u in u_mm]
    total = sum(raw)
    weights = tuple([weight / total for weight in raw])
    mean = sum([weight * value for weight, value in zip(weights, values_mm, strict=True)])
    chi = sum([((value - mean) / u) ** 2 for value, u in zip(values_mm, u_mm, strict=True)])
    birge = math.sqrt(chi / (len(values_mm) - 1)) if len(values_mm) > 1 else 0.0
    return Mean(
        value_mm=mean, u_mm=max(birge, 1.0) / math.sqrt(total), weights=weights, chi_square=chi, birge_ratio=birge
    )


def all_values(wheel: Wheel, vehicle_kind: str, pulses_per_turn: float) -> dict[SingleMethod, Value]:
    """What every method with entries says."""
    return {method: by_method(wheel, method, vehicle_kind, pulses_per_turn) for method in wheel.methods_entered()}


def combined(values: dict[SingleMethod, Value]) -> Value:
    """All methods taken together as one value.

    Examples
    --------
    >>> wheel = Wheel(method="combined", entered={"circumference_mm": 2072}, roll_out={"turns": 3, "distance_mm": 6210})
    >>> round(combined(all_values(wheel, "car", 1)).circumference_mm, 1)
    2070.0
    """
    listed = list(values.values())
    mean = weighted_mean(
        tuple([value.circumference_mm for value in listed]),
        tuple([value.u_pct / 100 * value.circumference_mm for value in listed]),
    )
    evidence: Evidence = "measured" if any(value.evidence == "measured" for value in listed) else "assumed"
    terms = " + ".join([f"{w:.3f} × {v.circumference_mm:.1f}" for w, v in zip(mean.weights, listed, strict=True)])
    widened = f"; widened {mean.birge_ratio:.1f} times, because they disagree" if mean.birge_ratio > 1 else ""
    why = (
        WhyStep(
            formula="C = Σ w_i·C_i, w_i ∝ 1/u_i²",
            with_numbers=f"{terms} = {mean.value_mm:.1f} mm",
            source=f"inverse-variance mean of {len(listed)} methods{widened}",
        ),
    )
    grounds = f"{len(listed)} methods combined"
    return Value(
        circumference_mm=mean.value_mm,
        u_pct=100 * mean.u_mm / mean.value_mm,
        evidence=evidence,
        grounds=grounds,
        why=why,
    )
