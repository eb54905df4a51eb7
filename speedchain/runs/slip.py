"""Slip: the speed of a driven wheel against a reference, false at cruise and true under power, and what to do about
it."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import Words, text_of
from speedchain.results import result
from speedchain.runs.align import SpeedRecord, alike_points, lag_between, on_times, recorded_part
from speedchain.runs.steady import LEAST_KMH

Array = NDArray[np.float64]
EventOfSlip = Literal["spin", "lock"]
GRID_S = 0.1
MOST_POINTS = 400_000
CRUISE_M_S2 = 0.2
LAUNCH_M_S2 = 1.0
LEAST_CRUISE_S = 10.0
MOST_EVENTS = 40
RANGES = 8
NOISE_FACTOR = 3.0
"""A dead band lies beyond false slip by three times the noise. Common practice."""
SHORTEST_SPIN_S = 0.3
LOW_KMH = 25.75
"""16 mph: below it slip of a few per cent is the start of every drive. Common practice."""
SMALL = 3.0
"""Below that speed a spin of less than so many times the threshold decides nothing. Common practice."""
OUTLIERS = 4.0
LOCK_PCT = 10.0
"""A braked wheel rolls so much slower than the road only when it begins to lock. Common practice."""
FALSE_PCT = 0.3
"""From here on false slip is worth a correction of the tyre entry. Common practice."""


@result
class SlipBand:
    """Slip over a band of acceleration [m/s²]: its median and how much nine of ten samples stay below [%]."""

    from_m_s2: float
    to_m_s2: float
    seconds: float
    median_pct: float
    high_pct: float


CRUISE_SLIP_U = 0.1
"""What a driven wheel slips at cruise, and what wheels differ by in bends, standard [points]. Common practice."""


@result
class SlipEvent:
    """A while of more slip than the dead band [s], its highest slip [%], the speeds there and where it began [km/h].

    A spin is faster than the reference, a lock-up slower while it slows down. `seconds`: the time its samples were
    beyond. `counts` is false for a spin that is too short, too small against the false slip's ±, or small at a low
    speed: it decides nothing.
    """

    from_s: float
    to_s: float
    highest_pct: float
    at_kmh: float
    kind: EventOfSlip = "spin"
    counts: bool = True
    seconds: float = 0.0
    from_kmh: float = 0.0


@result
class Slip:
    """Slip of a driven wheel: slip = driven/reference − 1.

    `false_pct` is what stands at cruise, where nothing slips: two circumferences that do not match. `noise_pct` is one
    standard deviation of a sample about it.
    """

    lag_s: float
    cruise_s: float
    false_pct: float
    false_expanded_pct: float
    noise_pct: float
    dead_band_pct: float
    entry_factor: float
    bands: tuple[SlipBand, ...]
    events: tuple[SlipEvent, ...]
    text: Words
    advice: Words
    threshold_pct: float = 0.0

    @property
    def spins(self) -> tuple[SlipEvent, ...]:
        """The spins that decide."""
        return tuple([event for event in self.events if event.kind == "spin" and event.counts])


def slip_of(reference: SpeedRecord, driven: SpeedRecord, *, least_kmh: float = LEAST_KMH) -> Slip | None:
    """Slip over a recording; None where it never cruises.

    False slip is the median of driven/reference − 1 while the acceleration is below 0.2 m/s², with
    u² = (1.2533·s·√(m/n))² + 0.1², the uncertainty of a median of n samples of which m neighbours say the same, and of
    what slips at cruise: the driven wheel against air drag, and the wheels in bends. The dead band is
    |false slip| + 3·noise. A spin comes while it does not slow down; it counts where it is beyond false slip by
    `threshold_pct` = 3·noise + U(false slip), lasts 0.3 s, and below 25.75 km/h is three times the threshold. A lock-up
    is 10 % below false slip while it slows down. Dividing the driven wheel's speed by 1 + false slip makes both match:
    `entry_factor`.

    Parameters
    ----------
    Speeds of a wheel that is not driven (or over ground) and of a driven one; least speed that counts [km/h].

    References
    ----------
    The median's efficiency √(π/2): M. G. Kendall, A. Stuart, The Advanced Theory of Statistics 1, from memory; limits:
    common practice.

    Examples
    --------
    >>> t = np.arange(0.0, 100.0, 0.1)
    >>> v = np.full(t.size, 60.0)
    >>> found = slip_of(SpeedRecord(t, v), SpeedRecord(t, 1.015 * v))
    >>> round(found.false_pct, 2), round(found.entry_factor, 4), found.events
    (1.5, 0.9852, ())
    """
    lag = lag_between(reference, driven)
    lag_s = _lag_while_slowing(reference, driven, lag.lag_s) if lag.found else lag.lag_s
    begins = max(reference.time_s[0], driven.time_s[0] - lag_s)
    ends = min(reference.time_s[-1], driven.time_s[-1] - lag_s)
    step = max(GRID_S, (ends - begins) / MOST_POINTS)
    time_s = np.arange(begins, ends, step)
    if time_s.size < 20:
        return None
    of_reference, of_driven = on_times(reference, time_s), on_times(driven, time_s + lag_s)
    there = np.isfinite(of_reference) & np.isfinite(of_driven) & (of_reference >= least_kmh)
    acceleration = _acceleration(time_s, np.where(np.isfinite(of_reference), of_reference, 0.0))
    with np.errstate(divide="ignore", invalid="ignore"):
        slip_pct = np.where(there, 100 * (of_driven / of_reference - 1), np.nan)
    cruise = there & (np.abs(acceleration) < CRUISE_M_S2)
    if cruise.sum() * step < LEAST_CRUISE_S:
        return None
    at_cruise = slip_pct[cruise]
    false = float(np.median(at_cruise))
    noise = 1.4826 * float(np.median(np.abs(at_cruise - false)))
    u = math.hypot(1.2533 * noise * math.sqrt(alike_points(at_cruise - false) / at_cruise.size), CRUISE_SLIP_U)
    dead = abs(false) + NOISE_FACTOR * noise
    smooth = _smooth(np.nan_to_num(slip_pct, nan=0.0), step)
    threshold = NOISE_FACTOR * noise + 2 * u
    powered = there & (acceleration > -CRUISE_M_S2)  # no wheel spins while the vehicle slows down
    slower = np.where(there & (acceleration < -CRUISE_M_S2), false - slip_pct, 0.0)
    events = [
        *_events(time_s, (np.where(powered, smooth, 0.0), np.where(there, slip_pct, 0.0)), dead, of_reference),
        *_locks(_events(time_s, (slower, slower), max(LOCK_PCT, threshold), of_reference), false),
    ]
    events = [replace(event, counts=_counts(event, false, threshold)) for event in events]
    return Slip(
        lag_s=lag_s,
        cruise_s=float(cruise.sum() * step),
        false_pct=false,
        false_expanded_pct=2 * u,
        noise_pct=noise,
        dead_band_pct=dead,
        entry_factor=1 / (1 + false / 100),
        bands=_bands(acceleration[there], slip_pct[there], step),
        events=tuple(sorted(events, key=lambda event: event.from_s)),
        threshold_pct=threshold,
        text=text_of(
            "False slip {0:+.2f} %, ± {1:.2f} %, over {2:.0f} s at cruise.", false, 2 * u, float(cruise.sum() * step)
        ),
        advice=_advice(false, 2 * u, dead),
    )


def _counts(event: SlipEvent, false: float, threshold: float) -> bool:
    """Whether it is a spin that decides."""
    over = event.highest_pct - false
    small = event.at_kmh < LOW_KMH and over < SMALL * threshold
    return event.kind == "spin" and over > threshold and event.seconds >= SHORTEST_SPIN_S and not small


def _locks(found: tuple[SlipEvent, ...], false: float) -> list[SlipEvent]:
    """What was found of the slip turned over, as it is."""
    return [replace(event, kind="lock", highest_pct=false - event.highest_pct) for event in found]


def _advice(false: float, expanded: float, dead: float) -> Words:
    if abs(false) > max(FALSE_PCT, expanded):
        return text_of(
            "The driven wheel's circumference is {0:.2f} % off against the reference. Multiply its circumference by "
            "{1:.4f} "
            "(or its pulses per km by {2:.4f}), then set the dead band above {3:.1f} %.",
            abs(false),
            1 / (1 + false / 100),
            1 + false / 100,
            dead - abs(false),
        )
    return text_of("The wheels match. Set the dead band above {0:.1f} %.", dead)


def _lag_while_slowing(reference: SpeedRecord, driven: SpeedRecord, lag_s: float) -> float:
    """The lag from the times in which it slows down: under power slip itself looks like a channel that leads."""
    time_s = np.arange(reference.time_s[0], reference.time_s[-1], GRID_S)[:MOST_POINTS]
    of_reference = np.interp(time_s, *recorded_part(reference))
    slowing = _acceleration(time_s, of_reference) < -CRUISE_M_S2
    if slowing.sum() < 20:
        return lag_s
    record = recorded_part(driven)
    for _ in range(6):
        of_driven = np.interp(time_s + lag_s, *record)
        ratio = float(np.median(of_driven[of_reference > LEAST_KMH] / of_reference[of_reference > LEAST_KMH]))
        slope = np.gradient(of_driven, GRID_S)[slowing]
        left = (of_driven - ratio * of_reference)[slowing]
        middle = float(np.median(left))
        usual = np.abs(left - middle) <= OUTLIERS * 1.4826 * float(np.median(np.abs(left - middle))) + 0.1
        slope, left = slope[usual], left[usual]  # without a wheel that locks, or a signal that drops out
        lag_s -= float(np.clip(slope @ left / max(float(slope @ slope), 1e-9), -0.5, 0.5))
    return lag_s


def _acceleration(time_s: Array, kmh: Array) -> Array:
    step = float(time_s[1] - time_s[0])
    return np.asarray(np.gradient(_smooth(kmh, step), step) / 3.6)


def _smooth(values: Array, step: float) -> Array:
    """The mean over a second."""
    from scipy.ndimage import uniform_filter1d

    return np.asarray(uniform_filter1d(values, max(round(1.0 / step), 1), mode="nearest"))


def _bands(acceleration: Array, slip_pct: Array, step: float) -> tuple[SlipBand, ...]:
    most = float(np.quantile(acceleration, 0.999)) if acceleration.size else 0.0
    if most <= CRUISE_M_S2:
        return ()
    edges = np.linspace(0, most, RANGES + 1)
    found = []
    for low, high in itertools.pairwise(edges):
        here = slip_pct[(acceleration >= low) & (acceleration < high)]
        if here.size * step < 0.5:
            continue
        found.append(
            SlipBand(
                from_m_s2=float(low),
                to_m_s2=float(high),
                seconds=float(here.size * step),
                median_pct=float(np.median(here)),
                high_pct=float(np.quantile(here, 0.9)),
            )
        )
    return tuple(found)


def _events(time_s: Array, slip: tuple[Array, Array], dead: float, kmh: Array) -> tuple[SlipEvent, ...]:
    """Whiles of more slip, smoothed, than the dead band; how long is counted of the samples themselves."""
    slip_pct, sampled = slip
    step = float(time_s[1] - time_s[0])
    beyond = slip_pct > dead
    edges = np.flatnonzero(np.diff(np.concatenate([[False], beyond, [False]]).astype(int)))
    found = []
    for begin, end in zip(edges[::2], edges[1::2], strict=True):
        if time_s[end - 1] - time_s[begin] < 0.2:
            continue
        top = begin + int(np.argmax(slip_pct[begin:end]))
        found.append(
            SlipEvent(
                from_s=float(time_s[begin]),
                to_s=float(time_s[end - 1]),
                highest_pct=float(slip_pct[top]),
                at_kmh=float(kmh[top]),
                from_kmh=float(kmh[begin]),
                seconds=step * int(np.count_nonzero(sampled[begin:end] > dead)),
            )
        )
    found.sort(key=lambda event: -event.highest_pct)
    return tuple(sorted(found[:MOST_EVENTS], key=lambda event: event.from_s))
