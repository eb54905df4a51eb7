"""The yard: vehicles with their installations."""

from __future__ import annotations

import logging
from typing import Any

from django.contrib.auth.models import User
from ninja import Router, Status

from api.access import SignedIn
from api.problems import ProblemOut
from api.schemas import (
    InstallationOut,
    InstallationSummary,
    SheetIn,
    UnreadableInstallation,
    VehicleChangeIn,
    VehicleIn,
    VehicleOut,
    VehicleSheetOut,
)
from speedchain import Installation, SpeedchainError, evaluate, read_installation
from speedchain.vehicle.sheet import SheetSettings, vehicle_sheet
from speedchain.wheel.chart import Chart
from workshop import services
from workshop.models import Revision, Vehicle

router = Router()
log = logging.getLogger(__name__)
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}


def _with_installations(user: User, vehicles: list[Vehicle]) -> list[VehicleOut]:
    heads, chart = services.heads_of(vehicles), services.chart_of(user)
    return [_with_its_installations(vehicle, heads, chart) for vehicle in vehicles]


def _with_its_installations(vehicle: Vehicle, heads: dict[int, Revision], chart: Chart) -> VehicleOut:
    """A vehicle with its installations; one that cannot be read or computed costs itself alone."""
    installations: list[InstallationSummary] = []
    unreadable: list[UnreadableInstallation] = []
    for record in vehicle.installations.all():
        if (head := heads.get(record.pk)) is None:
            continue
        try:
            installations.append(
                InstallationSummary.of(head, evaluate(read_installation(head.document), chart), list(record.due.all()))
            )
        except SpeedchainError as error:
            unreadable.append(UnreadableInstallation.of(head, str(error.problems[0])))
        except Exception:
            log.exception("installation %s, revision %s", record.pk, head.number)
            unreadable.append(UnreadableInstallation.of(head, "It cannot be computed."))
    return VehicleOut.of(vehicle, installations, unreadable)


@router.get("", response={200: list[VehicleOut], 401: ProblemOut}, operation_id="yard")
def yard(request: SignedIn) -> list[VehicleOut]:
    """All vehicles of the workshop, each with its installations and what they need."""
    return _with_installations(request.user, list(services.vehicles_of(request.user)))


@router.post("", response={201: VehicleOut, 409: ProblemOut, **REFUSED}, operation_id="addVehicle")
def add(request: SignedIn, given: VehicleIn) -> Status[Any]:
    """A new vehicle."""
    workshop = services.workshop_of(request.user)
    vehicle = services.add_vehicle(workshop, given.name, given.kind, given.note)
    return Status(201, VehicleOut.of(vehicle))


@router.get("/{int:vehicle_id}", response={200: VehicleOut, **REFUSED}, operation_id="vehicle")
def show(request: SignedIn, vehicle_id: int) -> VehicleOut:
    """One vehicle."""
    return _with_installations(request.user, [services.vehicle_for(request.user, vehicle_id)])[0]


@router.put("/{int:vehicle_id}", response={200: VehicleOut, 409: ProblemOut, **REFUSED}, operation_id="changeVehicle")
def change(request: SignedIn, vehicle_id: int, given: VehicleChangeIn) -> VehicleOut:
    """Rename or describe a vehicle; 409 when the base is no longer the newest version, or the name is taken."""
    vehicle = services.vehicle_for(request.user, vehicle_id)
    services.change_vehicle(vehicle, given.base_version, given.name, given.kind, given.note)
    return show(request, vehicle_id)


@router.delete("/{int:vehicle_id}", response={204: None, 409: ProblemOut, **REFUSED}, operation_id="deleteVehicle")
def delete(request: SignedIn, vehicle_id: int, base_version: int) -> Status[Any]:
    """Delete a vehicle with its installations and their revisions."""
    services.delete_vehicle(services.vehicle_for(request.user, vehicle_id), base_version)
    return Status(204, None)


@router.get("/{int:vehicle_id}/sheet", response={200: VehicleSheetOut, **REFUSED}, operation_id="vehicleSheet")
def sheet(request: SignedIn, vehicle_id: int) -> VehicleSheetOut:
    """All installations of a vehicle at one speed."""
    return _sheet(request.user, services.vehicle_for(request.user, vehicle_id))


@router.put(
    "/{int:vehicle_id}/sheet",
    response={200: VehicleSheetOut, 409: ProblemOut, **REFUSED},
    operation_id="setVehicleSheet",
)
def set_sheet(request: SignedIn, vehicle_id: int, given: SheetIn) -> VehicleSheetOut:
    """Keep what the installations are compared at: speed, tolerance, track and radius."""
    vehicle = services.vehicle_for(request.user, vehicle_id)
    saved = services.save_sheet(vehicle, given.base_version, given.settings.model_dump(mode="json"))
    return _sheet(request.user, saved)


def _sheet(user: User, vehicle: Vehicle) -> VehicleSheetOut:
    settings, chart = SheetSettings.model_validate(vehicle.sheet), services.chart_of(user)
    heads = services.heads_of([vehicle])
    described = _with_its_installations(services.vehicle_for(user, vehicle.pk), heads, chart)
    installations = [
        (installation.id, read_installation(heads[installation.id].document))
        for installation in described.installations
    ]
    return VehicleSheetOut(
        vehicle=VehicleOut.of(vehicle, (), described.unreadable),
        version=vehicle.sheet_version,
        settings=settings,
        sheet=vehicle_sheet(tuple(installations), settings, chart),
    )


@router.post(
    "/{int:vehicle_id}/installations", response={201: InstallationOut, **REFUSED}, operation_id="addInstallation"
)
def add_installation(request: SignedIn, vehicle_id: int, document: Installation) -> Status[Any]:
    """A new installation, or one imported from a *.installation.json file."""
    vehicle = services.vehicle_for(request.user, vehicle_id)
    record = services.add_installation(vehicle, document, request.user)
    return Status(201, InstallationOut.of(record, services.head_of(record)))
