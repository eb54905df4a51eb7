"""What the signal is like at the end of its lead: levels, rise, a coil's voltage over speed, the converter, rates."""

from __future__ import annotations

import math
from typing import Literal, assert_never

from speedchain.fields import Words, text_of
from speedchain.placement import spacing_loss
from speedchain.results import result
from speedchain.sensor import Output
from speedchain.signal.levels import Levels, current_levels, largest_pull_up_ohm, pull_up_range, rise_time_s
from speedchain.signal.model import Converter, Lead, Signal
from speedchain.signal.ratio import RatioChoice, product, stages_in_use
from speedchain.signal.vr import vr_range, vr_voltage_vpp

SATURATION_V = 0.4
"""What an output transistor leaves when it pulls low. Common practice."""
Stage = Literal["sensor", "conditioner", "converter_in", "converter_out", "reader"]


@result
class Arriving:
    """Levels at the end of the lead, where they are known, how fast they rise, and what a load leaves for the
    sensor."""

    levels: Levels | None
    text: Words
    rise_s: float | None
    pull_up_ohm: float | None
    largest_pull_up_ohm: float | None
    pull_up_to_fit: Words
    sensor_v: float | None

    def leaves_less_than(self, supply_min_v: float) -> bool:
        """Whether the load leaves the sensor too little to work, so that no level is to be relied on."""
        return self.sensor_v is not None and self.sensor_v < supply_min_v


@result
class Coil:
    """A coil's voltage over speed: the lowest usable speed, the voltage at the top, where it becomes too much."""

    vpp_per_kmh: float
    gap_factor: float
    arming_v: float
    min_speed_kmh: float
    at_top_vpp: float
    max_input_vpp: float | None
    too_much_from_kmh: float | None
    clamped: bool


@result
class Conversion:
    """A ratio converter at the speed that is looked at: its stages, error, frequencies and delay."""

    target_pulses_per_km: float
    wanted_ratio: float
    stages: tuple[RatioChoice, ...]
    typed: bool
    ratio: float
    error_ppm: float
    error_kmh: float
    in_hz: float
    out_hz: float
    cap_hz: float | None
    latency_ms: float
    latency_lowest_ms: float


@result
class StageRate:
    """One stage at lowest and top speed: frequency [Hz] and pulse [ms] against what it follows."""

    stage: Stage
    label: Words
    lowest_hz: float
    top_hz: float
    longest_ms: float
    shortest_ms: float
    max_frequency_hz: float | None
    least_ms: float | None
    kept_up: bool
    pulse_seen: bool


def stage_rate(
    stage: Stage,
    *,
    label: str,
    hz: tuple[float, float],
    pulse_ms: tuple[float, float],
    max_frequency_hz: float | None = None,
    least_ms: float | None = None,
) -> StageRate:
    """A row of the table of rates.

    Parameters
    ----------
    Frequency and pulse at the lowest and at the top speed [Hz, ms]; the limits, where there are any.

    Examples
    --------
    >>> stage_rate("reader", label="Dash", hz=(5, 2000), pulse_ms=(80, 0.2), max_frequency_hz=1500).kept_up
    False
    """
    return StageRate(
        stage=stage,
        label=label,
        lowest_hz=hz[0],
        top_hz=hz[1],
        longest_ms=pulse_ms[0],
        shortest_ms=pulse_ms[1],
        max_frequency_hz=max_frequency_hz,
        least_ms=least_ms,
        kept_up=max_frequency_hz is None or hz[1] <= max_frequency_hz,
        pulse_seen=least_ms is None or pulse_ms[1] >= least_ms,
    )


def lead_capacitance_f(lead: Lead) -> float:
    """Capacitance of the whole lead [F]: length times capacitance per metre.

    Examples
    --------
    >>> round(lead_capacitance_f(Lead()) * 1e12)
    300
    """
    return lead.length_m * lead.pf_per_m * 1e-12


