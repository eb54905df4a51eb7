"""Service: what is due on a vehicle, its notes and readings, its calendar."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date as Date
from typing import Any

from django.contrib.auth.models import User
from django.utils import timezone

from speedchain.fields import InputError
from speedchain.service import (
    Due,
    DueState,
    Forecast,
    Reading,
    due_state,
    next_due,
    reached_on,
)
from workshop.access import NotFoundError, editor, installation_for, member_of, one_of, vehicle_for
from workshop.audit import record
from workshop.links import hashed, new_secret
from workshop.models import CalendarFeed, DueItem, Member, Note, Task, Vehicle
from workshop.timeline import said_of
from workshop.use_cases import use_case
from workshop.vehicles import FullError
from workshop.wear import renew_wear

MOST_NOTES, MOST_DUE = 5000, 500


@dataclass(frozen=True, slots=True)
class DueShown:
    """A due item, its state, and when distance or hours will be reached."""

    item: DueItem
    due: Due
    state: DueState
    forecast: Forecast | None


@use_case("add_note", no_version="a note is added; what follows from it is reckoned anew")
def add_note(user: User, vehicle_id: int, **values: Any) -> Note:
    """Write something down. Raises `InputError` where a reading has no number, or a note no words."""
    member = editor(user)
    vehicle = vehicle_for(user, vehicle_id)
    values |= {"text": values["text"].strip()}
    check_note(values)
    _check_holder(user, vehicle, values["installation_id"])
    made = Note(vehicle=vehicle, created_by_role=member.role, **values)
    add_notes(user, vehicle, [made], held=vehicle.notes.count())
    return made


def check_note(values: Mapping[str, Any]) -> None:
    """Refuse a reading without its number, and a note without words."""
    if values["kind"] in ("odometer", "hours", "tread") and values["value"] is None:
        raise InputError("The reading is missing.", remedy="Enter the number.", path="value")
    if values["kind"] == "note" and not values["text"]:
        raise InputError("The note is empty.", remedy="Enter the note.", path="text")


def add_notes(user: User, vehicle: Vehicle, made: Sequence[Note], *, held: int) -> None:
    """Keep notes that were checked, beside those that the vehicle has."""
    member = editor(user)
    if held + len(made) > MOST_NOTES:
        raise FullError(MOST_NOTES, "notes of a vehicle")
    Note.objects.bulk_create(made)
    if any(note.kind == "tread" for note in made):
        renew_wear(user, vehicle)
    if made:
        subject = f"{vehicle.name}: {said_of(made[0])}" + (f" (+{len(made) - 1})" if len(made) > 1 else "")
        record(member.workshop, member, "add_note", subject=subject)


def _check_holder(user: User, vehicle: Vehicle, installation_id: int | None) -> None:
    if installation_id is not None and installation_for(user, installation_id).vehicle_id != vehicle.pk:
        raise NotFoundError


@use_case("delete_note", no_version="it is there or it is not; what follows is reckoned anew")
def delete_note(user: User, note_id: int) -> None:
    """Remove a note."""
    member = editor(user)
    mine = Note.objects.filter(vehicle__workshop=member.workshop_id, vehicle__deleted_at=None)
    found = one_of(mine.select_related("vehicle"), note_id)
    record(member.workshop, member, "delete_note", subject=f"{found.vehicle.name}: {said_of(found)}")
    found.delete()


def readings_of(vehicle: Vehicle, kind: str) -> list[Reading]:
    """Readings of the odometer or the hours, the earliest first."""
    rows = vehicle.notes.filter(kind=kind, value__isnull=False).order_by("on", "id").values_list("on", "value")
    return [Reading(on, float(value or 0)) for on, value in rows]


def due_of(user: User, vehicle_id: int) -> list[DueShown]:
    """What is due on a vehicle, the most pressing first."""
    return _due(vehicle_for(user, vehicle_id))


def _due(vehicle: Vehicle) -> list[DueShown]:
    today = timezone.now().date()
    by_kind = {kind: readings_of(vehicle, kind) for kind in ("odometer", "hours")}
    now = {kind: readings[-1].value if readings else None for kind, readings in by_kind.items()}
    found = []
    for item in vehicle.due_items.filter(done_at=None):
        due = Due(**item.due)
        forecasts = [
            forecast
            for kind, limit in (("odometer", due.at_km), ("hours", due.at_hours))
            if limit is not None and (forecast := reached_on(by_kind[kind], limit)) is not None
        ]
        forecast = min(forecasts, key=lambda one: one.on, default=None)
        state = due_state(due, today=today, km=now["odometer"], hours=now["hours"], forecast=forecast)
        found.append(DueShown(item=item, due=due, state=state, forecast=forecast))
    order: tuple[DueState, ...] = ("overdue", "soon", "later")
    return sorted(found, key=lambda one: (order.index(one.state), one.due.on or Date.max, one.item.pk))


@use_case("add_due", no_version="a task is put off once")
def add_due(
    user: User,
    vehicle_id: int,
    text: str,
    *,
    due: Due,
    assigned_to: str,
    installation_id: int | None,
    task_id: int | None = None,
    reason: str = "",
) -> DueItem:
    """Something to be done. Raises `InputError` without words, or without a date, distance or hours.

    An open task that is put off, with a reason, is closed: it is on this list from now on.
    """
    member = editor(user)
    vehicle = vehicle_for(user, vehicle_id)
    if not text.strip():
        raise InputError("Task is missing.", remedy="Write it down.", path="text")
    if task_id is not None and len(reason.strip()) < 3:
        raise InputError("Reason is missing.", remedy="Enter the reason.", path="reason")
    if due.on is None and due.at_km is None and due.at_hours is None:
        raise InputError(
            "Date, distance or hours are missing.", remedy="Enter a date, a distance or hours.", path="due.on"
        )
    if vehicle.due_items.filter(done_at=None).count() >= MOST_DUE:
        raise FullError(MOST_DUE, "open items of a vehicle")
    _check_holder(user, vehicle, installation_id)
    made = DueItem.objects.create(
        vehicle=vehicle,
        installation_id=installation_id,
        text=text.strip()[:240],
        due=due.model_dump(mode="json"),
        assigned_to=assigned_to.strip()[:60],
        reason=reason.strip()[:240],
    )
    if task_id is not None:
        _close_task(vehicle, task_id, member.role, made.pk)
    record(member.workshop, member, "add_due", subject=f"{vehicle.name}: {made.text}", after=made.due)
    return made


def _close_task(vehicle: Vehicle, task_id: int, role: str, due_id: int) -> None:
    tasks = Task.objects.select_for_update(of=("self",)).filter(installation__vehicle=vehicle, done_at=None)
    if not tasks.filter(pk=task_id).update(done_at=timezone.now(), done_by_role=role, put_off_id=due_id):
        raise NotFoundError


def _locked_due(member: Member, item_id: int) -> DueItem:
    mine = DueItem.objects.filter(vehicle__workshop=member.workshop_id, vehicle__deleted_at=None)
    return one_of(mine.select_for_update(of=("self",)).select_related("vehicle"), item_id)


@use_case("change_due", no_version="it is done once")
def finish_due(user: User, item_id: int) -> DueItem:
    """Done: what comes again is due again, counted from now."""
    member = editor(user)
    found = _locked_due(member, item_id)
    if found.done_at is not None:
        return found
    found.done_at, found.done_by_role = timezone.now(), member.role
    found.save(update_fields=["done_at", "done_by_role"])
    km, hours = ([item.value for item in readings_of(found.vehicle, kind)][-1:] for kind in ("odometer", "hours"))
    again = next_due(
        Due(**found.due), done_on=found.done_at.date(), km=km[0] if km else None, hours=hours[0] if hours else None
    )
    if again is not None:
        DueItem.objects.create(
            vehicle=found.vehicle,
            installation=found.installation,
            text=found.text,
            due=again.model_dump(mode="json"),
            assigned_to=found.assigned_to,
        )
    record(member.workshop, member, "change_due", subject=f"{found.vehicle.name}: {found.text}", after={"done": True})
    return found


@use_case("change_due", no_version="the last date holds, with its reason")
def postpone_due(user: User, item_id: int, to: Date, reason: str) -> DueItem:
    """Put it off to a date, with the reason. Raises `InputError` without one."""
    member = editor(user)
    found = _locked_due(member, item_id)
    if len(reason.strip()) < 3:
        raise InputError("Reason is missing.", remedy="Enter the reason.", path="reason")
    due = Due(**found.due)
    found.due = due.model_copy(update={"on": to, "at_km": None, "at_hours": None}).model_dump(mode="json")
    found.reason = reason.strip()[:240]
    found.save(update_fields=["due", "reason"])
    after = {"on": to.isoformat(), "reason": found.reason}
    record(member.workshop, member, "change_due", subject=f"{found.vehicle.name}: {found.text}", after=after)
    return found


@use_case("delete_due", no_version="it is there or it is not")
def delete_due(user: User, item_id: int) -> None:
    """Remove what need not be done."""
    member = editor(user)
    found = _locked_due(member, item_id)
    record(member.workshop, member, "delete_due", subject=f"{found.vehicle.name}: {found.text}")
    found.delete()


@use_case("make_feed", no_version="the last address holds")
def make_feed(user: User, session_key: str = "") -> str:
    """A new calendar for the account: its secret, said once. An earlier one is worthless from now on; this one once the
    device that made it is signed out from elsewhere."""
    member, secret = editor(user), new_secret()
    made = {"secret_sha256": hashed(secret), "session_key": session_key}
    CalendarFeed.objects.update_or_create(user=user, defaults=made)
    record(member.workshop, member, "make_feed", subject="Calendar")
    return secret


@use_case("drop_feed", personal=True)
def drop_feed(user: User) -> None:
    """Make the account's calendar worthless."""
    member = member_of(user)
    if CalendarFeed.objects.filter(user=user).delete()[0]:
        record(member.workshop, member, "drop_feed", subject="Calendar")


def has_feed(user: User) -> bool:
    """Whether the account has a calendar."""
    return CalendarFeed.objects.filter(user=user).exists()


def feed_items(secret: str) -> list[DueShown]:
    """What is due on all vehicles of a calendar's workshop. Raises `NotFoundError` for a secret that is none."""
    feed = CalendarFeed.objects.select_related("user").filter(secret_sha256=hashed(secret)).first()
    if feed is None or not feed.user.is_active:
        raise NotFoundError
    vehicles = Vehicle.objects.filter(workshop=member_of(feed.user).workshop)
    return [shown for vehicle in vehicles for shown in _due(vehicle)]
