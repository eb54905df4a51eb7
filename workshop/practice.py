"""Use cases of practice: a case is begun, played move by move, ended; each account sees its own."""

from __future__ import annotations

import secrets

from django.contrib.auth.models import User
from django.utils import timezone

from speedchain.faults import GRADED, MOST_MOVES, Move, Outcome, Play, outcome_of, play
from speedchain.fields import InputError
from workshop.access import member_of, one_of
from workshop.models import PracticeRecord
from workshop.use_cases import use_case
from workshop.vehicles import FullError

MOST_CASES = 1000
MOST_SEED = 2_000_000_000


def cases_of(user: User) -> list[PracticeRecord]:
    """The cases that an account has played, the newest first."""
    member_of(user)
    return list(user.practice.all())


@use_case(personal=True, no_entry="a game")
def begin_case(user: User, case: int | None) -> PracticeRecord:
    """Begin a graded case, or a generated one. Raises `InputError` for a grade that is not there."""
    member_of(user)
    if case is not None and not 1 <= case <= GRADED:
        raise InputError("There is no such case.", remedy=f"Choose 1 to {GRADED}.", path="case")
    if user.practice.count() >= MOST_CASES:
        raise FullError(MOST_CASES, "cases of an account")
    return PracticeRecord.objects.create(user=user, case=case or GRADED + 1 + secrets.randbelow(MOST_SEED))


def case_for(user: User, practice_id: int) -> PracticeRecord:
    """One case of the account, or `NotFoundError`."""
    return one_of(user.practice.all(), practice_id)


def moves_of(found: PracticeRecord) -> tuple[Move, ...]:
    """Its moves in their order."""
    return tuple([Move.model_validate(item) for item in found.moves])


def shown(found: PracticeRecord) -> Play:
    """The case as it stands."""
    return play(found.case, moves_of(found))


def ended(found: PracticeRecord) -> Outcome | None:
    """How it ended, once it has."""
    return None if found.ended_at is None else outcome_of(found.case, moves_of(found))


@use_case(personal=True, no_entry="a game", no_version="it counts the moves")
def make_move(user: User, practice_id: int, count: int, move: Move) -> PracticeRecord:
    """Make a move; `count` is how many were made before, so that a repeat is made once. Raises `InputError`."""
    found = _locked(user, practice_id)
    if found.ended_at is not None:
        raise InputError("The case has ended.", remedy="Begin another one.", path="move")
    if count != len(found.moves):
        return found
    if len(found.moves) >= MOST_MOVES:
        raise FullError(MOST_MOVES, "moves of a case")
    play(found.case, (*moves_of(found), move))
    found.moves = [*found.moves, move.model_dump(mode="json")]
    found.save(update_fields=["moves"])
    return found


@use_case(personal=True, no_entry="a game", no_version="it ends once")
def end_case(user: User, practice_id: int) -> PracticeRecord:
    """End a case, solved or not: its points, and what was hidden, are known from now on."""
    found = _locked(user, practice_id)
    if found.ended_at is None:
        result = outcome_of(found.case, moves_of(found))
        found.ended_at, found.points, found.minutes = timezone.now(), result.points, result.minutes
        found.save(update_fields=["ended_at", "points", "minutes"])
    return found


def _locked(user: User, practice_id: int) -> PracticeRecord:
    return one_of(user.practice.select_for_update(), practice_id)
