"""The placement of the sensor before the target: will it see every tooth, and how surely."""

from speedchain.placement.evaluate import PlacementDetail, evaluate_placement
from speedchain.placement.model import Placement
from speedchain.placement.rules import check_placement, check_rates

__all__ = ["Placement", "PlacementDetail", "check_placement", "check_rates", "evaluate_placement"]
