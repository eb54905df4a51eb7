"""What evaluating one link of the chain yields, the same shape for every link."""

from __future__ import annotations

from dataclasses import replace

from speedchain.fields import Evidence, StageName, Words
from speedchain.results import result
from speedchain.stages.findings import WhyStep
from speedchain.uncertainty import COVERAGE_FACTOR


@result
class Figure:
    """A number with its unit, its evidence and its relative standard uncertainty [%]."""

    name: Words
    value: float
    unit: str
    evidence: Evidence
    relative_standard_uncertainty_pct: float


@result
class Stage:
    """One link: its figures (the first is the key figure), how sure, on what grounds, and the arithmetic.

    `coverage_factor` times the standard uncertainty covers 95.45 %: 2, and more where few readings showed the scatter.
    """

    stage: StageName
    figures: tuple[Figure, ...]
    evidence: Evidence
    grounds: Words
    relative_standard_uncertainty_pct: float
    why: tuple[WhyStep, ...]
    coverage_factor: float = COVERAGE_FACTOR

    @property
    def expanded_uncertainty_pct(self) -> float:
        """Relative expanded uncertainty, 95.45 % [%]."""
        return self.coverage_factor * self.relative_standard_uncertainty_pct

    @property
    def value(self) -> float:
        """The key figure's value, in the key figure's unit."""
        return self.figures[0].value

    def failed(self) -> Stage:
        """The same stage after a test of it failed."""
        return replace(self, evidence="failed", grounds="a test failed and has not passed since")


def raised(evidence: Evidence, verified: bool) -> Evidence:
    """The evidence after a test has agreed.

    Examples
    --------
    >>> raised("measured", True)
    'verified'
    """
    return "verified" if verified else evidence
