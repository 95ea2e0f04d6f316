"""One frame nested: outline and wraps to slots, copy to lines, lines to where they sit. A pure function of its inputs."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from nestline.copy.bidi import visual_order
from nestline.copy.shaped import ShapedCopy, Shaper
from nestline.nesting import kernel as k
from nestline.outlines.polygons import Region

Floats = NDArray[np.float64]

MOST_RECORDS = 20_000


@dataclass(frozen=True, eq=False)
class WrapRegion:
    """What pushes copy away: a region cleared already, whose it is, and where copy may stand beside it.

    `sides` is "both", "left", "right" or "widest".
    """

    region: Region
    object_id: str
    sides: str = "both"


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

    @property
    def past(self) -> NDArray[np.bool_]:
        return self.records[:, k.PAST] > 0

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
        return self.left + self.width + self.space_more * gaps + self.tracks * np.maximum(letters, 0)

    @cached_property
    def hyphens(self) -> NDArray[np.bool_]:
        """Which records end in a hyphen that the engine set."""
        return self.copy.pieces[self.records[:, k.LAST].astype(np.int64), k.HYPHEN] == k.SET_HYPHEN

    def width_of(self, record: int, start: int, end: int) -> float:
        """The width of copy[start:end], a stretch without spaces, as it stands in a record."""
        c = self.copy
        return float(c.x[end] - c.x[start]) + float(self.tracks[record]) * float(c.letters[end] - c.letters[start])

    @cached_property
    def leftover_start(self) -> int:
        """Where the leftover begins in the copy (its length when nothing is left over)."""
        pieces = self.copy.piece_start
        return int(pieces[self.next_piece]) if self.next_piece < len(pieces) else len(self.copy.text)

    @property
    def leftover_text(self) -> str:
        return self.copy.text[self.leftover_start :]

    @property
    def leftover_words(self) -> int:
        return len(self.leftover_text.split())

    @cached_property
    def fill(self) -> float:
        """Slot length up to the last line (that line by its natural width) over all usable slot length; above 1 never."""
        inside = self.records[~self.past]
        if self.next_piece < len(self.copy.pieces):
            return 1.0
        if not len(inside):
            return 0.0
        last = inside[:, k.LINE] == inside[-1, k.LINE]
        lengths = inside[:, k.RIGHT] - inside[:, k.LEFT]
        used = float(lengths[~last].sum() + self.width[~self.past][last].sum())
        rest = float(lengths[last].sum() - self.width[~self.past][last].sum())
        return used / max(used + rest + self._length_below, 1e-9)

    @cached_property
    def _length_below(self) -> float:
        g, piece = self.geometry, self.copy.pieces[-1]
        paragraph = self.copy.rules[-1]
        by_box = self.rules.band == "line-box"
        up, down = (piece[k.BOX_UP], piece[k.BOX_DOWN]) if by_box else (piece[k.ASC], piece[k.DESC])
        least = self.rules.least_slot_pt + self.rules.least_slot_em * paragraph[k.SIZE]
        baseline = float(self.records[~self.past][-1, k.BASELINE])
        floor = g.bounds[3]
        return float(k.slot_length_below(g.space, baseline, paragraph[k.LEADING], up, down, least, floor, _scratch()))

    @cached_property
    def capacity(self) -> int:
        """About how many words the frame holds at this style: its fill carried on at this copy's mean word."""
        if self.leftover_words:
            return self.copy.words - self.leftover_words
        return round(self.copy.words / self.fill) if self.fill > 0 else 0

    @cached_property
    def drawn(self) -> DrawnWords:
        """Where each word stands."""
        c, s = self.copy, self.copy.segments
        if c.bidi:
            return self._drawn_both_ways()
        which, index, x = k.place_words(
            self.records, self.left, self.space_more, self.tracks, c.pieces, c.piece_words, s.x, s.spaces, s.letters
        )
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


def _space(edges: Floats, starts: NDArray[np.int64], owner: NDArray[np.int64], side: NDArray[np.int64]) -> k.Space:
    """Edges with their index by height: strips of about a line's height."""
    events = np.sort(edges[:, 1])
    top, height = (float(events[0]), float(events[-1] - events[0])) if len(events) else (0.0, 1.0)
    count = max(1, min(200, int(height / 8)))
    ruler = np.array([top, max(height, 1e-6) / count])
    strips, members = k.index_by_height(edges, ruler, count)
    return k.Space(edges, starts, owner, side, events, strips, members, ruler)


