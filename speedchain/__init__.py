"""The rules of the job: from a wheel to the number on the display. No interface, no database, no HTTP."""

from speedchain.chain import Evaluation, Fit, evaluate, read_fit, read_fit_json, write_fit_json
from speedchain.errors import FitError, InputError, Problem, SpeedchainError

__all__ = [
    "Evaluation",
    "Fit",
    "FitError",
    "InputError",
    "Problem",
    "SpeedchainError",
    "evaluate",
    "read_fit",
    "read_fit_json",
    "write_fit_json",
]
