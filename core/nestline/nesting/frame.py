"""One frame nested: outline and wraps to slots, copy to lines, lines to where they sit. A pure function of its inputs."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.copy.bidi import visual_order
from nestline.copy.dummy import dummy_paragraphs
from nestline.copy.shaped import ShapedCopy, Shaper, Stretch
from nestline.document.model import OBJECT
from nestline.fonts.shaping import shape
from nestline.nesting import compiled, work
from nestline.nesting.work import room
from nestline.outlines.polygons import Region, box_region

Floats = NDArray[np.float64]

band_reach = compiled.band_reach.py_func
"""For one row Python is quicker than the way into what is compiled."""
MOST_RECORDS = 20_000
STRIP_HEIGHT, MOST_STRIPS = 8.0, 800


@dataclass(frozen=True, eq=False)
class WrapRegion:
    """What pushes copy away: a region cleared already, whose it is, and where copy may stand beside it.

    `sides` is "both", "left", "right" or "widest", or "below" where nothing stands beside it in a column. `inside` is
    the shape that copy is to stay in, of a region that is everything else; frames that do not meet it are not pushed.
    """

    region: Region
    object_id: str
    sides: str = "both"
    inside: Region | None = None

    @property
    def reach(self) -> Region:
        """What a frame must meet to be pushed."""
        return self.inside or self.region


HANGS = {"ascender": k.HANG_ASCENDER, "cap": k.HANG_CAP, "ex": k.HANG_EX, "line-box": k.HANG_BOX}
STANDS = {"baseline": k.STAND_BASELINE, "descender": k.STAND_DESCENDER, "line-box": k.STAND_BOX}


@dataclass(frozen=True)
class FrameRules:
    """A frame's rules in points. `hang` is a metric's name or a length in points."""

    sit: str = "top"
    lift: float = 0.0
    hang: str | float = "ascender"
    hang_least: float = 0.0
    stand: str = "descender"
    band: str = "letters"
    least_slot_pt: float = 0.0
    least_slot_em: float = 3.0
    columns: int = 1
    gutter: float = 0.0
    balance: bool = False
    leaded: tuple[float, float, float, float] = (0.0, 1.6, 0.0, 1.0)
    """Greatest leading and greatest paragraph space when leaded out: each as points and ems of its paragraph."""
    ends: str = "past-the-edge"
    mark: str = ""

    @cached_property
    def row(self) -> Floats:
        """What the compiled loops read of them (rows.BY_LINE_BOX …), but for the places. "ink" is the length it comes to."""
        row = np.zeros(k.FRAME_COLUMNS)
        row[k.BY_LINE_BOX] = 1.0 if self.band == "line-box" else 0.0
        row[k.HANG_KIND], row[k.HANG_LENGTH] = k.HANG_BY_LENGTH, 0.0 if isinstance(self.hang, str) else self.hang
        if isinstance(self.hang, str):
            row[k.HANG_KIND] = HANGS.get(self.hang, k.HANG_BY_LENGTH)
        row[k.HANG_LEAST], row[k.STAND_KIND] = self.hang_least, STANDS.get(self.stand, k.STAND_BY_LENGTH)
        row[k.LEAST_PT], row[k.LEAST_EM], row[k.COLUMNS] = self.least_slot_pt, self.least_slot_em, 1
        row.flags.writeable = False
        return row


@dataclass(frozen=True, eq=False)
class EndMark:
    """What marks the end of copy that does not fit, behind the last record that stands inside."""

    text: str
    record: int
    width: float
    stretch: Stretch


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
    geometry: _Geometry
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
    spent: bool = False
    """Whether the work that it may take was spent before it was done: it is the best so far."""

    @property
    def left(self) -> Floats:
        """Where the first letter of each record stands."""
        return self.alignment[k.FROM]

    @property
    def width(self) -> Floats:
        """The natural width of each record."""
        return self.alignment[k.NATURAL]

    @property
    def space_more(self) -> Floats:
        """What is added to each word space of each record."""
        return self.alignment[k.SPACE_MORE]

    @property
    def tracks(self) -> Floats:
        """What is added after each letter of each record."""
        return self.alignment[k.TRACK]

    @property
    def fills(self) -> Floats:
        """What each tab to the slot's end takes of what is free in each record."""
        return self.alignment[k.FILL]

    @property
    def loose(self) -> NDArray[np.bool_]:
        """Which justified records could not be filled decently and are set natural."""
        return self.alignment[k.TOO_LOOSE] > 0

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
        return self.left + self.width + self.space_more * gaps + self.tracks * np.maximum(letters, 0) + filled

    @cached_property
    def hyphens(self) -> NDArray[np.bool_]:
        """Which records end in a hyphen that the engine set."""
        return self.copy.pieces[self.records[:, k.LAST].astype(np.int64), k.HYPHEN] == k.SET_HYPHEN

    def width_of(self, record: int, start: int, end: int) -> float:
        """The width of copy[start:end], a stretch without spaces, as it stands in a record."""
        c = self.copy
        return float(c.x[end] - c.x[start]) + float(self.tracks[record]) * float(c.letters[end] - c.letters[start])

    def drawn_width(self, record: int, start: int, end: int) -> float:
        """As `width_of`, with what the line's end sets behind its last letter: a hyphen, or a kern that it takes back."""
        width = self.width_of(record, start, end)
        if self.copy.bidi or self.hyphens[record]:
            row = self.records[record]
            if start == self.ranges[record, k.RANGE_START] and self.copy.bidi:
                first = self.copy.pieces[int(row[k.FIRST])]
                width += float(first[k.CHANGE0] + first[k.HANG0])
            if end == self.ranges[record, k.RANGE_END]:
                width += float(self.copy.pieces[int(row[k.LAST]), k.CHANGE1])
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
        return np.sort(drawn.segment[drawn.x + segments.width[drawn.segment] > self.edge + 0.01])

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
        """What the frame lacks for all of its copy, about: its "width" or its "height", and by how many points. None when
        nothing is left over. Of copy whose last lines are not set, their height is estimated by their length."""
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
        """Slot length up to the last line (that line by its natural width) over all usable slot length; above 1 never."""
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
        up, down = band_reach(piece, frame_row(self.rules, g.bounds))
        least = self.rules.least_slot_pt + self.rules.least_slot_em * paragraph[k.SIZE]
        last = self.records[~self.past][-1]
        total = 0.0
        for column in range(int(last[k.COLUMN]), g.strips.count):
            begin = float(last[k.BASELINE]) if column == last[k.COLUMN] else g.bounds[1] + up - paragraph[k.LEADING]
            shift = column * g.shift
            floor = g.bounds[3] + shift
            leading = paragraph[k.LEADING]
            total += work.run(
                compiled.slot_length_below, g.space, begin + shift, leading, up, down, least, floor, _slots
            )
        return total

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
                items.append((word, int(levels[a - start]), self.width_of(record, a, b), a))
                at = b
            if not items:
                continue
            head, tail = items[0], items[-1]
            change = float(c.pieces[first, k.CHANGE0] + c.pieces[first, k.HANG0])
            items[0] = (head[0], head[1], head[2] + change, head[3])
            tail = items[-1]
            items[-1] = (tail[0], tail[1], tail[2] + float(c.pieces[last, k.CHANGE1]), tail[3])
            pen = float(self.left[record]) - float(c.pieces[first, k.HANG0])
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
            out.append((-1, int(levels[i - line_start]), self.width_of(record, i, i + 1) + more, i))
        return out