def arriving(
    output: Output,
    *,
    signal: Signal,
    supply_v: float,
    top_hz: float,
    reader_pull_up: tuple[float, float] | None,
    coil: Coil | None = None,
    at_kmh: float = 0.0,
) -> Arriving:
    """Levels at the end of the lead, as measured or as they follow from the output and its resistors.

    Open collector: about 0.4 V low, the pull-up's supply high; current: I·R, at most the supply; a coil: half its swing
    either way of 0 V, or of half the supply where it is biased.

    Parameters
    ----------
    The sensor's output; the signal; its supply [V]; pulses at top speed [Hz]; the reader's own pull-up (supply [V],
    resistance [Ω]) if it has one; the coil and the speed at which it is looked at [km/h].

    References
    ----------
    Ohm's law; common practice.

    Examples
    --------
    >>> arriving("two_wire_current", signal=Signal.model_validate({"lead": {"load_ohm": 100}}), supply_v=12,
    ...     top_hz=1000, reader_pull_up=None).levels.high_v
    1.4
    """
    lead = signal.lead
    capacitance = lead_capacitance_f(lead)
    most_ohm = (
        largest_pull_up_ohm(top_hz, capacitance) if capacitance and output in ("open_collector", "contact") else None
    )
    pull_v, pull_ohm = reader_pull_up or (0.0, math.inf)
    if lead.pull_up_ohm is not None:
        parallel = (
            lead.pull_up_ohm * pull_ohm / (lead.pull_up_ohm + pull_ohm) if pull_ohm < math.inf else lead.pull_up_ohm
        )
        outside_v = lead.pull_up_v if lead.pull_up_v is not None else (pull_v or supply_v)
        inside = parallel / pull_ohm if pull_ohm < math.inf else 0.0
        pull_v, pull_ohm = outside_v * (1 - inside) + pull_v * inside, parallel
    pulled = pull_ohm < math.inf
    rise = rise_time_s(pull_ohm, capacitance) if pulled and output in ("open_collector", "contact") else None
    levels, text = _levels(
        output, signal=signal, supply_v=supply_v, pull_v=pull_v if pulled else None, coil=coil, at_kmh=at_kmh
    )
    loaded = output == "two_wire_current" and lead.load_ohm is not None and signal.measured is None
    return Arriving(
        levels=levels,
        text=text,
        rise_s=rise,
        pull_up_ohm=pull_ohm if pulled else None,
        largest_pull_up_ohm=most_ohm,
        pull_up_to_fit=pull_up_range(most_ohm) if output in ("open_collector", "contact") else "",
        sensor_v=supply_v - lead.high_ma * (lead.load_ohm or 0.0) / 1000 if loaded else None,
    )


def _levels(
    output: Output, *, signal: Signal, supply_v: float, pull_v: float | None, coil: Coil | None, at_kmh: float
) -> tuple[Levels | None, str]:
    if signal.measured is not None:
        return Levels(low_v=signal.measured.low_v, high_v=signal.measured.high_v), "measured"
    match output:
        case "two_wire_current":
            return _current_levels(signal.lead, supply_v)
        case "open_collector":
            return _pulled_up(SATURATION_V, pull_v)
        case "contact":
            return _pulled_up(0.0, pull_v)
        case "push_pull":
            return _between(SATURATION_V, supply_v), "push-pull to its supply"
        case "sine":
            if coil is None:
                return None, "a coil: measure its voltage at one frequency"
            swing = coil.vpp_per_kmh * at_kmh
            if signal.conditioner is not None and signal.conditioner.biased and signal.conditioner.kind == "comparator":
                low_v, high_v = signal.conditioner.levels_of_coil(swing)
                return _between(low_v, high_v), text_of("a coil at {0:g} km/h, biased to half of the supply", at_kmh)
            return Levels(low_v=-swing / 2, high_v=swing / 2), text_of("a coil at {0:g} km/h", at_kmh)
        case "radio":
            return None, "wireless: no wire level"
        case other:
            assert_never(other)


def _current_levels(lead: Lead, supply_v: float) -> tuple[Levels | None, str]:
    if lead.load_ohm is None:
        return None, "current output: needs a load resistor"
    text = text_of("current over {0:g} Ω", lead.load_ohm)
    driven = current_levels(lead.load_ohm, lead.low_ma, lead.high_ma)
    # Above its low level neither current can flow through so much resistance.
    return _between(driven.low_v, min(driven.high_v, supply_v)), text


def _pulled_up(low_v: float, pull_v: float | None) -> tuple[Levels | None, str]:
    if pull_v is None:
        return None, "no pull-up: stays low"
    return _between(low_v, pull_v), text_of("pulled up to {0:g} V", pull_v)


