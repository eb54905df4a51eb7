"""Parts of a vehicle, and what is due after one was changed."""

from __future__ import annotations

from datetime import date as Date
from datetime import timedelta

from django.contrib.auth.models import User
from django.utils import timezone
from pydantic import ValidationError

from speedchain.fields import InputError, PartLabel, problems_from_pydantic
from speedchain.service import FittedPart, PartKind, follow_ups, part_text
from speedchain.vehicle.part_change import labelled_by, part_changed, settings_forgotten
from workshop.access import NotFoundError, editor, installation_for, one_of, vehicle_for
from workshop.audit import record
from workshop.installations import Base, head_of, locked_installation, readable, saved
from workshop.models import DueItem, InstallationRecord, Member, PartRecord, Vehicle
from workshop.tyres import tyres_changed
from workshop.use_cases import use_case
from workshop.vehicles import FullError, refuse_stale
from workshop.wear import TYRES, renew_wear

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


@use_case("save_part", "save_installation", no_version="a new part, and what follows from it")
def add_part(user: User, vehicle_id: int, part: FittedPart, *, installation_id: int | None) -> PartRecord:
    """A new part, and what is due after it. Raises `InputError`."""
    member = editor(user)
    vehicle = vehicle_for(user, vehicle_id)
    label = _checked(user, vehicle, part, installation_id)
    content = part.model_dump(mode="json")
    record(member.workshop, member, "save_part", subject=f"{vehicle.name}: {part_text(part)}"[:200], after=content)
    if vehicle.parts.count() >= MOST_PARTS:
        raise FullError(MOST_PARTS, "parts of a vehicle")
    made = PartRecord.objects.create(
        vehicle=vehicle, installation_id=installation_id, content=content, created_by_role=member.role
    )
    if part.removed_on is None:
        add_follow_ups(user, vehicle, installation_id, part.kind, on=part.fitted_on)
        if installation_id is not None:
            void_by_part(member, installation_id, part.kind, on=part.fitted_on, label=label)
            if part.kind == "display":
                _forget_settings(member, installation_id, part.fitted_on)
    return made


@use_case("save_part", "save_installation")
def change_part(
    user: User, vehicle_id: int, part_id: int, part: FittedPart, *, base: int, installation_id: int | None
) -> PartRecord:
    """Another version of a part, such as the day on which it was removed. Raises `InputError`, `StaleError`."""
    member = editor(user)
    vehicle = vehicle_for(user, vehicle_id)
    _checked(user, vehicle, part, installation_id)
    found = _part(member, part_id)
    if found.vehicle_id != vehicle.pk:
        raise NotFoundError
    refuse_stale(base, found.version)
    before, content = found.content, part.model_dump(mode="json")
    subject = f"{vehicle.name}: {part_text(part)}"[:200]
    record(member.workshop, member, "save_part", subject=subject, before=before, after=content)
    found.content, found.installation_id, found.version = content, installation_id, found.version + 1
    found.save(update_fields=["content", "installation", "version"])
    if before["removed_on"] is None and part.removed_on is not None and installation_id is not None:
        void_by_part(member, installation_id, part.kind, on=part.removed_on)
    return found


def _checked(user: User, vehicle: Vehicle, part: FittedPart, installation_id: int | None) -> PartLabel:
    """What is written on a part that may be kept; else `InputError`."""
    if not part.name.strip():
        raise InputError("The part has no name.", remedy="Enter its name.", path="part.name")
    label = _label_of(part)
    if part.removed_on is not None and part.removed_on < part.fitted_on:
        raise InputError(
            "The part is removed before it is fitted.", remedy="Enter a later date.", path="part.removed_on"
        )
    if installation_id is not None and installation_for(user, installation_id).vehicle_id != vehicle.pk:
        raise NotFoundError
    return label


