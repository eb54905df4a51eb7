"""The bin: what was deleted can be restored for thirty days, and is gone after them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, Literal

from axes.models import AccessAttempt
from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.db import transaction
from django.utils import timezone

from workshop.access import NotFoundError, editor, member_of
from workshop.audit import record
from workshop.models import InstallationRecord, RecordingRecord, Revision, Vehicle
from workshop.use_cases import use_case
from workshop.vehicles import names_apart

KEPT = timedelta(days=30)
FAILURES_KEPT = timedelta(days=1)
Kind = Literal["vehicle", "installation", "recording"]


@dataclass(frozen=True, slots=True)
class BinItem:
    """Something in the bin: what it is, where it was, when and by whom it was deleted, and until when it is kept."""

    kind: Kind
    id: int
    name: str
    vehicle: str
    deleted_at: datetime
    deleted_by: str
    kept_until: datetime


def purge_bins() -> None:
    """Remove for good what has lain in a bin for thirty days; each thing is in the audit."""
    too_old = {"deleted_at__lt": timezone.now() - KEPT}
    for kind, items in (
        ("recording", RecordingRecord.everything.select_related("vehicle__workshop")),
        ("installation", InstallationRecord.everything.select_related("vehicle__workshop")),
        ("vehicle", Vehicle.everything.select_related("workshop")),
    ):
        for found in items.filter(**too_old):
            with transaction.atomic():
                workshop = found.workshop if isinstance(found, Vehicle) else found.vehicle.workshop
                record(workshop, None, f"purge_{kind}", subject=_subject(found))
                found.delete()


def purge_sign_ins() -> None:
    """Forget failed sign-ins that no longer count, and sessions that ended."""
    AccessAttempt.objects.filter(attempt_time__lt=timezone.now() - FAILURES_KEPT).delete()
    Session.objects.filter(expire_date__lt=timezone.now()).delete()


def _held() -> dict[str, datetime]:
    return {"deleted_at__gte": timezone.now() - KEPT}


def bin_of(user: User) -> list[BinItem]:
    """What is in the workshop's bin, the latest first."""
    workshop = member_of(user).workshop
    there = {"vehicle__workshop": workshop, "vehicle__deleted_at": None}
    vehicles = Vehicle.everything.filter(workshop=workshop, **_held())
    installations = InstallationRecord.everything.filter(**there, **_held()).select_related("vehicle")
    recordings = RecordingRecord.everything.filter(**there, **_held()).select_related("vehicle")
    items = [_item("vehicle", one, name=one.name, vehicle=one.name) for one in vehicles]
    items += [_item("installation", one, name=_name(one), vehicle=one.vehicle.name) for one in installations]
    items += [_item("recording", one, name=one.name, vehicle=one.vehicle.name) for one in recordings]
    return sorted(items, key=lambda item: item.deleted_at, reverse=True)


def _item(kind: Kind, found: Vehicle | InstallationRecord | RecordingRecord, *, name: str, vehicle: str) -> BinItem:
    assert found.deleted_at is not None
    return BinItem(
        kind=kind,
        id=found.pk,
        name=name,
        vehicle=vehicle,
        deleted_at=found.deleted_at,
        deleted_by=found.deleted_by_role,
        kept_until=found.deleted_at + KEPT,
    )


@use_case("restore_vehicle", "restore_installation", "restore_recording", no_version="it is in the bin or it is not")
def restore(user: User, kind: Kind, item_id: int) -> None:
    """Take something out of the bin. Raises `NotFoundError`, and `NameTakenError` for a vehicle whose name is taken
    now."""
    member = editor(user)
    found: Vehicle | InstallationRecord | RecordingRecord | None
    if kind == "vehicle":
        vehicles = Vehicle.everything.filter(workshop=member.workshop_id, **_held())
        found = vehicles.select_for_update(of=("self",)).filter(pk=item_id).first()
    else:
        items = RecordingRecord.everything if kind == "recording" else InstallationRecord.everything
        there: Any = items.filter(vehicle__workshop=member.workshop_id, vehicle__deleted_at=None)
        found = there.filter(**_held()).select_for_update(of=("self",)).filter(pk=item_id).first()
    if found is None:
        raise NotFoundError
    found.deleted_at, found.deleted_by_role = None, ""
    with names_apart():
        found.save(update_fields=["deleted_at", "deleted_by_role"])
    record(member.workshop, member, f"restore_{kind}", subject=_subject(found))


def _subject(found: Vehicle | InstallationRecord | RecordingRecord) -> str:
    return found.name if isinstance(found, Vehicle) else f"{found.vehicle.name}: {_name(found)}"


def _name(found: InstallationRecord | RecordingRecord) -> str:
    if isinstance(found, RecordingRecord):
        return found.name
    head = Revision.objects.filter(installation=found).first()
    return str(head.document.get("name") or "without a name") if head else "without a name"
