"""Marks in a recording: a time, and what a person wrote there."""

from __future__ import annotations

from django.contrib.auth.models import User

from speedchain.fields import InputError, text_of
from workshop.access import NotFoundError, editor, locked_recording, recording_read
from workshop.audit import record
from workshop.models import RecordingRecord
from workshop.use_cases import use_case

MOST_MARKS = 200
SAME_S = 0.005
"""Marks nearer than this are one."""


@use_case("mark_recording", no_version="a mark is there or it is not")
def mark_recording(user: User, recording_id: int, at_s: float, text: str) -> RecordingRecord:
    """Put a mark, or write another text at one. Raises `InputError` outside of the recording, or where it is full."""
    member = editor(user)
    found = locked_recording(recording_read(user, recording_id))
    seconds = found.summary["ends_s"] - found.summary["begins_s"]
    if at_s > seconds:
        raise InputError(
            text_of("The recording is {0:.1f} s long.", seconds),
            remedy="Put the mark within it.",
            limit=text_of("0 to {0:.1f} s", seconds),
            path="at_s",
        )
    others = [item for item in found.marks if abs(item["at_s"] - at_s) >= SAME_S]
    if len(others) >= MOST_MARKS:
        raise InputError(
            text_of("The recording has {0} marks.", MOST_MARKS),
            remedy="Remove one first.",
            limit=text_of("at most {0}", MOST_MARKS),
            path="at_s",
        )
    mark = {"at_s": at_s, "text": text, "role": member.role}
    found.marks = sorted([*others, mark], key=lambda item: item["at_s"])
    found.save(update_fields=["marks"])
    record(member.workshop, member, "mark_recording", subject=f"{found.vehicle.name}: {found.name}: {text}"[:200])
    return found


@use_case("unmark_recording", no_version="a mark is there or it is not")
def unmark_recording(user: User, recording_id: int, at_s: float) -> RecordingRecord:
    """Remove a mark. Raises `NotFoundError` where there is none."""
    member = editor(user)
    found = locked_recording(recording_read(user, recording_id))
    left = [item for item in found.marks if abs(item["at_s"] - at_s) >= SAME_S]
    if len(left) == len(found.marks):
        raise NotFoundError
    found.marks = left
    found.save(update_fields=["marks"])
    record(member.workshop, member, "unmark_recording", subject=f"{found.vehicle.name}: {found.name}")
    return found
