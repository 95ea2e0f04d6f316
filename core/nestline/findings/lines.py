"""What a typesetter would mark in the lines of a run of copy."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from nestline import rows as k
from nestline.findings.finding import Box
from nestline.findings.words import on_page
from nestline.nesting.placed import PlacedNest
from nestline.nesting.quality import rivers

LEAST_LINES = 4
"""Fewer lines of a paragraph say nothing of its measure."""
MEASURES = {"one": (45.0, 75.0), "columns": (40.0, 50.0)}
"""Letters in a line that are easy to read, in one column and in several (common practice)."""
MEASURE_SLACK = 0.2
"""How far a measure may be off before it is told, as a share of its end."""


@dataclass(frozen=True)
class Marked:
    """Something marked in a nest: its kind and figure, the copy it speaks of, and where that is."""

    kind: str
    placed: PlacedNest
    figure: float
    range: tuple[int, int]
    marks: tuple[Box, ...]


def line_box(placed: PlacedNest, record: int) -> Box:
    """A line, from where it begins to where it ends, on its page."""
    nest, row = placed.nest, placed.nest.records[record]
    return box_of(placed, float(nest.left[record]), float(row[k.TOP]), float(nest.right[record]), float(row[k.BOTTOM]))


def box_of(placed: PlacedNest, left: float, top: float, right: float, bottom: float) -> Box:
    corners = [on_page(placed, (x, y)) for x in (left, right) for y in (top, bottom)]
    across, down = zip(*corners, strict=True)
    return min(across), min(down), max(across), max(down)


def marked(placed: PlacedNest) -> Iterator[Marked]:
    """What is found in the lines of one frame, lines past its edge aside."""
    nest = placed.nest
    rows, pieces, rules = nest.records, nest.copy.pieces, nest.copy.rules

    def one(kind: str, figure: float, records: Sequence[int], marks: tuple[Box, ...] | None = None) -> Marked:
        boxes = tuple(line_box(placed, r) for r in records) if marks is None else marks
        return Marked(
            kind,
            placed,
            figure,
            (int(nest.ranges[records[0], k.RANGE_START]), int(nest.ranges[records[-1], k.RANGE_END])),
            boxes,
        )

    in_a_row: list[int] = []
    for record, row in enumerate(rows):
        if row[k.PAST]:
            break
        rule = rules[nest.paragraph_of(record)]
        first, last = int(row[k.FIRST]), int(row[k.LAST])
        ends, gaps = pieces[last, k.FORCED] > 0, pieces[last, k.SPACE1] - pieces[first, k.SPACE0]
        after = record + 1 < len(rows) and not rows[record + 1, k.PAST]
        free = float(row[k.RIGHT] - row[k.LEFT]) - float(nest.right[record] - nest.left[record])
        if rule[k.ALIGN] == k.JUSTIFY and not ends:
            if gaps and nest.loose[record]:
                yield one("unfilled", 1, [record])
            elif not gaps and free > float(rule[k.SIZE]):
                yield one("lone-slot", 1, [record])
            elif gaps:
                more = float(nest.space_more[record] / rule[k.SPACE_WIDTH])
                yield one("loose", round(more, 3), [record])
        if ends and not gaps and not row[k.PARAGRAPH_START] and _lines_of(placed, record) > 1:
            yield one("last-word", 1, [record])
        if nest.hyphens[record] and after and rows[record + 1, k.LINE] == row[k.LINE]:
            yield one("across", 1, [record])
        in_a_row = [*in_a_row, record] if nest.hyphens[record] else []
        if len(in_a_row) > 1 and not (after and nest.hyphens[record + 1]):
            yield one("ladder", len(in_a_row), in_a_row)
    for river in rivers(nest):
        lines = [gap.record for gap in river]
        boxes = tuple(
            box_of(placed, gap.left, float(rows[gap.record, k.TOP]), gap.right, float(rows[gap.record, k.BOTTOM]))
            for gap in river
        )
        yield one("river", len(river), lines, boxes)
    yield from _measures(placed)


def _lines_of(placed: PlacedNest, record: int) -> int:
    """How many records the paragraph of a line has in its frame."""
    nest = placed.nest
    number = nest.paragraph_of(record)
    return sum(nest.paragraph_of(r) == number for r in range(max(0, record - 3), record + 1))


def _measures(placed: PlacedNest) -> Iterator[Marked]:
    """Body copy whose full lines hold too few letters or too many, as their median says."""
    nest = placed.nest
    full: list[int] = []
    for record, row in enumerate(nest.records):
        rule = nest.copy.rules[nest.paragraph_of(record)]
        if row[k.PAST]:
            break
        if not nest.copy.pieces[int(row[k.LAST]), k.FORCED] and rule[k.ALIGN] != k.CENTER:
            full.append(record)
    if len(full) < LEAST_LINES:
        return
    letters = float(np.median([nest.ranges[r, k.RANGE_END] - nest.ranges[r, k.RANGE_START] for r in full]))
    columns = len({int(nest.records[r, k.COLUMN]) for r in full})
    least, greatest = MEASURES["one" if columns == 1 else "columns"]
    if not least * (1 - MEASURE_SLACK) <= letters <= greatest * (1 + MEASURE_SLACK):
        start, end = int(nest.ranges[full[0], k.RANGE_START]), int(nest.ranges[full[0], k.RANGE_END])
        yield Marked("measure", placed, letters, (start, end), (line_box(placed, full[0]),))


def parted(run: Sequence[PlacedNest]) -> Iterator[Marked]:
    """Lines of a run of copy (its frames in order) that stand alone where a column ends or begins."""
    parts: dict[int, list[tuple[PlacedNest, list[int]]]] = {}
    before: tuple[int, int] | None = None
    for number, placed in enumerate(run):
        for record, row in enumerate(placed.nest.records):
            if row[k.PAST]:
                break
            column = (number, int(row[k.COLUMN]))
            lines = parts.setdefault(placed.nest.paragraph_of(record), [])
            if column != before or not lines:
                lines.append((placed, []))
            before = column
            lines[-1][1].append(record)
    for lines in parts.values():
        if len(lines) < 2:
            continue
        for kind, (placed, records) in (("orphan", lines[0]), ("widow", lines[-1])):
            count = len({int(placed.nest.records[r, k.LINE]) for r in records})
            start, end = (
                int(placed.nest.ranges[records[0], k.RANGE_START]),
                int(placed.nest.ranges[records[-1], k.RANGE_END]),
            )
            yield Marked(kind, placed, count, (start, end), tuple(line_box(placed, r) for r in records[:1]))
