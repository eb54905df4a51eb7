"""How sure a figure is, and which cause explains a ratio."""

from speedchain.uncertainty.propagation import COVERAGE_FACTOR, Contribution, combine_pct, rectangular, triangular
from speedchain.uncertainty.ranking import Hypothesis, Likely, likeliest
from speedchain.uncertainty.significance import Verdict, sentence_on, verdict_on

__all__ = [
    "COVERAGE_FACTOR",
    "Contribution",
    "Hypothesis",
    "Likely",
    "Verdict",
    "combine_pct",
    "likeliest",
    "rectangular",
    "sentence_on",
    "triangular",
    "verdict_on",
]
