"""The drive ratio with its uncertainty and grounds."""

from __future__ import annotations

from speedchain.drive.gears import Gear, driven_gears, wanted_turns_per_km
from speedchain.drive.model import AxleRatio, Drive
from speedchain.fields.evidence import Evidence
from speedchain.results import result
from speedchain.stages.findings import Finding, WhyStep
from speedchain.stages.result import Figure, Stage, raised
from speedchain.uncertainty.propagation import rectangular

LABEL_RATIO_U_PCT = 0.5
"""A ratio read off a label or a list: rounding, and the chance of a changed final drive. Our allowance."""
TURN_READING = 0.05
"""How far out a chalk mark is read at the end of the count, in turns of the shaft. Common practice."""
GEAR_ERROR_WORTH_SAYING_PCT = 0.05

Ratio = tuple[float, float, Evidence, str, tuple[WhyStep, ...]]
"""Turns of the target per turn of the wheel, relative standard uncertainty [%], evidence, grounds, arithmetic."""


@result
class StandCase:
    """A differential on a stand with one wheel held: what the display shows when the free wheel runs at a speed."""

    free_wheel_kmh: float
    shown_share: float
    words: str


@result
class DriveDetail:
    """What the drive's place shows beside the link."""

    stand: StandCase | None
    gears: tuple[Gear, ...]
    best_driven_teeth: int | None


def shaft_turns(axle_ratio: float, left_turns: float, right_turns: float) -> float:
    """Turns of the shaft of an open differential: ratio × the mean of both wheels.

    References: kinematics of the bevel differential, (left + right)/2 = carrier.

    >>> shaft_turns(3.73, 1, 1), shaft_turns(3.73, 2, 0), shaft_turns(3.73, 1, 0)
    (3.73, 3.73, 1.865)
    """
    return axle_ratio * (left_turns + right_turns) / 2


def counted_ratio_uncertainty_pct(ratio: float, wheel_turns: int) -> float:
    """Relative standard uncertainty [%] of a ratio counted by turning: 100·(0.05/√3)/(ratio·wheel turns).

    References: JCGM 100:2008, 4.3.7; reading of the mark: common practice.

    >>> round(counted_ratio_uncertainty_pct(3.73, 10), 3)
    0.077
    """
    return 100 * rectangular(TURN_READING) / (ratio * wheel_turns)


def _axle(entry: AxleRatio) -> Ratio:
    ratio = entry.value
    if entry.basis == "counted":
        held = ", one wheel held and the count doubled" if entry.one_wheel_held else ", both wheels turning together"
        shaft_per_wheel = ratio / 2 if entry.one_wheel_held else ratio
        u_pct = counted_ratio_uncertainty_pct(shaft_per_wheel, entry.wheel_turns)
        grounds = f"counted over {entry.wheel_turns} turns of the wheel{held}"
        numbers = f"r = {ratio:.4g}"
        if entry.shaft_turns is not None:
            doubled = "2 × " if entry.one_wheel_held else ""
            numbers = f"r = {doubled}{entry.shaft_turns:g} / {entry.wheel_turns} = {ratio:.4g}"
        return ratio, u_pct, "measured", grounds, (WhyStep("r = shaft turns/wheel turns", numbers, grounds),)
    grounds = "read off a label or list"
    step = WhyStep("r = shaft turns/wheel turns", f"r = {ratio:g}", grounds)
    return ratio, LABEL_RATIO_U_PCT, "assumed", grounds, (step,)


def _ratio(drive: Drive, circumference_mm: float) -> Ratio:
    if drive.kind == "axle_ratio":
        assert drive.axle_ratio is not None  # the model refuses a kind without entries, here and below
        return _axle(drive.axle_ratio)
    if drive.kind == "sprockets":
        assert drive.sprockets is not None
        wheel, shaft = drive.sprockets.wheel_teeth, drive.sprockets.shaft_teeth
        ratio = wheel / shaft
        step = WhyStep("r = wheel teeth/shaft teeth", f"r = {wheel} / {shaft} = {ratio:.4f}", "whole teeth: exact")
        return ratio, 0.0, "measured", f"{wheel} and {shaft} teeth counted", (step,)
    if drive.kind == "transfer_box":
        assert drive.transfer_box is not None
        box = drive.transfer_box
        geared = box.low_ratio if box.sensed == "gearbox" and box.range == "low" else 1.0
        ratio = box.axle_ratio * geared
        step = WhyStep(
            "r = axle ratio·range, sensed on the gearbox side; r = axle ratio, on the axle side",
            f"r = {box.axle_ratio:g} × {geared:g} = {ratio:.4g}",
            f"{box.range} range, target on the {box.sensed} side",
        )
        return ratio, LABEL_RATIO_U_PCT, "assumed", "ratios read off a label or list", (step,)
    if drive.kind == "hub_motor":
        assert drive.hub_motor is not None
        motor = drive.hub_motor
        ratio = motor.gear_ratio if motor.sensed == "rotor" else 1.0
        u_pct = LABEL_RATIO_U_PCT if ratio != 1 else 0.0
        evidence: Evidence = "assumed" if ratio != 1 else "measured"
        step = WhyStep("r = rotor turns/wheel turns", f"r = {ratio:g}", f"target on the {motor.sensed}")
        grounds = "gearing from a list" if ratio != 1 else "turns with the wheel"
        return ratio, u_pct, evidence, grounds, (step,)
    if drive.kind == "cable":
        assert drive.cable is not None
        cable = drive.cable
        ratio = cable.axle_ratio * cable.drive_teeth / cable.driven_teeth
        turns = 1e6 / circumference_mm * ratio
        step = WhyStep(
            "r = axle ratio·drive teeth/driven teeth",
            f"r = {cable.axle_ratio:g} × {cable.drive_teeth} / {cable.driven_teeth} = {ratio:.4g}",
            f"{turns:.1f} cable turns per km; the gauge wants {wanted_turns_per_km(cable):.1f}",
        )
        return ratio, LABEL_RATIO_U_PCT, "assumed", "axle ratio from a label, gear teeth counted", (step,)
    step = WhyStep("r = 1", "r = 1", "hub, brake disc or rim: the target turns with the wheel")
    return 1.0, 0.0, "measured", "turns with the wheel", (step,)


