"""Rules about the drive: where it is sensed, and what its kind can do to the reading."""

from __future__ import annotations

from collections.abc import Iterator

from speedchain.drive.gears import Gear
from speedchain.drive.model import Drive
from speedchain.drive.ratio import shaft_turns
from speedchain.fields import NOTHING_PCT
from speedchain.stages import Finding, FindingCode, finding


def drive_rules(drive: Drive, purpose: str, gears: tuple[Gear, ...], speed_kmh: float) -> Iterator[Finding]:
    """Findings about the drive; a choice that works against the purpose is one."""
    if drive.driven and purpose == "true_speed":
        yield finding(FindingCode.DRIVEN_WHEEL)
    if drive.kind == "transfer_box" and (box := drive.transfer_box) is not None and box.sensed == "gearbox":
        high = box.range == "high"
        factor = box.low_ratio if high else 1 / box.low_ratio
        yield finding(FindingCode.RANGE, other_range="low" if high else "high", factor=factor)
    motor = drive.hub_motor if drive.kind == "hub_motor" else None
    if motor is not None and motor.sensed == "rotor" and motor.freewheel and motor.gear_ratio != 1:
        yield finding(FindingCode.FREEWHEEL)
    used = next((gear for gear in gears if gear.in_use), None)
    best = next((gear for gear in gears if gear.best), None)
    if used and best and abs(used.error_pct) > abs(best.error_pct) + NOTHING_PCT:
        yield finding(
            FindingCode.DRIVEN_GEAR,
            used_teeth=used.teeth,
            used_error_pct=used.error_pct,
            best_teeth=best.teeth,
            best_error_pct=best.error_pct,
        )
    if drive.kind in ("axle_ratio", "transfer_box", "cable"):
        half_kmh = speed_kmh * shaft_turns(1.0, 1.0, 0.0)
        yield finding(FindingCode.ONE_WHEEL_ON_STAND, speed_kmh=speed_kmh, half_kmh=half_kmh)
