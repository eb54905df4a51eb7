"""Several installations of a vehicle together, and a change of tyre."""

from speedchain.vehicle.trailer import WORN_MM, TrailerRow, trailer_card

__all__ = ["WORN_MM", "TrailerRow", "trailer_card"]
