"""Ratio conversion: pulses in to pulses out as p/q with limited integers."""

from __future__ import annotations

import math
from fractions import Fraction

from speedchain.errors import InputError
from speedchain.results import result


@result
class RatioChoice:
    """One p/q: pulses out for pulses in, and its error [ppm of the wanted ratio]."""

    numerator: int
    denominator: int
    error_ppm: float


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
        raise InputError(
            f"A ratio of {wanted:.6g} is outside what p/q can be here.",
            remedy="Use a converter with larger numbers, another target, or two stages.",
            limit=f"1/{most_denominator} to {most_numerator}",
            value=wanted,
            path="signal.converter.ratio",
        )
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
