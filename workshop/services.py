"""What a workshop does: keep vehicles and installations, save revisions, refuse what is stale."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import IntegrityError, transaction
from django.db.models import F, Prefetch, QuerySet
from django.utils import timezone

from speedchain import DocumentError, Evaluation, Installation, SpeedchainError, evaluate, read_installation
from speedchain.vehicle.tyre_change import NewTyre, TyreChange, change_tyre
from speedchain.wheel.chart import CYCLE_CHART, Chart, chart_row
from workshop.changes import summarise
from workshop.models import DueItem, InstallationRecord, Member, Revision, Vehicle, Workshop

MAX_VEHICLES = 500
MAX_INSTALLATIONS = 100


class NotFoundError(Exception):
    """Not there, or of another workshop: the two look the same from outside."""


class NameTakenError(Exception):
    """The workshop has a vehicle of that name already."""


@dataclass(frozen=True)
class FullError(Exception):
    """A workshop or a vehicle holds as many as it may."""

    limit: int
    what: str


@dataclass(frozen=True)
class StaleError(Exception):
    """A write that started from a version which is no longer the newest; of an installation, with its newest revision."""

    base: int
    newest: int
    head: Revision | None = None


def workshop_of(user: User) -> Workshop:
    """The workshop an account belongs to."""
    member = Member.objects.select_related("workshop").filter(user=user).first()
    if member is None:
        raise NotFoundError
    return member.workshop


def chart_of(user: User) -> Chart:
    """The workshop's cycle chart, or the one every workshop starts from."""
    rows = Workshop.objects.filter(members__user=user).values_list("cycle_chart", flat=True).first()
    return _chart(rows)


def _chart(rows: Any) -> Chart:
    return CYCLE_CHART if rows is None else tuple([chart_row(label, mm) for label, mm in rows])


def chart_version_of(user: User) -> int:
    """The version of the workshop's cycle chart."""
    return workshop_of(user).chart_version


@transaction.atomic
def save_chart(user: User, base: int, chart: Chart | None) -> None:
    """Keep the workshop's own cycle chart; None goes back to the one it started from. Raises `StaleError`."""
    workshop = Workshop.objects.select_for_update().get(pk=workshop_of(user).pk)
    rows = None if chart is None else [[row.label, row.circumference_mm] for row in chart]
    if rows == workshop.cycle_chart:
        return
    _refuse_stale(base, workshop.chart_version)
    workshop.cycle_chart = rows
    workshop.chart_version += 1
    workshop.save(update_fields=["cycle_chart", "chart_version"])


def _refuse_stale(base: int, newest: int) -> None:
    if base != newest:
        raise StaleError(base, newest)


def choose_units(user: User, units: str) -> None:
    """Keep how a person reads speeds and lengths."""
    Member.objects.filter(user=user).update(units=units)


def vehicles_of(user: User) -> QuerySet[Vehicle]:
    """All vehicles of the account's workshop, with their installations."""
    return Vehicle.objects.filter(workshop__members__user=user).prefetch_related(
        Prefetch("installations", InstallationRecord.objects.order_by("id")),
        Prefetch("installations__due", DueItem.objects.filter(done_at=None)),
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
        .filter(pk=installation_id, vehicle__workshop__members__user=user)
        .first()
    )
    if record is None:
        raise NotFoundError
    return record


@transaction.atomic
def add_vehicle(workshop: Workshop, name: str, kind: str, note: str = "") -> Vehicle:
    """A new vehicle; its name is not yet taken in the workshop."""
    Workshop.objects.select_for_update().get(pk=workshop.pk)  # so that the count stays exact
    if Vehicle.objects.filter(workshop=workshop).count() >= MAX_VEHICLES:
        raise FullError(MAX_VEHICLES, "vehicles in a workshop")
    with _names_apart():
        return Vehicle.objects.create(workshop=workshop, name=name, kind=kind, note=note)


