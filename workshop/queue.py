"""A worker's side of the queue: takes work, and takes up what killed workers held."""

from __future__ import annotations

from typing import Any

from asgiref.sync import sync_to_async
from procrastinate.contrib.django import DjangoApp, app
from procrastinate.jobs import Status

from workshop.bin import purge_bins, purge_sign_ins
from workshop.work import QUEUE, TRIES, settle

AT_ONCE = 2
HEARTBEAT_S = 5.0
LEAST_WAIT_S = 3.0
STALLED_AFTER_S = 20
TAKE_UP_EVERY = "* * * * * */10"
PURGE_AT = "17 * * * *"


async def work(**options: Any) -> None:
    """Work until stopped.

    The worker has an app of its own: what puts work into the queue stays at Django's connection, and so in its
    transaction, in whatever process that is.
    """
    connector: Any = app.connector
    working = DjangoApp(connector=connector.get_worker_connector())
    working.tasks.update(app.tasks)
    task = working.task(name="take_up", queue=QUEUE, queueing_lock="take_up", pass_context=True)(take_up)
    working.periodic(cron=TAKE_UP_EVERY)(task)
    working.periodic(cron=PURGE_AT)(
        working.task(name="purge", queue=QUEUE, queueing_lock="purge", pass_context=True)(purge)
    )
    async with working.open_async():
        await working.run_worker_async(
            queues=[QUEUE],
            concurrency=AT_ONCE,
            fetch_job_polling_interval=LEAST_WAIT_S,
            update_heartbeat_interval=HEARTBEAT_S,
            stalled_worker_timeout=STALLED_AFTER_S,
            shutdown_graceful_timeout=5,
            delete_jobs="successful",
            **options,
        )


async def purge(context: Any, timestamp: int) -> None:
    """Remove what is kept for a time only: the bins' contents, failed sign-ins, sessions that ended."""
    for act in (purge_bins, purge_sign_ins):
        await sync_to_async(act)()


async def take_up(context: Any, timestamp: int) -> None:
    """Give what killed workers held to others, but for what was tried too often; end what no queue holds any more."""
    jobs = context.app.job_manager
    for job in await jobs.get_stalled_jobs(seconds_since_heartbeat=STALLED_AFTER_S):
        if job.attempts < TRIES:
            await jobs.retry_job(job)
        else:  # it may be what kills the workers
            await jobs.finish_job(job, Status.FAILED, delete_job=False)
    await jobs.prune_stalled_workers(STALLED_AFTER_S)
    await sync_to_async(settle)()
