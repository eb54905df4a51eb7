"""The one door: `evaluate(installation)` and everything that it yields."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import partial

from pydantic import TypeAdapter

from speedchain.advice import (
    CautionShown,
    NextAction,
    cautions_of,
    guides_with,
    next_action,
    purpose_rules,
    shown_rules,
)
from speedchain.diagnosis import (
    FixedReader,
    Void,
    action_of_fixed,
    failed_tests,
    failure_rules,
    fixed_reader_rules,
    fixed_readers,
    state_now,
    void_rules,
    with_failures,
    without_void,
)
from speedchain.document import Installation
from speedchain.drive import DriveDetail, evaluate_drive
from speedchain.fields import Words, text_of
from speedchain.fitted import fitted
from speedchain.knowledge import (
    ChainEstimate,
    TurnsKnown,
    estimate_chain,
    knowledge_rules,
    known_together,
    turn_rules,
    with_observed,
    with_turns,
)
from speedchain.placement import NOTHING, PlacementDetail, evaluate_placement, placement_rules
from speedchain.readout import GearedSetting, Readout, ReadoutResult, evaluate_readout, geared_setting, readout_rules
from speedchain.regulations import rule_text
from speedchain.results import result
from speedchain.sensor import NO_TARGET, Requirements, evaluate_sensor
from speedchain.signal import SignalDetail, evaluate_signal, frequency_hz
from speedchain.stages import Figure, Finding, Stage, budget_of
from speedchain.target import RingShape, evaluate_target, ring_shape
from speedchain.uncertainty import COVERAGE_FACTOR, Contribution, combine_pct, expanded_pct
from speedchain.wheel import CYCLE_CHART, Chart, WheelDetail, evaluate_wheel, growth_factor

PAST_THE_END = 1.15
"""The bench goes on this much beyond the highest end, so that a needle that falls back is seen to."""


@result
class Shown:
    """What the first readout shows at the true speed, with expanded uncertainty (95.45 %, by its coverage factor);
    `condition` says with which setting it does, as long as none was read back or learned."""

    true_kmh: float
    shown_kmh: float
    error_pct: float
    relative_standard_uncertainty_pct: float
    expanded_uncertainty_kmh: float
    expanded_uncertainty_pct: float
    coverage_factor: float
    condition: Words


@result
class PulseTimes:
    """Longest pulse, at the lowest speed, and shortest, at the top speed, that the sensor gives [ms]."""

    min_speed_kmh: float
    longest_ms: float
    max_speed_kmh: float
    shortest_ms: float
    top_hz: float


@result
class Evaluation:
    """Everything that follows from an installation."""

    stages: tuple[Stage, ...]
    pulses_per_turn_of_wheel: float
    pulses_per_km: float
    metres_per_pulse: float
    frequency_hz: float
    chain_relative_standard_uncertainty_pct: float
    chain_expanded_uncertainty_pct: float
    readouts: tuple[ReadoutResult, ...]
    if_geared: tuple[GearedSetting, ...]
    """Of each readout, in the same order."""
    shown: Shown
    known: ChainEstimate
    turned: TurnsKnown
    wheel_detail: WheelDetail
    drive_detail: DriveDetail
    ring: RingShape | None
    placement_detail: PlacementDetail
    pulse_times: PulseTimes
    sweep_end_kmh: float
    signal_detail: SignalDetail
    fixed_readers: tuple[FixedReader, ...]
    voids: tuple[Void, ...]
    contributions: tuple[Contribution, ...]
    next_action: NextAction
    cautions: tuple[CautionShown, ...]
    guides: tuple[str, ...]
    rule_text: Words
    findings: tuple[Finding, ...]


EVALUATION: TypeAdapter[Evaluation] = TypeAdapter(Evaluation)
_SEVERITY = {"blocking": 0, "warning": 1, "note": 2}


def evaluate(installation: Installation, chart: Chart = CYCLE_CHART) -> Evaluation:
    """Figures of every stage, and what they come to.

    pulses_per_km = edges × count × ratio × 10⁶/C_mm; f = v/3.6 × pulses_per_km/1000;
    shown/true = pulses per km delivered/set; u² = Σ u_i², U² = Σ (k_i·u_i)² (relative).

    Parameters
    ----------
    A valid `Installation`; the workshop's cycle chart.

    Returns
    -------
    An `Evaluation`; lengths [mm], speeds [km/h], frequencies [Hz].

    References
    ----------
    Unit arithmetic; JCGM 100:2008, 5.1.6 and 6.2.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> result = evaluate(example_installation())
    >>> round(result.pulses_per_km, 1), round(result.shown.shown_kmh, 2)
    (24905.4, 100.0)
    """
    now = state_now(installation)
    installation, voids = without_void(installation, now)
    speed_kmh, needs = installation.check_speed_kmh, installation.needs
    pulses = float(installation.target.count * installation.target.edges)
    wheel = evaluate_wheel(
        installation.wheel,
        vehicle_kind=installation.vehicle_kind,
        pulses_per_turn=pulses,
        speed_kmh=speed_kmh,
        chart=chart,
    )
    circumference_mm = wheel.stage.value
    drive = evaluate_drive(
        installation.drive, purpose=installation.purpose, circumference_mm=circumference_mm, speed_kmh=speed_kmh
    )
    ring = ring_shape(installation.target)
    turns_per_s = speed_kmh / 3.6 / (circumference_mm / 1000) * drive.stage.value
    target = evaluate_target(
        installation.target,
        shape=ring,
        turns_per_s=turns_per_s,
        sensed=installation.sensor.kind not in NO_TARGET,
    )
    drive_stage, target_stage, turned = with_turns(
        installation.turn_counts, drive=drive.stage, target=target.stage, now=now, edges=installation.target.edges
    )
    per_turn = target_stage.value * drive_stage.value
    known = estimate_chain(
        installation.observations,
        parts=(wheel.stage, drive_stage, target_stage),
        parts_per_km=per_turn * 1e6 / circumference_mm,
        now=now,
        check_kmh=speed_kmh,
        growth_at=partial(growth_factor, installation.wheel),
    )
    chain = (wheel.stage, drive_stage, target_stage)
    there = fitted(installation)
    if known.observed:
        grown = growth_factor(installation.wheel, speed_kmh)
        seen = with_observed(wheel.stage, known, installation.wheel.verification, grown)
        chain = (seen, known_together(drive_stage), known_together(target_stage))
        circumference_mm = seen.value
    pulses_per_km = per_turn * 1e6 / circumference_mm
    cycles_per_km = pulses_per_km / installation.target.edges  # what passes the sensor, however many edges are counted
    top_hz = frequency_hz(needs.max_speed_kmh, cycles_per_km)
    sensor = evaluate_sensor(
        installation.sensor,
        target=installation.target,
        gap_measured=installation.placement is not None and installation.placement.measured,
        top_hz=top_hz,
        max_speed_kmh=needs.max_speed_kmh,
    )
    placed = NOTHING
    if installation.placement is not None:
        placed = evaluate_placement(installation.target, installation.sensor, installation.placement)
    chain_u_pct = combine_pct(tuple([stage.relative_standard_uncertainty_pct for stage in chain]))
    chain_expanded_pct = expanded_pct(budget_of(chain))
    signal = evaluate_signal(
        installation.signal,
        sensor=installation.sensor,
        needs=needs,
        target=installation.target,
        ring=ring,
        placed=placed,
        readouts=installation.readouts,
        pulses_per_km=pulses_per_km,
        cycles_per_km=cycles_per_km,
        check_speed_kmh=speed_kmh,
        u_pct=chain_u_pct,
        must_reach=installation.purpose == "brake_control",
    )
    conversion = signal.detail.conversion
    grown_here = growth_factor(installation.wheel, speed_kmh)

    def readout_at(readout: Readout) -> ReadoutResult:
        converted = conversion is not None and not readout.before_converter
        sent_per_km = pulses_per_km * (conversion.ratio if converted and conversion else 1.0)

        def per_km_at(at_kmh: float) -> float:
            return sent_per_km * grown_here / growth_factor(installation.wheel, at_kmh)

        return evaluate_readout(
            readout,
            rule=installation.rule,
            pulses_per_km_at=per_km_at,
            true_kmh=speed_kmh,
            check_speeds_kmh=installation.check_speeds_kmh,
            cap_kmh=installation.signal.converter.cap_kmh if converted and installation.signal.converter else None,
        )

    readouts = tuple([readout_at(readout) for readout in installation.readouts])
    fixed = fixed_readers(installation, readouts=readouts, wheel_mm=circumference_mm, expanded_pct=chain_expanded_pct)
    readouts = _told(readouts, fixed)
    failed = failed_tests(installation)
    stages = with_failures((*chain, sensor.stage, signal.stage, _readout_stage(readouts[0], per_turn)), failed)
    shown = _shown(speed_kmh, readouts[0], chain_u_pct, chain_expanded_pct)
    findings = [
        *failure_rules(installation, failed),
        *wheel.findings,
        *knowledge_rules(known),
        *turn_rules(turned),
        *drive.findings,
        *target.findings,
        *sensor.findings,
        *placement_rules(
            installation.target,
            shape=ring,
            sensor=installation.sensor,
            placement=installation.placement,
            detail=placed,
        ),
        *signal.findings,
        *purpose_rules(installation, chain_expanded_pct),
    ]
    for readout, outcome in zip(installation.readouts, readouts, strict=True):
        findings += readout_rules(readout, outcome, check_speed_kmh=speed_kmh)
        findings += shown_rules(installation, outcome, expanded_pct=chain_expanded_pct, chart=chart)
    findings += void_rules(installation, voids, tuple([outcome.action for outcome in readouts]))
    findings += fixed_reader_rules(installation, fixed, expanded_pct=chain_expanded_pct, pulses_per_turn=per_turn)
    findings.sort(key=lambda item: _SEVERITY[item.severity])
    return Evaluation(
        stages=stages,
        pulses_per_turn_of_wheel=per_turn,
        pulses_per_km=pulses_per_km,
        metres_per_pulse=circumference_mm / per_turn / 1000,
        frequency_hz=signal.stage.value,
        chain_relative_standard_uncertainty_pct=chain_u_pct,
        chain_expanded_uncertainty_pct=chain_expanded_pct,
        readouts=readouts,
        if_geared=tuple(
            [
                geared_setting(readout, pulses_per_turn=target_stage.value, ratio=drive_stage.value)
                for readout in installation.readouts
            ]
        ),
        shown=shown,
        known=known,
        turned=turned,
        wheel_detail=replace(wheel.detail, budget=known.budget) if known.observed else wheel.detail,
        drive_detail=drive.detail,
        ring=ring,
        placement_detail=placed,
        sweep_end_kmh=_sweep_end_kmh(installation, needs),
        pulse_times=_pulse_times(needs, placed, circumference_mm / drive_stage.value, top_hz),
        signal_detail=signal.detail,
        fixed_readers=fixed,
        voids=voids,
        contributions=_contributions(stages),
        next_action=next_action(
            installation,
            there=there,
            stages=stages,
            readouts=readouts,
            now_pct=shown.expanded_uncertainty_pct,
            findings=findings,
            observed=known.observed,
        ),
        cautions=cautions_of(there),
        guides=guides_with(there),
        rule_text=rule_text(installation.rule, installation.vehicle_kind, installation.purpose),
        findings=tuple(findings),
    )


def _told(readouts: tuple[ReadoutResult, ...], fixed: tuple[FixedReader, ...]) -> tuple[ReadoutResult, ...]:
    """The readouts with what to do about those that cannot be set."""
    if not fixed:
        return readouts
    ways = {reader.readout: reader for reader in fixed}
    return tuple(
        [
            replace(readout, action=action_of_fixed(readout, ways[place])) if place in ways else readout
            for place, readout in enumerate(readouts)
        ]
    )


def _sweep_end_kmh(installation: Installation, needs: Requirements) -> float:
    """How far the bench drives [km/h]: past the top speed, the check speed and every end of a scale."""
    ends = [readout.scale_end_kmh or 0.0 for readout in installation.readouts]
    return math.ceil(PAST_THE_END * max(needs.max_speed_kmh, installation.check_speed_kmh, *ends))


def _pulse_times(needs: Requirements, placed: PlacementDetail, turn_mm: float, top_hz: float) -> PulseTimes:
    """A pulse's share of a turn of the target over the time that turn takes."""
    longest = placed.long_share * turn_mm / (needs.min_speed_kmh / 3.6)
    shortest = placed.short_share * turn_mm / (needs.max_speed_kmh / 3.6)
    return PulseTimes(
        min_speed_kmh=needs.min_speed_kmh,
        longest_ms=longest,
        max_speed_kmh=needs.max_speed_kmh,
        shortest_ms=shortest,
        top_hz=top_hz,
    )


