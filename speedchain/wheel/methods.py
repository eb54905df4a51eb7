"""Every method's way to the rolling circumference, each with its uncertainty and grounds."""

from __future__ import annotations

import math
from collections.abc import Callable

from speedchain.fields import Evidence
from speedchain.results import result
from speedchain.stages import WhyStep
from speedchain.uncertainty import combine_pct, rectangular
from speedchain.wheel.entries import (
    ChartValue,
    EnteredCircumference,
    PaddleConstant,
    RollOut,
    SizeMarking,
    SpeedDerived,
    TapedCircumference,
    TapedDiameter,
)
from speedchain.wheel.marking import parse_marking
from speedchain.wheel.model import SingleMethod, Wheel
from speedchain.wheel.repeats import Progress, mean_uncertainty, progress
from speedchain.wheel.size import Marking

ETRTO_FACTOR = 3.05
"""Rolling circumference over overall diameter of radial car tyres at 60 km/h. ETRTO Standards Manual; from memory."""
ETRTO_AT_KMH = 60.0
"""The speed for which 3.05·D is given. ETRTO Standards Manual; from memory."""

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

NAUTICAL_MILE_MM = 1_852_000.0
CHART_U_PCT = 0.7
"""A row of a printed chart of cycle tyres. Common practice."""
SPEED_DERIVED_U_PCT = {"satellite_speed": 0.5, "measured_distance": 0.3, "timed_distance": 0.5}
"""Starting values, one careful run each way. Our allowances."""
EFFECTIVE_RADIUS_U_PCT = 0.5
"""How well R − (R − R_loaded)/3 describes one tyre. Our allowance."""
PADDLE_U_PCT = 3.0
"""A paddle's nominal constant before calibration: flow along the hull differs from boat to boat. Our allowance."""
PADDLE_CALIBRATED_U_PCT = 0.5
"""The same after a run both ways. Our allowance."""
ROUND_TREAD_U_PCT = 100 * rectangular(0.04 / 3)
"""A tape round the unloaded tread: R_eff is less by a third of the deflection, up to 4 % of the radius. As above."""


@result
class Value:
    """What one method says: circumference [mm], relative standard uncertainty [%], evidence, grounds, arithmetic."""

    circumference_mm: float
    u_pct: float
    evidence: Evidence
    grounds: str
    why: tuple[WhyStep, ...]
    at_kmh: float = 0.0
    """The speed at which it is valid: a soft tyre has grown by then."""


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
    u_pct = entry.relative_uncertainty_pct or (MARKING_RADIAL_U_PCT if etrto else MARKING_U_PCT)
    why = (
        WhyStep(formula=marking.formula, with_numbers=marking.with_numbers, source=marking.understood),
        WhyStep(
            formula=f"C = {symbol}·D",
            with_numbers=f"C = {symbol} × {marking.diameter_mm:.1f} = {circumference:.1f} mm",
            source=f"{school}; the other factor gives {other:.1f} mm",
        ),
    )
    return Value(
        circumference_mm=circumference,
        u_pct=u_pct,
        evidence="assumed",
        grounds=f"size marking {entry.text}, nothing measured",
        why=why,
        at_kmh=ETRTO_AT_KMH if etrto else 0.0,
    )


def from_taped_diameter(entry: TapedDiameter) -> Value:
    """C = π·D, D from floor to top of the standing wheel, the mean of all readings.

    u_C/C = sqrt((reading/√3/D)²/n + standing²).

    Returns
    -------
    `Value`.

    References
    ----------
    JCGM 100:2008, 4.3.7; Jazar (standing wheel); common practice.

    Examples
    --------
    >>> round(from_taped_diameter(TapedDiameter(diameter_mm=660)).circumference_mm)
    2073
    """
    readings = (entry.diameter_mm, *entry.repeats_mm)
    diameter = sum(readings) / len(readings)
    circumference = math.pi * diameter
    reading_u = mean_uncertainty(readings, 0.0, rectangular(entry.reading_mm))
    u_pct = combine_pct((100 * reading_u / diameter, STANDING_U_PCT))
    mean = f"mean of {len(readings)} readings, " if len(readings) > 1 else ""
    why = (
        WhyStep(
            formula="C = π·D",
            with_numbers=f"C = π × {diameter:g} = {circumference:.1f} mm",
            source=f"{mean}tape across the standing wheel, read to ± {entry.reading_mm:g} mm",
        ),
    )
    return Value(
        circumference_mm=circumference,
        u_pct=u_pct,
        evidence="measured",
        grounds="taped across the standing wheel",
        why=why,
    )


