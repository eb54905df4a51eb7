"""Fits, their revisions, and the evaluation of a document that need not be saved."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.utils.text import slugify
from ninja import Router, Status

from api.access import SignedIn
from api.problems import ProblemOut
from api.schemas import (
    EVALUATED,
    ChartIn,
    ChartOut,
    ConflictOut,
    DueIn,
    DueOut,
    Evaluated,
    FitOut,
    OverSpeedIn,
    RevisionLine,
    RevisionOut,
    SaveIn,
    TyreFitIn,
    TyreIn,
)
from speedchain import Fit, evaluate, read_fit, write_fit_json
from speedchain.catalogue import Catalogue, catalogue
from speedchain.over_speed import OverSpeed, over_speed
from speedchain.tyre_change import TyreChange
from speedchain.wheel import Comparison, compare
from speedchain.wheel.chart import CYCLE_CHART, chart_row
from workshop import services

router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}


@router.get("/catalogue", response={200: Catalogue, 401: ProblemOut}, operation_id="catalogue")
def show_catalogue(request: SignedIn) -> Catalogue:
    """The words for every choice in the fit document."""
    return catalogue()


@router.post(
    "/evaluate",
    response={200: Evaluated, 401: ProblemOut, 422: ProblemOut},
    operation_id="evaluate",
)
def evaluate_document(request: SignedIn, document: Fit) -> HttpResponse:
    """Everything that follows from a fit document, and the document as it was understood."""
    evaluated = Evaluated(document=document, result=evaluate(document, services.chart_of(request.user)))
    return HttpResponse(EVALUATED.dump_json(evaluated), content_type="application/json")


@router.post(
    "/compare-methods",
    response={200: Comparison, 401: ProblemOut, 422: ProblemOut},
    operation_id="compareMethods",
)
def compare_methods(request: SignedIn, document: Fit) -> Comparison:
    """Every method for the circumference against every other."""
    pulses = float(document.target.count * document.target.edges)
    return compare(document.wheel, document.vehicle_kind, pulses, services.chart_of(request.user))


@router.post("/over-speed", response={200: OverSpeed, 401: ProblemOut, 422: ProblemOut}, operation_id="overSpeed")
def show_over_speed(request: SignedIn, given: OverSpeedIn) -> OverSpeed:
    """One readout over the whole range of speed, with what the law allows."""
    result = evaluate(given.document, services.chart_of(request.user))
    return over_speed(given.document, result, given.readout, given.top_kmh)


@router.get("/chart", response={200: ChartOut, 401: ProblemOut}, operation_id="chart")
def show_chart(request: SignedIn) -> ChartOut:
    """The workshop's cycle chart."""
    return _chart(request)


@router.put(
    "/chart", response={200: ChartOut, 401: ProblemOut, 404: ProblemOut, 422: ProblemOut}, operation_id="saveChart"
)
def save_chart(request: SignedIn, given: ChartIn) -> ChartOut:
    """Keep the workshop's own cycle chart."""
    services.save_chart(request.user, tuple([chart_row(row.label, row.circumference_mm) for row in given.rows]))
    return _chart(request)


@router.delete("/chart", response={200: ChartOut, 401: ProblemOut, 404: ProblemOut}, operation_id="resetChart")
def reset_chart(request: SignedIn) -> ChartOut:
    """Back to the chart every workshop starts from."""
    services.save_chart(request.user, None)
    return _chart(request)


def _chart(request: SignedIn) -> ChartOut:
    rows = services.chart_of(request.user)
    return ChartOut(rows=list(rows), own=rows is not CYCLE_CHART)


@router.get("/fits/{int:fit_id}", response={200: FitOut, **REFUSED}, operation_id="fit")
def show(request: SignedIn, fit_id: int) -> FitOut:
    """A fit with its newest revision."""
    record = services.fit_for(request.user, fit_id)
    return FitOut.of(record, services.head_of(record))


