"""How well justified lines are filled: how far word spaces stretch, hyphens, rivers."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.nesting.frame_nest import FrameNest

RIVER_LINES, RIVER_GAP, RIVER_OVERLAP = 3, 1.5, 0.5
"""A river is gaps of at least so many lines below one another, each at least so wide, and each above the next over at
least so much, in word spaces of the font: closed-up lines show none. The one definition for what is measured, said and
found."""


@dataclass(frozen=True)
class Quality:
    """Figures of a nest's justified lines. `stretches` has for each how much its word spaces would grow (or shrink) for
    it to fill its slot by them alone, as a share of the font's own, `drawn` how much they did; one that is set natural
    counts with what it would have needed. `single` counts the lines of one word that leave room open: they have no
    space to stretch."""

    stretches: tuple[float, ...]
    drawn: tuple[float, ...]
    single: int
    hyphens: int
    rivers: int

    @property
    def mean(self) -> float:
        return float(np.mean(np.abs(self.stretches))) if self.stretches else 0.0

    @property
    def worst(self) -> float:
        return float(np.max(np.abs(self.stretches))) if self.stretches else 0.0

    @property
    def mean_drawn(self) -> float:
        return float(np.mean(np.abs(self.drawn))) if self.drawn else 0.0

    @property
    def worst_drawn(self) -> float:
        return float(np.max(np.abs(self.drawn))) if self.drawn else 0.0


def quality_of(nest: FrameNest) -> Quality:
    """The figures of a nest; last lines of paragraphs and lines past the edge do not count."""
    copy = nest.copy
    stretches: list[float] = []
    single = 0
    drawn: list[float] = []
    for record, row in enumerate(nest.records):
        if row[k.PAST]:
            continue
        first, last = int(row[k.FIRST]), int(row[k.LAST])
        rule = copy.rules[int(copy.pieces[first, k.PARAGRAPH])]
        count = float(copy.pieces[last, k.SPACE1] - copy.pieces[first, k.SPACE0])
        if copy.pieces[last, k.FORCED] or rule[k.ALIGN] != k.JUSTIFY:
            continue
        indent = rule[k.INDENT] + (rule[k.FIRST_INDENT] if row[k.PARAGRAPH_START] else 0.0)
        room = float(row[k.RIGHT] - row[k.LEFT]) - indent
        free = room - float(nest.width[record])
        if count:
            stretches.append(free / (count * rule[k.SPACE_WIDTH]))
            more = stretches[-1] if nest.loose[record] else float(nest.space_more[record] / rule[k.SPACE_WIDTH])
            drawn.append(more)
        else:
            single += free > 0.01 * rule[k.SIZE]
    hyphens = int(nest.hyphens[~nest.past].sum())
    return Quality(tuple(stretches), tuple(drawn), single, hyphens, len(rivers(nest)))


@dataclass(frozen=True)
class Faults:
    """What a typesetter would mark on a nest, counted: justified lines that are left unfilled, hyphens across a gap in
    the band, hyphens in a row past two, last words that stand alone; and of how many lines and paragraphs. `stretch` is
    the mean of how much the spaces of filled justified lines grew or shrank, as drawn, as a share of the font's own."""

    lines: int = 0
    paragraphs: int = 0
    unfilled: int = 0
    across: int = 0
    ladders: int = 0
    alone: int = 0
    hyphens: int = 0
    stretch: float = 0.0
    worst: float = 0.0


def faults_of(nest: FrameNest) -> Faults:
    """The faults of a nest; lines past the edge do not count."""
    pieces, rules, rows = nest.copy.pieces, nest.copy.rules, nest.records
    found = dict.fromkeys(("lines", "paragraphs", "unfilled", "across", "ladders", "alone", "hyphens"), 0)
    stretches: list[float] = []
    in_a_row = 0
    for record, row in enumerate(rows):
        if row[k.PAST]:
            break
        first, last = int(row[k.FIRST]), int(row[k.LAST])
        rule = rules[int(pieces[first, k.PARAGRAPH])]
        forced, hyphen = pieces[last, k.FORCED] > 0, pieces[last, k.HYPHEN] == k.SET_HYPHEN
        gaps = pieces[last, k.SPACE1] - pieces[first, k.SPACE0]
        after = record + 1 < len(rows) and not rows[record + 1, k.PAST]
        found["lines"] += 1
        found["hyphens"] += int(hyphen)
        found["across"] += int(hyphen and after and rows[record + 1, k.LINE] == row[k.LINE])
        in_a_row = in_a_row + 1 if hyphen else 0
        found["ladders"] += int(in_a_row == 3)
        if forced:
            found["paragraphs"] += 1
            found["alone"] += int(gaps == 0 and not row[k.PARAGRAPH_START])
        elif rule[k.ALIGN] == k.JUSTIFY:
            found["unfilled"] += int(nest.loose[record])
            if gaps and not nest.loose[record]:
                stretches.append(abs(float(nest.space_more[record])) / float(rule[k.SPACE_WIDTH]))
    mean = float(np.mean(stretches)) if stretches else 0.0
    return Faults(**found, stretch=mean, worst=max(stretches, default=0.0))


