"""The drive ratio with its uncertainty and grounds."""

from __future__ import annotations

from speedchain.drive.model import AxleRatio, Drive
from speedchain.evidence import Evidence, rectangular
from speedchain.findings import Finding, WhyStep
from speedchain.links import Figure, Link, raised

LABEL_RATIO_U_PCT = 0.5
"""A ratio read off a label or a list: rounding, and the chance of a changed final drive. Our allowance."""
TURN_READING = 0.05
"""How far out a chalk mark is read at the end of the count, in turns of the shaft. Common practice."""


def counted_ratio_uncertainty_pct(ratio: float, wheel_turns: int) -> float:
    """Relative standard uncertainty [%] of a ratio counted by turning: 100·(0.05/√3)/(ratio·wheel turns).

    References: JCGM 100:2008, 4.3.7; reading of the mark: common practice.

    >>> round(counted_ratio_uncertainty_pct(3.73, 10), 3)
    0.077
    """
    return 100 * rectangular(TURN_READING) / (ratio * wheel_turns)


def _ratio(drive: Drive) -> tuple[float, float, Evidence, str, tuple[WhyStep, ...]]:
    if drive.kind == "axle_ratio":
        assert isinstance(drive.axle_ratio, AxleRatio)  # the model refuses a kind without entries
        entry = drive.axle_ratio
        if entry.basis == "counted":
            u_pct = counted_ratio_uncertainty_pct(entry.ratio, entry.wheel_turns)
            grounds = f"counted over {entry.wheel_turns} turns of the wheel"
            evidence: Evidence = "measured"
        else:
            u_pct, grounds, evidence = LABEL_RATIO_U_PCT, "read off a label or list", "assumed"
        step = WhyStep(
            "r = shaft turns/wheel turns",
            f"r = {entry.ratio:g}",
            f"{grounds}; both wheels turn together, or one is held and the count halved",
        )
        return entry.ratio, u_pct, evidence, grounds, (step,)
    if drive.kind == "sprockets":
        assert drive.sprockets is not None  # the model refuses a kind without entries
        wheel, shaft = drive.sprockets.wheel_teeth, drive.sprockets.shaft_teeth
        ratio = wheel / shaft
        step = WhyStep("r = wheel teeth/shaft teeth", f"r = {wheel} / {shaft} = {ratio:.4f}", "whole teeth: exact")
        return ratio, 0.0, "measured", f"{wheel} and {shaft} teeth counted", (step,)
    step = WhyStep("r = 1", "r = 1", "hub, brake disc or rim: the target turns with the wheel")
    return 1.0, 0.0, "measured", "turns with the wheel", (step,)


def evaluate_drive(drive: Drive, purpose: str, findings: list[Finding]) -> Link:
    """The drive link; a choice that works against the purpose goes to `findings`.

    >>> evaluate_drive(Drive(kind="sprockets", sprockets={"wheel_teeth": 45, "shaft_teeth": 15}), "true_speed", []).value
    3.0
    """
    ratio, u_pct, evidence, grounds, why = _ratio(drive)
    if drive.driven and purpose == "true_speed":
        findings.append(
            Finding(
                "drive.driven_wheel",
                "note",
                "drive",
                "A driven wheel reads 1 to 3 % high while cruising and far more when it spins.",
                "Sense a wheel that is not driven when the true speed of the vehicle is wanted.",
            )
        )
    evidence = raised(evidence, drive.proof is not None)
    figure = Figure("turns of the target per turn of the wheel", ratio, "", evidence, u_pct)
    return Link("drive", (figure,), evidence, grounds, u_pct, why)
