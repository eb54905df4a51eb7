"""A job sheet drawn up from an installation: only the steps that apply, in order, with its numbers and cautions."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import replace

from speedchain.advice import caution_at
from speedchain.bench import spin_test
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import Gap, Given, InputError, StageName, Words, joined, quantity_of, text_of
from speedchain.fitted import Fact, applies, fitted, worded
from speedchain.jobs.facts import TEN_S, TEN_TURNS, numbers_of
from speedchain.jobs.into import ROLLED_TURNS
from speedchain.jobs.law import Law, setting_law
from speedchain.jobs.own import OwnJob, own_template
from speedchain.jobs.steps import Measure, StepKind, StepTemplate, Template
from speedchain.jobs.templates import BY_CODE, TEMPLATES
from speedchain.placement import maker_window
from speedchain.results import result

UNITS: dict[Measure, str] = {
    "roll_out": "mm",
    "pressure": "bar",
    "tread": "mm",
    "count": "",
    "shaft_turns": "",
    "gap": "mm",
    "setting": "",
    "shown_speed": "km/h",
    "true_speed": "km/h",
    "resistance": "Ω",
    "supply": "V",
    "tyre_code": "",
    "odometer": "km",
}
"""The unit of a measured number that is written without one."""
INPUTS: tuple[Measure, ...] = ("roll_out", "count", "shaft_turns")
"""Measures that a setting depends on."""
SETTING_STEPS = ("enter_setting", "read_back")
SPIN_STEP, SPIN_AGREES = "spin_test", "spin_agrees"
NUMBER = "{number}"
_NAMED = re.compile(r"(\{[a-z_]+\})")
FAR_PCT = 10.0
"""A wheel is not this far from what was known of it: a turn was miscounted. Common practice."""
BY_HAND_PCT = 15.0
"""By how much ten turns by hand and watch may be off. Common practice."""


@result
class Expected:
    """What a measured value should be: within two numbers in the step's unit, in words, and what to do where it is not.

    Without numbers it is the number of the step's law.
    """

    low: float | None
    high: float | None
    text: Words
    remedy: Words


@result
class KnownTorque:
    """What the manual says, as it was entered the first time: number, unit and tool, and who entered it when."""

    value: str
    unit: str
    tool: str
    source: Words


@result
class SheetStep:
    """A step as it stands on the sheet; `caution` is empty where none applies.

    A `safety` step is skipped only with a written reason; where it has a caution, that is acknowledged first. `stop` is
    what follows where a check is answered with no. `measure` says where a measured value belongs.

    `law` says how the number of the step follows from steps before it: `pattern` is the text with {number} in its
    place.
    `torque` is what the manual says, where it was asked before. `expected` is what a measured value should be within,
    `agrees_with` the step whose value this one judges.
    """

    code: str
    kind: StepKind
    part: Words
    text: Words
    caution: Words
    safety: bool
    stop: Words
    second: bool
    measure: Measure | None
    unit: str
    seconds: int
    pattern: Words = ""
    law: Law | None = None
    expected: Expected | None = None
    agrees_with: str = ""
    torque: KnownTorque | None = None


@result
class JobSheet:
    """A job: what to have at hand, and its steps in order, hazards first; `own` as the workshop wrote it, if it did."""

    template: str
    title: Words
    needs: Words
    steps: tuple[SheetStep, ...]
    own: OwnJob | None = None

    @property
    def built_in(self) -> str:
        """The built-in job that it is, or was made from; empty for one that is all the workshop's own."""
        return self.own.like if self.own else self.template


@result
class Offer:
    """A job that can be done on an installation: at which stage, and whether it is what the installation waits for."""

    template: str
    title: Words
    stage: StageName | None = None
    fits: bool = False


def offered(installation: Installation, evaluation: Evaluation, own: Iterable[Template] = ()) -> tuple[Offer, ...]:
    """The jobs that an installation has, those that it waits for first, the workshop's `own` behind those that ship.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> example = example_installation()
    >>> [(offer.template, offer.fits) for offer in offered(example, evaluate(example))][:2]
    [('new_installation', True), ('ring_swap', False)]
    """
    there, waiting = fitted(installation), _waits_for(installation, evaluation)
    found = [
        Offer(template=item.code, title=item.title, stage=item.stage, fits=(item.like or item.code) in waiting)
        for item in (*TEMPLATES, *own)
        if applies(item.when, item.unless, there)
    ]
    return tuple(sorted(found, key=lambda offer: not offer.fits))


