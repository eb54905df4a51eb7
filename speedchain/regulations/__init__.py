"""What a display may show, by rule."""

from speedchain.regulations.speedometer import BANDS, SPEEDOMETER_RULES, Band, BandCode

__all__ = ["BANDS", "SPEEDOMETER_RULES", "Band", "BandCode"]
