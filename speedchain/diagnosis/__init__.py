"""What most likely went wrong: mistakes with a setting, readers that cannot be set, failed tests."""

from speedchain.diagnosis.failed_tests import FOLLOWS, failed_tests, failure_rules, with_failures
from speedchain.diagnosis.fixed_reader import FixedReader, action_of_fixed, fixed_reader_rules, fixed_readers
from speedchain.diagnosis.mistakes import Setup, pulse_faults, setting_mistakes, setup_of
from speedchain.diagnosis.voids import Void, depends_on, state_now, void_rules, without_void

__all__ = [
    "FOLLOWS",
    "FixedReader",
    "Setup",
    "Void",
    "action_of_fixed",
    "depends_on",
    "failed_tests",
    "failure_rules",
    "fixed_reader_rules",
    "fixed_readers",
    "pulse_faults",
    "setting_mistakes",
    "setup_of",
    "state_now",
    "void_rules",
    "with_failures",
    "without_void",
]
