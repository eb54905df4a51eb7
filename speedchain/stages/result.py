"""What evaluating one link of the chain yields, the same shape for every link."""

from __future__ import annotations

from dataclasses import replace
from typing import NamedTuple

from speedchain.fields import Evidence, StageName, Verification, Words, text_of
from speedchain.results import result
from speedchain.stages.findings import WhyStep
from speedchain.uncertainty import COVERAGE_FACTOR, Budget, UncertaintyInput


@result
class Figure:
    """A number with its unit, its evidence and its relative standard uncertainty [%]."""

    name: Words
    value: float
    unit: Words
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


class Grounded(NamedTuple):
    """How sure, and on what grounds."""

    evidence: Evidence
    grounds: Words


def raised(evidence: Evidence, grounds: str, verification: Verification | None, value: float) -> Grounded:
    """Evidence and grounds after a test has agreed, as long as the key figure is the one that it verified.

    Examples
    --------
    >>> spin = Verification(test="spin", on="2026-05-01", value=48)
    >>> raised("measured", "counted", spin, 48).evidence, raised("measured", "counted", spin, 46)
    ('verified', Grounded(evidence='measured', grounds='counted; changed since the test of 2026-05-01'))
    """
    if verification is None:
        return Grounded(evidence, grounds)
    if verification.holds_for(value):
        return Grounded("verified", grounds)
    return Grounded(evidence, text_of("{0}; changed since the test of {1}", grounds, verification.on.isoformat()))


def budget_of(parts: tuple[Stage, ...]) -> Budget:
    """The parts of the chain as inputs of their product; a number of teeth that is assumed is out by a whole one.

    Examples
    --------
    >>> budget_of(())
    ()
    """
    return tuple(
        [
            UncertaintyInput(
                source=stage.stage,
                u_pct=stage.relative_standard_uncertainty_pct,
                coverage_factor=stage.coverage_factor,
                whole=stage.stage == "target" and stage.evidence == "assumed",
            )
            for stage in parts
        ]
    )
