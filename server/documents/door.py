"""The edit door: every change of a document goes through here, and nothing else writes one.

An edit names the revision that its window stands on, and that window's own changes since (`on`). Where the document has
moved on meanwhile, by another window or another person, both changes are merged (nestline.merging); what collides is
refused with both sides, and nothing is overwritten silently. Everything is worked out before a row is locked: locked it
is only compared with what was worked out for, and written.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from assets.store import lend_pictures
from documents.events import tell
from documents.history import TooOld, any_undone, known_step, next_edit, own_edits, prune, raw_at, run_of
from documents.models import Document, Edit, Step
from documents.store import (
    Raw,
    State,
    current_state,
    document_for,
    is_large,
    locked_revision,
    remember,
    state_of,
    tidy,
    write,
)
from documents.turns import Turns
from nestline.acts import expanded
from nestline.acts.acting import Acting
from nestline.document import edits, limits
from nestline.errors import DocumentError, NestLineError
from nestline.merging import Collision, changes, merged
from nestline.merging.said import said
from nestline.merging.sequences import Side
from nestline.remembering import remember as remember_few
from nestline.scene import difference, scene_of, scene_seen

JOIN_WITHIN = timedelta(seconds=2)
MOST_OPERATIONS = 2000
MOST_EDITS = 500
MOST_TRIES = 20
"""How often a change is worked out again because another one came in between."""

Operations = list[dict[str, Any]]


class Overtaken(NestLineError):
    """The document has moved on since the revision that was named, and what was asked does not merge."""

    code = "overtaken"
    status = 409


class Collided(Overtaken):
    """Two changes of the same: shown with both sides, for the user to choose."""

    code = "collided"

    def __init__(self, collisions: list[dict[str, str]]) -> None:
        places = ", ".join(c["what"] for c in collisions[:3])
        super().__init__(f"this was changed in another window at the same time: {places}")
        self.collisions = collisions


@dataclass(frozen=True)
class Wanted:
    """A change as a window asks for it.

    `base` is the revision that the window stands on, and `on` are its own changes since; `mark` is the change's own id,
    by which it is never made twice; `prefer` says which side holds where both changed the same.
    """

    base: int
    operations: Operations = field(default_factory=list)
    label: str = ""
    join: str = ""
    window: str = ""
    mark: str = ""
    on: Operations = field(default_factory=list)
    prefer: Side | None = None
    seen: tuple[int, ...] = ()
    """The pages that the window shows: of a large document a change of copy is worked out there first."""


@dataclass(frozen=True)
class Made:
    """The document as it stands, and as it stood where the window stands that asked; None where that is too
    long ago."""

    row: Document
    before: State | None
    after: State
    operations: Operations | None = None
    """What was made of `before`, where that is known and is all."""


def make_edit(user_id: int, document_id: int, wanted: Wanted) -> Made:
    """Apply and store an edit, its acts as the operations that they come to. Raises NestLineError.

    Edits with the same `join` key, one soon after the other, are undone in one step.
    """
    _check_count(wanted.operations)
    if wanted.on:
        _check_count(wanted.on)

    def work(row: Document, before: State) -> tuple[Operations, Operations | None] | None:
        if wanted.base == before.revision and not wanted.on:
            with before.lock:
                return expanded(before.studio, before.raw, wanted.operations), None
        base, mine = _sides(row, before, wanted)
        return _merge(before, base, mine, wanted.prefer)

    def keep(row: Document, operations: Operations, inverse: Operations, kept: Operations | None) -> None:
        if any_undone(row):
            own_edits(row, wanted.window).filter(undone=True).delete()
        last = row.edits.order_by("-number").first()
        now = timezone.now()
        joins = wanted.join and last and (last.join, last.window) == (wanted.join, wanted.window) and not kept
        if (
            joins
            and last
            and now - last.last < JOIN_WITHIN
            and len(last.operations) < 400
            and last.after == row.revision - 1
        ):
            last.operations, last.inverse = edits.joined(last.operations, last.inverse, operations, inverse)
            last.after = row.revision
            last.save(update_fields=["operations", "inverse", "after", "last"])
            return
        number = last.number + 1 if last else 1
        own = row.edits.filter(window=wanted.window, undone=False).order_by("-number").first() if wanted.join else None
        goes_on = own and own.join == wanted.join and now - own.last < JOIN_WITHIN
        run = own.run if own and goes_on else number
        common = {"document": row, "after": row.revision, "window": wanted.window}
        if operations:
            Edit.objects.create(
                **common,
                number=number,
                label=wanted.label[:120],
                operations=operations,
                inverse=inverse,
                join=wanted.join,
                run=run,
            )
        if kept is not None:
            # What was not chosen can still be had: it waits where steps forward do.
            Edit.objects.create(
                **common,
                number=number + 1,
                label=f"{wanted.label[:100]} (yours)",
                operations=kept,
                inverse=[],
                undone=True,
            )
        if number % 50 == 0:  # now and then: a letter need not ask for it
            row.edits.filter(number__lte=number - MOST_EDITS).delete()

    return _made(user_id, document_id, wanted, work, keep)


def undo(user_id: int, document_id: int, wanted: Wanted) -> Made:
    """Take this window's last edit back, past what others did since. Raises NestLineError when there is none."""
    return _step(user_id, document_id, wanted, back=True)


