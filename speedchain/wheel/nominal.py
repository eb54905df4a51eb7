"""Circumferences that are on paper: the size marking, a chart's row, a known circumference."""

from __future__ import annotations

import math

from speedchain.fields import Evidence, text_of
from speedchain.stages import WhyStep
from speedchain.uncertainty import Budget, UncertaintyInput, one_input, rectangular, scaled
from speedchain.wheel.entries import ChartValue, EnteredCircumference, SizeMarking
from speedchain.wheel.marking import parse_marking
from speedchain.wheel.size import Marking
from speedchain.wheel.value import Value

ETRTO_FACTOR = 3.05
"""Rolling circumference over overall diameter of radial car tyres at 60 km/h. ETRTO Standards Manual; from memory."""
ETRTO_AT_KMH = 60.0
"""The speed for which 3.05·D is given. ETRTO Standards Manual; from memory."""

MARKING_U_PCT = 1.5
"""Spread between makes of the same marking and of the formula itself, relative standard. Common practice."""
MARKING_RADIAL_U_PCT = 1.0
"""The same where the 3.05 of the tyre makers' handbook applies. Common practice."""
ROUGH = ("inch_wide", "inch_low_section")
MARKING_ROUGH_U_PCT = 2.0
"""The same where the height of the tyre is not written, and a usual one is taken. Common practice."""
MAKE_U_PCT = 0.5
"""This make against the nominal tyre of its size: every paper value of that size shares it. Our allowance."""
DIAMETER_U_PCT = rectangular(1.5)
"""The diameter that a marking gives: makes differ by ± 1.5 %, common practice; with the share of `MAKE_U_PCT`."""
SOURCE_U_PCT = {"chart": 0.7, "previous_setting": 2.0, "measured_elsewhere": 0.3}
"""Relative standard uncertainty of a typed circumference by where it is from. Common practice."""
CHART_U_PCT = 0.7
"""A row of a printed chart of cycle tyres. Common practice."""

_SOURCE_TEXTS = {
    "chart": "copied from a printed chart",
    "previous_setting": "taken over from the previous setting",
    "measured_elsewhere": "measured elsewhere and typed in",
}


def diameter_budget() -> Budget:
    """How far the diameter of the tyre on the wheel is from that of its marking.

    Examples
    --------
    >>> [part.source for part in diameter_budget()]
    ['make', 'marking.diameter']
    """
    return (
        UncertaintyInput(source="make", u_pct=MAKE_U_PCT),
        UncertaintyInput(source="marking.diameter", u_pct=math.sqrt(DIAMETER_U_PCT**2 - MAKE_U_PCT**2)),
    )


def _marking_budget(u_pct: float) -> Budget:
    """The diameter's inputs and the factor's, together `u_pct`; where that is less than the diameter's, in
    proportion."""
    diameter = diameter_budget()
    if u_pct <= DIAMETER_U_PCT:
        return scaled(diameter, u_pct / DIAMETER_U_PCT)
    return (*diameter, UncertaintyInput(source="marking.factor", u_pct=math.sqrt(u_pct**2 - DIAMETER_U_PCT**2)))


def _row_budget(u_pct: float, circumference_mm: float) -> Budget:
    """A chart's row: the make of the tyre, and the row itself, which a copy of it shares."""
    make_pct = min(MAKE_U_PCT, u_pct * MAKE_U_PCT / CHART_U_PCT)
    row = UncertaintyInput(source=f"row.{circumference_mm:.0f}", u_pct=math.sqrt(u_pct**2 - make_pct**2))
    return (UncertaintyInput(source="make", u_pct=make_pct), row)


def uses_etrto_factor(entry: SizeMarking, marking: Marking, vehicle_kind: str) -> bool:
    """Whether 3.05 applies: when asked for, or by default for a radial tyre on a car.

    Examples
    --------
    >>> entry = SizeMarking(text="205/55R16")
    >>> uses_etrto_factor(entry, parse_marking(entry.text), "car")
    True
    """
    if entry.factor == "auto":
        return vehicle_kind == "car" and marking.radial
    return entry.factor == "etrto_3_05"


