"""An installation on the bench: what every stage makes of a true speed over time, from the raw signal to the number
shown."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from speedchain.bench.profile import Profile, Travel, travel_of
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import (
    BenchNoise,
    DropOut,
    HoldOff,
    InputError,
    MissingTeeth,
    Part,
    Runout,
    SpanOfTime,
    Words,
    text_of,
)
from speedchain.placement import geometry_of, pulses_of
from speedchain.readout import (
    Readout,
    ReadoutResult,
    filtered,
    gated_hz,
    on_the_dial,
    shown_at_kmh,
    speed_from_table,
    speeds_by_period_kmh,
    table_in_use,
)
from speedchain.sensor import detects
from speedchain.stages import FindingCode
from speedchain.waveform import Pulses, bounced, raw_signal, rising_s
from speedchain.wheel import growth_factor

Array = NDArray[np.float64]
PER_PULSE = 24
"""Samples in the way from one tooth to the next."""
MOST_PULSES = 2_000_000
MOST_CONVERTED = 1_000_000
NO_OUTPUT = (FindingCode.NO_PULL_UP, FindingCode.NO_LOAD)
NO_SWITCHING = (FindingCode.LOW_LEVEL, FindingCode.HIGH_LEVEL)
CLEAN = 2.0
"""Strength of the signal where no placement says what it is."""


class Faults(Part):
    """What is wrong on the bench, beside what the installation itself says. Signal units: 1 is what the sensor just
    needs."""

    noise: BenchNoise = Field(0.0, description="Standard deviation of noise on the signal.")
    runout_mm: Runout = Field(0.0, title="Runout (TIR)", description="Runout added to that of the installation.")
    missing: MissingTeeth = Field(0, description="Missing teeth or magnets.")
    bounce_ms: HoldOff = Field(0.0, description="Bounce time of a contact.")
    open_every_s: SpanOfTime = Field(0.0, description="Period of a loose connector …")
    open_for_ms: DropOut = Field(0.0, description="… and how long it is open.")
    seed: int = Field(0, ge=0, le=2**31 - 1)


@dataclass(frozen=True, slots=True)
class Line:
    """All of an installation that the simulation needs."""

    pulses: Pulses
    unit: Words
    edges: int
    turns_per_km: Array
    growth_kmh: Array
    ratio: float | None
    cap_hz: float | None
    averaged: int
    own_missing: tuple[int, ...]
    faults: Faults
    silent: frozenset[str]
    """Readouts at whose input nothing switches, whatever the sensor does."""

    @property
    def lead(self) -> float:
        """Where between two pulses the signal is low, as a share of the way."""
        return -0.5 if self.pulses.single else -0.25

    def travel(self, profile: Profile, from_s: float, to_s: float) -> Travel:
        """Turns of the target over a part of a profile; a growing tyre turns less often."""
        corners = np.array([item.kmh for item in profile.points])
        return travel_of(profile, from_s, to_s, np.interp(corners, self.growth_kmh, self.turns_per_km))


@dataclass(frozen=True, slots=True)
class Edges:
    """When pulses passed (clean), when edges came of them, and how long each lasts [s]."""

    passed_s: Array
    given_s: Array
    width_s: Array


def line_of(installation: Installation, evaluation: Evaluation, faults: Faults) -> Line:
    """The line of an installation: its raw signal as placed or as a measured coil gives it, its converter and its
    faults.

    Examples
    --------
    >>> from speedchain.evaluation import evaluate

    >>> from speedchain.document.installation import example_installation
    >>> line = line_of(example_installation(), evaluate(example_installation()), Faults())
    >>> line.pulses.count, line.unit
    (48, 'of what it needs')
    """
    pulses, unit = _pulses(installation, evaluation)
    teeth = pulses.count
    own = pulses.missing
    lost = tuple(sorted({*own, *range(min(faults.missing, teeth - 1))}))
    pitch = pulses.pitch_mm or (evaluation.ring.pitch_mm if evaluation.ring else 0.0)
    pulses = replace(
        pulses,
        noise=math.hypot(pulses.noise if installation.placement is None else 0.0, faults.noise),
        missing=lost,
        runout_mm=pulses.runout_mm + faults.runout_mm,
        pitch_mm=pitch,
        bounce_s=0.0,
    )
    speeds = np.linspace(0, 1500, 151)
    places = installation.target.count * installation.target.edges
    base = evaluation.pulses_per_km / places
    growth = growth_factor(installation.wheel, installation.check_speed_kmh) / np.array(
        [growth_factor(installation.wheel, v) for v in speeds]
    )
    conversion = evaluation.signal_detail.conversion
    converter = installation.signal.converter
    return Line(
        pulses, unit, installation.target.edges, base * growth, speeds,
        conversion.ratio if conversion else None,
        conversion.cap_hz if conversion else None,
        converter.averaged if converter else 1,
        own,
        faults,
        _silent(installation, evaluation),
    )  # fmt: skip


def _silent(installation: Installation, evaluation: Evaluation) -> frozenset[str]:
    """Readouts whose input nothing switches: the output cannot pull it up, or its levels are not reached."""
    if any(item.code in NO_OUTPUT for item in evaluation.findings):
        return frozenset(readout.name for readout in installation.readouts)
    return frozenset(str(item.parameters["readout"]) for item in evaluation.findings if item.code in NO_SWITCHING)


def _pulses(installation: Installation, evaluation: Evaluation) -> tuple[Pulses, str]:
    """The raw signal and what its unit is: volts of a coil that was measured, else parts of what the sensor needs."""
    coil = evaluation.signal_detail.coil
    count = installation.target.count
    no_field = any(item.code is FindingCode.CLOCKED_WRONG for item in evaluation.findings)
    if no_field or not detects(installation.sensor.kind, installation.target):
        return Pulses(count, amplitude=0.0), "of what it needs"
    if coil is not None:
        at_hz = 100.0
        hz_per_kmh = evaluation.pulses_per_km / installation.target.edges / 3600
        volts = coil.vpp_per_kmh / hz_per_kmh * at_hz / 2
        return Pulses(count, amplitude=volts, grows_with_speed_hz=at_hz, hysteresis=2 * coil.arming_v), "V"
    if evaluation.placement_detail.possible and installation.placement is not None:
        geometry = geometry_of(installation.target, installation.sensor, installation.placement)
        if geometry is not None:
            return replace(
                pulses_of(geometry, evaluation.placement_detail, installation.target), noise=0.0
            ), "of what it needs"
    if installation.target.single:
        return Pulses(count, width_deg=90 / count, amplitude=CLEAN, threshold=0.9, hysteresis=0.2), "of what it needs"
    return Pulses(count, amplitude=CLEAN, hysteresis=2.0), "of what it needs"


def edges_of(line: Line, *, travel: Travel, first: int, last: int, seed: int) -> Edges:
    """Edges of the pulses number `first` up to, not including, `last`, counted from the travel's beginning.

    The signal is sampled at equal parts of the way between pulses, so that a steady speed gives steady edges; times
    come from the travel. The caller bounds the number of pulses.
    """
    pulses, faults = line.pulses, line.faults
    turns = (np.arange(first * PER_PULSE, last * PER_PULSE + 1) / PER_PULSE + line.lead) / pulses.count
    time_s = travel.when(turns)
    raw = raw_signal(pulses, turns, np.interp(time_s, travel.time_s, travel.turns_per_s), seed)
    edges_s = rising_s(time_s, raw, pulses.threshold, pulses.hysteresis)
    falling = rising_s(time_s, -raw, -pulses.threshold, pulses.hysteresis)
    if line.edges == 2:
        edges_s = np.sort(np.concatenate([edges_s, falling]))
    if faults.bounce_ms:
        edges_s = bounced(edges_s, faults.bounce_ms / 1000, seed)
    if faults.open_every_s and faults.open_for_ms:
        edges_s = edges_s[edges_s % faults.open_every_s >= faults.open_for_ms / 1000]
    passed = travel.when(np.arange(first, last) / pulses.count)
    return Edges(_within(passed, travel), *_with_widths(_within(edges_s, travel), falling, line))


def _within(times_s: Array, travel: Travel) -> Array:
    return np.asarray(times_s[(times_s > travel.time_s[0]) & (times_s < travel.time_s[-1])])


def _with_widths(edges_s: Array, falling: Array, line: Line) -> tuple[Array, Array]:
    """Edges, and the time to the next fall; of a bouncing contact half the time to the next closing."""
    if line.edges == 2 or edges_s.size == 0:
        return edges_s, np.full(edges_s.size, math.inf)
    ends = np.append(falling, math.inf)[np.searchsorted(falling, edges_s, side="right")]
    width = ends - edges_s
    if line.faults.bounce_ms:
        nexts = np.append(np.diff(edges_s), math.inf)
        width = np.where(nexts < line.faults.bounce_ms / 1000, nexts / 2, width)
    return edges_s, width


def converted(given_s: Array, ratio: float, cap_hz: float | None, averaged: int = 1) -> Array:
    """Pulses of a ratio converter: p/q out for each one in, evenly spaced, held at the cap.

    Phase grows by K·Δt/Δt_k between edges (Δt_k: the mean of the last k), by no more than cap·Δt; an output edge falls
    where it passes a whole number.

    Parameters
    ----------
    Times of the edges, rising, n [s]; K; cap [Hz]; pulses it averages.

    Returns
    -------
    Times [s].

    References
    ----------
    Unit arithmetic.

    Examples
    --------
    >>> converted(np.array([0.0, 1.0, 2.0, 3.0]), 0.5, None).tolist()
    [3.0]
    >>> converted(np.arange(0, 10.0), 2.0, 1.0).size
    8
    """
    if given_s.size < averaged + 1:
        return np.empty(0)
    spans = np.diff(given_s)
    # What it knows between two edges is the mean of the spans before: it is late by as many pulses.
    mean = (given_s[averaged:] - given_s[:-averaged]) / averaged
    steps = ratio * spans[averaged:] / mean[:-1]
    if cap_hz is not None:
        steps = np.minimum(steps, cap_hz * spans[averaged:])
    if steps.size == 0:
        return np.empty(0)
    phase = np.concatenate([[0.0], np.cumsum(steps)])
    bounded(float(phase[-1]), "converter's output", MOST_CONVERTED)
    return np.asarray(np.interp(np.arange(1, math.floor(phase[-1] + 1e-9) + 1), phase, given_s[averaged:]))


class Counts(NamedTuple):
    """Pulses that passed, edges that were counted, pulses missed, and edges that came too often."""

    passed: int
    counted: int
    missed: int
    false: int


def counts(line: Line, travel: Travel, edges: Edges) -> Counts:
    """Pulses that passed, edges that came, how many were missed, and how many came too often.

    An edge belongs to the pulse whose place is nearest; the first and the last pulse are left out, whole ones count.
    """
    places = line.pulses.count
    at = np.rint(np.interp(edges.passed_s, travel.time_s, travel.turns) * places).astype(np.int64)
    if at.size < 3:
        return Counts(0, 0, 0, 0)
    first, last = (at[0] + 1) * line.edges, at[-1] * line.edges
    there = ~np.isin(at[1:-1] % places, line.own_missing)
    passed = int(np.count_nonzero(there)) * line.edges
    came = np.rint(np.interp(edges.given_s, travel.time_s, travel.turns) * places * line.edges)
    came = came[(came >= first) & (came < last)]
    distinct = np.unique(came).size
    return Counts(passed, came.size, max(passed - distinct, 0), came.size - distinct)


def at_the_reader(line: Line, readout: Readout, edges: Edges) -> Array:
    """The edges one reader counts: behind the converter or before it, and through its own filter [s]."""
    if readout.name in line.silent:
        return np.empty(0)
    times, width = edges.given_s, edges.width_s
    if line.ratio is not None and not readout.before_converter:
        times = converted(times, line.ratio, line.cap_hz, line.averaged)
        width = np.append(np.diff(times) / 2, math.inf)[: times.size]
    if (limits := readout.input) is None:
        return times
    if limits.min_pulse_us > 0:
        times = times[width >= limits.min_pulse_us * 1e-6]
    return filtered(times, limits.dead_time_ms / 1000)


def shown_by(readout: Readout, result: ReadoutResult, edges_s: Array, at_s: Array) -> Array:
    """What a reader shows at times, given the edges it counts: its timing, its number, its steps, its dial's end.

    Gates follow each other from time 0 on.

    Parameters
    ----------
    The readout and its evaluation; edges it counts, rising [s]; times asked for, rising [s].

    Returns
    -------
    Speeds [km/h].
    """
    timing = readout.timing
    if timing.method == "gate":
        hertz = gated_hz(at_s, edges_s, timing.gate_s, timing.time_out_s)
    else:
        renewed, speeds = np.empty(0), np.empty(0)
        if edges_s.size > timing.pulses_averaged:
            speeds = speeds_by_period_kmh(edges_s, 3600.0, timing.pulses_averaged, timing.timer_tick_us * 1e-6)
            renewed = edges_s[timing.pulses_averaged :]
        hertz = shown_at_kmh(at_s, renewed_s=renewed, speeds_kmh=speeds, edges_s=edges_s, time_out_s=timing.time_out_s)
    speeds = speed_of_hz(result, hertz)
    if timing.minimum_kmh is not None:
        speeds = np.where(speeds < timing.minimum_kmh, 0.0, speeds)
    stepped = np.rint(speeds / readout.display_step_kmh) * readout.display_step_kmh
    return on_the_dial(stepped, readout.scale_end_kmh, readout.past_end)


def speed_of_hz(evaluation: ReadoutResult, hertz: Array) -> Array:
    """Speed a reader makes of a frequency, with the number that is in it: 3600·f/set, or by its table.

    Examples
    --------
    >>> from speedchain.evaluation import evaluate

    >>> from speedchain.document.installation import example_installation
    >>> result = evaluate(example_installation()).readouts[0]
    >>> speed_of_hz(result, np.array([result.set_pulses_per_km / 36])).round(6).tolist()
    [100.0]
    """
    if not evaluation.table:
        return hertz * 3600 / evaluation.set_pulses_per_km
    frequencies, speeds = table_in_use(evaluation.table)
    return np.array([speed_from_table(float(hz), frequencies, speeds) if hz > 0 else 0.0 for hz in hertz])


def bounded(pulses: float, what: str, limit: int = MOST_PULSES) -> int:
    """The number of pulses of a simulation, refused beyond the limit.

    Examples
    --------
    >>> bounded(5e6, "run")
    Traceback (most recent call last):
        ...
    speedchain.fields.errors.InputError: profile: This run has 5000000 pulses. Use a shorter time, ...
    """
    if pulses > limit:
        raise InputError(
            text_of("This {0} has {1:.0f} pulses.", what, pulses),
            remedy="Use a shorter time, a lower speed or fewer teeth.",
            limit=text_of("at most {0}", limit),
            value=round(pulses),
            path="profile",
        )
    return math.ceil(pulses)
