"""Two recordings laid over each other: by how much the second is shifted so that both are in one time."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import InputError, Words, text_of
from speedchain.results import result
from speedchain.runs.align import SpeedRecord

Array = NDArray[np.float64]
AlignedBy = Literal["begin", "clock", "launch", "speed"]
STANDS_KMH, GOES_KMH = 3.0, 10.0
"""Below the first it stands, above the second it goes. Common practice."""
GRID_S = 0.2
MOST_POINTS = 200_000
LEAST_SHARED = 0.3
"""Of the shorter one at least so much lies over the other. Common practice."""
LEAST_S = 10.0


@result
class LaidOver:
    """What to add to a time of the second recording to have the first one's [s], each from its own beginning; how much
    the two speeds differ there, as root of the mean square [km/h], None where only the beginnings are known."""

    shift_s: float
    differ_kmh: float | None
    text: Words


def laid_over(first: SpeedRecord, second: SpeedRecord, by: AlignedBy) -> LaidOver:
    """The shift that lays a second recording over a first one.

    `begin`: none. `clock`: by the times of day. `launch`: where each first goes (10 km/h) after it stood (3 km/h), or
    first goes at all. `speed`: arg min over the shift τ of the mean of (v₁(t) − v₂(t − τ))² over what both have, at
    least 0.3 of the shorter one, by one Fourier transform.

    Parameters
    ----------
    Times [s] and speeds [km/h] of both, as they were recorded.

    Raises
    ------
    `InputError` where one of them never goes, is shorter than 10 s (`speed`), or lies nowhere near (`clock`).

    Examples
    --------
    >>> t = np.arange(0.0, 120.0, 0.2)
    >>> v = np.clip(t - 20, 0, 60)
    >>> later = SpeedRecord(1000 + t, np.clip(t - 5, 0, 60))
    >>> [round(laid_over(SpeedRecord(t, v), later, by).shift_s, 1) for by in ("begin", "launch", "speed")]
    [0.0, 15.0, 15.0]
    """
    one, two = _plain(first), _plain(second)
    if by == "begin":
        shift = 0.0
    elif by == "clock":
        shift = float(second.time_s[0] - first.time_s[0])
        if not -two.time_s[-1] < shift < one.time_s[-1]:
            raise _refused("The two were not recorded at the same time.", "Lay them over each other by the launch.")
    elif by == "launch":
        shift = _launch(one) - _launch(two)
    else:
        shift = _alike(one, two)
    differ = _differ(one, two, shift)
    return LaidOver(
        shift_s=shift,
        differ_kmh=differ,
        text=text_of("Shifted by {0:+.1f} s.", shift)
        if differ is None
        else text_of("Shifted by {0:+.1f} s; there the two speeds differ by {1:.1f} km/h (rms).", shift, differ),
    )


def _refused(what: Words, remedy: Words) -> InputError:
    return InputError(what, remedy=remedy, path="by")


def _plain(record: SpeedRecord) -> SpeedRecord:
    """Where there is a speed, in time from the record's beginning."""
    there = np.isfinite(record.kmh)
    if there.sum() < 2:
        raise InputError("This recording holds no speed.", remedy="Choose another one.", path="other")
    return SpeedRecord(record.time_s[there] - record.time_s[0], record.kmh[there])


def _launch(record: SpeedRecord) -> float:
    goes = record.kmh >= GOES_KMH
    if not goes.any():
        raise _refused(
            text_of("One of the recordings never reaches {0:g} km/h.", GOES_KMH), "Lay them over each other by time."
        )
    stood = np.flatnonzero(record.kmh < STANDS_KMH)
    first = int(np.argmax(goes))
    if stood.size and (later := np.flatnonzero(goes[stood[0] :])).size:
        first = int(stood[0] + later[0])
    if first == 0:
        return float(record.time_s[0])
    between = slice(first - 1, first + 1)
    return float(np.interp(GOES_KMH, record.kmh[between], record.time_s[between]))


def _alike(one: SpeedRecord, two: SpeedRecord) -> float:
    from scipy.signal import correlate

    shorter = min(one.time_s[-1], two.time_s[-1])
    if shorter < LEAST_S:
        raise _refused(text_of("One of the recordings is shorter than {0:g} s.", LEAST_S), "Lay them over by time.")
    step = max(GRID_S, max(one.time_s[-1], two.time_s[-1]) / MOST_POINTS)
    a, b = (np.interp(np.arange(0, record.time_s[-1], step), *record) for record in (one, two))
    ones_a, ones_b = np.ones(a.size), np.ones(b.size)
    shared = correlate(ones_a, ones_b, method="fft")
    squares = correlate(a**2, ones_b, method="fft") + correlate(ones_a, b**2, method="fft")
    with np.errstate(divide="ignore", invalid="ignore"):
        differ = (squares - 2 * correlate(a, b, method="fft")) / shared
    differ[shared < LEAST_SHARED * shorter / step] = np.inf
    return float((int(np.argmin(differ)) - (b.size - 1)) * step)


def _differ(one: SpeedRecord, two: SpeedRecord, shift: float) -> float | None:
    begin, end = max(0.0, shift), min(one.time_s[-1], two.time_s[-1] + shift)
    if end - begin < 1:
        return None
    at = np.linspace(begin, end, min(int((end - begin) / GRID_S) + 2, MOST_POINTS))
    off = np.interp(at, *one) - np.interp(at - shift, *two)
    return float(np.sqrt(np.mean(off**2)))
