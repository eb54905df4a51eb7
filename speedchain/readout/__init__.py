"""The readout: the number that is typed in, and what the display then shows."""

from speedchain.readout.encodings import ENCODINGS, Encoding
from speedchain.readout.entry_range import dial_of
from speedchain.readout.model import Readout
from speedchain.readout.setting import ReadoutResult, Setting, evaluate_readout

__all__ = ["ENCODINGS", "Encoding", "Readout", "ReadoutResult", "Setting", "dial_of", "evaluate_readout"]
