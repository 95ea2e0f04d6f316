"""One frame nested: outline and wraps to slots, copy to lines, lines to where they sit. A pure function of its inputs."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from nestline.copy.bidi import visual_order
from nestline.copy.dummy import dummy_paragraphs
from nestline.copy.shaped import ShapedCopy, Shaper, Stretch
from nestline.document.model import OBJECT
from nestline.fonts.shaping import shape
from nestline.nesting import kernel as k
from nestline.nesting import work
from nestline.nesting.work import room
from nestline.outlines.polygons import Region, box_region

Floats = NDArray[np.float64]

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


@dataclass(frozen=True, eq=False)
class EndMark:
    """What marks the end of copy that does not fit, behind the last record that stands inside."""

    text: str
    record: int
    width: float
    stretch: Stretch


@dataclass(frozen=True, eq=False)
class FrameNest:
    """A frame's nest. `records` has a row a slot that holds copy (columns: kernel.LINE …), lines past the edge too.

    `left`, `space_more` and `tracks` give, for each record, where its first letter stands and what is added to each
    word space and after each letter; `width` its natural width. `loose` marks justified lines that could not be filled decently and are set natural.
    """

    copy: ShapedCopy
    records: Floats
    left: Floats
    width: Floats
    space_more: Floats
    tracks: Floats
    fills: Floats
    loose: NDArray[np.bool_]
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
            if start == self.ranges[record, 0] and self.copy.bidi:
                first = self.copy.pieces[int(row[k.FIRST])]
                width += float(first[k.CHANGE0] + first[k.HANG0])
            if end == self.ranges[record, 1]:
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
        by_box = self.rules.band == "line-box"
        up, down = (piece[k.BOX_UP], piece[k.BOX_DOWN]) if by_box else (piece[k.ASC], piece[k.DESC])
        least = self.rules.least_slot_pt + self.rules.least_slot_em * paragraph[k.SIZE]
        last = self.records[~self.past][-1]
        total = 0.0
        for column in range(int(last[k.COLUMN]), g.strips.count):
            begin = float(last[k.BASELINE]) if column == last[k.COLUMN] else g.bounds[1] + up - paragraph[k.LEADING]
            shift = column * g.shift
            floor = g.bounds[3] + shift
            leading = paragraph[k.LEADING]
            total += work.run(k.slot_length_below, g.space, begin + shift, leading, up, down, least, floor, _scratch())
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
        which, index, x = k.place_words(
            self.records, self.left, self.space_more, self.tracks, self.fills, c.pieces, c.piece_words, s.x, s.spaces,
            s.letters, s.fills,
        )  # fmt: skip
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
            for word in range(int(c.piece_words[first, 0]), int(c.piece_words[last, 1])):
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
    space: k.Space
    bounds: tuple[float, float, float, float]
    strips: _Strips
    shift: float


def _space(parts: list[tuple[Region, float, int]], side: list[int]) -> k.Space:
    """Regions as edges with their index by height, in strips of about a line's height: each with how far down it is laid
    and whose it is."""
    count = sum(len(region.starts) for region, _, _ in parts)
    edges, rings = np.empty((count, 4)), np.empty((count, 2), np.int64)
    at = 0
    for region, down, whose in parts:
        x, y = region.shift
        at = k.lay_edges(region.unmoved, region.starts, x, y + down, whose, edges, rings, at)
    members, *index = k.index_by_height(edges, STRIP_HEIGHT, MOST_STRIPS)
    return k.Space(edges, rings, np.array(side, np.int64), members, room(max(len(members), len(side)) + 3), *index)


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


def _scratch() -> Floats:
    return np.empty((256, 4))


def slots_of_band(
    padded: Region, wraps: tuple[WrapRegion, ...], top: float, bottom: float, least: float = 0.0
) -> list[tuple[float, float]]:
    """The slots of one band, left to right, as (left, right)."""
    if padded.empty:
        return []
    geometry, _ = _geometry(padded, wraps)
    out = np.empty((1024, 4))
    found = work.run(k.slots_in_band, geometry.space, top, bottom, least, out)
    return [(float(a), float(b)) for a, b in out[:found, :2]]


HANGS = {"ascender": k.HANG_ASCENDER, "cap": k.HANG_CAP, "ex": k.HANG_EX, "line-box": k.HANG_BOX}
STANDS = {"baseline": k.STAND_BASELINE, "descender": k.STAND_DESCENDER, "line-box": k.STAND_BOX}


def frame_row(
    rules: FrameRules, bounds: tuple[float, float, float, float], strips: _Strips | None = None, shift: float = 0.0
) -> Floats:
    """A frame's rules as the compiled loops read them (pieces.BY_LINE_BOX …). "ink" is the length that it comes to."""
    strips = strips or _Strips(1, bounds[0], bounds[2], 0.0)
    hang, stand = rules.hang, STANDS.get(rules.stand, k.STAND_BY_LENGTH)
    kind, length = (HANGS.get(hang, k.HANG_BY_LENGTH), 0.0) if isinstance(hang, str) else (k.HANG_BY_LENGTH, hang)
    by_box = 1.0 if rules.band == "line-box" else 0.0
    # In the order of the columns (pieces.BY_LINE_BOX … LAID).
    return np.array((
        by_box, kind, length, rules.hang_least, stand, rules.least_slot_pt, rules.least_slot_em, bounds[1], bounds[3],
        strips.left, max(strips.right, strips.left + 1), 0.0, 0.0, strips.count, strips.step, shift, 0.0, 0.0,
    ))  # fmt: skip


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
    broken = False
    if wrap_lines:
        whole = copy
        copy, broken = _with_pieces_that_fit(whole, geometry, rules, shaper, _scratch(), begin)
        if broken and begin:
            starts = np.append(whole.piece_start, len(whole.text))
            begin = (
                int(np.searchsorted(copy.piece_start, starts[begin])) if begin < len(starts) - 1 else len(copy.pieces)
            )
    sitting = _Sitting(geometry, copy, rules, begin, goes_on, doing)
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
        ends, frame = sitting.ends, sitting.frame
        lines = int(ends[k.END_LINES])
        baseline = float(ends[k.END_BASELINE]) if lines else bounds[1]
        down = sitting.reach_below(written)
        across = float(ends[k.END_COLUMN]) * geometry.strips.step
        left, right = frame[k.X_LEFT] + across, frame[k.X_RIGHT] + across
        written = k.fill_past(
            sitting.pieces, sitting.paragraphs, frame, sitting.next_piece, lines, baseline, down, left, right,
            sitting.records, written,
        )  # fmt: skip
        sitting.records[sitting.written : written, k.COLUMN] = ends[k.END_COLUMN]
    kept = sitting.records[:written].copy()
    first_x, width, more, tracks, loose, fills = _aligned(kept, sitting.pieces, sitting.paragraphs)
    if begin:
        kept[:, k.FIRST] += begin
        kept[:, k.LAST] += begin
    if sitting.continued and written:
        kept[0, k.PARAGRAPH_START] = 0.0
    return FrameNest(
        copy, kept, first_x, width, more, tracks, fills, loose, begin + sitting.next_piece, sitting.start_y, sitting.residue,
        sitting.exact, int(sitting.ends[k.END_LINES]), padded, ids, geometry, rules, broken, sitting.opened, float(sitting.ends[k.END_STAND]),
        mark, edge, begin, goes_on,
    )  # fmt: skip


