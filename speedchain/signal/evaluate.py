"""The signal stage: frequencies, and levels, coil, comparator and converter between the sensor and its readers."""

from __future__ import annotations

from collections.abc import Iterator

from speedchain.fields import Evidence, InputError, Words, text_of
from speedchain.placement import PlacementDetail
from speedchain.readout import Readout
from speedchain.results import result
from speedchain.sensor import NO_TARGET, Requirements, Sensor, facts_of
from speedchain.signal.frequency import frequency_hz
from speedchain.signal.levels import Comparator, Levels, design_comparator
from speedchain.signal.model import Signal
from speedchain.signal.path import Arriving, Coil, Conversion, StageRate, arriving, coil_of, conversion_of, stage_rate
from speedchain.signal.rules import bounce_rules, coil_rules, conversion_rules, lead_rules, level_rules, rate_rules
from speedchain.stages import Figure, Finding, FindingCode, Stage, WhyStep, finding
from speedchain.target import RingShape, Target

USUAL_ARMING_V = 0.3


@result
class SignalDetail:
    """All that is known of the signal between sensor and readers."""

    arriving: Arriving
    at_reader: Levels | None
    coil: Coil | None
    comparator: Comparator | None
    conversion: Conversion | None
    rates: tuple[StageRate, ...]


@result
class SignalResult:
    """The signal's stage, detail and findings."""

    stage: Stage
    detail: SignalDetail
    findings: tuple[Finding, ...]


@result
class _Path:
    """What the signal runs through, and the frequencies of its cycles [Hz] at the lowest and the top speed."""

    signal: Signal
    sensor: Sensor
    needs: Requirements
    readouts: tuple[Readout, ...]
    cycles_per_km: float
    lowest_hz: float
    top_hz: float


def evaluate_signal(
    signal: Signal,
    *,
    sensor: Sensor,
    needs: Requirements,
    target: Target,
    ring: RingShape | None,
    placed: PlacementDetail,
    readouts: tuple[Readout, ...],
    pulses_per_km: float,
    cycles_per_km: float,
    check_speed_kmh: float,
    u_pct: float,
    must_reach: bool = False,
) -> SignalResult:
    """Frequency, levels and rates from the sensor to every reader.

    Parameters
    ----------
    signal, sensor, needs, target, readouts : of the document.
    ring, placed : shape of the ring and evaluated placement, for gap, pitch and length of a pulse.
    pulses_per_km : counted edges [1/km], which readers and converters count.
    cycles_per_km : teeth or magnets that pass the sensor [1/km]: a tooth with both edges counted is one cycle.
    check_speed_kmh : at which frequency, coil and converter are shown [km/h].
    u_pct : relative standard uncertainty of the pulses per km [%].
    must_reach : whether a coil that is too weak at the lowest speed makes the installation useless, as for brake
    control.
    """
    path = _Path(
        signal=signal,
        sensor=sensor,
        needs=needs,
        readouts=readouts,
        cycles_per_km=cycles_per_km,
        lowest_hz=frequency_hz(needs.min_speed_kmh, cycles_per_km),
        top_hz=frequency_hz(needs.max_speed_kmh, cycles_per_km),
    )
    problems: list[Finding] = []
    conversion = None
    if signal.converter is not None:
        try:
            conversion = conversion_of(signal.converter, pulses_per_km, check_speed_kmh, needs.min_speed_kmh)
        except InputError as error:
            problems.append(_refused(FindingCode.RATIO, error))
    coil = _coil(path, placed.air_gap_mm if placed.possible else None, ring.pitch_mm if ring else None)
    arrives = _arriving(path, coil, check_speed_kmh)
    comparator = None
    conditioner = signal.conditioner
    works = not arrives.leaves_less_than(facts_of(sensor).supply_min_v)
    if conditioner is not None and conditioner.kind == "comparator" and arrives.levels is not None and works:
        try:
            comparator = design_comparator(
                arrives.levels,
                noise_v=conditioner.noise_v,
                supply_v=conditioner.supply_v,
                series=conditioner.series,
                input_resistor_ohm=conditioner.input_resistor_ohm,
            )
        except InputError as error:
            problems.append(_refused(FindingCode.COMPARATOR, error))
    detail = SignalDetail(
        arriving=arrives,
        at_reader=Levels(low_v=0.0, high_v=conditioner.output_v) if conditioner else arrives.levels,
        coil=coil,
        comparator=comparator,
        conversion=conversion,
        rates=_rates(path, conversion, placed, target),
    )
    return SignalResult(
        stage=signal_stage(signal, speed_kmh=check_speed_kmh, pulses_per_km=pulses_per_km, u_pct=u_pct),
        detail=detail,
        findings=(*problems, *_rules(path, detail, must_reach)),
    )


