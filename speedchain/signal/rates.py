"""Pulse rates over speed."""

from __future__ import annotations

from speedchain.fields.evidence import Evidence
from speedchain.signal.model import Signal
from speedchain.stages.findings import WhyStep
from speedchain.stages.result import Figure, Stage


def frequency_hz(speed_kmh: float, pulses_per_km: float) -> float:
    """f = v/3.6 · pulses_per_km/1000.

    Parameters: `speed_kmh` [km/h], `pulses_per_km` [1/km]. Returns the pulse frequency [Hz].
    Reference: unit arithmetic.

    >>> frequency_hz(36, 1000)
    10.0
    """
    return speed_kmh / 3.6 * pulses_per_km / 1000


def evaluate_signal(signal: Signal, speed_kmh: float, pulses_per_km: float, u_pct: float) -> Stage:
    """The signal link: frequency at the chosen speed, the period, and Hz per km/h.

    >>> evaluate_signal(Signal(), 100, 24903, 0.5).figures[0].unit
    'Hz'
    """
    frequency = frequency_hz(speed_kmh, pulses_per_km)
    measured = signal.measured is not None or signal.vr is not None
    evidence: Evidence = "verified" if signal.verification is not None else "measured" if measured else "assumed"
    figures = (
        Figure(f"frequency at {speed_kmh:g} km/h", frequency, "Hz", evidence, u_pct),
        Figure("time from pulse to pulse", 1000 / frequency, "ms", evidence, u_pct),
        Figure("frequency per km/h", frequency / speed_kmh, "Hz per km/h", evidence, u_pct),
    )
    why = (
        WhyStep(
            "f = v/3.6 · pulses per km/1000",
            f"f = {speed_kmh:g}/3.6 × {pulses_per_km:.1f}/1000 = {frequency:.2f} Hz",
            "unit arithmetic",
        ),
    )
    return Stage("signal", figures, evidence, _grounds(signal), 0.0, why)


def _grounds(signal: Signal) -> str:
    if signal.verification is not None:
        return "seen at the reader"
    parts = (("conditioner", signal.conditioner), ("ratio converter", signal.converter))
    through = [name for name, part in parts if part is not None]
    way = f"through a {' and a '.join(through)}" if through else "wired straight through"
    if signal.measured is not None:
        return f"{way}; its levels were measured"
    if signal.vr is not None:
        return f"{way}; the coil's voltage was measured"
    return f"{way}, not yet seen at the reader"
