"""How a reader makes a speed of pulses: the lowest it shows, its resolution, and how often it is renewed."""

from __future__ import annotations

import math

from speedchain.fields import Words, text_of
from speedchain.readout.model import Timing
from speedchain.results import result
from speedchain.uncertainty import triangular


@result
class TimingResult:
    """Lowest speed shown and what sets it, smallest change seen, time between new figures, and the lag behind; how far
    one figure is off by counting or timing whole pulses, and by the steps of the display, standard [km/h]."""

    min_speed_kmh: float
    lowest_by: Words
    resolution_kmh: float
    u_kmh: float
    update_s: float
    lag_s: float
    text: Words


def gate_resolution_kmh(pulses_per_km: float, gate_s: float) -> float:
    """One pulse more or less in the gate: Δv = 3600/(pulses per km·gate) [km/h].

    References
    ----------
    Counting error of ± 1 count, any textbook on frequency counters; from memory.

    Examples
    --------
    >>> gate_resolution_kmh(24_000, 0.5)
    0.3
    """
    return 3600 / (pulses_per_km * gate_s)


def period_resolution_kmh(speed_kmh: float, pulses_per_km: float, timer_tick_us: float, pulses: int = 1) -> float:
    """One tick more or less in the time of k pulses: Δv/v = f·tick/k.

    Examples
    --------
    >>> round(period_resolution_kmh(100, 24_000, 4), 3)
    0.267
    """
    frequency_hz = speed_kmh * pulses_per_km / 3600
    return speed_kmh * frequency_hz * timer_tick_us * 1e-6 / pulses


def lowest_by_time_out_kmh(pulses_per_km: float, time_out_s: float) -> float:
    """Slowest speed whose pulses still come before the time-out: v = 3600/(pulses per km·time-out) [km/h].

    Examples
    --------
    >>> round(lowest_by_time_out_kmh(1e6 / 2000, 2), 2)
    3.6
    """
    return 3600 / (pulses_per_km * time_out_s)


def timing_of(
    timing: Timing,
    speed_kmh: float,
    pulses_per_km: float,
    *,
    shown_to_true: float = 1.0,
    display_step_kmh: float = 0.0,
) -> TimingResult:
    """Lowest true speed that is shown, resolution of what is shown, update interval and lag at a speed.

    Parameters
    ----------
    The reader's timing; true speed [km/h]; pulses per km delivered [1/km]; shown/true speed with the setting in use:
    one pulse more or less moves what is shown by so much more than the true speed; the step of the display, below which
    nothing is seen. Counting renews the figure once a gate and lags
    half a gate behind; timing renews it every k pulses and lags k/(2f) behind. A display that counts shows nothing
    below one pulse in the gate. Counted or timed, a figure is out by up to one pulse or one tick, most likely by none.

    References
    ----------
    JCGM 100:2008, 4.3.9 (triangular) and F.2.2.1 (steps of a display).

    Examples
    --------
    >>> timing_of(Timing(time_out_s=2), 25, 500).lowest_by
    'the time-out'
    """
    frequency_hz = speed_kmh * pulses_per_km / 3600
    limits: list[tuple[float, str]] = [(0.0, "no limit: it waits for ever")]
    if timing.time_out_s is not None:
        limits.append((lowest_by_time_out_kmh(pulses_per_km, timing.time_out_s), "the time-out"))
    if timing.minimum_kmh is not None:
        limits.append((timing.minimum_kmh, "its own minimum"))
    if timing.method == "gate":
        resolution = gate_resolution_kmh(pulses_per_km, timing.gate_s)
        limits.append((resolution, "one pulse in the gate"))
        update = timing.gate_s
        words = text_of("counts for {0:g} s", timing.gate_s)
    else:
        resolution = period_resolution_kmh(speed_kmh, pulses_per_km, timing.timer_tick_us, timing.pulses_averaged)
        update = timing.pulses_averaged / frequency_hz
        pulses = "1 pulse" if timing.pulses_averaged == 1 else text_of("{0} pulses", timing.pulses_averaged)
        words = text_of("times {0} in steps of {1:g} µs", pulses, timing.timer_tick_us)
    lowest, by = max(limits)
    return TimingResult(
        min_speed_kmh=lowest,
        lowest_by=by,
        resolution_kmh=max(resolution * shown_to_true, display_step_kmh),
        u_kmh=math.hypot(triangular(resolution * shown_to_true), display_step_kmh / math.sqrt(12)),
        update_s=update,
        lag_s=update / 2,
        text=words,
    )
