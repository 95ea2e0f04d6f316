"""The breaks of a paragraph that are known while the best are looked for, compiled by Numba: what it runs through, which
lines may still begin after, which are kept of those in one place."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nestline.nesting.compiled.first_fit import OUT_OF_SLOTS, slot_room
from nestline.nesting.compiled.inlining import inlined
from nestline.nesting.compiled.pieces import piece_width
from nestline.nesting.compiled.space import EPSILON
from nestline.nesting.compiled.weights import (
    FILLED,
)  # fmt: skip
from nestline.rows import (
    CHANGE0,
    COST,
    FITNESS,
    FORCED,
    FULL_AT,
    GRADE,
    HYPHENS,
    LINE_FROM,
    NEXT_SLOT,
    ONE_OF,
    OVER_AT,
    PIECE,
    SPACE0,
    SPACE1,
    SPACES_OF,
    X0,
    X1,
    X_OF,
)  # fmt: skip

SLOWLY = 3
"""Lines after a place that needed more tolerance, before it falls back by one step."""
MOST_KEPT = 4
"""Where nearly every break is feasible only so many, the best, are followed on in a place."""
LEAST_FULL = 2.0
"""Slots of one width make no difference while there are as many as lines would need that are half full."""
NOT_KEPT, NO_ROOM = -1, -2


class Course(NamedTuple):
    """The slots that a paragraph runs through: the width of each (one more than there are), the first that is used, how many
    there are, and the one that may not be reached. Before `end`, those from `uniform` on are of one width and make no
    difference while there are plenty: `lines_for` lines are needed for a point of copy."""

    rooms: NDArray[np.float64]
    begin: int
    total: int
    most: int
    uniform: int
    end: int
    lines_for: float


class Known(NamedTuple):
    """The breaks that are known (nestline.rows: figures and places)."""

    figures: NDArray[np.float64]
    places: NDArray[np.int64]


class Active(NamedTuple):
    """The breaks that lines may still begin after, in order, each with its OVER_AT, and with the least FULL_AT of it and
    those after it (or less): from there on lines are too loose as yet."""

    which: NDArray[np.int64]
    over: NDArray[np.float64]
    full: NDArray[np.float64]


class Dearest(NamedTuple):
    """For each slot the breaks made last for each fitness, the least cost to reach it, and the piece that this is for."""

    made: NDArray[np.int64]
    least: NDArray[np.float64]
    least_at: NDArray[np.int64]


@njit(cache=True)
def course_of(paragraph, slots, weights, width, most):
    """The Course of a paragraph whose first piece is so wide; begin = count where no slot holds that."""
    begin, count = 0, slots.total
    while begin < count and width > slot_room(paragraph.rule, slots, begin, paragraph.starts) + EPSILON:
        begin += 1
    rooms = np.empty(count + 1)
    for s in range(count):
        rooms[s] = slot_room(paragraph.rule, slots, s, paragraph.starts and s == begin) + EPSILON
    return course_over(rooms, begin, weights, most)


@njit(cache=True)
def course_over(rooms, begin, weights, most):
    """The Course over slots of some widths, no more than `most` of them used."""
    count = len(rooms) - 1
    end, uniform, lines_for = min(count, weights.past_from), count, 0.0
    if weights.target < 0 and end > begin and rooms[end - 1] > 0:
        uniform, lines_for = end, LEAST_FULL / rooms[end - 1]
        while uniform > begin and rooms[uniform - 1] == rooms[end - 1]:
            uniform -= 1
    return Course(rooms, begin, count, begin + most, uniform, end, lines_for)


@inlined
def next_slot_for(pieces, rooms, piece, slot, count):
    """The first slot from `slot` on that holds a piece; `count` when none does."""
    width = piece_width(pieces, piece, piece)
    while slot < count and width > rooms[slot]:
        slot += 1
    return slot


@inlined
def add_active(m, figures, which, over, full, head, tail):
    """Put a break behind the active ones. Returns where they end now."""
    which[tail], over[tail], full[tail] = m, figures[m, OVER_AT], figures[m, FULL_AT]
    i = tail - 1
    while i >= head and full[i] > full[tail]:
        full[i] = full[tail]
        i -= 1
    return tail + 1


@inlined
def measure(m, p, pieces, weights, rooms, lowest, figures, places):
    """Work out how far letters must reach, and may, for a line from a break before piece p to be full."""
    room = rooms[places[m, NEXT_SLOT]]
    x, before = pieces[p, X0] - pieces[p, CHANGE0], pieces[p, SPACE0]
    figures[m, X_OF], figures[m, SPACES_OF] = x, before
    figures[m, FULL_AT] = room - FILLED * weights.size + x + lowest * weights.give * before
    if places[m, GRADE] > 0:
        figures[m, FULL_AT] = -np.inf
    figures[m, OVER_AT] = room + x - weights.shrink * before


@inlined
def make_break(figures, places, made, one, fit, total, nodes, made_from, few):
    """Where a break that costs so much is kept: in place of a dearer one of the same slot and fitness, or, where there may be
    but `few` in a place, of the dearest; NOT_KEPT where those are cheaper, NO_ROOM where no more are held."""
    found = made[one, fit]
    if found < made_from:
        found = -1
    elif figures[found, COST] <= total:
        return NOT_KEPT
    if found < 0 and few and nodes - made_from >= MOST_KEPT:
        worst = made_from
        for m in range(made_from + 1, nodes):
            if figures[m, COST] > figures[worst, COST]:
                worst = m
        if figures[worst, COST] <= total:
            return NOT_KEPT
        made[places[worst, ONE_OF], places[worst, FITNESS]] = -1
        found = worst
    if found < 0:
        if nodes >= len(figures):
            return NO_ROOM
        found = nodes
    made[one, fit] = found
    figures[found, COST] = total
    return found


@inlined
def close_up(figures, which, over, full, head, looked, tail):
    """Move the active breaks that are still of use up to those not looked at. Returns where they begin now."""
    kept = looked
    for i in range(looked - 1, head - 1, -1):
        a = which[i]
        if a >= 0:
            kept -= 1
            which[kept], over[kept], full[kept] = a, over[i], figures[a, FULL_AT]
            if kept + 1 < tail and full[kept + 1] < full[kept]:
                full[kept] = full[kept + 1]
    return kept


@njit(cache=True)
def earliest_again(known, active, begin, end, stop, level):
    """The piece from which lines are chosen again with more tolerance: as many lines before those that could be begun as the
    level asks for."""
    earliest, which, places = stop, active.which, known.places
    for i in range(begin, end):
        m = which[i] if which[i] >= 0 else -1 - which[i]
        for _ in range(3 * level + 3):
            if places[m, LINE_FROM] >= 0:
                m = places[m, LINE_FROM]
        earliest = min(earliest, places[m, PIECE])
    return earliest


@njit(cache=True)
def reactivate(pieces, weights, known, active, nodes, earliest):
    """Of the breaks up to a piece, make those active that a line to it or beyond may begin after. Returns how many."""
    figures, places, which, over, full = known.figures, known.places, active.which, active.over, active.full
    tail = 0
    reached = pieces[earliest - 1, X1] - pieces[earliest - 1, SPACE1] * weights.shrink
    for m in range(nodes):
        i = places[m, PIECE]
        if i == earliest or reached <= figures[m, OVER_AT]:
            closed = False
            for q in range(i, earliest):
                closed = closed or pieces[q, FORCED] > 0
            if not closed:
                tail = add_active(m, figures, which, over, full, 0, tail)
    return tail


@njit(cache=True)
def lines_back(known, end, chosen):
    """Write down the lines that lead to a break. Returns how many, or OUT_OF_SLOTS where there is no room for them."""
    places = known.places
    lines, m = 0, end
    while places[m, LINE_FROM] >= 0:
        lines += 1
        m = places[m, LINE_FROM]
    if lines > len(chosen.first):
        return OUT_OF_SLOTS
    m, line = end, lines - 1
    while places[m, LINE_FROM] >= 0:
        a = places[m, LINE_FROM]
        chosen.first[line], chosen.last[line] = places[a, PIECE], places[m, PIECE] - 1
        chosen.slot[line] = places[a, NEXT_SLOT]
        m = a
        line -= 1
    return lines


@njit(cache=True)
def cheapest(known, begin, end):
    """The break that costs least of some; the first of equals, −1 of none."""
    best, figures = -1, known.figures
    for m in range(begin, end):
        if best < 0 or figures[m, COST] < figures[best, COST]:
            best = m
    return best


@inlined
def note_break(places, m, piece, next_slot, fit, hyphens, line_from, level, one):
    """Write down where a break is."""
    places[m, PIECE], places[m, NEXT_SLOT], places[m, FITNESS] = piece, next_slot, fit
    places[m, HYPHENS], places[m, LINE_FROM], places[m, ONE_OF] = hyphens, line_from, one
    places[m, GRADE] = max(level * SLOWLY, places[line_from, GRADE] - 1) if line_from >= 0 else 0
