"""Use cases of recordings: sent in pieces, read by a worker, put away."""

from __future__ import annotations

import hashlib
from collections.abc import Generator, Iterator
from contextlib import closing, suppress
from dataclasses import dataclass, field
from datetime import timedelta
from tempfile import NamedTemporaryFile, SpooledTemporaryFile
from typing import Any, BinaryIO

import psycopg
from django.conf import settings
from django.contrib.auth.models import User
from django.db import connection, transaction
from django.db.models import Count, Sum
from django.db.models.functions import Length
from django.utils import timezone
from procrastinate.contrib.django import app

from speedchain.bench.run import Stopped
from speedchain.fields import InputError, as_data, from_data, text_of
from speedchain.runs import Piece, ReadAs, Tally
from speedchain.wheel.chart import Chart
from workshop.access import editor, locked_recording, locked_workshop, recording_for, vehicle_for
from workshop.apart import apart, one_apart
from workshop.audit import record
from workshop.derived import derive_again
from workshop.models import OPEN_STATES, OriginalPiece, RecordingRecord, Samples, Work
from workshop.reading import COLUMNS, SIGNALS, limits_of
from workshop.samples import chunks_of, facts_of, samples_from
from workshop.use_cases import use_case
from workshop.vehicles import FullError, put_away
from workshop.work import QUEUE, WAS_STOPPED, Progress, handles, start_work, stop, when_broken_off

MOST_RECORDINGS = 500
MOST_REMEMBERED = 50
SENT_WITHIN = timedelta(days=1)
"""A file that has not come in full by then was given up."""
MOST_BYTES_OF_A_WORKSHOP = 5_000_000_000


def recordings_of(user: User, vehicle_id: int) -> list[RecordingRecord]:
    """The recordings of a vehicle, the newest first."""
    return list(RecordingRecord.objects.filter(vehicle=vehicle_for(user, vehicle_id)).select_related("vehicle"))


@use_case(no_entry="it is in the audit once its file has come")
def add_recording(user: User, vehicle_id: int, name: str, size_bytes: int) -> RecordingRecord:
    """A recording whose file is going to be sent. Raises `FullError`, and `InputError` for a file that is too large."""
    member = editor(user)
    vehicle = vehicle_for(user, vehicle_id)
    if not 0 < size_bytes <= settings.LARGEST_RECORDING_BYTES:
        raise InputError(
            text_of("The file has {0:.0f} MB.", size_bytes / 1e6),
            remedy="Cut the recording into shorter ones." if size_bytes else "Choose a file that holds something.",
            limit=text_of("at most {0:.0f} MB", settings.LARGEST_RECORDING_BYTES / 1e6),
            path="file",
        )
    if RecordingRecord.objects.filter(vehicle=vehicle).count() >= MOST_RECORDINGS:
        raise FullError(MOST_RECORDINGS, "recordings of a vehicle")
    given_up = {"state": "sending", "created_at__lt": timezone.now() - SENT_WITHIN}
    RecordingRecord.everything.filter(vehicle__workshop=member.workshop, **given_up).delete()
    held = RecordingRecord.everything.filter(vehicle__workshop=member.workshop).aggregate(sum=Sum("size_bytes"))["sum"]
    if (held or 0) + size_bytes > MOST_BYTES_OF_A_WORKSHOP:
        raise InputError(
            "The storage for recordings of your workshop is full.",
            remedy="Delete recordings that are no longer used.",
            limit=text_of("at most {0:.0f} MB", MOST_BYTES_OF_A_WORKSHOP / 1e6),
            path="file",
        )
    return RecordingRecord.objects.create(
        vehicle=vehicle, name=name.strip()[:120] or "Recording", size_bytes=size_bytes, created_by_role=member.role
    )


@use_case(
    no_entry="it is in the audit once its file has come", no_version="the same piece again takes the place of the first"
)
def add_piece(user: User, recording_id: int, number: int, content: bytes) -> None:
    """A piece of the file; the same piece again takes the place of the first."""
    editor(user)
    found = recording_for(user, recording_id)
    whole, rest = divmod(found.size_bytes, settings.LARGEST_PIECE_BYTES)
    expected = settings.LARGEST_PIECE_BYTES if number < whole else rest if number == whole else 0
    if found.state != "sending" or number < 0 or not expected or len(content) != expected:
        raise InputError(
            text_of("Piece {0} of this file has {1} bytes; it was to have {2}.", number + 1, len(content), expected),
            remedy="Send the file again.",
            path="file",
        )
    OriginalPiece.objects.update_or_create(recording=found, number=number, defaults={"content": content})


