"""The target: what passes the sensor, how many of it, and its geometry."""

from speedchain.target.evaluate import TargetResult, evaluate_target
from speedchain.target.model import Target
from speedchain.target.ring import RingShape, ring_shape

__all__ = ["RingShape", "Target", "TargetResult", "evaluate_target", "ring_shape"]
