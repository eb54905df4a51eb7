"""All methods for the circumference taken together."""

from __future__ import annotations

from collections.abc import Mapping

from speedchain.fields import Evidence, Words, joined, text_of
from speedchain.stages import WhyStep
from speedchain.uncertainty import Mean, UncertaintyInput, least_squares_mean
from speedchain.wheel.methods import by_method
from speedchain.wheel.model import SingleMethod, Wheel
from speedchain.wheel.value import Value

AGREE_WITHIN = 2.0
"""Two methods disagree when they differ by more than twice the standard uncertainty of their difference."""


def all_values(wheel: Wheel, vehicle_kind: str, pulses_per_turn: float) -> dict[SingleMethod, Value]:
    """What every method with entries says."""
    return {method: by_method(wheel, method, vehicle_kind, pulses_per_turn) for method in wheel.methods_entered()}


def mean_of(values: Mapping[SingleMethod, Value]) -> Mean:
    """The mean of what the methods say, all brought to one state.

    Examples
    --------
    >>> wheel = Wheel(method="combined", entered={"circumference_mm": 2072}, roll_out={"turns": 3, "distance_mm": 6210})
    >>> round(mean_of(all_values(wheel, "car", 1)).value, 1)
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
    source = "mean of {0} methods by their uncertainty and what they share"
    names: Words = ""
    if mean.left_out:
        names = joined(", ", [listed[place].grounds for place in mean.left_out])
        source = (
            "mean of {0} methods by their uncertainty and what they share; left out, because the others agree "
            "without it: {1}"
        )
    elif not mean.consistent:
        source = (
            "mean of {0} methods by their uncertainty and what they share; they disagree, so ± reaches the far "
            "end of each"
        )
    why = (
        WhyStep(
            formula="C = Σ w_i·C_i, generalised least squares",
            with_numbers=text_of("{0} = {1:.1f} mm", terms, mean.value),
            source=text_of(source, len(used), names),
        ),
    )
    return Value(
        circumference_mm=mean.value,
        budget=(
            UncertaintyInput(
                source="combination",
                u_pct=100 * mean.u / mean.value,
                coverage_factor=mean.expanded / mean.u,
            ),
        ),
        evidence=evidence,
        grounds=text_of("{0} methods combined", len(used)),
        why=why,
    )
