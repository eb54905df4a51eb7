"""Circumferences taped on the wheel: across the standing wheel, round the tread, and the height of the axle."""

from __future__ import annotations

import math
import statistics
from collections.abc import Callable

from speedchain.fields import text_of
from speedchain.stages import WhyStep
from speedchain.uncertainty import Budget, UncertaintyInput, rectangular, scaled
from speedchain.wheel.deflection import EFFECTIVE_SHARE, Deflection, effective_radius
from speedchain.wheel.entries import TapedCircumference, TapedDiameter
from speedchain.wheel.model import Wheel
from speedchain.wheel.nominal import diameter_budget
from speedchain.wheel.repeats import Progress, progress, repeated
from speedchain.wheel.value import Value


def standing_factor(share: float) -> float:
    """Rolling circumference over π × standing height: (1 − δ/3)/(1 − δ/2), as R_eff = R − d/3 and the height is 2R −
    d."""
    return (1 - EFFECTIVE_SHARE * share) / (1 - share / 2)


def round_factor(share: float) -> float:
    """Rolling circumference over that without load: 1 − δ/3."""
    return 1 - EFFECTIVE_SHARE * share


def _shared(deflection: Deflection, factor: Callable[[float], float]) -> Budget:
    """What deflection does to a tape: across the wheel and round it in opposite directions; and how well R − d/3
    holds."""
    step = 1e-4
    now, more = factor(deflection.share), factor(deflection.share + step)
    return (*scaled(deflection.budget, (more / now - 1) / step), effective_radius(deflection.share))


def across_progress(entry: TapedDiameter, deflection: Deflection) -> Progress:
    """Mean, scatter and prospects of the tape across the standing wheel, as circumference [mm].

    Examples
    --------
    >>> from speedchain.wheel.deflection import deflection_of
    >>> wheel = Wheel(method="taped_diameter", taped_diameter={"diameter_mm": 660, "repeats_mm": [662]})
    >>> across_progress(wheel.taped_diameter, deflection_of(wheel, "car")).readings
    2
    """
    factor = math.pi * standing_factor(deflection.share)
    return progress(
        "taped_diameter",
        circumferences_mm=tuple([factor * reading for reading in (entry.diameter_mm, *entry.repeats_mm)]),
        shared=_shared(deflection, standing_factor),
        expected_mm=factor * rectangular(entry.reading_mm),
    )


def from_taped_diameter(entry: TapedDiameter, deflection: Deflection) -> Value:
    """C = π·D·(1 − δ/3)/(1 − δ/2), D from floor to top of the standing wheel, δ the deflection over the radius
    (`deflection_of`).

    The standing height is 2R − d, the effective radius R − d/3: π·D is always short, by π·d/3. u² = (tape)² + (u_δ/6)²
    + (δ·u_share)², nearly.

    Returns
    -------
    `Value`.

    References
    ----------
    JCGM 100:2008, 4.3.7 and 3.2.4 (correction); Jazar, Vehicle Dynamics (effective radius); common practice.

    Examples
    --------
    >>> from speedchain.wheel.deflection import deflection_of
    >>> wheel = Wheel(method="taped_diameter", taped_diameter={"diameter_mm": 660})
    >>> [round(from_taped_diameter(wheel.taped_diameter, deflection_of(wheel, kind)).circumference_mm, 1)
    ...  for kind in ("car", "bicycle")]
    [2096.7, 2078.7]
    """
    readings = (entry.diameter_mm, *entry.repeats_mm)
    diameter = statistics.fmean(readings)
    taped = math.pi * diameter
    circumference = taped * standing_factor(deflection.share)
    why = (
        WhyStep(
            formula="π·D",
            with_numbers=f"π × {diameter:g} = {taped:.1f} mm",
            source=text_of(
                "mean of {0} readings, tape across the standing wheel, read to ± {1:g} mm"
                if len(readings) > 1
                else "tape across the standing wheel, read to ± {1:g} mm",
                len(readings),
                entry.reading_mm,
            ),
        ),
        WhyStep(
            formula="C = π·D·(1 − δ/3)/(1 − δ/2)",
            with_numbers=f"C = {taped:.1f} × {standing_factor(deflection.share):.5f} = {circumference:.1f} mm",
            source=deflection.text,
        ),
    )
    return Value(
        circumference_mm=circumference,
        budget=(
            repeated(readings, rectangular(entry.reading_mm), source="tape across"),
            *_shared(deflection, standing_factor),
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
    effective = radius - EFFECTIVE_SHARE * (radius - loaded)
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
            *scaled((effective_radius(max(1 - loaded / radius, 0.0)),), radius / effective),
        ),
        evidence="measured" if taped else "assumed",
        grounds="axle height under load",
        why=why,
    )


def round_progress(entry: TapedCircumference, deflection: Deflection) -> Progress:
    """Mean, scatter and prospects of the tape round the tread, as circumference [mm].

    Examples
    --------
    >>> from speedchain.wheel.deflection import deflection_of
    >>> wheel = Wheel(method="taped_circumference", taped_circumference={"circumference_mm": 2000})
    >>> round_progress(wheel.taped_circumference, deflection_of(wheel, "car")).readings
    1
    """
    factor = round_factor(deflection.share)
    return progress(
        "taped_circumference",
        circumferences_mm=tuple([factor * reading for reading in (entry.circumference_mm, *entry.repeats_mm)]),
        shared=_shared(deflection, round_factor),
        expected_mm=factor * rectangular(entry.reading_mm),
    )


def from_taped_circumference(entry: TapedCircumference, deflection: Deflection) -> Value:
    """C = tape·(1 − δ/3), the tape round the tread of the tyre without load, δ the deflection over the radius
    (`deflection_of`).

    The tape reads 2πR, the loaded tyre rolls 2π·(R − d/3): the tape is always long.

    References
    ----------
    JCGM 100:2008, 3.2.4 (correction); Jazar, Vehicle Dynamics (effective radius).

    Examples
    --------
    >>> from speedchain.wheel.deflection import deflection_of
    >>> wheel = Wheel(method="taped_circumference", taped_circumference={"circumference_mm": 1972})
    >>> round(from_taped_circumference(wheel.taped_circumference, deflection_of(wheel, "car")).circumference_mm, 1)
    1929.3
    """
    readings = (entry.circumference_mm, *entry.repeats_mm)
    taped = statistics.fmean(readings)
    circumference = taped * round_factor(deflection.share)
    mean = text_of("mean of {0} readings", len(readings)) if len(readings) > 1 else "tape"
    why = (
        WhyStep(
            formula="C = tape·(1 − δ/3)",
            with_numbers=f"C = {taped:.1f} × {round_factor(deflection.share):.5f} = {circumference:.1f} mm",
            source=text_of(
                "{0} round the tread of the tyre without load; standing, {1}: it rolls less by a third of that",
                mean,
                deflection.text,
            ),
        ),
    )
    return Value(
        circumference_mm=circumference,
        budget=(
            repeated(readings, rectangular(entry.reading_mm), source="tape round the tread"),
            *_shared(deflection, round_factor),
        ),
        evidence="measured",
        grounds="taped round the tread, without load",
        why=why,
    )
