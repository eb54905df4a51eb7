"""The readout: the setting to enter, and what the display then shows."""

from speedchain.readout.decode import filtered, gated_hz, shown_at_kmh, speeds_by_period_kmh
from speedchain.readout.encodings import ENCODINGS, Encoding
from speedchain.readout.entry_range import dial_of, nearest_enterable
from speedchain.readout.evaluate import ReadoutResult, Setting, evaluate_readout
from speedchain.readout.gauge_end import on_the_dial
from speedchain.readout.geared import GearedSetting, geared_setting
from speedchain.readout.model import (
    ACCEPTED_COUNTS,
    ENTRIES,
    PAST_ENDS,
    RIDE_OUTCOMES,
    TIMING_METHODS,
    Input,
    LearningRide,
    PastEnd,
    Readout,
)
from speedchain.readout.rules import readout_rules
from speedchain.readout.table import speed_from_table, table_in_use

__all__ = [
    "ACCEPTED_COUNTS",
    "ENCODINGS",
    "ENTRIES",
    "PAST_ENDS",
    "RIDE_OUTCOMES",
    "TIMING_METHODS",
    "Encoding",
    "GearedSetting",
    "Input",
    "LearningRide",
    "PastEnd",
    "Readout",
    "ReadoutResult",
    "Setting",
    "dial_of",
    "evaluate_readout",
    "filtered",
    "gated_hz",
    "geared_setting",
    "nearest_enterable",
    "on_the_dial",
    "readout_rules",
    "shown_at_kmh",
    "speed_from_table",
    "speeds_by_period_kmh",
    "table_in_use",
]