def from_axle_height(wheel: Wheel) -> Value:
    """C = 2π·R_eff with R_eff = R − (R − R_loaded)/3: between the loaded and the unloaded radius.

    u² = (⅔·u_R)² + (⅓·u_R_loaded)² + model².

    Returns
    -------
    `Value`.

    References
    ----------
    Jazar, Vehicle Dynamics: Theory and Application (effective radius); JCGM 100:2008, 5.1.2.

    Examples
    --------
    >>> wheel = Wheel(method="axle_height", axle_height={"axle_height_mm": 300, "unloaded_diameter_mm": 630})
    >>> round(from_axle_height(wheel).circumference_mm, 1), round(2 * math.pi * 300, 1)
    (1947.8, 1885.0)
    """
    entry, unloaded = wheel.axle_height, wheel.unloaded_diameter_mm()
    assert entry is not None  # the model refuses the method without both
    assert unloaded is not None
    radius, loaded = unloaded / 2, entry.axle_height_mm
    effective = radius - (radius - loaded) / 3
    circumference = 2 * math.pi * effective
    taped = entry.unloaded_diameter_mm is not None
    reading_u = rectangular(entry.reading_mm)
    radius_u = reading_u / 2 if taped else radius * MARKING_U_PCT / 100
    u_mm = math.hypot(2 / 3 * radius_u, reading_u / 3)
    u_pct = combine_pct((100 * u_mm / effective, EFFECTIVE_RADIUS_U_PCT))
    source = "taped with the wheel lifted" if taped else "from the size marking"
    why = (
        WhyStep(
            formula="R_eff = R − (R − R_loaded)/3",
            with_numbers=f"R_eff = {radius:.1f} − ({radius:.1f} − {loaded:g})/3 = {effective:.1f} mm",
            source=f"diameter without load {source}; Jazar, Vehicle Dynamics",
        ),
        WhyStep(
            formula="C = 2π·R_eff",
            with_numbers=f"C = 2π × {effective:.1f} = {circumference:.1f} mm",
            source=f"2π × axle height alone would be {2 * math.pi * loaded:.1f} mm, too small",
        ),
    )
    return Value(
        circumference_mm=circumference,
        u_pct=u_pct,
        evidence="measured" if taped else "assumed",
        grounds="axle height under load",
        why=why,
    )


def from_taped_circumference(entry: TapedCircumference) -> Value:
    """C as taped round the tread, the mean of all readings. Returns `Value`.

    Examples
    --------
    >>> round(from_taped_circumference(TapedCircumference(circumference_mm=2000)).u_pct, 2)
    0.77
    """
    readings = (entry.circumference_mm, *entry.repeats_mm)
    circumference = sum(readings) / len(readings)
    reading_u = mean_uncertainty(readings, 0.0, rectangular(entry.reading_mm))
    u_pct = combine_pct((100 * reading_u / circumference, ROUND_TREAD_U_PCT))
    mean = f"mean of {len(readings)} readings; " if len(readings) > 1 else ""
    why = (
        WhyStep(
            formula="C as taped round the tread",
            with_numbers=f"C = {circumference:.1f} mm",
            source=f"{mean}a loaded tyre rolls less by up to a third of its deflection",
        ),
    )
    return Value(
        circumference_mm=circumference,
        u_pct=u_pct,
        evidence="measured",
        grounds="taped round the tread, without load",
        why=why,
    )


def from_chart(entry: ChartValue) -> Value:
    """C as the chart has it. Returns `Value`. Common practice.

    Examples
    --------
    >>> from_chart(ChartValue(label="700x28C", circumference_mm=2136)).u_pct
    0.7
    """
    why = (
        WhyStep(
            formula="C of the row",
            with_numbers=f"C = {entry.circumference_mm:g} mm",
            source=f"cycle chart, row {entry.label}",
        ),
    )
    u_pct = entry.relative_uncertainty_pct or CHART_U_PCT
    return Value(
        circumference_mm=entry.circumference_mm,
        u_pct=u_pct,
        evidence="assumed",
        grounds=f"chart row {entry.label}, nothing measured",
        why=why,
    )


