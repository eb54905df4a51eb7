"""Readings taken more than once: their mean, their scatter, and what one more would bring."""

from __future__ import annotations

import math
import statistics
from functools import lru_cache

from speedchain.fields import Words, joined, text_of
from speedchain.results import result
from speedchain.uncertainty import Budget, UncertaintyInput, expanded_pct, student_factor


@result
class Progress:
    """How far a measurement has come: mean circumference, scatter of single readings, ± with its k, and what comes
    next."""

    method: str
    readings: int
    mean_mm: float
    scatter_mm: float | None
    expanded_mm: float
    one_more_turn_expanded_mm: float | None
    one_more_reading_expanded_mm: float
    text: Words


def repeated(
    readings: tuple[float, ...], expected: float, *, source: str, count: int | None = None
) -> UncertaintyInput:
    """How far the mean of n readings may be off by the part that each reading has to itself.

    The scatter seen, s/√n with the factor t(n − 1), where it is larger than the median that the reading's own
    uncertainty makes of it; else what is expected, u/√n with k = 2. So two readings that agree by chance do not look
    perfect, and a scatter that was seen twice only is not taken for known.

    Parameters
    ----------
    The readings; the standard uncertainty expected of each, same unit; the name of the input; `count` in place of n
    to ask what more readings would bring.

    Returns
    -------
    The input, relative to the mean [%].

    References
    ----------
    JCGM 100:2008, 4.2.3 and G.3; coverage simulated in tests/published/test_coverage.py.

    Examples
    --------
    >>> part = repeated((1000.0, 1002.0), 0.1, source="runs")
    >>> round(part.u_pct, 4), round(part.coverage_factor, 2)
    (0.0999, 13.97)
    >>> repeated((1000.0,), 4.0, source="runs").u_pct
    0.4
    """
    number = count or len(readings)
    seen = statistics.stdev(readings) if len(readings) > 1 else 0.0
    mean = statistics.fmean(readings)
    if not scatter_rules(readings, expected):
        return UncertaintyInput(source=source, u_pct=100 * expected / math.sqrt(number) / mean)
    k = student_factor(number - 1)
    return UncertaintyInput(source=source, u_pct=100 * seen / math.sqrt(number) / mean, coverage_factor=k)


def scatter_rules(readings: tuple[float, ...], expected: float) -> bool:
    """Whether the scatter seen is larger than half of all samples would show: s² > u²·χ²_½(n − 1)/(n − 1).

    References
    ----------
    The distribution of s²; `scipy.special.chdtri`. The choice of the median: ours, by the coverage that it gives.

    Examples
    --------
    >>> scatter_rules((1000.0, 1002.0), 1.0), scatter_rules((1000.0, 1000.5), 1.0), scatter_rules((1000.0,), 1.0)
    (True, False, False)
    """
    if len(readings) < 2:
        return False
    return statistics.stdev(readings) > expected * _median_scatter(len(readings) - 1)


@lru_cache(maxsize=32)
def _median_scatter(degrees_of_freedom: int) -> float:
    from scipy.special import chdtri

    return math.sqrt(float(chdtri(degrees_of_freedom, 0.5)) / degrees_of_freedom)


def progress(
    method: str,
    *,
    circumferences_mm: tuple[float, ...],
    shared: Budget,
    expected_mm: float,
    turns: int | None = None,
) -> Progress:
    """Mean, scatter and prospects of repeated readings, all as circumference [mm].

    Parameters
    ----------
    The method; a circumference from each reading [mm]; what all readings share; the standard uncertainty expected of
    each reading [mm]; the number of turns of a roll-out, whose uncertainty shrinks as 1/turns, None for others.

    Examples
    --------
    >>> tape = (UncertaintyInput(source="tape", u_pct=0.03),)
    >>> result = progress("roll_out", circumferences_mm=(2070.4, 2069.6), shared=tape, expected_mm=1.0, turns=3)
    >>> result.mean_mm, round(result.scatter_mm, 2), result.text
    (2070.0, 0.57, 'One more turn: ± 1.4 mm; one more run: ± 1.7 mm; now ± 1.9 mm.')
    """
    mean_mm = statistics.fmean(circumferences_mm)

    def expanded_mm(count: int) -> float:
        own = repeated(circumferences_mm, expected_mm, source=method, count=count)
        return expanded_pct((*shared, own)) / 100 * mean_mm

    number = len(circumferences_mm)
    now, again = expanded_mm(number), expanded_mm(number + 1)
    further = now * turns / (turns + 1) if turns else None
    if further is not None:
        text = text_of(
            "One more turn: ± {0:.1f} mm; one more run: ± {1:.1f} mm; now ± {2:.1f} mm.", further, again, now
        )
    else:
        text = text_of("One more reading: ± {0:.1f} mm, instead of ± {1:.1f} mm.", again, now)
    scatter_mm = statistics.stdev(circumferences_mm) if number > 1 else None
    if scatter_rules(circumferences_mm, expected_mm):
        text = joined(" ", [text, text_of("{0} readings show little of the scatter: take one more.", number)])
    return Progress(
        method=method,
        readings=number,
        mean_mm=mean_mm,
        scatter_mm=scatter_mm,
        expanded_mm=now,
        one_more_turn_expanded_mm=further,
        one_more_reading_expanded_mm=again,
        text=text,
    )
