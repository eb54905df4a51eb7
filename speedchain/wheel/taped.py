"""Circumferences taped on the wheel: across the standing wheel, round the tread, and the height of the axle."""

from __future__ import annotations

import math
import statistics

from speedchain.fields import text_of
from speedchain.stages import WhyStep
from speedchain.uncertainty import Budget, UncertaintyInput, rectangular, scaled, triangular
from speedchain.wheel.entries import TapedCircumference, TapedDiameter
from speedchain.wheel.model import Wheel
from speedchain.wheel.nominal import diameter_budget
from speedchain.wheel.repeats import Progress, progress, repeated
from speedchain.wheel.value import Value

DEFLECTION = 0.02
"""Deflection of a standing tyre over its radius: expected, and at most twice this. Our allowance."""
DEFLECTION_U = triangular(DEFLECTION)
"""Its standard uncertainty. JCGM 100:2008, 4.3.9."""
STANDING_SHORT = 1 / 6
"""π × standing height is short by deflection/radius times this: R_eff = R − d/3, height 2R − d. Jazar; from memory."""
ROUND_LONG = 1 / 3
"""2πR of the tyre without load is long by deflection/radius times this. The same."""
EFFECTIVE_RADIUS_U_PCT = 0.5
"""How well R − (R − R_loaded)/3 describes one tyre. Our allowance."""


def _deflection(share: float) -> UncertaintyInput:
    """The tyre's deflection, which moves a tape across the wheel and one round it in opposite directions."""
    return UncertaintyInput(source="deflection", u_pct=100 * share * DEFLECTION_U)


def across_progress(entry: TapedDiameter) -> Progress:
    """Mean, scatter and prospects of the tape across the standing wheel, as circumference [mm].

    Examples
    --------
    >>> across_progress(TapedDiameter(diameter_mm=660, repeats_mm=[662])).readings
    2
    """
    factor = math.pi * (1 + STANDING_SHORT * DEFLECTION)
    return progress(
        "taped_diameter",
        circumferences_mm=tuple([factor * reading for reading in (entry.diameter_mm, *entry.repeats_mm)]),
        shared=(_deflection(STANDING_SHORT),),
        expected_mm=factor * rectangular(entry.reading_mm),
    )


def from_taped_diameter(entry: TapedDiameter) -> Value:
    """C = π·D·(1 + δ/6), D from floor to top of the standing wheel, δ the expected deflection over the radius.

    The standing height is 2R − d, the effective radius R − d/3: π·D is always short, by π·d/3. u² = (tape)² + (u_δ/6)².

    Returns
    -------
    `Value`.

    References
    ----------
    JCGM 100:2008, 4.3.7 and 3.2.4 (correction); Jazar, Vehicle Dynamics (effective radius); common practice.

    Examples
    --------
    >>> round(from_taped_diameter(TapedDiameter(diameter_mm=660)).circumference_mm)
    2080
    """
    readings = (entry.diameter_mm, *entry.repeats_mm)
    diameter = statistics.fmean(readings)
    taped = math.pi * diameter
    circumference = taped * (1 + STANDING_SHORT * DEFLECTION)
    mean = text_of("mean of {0} readings, ", len(readings)) if len(readings) > 1 else ""
    why = (
        WhyStep(
            formula="π·D",
            with_numbers=f"π × {diameter:g} = {taped:.1f} mm",
            source=text_of("{0}tape across the standing wheel, read to ± {1:g} mm", mean, entry.reading_mm),
        ),
        WhyStep(
            formula="C = π·D·(1 + δ/6)",
            with_numbers=f"C = {taped:.1f} × {1 + STANDING_SHORT * DEFLECTION:.5f} = {circumference:.1f} mm",
            source=text_of(
                "a standing tyre is flattened by about δ = {0:g} % of its radius, at most twice that", 100 * DEFLECTION
            ),
        ),
    )
    return Value(
        circumference_mm=circumference,
        budget=(
            repeated(readings, rectangular(entry.reading_mm), source="tape across"),
            _deflection(STANDING_SHORT),
        ),
        evidence="measured",
        grounds="taped across the standing wheel",
        why=why,
    )


