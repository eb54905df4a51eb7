"""What a setting implies, and what most likely went wrong."""

from speedchain.diagnosis.failed_tests import FOLLOWS, failed_tests, failure_rules, with_failures
from speedchain.diagnosis.implied_setting import ImpliedSetting, implied_settings

__all__ = [
    "FOLLOWS",
    "ImpliedSetting",
    "failed_tests",
    "failure_rules",
    "implied_settings",
    "with_failures",
]