def _waits_for(installation: Installation, evaluation: Evaluation) -> frozenset[str]:
    """The jobs that bring an installation on: fitting while nothing is known of it, learning what a change has voided,
    proof."""
    waiting = set()
    tested = installation.test_records or installation.observations
    if not tested and all(item.current_setting is None for item in evaluation.readouts):
        waiting |= {"new_installation", "paddle_through_hull", "paddle_on_hull"}
    if any(item.entry == "learned" and item.evidence == "assumed" for item in evaluation.readouts):
        waiting.add("learning_ride")
    if evaluation.next_action.code == "prove":
        waiting |= {"road_check", "water_check"}
    return frozenset(waiting)


def draw_up(installation: Installation, evaluation: Evaluation, template: str) -> JobSheet:
    """A sheet for a job on an installation.

    Raises
    ------
    `InputError` for a job that is not known, or not one of this installation.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> sheet = draw_up(example_installation(), evaluate(example_installation()), "tyre_change")
    >>> sheet.steps[0].kind, sheet.steps[2].safety
    ('measure', True)
    """
    found = BY_CODE.get(template)
    there = fitted(installation)
    if found is None or not applies(found.when, found.unless, there):
        raise InputError(
            text_of("{0} is not a job of this installation.", template),
            remedy="Choose one of those that are offered.",
            path="template",
            value=template,
        )
    return sheet_of(found, installation, evaluation)


def draw_up_own(number: int, job: OwnJob, installation: Installation, evaluation: Evaluation) -> JobSheet:
    """The same for a job of the workshop's own. Raises `InputError` where none of its steps applies."""
    sheet = sheet_of(own_template(number, job), installation, evaluation)
    if not sheet.steps:
        raise InputError("No step of this job applies here.", remedy="Choose another job.", path="template")
    return replace(sheet, own=job)


def sheet_of(template: Template, installation: Installation, evaluation: Evaluation) -> JobSheet:
    """The same from a template, one of the workshop's own as well."""
    there, numbers = fitted(installation), numbers_of(installation, evaluation)
    applying = [item for item in template.steps if applies(item.when, item.unless, there)]
    steps = []
    for place, item in enumerate(applying):
        step = replace(_step(item, there, numbers), torque=_torque(item, installation))
        before = tuple([(one.code, one.measure) for one in applying[:place] if one.measure in INPUTS])
        law = setting_law(installation, before) if item.code in SETTING_STEPS else None
        if law is not None and law.powers:
            step = replace(step, law=law, pattern=_pattern(item, numbers))
        steps.append(replace(step, expected=_expected(item, installation, evaluation, law)))
    return JobSheet(template=template.code, title=template.title, needs=template.needs, steps=tuple(steps))


def _torque(item: StepTemplate, installation: Installation) -> KnownTorque | None:
    known = installation.torque_of(item.code) if item.kind == "torque" else None
    if known is None:
        return None
    entered = joined(", ", [part for part in (known.by, known.on.isoformat() if known.on else "") if part])
    source = text_of("from the manual, entered by {0}", entered) if entered else "from the manual"
    return KnownTorque(value=f"{known.torque:g}", unit=known.unit, tool=known.tool, source=source)


def _pattern(item: StepTemplate, numbers: dict[str, Words]) -> Words:
    """The text of a step with {number} for the setting."""
    if "{setting}" not in item.text:
        return item.text
    unit = numbers["unit"]
    setting = text_of("{0} {1}", NUMBER, unit) if unit else NUMBER
    return _filled(item.text, numbers | {"setting": setting})


def _filled(text: Words, numbers: dict[str, Words]) -> Words:
    """A text with the numbers that it names; other braces, in what a person wrote, are what they are."""
    parts = _NAMED.split(text)  # every second one is a name in braces
    named = [place % 2 == 1 and part[1:-1] in numbers for place, part in enumerate(parts)]
    if not any(named):
        return text
    if isinstance(text, Given):  # of the workshop's own job: only the numbers are ours
        return joined("", [numbers[p[1:-1]] if name else Given(p) for p, name in zip(parts, named, strict=True)])
    kept = [
        part if name else part.replace("{", "{{").replace("}", "}}") for part, name in zip(parts, named, strict=True)
    ]
    return worded("".join(kept), numbers)


