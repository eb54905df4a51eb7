"""Signal health: what a recorded speed shows of its own signal, each event with its probable cause and where to go
on."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import StageName, Words, text_of
from speedchain.results import result
from speedchain.runs.align import SpeedRecord, lag_between, on_times
from speedchain.runs.beside import Beside, beside
from speedchain.runs.recording import Channel

Array = NDArray[np.float64]
EventKind = Literal["dropout", "half", "double", "spike", "stuck", "low", "high", "ripple", "gap"]
MOST_EVENTS = 60
LONGEST_S = 8.0
"""A fall to nothing that lasts longer is a stop, or a signal that is gone: said of the whole, not as an event."""
ALIKE = 0.12
"""Within so much of a half or a double it counts as one. Common practice."""
MOST_G_M_S2 = 12.0
"""No wheel of a vehicle gains or loses more. Common practice."""
STUCK_S = 5.0
LEAST_KMH = 8.0
LOWEST_KMH = 4.0
"""Below this any display may show nothing."""
MISSING = 0.8
"""So many samples of a band of speeds must be missing for the band to count as missing. Common practice."""
FALLS_OFF_PCT = 5.0
BAND_KMH = 2.0
LEAST_BAND_S = 1.0
SHORTEST_TURN_M, LONGEST_TURN_M = 0.3, 4.0
STANDS_OUT = 12.0
"""A ripple's peak against the median of the spectrum. Common practice."""
RIPPLE_PCT = 0.1
LEAST_TURNS = 40
GAP_STEPS, GAP_S = 5.0, 1.0
"""Nothing was recorded for more than so many steps, and so long [s]."""


@result
class HealthEvent:
    """One event [s]: what it is, the speed before it and the least or greatest within it [km/h]."""

    kind: EventKind
    from_s: float
    to_s: float
    before_kmh: float
    within_kmh: float


@result
class HealthKind:
    """All events of a kind: how many, at which speeds [km/h], the probable cause, and the stage where it is treated."""

    kind: EventKind
    count: int
    from_kmh: float
    to_kmh: float
    text: Words
    cause: Words
    stage: StageName


@result
class Health:
    """The health of a recorded speed: its events, their kinds, the share of the pulses that is missing or counted twice
    [%], and what else stood out while it failed."""

    events: tuple[HealthEvent, ...]
    kinds: tuple[HealthKind, ...]
    text: Words
    missing_pct: float = 0.0
    doubled_pct: float = 0.0
    counted: Words = ""
    beside: tuple[Beside, ...] = ()


_TEXTS: dict[EventKind, str] = {
    "dropout": "The speed falls to nothing {0} times, between {1:.0f} and {2:.0f} km/h.",
    "half": "The speed falls to about half {0} times, between {1:.0f} and {2:.0f} km/h.",
    "double": "The speed doubles {0} times, between {1:.0f} and {2:.0f} km/h.",
    "spike": "The speed jumps faster than any wheel can {0} times, between {1:.0f} and {2:.0f} km/h.",
    "stuck": "The speed does not move at all {0} times, between {1:.0f} and {2:.0f} km/h.",
    "low": "Below {2:.0f} km/h nothing is shown.",
    "high": "From {1:.0f} km/h on the shown speed falls behind.",
    "ripple": "Speed ripple repeats with distance.",
}
_CAUSES: dict[EventKind, tuple[str, StageName]] = {
    "dropout": ("The gap is too large, a plug is loose, or the signal is too weak at this speed.", "sensor"),
    "half": ("Every second pulse is missed: half-aligned magnet, weak signal, or a wrong threshold.", "sensor"),
    "double": ("Pulses are counted twice: contact bounce, both edges, or noise from the ignition.", "signal"),
    "spike": ("Noise is counted as pulses: ground, shield, and the way of the wire past the ignition.", "signal"),
    "stuck": ("The reader holds its last value, or stands at its limit.", "readout"),
    "low": ("The signal is too weak at low speed, or the reader waits too short a time for the next pulse.", "signal"),
    "high": ("Pulses come faster than the sensor, the converter or the reader follows, or a scale ends.", "signal"),
    "ripple": ("The ring or the wheel runs out, a tooth is bent, or magnets are uneven.", "target"),
}


