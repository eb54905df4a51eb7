"""Recorded runs of the bench beside the requests: a thread of the server works them off, their rows say how far it is."""

from __future__ import annotations

import logging
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from typing import Any

from django.contrib.auth.models import User
from django.db import connections, transaction
from django.utils import timezone

from speedchain import Installation, SpeedchainError, evaluate, read_installation
from speedchain.bench.run import Run, Stopped, run_bench, started
from speedchain.wheel.chart import Chart
from workshop.access import NotFoundError, chart_of, editor, member_of
from workshop.models import BenchRun, Workshop

MOST_AT_ONCE = 3
KEPT = 10
LOST_AFTER = timedelta(seconds=30)
LOST = "The server was started again while this run was going. Start the run again."


class BusyError(Exception):
    """As many runs of the workshop are going as may."""


log = logging.getLogger(__name__)
workers = ThreadPoolExecutor(max_workers=1, thread_name_prefix="bench-run")


def start_run(user: User, installation: Installation, asked: Run, result_type: Any) -> BenchRun:
    """Keep the run and hand it to the worker once the row is there; refused when three are going already."""
    workshop, chart = editor(user).workshop, chart_of(user)
    started(installation, evaluate(installation, chart), asked)
    with transaction.atomic():
        # one after the other, so that no two requests count the same free place
        Workshop.objects.select_for_update().get(pk=workshop.pk)
        _lose(workshop)
        if BenchRun.objects.filter(workshop=workshop, state__in=("waiting", "going")).count() >= MOST_AT_ONCE:
            raise BusyError
        old = BenchRun.objects.filter(workshop=workshop, state__in=("done", "failed", "stopped"))
        BenchRun.objects.filter(pk__in=list(old.values_list("pk", flat=True)[KEPT - 1 :])).delete()
        run = BenchRun.objects.create(
            workshop=workshop, document=installation.model_dump(mode="json"), asked=asked.model_dump(mode="json")
        )
        transaction.on_commit(lambda: workers.submit(_work, run.pk, chart, result_type))
    return run


def run_of(user: User, run_id: int) -> BenchRun:
    """A run of the own workshop."""
    workshop = member_of(user).workshop
    _lose(workshop)
    run = BenchRun.objects.filter(workshop=workshop, pk=run_id).first()
    if run is None:
        raise NotFoundError
    return run


def stop_run(user: User, run_id: int) -> BenchRun:
    """Ask a run to stop; it does so before its next piece."""
    run = run_of(user, run_id)
    BenchRun.objects.filter(pk=run.pk, state="waiting").update(state="stopped")
    BenchRun.objects.filter(pk=run.pk, state="going").update(stop_wanted=True)
    return run_of(user, run_id)


def _lose(workshop: Workshop) -> None:
    """Runs whose worker has not been heard of are over: their server is gone."""
    BenchRun.objects.filter(
        workshop=workshop, state__in=("waiting", "going"), beat_at__lt=timezone.now() - LOST_AFTER
    ).update(state="failed", message=LOST)


def _beat(run_id: int, share: float) -> bool:
    """Say how far it is; whether to go on."""
    BenchRun.objects.filter(pk=run_id).update(share=min(share, 1.0), beat_at=timezone.now())
    # those still waiting behind this one are not lost
    BenchRun.objects.filter(state="waiting").update(beat_at=timezone.now())
    return not BenchRun.objects.filter(pk=run_id, stop_wanted=True).exists()


def _work(run_id: int, chart: Chart, result_type: Any) -> None:
    """Work one run off; whatever happens, its row says so."""
    try:
        if not BenchRun.objects.filter(pk=run_id, state="waiting").update(state="going", beat_at=timezone.now()):
            return
        run = BenchRun.objects.get(pk=run_id)
        installation = read_installation(run.document)
        result = run_bench(
            installation, evaluate(installation, chart), Run(**run.asked), lambda share: _beat(run_id, share)
        )
        BenchRun.objects.filter(pk=run_id).update(
            state="done", share=1.0, result=result_type.dump_python(result, mode="json")
        )
    except Stopped:
        BenchRun.objects.filter(pk=run_id).update(state="stopped")
    except SpeedchainError as error:
        BenchRun.objects.filter(pk=run_id).update(state="failed", message=str(error)[:400])
    except Exception:
        log.exception("bench run %s", run_id)
        BenchRun.objects.filter(pk=run_id).update(state="failed", message="The run broke off. Start it again.")
    finally:
        connections.close_all()
