"""Ratio conversion: pulses in to pulses out as p/q with limited integers."""

from __future__ import annotations

import math
from fractions import Fraction
from functools import lru_cache

import numpy as np

from speedchain.errors import InputError
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
        f"A ratio of {wanted:.6g} is outside what this converter can be set to: {limit}.",
        remedy="Use a converter with larger numbers, two stages, or another target.",
        limit=limit,
        value=wanted,
        path="signal.converter.most_denominator",
    )


@lru_cache(maxsize=256)
def best_ratio(wanted: float, most_numerator: int, most_denominator: int) -> RatioChoice:
    """The p/q nearest to the wanted ratio with p and q no larger than the converter takes.

    The better of the best with q ≤ min(Q, P/wanted) and the best with p ≤ min(P, Q·wanted), by
    `fractions.Fraction.limit_denominator`: together they hold every p/q inside both limits.
    Raises `InputError` when the ratio is outside 1/Q to P.

    >>> told = best_ratio(0.87, 100, 100)
    >>> told.numerator, told.denominator
    (87, 100)
    """
    if not 1 / most_denominator <= wanted <= most_numerator:
        raise _out_of_reach(wanted, f"1/{most_denominator} to {most_numerator}")
    exact = Fraction(wanted)
    by_denominator = exact.limit_denominator(min(most_denominator, max(math.floor(most_numerator / exact), 1)))
    by_numerator = 1 / (1 / exact).limit_denominator(min(most_numerator, max(math.floor(most_denominator * exact), 1)))
    fits = [
        one
        for one in (by_denominator, by_numerator)
        if 0 < one.numerator <= most_numerator and one.denominator <= most_denominator
    ]
    best = min(fits, key=lambda one: abs(one - exact))
    return RatioChoice(best.numerator, best.denominator, float((best / exact - 1) * 1_000_000))


@lru_cache(maxsize=256)
def best_chain(wanted: float, most_numerator: int, most_denominator: int) -> tuple[RatioChoice, RatioChoice]:
    """Two converters, one after the other: p1/q1·p2/q2 nearest to the wanted ratio.

    Every p/q within the limits (at most 255 each) is put first; of the sorted list the nearest to what is left
    comes second. The error of the second stage is that of the chain. With a numerator of 1 these are dividers.
    Raises `InputError` when the ratio is out of reach.

    >>> [f"{one.numerator}/{one.denominator}" for one in best_chain(1 / 391, 1, 30)]
    ['1/23', '1/17']
    """
    most_p, most_q = min(most_numerator, MOST_IN_CHAIN), min(most_denominator, MOST_IN_CHAIN)
    if not 1 / most_q**2 <= wanted <= most_p**2:
        raise _out_of_reach(wanted, f"1/{most_q**2} to {most_p**2}")
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
        RatioChoice(int(p[first]), int(q[first]), 0.0),
        RatioChoice(int(p[last]), int(q[last]), float(errors[first] * 1e6)),
    )


def best_stages(wanted: float, converter: Converter) -> tuple[RatioChoice, ...]:
    """The best one or two stages inside the converter's limits.

    >>> told = best_stages(0.87, Converter(wanted_per_km=1000, most_numerator=100, most_denominator=100))
    >>> told[0].numerator, told[0].denominator
    (87, 100)
    """
    limits = converter.most_numerator, converter.most_denominator
    return best_chain(wanted, *limits) if converter.stages == 2 else (best_ratio(wanted, *limits),)


def stages_in_use(wanted: float, converter: Converter) -> tuple[RatioChoice, ...]:
    """What the converter is set to, or the best, with the error of the whole at the last stage [ppm].

    >>> stages_in_use(0.5, Converter.model_validate({"wanted_per_km": 1, "set_to": [{"denominator": 3}]}))[0].error_ppm
    -333333.3333333334
    """
    if not converter.set_to:
        return best_stages(wanted, converter)
    exact = Fraction(1)
    told = []
    for step in converter.set_to:
        exact *= Fraction(step.numerator, step.denominator)
        told.append(RatioChoice(step.numerator, step.denominator, (float(exact) / wanted - 1) * 1e6))
    return tuple(told)


def product(stages: tuple[RatioChoice, ...]) -> float:
    """Pulses out for one pulse in, through all stages.

    >>> product((RatioChoice(1, 2, 0.0), RatioChoice(3, 4, 0.0)))
    0.375
    """
    return math.prod([stage.numerator / stage.denominator for stage in stages])