def from_marking(entry: SizeMarking, vehicle_kind: str) -> Value:
    """C = 3.05·D for radial car tyres (ETRTO), C = π·D for all others; D by `parse_marking`.

    Returns
    -------
    `Value`.

    References
    ----------
    ETRTO Standards Manual (from memory); common practice.

    Examples
    --------
    >>> round(from_marking(SizeMarking(text="205/55R16"), "car").circumference_mm, 1)
    1927.3
    >>> round(from_marking(SizeMarking(text="205/55R16", factor="pi"), "car").circumference_mm, 1)
    1985.2
    """
    marking = parse_marking(entry.text)
    etrto = uses_etrto_factor(entry, marking, vehicle_kind)
    circumference = (ETRTO_FACTOR if etrto else math.pi) * marking.diameter_mm
    other = (math.pi if etrto else ETRTO_FACTOR) * marking.diameter_mm
    symbol, school = ("3.05", "ETRTO: a loaded radial rolls less than π·D") if etrto else ("π", "geometry")
    usual_pct = MARKING_ROUGH_U_PCT if marking.family in ROUGH else MARKING_RADIAL_U_PCT if etrto else MARKING_U_PCT
    u_pct = entry.relative_uncertainty_pct or usual_pct
    why = (
        WhyStep(formula=marking.formula, with_numbers=marking.with_numbers, source=marking.understood),
        WhyStep(
            formula=text_of("C = {0}·D", symbol),
            with_numbers=text_of("C = {0} × {1:.1f} = {2:.1f} mm", symbol, marking.diameter_mm, circumference),
            source=text_of("{0}; the other factor gives {1:.1f} mm", school, other) if marking.section_mm else school,
        ),
    )
    return Value(
        circumference_mm=circumference,
        budget=_marking_budget(u_pct),
        evidence="assumed",
        grounds=text_of("size marking {0}, nothing measured", entry.text),
        why=why,
        at_kmh=ETRTO_AT_KMH if etrto else 0.0,
    )


def from_chart(entry: ChartValue) -> Value:
    """C as the chart has it. Returns `Value`. Common practice.

    Examples
    --------
    >>> round(from_chart(ChartValue(label="700x28C", circumference_mm=2136)).u_pct, 9)
    0.7
    """
    why = (
        WhyStep(
            formula="C of the row",
            with_numbers=f"C = {entry.circumference_mm:g} mm",
            source=text_of("cycle chart, row {0}", entry.label),
        ),
    )
    u_pct = entry.relative_uncertainty_pct or CHART_U_PCT
    return Value(
        circumference_mm=entry.circumference_mm,
        budget=_row_budget(u_pct, entry.circumference_mm),
        evidence="assumed",
        grounds=text_of("chart row {0}, nothing measured", entry.label),
        why=why,
    )


def from_entered(entry: EnteredCircumference) -> Value:
    """C as typed; how sure depends on where it is from. Returns `Value`.

    Examples
    --------
    >>> round(from_entered(EnteredCircumference(circumference_mm=2105, source="chart")).u_pct, 9)
    0.7
    """
    text = _SOURCE_TEXTS[entry.source]
    evidence: Evidence = "measured" if entry.source == "measured_elsewhere" else "assumed"
    u_pct = entry.relative_uncertainty_pct or SOURCE_U_PCT[entry.source]
    why = (WhyStep(formula="C as typed", with_numbers=f"C = {entry.circumference_mm:g} mm", source=text),)
    budget = (
        _row_budget(u_pct, entry.circumference_mm) if entry.source == "chart" else one_input("circumference", u_pct)
    )
    return Value(circumference_mm=entry.circumference_mm, budget=budget, evidence=evidence, grounds=text, why=why)
