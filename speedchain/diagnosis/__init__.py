"""What a setting implies, and what most likely went wrong."""

from speedchain.diagnosis.implied_setting import ImpliedSetting, implied_settings

__all__ = ["ImpliedSetting", "implied_settings"]
