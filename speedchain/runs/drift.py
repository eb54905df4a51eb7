"""How the error of a display on water changes between dates: a paddle that grows over."""

from __future__ import annotations

import math
from typing import NamedTuple

from speedchain.fields import Words, text_of
from speedchain.results import result

DAY_S = 86_400.0


class DatedError(NamedTuple):
    """The error that runs gave [%], its expanded uncertainty [%], and when [s since 1970]."""

    at_s: float
    error_pct: float
    expanded_pct: float


@result
class Drift:
    """The change from the first date to the last: days between, change of the error [%] and its expanded
    uncertainty."""

    days: float
    change_pct: float
    expanded_pct: float
    real: bool
    text: Words
    advice: Words


def drift_of(errors: list[DatedError]) -> Drift | None:
    """The change from the earliest to the latest of several errors; None with fewer than two dates.

    Δ = e_last − e_first, U² = U_last² + U_first²: real where |Δ| > U.

    Examples
    --------
    >>> found = drift_of([DatedError(0, -1.0, 0.5), DatedError(60 * DAY_S, -4.0, 0.6)])
    >>> found.text
    'In 60 days the display came to show 3.0 % less, ± 0.8 %.'
    >>> found.advice
    'Clean the paddle or the speed sensor: growth slows it.'
    """
    ordered = sorted(errors)
    if len(ordered) < 2 or ordered[-1].at_s - ordered[0].at_s < DAY_S:
        return None
    first, last = ordered[0], ordered[-1]
    change, expanded = last.error_pct - first.error_pct, math.hypot(first.expanded_pct, last.expanded_pct)
    days, real = (last.at_s - first.at_s) / DAY_S, abs(change) > expanded
    if not real:
        text = text_of("In {0:.0f} days no change beyond ± {1:.1f} %.", days, expanded)
    elif change < 0:
        text = text_of("In {0:.0f} days the display came to show {1:.1f} % less, ± {2:.1f} %.", days, -change, expanded)
    else:
        text = text_of("In {0:.0f} days the display came to show {1:.1f} % more, ± {2:.1f} %.", days, change, expanded)
    advice = "Clean the paddle or the speed sensor: growth slows it." if real and change < 0 else ""
    return Drift(days=days, change_pct=change, expanded_pct=expanded, real=real, text=text, advice=advice)
