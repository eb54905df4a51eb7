"""Rules about the signal: what arrives at each reader against what its input takes."""

from __future__ import annotations

import math
from collections.abc import Iterator

from speedchain.fields import text_of
from speedchain.readout import Readout
from speedchain.sensor import Facts, Requirements
from speedchain.signal.levels import Levels
from speedchain.signal.model import Lead, Signal
from speedchain.signal.path import Arriving, Coil, Conversion, StageRate
from speedchain.stages import Finding, FindingCode, finding

HIGHEST_SATURATION_V = 1.0
"""An open collector that is on pulls the signal below this, with a pull-up of usual size. Common practice."""
CLOSE = 0.8
"""From this share of what an input takes on a finding says that it is close. Common practice."""
BOUNCE_MS = 1.0
"""Contacts of reeds bounce for up to a millisecond. Common practice."""
BUFFER_OHM = 100_000.0
"""An input of so much does not load a brake unit's sensor. Common practice."""
SLOW_RISE = 0.1
"""Share of the shortest period that a rise may take. Common practice."""
RATIO_ERROR_PPM = 1000.0


def lead_rules(
    signal: Signal, *, facts: Facts, supply_v: float, arriving: Arriving, top_hz: float, level_wanted: bool
) -> Iterator[Finding]:
    """Pull-up, load, rise time, fuse and shield.

    Parameters
    ----------
    signal, facts, arriving : of the document, of the sensor, and what follows from both.
    supply_v : the sensor's supply [V].
    top_hz : pulses at top speed [Hz].
    level_wanted : whether a conditioner or a reader's input is entered, so that levels matter.
    """
    lead, output = signal.lead, facts.output
    if (
        level_wanted
        and output in ("open_collector", "contact")
        and not signal.measured
        and arriving.pull_up_ohm is None
    ):
        yield finding(FindingCode.NO_PULL_UP, resistance=arriving.pull_up_to_fit)
    if level_wanted and output == "two_wire_current" and lead.load_ohm is None and not signal.measured:
        yield finding(FindingCode.NO_LOAD)
    if output == "open_collector" and signal.measured and signal.measured.low_v > HIGHEST_SATURATION_V:
        yield finding(FindingCode.MAYBE_TWO_WIRE, low_v=signal.measured.low_v)
    if arriving.leaves_less_than(facts.supply_min_v) and facts.supply_min_v <= supply_v:
        yield finding(
            FindingCode.LOAD_TOO_LARGE,
            load_ohm=lead.load_ohm or 0.0,
            high_ma=lead.high_ma,
            sensor_v=max(arriving.sensor_v or 0.0, 0.0),
            min_v=facts.supply_min_v,
            largest_ohm=math.floor(1000 * (supply_v - facts.supply_min_v) / lead.high_ma),
        )
    if arriving.rise_s is not None and top_hz and arriving.rise_s > SLOW_RISE / top_hz:
        yield finding(
            FindingCode.SLOW_RISE,
            rise_us=arriving.rise_s * 1e6,
            tenth_us=1e6 * SLOW_RISE / top_hz,
            largest_ohm=arriving.largest_pull_up_ohm or 0.0,
        )
    yield from _wire_rules(lead)
    if lead.shared:
        yield from _shared_rules(signal)


def _shared_rules(signal: Signal) -> Iterator[Finding]:
    """A sensor that a brake unit reads is listened to without loading it. Common practice."""
    conditioner = signal.conditioner
    if signal.lead.pull_up_ohm is not None:
        load = text_of("a pull-up of {0:g} Ω", signal.lead.pull_up_ohm)
    elif signal.lead.load_ohm is not None:
        load = text_of("a load of {0:g} Ω", signal.lead.load_ohm)
    elif conditioner is None:
        load = text_of("the reader's own input")
    elif conditioner.kind == "comparator" and conditioner.input_resistor_ohm < BUFFER_OHM:
        load = text_of("an input of {0:g} Ω", conditioner.input_resistor_ohm)
    else:
        return
    yield finding(FindingCode.SHARED_LOADED, load=load, buffer_ohm=BUFFER_OHM)


def _wire_rules(lead: Lead) -> Iterator[Finding]:
    if lead.permanent_feed and lead.fuse_a is None:
        yield finding(FindingCode.NO_FUSE)
    if lead.near_ignition and not (lead.twisted and lead.shield == "one_end"):
        yield finding(FindingCode.IGNITION)
    if lead.shield == "both_ends":
        yield finding(FindingCode.SHIELD)


