"""What stays as it was in a chain while its copy changes: nests, where a frame begins, and how much of a long copy is
needed."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from nestline import rows as k
from nestline.alike import same_beginning, same_ends
from nestline.copy.shaped_copy import ShapedCopy
from nestline.document.reading import Document
from nestline.nesting.frame_nest import FrameNest
from nestline.nesting.placed import PlacedNest

WINDOWED = 60
"""Of a copy with so many paragraphs more than are needed, only those are put together."""


def as_before(old: FrameNest, copy: ShapedCopy, begin: int) -> FrameNest | None:
    """The nest of a frame in a chain whose copy differs only before what it holds, or after: as it was, of the copy as
    it is."""
    if old.broken or old.begin >= len(old.copy.pieces) or begin >= len(copy.pieces):
        return None
    if copy.widest_piece > old.copy.widest_piece or copy.widest_indent > old.copy.widest_indent:
        return None
    was, now = old.begins_at, copy.paragraph_at(begin)
    if was.into != now.into or (was.number == 0) != (now.number == 0):
        return None
    stop, ends = len(old.copy.paragraphs), old.next_piece >= len(old.copy.pieces)
    if old.goes_on and not ends:
        # What it ends in and the paragraph after have a say in where it ends.
        stop = min(old.ends_at.number + 2, stop)
    elif copy.any_optimal != old.copy.any_optimal:
        return None
    # The paragraph before the first says how far that stands below it.
    before = min(was.number, 1)
    moved = now.number - was.number
    mine = copy.paragraphs[now.number - before : stop + moved]
    if old.copy.paragraphs[was.number - before : stop] != mine:
        return None
    if stop == len(old.copy.paragraphs) and stop + moved != len(copy.paragraphs):
        return None
    if begin == old.begin:
        return replace(old, copy=copy)
    by = begin - old.begin
    records = old.records.copy()
    records[:, [k.FIRST, k.LAST]] += by
    return replace(old, copy=copy, records=records, begin=begin, next_piece=old.next_piece + by)


def excerpt_for(
    document: Document, older: Document, begin: PlacedNest, behind: PlacedNest | None
) -> tuple[int, int] | None:
    """The paragraphs of a long copy that are needed for the frames of its chain from one on to before another, about,
    with all that have changed; None where that is much of it."""
    now = document.copies[begin.copy][begin.version].paragraphs
    was = older.copies[begin.copy][begin.version].paragraphs
    head, tail = same_ends(now, was)
    first = min(int(begin.nest.copy.pieces[begin.nest.begin, k.PARAGRAPH]) if begin.nest.begin else 0, head)
    last = len(now)
    if behind is not None and behind.nest.begin < len(behind.nest.copy.pieces):
        piece = behind.nest.copy.piece_start[behind.nest.begin]
        paragraph = int(np.searchsorted(behind.nest.copy.offset, piece, side="right"))
        last = min(max(paragraph + len(now) - len(was) + 4, len(now) - tail), len(now))
    return (first, last) if last - first < len(now) - WINDOWED else None


def runs_past_its_excerpt(placed: PlacedNest) -> bool:
    """Whether a frame may hold what its copy has no figures for."""
    excerpt, nest = placed.nest.copy.excerpt, placed.nest
    if excerpt is None or excerpt[1] >= len(nest.copy.paragraphs):
        return False
    at = nest.copy.piece_start[min(nest.next_piece, len(nest.copy.pieces) - 1)]
    return bool(np.searchsorted(nest.copy.offset, at, side="right") + 2 > excerpt[1])


def begins_as_before(document: Document, older: Document, placed: PlacedNest) -> bool:
    """Whether nothing has changed in what a frame of a chain begins after."""
    if placed.copy not in older.copies or placed.version not in older.copies[placed.copy]:
        return False
    now = document.copies[placed.copy][placed.version].paragraphs
    was = older.copies[placed.copy][placed.version].paragraphs
    pieces = placed.nest.copy.pieces
    if placed.nest.begin >= len(pieces):
        return False
    # What it ends in and the paragraph after have a say in where a frame ends.
    return same_beginning(now, was) >= int(pieces[placed.nest.begin, k.PARAGRAPH]) + 2
