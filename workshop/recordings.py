"""Use cases of recordings: sent in pieces, read by a worker, put away."""

from __future__ import annotations

import hashlib
import tempfile
from collections.abc import Iterator
from datetime import timedelta
from typing import Any, BinaryIO

import psycopg
from django.conf import settings
from django.contrib.auth.models import User
from django.db import connection, transaction
from django.db.models import Count, Sum
from django.db.models.functions import Length
from django.utils import timezone

from speedchain.fields import InputError, as_data, text_of
from speedchain.runs import HEAD_BYTES, ReadAs, Tally, columns_of, format_of, known_signals, pieces_of
from speedchain.wheel.chart import Chart
from workshop.access import editor, recording_for, vehicle_for
from workshop.audit import record
from workshop.derived import derive_again
from workshop.models import OPEN_STATES, OriginalPiece, RecordingRecord, Samples, Work
from workshop.samples import chunks_of, facts_of, samples_from
from workshop.vehicles import FullError, put_away
from workshop.work import Progress, handles, problem_of, start_work, when_stopped

MOST_RECORDINGS = 500
MOST_REMEMBERED = 50
SENT_WITHIN = timedelta(days=1)
"""A file that has not come in full by then was given up."""
MOST_BYTES_OF_A_WORKSHOP = 5_000_000_000


def recordings_of(user: User, vehicle_id: int) -> list[RecordingRecord]:
    """The recordings of a vehicle, the newest first."""
    return list(RecordingRecord.objects.filter(vehicle=vehicle_for(user, vehicle_id)))


@transaction.atomic
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


def add_piece(user: User, recording_id: int, number: int, content: bytes) -> None:
    """A piece of the file; the same piece again takes the place of the first."""
    editor(user)
    found = recording_for(user, recording_id)
    whole, rest = divmod(found.size_bytes, settings.LARGEST_PIECE_BYTES)
    expected = settings.LARGEST_PIECE_BYTES if number < whole else rest if number == whole else 0
    if found.state != "sending" or not expected or len(content) != expected:
        raise InputError(
            text_of("Piece {0} of this file has {1} bytes; it was to have {2}.", number + 1, len(content), expected),
            remedy="Send the file again.",
            path="file",
        )
    OriginalPiece.objects.update_or_create(recording=found, number=number, defaults={"content": content})


def read_recording(user: User, recording_id: int, read_as: ReadAs) -> RecordingRecord:
    """Have a recording read, when all of its file is there, or read in another way.

    The same file that the vehicle has already is recognised: the first recording is given, and this one is gone.

    Raises `InputError` where pieces are missing or the file is of no known kind.
    """
    member = editor(user)
    found = recording_for(user, recording_id)
    with transaction.atomic():
        found = RecordingRecord.objects.select_for_update().get(pk=found.pk)
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
            read_as = _remembered(found, member.workshop_id) if read_as == ReadAs() else read_as
        found.read_as = read_as.model_dump(mode="json")
        found.state = "reading"
        found.save(update_fields=["sha256", "read_as", "state"])
        start_work(user, "read_recording", {}, recording=found)
    return found


def _remembered(found: RecordingRecord, workshop_id: int) -> ReadAs:
    """How the workshop had the last file of this kind read: a table with the same headings, a log of a bus."""
    try:
        head = head_of_file(found)
        kind = format_of(head)
        headings = [column.name for column in columns_of(head, ReadAs())]
    except InputError:
        return ReadAs()
    earlier = RecordingRecord.objects.filter(vehicle__workshop=workshop_id, summary__format=kind).exclude(pk=found.pk)
    for other in earlier.order_by("-id")[:MOST_REMEMBERED]:
        if other.summary["headings"] == headings:
            return ReadAs(**other.read_as)
    return ReadAs()


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


def head_of_file(found: RecordingRecord) -> bytes:
    """The first bytes of the file."""
    first = OriginalPiece.objects.filter(recording=found, number=0).values_list("content", flat=True).first()
    return b"" if first is None else bytes(first)[:HEAD_BYTES]