def coil_rules(coil: Coil, needs: Requirements, *, conditioned: bool, must_reach: bool = False) -> Iterator[Finding]:
    """Whether a coil gives enough at the lowest speed, which blocks where it `must_reach` it, and not too much at the
    highest."""
    if coil.min_speed_kmh > needs.min_speed_kmh:
        yield finding(
            FindingCode.VR_SLOW,
            "blocking" if must_reach else "warning",
            min_kmh=coil.min_speed_kmh,
            arming_v=coil.arming_v,
            reader="the VR conditioner" if conditioned else "the reader",
            required_kmh=needs.min_speed_kmh,
        )
    if coil.max_input_vpp is None or coil.clamped or coil.at_top_vpp <= CLOSE * coil.max_input_vpp:
        return
    yield finding(
        FindingCode.OVER_DRIVEN,
        "blocking" if coil.too_much_from_kmh is not None else "warning",
        max_speed_kmh=needs.max_speed_kmh,
        top_vpp=coil.at_top_vpp,
        max_vpp=coil.max_input_vpp,
        from_kmh=coil.max_input_vpp / coil.vpp_per_kmh,
    )


def level_rules(readout: Readout, levels: Levels, *, sine: bool) -> Iterator[Finding]:
    """Levels [V] that arrive at a reader's input against its thresholds and its limit."""
    limits = readout.input
    if limits is None:
        return
    if not sine and levels.low_v > limits.max_low_v:
        yield finding(FindingCode.LOW_LEVEL, readout=readout.name, low_v=levels.low_v, max_low_v=limits.max_low_v)
    if not sine and levels.high_v < limits.min_high_v:
        yield finding(FindingCode.HIGH_LEVEL, readout=readout.name, high_v=levels.high_v, min_high_v=limits.min_high_v)
    if limits.max_input_v is not None and levels.high_v > limits.max_input_v:
        yield finding(FindingCode.OVER_VOLTAGE, readout=readout.name, high_v=levels.high_v, max_v=limits.max_input_v)


def rate_rules(rates: tuple[StageRate, ...], *, max_speed_kmh: float) -> Iterator[Finding]:
    """Whether every part behind the sensor follows the pulses at top speed."""
    for row in rates[1:]:
        if not row.kept_up:
            yield finding(
                FindingCode.TOO_FAST,
                part=row.label,
                top_hz=row.top_hz,
                max_speed_kmh=max_speed_kmh,
                max_hz=row.max_frequency_hz or 0.0,
            )
        if not row.pulse_seen:
            yield finding(
                FindingCode.SHORT_PULSE,
                part=row.label,
                shortest_us=row.shortest_ms * 1000,
                max_speed_kmh=max_speed_kmh,
                least_us=(row.least_ms or 0.0) * 1000,
            )


def bounce_rules(readout: Readout, *, top_hz: float) -> Iterator[Finding]:
    """Whether a reader's dead time covers the bounce of a contact wired straight to it."""
    limits = readout.input
    if limits is None or limits.dead_time_ms >= BOUNCE_MS or limits.min_pulse_us >= 1000 * BOUNCE_MS:
        return
    period_ms = 1000 / top_hz
    if period_ms > BOUNCE_MS:
        yield finding(FindingCode.BOUNCE, bounce_ms=BOUNCE_MS, readout=readout.name, most_ms=period_ms)
    else:
        yield finding(FindingCode.BOUNCE_TOO_FAST, bounce_ms=BOUNCE_MS, readout=readout.name, period_ms=period_ms)


def conversion_rules(
    signal: Signal, readouts: tuple[Readout, ...], conversion: Conversion, *, max_speed_kmh: float
) -> Iterator[Finding]:
    """The error of the converter's ratio, and gauges whose needle drops to zero past the end of the scale."""
    if abs(conversion.error_ppm) > RATIO_ERROR_PPM:
        ratio = " · ".join([f"{stage.numerator}/{stage.denominator}" for stage in conversion.stages])
        yield finding(FindingCode.RATIO_ERROR, ratio=ratio, error_pct=conversion.error_ppm / 1e4)
    cap_kmh = signal.converter.cap_kmh if signal.converter else None
    for readout in readouts:
        end_kmh = readout.scale_end_kmh
        if readout.before_converter or readout.past_end != "wraps" or end_kmh is None or end_kmh >= max_speed_kmh:
            continue
        if cap_kmh is None or cap_kmh > end_kmh:
            yield finding(FindingCode.WRAPS, readout=readout.name, end_kmh=end_kmh, max_speed_kmh=max_speed_kmh)
