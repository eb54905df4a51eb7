"""Installations, their revisions, and the evaluation of a document that need not be saved."""

from __future__ import annotations

import json
from typing import Annotated, Any

from django.http import HttpResponse
from django.utils.http import content_disposition_header
from ninja import Query, Router, Status

from api.access import SignedIn
from api.described import KEEPS
from api.files import file_name
from api.problems import ProblemOut
from api.schemas import (
    EVALUATED,
    EVALUATED_HEAD,
    AuditOut,
    AuditPage,
    ChartIn,
    ChartOut,
    ConflictOut,
    CopyIn,
    Evaluated,
    EvaluatedHead,
    FitTyreIn,
    InstallationOut,
    OverSpeedIn,
    RevisionLine,
    RevisionOut,
    RevisionPage,
    SaveIn,
    TaskIn,
    TaskOut,
    TyreIn,
)
from speedchain import Installation, evaluate, read_installation, write_installation_json
from speedchain.advice import Guide, guides_of
from speedchain.bench import shown_now
from speedchain.catalogue import Catalogue, catalogue
from speedchain.vehicle.tyre_change import TyreChange
from speedchain.views.implied_setting import implied_settings
from speedchain.views.over_speed import OverSpeed, over_speed
from speedchain.wheel import Comparison, compare
from speedchain.wheel.chart import CYCLE_CHART, Chart, chart_row
from workshop.access import NotFoundError, chart_of, installation_for, workshop_of
from workshop.audit import entries_of
from workshop.installations import (
    Base,
    copy_to,
    delete_installation,
    head_of,
    mark_task,
    save_installation,
    tasks_of,
    tyre_change,
)
from workshop.installations import fit_tyre as fit_tyre_to
from workshop.vehicles import save_chart as keep_chart

router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}


@router.get("/catalogue", response={200: Catalogue, 401: ProblemOut}, operation_id="catalogue")
def show_catalogue(request: SignedIn) -> Catalogue:
    """The words for every choice in the installation document."""
    return catalogue()


@router.post(
    "/evaluate",
    response={200: Evaluated, 401: ProblemOut, 422: ProblemOut},
    operation_id="evaluate",
)
def evaluate_document(request: SignedIn, document: Installation) -> HttpResponse:
    """Everything that follows from an installation document, and the document as it was understood."""
    evaluated = _evaluated(document, chart_of(request.user))
    return HttpResponse(EVALUATED.dump_json(evaluated), content_type="application/json")


def _evaluated(document: Installation, chart: Chart) -> Evaluated:
    result = evaluate(document, chart)
    return Evaluated(
        document=document,
        result=result,
        shown_now=shown_now(document, result),
        implied_settings=implied_settings(document, result, chart),
    )


@router.post(
    "/guides",
    response={200: list[Guide], 401: ProblemOut, 422: ProblemOut},
    operation_id="guides",
)
def show_guides(request: SignedIn, document: Installation) -> list[Guide]:
    """How each measurement is taken on this installation, step by step."""
    return list(guides_of(document))


@router.post(
    "/compare-methods",
    response={200: Comparison, 401: ProblemOut, 422: ProblemOut},
    operation_id="compareMethods",
)
def compare_methods(request: SignedIn, document: Installation) -> Comparison:
    """Every method for the circumference against every other."""
    pulses = float(document.target.count * document.target.edges)
    return compare(document.wheel, document.vehicle_kind, pulses, chart_of(request.user))


@router.post("/over-speed", response={200: OverSpeed, 401: ProblemOut, 422: ProblemOut}, operation_id="overSpeed")
def show_over_speed(request: SignedIn, body: OverSpeedIn) -> OverSpeed:
    """One readout over the whole range of speed, with what the law allows."""
    result = evaluate(body.document, chart_of(request.user))
    return over_speed(body.document, result, body.readout, body.max_speed_kmh)


@router.get("/chart", response={200: ChartOut, 401: ProblemOut}, operation_id="chart")
def show_chart(request: SignedIn) -> ChartOut:
    """The workshop's cycle chart."""
    return _chart(request)