def original(found: RecordingRecord) -> BinaryIO:
    """The whole file, on disk where it is large."""
    file = tempfile.SpooledTemporaryFile(max_size=8_000_000)  # noqa: SIM115
    for content in _contents(found):
        file.write(content)
    file.seek(0)
    return file  # type: ignore[return-value]


@transaction.atomic
def delete_recording(user: User, recording_id: int) -> None:
    """Put a recording into the bin."""
    member = editor(user)
    found = recording_for(user, recording_id)
    record(member.workshop, member, "delete_recording", subject=f"{found.vehicle.name}: {found.name}")
    put_away(found, member)


@handles("read_recording")
def read_pieces(work: Work, chart: Chart, progress: Progress) -> Any:
    """Read the file of a recording into samples, piece after piece; one broken off begins anew."""
    found = work.recording
    assert found is not None
    version = found.version + 1
    Samples.objects.filter(recording=found).exclude(version=found.version).delete()
    tally, read_as = Tally(), ReadAs(**found.read_as)
    try:
        with original(found) as file:
            head = file.read(HEAD_BYTES)
            file.seek(0)
            counted = _Counted(file)
            for number, piece in chunks_of(pieces_of(counted, tally, read_as)):  # type: ignore[arg-type]
                samples_from(found, version, number, piece).save()
                progress(min(counted.read_bytes / found.size_bytes, 1.0))
        channels = facts_of(found, version, tally.kinds)
        if not channels:
            raise InputError(
                "Nothing in this file could be read.",
                remedy="Choose another file, or say how it is to be read.",
                path="file",
            )
    except InputError as error:
        RecordingRecord.objects.filter(pk=found.pk, state="reading").update(state="failed", problem=problem_of(error))
        raise
    summary = {
        "format": format_of(head),
        "headings": [column.name for column in columns_of(head, read_as)],
        "lines": tally.lines,
        "bad_lines": tally.bad_lines,
        "examples": [as_data(text) for text in tally.examples],
        "begins_s": tally.begins_s,
        "ends_s": tally.ends_s,
        "channels": [item._asdict() for item in channels],
    }
    with transaction.atomic():
        RecordingRecord.objects.filter(pk=found.pk).update(
            state="ready", version=version, summary=summary, problem=None
        )
        Samples.objects.filter(recording=found).exclude(version=version).delete()
    derive_again(found)
    return {"samples": sum(item.samples for item in channels)}


@when_stopped("read_recording")
def reading_stopped(work: Work) -> None:
    """What was read before stays; a recording that never was read says that it is not."""
    reading = RecordingRecord.objects.filter(pk=work.recording_id or 0, state="reading")
    reading.filter(summary__isnull=False).update(state="ready")
    reading.update(state="failed", problem=WAS_STOPPED)


WAS_STOPPED = {
    "path": "file",
    "message": "The reading was stopped.",
    "remedy": "Read it again under How the file is read, or send it again.",
    "limit": "",
}


class _Counted:
    """A file that counts what was read of it."""

    def __init__(self, file: BinaryIO) -> None:
        self.file, self.read_bytes = file, 0

    def read(self, size: int = -1) -> bytes:
        """Read on."""
        data = self.file.read(size)
        self.read_bytes += len(data)
        return data

    def __getattr__(self, name: str) -> Any:
        return getattr(self.file, name)

    def __iter__(self) -> Any:
        for line in self.file:
            self.read_bytes += len(line)
            yield line


def columns_now(found: RecordingRecord) -> dict[str, Any]:
    """How the file is read: columns of a table, signals of a bus; nothing for other files."""
    read_as = ReadAs(**found.read_as)
    try:
        return {"columns": columns_of(head_of_file(found), read_as), "signals": known_signals(read_as)}
    except InputError:
        return {"columns": (), "signals": ()}


def reading_of(found: RecordingRecord) -> Work | None:
    """The reading of a recording that is under way."""
    return Work.objects.filter(recording=found, kind="read_recording", state__in=OPEN_STATES).first()
