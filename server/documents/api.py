"""The API of documents."""

from __future__ import annotations

import time
from collections.abc import Generator, Iterator
from contextlib import suppress
from typing import Any
from urllib.parse import urlencode

import orjson
from django.conf import settings
from django.db import transaction
from django.http import HttpResponse, StreamingHttpResponse
from django.utils import timezone
from ninja import File, Router
from ninja.files import UploadedFile

from assets.store import write_whole
from documents import door, exchange, exports, jobs, presence
from documents.asked import Asked
from documents.errors import ErrorOut
from documents.history import next_labels
from documents.jobs_api import job_out
from documents.models import Document
from documents.store import Gone, State, create, first_page, is_large, own_document, sent, state_of
from documents.store import shown as shown_by
from documents.wire import (
    DocumentOut,
    DocumentsOut,
    EditIn,
    EditOut,
    EndingOut,
    EndingsIn,
    ExportIn,
    ExportOut,
    HereIn,
    JobOut,
    NewDocument,
    OpenOut,
    Operation,
    PreviewIn,
    Rename,
    RestOut,
    SceneOut,
    StepIn,
    TraceIn,
    TraceStep,
    TriesIn,
    TryOut,
    WhyIn,
    WhyOut,
)
from nestline.acts import offers
from nestline.document.model import Contour, PageSheet
from nestline.errors import NestLineError
from nestline.nesting.causes import why_here
from nestline.output.pdf import write_pdf
from nestline.output.png import png_pages
from nestline.scene import difference, first_page_of, whole

router = Router(tags=["documents"])


def _json(content: Any) -> HttpResponse:
    return HttpResponse(
        orjson.dumps(content, option=orjson.OPT_SERIALIZE_NUMPY | orjson.OPT_NON_STR_KEYS),
        content_type="application/json",
    )


def _operations(given: list[Operation]) -> list[dict[str, Any]]:
    return [o.dict(by_alias=True, exclude_unset=True) for o in given]


def _summary(row: Document) -> DocumentOut:
    width, height = PageSheet.model_validate(row.pages.all()[0].sheet).size
    return DocumentOut(
        id=row.id, title=row.title, changed=row.changed, width=width, height=height, pages=len(row.pages.all()),
        picture=f"/api/documents/{row.id}/picture.png?revision={row.revision}",
    )  # fmt: skip


def _pictures(request: Asked, state: State, known: State | None = None) -> dict[str, str]:
    """The addresses of a state's pictures by their files, those of a state that is known already left out."""
    from assets.models import Picture

    files = _files(state) - (_files(known) if known else set())
    if not files:
        return {}
    rows = Picture.objects.filter(owner=request.user, file__in=files)
    return {row.file: f"/api/pictures/{row.id}" for row in rows}


def _files(state: State) -> set[str]:
    return {t.picture.file for _, t in state.scene.document.objects() if t.picture}


@router.get("", response=DocumentsOut)
def documents(request: Asked) -> DocumentsOut:
    """The user's documents, the last changed first."""
    rows = Document.objects.filter(owner=request.user, deleted=None).order_by("-changed").prefetch_related("pages")
    return DocumentsOut(documents=[_summary(row) for row in rows])


@router.post("", response={200: DocumentOut, 400: ErrorOut})
def new_document(request: Asked, given: NewDocument) -> DocumentOut:
    """Begin an empty document of one page."""
    sheet = {"width": given.width, "height": given.height, "bleed": given.bleed}
    raw = {
        "format": "nest-line", "version": 1, "title": given.title or "Untitled", "language": "en", "unit": given.unit,
        "colors": {"ink": "#1d2b27", "paper": "#ffffff", "straw": "#f6e3b4", "kite red": "#d8523a", "lake": "#2f6f8f"},
        "styles": {"Body": {"font": "EB Garamond", "size": 11, "leading": "1.25em"}},
        "copies": {}, "pages": [{**sheet, "objects": []}],
    }  # fmt: skip
    with transaction.atomic():
        return _summary(create(request.user.id, raw))


LARGE_IMPORT = 1_000_000
"""Bytes of a file that is brought in apart."""


@router.post("/import", response={200: DocumentOut, 202: JobOut, 400: ErrorOut})
def import_document(request: Asked, file: UploadedFile = File(...)):  # type: ignore[no-untyped-def, type-arg]
    """Bring in a document of the open format: its JSON, or a zip archive with its pictures; a large one as a job."""
    name, content = file.name or "", file.read()
    if len(content) > LARGE_IMPORT:
        return 202, job_out(
            jobs.begin(request.user.id, "import", {"name": name.replace("\0", "")[:200]}, upload=content)
        )
    return 200, _summary(exchange.bring_in(request.user.id, name, content))


