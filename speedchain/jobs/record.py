"""What was done on a sheet: entries one after the other, what they come to, and what stands in the way of signing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date as Date
from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import Field

from speedchain.document import MOST_TORQUE, TORQUE_UNITS
from speedchain.fields import (
    Count,
    Distance,
    Gap,
    InputError,
    Moment,
    Part,
    Plain,
    Pressure,
    Problem,
    QuantityKind,
    ShortText,
    ShownSpeed,
    StageName,
    TestRecord,
    Words,
    as_data,
    from_data,
    joined,
    parse_quantity,
    quantity_of,
    stated,
    text_of,
)
from speedchain.jobs.sheet import NUMBER, JobSheet, SheetStep
from speedchain.jobs.steps import Measure
from speedchain.results import result

What = Literal["done", "skipped", "undone", "checked"]
StepState = Literal["open", "done", "skipped", "stopped"]
LEAST_REASON = 3
TOUCH = 1e-9
MOST_NOTE = 120
KINDS: Mapping[Measure, QuantityKind] = {
    "roll_out": quantity_of(Distance),
    "count": quantity_of(Count),
    "gap": quantity_of(Gap),
    "pressure": quantity_of(Pressure),
    "shown_speed": quantity_of(ShownSpeed),
    "true_speed": quantity_of(ShownSpeed),
}


class Entry(Part):
    """One thing that a person did: a step done, skipped or taken back, or what another did, checked.

    `key` is made by the device and new for every entry: sent twice, it counts once. `at` is the device's clock, shown
    and never used for the order: entries count in the order in which they come.
    """

    key: Annotated[str, Field(pattern="^[A-Za-z0-9-]{8,64}$")]
    step: Annotated[str, Field(min_length=1, max_length=40)]
    what: What
    answer: bool | None = None
    value: Annotated[str, Field(max_length=40)] = ""
    unit: Annotated[str, Field(max_length=12)] = ""
    tool: ShortText = ""
    reason: Annotated[str, Field(max_length=400), Plain] = ""
    acknowledged: bool = False
    by: ShortText = stated("", title="Done by (role)")
    at: Moment


@result
class Rival:
    """One of several outcomes of a step that were entered side by side."""

    value: Words
    unit: str
    by: str


@result
class StepRecord:
    """What a step has come to, by whom, and who checked it."""

    code: str
    state: StepState
    value: Words
    unit: str
    reason: str
    by: str
    checked_by: str
    at: datetime | None
    rivals: tuple[Rival, ...]
    number: float | None = None
    """A measured value in the unit of the step, where it is a number."""
    tool: str = ""
    red: Words = ""
    """Why it is not as expected, with what to do; empty where it is, or where nothing is expected."""


def check_entry(sheet: JobSheet, entry: Entry) -> SheetStep:
    """The step of an entry.

    Raises
    ------
    `InputError` for a step that the sheet does not have, an answer, value, unit, acknowledgement or reason that is
    missing.
    """
    step = next((item for item in sheet.steps if item.code == entry.step), None)
    if step is None:
        raise InputError(
            text_of("The sheet has no step {0}.", entry.step),
            remedy="Open the sheet again.",
            path="step",
            value=entry.step,
        )
    if not entry.by.strip():
        raise InputError("Role is missing.", remedy="Enter a role.", path="by")
    if entry.what == "skipped" and step.safety and len(entry.reason.strip()) < LEAST_REASON:
        raise InputError(
            "This step protects people: it is skipped only with a reason.",
            remedy="Enter the reason.",
            limit=text_of("at least {0} letters", LEAST_REASON),
            path="reason",
        )
    if entry.what == "done":
        _check_done(step, entry)
    return step


def _check_done(step: SheetStep, entry: Entry) -> None:
    if step.safety and step.caution and not entry.acknowledged:
        raise InputError("The caution is not acknowledged.", remedy="Read it and confirm it.", path="acknowledged")
    if step.kind == "decide" and entry.answer is None:
        raise InputError("The check is not answered.", remedy="Answer yes or no.", path="answer")
    if step.kind in ("measure", "torque") and not entry.value.strip():
        raise InputError("The value is missing.", remedy="Enter it.", path="value")
    if step.kind == "torque":
        if entry.unit not in TORQUE_UNITS:
            raise InputError(
                text_of("{0} is not a unit of torque.", entry.unit or "Nothing"),
                remedy=text_of("Use one of {0}.", ", ".join(TORQUE_UNITS)),
                path="unit",
                value=entry.unit,
            )
        try:
            value = float(entry.value.replace(",", "."))
        except ValueError:
            value = 0.0
        if not 0 < value <= MOST_TORQUE:
            raise InputError(
                text_of("{0} is not a valid torque.", entry.value),
                remedy="Enter the number from the vehicle's manual.",
                limit=text_of("more than 0, at most {0:g}", MOST_TORQUE),
                path="value",
                value=entry.value,
            )


def records_of(sheet: JobSheet, entries: Sequence[Entry]) -> tuple[StepRecord, ...]:
    """What each step has come to, from its entries in the order in which they came.

    The last entry that did or skipped a step counts; one that took it back opens it. A step that was done twice, with
    other outcomes and not taken back between, was done on two devices: all outcomes are its rivals until one is chosen.
    A check counts for what was done before it, and only by somebody else.

    Examples
    --------
    >>> from speedchain.jobs.sheet import SheetStep
    >>> step = SheetStep(code="a", kind="tick", part="", text="", caution="", safety=False, stop="", second=True,
    ...     measure=None, unit="", seconds=0)
    >>> sheet = JobSheet(template="t", title="", needs="", steps=(step,))
    >>> base = {"step": "a", "at": datetime(2026, 5, 2)}
    >>> done = Entry(key="k-1-done-", what="done", by="builder", **base)
    >>> same, other = (Entry(key=f"k-{by}-check", what="checked", by=by, **base) for by in ("builder", "steward"))
    >>> records_of(sheet, [done, same])[0].checked_by, records_of(sheet, [done, other])[0].checked_by
    ('', 'steward')
    """
    found = [_record(step, [item for item in entries if item.step == step.code]) for step in sheet.steps]
    values = {
        step.code: number
        for step, record in zip(sheet.steps, found, strict=True)
        if record.state == "done" and (number := number_of(step, record.value)) is not None
    }
    judged = {
        step.code: _red(step, values) for step, record in zip(sheet.steps, found, strict=True) if record.state == "done"
    }
    return tuple(
        [
            replace(
                record,
                number=values.get(step.code),
                red=_disagrees(step, record, judged) if step.agrees_with else judged.get(step.code, ""),
            )
            for step, record in zip(sheet.steps, found, strict=True)
        ]
    )


def number_of(step: SheetStep, value: str) -> float | None:
    """A measured value in the unit of its step; None where it is no number, or in a unit that is not the step's kind.

    Examples
    --------
    >>> from speedchain.jobs.sheet import SheetStep
    >>> roll = SheetStep(
    ...     code="roll", kind="measure", part="", text="", caution="", safety=False, stop="", second=False,
    ...     measure="roll_out", unit="mm", seconds=0,
    ... )
    >>> number_of(roll, "5.79 m"), number_of(roll, "5790"), number_of(roll, "far")
    (5790.0, 5790.0, None)
    """
    if step.kind != "measure" or step.measure is None:
        return None
    kind = KINDS.get(step.measure)
    try:
        if kind is not None:
            typed = value if any(letter.isalpha() for letter in value) else f"{value} {step.unit}"
            return parse_quantity(kind, typed if step.unit == "kn" else value)
        return float(value.replace(step.unit, "").strip().replace(",", "."))
    except (InputError, ValueError):
        return None


def _red(step: SheetStep, values: Mapping[str, float]) -> Words:
    """Why a measured value is not what is expected."""
    value, expected = values.get(step.code), step.expected
    if value is None or expected is None:
        return ""
    if expected.low is not None and expected.high is not None:
        if expected.low - TOUCH * abs(expected.low) <= value <= expected.high + TOUCH * abs(expected.high):
            return ""
        return text_of("Not as expected: {0}. {1}", expected.text, expected.remedy)
    wanted = step.law.number(values) if step.law is not None else None
    if step.law is None or wanted is None or abs(value - wanted) < step.law.step / 2:
        return ""
    return text_of("Not as expected: {0:g} {1}. {2}", wanted, step.unit, expected.remedy)


def _disagrees(step: SheetStep, record: StepRecord, judged: Mapping[str, Words]) -> Words:
    """A yes against what was written down says nothing."""
    return judged.get(step.agrees_with, "") if record.state == "done" and record.value == "yes" else ""


def text_now(step: SheetStep, sheet: JobSheet, values: Mapping[str, float]) -> Words:
    """A step's text with the number that follows from the steps before it, or which of them it waits for.

    Examples
    --------
    >>> from speedchain.jobs.sheet import draw_up
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> sheet = draw_up(example_installation(), evaluate(example_installation()), "tyre_change")
    >>> enter = next(step for step in sheet.steps if step.code == "enter_setting")
    >>> text_now(enter, sheet, {})
    'Enter … pulses per km into Dash. The number follows after step 11.'
    >>> text_now(enter, sheet, {"roll": 5790.0})
    'Enter 24870 pulses per km into Dash.'
    """
    if step.law is None or NUMBER not in step.pattern:
        return step.text
    number = step.law.number(values)
    if number is not None:
        return from_data(_filled(as_data(step.pattern), f"{number:.10g}"))
    codes = [item.code for item in sheet.steps]
    waits = max(codes.index(power.step) + 1 for power in step.law.powers if power.step not in values)
    return text_of("{0} The number follows after step {1}.", from_data(_filled(as_data(step.pattern), "…")), waits)


def on_paper(step: SheetStep, sheet: JobSheet, values: Mapping[str, float]) -> Words:
    """The same with the torque of the manual, where it is known."""
    text = text_now(step, sheet, values)
    if step.torque is None:
        return text
    known = step.torque
    number = text_of("{0}\u00a0{1}", known.value, known.unit)
    return text_of("{0} {1}.", text, joined(", ", [part for part in (number, known.tool, known.source) if part]))


def _filled(data: Any, said: str) -> Any:
    """A kept text with the number in place of its name."""
    if isinstance(data, dict):
        return {name: _filled(inner, said) for name, inner in data.items()}
    if isinstance(data, list):
        return [_filled(inner, said) for inner in data]
    return said if data == NUMBER else data


def _record(step: SheetStep, entries: list[Entry]) -> StepRecord:
    last: Entry | None = None
    checked = ""
    rivals: list[Entry] = []
    for entry in entries:
        if entry.what == "checked":
            if last is not None and last.what == "done" and _other(entry.by, last.by):
                checked = entry.by
        else:
            if entry.what != "done" or _stops(step, entry):  # a stop is in the way of signing by itself
                rivals = []
            elif (
                last is not None
                and last.what == "done"
                and not _stops(step, last)  # which is answered again once it is put right
                and _outcome(entry) not in map(_outcome, [*rivals, last])
            ):
                rivals = [*rivals, last]
            last, checked = (None if entry.what == "undone" else entry), ""
    if last is None:
        return StepRecord(
            code=step.code, state="open", value="", unit="", reason="", by="", checked_by="", at=None, rivals=()
        )
    state: StepState = "stopped" if _stops(step, last) else "done" if last.what == "done" else "skipped"
    return StepRecord(
        code=step.code,
        state=state,
        value=_value(step, last),
        unit=_unit(step, last),
        reason=last.reason,
        by=last.by,
        checked_by=checked,
        at=last.at,
        tool=last.tool,
        rivals=tuple([Rival(value=_value(step, one), unit=_unit(step, one), by=one.by) for one in (*rivals, last)])
        if rivals
        else (),
    )


def _stops(step: SheetStep, entry: Entry) -> bool:
    return entry.what == "done" and step.kind == "decide" and entry.answer is False and bool(step.stop)


def _outcome(entry: Entry) -> tuple[object, ...]:
    return entry.value.strip(), entry.unit, entry.tool, entry.answer


def _value(step: SheetStep, entry: Entry) -> str:
    return {True: "yes", False: "no", None: entry.value}[entry.answer] if step.kind == "decide" else entry.value


def _unit(step: SheetStep, entry: Entry) -> str:
    """Its own, or the step's; none where the value as typed has one."""
    with_unit = not entry.value or any(letter.isalpha() for letter in entry.value)
    return entry.unit or ("" if with_unit else step.unit)


