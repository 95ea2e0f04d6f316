"""Total fit, compiled by Numba: the best breaks of a paragraph over the real sequence of its slots.

The paragraph runs through slots of different widths, so that breaks in the same place are told apart by the slot that
comes next. Breaks are found from the first piece on: a break is made by the cheapest line that ends there, of each
fitness and for each slot that comes next; what costs more than a bound is not followed (branch and bound).
"""

from __future__ import annotations

import numpy as np
from numba import njit

from nestline.nesting.compiled.borrowing import borrowed, kept
from nestline.nesting.compiled.first_fit import OUT_OF_SLOTS
from nestline.nesting.compiled.inlining import inlined
from nestline.nesting.compiled.known_breaks import (
    HYPHEN_CLASSES,
    NO_ROOM,
    NOT_KEPT,
    Active,
    Dearest,
    Known,
    add_active,
    cheapest,
    close_up,
    goes_across,
    least_of,
    lines_back,
    make_break,
    may_win,
    measure,
    next_slot_for,
    note_break,
)
from nestline.nesting.compiled.space import EPSILON
from nestline.nesting.compiled.weights import (
    FILLED,
    OPEN_END,
    UNFILLED,
    demerits_of,
    farthest,
    filling,
    fitness_of,
    fitnesses,
    fitted,
    left_of,
    loosest_filled,
    may_leave_open,
    r_within,
)
from nestline.rows import (
    CHANGE1,
    COST,
    FIGURES,
    FITNESS,
    FITTED_OF,
    FORCED,
    GRADE,
    HYPHEN,
    HYPHENS,
    LETTERS0,
    LETTERS1,
    NEXT_SLOT,
    ONE_OF,
    PIECE,
    PLACES,
    SET_HYPHEN,
    SPACE1,
    SPACES_OF,
    SPARE,
    X1,
    X_OF,
)

NO_WAY, TOO_MANY = -2, -3


@inlined
def cost_after(pieces, weights, course, known, a, p, ends, natural, tolerance, free, gaps, lent, width, first):
    """What a line from break a to piece p costs, and its fitness; ∞ where it is looser than the tolerance, or ends in a
    hyphen too many."""
    places, hyphen = known.places, pieces[p, HYPHEN]
    hyphens, slot = places[a, HYPHENS], places[a, NEXT_SLOT]
    if hyphen == SET_HYPHEN and hyphens >= weights.most_hyphens:
        return np.inf, 0
    letters = pieces[p, LETTERS1] - pieces[places[a, PIECE], LETTERS0] - 1
    r = filling(weights, free, gaps, letters, lent, natural, course.rooms[slot] < weights.narrow)
    left_open = UNFILLED <= r < np.inf and (ends or pieces[p, FORCED] > 0)
    if left_open:
        r = 0.0
    if r > tolerance:
        return np.inf, 0
    fit = fitness_of(weights, r, natural, places[a, FITNESS])
    lone = ends and gaps == 0 and places[a, PIECE] > first
    across = not ends and goes_across(pieces, course, p, hyphen, slot)
    cost = demerits_of(
        weights, r, width, hyphen, pieces[p, GRADE], hyphens, fit, places[a, FITNESS], ends, lone, slot, across
    )
    return cost + OPEN_END if left_open else cost, fit


@njit(cache=True, error_model="numpy")
def fit_below(pieces, weights, first, stop, course, most_r, bound, chosen, room_for):
    """The best breaks that cost no more than a bound, with room for a number of them on the way; no line's r is above
    `most_r`. Returns the lines chosen; OUT_OF_SLOTS, NO_WAY, or TOO_MANY when that room does not do."""
    figures, places = np.empty((room_for, FIGURES)), np.empty((room_for, PLACES), np.int64)
    which, over, full = np.empty(room_for, np.int64), np.empty(room_for), np.empty(room_for)
    slots = course.total + 1
    made, least = np.full((slots, fitnesses(weights) * HYPHEN_CLASSES), -1), np.zeros((slots, HYPHEN_CLASSES))
    least_at = np.full((slots, HYPHEN_CLASSES), -1)
    known = Known(borrowed(figures), borrowed(places))
    active = Active(borrowed(which), borrowed(over), borrowed(full))
    dearest = Dearest(borrowed(made), borrowed(least), borrowed(least_at))
    lines = fit_among(pieces, weights, first, stop, course, most_r, bound, chosen, known, active, dearest)
    return kept(lines, figures, places, which, over, full, made, least, least_at)