@router.put("/chart", response={200: ChartOut, 409: ProblemOut, **REFUSED}, operation_id="saveChart")
def save_chart(request: SignedIn, body: ChartIn) -> ChartOut:
    """Keep the workshop's own cycle chart; 409 when the base is no longer the newest version."""
    rows = tuple([chart_row(row.label, row.circumference_mm) for row in body.rows])
    keep_chart(request.user, body.base_version, rows)
    return _chart(request)


@router.delete("/chart", response={200: ChartOut, 409: ProblemOut, **REFUSED}, operation_id="resetChart")
def reset_chart(request: SignedIn, base_version: int) -> ChartOut:
    """Back to the chart every workshop starts from."""
    keep_chart(request.user, base_version, None)
    return _chart(request)


def _chart(request: SignedIn) -> ChartOut:
    rows = chart_of(request.user)
    return ChartOut(rows=list(rows), own=rows is not CYCLE_CHART, version=workshop_of(request.user).chart_version)


@router.get(
    "/installations/{int:installation_id}", response={200: InstallationOut, **REFUSED}, operation_id="installation"
)
def show(request: SignedIn, installation_id: int) -> InstallationOut:
    """An installation with its newest revision."""
    record = installation_for(request.user, installation_id)
    return InstallationOut.of(record, head_of(record))


@router.get(
    "/installations/{int:installation_id}/evaluated",
    response={200: EvaluatedHead, **REFUSED},
    operation_id="evaluatedHead",
)
def show_evaluated(request: SignedIn, installation_id: int) -> HttpResponse:
    """What follows from the newest revision: a page asks for it beside the installation, not after it."""
    head = head_of(installation_for(request.user, installation_id))
    evaluated = _evaluated(read_installation(head.document), chart_of(request.user))
    found = EvaluatedHead(number=head.number, amended=head.amended, evaluated=evaluated)
    return HttpResponse(EVALUATED_HEAD.dump_json(found), content_type="application/json")


@router.put(
    "/installations/{int:installation_id}",
    response={200: RevisionOut, 409: ConflictOut, **REFUSED},
    operation_id="saveInstallation",
)
def save(request: SignedIn, installation_id: int, body: SaveIn) -> RevisionOut:
    """Save as the next revision, or amend the newest while one edit (`edit_key`) goes on.

    409 with both documents when the base is no longer the newest.
    """
    request.refused_document = body.document.model_dump(mode="json")
    base = Base(body.base_revision, body.base_amended)
    return RevisionOut.of(save_installation(request.user, installation_id, base, body.document, body.edit_key))


@router.delete(
    "/installations/{int:installation_id}",
    response={204: None, 409: ProblemOut, **REFUSED},
    operation_id="deleteInstallation",
)
def delete(request: SignedIn, installation_id: int, base_revision: int) -> Status[Any]:
    """Delete an installation with its revisions; 409 when somebody has saved a newer one."""
    delete_installation(request.user, installation_id, base_revision)
    return Status(204, None)


@router.post(
    "/installations/{int:installation_id}/copies",
    response={201: InstallationOut, 409: ProblemOut, **REFUSED},
    operation_id="copyInstallation",
    openapi_extra=KEEPS,
)
def copy(request: SignedIn, installation_id: int, body: CopyIn) -> Status[Any]:
    """A copy for another corner or vehicle: what was decided, and nothing that was measured, tested or read back."""
    record = copy_to(request.user, installation_id, body.vehicle, name=body.name, sensed_at=body.sensed_at)
    return Status(201, InstallationOut.of(record, head_of(record)))


@router.post(
    "/installations/{int:installation_id}/tyre/preview",
    response={200: TyreChange, **REFUSED},
    operation_id="previewTyre",
)
def preview_tyre(request: SignedIn, installation_id: int, body: TyreIn) -> TyreChange:
    """What a new tyre would do, before it goes on."""
    installation_for(request.user, installation_id)
    return tyre_change(request.user, installation_id, body.document, body.tyre)


