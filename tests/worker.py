"""A worker of the queue inside of the tests, at the tests' database."""

from __future__ import annotations

import asyncio
import faulthandler
import logging
import threading
import time
from datetime import timedelta
from typing import Any

from django.db import connection
from django.utils import timezone

from workshop.models import OPEN_STATES, Work
from workshop.queue import work
from workshop.work import work_off

AGAIN_S = 0.5
SLOW = timedelta(seconds=20)
SEEN_THEN = (
    "SELECT now(), id, status, task_name, attempts, args::text, worker_id FROM procrastinate_jobs",
    "SELECT now(), * FROM procrastinate_workers",
    "SELECT pid, state, wait_event, now() - xact_start, left(query, 200) FROM pg_stat_activity "
    "WHERE datname = current_database()",
)
log = logging.getLogger(__name__)


def work_all() -> None:
    """Do all waiting work here and now, in the test's own transaction."""
    for waiting in Work.objects.filter(state__in=OPEN_STATES).order_by("pk"):
        work_off(waiting.pk)


def say_what_is_stuck() -> None:
    """Where work has been open for long: what the queue, the database and every thread are doing, into the log."""
    late = Work.objects.filter(state__in=OPEN_STATES, created_at__lt=timezone.now() - SLOW)
    if not (stuck := list(late.values("pk", "kind", "state", "share", "created_at", "beat_at"))):
        return
    log.error("work that is not done: %s", stuck)
    with connection.cursor() as cursor:
        for asked in SEEN_THEN:
            cursor.execute(asked)
            log.error("%s: %s", asked, cursor.fetchall())
    faulthandler.dump_traceback(all_threads=True)


class Worker:
    """A real worker in a thread: what the app has beside its web processes. One that fails is followed by the next, as
    `./start` does it."""

    def __init__(self) -> None:
        self.loop = asyncio.new_event_loop()
        self.task: Any = None
        self.stopping = False
        self.thread = threading.Thread(target=self._run, daemon=True)

    def _run(self) -> None:
        asyncio.set_event_loop(self.loop)
        while not self.stopping:
            self.task = self.loop.create_task(work(install_signal_handlers=False))
            try:
                self.loop.run_until_complete(self.task)
            except asyncio.CancelledError:
                pass
            except Exception:  # the database let it go; whatever it was, the work goes on
                log.exception("a worker of the tests ended, the next one begins")
                time.sleep(AGAIN_S)
        self.loop.run_until_complete(self.loop.shutdown_default_executor())

    def start(self) -> Worker:
        """Begin to work."""
        self.thread.start()
        return self

    def stop(self) -> None:
        """End, when what is under way is done."""
        self.stopping = True
        self.loop.call_soon_threadsafe(lambda: self.task and self.task.cancel())
        self.thread.join(20)
