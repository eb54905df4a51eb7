"""What is drawn beside the evaluation: the signal and its options, a readout over speed, what a setting implies."""

from speedchain.views.implied_setting import ImpliedSetting, implied_settings
from speedchain.views.over_speed import OverSpeed, over_speed
from speedchain.views.readings import causes_of

__all__ = [
    "ImpliedSetting",
    "OverSpeed",
    "causes_of",
    "implied_settings",
    "over_speed",
]
