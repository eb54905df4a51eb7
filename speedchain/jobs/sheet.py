"""A job sheet drawn up from an installation: only the steps that apply, in order, with its numbers and cautions."""

from __future__ import annotations

from speedchain.advice import caution_at
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import InputError, Words, text_of
from speedchain.jobs.facts import conditions_of, numbers_of
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
TORQUE_UNITS = ("N·m", "lbf·ft", "lbf·in", "kgf·m")


@result
class SheetStep:
    """A step as it stands on the sheet; `caution` is empty where none applies.

    A `safety` step is skipped only with a written reason; where it has a caution, that is acknowledged first. `stop` is
    what follows where a check is answered with no. `measure` says where a measured value belongs.
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
    steps = [
        _step(item, installation, numbers, own=template.code not in BY_CODE)
        for item in template.steps
        if _applies(item.when, item.unless, there)
    ]
    return JobSheet(template=template.code, title=template.title, needs=template.needs, steps=tuple(steps))


def _step(item: StepTemplate, installation: Installation, numbers: dict[str, Words], *, own: bool) -> SheetStep:
    used = {} if own else {name: words for name, words in numbers.items() if f"{{{name}}}" in item.text}
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
        unit=numbers["unit"] if item.measure == "setting" else UNITS[item.measure] if item.measure else "",
        seconds=item.seconds,
    )


def _applies(when: tuple[str, ...], unless: tuple[str, ...], there: frozenset[str]) -> bool:
    return there.issuperset(when) and not there.intersection(unless)