def redo(user_id: int, document_id: int, wanted: Wanted) -> Made:
    """Make the edit that this window took back last again. Raises NestLineError when there is none."""
    return _step(user_id, document_id, wanted, back=False)


def _step(user_id: int, document_id: int, wanted: Wanted, back: bool) -> Made:
    chosen: list[Edit] = []

    def work(row: Document, before: State) -> tuple[Operations, Operations | None] | None:
        while (edit := next_edit(row, wanted.window, back)) is not None:
            chosen[:] = run_of(edit)
            # One of before there were steps stands on the document as it is.
            if len(chosen) == 1 and edit.after in (before.revision, 0):
                return edit.inverse if back else edit.operations, None
            raw = before.raw
            for one in chosen:
                base = raw_at(row, before.raw, one.after)
                mine = edits.apply(base, one.inverse if back else one.operations).document
                found = merged(base, raw, mine, wanted.prefer)
                if found.collisions and wanted.prefer is None:
                    raise Collided(said(found.collisions, before.scene.document))
                raw = found.document
            _check_together(before, raw)
            operations = changes(before.raw, raw)
            if operations:
                return operations, None
            # Nothing of it is left to take back, or to make again: it stands in the way of nothing before it.
            row.edits.filter(id__in=[one.id for one in chosen]).delete()
            if wanted.prefer is not None:
                return [], None
        raise NestLineError("there is nothing to undo" if back else "there is nothing to redo")

    def keep(row: Document, operations: Operations, inverse: Operations, kept: Operations | None) -> None:
        *others, edit = chosen
        row.edits.filter(id__in=[one.id for one in others]).delete()
        edit.undone = back
        edit.join = ""
        edit.after = row.revision
        if back:
            edit.operations, edit.inverse = inverse, operations
        else:
            edit.operations, edit.inverse = operations, inverse
        edit.save()

    return _made(user_id, document_id, wanted, work, keep)


Work = Callable[[Document, State], tuple[Operations, Operations | None] | None]
Keep = Callable[[Document, Operations, Operations, Operations | None], None]


def _made(user_id: int, document_id: int, wanted: Wanted, work: Work, keep: Keep) -> Made:
    """Work a change out, lock the document, and write it if the document is still what it was worked out for; else
    again."""
    for _ in range(MOST_TRIES):
        row = document_for(user_id, document_id, "edit")
        lend_pictures(user_id, row.owner_id, wanted.operations)
        before = state_of(row, part=bool(wanted.seen) and row.revision == wanted.base and not wanted.on)
        if known_step(row, wanted.mark):
            # It may have been made since the row was read: by the same, asked for twice at the same time.
            row = document_for(user_id, document_id, "edit")
            before = state_of(row)
            return Made(row, _stood(row, before, wanted.base), before)
        found = work(row, before)
        operations, kept = found or ([], None)
        if not operations and kept is None:  # an act that has nothing to do
            before = state_of(row)
            return Made(row, _stood(row, before, wanted.base), before)
        if operations:
            _check_count(operations)
        after, applied = _changed(row, before, operations, wanted.seen)
        stood = _stood(row, before, wanted.base)
        with transaction.atomic():
            if locked_revision(user_id, document_id) != before.revision:
                continue
            row.revision = after.revision
            write(row, before.raw, after.raw, applied.touched)
            keep(row, operations, applied.inverse, kept)
            Step.objects.create(
                document=row, revision=row.revision, inverse=applied.inverse, window=wanted.window, mark=wanted.mark
            )
            prune(row)
            head = ["title", "head"] if any(part[0] == "head" for part in applied.touched) else []
            row.save(update_fields=["revision", "changed", *head])
            tell(document_id, {"what": "changed", "revision": row.revision, "window": wanted.window})
        alone = operations if wanted.base == before.revision else None
        return Made(row, stood, remember(row, after), alone)
    raise Overtaken("this document is being changed very often just now; try again in a moment")


def since(user_id: int, document_id: int, revision: int) -> Made:
    """A document as it stands, and as it stood at a revision. Raises Gone."""
    row = document_for(user_id, document_id, "see")
    state = state_of(row)
    return Made(row, _stood(row, state, revision), state)