def _geometry(padded: Region, wraps: tuple[WrapRegion, ...]) -> tuple[_Geometry, tuple[str, ...]]:
    """Outline and wraps in one set of edges; wraps that cannot touch the frame are left out."""
    left, top, right, bottom = padded.bounds
    edges, starts, owner, side, ids = [padded.edges], [padded.starts], [np.zeros(len(padded.edges), np.int64)], [], []
    for wrap in wraps:
        if wrap.region.empty:
            continue
        a, b, c, d = wrap.region.bounds
        if c <= left or a >= right or d <= top or b >= bottom:
            continue
        ids.append(wrap.object_id)
        edges.append(wrap.region.edges)
        starts.append(wrap.region.starts)
        owner.append(np.full(len(wrap.region.edges), len(ids), np.int64))
        widest = "left" if a - left >= right - c else "right"
        sides = widest if wrap.sides == "widest" else wrap.sides
        side.append({"both": 0, "left": 1, "right": 2}[sides])
    joined = np.ascontiguousarray(np.concatenate(edges))
    space = _space(joined, np.concatenate(starts), np.concatenate(owner), np.array(side, dtype=np.int64))
    geometry = _Geometry(space, (left, top, right, bottom))
    return geometry, tuple(ids)


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
    found = k.slots_in_band(geometry.space, top, bottom, least, out)
    return [(float(a), float(b)) for a, b in out[:found, :2]]


def frame_row(rules: FrameRules, bounds: tuple[float, float, float, float]) -> Floats:
    """A frame's rules as the compiled loops read them (pieces.BY_LINE_BOX …)."""
    named = {"ascender": k.HANG_ASCENDER, "cap": k.HANG_CAP, "ex": k.HANG_EX, "line-box": k.HANG_BOX}
    by_name = isinstance(rules.hang, str)
    stand = {"baseline": k.STAND_BASELINE, "descender": k.STAND_DESCENDER, "line-box": k.STAND_BOX}[rules.stand]
    return np.array(
        [
            1.0 if rules.band == "line-box" else 0.0,
            named[rules.hang] if isinstance(rules.hang, str) else k.HANG_BY_LENGTH,
            0.0 if by_name else float(rules.hang),
            rules.hang_least,
            stand,
            rules.least_slot_pt,
            rules.least_slot_em,
            bounds[1],
            bounds[3],
            bounds[0],
            max(bounds[2], bounds[0] + 1),
            0.0,
        ]
    )


