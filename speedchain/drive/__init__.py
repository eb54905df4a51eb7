"""The drive: turns of the target per turn of the wheel."""

from speedchain.drive.evaluate import DriveDetail, DriveResult, evaluate_drive
from speedchain.drive.model import Drive
from speedchain.drive.ratio import counted_ratio_uncertainty_pct

__all__ = ["Drive", "DriveDetail", "DriveResult", "counted_ratio_uncertainty_pct", "evaluate_drive"]
