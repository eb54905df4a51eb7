"""The fault finder: faults of an installation, answers to tests, a cause on the bench, and the table of chances."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field, TypeAdapter

from api.access import SignedIn
from api.described import KEEPS
from api.problems import ProblemOut
from api.schemas import In
from speedchain import read_installation
from speedchain.faults import (
    CAUSES,
    SEEN_IN_A_RUN,
    SYMPTOMS,
    TESTS,
    Answer,
    FaultView,
    OnTheBench,
    OwnTable,
    Seen,
    Symptom,
    chances_of,
    show_on_bench,
)
from speedchain.fields import Choice, Words, text_of
from speedchain.fields.texts import Plain
from speedchain.fitted import Drawn, drawn_as
from speedchain.runs import EventKind
from speedchain.service import PART_KINDS, FittedPart
from workshop import faults
from workshop.access import member_of
from workshop.models import FaultRecord, Workshop
from workshop.timeline import fault_text

of_installation = Router()
router = Router()
table_router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}
SHOWN: TypeAdapter[OnTheBench] = TypeAdapter(OnTheBench)


class FaultRow(Schema):
    """A fault in a list."""

    id: int
    text: Words
    created_at: datetime
    closed: bool


class FaultsOut(Schema):
    """The faults of an installation, what can be chosen for a new one, and what failed tests say already."""

    items: list[FaultRow]
    histories: tuple[Choice, ...]
    symptoms: tuple[Choice, ...]
    changed: tuple[Choice, ...]
    in_a_run: dict[EventKind, Symptom]
    suggested: Seen


class AnsweredOut(Schema):
    """Who answered a test, when, and the revision that holds it as a test record."""

    test: str
    at: datetime
    by: str
    revision: int | None


class FaultOut(Schema):
    """A fault: what was seen, and how far the search is; of a closed one its cause."""

    id: int
    installation: int
    name: str
    vehicle: str
    vehicle_id: int
    on_water: bool
    drawn: Drawn
    revision: int
    created_at: datetime
    by: str
    noticed: list[Words]
    part_kinds: tuple[Choice, ...] = PART_KINDS
    closed_at: datetime | None
    closed_text: Words
    answers: list[AnsweredOut]
    view: FaultView


class AnswerIn(In):
    """The answer to a test, with a key made by the client."""

    key: Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{8,64}$")]
    answer: Answer


class CloseIn(In):
    """What the cause was; `other` with a remark where it is none of those that are known."""

    cause: Annotated[str, Field(max_length=40)]
    remark: Annotated[str, Field(max_length=400), Plain] = ""
    retest: faults.Retest = "none"
    part: FittedPart | None = None


class ShowIn(In):
    """A cause to be put into the bench."""

    cause: Annotated[str, Field(max_length=40)]
    kmh: Annotated[float, Field(gt=0, le=400)] = 50.0


class ChanceRow(Schema):
    """Our chances of each outcome of a test where a cause is there."""

    test: str
    chances: dict[str, float]


class CauseRow(Schema):
    """A cause of the table: its weight before any test, and what tests give with it."""

    code: str
    text: Words
    weight: float
    tests: list[ChanceRow]


class TestRow(Schema):
    """A test of the table."""

    code: str
    title: Words
    outcomes: dict[str, Words]
    minutes: float


class TableOut(Schema):
    """Our table and the workshop's own figures in place of it."""

    causes: list[CauseRow]
    tests: list[TestRow]
    own: OwnTable
    version: int


class TableIn(In):
    """A workshop's own figures."""

    base_version: Annotated[int, Field(ge=1)]
    own: OwnTable


@of_installation.get("/{installation_id}/faults", response={200: FaultsOut, **REFUSED}, operation_id="faults")
def list_faults(request: SignedIn, installation_id: int) -> FaultsOut:
    """The faults of an installation, the newest first."""
    rows, choices = faults.faults_of(request.user, installation_id), faults.choices_of(request.user, installation_id)
    return FaultsOut(
        items=[
            FaultRow(id=row.pk, text=fault_text(row), created_at=row.created_at, closed=row.closed_at is not None)
            for row in rows
        ],
        histories=choices.histories,
        symptoms=choices.symptoms,
        changed=choices.changed,
        in_a_run=dict(SEEN_IN_A_RUN),
        suggested=faults.suggestion_for(request.user, installation_id),
    )


