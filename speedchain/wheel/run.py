"""Circumferences from a run: rolled out, compared with the true speed, and a paddle's run per turn."""

from __future__ import annotations

import math
import statistics

from speedchain.fields import joined, text_of
from speedchain.stages import WhyStep
from speedchain.uncertainty import Budget, one_input, rectangular
from speedchain.wheel.entries import PaddleConstant, RollOut, SpeedDerived
from speedchain.wheel.repeats import Progress, progress, repeated
from speedchain.wheel.value import Value

NAUTICAL_MILE_MM = 1_852_000.0
SPEED_DERIVED_U_PCT = {"satellite_speed": 0.5, "measured_distance": 0.3, "timed_distance": 0.5}
"""Starting values, one careful run each way. Our allowances."""
PADDLE_U_PCT = 3.0
"""A paddle's nominal constant before calibration: flow along the hull differs from boat to boat. Our allowance."""
PADDLE_CALIBRATED_U_PCT = 0.5
"""The same after a run both ways. Our allowance."""
_BASIS_TEXTS = {
    "satellite_speed": "satellite speed against the display",
    "measured_distance": "a measured distance against the display's",
    "timed_distance": "a measured distance by the clock against the display",
}


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


def _tape(entry: RollOut) -> Budget:
    """The tape, which all runs of a roll-out share."""
    mean_mm = statistics.fmean((entry.distance_mm, *entry.repeats_mm))
    return one_input("roll-out tape", 100 * entry.tape_mm / mean_mm)


def roll_out_progress(entry: RollOut) -> Progress:
    """Mean, scatter and prospects of a roll-out as circumference [mm].

    Examples
    --------
    >>> roll_out_progress(RollOut(turns=3, distance_mm=6210)).scatter_mm is None
    True
    """
    turns = entry.turns
    return progress(
        "roll_out",
        circumferences_mm=tuple([distance / turns for distance in (entry.distance_mm, *entry.repeats_mm)]),
        shared=_tape(entry),
        expected_mm=math.sqrt(2) * entry.mark_mm / turns,
        turns=turns,
    )


def from_roll_out(entry: RollOut) -> Value:
    """C = mean distance/turns; the tape shared by all runs, two marks in each, or the scatter of the runs if larger.

    Returns
    -------
    `Value`.

    Examples
    --------
    >>> from_roll_out(RollOut(turns=3, distance_mm="6.21 m")).circumference_mm
    2070.0
    """
    runs = (entry.distance_mm, *entry.repeats_mm)
    mean_mm = statistics.fmean(runs)
    circumference = mean_mm / entry.turns
    turns = "1 turn" if entry.turns == 1 else text_of("{0} turns", entry.turns)
    why = (
        WhyStep(
            formula="C = distance/turns",
            with_numbers=text_of("C = {0:g} / {1} = {2:.1f} mm", mean_mm, entry.turns, circumference),
            source=text_of(
                "roll-out as driven or ridden, {0} runs; u = sqrt(u_tape² + 2·u_mark²/runs)/turns, or the scatter if "
                "larger"
                if len(runs) > 1
                else "roll-out as driven or ridden; u = sqrt(u_tape² + 2·u_mark²/runs)/turns, or the scatter if larger",
                len(runs),
            ),
        ),
    )
    return Value(
        circumference_mm=circumference,
        budget=(*_tape(entry), repeated(runs, math.sqrt(2) * entry.mark_mm, source="roll-out marks")),
        evidence="measured",
        grounds=text_of("roll-out over {0}, {1} runs", turns, len(runs))
        if len(runs) > 1
        else text_of("roll-out over {0}", turns),
        why=why,
    )


def _resolution(entry: SpeedDerived) -> Budget:
    """The steps of the display that was read: a value lies anywhere within ± half a step."""
    if entry.basis == "measured_distance":
        share = entry.shown_step_km / (entry.shown_km or 1)
    else:
        share = entry.shown_step_kmh / (entry.shown_kmh or 1)
    return one_input("display resolution", 100 * rectangular(share / 2))


def from_speed_derived(entry: SpeedDerived) -> Value:
    """C_new = C_set × true/shown; the display's steps count. Common practice.

    Returns
    -------
    `Value`.

    Examples
    --------
    >>> value = from_speed_derived(SpeedDerived(set_circumference_mm=2000, true_kmh=25.25, shown_kmh=25))
    >>> value.circumference_mm, round(value.u_pct, 2)
    (2020.0, 1.26)
    """
    ratio = entry.true_over_shown()
    circumference = entry.set_circumference_mm * ratio
    text = _BASIS_TEXTS[entry.basis]
    stated = entry.relative_uncertainty_pct
    resolution = _resolution(entry)
    source = [text]
    if not stated:
        source.append(text_of("the display's steps: ± {0:.2g} %", math.sqrt(3) * resolution[0].u_pct))
    why = (
        WhyStep(
            formula="C_new = C_set·true/shown",
            with_numbers=text_of(
                "C_new = {0:g} × {1:.5f} = {2:.1f} mm", entry.set_circumference_mm, ratio, circumference
            ),
            source=joined("; ", source),
        ),
    )
    own = one_input(entry.basis, stated or SPEED_DERIVED_U_PCT[entry.basis])
    return Value(
        circumference_mm=circumference,
        budget=own if stated else (*own, *resolution),
        evidence="measured",
        grounds=text_of("derived from {0}", text),
        why=why,
        at_kmh=entry.at_kmh(),
    )


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
            source=text_of("{0:.3f} Hz per knot", entry.pulses_per_nautical_mile / 3600),
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
        budget=one_input("paddle constant", u_pct),
        evidence="measured" if calibrated else "assumed",
        grounds=grounds,
        why=tuple(why),
    )
