"""The placement of the sensor before the target: will it see every tooth, and how surely."""

from speedchain.placement.evaluate import NOTHING, PlacementDetail, evaluate_placement
from speedchain.placement.geometry import geometry_of
from speedchain.placement.model import CLEARANCES, GAP_BASES, NO_CLEARANCE, Bracket, Placement
from speedchain.placement.permitted import maker_window
from speedchain.placement.rules import placement_rules
from speedchain.placement.strength import spacing_loss
from speedchain.placement.view import pulses_of

__all__ = [
    "CLEARANCES",
    "GAP_BASES",
    "NOTHING",
    "NO_CLEARANCE",
    "Bracket",
    "Placement",
    "PlacementDetail",
    "evaluate_placement",
    "geometry_of",
    "maker_window",
    "placement_rules",
    "pulses_of",
    "spacing_loss",
]