def _other(one: str, other: str) -> bool:
    return one.strip().casefold() != other.strip().casefold()


def before_signing(sheet: JobSheet, records: Sequence[StepRecord]) -> tuple[Problem, ...]:
    """What stands in the way of signing: stops, safety steps that are open, second persons that are missing."""
    found = []
    for step, record in zip(sheet.steps, records, strict=True):
        if record.state == "stopped":
            found.append(Problem(step.code, text_of("Stopped at: {0}", step.text), step.stop))
        elif record.rivals:
            found.append(
                Problem(
                    step.code,
                    text_of("Several outcomes were entered for: {0}", step.text),
                    "Choose the one that is right, or repeat the step.",
                )
            )
        elif record.red and not record.reason.strip():
            found.append(
                Problem(
                    step.code,
                    text_of("{0} {1}", step.text, record.red),
                    "Measure again, or keep the value with a written reason. It then verifies nothing.",
                )
            )
        elif record.state == "open" and step.safety:
            found.append(
                Problem(step.code, text_of("Not done: {0}", step.text), "Do it, or skip it with a written reason.")
            )
        elif record.state == "done" and step.second and not record.checked_by:
            found.append(
                Problem(
                    step.code, text_of("Not checked: {0}", step.text), "A second person checks it and enters a role."
                )
            )
    return tuple(found)


