"""Long work beside the requests: rows say what was asked for and how far it is, workers take it from a queue.

The queue is procrastinate, in the same database: work and its place in the queue are written in one transaction, and
what a killed worker held is taken up again. A piece of work begins anew then, so every kind of it may be done twice.
"""

from __future__ import annotations

import hashlib
import json
import logging
import time
from collections.abc import Callable, Mapping
from datetime import timedelta
from typing import Any

from django.contrib.auth.models import User
from django.db import InterfaceError, OperationalError, connection
from django.utils import timezone
from procrastinate import RetryStrategy
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from speedchain import Installation, SpeedchainError
from speedchain.bench.run import Stopped
from speedchain.fields import as_data
from speedchain.wheel.chart import Chart
from workshop.access import NotFoundError, chart_from, editor, locked_workshop, member_of
from workshop.core_version import core_version
from workshop.models import OPEN_STATES, InstallationRecord, RecordingRecord, Work
from workshop.storage import disk_is_full, is_nearly_full, refuse_without_space
from workshop.use_cases import use_case

MOST_AT_ONCE = 3
KEPT = 100
"""Finished work that is kept, of each recording and of all others of a workshop together."""
TRIES = 5
LOST_AFTER = timedelta(minutes=1)
BEAT_S = 0.2
"""How far work is, is written so often at most."""
QUEUE = "work"
Progress = Callable[[float], bool]
"""Called with the share that is done; whether to go on."""
Handler = Callable[[Work, Chart, Progress], Any]
HANDLERS: dict[str, Handler] = {}
WHEN_BROKEN_OFF: dict[str, Callable[[Work, dict[str, Any]], None]] = {}
log = logging.getLogger(__name__)


class BusyError(Exception):
    """As many runs of the workshop are going as may."""


def handles(kind: str) -> Callable[[Handler], Handler]:
    """Mark the function that does a kind of work; what it returns is the result, as plain data."""

    def mark(handler: Handler) -> Handler:
        HANDLERS[kind] = handler
        return handler

    return mark


BrokenOff = Callable[[Work, dict[str, Any]], None]


def when_broken_off(kind: str) -> Callable[[BrokenOff], BrokenOff]:
    """Mark the function that is called when work of a kind ended without a result, with the problem to be shown."""

    def mark(handler: BrokenOff) -> BrokenOff:
        WHEN_BROKEN_OFF[kind] = handler
        return handler

    return mark


def _end(work: Work, state: str, problem: dict[str, Any]) -> None:
    """Work that ends without a result says so, and so does what it was about."""
    Work.objects.filter(pk=work.pk).update(state=state, problem=None if state == "stopped" else problem)
    if work.kind in WHEN_BROKEN_OFF:
        WHEN_BROKEN_OFF[work.kind](work, problem)


def fingerprint_of(*parts: Any) -> str:
    """What work depends on, in a few letters: the same work is not done twice while the core is the same."""
    text = json.dumps([core_version(), *parts], sort_keys=True, default=str)
    return hashlib.sha256(text.encode()).hexdigest()


@use_case(no_entry="it computes; what is made of it is entered there")
def start_work(
    user: User,
    kind: str,
    asked: Mapping[str, Any],
    *,
    document: Installation | None = None,
    recording: RecordingRecord | None = None,
    installation: InstallationRecord | None = None,
    again: bool = True,
) -> Work:
    """Keep what is asked for and put it into the queue; with `again` off, the same work done or under way is given.

    Of a workshop's waiting work the later comes after the first of every other workshop.

    Raises `BusyError` when three runs on the bench are going already.
    """
    member = member_of(user)
    workshop = locked_workshop(member)  # one after the other, so that no two requests count the same free place
    content = None if document is None else document.model_dump(mode="json")
    about = [recording and [recording.pk, recording.version], installation and installation.pk]
    key = fingerprint_of(kind, asked, content, workshop.chart_version, about)
    mine = Work.objects.filter(workshop=workshop)
    if not again and (known := mine.filter(key=key, state__in=("done", *OPEN_STATES)).first()):
        return known
    editor(user)  # who may only read sees what was done, and starts nothing
    waiting = mine.filter(state__in=OPEN_STATES)
    if kind == "bench_run" and waiting.filter(kind=kind).count() >= MOST_AT_ONCE:
        raise BusyError
    old = mine.exclude(state__in=OPEN_STATES).filter(recording=recording)
    Work.objects.filter(pk__in=list(old.values_list("pk", flat=True)[KEPT - 1 :])).delete()
    made = Work.objects.create(
        workshop=workshop,
        kind=kind,
        asked=dict(asked),
        document=content,
        recording=recording,
        installation=installation,
        key=key,
    )
    work_off.configure(priority=-waiting.count()).defer(work_id=made.pk)
    return made


