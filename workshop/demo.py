"""The demo world: one workshop, six vehicles, each installation in its own state of evidence."""

from __future__ import annotations

import json
from copy import deepcopy
from datetime import UTC, datetime, timedelta
from datetime import date as Date
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from speedchain import read_installation
from speedchain.faults import Answer, Seen
from speedchain.fields import PartLabel
from speedchain.jobs import Entry
from speedchain.runs import DBC, RINGS, WRITERS, Drive, ReadAs, Ring
from speedchain.service import Due, FittedPart
from speedchain.shelf import to_shelf
from speedchain.vehicle.sheet import SheetSettings
from speedchain.vehicle.tyre_change import NewTyre
from workshop.faults import answer_test, close_fault, start_fault
from workshop.installations import Base, add_installation, fit_tyre, head_of, readable, save_installation
from workshop.jobs import add_entries, plan_of, start_sheet
from workshop.models import Member, Vehicle, Work, Workshop
from workshop.parts import add_part
from workshop.recordings import add_piece, add_recording, read_recording
from workshop.service import add_due, add_note
from workshop.shelf import add_to_shelf
from workshop.vehicles import add_vehicle, save_sheet
from workshop.work import work_off

HALF = 8
"""Steps of the sheet that is half done."""
FOLDER = Path(__file__).resolve().parent.parent / "demo"


def patched(document: dict[str, Any], changes: dict[str, Any]) -> dict[str, Any]:
    """A copy of a document with the values at dotted paths replaced.

    >>> patched({"a": [{"b": 1}]}, {"a.0.b": 2})
    {'a': [{'b': 2}]}
    """
    copy = deepcopy(document)
    for path, value in changes.items():
        place: Any = copy
        *way, last = path.split(".")
        for name in way:
            place = place[int(name)] if isinstance(place, list) else place.setdefault(name, {})
        place[last] = value
    return copy


@transaction.atomic
def load_demo(*, recordings: bool = True) -> bool:
    """Make the demo workshop; False when it is there already and left as it is."""
    if Workshop.objects.filter(is_demo=True).exists():
        return False
    world = json.loads((FOLDER / "world.json").read_text("utf-8"))
    workshop = Workshop.objects.create(name=world["workshop"], is_demo=True)
    user = User.objects.create(username="demo")
    user.set_unusable_password()
    user.save()
    Member.objects.create(user=user, workshop=workshop, role=world["role"])
    for described in world["vehicles"]:
        vehicle = add_vehicle(user, described["name"], described["kind"], described["note"])
        if "sheet" in described:
            sheet = SheetSettings(**described["sheet"]).model_dump(mode="json")
            save_sheet(user, vehicle.pk, vehicle.sheet_version, sheet)
        for name in described["installations"]:
            history = json.loads((FOLDER / f"{name}.json").read_text("utf-8"))
            _relive(vehicle, history["first"], history["then"], user)
        _serve(vehicle, described, user)
        for item in described.get("shelf", []):
            _put_on_shelf(vehicle, item, user)
        if recordings:
            for item in described.get("recordings", []):
                _record(vehicle, item, user)
    return True


def _put_on_shelf(vehicle: Vehicle, item: dict[str, Any], user: User) -> None:
    """A part of the vehicle's first installation, for the next one."""
    document = readable(head_of(vehicle.installations.all()[0]))
    assert document is not None
    add_to_shelf(user, to_shelf(document, item["kind"], PartLabel(**item["label"])))


def _serve(vehicle: Vehicle, described: dict[str, Any], user: User) -> None:
    """Its notes and readings, parts, what is due, faults, and a job sheet that is half done."""
    Vehicle.objects.filter(pk=vehicle.pk).update(
        tyres_since=None
    )  # its readings are older than the loading of its history
    vehicle.refresh_from_db()
    nothing = {"text": "", "value": None, "km": None, "installation_id": None}
    for note in described.get("notes", []):
        add_note(user, vehicle.pk, **(nothing | note | {"on": Date.fromisoformat(note["on"])}))
    for part in described.get("parts", []):
        add_part(user, vehicle.pk, FittedPart(**part), installation_id=None)
    for item in described.get("due", []):
        on = timezone.now().date() + timedelta(days=item["in_days"]) if "in_days" in item else None
        due = Due(**item["due"], on=on)
        add_due(user, vehicle.pk, item["text"], due=due, assigned_to=item["assigned_to"], installation_id=None)
    holder = vehicle.installations.first()
    for fault in described.get("faults", []):
        assert holder is not None
        begun = start_fault(user, holder.pk, Seen(**fault["seen"]))
        for place, answer in enumerate(fault["answers"]):
            answer_test(user, begun.pk, f"demo-answer-{place:04d}", Answer(**answer))
        if "cause" in fault:
            close_fault(user, begun.pk, fault["cause"], fault["remark"])
    if "half_done_sheet" not in described or holder is None:
        return
    sheet = start_sheet(user, holder.pk, described["half_done_sheet"])
    for place, step in enumerate(plan_of(sheet).steps):
        if step.kind not in ("tick", "decide") or place > HALF:
            continue
        entry = Entry(
            key=f"demo-entry-{place:04d}",
            step=step.code,
            what="done",
            answer=True if step.kind == "decide" else None,
            acknowledged=True,
            by="volunteer",
            at=datetime(2026, 5, 1, 17, place, tzinfo=UTC),
        )
        add_entries(user, sheet.pk, [entry])


def _record(vehicle: Vehicle, item: dict[str, Any], user: User) -> None:
    """A simulated recording, brought in as a person would, and read at once."""
    data = (
        RINGS[item["format"]](Ring(**item["ring"]))
        if "ring" in item
        else WRITERS[item["format"]](Drive(**item["drive"]))
    )
    made = add_recording(user, vehicle.pk, item["name"], len(data))
    for number, begin in enumerate(range(0, len(data), settings.LARGEST_PIECE_BYTES)):
        add_piece(user, made.pk, number, data[begin : begin + settings.LARGEST_PIECE_BYTES])
    read_recording(user, made.pk, ReadAs(dbc=DBC if item["format"] in ("candump", "asc") else ""))
    work_off(Work.objects.get(recording=made).pk)


def _relive(vehicle: Vehicle, document: dict[str, Any], then: list[dict[str, Any]], user: User) -> None:
    """One installation's history: its first document, then changes of fields and of tyres."""
    record = add_installation(user, vehicle.pk, read_installation(document))
    for number, changes in enumerate(then, start=1):
        if "tyre" in changes:
            revision = fit_tyre(
                user, record.pk, Base(number), installation=read_installation(document), new=NewTyre(**changes["tyre"])
            )
            document = revision.document
        else:
            document = patched(document, changes)
            save_installation(user, record.pk, Base(number), read_installation(document))