def roll_out_uncertainty_pct(circumference_mm: float, turns: int, tape_mm: float = 2.0, mark_mm: float = 1.0) -> float:
    """Relative standard uncertainty of a roll-out [%]: u_C = sqrt(u_tape² + 2·u_mark²)/N.

    References
    ----------
    JCGM 100:2008, 5.1; common practice for the tape.

    Examples
    --------
    >>> round(roll_out_uncertainty_pct(2000, 3), 3)
    0.041
    """
    return 100 * math.sqrt(tape_mm**2 + 2 * mark_mm**2) / turns / circumference_mm


def from_roll_out(entry: RollOut) -> Value:
    """C = mean distance/turns. u as `mean_uncertainty`: tape shared by all runs, two marks in each. Returns `Value`.

    Examples
    --------
    >>> from_roll_out(RollOut(turns=3, distance_mm="6.21 m")).circumference_mm
    2070.0
    """
    result = roll_out_progress(entry)
    circumference = result.mean_mm
    runs = (entry.distance_mm, *entry.repeats_mm)
    mean = sum(runs) / len(runs)
    turns = "1 turn" if entry.turns == 1 else f"{entry.turns} turns"
    again = f", {len(runs)} runs" if len(runs) > 1 else ""
    why = (
        WhyStep(
            formula="C = distance/turns",
            with_numbers=f"C = {mean:g} / {entry.turns} = {circumference:.1f} mm",
            source=f"roll-out as driven or ridden{again}; u = sqrt(u_tape² + 2·u_mark²/runs)/turns, or the scatter if larger",
        ),
    )
    u_pct = 100 * result.expanded_mm / 2 / circumference
    return Value(
        circumference_mm=circumference,
        u_pct=u_pct,
        evidence="measured",
        grounds=f"roll-out over {turns}{again}",
        why=why,
    )


def roll_out_progress(entry: RollOut) -> Progress:
    """Mean, scatter and prospects of a roll-out as circumference [mm].

    Examples
    --------
    >>> roll_out_progress(RollOut(turns=3, distance_mm=6210)).scatter_mm is None
    True
    """
    turns = entry.turns
    values = tuple([distance / turns for distance in (entry.distance_mm, *entry.repeats_mm)])
    return progress(
        "roll_out",
        circumferences_mm=values,
        systematic_mm=entry.tape_mm / turns,
        random_mm=math.sqrt(2) * entry.mark_mm / turns,
        turns=turns,
    )


def progresses(wheel: Wheel) -> tuple[Progress, ...]:
    """Where each measurement that can be repeated stands.

    Examples
    --------
    >>> wheel = Wheel(method="taped_diameter", taped_diameter={"diameter_mm": 660, "repeats_mm": [662]})
    >>> progresses(wheel)[0].readings
    2
    """
    found = []
    if (across := wheel.taped_diameter) is not None:
        values = tuple([math.pi * reading for reading in (across.diameter_mm, *across.repeats_mm)])
        shared = STANDING_U_PCT / 100 * values[0]
        found.append(
            progress(
                "taped_diameter",
                circumferences_mm=values,
                systematic_mm=shared,
                random_mm=math.pi * rectangular(across.reading_mm),
            )
        )
    if (taped := wheel.taped_circumference) is not None:
        values = (taped.circumference_mm, *taped.repeats_mm)
        shared = ROUND_TREAD_U_PCT / 100 * values[0]
        found.append(
            progress(
                "taped_circumference",
                circumferences_mm=values,
                systematic_mm=shared,
                random_mm=rectangular(taped.reading_mm),
            )
        )
    if wheel.roll_out is not None:
        found.append(roll_out_progress(wheel.roll_out))
    return tuple(found)


