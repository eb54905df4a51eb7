"""Coast-down: what a vehicle that rolls freely loses, for a dragging brake and for the setting of a roller."""

from __future__ import annotations

import itertools
import math

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import Words, text_of
from speedchain.results import result
from speedchain.runs.align import SpeedRecord, on_times
from speedchain.uncertainty import student_factor

Array = NDArray[np.float64]
GRID_S = 0.2
SMOOTH_S = 3.0
LEAST_RUN_S = 15.0
LEAST_FALL_KMH = 8.0
MOST_LOSS_M_S2 = 0.9
"""A vehicle that loses more brakes. Common practice."""
LEAST_KMH = 4.0
EDGE_S = 1.5
STEP_KMH = 10.0
GRAVITY_M_S2 = 9.80665
FRICTION_M_S2 = 0.25
"""A higher loss at no speed speaks for a brake or a bearing that drags. Common practice."""


@result
class CoastRun:
    """One run [s], from and to a speed [km/h], and what it says of the constant loss [m/s²]."""

    from_s: float
    to_s: float
    from_kmh: float
    to_kmh: float
    constant_m_s2: float


@result
class CoastTime:
    """How long it takes from a speed to a lower one [km/h], [s]."""

    from_kmh: float
    to_kmh: float
    seconds: float


@result
class CoastDown:
    """Loss of speed while it rolls: −dv/dt = a + c·v² [m/s², 1/m]; `rolling` is a over gravity.

    `times` go from each round speed to the next lower one.
    """

    runs: tuple[CoastRun, ...]
    constant_m_s2: float
    expanded_m_s2: float
    drag_per_m: float
    rolling: float
    times: tuple[CoastTime, ...]
    text: Words
    advice: Words


def coast_down(record: SpeedRecord) -> CoastDown | None:
    """Runs in which it rolls freely, and the loss that fits them all; None where there is none.

    A run is a while of at least 15 s in which the speed falls without a break by 8 km/h and more, at less than 0.9
    m/s². v(t) = √(a/c)·tan(arctan(v₀·√(c/a)) − √(a·c)·t) is fitted to all runs by least squares, with one c and an a of
    each: its mean over runs there and back is free of slope and wind; ± from their scatter, with Student's factor.

    Parameters
    ----------
    A speed [km/h].

    References
    ----------
    The solution of −dv/dt = a + c·v²: any textbook of mechanics; limits: common practice.

    Examples
    --------
    >>> t = np.arange(0.0, 60.0, 0.5)
    >>> k = math.sqrt(0.15 * 4e-4)
    >>> v = math.sqrt(0.15 / 4e-4) * np.tan(math.atan(20 * math.sqrt(4e-4 / 0.15)) - k * t)
    >>> found = coast_down(SpeedRecord(t, 3.6 * v))
    >>> round(found.constant_m_s2, 3), round(found.drag_per_m, 5)
    (0.15, 0.0004)
    """
    runs = _runs(record)
    if not runs:
        return None
    single, drag, starts = _fitted(runs)
    constant = float(np.mean(single))
    if len(runs) > 1:
        expanded = student_factor(len(runs) - 1) * float(np.std(single, ddof=1)) / math.sqrt(len(runs))
    else:
        expanded = constant  # one direction says nothing of slope and wind
    return CoastDown(
        runs=tuple(
            [
                CoastRun(
                    from_s=float(time_s[0]),
                    to_s=float(time_s[-1]),
                    from_kmh=float(kmh[0]),
                    to_kmh=float(kmh[-1]),
                    constant_m_s2=float(a),
                )
                for (time_s, kmh), a in zip(runs, single, strict=True)
            ]
        ),
        constant_m_s2=constant,
        expanded_m_s2=expanded,
        drag_per_m=drag,
        rolling=constant / GRAVITY_M_S2,
        times=_times(constant, drag, max(starts), min(float(kmh[-1]) / 3.6 for _, kmh in runs)),
        text=text_of(
            "Rolling freely it loses {0:.3f} m/s² (± {1:.2g}) and {2:.2g} 1/m times the speed squared.",
            constant,
            expanded,
            drag,
        ),
        advice=_advice(len(runs), constant),
    )


