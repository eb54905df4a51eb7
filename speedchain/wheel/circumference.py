"""Every method's way to the rolling circumference, each with its uncertainty and grounds."""

from __future__ import annotations

import math

from speedchain.evidence import Evidence, combine_pct, rectangular
from speedchain.findings import Finding, WhyStep
from speedchain.links import Figure, Link, raised
from speedchain.wheel.marking import parse_marking
from speedchain.wheel.model import RollOut, SizeMarking, TapedDiameter, TypedCircumference, Wheel
from speedchain.wheel.size import Marking

ETRTO_FACTOR = 3.05
"""Rolling circumference over overall diameter of radial car tyres at 60 km/h. ETRTO Standards Manual; from memory."""

MARKING_U_PCT = 1.5
"""Spread between makes of the same marking and of the formula itself, relative standard. Common practice."""
MARKING_RADIAL_U_PCT = 1.0
"""The same where the 3.05 of the tyre makers' handbook applies. Common practice."""
SOURCE_U_PCT = {"chart": 0.7, "previous_setting": 2.0, "measured_elsewhere": 0.3}
"""Relative standard uncertainty of a typed circumference by where it is from. Common practice."""
STANDING_U_PCT = 100 * rectangular(0.02 / 3)
"""Taping a standing wheel: with R_eff = R − (R − R_loaded)/3, π × standing height is out by a third of the
deflection; 2 % of the diameter is allowed for. Jazar, Vehicle Dynamics: Theory and Application; allowance ours."""

_SOURCE_WORDS = {
    "chart": "copied from a printed chart",
    "previous_setting": "taken over from the previous setting",
    "measured_elsewhere": "measured elsewhere and typed in",
}

Circumference = tuple[float, float, Evidence, str, tuple[WhyStep, ...]]
"""Circumference [mm], relative standard uncertainty [%], evidence, grounds, arithmetic."""


def uses_etrto_factor(entry: SizeMarking, marking: Marking, vehicle_kind: str) -> bool:
    """Whether 3.05 applies: when asked for, or by default for a radial tyre on a car.

    >>> entry = SizeMarking(text="205/55R16")
    >>> uses_etrto_factor(entry, parse_marking(entry.text), "car")
    True
    """
    if entry.factor == "auto":
        return vehicle_kind == "car" and marking.radial
    return entry.factor == "etrto_3_05"


def from_marking(entry: SizeMarking, vehicle_kind: str) -> Circumference:
    """C = 3.05·D for radial car tyres (ETRTO), C = π·D for all others; D by `parse_marking`.

    Returns `Circumference`. References: ETRTO Standards Manual (from memory); common practice.

    >>> round(from_marking(SizeMarking(text="205/55R16"), "car")[0], 1)
    1927.3
    >>> round(from_marking(SizeMarking(text="205/55R16", factor="pi"), "car")[0], 1)
    1985.2
    """
    marking = parse_marking(entry.text)
    etrto = uses_etrto_factor(entry, marking, vehicle_kind)
    circumference = (ETRTO_FACTOR if etrto else math.pi) * marking.diameter_mm
    other = (math.pi if etrto else ETRTO_FACTOR) * marking.diameter_mm
    symbol, school = ("3.05", "ETRTO: a loaded radial rolls less than π·D") if etrto else ("π", "geometry")
    u_pct = entry.relative_uncertainty_pct or (MARKING_RADIAL_U_PCT if etrto else MARKING_U_PCT)
    why = (
        WhyStep(marking.formula, marking.with_numbers, marking.understood),
        WhyStep(
            f"C = {symbol}·D",
            f"C = {symbol} × {marking.diameter_mm:.1f} = {circumference:.1f} mm",
            f"{school}; the other school gives {other:.1f} mm",
        ),
    )
    return circumference, u_pct, "assumed", f"size marking {entry.text}, nothing measured", why


def from_taped_diameter(entry: TapedDiameter) -> Circumference:
    """C = π·D, D from floor to top of the standing wheel.

    u_C/C = sqrt((reading/√3/D)² + standing²). Returns `Circumference`.
    References: JCGM 100:2008, 4.3.7; Jazar (standing wheel); common practice.

    >>> round(from_taped_diameter(TapedDiameter(diameter_mm=660))[0])
    2073
    """
    circumference = math.pi * entry.diameter_mm
    u_pct = combine_pct((100 * rectangular(entry.reading_mm) / entry.diameter_mm, STANDING_U_PCT))
    why = (
        WhyStep(
            "C = π·D",
            f"C = π × {entry.diameter_mm:g} = {circumference:.1f} mm",
            f"tape across the standing wheel, read to ± {entry.reading_mm:g} mm",
        ),
    )
    return circumference, u_pct, "measured", "taped across the standing wheel", why


