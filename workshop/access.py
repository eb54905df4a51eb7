"""Who may do what: accounts, the workshop they belong to, and what they may see and change."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db.models import Prefetch, QuerySet

from speedchain.wheel.chart import CYCLE_CHART, Chart, chart_row
from workshop.models import InstallationRecord, Member, Task, Vehicle, Workshop


class NotFoundError(Exception):
    """Not there, or of another workshop: the two look the same from outside."""


class ReadOnlyError(Exception):
    """The account may see its workshop and change nothing in it."""


def member_of(user: User) -> Member:
    """The account's place in its workshop, or `NotFoundError`."""
    member = Member.objects.select_related("workshop").filter(user=user).first()
    if member is None:
        raise NotFoundError
    return member


def editor(user: User) -> Member:
    """The same for one who may change things: every use case begins here. Raises `ReadOnlyError`."""
    member = member_of(user)
    if not member.may_edit:
        raise ReadOnlyError
    return member


def workshop_of(user: User) -> Workshop:
    """The workshop that an account belongs to."""
    return member_of(user).workshop


def chart_of(user: User) -> Chart:
    """The workshop's cycle chart, or the one every workshop starts from."""
    rows = Workshop.objects.filter(members__user=user).values_list("cycle_chart", flat=True).first()
    return chart_from(rows)


def chart_from(rows: list[list[object]] | None) -> Chart:
    """A chart as the core takes it, from its stored rows."""
    return CYCLE_CHART if rows is None else tuple([chart_row(str(label), float(str(mm))) for label, mm in rows])


def vehicles_of(user: User) -> QuerySet[Vehicle]:
    """All vehicles of the account's workshop, with their installations."""
    mine = Vehicle.objects.filter(workshop__members__user=user).select_related("workshop")
    return mine.prefetch_related(
        Prefetch("installations", InstallationRecord.objects.order_by("id")),
        Prefetch("installations__tasks", Task.objects.filter(done_at=None)),
    )


def vehicle_for(user: User, vehicle_id: int) -> Vehicle:
    """One vehicle of the account's workshop, or `NotFoundError`."""
    vehicle = vehicles_of(user).filter(pk=vehicle_id).first()
    if vehicle is None:
        raise NotFoundError
    return vehicle


def installation_for(user: User, installation_id: int) -> InstallationRecord:
    """One installation of the account's workshop, or `NotFoundError`."""
    record = (
        InstallationRecord.objects.select_related("vehicle")
        .filter(pk=installation_id, vehicle__workshop__members__user=user, vehicle__deleted_at=None)
        .first()
    )
    if record is None:
        raise NotFoundError
    return record
