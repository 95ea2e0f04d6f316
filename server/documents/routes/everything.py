"""All of an account, to be taken along."""

from __future__ import annotations

from ninja import Router

from documents import jobs
from documents.jobs_api import job_out
from documents.wire.desk import JobOut
from doors.asked import Asked
from doors.errors import ErrorOut
from people.log import happened

router = Router(tags=["account"])


@router.post("/data", response={200: JobOut, 400: ErrorOut})
def take_all(request: Asked) -> JobOut:
    """Make an archive of all that is the user's, as a job."""
    happened("all data asked for", request.user, request=request)  # type: ignore[arg-type]
    return job_out(jobs.begin(request.user.id, "account", {}))
