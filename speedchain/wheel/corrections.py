"""What moves the circumference after it was measured: wear, load and pressure, growth with speed, another make."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

from speedchain.fields import Growth, InputError, Words, quantity_of, text_of
from speedchain.results import result
from speedchain.stages import WhyStep
from speedchain.uncertainty import Budget, UncertaintyInput, rectangular, scaled
from speedchain.wheel.model import SingleMethod, Wheel, WheelMethod
from speedchain.wheel.value import Value

MAKES_SPREAD_PCT = 1.5
"""Spread between makes of the same marking, either way. Common practice."""
TREAD_READING_MM = 0.5
"""How far out a tread depth is read, either way. Common practice."""
GROWTH_U_SHARE = 0.25
"""Standard uncertainty of a growth percentage, as a share of it. Our allowance."""
NEW_TYRE_METHODS = ("marking", "chart")
TREAD_NEW_MM: Mapping[str, float] = {
    "car": 8.0, "motorcycle": 5.0, "scooter": 5.0, "sidecar": 5.0, "atv": 12.0, "kart": 4.0, "land_yacht": 4.0,
    "bicycle": 2.0, "e_bike": 2.5, "velomobile": 1.5, "cargo_trike": 2.5, "other": 8.0,
}  # fmt: skip
"""Tread depth of a new tyre by kind of vehicle. Common practice."""
LEAST_SHARE_LEFT = 0.5
"""Of the circumference after wear; less is a wrong number."""


@result
class Correction:
    """One correction: what it does to the circumference [mm, %], and whether it is in the figure in use."""

    code: str
    label: Words
    change_mm: float
    change_pct: float
    applied: bool
    either_way: bool
    text: Words


@result
class Corrected:
    """The circumference with the corrections in use [mm], its uncertainty's inputs, each correction, the arithmetic."""

    circumference_mm: float
    budget: Budget
    corrections: tuple[Correction, ...]
    why: tuple[WhyStep, ...]


@result
class Worn:
    """What a method says after wear, the tread it was measured with [mm], and the change [mm]."""

    value: Value
    then_mm: float | None
    change_mm: float | None


def wear_mm(depth_lost_mm: float) -> float:
    """Change of circumference by wear: −2π × depth lost [mm]; a lost radius of d takes 2π·d off one turn.

    Examples
    --------
    >>> round(wear_mm(8.0 - 1.6))
    -40
    """
    return -2 * math.pi * depth_lost_mm


def growth_pct(growth_at_speed_pct: float, at_kmh: float, speed_kmh: float) -> float:
    """Growth of the circumference at a speed [%]: g·(v/v_ref)², as the pull outwards grows with v²; at most 10 %.

    Common practice; the percentage at the reference speed is the user's. The limit is that of the percentage itself:
    no tyre grows by more than a tenth, whatever the square says far above the reference speed.

    Examples
    --------
    >>> growth_pct(2.0, 200, 100), growth_pct(3.0, 0.5, 100)
    (0.5, 10)
    """
    return min(growth_at_speed_pct * (speed_kmh / at_kmh) ** 2, quantity_of(Growth).maximum)


def growth_factor(wheel: Wheel, speed_kmh: float) -> float:
    """Circumference at a speed over circumference at a crawl."""
    inputs = wheel.corrections.growth_pct
    return 1 + growth_pct(inputs, wheel.corrections.growth_at_kmh, speed_kmh) / 100 if inputs else 1.0


def new_tread_mm(wheel: Wheel, vehicle_kind: str) -> float:
    """Tread depth of the new tyre [mm]: as entered, else typical of the kind of vehicle.

    Examples
    --------
    >>> new_tread_mm(Wheel(method="marking", marking={"text": "700x28C"}), "bicycle")
    2.0
    """
    entered = wheel.corrections.tread_new_mm
    return TREAD_NEW_MM.get(vehicle_kind, TREAD_NEW_MM["car"]) if entered is None else entered