@use_case("add_recording", no_entry="how it is read is kept with it", no_version="the last way to read it holds")
def read_recording(user: User, recording_id: int, read_as: ReadAs) -> RecordingRecord:
    """Have a recording read, when all of its file is there, or read in another way.

    The same file that the vehicle has already is recognised: the first recording is given, and this one is gone.

    Raises `InputError` where pieces are missing.
    """
    member = editor(user)
    found = recording_for(user, recording_id)
    with transaction.atomic():
        locked_workshop(member)
        found = locked_recording(found)
        if found.state == "sending":
            pieces = OriginalPiece.objects.filter(recording=found)
            held = pieces.aggregate(count=Count("id"), bytes=Sum(Length("content")))
            if (held["bytes"] or 0) != found.size_bytes:
                raise InputError(
                    text_of("{0} of {1} bytes have come.", held["bytes"] or 0, found.size_bytes),
                    remedy="Send the missing pieces again.",
                    path="file",
                )
            found.sha256 = _sha256(found)
            same = RecordingRecord.objects.filter(vehicle=found.vehicle, sha256=found.sha256).first()
            if same is not None:
                found.delete()
                return same
            record(member.workshop, member, "add_recording", subject=f"{found.vehicle.name}: {found.name}")
        wanted = read_as.model_dump(mode="json")
        if found.state == "ready" and _but_roles(wanted) == _but_roles(found.read_as):
            found.read_as = wanted  # what the speeds are for needs no reading
            found.save(update_fields=["read_as"])
            return found
        for other in Work.objects.filter(recording=found, kind="read_recording", state__in=OPEN_STATES):
            if other.asked == {"read_as": wanted} and not other.stop_wanted:
                return found
            stop(other)
        found.read_as = wanted
        found.state = "reading"
        found.save(update_fields=["sha256", "read_as", "state"])
        start_work(user, "read_recording", {"read_as": wanted}, recording=found)
    return found


def _but_roles(read_as: dict[str, Any]) -> dict[str, Any]:
    return ReadAs(**read_as).model_dump(exclude={"roles"})


def _as_remembered(found: RecordingRecord, layout: dict[str, Any]) -> ReadAs:
    """How the workshop had the last file of this kind read: a table with the same headings, a log of a bus."""
    headings = _headings(layout)
    earlier = RecordingRecord.objects.filter(
        vehicle__workshop=found.vehicle.workshop_id, summary__format=layout["format"]
    ).exclude(pk=found.pk)
    for other in earlier.order_by("-id")[:MOST_REMEMBERED]:
        if other.summary["headings"] == headings:
            return ReadAs(**other.read_as)
    return ReadAs()


def _headings(layout: dict[str, Any]) -> list[str]:
    return [str(from_data(column["name"])) for column in layout["columns"]]


def _sha256(found: RecordingRecord) -> str:
    digest = hashlib.sha256()
    for content in _contents(found):
        digest.update(content)
    return digest.hexdigest()


def _contents(found: RecordingRecord) -> Iterator[bytes]:
    """The pieces of a file, one after the other, as bytes on the line and not as twice as many letters."""
    connection.ensure_connection()
    query = "SELECT content FROM workshop_originalpiece WHERE recording_id = %s ORDER BY number"
    with psycopg.Cursor(connection.connection) as cursor:
        for (content,) in cursor.stream(query, [found.pk], binary=True):
            yield bytes(content)


def original(found: RecordingRecord) -> BinaryIO:
    """The whole file, on disk where it is large."""
    file = SpooledTemporaryFile(max_size=8_000_000)  # noqa: SIM115
    for content in _contents(found):
        file.write(content)
    file.seek(0)
    return file  # type: ignore[return-value]


@use_case("delete_recording", no_version="it is in the bin or it is not")
def delete_recording(user: User, recording_id: int) -> None:
    """Put a recording into the bin."""
    member = editor(user)
    found = recording_for(user, recording_id)
    record(member.workshop, member, "delete_recording", subject=f"{found.vehicle.name}: {found.name}")
    put_away(found, member)


@handles("read_recording")
def read_pieces(work: Work, chart: Chart, progress: Progress) -> Any:
    """Read the file of a recording into samples, piece after piece, in a process apart; one broken off begins anew."""
    found = work.recording
    assert found is not None
    Samples.objects.filter(recording=found, version=work.pk).delete()
    with NamedTemporaryFile() as file:
        for content in _contents(found):
            file.write(content)
        file.flush()
        return _read(work, found, file.name, progress)


