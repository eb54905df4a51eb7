"""How sure a figure is, and which cause explains a ratio."""

from speedchain.uncertainty.propagation import COVERAGE_FACTOR, Contribution, combine_pct, rectangular, triangular
from speedchain.uncertainty.ranking import Hypothesis, Likely, likeliest

__all__ = [
    "COVERAGE_FACTOR",
    "Contribution",
    "Hypothesis",
    "Likely",
    "combine_pct",
    "likeliest",
    "rectangular",
    "triangular",
]
