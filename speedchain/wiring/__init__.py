"""What goes where: the wiring sheet, row by row, and what is asked for when the parts are ordered."""

from speedchain.wiring.sheet import WiringSheet, wiring_sheet

__all__ = ["WiringSheet", "wiring_sheet"]
