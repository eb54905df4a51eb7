"""All that is drawn of the signal beside the evaluation: a coil over speed, the two ways with it, converters,
smoothing."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import Capacitance, InputError, Words, quantity_of, text_of
from speedchain.results import result
from speedchain.sensor import USUAL
from speedchain.signal import CLOSE, Analogue, Coil, RatioChoice, Smoothed, best_chain, best_ratio, nearest, smoothed

POINTS = 41
RIPPLE_WANTED = 0.01


@result
class CoilLine:
    """A coil's voltage over speed [km/h, V peak to peak]."""

    kmh: tuple[float, ...]
    vpp: tuple[float, ...]


@result
class CoilWay:
    """One of two ways with a coil: what it costs and gives, in numbers."""

    code: str
    label: Words
    min_speed_kmh: float
    at_top: Words
    text: Words
    good: bool


@result
class RatioWay:
    """One way of making the ratio: its stages, and what is left at the speed that is looked at."""

    label: Words
    stages: tuple[RatioChoice, ...]
    error_ppm: float
    error_kmh: float


@result
class RatioAt:
    """The converter at one true speed: pulses in and out [Hz], what the gauge is off [km/h], how late it is [ms]."""

    kmh: float
    in_hz: float
    out_hz: float
    error_kmh: float
    latency_ms: float
    capped: bool


@result
class VoltsAt:
    """Voltage at one speed behind the smoothing."""

    kmh: float
    duty_pct: float
    volts: float
    shown_kmh: float


@result
class AnalogueTold:
    """The smoothing as entered, and values of a series that ripple less than 1 % of full scale."""

    smoothed: Smoothed
    ripple_pct: float
    outputs: tuple[VoltsAt, ...]
    advised_nf: float
    advised: Smoothed
    text: Words


@result
class SignalView:
    """What the signal's place shows beside the evaluation."""

    coil_line: CoilLine | None
    coil_ways: tuple[CoilWay, ...]
    ways: tuple[RatioWay, ...]
    over_range: tuple[RatioAt, ...]
    analogue: AnalogueTold | None


def view_signal(installation: Installation, evaluation: Evaluation) -> SignalView:
    """A coil over speed and the ways with it, ways to a ratio, smoothing.

    Examples
    --------
    >>> from speedchain.evaluation import evaluate

    >>> from speedchain.document.installation import example_installation
    >>> view_signal(example_installation(), evaluate(example_installation())).ways
    ()
    """
    detail = evaluation.signal_detail
    analogue = None if installation.signal.analogue is None else smoothing(installation.signal.analogue)
    return SignalView(
        coil_line=None if detail.coil is None else _coil_line(installation, detail.coil),
        coil_ways=() if detail.coil is None else coil_ways(installation, evaluation, detail.coil),
        ways=_ways(installation, evaluation),
        over_range=_over_range(installation, evaluation),
        analogue=analogue,
    )


def _coil_line(installation: Installation, coil: Coil) -> CoilLine:
    kmh = np.linspace(0, 1.1 * installation.needs.max_speed_kmh, POINTS)
    return CoilLine(kmh=tuple(kmh.round(3).tolist()), vpp=tuple((coil.vpp_per_kmh * kmh).round(4).tolist()))


def coil_ways(installation: Installation, evaluation: Evaluation, coil: Coil) -> tuple[CoilWay, CoilWay]:
    """Keep the coil with a converter, or replace it by a Hall sensor: with this installation's numbers. Common
    practice."""
    top, lowest = installation.needs.max_speed_kmh, installation.needs.min_speed_kmh
    hall = USUAL["hall_gear_tooth"]
    top_hz = evaluation.pulse_times.top_hz
    over = coil.max_input_vpp is not None and coil.at_top_vpp > CLOSE * coil.max_input_vpp and not coil.clamped
    takes = (
        "the max. input of the VR conditioner is not known"
        if coil.max_input_vpp is None
        else text_of("max. input {0:g} V", coil.max_input_vpp)
    )
    kept = CoilWay(
        code="converter",
        label="Keep the coil and add a VR conditioner",
        min_speed_kmh=coil.min_speed_kmh,
        at_top=text_of("{0:.3g} V peak to peak", coil.at_top_vpp),
        text=text_of(
            "Reads from {0:.3g} km/h; at {1:g} km/h {2}, and it is clamped. Needs a regulated supply and a clamp."
            if coil.clamped
            else "Reads from {0:.3g} km/h; at {1:g} km/h {2}. Needs a regulated supply and a clamp.",
            coil.min_speed_kmh,
            top,
            takes,
        ),
        good=coil.min_speed_kmh <= lowest and not over,
    )
    pitch = evaluation.ring.pitch_mm if evaluation.ring else None
    gap_mm = None if pitch is None else hall.rated_air_gap_mm * min(pitch / hall.rated_pitch_mm, 1.0)
    replaced = CoilWay(
        code="hall",
        label="Replace it with a Hall sensor",
        min_speed_kmh=0.0,
        at_top=text_of("{0:.0f} of {1:g} Hz", top_hz, hall.max_frequency_hz),
        text=text_of(
            "Reads down to standstill; same level at every speed. Needs a third wire with {0:g} to {1:g} V and a "
            "pull-up. "
            "Often cheaper overall."
            if gap_mm is None
            else "Reads down to standstill at {2:.2g} mm of gap or less; same level at every speed. Needs a third "
            "wire with "
            "{0:g} to {1:g} V and a pull-up. Often cheaper overall.",
            hall.supply_min_v,
            hall.supply_max_v,
            gap_mm,
        ),
        good=top_hz <= hall.max_frequency_hz,
    )
    return kept, replaced