@router.post("/{document_id}/exports", response={200: ExportOut, 400: ErrorOut, 404: ErrorOut})
def begin_export(request: Asked, document_id: int, given: ExportIn) -> ExportOut:
    """Ask for a file of a document."""
    row = own_document(request.user.id, document_id)
    if exports.takes_long(row, given.kind, given.page, given.dpi):
        return ExportOut(url=None, job=job_out(jobs.begin(request.user.id, "export", given.dict(), row)))
    query = urlencode(given.dict(exclude={"kind"}))
    return ExportOut(url=f"/api/documents/{row.id}/{given.kind}?{query}", job=None)


@router.get("/{document_id}", response={200: OpenOut, 404: ErrorOut})
def open_document(request: Asked, document_id: int, first: bool = False, window: str = "") -> HttpResponse:
    """A document with everything to draw it; with `first` only its first page is drawn where the rest would take long."""
    row = own_document(request.user.id, document_id)
    begun = first_page(row) if first else None
    state = begun or state_of(row)
    undo, redo = next_labels(row, window)
    with state.lock:
        scene = whole(state.studio, state.scene, 0 if begun else None)
    return _json(
        {
            "id": row.id, "revision": row.revision, "undo": undo, "redo": redo, "document": state.raw, "scene": scene,
            "pictures": _pictures(request, state), "complete": begun is None,
            "shown": sent(row.id, state.scene) if begun is None and is_large(state) else "",
        }
    )  # fmt: skip


@router.patch("/{document_id}", response={200: DocumentOut, 404: ErrorOut})
def rename_document(request: Asked, document_id: int, given: Rename) -> DocumentOut:
    """Give a document another title."""
    row = own_document(request.user.id, document_id)
    title = given.title.strip() or "Untitled"
    operations = [{"do": "put", "at": ["title"], "value": title}]
    return _summary(door.make_edit(request.user.id, row.id, door.Wanted(row.revision, operations, "Rename")).row)


@router.delete("/{document_id}", response={200: ErrorOut, 404: ErrorOut})
def delete_document(request: Asked, document_id: int) -> ErrorOut:
    """Delete a document; it can be restored."""
    row = own_document(request.user.id, document_id)
    Document.objects.filter(id=row.id).update(deleted=timezone.now())
    return ErrorOut(message=f"“{row.title}” is deleted")


@router.post("/{document_id}/restore", response={200: DocumentOut, 404: ErrorOut})
def restore_document(request: Asked, document_id: int) -> DocumentOut:
    """Bring a deleted document back."""
    if not Document.objects.filter(id=document_id, owner=request.user).update(deleted=None):
        raise Gone("this document is not here any more, or it is not yours")
    return _summary(own_document(request.user.id, document_id))


def _changed(request: Asked, made: door.Made, window: str, name: str = "") -> HttpResponse:
    row, before, after = made.row, made.before, made.after
    undo, redo = next_labels(row, window)
    operations = made.operations if before and is_large(after) and all(map(_of_copy, made.operations or [{}])) else None
    document = {"gone": []} if operations else _parts(before.raw if before else {}, after.raw)
    # A window that shows what is not known here gets all there is.
    stood = shown_by(name) if name else (before.scene if before else None)
    with after.lock:
        scene = difference(after.studio, stood, after.scene)
    return _json(
        {
            "revision": row.revision, "undo": undo, "redo": redo, "document": document, "operations": operations, "scene": scene,
            "pictures": _pictures(request, after, before), "complete": after.whole,
            "shown": sent(row.id, after.scene) if is_large(after) else "",
        }
    )  # fmt: skip


def _of_copy(operation: dict[str, Any]) -> bool:
    return bool(operation.get("at", [""])[:1] == ["copies"])


def _parts(old: dict[str, Any], new: dict[str, Any]) -> dict[str, Any]:
    """The parts of a document that are other than they were."""
    document: dict[str, Any] = {k: v for k, v in new.items() if k not in ("pages", "copies") and old.get(k) is not v}
    document["gone"] = [k for k in old if k not in new]
    if old.get("copies") is not new.get("copies"):
        document["copies"] = new.get("copies", {})
    if old.get("pages") is not new["pages"]:
        document["pages"] = new["pages"]
    return document


@router.get("/{document_id}/rest", response={200: RestOut, 404: ErrorOut})
def rest_of_document(request: Asked, document_id: int, shown: str = "") -> HttpResponse:
    """What a window does not show yet of a large document, after an answer that was not complete."""
    state = door.rest(request.user.id, document_id)
    with state.lock:
        scene = difference(state.studio, shown_by(shown), state.scene)
    return _json({"revision": state.revision, "scene": scene, "shown": sent(document_id, state.scene)})


