"""Two clocks brought together: by how much one record of the speed is behind another."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from speedchain.results import result

Array = NDArray[np.float64]
GRID_S = 0.1
MOST_POINTS = 200_000
SMOOTHED = 5
MOST_LAG_S = 30.0
LONGEST_GAP_S = 3.0
"""What is recorded so far apart says nothing of what was between."""
ENOUGH = 0.5
"""Correlation of the changes of speed from which two records are taken for the same drive. Common practice."""


class SpeedRecord(NamedTuple):
    """One record of a speed: times [s] that rise, and speeds [km/h]; NaN where nothing was recorded."""

    time_s: Array
    kmh: Array


@result
class Lag:
    """How far the shown speed is behind the true one [s], its standard uncertainty [s], how alike their changes are (0
    to 1).

    `found` is false where the speed hardly changes, or changes otherwise: then the lag is taken as zero.
    """

    lag_s: float
    u_s: float
    likeness: float
    found: bool


def recorded_part(record: SpeedRecord) -> SpeedRecord:
    """The samples of a record that hold something."""
    there = np.isfinite(record.kmh)
    return record if there.all() else SpeedRecord(record.time_s[there], record.kmh[there])


def on_times(record: SpeedRecord, times_s: Array) -> Array:
    """A record at other times, which do not fall; nothing where it has a gap."""
    time_s, kmh = recorded_part(record)
    if time_s.size < 2:
        return np.full(times_s.size, np.nan)
    values = np.interp(times_s, time_s, kmh, left=np.nan, right=np.nan)
    steps = np.diff(time_s)
    gaps = np.flatnonzero(steps > max(LONGEST_GAP_S, 3 * float(np.median(steps))))
    first, last = np.searchsorted(times_s, time_s[gaps], side="right"), np.searchsorted(times_s, time_s[gaps + 1])
    for begin, end in zip(first, last, strict=True):
        values[begin:end] = np.nan
    return np.asarray(values)


def lag_between(true: SpeedRecord, shown: SpeedRecord, most_s: float = MOST_LAG_S) -> Lag:
    """The lag that makes two records of a speed most alike.

    τ = arg max ρ(true′(t), shown′(t + τ)), the correlation of the changes of speed over a grid, then refined by
    Gauss-Newton on Σ(shown(t + τ) − r·true(t))². u(τ) = s·√m/√Σ shown′², with s the residual's scatter and m how many
    neighbouring points are alike.

    Parameters
    ----------
    Two records; the largest lag to look for [s]. What lies in a gap of one of them says nothing.

    Examples
    --------
    >>> t = np.arange(0, 120, 0.2)
    >>> speed = 50 + 20 * np.sin(t / 8)
    >>> found = lag_between(SpeedRecord(t, speed), SpeedRecord(t + 1.3, speed))
    >>> round(found.lag_s, 2), found.found
    (1.3, True)

    References
    ----------
    C. H. Knapp, G. C. Carter, IEEE Transactions on Acoustics 24 (1976), 320 (correlation of two records), from memory.
    """
    from scipy.signal import correlate

    true, shown = recorded_part(true), recorded_part(shown)
    nothing = Lag(lag_s=0.0, u_s=0.0, likeness=0.0, found=False)
    if min(true.time_s.size, shown.time_s.size) < 2:
        return nothing
    begins, ends = min(true.time_s[0], shown.time_s[0]), max(true.time_s[-1], shown.time_s[-1])
    step = max(GRID_S, (ends - begins) / MOST_POINTS)
    grid = np.arange(begins, ends, step)
    if grid.size < 20:
        return nothing
    of_true, of_shown = _changes(grid, true), _changes(grid, shown)
    size = math.sqrt(float(of_true @ of_true) * float(of_shown @ of_shown))
    if size <= 0:
        return nothing
    most = min(round(most_s / step), grid.size - 1)
    alike = correlate(of_shown, of_true, mode="full", method="fft")[grid.size - 1 - most : grid.size + most] / size
    best = int(np.argmax(alike))
    likeness = float(alike[best])
    if likeness < ENOUGH:
        return Lag(lag_s=0.0, u_s=0.0, likeness=max(likeness, 0.0), found=False)
    lag, u = _refined((best - most) * step, grid, true, shown)
    return Lag(lag_s=lag, u_s=u, likeness=min(likeness, 1.0), found=True)


def _changes(grid: Array, record: SpeedRecord) -> Array:
    """Changes of speed over the grid; none outside of the record, nor in its gaps."""
    steps = np.gradient(_smooth(np.interp(grid, *record), SMOOTHED))
    steps[_smooth(np.isnan(on_times(record, grid)).astype(float), SMOOTHED) > 0] = 0
    return np.asarray(steps - steps.mean())


def _smooth(values: Array, over: int) -> Array:
    return np.asarray(np.convolve(np.pad(values, over // 2, mode="edge"), np.ones(over) / over, mode="valid"))


def _refined(lag: float, grid: Array, true_of: SpeedRecord, shown_of: SpeedRecord) -> tuple[float, float]:
    step = grid[1] - grid[0]
    u = math.inf
    for _ in range(8):
        true, shown = on_times(true_of, grid), on_times(shown_of, grid + lag)
        inside = np.isfinite(true) & np.isfinite(shown)
        if inside.sum() < 20:
            break
        true, shown = true[inside], shown[inside]
        slope = np.gradient(_smooth(shown, SMOOTHED), step)
        ratio = float(true @ shown / (true @ true))
        left = shown - ratio * true
        steep = float(slope @ slope)
        if steep <= 0:
            break
        moved = -float(slope @ left) / steep
        lag += float(np.clip(moved, -step, step))
        u = float(np.std(left)) * math.sqrt(alike_points(left) / steep)
        if abs(moved) < step / 100:
            break
    return lag, u


def alike_points(values: Array, per_mean: float = math.inf) -> float:
    """How many neighbouring samples say the same: (1 + ρ)/(1 − ρ) of a first-order process, at least 1.

    A mean taken from every so many samples (`per_mean`) hides some of what they share: ρ is too small by (1 + 3ρ)/n.

    Examples
    --------
    >>> alike_points(np.array([1.0, -1.0] * 50))
    1.0

    References
    ----------
    C. J. Geyer, Statistical Science 7 (1992), 473: variance of a mean of a correlated series; M. G. Kendall, Biometrika
    41 (1954), 403: the bias of ρ. From memory.
    """
    from_mean = values - values.mean()
    power = float(from_mean @ from_mean)
    if values.size < 3 or power <= 0:
        return 1.0
    rho = float(from_mean[1:] @ from_mean[:-1]) / power
    if rho > 0:
        rho += (1 + 3 * rho) / per_mean
    rho = min(max(rho, 0.0), 0.98)
    return (1 + rho) / (1 - rho)
