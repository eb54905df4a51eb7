"""Readings taken more than once: their mean, their scatter, and what one more would bring."""

from __future__ import annotations

import math
import statistics

from speedchain.results import result
from speedchain.uncertainty import COVERAGE_FACTOR


@result
class Progress:
    """How far a measurement has come: mean circumference, scatter of single readings, ± (k = 2), and what comes next."""

    method: str
    readings: int
    mean_mm: float
    scatter_mm: float | None
    expanded_mm: float
    one_more_turn_expanded_mm: float | None
    one_more_reading_expanded_mm: float
    text: str


def mean_uncertainty(readings: tuple[float, ...], systematic: float, random: float, count: int | None = None) -> float:
    """Standard uncertainty of the mean of n readings.

    u² = u_systematic² + max(u_random, s)²/n, with s the standard deviation of the readings (n ≥ 2). Taking the larger
    of what is expected and what is seen keeps two readings that agree by chance from looking perfect.

    Parameters
    ----------
    The readings; the part all share and the part of each, one standard uncertainty each, same unit; `count` in
    place of n to ask what more readings would bring.

    Returns
    -------
    The standard uncertainty, same unit.

    References
    ----------
    JCGM 100:2008, 4.2.3 and 5.1.2; the larger-of rule: common practice.

    Examples
    --------
    >>> round(mean_uncertainty((10.0, 12.0), 0.0, 0.1), 3)
    1.0
    >>> mean_uncertainty((10.0,), 3.0, 4.0)
    5.0
    """
    seen = statistics.stdev(readings) if len(readings) > 1 else 0.0
    return math.hypot(systematic, max(random, seen) / math.sqrt(count or len(readings)))


def progress(
    method: str,
    *,
    circumferences_mm: tuple[float, ...],
    systematic_mm: float,
    random_mm: float,
    turns: int | None = None,
) -> Progress:
    """Mean, scatter and prospects of repeated readings, all as circumference [mm].

    `turns` is the number of turns of a roll-out, whose uncertainty shrinks as 1/turns; None for other methods.

    Examples
    --------
    >>> result = progress("roll_out", circumferences_mm=(2071.0, 2069.0), systematic_mm=0.6, random_mm=0.5, turns=3)
    >>> result.mean_mm, round(result.scatter_mm, 2), result.text
    (2070.0, 1.41, 'One more turn would bring ± 1.7 mm, one more run ± 2.0 mm; now ± 2.3 mm.')
    """
    now = COVERAGE_FACTOR * mean_uncertainty(circumferences_mm, systematic_mm, random_mm)
    more = len(circumferences_mm) + 1
    again = COVERAGE_FACTOR * mean_uncertainty(circumferences_mm, systematic_mm, random_mm, more)
    further = now * turns / (turns + 1) if turns else None
    if further is not None:
        words = f"One more turn would bring ± {further:.1f} mm, one more run ± {again:.1f} mm; now ± {now:.1f} mm."
    else:
        words = f"One more reading would bring ± {again:.1f} mm; now ± {now:.1f} mm."
    return Progress(
        method=method,
        readings=len(circumferences_mm),
        mean_mm=statistics.fmean(circumferences_mm),
        scatter_mm=statistics.stdev(circumferences_mm) if len(circumferences_mm) > 1 else None,
        expanded_mm=now,
        one_more_turn_expanded_mm=further,
        one_more_reading_expanded_mm=again,
        text=words,
    )