def _ways(installation: Installation, evaluation: Evaluation) -> tuple[RatioWay, ...]:
    """The ratio by one fraction, one divider, two dividers, two fractions; those that can be had."""
    converter = installation.signal.converter
    if converter is None:
        return ()
    wanted = converter.wanted / evaluation.pulses_per_km
    p, q = converter.max_numerator, converter.max_denominator
    tries: list[tuple[str, Callable[[], tuple[RatioChoice, ...]]]] = [
        ("One fraction", lambda: (best_ratio(wanted, p, q),)),
        ("One divider", lambda: (best_ratio(wanted, 1, q),)),
        ("Two dividers in series", lambda: best_chain(wanted, 1, q)),
        ("Two fractions in series", lambda: best_chain(wanted, p, q)),
    ]
    ways = []
    for label, attempt in tries:
        try:
            stages = attempt()
        except InputError:
            continue
        error = stages[-1].error_ppm
        ways.append(
            RatioWay(label=label, stages=stages, error_ppm=error, error_kmh=installation.check_speed_kmh * error / 1e6)
        )
    return tuple(ways)


def _over_range(installation: Installation, evaluation: Evaluation) -> tuple[RatioAt, ...]:
    """The converter in use at lowest, check and top speed; beyond its cap the gauge stands still."""
    conversion, converter = evaluation.signal_detail.conversion, installation.signal.converter
    if conversion is None or converter is None:
        return ()
    speeds = {
        installation.needs.min_speed_kmh,
        installation.check_speed_kmh,
        *installation.check_speeds_kmh,
        installation.needs.max_speed_kmh,
    }
    rows = []
    for kmh in sorted(speeds):
        in_hz = kmh * evaluation.pulses_per_km / 3600
        free_hz = in_hz * conversion.ratio
        out_hz = free_hz if conversion.cap_hz is None else min(free_hz, conversion.cap_hz)
        error_kmh = out_hz * 3600 / conversion.target_pulses_per_km - kmh
        latency_ms = 1000 * (converter.averaged / in_hz + 1 / out_hz)
        rows.append(
            RatioAt(
                kmh=kmh, in_hz=in_hz, out_hz=out_hz, error_kmh=error_kmh, latency_ms=latency_ms, capped=out_hz < free_hz
            )
        )
    return tuple(rows)


def smoothing(analogue: Analogue) -> AnalogueTold:
    """The smoothing at half scale, where it ripples most, and the capacitor that brings it below 1 %.

    Duty = v/v_full. Ripple falls with the capacitor to the power of the stages: the advised one is the next larger
    of the E6 series.

    References
    ----------
    See `smoothed`.

    Examples
    --------
    >>> result = smoothing(Analogue(stages=1, c_nf=1000))
    >>> round(result.ripple_pct, 2), result.advised_nf
    (2.5, 3300.0)
    """
    load = analogue.load_ohm if analogue.load_ohm is not None else math.inf

    def at(duty: float, c_nf: float) -> Smoothed:
        return smoothed(
            analogue.supply_v,
            duty=duty,
            pwm_hz=analogue.pwm_hz,
            ohm=analogue.r_ohm,
            farad=c_nf * 1e-9,
            stages=analogue.stages,
            load_ohm=load,
        )

    worst = at(0.5, analogue.c_nf)
    gain = 1 + worst.loading_pct / 100
    ripple_pct = 100 * worst.ripple_vpp / (analogue.supply_v * gain)
    # exact enough for any ripple that is not the whole signal: C ∝ ripple^(−1/stages)
    wanted_nf = analogue.c_nf * (ripple_pct / (100 * RIPPLE_WANTED)) ** (1 / analogue.stages)
    advised_nf = nearest(min(max(wanted_nf, quantity_of(Capacitance).minimum), quantity_of(Capacitance).maximum), "E6")
    while (
        advised_nf < quantity_of(Capacitance).maximum
        and 100 * at(0.5, advised_nf).ripple_vpp / (analogue.supply_v * gain) > 100 * RIPPLE_WANTED
    ):
        advised_nf = nearest(advised_nf * 1.5, "E6")
    outputs = []
    for share in (0.1, 0.25, 0.5, 0.75, 1.0):
        volts = analogue.supply_v * share * gain
        outputs.append(
            VoltsAt(
                kmh=share * analogue.full_scale_kmh,
                duty_pct=100 * share,
                volts=volts,
                shown_kmh=share * analogue.full_scale_kmh * gain,
            )
        )
    return AnalogueTold(
        smoothed=worst,
        ripple_pct=ripple_pct,
        outputs=tuple(outputs),
        advised_nf=advised_nf,
        advised=at(0.5, advised_nf),
        text=text_of(
            "Ripple {0:.2g} % of full scale; follows a change within {1:.2g} s; its load reduces it by {2:.2g} %"
            if worst.loading_pct < -0.01
            else "Ripple {0:.2g} % of full scale; follows a change within {1:.2g} s",
            ripple_pct,
            worst.settling_s,
            -worst.loading_pct,
        ),
    )