def health_of(shown: SpeedRecord, reference: SpeedRecord | None = None, others: Sequence[Channel] = ()) -> Health:
    """Dropouts, halves, doubles, spikes and stuck values of a recorded speed, and a ripple once per turn; with a
    reference also a speed below which nothing is shown, and one from which on it falls behind.

    A sample is compared with the median of four seconds around it, dropouts bridged: below 12 % it is a dropout, within
    12 % of half or double it is one of those; otherwise, off by more than 12 m/s² allow in the time to its neighbour, a
    spike. A value
    that does not change at all for five seconds, with noise elsewhere, is stuck. A gap is where it moved and nothing
    was recorded for a second and five steps: named, and no fault. Against the reference a band of speeds
    is missing where four of five samples are; it falls behind where it is 5 % off what it is elsewhere. A ripple is a
    peak in the spectrum over the way, at a period of 0.3 to 4 m, twelve times its median. Pulses missing are the way
    that is not counted in dropouts and halves, Σ(v₀ − v)Δt/Σv₀Δt; doubled ones likewise.

    Parameters
    ----------
    The recorded speed; the true speed over the same time, where it was recorded; what else was recorded (`beside`).

    Examples
    --------
    >>> t = np.arange(0.0, 60.0, 0.2)
    >>> v = 50 + 0.1 * np.sin(t)
    >>> v[100:103] = 0
    >>> found = health_of(SpeedRecord(t, v))
    >>> [(event.kind, round(event.from_s, 1)) for event in found.events], found.kinds[0].stage
    ([('dropout', 20.0)], 'sensor')
    """
    from scipy.ndimage import median_filter

    there = np.isfinite(shown.kmh)
    time_s, kmh = shown.time_s[there], shown.kmh[there]
    if time_s.size < 20:
        return Health(events=(), kinds=(), text="Too little is recorded to judge the signal.")
    step = float(np.median(np.diff(time_s)))
    over = min(max(round(4.0 / step), 3) | 1, 2001)
    around = median_filter(kmh, size=over, mode="nearest")
    gone = (around > LEAST_KMH) & (kmh < ALIKE * around)
    if gone.any() and not gone.all():  # a dropout does not move the middle of what is around it
        around = median_filter(np.interp(time_s, time_s[~gone], kmh[~gone]), size=over, mode="nearest")
    moving = around > LEAST_KMH
    with np.errstate(divide="ignore", invalid="ignore"):
        ratio = np.where(moving, kmh / around, 1.0)
    most = 3.6 * MOST_G_M_S2 * max(step, 0.05) / np.maximum(around, LEAST_KMH)
    kinds = np.full(time_s.size, "", dtype="U8")
    kinds[moving & (np.abs(ratio - 1) > np.maximum(most, 0.15))] = "spike"
    kinds[moving & (np.abs(ratio / 2 - 1) < ALIKE)] = "double"
    kinds[moving & (np.abs(ratio * 2 - 1) < ALIKE)] = "half"
    kinds[moving & (ratio < ALIKE)] = "dropout"
    gaps = _gaps(time_s, kmh, step)
    events = _whiles(kinds, time_s, kmh, around) + _stuck(time_s, kmh)
    events.sort(key=lambda event: event.from_s)
    whole = SpeedRecord(time_s, kmh)
    found = [] if reference is None else _against(whole, reference)
    found += _ripple(whole, around)
    for kind in _TEXTS:
        mine = [event for event in events if event.kind == kind]
        if not mine:
            continue
        low, high = min(e.before_kmh for e in mine), max(e.before_kmh for e in mine)
        found.append(_kind(kind, len(mine), low, high))
    missing, doubled = (_share(kinds, names, kmh, around) for names in (("dropout", "half"), ("double",)))
    failed = [(event.from_s, event.to_s) for event in events]
    shown_events = sorted(events + gaps, key=lambda event: event.from_s)
    return Health(
        events=tuple(shown_events[:MOST_EVENTS]),
        kinds=tuple(found),
        missing_pct=missing,
        doubled_pct=doubled,
        counted=""
        if missing + doubled == 0
        else text_of("Of all pulses {0:.2g} % are missing and {1:.2g} % are counted twice.", missing, doubled),
        beside=beside(failed, time_s[moving], others) if moving.any() else (),
        text="The signal is clean: no dropouts, doubles or spikes." if not found else "The signal is not clean.",
    )


def _share(kinds: NDArray[np.str_], names: tuple[EventKind, ...], kmh: Array, around: Array) -> float:
    """How much of the way is off in samples of these kinds [%]."""
    mine = np.isin(kinds, names)
    return float(100 * np.abs(around - kmh)[mine].sum() / max(around.sum(), 1e-9))


def _kind(kind: EventKind, count: int, low: float, high: float, *, text: Words = "") -> HealthKind:
    cause, stage = _CAUSES[kind]
    text = text or text_of(_TEXTS[kind], count, low, high)
    return HealthKind(kind=kind, count=count, from_kmh=low, to_kmh=high, text=text, cause=cause, stage=stage)