def roll_out_uncertainty_pct(circumference_mm: float, turns: int, tape_mm: float = 2.0, mark_mm: float = 1.0) -> float:
    """Relative standard uncertainty of a roll-out [%]: u_C = sqrt(u_tape² + 2·u_mark²)/N.

    References: JCGM 100:2008, 5.1; common practice for the tape.

    >>> round(roll_out_uncertainty_pct(2000, 3), 3)
    0.041
    """
    return 100 * math.sqrt(tape_mm**2 + 2 * mark_mm**2) / turns / circumference_mm


def from_roll_out(entry: RollOut) -> Circumference:
    """C = distance/turns. Returns `Circumference`.

    >>> from_roll_out(RollOut(turns=3, distance_mm="6.21 m"))[0]
    2070.0
    """
    circumference = entry.distance_mm / entry.turns
    u_pct = roll_out_uncertainty_pct(circumference, entry.turns, entry.tape_mm, entry.mark_mm)
    why = (
        WhyStep(
            "C = distance/turns",
            f"C = {entry.distance_mm:g} / {entry.turns} = {circumference:.1f} mm",
            "roll-out as driven or ridden; u = sqrt(u_tape² + 2·u_mark²)/turns",
        ),
    )
    turns = "1 turn" if entry.turns == 1 else f"{entry.turns} turns"
    return circumference, u_pct, "measured", f"roll-out over {turns}", why


def from_typed(entry: TypedCircumference) -> Circumference:
    """C as typed; how sure depends on where it is from. Returns `Circumference`.

    >>> from_typed(TypedCircumference(circumference_mm=2105, source="chart"))[1]
    0.7
    """
    words = _SOURCE_WORDS[entry.source]
    evidence: Evidence = "measured" if entry.source == "measured_elsewhere" else "assumed"
    u_pct = entry.relative_uncertainty_pct or SOURCE_U_PCT[entry.source]
    why = (WhyStep("C as typed", f"C = {entry.circumference_mm:g} mm", words),)
    return entry.circumference_mm, u_pct, evidence, words, why


def _by_method(wheel: Wheel, method: str, vehicle_kind: str) -> Circumference | None:
    if method == "marking":
        return from_marking(wheel.marking, vehicle_kind) if wheel.marking else None
    if method == "taped_diameter":
        return from_taped_diameter(wheel.taped_diameter) if wheel.taped_diameter else None
    if method == "roll_out":
        return from_roll_out(wheel.roll_out) if wheel.roll_out else None
    return from_typed(wheel.typed) if wheel.typed else None


def evaluate_wheel(wheel: Wheel, vehicle_kind: str, findings: list[Finding]) -> Link:
    """The wheel link by the method in use; disagreements between methods go to `findings`.

    >>> wheel = Wheel(method="marking", marking={"text": "195/45R14", "factor": "pi"})
    >>> round(evaluate_wheel(wheel, "car", []).value, 1)
    1668.5
    """
    chosen = _by_method(wheel, wheel.method, vehicle_kind)
    assert chosen is not None  # the model refuses a method without entries
    circumference, u_pct, evidence, grounds, why = chosen
    evidence = raised(evidence, wheel.proof is not None)
    name = "run per turn of the paddle" if vehicle_kind == "boat" else "rolling circumference"
    figures = [
        Figure(name, circumference, "mm", evidence, u_pct),
        Figure("equivalent diameter", circumference / math.pi, "mm", evidence, u_pct),
    ]
    if wheel.marking is not None and (caution := parse_marking(wheel.marking.text).caution):
        findings.append(Finding("wheel.marking", "note", "wheel", caution, "Compare with the tyre's sidewall."))
    _compare_methods(wheel, vehicle_kind, circumference, u_pct, findings)
    return Link("wheel", tuple(figures), evidence, grounds, u_pct, why)


def _compare_methods(wheel: Wheel, vehicle_kind: str, used_mm: float, u_pct: float, findings: list[Finding]) -> None:
    for method in ("marking", "taped_diameter", "roll_out", "typed"):
        if method == wheel.method or getattr(wheel, method) is None:
            continue
        other = _by_method(wheel, method, vehicle_kind)
        if other is None:
            continue
        difference_pct = 100 * (other[0] / used_mm - 1)
        joint_pct = combine_pct((u_pct, other[1]))
        if abs(difference_pct) > 2 * joint_pct:
            findings.append(
                Finding(
                    "wheel.methods_disagree",
                    "warning",
                    "wheel",
                    f"{method.replace('_', ' ').capitalize()} gives {other[0]:.0f} mm, {difference_pct:+.1f} % from the "
                    f"{used_mm:.0f} mm in use; together they allow ± {2 * joint_pct:.1f} %.",
                    "One of them is wrong: read the marking again, or repeat the roll-out.",
                )
            )
