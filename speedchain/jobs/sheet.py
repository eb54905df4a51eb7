"""A job sheet drawn up from an installation: only the steps that apply, in order, with its numbers and cautions."""

from __future__ import annotations

from dataclasses import replace

from speedchain.advice import caution_at
from speedchain.bench import spin_test
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import InputError, Words, text_of
from speedchain.jobs.facts import TEN_S, TEN_TURNS, conditions_of, numbers_of
from speedchain.jobs.into import ROLLED_TURNS
from speedchain.jobs.law import Law, setting_law
from speedchain.jobs.steps import Measure, StepKind, StepTemplate, Template
from speedchain.jobs.templates import BY_CODE, TEMPLATES
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
FAR_PCT = 10.0
"""A wheel is not this far from what was known of it: a turn was miscounted. Common practice."""
BY_HAND_PCT = 15.0
"""By how much ten turns by hand and watch may be off. Common practice."""
TORQUE_UNITS = ("N·m", "lbf·ft", "lbf·in", "kgf·m")


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
class SheetStep:
    """A step as it stands on the sheet; `caution` is empty where none applies.

    A `safety` step is skipped only with a written reason; where it has a caution, that is acknowledged first. `stop` is
    what follows where a check is answered with no. `measure` says where a measured value belongs.

    `law` says how the number of the step follows from steps before it: `pattern` is the text with {number} in its place.
    `expected` is what a measured value should be within, `agrees_with` the step whose value this one judges.
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


@result
class JobSheet:
    """A job: what to have at hand, and its steps in order, hazards first."""

    template: str
    title: Words
    needs: Words
    steps: tuple[SheetStep, ...]


@result
class Offer:
    """A job that can be done on an installation."""

    template: str
    title: Words


def offered(installation: Installation) -> tuple[Offer, ...]:
    """The jobs that an installation has.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> [offer.template for offer in offered(example_installation())][:3]
    ['new_installation', 'ring_swap', 'tyre_change']
    """
    there = conditions_of(installation)
    return tuple(
        [Offer(template=item.code, title=item.title) for item in TEMPLATES if _applies(item.when, item.unless, there)]
    )


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
    there = conditions_of(installation)
    if found is None or not _applies(found.when, found.unless, there):
        raise InputError(
            text_of("{0} is not a job of this installation.", template),
            remedy="Choose one of those that are offered.",
            path="template",
            value=template,
        )
    return sheet_of(found, installation, evaluation)


def sheet_of(template: Template, installation: Installation, evaluation: Evaluation) -> JobSheet:
    """The same from a template, one of the workshop's own as well."""
    there, numbers = conditions_of(installation), numbers_of(installation, evaluation)
    own = template.code not in BY_CODE
    applying = [item for item in template.steps if _applies(item.when, item.unless, there)]
    steps = []
    for place, item in enumerate(applying):
        step = _step(item, installation, numbers, own=own)
        before = tuple([(one.code, one.measure) for one in applying[:place] if one.measure in INPUTS])
        law = setting_law(installation, before) if not own and item.code in SETTING_STEPS else None
        if law is not None and law.powers:
            step = replace(step, law=law, pattern=_pattern(item, numbers))
        steps.append(replace(step, expected=_expected(item, installation, evaluation, law)))
    return JobSheet(template=template.code, title=template.title, needs=template.needs, steps=tuple(steps))


def _pattern(item: StepTemplate, numbers: dict[str, Words]) -> Words:
    """The text of a step with {number} for the setting."""
    if "{setting}" not in item.text:
        return item.text
    unit = numbers["unit"]
    setting = text_of("{0} {1}", NUMBER, unit) if unit else NUMBER
    return text_of(
        item.text,
        **{name: words for name, words in (numbers | {"setting": setting}).items() if f"{{{name}}}" in item.text},
    )


def _expected(
    item: StepTemplate, installation: Installation, evaluation: Evaluation, law: Law | None
) -> Expected | None:
    """What a measured value should be within, where the installation says."""
    match item.measure:
        case "gap":
            found = evaluation.placement_detail
            if not found.possible or found.highest_gap_mm <= found.lowest_gap_mm:
                return None
            low, high = found.lowest_gap_mm, found.highest_gap_mm
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


def _step(item: StepTemplate, installation: Installation, numbers: dict[str, Words], *, own: bool) -> SheetStep:
    used = {} if own else {name: words for name, words in numbers.items() if f"{{{name}}}" in item.text}
    unit = numbers["unit"] if item.measure == "setting" else UNITS[item.measure] if item.measure else ""
    return SheetStep(
        code=item.code,
        kind=item.kind,
        part=item.part,
        text=text_of(item.text, **used) if used else item.text,
        caution=caution_at(installation, item.task),
        safety=item.safety,
        stop=item.stop,
        second=item.second,
        measure=item.measure,
        unit="kn" if unit == "km/h" and installation.vehicle_kind == "boat" else unit,
        seconds=item.seconds,
        agrees_with=SPIN_STEP if item.code == SPIN_AGREES else "",
    )


def refreshed(plan: JobSheet, now: JobSheet, settled: frozenset[str]) -> JobSheet:
    """A sheet with texts, laws and ranges as they follow from the installation now; what was done keeps its text, and what
    was measured of wheel, count, ratio or gap is judged by what was known before."""
    today = {step.code: step for step in now.steps}
    steps = []
    for step in plan.steps:
        new = today.get(step.code)
        if new is None or (step.code in settled and step.measure in (*INPUTS, "gap")):
            steps.append(step)
        elif step.code in settled:
            steps.append(replace(step, law=new.law, expected=new.expected))
        else:
            steps.append(replace(step, text=new.text, pattern=new.pattern, law=new.law, expected=new.expected))
    return replace(plan, steps=tuple(steps))


def _applies(when: tuple[str, ...], unless: tuple[str, ...], there: frozenset[str]) -> bool:
    return there.issuperset(when) and not there.intersection(unless)
