"""Recorded runs on the simulated bench."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from pydantic import TypeAdapter

from speedchain import Installation, evaluate, read_installation
from speedchain.bench.run import Run, RunTold, run_bench, started
from speedchain.fields import kept
from speedchain.wheel.chart import Chart
from workshop.access import chart_of
from workshop.models import Work
from workshop.work import Progress, handles, start_work

RUN_TOLD: TypeAdapter[RunTold] = TypeAdapter(RunTold)


def start_run(user: User, installation: Installation, asked: Run) -> Work:
    """Keep the run and put it into the queue; one that cannot be made is refused at once."""
    started(installation, evaluate(installation, chart_of(user)), asked)
    return start_work(user, "bench_run", asked.model_dump(mode="json"), document=installation)


@handles("bench_run")
def run_on_bench(work: Work, chart: Chart, progress: Progress) -> Any:
    """What the readers showed over the run."""
    installation = read_installation(work.document)
    result = run_bench(installation, evaluate(installation, chart), Run(**work.asked), progress)
    return kept(RUN_TOLD, result)
