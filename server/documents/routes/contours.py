"""Contours of pictures, traced step by step."""

from __future__ import annotations

import time
from collections.abc import Generator, Iterator

import orjson
from django.http import StreamingHttpResponse
from ninja import Router

from documents import jobs
from documents.models import Document
from documents.store import document_for, state_of
from documents.wire.findings import TraceIn, TraceStep
from doors.asked import Asked
from doors.errors import ErrorOut
from nestline.document.model import Contour
from nestline.errors import NestLineError

router = Router(tags=["documents"])


LARGE_PICTURE = 16e6
"""Pixels of a picture whose contour is traced apart."""


@router.post("/{document_id}/trace", response={200: TraceStep, 400: ErrorOut, 404: ErrorOut})
def trace_contour(request: Asked, document_id: int, given: TraceIn) -> StreamingHttpResponse:
    """Trace the contour of an object's picture, so that it is known when the document asks for it.

    Answers with a line of JSON at each step (TraceStep); who stops reading stops the work.
    """
    row = document_for(request.user.id, document_id, "see")
    state = state_of(row)
    thing = next((t for _, t in state.scene.document.objects() if t.id == given.object), None)
    if thing is None or thing.picture is None:
        raise NestLineError("there is no such picture any more")
    studio, file, contour = state.studio, thing.picture.file, given.contour
    image = studio.pictures(file)
    if image.width * image.height > LARGE_PICTURE:
        steps = _traced_apart(request.user.id, row, file, contour)
    else:
        steps = studio.contours.trace(file, contour)

    def lines() -> Iterator[bytes]:
        try:
            yield orjson.dumps({"share": 0.0, "done": False, "fault": None}) + b"\n"
            for share in steps:
                yield orjson.dumps({"share": round(share, 3), "done": False, "fault": None}) + b"\n"
            yield orjson.dumps({"share": 1.0, "done": True, "fault": None}) + b"\n"
        except NestLineError as error:
            yield orjson.dumps({"share": 1.0, "done": True, "fault": str(error)}) + b"\n"

    return StreamingHttpResponse(lines(), content_type="application/x-ndjson")


def _traced_apart(owner_id: int, row: Document, file: str, contour: Contour) -> Generator[float, None, None]:
    """The shares of a contour that a job traces. Who stops asking cancels it."""
    job = jobs.begin(
        owner_id,
        "trace",
        {"file": file, "contour": contour.model_dump(mode="json", by_alias=True, exclude_unset=True)},
        row,
    )
    try:
        while True:
            time.sleep(0.15)
            job.refresh_from_db()
            if job.state not in job.OPEN:
                break
            yield job.share
        if job.state != "done":
            raise NestLineError(job.said or "this was cancelled")
    finally:
        jobs.cancel(job)
