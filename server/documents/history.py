"""What was done to a document, step by step: how it stood at an earlier revision, and which edits are whose.

Every revision has a step with the operations that undo it. An edit is what undo takes back in one go: it may hold several
steps (typing), and belongs to the window that made it. A window takes back its own edits, and those of windows that are no
longer open.
"""

from __future__ import annotations

from datetime import timedelta

from django.db.models import Q, QuerySet
from django.utils import timezone

from documents.models import Document, Edit, Step, Window
from documents.store import Raw
from nestline.document import edits
from nestline.errors import NestLineError

MOST_STEPS = 4000
"""How many steps of a document are kept."""
OPEN_WITHIN = timedelta(seconds=75)
"""How long a window counts as open since it was heard of last."""


class TooOld(NestLineError):
    """The steps back to that revision are not kept any more."""


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


def known_step(row: Document, mark: str) -> bool:
    """Whether the change of that id was made already."""
    return bool(mark) and row.steps.filter(mark=mark).exists()


def open_windows(row: Document) -> QuerySet[Window]:
    return row.windows.filter(seen__gt=timezone.now() - OPEN_WITHIN)


def own_edits(row: Document, window: str) -> QuerySet[Edit]:
    """The edits that a window may take back, or make again."""
    others = open_windows(row).exclude(name=window).values("name")
    return row.edits.filter(Q(window=window) | ~Q(window__in=others))


def next_edit(row: Document, window: str, back: bool) -> Edit | None:
    """What undo takes back next in a window, or redo makes again."""
    return own_edits(row, window).filter(undone=not back).order_by("-number" if back else "number").first()


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
