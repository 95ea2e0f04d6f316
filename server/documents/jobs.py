"""Work that takes long, done apart: large exports and imports, contours of big pictures.

A job is a row. Its place in the queue is procrastinate's, in PostgreSQL (documents.tasks); `./nest start` runs one
worker. Each job is worked out in a process of its own, which can be ended without harm to any other: when it is
cancelled, takes too long, or needs too much memory. While a process is at a job it holds a lock in the database, which
goes with its connection: a job whose worker was killed is taken up again, and none is ever done by two. Results are
kept for a week.
"""

from __future__ import annotations

import logging
import multiprocessing
import resource
import sys
import time
from collections.abc import Callable
from contextlib import suppress
from datetime import timedelta
from multiprocessing.forkserver import set_forkserver_preload  # type: ignore[attr-defined]
from pathlib import Path
from typing import Any, Literal

from django.conf import settings
from django.db import OperationalError, connection, transaction
from django.utils import timezone
from procrastinate.contrib.django import app

from assets import media
from documents.models import Document, Job
from nestline.errors import NestLineError

log = logging.getLogger("nestline")
KEPT = timedelta(days=7)
SECONDS = 600.0
"""What a job may take."""
MOST_MEMORY = 4_000_000_000
"""Bytes of address space that a job's process may have."""
MOST_WAITING = 20
"""Jobs of a user that may wait or run at one time."""
LOOK = 0.25
CLASS_OF_LOCKS = 0x4E4C
"""The first half of the key of jobs' locks in the database."""

AGAIN = 75
"""What a job's process ends with when the database, or the store of files, went away (EX_TEMPFAIL of sysexits)."""

Tell = Callable[[float], None]


RUN_JOB = "run_job"
"""The task of the queue that does a job (documents.tasks)."""


class Again(Exception):
    """The job is to be taken up again."""


def begin(
    owner_id: int, kind: str, given: dict[str, Any], document: Document | None = None, upload: bytes | None = None
) -> Job:
    """Put a job into the queue. Raises NestLineError when the user has too many there."""
    if Job.objects.filter(owner_id=owner_id, state__in=Job.OPEN).count() >= MOST_WAITING:
        raise NestLineError(f"{MOST_WAITING} things are being worked out for you already; wait until some are done")
    with transaction.atomic():
        job = Job.objects.create(owner_id=owner_id, document=document, kind=kind, given=given)
        if upload is not None:
            media.put(file_of(job, "upload"), upload)
        app.configure_task(RUN_JOB).defer(job_id=job.id)
    return job


def file_of(job: Job, which: Literal["upload", "result"]) -> str:
    """The name of a job's file among the media."""
    return f"jobs/{job.id}/{which}"


def _forget_files(job: Job) -> None:
    """Where the store is away they stay until it is asked again (clear_old)."""
    with suppress(media.Away):
        media.forget_folder(f"jobs/{job.id}")


def cancel(job: Job) -> None:
    """End a job, whether it waits or runs; nothing of it is kept."""
    if Job.objects.filter(id=job.id, state__in=Job.OPEN).update(state="cancelled", ended=timezone.now()):
        _forget_files(job)


def clear_old() -> None:
    """Take away what is older than a week, and its files."""
    for job in Job.objects.filter(made__lt=timezone.now() - KEPT):
        _forget_files(job)
        job.delete()


# The worker's side


def run(job_id: int) -> None:
    """Do a job in a process of its own, looking after it. Whatever comes of it is in its row afterwards."""
    context = multiprocessing.get_context("forkserver")
    set_forkserver_preload(["documents.jobs_apart"])
    child = context.Process(
        target=_apart, args=(job_id, str(settings.DATABASES["default"]["NAME"]), str(settings.MEDIA_ROOT))
    )
    child.start()
    ends = time.monotonic() + SECONDS
    try:
        while child.is_alive():
            child.join(LOOK)
            if time.monotonic() > ends:
                _end(job_id, "failed", f"this took longer than {SECONDS / 60:.0f} minutes and was stopped")
            if child.is_alive() and not Job.objects.filter(id=job_id, state__in=Job.OPEN).exists():
                return
    finally:
        if child.is_alive():
            child.kill()
        child.join()
    if child.exitcode == AGAIN:
        raise Again
    if child.exitcode:
        log.error("job %s: its process ended with %s", job_id, child.exitcode)
        _end(job_id, "failed", "this could not be worked out: it ended before it was done, maybe for want of memory")


