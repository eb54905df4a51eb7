"""The wheel (or paddle): its true rolling circumference and how sure that is."""

from speedchain.wheel.compare import Comparison, compare
from speedchain.wheel.corrections import growth_factor
from speedchain.wheel.evaluate import WheelDetail, WheelResult, evaluate_wheel
from speedchain.wheel.marking import parse_marking
from speedchain.wheel.methods import roll_out_uncertainty_pct
from speedchain.wheel.model import Wheel
from speedchain.wheel.size import Marking

__all__ = [
    "Comparison",
    "Marking",
    "Wheel",
    "WheelDetail",
    "WheelResult",
    "compare",
    "evaluate_wheel",
    "growth_factor",
    "parse_marking",
    "roll_out_uncertainty_pct",
]
