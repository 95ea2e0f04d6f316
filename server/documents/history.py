"""What was done to a document, step by step: how it stood at an earlier revision, and which edits are whose.

Every revision has a step with the operations that undo it. An edit is what undo takes back in one go: it may hold
several steps (typing), and belongs to the window that made it. A window takes back its own edits, and those of windows
that are no longer open.
"""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db.models import Q, QuerySet
from django.utils import timezone

from documents.models import Document, Edit, Step, Window
from documents.store import Raw
from doors.compiled import Compiled
from nestline.document import edits
from nestline.errors import NestLineError

MOST_STEPS = 4000
"""How many steps of a document are kept."""
OPEN_WITHIN = timedelta(seconds=75)
"""How long a window counts as open since it was heard of last."""


class TooOld(NestLineError):
    """The steps back to that revision are not kept any more."""

    code = "too-old"


def raw_at(row: Document, now: Raw, revision: int) -> Raw:
    """A document as it stood at a revision; `now` is how it stands at `row.revision`. Raises TooOld."""
    if revision == row.revision:
        return now
    if revision > row.revision:
        raise TooOld("that is not stored")
    back = list(
        row.steps.filter(revision__gt=revision, revision__lte=row.revision)
        .order_by("-revision")
        .values_list("revision", "inverse")
    )
    if len(back) != row.revision - revision:
        raise TooOld("that is too long ago")
    for _, inverse in back:
        now = edits.apply(now, inverse).document
    return now


_marked = Compiled(lambda row, mark: Step.objects.filter(document_id=row, mark=mark).values_list("id"), int, str)


def known_step(row: Document, mark: str) -> bool:
    """Whether the change of that id was made already."""
    return bool(mark) and bool(_marked(row.id, mark))


def open_windows(row: Document) -> QuerySet[Window]:
    return row.windows.filter(seen__gt=timezone.now() - OPEN_WITHIN)


def _own_edits(document_id: int, window: str, heard: datetime) -> QuerySet[Edit]:
    open_ = Window.objects.filter(document_id=document_id, seen__gt=heard)
    others = open_.exclude(name=window).values("name")
    return Edit.objects.filter(Q(window=window) | ~Q(window__in=others), document_id=document_id)


def _next(edits: QuerySet[Edit], back: bool) -> QuerySet[Edit]:
    return edits.filter(undone=not back).order_by("-number" if back else "number")[:1]


def own_edits(row: Document, window: str) -> QuerySet[Edit]:
    """The edits that a window may take back, or make again."""
    return _own_edits(row.id, window, timezone.now() - OPEN_WITHIN)


def next_edit(row: Document, window: str, back: bool) -> Edit | None:
    """What undo takes back next in a window, or redo makes again."""
    return _next(own_edits(row, window), back).first()


def _compiled_label(back: bool) -> Compiled:
    return Compiled(
        lambda row, window, heard: _next(_own_edits(row, window, heard), back).values_list("label"), int, str, datetime
    )


_back, _forward = _compiled_label(True), _compiled_label(False)
_undone = Compiled(lambda row: Edit.objects.filter(document_id=row, undone=True).values_list("id")[:1], int)


def next_labels(row: Document, window: str) -> tuple[str | None, str | None]:
    """What undo and redo would do now in a window, in words."""
    heard = timezone.now() - OPEN_WITHIN
    back, forward = (of(row.id, window, heard) for of in (_back, _forward))
    return back[0][0] if back else None, forward[0][0] if forward else None


def any_undone(row: Document) -> bool:
    """Whether any window might make an edit again."""
    return bool(_undone(row.id))


def run_of(edit: Edit) -> list[Edit]:
    """The edits that are taken back together with one, the last first."""
    if not edit.run or edit.undone:
        return [edit]
    others = Edit.objects.filter(document_id=edit.document_id, run=edit.run, window=edit.window, undone=False)
    return list(others.order_by("-number"))


def prune(row: Document) -> None:
    """Let go of steps that are too old to be asked for, now and then."""
    if row.revision % 50 == 0:
        Step.objects.filter(document=row, revision__lte=row.revision - MOST_STEPS).delete()
        row.edits.filter(after__gt=0, after__lte=row.revision - MOST_STEPS).delete()
        row.windows.filter(seen__lt=timezone.now() - timedelta(days=1)).delete()