def _probed(sitting: _Sitting, padded: Region, ids: tuple[str, ...], broken: bool, begin: int) -> FrameNest:
    """How far copy comes, without its lines."""
    if len(sitting.pieces) and not padded.empty:
        if (sitting.paragraphs[:, k.BREAKING] == k.OPTIMAL).any():
            sitting.frame[k.TIGHT] = 1.0
        sitting.probe()
    none, no = np.zeros(0), np.zeros(0, dtype=np.bool_)
    return FrameNest(
        sitting.copy, sitting.records[:0], none, none, none, none, none, no, begin + sitting.next_piece, sitting.start_y, 0.0,
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
    parts = {
        name: getattr(nest, name)[:kept]
        for name in ("records", "left", "width", "space_more", "tracks", "fills", "loose")
    }
    return replace(nest, next_piece=int(nest.records[kept, k.FIRST]), lines=nest.lines - lines, **parts)


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
        self, geometry: _Geometry, copy: ShapedCopy, rules: FrameRules, begin: int, goes_on: bool, doing: work.Work
    ) -> None:
        self.geometry, self.copy, self.rules = geometry, copy, rules
        self.space = geometry.space
        self.work = doing
        self.pieces, self.paragraphs = copy.pieces[begin:], copy.rules
        self.begin = begin
        self.continued = 0 < begin < len(copy.pieces) and (
            copy.pieces[begin - 1, k.PARAGRAPH] == copy.pieces[begin, k.PARAGRAPH]
        )
        if self.continued:
            # The rest of a paragraph is neither indented as its first line is, nor does it have its drop cap.
            self.paragraphs = copy.rules.copy()
            paragraph = int(copy.pieces[begin, k.PARAGRAPH])
            self.paragraphs[paragraph, [k.FIRST_INDENT, k.DROP_LINES, k.DROP_WIDTH, k.NEW_COLUMN]] = 0.0
        self.frame = frame_row(rules, geometry.bounds, geometry.strips, geometry.shift)
        self.frame[k.GOES_ON] = 1.0 if goes_on else 0.0
        self.records = np.empty((min(MOST_RECORDS, 2 * len(self.pieces) + 64), k.RECORD_COLUMNS))
        self.slots = _scratch()
        self.ends = np.zeros(k.ENDS)
        self.written = self.next_piece = 0
        self.start_y, self.residue, self.exact = geometry.bounds[1], 0.0, True
        self.opened = 0.0
        self.least_start = geometry.bounds[1]

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
                - k.indents(self.paragraphs, paragraph, row[k.PARAGRAPH_START] > 0, row[k.PARAGRAPH_START] > 0)
            )
            for piece in range(last, first - 1, -1):
                end = int(copy.piece_content_end[self.begin + piece])
                stretch = copy.paragraphs[paragraph].stretch_at(max(end - 1 - int(copy.offset[paragraph]), 0))
                width = shape(stretch.face, text, 0, len(text), "en").width * stretch.scale
                ends_well = (
                    end > 0 and copy.text[end - 1] not in ",;: \u00a0" and pieces[piece, k.HYPHEN] == k.NO_HYPHEN
                )
                if ends_well and float(k.piece_width(pieces, first, piece)) + width <= room + 1e-6:
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
            hang = float(k.hang_height(self.pieces[0], self.frame))
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
        self.written, self.next_piece = work.run(
            k.nest_from, self.space, self.pieces, self.paragraphs, self.frame, 0, y, self.records, self.slots, self.ends
        )
        return bool(self.next_piece >= len(self.pieces))

    def _usable(self) -> tuple[float, float]:
        return work.run(
            k.usable_height,  # type: ignore[no-any-return]
            self.space,
            self.pieces[0],
            self.pieces[-1],
            self.paragraphs,
            self.frame,
            self.slots,
        )

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
        if high >= k.FAR or low <= -k.FAR:
            return False
        aim_bottom = sit == "bottom"
        lift = 0.0 if aim_bottom else self.rules.lift
        both = (self.space, self.pieces, self.paragraphs, self.frame)
        y = work.run(k.solve_sit, *both, aim_bottom, lift, high, low, self.records, self.slots)
        if y >= k.FAR:
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
        if high >= k.FAR or self.next_piece < len(self.pieces):
            return
        best_y, best = self.start_y, k.FAR
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
        plain = (self.pieces, self.paragraphs)

        def gap(opening: float) -> float:
            """How far above the bottom the last line stands; below zero when copy is left over."""
            self.pieces, self.paragraphs = self._opened(plain, opening)
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

    def _opened(self, plain: tuple[Floats, Floats], opening: float) -> tuple[Floats, Floats]:
        """Pieces and rules with paragraph spaces opened (up to 1) and then the leading (up to 2)."""
        leading_pt, leading_em, space_pt, space_em = self.rules.leaded
        pieces, rules = plain[0], plain[1].copy()
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
        return pieces, rules