@dataclass(frozen=True, eq=False)
class DrawnWords:
    """Word segments as set: the record they stand in, their index in the copy's segments, and their x."""

    record: NDArray[np.int64]
    segment: NDArray[np.int64]
    x: Floats


@dataclass(frozen=True, eq=False)
class _Geometry:
    space: compiled.Space
    bounds: tuple[float, float, float, float]
    strips: _Strips
    shift: float


def _space(parts: list[tuple[Region, float, int]], side: list[int]) -> compiled.Space:
    """Regions as edges with their index by height, in strips of about a line's height: each with how far down it is laid
    and whose it is."""
    count = sum(len(region.starts) for region, _, _ in parts)
    edges, rings = np.empty((count, k.EDGE_COLUMNS)), np.empty((count, k.RING_COLUMNS), np.int64)
    at = 0
    for region, down, whose in parts:
        x, y = region.shift
        at = compiled.lay_edges(region.unmoved, region.starts, x, y + down, whose, edges, rings, at)
    members, *index = compiled.index_by_height(edges, STRIP_HEIGHT, MOST_STRIPS)
    return compiled.Space(
        edges, rings, np.array(side, np.int64), members, room(max(len(members), len(side)) + 3), *index
    )


@dataclass(frozen=True)
class _Strips:
    """Columns as vertical strips of a box: how many, the first one's left and right, and the step from one to the next."""

    count: int
    left: float
    right: float
    step: float


def _strips(bounds: tuple[float, float, float, float], rules: FrameRules) -> _Strips:
    left, _, right, _ = bounds
    if rules.columns <= 1:
        return _Strips(1, left, right, 0.0)
    width = max((right - left - (rules.columns - 1) * rules.gutter) / rules.columns, 1.0)
    return _Strips(rules.columns, left, left + width, width + rules.gutter)


