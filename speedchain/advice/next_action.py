"""What to do next: correct what blocks, then measure what shrinks the uncertainty most, then prove."""

from __future__ import annotations

from collections.abc import Sequence

from speedchain.advice.cautions import caution_at
from speedchain.advice.procedures import RATIO_TURNS, ROLL_OUT_TURNS, guide_for
from speedchain.document import Installation
from speedchain.drive import counted_ratio_uncertainty_pct
from speedchain.fields import StageName, Words, joined, recased, text_of
from speedchain.fitted import Fact, fitted, words_for
from speedchain.readout import ReadoutResult
from speedchain.results import result
from speedchain.stages import Finding, Stage, budget_of
from speedchain.uncertainty import UncertaintyInput, expanded_pct
from speedchain.wheel import roll_out_uncertainty_pct

WATER_RUN_U_PCT = 0.5
WORTH_IT = 0.9
"""A measurement is advised when it brings the combined uncertainty below nine tenths of what it is."""


SETTLE_FIRST = {
    "wheel.methods_disagree": "Two methods for the wheel disagree; one of them is wrong.",
    "wheel.observed_otherwise": "What was observed and what was entered disagree; one of them is wrong.",
    "wheel.runs_scatter": "The roll-out runs disagree.",
    "drive.driven_gear": "Another driven gear reduces the error of the gauge.",
}
"""What has to be settled before a number is typed in: the figures rest on it."""


@result
class NextAction:
    """The next best action: where, what, what it brings [± %, k = 2], how, and what to mind."""

    stage: StageName | None
    code: str
    action: Words
    brings: Words
    before_pct: float
    after_pct: float
    steps: tuple[Words, ...]
    caution: Words


@result
class _Measure:
    stage: StageName
    code: str
    action: Words
    after_u_pct: float
    guide: str


_READ_BACK_STEPS = (
    "Enter the setting in the display.",
    "Leave the menu, open it again and read the setting.",
    "Enter the value under Readout.",
)
_ROAD_STEPS = (
    "On closed ground, or with an observer reading for you, drive straight and level at a steady speed.",
    "Compare the display with a satellite speed or a measured distance, in both directions.",
    "If they agree within the ± shown here, record the test on the stages that it verifies.",
)
_LEARNING_STEPS = (
    "Read in the reader's manual which speed it wants, for how long, and how long the key is off afterwards.",
    "On straight, level, closed ground hold that speed for that time.",
    "Stop, switch off, wait; switch on and compare the display with a true speed.",
    "Record the ride and its outcome under Readout.",
)
_MACHINE_STEPS = (
    "Mark belt, rail or wheel, and measure a length along its way.",
    "Let whoever runs the machine bring it to a steady speed; time the mark over the length from a safe place.",
    "If display and length over time agree within the ± shown here, record the test on the stages that it verifies.",
)
_WATER_TEST_STEPS = (
    "With an observer reading for you, run straight at a steady speed, clear of other traffic and of your own wash.",
    "Compare the display with a satellite speed on reciprocal headings and average the two speeds, so that current "
    "cancels.",
    "If they agree within the ± shown here, record the test on the stages that it verifies.",
)


def _measures(installation: Installation, there: frozenset[Fact], stages: tuple[Stage, ...]) -> list[_Measure]:
    wheel, drive, target = stages[0], stages[1], stages[2]
    found: list[_Measure] = []
    if installation.vehicle_kind == "boat":
        if wheel.evidence == "assumed":
            action = "Run a known distance in both directions"
            found.append(
                _Measure(
                    stage="wheel",
                    code="wheel.water_run",
                    action=action,
                    after_u_pct=WATER_RUN_U_PCT,
                    guide="paddle",
                )
            )
    elif installation.wheel.method not in ("roll_out", "combined") and "rolls" in there:
        after = roll_out_uncertainty_pct(wheel.value, ROLL_OUT_TURNS)
        action = text_of("Roll the wheel {0} turns", _in_words(ROLL_OUT_TURNS))
        found.append(_Measure(stage="wheel", code="wheel.roll_out", action=action, after_u_pct=after, guide="roll_out"))
    if drive.evidence == "assumed" and installation.drive.kind == "axle_ratio":
        after = counted_ratio_uncertainty_pct(drive.value, RATIO_TURNS)
        found.append(
            _Measure(
                stage="drive",
                code="drive.count",
                action="Count the ratio by turning",
                after_u_pct=after,
                guide="ratio",
            )
        )
    if target.evidence == "assumed":
        action = text_of("Count the {0} twice", words_for(installation)["ones"])
        found.append(_Measure(stage="target", code="target.count", action=action, after_u_pct=0.0, guide="count"))
    return found


def _after_pct(stages: tuple[Stage, ...], measure: _Measure) -> float:
    """± of the shown speed once this has been measured [%]."""
    rest = budget_of(tuple([stage for stage in stages if stage.stage != measure.stage]))
    return expanded_pct((*rest, UncertaintyInput(source=measure.code, u_pct=measure.after_u_pct)))