def _read(work: Work, found: RecordingRecord, file: str, progress: Progress) -> Any:
    read_as = ReadAs(**work.asked["read_as"])
    layout = _layout_of(file, read_as, found.size_bytes)
    if read_as == ReadAs() and (read_as := _as_remembered(found, layout)) != ReadAs():
        layout = _layout_of(file, read_as, found.size_bytes)
    if not _is_newest(work):
        raise Stopped
    RecordingRecord.everything.filter(pk=found.pk).update(layout=layout, read_as=read_as.model_dump(mode="json"))
    reading = _Reading(progress, found.size_bytes)
    with closing(
        reading.pieces(apart("workshop.reading:pieces", file, read_as, going=reading.going, **_ways(found.size_bytes)))
    ) as pieces:
        for number, piece in chunks_of(pieces):
            samples_from(found, work.pk, number, piece).save()
            reading.going()
    tally = reading.tally
    channels = facts_of(found, work.pk, tally.kinds)
    if not channels:
        raise InputError(
            "Nothing in this file could be read.",
            remedy="Choose another file, or say how it is to be read.",
            path="file",
        )
    summary = {
        "format": layout["format"],
        "headings": _headings(layout),
        "lines": tally.lines,
        "bad_lines": tally.bad_lines,
        "examples": [as_data(text) for text in tally.examples],
        "begins_s": tally.begins_s,
        "ends_s": tally.ends_s,
        "channels": [item._asdict() for item in channels],
    }
    with transaction.atomic():
        found = locked_recording(found)
        if not _is_newest(work):
            raise Stopped
        found.state, found.version, found.summary, found.problem = "ready", work.pk, summary, None
        found.save(update_fields=["state", "version", "summary", "problem"])
        Samples.objects.filter(recording=found).exclude(version=work.pk).delete()
    derive_again(found)
    return {"samples": sum(item.samples for item in channels)}


def _ways(size_bytes: int) -> dict[str, Any]:
    return {"limits": limits_of(size_bytes), "path": "file", "remedy": "Cut the recording into shorter ones."}


def _layout_of(file: str, read_as: ReadAs, size_bytes: int) -> dict[str, Any]:
    found: dict[str, Any] = one_apart("workshop.reading:layout", file, read_as, **_ways(size_bytes))
    return found


@dataclass
class _Reading:
    """What comes of a file, and how far it is."""

    progress: Progress
    size_bytes: int
    share: float = 0.0
    tally: Tally = field(default_factory=Tally)

    def going(self) -> None:
        """Say how far it is."""
        self.progress(self.share)

    def pieces(self, items: Iterator[Any]) -> Generator[Piece]:
        """The pieces as they come; the tally comes last."""
        for item in items:
            if isinstance(item, Tally):
                self.tally = item
            else:
                read_bytes, piece = item
                self.share = min(read_bytes / self.size_bytes, 1.0)
                yield piece


def _is_newest(work: Work) -> bool:
    """Whether nobody wanted the recording to be read in another way since."""
    readings = Work.objects.filter(recording=work.recording_id, kind=work.kind)
    return not readings.filter(pk__gt=work.pk).exists()


@app.task(name="see_layouts", queue=QUEUE, queueing_lock="see_layouts")
def see_layouts() -> None:
    """Look at files that were read before layouts were kept."""
    for found in RecordingRecord.everything.filter(layout__isnull=True, state__in=("ready", "failed")):
        with suppress(InputError), NamedTemporaryFile() as file:
            file.write(_first_piece(found))
            file.flush()
            layout = _layout_of(file.name, ReadAs(**found.read_as), found.size_bytes)
            RecordingRecord.everything.filter(pk=found.pk).update(layout=layout)


def _first_piece(found: RecordingRecord) -> bytes:
    first = OriginalPiece.objects.filter(recording=found, number=0).values_list("content", flat=True).first()
    return b"" if first is None else bytes(first)


@when_broken_off("read_recording")
def reading_broken_off(work: Work, problem: dict[str, Any]) -> None:
    """What was read before stays, where the reading was stopped; otherwise the recording says why it is not read."""
    Samples.objects.filter(recording=work.recording_id, version=work.pk).exclude(recording__version=work.pk).delete()
    if not _is_newest(work):
        return
    reading = RecordingRecord.everything.filter(pk=work.recording_id or 0, state="reading")
    if problem == WAS_STOPPED:
        reading.filter(summary__isnull=False).update(state="ready")
        problem = READING_STOPPED
    reading.update(state="failed", problem=problem)


READING_STOPPED = {
    "path": "file",
    "message": "The reading was stopped.",
    "remedy": "Read it again in the table of its channels, or send it again.",
    "limit": "",
}


def columns_now(found: RecordingRecord) -> dict[str, Any]:
    """How the file is read: columns of a table, signals of a bus; nothing for other files, or before a worker saw
    it."""
    layout = found.layout or {"columns": [], "signals": []}
    return {
        "columns": COLUMNS.validate_python(layout["columns"]),
        "signals": SIGNALS.validate_python(layout["signals"]),
    }


def reading_of(found: RecordingRecord) -> Work | None:
    """The reading of a recording that is under way."""
    return Work.objects.filter(recording=found, kind="read_recording", state__in=OPEN_STATES).first()