def _label_of(part: FittedPart) -> PartLabel:
    """What is written on it, as the installation keeps it. Raises `InputError`."""
    try:
        return PartLabel(name=part.name, number=part.supplier_number)
    except ValidationError as error:
        problem = problems_from_pydantic(error.errors(include_url=False))[0]
        path = "part.name" if problem.path == "name" else "part.supplier_number"
        raise InputError(problem.message, remedy=problem.remedy, limit=problem.limit, path=path) from None


def replace_part(user: User, holder: InstallationRecord, part: FittedPart) -> PartRecord:
    """Fit a part in place of the one of its kind on an installation, if that is kept. Raises `InputError`."""
    for old in holder.parts.select_for_update():
        known = FittedPart(**old.content)
        if known.kind == part.kind and known.removed_on is None:
            removed = known.model_copy(update={"removed_on": max(part.fitted_on, known.fitted_on)})
            change_part(user, holder.vehicle_id, old.pk, removed, base=old.version, installation_id=holder.pk)
    return add_part(user, holder.vehicle_id, part, installation_id=holder.pk)


def void_by_part(
    member: Member, installation_id: int, kind: PartKind, *, on: Date, label: PartLabel | None = None
) -> None:
    """What was found with the old part says nothing any more, and the new one has its own label: a revision, where that
    changes anything."""
    locked = locked_installation(member, installation_id)
    head = head_of(locked)
    now = readable(head)
    if now is None:
        return
    changed = part_changed(now, kind, on)
    if label is not None:
        changed = labelled_by(changed, kind, label)
    if changed != now:
        saved(locked, base=Base(head.number, head.amended), installation=changed, member=member)


def _forget_settings(member: Member, installation_id: int, fitted_on: Date) -> None:
    """Numbers that were read back from the old display, and not entered again since, are not in the new one."""
    locked = locked_installation(member, installation_id)
    head = head_of(locked)
    now = readable(head)
    before = locked.revisions.filter(created_at__date__lte=fitted_on).order_by("-number").first()
    then = readable(before) if before is not None else None
    if now is None or then is None:
        return
    changed = settings_forgotten(now, then)
    if changed != now:
        saved(locked, base=Base(head.number, head.amended), installation=changed, member=member)


@use_case("delete_part", "save_installation")
def delete_part(user: User, part_id: int) -> None:
    """Remove a part that was entered by mistake."""
    member = editor(user)
    found = _part(member, part_id)
    subject = f"{found.vehicle.name}: {part_text(FittedPart(**found.content))}"
    record(member.workshop, member, "delete_part", subject=subject[:200])
    found.delete()


def add_follow_ups(user: User, vehicle: Vehicle, installation_id: int | None, kind: PartKind, *, on: Date) -> None:
    """Add what is due after a change, but for what must have been done long ago. What is on the list already was of the
    part before: it is due anew, counted from this one. Wear is forecast anew with another tyre."""
    past = timezone.now().date() - timedelta(days=TAKEN_FOR_DONE_DAYS)
    open_items = {item.text: item for item in vehicle.due_items.filter(done_at=None, installation=installation_id)}
    for item in follow_ups(kind, on, afloat=vehicle.kind == "boat"):
        known = open_items.get(item.text)
        if known is not None and item.due.on is not None:
            if known.due["on"] is None or known.due["on"] < item.due.on.isoformat():
                known.due, known.reason = item.due.model_dump(mode="json"), ""
                known.save(update_fields=["due", "reason"])
        elif item.due.on is not None and item.due.on >= past:
            DueItem.objects.create(
                vehicle=vehicle,
                installation_id=installation_id,
                text=item.text,
                due=item.due.model_dump(mode="json"),
            )
    if kind in TYRES:
        tyres_changed(vehicle, on)
        renew_wear(user, vehicle)


def _part(member: Member, part_id: int) -> PartRecord:
    mine = PartRecord.objects.filter(vehicle__workshop=member.workshop_id, vehicle__deleted_at=None)
    return one_of(mine.select_for_update(of=("self",)).select_related("vehicle"), part_id)
