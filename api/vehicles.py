"""Vehicles with their installations."""

from __future__ import annotations

from typing import Annotated, Any

from django.contrib.auth.models import User
from django.db.models import Exists, F, OuterRef, Q, QuerySet
from ninja import Query, Router, Status

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
    VehiclePage,
    VehicleSheetOut,
)
from speedchain import Installation, read_installation
from speedchain.vehicle.sheet import SheetSettings, vehicle_sheet
from workshop.access import chart_of, vehicle_for, vehicles_of, workshop_of
from workshop.installations import add_installation as add_installation_to
from workshop.installations import head_of, heads_of
from workshop.models import Revision, Vehicle, Workshop
from workshop.outline import outlines
from workshop.vehicles import MAX_VEHICLES, add_vehicle, change_vehicle, delete_vehicle, save_sheet

router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}


MOST_AT_ONCE = 500


def _described(vehicles: list[Vehicle], workshop: Workshop) -> list[VehicleOut]:
    """Vehicles with their installations; one that cannot be read or computed costs itself alone."""
    heads = heads_of(vehicles)
    known = outlines(list(heads.values()), workshop)
    described = []
    for vehicle in vehicles:
        good: list[InstallationSummary] = []
        bad: list[UnreadableInstallation] = []
        for record in vehicle.installations.all():
            if (head := heads.get(record.pk)) is None:
                continue
            outline = known[record.pk]
            if "reason" in outline:
                bad.append(UnreadableInstallation.of(head, outline["reason"]))
            else:
                good.append(InstallationSummary.of(head, outline, list(record.tasks.all())))
        described.append(VehicleOut.of(vehicle, good, bad))
    return described


@router.get("", response={200: VehiclePage, 401: ProblemOut, 422: ProblemOut}, operation_id="vehicles")
def vehicles(
    request: SignedIn,
    search: Annotated[str, Query(max_length=80)] = "",
    offset: Annotated[int, Query(ge=0, le=MAX_VEHICLES)] = 0,
    limit: Annotated[int, Query(ge=1, le=MOST_AT_ONCE)] = 100,
) -> VehiclePage:
    """Vehicles with their installations and what they need: all, or those with a text in a name or note.

    A page starts at `offset` and holds up to `limit`; the counts are of all that were found.
    """
    found = vehicles_of(request.user)
    for word in search.split():
        found = found.filter(Q(name__icontains=word) | Q(note__icontains=word) | Exists(_installations_called(word)))
    described = _described(list(found), workshop_of(request.user))
    installations = [one for vehicle in described for one in vehicle.installations]
    return VehiclePage(
        vehicles=described[offset : offset + limit],
        total=len(described),
        installations=len(installations),
        blocked=sum(one.worst == "blocking" for one in installations),
        unverified=sum(any(stage.evidence != "verified" for stage in one.stages) for one in installations),
        tasks=sum(len(one.tasks) for one in installations),
    )


def _installations_called(word: str) -> QuerySet[Revision]:
    return Revision.objects.filter(
        installation__vehicle=OuterRef("pk"), number=F("installation__head"), document__name__icontains=word
    )


@router.post("", response={201: VehicleOut, 409: ProblemOut, **REFUSED}, operation_id="addVehicle")
def add(request: SignedIn, given: VehicleIn) -> Status[Any]:
    """A new vehicle."""
    return Status(201, VehicleOut.of(add_vehicle(request.user, given.name, given.kind, given.note)))


@router.get("/{int:vehicle_id}", response={200: VehicleOut, **REFUSED}, operation_id="vehicle")
def show(request: SignedIn, vehicle_id: int) -> VehicleOut:
    """One vehicle."""
    return _described([vehicle_for(request.user, vehicle_id)], workshop_of(request.user))[0]


@router.put("/{int:vehicle_id}", response={200: VehicleOut, 409: ProblemOut, **REFUSED}, operation_id="changeVehicle")
def change(request: SignedIn, vehicle_id: int, given: VehicleChangeIn) -> VehicleOut:
    """Rename or describe a vehicle; 409 when the base is no longer the newest version, or the name is taken."""
    described = {"name": given.name, "kind": given.kind, "note": given.note}
    change_vehicle(request.user, vehicle_id, given.base_version, described)
    return show(request, vehicle_id)


@router.delete("/{int:vehicle_id}", response={204: None, 409: ProblemOut, **REFUSED}, operation_id="deleteVehicle")
def delete(request: SignedIn, vehicle_id: int, base_version: int) -> Status[Any]:
    """Delete a vehicle with its installations and their revisions."""
    delete_vehicle(request.user, vehicle_id, base_version)
    return Status(204, None)


@router.get("/{int:vehicle_id}/sheet", response={200: VehicleSheetOut, **REFUSED}, operation_id="vehicleSheet")
def sheet(request: SignedIn, vehicle_id: int) -> VehicleSheetOut:
    """All installations of a vehicle at one speed."""
    return _sheet(request.user, vehicle_for(request.user, vehicle_id))


@router.put(
    "/{int:vehicle_id}/sheet",
    response={200: VehicleSheetOut, 409: ProblemOut, **REFUSED},
    operation_id="setVehicleSheet",
)
def set_sheet(request: SignedIn, vehicle_id: int, given: SheetIn) -> VehicleSheetOut:
    """Keep what the installations are compared at: speed, tolerance, track and radius."""
    saved = save_sheet(request.user, vehicle_id, given.base_version, given.settings.model_dump(mode="json"))
    return _sheet(request.user, saved)


def _sheet(user: User, vehicle: Vehicle) -> VehicleSheetOut:
    settings, heads = SheetSettings.model_validate(vehicle.sheet), heads_of([vehicle])
    described = _described([vehicle_for(user, vehicle.pk)], vehicle.workshop)[0]
    installations = [
        (installation.id, read_installation(heads[installation.id].document))
        for installation in described.installations
    ]
    return VehicleSheetOut(
        vehicle=VehicleOut.of(vehicle, (), described.unreadable),
        version=vehicle.sheet_version,
        settings=settings,
        sheet=vehicle_sheet(tuple(installations), settings, chart_of(user)),
    )


@router.post(
    "/{int:vehicle_id}/installations", response={201: InstallationOut, **REFUSED}, operation_id="addInstallation"
)
def add_installation(request: SignedIn, vehicle_id: int, document: Installation) -> Status[Any]:
    """A new installation, or one imported from a *.installation.json file."""
    record = add_installation_to(request.user, vehicle_id, document)
    return Status(201, InstallationOut.of(record, head_of(record)))
