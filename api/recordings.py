"""Recordings of a vehicle: sent in pieces, read, drawn, and taken out again."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Any, Literal, cast

import numpy as np
from django.http import FileResponse
from ninja import Path, Query, Router, Schema
from numpy.typing import NDArray
from pydantic import Field

from api.access import SignedIn
from api.described import KEEPS, a_file
from api.problems import FieldProblem, ProblemOut
from api.schemas import In, Note
from api.work import WorkOut, problem_from
from speedchain import evaluate
from speedchain.fields import InputError, Words, from_data
from speedchain.fields.texts import Plain
from speedchain.runs import (
    LATEST_S,
    MOST_NOTED,
    TWO_SPEEDS,
    UNITS,
    AlignedBy,
    BusSignal,
    Column,
    Derived,
    DerivedKind,
    Format,
    Histogram,
    Lack,
    LaidOver,
    Noted,
    Quantity,
    ReadAs,
    Role,
    SpeedRecord,
    distance_m,
    histogram,
    lacking,
    laid_over,
    role_of,
    usual_speeds,
    wheel_speed_by,
    wheel_speeds,
)
from workshop import recordings
from workshop.access import chart_of, installation_for, recording_for, recording_read
from workshop.derived import add_derived, names_of, remove_derived
from workshop.export import A_DATE_S
from workshop.installations import head_of, readable
from workshop.marks import mark_recording, unmark_recording
from workshop.models import RecordingRecord
from workshop.samples import ChannelFacts, drawn, load, rates
from workshop.track import Track, track_of
from workshop.work import start_work

router = Router()
of_vehicle = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}
MOST_DRAWN = 1200
MOST_ALONG = 2000
State = Literal["sending", "reading", "ready", "failed"]
ChannelName = Annotated[str, Field(max_length=200)]


class RecordingIn(In):
    """A file that is going to be sent."""

    name: Annotated[str, Field(min_length=1, max_length=120), Plain]
    size_bytes: Annotated[int, Field(ge=0, le=10**12)]


class ChannelOut(Schema):
    """A channel: what it was called in the file, what it is and where it is from, and what it holds.

    `role` is what a speed is for; `guessed` that nobody said so; `gaps` the share of samples without a value.
    """

    name: str
    quantity: Quantity
    unit: str
    role: Role | None
    guessed: bool
    source: Words
    gaps: float
    samples: int
    from_s: float
    to_s: float
    least: float | None
    greatest: float | None
    derived: bool


class SpeedsOut(Schema):
    """Which speeds are compared until a person says otherwise."""

    true_channel: str
    shown_channel: str


class MarkOut(Schema):
    """A time from the recording's beginning [s], what was written there, and in which role."""

    at_s: float
    text: str
    role: str


class RecordingOut(Schema):
    """A recording, and what was read of it."""

    id: int
    vehicle: int
    afloat: bool
    name: str
    size_bytes: int
    sha256: str
    state: State
    share: float
    reading: int | None
    created_at: datetime
    created_by_role: str
    problem: FieldProblem | None
    format: Format | None = None
    lines: int = 0
    bad_lines: int = 0
    examples: tuple[Words, ...] = ()
    begins_at: datetime | None = None
    begins_s: float = 0.0
    seconds: float = 0.0
    channels: tuple[ChannelOut, ...] = ()
    usual: SpeedsOut | None = None
    wheels: SpeedsOut | None = None
    lacks: tuple[Lack, ...] = ()
    noted: tuple[Noted, ...] = ()
    marks: tuple[MarkOut, ...] = ()

    @classmethod
    def of(cls, found: RecordingRecord) -> RecordingOut:
        """From the record."""
        reading = recordings.reading_of(found) if found.state == "reading" else None
        share = 1.0 if found.state != "reading" else 0.0 if reading is None else reading.share
        common: dict[str, Any] = {
            "id": found.pk,
            "vehicle": found.vehicle_id,
            "afloat": found.vehicle.kind == "boat",
            "name": found.name,
            "size_bytes": found.size_bytes,
            "sha256": found.sha256,
            "state": cast(State, found.state),
            "share": share,
            "reading": None if reading is None else reading.pk,
            "created_at": found.created_at,
            "created_by_role": found.created_by_role,
            "problem": problem_from(found.problem) if found.state == "failed" else None,
        }
        if found.summary is None:
            return cls.model_construct(**common)
        summary = found.summary
        channels = [ChannelFacts(**item) for item in summary["channels"]]
        roles = ReadAs(**found.read_as).roles
        usual, wheels = usual_speeds(channels, roles), wheel_speeds(channels, roles)
        begins_s, derived = summary["begins_s"], names_of(found)
        return cls.model_construct(
            **common,
            format=summary["format"],
            lines=summary["lines"],
            bad_lines=summary["bad_lines"],
            examples=tuple([from_data(text) for text in summary["examples"]]),
            begins_at=datetime.fromtimestamp(begins_s, UTC) if A_DATE_S < begins_s < LATEST_S else None,
            begins_s=begins_s,
            seconds=summary["ends_s"] - begins_s,
            channels=tuple(
                [
                    ChannelOut(
                        name=item.name,
                        quantity=cast(Quantity, item.quantity),
                        unit=item.unit,
                        role=role_of(item, usual, roles),
                        guessed=item.name not in roles,
                        source=from_data(item.source),
                        gaps=item.missing / item.samples if item.samples else 0.0,
                        samples=item.samples,
                        from_s=item.from_s,
                        to_s=item.to_s,
                        least=item.least,
                        greatest=item.greatest,
                        derived=item.name in derived,
                    )
                    for item in channels
                ]
            ),
            usual=None if usual is None else SpeedsOut(true_channel=usual[0], shown_channel=usual[1]),
            wheels=None if wheels is None else SpeedsOut(true_channel=wheels[0], shown_channel=wheels[1]),
            noted=_noted(found, begins_s),
            marks=tuple([MarkOut.model_construct(**item) for item in found.marks]),
            lacks=lacking(channels, roles, afloat=common["afloat"]),
        )


