"""A bound for total fit, compiled by Numba: good breaks found slot after slot, the best few ways followed on (a
beam)."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nestline.nesting.compiled.borrowing import borrowed, kept
from nestline.nesting.compiled.inlining import inlined
from nestline.nesting.compiled.known_breaks import goes_across, next_slot_for
from nestline.nesting.compiled.space import EPSILON
from nestline.nesting.compiled.weights import FILLED, OPEN_END, UNFILLED, demerits_of, filling, fitness_of, fitted
from nestline.rows import (
    CHANGE0,
    CHANGE1,
    FORCED,
    GRADE,
    HYPHEN,
    LETTERS0,
    LETTERS1,
    SET_HYPHEN,
    SPACE0,
    SPACE1,
    WAY_COLUMNS,
    WAY_FITNESS,
    WAY_FROM,
    WAY_HYPHENS,
    WAY_PIECE,
    WAY_SLOT,
    X0,
    X1,
)

BEAM = 4
"""How many ways on are followed for each slot."""


class Ways(NamedTuple):
    """Of each slot the ways that come to it: how many, what each costs, and where it is (nestline.rows)."""

    waiting: NDArray[np.int64]
    costs: NDArray[np.float64]
    places: NDArray[np.int64]


class Best(NamedTuple):
    """The cheapest way to the end: what it costs, and the slot and number of the way that its last line goes on
    from."""

    cost: float
    slot: int
    way: int


@inlined
def go_on(waiting, costs, places, slot, piece, hyphens, fit, total, from_slot, from_way):
    """Let a way come to a slot: in place of one to the same piece that is dearer, or of the dearest of too many."""
    n = waiting[slot]
    at = n
    for other in range(n):
        if places[slot, other, WAY_PIECE] == piece:
            at = other
    if at == n and n == BEAM:
        at = np.argmax(costs[slot])
    if at == n:
        waiting[slot] = n + 1
    if at == n or total < costs[slot, at]:
        costs[slot, at] = total
        places[slot, at, WAY_PIECE], places[slot, at, WAY_HYPHENS], places[slot, at, WAY_FITNESS] = piece, hyphens, fit
        places[slot, at, WAY_SLOT], places[slot, at, WAY_FROM] = from_slot, from_way


@inlined
def fill_slot(s, pieces, weights, first, stop, course, until, tolerance, ways, best):
    """Try every line in slot s that goes on from one of its ways. Returns whether there is any, and the best way to the
    end."""
    waiting, costs, places, rooms = ways.waiting, ways.costs, ways.places, course.rooms
    room, found_any = rooms[s], False
    for w in range(waiting[s]):
        cost, i, hyphens = costs[s, w], places[s, w, WAY_PIECE], places[s, w, WAY_HYPHENS]
        if cost >= best.cost:
            continue
        fit_before = places[s, w, WAY_FITNESS]
        x, before = pieces[i, X0] - pieces[i, CHANGE0], pieces[i, SPACE0]
        for p in range(i, stop):
            gaps, bare = pieces[p, SPACE1] - before, pieces[p, X1] - x
            letters, shrinks = pieces[p, LETTERS1] - pieces[i, LETTERS0] - 1, gaps * weights.shrink
            if bare - shrinks - fitted(weights, letters, bare) > room:
                break
            ends, forced = p == stop - 1, pieces[p, FORCED] > 0
            width, hyphen = bare + pieces[p, CHANGE1], pieces[p, HYPHEN]
            may_be_loose = ends or forced or room < weights.narrow or tolerance >= UNFILLED or weights.target >= 0
            lent = fitted(weights, letters, width)
            most_open = FILLED * weights.size + tolerance * (gaps * weights.give + weights.ragged) + lent
            if not may_be_loose and room - EPSILON - width > most_open:
                continue
            fits = width - shrinks - lent <= room and not (hyphen == SET_HYPHEN and hyphens >= weights.most_hyphens)
            natural = (ends or forced) and not weights.last_justified
            r = filling(weights, room - EPSILON - width, gaps, letters, lent, natural, room < weights.narrow)
            left_open = (ends or forced) and UNFILLED <= r < np.inf
            if left_open:
                r = 0.0
            if fits and r <= tolerance:
                found_any = True
                fit = fitness_of(weights, r, natural, fit_before)
                lone = ends and gaps == 0 and i > first
                across = not ends and goes_across(pieces, course, p, hyphen, s)
                total = cost + demerits_of(
                    weights, r, width, hyphen, pieces[p, GRADE], hyphens, fit, fit_before, ends, lone, s, across
                )
                total += OPEN_END if left_open else 0.0
                if total < best.cost and ends:
                    best = Best(total, s, w)
                elif total < best.cost:
                    t = next_slot_for(pieces, rooms, p + 1, s + 1, until)
                    if t < until:
                        go_on(waiting, costs, places, t, p + 1, hyphens + 1 if hyphen > 0 else 0, fit, total, s, w)
            if forced:
                break
    return found_any, best


@njit(cache=True)
def way_back(ways, best, stop, chosen):
    """Write down the lines of the best way. Returns how many; 0 where there is no room for them."""
    places = ways.places
    lines, s, w = 0, best.slot, best.way
    while s >= 0:
        lines += 1
        s, w = places[s, w, WAY_SLOT], places[s, w, WAY_FROM]
    if lines > len(chosen.first):
        return 0
    s, w, after, line = best.slot, best.way, stop, lines - 1
    while s >= 0:
        chosen.first[line], chosen.last[line], chosen.slot[line] = places[s, w, WAY_PIECE], after - 1, s
        after = places[s, w, WAY_PIECE]
        s, w = places[s, w, WAY_SLOT], places[s, w, WAY_FROM]
        line -= 1
    return lines


@njit(cache=True, error_model="numpy")
def beam_fit(pieces, weights, first, stop, course, most_r, chosen):
    """Good breaks of pieces first … stop − 1: how many lines, written down in `chosen`, and what they cost.

    A line's r may be up to the first of some tolerances that lets anything begin in its slot end, `most_r` the last. No
    lines, and a cost of ∞, where that ends nowhere.
    """
    begin, until = course.begin, min(course.total, course.most)
    waiting, costs = np.zeros(until + 1, np.int64), np.empty((until + 1, BEAM))
    places = np.empty((until + 1, BEAM, WAY_COLUMNS), np.int64)
    ways = Ways(borrowed(waiting), borrowed(costs), borrowed(places))
    go_on(waiting, costs, places, begin, first, 0, -1, 0.0, -1, -1)
    best = Best(np.inf, -1, -1)
    for s in range(begin, until):
        for tolerance in (min(2.0, most_r), min(4.0, most_r), min(8.0, most_r), most_r):
            found_any, best = fill_slot(s, pieces, weights, first, stop, course, until, tolerance, ways, best)
            if found_any:
                break
    if best.slot < 0:
        return kept(0, waiting, costs, places), np.inf
    lines = kept(way_back(ways, best, stop, chosen), waiting, costs, places)
    return lines, best.cost if lines > 0 else np.inf