def _expected(
    item: StepTemplate, installation: Installation, evaluation: Evaluation, law: Law | None
) -> Expected | None:
    """What a measured value should be within, where the installation says."""
    match item.measure:
        case "gap":
            found = evaluation.placement_detail
            window = maker_window(installation.sensor, installation.target)
            if found.possible and found.highest_gap_mm > found.lowest_gap_mm:
                low, high = found.lowest_gap_mm, found.highest_gap_mm
            elif window is not None and window.highest_mm < quantity_of(Gap).maximum:
                low, high = window.lowest_mm, window.highest_mm
            else:
                return None
            text = text_of("{0:.2f} to {1:.2f} mm", low, high)
            return Expected(low=low, high=high, text=text, remedy="Shim or move the sensor, then measure again.")
        case "roll_out":
            usual = ROLLED_TURNS * evaluation.stages[0].value
            low, high = usual * (1 - FAR_PCT / 100), usual * (1 + FAR_PCT / 100)
            text = text_of("{0:.0f} to {1:.0f} mm for {2} turns", low, high, ROLLED_TURNS)
            return Expected(low=low, high=high, text=text, remedy="Count the turns and read the tape again.")
        case "setting" if item.code in SETTING_STEPS:
            if evaluation.readouts[0].entry != "typed" or evaluation.readouts[0].table:
                return None
            to_type = evaluation.readouts[0].to_type
            half = evaluation.readouts[0].step / 2
            fixed = law is None or not law.powers
            return Expected(
                low=to_type.value - half if fixed else None,
                high=to_type.value + half if fixed else None,
                text=text_of("{0} {1}", to_type.text, evaluation.readouts[0].unit) if fixed else "",
                remedy="Enter the setting again, then read it back.",
            )
        case "shown_speed" if item.code == SPIN_STEP:
            first = next(iter(spin_test(installation, evaluation, TEN_TURNS, TEN_S).predictions), None)
            if first is None or first.shown_kmh <= 0:
                return None
            near = first.shown_kmh * BY_HAND_PCT / 100 + installation.readouts[0].display_step_kmh
            low, high = max(first.shown_kmh - near, 0.0), first.shown_kmh + near
            text = text_of("{0:.1f} to {1:.1f} km/h", low, high)
            return Expected(
                low=low, high=high, text=text, remedy="Turn it again by the watch; then look for the fault."
            )
        case _:
            return None


def _step(item: StepTemplate, there: frozenset[Fact], numbers: dict[str, Words]) -> SheetStep:
    unit = numbers["unit"] if item.measure == "setting" else UNITS[item.measure] if item.measure else ""
    return SheetStep(
        code=item.code,
        kind=item.kind,
        part=item.part,
        text=_filled(item.text, numbers),
        caution=caution_at(there, item.task),
        safety=item.safety,
        stop=_filled(item.stop, numbers),
        second=item.second,
        measure=item.measure,
        unit="kn" if unit == "km/h" and "afloat" in there else unit,
        seconds=item.seconds,
        agrees_with=SPIN_STEP if item.code == SPIN_AGREES else "",
    )


def refreshed(plan: JobSheet, now: JobSheet, settled: frozenset[str]) -> JobSheet:
    """A sheet with texts, laws and ranges as they follow from the installation now; what was done keeps its text, and
    what was measured of wheel, count, ratio or gap is judged by what was known before."""
    today = {step.code: step for step in now.steps}
    steps = []
    for step in plan.steps:
        new = today.get(step.code)
        if new is None or (step.code in settled and step.measure in (*INPUTS, "gap")):
            steps.append(step)
        elif step.code in settled:
            steps.append(replace(step, law=new.law, expected=new.expected))
        else:
            steps.append(
                replace(step, text=new.text, pattern=new.pattern, law=new.law, expected=new.expected, torque=new.torque)
            )
    return replace(plan, steps=tuple(steps))
