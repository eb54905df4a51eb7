"""The placement of the sensor before the target: will it see every tooth, and how surely."""

from speedchain.placement.judge import PlacementDetail, judge
from speedchain.placement.model import Placement
from speedchain.placement.rules import check_placement, check_rates

__all__ = ["Placement", "PlacementDetail", "check_placement", "check_rates", "judge"]
