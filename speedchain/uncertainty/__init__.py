"""How sure a figure is, and which cause explains a ratio."""

from speedchain.uncertainty.budget import (
    COVERAGE,
    Budget,
    UncertaintyInput,
    covariance,
    expanded_pct,
    one_input,
    scaled,
    standard_pct,
    student_factor,
)
from speedchain.uncertainty.mean import Mean, least_squares_mean
from speedchain.uncertainty.propagation import COVERAGE_FACTOR, Contribution, combine_pct, rectangular, triangular
from speedchain.uncertainty.ranking import Hypothesis, Likely, likeliest, reach
from speedchain.uncertainty.significance import Verdict, against_true, sentence_on, verdict_on

__all__ = [
    "COVERAGE",
    "COVERAGE_FACTOR",
    "Budget",
    "Contribution",
    "Hypothesis",
    "Likely",
    "Mean",
    "UncertaintyInput",
    "Verdict",
    "against_true",
    "combine_pct",
    "covariance",
    "expanded_pct",
    "least_squares_mean",
    "likeliest",
    "one_input",
    "reach",
    "rectangular",
    "scaled",
    "sentence_on",
    "standard_pct",
    "student_factor",
    "triangular",
    "verdict_on",
]