@router.post(
    "/installations/{int:installation_id}/tyre",
    response={200: RevisionOut, 409: ConflictOut, **REFUSED},
    operation_id="fitTyre",
    openapi_extra=KEEPS,
)
def fit_tyre(request: SignedIn, installation_id: int, body: FitTyreIn) -> RevisionOut:
    """Put the new tyre on: the next revision, and tasks."""
    request.refused_document = body.document.model_dump(mode="json")
    base = Base(body.base_revision, body.base_amended)
    revision = fit_tyre_to(request.user, installation_id, base, installation=body.document, new=body.tyre)
    return RevisionOut.of(revision)


@router.get(
    "/installations/{int:installation_id}/tasks", response={200: list[TaskOut], **REFUSED}, operation_id="tasks"
)
def tasks(request: SignedIn, installation_id: int) -> list[TaskOut]:
    """Tasks of an installation, and what was; the newest change first."""
    return [TaskOut.of(item) for item in tasks_of(installation_for(request.user, installation_id))[:100]]


@router.put("/tasks/{int:item_id}", response={200: TaskOut, **REFUSED}, operation_id="markTask")
def mark(request: SignedIn, item_id: int, body: TaskIn) -> TaskOut:
    """Say that a task is done, or that it is not."""
    return TaskOut.of(mark_task(request.user, item_id, body.done))


@router.get(
    "/installations/{int:installation_id}/revisions",
    response={200: RevisionPage, **REFUSED},
    operation_id="revisions",
)
def revisions(
    request: SignedIn,
    installation_id: int,
    before: Annotated[int | None, Query(ge=1, le=2**31 - 1)] = None,
    limit: Annotated[int, Query(ge=1, le=500)] = 100,
) -> RevisionPage:
    """The newest revisions first, without their documents; those before a number for the next page."""
    found = installation_for(request.user, installation_id).revisions.defer("document", "outline")
    if before is not None:
        found = found.filter(number__lt=before)
    page = list(found[: limit + 1])
    return RevisionPage(revisions=[RevisionLine.of(revision) for revision in page[:limit]], more=len(page) > limit)


@router.get("/audit", response={200: AuditPage, 401: ProblemOut, 422: ProblemOut}, operation_id="audit")
def audit(
    request: SignedIn,
    before: Annotated[int | None, Query(ge=1, le=2**63 - 1)] = None,
    limit: Annotated[int, Query(ge=1, le=500)] = 100,
) -> AuditPage:
    """Who changed what in the workshop, the newest first; those before an entry's id for the next page."""
    page = list(entries_of(workshop_of(request.user), before).select_related("author")[: limit + 1])
    return AuditPage(entries=[AuditOut.of(entry) for entry in page[:limit]], more=len(page) > limit)


@router.get(
    "/installations/{int:installation_id}/revisions/{int:number}",
    response={200: RevisionOut, **REFUSED},
    operation_id="revision",
)
def revision(request: SignedIn, installation_id: int, number: int) -> RevisionOut:
    """One revision with its document."""
    found = installation_for(request.user, installation_id).revisions.filter(number=number).first()
    if found is None:
        raise NotFoundError
    return RevisionOut.of(found)


@router.get(
    "/installations/{int:installation_id}/file",
    response={200: Installation, **REFUSED},
    operation_id="exportInstallation",
)
def export(request: SignedIn, installation_id: int) -> HttpResponse:
    """The newest revision as a *.installation.json file."""
    record = installation_for(request.user, installation_id)
    installation = read_installation(head_of(record).document)
    name = file_name(f"{record.vehicle.name} {installation.name}", ".installation.json")
    response = HttpResponse(write_installation_json(installation), content_type="application/json")
    response["Content-Disposition"] = content_disposition_header(True, name)
    return response


@router.get(
    "/installations/{int:installation_id}/stored", response={200: Any, **REFUSED}, operation_id="storedInstallation"
)
def stored(request: SignedIn, installation_id: int) -> HttpResponse:
    """The newest revision as it is stored, unread: for a document that today's limits refuse."""
    head = head_of(installation_for(request.user, installation_id))
    response = HttpResponse(json.dumps(head.document, indent=2, ensure_ascii=False), content_type="application/json")
    response["Content-Disposition"] = content_disposition_header(True, f"stored-{installation_id}.json")
    return response
