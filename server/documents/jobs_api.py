"""The API of jobs: what is worked out apart, how far it is, and what came of it."""

from __future__ import annotations

from typing import Any

from django.http import FileResponse
from ninja import Router

from assets import media
from documents import jobs
from documents.models import Job
from documents.reach import Gone
from documents.wire.desk import JobOut
from doors.asked import Asked
from doors.errors import ErrorOut

router = Router(tags=["jobs"])
WITH_FILE = ("export", "desk", "account")
"""Kinds of jobs whose result is a file."""


def job_out(job: Job) -> JobOut:
    url = f"/api/jobs/{job.id}/result" if job.state == "done" and job.kind in WITH_FILE else None
    return JobOut(
        id=job.id,
        kind=job.kind,  # type: ignore[arg-type]
        state=job.state,  # type: ignore[arg-type]
        share=job.share,
        said=job.said,
        path=job.path,
        name=job.name,
        size=job.size,
        document=job.document_id,
        made=job.made,
        url=url,
    )


def _own(request: Asked, job_id: int) -> Job:
    job = Job.objects.filter(id=job_id, owner_id=request.user.id).first()
    if job is None:
        raise Gone("this is not kept any more, or it is not yours")
    return job


@router.get("", response=list[JobOut])
def jobs_of_user(request: Asked) -> list[JobOut]:
    """The user's jobs of the last week, the newest first."""
    return [job_out(job) for job in Job.objects.filter(owner_id=request.user.id).order_by("-id")[:50]]


@router.get("/{job_id}", response={200: JobOut, 404: ErrorOut})
def job(request: Asked, job_id: int) -> JobOut:
    return job_out(_own(request, job_id))


@router.delete("/{job_id}", response={200: JobOut, 404: ErrorOut})
def cancel_job(request: Asked, job_id: int) -> JobOut:
    """End a job; one that is done stays."""
    jobs.cancel(_own(request, job_id))
    return job_out(_own(request, job_id))


@router.get("/{job_id}/result", include_in_schema=False)
def job_result(request: Asked, job_id: int) -> Any:
    """The file that came of an export."""
    found = _own(request, job_id)
    try:
        if found.state != "done":
            raise FileNotFoundError
        file = media.opened(jobs.file_of(found, "result"))
    except FileNotFoundError:
        raise Gone("this file is not kept any more; export it again") from None
    return FileResponse(file, as_attachment=True, filename=found.name, content_type=found.media)
