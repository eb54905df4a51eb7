"""The placement of the sensor before the target: will it see every tooth, and how surely."""

from speedchain.placement.evaluate import PlacementDetail, evaluate_placement
from speedchain.placement.model import Placement
from speedchain.placement.rules import placement_rules

__all__ = ["Placement", "PlacementDetail", "evaluate_placement", "placement_rules"]
