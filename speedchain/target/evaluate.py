"""The target stage: pulses per turn of the target."""

from __future__ import annotations

import math

from speedchain.fields import text_of
from speedchain.results import result
from speedchain.stages import Figure, Finding, Stage, WhyStep, raised
from speedchain.target.model import SINGLE_MAGNETS, CountBasis, Target
from speedchain.target.ring import RingShape, surface_speed_m_s
from speedchain.target.rules import target_rules
from speedchain.uncertainty import COVERAGE_FACTOR

ONE_OUT = 1 / 12
"""Probability that an assumed count is one too many, and one too few. Common practice."""
ONE_TOOTH_FACTOR = 1 / math.sqrt(2 * ONE_OUT)
"""Coverage factor that makes ± one whole tooth of it: no interval in between covers 95 %."""


@result
class TargetResult:
    """The target's stage and findings."""

    stage: Stage
    findings: tuple[Finding, ...]


GROUNDS: dict[CountBasis, str] = {
    "assumed": "from a list or estimated",
    "counted": "counted",
    "captured": "counted from recorded pulses",
}


def count_uncertainty_pct(target: Target) -> float:
    """Relative standard uncertainty of the count [%].

    A counted number is exact. An assumed number of teeth is a whole number, right five times in six and else one out:
    100·(1/√6)/N, and ± one whole tooth where 95 % are to be covered. Single magnets are few enough to be seen: 0.

    References
    ----------
    Variance of a discrete distribution, P(±1) = 1/12 each; the allowance of one tooth: common practice.

    Examples
    --------
    >>> round(count_uncertainty_pct(Target(count=48)), 2)
    0.85
    """
    if target.basis != "assumed" or target.kind in SINGLE_MAGNETS:
        return 0.0
    return 100 * math.sqrt(2 * ONE_OUT) / target.count


def evaluate_target(
    target: Target,
    *,
    shape: RingShape | None = None,
    turns_per_s: float = 0.0,
    sensed: bool = True,
) -> TargetResult:
    """Pulses per turn of the target = count × edges counted; pitch and surface speed of a ring.

    Parameters
    ----------
    target : the document's target.
    shape : of the ring, where its size is entered.
    turns_per_s : of the target at the check speed.
    sensed : False for a sensor that needs no target; its count is then no assumption.

    Examples
    --------
    >>> evaluate_target(Target(count=48, edges=2)).stage.value
    96.0
    """
    pulses = float(target.count * target.edges)
    u_pct = count_uncertainty_pct(target) if sensed else 0.0
    counted = target.basis != "assumed" or not sensed
    grounds = GROUNDS[target.basis] if sensed else "this sensor needs no target"
    evidence, grounds = raised("measured" if counted else "assumed", grounds, target.verification, pulses)
    words = "both edges" if target.edges == 2 else "one edge"
    why = [
        WhyStep(
            formula="pulses per turn = count × edges",
            with_numbers=text_of("{0} × {1} = {2:g}", target.count, target.edges, pulses),
            source=text_of("{0} of each counted; one tooth wrong would be {1:.1f} %", words, 100 / target.count),
        ),
    ]
    figures = [
        Figure(
            name="pulses per turn of the target",
            value=pulses,
            unit="",
            evidence=evidence,
            relative_standard_uncertainty_pct=u_pct,
        ),
        Figure(
            name="angle per pitch",
            value=round(360 / target.count, 3),
            unit="°",
            evidence=evidence,
            relative_standard_uncertainty_pct=0.0,
        ),
    ]
    if shape is not None:
        figures += [
            Figure(
                name="pitch", value=shape.pitch_mm, unit="mm", evidence=evidence, relative_standard_uncertainty_pct=1.0
            ),
            Figure(
                name="module",
                value=shape.module_mm,
                unit="mm",
                evidence=evidence,
                relative_standard_uncertainty_pct=1.0,
            ),
            Figure(
                name="diameter at the sensed face",
                value=shape.diameter_mm,
                unit="mm",
                evidence=evidence,
                relative_standard_uncertainty_pct=0.5,
            ),
            Figure(
                name="speed past the sensor",
                value=surface_speed_m_s(shape.diameter_mm, turns_per_s),
                unit="m/s",
                evidence=evidence,
                relative_standard_uncertainty_pct=1.0,
            ),
        ]
        why.append(
            WhyStep(
                formula="pitch = π·D/N",
                with_numbers=text_of("π × {0:.4g} / {1} = {2:.4g} mm", shape.diameter_mm, shape.places, shape.pitch_mm),
                source="a gear's D = m·(N + 2), DIN 867 / ISO 53" if shape.gear else "geometry of the ring",
            )
        )
    elif target.single and target.magnets is not None:
        across_mm = 2 * target.magnets.radius_mm
        speed = surface_speed_m_s(across_mm, turns_per_s)
        figures.append(
            Figure(
                name="speed past the sensor",
                value=speed,
                unit="m/s",
                evidence=evidence,
                relative_standard_uncertainty_pct=1.0,
            )
        )
    return TargetResult(
        stage=Stage(
            stage="target",
            figures=tuple(figures),
            evidence=evidence,
            grounds=grounds,
            relative_standard_uncertainty_pct=u_pct,
            coverage_factor=COVERAGE_FACTOR if counted else ONE_TOOTH_FACTOR,
            why=tuple(why),
        ),
        findings=tuple(target_rules(target)),
    )
