"""The yard: vehicles with their fits."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from ninja import Router, Status

from api.access import SignedIn
from api.problems import ProblemOut
from api.schemas import FitOut, FitSummary, VehicleIn, VehicleOut, VehicleSheetOut
from speedchain import Fit, evaluate, read_fit
from speedchain.vehicle import SheetSettings, vehicle_sheet
from workshop import services
from workshop.models import Vehicle

router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}


def _with_fits(user: User, vehicles: list[Vehicle]) -> list[VehicleOut]:
    heads, chart = services.heads_of(vehicles), services.chart_of(user)
    return [
        VehicleOut.of(
            vehicle,
            [
                FitSummary.of(
                    heads[record.pk], evaluate(read_fit(heads[record.pk].document), chart), list(record.due.all())
                )
                for record in vehicle.fits.all()
                if record.pk in heads
            ],
        )
        for vehicle in vehicles
    ]


@router.get("", response={200: list[VehicleOut], 401: ProblemOut}, operation_id="yard")
def yard(request: SignedIn) -> list[VehicleOut]:
    """All vehicles of the workshop, each with its fits and what they need."""
    return _with_fits(request.user, list(services.vehicles_of(request.user)))


@router.post("", response={201: VehicleOut, **REFUSED}, operation_id="addVehicle")
def add(request: SignedIn, given: VehicleIn) -> Status[Any]:
    """A new vehicle."""
    workshop = services.workshop_of(request.user)
    vehicle = services.add_vehicle(workshop, given.name, given.kind, given.note)
    return Status(201, VehicleOut.of(vehicle, []))


@router.get("/{int:vehicle_id}", response={200: VehicleOut, **REFUSED}, operation_id="vehicle")
def show(request: SignedIn, vehicle_id: int) -> VehicleOut:
    """One vehicle."""
    return _with_fits(request.user, [services.vehicle_for(request.user, vehicle_id)])[0]


@router.put("/{int:vehicle_id}", response={200: VehicleOut, **REFUSED}, operation_id="changeVehicle")
def change(request: SignedIn, vehicle_id: int, given: VehicleIn) -> VehicleOut:
    """Rename or describe a vehicle."""
    vehicle = services.vehicle_for(request.user, vehicle_id)
    return _with_fits(request.user, [services.change_vehicle(vehicle, given.name, given.kind, given.note)])[0]


@router.delete("/{int:vehicle_id}", response={204: None, **REFUSED}, operation_id="deleteVehicle")
def delete(request: SignedIn, vehicle_id: int) -> Status[Any]:
    """Delete a vehicle with its fits and their revisions."""
    services.vehicle_for(request.user, vehicle_id).delete()
    return Status(204, None)


@router.get("/{int:vehicle_id}/sheet", response={200: VehicleSheetOut, **REFUSED}, operation_id="vehicleSheet")
def sheet(request: SignedIn, vehicle_id: int) -> VehicleSheetOut:
    """All fits of a vehicle at one speed."""
    return _sheet(request.user, services.vehicle_for(request.user, vehicle_id))


@router.put("/{int:vehicle_id}/sheet", response={200: VehicleSheetOut, **REFUSED}, operation_id="setVehicleSheet")
def set_sheet(request: SignedIn, vehicle_id: int, given: SheetSettings) -> VehicleSheetOut:
    """Keep what the fits are compared at: speed, tolerance, track and radius."""
    vehicle = services.vehicle_for(request.user, vehicle_id)
    vehicle.sheet = given.model_dump(mode="json")
    vehicle.save(update_fields=["sheet"])
    return _sheet(request.user, vehicle)


def _sheet(user: User, vehicle: Vehicle) -> VehicleSheetOut:
    settings, chart = SheetSettings.model_validate(vehicle.sheet), services.chart_of(user)
    heads = services.heads_of([vehicle])
    fits = [(number, read_fit(heads[number].document)) for number in sorted(heads)]
    return VehicleSheetOut(
        vehicle=VehicleOut.of(vehicle, []), settings=settings, sheet=vehicle_sheet(tuple(fits), settings, chart)
    )


@router.post("/{int:vehicle_id}/fits", response={201: FitOut, **REFUSED}, operation_id="addFit")
def add_fit(request: SignedIn, vehicle_id: int, document: Fit) -> Status[Any]:
    """A new fit, or one imported from a *.fit.json file."""
    vehicle = services.vehicle_for(request.user, vehicle_id)
    record = services.add_fit(vehicle, document, request.user)
    return Status(201, FitOut.of(record, services.head_of(record)))