def _between(low_v: float, high_v: float) -> Levels | None:
    return Levels(low_v=low_v, high_v=high_v) if high_v > low_v else None


def coil_of(
    signal: Signal,
    *,
    pulses_per_km: float,
    max_speed_kmh: float,
    arming_v: float,
    air_gap_mm: float | None,
    pitch_mm: float | None,
) -> Coil | None:
    """A coil's range of speed from its one measured point; nothing without one.

    V_pp = V_ref·f/f_ref·exp(−2π·(g − g_ref)/p).

    Parameters
    ----------
    The signal; pulses per km; top speed [km/h]; the peak from which its input works [V]; fitted gap and pitch of
    the teeth [mm], where they are known.

    References
    ----------
    See `vr_voltage_vpp`.

    Examples
    --------
    >>> result = coil_of(Signal.model_validate({"vr": {"measured_vpp": 2, "at_hz": 100}}), pulses_per_km=36_000,
    ...     max_speed_kmh=200, arming_v=0.5, air_gap_mm=None, pitch_mm=None)
    >>> result.min_speed_kmh, result.at_top_vpp
    (5.0, 40.0)
    """
    point, conditioner = signal.vr, signal.conditioner
    if point is None:
        return None
    factor = 1.0
    if point.air_gap_mm is not None and air_gap_mm is not None and pitch_mm:
        factor = float(spacing_loss(air_gap_mm - point.air_gap_mm, pitch_mm))
    hz_per_kmh = pulses_per_km / 3600
    most = conditioner.most_vpp if conditioner else None
    result = vr_range(
        point.measured_vpp,
        measured_hz=point.at_hz,
        top_hz=max_speed_kmh * hz_per_kmh,
        arming_v=arming_v,
        max_input_vpp=most,
        gap_factor=factor,
    )
    return Coil(
        vpp_per_kmh=vr_voltage_vpp(point.measured_vpp, measured_hz=point.at_hz, at_hz=hz_per_kmh, gap_factor=factor),
        gap_factor=factor,
        arming_v=arming_v,
        min_speed_kmh=result.lowest_hz / hz_per_kmh,
        at_top_vpp=result.at_top_vpp,
        max_input_vpp=most,
        too_much_from_kmh=None if result.too_much_from_hz is None else result.too_much_from_hz / hz_per_kmh,
        clamped=conditioner is not None and conditioner.clamped,
    )


def conversion_of(converter: Converter, pulses_per_km: float, at_kmh: float, min_speed_kmh: float) -> Conversion:
    """The converter at a speed: K = wanted/given as p/q, its error, and how long it lags behind.

    Delay: k averaged pulses in, and one period out. Output at the cap: K·pulses per km·v_cap/3600.

    Parameters
    ----------
    The converter; pulses per km it is given; speed looked at and lowest speed [km/h].

    Raises
    ------
    `InputError` when the ratio is out of reach.

    References
    ----------
    Unit arithmetic.

    Examples
    --------
    >>> result = conversion_of(Converter(target_pulses_per_km=2500), 20_000, 90, 10)
    >>> result.stages[0].denominator, result.in_hz, result.out_hz, round(result.latency_ms, 6)
    (8, 500.0, 62.5, 18.0)
    """
    wanted = converter.wanted / pulses_per_km
    stages = stages_in_use(wanted, converter)
    ratio = product(stages)
    in_hz = at_kmh * pulses_per_km / 3600
    cap = None if converter.cap_kmh is None else ratio * pulses_per_km * converter.cap_kmh / 3600

    def latency_ms(hz: float) -> float:
        return 1000 * (converter.averaged / hz + 1 / (hz * ratio))

    out_hz = in_hz * ratio
    return Conversion(
        target_pulses_per_km=converter.wanted,
        wanted_ratio=wanted,
        stages=stages,
        typed=bool(converter.setting),
        ratio=ratio,
        error_ppm=stages[-1].error_ppm,
        error_kmh=at_kmh * stages[-1].error_ppm / 1e6,
        in_hz=in_hz,
        out_hz=out_hz if cap is None else min(out_hz, cap),
        cap_hz=cap,
        latency_ms=latency_ms(in_hz),
        latency_lowest_ms=latency_ms(in_hz * min_speed_kmh / at_kmh),
    )