@transaction.atomic
def change_vehicle(vehicle: Vehicle, base: int, name: str, kind: str, note: str) -> Vehicle:
    """Rename or describe a vehicle. Raises `StaleError`, `NameTakenError`."""
    locked = _locked_vehicle(vehicle.pk)
    if (locked.name, locked.kind, locked.note) == (name, kind, note):
        return locked
    _refuse_stale(base, locked.version)
    locked.name, locked.kind, locked.note, locked.version = name, kind, note, locked.version + 1
    with _names_apart():
        locked.save(update_fields=["name", "kind", "note", "version"])
    return locked


@transaction.atomic
def save_sheet(vehicle: Vehicle, base: int, settings: dict[str, Any]) -> Vehicle:
    """Keep what the installations of a vehicle are compared at. Raises `StaleError`."""
    locked = _locked_vehicle(vehicle.pk)
    if locked.sheet == settings:
        return locked
    _refuse_stale(base, locked.sheet_version)
    locked.sheet, locked.sheet_version = settings, locked.sheet_version + 1
    locked.save(update_fields=["sheet", "sheet_version"])
    return locked


@transaction.atomic
def delete_vehicle(vehicle: Vehicle, base: int) -> None:
    """Delete a vehicle with its installations. Raises `StaleError`."""
    locked = _locked_vehicle(vehicle.pk)
    _refuse_stale(base, locked.version)
    locked.delete()


def _locked_vehicle(vehicle_id: int) -> Vehicle:
    """The vehicle's row, held until the end of the transaction; `NotFoundError` when it was deleted meanwhile."""
    vehicle = Vehicle.objects.select_for_update().filter(pk=vehicle_id).first()
    if vehicle is None:
        raise NotFoundError
    return vehicle


@contextmanager
def _names_apart() -> Iterator[None]:
    """A violation of the constraint on names, and of no other, as `NameTakenError`."""
    try:
        with transaction.atomic():
            yield
    except IntegrityError as error:
        diagnosis = getattr(error.__cause__, "diag", None)
        if diagnosis is None or diagnosis.constraint_name != "vehicle_name_once_per_workshop":
            raise
        raise NameTakenError from error


@transaction.atomic
def add_installation(vehicle: Vehicle, installation: Installation, author: User | None) -> InstallationRecord:
    """A new installation with its first revision."""
    locked = _locked_vehicle(vehicle.pk)
    if locked.installations.count() >= MAX_INSTALLATIONS:
        raise FullError(MAX_INSTALLATIONS, "installations on a vehicle")
    record = InstallationRecord.objects.create(vehicle=locked)
    _append(record, None, installation, author)
    return record


@transaction.atomic
def save_installation(
    record: InstallationRecord, base: int, installation: Installation, author: User | None
) -> Revision:
    """Save a changed installation as the next revision.

    The row of the installation is locked, so of two saves from the same base exactly one comes through; the other
    raises `StaleError` with the newest revision. Saving what is there already makes no revision.
    """
    locked = _locked_installation(record.pk)
    head = locked.revisions.get(number=locked.head)
    before = readable(head)
    if before == installation:
        return head
    if base != locked.head:
        raise StaleError(base, locked.head, head)
    return _append(locked, before, installation, author)


@transaction.atomic
def delete_installation(record: InstallationRecord, base: int) -> None:
    """Delete an installation with its revisions. Raises `StaleError` when somebody has saved a newer one."""
    locked = _locked_installation(record.pk)
    if base != locked.head:
        raise StaleError(base, locked.head)
    locked.delete()


def _locked_installation(installation_id: int) -> InstallationRecord:
    """The installation's row, held until the end of the transaction; `NotFoundError` when it was deleted meanwhile."""
    installations = InstallationRecord.objects.select_for_update(of=("self",)).select_related("vehicle__workshop")
    record = installations.filter(pk=installation_id).first()
    if record is None:
        raise NotFoundError
    return record


