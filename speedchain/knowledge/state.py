"""The state of a document's parts now, and which changes make something that was found say nothing any more."""

from __future__ import annotations

import math
from collections.abc import Mapping

from speedchain.drive import Drive, ratio_of
from speedchain.fields import BEFORE, Dependence, StageName, State, Test
from speedchain.knowledge.model import Observation
from speedchain.placement import Placement
from speedchain.sensor import Sensor
from speedchain.signal import Signal
from speedchain.target import Target
from speedchain.wheel import Wheel

OF_THE_CHAIN: tuple[Dependence, ...] = ("tyre", "pressure", "drive", "target")
"""Another tyre, pressure, gearing or ring makes other pulses per km: what was observed of the whole is gone."""
LEARNED: tuple[Dependence, ...] = ("tyre", "drive", "target", "reader")
"""What a reader learned on a ride it learned itself, of this tyre, gearing and ring. Common practice."""
OF_A_STAGE: Mapping[StageName, tuple[Dependence, ...]] = {
    "wheel": ("tyre", "pressure"),
    "drive": ("drive",),
    "target": ("target",),
    "sensor": ("sensor", "position", "target"),
    "signal": ("sensor", "wiring"),
    "readout": ("drive", "target", "reader", "battery"),
}
"""What a test of a stage depends on, besides the stage's own figure. A display without its battery may forget its
setting. Common practice."""
DRIVEN: frozenset[Test] = frozenset(("road", "water", "measured_distance"))
"""Tests of a readout that depend on the tyre as well; a spin test compares through the same wheel."""
NOMINAL_MM = 2000.0


def state_of(
    wheel: Wheel, drive: Drive, target: Target, *, sensor: Sensor, placement: Placement | None, signal: Signal
) -> State:
    """The state of wheel, gearing, target, sensor and wiring now.

    Examples
    --------
    >>> state_of(
    ...     Wheel(method="marking", marking={"text": "205/55R16"}), Drive(), Target(count=48),
    ...     sensor=Sensor(kind="reed"), placement=None, signal=Signal(),
    ... ).target
    'toothed ring 48 × 1'
    """
    pressure = wheel.measured.pressure_bar
    tyre = wheel.marking.text if wheel.marking is not None else wheel.chart.label if wheel.chart is not None else ""
    converter = signal.converter
    wiring = [
        "" if signal.conditioner is None else signal.conditioner.kind,
        "" if converter is None else " ".join([f"{step.numerator}/{step.denominator}" for step in converter.setting]),
        "" if signal.lead.pull_up_ohm is None else f"{signal.lead.pull_up_ohm:g} Ω",
    ]
    return State.model_construct(  # of texts that the document has checked
        tyre=tyre,
        pressure="" if pressure is None else f"{pressure:g} bar",
        ratio=ratio_of(drive, circumference_mm=NOMINAL_MM).ratio,
        target=f"{target.kind.replace('_', ' ')} {target.count} × {target.edges}",
        sensor=sensor.kind.replace("_", " "),
        position=f"{placement.air_gap_mm:g} mm" if placement is not None and placement.measured else "",
        wiring=", ".join([part for part in wiring if part]),
        tread_depth_mm=wheel.corrections.tread_now_mm,
    )


def stale(observation: Observation, now: State) -> str:
    """Why an observation says nothing of the chain any more, in words; empty while it holds.

    Examples
    --------
    >>> then = Observation(kind="read", on="2026-05-01", pulses_per_km=1000, expanded_pct=1,
    ...     state={"tyre": "205/55R16"})
    >>> stale(then, State(tyre="195/65R15")), stale(then, State())
    ('before the change of tyre', '')
    """
    change = observation.voided_by or observation.state.change(now, OF_THE_CHAIN)
    return BEFORE[change] if change else ""


def wear_since(observation: Observation, now: State, circumference_mm: float) -> float:
    """Pulses per km now over those then, by the tread lost since: C_then/C_now = 1 + 2π·(t_then − t_now)/C.

    Examples
    --------
    >>> then = Observation(kind="read", on="2026-05-01", pulses_per_km=1, expanded_pct=1, state={"tread_depth_mm": 8})
    >>> round(wear_since(then, State(tread_depth_mm=5), 1885.0), 4)
    1.01
    """
    before, after = observation.state.tread_depth_mm, now.tread_depth_mm
    if before is None or after is None:
        return 1.0
    return 1 + 2 * math.pi * (before - after) / circumference_mm
