"""Preferred values of resistors and capacitors: the E series of IEC 60063."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Iterator
from functools import cache
from typing import Literal

from speedchain.fields import labelled

Series = Literal["E6", "E12", "E24", "E96"]
SERIES = labelled(
    Series,
    E6="E6, ± 20 %",
    E12="E12, ± 10 %",
    E24="E24, ± 5 %",
    E96="E96, ± 1 %",
)

E24 = (10, 11, 12, 13, 15, 16, 18, 20, 22, 24, 27, 30, 33, 36, 39, 43, 47, 51, 56, 62, 68, 75, 82, 91)
"""IEC 60063 to two figures; E12 and E6 are every second and fourth of it. Value quoted from memory."""
TOLERANCE_PCT: dict[Series, float] = {"E6": 20, "E12": 10, "E24": 5, "E96": 1}
"""Tolerance that goes with each series. IEC 60063."""


@cache
def decade(series: Series) -> tuple[float, ...]:
    """The values of one decade, 1 up to below 10.

    E96 is 10^(i/96) to three figures.

    References
    ----------
    IEC 60063. Value quoted from memory.

    Examples
    --------
    >>> decade("E12")[:4], len(decade("E96")), decade("E96")[1]
    ((1.0, 1.2, 1.5, 1.8), 96, 1.02)
    """
    if series == "E96":
        return tuple([round(10 ** (place / 96), 2) for place in range(96)])
    step = {"E24": 1, "E12": 2, "E6": 4}[series]
    return tuple([value / 10 for value in E24[::step]])


def values_between(low: float, high: float, series: Series) -> Iterator[float]:
    """All values of a series from `low` to `high`, rising.

    Examples
    --------
    >>> list(values_between(900, 1600, "E12"))
    [1000.0, 1200.0, 1500.0]
    """
    for power in range(math.floor(math.log10(low)), math.floor(math.log10(high)) + 1):
        for value in decade(series):
            scaled = float(f"{value * 10.0**power:.6g}")
            if low <= scaled <= high:
                yield scaled


def nearest(value: float, series: Series) -> float:
    """The value of the series nearest in proportion.

    Examples
    --------
    >>> nearest(5200, "E12"), nearest(0.00099, "E24")
    (5600.0, 0.001)
    """
    near = values_between(value / 3, value * 3, series)
    return min(near, key=lambda item: abs(math.log(item / value)))


def below(value: float, series: Series) -> float:
    """The largest value of the series that is not above a value.

    Examples
    --------
    >>> below(5200, "E12"), below(0.99, "E24")
    (4700.0, 0.91)
    """
    power = 10.0 ** math.floor(math.log10(value))
    found = bisect_right(decade(series), value / power * (1 + 1e-12))
    return float(f"{decade(series)[max(found, 1) - 1] * power:.6g}")