@of_installation.post(
    "/{installation_id}/faults", response={201: FaultOut, **REFUSED}, operation_id="startFault", openapi_extra=KEEPS
)
def start(request: SignedIn, installation_id: int, body: Seen) -> tuple[int, FaultOut]:
    """Open a fault by what is seen."""
    return 201, _out(request, faults.start_fault(request.user, installation_id, body))


@router.get("/{fault_id}", response={200: FaultOut, **REFUSED}, operation_id="showFault")
def show(request: SignedIn, fault_id: int) -> FaultOut:
    """A fault, and how far the search is."""
    return _out(request, faults.fault_for(request.user, fault_id))


@router.post("/{fault_id}/answers", response={200: FaultOut, **REFUSED}, operation_id="answerTest")
def answer(request: SignedIn, fault_id: int, body: AnswerIn) -> FaultOut:
    """Take the answer to a test in; the same key counts once."""
    return _out(request, faults.answer_test(request.user, fault_id, body.key, body.answer))


@router.post("/{fault_id}/close", response={200: FaultOut, **REFUSED}, operation_id="closeFault")
def close(request: SignedIn, fault_id: int, body: CloseIn) -> FaultOut:
    """Close it with its cause."""
    return _out(
        request, faults.close_fault(request.user, fault_id, body.cause, body.remark, retest=body.retest, part=body.part)
    )


@router.delete("/{fault_id}", response={204: None, **REFUSED}, operation_id="deleteFault")
def delete(request: SignedIn, fault_id: int) -> tuple[int, None]:
    """Remove a fault that was opened by mistake."""
    faults.delete_fault(request.user, fault_id)
    return 204, None


@router.post("/{fault_id}/bench", response={200: OnTheBench, **REFUSED}, operation_id="faultOnBench")
def on_bench(request: SignedIn, fault_id: int, body: ShowIn) -> HttpResponse:
    """A cause put into the simulated bench, on this installation."""
    found = faults.fault_for(request.user, fault_id)
    shown = show_on_bench(body.cause, read_installation(found.document), kmh=body.kmh)
    return HttpResponse(SHOWN.dump_json(shown), content_type="application/json")


@table_router.get("", response={200: TableOut, **REFUSED}, operation_id="faultTable")
def show_table(request: SignedIn) -> TableOut:
    """The table of chances."""
    return _table_out(member_of(request.user).workshop)


@table_router.put("", response={200: TableOut, 409: ProblemOut, **REFUSED}, operation_id="saveFaultTable")
def save_table(request: SignedIn, body: TableIn) -> TableOut:
    """Save the workshop's own figures."""
    return _table_out(faults.save_table(request.user, body.own, body.base_version))


def _table_out(workshop: Workshop) -> TableOut:
    causes = [
        CauseRow(
            code=cause.code,
            text=cause.text,
            weight=cause.prior,
            tests=[
                ChanceRow(test=test.code, chances=chances_of(test, cause)) for test in TESTS if test.code in cause.tests
            ],
        )
        for cause in CAUSES
    ]
    tests = [
        TestRow(code=test.code, title=test.title, outcomes=dict(test.outcomes), minutes=test.minutes) for test in TESTS
    ]
    own = OwnTable() if workshop.fault_table is None else OwnTable.model_validate(workshop.fault_table)
    return TableOut(causes=causes, tests=tests, own=own, version=workshop.fault_table_version)


def _out(request: SignedIn, found: FaultRecord) -> FaultOut:
    labels = {item.code: item.label for item in SYMPTOMS}
    seen = faults.seen_of(found)
    pairs = [text_of("{0:g} km/h shown at {1:g} km/h", pair.shown_kmh, pair.true_kmh) for pair in seen.pairs]
    return FaultOut.model_construct(
        id=found.pk,
        installation=found.installation_id,
        name=str(found.document.get("name", "")),
        vehicle=found.installation.vehicle.name,
        vehicle_id=found.installation.vehicle_id,
        drawn=drawn_as(read_installation(found.document)),
        on_water=found.document.get("vehicle_kind") == "boat",
        revision=found.revision,
        created_at=found.created_at,
        by=found.created_by_role,
        noticed=[*[labels[code] for code in seen.symptoms], *pairs],
        part_kinds=PART_KINDS,
        closed_at=found.closed_at,
        closed_text=fault_text(found) if found.closed_at else "",
        answers=[
            AnsweredOut(test=entry.content["test"], at=entry.at, by=entry.by_role, revision=entry.applied)
            for entry in found.entries.all()
        ],
        view=faults.view_of(request.user, found),
    )
