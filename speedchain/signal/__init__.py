"""The signal between sensor and readers: frequencies, levels, conditioning and conversion."""

from speedchain.signal.evaluate import SignalDetail, SignalResult, evaluate_signal, signal_stage
from speedchain.signal.frequency import frequency_hz
from speedchain.signal.model import CONDITIONERS, GAUGES, SHIELDS, Analogue, Signal
from speedchain.signal.path import Coil
from speedchain.signal.pwm import Smoothed, smoothed
from speedchain.signal.ratio import RatioChoice, best_chain, best_ratio, best_stages
from speedchain.signal.rules import CLOSE
from speedchain.signal.series import SERIES, nearest

__all__ = [
    "CLOSE",
    "CONDITIONERS",
    "GAUGES",
    "SERIES",
    "SHIELDS",
    "Analogue",
    "Coil",
    "RatioChoice",
    "Signal",
    "SignalDetail",
    "SignalResult",
    "Smoothed",
    "best_chain",
    "best_ratio",
    "best_stages",
    "evaluate_signal",
    "frequency_hz",
    "nearest",
    "signal_stage",
    "smoothed",
]
