"""What a workshop does: keep vehicles and fits, save revisions, refuse what is stale."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import IntegrityError, transaction
from django.db.models import F, Prefetch, QuerySet
from django.utils import timezone

from speedchain import Evaluation, Fit, evaluate, read_fit
from speedchain.tyre_change import NewTyre, TyreChange, change_tyre
from speedchain.wheel.chart import CYCLE_CHART, Chart, chart_row
from workshop.changes import summarise
from workshop.models import DueItem, FitRecord, Member, Revision, Vehicle, Workshop

MAX_VEHICLES = 500
MAX_FITS = 100


class NotFoundError(Exception):
    """Not there, or of another workshop: the two look the same from outside."""


class NameTakenError(Exception):
    """The workshop has a vehicle of that name already."""


class FullError(Exception):
    """A workshop or a vehicle holds as many as it may."""


@dataclass(frozen=True)
class StaleError(Exception):
    """A save that started from a revision which is no longer the newest."""

    base: int
    head: Revision


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


def save_chart(user: User, chart: Chart | None) -> None:
    """Keep the workshop's own cycle chart; None goes back to the one it started from."""
    workshop = workshop_of(user)
    workshop.cycle_chart = None if chart is None else [[row.label, row.circumference_mm] for row in chart]
    workshop.save(update_fields=["cycle_chart"])


def choose_units(user: User, units: str) -> None:
    """Keep how a person reads speeds and lengths."""
    Member.objects.filter(user=user).update(units=units)


def vehicles_of(user: User) -> QuerySet[Vehicle]:
    """All vehicles of the account's workshop, with their fits."""
    return Vehicle.objects.filter(workshop__members__user=user).prefetch_related(
        Prefetch("fits", FitRecord.objects.order_by("id")),
        Prefetch("fits__due", DueItem.objects.filter(done_at=None)),
    )


def vehicle_for(user: User, vehicle_id: int) -> Vehicle:
    """One vehicle of the account's workshop, or `NotFoundError`."""
    vehicle = vehicles_of(user).filter(pk=vehicle_id).first()
    if vehicle is None:
        raise NotFoundError
    return vehicle


def fit_for(user: User, fit_id: int) -> FitRecord:
    """One fit of the account's workshop, or `NotFoundError`."""
    record = (
        FitRecord.objects.select_related("vehicle").filter(pk=fit_id, vehicle__workshop__members__user=user).first()
    )
    if record is None:
        raise NotFoundError
    return record


def add_vehicle(workshop: Workshop, name: str, kind: str, note: str = "") -> Vehicle:
    """A new vehicle; its name is not yet taken in the workshop."""
    if Vehicle.objects.filter(workshop=workshop).count() >= MAX_VEHICLES:
        raise FullError
    try:
        with transaction.atomic():
            return Vehicle.objects.create(workshop=workshop, name=name, kind=kind, note=note)
    except IntegrityError as error:
        raise NameTakenError from error


def change_vehicle(vehicle: Vehicle, name: str, kind: str, note: str) -> Vehicle:
    """Rename or describe a vehicle."""
    vehicle.name, vehicle.kind, vehicle.note = name, kind, note
    try:
        with transaction.atomic():
            vehicle.save()
    except IntegrityError as error:
        raise NameTakenError from error
    return vehicle


@transaction.atomic
def add_fit(vehicle: Vehicle, fit: Fit, author: User | None) -> FitRecord:
    """A new fit with its first revision."""
    if vehicle.fits.count() >= MAX_FITS:
        raise FullError
    record = FitRecord.objects.create(vehicle=vehicle)
    _append(record, None, fit, author)
    return record


@transaction.atomic
def save_fit(record: FitRecord, base: int, fit: Fit, author: User | None) -> Revision:
    """Save a changed fit as the next revision.

    The row of the fit is locked, so of two saves from the same base exactly one comes through; the other
    raises `StaleError` with the newest revision. Saving what is there already makes no revision.
    """
    locked = FitRecord.objects.select_for_update(of=("self",)).select_related("vehicle__workshop").get(pk=record.pk)
    head = locked.revisions.get(number=locked.head)
    before = read_fit(head.document)
    if before == fit:
        return head
    if base != locked.head:
        raise StaleError(base, head)
    return _append(locked, before, fit, author)


def _append(record: FitRecord, before: Fit | None, fit: Fit, author: User | None) -> Revision:
    chart = _chart(record.vehicle.workshop.cycle_chart)
    now = evaluate(fit, chart)
    was: Evaluation | None = evaluate(before, chart) if before is not None else None
    member = Member.objects.filter(user=author).first() if author is not None else None
    record.head += 1
    record.save(update_fields=["head"])
    return Revision.objects.create(
        fit=record,
        number=record.head,
        document=fit.model_dump(mode="json"),
        author=author,
        author_role=member.role if member else "",
        summary=summarise(before, fit, was, now),
        true_kmh=now.shown.true_kmh,
        shown_kmh=now.shown.shown_kmh,
        shown_before_kmh=was.shown.shown_kmh if was else None,
    )


def head_of(record: FitRecord) -> Revision:
    """The newest revision of a fit."""
    return record.revisions.get(number=record.head)


def heads_of(vehicles: list[Vehicle]) -> dict[int, Revision]:
    """The newest revision of every fit on these vehicles, by fit id, in one query."""
    newest = Revision.objects.filter(fit__vehicle__in=vehicles, number=F("fit__head")).select_related("fit")
    return {revision.fit_id: revision for revision in newest}


def tyre_change(record: FitRecord, fit: Fit, new: NewTyre, user: User) -> TyreChange:
    """What a new tyre on this fit's wheel does, against the other fits of the vehicle."""
    heads = Revision.objects.filter(fit__vehicle=record.vehicle_id, number=F("fit__head")).exclude(fit=record)
    others = tuple([read_fit(revision.document) for revision in heads.order_by("fit_id")])
    return change_tyre(fit, new, others, chart_of(user))


@transaction.atomic
def fit_tyre(record: FitRecord, base: int, fit: Fit, new: NewTyre, author: User) -> Revision:
    """Put the new tyre on: the next revision, and due items for all that has to be done again."""
    change = tyre_change(record, fit, new, author)
    revision = save_fit(record, base, change.after, author)
    now = timezone.now()
    DueItem.objects.bulk_create(
        [DueItem(fit=record, link=item.link, text=item.text[:240], created_at=now) for item in change.due]
    )
    return revision


def due_of(record: FitRecord) -> QuerySet[DueItem]:
    """What is due on a fit, and what was; the newest change first, in an order that ticking does not disturb."""
    return record.due.order_by("-created_at", "id")


def tick_due(user: User, item_id: int, done: bool) -> DueItem:
    """Say that a due item is done, or that it is not."""
    item = DueItem.objects.filter(pk=item_id, fit__vehicle__workshop__members__user=user).first()
    if item is None:
        raise NotFoundError
    member = Member.objects.filter(user=user).first()
    item.done_at = timezone.now() if done else None
    item.done_by_role = member.role if member and done else ""
    item.save(update_fields=["done_at", "done_by_role"])
    return item