def said_of(step: SheetStep, record: StepRecord) -> Words:
    """A step's outcome in a few words."""
    match record.state:
        case "open":
            return ""
        case "skipped":
            if not record.reason:
                return text_of("skipped by {0}", record.by)
            return text_of("skipped by {0}: {1}", record.by, record.reason)
        case "done" | "stopped":
            measured = text_of("{0} {1}", record.value, record.unit) if record.unit else record.value
            checked = text_of("checked by {0}", record.checked_by) if record.checked_by else ""
            done = joined(", ", [part for part in (record.value and measured, record.tool, record.by, checked) if part])
            if not record.red:
                return done
            return joined(". ", [done, text_of("{0}: {1}", record.red, record.reason) if record.reason else record.red])


STAGE_OF: Mapping[Measure, StageName] = {
    "roll_out": "wheel", "count": "target", "shaft_turns": "drive", "gap": "sensor", "setting": "readout",
}  # fmt: skip
"""The stage that a measured value is of."""


def outcomes_of(sheet: JobSheet, records: Sequence[StepRecord], *, by: str, on: Date) -> tuple[TestRecord, ...]:
    """What signing a sheet says of the stages: failed where a value is not as expected, as expected where all are."""
    reds: dict[StageName, list[str]] = {}
    for step, record in zip(sheet.steps, records, strict=True):
        stage = STAGE_OF.get(step.measure) if step.measure is not None else None
        if stage is not None and step.expected is not None and record.state == "done":
            measured = f"{record.value} {record.unit}".strip()
            reds.setdefault(stage, []).extend([f"{measured}. {record.red}"] if record.red else [])
    return tuple(
        [
            TestRecord(
                test="sheet",
                stage=stage,
                on=on,
                by=by,
                outcome="differed" if said else "agreed",
                note="; ".join(said)[:MOST_NOTE],
            )
            for stage, said in reds.items()
        ]
    )
