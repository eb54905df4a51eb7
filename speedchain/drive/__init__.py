"""The drive: turns of the target per turn of the wheel."""

from speedchain.drive.model import Drive
from speedchain.drive.ratio import STAND_CAUTION, DriveDetail, counted_ratio_uncertainty_pct, evaluate_drive

__all__ = ["STAND_CAUTION", "Drive", "DriveDetail", "counted_ratio_uncertainty_pct", "evaluate_drive"]
