"""From where on a difference is one: one table for all that compares two numbers. Common practice."""

from __future__ import annotations

EXACT_PCT = 0.005
"""A display of two decimals at 100 shows no more: below it a setting is exact, and no rule for speedometers is read
finer."""
NOTHING_PCT = 0.05
"""No display of speed shows it, no wheel is measured so closely: below it nothing has changed and nothing is wrong."""
READ_BY_EYE_PCT = 0.1
"""Ten readings of a needle or a last digit, taken by eye against a line, tell no more."""
