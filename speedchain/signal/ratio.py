"""Ratio conversion: pulses in to pulses out as p/q with limited integers."""

from __future__ import annotations

import math
from fractions import Fraction
from functools import lru_cache

import numpy as np

from speedchain.fields import InputError, text_of
from speedchain.results import result
from speedchain.signal.model import Converter

MOST_IN_CHAIN = 255
"""Largest numbers looked at when two converters follow each other."""


@result
class RatioChoice:
    """One p/q: pulses out for pulses in, and its error [ppm of the wanted ratio]."""

    numerator: int
    denominator: int
    error_ppm: float


def _out_of_reach(wanted: float, limit: str) -> InputError:
    return InputError(
        text_of("A ratio of {0:.6g} is outside the range of this converter: {1}.", wanted, limit),
        remedy="Use a converter with larger numbers, two stages, or another target.",
        limit=limit,
        value=wanted,
        path="signal.converter.max_denominator",
    )


@lru_cache(maxsize=256)
@lru_cache(maxsize=256)
def best_ratio(wanted: float, max_numerator: int, max_denominator: int) -> RatioChoice:
    """The p/q nearest to the wanted ratio with p and q no larger than the converter takes.

    Where q ≤ P/wanted, the best q ≤ Q is that of `fractions.Fraction.limit_denominator`; beyond it every p/q is below
    the wanted ratio, and the best is P over the next whole number above P/wanted.

    Raises
    ------
    `InputError` when the ratio is outside 1/Q to P.

    Examples
    --------
    >>> result = best_ratio(0.87, 100, 100)
    >>> result.numerator, result.denominator
    (87, 100)
    >>> best_ratio(0.4042, 1, 9999).denominator
    3
    """
    if not 1 / max_denominator <= wanted <= max_numerator:
        raise _out_of_reach(wanted, text_of("1/{0} to {1}", max_denominator, max_numerator))
    exact = Fraction(wanted)
    most_q = max_numerator / exact
    candidates = [
        exact.limit_denominator(max(min(max_denominator, math.floor(most_q)), 1)),
        Fraction(max_numerator, min(max_denominator, math.ceil(most_q))),
        Fraction(max(math.floor(max_denominator * exact), 1), max_denominator),
    ]
    inside = [
        item for item in candidates if 0 < item.numerator <= max_numerator and item.denominator <= max_denominator
    ]
    best = min(inside, key=lambda item: abs(item - exact))
    return RatioChoice(
        numerator=best.numerator, denominator=best.denominator, error_ppm=float((best / exact - 1) * 1_000_000)
    )


@lru_cache(maxsize=256)
def best_chain(wanted: float, max_numerator: int, max_denominator: int) -> tuple[RatioChoice, RatioChoice]:
    """Two converters, one after the other: p1/q1·p2/q2 nearest to the wanted ratio.

    Every p/q within the limits (at most 255 each) is put first; of the sorted list the nearest to what is left
    comes second. The error of the second stage is that of the chain. With a numerator of 1 these are dividers.

    Raises
    ------
    `InputError` when the ratio is out of reach.

    Examples
    --------
    >>> [f"{one.numerator}/{one.denominator}" for one in best_chain(1 / 391, 1, 30)]
    ['1/23', '1/17']
    """
    most_p, most_q = min(max_numerator, MOST_IN_CHAIN), min(max_denominator, MOST_IN_CHAIN)
    if not 1 / most_q**2 <= wanted <= most_p**2:
        raise _out_of_reach(wanted, text_of("1/{0} to {1}", most_q**2, most_p**2))
    p, q = (grid.ravel() for grid in np.meshgrid(np.arange(1, most_p + 1), np.arange(1, most_q + 1)))
    lowest = np.gcd(p, q) == 1
    p, q = p[lowest], q[lowest]
    order = np.argsort(p / q)
    p, q = p[order], q[order]
    value = p / q
    after = np.clip(np.searchsorted(value, wanted / value), 1, value.size - 1)
    left = wanted / value
    second = np.where(np.abs(value[after] - left) < np.abs(value[after - 1] - left), after, after - 1)
    errors = value * value[second] / wanted - 1
    first = int(np.argmin(np.abs(errors)))
    last = int(second[first])
    return (
        RatioChoice(numerator=int(p[first]), denominator=int(q[first]), error_ppm=0.0),
        RatioChoice(numerator=int(p[last]), denominator=int(q[last]), error_ppm=float(errors[first] * 1e6)),
    )


def best_stages(wanted: float, converter: Converter) -> tuple[RatioChoice, ...]:
    """The best one or two stages inside the converter's limits.

    Examples
    --------
    >>> result = best_stages(0.87, Converter(target_pulses_per_km=1000, max_numerator=100, max_denominator=100))
    >>> result[0].numerator, result[0].denominator
    (87, 100)
    """
    limits = converter.max_numerator, converter.max_denominator
    return best_chain(wanted, *limits) if converter.stages == 2 else (best_ratio(wanted, *limits),)


def stages_in_use(wanted: float, converter: Converter) -> tuple[RatioChoice, ...]:
    """What the converter is set to, or the best, with the error of the whole at the last stage [ppm].

    Examples
    --------
    >>> stages_in_use(0.5, Converter.model_validate({"target_pulses_per_km": 1, "setting": [{"denominator": 3}]}))[
    ...     0].error_ppm
    -333333.3333333334
    """
    if not converter.setting:
        return best_stages(wanted, converter)
    exact = Fraction(1)
    result = []
    for step in converter.setting:
        exact *= Fraction(step.numerator, step.denominator)
        result.append(
            RatioChoice(
                numerator=step.numerator, denominator=step.denominator, error_ppm=(float(exact) / wanted - 1) * 1e6
            )
        )
    return tuple(result)


def product(stages: tuple[RatioChoice, ...]) -> float:
    """Pulses out for one pulse in, through all stages.

    Examples
    --------
    >>> product(best_chain(3 / 8, 3, 4))
    0.375
    """
    return math.prod([stage.numerator / stage.denominator for stage in stages])