def _refused(code: FindingCode, error: InputError) -> Finding:
    first = error.problems[0]
    return finding(code, problem=first.message, remedy=first.remedy)


def _rules(path: _Path, detail: SignalDetail, must_reach: bool) -> Iterator[Finding]:
    signal, facts = path.signal, facts_of(path.sensor)
    output, conditioned = facts.output, signal.conditioner is not None
    yield from lead_rules(
        signal,
        facts=facts,
        supply_v=path.needs.supply_v,
        arriving=detail.arriving,
        top_hz=path.top_hz,
        level_wanted=conditioned or path.readouts[0].input is not None,
    )
    if detail.coil is not None:
        yield from coil_rules(detail.coil, path.needs, conditioned=conditioned, must_reach=must_reach)
    for readout in path.readouts:
        straight = signal.converter is None or readout.before_converter
        if straight and detail.at_reader is not None:
            yield from level_rules(readout, detail.at_reader, sine=output == "sine")
    yield from rate_rules(detail.rates, max_speed_kmh=path.needs.max_speed_kmh)
    if output == "contact" and not conditioned:
        for readout in path.readouts:
            yield from bounce_rules(readout, top_hz=path.top_hz)
    if detail.conversion is not None:
        yield from conversion_rules(signal, path.readouts, detail.conversion, max_speed_kmh=path.needs.max_speed_kmh)


def _coil(path: _Path, air_gap_mm: float | None, pitch_mm: float | None) -> Coil | None:
    if facts_of(path.sensor).output != "sine":
        return None
    conditioner, first = path.signal.conditioner, path.readouts[0].input
    arming_v = conditioner.arming_v if conditioner else first.min_high_v if first else USUAL_ARMING_V
    return coil_of(
        path.signal,
        pulses_per_km=path.cycles_per_km,
        max_speed_kmh=path.needs.max_speed_kmh,
        arming_v=arming_v,
        air_gap_mm=air_gap_mm,
        pitch_mm=pitch_mm,
    )


def _arriving(path: _Path, coil: Coil | None, check_speed_kmh: float) -> Arriving:
    first, pull_up = path.readouts[0].input, None
    if path.signal.conditioner is None and first is not None and first.pull_up_ohm is not None:
        pull_up = (first.supply_v, first.pull_up_ohm)
    output, supply_v = facts_of(path.sensor).output, path.needs.supply_v
    return arriving(
        output,
        signal=path.signal,
        supply_v=supply_v,
        top_hz=path.top_hz,
        reader_pull_up=pull_up,
        coil=coil,
        at_kmh=check_speed_kmh,
    )


