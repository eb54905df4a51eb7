"""The parts shelf: sensors, targets and displays of the workshop, entered once."""

from __future__ import annotations

from django.contrib.auth.models import User

from speedchain.fields import PartLabel
from speedchain.shelf import ShelfPart, read_shelf_part
from workshop.access import editor, locked_workshop, member_of, one_of
from workshop.audit import record
from workshop.models import Member, ShelfRecord
from workshop.use_cases import use_case
from workshop.vehicles import FullError, refuse_stale

MOST_ON_SHELF = 500


def shelf_of(user: User) -> list[ShelfRecord]:
    """What is on the shelf, in the order in which it came there."""
    return list(ShelfRecord.objects.filter(workshop=member_of(user).workshop))


def shelf_part(user: User, part_id: int) -> ShelfPart:
    """One part of the account's workshop, or `NotFoundError`; `DocumentError` for one that today's limits refuse."""
    found = one_of(ShelfRecord.objects.filter(workshop=member_of(user).workshop), part_id)
    return read_shelf_part(found.content)


@use_case("save_shelf_part", no_version="what is known anew of a part of this name and number")
def add_to_shelf(user: User, part: ShelfPart) -> ShelfRecord:
    """A new part, or what is known anew of one with this name and number. Raises `FullError`."""
    member = editor(user)
    workshop = locked_workshop(member)  # so that the count stays exact
    content, label = part.model_dump(mode="json"), part.label
    known = workshop.shelf.filter(content__kind=part.kind, content__label__name=label.name)
    same = known.filter(content__label__number=label.number).first()
    before = same.content if same is not None else None
    record(workshop, member, "save_shelf_part", subject=label.name, before=before, after=content)
    if same is not None:
        same.content, same.version = content, same.version + 1
        same.save()
        return same
    if workshop.shelf.count() >= MOST_ON_SHELF:
        raise FullError(MOST_ON_SHELF, "parts on the shelf")
    return ShelfRecord.objects.create(workshop=workshop, content=content)


@use_case("save_shelf_part")
def relabel(user: User, part_id: int, label: PartLabel, base: int) -> ShelfRecord:
    """Correct what is written on a part. Raises `DocumentError`, `StaleError` when somebody else saved it since."""
    member = editor(user)
    found = _held(member, part_id)
    refuse_stale(base, found.version)
    before = found.content
    part = read_shelf_part(before | {"label": label.model_dump()})
    found.content, found.version = part.model_dump(mode="json"), found.version + 1
    found.save()
    record(
        member.workshop,
        member,
        "save_shelf_part",
        subject=label.name,
        before=before["label"],
        after=found.content["label"],
    )
    return found


@use_case("delete_shelf_part")
def delete_shelf_part(user: User, part_id: int) -> None:
    """Take a part off the shelf; installations that have it stay as they are."""
    member = editor(user)
    found = _held(member, part_id)
    record(member.workshop, member, "delete_shelf_part", subject=found.content["label"]["name"], before=found.content)
    found.delete()


def _held(member: Member, part_id: int) -> ShelfRecord:
    return one_of(ShelfRecord.objects.select_for_update().filter(workshop=member.workshop), part_id)
