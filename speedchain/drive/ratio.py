"""The drive ratio: turns of the target for each turn of the wheel."""

from __future__ import annotations

import math
from typing import assert_never

from speedchain.drive.gears import wanted_turns_per_km
from speedchain.drive.model import AxleRatio, Cable, Drive, HubMotor, Sprockets, TransferBox
from speedchain.fields import Evidence, Words, text_of
from speedchain.results import result
from speedchain.stages import WhyStep
from speedchain.uncertainty import rectangular

LABEL_RATIO_U_PCT = 0.5
"""A ratio read off a label or a list: rounding, and the chance of a changed final drive. Our allowance."""
TURN_READING = 0.05
"""How far out a chalk mark is read at the end of the count, in turns of the shaft. Common practice."""


@result
class Ratio:
    """Turns of the target per turn of the wheel, relative standard uncertainty [%], evidence, grounds, arithmetic."""

    ratio: float
    u_pct: float
    evidence: Evidence
    grounds: Words
    why: WhyStep


def shaft_turns(axle_ratio: float, left_turns: float, right_turns: float) -> float:
    """Turns of the shaft of an open differential: ratio × the mean of both wheels.

    References
    ----------
    Kinematics of the bevel differential, (left + right)/2 = carrier.

    Examples
    --------
    >>> shaft_turns(3.73, 1, 1), shaft_turns(3.73, 2, 0), shaft_turns(3.73, 1, 0)
    (3.73, 3.73, 1.865)
    """
    return axle_ratio * (left_turns + right_turns) / 2


def counted_ratio_uncertainty_pct(ratio: float, wheel_turns: int) -> float:
    """Relative standard uncertainty [%] of a ratio counted by turning: 100·(0.05/√3)/(ratio·wheel turns).

    References
    ----------
    JCGM 100:2008, 4.3.7; reading of the mark: common practice.

    Examples
    --------
    >>> round(counted_ratio_uncertainty_pct(3.73, 10), 3)
    0.077
    """
    return 100 * rectangular(TURN_READING) / (ratio * wheel_turns)


def ratio_of(drive: Drive, *, circumference_mm: float) -> Ratio:
    """The ratio of a drive of any kind; the circumference [mm] for the turns of a cable per km.

    Examples
    --------
    >>> ratio_of(Drive(kind="sprockets", sprockets={"wheel_teeth": 45, "shaft_teeth": 15}), circumference_mm=2000).ratio
    3.0
    """
    match drive.entry:
        case AxleRatio() as axle:
            return _axle(axle)
        case Sprockets() as sprockets:
            return _sprockets(sprockets)
        case TransferBox() as box:
            return _transfer_box(box)
        case HubMotor() as motor:
            return _hub_motor(motor)
        case Cable() as cable:
            return _cable(cable, circumference_mm)
        case None:
            step = WhyStep(
                formula="r = 1", with_numbers="r = 1", source="hub, brake disc or rim: the target turns with the wheel"
            )
            return Ratio(ratio=1.0, u_pct=0.0, evidence="measured", grounds="turns with the wheel", why=step)
        case other:
            assert_never(other)


def _axle(entry: AxleRatio) -> Ratio:
    ratio = entry.value
    if entry.basis != "counted" or entry.shaft_turns is None:
        grounds = "read off a label or list" if entry.basis == "label" else "the turns counted are not entered"
        step = WhyStep(formula="r = shaft turns/wheel turns", with_numbers=f"r = {ratio:g}", source=grounds)
        return Ratio(ratio=ratio, u_pct=LABEL_RATIO_U_PCT, evidence="assumed", grounds=grounds, why=step)
    shaft_per_wheel = ratio / 2 if entry.one_wheel_held else ratio
    u_pct = counted_ratio_uncertainty_pct(shaft_per_wheel, entry.wheel_turns)
    grounds = text_of(
        "counted over {0} turns of the wheel, one wheel held and the count doubled"
        if entry.one_wheel_held
        else "counted over {0} turns of the wheel, both wheels turning together",
        entry.wheel_turns,
    )
    doubled = "2 × " if entry.one_wheel_held else ""
    numbers = text_of("r = {0}{1:g} / {2} = {3:.4g}", doubled, entry.shaft_turns, entry.wheel_turns, ratio)
    return Ratio(
        ratio=ratio,
        u_pct=u_pct,
        evidence="measured",
        grounds=grounds,
        why=WhyStep(formula="r = shaft turns/wheel turns", with_numbers=numbers, source=grounds),
    )


def _sprockets(entry: Sprockets) -> Ratio:
    wheel, shaft = entry.wheel_teeth, entry.shaft_teeth
    ratio = wheel / shaft
    step = WhyStep(
        formula="r = wheel teeth/shaft teeth",
        with_numbers=text_of("r = {0} / {1} = {2:.4f}", wheel, shaft, ratio),
        source="whole teeth: exact",
    )
    return Ratio(
        ratio=ratio,
        u_pct=0.0,
        evidence="measured",
        grounds=text_of("{0} and {1} teeth counted", wheel, shaft),
        why=step,
    )


def _transfer_box(box: TransferBox) -> Ratio:
    geared = box.low_ratio if box.sensed == "gearbox" and box.range == "low" else 1.0
    ratio = box.axle_ratio * geared
    labels = 1 if geared == 1 else 2  # each ratio read off a label brings its own uncertainty
    step = WhyStep(
        formula="r = axle ratio·range, sensed on the gearbox side; r = axle ratio, on the axle side",
        with_numbers=f"r = {box.axle_ratio:g} × {geared:g} = {ratio:.4g}",
        source=text_of("{0} range, target on the {1} side", box.range, box.sensed),
    )
    return Ratio(
        ratio=ratio,
        u_pct=math.sqrt(labels) * LABEL_RATIO_U_PCT,
        evidence="assumed",
        grounds="ratios read off a label or list",
        why=step,
    )


def _hub_motor(motor: HubMotor) -> Ratio:
    ratio = motor.gear_ratio if motor.sensed == "rotor" else 1.0
    step = WhyStep(
        formula="r = rotor turns/wheel turns",
        with_numbers=f"r = {ratio:g}",
        source=text_of("target on the {0}", motor.sensed),
    )
    if ratio == 1:
        return Ratio(ratio=ratio, u_pct=0.0, evidence="measured", grounds="turns with the wheel", why=step)
    return Ratio(ratio=ratio, u_pct=LABEL_RATIO_U_PCT, evidence="assumed", grounds="gearing from a list", why=step)


def _cable(cable: Cable, circumference_mm: float) -> Ratio:
    ratio = cable.axle_ratio * cable.drive_teeth / cable.driven_teeth
    turns = 1e6 / circumference_mm * ratio
    step = WhyStep(
        formula="r = axle ratio·drive teeth/driven teeth",
        with_numbers=text_of(
            "r = {0:g} × {1} / {2} = {3:.4g}", cable.axle_ratio, cable.drive_teeth, cable.driven_teeth, ratio
        ),
        source=text_of("{0:.1f} cable turns per km; the gauge needs {1:.1f}", turns, wanted_turns_per_km(cable)),
    )
    return Ratio(
        ratio=ratio,
        u_pct=LABEL_RATIO_U_PCT,
        evidence="assumed",
        grounds="axle ratio from a label, gear teeth counted",
        why=step,
    )
