"""What was done on a sheet, as evidence in the document."""

from __future__ import annotations

from datetime import date as Date

from speedchain.bench import record_test
from speedchain.document import FASTENERS, Installation, Torque
from speedchain.evaluation import Evaluation
from speedchain.fields import TestRecord
from speedchain.jobs.into import INTO, put_into, put_torque
from speedchain.jobs.record import Entry
from speedchain.jobs.sheet import SheetStep

SPIN = "spin_agrees"


def belongs(step: SheetStep, entry: Entry, installation: Installation) -> bool:
    """Whether an entry changes the document."""
    if entry.what != "done":
        return False
    if step.measure == "shaft_turns" and installation.drive.kind != "axle_ratio":
        return False  # a transfer box or a chain has more than one ratio in it
    if step.kind == "torque":
        return step.code in FASTENERS
    return step.code == SPIN or (step.kind == "measure" and step.measure in INTO)


def with_measured(
    installation: Installation,
    evaluation: Evaluation,
    step: SheetStep,
    entry: Entry,
    *,
    on: Date,
    outside: bool = False,
) -> Installation:
    """The installation with what was measured, a torque from the manual, or the outcome of its spin test; a reading
    that is `outside` of what is expected has not agreed, whatever was ticked.

    Raises
    ------
    `DocumentError` for a value that the document cannot hold; its problem names field, limit and remedy.

    Examples
    --------
    >>> from datetime import datetime
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> from speedchain.jobs.sheet import draw_up
    >>> known = example_installation()
    >>> sheet = draw_up(known, evaluate(known), "tyre_change")
    >>> step = next(item for item in sheet.steps if item.measure == "roll_out")
    >>> entry = Entry(key="k-1-rolled", step=step.code, what="done", value="5.79 m", by="mechanic",
    ...     at=datetime(2026, 5, 2))
    >>> after = with_measured(known, evaluate(known), step, entry, on=Date(2026, 5, 2))
    >>> after.wheel.method, after.wheel.roll_out.distance_mm, after.wheel.measured.by
    ('roll_out', 5790.0, 'mechanic')
    """
    if step.code == SPIN:
        record = TestRecord(
            test="spin", on=on, by=entry.by, outcome="agreed" if entry.answer and not outside else "differed"
        )
        return record_test(installation, evaluation, record)
    if step.kind == "torque":
        said = {"fastener": step.code, "torque": entry.value.replace(",", "."), "unit": entry.unit, "tool": entry.tool}
        known = installation.torque_of(step.code)
        torque = Torque.model_validate(said | {"by": entry.by, "on": on})
        same = known is not None and (known.torque, known.unit, known.tool) == (torque.torque, torque.unit, torque.tool)
        return installation if same else put_torque(installation, torque)
    assert step.measure is not None
    return put_into(installation, step.measure, entry.value, by=entry.by, on=on)
