"""Files of a document, and the small picture of its first page."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from urllib.parse import urlencode

from django.conf import settings
from django.http import HttpResponse
from ninja import Router

from assets.media import write_whole
from documents import exports, jobs
from documents.jobs_api import job_out
from documents.store import document_for, first_page, state_of
from documents.wire.desk import ExportIn, ExportOut
from doors.asked import Asked
from doors.errors import ErrorOut
from nestline.errors import NestLineError
from nestline.output.pdf import write_pdf
from nestline.output.png import png_pages
from nestline.scene import first_page_of

router = Router(tags=["documents"])


@router.post("/{document_id}/exports", response={200: ExportOut, 400: ErrorOut, 404: ErrorOut})
def begin_export(request: Asked, document_id: int, given: ExportIn) -> ExportOut:
    """Ask for a file of a document."""
    row = document_for(request.user.id, document_id, "see")
    if exports.takes_long(row, given.kind, given.page, given.dpi):
        return ExportOut(url=None, job=job_out(jobs.begin(request.user.id, "export", given.dict(), row)))
    query = urlencode(given.dict(exclude={"kind"}))
    return ExportOut(url=f"/api/documents/{row.id}/{given.kind}?{query}", job=None)


@router.get("/{document_id}/picture.png", include_in_schema=False)
def document_picture(request: Asked, document_id: int) -> HttpResponse:
    """A small picture of the first page."""
    row = document_for(request.user.id, document_id, "see")
    path = Path(settings.MEDIA_ROOT) / "thumbnails" / f"{row.id}-{row.revision}.png"
    if not path.is_file():
        state = first_page(row) or state_of(row)
        scene = first_page_of(state.scene)
        width, height = scene.document.pages[0].sheet.size
        with state.lock:
            pdf = write_pdf(scene.document, scene.nests, state.studio.pictures, state.studio.contours)
        content = png_pages(pdf, 72 * min(520 / width, 520 / height))[0]
        with suppress(NestLineError):  # without room for it, it is drawn again next time
            write_whole(path, content)
            for old in path.parent.glob(f"{row.id}-*.png"):
                if old != path:
                    old.unlink(missing_ok=True)
    else:
        content = path.read_bytes()
    response = HttpResponse(content, content_type="image/png")
    response["Cache-Control"] = "private, max-age=86400"
    return response


@router.get("/{document_id}/{kind}", include_in_schema=False)
def export_document(
    request: Asked,
    document_id: int,
    kind: exports.Kind,
    page: int = 1,
    dpi: float = 150,
    letters: exports.Letters = "outlines",
) -> HttpResponse:
    """The document as a PDF for print, a page of it as PNG, WebP or SVG, the document as JSON of the open format, or as
    a zip archive with its pictures."""
    row = document_for(request.user.id, document_id, "see")
    name, content, media = exports.exported(row, kind, page, dpi, letters)
    response = HttpResponse(content, content_type=media)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
