"""How well justified lines are filled: how far word spaces stretch, hyphens, rivers."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nestline import rows as k
from nestline.nesting.frame_nest import FrameNest

RIVER_LINES = 3
"""A river is gaps of at least so many lines following one another, each within half an em of the one above. A gap counts
from the font's own word space on: closed-up lines show none."""


@dataclass(frozen=True)
class Quality:
    """Figures of a nest's justified lines. `stretches` has for each how much its word spaces grew (or shrank), as a
    share of the font's own; one that is set natural counts with what it would have needed. `single` counts the lines
    of one word that leave room open: they have no space to stretch."""

    stretches: tuple[float, ...]
    single: int
    hyphens: int
    rivers: int

    @property
    def mean(self) -> float:
        return float(np.mean(np.abs(self.stretches))) if self.stretches else 0.0

    @property
    def worst(self) -> float:
        return float(np.max(np.abs(self.stretches))) if self.stretches else 0.0


def quality_of(nest: FrameNest) -> Quality:
    """The figures of a nest; last lines of paragraphs and lines past the edge do not count."""
    copy = nest.copy
    stretches: list[float] = []
    single = 0
    gaps: list[tuple[float, list[float]]] = []
    for record, row in enumerate(nest.records):
        if row[k.PAST]:
            continue
        first, last = int(row[k.FIRST]), int(row[k.LAST])
        rule = copy.rules[int(copy.pieces[first, k.PARAGRAPH])]
        count = float(copy.pieces[last, k.SPACE1] - copy.pieces[first, k.SPACE0])
        gaps.append((float(row[k.BASELINE]), _gaps(nest, record)))
        if copy.pieces[last, k.FORCED] or rule[k.ALIGN] != k.JUSTIFY:
            continue
        indent = rule[k.INDENT] + (rule[k.FIRST_INDENT] if row[k.PARAGRAPH_START] else 0.0)
        room = float(row[k.RIGHT] - row[k.LEFT]) - indent
        free = room - float(nest.width[record])
        if count:
            stretches.append(free / (count * rule[k.SPACE_WIDTH]))
        else:
            single += free > 0.01 * rule[k.SIZE]
    return Quality(tuple(stretches), single, int(nest.hyphens[~nest.past].sum()), _rivers(gaps, copy.size))


@dataclass(frozen=True)
class Faults:
    """What a typesetter would mark on a nest, counted: justified lines that are left unfilled, hyphens across a gap in the
    band, hyphens in a row past two, last words that stand alone; and of how many lines and paragraphs. `stretch` is the
    mean of how much the spaces of filled justified lines grew or shrank, as drawn, as a share of the font's own."""

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


def _gaps(nest: FrameNest, record: int) -> list[float]:
    """The middles of the gaps between a record's words."""
    drawn, segments = nest.drawn, nest.copy.segments
    at = np.flatnonzero(drawn.record == record)
    start, end = (int(v) for v in nest.ranges[record])
    out = []
    for a, b in zip(at, at[1:], strict=False):
        s = int(drawn.segment[a])
        right = float(drawn.x[a]) + nest.width_of(
            record, max(start, int(segments.start[s])), min(end, int(segments.end[s]))
        )
        own = float(
            nest.copy.rules[int(nest.copy.pieces[int(nest.records[record, k.FIRST]), k.PARAGRAPH]), k.SPACE_WIDTH]
        )
        if float(drawn.x[b]) >= right + own - 0.01:
            out.append((right + float(drawn.x[b])) / 2)
    return out


def _rivers(gaps: list[tuple[float, list[float]]], size: float) -> int:
    rows: dict[float, list[float]] = {}
    for baseline, places in gaps:
        rows.setdefault(round(baseline, 3), []).extend(places)
    count = 0
    running: list[tuple[float, int]] = []
    for baseline in sorted(rows):
        following = []
        for place in rows[baseline]:
            above = [n for x, n in running if abs(x - place) <= size / 2]
            length = max(above, default=0) + 1
            if length == RIVER_LINES:
                count += 1
            following.append((place, length))
        running = following
    return count