def _noted(found: RecordingRecord, begins_s: float) -> tuple[Noted, ...]:
    """The shown speeds that were noted by hand, from the recording's beginning."""
    known = [Derived(**item) for item in found.derived]
    return tuple([
        Noted(at_s=round(item.at_s - begins_s, 3), shown_kmh=item.shown_kmh) for made in known for item in made.noted
    ])  # fmt: skip


class ReadingOut(Schema):
    """How a file is read: the columns of a table, the signals of a bus; `read_as` is what a person said of it."""

    recording: RecordingOut
    columns: tuple[Column, ...]
    signals: tuple[BusSignal, ...]
    units: dict[str, dict[str, float]] = {meaning: dict(known) for meaning, known in UNITS.items()}
    read_as: ReadAs


class Curve(Schema):
    """A channel with as many points as a screen has: times from the recording's beginning [s] and values."""

    name: str
    time_s: list[float]
    values: list[float | None]


class PlotOut(Schema):
    """Channels between two times."""

    curves: list[Curve]


class PlotIn(In):
    """Which channels, between which times from the recording's beginning [s], with how many points each."""

    channels: Annotated[list[ChannelName], Field(min_length=1, max_length=120)]
    from_s: float | None = Field(None, ge=-1e9, le=1e9)
    to_s: float | None = Field(None, ge=-1e9, le=1e9)
    points: int = Field(MOST_DRAWN, ge=10, le=4000)


class AlongOut(Schema):
    """The distance covered [m] at times from the recording's beginning [s]."""

    time_s: list[float | None]
    distance_m: list[float | None]


class MarkIn(In):
    """A time from the recording's beginning [s], and what is written there."""

    at_s: Annotated[float, Field(ge=0, le=1e8)]
    text: Note


class ExportIn(In):
    """Which file; the shown speed divided by a ratio is the corrected one."""

    kind: Literal["csv", "parquet", "gpx"]
    shown: ChannelName = ""
    ratio: Annotated[float, Field(gt=0, le=100)] = 1.0


class DeriveIn(In):
    """A channel that follows from others: of which, against which, for a speed from pulses by which installation; for
    shown speeds that were noted, when [s from the recording's beginning]."""

    kind: DerivedKind
    of: ChannelName
    against: ChannelName = ""
    installation: int | None = None
    noted: Annotated[tuple[Noted, ...], Field(max_length=MOST_NOTED)] = ()


@of_vehicle.get(
    "/{vehicle_id}/recordings", response={200: list[RecordingOut], **REFUSED}, operation_id="listRecordings"
)
def list_recordings(request: SignedIn, vehicle_id: int) -> list[RecordingOut]:
    """The recordings of a vehicle, the newest first."""
    return [RecordingOut.of(found) for found in recordings.recordings_of(request.user, vehicle_id)]


@of_vehicle.post(
    "/{vehicle_id}/recordings",
    response={201: RecordingOut, **REFUSED},
    operation_id="addRecording",
    openapi_extra=KEEPS,
)
def add_recording(request: SignedIn, vehicle_id: int, body: RecordingIn) -> tuple[int, RecordingOut]:
    """A recording whose file is sent next, in pieces of a million bytes."""
    return 201, RecordingOut.of(recordings.add_recording(request.user, vehicle_id, body.name, body.size_bytes))


