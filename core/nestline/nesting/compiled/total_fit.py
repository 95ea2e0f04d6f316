"""Total fit, compiled by Numba: the best breaks of a paragraph over the real sequence of its slots.

The paragraph runs through slots of different widths, so that breaks in the same place are told apart by the slot that comes
next. Breaks are found from the first piece on: a break is made by the cheapest line that ends there, of each fitness and for
each slot that comes next; what costs more than a bound is not followed (branch and bound).
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit

from nestline.nesting.compiled.borrowing import borrowed, kept
from nestline.nesting.compiled.first_fit import OUT_OF_SLOTS
from nestline.nesting.compiled.inlining import inlined
from nestline.nesting.compiled.known_breaks import (
    NO_ROOM,
    NOT_KEPT,
    SLOWLY,
    Active,
    Dearest,
    Known,
    add_active,
    cheapest,
    close_up,
    earliest_again,
    lines_back,
    make_break,
    measure,
    next_slot_for,
    note_break,
    reactivate,
)
from nestline.nesting.compiled.space import EPSILON
from nestline.nesting.compiled.weights import (
    FAR_FITNESS,
    FILLED,
    NOT_FILLED,
    demerits_of,
    filling,
    fitness_of,
)  # fmt: skip
from nestline.rows import (
    CHANGE1,
    COST,
    FIGURES,
    FITNESS,
    FORCED,
    GRADE,
    HYPHEN,
    HYPHENS,
    NEXT_SLOT,
    ONE_OF,
    PIECE,
    PLACES,
    SET_HYPHEN,
    SPACE1,
    SPACES_OF,
    X1,
    X_OF,
)  # fmt: skip

NO_WAY, TOO_MANY = -2, -3
WIDE = 20.0
"""Above this tolerance nearly every break is feasible."""


class Way(NamedTuple):
    """How far breaks are known: up to which piece, at which level of tolerance, how many there are, the active ones from head
    to before tail, those that were active before the last piece, and whether a line found no slot for what follows it."""

    piece: int
    level: int
    nodes: int
    head: int
    tail: int
    head_before: int
    tail_before: int
    made_from: int
    short: bool


@inlined
def cost_of_line(weights, free, gaps, width, natural, tolerance, hyphen, hyphens, fit_before, lone, slot):
    """What a line costs, and its fitness; ∞ where it is looser than the tolerance, or ends in a hyphen too many."""
    if hyphen == SET_HYPHEN and hyphens >= weights.most_hyphens:
        return np.inf, 0
    r = filling(weights, free, gaps, natural)
    if r > tolerance:
        return np.inf, 0
    fit = fitness_of(weights, r)
    return demerits_of(weights, r, width, hyphen, hyphens, fit, fit_before, lone, slot), fit


@inlined
def go_through(way, until, pieces, weights, first, stop, course, tolerances, bound, known, active, dearest):
    """End lines at every piece from where the way is on, as far as there is one; beyond `until` with the least tolerance
    again. Returns the way as it is then; it has TOO_MANY nodes where no more breaks are held."""
    figures, places, rooms = known.figures, known.places, course.rooms
    which, over_at, full = active.which, active.over, active.full
    made, cheapest_to, cheapest_at = dearest.made, dearest.least, dearest.least_at
    p, level, nodes, head, tail, head_before, tail_before, made_from, short = way
    lowest, slack, far = tolerances[0], FILLED * weights.size, FAR_FITNESS if weights.justify else 0.0
    gates = weights.target < 0 and lowest <= NOT_FILLED
    while p + 1 < stop and (head < tail or p < first):
        p += 1
        level = level if p <= until else 0
        forced, ends, hyphen = pieces[p, FORCED] > 0, p == stop - 1, pieces[p, HYPHEN]
        natural = (ends or forced) and not weights.last_justified
        bounded_r = gates and not ends and not forced
        right, spaces, change = pieces[p, X1], pieces[p, SPACE1], pieces[p, CHANGE1]
        reach = right + change + lowest * (spaces * weights.give + weights.ragged)
        least_right = right - spaces * weights.shrink
        plenty = course.end - 1 - int((pieces[stop - 1, X1] - right) * course.lines_for)
        made_from, head_before, tail_before, gone, index = nodes, head, tail, 0, head
        while index < tail:
            if bounded_r and level == 0 and reach < full[index]:
                break  # lines from here on are too loose as yet
            a, over = which[index], over_at[index]
            if forced or least_right > over:
                which[index] = -1 - a
                gone += 1
            index += 1
            if least_right + change > over:
                continue
            tolerance = tolerances[max(level, (places[a, GRADE] + SLOWLY - 1) // SLOWLY)]
            gaps, width = spaces - figures[a, SPACES_OF], right - figures[a, X_OF] + change
            hyphens, slot = places[a, HYPHENS], places[a, NEXT_SLOT]
            free = rooms[slot] - EPSILON - width
            if (
                bounded_r
                and tolerance <= NOT_FILLED
                and free > slack + tolerance * (gaps * weights.give + weights.ragged)
            ):
                continue
            lone = ends and gaps == 0 and places[a, PIECE] > first
            cost, fit = cost_of_line(
                weights, free, gaps, width, natural, tolerance, hyphen, hyphens, places[a, FITNESS], lone, slot
            )
            total = figures[a, COST] + cost
            if cost == np.inf or total > bound:
                continue
            next_slot = slot + 1
            if not ends:
                next_slot = next_slot_for(pieces, rooms, p + 1, next_slot, course.total)
                if next_slot >= course.total or next_slot >= course.most:
                    short = True
                    continue
            one = course.uniform if course.uniform <= next_slot <= plenty else next_slot
            # Of lines that go on in one slot, those that cost more than another's dearest way on never win.
            if cheapest_at[one] != p or total < cheapest_to[one]:
                cheapest_at[one], cheapest_to[one] = p, total
            elif total > cheapest_to[one] + far:
                continue
            few = tolerance > WIDE and weights.target < 0
            found = make_break(figures, places, made, one, fit, total, nodes, made_from, few)
            if found == NO_ROOM:
                return Way(p, level, TOO_MANY, head, tail, head_before, tail_before, made_from, short)
            if found != NOT_KEPT:
                nodes = max(nodes, found + 1)
                note_break(places, found, p + 1, next_slot, fit, hyphens + 1 if hyphen > 0 else 0, a, level, one)
        if gone > 0:
            head = close_up(figures, which, over_at, full, head, index, tail)
        if not ends:
            for m in range(made_from, nodes):
                measure(m, p + 1, pieces, weights, rooms, lowest, figures, places)
                if figures[m, COST] <= cheapest_to[places[m, ONE_OF]] + far:
                    tail = add_active(m, figures, which, over_at, full, head, tail)
    return Way(p, level, nodes, head, tail, head_before, tail_before, made_from, short)


@njit(cache=True, error_model="numpy")
def fit_below(pieces, weights, first, stop, course, tolerances, bound, chosen, room_for):
    """The best breaks that cost no more than a bound, with room for a number of them on the way. Returns the lines chosen;
    OUT_OF_SLOTS, NO_WAY, or TOO_MANY when that room does not do.

    A line's r may be up to the first tolerance; where that leaves no way, the lines there and a few before are chosen again
    with the next, and for the lines after them it falls back step by step: else one far worse line there could save them
    from being a little too loose.
    """
    figures, places = np.empty((room_for, FIGURES)), np.empty((room_for, PLACES), np.int64)
    which, over, full = np.empty(room_for, np.int64), np.empty(room_for), np.empty(room_for)
    slots = course.total + 1
    made, least, least_at = np.full((slots, 4), -1), np.zeros(slots), np.full(slots, -1)
    known = Known(borrowed(figures), borrowed(places))
    active = Active(borrowed(which), borrowed(over), borrowed(full))
    dearest = Dearest(borrowed(made), borrowed(least), borrowed(least_at))
    lines = fit_among(pieces, weights, first, stop, course, tolerances, bound, chosen, known, active, dearest)
    return kept(lines, figures, places, which, over, full, made, least, least_at)


@inlined
def fit_among(pieces, weights, first, stop, course, tolerances, bound, chosen, known, active, dearest):
    """As `fit_below`, among breaks that there is room for."""
    figures = known.figures
    figures[0, COST] = 0.0
    note_break(known.places, 0, first, course.begin, -1, 0, -1, 0, course.begin)
    measure(0, first, pieces, weights, course.rooms, tolerances[0], figures, known.places)
    tail = add_active(0, figures, active.which, active.over, active.full, 0, 0)
    way, until = Way(first - 1, 0, 1, 0, tail, 0, tail, 0, False), first - 1
    best_end = -1
    for _ in range(4 * (stop - first) + 8):
        way = go_through(way, until, pieces, weights, first, stop, course, tolerances, bound, known, active, dearest)
        if way.nodes == TOO_MANY:
            return TOO_MANY
        if way.piece == stop - 1:
            best_end = cheapest(known, way.made_from, way.nodes)
        if best_end >= 0 or (way.short and way.head == way.tail) or way.level + 1 >= len(tolerances):
            break
        # No way on: back to where lines could still be chosen otherwise, and from there to here with the next tolerance.
        earliest = earliest_again(known, active, way.head_before, way.tail_before, stop, way.level)
        until, nodes = max(until, way.piece), way.nodes
        while nodes > 1 and known.places[nodes - 1, PIECE] > earliest:
            nodes -= 1
        dearest.made[:], dearest.least_at[:] = -1, -1
        tail = reactivate(pieces, weights, known, active, nodes, earliest)
        way = Way(earliest - 1, way.level + 1, nodes, 0, tail, 0, tail, nodes, way.short)
    if best_end < 0:
        return OUT_OF_SLOTS if way.short else NO_WAY
    return lines_back(known, best_end, chosen)
