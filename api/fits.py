"""Fits, their revisions, and the evaluation of a document that need not be saved."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.utils.text import slugify
from ninja import Router, Status

from api.access import SignedIn
from api.problems import ProblemOut
from api.schemas import EVALUATED, ConflictOut, Evaluated, FitOut, RevisionLine, RevisionOut, SaveIn
from speedchain import Fit, evaluate, read_fit, write_fit_json
from speedchain.catalogue import Catalogue, catalogue
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
    evaluated = Evaluated(document=document, result=evaluate(document))
    return HttpResponse(EVALUATED.dump_json(evaluated), content_type="application/json")


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
