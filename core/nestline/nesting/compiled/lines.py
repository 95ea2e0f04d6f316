"""A line: where it stands, and how it is written down. Compiled by Numba."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nestline.nesting.compiled.borrowing import borrowed
from nestline.nesting.compiled.inlining import inlined
from nestline.nesting.compiled.pieces import band_reach, hang_height, step_down
from nestline.rows import (
    BASELINE,
    BOTTOM,
    BY_HANG,
    BY_LEADING,
    CAP_X,
    FIRST,
    LAST,
    LEFT,
    LEFT_CAUSE,
    LINE,
    PARAGRAPH_START,
    PAST,
    RIGHT,
    RIGHT_CAUSE,
    SLOT_LEFT,
    SLOT_LEFT_CAUSE,
    SLOT_RIGHT,
    SLOT_RIGHT_CAUSE,
    TOP,
    WHY,
)


class Rows(NamedTuple):
    """Copy as the loops read it: a row a piece, a row a paragraph (nestline.rows)."""

    pieces: NDArray[np.float64]
    rules: NDArray[np.float64]


class Written(NamedTuple):
    """Where a nest is written: its records and what it says of itself (rows.END_…); and what is reckoned in on the way:
    the slots of one band, and rows with where a drop cap stands, the heights of a line, and those it had before."""

    records: NDArray[np.float64]
    ends: NDArray[np.float64]
    slots: NDArray[np.float64]
    reckoned: NDArray[np.float64]


class Column(NamedTuple):
    """Where a column begins: the y that its first line's hang metric is to have, and the number of that line."""

    hang_y: float
    first_line: int


class Reached(NamedTuple):
    """How far copy has come in a column: the next piece, record and line, the last baseline and what its line asks of
    the step down, whether the last band was cut to the stand metric, so that no line follows, and how many lines after
    the first stand where geometry put them."""

    at: int
    written: int
    line: int
    baseline: float
    reach: float
    cut: bool
    by_geometry: int


class Line(NamedTuple):
    """A line about to be set: its number, its baseline and band, why it stands there, and whether that is past the
    edge."""

    number: int
    baseline: float
    top: float
    bottom: float
    why: float
    past: float


class Above(NamedTuple):
    """What stands above a line: the last baseline (`y`), what its line asks of the step down (`reach`), and the room
    between their paragraphs. Above the `first` line nothing stands: `y` is where its hang metric is to be."""

    y: float
    reach: float
    gap: float
    first: bool


@inlined
def above_of(column, reached, gap):
    """What stands above the next line of a column."""
    if reached.line == column.first_line:
        return Above(column.hang_y, 0.0, 0.0, True)
    return Above(reached.baseline, reached.reach, gap, False)


@inlined
def first_baseline(above, rule, tall, frame):
    """The least baseline of a line of such pieces under what stands above it, how far its band reaches above that, and
    why it is there. The one place that says where a line's baseline begins to be looked for."""
    up, _ = band_reach(tall, frame)
    if above.first:
        hang = hang_height(tall, frame)
        return above.y + hang, min(up, hang), float(BY_HANG)
    return above.y + above.gap + step_down(rule, tall, frame, above.reach), up, float(BY_LEADING)


@inlined
def write_record(records, written, line, first, last, slots, s, starts, cap_x):
    """Write down that pieces first…last stand in a slot of a line; `starts` where they begin their paragraph. Returns
    the place of the next record; nothing is written where there is no room for it."""
    if written >= len(records):
        return written
    records[written, LINE], records[written, FIRST], records[written, LAST] = line.number, first, last
    records[written, BASELINE], records[written, TOP], records[written, BOTTOM] = line.baseline, line.top, line.bottom
    records[written, LEFT], records[written, RIGHT] = slots[s, SLOT_LEFT], slots[s, SLOT_RIGHT]
    records[written, LEFT_CAUSE], records[written, RIGHT_CAUSE] = slots[s, SLOT_LEFT_CAUSE], slots[s, SLOT_RIGHT_CAUSE]
    records[written, PARAGRAPH_START] = 1.0 if starts else 0.0
    records[written, PAST], records[written, WHY] = line.past, line.why
    records[written, CAP_X] = cap_x
    return written + 1


@njit(cache=True)
def line_begin(records, written, begin):
    """The first record of the last line written."""
    first = written - 1
    while first > begin and records[first - 1, LINE] == records[written - 1, LINE]:
        first -= 1
    return first


@njit(cache=True)
def borrowed_rows(copy):
    return Rows(borrowed(copy.pieces), borrowed(copy.rules))


@njit(cache=True)
def borrowed_written(out):
    return Written(borrowed(out.records), borrowed(out.ends), borrowed(out.slots), borrowed(out.reckoned))
