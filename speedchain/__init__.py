"""The rules of the job: from a wheel to the number on the display. No interface, no database, no HTTP."""

from speedchain.document import (
    Installation,
    read_installation,
    read_installation_json,
    write_installation_json,
)
from speedchain.evaluation import Evaluation, evaluate
from speedchain.fields import DocumentError, InputError, Problem, SpeedchainError

__version__ = "0.1.0"

__all__ = [
    "DocumentError",
    "Evaluation",
    "InputError",
    "Installation",
    "Problem",
    "SpeedchainError",
    "evaluate",
    "read_installation",
    "read_installation_json",
    "write_installation_json",
]