def _with_pieces_that_fit(
    copy: ShapedCopy, geometry: _Geometry, rules: FrameRules, shaper: Shaper, slots: Floats, begin: int = 0
) -> tuple[ShapedCopy, bool]:
    """The copy, with pieces that no slot of the frame can hold broken between graphemes."""
    widest = copy.widest_piece
    left, top, right, bottom = geometry.bounds
    if not len(copy.pieces):
        return copy, False
    fits = right - left
    if len(geometry.space.edges):
        piece, paragraph = copy.pieces[0], copy.rules[0]
        by_box = rules.band == "line-box"
        up, down = (piece[k.BOX_UP], piece[k.BOX_DOWN]) if by_box else (piece[k.ASC], piece[k.DESC])
        leading = float(paragraph[k.LEADING])
        space = geometry.space
        left, right = geometry.strips.left, geometry.strips.right
        if work.run(
            k.surely_fits, space, widest + copy.widest_indent, top + up, bottom - down, up, down, leading, slots
        ):
            return copy, False
        hang = float(k.hang_height(piece, frame_row(rules, geometry.bounds)))
        stand = float(k.stand_depth(piece, frame_row(rules, geometry.bounds)))
        fits = float(work.run(k.width_that_always_fits, space, top + up, bottom - down, up, down, leading, slots))
        # A single line may stand with both its ends cut.
        single = top + min(up, hang)
        alone = float(work.run(k.widest_in_band, space, top, single + min(down, stand), slots))
        fits = max(fits, alone)
        fits = fits or right - left
    indent = copy.widest_indent
    fits -= indent if indent < fits else 0.0
    if widest <= fits or _first_fits_alone(copy, geometry, rules, fits, slots, begin):
        return copy, False
    work.count(OF_A_LETTER * len(copy.text))
    broken = shaper.broken_to_fit(copy, fits)
    return broken, broken is not copy


