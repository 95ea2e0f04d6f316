"""What a frame's nest is, and what can be told of it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.copy.bidi import visual_order
from nestline.copy.dummy import dummy_paragraphs
from nestline.copy.shaped_copy import PieceAt, ShapedCopy
from nestline.copy.stretches import Stretch
from nestline.document.model import OBJECT
from nestline.fonts.shaping import shape
from nestline.nesting import compiled, work
from nestline.nesting.frame_rules import FrameRules
from nestline.nesting.frame_space import SLOTS, Geometry, band_reach, frame_row
from nestline.outlines.polygons import Region

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class EndMark:
    """What marks the end of copy that does not fit, behind the last record that stands inside."""

    text: str
    record: int
    width: float
    stretch: Stretch


@dataclass(frozen=True, eq=False)
class DrawnWords:
    """Word segments as set: the record they stand in, their index in the copy's segments, and their x."""

    record: NDArray[np.int64]
    segment: NDArray[np.int64]
    x: Floats


WIDE_GAP = 2.0
"""From how wide a gap on, in ems, a line that goes on behind it is hard to read."""


@dataclass(frozen=True, eq=False)
class FrameNest:
    """A frame's nest. `records` has a row a slot that holds copy (columns: rows.LINE …), lines past the edge too.

    `alignment` says where letters stand in them (rows.FROM …).
    """

    copy: ShapedCopy
    records: Floats
    alignment: Floats
    next_piece: int
    start_y: float
    residue: float
    exact: bool
    lines: int
    padded: Region
    wrap_ids: tuple[str, ...]
    geometry: Geometry
    rules: FrameRules
    broken: bool
    opened: float
    stand_y: float
    mark: EndMark | None = None
    edge: float | None = None
    """Where the frame ends for lines that do not wrap: what reaches further is left over."""
    begin: int = 0
    """The piece of the copy that its first line begins with: copy before it stands in frames before."""
    goes_on: bool = False
    """Whether what finds no slot here goes on in another frame, so that nothing is left over."""
    whole: ShapedCopy | None = None
    """The copy as it was asked for, where wide pieces of it were broken: what is worked out of a nest is known
    by that."""
    spent: bool = False
    """Whether the work that it may take was spent before it was done: it is the best so far."""

    def _figures(self, row: int) -> Floats:
        figures: Floats = self.alignment[row]
        return figures

    @property
    def left(self) -> Floats:
        """Where the first letter of each record stands."""
        return self._figures(k.FROM)

    @property
    def width(self) -> Floats:
        """The natural width of each record."""
        return self._figures(k.NATURAL)

    @property
    def space_more(self) -> Floats:
        """What is added to each word space of each record."""
        return self._figures(k.SPACE_MORE)

    @property
    def tracks(self) -> Floats:
        """What is added after each letter of each record."""
        return self._figures(k.TRACK)

    @property
    def factors(self) -> Floats:
        """How wide the letters of each record are, 1 as their font has them."""
        return 1.0 + self._figures(k.WIDENED)

    @property
    def fills(self) -> Floats:
        """What each tab to the slot's end takes of what is free in each record."""
        return self._figures(k.FILL)

    @property
    def loose(self) -> NDArray[np.bool_]:
        """Which justified records could not be filled decently and are set natural."""
        loose: NDArray[np.bool_] = self._figures(k.TOO_LOOSE) > 0
        return loose

    @cached_property
    def begins_at(self) -> PieceAt:
        """The paragraph that it begins in."""
        return self.copy.paragraph_at(self.begin)

    @cached_property
    def ends_at(self) -> PieceAt:
        """The paragraph of the first piece that it does not hold."""
        return self.copy.paragraph_at(self.next_piece)

    @cached_property
    def lines_of_first_paragraph(self) -> int:
        """How many lines of a paragraph that began in a frame before stand here, when it ends here; 0 otherwise."""
        pieces, begin = self.copy.pieces, self.begin
        if not 0 < begin < len(pieces) or pieces[begin - 1, k.PARAGRAPH] != pieces[begin, k.PARAGRAPH]:
            return 0
        paragraph = pieces[begin, k.PARAGRAPH]
        if self.next_piece < len(pieces) and pieces[self.next_piece, k.PARAGRAPH] == paragraph:
            return 0
        of = pieces[self.records[:, k.FIRST].astype(np.int64), k.PARAGRAPH]
        mine = int(np.searchsorted(of, paragraph, side="right"))
        return len(set(self.records[:mine, k.LINE].tolist()))

    @property
    def past(self) -> NDArray[np.bool_]:
        return self.records[:, k.PAST] > 0

    @property
    def loosest(self) -> float:
        """How much the word spaces of the loosest justified line grew, as a share of the font's own."""
        if not len(self.records):
            return 0.0
        pieces = self.copy.pieces[self.records[:, k.FIRST].astype(np.int64), k.PARAGRAPH].astype(np.int64)
        return float((self.space_more / np.maximum(self.copy.rules[pieces, k.SPACE_WIDTH], 1e-9)).max())

    @property
    def has_caps(self) -> bool:
        """Whether any record begins with a drop cap."""
        return bool((self.records[:, k.CAP_X] > k.NO_CAP).any())

    @cached_property
    def ranges(self) -> NDArray[np.int64]:
        """Start and end (its line-end spaces left out) of each record in the copy, in code points."""
        first, last = self.records[:, k.FIRST].astype(np.int64), self.records[:, k.LAST].astype(np.int64)
        return np.stack([self.copy.piece_start[first], self.copy.piece_content_end[last]], axis=1)

    @property
    def right(self) -> Floats:
        first, last = self.records[:, k.FIRST].astype(np.int64), self.records[:, k.LAST].astype(np.int64)
        gaps = self.copy.pieces[last, k.SPACE1] - self.copy.pieces[first, k.SPACE0]
        letters = self.copy.pieces[last, k.LETTERS1] - self.copy.pieces[first, k.LETTERS0] - 1
        filled = self.fills * (self.copy.pieces[last, k.FILLS1] - self.copy.pieces[first, k.FILLS0])
        set_wide = self.width * self.factors + self.space_more * gaps + self.tracks * np.maximum(letters, 0) + filled
        right: Floats = self.left + set_wide
        return right

    @cached_property
    def hyphens(self) -> NDArray[np.bool_]:
        """Which records end in a hyphen that the engine set."""
        ends: NDArray[np.bool_] = self.copy.pieces[self.records[:, k.LAST].astype(np.int64), k.HYPHEN] == k.SET_HYPHEN
        return ends

    def paragraph_of(self, record: int) -> int:
        """The number of the paragraph that a line is of."""
        return int(self.copy.pieces[int(self.records[record, k.FIRST]), k.PARAGRAPH])

    def advance_of(self, record: int, start: int, end: int) -> float:
        """What copy[start:end], a stretch without spaces, takes in a record, with what is added behind its last
        letter."""
        c = self.copy
        wide = float(c.x[end] - c.x[start]) * float(self.factors[record])
        return wide + float(self.tracks[record]) * float(c.letters[end] - c.letters[start])

    def width_of(self, record: int, start: int, end: int) -> float:
        """The width of copy[start:end], a stretch without spaces, as it stands in a record."""
        return self.advance_of(record, start, end) - (float(self.tracks[record]) if end > start else 0.0)

    def drawn_width(self, record: int, start: int, end: int) -> float:
        """As `width_of`, with what the line's end sets behind its last letter: a hyphen, or a kern that it
        takes back."""
        width = self.width_of(record, start, end)
        if self.copy.bidi or self.hyphens[record]:
            row = self.records[record]
            if start == self.ranges[record, k.RANGE_START] and self.copy.bidi:
                first = self.copy.pieces[int(row[k.FIRST])]
                width += float(first[k.CHANGE0] + first[k.HANG0]) * float(self.factors[record])
            if end == self.ranges[record, k.RANGE_END]:
                width += float(self.copy.pieces[int(row[k.LAST]), k.CHANGE1]) * float(self.factors[record])
                width += float(self.tracks[record]) * float(self.hyphens[record])
        return width

    @cached_property
    def held(self) -> tuple[int, int]:
        """The stretch of the copy that stands here, in code points, lines past the edge aside."""
        pieces, length = self.copy.piece_start, len(self.copy.text)
        return tuple(int(pieces[i]) if i < len(pieces) else length for i in (self.begin, self.next_piece))  # type: ignore[return-value]

    @cached_property
    def words_held(self) -> int:
        start, end = self.held
        return len(self.copy.text[start:end].replace(OBJECT, " ").split())

    @cached_property
    def leftover_start(self) -> int:
        """Where the leftover begins in the copy (its length when nothing is left over)."""
        if self.goes_on:
            return len(self.copy.text)
        if self.edge is not None and len(self._beyond):
            return int(self.copy.segments.start[self._beyond[0]])
        pieces = self.copy.piece_start
        return int(pieces[self.next_piece]) if self.next_piece < len(pieces) else len(self.copy.text)

    @cached_property
    def _beyond(self) -> NDArray[np.int64]:
        """The word segments that reach past the edge."""
        drawn, segments = self.drawn, self.copy.segments
        if self.edge is None or not len(drawn.x):
            return np.zeros(0, dtype=np.int64)
        # What hangs over a line's end is not beyond it.
        reach = np.minimum(drawn.x + segments.width[drawn.segment], self.right[drawn.record])
        return np.sort(drawn.segment[reach > self.edge + 0.01])

    @property
    def leftover_text(self) -> str:
        if self.edge is not None and self.next_piece >= len(self.copy.pieces):
            s = self.copy.segments
            return " ".join(self.copy.text[int(s.start[i]) : int(s.end[i])] for i in self._beyond)
        return self.copy.text[self.leftover_start :]

    @property
    def leftover_words(self) -> int:
        return len(self.leftover_text.replace(OBJECT, " ").split())

    @property
    def lacks(self) -> tuple[str, float] | None:
        """What the frame lacks for all of its copy, about: its "width" or its "height", and by how many points. None
        when nothing is left over. Of copy whose last lines are not set, their height is estimated by their length."""
        if not self.leftover_words:
            return None
        copy, (_, top, _, bottom) = self.copy, self.geometry.bounds
        if self.edge is not None and self.next_piece >= len(copy.pieces):
            return "width", max(float(self.right.max()) - self.edge, 0.0)
        past = self.records[self.past]
        if len(past) and self.mark is None:
            over = float(past[-1, k.BOTTOM]) - bottom
        else:
            first = int(copy.pieces[self.next_piece, k.PARAGRAPH])
            length = float(copy.pieces[-1, k.X1] - copy.pieces[self.next_piece, k.X0])
            lines = math.ceil(length / max(self.geometry.strips.right - self.geometry.strips.left, 1.0))
            over = lines * float(copy.rules[first, k.LEADING])
            if not self.lines:
                over -= bottom - top
        return "height", max(over, 0.1) / self.geometry.strips.count

    @cached_property
    def fill(self) -> float:
        """Slot length up to the last line (that line by its natural width) over all usable slot length; above 1
        never."""
        inside = self.records[~self.past]
        if self.next_piece < len(self.copy.pieces) or len(self._beyond):
            return 1.0
        used, whole = self._lengths
        return used / max(whole, 1e-9) if len(inside) else 0.0

    @cached_property
    def _lengths(self) -> tuple[float, float]:
        """The slot length that copy takes, and all usable slot length."""
        inside = self.records[~self.past]
        if not len(inside):
            return 0.0, 0.0
        last = inside[:, k.LINE] == inside[-1, k.LINE]
        lengths = inside[:, k.RIGHT] - inside[:, k.LEFT]
        used = float(lengths[~last].sum() + self.width[~self.past][last].sum())
        rest = float(lengths[last].sum() - self.width[~self.past][last].sum())
        return used, used + rest + self._length_below

    @cached_property
    def _length_below(self) -> float:
        g, piece = self.geometry, self.copy.pieces[-1]
        paragraph = self.copy.rules[-1]
        frame = frame_row(self.rules, g.bounds)
        up, down = band_reach(piece, frame)
        least = compiled.least_slot(self.copy.rules, len(self.copy.rules) - 1, frame)
        last = self.records[~self.past][-1]
        total = 0.0
        for column in range(int(last[k.COLUMN]), g.strips.count):
            begin = float(last[k.BASELINE]) if column == last[k.COLUMN] else g.bounds[1] + up - paragraph[k.LEADING]
            shift = column * g.shift
            floor = g.bounds[3] + shift
            leading = paragraph[k.LEADING]
            total += work.run(
                compiled.slot_length_below, g.space, begin + shift, leading, up, down, least, floor, SLOTS
            )
        return total

    @cached_property
    def has_wide_gaps(self) -> bool:
        """Whether lines run on behind a gap of 2 em or more in three bands, or arms are filled in turn: then both are
        offered."""
        if self.geometry.strips.arms:
            return True
        rows = self.records
        beside = (rows[1:, k.LINE] == rows[:-1, k.LINE]) & (rows[1:, k.COLUMN] == rows[:-1, k.COLUMN])
        gaps = np.maximum(rows[1:, k.LEFT] - rows[:-1, k.RIGHT], rows[:-1, k.LEFT] - rows[1:, k.RIGHT])
        return bool((beside & (gaps >= WIDE_GAP * self.copy.size)).sum() >= 3)

    @cached_property
    def capacity(self) -> int:
        """About how many words the frame holds at this style: its fill carried on at this copy's mean word."""
        if self.next_piece < len(self.copy.pieces) or self.leftover_words:
            return self.words_held
        if self.words_held:
            return round(self.words_held / self.fill) if self.fill > 0 else 0
        return int(self._lengths[1] / self._mean_word) if len(self.copy.pieces) else 0

    @property
    def _mean_word(self) -> float:
        """The width of a word and its space in prose of the copy's language, at the first paragraph's look."""
        paragraph = self.copy.paragraphs[0]
        prose = " ".join(dummy_paragraphs(paragraph.rules.language, 60))
        first = paragraph.stretches[0]
        width = shape(first.face, prose, 0, len(prose), paragraph.rules.language).width * first.scale
        return max(width / len(prose.split()), 0.1)

    @cached_property
    def drawn(self) -> DrawnWords:
        """Where each word stands."""
        c, s = self.copy, self.copy.segments
        if c.bidi:
            return self._drawn_both_ways()
        words = compiled.Words(c.piece_words, s.x, s.spaces, s.letters, s.fills)
        which, index, x = compiled.place_words(c.pieces, self.records, self.alignment, words)
        return DrawnWords(which, index, x)

    def _drawn_both_ways(self) -> DrawnWords:
        """As `drawn`, each line's words in the order in which they are seen (UAX #9, L2)."""
        c, s = self.copy, self.copy.segments
        which: list[int] = []
        index: list[int] = []
        xs: list[float] = []
        for record in range(len(self.records)):
            first, last = int(self.records[record, k.FIRST]), int(self.records[record, k.LAST])
            start, end = (int(v) for v in self.ranges[record])
            levels = c.levels[start:end]
            items: list[tuple[int, int, float, int]] = []  # word or −1, level, width, start
            at = start
            for word in range(int(c.piece_words[first, k.RANGE_START]), int(c.piece_words[last, k.RANGE_END])):
                a, b = max(int(s.start[word]), start), min(int(s.end[word]), end)
                if a > at:
                    items += self._gaps(record, at, a, levels, start)
                items.append((word, int(levels[a - start]), self.advance_of(record, a, b), a))
                at = b
            if not items:
                continue
            head, tail = items[0], items[-1]
            factor = float(self.factors[record])
            change = float(c.pieces[first, k.CHANGE0] + c.pieces[first, k.HANG0]) * factor
            items[0] = (head[0], head[1], head[2] + change, head[3])
            tail = items[-1]
            hyphen = float(c.pieces[last, k.CHANGE1]) * factor + float(self.tracks[record]) * float(
                self.hyphens[record]
            )
            items[-1] = (tail[0], tail[1], tail[2] + hyphen, tail[3])
            pen = float(self.left[record]) - float(c.pieces[first, k.HANG0]) * factor
            places = {}
            for place in visual_order([level for _, level, _, _ in items]):
                places[place] = pen
                pen += items[place][2]
            for place, (word, _, _, _) in enumerate(items):
                if word >= 0:
                    which.append(record)
                    index.append(word)
                    xs.append(places[place])
        return DrawnWords(np.array(which, np.int64), np.array(index, np.int64), np.array(xs, np.float64))

    def _gaps(
        self, record: int, start: int, end: int, levels: NDArray[np.int64], line_start: int
    ) -> list[tuple[int, int, float, int]]:
        """The spaces between two words, by level."""
        c = self.copy
        out = []
        for i in range(start, end):
            more = float(self.space_more[record]) * float(c.spaces[i + 1] - c.spaces[i])
            more += float(self.fills[record]) * float(c.fills[i + 1] - c.fills[i])
            out.append((-1, int(levels[i - line_start]), self.advance_of(record, i, i + 1) + more, i))
        return out


def without_last_lines(nest: FrameNest, lines: int) -> FrameNest:
    """A nest that leaves its last lines to the frame that its copy goes on in; it keeps one at least."""
    numbers = np.unique(nest.records[:, k.LINE])
    lines = min(lines, len(numbers) - 1)
    if lines <= 0:
        return nest
    kept = int(np.searchsorted(nest.records[:, k.LINE], numbers[-lines]))
    return replace(
        nest,
        records=nest.records[:kept],
        alignment=np.ascontiguousarray(nest.alignment[:, :kept]),
        next_piece=int(nest.records[kept, k.FIRST]),
        lines=nest.lines - lines,
    )