@router.put("/{recording_id}/pieces/{number}", response={204: None, **REFUSED}, operation_id="sendPiece")
def send_piece(request: SignedIn, recording_id: int, number: Annotated[int, Path(ge=0, le=1000)]) -> tuple[int, None]:
    """A piece of the file, as bytes; sent again, it takes the place of the first."""
    recordings.add_piece(request.user, recording_id, number, request.body)
    return 204, None


@router.post("/{recording_id}/read", response={200: RecordingOut, **REFUSED}, operation_id="readRecording")
def read_recording(request: SignedIn, recording_id: int, body: ReadAs) -> RecordingOut:
    """Read it once all of it is there, or in another way; a file that the vehicle has already gives that recording."""
    return RecordingOut.of(recordings.read_recording(request.user, recording_id, body))


@router.get("/{recording_id}", response={200: ReadingOut, **REFUSED}, operation_id="showRecording")
def show_recording(request: SignedIn, recording_id: int) -> ReadingOut:
    """A recording, and how it is read."""
    found = recording_for(request.user, recording_id)
    return ReadingOut(
        recording=RecordingOut.of(found), read_as=ReadAs(**found.read_as), **recordings.columns_now(found)
    )


@router.delete("/{recording_id}", response={204: None, **REFUSED}, operation_id="deleteRecording")
def delete_recording(request: SignedIn, recording_id: int) -> tuple[int, None]:
    """Put it into the bin."""
    recordings.delete_recording(request.user, recording_id)
    return 204, None


@router.post("/{recording_id}/plot", response={200: PlotOut, **REFUSED}, operation_id="plotRecording")
def plot(request: SignedIn, recording_id: int, body: PlotIn) -> PlotOut:
    """Channels between two times, thinned to what a screen can show."""
    found = recording_read(request.user, recording_id)
    begins_s, ends_s = found.summary["begins_s"], found.summary["ends_s"]
    span = (
        begins_s if body.from_s is None else begins_s + body.from_s,
        ends_s if body.to_s is None else begins_s + body.to_s,
    )
    known = {item["name"] for item in found.summary["channels"]}
    return PlotOut(
        curves=[_curve(found, name, span, body.points) for name in dict.fromkeys(body.channels) if name in known]
    )


def _curve(found: RecordingRecord, name: str, span: tuple[float, float], points: int) -> Curve:
    time_s, values = drawn(found, name, span, points)
    return Curve(
        name=name,
        time_s=[round(float(at), 4) for at in time_s - found.summary["begins_s"]],
        values=_plain(values),
    )


@router.get("/{recording_id}/track", response={200: Track, **REFUSED}, operation_id="showTrack")
def show_track(request: SignedIn, recording_id: int, true: ChannelName = "", shown: ChannelName = "") -> Track:
    """Where it was driven, in metres east and north of its middle, with the error of the shown speed at each place."""
    return track_of(recording_read(request.user, recording_id), true, shown)


@router.get("/{recording_id}/along", response={200: AlongOut, **REFUSED}, operation_id="showAlong")
def show_along(request: SignedIn, recording_id: int) -> AlongOut:
    """The distance covered at times of the recording, by its true speed: what draws channels over distance."""
    found = recording_read(request.user, recording_id)
    speed = _true_speed(found)
    along = distance_m(speed)
    at = np.unique(np.linspace(0, along.size - 1, min(along.size, MOST_ALONG)).astype(int))
    return AlongOut(time_s=_plain(speed.time_s[at] - found.summary["begins_s"]), distance_m=_plain(along[at]))


@router.get("/{recording_id}/laid-over", response={200: LaidOver, **REFUSED}, operation_id="layOver")
def lay_over(request: SignedIn, recording_id: int, other: int, by: AlignedBy = "launch") -> LaidOver:
    """By how much another recording is shifted so that both are in one time."""
    first, second = (recording_read(request.user, number) for number in (recording_id, other))
    return laid_over(_true_speed(first), _true_speed(second), by)


def _true_speed(found: RecordingRecord) -> SpeedRecord:
    """The speed that is taken for the true one, as it was recorded."""
    usual = usual_speeds([ChannelFacts(**item) for item in found.summary["channels"]], ReadAs(**found.read_as).roles)
    channel = None if usual is None else load(found, [usual[0]]).channels[0]
    if channel is None or not np.isfinite(channel.values).any():
        raise InputError("This recording holds no speed.", remedy="Show it over time.", path="recording")
    return SpeedRecord(channel.time_s, channel.values)