@router.post("/{document_id}/edits", response={200: EditOut, 400: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def edit_document(request: Asked, document_id: int, given: EditIn) -> HttpResponse:
    """Make a change: the operations are applied, checked, stored with their inverse, and nested."""
    wanted = door.Wanted(
        given.base, _operations(given.operations), given.label, given.join, given.window, given.mark,
        _operations(given.on), given.prefer, tuple(given.seen),
    )  # fmt: skip
    return _changed(request, door.make_edit(request.user.id, document_id, wanted), given.window, given.shown)


@router.get("/{document_id}/since", response={200: EditOut, 404: ErrorOut})
def document_since(request: Asked, document_id: int, revision: int, window: str = "", shown: str = "") -> HttpResponse:
    """What differs from how the document stood at a revision."""
    return _changed(request, door.since(request.user.id, document_id, revision), window, shown)


@router.post("/{document_id}/here", response={204: None, 404: ErrorOut})
def here(request: Asked, document_id: int, given: HereIn):  # type: ignore[no-untyped-def]
    """Say where a window is, to all others of the document; to be said once a minute at least."""
    presence.say_where(request.user, document_id, given.window, given.page, given.chosen, given.gone, given.hello)
    return 204, None


@router.post("/{document_id}/why", response={200: WhyOut, 400: ErrorOut, 404: ErrorOut})
def why(request: Asked, document_id: int, given: WhyIn) -> HttpResponse:
    """Why what stands at a place of a page stands there."""
    state = state_of(own_document(request.user.id, document_id))
    with state.lock:
        found = why_here(state.scene.document, state.scene.nests, given.page, given.at)
    causes = [] if found is None else found[1]
    fields = ("what", "said", "figure", "object", "rule", "lit")
    return _json(
        {
            "frame": None if found is None else found[0],
            "causes": [{name: getattr(cause, name) for name in fields} for cause in causes],
        }
    )


@router.post("/{document_id}/trace", response={200: TraceStep, 400: ErrorOut, 404: ErrorOut})
def trace_contour(request: Asked, document_id: int, given: TraceIn) -> StreamingHttpResponse:
    """Trace the contour of an object's picture, so that it is known when the document asks for it.

    Answers with a line of JSON at each step (TraceStep); who stops reading stops the work.
    """
    row = own_document(request.user.id, document_id)
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


LARGE_PICTURE = 16e6
"""Pixels of a picture whose contour is traced apart."""


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


@router.post("/{document_id}/preview", response={200: SceneOut, 400: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def preview_document(request: Asked, document_id: int, given: PreviewIn) -> HttpResponse:
    """What a change would look like; nothing is stored."""
    wanted = door.Wanted(given.base, _operations(given.operations), window=given.window)
    return _json(door.preview(request.user.id, document_id, wanted, given.number))


@router.post("/{document_id}/tries", response={200: list[TryOut], 400: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def tries_of_frame(request: Asked, document_id: int, given: TriesIn) -> list[dict[str, Any]]:
    """The ways to try a frame in, with the operations of each."""
    with door.acting(request.user.id, document_id, given.base) as at:
        return offers.tries(at, given.object, given.kind, given.version)


@router.post("/{document_id}/endings", response={200: list[EndingOut], 400: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def endings_of_frame(request: Asked, document_id: int, given: EndingsIn) -> list[offers.Ending]:
    """Up to three ways to make a frame's copy end exactly with it."""
    with door.acting(request.user.id, document_id, given.base) as at:
        return offers.endings(at, given.object, given.allowed, given.version)


def _step(given: StepIn) -> door.Wanted:
    return door.Wanted(given.base, window=given.window, mark=given.mark, prefer=given.prefer)


@router.post("/{document_id}/undo", response={200: EditOut, 400: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def undo_edit(request: Asked, document_id: int, given: StepIn) -> HttpResponse:
    """Take the last change back."""
    return _changed(request, door.undo(request.user.id, document_id, _step(given)), given.window, given.shown)


@router.post("/{document_id}/redo", response={200: EditOut, 400: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def redo_edit(request: Asked, document_id: int, given: StepIn) -> HttpResponse:
    """Make the change that was taken back last again."""
    return _changed(request, door.redo(request.user.id, document_id, _step(given)), given.window, given.shown)


@router.get("/{document_id}/picture.png", include_in_schema=False)
def document_picture(request: Asked, document_id: int) -> HttpResponse:
    """A small picture of the first page."""
    row = own_document(request.user.id, document_id)
    path = settings.MEDIA_ROOT / "thumbnails" / f"{row.id}-{row.revision}.png"
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
    request: Asked, document_id: int, kind: exports.Kind, page: int = 1, dpi: float = 150,
    letters: exports.Letters = "outlines",
) -> HttpResponse:  # fmt: skip
    """The document as a PDF for print, a page of it as PNG, WebP or SVG, the document as JSON of the open format, or as a
    zip archive with its pictures."""
    row = own_document(request.user.id, document_id)
    name, content, media = exports.exported(row, kind, page, dpi, letters)
    response = HttpResponse(content, content_type=media)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
