"""A whole copy, its paragraphs one after another."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.copy.breaks import letters_of
from nestline.copy.joining import Block, begins, blocks_of, joined
from nestline.copy.shaped_paragraph import ShapedParagraph
from nestline.copy.styles import Look
from nestline.document.model import OBJECT
from nestline.fonts.library import Face

Floats = NDArray[np.float64]


class PieceAt(NamedTuple):
    """Where a piece stands: the number of its paragraph, and how many code points into it."""

    number: int
    into: int


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
    """The paragraphs, first and behind the last, that the figures of pieces, running widths and words are there for,
    where they are not there for all: places in the text, and which words there are, always are (see `copy_of`)."""
    blocks: tuple[Block, ...] = ()
    """What the whole is joined from, of an excerpt."""

    @cached_property
    def whole(self) -> ShapedCopy:
        """The copy with all its figures."""
        return self if self.excerpt is None else copy_of(self.blocks)

    @property
    def size(self) -> float:
        """The type size of the first paragraph, in points."""
        return self.paragraphs[0].rules.size if self.paragraphs else 11.0

    @cached_property
    def in_capitals(self) -> bool:
        """Whether all its letters are capitals, and there is more than one."""
        return self.text.isupper() and sum(c.isupper() for c in self.text) > 1

    def paragraph_at(self, piece: int) -> PieceAt:
        """The paragraph of a piece, and how far into it that begins."""
        start = int(self.piece_start[piece])
        number = int(np.searchsorted(self.offset, start, side="right")) - 1
        return PieceAt(number, start - int(self.offset[number]))

    @cached_property
    def any_optimal(self) -> bool:
        """Whether any of its lines are chosen together."""
        return bool((self.rules[:, k.BREAKING] == k.OPTIMAL).any())

    @cached_property
    def holds_objects(self) -> bool:
        """Whether any object stands in line or has its place here."""
        return OBJECT in self.text

    @cached_property
    def object_places(self) -> tuple[int, ...]:
        """The code points that stand for objects, in line or elsewhere."""
        return tuple(n for n, letter in enumerate(self.text) if letter == OBJECT)

    def tabs_between(self, a: NDArray[np.int64], b: NDArray[np.int64]) -> NDArray[np.bool_]:
        """Whether a tab stands between each two places in the text, whichever is the first."""
        if "\t" not in self.text:
            return np.zeros(len(a), dtype=bool)
        found: NDArray[np.bool_] = np.not_equal(*np.searchsorted(self._tab_places, [a, b]))
        return found

    @cached_property
    def _tab_places(self) -> NDArray[np.int64]:
        return np.flatnonzero(letters_of(self.text) == ord("\t"))

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


def join_paragraphs(paragraphs: Sequence[ShapedParagraph]) -> ShapedCopy:
    """The copy of some paragraphs."""
    return copy_of(blocks_of(paragraphs))


def copy_of(blocks: Sequence[Block], excerpt: tuple[int, int] | None = None) -> ShapedCopy:
    """The copy that is joined from blocks.

    With an `excerpt` the figures of those paragraphs are there, and of the first and the last, with the blocks that
    they are in, so that what is seen of a long copy is there at once: all others are 0.
    """
    if not blocks:
        none, empty = np.zeros(0, np.int64), np.zeros(0)
        segments = Segments(none, none, empty, empty, empty, empty, empty, none, none, ())
        return ShapedCopy(
            (),
            np.zeros(1, np.int64),
            empty,
            empty,
            empty,
            empty,
            none,
            none,
            none,
            np.zeros((0, k.PIECE_COLUMNS)),
            np.zeros((0, k.RULE_COLUMNS)),
            segments,
            "",
            0,
        )
    figured = None
    if excerpt is not None:
        behind = begins([len(block.paragraphs) for block in blocks])
        first, last = (
            int(np.searchsorted(behind, excerpt[0], side="right")) - 1,
            int(np.searchsorted(behind, excerpt[1])),
        )
        excerpt = int(behind[first]), int(behind[last])
        figured = {0, *range(first, last), len(blocks) - 1}
    paragraphs = tuple([p for block in blocks for p in block.paragraphs])
    whole = joined(blocks, paragraphs, figured)
    x, spaces, letters, _, fills = whole.running
    starts, contents, ends = whole.places
    return ShapedCopy(
        paragraphs,
        begins([p.running.shape[1] for p in paragraphs]),
        x,
        spaces,
        letters,
        fills,
        starts,
        contents,
        ends,
        whole.rows,
        whole.rule_rows,
        _segments(blocks, whole, figured),
        whole.text,
        whole.words,
        excerpt,
        () if excerpt is None else tuple(blocks),
    )


def _segments(blocks: Sequence[Block], whole: Block, figured: Collection[int] | None) -> Segments:
    """The words of a copy by look; those of blocks without figures are of no width."""
    rows, looks = whole.segments
    a, b, look_of, rtl = (np.ascontiguousarray(rows[:, c]) for c in (k.WORD_START, k.WORD_END, k.WORD_LOOK, k.WORD_RTL))
    ranges = [slice(0, len(rows))]
    if figured is not None:
        behind = begins([len(block.segments[0]) for block in blocks])
        ranges = [slice(behind[n], behind[n + 1]) for n in figured]
    x, spaces, letters, _, fills = whole.running

    def of(values: Floats, at: NDArray[np.int64]) -> Floats:
        out = np.zeros(len(at))
        for one in ranges:
            out[one] = values[at[one]]
        return out

    starts = of(x, a)
    return Segments(
        a, b, starts, of(x, b) - starts, of(spaces, a), of(letters, a), of(fills, a), look_of, rtl, tuple(looks)
    )
