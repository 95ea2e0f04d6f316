"""The breaks of a paragraph that are known while the best are looked for, compiled by Numba: what it runs through,
which lines may still begin after, which are kept of those in one place."""

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
    fitted,
)
from nestline.rows import (
    CHANGE0,
    COST,
    FITNESS,
    FITTED_OF,
    FULL_AT,
    HYPHENS,
    LETTERS0,
    LINE_FROM,
    NEXT_SLOT,
    ONE_OF,
    OVER_AT,
    PIECE,
    SPACE0,
    SPACES_OF,
    SPARE,
    X0,
    X_OF,
)

LEAST_FULL = 2.0
"""Slots of one width make no difference while there are as many as lines would need that are half full."""
NOT_KEPT, NO_ROOM = -1, -2
HYPHEN_CLASSES = 4
"""Breaks are told apart by how many lines in a row before them end in a hyphen; three and more are one."""


class Course(NamedTuple):
    """The slots that a paragraph runs through: the width of each and its band (one more than there are), the first that
    is used, how many there are, and the one that may not be reached. Before `end`, those from `uniform` on are of one
    width and make no difference while there are plenty: `lines_for` lines are needed for a point of copy."""

    rooms: NDArray[np.float64]
    bands: NDArray[np.int64]
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
    """The breaks that lines may still begin after, in order, each with its OVER_AT, and with the least FULL_AT of it
    and those after it (or less): from there on lines are too loose as yet."""

    which: NDArray[np.int64]
    over: NDArray[np.float64]
    full: NDArray[np.float64]


class Dearest(NamedTuple):
    """For each slot and number of hyphens in a row the breaks made last for each fitness, the least cost to reach it,
    and the piece that this is for."""

    made: NDArray[np.int64]
    least: NDArray[np.float64]
    least_at: NDArray[np.int64]


@inlined
def hyphen_class(in_a_row):
    return min(in_a_row, HYPHEN_CLASSES - 1)


@inlined
def may_win(dearest, one, p, in_a_row, total, far):
    """Whether a way to a slot may be better than those known: none that ends in as few hyphens in a row, or fewer,
    costs less even where the next line fits it worst (`far`). Notes what it costs."""
    least, least_at, of = dearest.least, dearest.least_at, hyphen_class(in_a_row)
    for c in range(of + 1):
        if least_at[one, c] == p and total > least[one, c] + far:
            return False
    if least_at[one, of] != p or total < least[one, of]:
        least_at[one, of], least[one, of] = p, total
    return True


@inlined
def least_of(dearest, one, in_a_row):
    return dearest.least[one, hyphen_class(in_a_row)]


@njit(cache=True)
def course_of(paragraph, slots, weights, width, opening, most):
    """The Course of a paragraph whose first piece is so wide; begin = count where no slot holds that.

    Where slots grow, as in the tip of an outline, it begins in one that holds its `opening`, if there is any.
    """
    begin, count = 0, slots.total
    while begin < count and width > slot_room(paragraph.rule, slots, begin, paragraph.starts) + EPSILON:
        begin += 1
    lower, room = begin, -1.0
    while lower < min(count, slots.past_from):
        before, room = room, slot_room(paragraph.rule, slots, lower, paragraph.starts) + EPSILON
        if room >= opening:
            begin = lower
            break
        if room <= before:
            break
        lower += 1
    rooms = np.empty(count + 1)
    for s in range(count):
        rooms[s] = slot_room(paragraph.rule, slots, s, paragraph.starts and s == begin) + EPSILON
    bands = np.full(count + 1, np.iinfo(np.int64).max)
    for s in range(count):
        bands[s] = slots.bands[s]
    return course_over(rooms, bands, begin, weights, most)


@njit(cache=True)
def course_over(rooms, bands, begin, weights, most):
    """The Course over slots of some widths in some bands, no more than `most` of them used."""
    count = len(rooms) - 1
    end, uniform, lines_for = min(count, weights.past_from), count, 0.0
    if weights.target < 0 and end > begin and rooms[end - 1] > 0:
        uniform, lines_for = end, LEAST_FULL / rooms[end - 1]
        while uniform > begin and rooms[uniform - 1] == rooms[end - 1] and bands[uniform - 1] != bands[uniform]:
            uniform -= 1
    return Course(rooms, bands, begin, count, begin + most, uniform, end, lines_for)


@inlined
def next_slot_for(pieces, rooms, piece, slot, count):
    """The first slot from `slot` on that holds a piece; `count` when none does."""
    width = piece_width(pieces, piece, piece)
    while slot < count and width > rooms[slot]:
        slot += 1
    return slot


@inlined
def goes_across(pieces, course, p, hyphen, slot):
    """Whether a word that a line breaks after piece p goes on in the same band, behind a gap."""
    if hyphen <= 0 or course.bands[slot] != course.bands[slot + 1]:
        return False
    return course.bands[next_slot_for(pieces, course.rooms, p + 1, slot + 1, course.total)] == course.bands[slot]


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
    lent = fitted(weights, pieces[p, LETTERS0] + 1, x)
    figures[m, X_OF], figures[m, SPACES_OF], figures[m, FITTED_OF] = x, before, lent
    figures[m, FULL_AT] = room - FILLED * weights.size + x + lowest * weights.give * before + lent
    if places[m, SPARE] > 0 or room < weights.narrow:
        figures[m, FULL_AT] = -np.inf
    figures[m, OVER_AT] = room + x - weights.shrink * before - lent


@inlined
def make_break(figures, made, one, fit, in_a_row, total, nodes, made_from):
    """Where a break that costs so much is kept: in place of a dearer one of the same slot, fitness and hyphens;
    NOT_KEPT where that is cheaper, NO_ROOM where no more are held."""
    place = fit * HYPHEN_CLASSES + hyphen_class(in_a_row)
    found = made[one, place]
    if found < made_from:
        found = -1
    elif figures[found, COST] <= total:
        return NOT_KEPT
    if found < 0:
        if nodes >= len(figures):
            return NO_ROOM
        found = nodes
    made[one, place] = found
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
def note_break(places, m, piece, next_slot, fit, hyphens, line_from, spare, one):
    """Write down where a break is."""
    places[m, PIECE], places[m, NEXT_SLOT], places[m, FITNESS] = piece, next_slot, fit
    places[m, HYPHENS], places[m, LINE_FROM], places[m, ONE_OF] = hyphens, line_from, one
    places[m, SPARE] = 1 if spare else 0
