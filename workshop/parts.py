"""Parts of a vehicle, and what is due after one was changed."""

from __future__ import annotations

from datetime import date as Date
from datetime import timedelta

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from speedchain.fields import InputError
from speedchain.service import FittedPart, PartKind, follow_ups, part_text
from speedchain.vehicle.part_change import part_changed
from workshop.access import NotFoundError, editor, installation_for, one_of, vehicle_for
from workshop.audit import record
from workshop.installations import Base, head_of, locked_installation, readable, saved
from workshop.models import DueItem, Member, PartRecord, Vehicle
from workshop.vehicles import FullError

MOST_PARTS = 1000
TAKEN_FOR_DONE_DAYS = 30


def parts_of(user: User, vehicle_id: int) -> list[PartRecord]:
    """The parts of a vehicle, those that are fitted first."""
    rows = vehicle_for(user, vehicle_id).parts.all()
    return sorted(rows, key=lambda row: (row.content["removed_on"] is not None, row.pk))


def fitted_on(user: User, installation_id: int) -> list[FittedPart]:
    """The parts that an installation has now."""
    rows = installation_for(user, installation_id).parts.all()
    return [part for row in rows if (part := FittedPart(**row.content)).removed_on is None]


@transaction.atomic
def save_part(
    user: User, vehicle_id: int, part: FittedPart, *, installation_id: int | None, part_id: int | None = None
) -> PartRecord:
    """A new part, or another version of one; a new one brings what is due after it. Raises `InputError`."""
    member = editor(user)
    vehicle = vehicle_for(user, vehicle_id)
    if not part.name.strip():
        raise InputError("The part has no name.", remedy="Enter its name.", path="part.name")
    if part.removed_on is not None and part.removed_on < part.fitted_on:
        raise InputError(
            "The part is removed before it is fitted.", remedy="Enter a later date.", path="part.removed_on"
        )
    if installation_id is not None and installation_for(user, installation_id).vehicle_id != vehicle.pk:
        raise NotFoundError
    content = part.model_dump(mode="json")
    record(member.workshop, member, "save_part", subject=f"{vehicle.name}: {part_text(part)}"[:200], after=content)
    if part_id is not None:
        found = _part(member, part_id)
        if found.vehicle_id != vehicle.pk:
            raise NotFoundError
        found.content, found.installation_id = content, installation_id
        found.save(update_fields=["content", "installation"])
        return found
    if vehicle.parts.count() >= MOST_PARTS:
        raise FullError(MOST_PARTS, "parts of a vehicle")
    made = PartRecord.objects.create(
        vehicle=vehicle, installation_id=installation_id, content=content, created_by_role=member.role
    )
    if part.removed_on is None:
        add_follow_ups(vehicle, installation_id, part.kind, on=part.fitted_on)
        if installation_id is not None:
            void_by_part(member, installation_id, part.kind, on=part.fitted_on)
    return made


def void_by_part(member: Member, installation_id: int, kind: PartKind, *, on: Date) -> None:
    """What was found with the old part says nothing any more: a revision, where anything was."""
    locked = locked_installation(member, installation_id)
    head = head_of(locked)
    now = readable(head)
    if now is not None and (changed := part_changed(now, kind, on)) != now:
        saved(locked, base=Base(head.number, head.amended), installation=changed, member=member)


@transaction.atomic
def delete_part(user: User, part_id: int) -> None:
    """Remove a part that was entered by mistake."""
    member = editor(user)
    found = _part(member, part_id)
    subject = f"{found.vehicle.name}: {part_text(FittedPart(**found.content))}"
    record(member.workshop, member, "delete_part", subject=subject[:200])
    found.delete()


def add_follow_ups(vehicle: Vehicle, installation_id: int | None, kind: PartKind, *, on: Date) -> None:
    """Add what is due after a change, but for what is on the list already, and what must have been done long ago."""
    past = timezone.now().date() - timedelta(days=TAKEN_FOR_DONE_DAYS)
    known = set(vehicle.due_items.filter(done_at=None, installation=installation_id).values_list("text", flat=True))
    for item in follow_ups(kind, on, afloat=vehicle.kind == "boat"):
        if item.text not in known and item.due.on is not None and item.due.on >= past:
            DueItem.objects.create(
                vehicle=vehicle,
                installation_id=installation_id,
                text=item.text,
                due=item.due.model_dump(mode="json"),
            )


def _part(member: Member, part_id: int) -> PartRecord:
    mine = PartRecord.objects.filter(vehicle__workshop=member.workshop_id, vehicle__deleted_at=None)
    return one_of(mine.select_for_update(of=("self",)).select_related("vehicle"), part_id)
