"""Vehicles with their installations."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.db.models import Case, Count, Exists, F, IntegerField, OuterRef, Q, QuerySet, Subquery, Value, When
from django.http import HttpResponse
from ninja import Query, Router, Status

from api.access import SignedIn
from api.described import KEEPS
from api.problems import ProblemOut
from api.schemas import (
    STATES,
    InstallationOut,
    InstallationSummary,
    SheetIn,
    State,
    UnreadableInstallation,
    VehicleChangeIn,
    VehicleIn,
    VehicleName,
    VehicleOut,
    VehiclePage,
    VehicleQuery,
    VehicleSheetOut,
)
from speedchain import Installation, read_installation
from speedchain.vehicle import from_above
from speedchain.vehicle.sheet import settings_from, vehicle_sheet
from workshop.access import chart_from, one_of, vehicles_of, workshop_of
from workshop.bin import BinItem, Kind, bin_of, restore
from workshop.installations import add_installation as add_installation_to
from workshop.installations import head_of
from workshop.models import FaultRecord, Revision, Task, Vehicle, Workshop
from workshop.outline import heads_of, outlined
from workshop.vehicles import add_vehicle, change_vehicle, delete_vehicle, save_sheet

router = Router()
bin_router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}


def _described(
    vehicles: list[Vehicle], workshop: Workshop, shown: QuerySet[Revision] | None = None
) -> list[VehicleOut]:
    """Vehicles with their installations, or those of them that are to be shown; one that cannot be read or computed
    costs itself alone."""
    heads = outlined(heads_of(vehicles), workshop)
    wanted = None if shown is None else set(shown.values_list("installation", flat=True))
    described = []
    for vehicle in vehicles:
        good: list[InstallationSummary] = []
        bad: list[UnreadableInstallation] = []
        for record in vehicle.installations.all():
            if (head := heads.get(record.pk)) is None or (wanted is not None and record.pk not in wanted):
                continue
            if "reason" in (head.outline or {}):
                bad.append(UnreadableInstallation.of(head))
            else:
                good.append(InstallationSummary.of(head, record))
        described.append(VehicleOut.of(vehicle, good, bad))
    return described


_STATE_OF: dict[State, Q] = {
    "failed": Q(outline__failed=True),
    "blocked": Q(outline__worst="blocking"),
    "to_do": Q(tasks_open=True) | Q(fault_open=True),
    "unverified": Q(outline__verified=False),
    "verified": Q(outline__verified=True),
}
"""Installations in each state: one can be in several, and is sorted by the first."""


@router.get("", response={200: VehiclePage, 401: ProblemOut, 404: ProblemOut, 422: ProblemOut}, operation_id="vehicles")
def vehicles(request: SignedIn, query: Query[VehicleQuery]) -> VehiclePage:
    """Vehicles with their installations and what they need, those first that need something.

    All, or those with a text in a name, a note or the label of a part, of one kind of vehicle, with a purpose, or in a
    state. A page starts at
    `offset` and holds up to `limit`. The counts are of all that were found, as they were last computed.
    """
    workshop = workshop_of(request.user)
    found = vehicles_of(request.user)
    for word in query.search.split():
        said = Q(document__name__icontains=word) | Q(outline__parts__icontains=word)
        called = Exists(_heads().filter(said, installation__vehicle=OuterRef("pk")))
        found = found.filter(Q(name__icontains=word) | Q(note__icontains=word) | called)
    if query.kind:
        found = found.filter(kind=query.kind)
    matching = _heads().filter(installation__vehicle__in=found.order_by().prefetch_related(None))
    if query.purpose:
        matching = matching.filter(document__purpose=query.purpose)
    shown = matching.filter(_STATE_OF[query.state]) if query.state else matching
    of_vehicle = shown.filter(installation__vehicle=OuterRef("pk")).order_by("rank").values("rank")[:1]
    ranked: QuerySet[Any] = found.annotate(rank=Subquery(of_vehicle)).order_by(
        F("rank").asc(nulls_last=True), "name", "pk"
    )
    if query.purpose or query.state:
        ranked = ranked.filter(rank__isnull=False)
    page = list(ranked[query.offset : query.offset + query.limit])
    counts = matching.aggregate(
        installations=Count("pk"), **{state: Count("pk", filter=having) for state, having in _STATE_OF.items()}
    )
    narrowed = shown if query.purpose or query.state else None
    described = _described(page, workshop, narrowed)
    for vehicle in described:
        vehicle.installations.sort(key=lambda item: STATES.index(item.state))
    return VehiclePage(vehicles=described, total=ranked.count(), **counts)


def _heads() -> QuerySet[Any]:
    """Newest revisions, with whether something is to do or a fault is open, and their place in the order of states."""
    open_tasks = Task.objects.filter(installation=OuterRef("installation"), done_at=None)
    open_faults = FaultRecord.objects.filter(installation=OuterRef("installation"), closed_at=None)
    unreadable = When(outline__has_key="reason", then=Value(-1))
    ranks = [unreadable] + [When(having, then=Value(place)) for place, having in enumerate(_STATE_OF.values())]
    return (
        Revision.objects.filter(installation__deleted_at=None, number=F("installation__head"))
        .annotate(tasks_open=Exists(open_tasks), fault_open=Exists(open_faults))
        .annotate(rank=Case(*ranks, default=Value(STATES.index("unverified")), output_field=IntegerField()))
    )


@router.get("/names", response={200: list[VehicleName], 401: ProblemOut}, operation_id="vehicleNames")
def names(request: SignedIn) -> list[VehicleName]:
    """The names of all vehicles, to choose from."""
    found = Vehicle.objects.filter(workshop__members__user=request.user)
    return [VehicleName.model_validate(item) for item in found.values("id", "name", "kind")]


@router.post("", response={201: VehicleOut, 409: ProblemOut, **REFUSED}, operation_id="addVehicle", openapi_extra=KEEPS)
def add(request: SignedIn, body: VehicleIn) -> Status[Any]:
    """A new vehicle."""
    return Status(201, VehicleOut.of(add_vehicle(request.user, body.name, body.kind, body.note)))


@router.get("/{int:vehicle_id}", response={200: VehicleOut, **REFUSED}, operation_id="vehicle")
def show(request: SignedIn, vehicle_id: int) -> VehicleOut:
    """One vehicle."""
    return _described([one_of(vehicles_of(request.user), vehicle_id)], workshop_of(request.user))[0]


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
    save_sheet(request.user, vehicle_id, body.base_version, body.settings.model_dump(mode="json", exclude_unset=True))
    return _sheet(request.user, vehicle_id)


def _sheet(user: User, vehicle_id: int) -> HttpResponse:
    vehicle = one_of(vehicles_of(user), vehicle_id)
    described = _described([vehicle], vehicle.workshop)[0]
    documents = dict(heads_of([vehicle]).values_list("installation_id", "document"))
    installations = [
        (installation.id, read_installation(documents[installation.id])) for installation in described.installations
    ]
    settings = settings_from(vehicle.sheet, [installation for _, installation in installations])
    found = VehicleSheetOut(
        vehicle=described,
        version=vehicle.sheet_version,
        settings=settings,
        sheet=vehicle_sheet(tuple(installations), settings, chart_from(vehicle.workshop.cycle_chart)),
        from_above=from_above(described.kind, [(number, item.sensed_at) for number, item in installations]),
    )
    return HttpResponse(found.model_dump_json(), content_type="application/json")


@router.post(
    "/{int:vehicle_id}/installations",
    response={201: InstallationOut, **REFUSED},
    operation_id="addInstallation",
    openapi_extra=KEEPS,
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
