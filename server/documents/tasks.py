"""The queue's tasks (procrastinate)."""

from __future__ import annotations

import os

from django.db import OperationalError
from procrastinate import JobContext, RetryStrategy
from procrastinate.contrib.django import app

from documents import jobs
from people.forgetting import forget_old

STALLED = float(os.environ.get("NEST_STALLED", "15"))
"""Seconds without a sign of life after which a worker counts as gone, and what it was at is taken up again."""


@app.task(
    name=jobs.RUN_JOB, retry=RetryStrategy(max_attempts=20, wait=2, retry_exceptions={OperationalError, jobs.Again})
)
def run_job(job_id: int) -> None:
    jobs.run(job_id)


@app.periodic(cron="* * * * * */5")
@app.task(name="take_up", queueing_lock="take_up", pass_context=True)
async def take_up(context: JobContext, timestamp: int) -> None:
    """What workers were at that were killed is done again."""
    manager = context.app.job_manager
    for job in await manager.get_stalled_jobs(seconds_since_heartbeat=STALLED):
        await manager.retry_job(job)


@app.periodic(cron="0 * * * *")
@app.task(name="clear_old", queueing_lock="clear_old")
def clear_old(timestamp: int) -> None:
    jobs.clear_old()
    forget_old()
