"""The readout: the setting to enter, and what the display then shows."""

from speedchain.readout.encodings import ENCODINGS, Encoding
from speedchain.readout.entry_range import dial_of
from speedchain.readout.evaluate import ReadoutResult, Setting, evaluate_readout
from speedchain.readout.model import Readout
from speedchain.readout.rules import readout_rules

__all__ = [
    "ENCODINGS",
    "Encoding",
    "Readout",
    "ReadoutResult",
    "Setting",
    "dial_of",
    "evaluate_readout",
    "readout_rules",
]
