"""Vehicles with their installations."""

from __future__ import annotations

from typing import Annotated, Any

from django.contrib.auth.models import User
from django.db.models import Count, Exists, F, OuterRef, Q, QuerySet
from django.http import HttpResponse
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
    VehicleName,
    VehicleOut,
    VehiclePage,
    VehicleSheetOut,
)
from speedchain import Installation, read_installation
from speedchain.vehicle.sheet import SheetSettings, vehicle_sheet
from workshop.access import chart_from, vehicle_for, vehicles_of, workshop_of
from workshop.bin import BinItem, Kind, bin_of, restore
from workshop.installations import add_installation as add_installation_to
from workshop.installations import head_of, heads_of
from workshop.models import Revision, Task, Vehicle, Workshop
from workshop.outline import outlined
from workshop.vehicles import MAX_VEHICLES, add_vehicle, change_vehicle, delete_vehicle, save_sheet

router = Router()
bin_router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}


MOST_AT_ONCE = 60


def _described(vehicles: list[Vehicle], workshop: Workshop) -> list[VehicleOut]:
    """Vehicles with their installations; one that cannot be read or computed costs itself alone."""
    heads = outlined(heads_of(vehicles), workshop)
    described = []
    for vehicle in vehicles:
        good: list[InstallationSummary] = []
        bad: list[UnreadableInstallation] = []
        for record in vehicle.installations.all():
            if (head := heads.get(record.pk)) is None:
                continue
            if "reason" in (head.outline or {}):
                bad.append(UnreadableInstallation.of(head))
            else:
                good.append(InstallationSummary.of(head, list(record.tasks.all())))
        described.append(VehicleOut.of(vehicle, good, bad))
    return described


@router.get("", response={200: VehiclePage, 401: ProblemOut, 404: ProblemOut, 422: ProblemOut}, operation_id="vehicles")
def vehicles(
    request: SignedIn,
    search: Annotated[str, Query(max_length=80)] = "",
    offset: Annotated[int, Query(ge=0, le=MAX_VEHICLES)] = 0,
    limit: Annotated[int, Query(ge=1, le=MOST_AT_ONCE)] = MOST_AT_ONCE,
) -> VehiclePage:
    """Vehicles with their installations and what they need: all, or those with a text in a name or note.

    A page starts at `offset` and holds up to `limit`. The counts are of all that were found, as they were last computed.
    """
    workshop = workshop_of(request.user)
    found = vehicles_of(request.user)
    for word in search.split():
        found = found.filter(Q(name__icontains=word) | Q(note__icontains=word) | Exists(_installations_called(word)))
    page = _described(list(found[offset : offset + limit]), workshop)
    heads = heads_of(found.order_by().prefetch_related(None))
    counts = heads.aggregate(
        installations=Count("pk"),
        failed=Count("pk", filter=Q(outline__failed=True)),
        blocked=Count("pk", filter=Q(outline__worst="blocking")),
        unverified=Count("pk", filter=Q(outline__verified=False)),
    )
    tasks = Task.objects.filter(
        done_at=None, installation__deleted_at=None, installation__vehicle__in=found.order_by().prefetch_related(None)
    ).count()
    return VehiclePage(vehicles=page, total=found.count(), tasks=tasks, **counts)


@router.get("/names", response={200: list[VehicleName], 401: ProblemOut}, operation_id="vehicleNames")
def names(request: SignedIn) -> list[VehicleName]:
    """The names of all vehicles, to choose from."""
    found = Vehicle.objects.filter(workshop__members__user=request.user)
    return [VehicleName.model_validate(item) for item in found.values("id", "name", "kind")]


def _installations_called(word: str) -> QuerySet[Revision]:
    return Revision.objects.filter(
        installation__vehicle=OuterRef("pk"),
        installation__deleted_at=None,
        number=F("installation__head"),
        document__name__icontains=word,
    )


@router.post("", response={201: VehicleOut, 409: ProblemOut, **REFUSED}, operation_id="addVehicle")
def add(request: SignedIn, body: VehicleIn) -> Status[Any]:
    """A new vehicle."""
    return Status(201, VehicleOut.of(add_vehicle(request.user, body.name, body.kind, body.note)))


