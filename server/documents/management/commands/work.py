"""Work on jobs (documents.jobs) until it is told to end; goes on when the database was away."""

import asyncio
import logging
from typing import Any

from django.core.management.base import BaseCommand
from procrastinate.contrib.django import app

from documents.tasks import STALLED

log = logging.getLogger("nestline")
AT_ONCE = 2
"""Jobs that are done at one time, each in a process of its own."""


class Command(BaseCommand):
    help = "Work on jobs"

    def handle(self, *args: Any, **options: Any) -> None:
        asyncio.run(self.work())

    async def work(self) -> None:
        while True:
            try:
                with app.replace_connector(app.connector.get_worker_connector()) as wanted:  # type: ignore[attr-defined]
                    async with wanted.open_async():
                        await wanted.run_worker_async(
                            concurrency=AT_ONCE,
                            update_heartbeat_interval=STALLED / 4,
                            stalled_worker_timeout=STALLED,
                            fetch_job_polling_interval=2,
                            delete_jobs="successful",
                            shutdown_graceful_timeout=5,
                        )
                return
            except Exception as error:
                log.warning(
                    "the worker of jobs: %s", str(error).splitlines()[0] if str(error) else type(error).__name__
                )
                await asyncio.sleep(1)
