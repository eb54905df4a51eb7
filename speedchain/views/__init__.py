"""What is drawn beside the evaluation: the signal and its options, a readout over speed, what a setting implies."""

from speedchain.views.implied_setting import ImpliedSetting, implied_settings
from speedchain.views.readings import causes_of

__all__ = [
    "ImpliedSetting",
    "causes_of",
    "implied_settings",
]