def _rates(
    path: _Path, conversion: Conversion | None, placed: PlacementDetail, target: Target
) -> tuple[StageRate, ...]:
    hz = path.lowest_hz, path.top_hz
    known = placed.short_share > 0
    shares = (placed.long_share * target.count, placed.short_share * target.count) if known else (0.5, 0.5)
    pulse_ms = (1000 * shares[0] / hz[0], 1000 * shares[1] / hz[1])
    limit = None if path.sensor.kind in NO_TARGET else facts_of(path.sensor).max_frequency_hz
    rows = [stage_rate("sensor", label="Sensor", hz=hz, pulse_ms=pulse_ms, max_frequency_hz=limit)]
    if (conditioner := path.signal.conditioner) is not None:
        label = "Comparator" if conditioner.kind == "comparator" else "VR conditioner"
        rows.append(
            stage_rate(
                "conditioner", label=label, hz=hz, pulse_ms=pulse_ms, max_frequency_hz=conditioner.max_frequency_hz
            )
        )
    out_hz, out_pulse_ms = hz, pulse_ms
    if conversion is not None and (converter := path.signal.converter) is not None:
        rows.append(
            stage_rate(
                "converter_in",
                label="Converter input",
                hz=hz,
                pulse_ms=pulse_ms,
                max_frequency_hz=converter.max_input_hz,
            )
        )
        top_hz = hz[1] * target.edges * conversion.ratio
        out_hz = (
            hz[0] * target.edges * conversion.ratio,
            top_hz if conversion.cap_hz is None else min(top_hz, conversion.cap_hz),
        )
        out_pulse_ms = 500 / out_hz[0], 500 / out_hz[1]
        rows.append(
            stage_rate(
                "converter_out",
                label="Converter output",
                hz=out_hz,
                pulse_ms=out_pulse_ms,
                max_frequency_hz=converter.max_output_hz,
            )
        )
    for readout in path.readouts:
        straight = conversion is None or readout.before_converter
        at_hz, width_ms = (hz, pulse_ms) if straight else (out_hz, out_pulse_ms)
        most, least = _limits(readout)
        rows.append(
            stage_rate("reader", label=readout.name, hz=at_hz, pulse_ms=width_ms, max_frequency_hz=most, least_ms=least)
        )
    return tuple(rows)


def _limits(readout: Readout) -> tuple[float | None, float | None]:
    """Max. frequency [Hz] and min. pulse width [ms] of a reader's input, where it has them."""
    port = readout.input
    if port is None:
        return None, None
    limits = [port.max_frequency_hz, 1000 / port.dead_time_ms if port.dead_time_ms > 0 else None]
    return min([hz for hz in limits if hz is not None], default=None), (port.min_pulse_us / 1000) or None


def signal_stage(signal: Signal, *, speed_kmh: float, pulses_per_km: float, u_pct: float) -> Stage:
    """Frequency at the check speed [Hz], the period [ms], and Hz per km/h.

    Examples
    --------
    >>> signal_stage(Signal(), speed_kmh=100, pulses_per_km=24903, u_pct=0.5).figures[0].unit
    'Hz'
    """
    frequency = frequency_hz(speed_kmh, pulses_per_km)
    measured = signal.measured is not None or signal.vr is not None
    evidence: Evidence = "verified" if signal.verification is not None else "measured" if measured else "assumed"
    figures = (
        Figure(
            name=text_of("frequency at {0:g} km/h", speed_kmh),
            value=frequency,
            unit="Hz",
            evidence=evidence,
            relative_standard_uncertainty_pct=u_pct,
        ),
        Figure(
            name="period", value=1000 / frequency, unit="ms", evidence=evidence, relative_standard_uncertainty_pct=u_pct
        ),
        Figure(
            name="frequency per km/h",
            value=frequency / speed_kmh,
            unit="Hz per km/h",
            evidence=evidence,
            relative_standard_uncertainty_pct=u_pct,
        ),
    )
    why = (
        WhyStep(
            formula="f = v/3.6 · pulses per km/1000",
            with_numbers=f"f = {speed_kmh:g}/3.6 × {pulses_per_km:.1f}/1000 = {frequency:.2f} Hz",
            source="unit arithmetic",
        ),
    )
    return Stage(
        stage="signal",
        figures=figures,
        evidence=evidence,
        grounds=_grounds(signal),
        relative_standard_uncertainty_pct=0.0,
        why=why,
    )


def _grounds(signal: Signal) -> str:
    if signal.verification is not None:
        return "observed at the reader"
    path: Words = "wired straight through"
    if signal.conditioner is not None and signal.converter is not None:
        path = "through a conditioner and a ratio converter"
    elif signal.conditioner is not None:
        path = "through a conditioner"
    elif signal.converter is not None:
        path = "through a ratio converter"
    if signal.measured is not None:
        return text_of("{0}; its levels were measured", path)
    if signal.vr is not None:
        return text_of("{0}; the coil's voltage was measured", path)
    return text_of("{0}, not yet observed at the reader", path)