@router.put("/fits/{int:fit_id}", response={200: RevisionOut, 409: ConflictOut, **REFUSED}, operation_id="saveFit")
def save(request: SignedIn, fit_id: int, given: SaveIn) -> RevisionOut:
    """Save as the next revision; 409 with both documents when the base is no longer the newest."""
    record = services.fit_for(request.user, fit_id)
    request.refused_document = given.document.model_dump(mode="json")
    return RevisionOut.of(services.save_fit(record, given.base_revision, given.document, request.user))


@router.delete("/fits/{int:fit_id}", response={204: None, **REFUSED}, operation_id="deleteFit")
def delete(request: SignedIn, fit_id: int) -> Status[Any]:
    """Delete a fit with its revisions."""
    services.fit_for(request.user, fit_id).delete()
    return Status(204, None)


@router.post("/fits/{int:fit_id}/tyre/preview", response={200: TyreChange, **REFUSED}, operation_id="previewTyre")
def preview_tyre(request: SignedIn, fit_id: int, given: TyreIn) -> TyreChange:
    """What a new tyre would do, before it goes on."""
    return services.tyre_change(services.fit_for(request.user, fit_id), given.document, given.tyre, request.user)


@router.post(
    "/fits/{int:fit_id}/tyre", response={200: RevisionOut, 409: ConflictOut, **REFUSED}, operation_id="fitTyre"
)
def fit_tyre(request: SignedIn, fit_id: int, given: TyreFitIn) -> RevisionOut:
    """Put the new tyre on: the next revision, and due items."""
    record = services.fit_for(request.user, fit_id)
    request.refused_document = given.document.model_dump(mode="json")
    return RevisionOut.of(services.fit_tyre(record, given.base_revision, given.document, given.tyre, request.user))


@router.get("/fits/{int:fit_id}/due", response={200: list[DueOut], **REFUSED}, operation_id="due")
def due(request: SignedIn, fit_id: int) -> list[DueOut]:
    """What is due on a fit, and what was; the newest change first."""
    return [DueOut.of(item) for item in services.due_of(services.fit_for(request.user, fit_id))[:100]]


@router.put("/due/{int:item_id}", response={200: DueOut, **REFUSED}, operation_id="tickDue")
def tick_due(request: SignedIn, item_id: int, given: DueIn) -> DueOut:
    """Say that a due item is done, or that it is not."""
    return DueOut.of(services.tick_due(request.user, item_id, given.done))


@router.get("/fits/{int:fit_id}/revisions", response={200: list[RevisionLine], **REFUSED}, operation_id="revisions")
def revisions(request: SignedIn, fit_id: int, limit: int = 100) -> list[RevisionLine]:
    """The newest revisions first, at most 500."""
    record = services.fit_for(request.user, fit_id)
    return [RevisionLine.of(revision) for revision in record.revisions.all()[: max(1, min(limit, 500))]]


@router.get(
    "/fits/{int:fit_id}/revisions/{int:number}", response={200: RevisionOut, **REFUSED}, operation_id="revision"
)
def revision(request: SignedIn, fit_id: int, number: int) -> RevisionOut:
    """One revision with its document."""
    found = services.fit_for(request.user, fit_id).revisions.filter(number=number).first()
    if found is None:
        raise services.NotFoundError
    return RevisionOut.of(found)


@router.get("/fits/{int:fit_id}/file", response={200: Fit, **REFUSED}, operation_id="exportFit")
def export(request: SignedIn, fit_id: int) -> HttpResponse:
    """The newest revision as a *.fit.json file."""
    record = services.fit_for(request.user, fit_id)
    fit = read_fit(services.head_of(record).document)
    name = slugify(f"{record.vehicle.name} {fit.name}") or "fit"
    response = HttpResponse(write_fit_json(fit), content_type="application/json")
    response["Content-Disposition"] = f'attachment; filename="{name}.fit.json"'
    return response