@router.get("/{recording_id}/histogram", response={200: Histogram, **REFUSED}, operation_id="showHistogram")
def show_histogram(request: SignedIn, recording_id: int, channel: ChannelName = "") -> Histogram:
    """How long a channel was at each value; of pulses, their rate [Hz]."""
    found = recording_read(request.user, recording_id)
    of_channel = load(found, [channel]).channel(channel)
    if of_channel is None:
        raise InputError("This recording has no such channel.", remedy="Choose one of its channels.", path="channel")
    values = rates(of_channel.time_s) if of_channel.quantity == "pulses" else of_channel.values
    return histogram(of_channel.time_s, values)


@router.post(
    "/{recording_id}/derived", response={202: WorkOut, **REFUSED}, operation_id="deriveChannel", openapi_extra=KEEPS
)
def derive_channel(request: SignedIn, recording_id: int, body: DeriveIn) -> tuple[int, WorkOut]:
    """Have a channel computed that follows from others, and kept with the recording."""
    if body.kind == "wheel_speed":
        wanted = _by_installation(request, body)
    elif body.kind == "noted":
        begins_s = recording_read(request.user, recording_id).summary["begins_s"]
        noted = tuple([Noted(at_s=begins_s + item.at_s, shown_kmh=item.shown_kmh) for item in body.noted])
        wanted = Derived(kind="noted", of=body.of, noted=noted)
    else:
        wanted = Derived(kind=body.kind, of=body.of, against=body.against if body.kind in TWO_SPEEDS else "")
    return 202, WorkOut.of(add_derived(request.user, recording_id, wanted))


def _by_installation(request: SignedIn, body: DeriveIn) -> Derived:
    if body.installation is None:
        raise InputError(
            "Speed from pulses needs an installation: its wheel and its count.",
            remedy="Choose one.",
            path="installation",
        )
    head = head_of(installation_for(request.user, body.installation))
    document = readable(head)
    if document is None:
        raise InputError(
            "The newest revision of this installation cannot be read.",
            remedy="Choose another one.",
            path="installation",
        )
    by = f"{document.name}, revision {head.number}"
    return wheel_speed_by(evaluate(document, chart_of(request.user)), body.of, by)


@router.delete("/{recording_id}/derived", response={200: RecordingOut, **REFUSED}, operation_id="removeDerived")
def delete_derived(request: SignedIn, recording_id: int, name: ChannelName = "") -> RecordingOut:
    """Remove a derived channel."""
    return RecordingOut.of(remove_derived(request.user, recording_id, name))


@router.post("/{recording_id}/marks", response={200: RecordingOut, **REFUSED}, operation_id="markRecording")
def mark(request: SignedIn, recording_id: int, body: MarkIn) -> RecordingOut:
    """Put a mark at a time of the recording, or write another text at one."""
    return RecordingOut.of(mark_recording(request.user, recording_id, body.at_s, body.text))


@router.delete("/{recording_id}/marks", response={200: RecordingOut, **REFUSED}, operation_id="unmarkRecording")
def unmark(request: SignedIn, recording_id: int, at_s: Annotated[float, Query(ge=0, le=1e8)]) -> RecordingOut:
    """Remove a mark."""
    return RecordingOut.of(unmark_recording(request.user, recording_id, at_s))


@router.get(
    "/{recording_id}/original",
    response={200: bytes, **REFUSED},
    operation_id="originalFile",
    openapi_extra=a_file("application/octet-stream"),
)
def original(request: SignedIn, recording_id: int) -> FileResponse:
    """The file as it came."""
    found = recording_for(request.user, recording_id)
    return FileResponse(  # never as a page or a drawing, whatever it is called
        recordings.original(found), as_attachment=True, filename=found.name, content_type="application/octet-stream"
    )


@router.post("/{recording_id}/export", response={202: WorkOut, **REFUSED}, operation_id="exportRecording")
def export(request: SignedIn, recording_id: int, body: ExportIn) -> tuple[int, WorkOut]:
    """Have a file made of its channels, or of its track; it is fetched from the work when that is done."""
    found = recording_read(request.user, recording_id)
    asked = body.model_dump(mode="json") | {"channels": [item["name"] for item in found.summary["channels"]]}
    return 202, WorkOut.of(start_work(request.user, "export", asked, recording=found, again=False))


def _plain(values: NDArray[np.float64]) -> list[float | None]:
    return [round(float(value), 4) if np.isfinite(value) else None for value in values]
