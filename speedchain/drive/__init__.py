"""The drive: turns of the target per turn of the wheel."""

from speedchain.drive.model import AxleRatio, Drive, Sprockets
from speedchain.drive.ratio import counted_ratio_uncertainty_pct, evaluate_drive

__all__ = ["AxleRatio", "Drive", "Sprockets", "counted_ratio_uncertainty_pct", "evaluate_drive"]
