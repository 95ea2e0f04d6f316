"""The edit door: every change of a document goes through here, and nothing else writes one.

An edit names the revision it was made on. When the document has moved on meanwhile (another window, another user's
machine), the edit is refused, and the client shows both: nothing is overwritten silently.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from documents.models import Document, Edit
from documents.store import Raw, State, current_state, own_document, remember, state_of, write
from nestline.acts import expanded
from nestline.acts.acting import Acting
from nestline.document import edits
from nestline.errors import NestLineError
from nestline.output.scene import difference, scene_of

JOIN_WITHIN = timedelta(seconds=2)
MOST_OPERATIONS = 2000
MOST_EDITS = 500

Operations = list[dict[str, Any]]


class Overtaken(NestLineError):
    """The document has moved on since the revision the edit was made on."""

    status = 409


def make_edit(
    owner_id: int, document_id: int, base: int, operations: Operations, label: str, join: str = ""
) -> tuple[Document, State, State]:
    """Apply and store an edit, its acts as the operations that they come to. Returns the document with its states before and after.

    Edits with the same `join` key, one soon after the other, are undone in one step. Raises NestLineError.
    """
    _check_count(operations)
    with transaction.atomic():
        row = own_document(owner_id, document_id, lock=True)
        _check_base(row, base)
        before = state_of(row)
        with before.lock:
            operations = expanded(before.studio, before.raw, operations)
        if not operations:  # an act that has nothing to do
            return row, before, before
        _check_count(operations)
        after, applied = _changed(row, before, operations)
        write(row, after.raw, applied.touched)
        row.edits.filter(undone=True).delete()
        last = row.edits.order_by("-number").first()
        now = timezone.now()
        if join and last and last.join == join and now - last.last < JOIN_WITHIN and len(last.operations) < 400:
            last.operations, last.inverse = edits.joined(last.operations, last.inverse, operations, applied.inverse)
            last.save()
        else:
            number = last.number + 1 if last else 1
            Edit.objects.create(
                document=row,
                number=number,
                label=label[:120],
                operations=operations,
                inverse=applied.inverse,
                join=join,
            )
            row.edits.filter(number__lte=number - MOST_EDITS).delete()
        row.save()
    return row, before, remember(row, after)


def undo(owner_id: int, document_id: int, base: int) -> tuple[Document, State, State]:
    """Take the last edit back. Raises NestLineError when there is none."""
    return _step(owner_id, document_id, base, back=True)


def redo(owner_id: int, document_id: int, base: int) -> tuple[Document, State, State]:
    """Make the edit that was taken back last again. Raises NestLineError when there is none."""
    return _step(owner_id, document_id, base, back=False)


def _step(owner_id: int, document_id: int, base: int, back: bool) -> tuple[Document, State, State]:
    with transaction.atomic():
        row = own_document(owner_id, document_id, lock=True)
        _check_base(row, base)
        wanted = row.edits.filter(undone=not back).order_by("-number" if back else "number").first()
        if wanted is None:
            raise NestLineError("there is nothing to undo" if back else "there is nothing to redo")
        before = state_of(row)
        after, applied = _changed(row, before, wanted.inverse if back else wanted.operations)
        write(row, after.raw, applied.touched)
        wanted.undone = back
        wanted.join = ""
        wanted.save()
        row.save()
    return row, before, remember(row, after)


def preview(owner_id: int, document_id: int, base: int, operations: Operations) -> Raw:
    """What an edit would change on the screen; nothing is stored. Raises NestLineError."""
    _check_count(operations)
    before = current_state(owner_id, document_id)
    _check_base(before, base)
    with before.lock:
        applied = edits.apply(before.raw, expanded(before.studio, before.raw, operations))
        document = before.studio.read(applied.document)
        scene = scene_of(before.studio, document)
        return difference(before.studio, before.scene, scene)


@contextmanager
def acting(owner_id: int, document_id: int, base: int) -> Iterator[Acting]:
    """A document to work something out on; nothing is stored. Raises NestLineError."""
    row = own_document(owner_id, document_id)
    _check_base(row, base)
    state = state_of(row)
    with state.lock:
        yield Acting(state.studio, state.studio.read(state.raw))


def steps(row: Document) -> tuple[str | None, str | None]:
    """What undo and redo would do now, in words."""
    done = row.edits.filter(undone=False).order_by("-number").values_list("label", flat=True).first()
    undone = row.edits.filter(undone=True).order_by("number").values_list("label", flat=True).first()
    return done, undone


def _changed(row: Document, before: State, operations: Operations) -> tuple[State, edits.Applied]:
    with before.lock:
        applied = edits.apply(before.raw, operations)
        document = before.studio.read(applied.document)
        before.studio.check_pictures(document)
        scene = scene_of(before.studio, document)
    row.revision += 1
    return State(row.revision, applied.document, scene, before.studio, before.lock), applied


def _check_base(row: Document | State, base: int) -> None:
    if row.revision != base:
        raise Overtaken("this document was changed in another window since; your last change is not in it yet")


def _check_count(operations: Operations) -> None:
    if not operations or len(operations) > MOST_OPERATIONS:
        raise NestLineError(f"an edit has from 1 to {MOST_OPERATIONS} operations")