def work_of(user: User, work_id: int) -> Work:
    """Work of the own workshop."""
    found = Work.objects.filter(workshop=member_of(user).workshop, pk=work_id).first()
    if found is None:
        raise NotFoundError
    return found


@use_case(no_entry="it computes; what is made of it is entered there", no_version="it is stopped once")
def stop_work(user: User, work_id: int) -> Work:
    """Ask work to stop; it does so before its next piece."""
    editor(user)
    found = work_of(user, work_id)
    stop(found)
    return work_of(user, work_id)


def stop(found: Work) -> None:
    """Have work stop: at once where it waits, before its next piece where it is under way."""
    if Work.objects.filter(pk=found.pk, state="waiting").update(state="stopped"):
        _end(found, "stopped", WAS_STOPPED)
    Work.objects.filter(pk=found.pk, state="going").update(stop_wanted=True)


def settle() -> int:
    """End work whose place in the queue is gone: tried too often, or killed with its worker. How many there were."""
    held = ProcrastinateJob.objects.filter(task_name="work_off", status__in=("todo", "doing"))
    there = {int(args["work_id"]) for args in held.values_list("args", flat=True)}
    late = Work.objects.filter(state__in=OPEN_STATES, beat_at__lt=timezone.now() - LOST_AFTER)
    lost = [work for work in late if work.pk not in there]
    for work in lost:
        _end(work, "failed", BROKE_OFF)
    return len(lost)


def _beat(work_id: int, share: float) -> bool:
    """Say how far it is; whether to go on."""
    Work.objects.filter(pk=work_id).update(share=min(share, 1.0), beat_at=timezone.now())
    return Work.objects.filter(pk=work_id, stop_wanted=False).exists()


@app.task(name="work_off", queue=QUEUE, retry=RetryStrategy(max_attempts=TRIES, linear_wait=2))
def work_off(work_id: int) -> None:
    """Do one piece of work; whatever happens, its row says so. While the database is away it is tried again."""
    try:
        _work_off(work_id)
    finally:
        if not connection.in_atomic_block:
            connection.close()  # a worker's thread that waits holds none


def _work_off(work_id: int) -> None:
    if not Work.objects.filter(pk=work_id, state__in=OPEN_STATES).update(state="going", beat_at=timezone.now()):
        return
    work = Work.objects.select_related("workshop", "recording").get(pk=work_id)
    chart = chart_from(work.workshop.cycle_chart)

    last_beat_s = 0.0

    def progress(share: float) -> bool:
        nonlocal last_beat_s
        if time.monotonic() - last_beat_s < BEAT_S:
            return True
        last_beat_s = time.monotonic()
        if not _beat(work_id, share):
            raise Stopped
        return True

    try:
        refuse_without_space()
        result = HANDLERS[work.kind](work, chart, progress)
        Work.objects.filter(pk=work_id).update(state="done", share=1.0, result=result, core=core_version())
    except Stopped:
        _end(work, "stopped", WAS_STOPPED)
    except SpeedchainError as error:
        _end(work, "failed", problem_of(error))
    except (OperationalError, InterfaceError) as error:
        if not disk_is_full(error) and not is_nearly_full():
            raise  # the queue tries again
        _end(work, "failed", NO_SPACE)
    except Exception:
        log.exception("work %s", work_id)
        _end(work, "failed", BROKE_OFF)


def problem_of(error: SpeedchainError) -> dict[str, Any]:
    """The first problem as plain data to be kept."""
    return {name: as_data(getattr(error.problems[0], name)) for name in ("path", "message", "remedy", "limit")}


WAS_STOPPED = {
    "path": "",
    "message": "The task was stopped.",
    "remedy": "Start it again.",
    "limit": "",
}
NO_SPACE = {
    "path": "",
    "message": "The disk of the server is full.",
    "remedy": "Free space on it, then start the task again.",
    "limit": "",
}
BROKE_OFF = {"path": "", "message": "The task was interrupted.", "remedy": "Start it again.", "limit": ""}