@inlined
def fit_among(pieces, weights, first, stop, course, most_r, bound, chosen, known, active, dearest):
    """As `fit_below`, among breaks that there is room for: lines are ended at every piece, one after the other."""
    figures, places, rooms = known.figures, known.places, course.rooms
    which, over_at, full, made = active.which, active.over, active.full, dearest.made
    loosest = min(most_r, r_within(weights, left_of(bound, 0.0)), loosest_filled(weights))
    slack, far = FILLED * weights.size, farthest(weights)
    gates = weights.target < 0 and loosest < UNFILLED
    figures[0, COST] = 0.0
    note_break(places, 0, first, course.begin, -1, 0, -1, may_leave_open(bound, 0.0, most_r), course.begin)
    measure(0, first, pieces, weights, rooms, loosest, figures, places)
    head, tail, nodes, made_from, short, p = (
        0,
        add_active(0, figures, which, over_at, full, 0, 0),
        1,
        1,
        False,
        first - 1,
    )
    while p + 1 < stop and (head < tail or p < first):
        p += 1
        forced, ends, hyphen = pieces[p, FORCED] > 0, p == stop - 1, pieces[p, HYPHEN]
        natural = (ends or forced) and not weights.last_justified
        bounded_r = gates and not ends and not forced
        right, spaces, change = pieces[p, X1], pieces[p, SPACE1], pieces[p, CHANGE1]
        may_lend = fitted(weights, pieces[p, LETTERS1], right)
        reach = right + change + loosest * (spaces * weights.give + weights.ragged) + may_lend
        least_right = right - spaces * weights.shrink - may_lend
        least_change = change * (1.0 - weights.wide)
        plenty = course.end - 1 - int((pieces[stop - 1, X1] - right) * course.lines_for)
        made_from, gone, index = nodes, 0, head
        while index < tail:
            if bounded_r and reach < full[index]:
                break  # lines from here on are too loose as yet
            a, over = which[index], over_at[index]
            if forced or least_right > over:
                which[index] = -1 - a
                gone += 1
            index += 1
            if least_right + least_change > over:
                continue
            tolerance = most_r if places[a, SPARE] > 0 else loosest
            gaps, width = spaces - figures[a, SPACES_OF], right - figures[a, X_OF] + change
            hyphens, slot = places[a, HYPHENS], places[a, NEXT_SLOT]
            free = rooms[slot] - EPSILON - width
            lent = may_lend + weights.wide * change - figures[a, FITTED_OF]
            most_open = slack + tolerance * (gaps * weights.give + weights.ragged) + lent
            if bounded_r and tolerance < UNFILLED and free > most_open and rooms[slot] >= weights.narrow:
                continue
            cost, fit = cost_after(
                pieces, weights, course, known, a, p, ends, natural, tolerance, free, gaps, lent, width, first
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
            in_a_row = hyphens + 1 if hyphen > 0 else 0
            if not may_win(dearest, one, p, in_a_row, total, far):
                continue
            found = make_break(figures, made, one, fit, in_a_row, total, nodes, made_from)
            if found == NO_ROOM:
                return TOO_MANY
            if found != NOT_KEPT:
                nodes = max(nodes, found + 1)
                spare = may_leave_open(bound, total, most_r)
                note_break(places, found, p + 1, next_slot, fit, in_a_row, a, spare, one)
        if gone > 0:
            head = close_up(figures, which, over_at, full, head, index, tail)
        if not ends:
            for m in range(made_from, nodes):
                measure(m, p + 1, pieces, weights, rooms, loosest, figures, places)
                if figures[m, COST] <= least_of(dearest, places[m, ONE_OF], places[m, HYPHENS]) + far:
                    tail = add_active(m, figures, which, over_at, full, head, tail)
    best_end = cheapest(known, made_from, nodes) if p == stop - 1 else -1
    if best_end < 0:
        return OUT_OF_SLOTS if short else NO_WAY
    return lines_back(known, best_end, chosen)