def _readout_stage(readout: ReadoutResult, per_turn: float) -> Stage:
    u_pct = readout.relative_standard_uncertainty_pct
    counts = readout.entry == "counts"
    figures = (
        Figure(
            name="pulses per turn" if counts else "number in use",
            value=per_turn if counts else readout.in_use.value,
            unit="per turn" if counts else readout.unit,
            evidence=readout.evidence,
            relative_standard_uncertainty_pct=0.0,
        ),
        Figure(
            name="shown against true",
            value=readout.shown.error_pct,
            unit="%",
            evidence=readout.evidence,
            relative_standard_uncertainty_pct=u_pct,
        ),
    )
    return Stage(
        stage="readout",
        figures=figures,
        evidence=readout.evidence,
        grounds=readout.grounds,
        relative_standard_uncertainty_pct=u_pct,
        why=readout.why,
    )


def _shown(true_kmh: float, readout: ReadoutResult, chain_u_pct: float, chain_expanded_pct: float) -> Shown:
    steps_pct = readout.relative_standard_uncertainty_pct
    u_pct = combine_pct((chain_u_pct, steps_pct))
    shown_kmh = readout.shown.shown_kmh
    expanded_pct = combine_pct((chain_expanded_pct, COVERAGE_FACTOR * steps_pct))
    return Shown(
        true_kmh=true_kmh,
        shown_kmh=shown_kmh,
        error_pct=readout.shown.error_pct,
        relative_standard_uncertainty_pct=u_pct,
        expanded_uncertainty_kmh=shown_kmh * expanded_pct / 100,
        expanded_uncertainty_pct=expanded_pct,
        coverage_factor=expanded_pct / u_pct if u_pct else COVERAGE_FACTOR,
        condition=_condition(readout),
    )


def _condition(readout: ReadoutResult) -> str:
    """On what condition a readout shows that."""
    if readout.entry == "counts":
        return "shows no speed"
    if readout.current_setting is not None or readout.evidence != "assumed":
        return ""
    if readout.entry == "learned":
        return "once it has learned its setting"
    return text_of("if {0}\u00a0{1} is entered", readout.to_type.text, readout.unit)


def _contributions(stages: tuple[Stage, ...]) -> tuple[Contribution, ...]:
    total = sum([stage.expanded_uncertainty_pct**2 for stage in stages])
    parts = [
        Contribution(
            stage=stage.stage,
            relative_standard_uncertainty_pct=stage.relative_standard_uncertainty_pct,
            share_pct=100 * stage.expanded_uncertainty_pct**2 / total,
            source="whole pulses, counted or timed, and steps of the display"
            if stage.stage == "readout"
            else stage.grounds,
        )
        for stage in stages
        if stage.relative_standard_uncertainty_pct > 0
    ]
    return tuple(sorted(parts, key=lambda part: -part.share_pct))