def nest_frame(
    padded: Region,
    box: tuple[float, float, float, float],
    wraps: tuple[WrapRegion, ...],
    copy: ShapedCopy,
    rules: FrameRules,
    shaper: Shaper,
    wrap_lines: bool = True,
) -> FrameNest:
    """Nest copy into a padded outline among wraps.

    `box` (left, top, right, bottom) is where lines past the edge stand when the padding leaves nothing of the outline.
    All in one set of coordinates: the page's, or the frame's own when it is set turned.
    """
    empty = padded.empty
    if empty:
        left, top, right, _ = box
        padded_bounds = (left, top, right, top)
        nothing = np.empty(0, np.int64)
        geometry = _Geometry(_space(np.empty((0, 4)), nothing, nothing, nothing), padded_bounds)
        ids: tuple[str, ...] = ()
    else:
        geometry, ids = _geometry(padded, wraps)
    bounds = geometry.bounds
    frame = frame_row(rules, bounds)
    slots = _scratch()
    broken = False
    if wrap_lines:
        copy, broken = _with_pieces_that_fit(copy, geometry, rules, shaper, slots)
    pieces, paragraphs = copy.pieces, copy.rules
    records = np.empty((min(MOST_RECORDS, 2 * len(pieces) + 64), k.RECORD_COLUMNS))
    ends = np.zeros(5)
    written = next_piece = 0
    start_y, residue, exact = bounds[1], 0.0, True
    if len(pieces) and not empty:
        # What the first line hangs from is at least hang_least above the first baseline.
        least_start = bounds[1]
        if rules.hang_least > 0:
            hang = float(k.hang_height(pieces[0], frame))
            least_start = bounds[1] + max(0.0, rules.hang_least - hang)
        start_y = least_start
        if rules.sit != "top":
            start_y, residue = _solved(geometry.space, pieces, paragraphs, frame, rules, least_start, records, slots)
            exact = abs(residue) <= 0.05
        both = (geometry.space, pieces, paragraphs, frame, 0, start_y, records, slots, ends)
        written, next_piece = k.nest_from(*both)
        if next_piece < len(pieces) and (paragraphs[:, k.BREAKING] == k.OPTIMAL).any():
            # The best breaks leave words over: fewer lines come before better ones, when that holds all.
            frame[k.TIGHT] = 1.0
            if rules.sit != "top":
                start_y, residue = _solved(
                    geometry.space, pieces, paragraphs, frame, rules, least_start, records, slots
                )
                exact = abs(residue) <= 0.05
                both = (*both[:5], start_y, *both[6:])
            written, next_piece = k.nest_from(*both)
            if next_piece < len(pieces):
                frame[k.TIGHT] = 0.0
                start_y, residue, exact = least_start, 0.0, True
                written, next_piece = k.nest_from(*both[:5], start_y, *both[6:])
        start_y = float(ends[0]) if ends[3] else start_y
    lines = int(ends[3])
    if next_piece < len(pieces):
        baseline = float(ends[2]) if lines else bounds[1]
        down = float(pieces[max(next_piece - 1, 0), k.BOX_DOWN])
        written = k.fill_past(
            pieces, paragraphs, frame, next_piece, lines, baseline, down, bounds[0], max(bounds[2], bounds[0] + 1),
            records, written,
        )  # fmt: skip
    kept = records[:written].copy()
    first_x, width, more, tracks, loose = _aligned(kept, pieces, paragraphs)
    return FrameNest(
        copy, kept, first_x, width, more, tracks, loose, next_piece, start_y, residue, exact, lines, padded, ids, geometry,
        rules, broken,
    )  # fmt: skip


def _solved(
    space: k.Space, pieces: Floats, paragraphs: Floats, frame: Floats, rules: FrameRules, top: float,
    records: Floats, slots: Floats,
) -> tuple[float, float]:  # fmt: skip
    """The hang y at which lines sit in the middle or at the bottom, and how far off that is."""
    first, last = pieces[0], pieces[-1]
    high, low = k.usable_height(space, first, last, paragraphs, frame, slots)
    if high >= k.FAR or low <= -k.FAR:
        return top, 0.0
    aim_bottom = rules.sit == "bottom"
    lift = 0.0 if aim_bottom else rules.lift
    both = (space, pieces, paragraphs, frame)
    y = k.solve_sit(*both, aim_bottom, lift, high, low, records, slots)
    if y >= k.FAR:
        return top, 0.0
    off = k.off_middle(*both, y, aim_bottom, lift, high, low, records, slots, np.zeros(5))
    return float(y), float(off)


def _with_pieces_that_fit(
    copy: ShapedCopy, geometry: _Geometry, rules: FrameRules, shaper: Shaper, slots: Floats
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
        if k.surely_fits(space, widest + copy.widest_indent, top + up, bottom - down, up, down, leading, slots):
            return copy, False
        hang = float(k.hang_height(piece, frame_row(rules, geometry.bounds)))
        stand = float(k.stand_depth(piece, frame_row(rules, geometry.bounds)))
        fits = float(k.width_that_always_fits(space, top + up, bottom - down, up, down, leading, slots))
        # A single line may stand with both its ends cut.
        single = top + min(up, hang)
        alone = float(k.widest_in_band(space, top, single + min(down, stand), slots))
        fits = max(fits, alone)
        fits = fits or right - left
    indent = copy.widest_indent
    fits -= indent if indent < fits else 0.0
    if widest <= fits:
        return copy, False
    broken = shaper.broken_to_fit(copy, fits)
    return broken, broken is not copy


def _aligned(
    records: Floats, pieces: Floats, paragraphs: Floats
) -> tuple[Floats, Floats, Floats, Floats, NDArray[np.bool_]]:
    """For each record: where its first letter stands, its natural width, what each word space and letter gains, and
    too loose."""
    n = len(records)
    starts, widths, more, tracks, loose = (
        np.empty(n),
        np.empty(n),
        np.empty(n),
        np.empty(n),
        np.empty(n, dtype=np.bool_),
    )
    k.align_records(records, pieces, paragraphs, starts, widths, more, tracks, loose)
    return starts, widths, more, tracks, loose