def _geometry(
    padded: Region, wraps: tuple[WrapRegion, ...], rules: FrameRules | None = None
) -> tuple[_Geometry, tuple[str, ...]]:
    """Outline and wraps in one set of edges; wraps that cannot touch the frame are left out.

    Columns lie below one another, each a copy of the outline with what is beside its strip walled off: so a nest runs
    down through them all.
    """
    left, top, right, bottom = padded.bounds
    strips = _strips(padded.bounds, rules or FrameRules())
    near = [w for w in wraps if not w.region.empty and _touches(w.region.bounds, padded.bounds)]
    low = high = shift = 0.0
    if strips.count > 1:
        low = min([top, *(w.region.bounds[1] for w in near)])
        high = max([bottom, *(w.region.bounds[3] for w in near)])
        shift = high - low + 10.0
    parts: list[tuple[Region, float, int]] = []
    side: list[int] = []
    ids: list[str] = []
    for column in range(strips.count):
        down = column * shift
        begin, stop = strips.left + column * strips.step, strips.right + column * strips.step
        parts.append((padded, down, 0))
        for wrap in near:
            a, _, c, _ = wrap.region.bounds
            if strips.count > 1 and (c <= begin or a >= stop):
                continue
            ids.append(wrap.object_id)
            region = wrap.region
            if wrap.sides == "below":
                region = box_region(begin - 10, region.bounds[1], stop + 10, region.bounds[3])
            parts.append((region, down, len(ids)))
            widest = "left" if a - begin >= stop - c else "right"
            side.append(
                {"both": 0, "below": 0, "left": 1, "right": 2}[widest if wrap.sides == "widest" else wrap.sides]
            )
        if strips.count > 1:
            ids.append("")
            side.append(0)
            for a, c in ((left - 10, begin), (stop, right + 10)):
                if c - a > 10 + 1e-9:
                    parts.append((box_region(a, low - 4, c, high + 4), down, len(ids)))
    return _Geometry(_space(parts, side), (left, top, right, bottom), strips, shift), tuple(ids)


def _touches(a: tuple[float, float, float, float], b: tuple[float, float, float, float]) -> bool:
    return a[2] > b[0] and a[0] < b[2] and a[3] > b[1] and a[1] < b[3]


MOST_SLOTS = 256
"""Slots of one band at most."""
_slots = np.empty((MOST_SLOTS, k.SLOT_COLUMNS))
_reckoned = np.empty((k.RECKONED, k.PIECE_COLUMNS))
"""What the loops reckon in, for all: they hold the interpreter's lock, and nothing in it is looked at again."""


def slots_of_band(
    padded: Region, wraps: tuple[WrapRegion, ...], top: float, bottom: float, least: float = 0.0
) -> list[tuple[float, float]]:
    """The slots of one band, left to right, as (left, right)."""
    if padded.empty:
        return []
    geometry, _ = _geometry(padded, wraps)
    out = np.empty((1024, k.SLOT_COLUMNS))
    found = work.run(compiled.slots_in_band, geometry.space, top, bottom, least, out)
    return [(float(slot[k.SLOT_LEFT]), float(slot[k.SLOT_RIGHT])) for slot in out[:found]]


def frame_row(
    rules: FrameRules, bounds: tuple[float, float, float, float], strips: _Strips | None = None, shift: float = 0.0
) -> Floats:
    """A frame's rules as the compiled loops read them (rows.BY_LINE_BOX …)."""
    row = rules.row.copy()
    left, row[k.Y_TOP], right, row[k.Y_BOTTOM] = bounds
    if strips is not None:
        left, right = strips.left, strips.right
        row[k.COLUMNS], row[k.COLUMN_STEP], row[k.COLUMN_SHIFT] = strips.count, strips.step, shift
    row[k.X_LEFT], row[k.X_RIGHT] = left, max(right, left + 1)
    return row


