"""Several installations of a vehicle together, and a change of tyre or of another part."""

from speedchain.vehicle.from_above import FromAbove, from_above
from speedchain.vehicle.part_change import labelled_by, part_changed
from speedchain.vehicle.trailer import WORN_MM, TrailerRow, trailer_card

__all__ = ["WORN_MM", "FromAbove", "TrailerRow", "from_above", "labelled_by", "part_changed", "trailer_card"]
