"""Sheets to print: wiring, order, test card, job sheet."""

from speedchain.sheets.wiring import WiringSheet, wiring_sheet

__all__ = ["WiringSheet", "wiring_sheet"]