def from_speed_derived(entry: SpeedDerived) -> Value:
    """C_new = C_set × true/shown. Returns `Value`. Common practice.

    Examples
    --------
    >>> from_speed_derived(SpeedDerived(set_circumference_mm=2000, true_kmh=101, shown_kmh=100)).circumference_mm
    2020.0
    """
    ratio = entry.true_over_shown()
    circumference = entry.set_circumference_mm * ratio
    words = {
        "satellite_speed": "satellite speed against the display",
        "measured_distance": "a measured distance against the display's",
        "timed_distance": "a measured distance by the clock against the display",
    }[entry.basis]
    why = (
        WhyStep(
            formula="C_new = C_set·true/shown",
            with_numbers=f"C_new = {entry.set_circumference_mm:g} × {ratio:.5f} = {circumference:.1f} mm",
            source=words,
        ),
    )
    u_pct = entry.relative_uncertainty_pct or SPEED_DERIVED_U_PCT[entry.basis]
    return Value(
        circumference_mm=circumference,
        u_pct=u_pct,
        evidence="measured",
        grounds=f"derived from {words}",
        why=why,
        at_kmh=entry.at_kmh(),
    )


def from_entered(entry: EnteredCircumference) -> Value:
    """C as typed; how sure depends on where it is from. Returns `Value`.

    Examples
    --------
    >>> from_entered(EnteredCircumference(circumference_mm=2105, source="chart")).u_pct
    0.7
    """
    words = _SOURCE_WORDS[entry.source]
    evidence: Evidence = "measured" if entry.source == "measured_elsewhere" else "assumed"
    u_pct = entry.relative_uncertainty_pct or SOURCE_U_PCT[entry.source]
    why = (WhyStep(formula="C as typed", with_numbers=f"C = {entry.circumference_mm:g} mm", source=words),)
    return Value(circumference_mm=entry.circumference_mm, u_pct=u_pct, evidence=evidence, grounds=words, why=why)


def from_paddle(entry: PaddleConstant, pulses_per_turn: float) -> Value:
    """Run per turn = 1852 m × pulses per turn/pulses per nautical mile × (1 + calibration). Returns `Value`.

    Common practice: 20 000 pulses per nautical mile, 5.556 Hz per knot.

    Examples
    --------
    >>> from_paddle(PaddleConstant(), 4).circumference_mm
    370.4
    """
    nominal = NAUTICAL_MILE_MM * pulses_per_turn / entry.pulses_per_nautical_mile
    calibrated = entry.calibration_pct is not None
    run = nominal * (1 + (entry.calibration_pct or 0) / 100)
    u_pct = entry.relative_uncertainty_pct or (PADDLE_CALIBRATED_U_PCT if calibrated else PADDLE_U_PCT)
    why = [
        WhyStep(
            formula="run per turn = 1852 m·pulses per turn/pulses per nautical mile",
            with_numbers=f"1852000 × {pulses_per_turn:g} / {entry.pulses_per_nautical_mile:g} = {nominal:.1f} mm",
            source=f"{entry.pulses_per_nautical_mile / 3600:.3f} Hz per knot",
        )
    ]
    if calibrated:
        numbers = f"{nominal:.1f} × {1 + (entry.calibration_pct or 0) / 100:.4f} = {run:.1f} mm"
        why.append(
            WhyStep(
                formula="run × (1 + calibration/100)",
                with_numbers=numbers,
                source="100·(true/shown − 1) from a run both ways",
            )
        )
    grounds = "calibrated on the water" if calibrated else "the paddle's nominal constant, not calibrated"
    return Value(
        circumference_mm=run,
        u_pct=u_pct,
        evidence="measured" if calibrated else "assumed",
        grounds=grounds,
        why=tuple(why),
    )


def by_method(wheel: Wheel, method: SingleMethod, vehicle_kind: str, pulses_per_turn: float) -> Value:
    """What one method with entries says.

    Examples
    --------
    >>> wheel = Wheel(method="entered", entered={"circumference_mm": 2105})
    >>> by_method(wheel, "entered", "bicycle", 1).circumference_mm
    2105.0
    """
    entry = getattr(wheel, method)
    if method == "marking":
        return from_marking(entry, vehicle_kind)
    if method == "axle_height":
        return from_axle_height(wheel)
    if method == "paddle":
        return from_paddle(entry, pulses_per_turn)
    return _PLAIN[method](entry)


_PLAIN: dict[str, Callable[..., Value]] = {
    "chart": from_chart,
    "taped_diameter": from_taped_diameter,
    "taped_circumference": from_taped_circumference,
    "roll_out": from_roll_out,
    "speed_derived": from_speed_derived,
    "entered": from_entered,
}
