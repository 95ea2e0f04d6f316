"""Documents as they are listed, begun, brought in, opened and deleted."""

from __future__ import annotations

from django.db import transaction
from django.http import HttpResponse
from django.utils import timezone
from ninja import File, Router
from ninja.files import UploadedFile

from documents import door, exchange, jobs
from documents.asked import Asked
from documents.errors import ErrorOut
from documents.history import next_labels
from documents.jobs_api import job_out
from documents.models import Document
from documents.routes.answers import json, pictures, summary
from documents.store import Gone, create, first_page, is_large, own_document, sent, state_of
from documents.wire import DocumentOut, DocumentsOut, JobOut, NewDocument, OpenOut, Rename
from nestline.scene import whole

router = Router(tags=["documents"])


@router.get("", response=DocumentsOut)
def documents(request: Asked) -> DocumentsOut:
    """The user's documents, the last changed first."""
    rows = Document.objects.filter(owner=request.user, deleted=None).order_by("-changed").prefetch_related("pages")
    return DocumentsOut(documents=[summary(row) for row in rows])


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
        return summary(create(request.user.id, raw))


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
    return 200, summary(exchange.bring_in(request.user.id, name, content))


@router.get("/{document_id}", response={200: OpenOut, 404: ErrorOut})
def open_document(request: Asked, document_id: int, first: bool = False, window: str = "") -> HttpResponse:
    """A document with everything to draw it; with `first` only its first page is drawn where the rest would take long."""
    row = own_document(request.user.id, document_id)
    begun = first_page(row) if first else None
    state = begun or state_of(row)
    undo, redo = next_labels(row, window)
    with state.lock:
        scene = whole(state.studio, state.scene, 0 if begun else None)
    return json(
        {
            "id": row.id, "revision": row.revision, "undo": undo, "redo": redo, "document": state.raw, "scene": scene,
            "pictures": pictures(request, state), "complete": begun is None,
            "shown": sent(row.id, state.scene) if begun is None and is_large(state) else "",
        }
    )  # fmt: skip


@router.patch("/{document_id}", response={200: DocumentOut, 404: ErrorOut})
def rename_document(request: Asked, document_id: int, given: Rename) -> DocumentOut:
    """Give a document another title."""
    row = own_document(request.user.id, document_id)
    title = given.title.strip() or "Untitled"
    operations = [{"do": "put", "at": ["title"], "value": title}]
    return summary(door.make_edit(request.user.id, row.id, door.Wanted(row.revision, operations, "Rename")).row)


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
    return summary(own_document(request.user.id, document_id))
