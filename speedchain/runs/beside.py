"""What else was recorded while a signal failed: supply, vibration and engine beside the events of its health."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import Words, text_of
from speedchain.results import result
from speedchain.runs.recording import Channel

Array = NDArray[np.float64]
APART_S = 2.0
"""Events that follow each other within this are one."""
AROUND_S = 0.5
"""A channel that is recorded seldom counts within so much of an event."""
LEAST_EVENTS = 4
TENTH = 0.1
CHANCE = 0.001
"""So rarely chance alone brings the events together with a tenth of a channel's values. Common practice."""
MOST_FOUND = 6
_SUPPLY = re.compile(r"volt|battery|supply|\bV\b", re.IGNORECASE)
_SHAKING = re.compile(r"vibr|shak|accel|\bg\b|knock", re.IGNORECASE)


@result
class Beside:
    """A channel that was at its lowest or highest tenth while the signal failed: at how many of the events, from which
    value on, in words and what to do."""

    channel: str
    low: bool
    together: int
    events: int
    limit: float
    chance: float
    text: Words
    advice: Words


def beside(events: Sequence[tuple[float, float]], moving: Array, others: Sequence[Channel]) -> tuple[Beside, ...]:
    """Channels that stand out while events happen.

    Events within 2 s are one. Of each other channel the lowest and the highest tenth of its values while the vehicle
    moves are the limits; k of n events lie beyond one of them with P = Σ_{i≥k} C(n, i)·0.1ⁱ·0.9ⁿ⁻ⁱ by chance; those
    below 0.001, counted for all that were tried, are named, the rarest first.

    Parameters
    ----------
    Events from and to [s], four and more; times at which it moved [s]; the other channels.

    Examples
    --------
    >>> t = np.arange(0.0, 600.0, 0.5)
    >>> volts = np.where(t % 60 < 4, 11.0, 13.8) + 0.05 * np.sin(t)
    >>> found = beside([(60.0 * n + 1, 60.0 * n + 2) for n in range(8)], t,
    ...     [Channel(name="Battery", quantity="other", unit="V", time_s=t, values=volts)])
    >>> [(one.channel, one.low, one.together, one.events) for one in found]
    [('Battery', True, 8, 8)]
    """
    from scipy.stats import binom

    merged = _merged(events)
    if len(merged) < LEAST_EVENTS or moving.size < 2:
        return ()
    found = []
    for channel in others:
        there = np.isfinite(channel.values)
        time_s, values = channel.time_s[there], channel.values[there]
        inside = (time_s >= moving[0]) & (time_s <= moving[-1])
        if inside.sum() < 20 or np.ptp(values[inside]) == 0:
            continue
        ends = np.quantile(values[inside], [TENTH, 1 - TENTH])
        for low, limit in zip((True, False), ends, strict=True):
            beyond = values < limit if low else values > limit
            share = float(np.mean(beyond[inside]))
            if not 0 < share <= 1.5 * TENTH:
                continue
            together = sum(_at(begin, end, time_s, beyond) for begin, end in merged)
            chance = float(binom.sf(together - 1, len(merged), max(share, TENTH)))
            if 2 * len(others) * chance < CHANCE:
                found.append(_named(channel, together, len(merged), (low, float(limit), chance)))
    return tuple(sorted(found, key=lambda one: one.chance)[:MOST_FOUND])


def _merged(events: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    merged: list[tuple[float, float]] = []
    for begin, end in sorted(events):
        if merged and begin - merged[-1][1] < APART_S:
            merged[-1] = (merged[-1][0], max(merged[-1][1], end))
        else:
            merged.append((begin, end))
    return merged


def _at(begin: float, end: float, time_s: Array, beyond: NDArray[np.bool_]) -> bool:
    """Whether most of what was recorded during an event, or next to it, lies beyond."""
    first, last = np.searchsorted(time_s, [begin - AROUND_S, end + AROUND_S])
    return bool(last > first and np.mean(beyond[first:last]) >= 0.5)


def _named(channel: Channel, together: int, events: int, stood: tuple[bool, float, float]) -> Beside:
    low, limit, chance = stood
    text = (
        "At {0} of {1} events {2} was below {3:.4g} {4}; it is there for a tenth of the drive at most."
        if low
        else "At {0} of {1} events {2} was above {3:.4g} {4}; it is there for a tenth of the drive at most."
    )
    return Beside(
        channel=channel.name,
        low=low,
        together=together,
        events=events,
        limit=limit,
        chance=chance,
        text=text_of(text, together, events, channel.name, limit, channel.unit),
        advice=_advice(channel, low),
    )


def _advice(channel: Channel, low: bool) -> Words:
    known = f"{channel.name} {channel.unit}"
    if low and _SUPPLY.search(known):
        return "The supply drops then: measure it at the sensor's plug under load; look for a weak ground."
    if not low and _SHAKING.search(known):
        return "It shakes then: check bracket, plug and wire by hand, and the gap with the engine running."
    if not low and channel.quantity == "engine":
        return "It comes with engine speed: check the gap between sensor wire and ignition, the shield and the ground."
    return "They come together: look for what both have in common, such as a plug, a ground or a load."
