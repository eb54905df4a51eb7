"""From pulses per km to the number to type, and back to what the display shows."""

from __future__ import annotations

import math
from typing import Literal

from speedchain.evidence import Evidence
from speedchain.findings import Finding, WhyStep
from speedchain.readout.encodings import ENCODINGS, Encoding
from speedchain.readout.model import Readout
from speedchain.results import result

Rounding = Literal["up", "down", "nearest"]
Reads = Literal["over", "under", "true"]

ROAD_PURPOSES = ("true_speed", "gearbox_or_gauge")
"""Purposes whose display is read on the road, where the law wants no speed shown below the true one."""
NEGLIGIBLE_PCT = 0.005


@result
class Setting:
    """One number that could be typed in, and what the display would then show."""

    value: float
    shown_kmh: float
    error_pct: float
    reads: Reads


@result
class ReadoutResult:
    """A readout's number to type, its neighbours, and the number that is in it now."""

    name: str
    encoding: str
    label: str
    unit: str
    told_pulses_per_turn: int | None
    minimum: float
    maximum: float
    step: float
    exact: float
    rounding: Rounding
    nearest: Setting
    below: Setting
    above: Setting
    to_type: Setting
    in_use: Setting
    typed: float | None
    evidence: Evidence
    grounds: str
    relative_standard_uncertainty_pct: float
    why: tuple[WhyStep, ...]


def nearest_enterable(exact: float, minimum: float, maximum: float, step: float) -> tuple[float, float, float]:
    """The enterable numbers around an exact one: just below (or equal), just above (or equal), nearest.

    The enterable numbers are k·step within minimum … maximum. Outside, the nearer end stands for all three.

    >>> nearest_enterable(2072.4, 100, 9999, 1)
    (2072.0, 2073.0, 2072.0)
    >>> nearest_enterable(12000, 100, 9999, 1)
    (9999.0, 9999.0, 9999.0)
    """
    first, last = math.ceil(minimum / step - 1e-9), math.floor(maximum / step + 1e-9)
    place = exact / step
    whole = round(place)
    if abs(place - whole) < 1e-9 * max(1.0, abs(place)):
        low = high = whole
    else:
        low, high = math.floor(place), math.ceil(place)
    low, high = min(max(low, first), last), min(max(high, first), last)
    near = low if place - low <= high - place else high
    return _on_grid(low, step), _on_grid(high, step), _on_grid(near, step)


def _on_grid(count: int, step: float) -> float:
    return float(f"{count * step:.12g}")


def rounding_for(purpose: str, encoding: Encoding) -> Rounding:
    """Which way to round: towards over-reading on the road, to the nearest for loggers and slip control.

    References: UN Regulation 39, 5.4 (a speedometer never shows less than the true speed); from memory.

    >>> rounding_for("true_speed", ENCODINGS["pulses_per_km"])
    'down'
    """
    if purpose not in ROAD_PURPOSES:
        return "nearest"
    return "down" if encoding.direct else "up"


def _setting(encoding: Encoding, told: int, value: float, pulses_per_km: float, true_kmh: float) -> Setting:
    ratio = pulses_per_km / encoding.told_pulses_per_km(value, told)
    error_pct = 100 * (ratio - 1)
    reads: Reads = "true" if abs(error_pct) < NEGLIGIBLE_PCT else "over" if error_pct > 0 else "under"
    return Setting(value, true_kmh * ratio, error_pct, reads)


def evaluate_readout(
    readout: Readout, purpose: str, pulses_per_km: float, true_kmh: float, findings: list[Finding]
) -> ReadoutResult:
    """Number to type for `pulses_per_km` [1/km], and shown speed at `true_kmh` [km/h].

    shown/true = pulses per km delivered/pulses per km told. A display stepping by s adds s/√12 to the
    standard uncertainty (JCGM 100:2008, F.2.2.1).

    >>> readout = Readout(name="Cycle computer", encoding="circumference_mm")
    >>> evaluate_readout(readout, "cycle_display", 3e6 / 1563, 30, []).to_type.value
    521.0
    """
    encoding, told = ENCODINGS[readout.encoding], readout.told_pulses_per_turn
    minimum, maximum, step = readout.limits()
    exact = encoding.value_for(pulses_per_km, told)
    below, above, near = nearest_enterable(exact, minimum, maximum, step)
    rounding = rounding_for(purpose, encoding)
    low = _setting(encoding, told, below, pulses_per_km, true_kmh)
    high = low if above == below else _setting(encoding, told, above, pulses_per_km, true_kmh)
    nearest = low if near == below else high
    to_type = nearest if rounding == "nearest" else high if rounding == "up" else low
    typed = readout.typed
    in_use = to_type if typed is None else _setting(encoding, told, typed, pulses_per_km, true_kmh)
    if not minimum <= exact <= maximum:
        findings.append(_out_of_range(encoding, exact, minimum, maximum, near))
    evidence: Evidence = "proven" if readout.proof else "assumed" if typed is None else "measured"
    grounds = {
        "proven": "agreed in a test",
        "measured": "read back from the display",
        "assumed": "number advised, not yet read back",
    }[evidence]
    unit = encoding.kind.unit_words
    why = (
        WhyStep(encoding.formula, f"exact: {exact:.3f} {unit}", f"{pulses_per_km:.1f} pulses per km"),
        WhyStep(
            "shown/true = pulses per km delivered/told",
            f"{pulses_per_km:.1f} / {pulses_per_km / (1 + in_use.error_pct / 100):.1f} = {1 + in_use.error_pct / 100:.5f}",
            f"with {in_use.value:g} {unit} in the display",
        ),
    )
    return ReadoutResult(
        readout.name,
        encoding.code,
        encoding.label,
        unit,
        told if encoding.per_turn else None,
        minimum,
        maximum,
        step,
        exact,
        rounding,
        nearest,
        low,
        high,
        to_type,
        in_use,
        typed,
        evidence,
        grounds,
        100 * readout.display_step_kmh / math.sqrt(12) / true_kmh,
        why,
    )


def _out_of_range(encoding: Encoding, exact: float, minimum: float, maximum: float, near: float) -> Finding:
    unit = encoding.kind.unit_words
    told = "the pulses per turn it is told" if encoding.per_turn else "the count of the target"
    return Finding(
        "readout.out_of_range",
        "blocking",
        "readout",
        f"The number to type, {exact:.6g} {unit}, is outside what the reader takes: {minimum:g} to {maximum:g} {unit}.",
        f"Change {told}, or use another way of entering it; {near:g} {unit} is the nearest it takes.",
    )