def _against(shown: SpeedRecord, reference: SpeedRecord) -> list[HealthKind]:
    """Speeds at which nothing is shown, or too little, all through the recording."""
    lag_s = lag_between(reference, shown).lag_s
    true_kmh = on_times(reference, shown.time_s - lag_s)
    there = np.isfinite(true_kmh) & (true_kmh > 1.0)
    if there.sum() < 20:
        return []
    true_kmh, ratio = true_kmh[there], shown.kmh[there] / true_kmh[there]
    step = float(np.median(np.diff(shown.time_s)))
    band = (true_kmh / BAND_KMH).astype(int)
    count = np.bincount(band)
    enough = count * step >= LEAST_BAND_S
    with np.errstate(invalid="ignore", divide="ignore"):
        missing = np.bincount(band, ratio < ALIKE) / count
    found = []
    # the lowest bands that are missing, one after the other; short ones say nothing either way
    lowest = [at for at in range(count.size) if enough[at]]
    gone = list(itertools.takewhile(lambda at: missing[at] > MISSING, lowest))
    edge = (gone[-1] + 1) * BAND_KMH if gone else 0.0
    if edge > LOWEST_KMH and len(gone) < len(lowest):
        found.append(_kind("low", len(gone), 0.0, edge))
    usual = float(np.median(ratio[true_kmh > edge])) if (true_kmh > edge).any() else 0.0
    if usual <= 0:
        return found
    off = [float(np.median(ratio[band == at])) < usual * (1 - FALLS_OFF_PCT / 100) for at in lowest]
    behind = list(itertools.takewhile(lambda pair: pair[1], reversed(list(zip(lowest, off, strict=True)))))
    if len(behind) >= 2 and behind[-1][0] * BAND_KMH > max(edge, LEAST_KMH):
        found.append(_kind("high", len(behind), behind[-1][0] * BAND_KMH, float(true_kmh.max())))
    return found


def _ripple(shown: SpeedRecord, around: Array) -> list[HealthKind]:
    """A ripple that comes with the way and not with time: once per turn of something."""
    step = float(np.median(np.diff(shown.time_s)))
    moving = around > LEAST_KMH
    if not moving.any():
        return []
    stride_m = max(float(np.quantile(around[moving], 0.9)) / 3.6 * step, SHORTEST_TURN_M / 4)
    if stride_m > LONGEST_TURN_M / 2.5:
        return []
    way = np.concatenate([[0.0], np.cumsum(np.maximum(around[1:] + around[:-1], 0) / 7.2 * np.diff(shown.time_s))])
    with np.errstate(invalid="ignore", divide="ignore"):
        part = np.where(moving, np.clip(shown.kmh / around - 1, -0.2, 0.2), 0.0)
    places = np.arange(0.0, way[-1], stride_m)
    if places.size * stride_m < LEAST_TURNS * LONGEST_TURN_M:
        return []
    wave = np.interp(places, way, part)
    size = np.abs(np.fft.rfft(wave * np.hanning(wave.size)))
    per_m = np.fft.rfftfreq(wave.size, stride_m)
    window = (per_m >= 1 / LONGEST_TURN_M) & (per_m <= 1 / SHORTEST_TURN_M)
    if window.sum() < 20:
        return []
    best = int(np.argmax(np.where(window, size, 0.0)))
    amplitude_pct = 100 * 4 * float(size[best]) / wave.size
    if size[best] < STANDS_OUT * float(np.median(size[window])) or amplitude_pct < RIPPLE_PCT:
        return []
    text = text_of("Speed ripple of ± {0:.1f} % once every {1:.2f} m.", amplitude_pct, 1 / float(per_m[best]))
    return [_kind("ripple", 1, float(around[moving].min()), float(around[moving].max()), text=text)]


def _whiles(kinds: NDArray[np.str_], time_s: Array, kmh: Array, around: Array) -> list[HealthEvent]:
    """Neighbouring samples of one kind as one event."""
    edges = np.flatnonzero(np.concatenate([[True], kinds[1:] != kinds[:-1], [True]]))
    events = []
    for begin, end in itertools.pairwise(edges):
        kind = str(kinds[begin])
        if not kind or time_s[end - 1] - time_s[begin] > LONGEST_S:
            continue
        inside = kmh[begin:end]
        events.append(
            HealthEvent(
                kind=kind,  # type: ignore[arg-type]
                from_s=float(time_s[begin]),
                to_s=float(time_s[end - 1]),
                before_kmh=float(around[begin]),
                within_kmh=float(inside.max() if kind in ("double", "spike") else inside.min()),
            )
        )
    return events


def _gaps(time_s: Array, kmh: Array, step: float) -> list[HealthEvent]:
    """Whiles in which nothing was recorded though it moved: a tunnel, or a logger that paused; no fault of the
    signal."""
    between = np.flatnonzero((np.diff(time_s) > max(GAP_STEPS * step, GAP_S)) & (kmh[:-1] > LEAST_KMH))
    return [
        HealthEvent(
            kind="gap",
            from_s=float(time_s[at]),
            to_s=float(time_s[at + 1]),
            before_kmh=float(kmh[at]),
            within_kmh=float(kmh[at + 1]),
        )
        for at in between
    ]


def _stuck(time_s: Array, kmh: Array) -> list[HealthEvent]:
    """Spans without the slightest change, where the rest of the recording does change from sample to sample."""
    same = np.diff(kmh) == 0
    if same.mean() > 0.5:
        return []  # a display with coarse steps
    edges = np.flatnonzero(np.diff(np.concatenate([[False], same, [False]]).astype(int)))
    return [
        HealthEvent(
            kind="stuck",
            from_s=float(time_s[begin]),
            to_s=float(time_s[end]),
            before_kmh=float(kmh[begin]),
            within_kmh=float(kmh[begin]),
        )
        for begin, end in zip(edges[::2], edges[1::2], strict=True)
        if time_s[end] - time_s[begin] >= STUCK_S and kmh[begin] > LEAST_KMH
    ]
