"""Pulses per turn of the target."""

from __future__ import annotations

from speedchain.evidence import Evidence, triangular
from speedchain.findings import Finding, WhyStep
from speedchain.links import Figure, Link, raised
from speedchain.target.model import SINGLE_MAGNETS, Target

BRAKE_CONTROL_TEETH = (40, 50)
"""Teeth per turn that common replacement brake-control units want, equal at all wheels. Common practice."""


def count_uncertainty_pct(target: Target) -> float:
    """Relative standard uncertainty of the count [%].

    A counted number is exact. An assumed number of teeth is most likely right and at most one out:
    100·(1/√6)/N. Single magnets are few enough to be seen: 0.

    References: JCGM 100:2008, 4.3.9; the allowance of one tooth: common practice.

    >>> round(count_uncertainty_pct(Target(count=48)), 2)
    0.85
    """
    if target.basis == "counted" or target.kind in SINGLE_MAGNETS:
        return 0.0
    return 100 * triangular(1.0) / target.count


def evaluate_target(target: Target, purpose: str, findings: list[Finding]) -> Link:
    """The target link: pulses per turn of the target = count × edges counted.

    >>> evaluate_target(Target(count=48, edges=2), "true_speed", []).value
    96.0
    """
    pulses = float(target.count * target.edges)
    u_pct = count_uncertainty_pct(target)
    counted = target.basis == "counted"
    evidence: Evidence = raised("measured" if counted else "assumed", target.proof is not None)
    low, high = BRAKE_CONTROL_TEETH
    if purpose == "brake_control" and not low <= target.count <= high:
        findings.append(
            Finding(
                "target.brake_control_count",
                "warning",
                "target",
                f"{target.count} teeth: common brake-control units want {low} to {high} per turn, equal at every wheel.",
                "Check what the unit accepts before it is fitted; leave brake control to qualified hands.",
            )
        )
    words = "both edges" if target.edges == 2 else "one edge"
    why = (
        WhyStep(
            "pulses per turn = count × edges",
            f"{target.count} × {target.edges} = {pulses:g}",
            f"{words} of each counted; one tooth wrong would be {100 / target.count:.1f} %",
        ),
    )
    figures = (
        Figure("pulses per turn of the target", pulses, "", evidence, u_pct),
        Figure("angle from one to the next", 360 / target.count, "°", evidence, 0.0),
    )
    return Link("target", figures, evidence, "counted" if counted else "taken from a list or at a glance", u_pct, why)
