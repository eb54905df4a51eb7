"""The wheel (or paddle): its true rolling circumference and how sure that is."""

from speedchain.wheel.circumference import evaluate_wheel, roll_out_uncertainty_pct
from speedchain.wheel.marking import parse_marking
from speedchain.wheel.model import RollOut, SizeMarking, TapedDiameter, TypedCircumference, Wheel
from speedchain.wheel.size import Marking

__all__ = [
    "Marking",
    "RollOut",
    "SizeMarking",
    "TapedDiameter",
    "TypedCircumference",
    "Wheel",
    "evaluate_wheel",
    "parse_marking",
    "roll_out_uncertainty_pct",
]
