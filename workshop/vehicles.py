"""Use cases of vehicles, of the workshop's chart and of a person's units."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import IntegrityError, transaction
from django.utils import timezone

from speedchain.wheel.chart import Chart
from workshop.access import NotFoundError, editor, locked_workshop
from workshop.audit import record
from workshop.models import Deletable, Member, Revision, Vehicle
from workshop.use_cases import under_way, use_case

MAX_VEHICLES = 500


class NameTakenError(Exception):
    """The workshop has a vehicle of that name already."""


@dataclass(eq=False)
class FullError(Exception):
    """A workshop or a vehicle holds as many as it may."""

    limit: int
    what: str


@dataclass(eq=False)
class StaleError(Exception):
    """A write that started from a version which is no longer the newest; of an installation, with its newest
    revision."""

    base: int
    newest: int
    head: Revision | None = None


@use_case("add_vehicle")
def add_vehicle(user: User, name: str, kind: str, note: str = "") -> Vehicle:
    """A new vehicle; its name is not yet taken in the workshop. Raises `FullError`, `NameTakenError`."""
    member = editor(user)
    workshop = locked_workshop(member)  # so that the count stays exact
    if Vehicle.objects.filter(workshop=workshop).count() >= MAX_VEHICLES:
        raise FullError(MAX_VEHICLES, "vehicles in a workshop")
    with names_apart():
        vehicle = Vehicle.objects.create(workshop=workshop, name=name, kind=kind, note=note)
    record(workshop, member, "add_vehicle", subject=name, after=_described(vehicle))
    return vehicle


@use_case("change_vehicle")
def change_vehicle(user: User, vehicle_id: int, base: int, described: dict[str, str]) -> Vehicle:
    """Change name, kind and note of a vehicle. Raises `StaleError`, `NameTakenError`."""
    member = editor(user)
    vehicle = locked_vehicle(member, vehicle_id)
    before = _described(vehicle)
    if before == described:
        return vehicle
    refuse_stale(base, vehicle.version)
    vehicle.name, vehicle.kind, vehicle.note = described["name"], described["kind"], described["note"]
    vehicle.version += 1
    with names_apart():
        vehicle.save(update_fields=["name", "kind", "note", "version"])
    record(member.workshop, member, "change_vehicle", subject=before["name"], before=before, after=described)
    return vehicle


@use_case("save_sheet")
def save_sheet(user: User, vehicle_id: int, base: int, settings: dict[str, Any]) -> Vehicle:
    """Keep what the installations of a vehicle are compared at. Raises `StaleError`."""
    member = editor(user)
    vehicle = locked_vehicle(member, vehicle_id)
    before = vehicle.sheet
    if before == settings:
        return vehicle
    refuse_stale(base, vehicle.sheet_version)
    vehicle.sheet, vehicle.sheet_version = settings, vehicle.sheet_version + 1
    vehicle.save(update_fields=["sheet", "sheet_version"])
    record(member.workshop, member, "save_sheet", subject=vehicle.name, before=before, after=settings)
    return vehicle


@use_case("delete_vehicle")
def delete_vehicle(user: User, vehicle_id: int, base: int) -> None:
    """Put a vehicle with its installations into the bin. Raises `StaleError`."""
    member = editor(user)
    vehicle = locked_vehicle(member, vehicle_id)
    refuse_stale(base, vehicle.version)
    record(member.workshop, member, "delete_vehicle", subject=vehicle.name, before=_described(vehicle))
    put_away(vehicle, member)


@use_case("save_chart")
def save_chart(user: User, base: int, chart: Chart | None) -> None:
    """Keep the workshop's own cycle chart; None restores the one it started from. Raises `StaleError`."""
    member = editor(user)
    workshop = locked_workshop(member)
    rows = None if chart is None else [[row.label, row.circumference_mm] for row in chart]
    before = workshop.cycle_chart
    if rows == before:
        return
    refuse_stale(base, workshop.chart_version)
    workshop.cycle_chart = rows
    workshop.chart_version += 1
    workshop.save(update_fields=["cycle_chart", "chart_version"])
    record(workshop, member, "save_chart", subject="cycle chart", before={"rows": before}, after={"rows": rows})


@use_case(personal=True, no_entry="a choice of their own", no_version="a choice of their own")
def choose_units(user: User, units: str) -> None:
    """Keep the unit system in which a person reads speeds and lengths: a choice of their own, with no entry."""
    Member.objects.filter(user=user).update(units=units)


def put_away(item: Deletable, member: Member) -> None:
    """Into the bin."""
    item.deleted_at, item.deleted_by_role = timezone.now(), member.role
    item.save(update_fields=["deleted_at", "deleted_by_role"])


def refuse_stale(base: int, newest: int) -> None:
    """Raises `StaleError` when a write starts from a version that is no longer the newest."""
    under_way().compared = True
    if base != newest:
        raise StaleError(base, newest)


def locked_vehicle(member: Member, vehicle_id: int) -> Vehicle:
    """The vehicle's row, held until the end of the transaction; `NotFoundError` when it was deleted meanwhile."""
    mine = Vehicle.objects.filter(workshop=member.workshop_id)
    vehicle = mine.select_for_update().filter(pk=vehicle_id).first()
    if vehicle is None:
        raise NotFoundError
    return vehicle


def _described(vehicle: Vehicle) -> dict[str, str]:
    return {"name": vehicle.name, "kind": vehicle.kind, "note": vehicle.note}


@contextmanager
def names_apart() -> Iterator[None]:
    """A violation of the constraint on names, and of no other, as `NameTakenError`."""
    try:
        with transaction.atomic():
            yield
    except IntegrityError as error:
        diagnosis = getattr(error.__cause__, "diag", None)
        if diagnosis is None or diagnosis.constraint_name != "vehicle_name_once_per_workshop":
            raise
        raise NameTakenError from error