def _in_words(number: int) -> str:
    return {1: text_of("one"), 2: text_of("two"), 3: text_of("three"), 4: text_of("four"), 5: text_of("five")}.get(
        number, str(number)
    )


def next_action(
    installation: Installation,
    *,
    there: frozenset[Fact],
    stages: tuple[Stage, ...],
    readouts: tuple[ReadoutResult, ...],
    now_pct: float,
    findings: Sequence[Finding],
    observed: bool = False,
) -> NextAction:
    """The next best action for an installation.

    A blocking finding comes first; then the measurement with the greatest drop of ±, unless the chain was `observed` as
    a whole; then what has to be settled; then reading back the number; then a test; then nothing.
    """
    if findings and findings[0].severity == "blocking":
        first = findings[0]
        return NextAction(
            stage=first.stage,
            code=first.code,
            action=first.remedy,
            brings=first.message,
            before_pct=now_pct,
            after_pct=now_pct,
            steps=(),
            caution="",
        )
    measures = [] if observed else _measures(installation, there, stages)
    if measures:
        after_pct, best = min([(_after_pct(stages, m), m) for m in measures], key=lambda pair: pair[0])
        if after_pct < WORTH_IT * now_pct or best.stage != "wheel":
            return _from_measure(installation, best, now_pct, after_pct)
    if (quarrel := next((found for found in findings if found.code in SETTLE_FIRST), None)) is not None:
        action = text_of("Resolve: {0}", recased(quarrel.remedy, upper=False))
        return NextAction(
            stage=quarrel.stage,
            code=quarrel.code,
            action=action,
            brings=SETTLE_FIRST[quarrel.code],
            before_pct=now_pct,
            after_pct=now_pct,
            steps=(),
            caution="",
        )
    if (ride := next((readout for readout in readouts if _to_learn(readout)), None)) is not None:
        return NextAction(
            stage="readout",
            code="readout.learning_ride",
            action=text_of("{0}: {1}", ride.name, recased(ride.action, upper=False)),
            brings="The reader then counts with what it has learned.",
            before_pct=now_pct,
            after_pct=now_pct,
            steps=_LEARNING_STEPS,
            caution=caution_at(there, "drive_test"),
        )
    if any(_to_enter(readout) for readout in readouts):
        first_open = next(readout for readout in readouts if _to_enter(readout))
        action = text_of(
            "Enter {0}\u00a0{1} into {2} and read it back", first_open.to_type.text, first_open.unit, first_open.name
        )
        return NextAction(
            stage="readout",
            code="readout.read_back",
            action=action,
            brings="The shown speed is then based on the current setting.",
            before_pct=now_pct,
            after_pct=now_pct,
            steps=_READ_BACK_STEPS,
            caution="",
        )
    open_stages = [stage.stage for stage in stages if stage.evidence != "verified"]
    if open_stages:
        on_water, machine = "afloat" in there, "machine" in there
        action = (
            "Verify on the water, both directions"
            if on_water
            else "Verify against a mark timed over a measured length"
            if machine
            else "Verify on the road, both directions"
        )
        names = ["paddle" if on_water and name == "wheel" else name for name in open_stages]
        brings = text_of("Not yet verified: {0}.", joined(", ", names))
        return NextAction(
            stage=open_stages[0],
            code="prove",
            action=action,
            brings=brings,
            before_pct=now_pct,
            after_pct=now_pct,
            steps=_WATER_TEST_STEPS if on_water else _MACHINE_STEPS if machine else _ROAD_STEPS,
            caution=caution_at(there, "water_test" if on_water else "spin" if machine else "drive_test"),
        )
    return NextAction(
        stage=None,
        code="done",
        action="Nothing more to measure",
        brings="Repeat after every tyre, ring or gearing change.",
        before_pct=now_pct,
        after_pct=now_pct,
        steps=(),
        caution="",
    )


def _to_learn(readout: ReadoutResult) -> bool:
    return readout.entry == "learned" and readout.evidence == "assumed"


def _to_enter(readout: ReadoutResult) -> bool:
    return readout.entry == "typed" and readout.current_setting is None


def _from_measure(installation: Installation, measure: _Measure, now_pct: float, after_pct: float) -> NextAction:
    guide = guide_for(installation, measure.guide)
    brings = (
        text_of("The uncertainty of the speed falls from ± {0:.2g} % to ± {1:.2g} %.", now_pct, after_pct)
        if after_pct < now_pct
        else "The figure is then counted, not assumed."
    )
    return NextAction(
        stage=measure.stage,
        code=measure.code,
        action=measure.action,
        brings=brings,
        before_pct=now_pct,
        after_pct=after_pct,
        steps=guide.steps,
        caution=caution_at(fitted(installation), *guide.tasks),
    )