def _apart(job_id: int, database: str, folder: str) -> None:
    """What the process of a job does."""
    import django

    django.setup()
    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
    settings.DATABASES["default"]["NAME"] = connection.settings_dict["NAME"] = database
    settings.MEDIA_ROOT = Path(folder)
    try:
        work(job_id)
    except (OperationalError, media.Away):
        sys.exit(AGAIN)
    connection.close()


def work(job_id: int) -> None:
    """Do a job, here, unless it is done or another process is at it; then wait for that first."""
    while not _locked(job_id):
        time.sleep(LOOK)
    try:
        if not Job.objects.filter(id=job_id, state__in=Job.OPEN).update(state="running", share=0):
            return
        job = Job.objects.select_related("document").get(id=job_id)
        KINDS[job.kind](job, _teller(job))
    except media.Away:
        raise
    except NestLineError as error:
        _end(job_id, "failed", str(getattr(error, "message", error)), getattr(error, "path", "") or "")
    except OperationalError:
        raise  # the database is away: the job is taken up again, as where the store of files is
    except MemoryError:
        _end(job_id, "failed", "this needs more memory than there may be for it; make it smaller")
    except Exception:
        log.exception("job %s", job_id)
        _end(job_id, "failed", "something went wrong that should not have; nothing was changed")
    finally:
        _unlock(job_id)


def _locked(job_id: int) -> bool:
    with connection.cursor() as cursor:
        cursor.execute("select pg_try_advisory_lock(%s, %s)", [CLASS_OF_LOCKS, job_id])
        return bool(cursor.fetchone()[0])


def _unlock(job_id: int) -> None:
    try:
        with connection.cursor() as cursor:
            cursor.execute("select pg_advisory_unlock(%s, %s)", [CLASS_OF_LOCKS, job_id])
    except OperationalError:
        pass  # it went with the connection


def _teller(job: Job) -> Tell:
    told = [0.0]

    def tell(share: float) -> None:
        now = time.monotonic()
        if now - told[0] > 0.2:
            told[0] = now
            Job.objects.filter(id=job.id, state="running").update(share=min(share, 0.999))

    return tell


def _end(job_id: int, state: str, said: str = "", path: str = "") -> None:
    Job.objects.filter(id=job_id, state__in=Job.OPEN).update(
        state=state, said=said[:2000], path=path[:400], ended=timezone.now()
    )


def _done(job: Job, **fields: Any) -> None:
    """Say that a job is done; what it changed, and this, are one transaction. Raises NestLineError when it was
    cancelled."""
    if not Job.objects.filter(id=job.id, state="running").update(state="done", share=1, ended=timezone.now(), **fields):
        raise NestLineError("this was cancelled")


def _reached(job: Job) -> Document:
    """The document that a job is about, if whoever began it may still see it. Raises Gone."""
    from documents.store import document_for

    return document_for(job.owner_id, job.document_id or 0, "see")


def _export(job: Job, tell: Tell) -> None:
    from documents.exports import exported

    name, content, media_type = exported(_reached(job), tell=tell, **job.given)
    media.put(file_of(job, "result"), content)
    _done(job, name=name, media=media_type, size=len(content))


def _import(job: Job, tell: Tell) -> None:
    from documents.exchange import bring_in

    content = media.read(file_of(job, "upload"))
    tell(0.1)
    with transaction.atomic():
        row = bring_in(job.owner_id, job.given["name"], content, tell)
        _done(job, document=row, name=row.title)
    media.forget(file_of(job, "upload"))


def _trace(job: Job, tell: Tell) -> None:
    from documents.studios import new_studio
    from nestline.document.model import Contour

    owner_id = job.document.owner_id if job.document else job.owner_id
    for share in new_studio(owner_id).contours.trace(job.given["file"], Contour.model_validate(job.given["contour"])):
        tell(share)
    _done(job)


def _desk(job: Job, tell: Tell) -> None:
    from desk.translating import translate
    from documents.translations import sent_to_desk

    given = job.given
    out = sent_to_desk(_reached(job), given["source"], given["target"], given["what"])
    content = translate(out, given["seconds"], given["fails"], tell)
    media.put(file_of(job, "result"), content)
    _done(job, name=f"{given['target']}.xlf", media="application/xliff+xml", size=len(content))


def _account(job: Job, tell: Tell) -> None:
    from documents.everything import all_of

    content = all_of(job.owner, tell)
    media.put(file_of(job, "result"), content)
    _done(job, name=f"nest-line-{job.owner.get_username()}.zip", media="application/zip", size=len(content))


KINDS: dict[str, Callable[[Job, Tell], None]] = {
    "account": _account,
    "export": _export,
    "import": _import,
    "trace": _trace,
    "desk": _desk,
}
