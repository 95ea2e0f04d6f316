"""Copy that goes out to be translated and comes home."""

from __future__ import annotations

from base64 import b64decode
from binascii import Error
from typing import Any

from django.http import HttpResponse
from ninja import Router

from documents import jobs, translations
from documents.jobs_api import job_out
from documents.store import document_for, state_of
from documents.wire.desk import JobOut
from documents.wire.translations import DeskIn, HomecomingIn, HomecomingOut, TranslatedOut
from doors.asked import Asked
from doors.errors import ErrorOut
from nestline.errors import NestLineError
from nestline.output.translations import What

router = Router(tags=["documents"])


@router.get("/{document_id}/translations", response={200: list[TranslatedOut], 404: ErrorOut})
def translated(request: Asked, document_id: int) -> list[dict[str, Any]]:
    """How far each version is that is made from another: paragraphs that are new, stale, done."""
    state = state_of(document_for(request.user.id, document_id, "see"))
    with state.lock:
        return translations.states(state)


@router.get("/{document_id}/translations/out/{form}", include_in_schema=False)
def send_out(
    request: Asked, document_id: int, form: translations.Form, source: str, target: str, what: What = "all"
) -> HttpResponse:
    """The copy of a version to be translated: XLIFF 2.1 with pictures of its frames in a zip archive, or a table."""
    row = document_for(request.user.id, document_id, "see")
    name, content, media = translations.sent(row, form, source, target, what)
    response = HttpResponse(content, content_type=media)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.post("/{document_id}/translations/home", response={200: HomecomingOut, 400: ErrorOut, 404: ErrorOut})
def look_at_home(request: Asked, document_id: int, given: HomecomingIn) -> dict[str, Any]:
    """What a translation that came home would change; nothing is changed yet."""
    try:
        content = b64decode(given.content, validate=True)
    except (Error, ValueError):
        raise NestLineError("the file did not arrive whole; bring it again") from None
    state = state_of(document_for(request.user.id, document_id, "see"))
    with state.lock:
        found, labels, told = translations.come_home(state, given.name, content, given.version)
    return {
        "version": found.version,
        "language": found.language,
        "same": found.same,
        "empty": found.empty,
        "told": told,
        "changes": [
            {
                "id": one.id,
                "copyName": one.copy,
                "number": one.number,
                "label": labels.get(one.copy, one.copy),
                "source": one.source,
                "before": one.before,
                "after": one.after,
                "problems": list(one.problems),
                "notes": list(one.notes),
            }
            for one in found.changes
        ],
    }


@router.post("/{document_id}/translations/desk", response={200: JobOut, 400: ErrorOut, 404: ErrorOut})
def send_to_desk(request: Asked, document_id: int, given: DeskIn) -> JobOut:
    """Send copy to the stand-in for a translation desk: a job whose result is an XLIFF file."""
    row = document_for(request.user.id, document_id, "see")
    # What cannot be sent is said now, and not by the job.
    translations.sent_to_desk(row, given.source, given.target, given.what)
    return job_out(jobs.begin(request.user.id, "desk", given.dict(), row))
