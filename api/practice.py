"""Practice at finding faults: cases, moves, and how a case ended."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from ninja import Router, Schema
from pydantic import Field

from api.access import SignedIn
from api.described import KEEPS
from api.problems import ProblemOut
from api.schemas import In
from speedchain.faults import CASES, GRADED, MOST_MOVES, Move, Outcome, Play
from speedchain.fields import Words
from workshop import practice
from workshop.models import PracticeRecord

router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}


class GradedOut(Schema):
    """A graded case: what the customer says, and the account's best points."""

    number: int
    sentence: Words
    best: int | None


class PlayedRow(Schema):
    """A case that was begun; 0 is a generated one."""

    id: int
    number: int
    points: int | None
    minutes: float | None
    created_at: datetime
    ended: bool


class PracticeListOut(Schema):
    """The graded cases and those that the account has played; the mean of its points."""

    graded: list[GradedOut]
    played: list[PlayedRow]
    mean_points: float | None


class PracticeOut(Schema):
    """A case, as it stands or as it ended."""

    id: int
    number: int
    moves: int
    play: Play
    outcome: Outcome | None


class CaseIn(In):
    """A graded case by its number; without one a case is generated."""

    case: Annotated[int, Field(ge=1, le=GRADED)] | None = None


class MoveIn(In):
    """A move, and how many were made before it."""

    count: Annotated[int, Field(ge=0, le=MOST_MOVES)]
    move: Move


def _number(found: PracticeRecord) -> int:
    return found.case if found.case <= GRADED else 0


def _out(found: PracticeRecord) -> PracticeOut:
    return PracticeOut.model_construct(
        id=found.pk,
        number=_number(found),
        moves=len(found.moves),
        play=practice.shown(found),
        outcome=practice.ended(found),
    )


@router.get("", response={200: PracticeListOut, **REFUSED}, operation_id="practice")
def show_all(request: SignedIn) -> PracticeListOut:
    """All cases, and the account's progress."""
    played = practice.cases_of(request.user)
    best: dict[int, int] = {}
    for row in played:
        if row.points is not None:
            best[row.case] = max(best.get(row.case, 0), row.points)
    points = [row.points for row in played if row.points is not None]
    return PracticeListOut(
        graded=[
            GradedOut(number=place, sentence=case.sentence, best=best.get(place)) for place, case in enumerate(CASES, 1)
        ],
        played=[
            PlayedRow(
                id=row.pk, number=_number(row), points=row.points, minutes=row.minutes, created_at=row.created_at,
                ended=row.ended_at is not None,
            )
            for row in played
        ],
        mean_points=sum(points) / len(points) if points else None,
    )  # fmt: skip


@router.post("", response={201: PracticeOut, **REFUSED}, operation_id="beginCase", openapi_extra=KEEPS)
def begin(request: SignedIn, body: CaseIn) -> tuple[int, PracticeOut]:
    """Begin a case."""
    return 201, _out(practice.begin_case(request.user, body.case))


@router.get("/{practice_id}", response={200: PracticeOut, **REFUSED}, operation_id="showCase")
def show(request: SignedIn, practice_id: int) -> PracticeOut:
    """A case as it stands."""
    return _out(practice.case_for(request.user, practice_id))


@router.post("/{practice_id}/moves", response={200: PracticeOut, **REFUSED}, operation_id="makeMove")
def make_move(request: SignedIn, practice_id: int, body: MoveIn) -> PracticeOut:
    """Make a move."""
    return _out(practice.make_move(request.user, practice_id, body.count, body.move))


@router.post("/{practice_id}/end", response={200: PracticeOut, **REFUSED}, operation_id="endCase")
def end(request: SignedIn, practice_id: int) -> PracticeOut:
    """End a case: what was hidden, the points, and what an expert would have done."""
    return _out(practice.end_case(request.user, practice_id))