def _first_fits_alone(
    copy: ShapedCopy, geometry: _Geometry, rules: FrameRules, fits: float, slots: Floats, begin: int
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
    piece, frame = pieces[begin], frame_row(rules, geometry.bounds, geometry.strips)
    by_box = rules.band == "line-box"
    up, down = (piece[k.BOX_UP], piece[k.BOX_DOWN]) if by_box else (piece[k.ASC], piece[k.DESC])
    hang, stand = float(k.hang_height(piece, frame)), float(k.stand_depth(piece, frame))
    need = float(k.piece_width(pieces, begin, begin)) + float(k.indents(copy.rules, paragraph, True, True))
    _, top, _, bottom = geometry.bounds
    found = work.run(
        k.next_usable, geometry.space, top + hang, min(up, hang), min(down, stand), need, bottom - stand, slots
    )
    return bool(found < k.FAR)


def _aligned(
    records: Floats, pieces: Floats, paragraphs: Floats
) -> tuple[Floats, Floats, Floats, Floats, NDArray[np.bool_], Floats]:
    """For each record: where its first letter stands, its natural width, what each word space and letter gains, too
    loose, and what each tab to the slot's end gains."""
    n = len(records)
    starts, widths, more, tracks, loose = (
        np.empty(n),
        np.empty(n),
        np.empty(n),
        np.empty(n),
        np.empty(n, dtype=np.bool_),
    )
    fills = np.empty(n)
    k.align_records(records, pieces, paragraphs, starts, widths, more, tracks, loose, fills)
    return starts, widths, more, tracks, loose, fills