def nest_frame(
    padded: Region,
    box: tuple[float, float, float, float],
    wraps: tuple[WrapRegion, ...],
    copy: ShapedCopy,
    rules: FrameRules,
    shaper: Shaper,
    wrap_lines: bool = True,
    begin: int = 0,
    goes_on: bool = False,
    probe: bool = False,
) -> FrameNest:
    """Nest copy into a padded outline among wraps: from a piece on, when frames before hold what is before it.

    With `goes_on` what finds no slot goes on in another frame: no line runs past the edge, and no mark is set. A `probe`
    only finds how much of the copy the frame can hold, in as few lines as there can be: its nest has no records.
    `box` (left, top, right, bottom) is where lines past the edge stand when the padding leaves nothing of the outline.
    All in one set of coordinates: the page's, or the frame's own when it is set turned.
    """
    with work.within(work.FRAME) as done:
        work.count(OF_A_NEST + len(copy.pieces) // 8)
        nest = _nest_frame(padded, box, wraps, copy, rules, shaper, wrap_lines, begin, goes_on, probe, done)
    return replace(nest, spent=True, exact=False) if done.spent else nest


OF_A_NEST = 1000
"""What a nest takes besides its bands, counted as bands: the padded outline, the index of its edges."""
OF_A_LETTER = 30
"""What a letter takes where words are broken to fit, counted as bands."""


def _nest_frame(
    padded: Region,
    box: tuple[float, float, float, float],
    wraps: tuple[WrapRegion, ...],
    copy: ShapedCopy,
    rules: FrameRules,
    shaper: Shaper,
    wrap_lines: bool,
    begin: int,
    goes_on: bool,
    probe: bool,
    doing: work.Work,
) -> FrameNest:
    ids: tuple[str, ...] = ()
    own_right = padded.bounds[2] if not padded.empty else box[2]
    if not wrap_lines and not padded.empty:
        padded = _for_whole_lines(padded, copy)
    if padded.empty:
        left, top, right, _ = box
        bounds = (left, top, right, top)
        geometry = _Geometry(_space([], []), bounds, _strips(bounds, rules), 0.0)
    else:
        geometry, ids = _geometry(padded, wraps, rules)
    bounds = geometry.bounds
    frame = frame_row(rules, bounds, geometry.strips, geometry.shift)
    broken = False
    if wrap_lines:
        whole = copy
        copy, broken = _with_pieces_that_fit(whole, geometry, rules, frame, shaper, begin)
        if broken and begin:
            starts = np.append(whole.piece_start, len(whole.text))
            begin = (
                int(np.searchsorted(copy.piece_start, starts[begin])) if begin < len(starts) - 1 else len(copy.pieces)
            )
    sitting = _Sitting(geometry, copy, rules, frame, begin, goes_on, doing)
    if probe and "ink" not in (rules.hang, rules.stand):
        return _probed(sitting, padded, ids, broken, begin)
    if len(sitting.pieces) and not padded.empty:
        sitting.solve()
    written, mark = sitting.written, None
    edge = None
    if not wrap_lines and copy.widest_piece + copy.widest_indent > box[2] - box[0] and not padded.empty:
        edge = own_right
    over = sitting.next_piece < len(sitting.pieces) and not goes_on
    if over and rules.mark and written:
        mark = sitting.marked(rules.mark)
        written = sitting.written
    if over and rules.ends != "with-the-last-line":
        written = sitting.fill_past()
    kept = sitting.records[:written].copy()
    alignment = _aligned(sitting.rows, kept)
    if begin:
        kept[:, k.FIRST] += begin
        kept[:, k.LAST] += begin
    if sitting.continued and written:
        kept[0, k.PARAGRAPH_START] = 0.0
    return FrameNest(
        copy, kept, alignment, begin + sitting.next_piece, sitting.start_y, sitting.residue, sitting.exact, int(sitting.ends[k.END_LINES]), padded, ids, geometry, rules, broken, sitting.opened, float(sitting.ends[k.END_STAND]),
        mark, edge, begin, goes_on,
    )  # fmt: skip


def _probed(sitting: _Sitting, padded: Region, ids: tuple[str, ...], broken: bool, begin: int) -> FrameNest:
    """How far copy comes, without its lines."""
    if len(sitting.pieces) and not padded.empty:
        if (sitting.paragraphs[:, k.BREAKING] == k.OPTIMAL).any():
            sitting.frame[k.TIGHT] = 1.0
        sitting.probe()
    return FrameNest(
        sitting.copy, sitting.records[:0], np.zeros((k.ALIGNMENT_ROWS, 0)), begin + sitting.next_piece, sitting.start_y, 0.0,
        True, int(sitting.ends[k.END_LINES]), padded, ids, sitting.geometry, sitting.rules, broken, 0.0,
        float(sitting.ends[k.END_STAND]), None, None, begin, False,
    )  # fmt: skip


def without_last_lines(nest: FrameNest, lines: int) -> FrameNest:
    """A nest that leaves its last lines to the frame that its copy goes on in; it keeps one at least."""
    numbers = np.unique(nest.records[:, k.LINE])
    lines = min(lines, len(numbers) - 1)
    if lines <= 0:
        return nest
    kept = int(np.searchsorted(nest.records[:, k.LINE], numbers[-lines]))
    return replace(
        nest, records=nest.records[:kept], alignment=np.ascontiguousarray(nest.alignment[:, :kept]), next_piece=int(nest.records[kept, k.FIRST]),
        lines=nest.lines - lines,
    )  # fmt: skip


def lines_of_first_paragraph(nest: FrameNest) -> int:
    """How many lines of a paragraph that began in a frame before stand here, when it ends here; 0 otherwise."""
    pieces, begin = nest.copy.pieces, nest.begin
    if not 0 < begin < len(pieces) or pieces[begin - 1, k.PARAGRAPH] != pieces[begin, k.PARAGRAPH]:
        return 0
    paragraph = pieces[begin, k.PARAGRAPH]
    if nest.next_piece < len(pieces) and pieces[nest.next_piece, k.PARAGRAPH] == paragraph:
        return 0
    mine = int(np.searchsorted(pieces[nest.records[:, k.FIRST].astype(np.int64), k.PARAGRAPH], paragraph, side="right"))
    return len(set(nest.records[:mine, k.LINE].tolist()))


def _for_whole_lines(padded: Region, copy: ShapedCopy) -> Region:
    """The padded outline, or a box wide enough for the longest line when that does not fit it."""
    left, top, right, bottom = padded.bounds
    need = copy.widest_piece + copy.widest_indent + 1e-3
    return box_region(left, top, left + need, bottom) if need > right - left else padded


class _Sitting:
    """A frame's copy nested where its rules let it sit: the search for the start, the depth and the leading."""

    def __init__(
        self,
        geometry: _Geometry,
        copy: ShapedCopy,
        rules: FrameRules,
        frame: Floats,
        begin: int,
        goes_on: bool,
        doing: work.Work,
    ) -> None:
        self.geometry, self.copy, self.rules = geometry, copy, rules
        self.space = geometry.space
        self.work = doing
        self.rows = compiled.Rows(copy.pieces[begin:], copy.rules)
        self.begin = begin
        self.continued = 0 < begin < len(copy.pieces) and (
            copy.pieces[begin - 1, k.PARAGRAPH] == copy.pieces[begin, k.PARAGRAPH]
        )
        if self.continued:
            # The rest of a paragraph is neither indented as its first line is, nor does it have its drop cap.
            rules_of = copy.rules.copy()
            paragraph = int(copy.pieces[begin, k.PARAGRAPH])
            rules_of[paragraph, [k.FIRST_INDENT, k.DROP_LINES, k.DROP_WIDTH, k.NEW_COLUMN]] = 0.0
            self.rows = compiled.Rows(self.pieces, rules_of)
        self.frame = frame
        self.frame[k.GOES_ON] = 1.0 if goes_on else 0.0
        self.out = compiled.Written(
            np.empty((min(MOST_RECORDS, 2 * len(self.pieces) + 64), k.RECORD_COLUMNS)), np.zeros(k.ENDS), _slots,
            _reckoned,
        )  # fmt: skip
        self.records, self.ends = self.out.records, self.out.ends
        self.written = self.next_piece = 0
        self.start_y, self.residue, self.exact = geometry.bounds[1], 0.0, True
        self.opened = 0.0
        self.least_start = geometry.bounds[1]

    @property
    def pieces(self) -> Floats:
        return self.rows.pieces

    @property
    def paragraphs(self) -> Floats:
        return self.rows.rules

    def fill_past(self) -> int:
        """Set what is left over past the edge, where lines go on by leading. Returns the records written."""
        lines, ends, frame = int(self.ends[k.END_LINES]), self.ends, self.frame
        baseline = float(ends[k.END_BASELINE]) if lines else self.geometry.bounds[1]
        across = float(ends[k.END_COLUMN]) * self.geometry.strips.step
        reached = compiled.Reached(
            self.next_piece, self.written, lines, baseline, self.reach_below(self.written), False, 0
        )
        left, right = float(frame[k.X_LEFT]) + across, float(frame[k.X_RIGHT]) + across
        written = int(compiled.fill_past(self.rows, frame, left, right, reached, self.out))
        self.records[self.written : written, k.COLUMN] = ends[k.END_COLUMN]
        return written

    def solve(self) -> None:
        """Nest where the rules say, an edge by ink solved for until it is that of the line it belongs to."""
        hang_ink, stand_ink = self.rules.hang == "ink", self.rules.stand == "ink"
        if hang_ink or stand_ink:
            piece = self.pieces[0]
            self.frame[k.HANG_LENGTH] = self.frame[k.HANG_LENGTH] if not hang_ink else piece[k.ASC]
            self.frame[k.STAND_LENGTH] = self.pieces[-1, k.DESC]
        for again in range(6 if hang_ink or stand_ink else 1):
            self._solve()
            if self.work.spent or not (hang_ink or stand_ink) or not self.written:
                break
            up, down = self._ink()
            same = True
            if hang_ink:
                same = abs(up - self.frame[k.HANG_LENGTH]) < 1e-9
                self.frame[k.HANG_LENGTH] = up if again < 3 else max(up, self.frame[k.HANG_LENGTH])
            if stand_ink:
                same = same and abs(down - self.frame[k.STAND_LENGTH]) < 1e-9
                self.frame[k.STAND_LENGTH] = down if again < 3 else max(down, self.frame[k.STAND_LENGTH])
            if same:
                break

    def probe(self) -> None:
        """Nest once from the top."""
        self._from_the_top()
        self._nest(self.least_start)

    def marked(self, text: str) -> EndMark | None:
        """Give a mark its room in the last slot: words make way for it, and none follows a space or a comma."""
        copy, pieces = self.copy, self.pieces
        for number in range(self.written - 1, -1, -1):
            row = self.records[number]
            first, last = int(row[k.FIRST]), int(row[k.LAST])
            paragraph = int(pieces[first, k.PARAGRAPH])
            room = (
                row[k.RIGHT]
                - row[k.LEFT]
                - compiled.indents(self.paragraphs, paragraph, row[k.PARAGRAPH_START] > 0, row[k.PARAGRAPH_START] > 0)
            )
            for piece in range(last, first - 1, -1):
                end = int(copy.piece_content_end[self.begin + piece])
                stretch = copy.paragraphs[paragraph].stretch_at(max(end - 1 - int(copy.offset[paragraph]), 0))
                width = shape(stretch.face, text, 0, len(text), "en").width * stretch.scale
                ends_well = (
                    end > 0 and copy.text[end - 1] not in ",;: \u00a0" and pieces[piece, k.HYPHEN] == k.NO_HYPHEN
                )
                if ends_well and float(compiled.piece_width(pieces, first, piece)) + width <= room + 1e-6:
                    row[k.LAST] = piece
                    if self.paragraphs[paragraph, k.FROM_RIGHT] > 0:
                        row[k.LEFT] += width
                    else:
                        row[k.RIGHT] -= width
                    self.written, self.next_piece = number + 1, piece + 1
                    return EndMark(text, number, width, stretch)
        return None

    def _ink(self) -> tuple[float, float]:
        """How far the ink of the first line reaches above its baseline, and that of the last line below its own."""
        lines = self.records[: self.written, k.LINE]
        heights = []
        for rows in (np.flatnonzero(lines == lines[0]), np.flatnonzero(lines == lines[-1])):
            first, last = (self.begin + int(self.records[rows[i], c]) for i, c in ((0, k.FIRST), (-1, k.LAST)))
            heights.append(self.copy.ink(int(self.copy.piece_start[first]), int(self.copy.piece_content_end[last])))
        return heights[0][0], heights[1][1]

    def reach_below(self, written: int) -> float:
        """What the last line written asks of the step to the line below it."""
        column = k.BOX_DOWN if self.rules.band == "line-box" else k.UNDER
        if not written:
            return float(self.pieces[0, column])
        line = self.records[:written, k.LINE] == self.records[written - 1, k.LINE]
        first, last = int(self.records[:written][line][0, k.FIRST]), int(self.records[written - 1, k.LAST])
        return float(self.pieces[first : last + 1, column].max())

    def _from_the_top(self) -> None:
        # What the first line hangs from is at least hang_least above the first baseline.
        top = self.geometry.bounds[1]
        self.least_start = top
        if self.rules.hang_least > 0:
            hang = float(compiled.hang_height(self.pieces[0], self.frame))
            self.least_start = top + max(0.0, self.rules.hang_least - hang)

    def _solve(self) -> None:
        self._from_the_top()
        self.frame[k.TIGHT] = 0.0
        self._sit()
        over = self.next_piece < len(self.pieces) and not self.frame[k.GOES_ON]
        if over and (self.paragraphs[:, k.BREAKING] == k.OPTIMAL).any():
            # The best breaks leave words over: fewer lines come before better ones, when that holds all.
            self.frame[k.TIGHT] = 1.0
            self._sit()
            if self.next_piece < len(self.pieces):
                self.frame[k.TIGHT] = 0.0
                self._nest(self.least_start)
        if self.next_piece < len(self.pieces):
            self.residue, self.exact = 0.0, True
        self.start_y = float(self.ends[k.END_HANG]) if self.ends[k.END_LINES] else self.start_y

    def _nest(self, y: float) -> bool:
        """Nest from a start; whether nothing is left over."""
        self.start_y = y
        self.written, self.next_piece = work.run(compiled.nest_from, self.space, self.rows, self.frame, 0, y, self.out)
        return bool(self.next_piece >= len(self.pieces))

    def _usable(self) -> tuple[float, float]:
        return work.run(compiled.usable_height, self.space, self.rows, self.frame, self.out.slots)

    def _sit(self) -> None:
        sit = self.rules.sit
        self.residue, self.exact = 0.0, True
        if sit == "leaded" and self._lead_out():
            return
        balanced = self.rules.balance and self.rules.columns > 1
        if sit == "top" or not (balanced or self._sit_between(sit)):
            self._nest(self.least_start)
            if balanced:
                self._balance()
        elif balanced:
            self._sit_balanced(sit)

    def _sit_between(self, sit: str) -> bool:
        """Nest in the middle or at the bottom; False where no start holds all copy."""
        high, low = self._usable()
        if high >= compiled.FAR or low <= -compiled.FAR:
            return False
        aim_bottom = sit == "bottom"
        lift = 0.0 if aim_bottom else self.rules.lift
        y = work.run(compiled.solve_sit, self.space, self.rows, self.frame, aim_bottom, lift, high, low, self.out)
        if y >= compiled.FAR:
            return False
        self._nest(float(y))
        below = low - float(self.ends[k.END_STAND])
        self.residue = -below if aim_bottom else float(self.ends[k.END_HANG]) - high - below + 2 * lift
        self.exact = abs(self.residue) <= 0.05
        return True

    def _balance(self) -> None:
        """Nest to the smallest depth that holds all in columns, from the start as it is."""
        if self.next_piece < len(self.pieces):
            return
        floor, start = float(self.frame[k.Y_BOTTOM]), self.start_y
        low, high = start, float(self.ends[k.END_STAND])
        while high - low > 0.01 and not self.work.spent:
            self.frame[k.Y_BOTTOM] = (low + high) / 2
            if self._nest(start):
                high = min(float(self.frame[k.Y_BOTTOM]), float(self.ends[k.END_STAND]) + 1e-6)
            else:
                low = float(self.frame[k.Y_BOTTOM])
        self.frame[k.Y_BOTTOM] = high
        self._nest(start)
        self.frame[k.Y_BOTTOM] = floor

    def _sit_balanced(self, sit: str) -> None:
        """Balanced columns in the middle or at the bottom: balanced first, then moved, until both are true."""
        high, low = self._usable()
        self._nest(self.least_start)
        self._balance()
        if high >= compiled.FAR or self.next_piece < len(self.pieces):
            return
        best_y, best = self.start_y, compiled.FAR
        y = self.least_start
        for _ in range(8):
            if self.work.spent:
                break
            self._nest(y)
            self._balance()
            if self.next_piece < len(self.pieces):
                break
            below = low - float(self.ends[k.END_STAND])
            off = -below if sit == "bottom" else float(self.ends[k.END_HANG]) - high - below + 2 * self.rules.lift
            if abs(off) < best and (sit != "bottom" or off <= 1e-6):
                best_y, best, self.residue = y, abs(off), off
            if abs(off) < 1e-6:
                return
            y = min(max(y - off / (1 if sit == "bottom" else 2), self.least_start), low)
        self._nest(best_y)
        self._balance()
        self.exact = abs(self.residue) <= 0.05

    def _lead_out(self) -> bool:
        """Open paragraph spaces, then the leading, until the last line stands at the bottom; False with leftover.

        One line alone sits in the middle.
        """
        if not self._nest(self.least_start):
            return False
        if self.ends[k.END_LINES] <= 1:
            return self._sit_between("middle")
        _, low = self._usable()
        plain = self.rows

        def gap(opening: float) -> float:
            """How far above the bottom the last line stands; below zero when copy is left over."""
            self.rows = self._opened(plain, opening)
            if not self._nest(self.least_start):
                return -1.0
            return low - float(self.ends[k.END_STAND])

        best, best_gap = 0.0, gap(0.0)
        steps = 32
        here, here_gap = 0.0, best_gap
        for step in range(1, steps + 1):
            there = 2 * step / steps
            there_gap = gap(there)
            if here_gap >= 0 > there_gap:
                a, b = here, there
                while b - a > 1e-7:
                    half = (a + b) / 2
                    found = gap(half)
                    if found >= 0:
                        a = half
                        if found < best_gap:
                            best, best_gap = half, found
                    else:
                        b = half
            elif 0 <= there_gap < best_gap:
                best, best_gap = there, there_gap
            if best_gap < 0.01:
                break
            here, here_gap = there, there_gap
        self.residue = -gap(best)
        self.opened = best
        self.exact = abs(self.residue) <= 0.05
        return True

    def _opened(self, plain: compiled.Rows, opening: float) -> compiled.Rows:
        """Pieces and rules with paragraph spaces opened (up to 1) and then the leading (up to 2)."""
        leading_pt, leading_em, space_pt, space_em = self.rules.leaded
        pieces, rules = plain.pieces, plain.rules.copy()
        sizes = rules[:, k.SIZE]
        gaps = rules[1:, k.BEFORE] + rules[:-1, k.AFTER]
        rules[1:, k.BEFORE] += min(opening, 1.0) * np.maximum(space_pt + space_em * sizes[1:] - gaps, 0)
        if opening > 1:
            more = (opening - 1) * np.maximum(leading_pt + leading_em * sizes - rules[:, k.LEADING], 0)
            rules[:, k.LEADING] += more
            pieces = pieces.copy()
            each = more[pieces[:, k.PARAGRAPH].astype(np.int64)] / 2
            pieces[:, k.BOX_UP] += each
            pieces[:, k.BOX_DOWN] += each
        return compiled.Rows(pieces, rules)


def _with_pieces_that_fit(
    copy: ShapedCopy, geometry: _Geometry, rules: FrameRules, frame: Floats, shaper: Shaper, begin: int = 0
) -> tuple[ShapedCopy, bool]:
    """The copy, with pieces that no slot of the frame can hold broken between graphemes."""
    widest = copy.widest_piece
    left, top, right, bottom = geometry.bounds
    if not len(copy.pieces):
        return copy, False
    fits, slots = right - left, _slots
    if len(geometry.space.edges):
        piece, paragraph = copy.pieces[0], copy.rules[0]
        up, down = band_reach(piece, frame)
        leading = float(paragraph[k.LEADING])
        space = geometry.space
        left, right = geometry.strips.left, geometry.strips.right
        if work.run(
            compiled.surely_fits, space, widest + copy.widest_indent, top + up, bottom - down, up, down, leading, slots
        ):
            return copy, False
        hang, stand = float(compiled.hang_height(piece, frame)), float(compiled.stand_depth(piece, frame))
        fits = float(
            work.run(compiled.width_that_always_fits, space, top + up, bottom - down, up, down, leading, slots)
        )
        # A single line may stand with both its ends cut.
        single = top + min(up, hang)
        alone = float(work.run(compiled.widest_in_band, space, top, single + min(down, stand), slots))
        fits = max(fits, alone)
        fits = fits or right - left
    indent = copy.widest_indent
    fits -= indent if indent < fits else 0.0
    if widest <= fits or _first_fits_alone(copy, geometry, frame, fits, slots, begin):
        return copy, False
    work.count(OF_A_LETTER * len(copy.text))
    broken = shaper.broken_to_fit(copy, fits)
    return broken, broken is not copy


def _first_fits_alone(
    copy: ShapedCopy, geometry: _Geometry, frame: Floats, fits: float, slots: Floats, begin: int
) -> bool:
    """Whether only the first piece is wider than `fits`, and a band somewhere holds it: the first line stands there."""
    if begin >= len(copy.pieces) or not len(geometry.space.edges) or geometry.strips.count > 1:
        return False
    pieces, paragraph = copy.pieces, int(copy.pieces[begin, k.PARAGRAPH])
    others = np.delete(np.arange(begin, len(pieces)), 0)
    changes = pieces[others, k.CHANGE0] + pieces[others, k.CHANGE1]
    if len(others) and float((pieces[others, k.X1] - pieces[others, k.X0] + changes).max()) > fits:
        return False
    if copy.rules[paragraph, k.DROP_LINES] > 0:
        return False
    piece = pieces[begin]
    up, down = band_reach(piece, frame)
    hang, stand = float(compiled.hang_height(piece, frame)), float(compiled.stand_depth(piece, frame))
    need = float(compiled.piece_width(pieces, begin, begin)) + float(
        compiled.indents(copy.rules, paragraph, True, True)
    )
    _, top, _, bottom = geometry.bounds
    found = work.run(
        compiled.next_usable, geometry.space, top + hang, min(up, hang), min(down, stand), need, bottom - stand, slots
    )
    return bool(found < compiled.FAR)


def _aligned(copy: compiled.Rows, records: Floats) -> Floats:
    """Where letters stand in records of a copy."""
    out = np.empty((k.ALIGNMENT_ROWS, len(records)))
    compiled.align_records(copy, records, out)
    return out