def worn(wheel: Wheel, method: WheelMethod, value: Value, vehicle_kind: str) -> Worn:
    """What one method says, with the tread lost since taken off: since new for a value on paper, else since measured.

    C − 2π·(tread then − tread now); both depths are read, and methods that share a reading share its error.

    Raises
    ------
    `InputError` when so much wear leaves no tyre.
    """
    if method == "paddle":
        return Worn(value=value, then_mm=None, change_mm=None)
    on_paper = method in NEW_TYRE_METHODS or (method == "entered" and _from_a_chart(wheel))
    then_mm = new_tread_mm(wheel, vehicle_kind) if on_paper else wheel.measured.tread_depth_mm
    tread_now_mm = wheel.corrections.tread_now_mm
    if tread_now_mm is None or then_mm is None:
        return Worn(value=value, then_mm=then_mm, change_mm=None)
    lost_mm = then_mm - tread_now_mm
    before_mm = value.circumference_mm
    now_mm = before_mm + wear_mm(lost_mm)
    if now_mm < LEAST_SHARE_LEFT * before_mm:
        raise InputError(
            text_of(
                "{0:g} mm of tread wear reduce the circumference of {1:.0f} mm by {2:.0f} mm.",
                lost_mm,
                before_mm,
                before_mm - now_mm,
            ),
            remedy="Check the tread depths, and the circumference.",
            limit=text_of("at most {0:.1f} mm of wear", (1 - LEAST_SHARE_LEFT) * before_mm / (2 * math.pi)),
            value=tread_now_mm,
            path="wheel.corrections.tread_now_mm",
        )
    budget = value.budget
    if lost_mm:
        reading_pct = 100 * 2 * math.pi * rectangular(TREAD_READING_MM) / now_mm
        budget = (
            *scaled(budget, before_mm / now_mm),
            UncertaintyInput(source="tread now", u_pct=reading_pct),
            UncertaintyInput(source="tread when new" if on_paper else "tread when measured", u_pct=-reading_pct),
        )
    changed = replace(value, circumference_mm=now_mm, budget=budget)
    return Worn(value=changed, then_mm=then_mm, change_mm=now_mm - before_mm)


def _from_a_chart(wheel: Wheel) -> bool:
    return wheel.entered is not None and wheel.entered.source == "chart"


def at_a_crawl(wheel: Wheel, values: Mapping[SingleMethod, Value], vehicle_kind: str) -> dict[SingleMethod, Value]:
    """Every method brought to one state, so that they can be combined: worn as now, and without growth."""
    found: dict[SingleMethod, Value] = {}
    for method, value in values.items():
        grown = growth_factor(wheel, value.at_kmh)
        slow = value if grown == 1 else replace(value, circumference_mm=value.circumference_mm / grown)
        found[method] = worn(wheel, method, slow, vehicle_kind).value
    return found