def _stood(row: Document, now: State, revision: int) -> State | None:
    """A document's state at an earlier revision; None when that is not known any more."""
    if revision == now.revision:
        return now
    try:
        raw = raw_at(row, now.raw, revision)
        with now.lock:
            return State(revision, raw, scene_of(now.studio, now.studio.read(raw)), now.studio, now.lock)
    except NestLineError:
        return None


def _sides(row: Document, now: State, wanted: Wanted) -> tuple[Raw, Raw]:
    """The document that a change was made on, and what the change makes of it."""
    if wanted.base > now.revision:
        raise Overtaken("this window is ahead of what is stored; open the document again")
    try:
        base = raw_at(row, now.raw, wanted.base)
    except TooOld:
        raise Overtaken("this window has been left behind too far; open the document again") from None
    with now.lock:
        if wanted.on:
            base = edits.apply(base, expanded(now.studio, base, wanted.on)).document
        return base, edits.apply(base, expanded(now.studio, base, wanted.operations)).document


def _merge(now: State, base: Raw, mine: Raw, prefer: Side | None) -> tuple[Operations, Operations | None]:
    """The operations by which the document takes a change in; and those of what was not chosen. Raises Collided."""
    found = merged(base, now.raw, mine, prefer)
    if found.collisions and prefer is None:
        raise Collided(said(found.collisions, now.scene.document))
    operations = changes(now.raw, found.document)
    _check_together(now, found.document)
    if not found.collisions or prefer != "theirs":
        return operations, None
    all_mine = merged(base, now.raw, mine, "mine").document
    return operations, changes(found.document, all_mine)


def _check_together(now: State, raw: Raw) -> None:
    """Raises Collided where two changes that touch different things make a document that is not valid."""
    try:
        with now.lock:
            now.studio.read(raw)
    except DocumentError as error:
        whole = Collision((), "what is stored", "your change")
        raise Collided([{**one, "why": error.message} for one in said([whole], now.scene.document)]) from None


_asked_last: OrderedDict[tuple[int, str], int] = OrderedDict()
"""The preview that each window asked for last."""
MOST_ASKED = 2000
_previews = Turns(at_once=1, long=0.1)


def preview(user_id: int, document_id: int, wanted: Wanted, number: int = 0) -> Raw:
    """What an edit would change on the screen; nothing is stored. Raises NestLineError.

    Of the previews that a window counts, one that is overtaken while it waits for its turn is not worked out.
    """
    _check_count(wanted.operations)
    of = (document_id, wanted.window)
    if number:
        remember_few(_asked_last, of, max(number, _asked_last.get(of, 0)), MOST_ASKED)
    with _previews.one():
        return _preview(user_id, document_id, wanted, number)


def _preview(user_id: int, document_id: int, wanted: Wanted, number: int) -> Raw:
    before = current_state(user_id, document_id)
    if wanted.base != before.revision:
        raise Overtaken("this document was changed in another window since")
    with before.lock:
        if number and _asked_last.get((document_id, wanted.window), 0) > number:
            raise Overtaken("a later preview was asked for")
        applied = edits.apply(before.raw, expanded(before.studio, before.raw, wanted.operations))
        document = before.studio.read(applied.document)
        scene = scene_of(before.studio, document)
        found = difference(before.studio, before.scene, scene)
    tidy()
    return found


@contextmanager
def acting(user_id: int, document_id: int, base: int) -> Iterator[Acting]:
    """A document to work something out on; nothing is stored. Raises NestLineError."""
    row = document_for(user_id, document_id, "see")
    if row.revision != base:
        raise Overtaken("this document was changed in another window since")
    state = state_of(row)
    with state.lock:
        yield Acting(state.studio, state.studio.read(state.raw))


def _changed(
    row: Document, before: State, operations: Operations, seen: tuple[int, ...]
) -> tuple[State, edits.Applied]:
    with before.lock:
        applied = edits.apply(before.raw, operations)
        limits.check_counts(applied.document)
        document = before.studio.read(applied.document)
        before.studio.check_pictures(document)
        of_copy = {part[0] for part in applied.touched} == {"copy"} and is_large(before)
        part = scene_seen(before.studio, document, before.scene, seen) if seen and of_copy else None
        scene = part or scene_of(before.studio, document)
    return State(before.revision + 1, applied.document, scene, before.studio, before.lock, part is None), applied


def rest(user_id: int, document_id: int) -> State:
    """A document with all its pages nested. Raises Gone."""
    return state_of(document_for(user_id, document_id, "see"))


def _check_count(operations: Operations) -> None:
    if not operations or len(operations) > MOST_OPERATIONS:
        raise NestLineError(f"an edit has from 1 to {MOST_OPERATIONS} operations")
