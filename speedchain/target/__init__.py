"""The target: what passes the sensor, and how many of it."""

from speedchain.target.model import Target
from speedchain.target.pulses import evaluate_target

__all__ = ["Target", "evaluate_target"]
