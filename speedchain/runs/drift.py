"""How the error of a display on water changes between dates: a paddle that grows over."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from speedchain.fields import Words, text_of
from speedchain.results import result

DAY_S = 86_400.0
LEAST_PCT = 0.01
LATER_KMH = 0.5
"""A paddle that begins to turn so much later than before has changed. Common practice."""


class DatedError(NamedTuple):
    """The error that runs gave [%], its expanded uncertainty [%], when [s since 1970], and from which speed on the
    display worked [km/h], where that was seen."""

    at_s: float
    error_pct: float
    expanded_pct: float
    works_from_kmh: float | None = None


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

    Of two dates Δ = e_last − e_first, U² = U_last² + U_first²; of more a line through all of them, weighted by 1/U²,
    Δ = slope·days. Real where |Δ| > U. A paddle that begins to turn later than before is growing over as well.

    References
    ----------
    Weighted least squares: numpy.polyfit.

    Examples
    --------
    >>> found = drift_of([DatedError(0, -1.0, 0.5), DatedError(60 * DAY_S, -4.0, 0.6, 3.0)])
    >>> found.text
    'In 60 days the display came to show 3.0 % less, ± 0.8 %.'
    >>> found.advice
    'Clean the paddle or the speed sensor: growth slows it.'
    """
    ordered = sorted(errors, key=lambda item: item.at_s)
    if len(ordered) < 2 or ordered[-1].at_s - ordered[0].at_s < DAY_S:
        return None
    first, last = ordered[0], ordered[-1]
    days = (last.at_s - first.at_s) / DAY_S
    change, expanded = last.error_pct - first.error_pct, math.hypot(first.expanded_pct, last.expanded_pct)
    if len(ordered) > 2:
        share = [(item.at_s - first.at_s) / (last.at_s - first.at_s) for item in ordered]
        weights = [1 / max(item.expanded_pct, LEAST_PCT) for item in ordered]
        (slope, _), spread = np.polyfit(share, [item.error_pct for item in ordered], 1, w=weights, cov="unscaled")
        change, expanded = float(slope), math.sqrt(float(spread[0, 0]))
    real = abs(change) > expanded
    if not real:
        text = text_of("In {0:.0f} days no change beyond ± {1:.1f} %.", days, expanded)
    elif change < 0:
        text = text_of("In {0:.0f} days the display came to show {1:.1f} % less, ± {2:.1f} %.", days, -change, expanded)
    else:
        text = text_of("In {0:.0f} days the display came to show {1:.1f} % more, ± {2:.1f} %.", days, change, expanded)
    seen = [item.works_from_kmh for item in ordered if item.works_from_kmh is not None]
    later = len(seen) > 1 and seen[-1] > seen[0] + LATER_KMH
    advice: Words = ""
    if later:
        advice = text_of(
            "It works from {0:.1f} km/h on, where it was {1:.1f} km/h: growth, or a stiff bearing. Clean the paddle.",
            seen[-1],
            seen[0],
        )
    elif real and change < 0:
        advice = "Clean the paddle or the speed sensor: growth slows it."
    return Drift(days=days, change_pct=change, expanded_pct=expanded, real=real, text=text, advice=advice)
