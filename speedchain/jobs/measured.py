"""A value measured on a sheet, as evidence in the document."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date as Date
from typing import Any

from speedchain.bench import record_test
from speedchain.document import Installation, read_installation
from speedchain.evaluation import Evaluation
from speedchain.fields import TestRecord
from speedchain.jobs.record import Entry
from speedchain.jobs.sheet import SheetStep
from speedchain.jobs.steps import Measure

ROLLED_TURNS = 3
Document = dict[str, Any]


def _roll_out(document: Document, value: str, entry: Entry, on: Date) -> None:
    wheel = document["wheel"]
    wheel["roll_out"] = {"turns": ROLLED_TURNS, "distance_mm": value}
    wheel["method"] = "roll_out"
    wheel["verification"] = None
    wheel["measured"] |= {"by": entry.by, "on": on.isoformat()}


def _pressure(document: Document, value: str, entry: Entry, on: Date) -> None:
    document["wheel"]["measured"] |= {"pressure_bar": value}


def _tread(document: Document, value: str, entry: Entry, on: Date) -> None:
    document["wheel"]["corrections"] |= {"tread_now_mm": value}


def _count(document: Document, value: str, entry: Entry, on: Date) -> None:
    document["target"] |= {"count": value, "basis": "counted"}


def _gap(document: Document, value: str, entry: Entry, on: Date) -> None:
    if document["placement"] is None:
        document["placement"] = {}
    document["placement"] |= {"air_gap_mm": value, "air_gap_basis": "measured"}


def _setting(document: Document, value: str, entry: Entry, on: Date) -> None:
    document["readouts"][0]["current_setting"] = value


INTO: dict[Measure, Callable[[Document, str, Entry, Date], None]] = {
    "roll_out": _roll_out,
    "pressure": _pressure,
    "tread": _tread,
    "count": _count,
    "gap": _gap,
    "setting": _setting,
}
"""Measured values that the document holds; the others stay on the sheet."""
SPIN = "spin_agrees"


def belongs(step: SheetStep, entry: Entry) -> bool:
    """Whether an entry changes the document."""
    if entry.what != "done":
        return False
    return step.code == SPIN or (step.kind == "measure" and step.measure in INTO)


def with_measured(
    installation: Installation, evaluation: Evaluation, step: SheetStep, entry: Entry, *, on: Date
) -> Installation:
    """The installation with what was measured, or with the outcome of its spin test.

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
    >>> entry = Entry(key="k-1-rolled", step=step.code, what="done", value="5.79 m", by="mechanic", at=datetime(2026, 5, 2))
    >>> after = with_measured(known, evaluate(known), step, entry, on=Date(2026, 5, 2))
    >>> after.wheel.method, after.wheel.roll_out.distance_mm, after.wheel.measured.by
    ('roll_out', 5790.0, 'mechanic')
    """
    if step.code == SPIN:
        record = TestRecord(test="spin", on=on, by=entry.by, outcome="agreed" if entry.answer else "differed")
        return record_test(installation, evaluation, record)
    document: Document = installation.model_dump(mode="json")
    assert step.measure is not None
    INTO[step.measure](document, entry.value, entry, on)
    return read_installation(document)