def from_axle_height(wheel: Wheel) -> Value:
    """C = 2π·R_eff with R_eff = R − (R − R_loaded)/3: between the loaded and the unloaded radius.

    u² = (⅔·u_R)² + (⅓·u_R_loaded)² + model²; R taped, or from the size marking, whose inputs it then shares.

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
    radius_budget: Budget = (
        (UncertaintyInput(source="diameter without load", u_pct=100 * reading_u / 2 / radius),)
        if taped
        else diameter_budget()
    )
    source = "taped with the wheel lifted" if taped else "from the size marking"
    why = (
        WhyStep(
            formula="R_eff = R − (R − R_loaded)/3",
            with_numbers=text_of("R_eff = {0:.1f} − ({0:.1f} − {1:g})/3 = {2:.1f} mm", radius, loaded, effective),
            source=text_of("diameter without load {0}; Jazar, Vehicle Dynamics", source),
        ),
        WhyStep(
            formula="C = 2π·R_eff",
            with_numbers=f"C = 2π × {effective:.1f} = {circumference:.1f} mm",
            source=text_of("2π × axle height alone would be {0:.1f} mm, too small", 2 * math.pi * loaded),
        ),
    )
    return Value(
        circumference_mm=circumference,
        budget=(
            *scaled(radius_budget, 2 / 3 * radius / effective),
            UncertaintyInput(source="axle height", u_pct=100 * reading_u / 3 / effective),
            UncertaintyInput(source="effective radius", u_pct=EFFECTIVE_RADIUS_U_PCT),
        ),
        evidence="measured" if taped else "assumed",
        grounds="axle height under load",
        why=why,
    )


def round_progress(entry: TapedCircumference) -> Progress:
    """Mean, scatter and prospects of the tape round the tread, as circumference [mm].

    Examples
    --------
    >>> round_progress(TapedCircumference(circumference_mm=2000)).readings
    1
    """
    factor = 1 - ROUND_LONG * DEFLECTION
    return progress(
        "taped_circumference",
        circumferences_mm=tuple([factor * reading for reading in (entry.circumference_mm, *entry.repeats_mm)]),
        shared=(_deflection(-ROUND_LONG),),
        expected_mm=factor * rectangular(entry.reading_mm),
    )


def from_taped_circumference(entry: TapedCircumference) -> Value:
    """C = tape·(1 − δ/3), the tape round the tread of the tyre without load, δ the expected deflection over the radius.

    The tape reads 2πR, the loaded tyre rolls 2π·(R − d/3): the tape is always long.

    References
    ----------
    JCGM 100:2008, 3.2.4 (correction); Jazar, Vehicle Dynamics (effective radius).

    Examples
    --------
    >>> round(from_taped_circumference(TapedCircumference(circumference_mm=2000)).circumference_mm, 1)
    1986.7
    """
    readings = (entry.circumference_mm, *entry.repeats_mm)
    taped = statistics.fmean(readings)
    circumference = taped * (1 - ROUND_LONG * DEFLECTION)
    mean = text_of("mean of {0} readings", len(readings)) if len(readings) > 1 else "tape"
    why = (
        WhyStep(
            formula="C = tape·(1 − δ/3)",
            with_numbers=f"C = {taped:.1f} × {1 - ROUND_LONG * DEFLECTION:.5f} = {circumference:.1f} mm",
            source=text_of(
                "{0} round the tread; under load the tyre is flattened by about δ = {1:g} % of its "
                "radius, at most twice that, and rolls less by a third of it",
                mean,
                100 * DEFLECTION,
            ),
        ),
    )
    return Value(
        circumference_mm=circumference,
        budget=(
            repeated(readings, rectangular(entry.reading_mm), source="tape round the tread"),
            _deflection(-ROUND_LONG),
        ),
        evidence="measured",
        grounds="taped round the tread, without load",
        why=why,
    )