@router.get("/{int:vehicle_id}", response={200: VehicleOut, **REFUSED}, operation_id="vehicle")
def show(request: SignedIn, vehicle_id: int) -> VehicleOut:
    """One vehicle."""
    return _described([vehicle_for(request.user, vehicle_id)], workshop_of(request.user))[0]


@router.put("/{int:vehicle_id}", response={200: VehicleOut, 409: ProblemOut, **REFUSED}, operation_id="changeVehicle")
def change(request: SignedIn, vehicle_id: int, body: VehicleChangeIn) -> VehicleOut:
    """Rename or describe a vehicle; 409 when the base is no longer the newest version, or the name is taken."""
    described = {"name": body.name, "kind": body.kind, "note": body.note}
    change_vehicle(request.user, vehicle_id, body.base_version, described)
    return show(request, vehicle_id)


@router.delete("/{int:vehicle_id}", response={204: None, 409: ProblemOut, **REFUSED}, operation_id="deleteVehicle")
def delete(request: SignedIn, vehicle_id: int, base_version: int) -> Status[Any]:
    """Delete a vehicle with its installations and their revisions."""
    delete_vehicle(request.user, vehicle_id, base_version)
    return Status(204, None)


@router.get("/{int:vehicle_id}/sheet", response={200: VehicleSheetOut, **REFUSED}, operation_id="vehicleSheet")
def sheet(request: SignedIn, vehicle_id: int) -> HttpResponse:
    """All installations of a vehicle at one speed."""
    return _sheet(request.user, vehicle_id)


@router.put(
    "/{int:vehicle_id}/sheet",
    response={200: VehicleSheetOut, 409: ProblemOut, **REFUSED},
    operation_id="setVehicleSheet",
)
def set_sheet(request: SignedIn, vehicle_id: int, body: SheetIn) -> HttpResponse:
    """Keep what the installations are compared at: speed, tolerance, track and radius."""
    save_sheet(request.user, vehicle_id, body.base_version, body.settings.model_dump(mode="json"))
    return _sheet(request.user, vehicle_id)


def _sheet(user: User, vehicle_id: int) -> HttpResponse:
    vehicle = vehicle_for(user, vehicle_id)
    settings = SheetSettings.model_validate(vehicle.sheet)
    described = _described([vehicle], vehicle.workshop)[0]
    documents = dict(heads_of([vehicle]).values_list("installation_id", "document"))
    installations = [
        (installation.id, read_installation(documents[installation.id])) for installation in described.installations
    ]
    found = VehicleSheetOut(
        vehicle=VehicleOut.of(vehicle, (), described.unreadable),
        version=vehicle.sheet_version,
        settings=settings,
        sheet=vehicle_sheet(tuple(installations), settings, chart_from(vehicle.workshop.cycle_chart)),
    )
    return HttpResponse(found.model_dump_json(), content_type="application/json")


@router.post(
    "/{int:vehicle_id}/installations", response={201: InstallationOut, **REFUSED}, operation_id="addInstallation"
)
def add_installation(request: SignedIn, vehicle_id: int, document: Installation) -> Status[Any]:
    """A new installation, or one imported from a *.installation.json file."""
    record = add_installation_to(request.user, vehicle_id, document)
    return Status(201, InstallationOut.of(record, head_of(record)))


@bin_router.get("", response={200: list[BinItem], 401: ProblemOut, 404: ProblemOut}, operation_id="bin")
def show_bin(request: SignedIn) -> list[BinItem]:
    """What was deleted in the last thirty days, the latest first."""
    return bin_of(request.user)


@bin_router.post(
    "/{kind}/{int:item_id}", response={204: None, 409: ProblemOut, **REFUSED}, operation_id="restoreFromBin"
)
def restore_from_bin(request: SignedIn, kind: Kind, item_id: int) -> Status[Any]:
    """Take a vehicle or an installation out of the bin; 409 when the vehicle's name is taken now."""
    restore(request.user, kind, item_id)
    return Status(204, None)