def _append(
    record: InstallationRecord, before: Installation | None, installation: Installation, author: User | None
) -> Revision:
    chart = _chart(record.vehicle.workshop.cycle_chart)
    now = evaluate(installation, chart)
    was = None if before is None else _evaluated(before, chart)
    member = Member.objects.filter(user=author).first() if author is not None else None
    record.head += 1
    record.save(update_fields=["head"])
    return Revision.objects.create(
        installation=record,
        number=record.head,
        document=installation.model_dump(mode="json"),
        author=author,
        author_role=member.role if member else "",
        summary=summarise(before, installation, was, now, record.head),
        true_kmh=now.shown.true_kmh,
        shown_kmh=now.shown.shown_kmh,
        shown_before_kmh=was.shown.shown_kmh if was else None,
    )


def _evaluated(installation: Installation, chart: Chart) -> Evaluation | None:
    """The evaluation of a stored document, or None when today's rules refuse it: it must not stop its correction."""
    try:
        return evaluate(installation, chart)
    except SpeedchainError:
        return None


def readable(revision: Revision) -> Installation | None:
    """A revision's document, or None when today's rules refuse it."""
    try:
        return read_installation(revision.document)
    except DocumentError:
        return None


def head_of(record: InstallationRecord) -> Revision:
    """The newest revision of an installation; `NotFoundError` when it was deleted meanwhile."""
    head = record.revisions.order_by("-number").first()
    if head is None:
        raise NotFoundError
    return head


def heads_of(vehicles: list[Vehicle]) -> dict[int, Revision]:
    """The newest revision of every installation on these vehicles, by installation id, in one query."""
    newest = Revision.objects.filter(installation__vehicle__in=vehicles, number=F("installation__head")).select_related(
        "installation"
    )
    return {revision.installation_id: revision for revision in newest}


def tyre_change(record: InstallationRecord, installation: Installation, new: NewTyre, user: User) -> TyreChange:
    """What a new tyre on this installation's wheel does, against the other installations of the vehicle."""
    heads = Revision.objects.filter(installation__vehicle=record.vehicle_id, number=F("installation__head")).exclude(
        installation=record
    )
    chart = chart_of(user)
    others = [readable(revision) for revision in heads.order_by("installation_id")]
    usable = [one for one in others if one is not None and _evaluated(one, chart) is not None]
    return change_tyre(installation, new, tuple(usable), chart)


@transaction.atomic
def fit_tyre(record: InstallationRecord, base: int, installation: Installation, new: NewTyre, author: User) -> Revision:
    """Put the new tyre on: the next revision, and due items for all that has to be done again."""
    head = _locked_installation(record.pk).head
    change = tyre_change(record, installation, new, author)
    revision = save_installation(record, base, change.after, author)
    if revision.number == head:  # it is on already: nothing more to do
        return revision
    now = timezone.now()
    DueItem.objects.bulk_create(
        [DueItem(installation=record, stage=item.stage, text=item.text[:240], created_at=now) for item in change.due]
    )
    return revision


def due_of(record: InstallationRecord) -> QuerySet[DueItem]:
    """What is due on an installation, and what was; the newest change first, in an order that ticking does not disturb."""
    return record.due.order_by("-created_at", "id")


@transaction.atomic
def tick_due(user: User, item_id: int, done: bool) -> DueItem:
    """Say that a due item is done, or that it is not."""
    mine = DueItem.objects.filter(installation__vehicle__workshop__members__user=user)
    item = mine.select_for_update(of=("self",)).filter(pk=item_id).first()
    if item is None:
        raise NotFoundError
    if (item.done_at is not None) == done:
        return item
    member = Member.objects.filter(user=user).first()
    item.done_at = timezone.now() if done else None
    item.done_by_role = member.role if member and done else ""
    item.save(update_fields=["done_at", "done_by_role"])
    return item
