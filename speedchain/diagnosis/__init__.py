"""What a setting implies, and what most likely went wrong."""

from speedchain.diagnosis.failed_tests import FOLLOWS, failed_tests, failure_rules, with_failures
from speedchain.diagnosis.fixed_reader import FixedReader, fixed_reader_rules, fixed_readers
from speedchain.diagnosis.implied_setting import ImpliedSetting, implied_settings, setup_of
from speedchain.diagnosis.mistakes import Setup, pulse_faults, setting_mistakes

__all__ = [
    "FOLLOWS",
    "FixedReader",
    "ImpliedSetting",
    "Setup",
    "failed_tests",
    "failure_rules",
    "fixed_reader_rules",
    "fixed_readers",
    "implied_settings",
    "pulse_faults",
    "setting_mistakes",
    "setup_of",
    "with_failures",
]
