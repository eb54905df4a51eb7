"""Turns of the wheel counted by hand: what drive and target deliver together, whatever the wheel's circumference."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

from pydantic import Field

from speedchain.drive import TURN_READING
from speedchain.fields import (
    BEFORE,
    Day,
    Dependence,
    Evidence,
    Part,
    ShortText,
    State,
    Turns,
    Whole,
    Words,
    stated,
    text_of,
)
from speedchain.knowledge.estimate import together
from speedchain.results import result
from speedchain.stages import Finding, FindingCode, Stage, WhyStep, finding
from speedchain.uncertainty import Budget, UncertaintyInput, rectangular

OF_TURNS: tuple[Dependence, ...] = ("drive", "target")
"""Another gearing or ring makes other pulses per turn; another tyre does not."""
MOST_TURN_COUNTS = 20


class TurnCount(Part):
    """Pulses counted while the wheel was turned by hand, at a lamp or a meter: one for each tooth or magnet that
    passes."""

    on: Day = stated(title="Date")
    by: ShortText = Field("", title="Done by (role)", description="A role, not a name.")
    wheel_turns: Turns
    pulses: Whole
    one_wheel_held: bool = Field(
        False, description="The other wheel of the axle was held: the shaft turned half as far as with both."
    )
    state: State = State()
    voided_by: Dependence | None = Field(None, description="The change after which it says nothing any more.")
    note: ShortText = ""

    @property
    def pulses_per_turn(self) -> float:
        """Pulses per turn of the wheel, both wheels of an axle turning.

        Examples
        --------
        >>> TurnCount(on="2026-05-02", wheel_turns=10, pulses=195, one_wheel_held=True).pulses_per_turn
        39.0
        """
        return self.pulses / self.wheel_turns * (2 if self.one_wheel_held else 1)

    @property
    def u_pct(self) -> float:
        """Relative standard uncertainty [%]: u² = (1/√3/pulses)² + (0.05/√3/turns)², a pulse and a twentieth of a turn.

        References
        ----------
        JCGM 100:2008, 4.3.7; reading of the mark: common practice.

        Examples
        --------
        >>> round(TurnCount(on="2026-05-02", wheel_turns=10, pulses=390).u_pct, 2)
        0.32
        """
        return 100 * math.hypot(rectangular(1.0) / self.pulses, rectangular(TURN_READING) / self.wheel_turns)


@result
class WeighedTurns:
    """A count of turns in the estimate: what it says, how much it counts (0 to 1), and why it does not, where it does
    not."""

    place: int
    on: str
    wheel_turns: int
    pulses: int
    pulses_per_turn: float
    expanded_pct: float
    weight: float
    stale: Words


@result
class TurnsKnown:
    """Pulses per turn of the wheel by drive, target and turns counted together, ± in percent (95.45 %).

    `agree` is False where χ² says that they do not belong together.
    """

    pulses_per_turn: float
    expanded_pct: float
    parts_pulses_per_turn: float
    agree: bool
    counts: tuple[WeighedTurns, ...]


def with_turns(
    counts: tuple[TurnCount, ...], *, drive: Stage, target: Stage, now: State, edges: int = 1
) -> tuple[Stage, Stage, TurnsKnown]:
    """Drive and target with the turns counted: the less sure of the two takes what differs, and the ± of both.

    ln(pulses per turn) = ln(ratio) + ln(pulses per turn of the target), so the mean of [parts, count 1, …] by least
    squares is the joint estimate; the circumference is no part of it. Where they disagree, the surer side stands alone.

    A lamp shows one pulse for each tooth or magnet, however many `edges` of it the reader counts.

    Examples
    --------
    >>> from speedchain.drive import Drive, evaluate_drive
    >>> from speedchain.target import Target, evaluate_target
    >>> axle = Drive(kind="axle_ratio", axle_ratio={"ratio": 3.73, "basis": "label"})
    >>> drive = evaluate_drive(axle, purpose="true_speed").stage
    >>> target = evaluate_target(Target(count=10, basis="counted")).stage
    >>> counted = TurnCount(on="2026-05-02", wheel_turns=10, pulses=373)
    >>> found = with_turns((counted,), drive=drive, target=target, now=State())[2]
    >>> round(found.pulses_per_turn, 2), found.agree
    (37.3, True)
    """
    parts = drive.value * target.value
    if not counts:
        u2 = [(stage.coverage_factor * stage.relative_standard_uncertainty_pct) ** 2 for stage in (drive, target)]
        return (
            drive,
            target,
            TurnsKnown(
                pulses_per_turn=parts,
                expanded_pct=math.sqrt(sum(u2)),
                parts_pulses_per_turn=parts,
                agree=True,
                counts=(),
            ),
        )
    why = [item.voided_by or item.state.change(now, OF_TURNS) for item in counts]
    fresh = [place for place, reason in enumerate(why) if not reason]
    budgets: tuple[Budget, ...] = (
        tuple(
            [
                UncertaintyInput(
                    source=stage.stage,
                    u_pct=stage.relative_standard_uncertainty_pct,
                    coverage_factor=stage.coverage_factor,
                )
                for stage in (drive, target)
            ]
        ),
        *[(UncertaintyInput(source=f"turns {place}", u_pct=counts[place].u_pct),) for place in fresh],
    )
    mean, weights = together((parts, *[edges * counts[place].pulses_per_turn for place in fresh]), budgets)
    agree = mean.consistent and not mean.left_out
    if weights[0] > 0 and not agree:  # parts that are surer stand alone
        mean, alone = together((parts,), budgets[:1])
        weights = (*alone, *[0.0] * len(fresh))
    weighed = dict(zip(fresh, weights[1:], strict=True))
    known = TurnsKnown(
        pulses_per_turn=mean.value,
        expanded_pct=100 * mean.expanded / mean.value,
        parts_pulses_per_turn=parts,
        agree=agree,
        counts=tuple(
            [
                WeighedTurns(
                    place=place,
                    on=item.on.isoformat(),
                    wheel_turns=item.wheel_turns,
                    pulses=item.pulses,
                    pulses_per_turn=edges * item.pulses_per_turn,
                    expanded_pct=2 * item.u_pct,
                    weight=weighed.get(place, 0.0),
                    stale=BEFORE[reason] if reason else "",
                )
                for place, (item, reason) in enumerate(zip(counts, why, strict=True))
            ]
        ),
    )
    if not any(weights[1:]):
        return drive, target, known
    turns = sum([counts[place].wheel_turns for place in fresh])
    u_pct = 100 * mean.u / mean.value
    grounds = text_of("pulses counted over {0} turns of the wheel", turns)
    unsure = max((drive, target), key=lambda stage: stage.relative_standard_uncertainty_pct)
    took = _with_factor(unsure, mean.value / parts, u_pct=u_pct, factor_k=mean.expanded / mean.u, grounds=grounds)
    other = replace(target if unsure is drive else drive, relative_standard_uncertainty_pct=0.0)
    return (took, other, known) if unsure is drive else (other, took, known)


def _with_factor(stage: Stage, factor: float, *, u_pct: float, factor_k: float, grounds: str) -> Stage:
    first, *rest = stage.figures
    evidence: Evidence = "verified" if stage.evidence == "verified" else "measured"
    figure = replace(first, value=first.value * factor, evidence=evidence, relative_standard_uncertainty_pct=u_pct)
    step = WhyStep(
        formula="pulses per turn = (1ᵀV⁻¹x)/(1ᵀV⁻¹1)",
        with_numbers=text_of("{0:.5g} as entered × {1:.5f}", first.value, factor),
        source=grounds,
    )
    return replace(
        stage,
        figures=(figure, *rest),
        evidence=evidence,
        grounds=grounds,
        relative_standard_uncertainty_pct=u_pct,
        coverage_factor=factor_k,
        why=(*stage.why, step),
    )


def turn_rules(known: TurnsKnown) -> Iterator[Finding]:
    """A finding where turns counted by hand and the parts disagree."""
    if known.agree:
        return
    fresh = [item for item in known.counts if not item.stale]
    counted = max(fresh, key=lambda item: (item.weight, -item.expanded_pct)).pulses_per_turn
    yield finding(
        FindingCode.TURNS_OTHERWISE,
        counted=counted,
        entered=known.parts_pulses_per_turn,
        difference_pct=100 * (counted / known.parts_pulses_per_turn - 1),
    )