@dataclass(frozen=True)
class Gap:
    """The room between two words of a record: left and right, in points."""

    record: int
    left: float
    right: float


def wide_gaps(nest: FrameNest) -> list[Gap]:
    """The gaps between words that are wide enough to be part of a river, in the order of their records. Where a tab
    leads is no gap: columns are meant to stand below one another."""
    drawn, c, s = nest.drawn, nest.copy, nest.copy.segments
    if len(drawn.x) < 2:
        return []
    order = np.lexsort((drawn.x, drawn.record))
    record, x, segment = drawn.record[order], drawn.x[order], drawn.segment[order]
    start = np.maximum(s.start[segment], nest.ranges[record, k.RANGE_START])
    end = np.minimum(s.end[segment], nest.ranges[record, k.RANGE_END])
    letters = np.maximum(c.letters[end] - c.letters[start] - 1, 0)
    right = x + (c.x[end] - c.x[start]) * nest.factors[record] + letters * nest.tracks[record]
    space = _spaces_of(nest)[record]
    wide = (
        ~c.tabs_between(end[:-1], start[1:])
        & (record[1:] == record[:-1])
        & (x[1:] - right[:-1] >= RIVER_GAP * space[:-1] - 1e-9)
        & (space[:-1] > 0)
    )
    return [
        Gap(int(r), float(a), float(b))
        for r, a, b in zip(record[:-1][wide], right[:-1][wide], x[1:][wide], strict=True)
        if not nest.past[r]
    ]


def _spaces_of(nest: FrameNest) -> NDArray[np.float64]:
    """The font's own word space in each record."""
    paragraphs = nest.copy.pieces[nest.records[:, k.FIRST].astype(np.int64), k.PARAGRAPH].astype(np.int64)
    spaces: NDArray[np.float64] = nest.copy.rules[paragraphs, k.SPACE_WIDTH]
    return spaces


def rivers(nest: FrameNest) -> list[list[Gap]]:
    """The rivers in a nest, each from its highest gap down."""
    gaps = wide_gaps(nest)
    if len(gaps) < RIVER_LINES:
        return []
    space = _spaces_of(nest)
    lines: dict[tuple[int, int], list[list[Gap]]] = {}
    done: list[list[Gap]] = []
    for gap in gaps:
        row = nest.records[gap.record]
        column, line = int(row[k.COLUMN]), int(row[k.LINE])
        over = RIVER_OVERLAP * float(space[gap.record]) - 1e-9
        above = [
            way
            for way in lines.get((column, line - 1), [])
            if min(way[-1].right, gap.right) - max(way[-1].left, gap.left) >= over
        ]
        way = [*max(above, key=len, default=[]), gap]
        lines.setdefault((column, line), []).append(way)
        if len(way) >= RIVER_LINES:
            # It takes the place of what it goes on from, unless another has.
            done = [other for other in done if other is not max(above, key=len)]
            done.append(way)
    return done


def evenness(nest: FrameNest) -> float:
    """How much word spaces differ from line to line: the standard deviation of those of filled justified lines, as a
    share of the font's own."""
    rows, rules = nest.records, nest.copy.rules
    if not len(rows):
        return 0.0
    paragraphs = nest.copy.pieces[rows[:, k.FIRST].astype(np.int64), k.PARAGRAPH].astype(np.int64)
    ends = nest.copy.pieces[rows[:, k.LAST].astype(np.int64), k.FORCED] > 0
    rule = np.where(ends, rules[paragraphs, k.ALIGN_LAST], k.JUSTIFY)
    filled = (rules[paragraphs, k.ALIGN] == k.JUSTIFY) & (rule == k.JUSTIFY) & ~nest.loose & ~nest.past
    more = nest.space_more[filled] / np.maximum(rules[paragraphs[filled], k.SPACE_WIDTH], 1e-9)
    return float(np.std(more)) if len(more) > 1 else 0.0
