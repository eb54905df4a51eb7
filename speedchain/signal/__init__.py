"""The signal between sensor and readers: frequencies, levels, conditioning and conversion."""

from speedchain.signal.evaluate import SignalDetail, SignalResult, evaluate_signal, signal_stage
from speedchain.signal.frequency import frequency_hz
from speedchain.signal.model import Signal

__all__ = ["Signal", "SignalDetail", "SignalResult", "evaluate_signal", "frequency_hz", "signal_stage"]