def evaluate_drive(
    drive: Drive, purpose: str, findings: list[Finding], circumference_mm: float = 2000.0, speed_kmh: float = 100.0
) -> tuple[Stage, DriveDetail]:
    """The drive link; a choice that works against the purpose goes to `findings`.

    Parameters: the drive; what the reading is for; where findings go; the wheel's circumference [mm], for cable drives;
    the true speed [km/h].

    >>> drive = Drive(kind="sprockets", sprockets={"wheel_teeth": 45, "shaft_teeth": 15})
    >>> evaluate_drive(drive, "true_speed", [])[0].value
    3.0
    """
    ratio, u_pct, evidence, grounds, why = _ratio(drive, circumference_mm)
    if drive.driven and purpose == "true_speed":
        findings.append(
            Finding(
                "drive.driven_wheel",
                "warning",
                "drive",
                "A driven wheel reads 1 to 3 % high while cruising and far more when it spins.",
                "Sense a wheel that is not driven when the true speed of the vehicle is wanted.",
            )
        )
    gears = driven_gears(drive.cable, circumference_mm) if drive.kind == "cable" and drive.cable is not None else ()
    best = next((gear.teeth for gear in gears if gear.best), None)
    _check_kind(drive, gears, findings)
    evidence = raised(evidence, drive.verification is not None)
    figure = Figure("turns of the target per turn of the wheel", ratio, "", evidence, u_pct)
    detail = DriveDetail(_stand(drive, speed_kmh, findings), gears, best)
    return Stage("drive", (figure,), evidence, grounds, u_pct, why), detail


def _stand(drive: Drive, speed_kmh: float, findings: list[Finding]) -> StandCase | None:
    if drive.kind not in ("axle_ratio", "transfer_box", "cable"):
        return None
    share = shaft_turns(1.0, 1.0, 0.0)
    words = (
        f"On a stand with one wheel held, the free wheel at {speed_kmh:g} km/h turns the shaft half as fast: "
        f"the display shows half, {speed_kmh * share:g} km/h and its own error."
    )
    remedy = "Let both wheels turn together, or expect half. " + STAND_CAUTION
    findings.append(Finding("drive.one_wheel_on_stand", "note", "drive", words, remedy))
    return StandCase(speed_kmh, share, words)


STAND_CAUTION = (
    "Jack stands on firm ground, never under a vehicle on a jack alone; chock the wheels that stay down. "
    "Hands, sleeves and leads clear of everything that turns."
)


def _check_kind(drive: Drive, gears: tuple[Gear, ...], findings: list[Finding]) -> None:
    if drive.kind == "transfer_box" and (box := drive.transfer_box) is not None and box.sensed == "gearbox":
        other = "low" if box.range == "high" else "high"
        factor = box.low_ratio if box.range == "high" else 1 / box.low_ratio
        findings.append(
            Finding(
                "drive.range",
                "warning",
                "drive",
                f"The target sits before the transfer box: in {other} range the display reads {factor:.2f} times as much.",
                "Sense the axle side, or correct only in the range that is driven in.",
            )
        )
    motor = drive.hub_motor if drive.kind == "hub_motor" else None
    if motor is not None and motor.sensed == "rotor" and motor.freewheel and motor.gear_ratio != 1:
        findings.append(
            Finding(
                "drive.freewheel",
                "warning",
                "drive",
                "The rotor of a geared hub motor stands still while the wheel coasts: the display then shows nothing.",
                "Sense the wheel itself where coasting counts.",
            )
        )
    used = next((gear for gear in gears if gear.in_use), None)
    best = next((gear for gear in gears if gear.best), None)
    if used and best and abs(used.error_pct) > abs(best.error_pct) + GEAR_ERROR_WORTH_SAYING_PCT:
        findings.append(
            Finding(
                "drive.driven_gear",
                "warning",
                "drive",
                f"With {used.teeth} teeth the gauge reads {used.error_pct:+.1f} %; {best.teeth} teeth would read "
                f"{best.error_pct:+.1f} %.",
                f"Installation the {best.teeth}-tooth driven gear, and check that it meshes in this housing.",
            )
        )