def _runs(record: SpeedRecord) -> list[tuple[Array, Array]]:
    """Whiles in which the speed falls evenly, without the first and the last moment."""
    from scipy.ndimage import uniform_filter1d

    if record.time_s.size < 3:
        return []
    step = max(GRID_S, float(record.time_s[-1] - record.time_s[0]) / 400_000)
    time_s = np.arange(record.time_s[0], record.time_s[-1], step)
    kmh = on_times(record, time_s)
    if time_s.size < 3:
        return []
    smooth = uniform_filter1d(np.nan_to_num(kmh), max(round(SMOOTH_S / step), 1), mode="nearest")
    loss = -np.gradient(smooth, step) / 3.6
    rolls = (loss > 0) & (loss < MOST_LOSS_M_S2) & (smooth > LEAST_KMH) & np.isfinite(kmh)
    edges = np.flatnonzero(np.diff(np.concatenate([[False], rolls, [False]]).astype(int)))
    found = []
    trim = round(EDGE_S / step)
    for begin, end in zip(edges[::2] + trim, edges[1::2] - trim, strict=True):
        if (end - begin) * step >= LEAST_RUN_S and smooth[begin] - smooth[end - 1] >= LEAST_FALL_KMH:
            found.append((time_s[begin:end], kmh[begin:end]))
    return found


def _rolled(start_m_s: float, constant: float, drag: float, seconds: Array) -> Array:
    root = math.sqrt(drag / constant)
    angle = np.maximum(math.atan(start_m_s * root) - math.sqrt(constant * drag) * seconds, 0.0)
    return np.asarray(np.tan(angle) / root)


def _fitted(runs: list[tuple[Array, Array]]) -> tuple[list[float], float, list[float]]:
    """The constant of every run, the drag common to all, and where each begins [m/s]: logarithms, so that none is
    negative."""
    from scipy.optimize import least_squares

    begins = [float(kmh[0]) / 3.6 for _, kmh in runs]
    count = len(runs)

    def left(unknown: Array) -> Array:
        drag = math.exp(unknown[0])
        return np.concatenate(
            [
                _rolled(start, math.exp(constant), drag, time_s - time_s[0]) - kmh / 3.6
                for constant, start, (time_s, kmh) in zip(
                    unknown[1 : count + 1], unknown[count + 1 :], runs, strict=True
                )
            ]
        )

    means = [float((kmh[0] - kmh[-1]) / 3.6 / (time_s[-1] - time_s[0])) for time_s, kmh in runs]
    first = [
        math.log(max(min(means) * 0.4 / max(begins) ** 2, 1e-6)),
        *[math.log(0.6 * mean) for mean in means],
        *begins,
    ]
    low = np.array([math.log(1e-8), *[math.log(1e-4)] * count, *[0.0] * count])
    high = np.array([math.log(0.1), *[math.log(2.0)] * count, *[300.0] * count])
    found = least_squares(left, np.clip(first, low + 1e-6, high - 1e-6), bounds=(low, high))
    constants = [math.exp(value) for value in found.x[1 : count + 1]]
    return constants, math.exp(found.x[0]), [float(value) for value in found.x[count + 1 :]]


def _times(constant: float, drag: float, start: float, end: float) -> tuple[CoastTime, ...]:
    """Seconds from each round speed [km/h] to the next lower one: t = (arctan(v₁·r) − arctan(v₂·r))/√(a·c)."""
    root, both = math.sqrt(drag / constant), math.sqrt(constant * drag)
    speeds = np.arange(math.floor(start * 3.6 / STEP_KMH) * STEP_KMH, end * 3.6, -STEP_KMH)
    return tuple(
        [
            CoastTime(
                from_kmh=float(high),
                to_kmh=float(low),
                seconds=(math.atan(high / 3.6 * root) - math.atan(low / 3.6 * root)) / both,
            )
            for high, low in itertools.pairwise(speeds)
        ]
    )


def _advice(runs: int, constant: float) -> Words:
    if runs < 2:
        return "One run does not cancel slope and wind: roll the same stretch the other way as well."
    if constant > FRICTION_M_S2:
        return "That is high: look for a dragging brake, a tight bearing, or a magnet or pad that rubs."
    return ""
