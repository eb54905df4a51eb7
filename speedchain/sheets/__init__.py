"""Sheets on paper: wiring, order, test card, job sheet, trailer card, tags."""
