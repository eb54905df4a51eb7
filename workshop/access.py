"""Who may do what: accounts, the workshop they belong to, and what they may see and change."""

from __future__ import annotations

from typing import TypeVar

from django.contrib.auth.models import User
from django.db.models import Model, Prefetch, QuerySet

from speedchain.fields import InputError
from speedchain.wheel.chart import CYCLE_CHART, Chart, chart_row
from workshop.models import FaultRecord, InstallationRecord, Member, RecordingRecord, Task, Vehicle, Workshop
from workshop.storage import refuse_without_space
from workshop.use_cases import under_way

Row = TypeVar("Row", bound=Model)
IN_USE = {"installation__deleted_at": None, "installation__vehicle__deleted_at": None}
"""Rows of an installation that is not in the bin, nor its vehicle."""


class NotFoundError(Exception):
    """Not there, or of another workshop: the two look the same from outside."""


class ReadOnlyError(Exception):
    """The account may see its workshop and change nothing in it."""


def one_of(rows: QuerySet[Row], number: int) -> Row:
    """The one of some rows with a number, or `NotFoundError`."""
    found = rows.filter(pk=number).first()
    if found is None:
        raise NotFoundError
    return found


def member_of(user: User) -> Member:
    """The account's place in its workshop, or `NotFoundError`."""
    member = Member.objects.select_related("workshop").filter(user=user).first()
    if member is None:
        raise NotFoundError
    return member


def editor(user: User) -> Member:
    """The same for one who may change things: every use case begins here. Raises `ReadOnlyError`, `NoSpaceError`."""
    refuse_without_space()
    member = member_of(user)
    if not member.may_edit:
        raise ReadOnlyError
    under_way().asked = True
    return member


def workshop_of(user: User) -> Workshop:
    """The workshop that an account belongs to."""
    return member_of(user).workshop


def locked_workshop(member: Member) -> Workshop:
    """The workshop of a member, locked: the first of all locks.

    Locks are taken in one order, so that no two requests wait for each other: workshop, vehicle, installation, sheet or
    fault, recording, work. They let rows be added that refer to what is locked (`FOR NO KEY UPDATE`).
    """
    return Workshop.objects.select_for_update(no_key=True).get(pk=member.workshop_id)


def locked_recording(found: RecordingRecord) -> RecordingRecord:
    """A recording, locked. Raises `NotFoundError` where it is gone."""
    locked = RecordingRecord.everything.select_for_update(no_key=True, of=("self",)).filter(pk=found.pk)
    there = locked.select_related("vehicle").first()
    if there is None:
        raise NotFoundError
    return there


def chart_of(user: User) -> Chart:
    """The workshop's cycle chart, or the one every workshop starts from."""
    rows = Workshop.objects.filter(members__user=user).values_list("cycle_chart", flat=True).first()
    return chart_from(rows)


def chart_from(rows: list[list[object]] | None) -> Chart:
    """A chart as the core takes it, from its stored rows."""
    return CYCLE_CHART if rows is None else tuple([chart_row(str(label), float(str(mm))) for label, mm in rows])


def vehicles_of(user: User) -> QuerySet[Vehicle]:
    """All vehicles of the account's workshop, with their installations and what of them is open."""
    return _mine(user).prefetch_related(
        Prefetch("installations", InstallationRecord.objects.order_by("id")),
        Prefetch("installations__tasks", Task.objects.filter(done_at=None)),
        Prefetch("installations__faults", FaultRecord.objects.filter(closed_at=None).only("id", "installation_id")),
    )


def vehicle_for(user: User, vehicle_id: int) -> Vehicle:
    """One vehicle of the account's workshop, or `NotFoundError`."""
    return one_of(_mine(user), vehicle_id)


def _mine(user: User) -> QuerySet[Vehicle]:
    return Vehicle.objects.filter(workshop__members__user=user).select_related("workshop")


def installation_for(user: User, installation_id: int) -> InstallationRecord:
    """One installation of the account's workshop, or `NotFoundError`."""
    mine = InstallationRecord.objects.filter(vehicle__workshop__members__user=user, vehicle__deleted_at=None)
    return one_of(mine.select_related("vehicle"), installation_id)


def recording_for(user: User, recording_id: int) -> RecordingRecord:
    """One recording of the account's workshop, or `NotFoundError`."""
    mine = RecordingRecord.objects.filter(vehicle__workshop__members__user=user, vehicle__deleted_at=None)
    return one_of(mine.select_related("vehicle"), recording_id)


def recording_read(user: User, recording_id: int) -> RecordingRecord:
    """The same for one that has been read, or an `InputError`."""
    found = recording_for(user, recording_id)
    if found.summary is None:
        raise InputError("This recording is not read yet.", remedy="Wait until it is read.", path="recording")
    return found
