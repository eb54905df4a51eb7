"""The drive: turns of the target per turn of the wheel."""

from speedchain.drive.evaluate import DriveDetail, DriveResult, evaluate_drive
from speedchain.drive.model import BOX_SIDES, DRIVE_KINDS, MOTOR_SIDES, PER, RANGES, RATIO_BASES, Drive, DriveKind
from speedchain.drive.ratio import TURN_READING, counted_ratio_uncertainty_pct, ratio_of

__all__ = [
    "BOX_SIDES",
    "DRIVE_KINDS",
    "MOTOR_SIDES",
    "PER",
    "RANGES",
    "RATIO_BASES",
    "TURN_READING",
    "Drive",
    "DriveDetail",
    "DriveKind",
    "DriveResult",
    "counted_ratio_uncertainty_pct",
    "evaluate_drive",
    "ratio_of",
]
