"""One shape for all that changes something: permission, lock and version, the change, an entry of the audit, in one
transaction.

`@use_case("add_vehicle")` makes a function one. It fails, and nothing is kept, where the function

- writes what is the workshop's without having asked whether the account may (`access.editor`),
- writes and leaves no entry of the kinds that it names (unless it says why it leaves none),
- changes rows that are there already without comparing a version (unless it says why the last word may hold).

All of them are in `USE_CASES`, for a test that walks every route that writes.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from contextvars import ContextVar
from dataclasses import dataclass, field
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from django.db import connection, transaction

P = ParamSpec("P")
R = TypeVar("R")
_WRITES = re.compile(r'(INSERT INTO|UPDATE|DELETE FROM) "(workshop_\w+)"')
BESIDE = ("workshop_auditentry", "workshop_writekey")
"""Tables of the frame itself."""


@dataclass(frozen=True)
class UseCase:
    """A function that changes something: the entries that it may leave, or why none; why no version is compared, if so;
    whether it changes a person's own things alone."""

    name: str
    audits: frozenset[str]
    personal: bool = False
    no_entry: str = ""
    no_version: str = ""


@dataclass
class Run:
    """One use case under way, with those that it calls."""

    audits: set[str] = field(default_factory=set)
    asked: bool = False
    compared: bool = False
    entries: set[str] = field(default_factory=set)
    written: set[tuple[str, str]] = field(default_factory=set)
    """What was done to which table: INSERT, UPDATE, DELETE."""

    def watch(self, execute: Callable[..., Any], sql: str, params: Any, many: bool, context: Any) -> Any:
        """Note which of our tables are written (Django's `execute_wrapper`)."""
        outcome = execute(sql, params, many, context)
        found = _WRITES.match(str(sql))
        if found and found[2] not in BESIDE and context["cursor"].rowcount != 0:  # one that meets no row writes nothing
            self.written.add((found[1].split()[0], found[2]))
        return outcome


USE_CASES: dict[str, UseCase] = {}
_under_way: ContextVar[Run | None] = ContextVar("use case", default=None)


class UnguardedError(AssertionError):
    """A use case that is not one: a fault of ours."""


def under_way() -> Run:
    """The use case under way; outside of one, a run that nobody looks at."""
    return _under_way.get() or Run()


def use_case(
    *audits: str, personal: bool = False, no_entry: str = "", no_version: str = ""
) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Make a function a use case.

    Parameters
    ----------
    audits : the entries that it may leave, of `models.ACTIONS`.
    personal : it changes what is the person's own: no permission of the workshop is needed.
    no_entry : why it leaves none.
    no_version : why it compares no version: the last of two who change the same thing may hold.
    """

    def decorate(function: Callable[P, R]) -> Callable[P, R]:
        case = UseCase(
            f"{function.__module__}.{function.__qualname__}", frozenset(audits), personal, no_entry, no_version
        )
        USE_CASES[case.name] = case

        @wraps(function)
        def run(*arguments: P.args, **named: P.kwargs) -> R:
            if (outer := _under_way.get()) is not None:
                outer.audits |= case.audits
                with transaction.atomic():
                    return function(*arguments, **named)
            now = Run(set(case.audits))
            token = _under_way.set(now)
            try:
                with transaction.atomic(), connection.execute_wrapper(now.watch):
                    outcome = function(*arguments, **named)
                    _check(case, now)
                return outcome
            finally:
                _under_way.reset(token)

        return run

    return decorate


def _check(case: UseCase, run: Run) -> None:
    written = {table for _, table in run.written}
    changed = {table for what, table in run.written if what == "UPDATE" and ("INSERT", table) not in run.written}
    if not written:
        return
    if not run.asked and not case.personal:
        raise UnguardedError(f"{case.name} writes {sorted(written)} and has asked nobody's permission")
    if not case.no_entry and not run.entries & run.audits:
        raise UnguardedError(f"{case.name} writes {sorted(written)} and leaves no entry of {sorted(run.audits)}")
    if run.entries - run.audits:
        raise UnguardedError(f"{case.name} leaves entries that it does not name: {sorted(run.entries - run.audits)}")
    if changed and not run.compared and not case.no_version:
        raise UnguardedError(f"{case.name} changes {sorted(changed)} and compares no version")
