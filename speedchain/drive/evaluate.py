"""The drive stage: its ratio with uncertainty and grounds, and the driven gears that fit a gauge."""

from __future__ import annotations

from speedchain.drive.gears import Gear, driven_gears
from speedchain.drive.model import Drive
from speedchain.drive.ratio import ratio_of
from speedchain.drive.rules import drive_rules
from speedchain.results import result
from speedchain.stages import Figure, Finding, Stage, raised


@result
class DriveDetail:
    """What is shown beside the stage: the driven gears of a cable drive, and the best of them."""

    gears: tuple[Gear, ...]
    best_driven_teeth: int | None


@result
class DriveResult:
    """The drive's stage, detail and findings."""

    stage: Stage
    detail: DriveDetail
    findings: tuple[Finding, ...]


def evaluate_drive(
    drive: Drive, *, purpose: str, circumference_mm: float = 2000.0, speed_kmh: float = 100.0
) -> DriveResult:
    """Turns of the target per turn of the wheel.

    Parameters
    ----------
    drive : the document's drive.
    purpose : what the reading is for.
    circumference_mm : of the wheel [mm], for cable drives.
    speed_kmh : the true speed [km/h].

    Examples
    --------
    >>> drive = Drive(kind="sprockets", sprockets={"wheel_teeth": 45, "shaft_teeth": 15})
    >>> evaluate_drive(drive, purpose="true_speed").stage.value
    3.0
    """
    found = ratio_of(drive, circumference_mm=circumference_mm)
    gears = driven_gears(drive.cable, circumference_mm) if drive.kind == "cable" and drive.cable is not None else ()
    evidence, grounds = raised(found.evidence, found.grounds, drive.verification, found.ratio)
    figure = Figure(
        name="turns of the target per turn of the wheel",
        value=found.ratio,
        unit="",
        evidence=evidence,
        relative_standard_uncertainty_pct=found.u_pct,
    )
    return DriveResult(
        stage=Stage(
            stage="drive",
            figures=(figure,),
            evidence=evidence,
            grounds=grounds,
            relative_standard_uncertainty_pct=found.u_pct,
            why=(found.why,),
        ),
        detail=DriveDetail(gears=gears, best_driven_teeth=next((gear.teeth for gear in gears if gear.best), None)),
        findings=tuple(drive_rules(drive, purpose, gears, speed_kmh)),
    )
