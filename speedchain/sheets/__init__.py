"""Sheets to print: wiring, order, test card."""
