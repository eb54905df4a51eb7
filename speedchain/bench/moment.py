"""One moment of the running bench: the scope, what was counted lately, and what every reader shows."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from speedchain.bench.gauge import follows
from speedchain.bench.profile import Profile, Travel
from speedchain.bench.simulation import Edges, Faults, Line, at_the_reader, bounded, counts, edges_of, line_of, shown_by
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import BenchWindow, Part, SpanOfTime, Words
from speedchain.readout import Input, Readout
from speedchain.results import result
from speedchain.waveform import conditioned, raw_signal

Array = NDArray[np.float64]
SAMPLES = 600
MOST_LOOKED_AT = 4000
"""Pulses simulated with all their faults; what a slow reader still remembers from before comes clean."""
MOST_REMEMBERED = 200_000
"""Edges in the time that the slowest reader remembers."""
LONGEST_MEMORY_S = 12.0
NEEDLE_S = 0.15
LATELY_S = 0.5
NEEDLE_POINTS = 24
TRIGGER_SHARE = 0.2


class Moment(Part):
    """What is asked of the bench: how it was driven, the faults, when, and how much the scope shows."""

    profile: Profile
    now_s: SpanOfTime
    window_ms: BenchWindow | None = Field(None, description="Time across the scope; about six pulses when empty.")
    faults: Faults = Faults()


@result
class ScopeFrame:
    """What the scope shows: time from the left [ms], raw signal, the conditioned one, and counted edges [ms]."""

    span_ms: float
    raw: tuple[float, ...]
    high: tuple[int, ...]
    counted_ms: tuple[float, ...]
    converted_ms: tuple[float, ...]
    switches_at: float
    releases_at: float
    unit: Words


@result
class ReaderFrame:
    """One reader at this moment: what it shows, where its needle stands, the frequency it gets."""

    name: str
    shown_kmh: float
    needle_kmh: float
    hz: float


@result
class BenchFrame:
    """The bench at one moment; counts are of the last `over_s` seconds."""

    true_kmh: float
    sensor_hz: float
    kmh_per_hz: float
    over_s: float
    passed: int
    counted: int
    missed: int
    false: int
    scope: ScopeFrame
    readers: tuple[ReaderFrame, ...]


def memory_s(installation: Installation, hz: float) -> float:
    """How far back the slowest reader remembers at a frequency [s]."""
    needed = 0.25
    for readout in installation.readouts:
        timing = readout.timing
        own = 2 * timing.gate_s if timing.method == "gate" else 3 * (timing.pulses_averaged + 1) / max(hz, 0.1)
        needed = max(needed, own, timing.time_out_s or 0.0)
    return min(needed + 2 * NEEDLE_S, LONGEST_MEMORY_S)


def bench_moment(installation: Installation, evaluation: Evaluation, asked: Moment) -> BenchFrame:
    """The bench as it is at one moment of a profile.

    Parameters
    ----------
    The installation and its evaluation; the moment.

    Returns
    -------
    The frame; bounded to 4000 pulses whatever is asked.

    Examples
    --------
    >>> from speedchain.evaluation import evaluate

    >>> from speedchain.document.installation import example_installation
    >>> installation = example_installation()
    >>> frame = bench_moment(installation, evaluate(installation), Moment(profile=Profile.swept(50, 50, 1), now_s=3))
    >>> frame.missed, frame.readers[0].shown_kmh
    (0, 50.0)
    """
    line = line_of(installation, evaluation, asked.faults)
    true_kmh = float(asked.profile.at(np.array([asked.now_s]))[0])
    hz = true_kmh / 3600 * evaluation.pulses_per_km
    travel = line.travel(asked.profile, asked.now_s - memory_s(installation, hz), asked.now_s)
    last = (
        bounded(
            float(travel.turns[-1]) * line.pulses.count * line.edges, "moment of the slowest reader", MOST_REMEMBERED
        )
        // line.edges
        + 1
    )
    first = max(last - MOST_LOOKED_AT, 0)
    # noise anew for every picture, the same for the same moment
    seed = asked.faults.seed + int(asked.now_s * 1000)
    edges = edges_of(line, travel=travel, first=first, last=last, seed=seed)
    passed, counted, missed, false = counts(line, travel, edges)
    over_s = float(asked.now_s - travel.when(np.array([max(first, 0) / line.pulses.count]))[0])
    if first > 0:
        edges = _remembering(line, travel, edges, first)
    by_reader = Counted(line, edges)
    readers = tuple(
        [
            _reader(installation, evaluation=evaluation, place=place, by_reader=by_reader, now_s=asked.now_s)
            for place in range(len(installation.readouts))
        ]
    )
    scope = _scope(
        installation, line=line, travel=travel, edges=edges, by_reader=by_reader, asked=asked, hz=hz, seed=seed
    )
    return BenchFrame(
        true_kmh=true_kmh,
        sensor_hz=hz,
        kmh_per_hz=3600 / evaluation.pulses_per_km,
        over_s=over_s,
        passed=passed,
        counted=counted,
        missed=missed,
        false=false,
        scope=scope,
        readers=readers,
    )


def _remembering(line: Line, travel: Travel, edges: Edges, first: int) -> Edges:
    """The same with clean edges before the first of them."""
    clean = travel.when(np.arange(first * line.edges) / (line.pulses.count * line.edges))
    clean = clean[(clean > travel.time_s[0]) & (clean < (edges.given_s[0] if edges.given_s.size else math.inf) - 1e-9)]
    return Edges(
        edges.passed_s,
        np.concatenate([clean, edges.given_s]),
        np.concatenate([np.full(clean.size, math.inf), edges.width_s]),
    )


class Counted:
    """The edges each reader counts, worked out once for readers with the same input."""

    def __init__(self, line: Line, edges: Edges) -> None:
        self.line, self.edges = line, edges
        self.known: dict[tuple[bool, Input | None], Array] = {}

    def by(self, readout: Readout) -> Array:
        """Times of the edges that one reader counts [s]."""
        key = readout.before_converter, readout.input
        if key not in self.known:
            self.known[key] = at_the_reader(self.line, readout, self.edges)
        return self.known[key]


def _reader(
    installation: Installation, *, evaluation: Evaluation, place: int, by_reader: Counted, now_s: float
) -> ReaderFrame:
    readout = installation.readouts[place]
    times = by_reader.by(readout)
    at = np.linspace(now_s - 4 * NEEDLE_S, now_s, NEEDLE_POINTS)
    shown = shown_by(readout, evaluation.readouts[place], times, at)
    return ReaderFrame(
        name=readout.name,
        shown_kmh=float(shown[-1]),
        needle_kmh=float(follows(at, shown, NEEDLE_S)[-1]),
        hz=_lately_hz(times, now_s),
    )


def _lately_hz(times: Array, now_s: float) -> float:
    """Frequency over the last half second; of slower pulses over the last two, until the next is overdue [Hz]."""
    first = max(int(np.searchsorted(times, now_s - LATELY_S)), 0)
    recent = times[min(first, max(times.size - 2, 0)) :]
    if recent.size < 2 or now_s - recent[-1] > 1.5 * (recent[-1] - recent[-2]):
        return 0.0
    return float((recent.size - 1) / (recent[-1] - recent[0]))


def _scope(
    installation: Installation,
    *,
    line: Line,
    travel: Travel,
    edges: Edges,
    by_reader: Counted,
    asked: Moment,
    hz: float,
    seed: int,
) -> ScopeFrame:
    """The newest whole window, a pulse at a fifth of it."""
    pulses = line.pulses
    usual_ms = min(6000 / hz, 1000.0) if hz > 0 else 100.0
    span_s = min((asked.window_ms or usual_ms) / 1000, float(travel.time_s[-1] - travel.time_s[0]))
    past = edges.passed_s[edges.passed_s <= travel.time_s[-1] - (1 - TRIGGER_SHARE) * span_s]
    start = float(past[-1] - TRIGGER_SHARE * span_s) if past.size else float(travel.time_s[-1] - span_s)
    time_s = start + np.linspace(0, span_s, SAMPLES + 1)
    turns = np.interp(time_s, travel.time_s, travel.turns)
    raw = raw_signal(pulses, turns, np.interp(time_s, travel.time_s, travel.turns_per_s), seed + 1)
    high = conditioned(raw, pulses.threshold, pulses.hysteresis)

    def inside(times: Array) -> tuple[float, ...]:
        shown = times[(times >= start) & (times <= start + span_s)][:400]
        return tuple(((shown - start) * 1000).round(4).tolist())

    straight = [item for item in installation.readouts if line.ratio is None or item.before_converter]
    behind = [item for item in installation.readouts if line.ratio is not None and not item.before_converter]
    return ScopeFrame(
        span_ms=span_s * 1000,
        raw=tuple(raw.round(4).tolist()),
        high=tuple(high.astype(int).tolist()),
        counted_ms=inside(by_reader.by(straight[0]) if straight else edges.given_s),
        converted_ms=inside(by_reader.by(behind[0])) if behind else (),
        switches_at=pulses.threshold + pulses.hysteresis / 2,
        releases_at=pulses.threshold - pulses.hysteresis / 2,
        unit=line.unit,
    )
