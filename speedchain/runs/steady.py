"""The parts of a drive that prove something: steady, straight, with a good fix. What is left out has a reason."""

from __future__ import annotations

import itertools
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from speedchain.results import result

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]
Reason = Literal["not_recorded", "slow", "speed_changes", "turn", "poor_fix", "short", "by_hand"]
LEAST_KMH = 10.0
MOST_ACCELERATION_M_S2 = 0.25
MOST_TURN_DEG_S = 3.0
MOST_ACCURACY_M = 10.0
LEAST_S = 4.0
SMOOTH_S = 2.0
"""Limits of a steady, straight part with a good fix. Common practice."""


@result
class DrivePart:
    """A part of the recording [s], and why it is left out; `reason` is None where it is used."""

    from_s: float
    to_s: float
    reason: Reason | None


def parts_of(
    time_s: Array,
    true_kmh: Array,
    shown_kmh: Array,
    *,
    course_deg: Array | None = None,
    accuracy_m: Array | None = None,
    left_out: tuple[tuple[float, float], ...] = (),
    used: tuple[tuple[float, float], ...] = (),
    least_kmh: float = LEAST_KMH,
    most_acceleration_m_s2: float = MOST_ACCELERATION_M_S2,
) -> tuple[DrivePart, ...]:
    """The whole recording in parts, one after the other, each used or left out for the first reason that holds.

    Parameters
    ----------
    Times [s]; true and shown speed at them [km/h]; course [°] and accuracy of the fix [m], where recorded; spans [s]
    that a person left out, or uses whatever the rules say.

    Examples
    --------
    >>> t = np.arange(0.0, 60.0, 1.0)
    >>> v = np.interp(t, [0, 20, 60], [0, 60, 60])
    >>> [(part.from_s, part.to_s, part.reason) for part in parts_of(t, v, v)]
    [(0.0, 4.0, 'slow'), (4.0, 21.0, 'speed_changes'), (21.0, 59.0, None)]
    """
    from scipy.ndimage import uniform_filter1d

    if time_s.size < 2:
        return ()
    there = np.isfinite(true_kmh)
    if not there.any():
        return (DrivePart(from_s=float(time_s[0]), to_s=float(time_s[-1]), reason="not_recorded"),)
    step = float(np.median(np.diff(time_s)))
    whole = np.interp(time_s, time_s[there], true_kmh[there])  # a lost sample must not hide a change of speed
    # the speed over a while before and after, so that noise of single fixes is no acceleration
    back, on = np.interp(time_s - SMOOTH_S / 2, time_s, whole), np.interp(time_s + SMOOTH_S / 2, time_s, whole)
    width = np.minimum(time_s + SMOOTH_S / 2, time_s[-1]) - np.maximum(time_s - SMOOTH_S / 2, time_s[0])
    if step < SMOOTH_S:
        size = max(round(SMOOTH_S / step), 1)
        smooth = uniform_filter1d(whole, size, mode="nearest")
        back = np.interp(time_s - SMOOTH_S / 2, time_s, smooth)
        on = np.interp(time_s + SMOOTH_S / 2, time_s, smooth)
    changes = np.abs(on - back) / 3.6 / np.maximum(width, step) > most_acceleration_m_s2
    reasons = np.full(time_s.size, -1)
    order: tuple[tuple[Reason, Flags | None], ...] = (
        ("not_recorded", ~(np.isfinite(true_kmh) & np.isfinite(shown_kmh))),
        ("poor_fix", None if accuracy_m is None else accuracy_m > MOST_ACCURACY_M),
        ("slow", true_kmh < least_kmh),
        ("turn", None if course_deg is None else _turns(time_s, course_deg)),
        ("speed_changes", changes),
    )
    names: list[Reason] = [name for name, _ in order]
    for place in range(len(order) - 1, -1, -1):
        flags = order[place][1]
        if flags is not None:
            reasons[flags] = place
    for begin, end in used:
        reasons[(time_s >= begin) & (time_s <= end) & (reasons != 0)] = -1
    for begin, end in left_out:
        reasons[(time_s >= begin) & (time_s <= end)] = len(names)
    names += ["by_hand", "short"]
    edges = np.concatenate([[0], np.flatnonzero(np.diff(reasons)) + 1, [time_s.size]])
    for begin, end in itertools.pairwise(edges):
        by_hand = any(low <= time_s[begin] and time_s[end - 1] <= high for low, high in used)
        if reasons[begin] == -1 and time_s[end - 1] - time_s[begin] < LEAST_S and not by_hand:
            reasons[begin:end] = len(names) - 1
    edges = np.concatenate([[0], np.flatnonzero(np.diff(reasons)) + 1, [time_s.size]])
    return tuple(
        [
            DrivePart(
                from_s=float(time_s[begin]),
                to_s=float(time_s[min(end, time_s.size - 1)]),
                reason=None if reasons[begin] < 0 else names[reasons[begin]],
            )
            for begin, end in itertools.pairwise(edges)
        ]
    )


def _turns(time_s: Array, course_deg: Array) -> Flags:
    ahead = np.unwrap(np.radians(np.where(np.isfinite(course_deg), course_deg, 0)))
    back, on = np.interp(time_s - 1, time_s, ahead), np.interp(time_s + 1, time_s, ahead)
    width = np.maximum(np.minimum(time_s + 1, time_s[-1]) - np.maximum(time_s - 1, time_s[0]), 1e-9)
    return np.asarray(np.degrees(np.abs(on - back)) / width > MOST_TURN_DEG_S)