def corrected(wheel: Wheel, chosen: Value, speed_kmh: float, vehicle_kind: str) -> Corrected:
    """The circumference as it is now, at this load and speed.

    C = (C_method − 2π·wear)·C_other/C_roll-out·(1 + g·(v/v_ref)²)/(1 + g·(v_method/v_ref)²).

    Parameters
    ----------
    The wheel; what the method in use says, and the speed at which that is valid; the true speed [km/h]; the kind of
    vehicle, for the tread of a new tyre.

    References
    ----------
    Geometry for wear; the user's second roll-out and percentage for the rest.
    """
    inputs = wheel.corrections
    found: list[Correction] = []
    why: list[WhyStep] = []
    circumference_mm = chosen.circumference_mm
    # combined: each method was corrected before they were combined
    tread = (
        Worn(value=chosen, then_mm=wheel.measured.tread_depth_mm, change_mm=None)
        if wheel.method == "combined"
        else worn(wheel, wheel.method, chosen, vehicle_kind)
    )
    now, budget, measured_at = tread.value.circumference_mm, tread.value.budget, tread.then_mm
    if tread.change_mm is not None and measured_at is not None:
        text = text_of("tread {0:g} mm when measured or new, {1:g} mm now", measured_at, inputs.tread_now_mm)
        if tread.change_mm:
            numbers = f"C − 2π × {measured_at - (inputs.tread_now_mm or 0):g} = {now:.1f} mm"
            why.append(WhyStep(formula="C − 2π·tread lost", with_numbers=numbers, source=text))
        found.append(
            _line(
                "tread_now",
                label="Tread wear now",
                change_mm=tread.change_mm,
                of_mm=circumference_mm,
                applied=bool(tread.change_mm),
                text=text,
            )
        )
    depth = inputs.tread_now_mm if inputs.tread_now_mm is not None else measured_at
    if depth is not None and depth > inputs.tread_limit_mm:
        text = text_of(
            "from {0:g} mm to {1:g} mm; the display then over-reads by this amount", depth, inputs.tread_limit_mm
        )
        change = wear_mm(depth - inputs.tread_limit_mm)
        found.append(
            _line("tread_limit", label="Tread worn to the limit", change_mm=change, of_mm=now, applied=False, text=text)
        )
    if inputs.other_load is not None and wheel.roll_out is not None:
        other = inputs.other_load.distance_mm / inputs.other_load.turns
        runs = (wheel.roll_out.distance_mm, *wheel.roll_out.repeats_mm)
        ratio = other / (sum(runs) / len(runs) / wheel.roll_out.turns)
        text = inputs.other_load.load or "the second roll-out"
        found.append(
            _line(
                "load",
                label="Other pressure or load",
                change_mm=now * (ratio - 1),
                of_mm=now,
                applied=inputs.other_load.applies,
                text=text,
            )
        )
        if inputs.other_load.applies:
            now *= ratio
            why.append(
                WhyStep(formula="C·C_other/C_roll-out", with_numbers=f"C × {ratio:.5f} = {now:.1f} mm", source=text)
            )
    if inputs.growth_pct:
        grown = 100 * (growth_factor(wheel, speed_kmh) / growth_factor(wheel, chosen.at_kmh) - 1)
        text = text_of(
            "{0:g} % at {1:g} km/h, so {2:.2g} % at {3:g} km/h from the {4:.3g} km/h of the method"
            if chosen.at_kmh
            else "{0:g} % at {1:g} km/h, so {2:.2g} % at {3:g} km/h",
            inputs.growth_pct,
            inputs.growth_at_kmh,
            grown,
            speed_kmh,
            chosen.at_kmh,
        )
        found.append(
            _line("growth", label="Growth with speed", change_mm=now * grown / 100, of_mm=now, applied=True, text=text)
        )
        now *= 1 + grown / 100
        budget = (*budget, UncertaintyInput(source="growth", u_pct=GROWTH_U_SHARE * grown))
        why.append(
            WhyStep(
                formula="C·(1 + g·(v/v_ref)²)/(1 + g·(v_method/v_ref)²)",
                with_numbers=f"C × {1 + grown / 100:.5f} = {now:.1f} mm",
                source=text,
            )
        )
    if wheel.marking is not None:
        text = "another tyre of the same marking; measure again after a change of make"
        change = now * MAKES_SPREAD_PCT / 100
        found.append(
            _line("make", label="Another make", change_mm=change, of_mm=now, applied=False, text=text, either_way=True)
        )
    return Corrected(circumference_mm=now, budget=budget, corrections=tuple(found), why=tuple(why))


def _line(
    code: str, *, label: str, change_mm: float, of_mm: float, applied: bool, text: str, either_way: bool = False
) -> Correction:
    return Correction(
        code=code,
        label=label,
        change_mm=change_mm,
        change_pct=100 * change_mm / of_mm,
        applied=applied,
        either_way=either_way,
        text=text,
    )
