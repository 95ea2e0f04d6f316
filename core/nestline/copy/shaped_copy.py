"""A whole copy, its paragraphs one after another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.alike import same_beginning, same_ends
from nestline.copy.shaped_paragraph import ShapedParagraph
from nestline.copy.styles import Look
from nestline.document.model import OBJECT
from nestline.fonts.library import Face

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class ShapedCopy:
    """A whole copy, its paragraphs one after another, in the arrays that nesting reads (nestline.rows).

    `offset` is where each paragraph starts in the copy, a paragraph's end counting one code point. `x` and `spaces`
    run on over all paragraphs. `pieces` has a row a piece, `paragraphs` a row a paragraph.
    """

    paragraphs: tuple[ShapedParagraph, ...]
    offset: NDArray[np.int64]
    x: Floats
    spaces: Floats
    letters: Floats
    fills: Floats
    piece_start: NDArray[np.int64]
    piece_content_end: NDArray[np.int64]
    piece_end: NDArray[np.int64]
    pieces: Floats
    rules: Floats
    segments: Segments
    text: str
    words: int
    excerpt: tuple[int, int] | None = None
    """The paragraphs, first and behind the last, that the figures of pieces, running widths and words are there for, where they
    are not there for all: places in the text, and which words there are, always are (see `join_paragraphs`)."""

    @cached_property
    def whole(self) -> ShapedCopy:
        """The copy with all its figures."""
        return self if self.excerpt is None else join_paragraphs(self.paragraphs)

    @property
    def size(self) -> float:
        """The type size of the first paragraph, in points."""
        return self.paragraphs[0].rules.size if self.paragraphs else 11.0

    @cached_property
    def in_capitals(self) -> bool:
        """Whether all its letters are capitals, and there is more than one."""
        return self.text.isupper() and sum(c.isupper() for c in self.text) > 1

    @cached_property
    def holds_objects(self) -> bool:
        """Whether any object stands in line or has its place here."""
        return OBJECT in self.text

    @cached_property
    def object_places(self) -> tuple[int, ...]:
        """The code points that stand for objects, in line or elsewhere."""
        return tuple(n for n, letter in enumerate(self.text) if letter == OBJECT)

    def objects_between(self, start: int, end: int) -> list[str]:
        """The ids of the objects in line in copy[start:end]."""
        return [
            s.object
            for p, base in zip(self.paragraphs, self.offset.tolist(), strict=False)
            for s in p.stretches
            if s.role == "object" and start <= base + s.start < end
        ]

    @cached_property
    def piece_words(self) -> NDArray[np.int64]:
        """For each piece the first word segment that it reaches into, and the one after the last."""
        out = np.zeros((len(self.piece_start), 2), np.int64)
        within = slice(None)
        if self.excerpt is not None:
            within = slice(*np.searchsorted(self.piece_start, self.offset[list(self.excerpt)]).tolist())
        starts, ends = self.piece_start[within], self.piece_content_end[within]
        out[within, k.RANGE_START] = np.searchsorted(self.segments.end, starts, side="right")
        out[within, k.RANGE_END] = np.maximum(out[within, k.RANGE_START], np.searchsorted(self.segments.start, ends))
        return out

    @cached_property
    def levels(self) -> NDArray[np.int64]:
        """The level of every code point (UAX #9), a paragraph's end having its paragraph's."""
        parts = [[*(p.levels or [0] * len(p.text)), p.base] for p in self.paragraphs]
        return np.array([level for part in parts for level in part], dtype=np.int64)

    @cached_property
    def bidi(self) -> bool:
        """Whether any of it runs from right to left."""
        return any(p.levels is not None for p in self.paragraphs)

    def ink(self, start: int, end: int) -> tuple[float, float]:
        """How far the ink of copy[start:end] reaches above its baseline and below it, in points; 0, 0 without any."""
        up, down = -1e9, -1e9
        for paragraph, base in zip(self.paragraphs, self.offset.tolist(), strict=False):
            if base >= end or base + len(paragraph.text) <= start:
                continue
            for s in paragraph.stretches:
                if s.role or s.start + base >= end or s.end + base <= start:
                    continue
                for glyph, cluster, lift in zip(
                    s.glyphs.ids.tolist(), s.glyphs.clusters.tolist(), s.glyphs.y_offsets.tolist(), strict=True
                ):
                    box = s.face.hb_font.get_glyph_extents(glyph) if start <= cluster + base < end else None
                    if box is not None and box.height:
                        up = max(up, (box.y_bearing + lift) * s.scale)
                        down = max(down, -(box.y_bearing + box.height + lift) * s.scale)
        return (up, down) if up > -1e9 else (0.0, 0.0)

    @cached_property
    def widest_indent(self) -> float:
        """The most room that a slot loses to indents, in points."""
        return (
            float((self.rules[:, k.INDENT] + np.maximum(self.rules[:, k.FIRST_INDENT], 0)).max())
            if len(self.rules)
            else 0.0
        )

    @cached_property
    def widest_piece(self) -> float:
        """The width of the widest piece, in points."""
        return float((self.pieces[:, k.X1] - self.pieces[:, k.X0]).max()) if len(self.pieces) else 0.0


@dataclass(frozen=True, eq=False)
class Segments:
    """Words by look: what a drawing program draws at one x. Indices count code points of the copy."""

    start: NDArray[np.int64]
    end: NDArray[np.int64]
    x: Floats
    width: Floats
    spaces: Floats
    letters: Floats
    fills: Floats
    look: NDArray[np.int64]
    rtl: NDArray[np.int64]
    looks: tuple[tuple[Face, Look], ...]


def join_paragraphs(
    paragraphs: Sequence[ShapedParagraph], like: ShapedCopy | None = None, excerpt: tuple[int, int] | None = None
) -> ShapedCopy:
    """The arrays of a copy from those of its paragraphs; what it begins with as another copy does is taken over from that.

    With an `excerpt` the figures of those paragraphs alone are there, and of the first and the last, so that what is seen of
    a long copy is there at once: all others are 0.
    """
    if not paragraphs:
        none, empty = np.zeros(0, np.int64), np.zeros(0)
        return ShapedCopy(
            (), np.zeros(1, np.int64), empty, empty, empty, empty, none, none, none, np.zeros((0, k.PIECE_COLUMNS)),
            np.zeros((0, k.RULE_COLUMNS)), _segments((), np.zeros(1, np.int64), empty, empty, empty, empty), "", 0,
        )  # fmt: skip
    offset = _running(np.array([len(p.text) + 1 for p in paragraphs], dtype=np.int64))
    behind = _running(np.array([len(p.piece_start) for p in paragraphs], dtype=np.int64))
    # How far each paragraph's own running figures are moved on by those of the paragraphs before.
    bases = np.zeros((len(paragraphs) + 1, len(k.RUNNING0)))
    np.cumsum([p.running[:, -1] for p in paragraphs], axis=0, out=bases[1:])
    further = np.zeros((len(paragraphs), k.PIECE_COLUMNS))
    further[:, k.RUNNING0] = further[:, k.RUNNING1] = bases[:-1]
    further[:, k.PARAGRAPH] = np.arange(len(paragraphs))
    # Written where they stay: copies on the way would cost more than all the adding.
    # Zeros that nobody writes to cost no memory, and no time.
    running = np.zeros((len(k.RUNNING0), offset[-1]))
    places, pieces = np.zeros((3, behind[-1]), np.int64), np.zeros((behind[-1], k.PIECE_COLUMNS))
    same = 0
    if excerpt is not None:
        return _joined_in(paragraphs, excerpt, like, offset, behind, bases, further, running, places, pieces)
    if like is not None and like.excerpt is None and (same := same_beginning(like.paragraphs, paragraphs)):
        letters_in, pieces_in = int(offset[same]), int(behind[same])
        kept = (like.x, like.spaces, like.letters, None, like.fills)
        for row, values in zip(running, kept, strict=True):
            if values is not None:
                row[:letters_in] = values[:letters_in]
        for row, starts in zip(places, (like.piece_start, like.piece_content_end, like.piece_end), strict=True):
            row[:pieces_in] = starts[:pieces_in]
        pieces[:pieces_in] = like.pieces[:pieces_in]
    for p, at, first, base, more in zip(
        paragraphs[same:], offset[same:].tolist(), behind[same:].tolist(), bases[same:, :, None], further[same:],
        strict=False,
    ):  # fmt: skip
        np.add(p.running, base, out=running[:, at : at + len(p.text) + 1])
        np.add(p.places, at, out=places[:, first : first + len(p.piece_start)])
        np.add(p.rows, more, out=pieces[first : first + len(p.piece_start)])
    x, spaces, letters, _, fills = running
    starts, contents, ends = places
    return ShapedCopy(
        tuple(paragraphs), offset, x, spaces, letters, fills, starts, contents, ends, pieces,
        np.stack([p.rule_row for p in paragraphs]), _segments(paragraphs, offset, x, spaces, letters, fills),
        "\n".join(p.text for p in paragraphs), sum(p.words for p in paragraphs),
    )  # fmt: skip


def _joined_in(
    paragraphs: Sequence[ShapedParagraph], excerpt: tuple[int, int], like: ShapedCopy | None, offset: NDArray[np.int64],
    behind: NDArray[np.int64], bases: Floats, further: Floats, running: Floats, places: NDArray[np.int64], pieces: Floats,
) -> ShapedCopy:  # fmt: skip
    """The copy with the figures of an excerpt; its places are those that it had as it was before, moved on behind what
    changed."""
    first, last = excerpt
    for number in dict.fromkeys((0, *range(first, last), len(paragraphs) - 1)):
        p, at, begin = paragraphs[number], int(offset[number]), int(behind[number])
        np.add(p.running, bases[number][:, None], out=running[:, at : at + len(p.text) + 1])
        np.add(p.rows, further[number], out=pieces[begin : begin + len(p.piece_start)])
    head, tail = same_ends(like.paragraphs, paragraphs) if like is not None else (0, 0)
    end = len(paragraphs) - tail
    a, b = int(behind[head]), int(behind[end])
    if like is not None:
        kept = (like.piece_start, like.piece_content_end, like.piece_end)
        for row, values in zip(places, kept, strict=True):
            row[:a] = values[:a]
            np.add(values[len(values) - (len(row) - b) :], offset[-1] - like.offset[-1], out=row[b:])
    for number in range(head, end):
        here = slice(int(behind[number]), int(behind[number + 1]))
        np.add(paragraphs[number].places, int(offset[number]), out=places[:, here])
    x, spaces, letters, _, fills = running
    starts, contents, ends = places
    changed = None if like is None else (like, head, end)
    return ShapedCopy(
        tuple(paragraphs), offset, x, spaces, letters, fills, starts, contents, ends, pieces,
        np.array([p.rule_row for p in paragraphs]),
        _segments(paragraphs, offset, x, spaces, letters, fills, excerpt, changed),
        "\n".join(p.text for p in paragraphs), sum(p.words for p in paragraphs), excerpt,
    )  # fmt: skip


def _running(parts: NDArray[Any]) -> NDArray[Any]:
    """Where each part begins, and the end of all."""
    return np.concatenate([[0], np.cumsum(parts)]).astype(parts.dtype)


def _segments(
    paragraphs: Sequence[ShapedParagraph], offset: NDArray[np.int64], x: Floats, spaces: Floats, letters: Floats,
    fills: Floats, excerpt: tuple[int, int] | None = None, changed: tuple[ShapedCopy, int, int] | None = None,
) -> Segments:  # fmt: skip
    """The words of a copy by look; with an `excerpt` those of other paragraphs, but the first and the last, are of no width.
    Those of paragraphs that have not `changed` are taken over from the copy as it was before."""
    numbers, looks = _numbered(paragraphs)
    like, head, end = changed or (None, 0, len(paragraphs))
    if like is not None and like.segments.looks != looks:
        like, head, end = None, 0, len(paragraphs)
    joined = _words(paragraphs[head:end], offset[head:end], numbers[head:end])
    counts = [len(p.segments[0]) for p in paragraphs] if excerpt is not None else []
    behind = _running(np.array(counts, dtype=np.int64))
    if like is not None:
        was = like.segments
        columns = {k.WORD_START: was.start, k.WORD_END: was.end, k.WORD_LOOK: was.look, k.WORD_RTL: was.rtl}
        before = np.column_stack([columns[column] for column in range(k.WORD_COLUMNS)])
        after = before[len(before) - int(behind[-1] - behind[end]) :]
        after[:, [k.WORD_START, k.WORD_END]] += offset[-1] - like.offset[-1]
        joined = np.concatenate([before[: behind[head]], joined, after])
    a, b, look_of, rtl = (
        np.ascontiguousarray(joined[:, c]) for c in (k.WORD_START, k.WORD_END, k.WORD_LOOK, k.WORD_RTL)
    )
    if not len(a):
        empty = np.zeros(0)
        return Segments(a, b, empty, empty, empty, empty, empty, a, a, looks)
    ranges = [slice(None)]
    if excerpt is not None:
        first, last = behind[list(excerpt)].tolist()
        ranges = [slice(0, behind[1]), slice(first, last), slice(behind[-2], None)]

    def of(values: Floats, at: NDArray[np.int64]) -> Floats:
        out = np.zeros(len(at))
        for one in ranges:
            out[one] = values[at[one]]
        return out

    starts = of(x, a)
    return Segments(
        a, b, starts, of(x, b) - starts, of(spaces, a), of(letters, a), of(fills, a), look_of, rtl, looks,
    )  # fmt: skip


def _numbered(paragraphs: Sequence[ShapedParagraph]) -> tuple[list[list[int]], tuple[tuple[Face, Look], ...]]:
    """The looks of all paragraphs in the order of their first use, and of each paragraph the numbers of its own in that."""
    found: dict[tuple[Face, Look], int] = {}
    numbers: list[list[int]] = []
    before: list[tuple[Face, Look]] | None = None
    mine: list[int] = []
    for p in paragraphs:
        pairs = p.segments[1]
        if pairs != before:  # most follow one that looks the same: to number it anew would cost more
            mine, before = [found.setdefault(pair, len(found)) for pair in pairs], pairs
        numbers.append(mine)
    return numbers, tuple(found)


def _words(
    paragraphs: Sequence[ShapedParagraph], offset: NDArray[np.int64], numbers: Sequence[list[int]]
) -> NDArray[np.int64]:
    """The words of paragraphs that begin there, their looks by those numbers."""
    rows = []
    for p, mine in zip(paragraphs, numbers, strict=True):
        own = p.segments[0]
        if mine != list(range(len(mine))):
            own = own.copy()
            own[:, k.WORD_LOOK] = np.array(mine, dtype=np.int64)[own[:, k.WORD_LOOK]]
        rows.append(own)
    joined = np.concatenate(rows) if rows else np.zeros((0, k.WORD_COLUMNS), dtype=np.int64)
    joined[:, [k.WORD_START, k.WORD_END]] += np.repeat(offset, [len(own) for own in rows])[:, None]
    return joined
