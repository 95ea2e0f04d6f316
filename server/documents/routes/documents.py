"""Documents as they are listed, begun, brought in, opened and deleted."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import HttpResponse
from django.utils import timezone
from ninja import File, Router
from ninja.files import UploadedFile

from assets.store import lend_pictures
from documents import door, exchange, jobs
from documents.history import next_labels
from documents.jobs_api import job_out
from documents.models import Document
from documents.reach import allowed, gone, level_of
from documents.routes.answers import json, pictures, summary
from documents.store import create, document_for, first_page, is_large, raw_of, sent, state_of
from documents.wire.desk import DocumentOut, DocumentsOut, JobOut, ManyIn, ManyOut, NewDocument, Rename
from documents.wire.opening import OpenOut
from doors.asked import Asked
from doors.errors import ErrorOut, SaidOut
from nestline.document.beginning import begun
from nestline.scene import whole
from people.log import happened

router = Router(tags=["documents"])


@router.get("", response=DocumentsOut)
def documents(request: Asked, deleted: bool = False) -> DocumentsOut:
    """The documents that the user sees, the last changed first; or those of their own that were deleted and not
    forgotten."""
    rows = Document.objects.filter(allowed(request.user.id, "own" if deleted else "see"), deleted__isnull=not deleted)
    rows = rows.order_by("-deleted" if deleted else "-changed").prefetch_related("pages", "shares")
    rows = rows.select_related("owner").defer("head")
    changed = set(rows.filter(allowed(request.user.id, "edit")).values_list("id", flat=True))
    return DocumentsOut(
        documents=[summary(row, request.user.id, "edit" if row.id in changed else "see") for row in rows]
    )


@router.post("", response={200: DocumentOut, 400: ErrorOut})
def new_document(request: Asked, given: NewDocument) -> DocumentOut:
    """Begin an empty document of one page."""
    raw = begun(given.title, given.width, given.height, given.bleed, given.unit, facing=given.facing, words=given.words)
    return summary(_kept(request.user.id, raw, given.folder))


def _kept(owner_id: int, raw: dict[str, Any], folder: str) -> Document:
    with transaction.atomic():
        row = create(owner_id, raw)
        if folder.strip():
            row.folder = folder.strip()
            row.save(update_fields=["folder"])
    return row


@router.post("/many", response=ManyOut)
def several_documents(request: Asked, given: ManyIn) -> ManyOut:
    """Do something with several documents of the user; what is not theirs, or not there, is left out."""
    rows = Document.objects.filter(allowed(request.user.id, "own"), id__in=given.ids)
    if given.do == "forget":
        kept = rows.exclude(deleted=None)
        count = kept.count()
        happened("documents forgotten", request.user, str(count), request)  # type: ignore[arg-type]
        kept.delete()
        return ManyOut(count=count)
    if given.do == "folder":
        return ManyOut(count=rows.update(folder=given.folder.strip()))
    return ManyOut(count=rows.update(deleted=timezone.now() if given.do == "delete" else None))


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
    """A document with everything to draw it; with `first` only its first page is drawn where the rest would
    take long."""
    row = document_for(request.user.id, document_id, "see")
    begun = first_page(row) if first else None
    state = begun or state_of(row)
    undo, redo = next_labels(row, window)
    with state.lock:
        scene = whole(state.studio, state.scene, 0 if begun else None)
    return json(
        {
            "id": row.id,
            "revision": row.revision,
            "undo": undo,
            "redo": redo,
            "document": state.raw,
            "scene": scene,
            "pictures": pictures(request, row, state),
            "complete": begun is None,
            "may": level_of(request.user.id, row),
            "owner": row.owner.get_username(),
            "shown": sent(row.id, state.scene) if begun is None and is_large(state) else "",
        }
    )


@router.patch("/{document_id}", response={200: DocumentOut, 403: ErrorOut, 404: ErrorOut})
def rename_document(request: Asked, document_id: int, given: Rename) -> DocumentOut:
    """Give a document another title."""
    row = document_for(request.user.id, document_id, "edit")
    title = given.title.strip() or "Untitled"
    operations = [{"do": "put", "at": ["title"], "value": title}]
    return summary(
        door.make_edit(request.user.id, row.id, door.Wanted(row.revision, operations, "Rename")).row, request.user.id
    )


@router.post("/{document_id}/duplicate", response={200: DocumentOut, 404: ErrorOut})
def duplicate_document(request: Asked, document_id: int) -> DocumentOut:
    """Make a duplicate of a document, without what was done to it before."""
    row = document_for(request.user.id, document_id, "see")
    raw = raw_of(row)
    raw["title"] = f"{row.title[:190]}, copy" if row.title else "Untitled"
    lend_pictures(row.owner_id, request.user.id, raw["pages"])
    return summary(_kept(request.user.id, raw, row.folder if row.owner_id == request.user.id else ""))


@router.delete("/{document_id}", response={200: SaidOut, 403: ErrorOut, 404: ErrorOut})
def delete_document(request: Asked, document_id: int) -> SaidOut:
    """Delete a document; it can be restored."""
    row = document_for(request.user.id, document_id, "own")
    happened("document deleted", request.user, row.title, request)  # type: ignore[arg-type]
    Document.objects.filter(id=row.id).update(deleted=timezone.now())
    return SaidOut(message=f"“{row.title}” is deleted")


@router.post("/{document_id}/restore", response={200: DocumentOut, 404: ErrorOut})
def restore_document(request: Asked, document_id: int) -> DocumentOut:
    """Bring a deleted document back."""
    if not Document.objects.filter(allowed(request.user.id, "own"), id=document_id).update(deleted=None):
        raise gone()
    return summary(document_for(request.user.id, document_id, "own"))
