"""The signal between sensor and reader: passed on unchanged, with the rates it carries."""

from speedchain.signal.model import Signal
from speedchain.signal.rates import evaluate_signal, frequency_hz

__all__ = ["Signal", "evaluate_signal", "frequency_hz"]
