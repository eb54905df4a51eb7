"""The raw signal as a scope would show it, and the edges a comparator makes of it.

One function for every kind of target; vectorised and seeded. Used by the drawings of placement, and by all that
reads signals.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import InputError, text_of

Array = NDArray[np.float64]
MOST_SAMPLES = 4_000_000


@dataclass(frozen=True, slots=True)
class Pulses:
    """What one turn of the target looks like to the sensor.

    `amplitude` 1 is the signal with all in its middle; thresholds are in the same unit. Pulses are sines
    (teeth, poles) unless `width_deg` gives the width of one magnet's pulse at half its height, or `profile` its
    very shape over parts of a turn.
    """

    count: int
    missing: tuple[int, ...] = ()
    width_deg: float = 0.0
    profile_turns: tuple[float, ...] = ()
    profile: tuple[float, ...] = ()
    angle_errors_deg: tuple[float, ...] = ()
    amplitude: float = 1.0
    grows_with_speed_hz: float = 0.0
    runout_mm: float = 0.0
    pitch_mm: float = 0.0
    noise: float = 0.0
    bounce_s: float = 0.0
    threshold: float = 0.0
    hysteresis: float = 0.2

    @property
    def single(self) -> bool:
        """Whether single magnets pass, not teeth or poles in a row."""
        return bool(self.width_deg or self.profile)


@dataclass(frozen=True, slots=True)
class Waveform:
    """Time [s], turns of the target, raw signal, and the times at which the counted edge rises [s]."""

    time_s: Array
    turns: Array
    raw: Array
    rising_s: Array


def waveform(
    pulses: Pulses, times_s: Array, *, turns_per_s: Array | float, seed: int = 0, start_turns: float = 0.0
) -> Waveform:
    """Raw signal and edges over a speed profile.

    turns(t) = ∫ n dt (trapezium). Teeth: raw = A(turn)·sin(2π·N·turns); magnets: a bell of half-height width w
    at each. Runout modulates the amplitude by exp(−2π·(TIR/2)·cos(2π·turns)/p); a missing tooth leaves the low
    level of a gap; noise is normal with the given standard deviation. A comparator with hysteresis makes edges;
    bounce adds false ones within `bounce_s` of each.

    Parameters
    ----------
    `pulses`; `times_s`, increasing, n samples [s]; `turns_per_s`, n values or one [1/s]; `seed`; the turn at which
    it starts (with runout the gap is widest at 0).

    Raises
    ------
    `InputError` beyond four million samples.

    References
    ----------
    Spacing loss for the runout (Wallace 1951, from memory); the rest plain simulation. The first edge of 480 rises
    before there is a low to rise from:

    Examples
    --------
    >>> result = waveform(Pulses(count=48), np.linspace(0, 1, 48_001), turns_per_s=10.0)
    >>> len(result.rising_s)
    479
    """
    if times_s.size > MOST_SAMPLES:
        raise InputError(
            text_of("{0} samples are more than the limit.", times_s.size),
            remedy="Use a shorter time or fewer samples per second.",
            limit=text_of("at most {0}", MOST_SAMPLES),
            value=times_s.size,
            path="samples",
        )
    if np.ndim(turns_per_s) == 0:
        turns = (times_s - times_s[0]) * float(turns_per_s) + start_turns
    else:
        rate = np.asarray(turns_per_s, dtype=float)
        turns = np.empty_like(times_s)
        turns[0] = 0.0
        steps = np.diff(times_s)
        steps *= rate[1:] + rate[:-1]
        steps /= 2
        np.cumsum(steps, out=turns[1:])
        turns += start_turns
    raw = raw_signal(pulses, turns, turns_per_s, seed)
    edges = rising_s(times_s, raw, pulses.threshold, pulses.hysteresis)
    if pulses.bounce_s:
        edges = bounced(edges, pulses.bounce_s, seed)
    return Waveform(times_s, turns, raw, edges)


def raw_signal(pulses: Pulses, turns: Array, turns_per_s: Array | float, seed: int = 0) -> Array:
    """The raw signal at places of the turn, for `waveform` and for all that samples by place and not by time.

    Parameters
    ----------
    `pulses`; turns of the target, n; speed there, n or one [1/s]; `seed` of the noise.

    Returns
    -------
    N values.

    Examples
    --------
    >>> raw_signal(Pulses(count=4), np.array([0.0, 0.0625, 0.1875]), 1.0).round(6).tolist()
    [0.0, 1.0, -1.0]
    """
    raw = _shape(pulses, turns)
    if pulses.runout_mm and pulses.pitch_mm:
        depth = math.pi * pulses.runout_mm / pulses.pitch_mm
        swing = 2 * math.pi * turns
        np.cos(swing, out=swing)
        swing *= -depth
        raw *= np.exp(swing, out=swing)
    if pulses.grows_with_speed_hz:
        raw *= np.asarray(turns_per_s) * pulses.count / pulses.grows_with_speed_hz
    if pulses.amplitude != 1.0:
        raw *= pulses.amplitude
    if pulses.missing:
        _without(pulses, turns, raw)
    if pulses.noise:
        noise = np.random.default_rng(seed).standard_normal(raw.size, dtype=np.float32)
        noise *= pulses.noise
        raw += noise
    return raw


def _shape(pulses: Pulses, turns: Array) -> Array:
    """Sine of teeth, or bells of magnets, before everything else."""
    phase = turns * pulses.count
    if pulses.angle_errors_deg:
        shifts = np.resize(np.asarray(pulses.angle_errors_deg, dtype=float), pulses.count) / 360
        at = np.arange(pulses.count) / pulses.count + shifts
        grid = np.concatenate([at, [at[0] + 1]])
        whole = np.floor(turns - at[0])
        phase = np.interp(turns - whole, grid, np.arange(pulses.count + 1.0)) + whole * pulses.count
    if not pulses.single:
        phase *= 2 * math.pi
        return np.sin(phase, out=phase)
    off = phase - np.rint(phase)
    if pulses.profile:
        return np.interp(off / pulses.count, pulses.profile_turns, pulses.profile)
    narrow = off * (360 / pulses.count / pulses.width_deg * 2 * math.sqrt(math.log(2)))
    np.square(narrow, out=narrow)
    np.negative(narrow, out=narrow)
    return np.exp(narrow, out=narrow)


def _without(pulses: Pulses, turns: Array, raw: Array) -> None:
    """Put the low level of a gap where a tooth is missing."""
    if turns.size == 0:
        return
    low = 0.0 if pulses.single else -0.5 * pulses.amplitude
    middle = 0.5 if pulses.single else 0.0
    whole = np.arange(math.floor(turns[0]) - 1, math.ceil(turns[-1]) + 1)
    for place in pulses.missing:
        starts = np.searchsorted(turns, whole + (place - middle) / pulses.count)
        ends = np.searchsorted(turns, whole + (place + 1 - middle) / pulses.count)
        lengths = ends - starts
        first = np.cumsum(lengths) - lengths
        raw[np.arange(int(lengths.sum())) - np.repeat(first - starts, lengths)] = low


def rising_s(times_s: Array, raw: Array, threshold: float, hysteresis: float) -> Array:
    """When a comparator with hysteresis goes high: straight between the samples before and after [s].

    Examples
    --------
    >>> rising_s(np.array([0.0, 1.0, 2.0]), np.array([-1.0, 0.0, 1.0]), 0.0, 1.0).tolist()
    [1.5]
    """
    upper = threshold + hysteresis / 2
    above = raw >= upper
    known = np.flatnonzero(above | (raw < threshold - hysteresis / 2))
    state = above[known]
    at = known[np.flatnonzero(state[1:] & ~state[:-1]) + 1]
    before = raw[at - 1]
    return np.asarray(times_s[at - 1] + (upper - before) / (raw[at] - before) * (times_s[at] - times_s[at - 1]))


def conditioned(raw: Array, threshold: float, hysteresis: float) -> NDArray[np.bool_]:
    """State of a comparator with hysteresis at every sample; low until it has been high.

    Examples
    --------
    >>> conditioned(np.array([0.0, 1.0, 0.05, -1.0, -0.05]), 0.0, 0.2).tolist()
    [False, True, True, False, False]
    """
    above, below = raw >= threshold + hysteresis / 2, raw < threshold - hysteresis / 2
    last = np.maximum.accumulate(np.where(above | below, np.arange(raw.size), 0))
    return above[last]


def bounced(edges: Array, bounce_s: float, seed: int) -> Array:
    """Each closing of a contact with one to three false edges behind it.

    Examples
    --------
    >>> bool(1 < bounced(np.array([0.0, 1.0]), 0.001, 0).size / 2 <= 4)
    True
    """
    random = np.random.default_rng(seed + 1)
    extra = random.integers(1, 4, edges.size)
    false = np.repeat(edges, extra) + random.uniform(0, bounce_s, int(extra.sum()))
    return np.sort(np.concatenate([edges, false]))
