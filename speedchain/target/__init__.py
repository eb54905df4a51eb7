"""The target: what passes the sensor, how many of it, and its geometry."""

from speedchain.target.model import Target
from speedchain.target.pulses import evaluate_target
from speedchain.target.ring import RingShape, ring_shape

__all__ = ["RingShape", "Target", "evaluate_target", "ring_shape"]
