"""The timeline of a vehicle: all that happened to it, from every record there is."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime, time
from datetime import date as Date
from typing import Any, Literal

from django.contrib.auth.models import User
from django.db.models import F

from speedchain.faults import CAUSES, SYMPTOMS
from speedchain.fields import SENSED_AT, Given, Words, joined, text_of
from speedchain.service import FittedPart, part_text
from workshop.access import vehicle_for
from workshop.jobs import plan_of
from workshop.models import (
    FaultRecord,
    Note,
    Photo,
    RecordingRecord,
    Revision,
    SheetRecord,
    Task,
    Vehicle,
)

WHERE = {choice.code: choice.label for choice in SENSED_AT}
ItemKind = Literal["revision", "test", "recording", "sheet", "photo", "fault", "note", "part", "task"]


@dataclass(frozen=True, slots=True)
class TimelineItem:
    """Something that happened to a vehicle: when, what, on which installation at which wheel, and where it is looked
    at."""

    at: datetime
    kind: ItemKind
    text: str
    by: str
    installation: int | None
    name: str
    link: str
    note: int | None = None
    wheel: Words = ""


def timeline_of(user: User, vehicle_id: int, search: str = "", kind: ItemKind | None = None) -> list[TimelineItem]:
    """All that happened to a vehicle, the latest first; only what has all the words of a search, or one kind."""
    vehicle = vehicle_for(user, vehicle_id)
    heads = Revision.objects.filter(installation__vehicle=vehicle, number=F("installation__head"))
    documents = dict(heads.values_list("installation_id", "document"))
    items = [
        *_revisions(vehicle),
        *_tests(vehicle, documents),
        *_recordings(vehicle),
        *_sheets(vehicle),
        *_photos(vehicle),
        *_faults(vehicle),
        *_notes(vehicle),
        *_parts(vehicle),
        *_tasks(vehicle),
    ]
    words = search.casefold().split()
    wheels = _wheels(documents)
    names = {pk: str(document.get("name", "")) for pk, document in documents.items()}
    found = [
        replace(
            item, wheel=wheels.get(item.installation or 0, ""), name=item.name or names.get(item.installation or 0, "")
        )
        for item in items
        if (kind is None or item.kind == kind)
        and all(
            word in f"{item.text} {item.by} {item.name} {wheels.get(item.installation or 0, '')}".casefold()
            for word in words
        )
    ]
    return sorted(found, key=lambda item: item.at, reverse=True)


def _wheels(documents: Mapping[int, Any]) -> dict[int, str]:
    """Where each installation of a vehicle senses, in words; of one that does not say, nothing."""
    sensed = {pk: str(document.get("sensed_at", "not_stated")) for pk, document in documents.items()}
    return {pk: WHERE[code] for pk, code in sensed.items() if code in WHERE and code != "not_stated"}


def _revisions(vehicle: Vehicle) -> list[TimelineItem]:
    rows = Revision.objects.filter(installation__vehicle=vehicle, installation__deleted_at=None)
    return [
        TimelineItem(
            at=row.amended_at or row.created_at,
            kind="revision",
            text=text_of("Revision {0}: {1}", row.number, row.summary),
            by=row.author_role,
            installation=row.installation_id,
            name=str(row.document.get("name", "")),
            link=f"/installation/{row.installation_id}",
        )
        for row in rows
    ]


def _tests(vehicle: Vehicle, documents: Mapping[int, Any]) -> list[TimelineItem]:
    found = []
    for holder in vehicle.installations.all():
        for test in documents[holder.pk].get("test_records", []):
            found.append(
                TimelineItem(
                    at=datetime.combine(Date.fromisoformat(test["on"]), time(12), UTC),
                    kind="test",
                    text=_and(text_of("Test, {0}: {1}.", test["test"], test["outcome"]), Given(test.get("note", ""))),
                    by=test.get("by", ""),
                    installation=holder.pk,
                    name="",
                    link=f"/installation/{holder.pk}/bench",
                )
            )
    return found


def _recordings(vehicle: Vehicle) -> list[TimelineItem]:
    rows = RecordingRecord.objects.filter(vehicle=vehicle)
    return [
        TimelineItem(
            at=row.created_at, kind="recording", text=text_of("Recording: {0}", row.name), by=row.created_by_role,
            installation=None,
            name="", link=f"/recording/{row.pk}",
        )
        for row in rows
    ]  # fmt: skip


def _sheets(vehicle: Vehicle) -> list[TimelineItem]:
    found = []
    rows = SheetRecord.objects.filter(installation__vehicle=vehicle, installation__deleted_at=None)
    for row in rows:
        title = plan_of(row).title
        found.append(
            TimelineItem(
                at=row.signed_at or row.created_at,
                kind="sheet",
                text=_and(
                    text_of("Job sheet: {0}, signed by {1}.", title, row.signed_by)
                    if row.signed_at
                    else text_of("Job sheet: {0}, not signed yet.", title),
                    row.remark,
                ),
                by=row.signed_by or row.created_by_role,
                installation=row.installation_id,
                name=str(row.drawn_from.get("name", "")),
                link=f"/sheet/{row.pk}",
            )
        )
    return found


def _photos(vehicle: Vehicle) -> list[TimelineItem]:
    rows = Photo.objects.filter(sheet__installation__vehicle=vehicle, sheet__installation__deleted_at=None)
    found = []
    for row in rows.defer("content").select_related("sheet"):
        plan = plan_of(row.sheet)
        step = next((item.text for item in plan.steps if item.code == row.step), row.step)
        found.append(
            TimelineItem(
                at=row.created_at, kind="photo", text=text_of("Photo, {0}: {1}", plan.title, step),
                by=row.sheet.created_by_role,
                installation=row.sheet.installation_id, name=str(row.sheet.drawn_from.get("name", "")),
                link=f"/sheet/{row.sheet_id}",
            )
        )  # fmt: skip
    return found


def _faults(vehicle: Vehicle) -> list[TimelineItem]:
    rows = FaultRecord.objects.filter(installation__vehicle=vehicle, installation__deleted_at=None)
    return [
        TimelineItem(
            at=row.closed_at or row.created_at, kind="fault", text=fault_text(row),
            by=row.closed_by_role or row.created_by_role, installation=row.installation_id,
            name=str(row.document.get("name", "")), link=f"/fault/{row.pk}",
        )
        for row in rows
    ]  # fmt: skip


RETEST_TEXTS: dict[str, Words] = {"agreed": "The retest agreed.", "none": "No retest was made."}


def fault_text(row: FaultRecord) -> str:
    """A fault in one line: what was seen, and what it was."""
    labels = {item.code: item.label for item in SYMPTOMS}
    codes = row.seen.get("symptoms", [])
    noticed = joined(", ", [labels[code] for code in codes]) if codes else "a true and a shown speed"
    if row.closed_at is None:
        return text_of("Open fault. {0}", noticed)
    cause = next((item.text for item in CAUSES if item.code == row.cause), "The cause is not on the list.")
    text = text_of("Closed fault. {0}. Cause: {1}", noticed, cause)
    return _and(text_of("{0} {1}", text, RETEST_TEXTS[row.retest]) if row.retest else text, row.remark)


def _notes(vehicle: Vehicle) -> list[TimelineItem]:
    return [
        TimelineItem(
            at=datetime.combine(row.on, time(12), UTC), kind="note", text=said_of(row), by=row.created_by_role,
            installation=row.installation_id, name="", link=_installation(row.installation_id),
            note=row.pk,
        )
        for row in vehicle.notes.all()
    ]  # fmt: skip


def _parts(vehicle: Vehicle) -> list[TimelineItem]:
    found = []
    for row in vehicle.parts.all():
        part = FittedPart(**row.content)
        for on, said in ((part.fitted_on, "Fitted"), (part.removed_on, "Removed")):
            if on is not None:
                found.append(
                    TimelineItem(
                        at=datetime.combine(on, time(12), UTC), kind="part",
                        text=text_of("{0}: {1}", said, part_text(part)),
                        by=row.created_by_role, installation=row.installation_id,
                        name="",
                        link=_installation(row.installation_id),
                    )
                )  # fmt: skip
    return found


def _tasks(vehicle: Vehicle) -> list[TimelineItem]:
    tasks = (
        Task.objects.filter(installation__vehicle=vehicle, installation__deleted_at=None)
        .exclude(done_at=None)
        .filter(put_off=None)
    )
    done = [
        TimelineItem(
            at=row.done_at, kind="task", text=text_of("Done: {0}", row.text), by=row.done_by_role,
            installation=row.installation_id,
            name="", link=f"/installation/{row.installation_id}",
        )
        for row in tasks
        if row.done_at is not None
    ]  # fmt: skip
    return done + [
        TimelineItem(
            at=row.done_at, kind="task", text=text_of("Done: {0}", row.text), by=row.done_by_role,
            installation=row.installation_id,
            name="", link=_installation(row.installation_id),
        )
        for row in vehicle.due_items.exclude(done_at=None)
        if row.done_at is not None
    ]  # fmt: skip


def _installation(number: int | None) -> str:
    return "" if number is None else f"/installation/{number}"


def said_of(note: Note) -> str:
    """A note in words."""
    match note.kind:
        case "odometer":
            return _and(text_of("Odometer {0:g} km.", note.value), note.text)
        case "hours":
            return _and(text_of("Hours {0:g}.", note.value), note.text)
        case "tread":
            if note.km is None:
                return _and(text_of("Tread {0:g} mm.", note.value), note.text)
            return _and(text_of("Tread {0:g} mm at {1:g} km.", note.value, note.km), note.text)
        case _:
            return note.text


def _and(text: str, written: str) -> str:
    """A text, followed by what somebody wrote."""
    return text_of("{0} {1}", text, written) if written else text
