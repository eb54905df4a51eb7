"""The wheel (or paddle): its true rolling circumference and how sure that is."""

from speedchain.wheel.chart import CYCLE_CHART, Chart, chart_row_of, neighbour_row
from speedchain.wheel.compare import Comparison, compare
from speedchain.wheel.corrections import TREAD_NEW_MM, growth_factor
from speedchain.wheel.entries import (
    FACTORS,
    SOURCES,
    SPEED_BASES,
    Circumstances,
    Corrections,
    EnteredCircumference,
    MarkingText,
    SizeMarking,
)
from speedchain.wheel.evaluate import WheelDetail, WheelResult, evaluate_wheel
from speedchain.wheel.marking import ACCEPTED, parse_marking
from speedchain.wheel.model import WHEEL_METHODS, Wheel
from speedchain.wheel.nominal import ETRTO_FACTOR, uses_etrto_factor
from speedchain.wheel.run import roll_out_uncertainty_pct
from speedchain.wheel.size import Marking
from speedchain.wheel.sizes_by_kind import SizeGroup, common_sizes

__all__ = [
    "ACCEPTED",
    "CYCLE_CHART",
    "ETRTO_FACTOR",
    "FACTORS",
    "SOURCES",
    "SPEED_BASES",
    "TREAD_NEW_MM",
    "WHEEL_METHODS",
    "Chart",
    "Circumstances",
    "Comparison",
    "Corrections",
    "EnteredCircumference",
    "Marking",
    "MarkingText",
    "SizeGroup",
    "SizeMarking",
    "Wheel",
    "WheelDetail",
    "WheelResult",
    "chart_row_of",
    "common_sizes",
    "compare",
    "evaluate_wheel",
    "growth_factor",
    "neighbour_row",
    "parse_marking",
    "roll_out_uncertainty_pct",
    "uses_etrto_factor",
]
