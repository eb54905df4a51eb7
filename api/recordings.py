"""Recorded drives: a file is read, compared with the installation, and not kept."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from ninja import Router, Schema
from numpy.typing import NDArray
from pydantic import Base64Bytes, Field

from api.access import SignedIn
from api.problems import FieldProblem, ProblemOut
from api.schemas import In
from speedchain import Installation, evaluate
from speedchain.fields import InputError, said
from speedchain.runs import (
    SPEED_UNITS,
    CheckWanted,
    Column,
    Fingerprint,
    Proof,
    Recording,
    TableLayout,
    fingerprint,
    layout_of,
    prove,
    read_edges,
    read_table,
    usual_speeds,
)
from workshop.access import chart_of

router = Router()
LARGEST_FILE_BYTES = 20_000_000
MOST_DRAWN = 1200

Meaning = Literal["time", "speed", "course", "accuracy", "ignored"]
Unit = Annotated[str, Field(max_length=24)]


class ColumnIn(In):
    """What a person says a column is."""

    meaning: Meaning
    unit: Unit = ""


class RecordingIn(In):
    """A document, a file of a recorded drive (base64), what its columns are, and what is compared."""

    document: Installation
    file: Annotated[Base64Bytes, Field(max_length=4 * LARGEST_FILE_BYTES // 3)]
    columns: Annotated[tuple[ColumnIn, ...] | None, Field(max_length=200)] = None
    wanted: CheckWanted | None = None
    readout: Annotated[int, Field(ge=0, le=7)] = 0
    setting: float | None = Field(None, ge=-1e9, le=1e9)
    """What was set in the reader on the drive."""


class Drawn(Schema):
    """True and shown speed over time, as many points as a screen has."""

    time_s: list[float]
    true_kmh: list[float | None]
    shown_kmh: list[float | None]


class RecordingOut(Schema):
    """A file as it was read, and what it proves; `refused` says why it proves nothing."""

    columns: tuple[Column, ...]
    units: tuple[str, ...] = tuple(SPEED_UNITS)
    lines: int = 0
    bad_lines: int = 0
    examples: tuple[str, ...] = ()
    seconds: float = 0.0
    speeds: tuple[str, ...] = ()
    wanted: CheckWanted | None = None
    drawn: Drawn | None = None
    proof: Proof | None = None
    refused: FieldProblem | None = None


class RingIn(In):
    """A file with the times of pulses (base64), when the mark passed, and the count where it is known."""

    file: Annotated[Base64Bytes, Field(max_length=4 * LARGEST_FILE_BYTES // 3)]
    mark_s: float | None = Field(None, ge=-1e12, le=1e12)
    count: int | None = Field(None, ge=1, le=120)


@router.post("/ring", response={200: Fingerprint, 401: ProblemOut, 422: ProblemOut}, operation_id="fingerprintRing")
def ring(request: SignedIn, body: RingIn) -> Fingerprint:
    """The fingerprint of a ring from the times of its pulses. The file is not kept."""
    return fingerprint(read_edges(body.file), mark_s=body.mark_s, count=body.count)


@router.post("/check", response={200: RecordingOut, 401: ProblemOut, 422: ProblemOut}, operation_id="checkRecording")
def check(request: SignedIn, body: RecordingIn) -> RecordingOut:
    """Compare the shown with the true speed of a recorded drive. The file is not kept."""
    layout = _with_columns(layout_of(body.file), body.columns)
    try:
        recorded = read_table(body.file, layout)
    except InputError as error:
        return RecordingOut(columns=layout.columns, refused=_refused(error))
    speeds = tuple([item.name for item in recorded.channels if item.quantity == "speed"])
    wanted = (
        body.wanted if body.wanted and {body.wanted.true_channel, body.wanted.shown_channel} <= set(speeds) else None
    )
    wanted = (wanted or _usual(layout, recorded)).model_copy(
        update={"readout": body.readout, "driven_setting": body.setting}
    )
    found = RecordingOut(
        columns=layout.columns,
        lines=recorded.lines,
        bad_lines=recorded.bad_lines,
        examples=tuple([said(text) for text in recorded.examples]),
        seconds=recorded.seconds,
        speeds=speeds,
        wanted=wanted,
        drawn=_drawn(recorded, wanted),
    )
    try:
        found.proof = prove(body.document, evaluate(body.document, chart_of(request.user)), recorded, wanted)
    except InputError as error:
        found.refused = _refused(error)
    return found


def _with_columns(layout: TableLayout, columns: tuple[ColumnIn, ...] | None) -> TableLayout:
    """The layout with what a person says of its columns, where that is of this file."""
    if columns is None or len(columns) != len(layout.columns):
        return layout
    said_of = [
        Column(
            name=column.name,
            meaning=item.meaning,
            unit=item.unit if item.meaning != "speed" or item.unit in SPEED_UNITS else "km/h",
            first=column.first,
            true=column.true,
        )
        for column, item in zip(layout.columns, columns, strict=True)
    ]
    return TableLayout(
        separator=layout.separator,
        decimal=layout.decimal,
        encoding=layout.encoding,
        skipped_lines=layout.skipped_lines,
        columns=tuple(said_of),
    )


def _usual(layout: TableLayout, recorded: Recording) -> CheckWanted:
    true, shown = usual_speeds(layout, recorded)
    return CheckWanted(true_channel=true, shown_channel=shown)


def _drawn(recorded: Recording, wanted: CheckWanted) -> Drawn:
    every = max(-(-recorded.time_s.size // MOST_DRAWN), 1)

    def values(name: str) -> list[float | None]:
        channel = recorded.channel(name)
        return [] if channel is None else _plain(channel.values[::every])

    begin = recorded.time_s[0] if recorded.time_s.size else 0.0
    return Drawn(
        time_s=[round(float(at), 3) for at in recorded.time_s[::every] - begin],
        true_kmh=values(wanted.true_channel),
        shown_kmh=values(wanted.shown_channel),
    )


def _plain(values: NDArray[np.float64]) -> list[float | None]:
    return [round(float(value), 3) if np.isfinite(value) else None for value in values]


def _refused(error: InputError) -> FieldProblem:
    item = error.problems[0]
    return FieldProblem(path=item.path, message=said(item.message), remedy=said(item.remedy), limit=said(item.limit))
