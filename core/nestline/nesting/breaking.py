"""Where the lines of a paragraph end, compiled by Numba: total fit over the real sequence of slots, and balanced setting.

Total fit is that of Knuth and Plass, "Breaking Paragraphs into Lines", Software: Practice and Experience 11 (1981):
badness 100·|r|³, demerits (10 + badness + penalty)². Here a paragraph runs through slots of different widths, so that
breaks in the same place are told apart by the slot that comes next.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit

from nestline.nesting.pieces import (
    ALIGN,
    ALIGN_LAST,
    BALANCED,
    BREAKING,
    CHANGE0,
    CHANGE1,
    FIRST_INDENT,
    FORCED,
    HYPHEN,
    INDENT,
    JUSTIFY,
    LADDER,
    LEAST_SPACE,
    LONE_WORD,
    SET_HYPHEN,
    SIZE,
    SPACE0,
    SPACE1,
    SPACE_WIDTH,
    X0,
    X1,
    piece_width,
)  # fmt: skip
from nestline.nesting.space import EPSILON

# The figures of Knuth and Plass, section "Choosing the breakpoints"; two hyphens in a row and far fitness cost 3,000.
LINE_COST, HYPHEN_COST, TWO_HYPHENS, FAR_FITNESS = 10.0, 50.0, 3000.0, 3000.0
STRETCH = 0.5
"""How much a word space stretches at r = 1, as a share of itself."""
RAGGED = 2.0
"""How much a ragged line's end stretches at r = 1, in ems."""
LONE_COST, FORBIDDEN, PAST_COST, TIGHT_COST = 5000.0, 1e12, 1e13, 1e7
NOT_FILLED, LARGEST_R, FILLED = 8.0, 20.0, 0.01
"""From `NOT_FILLED` on a justified line is set natural, and so is one without spaces: it costs by the room left open, from
`FILLED` ems on."""
TOLERANCES = np.array([2.0, 4.0, 8.0, 1e9])
"""How loose a line may be: the first of these that leaves a way, and only where it is needed."""
ANY = np.array([1e9])
SLOWLY = 3
"""Lines after a place that needed more tolerance, before it falls back by one step."""
WIDE, MOST_KEPT = 20.0, 4
"""Above this tolerance nearly every break is feasible: only the best few breaks in a place are followed on."""
OUT_OF_SLOTS, NO_WAY = -1, -2


@njit(cache=True)
def slot_room(rule, lefts, rights, slot, first_slot):
    """The width that a slot leaves a paragraph's letters."""
    return rights[slot] - lefts[slot] - rule[INDENT] - (rule[FIRST_INDENT] if first_slot else 0.0)


@njit(cache=True)
def fill_slots(pieces, rule, first, stop, starts, lefts, rights, count, out_first, out_last, out_slot):
    """First fit of pieces first … stop − 1 into slots. Returns the lines written, or OUT_OF_SLOTS."""
    at, slot, written, ladder = first, 0, 0, 0
    while at < stop:
        if slot >= count or written >= len(out_first):
            return OUT_OF_SLOTS
        room = slot_room(rule, lefts, rights, slot, starts and at == first)
        last = fill_one(pieces, at, stop, room, ladder < rule[LADDER])
        if last >= at:
            out_first[written], out_last[written], out_slot[written] = at, last, slot
            ladder = ladder + 1 if pieces[last, HYPHEN] == SET_HYPHEN else 0
            written += 1
            at = last + 1
        slot += 1
    return written


@njit(cache=True)
def fill_one(pieces, at, stop, room, hyphen_allowed):
    """The last piece of the longest line from `at` that a room holds; at − 1 when not even the first fits.

    A syllable whose hyphen does not fit may still be followed by the rest of its word.
    """
    last = at - 1
    p = at
    while p < stop:
        fits = piece_width(pieces, at, p) <= room + EPSILON
        hyphenated = pieces[p, HYPHEN] == SET_HYPHEN
        if fits and (hyphen_allowed or not hyphenated):
            last = p
        elif not fits and not hyphenated:
            break
        elif not fits and pieces[p, X1] - pieces[at, X0] + pieces[at, CHANGE0] > room + EPSILON:
            break
        if pieces[p, FORCED] > 0:
            break
        p += 1
    if last < at and not hyphen_allowed:
        return fill_one_anyhow(pieces, at, stop, room)
    return last


@njit(cache=True)
def fill_one_anyhow(pieces, at, stop, room):
    """As `fill_one`, where only a hyphen too many lets the line hold anything."""
    last = at - 1
    p = at
    while p < stop and piece_width(pieces, at, p) <= room + EPSILON:
        last = p
        if pieces[p, FORCED] > 0:
            break
        p += 1
    return last


class Weights(NamedTuple):
    """What a paragraph's rule says of how its lines are filled, widths in points.

    `shrink` and `give` are what a word space can lose, and gains at r = 1; `ragged` what a line's end gains then. With
    `target` ≥ 0 a line costs by how far its width is from it. Lines in slots from `past_from` on cost PAST_COST each,
    and every line `tight` more.
    """

    justify: bool
    last_justified: bool
    shrink: float
    give: float
    ragged: float
    size: float
    most_hyphens: float
    lone_word: float
    line_cost: float
    tight: float
    target: float
    past_from: int


@njit(cache=True)
def weights_of(rule, line_cost, tight, target, past_from):
    """The Weights of a rule."""
    justify = rule[ALIGN] == JUSTIFY
    space, size = rule[SPACE_WIDTH], rule[SIZE]
    return Weights(
        justify, justify and rule[ALIGN_LAST] == JUSTIFY, space * max(0.0, 1.0 - rule[LEAST_SPACE]) if justify else 0.0,
        space * STRETCH if justify else 0.0, 0.0 if justify else RAGGED * size, size, rule[LADDER], rule[LONE_WORD],
        line_cost, tight, target, past_from,
    )  # fmt: skip


@njit(cache=True, error_model="numpy")
def filling(weights, free, gaps, natural):
    """How far a line's spaces must shrink (r < 0) or stretch for it to fill its room, `free` wider than its letters."""
    if weights.target >= 0:
        return 0.0
    if free < 0:
        return max(free / (gaps * weights.shrink), -1.0) if gaps * weights.shrink > 0 else 0.0
    if natural:
        return 0.0
    if not weights.justify:
        return free / weights.ragged
    open_ = NOT_FILLED + free / weights.size
    if gaps > 0:
        return min(free / (gaps * weights.give), open_)
    return 0.0 if free < FILLED * weights.size else open_


@njit(cache=True)
def fitness_of(weights, r):
    """How loose a line is, as one of four: tight, decent, loose, very loose."""
    if not weights.justify:
        return 1
    return 0 if r < -0.5 else 1 if r <= 0.5 else 2 if r <= 1 else 3


@njit(cache=True)
def demerits_of(weights, r, width, hyphen, ladder, fit, fit_before, lone, slot):
    """What a line costs, given what the line before it ends in."""
    badness = min(abs(r), LARGEST_R)
    badness = 100.0 * badness * badness * badness
    if weights.target >= 0:
        badness = 100.0 * ((width - weights.target) / weights.size) ** 2
    demerits = weights.line_cost + badness + (HYPHEN_COST if hyphen > 0 else 0.0)
    demerits *= demerits
    if hyphen > 0 and ladder > 0:
        demerits += TWO_HYPHENS
    if weights.justify and fit_before >= 0 and abs(fit - fit_before) > 1:
        demerits += FAR_FITNESS
    if lone and weights.lone_word >= 0:
        demerits += FORBIDDEN if weights.lone_word > 0 else LONE_COST
    if slot >= weights.past_from:
        demerits += PAST_COST
    return demerits + weights.tight


@njit(cache=True)
def next_slot_for(pieces, rooms, piece, slot, count):
    """The first slot from `slot` on that holds a piece; `count` when none does."""
    width = piece_width(pieces, piece, piece)
    while slot < count and width > rooms[slot]:
        slot += 1
    return slot


# What is known of a break. Figures: what it costs to come to it, the x of the letters behind it, the spaces before
# them, and how far letters must reach, and may, for a line from it to be full (spaces as they are, all shrunk).
COST, X_OF, SPACES_OF, FULL_AT, OVER_AT, FIGURES = 0, 1, 2, 3, 4, 5
# Places: the piece behind it, the slot that comes next, hyphens in a row before it, the fitness of the line before, the
# break that line began after, for how many lines more tolerance is left (the level is its SLOWLY-th), and the slot that
# it counts under.
PIECE, NEXT_SLOT, HYPHENS, FITNESS, LINE_FROM, GRADE, ONE_OF, PLACES = 0, 1, 2, 3, 4, 5, 6, 7
TOO_MANY = -3
BEAM = 4
"""How many ways on are followed for each slot to find a bound."""
LEAST_FULL = 2.0
"""Slots of one width make no difference while there are as many as lines would need that are half full."""


@njit(cache=True, error_model="numpy")
def beam_fit(pieces, weights, first, stop, begin, rooms, most, tolerances, out_first, out_last, out_slot):
    """Good breaks found slot after slot, the best few ways followed on: their lines and what they cost, for a bound.

    A line's r may be up to the first tolerance that lets anything begin in its slot end. No lines where that ends nowhere.
    """
    count = min(len(rooms) - 1, begin + most)
    waiting = np.zeros(count + 1, np.int64)
    # Of each way into each slot: its cost; its piece, hyphens, fitness, and the way before it (a slot and a number).
    costs, ways = np.empty((count + 1, BEAM)), np.empty((count + 1, BEAM, 5), np.int64)
    waiting[begin], costs[begin, 0] = 1, 0.0
    ways[begin, 0, 0], ways[begin, 0, 1], ways[begin, 0, 2], ways[begin, 0, 3], ways[begin, 0, 4] = first, 0, -1, -1, -1
    best, best_slot, best_way = np.inf, -1, -1
    for s in range(begin, count):
        for tolerance in tolerances:
            found_any = False
            for w in range(waiting[s]):
                if costs[s, w] >= best:
                    continue
                i, ladder, fit_before = ways[s, w, 0], ways[s, w, 1], ways[s, w, 2]
                x, before = pieces[i, X0] - pieces[i, CHANGE0], pieces[i, SPACE0]
                for p in range(i, stop):
                    gaps = pieces[p, SPACE1] - before
                    bare = pieces[p, X1] - x
                    shrinks = gaps * weights.shrink
                    if bare - shrinks > rooms[s]:
                        break
                    ends, forced = p == stop - 1, pieces[p, FORCED] > 0
                    width, hyphen = bare + pieces[p, CHANGE1], pieces[p, HYPHEN]
                    may_be_loose = ends or forced or tolerance > NOT_FILLED or weights.target >= 0
                    most_open = FILLED * weights.size + tolerance * (gaps * weights.give + weights.ragged)
                    if not may_be_loose and rooms[s] - EPSILON - width > most_open:
                        continue
                    fits = width - shrinks <= rooms[s] and not (hyphen == SET_HYPHEN and ladder >= weights.most_hyphens)
                    r = filling(
                        weights, rooms[s] - EPSILON - width, gaps, (ends or forced) and not weights.last_justified
                    )
                    if fits and r <= tolerance:
                        found_any = True
                        fit = fitness_of(weights, r)
                        lone = ends and gaps == 0 and i > first
                        total = costs[s, w] + demerits_of(weights, r, width, hyphen, ladder, fit, fit_before, lone, s)
                        if ends:
                            if total < best:
                                best, best_slot, best_way = total, s, w
                        elif total < best:
                            t = next_slot_for(pieces, rooms, p + 1, s + 1, count)
                            if t < count:
                                n = waiting[t]
                                at = n
                                for other in range(n):
                                    if ways[t, other, 0] == p + 1:
                                        at = other
                                if at == n and n == BEAM:
                                    at = np.argmax(costs[t])
                                if at == n:
                                    waiting[t] = n + 1
                                if at == n or total < costs[t, at]:
                                    costs[t, at] = total
                                    ways[t, at, 0], ways[t, at, 1] = p + 1, ladder + 1 if hyphen > 0 else 0
                                    ways[t, at, 2], ways[t, at, 3], ways[t, at, 4] = fit, s, w
                    if forced:
                        break
            if found_any:
                break
    if best_slot < 0:
        return 0, np.inf
    lines, s, w = 0, best_slot, best_way
    while s >= 0:
        lines += 1
        s, w = ways[s, w, 3], ways[s, w, 4]
    if lines > len(out_first):
        return 0, np.inf
    s, w, after, line = best_slot, best_way, stop, lines - 1
    while s >= 0:
        out_first[line], out_last[line], out_slot[line] = ways[s, w, 0], after - 1, s
        after = ways[s, w, 0]
        s, w = ways[s, w, 3], ways[s, w, 4]
        line -= 1
    return lines, best


@njit(cache=True, error_model="numpy")
def total_fit(
    pieces, rule, first, stop, starts, lefts, rights, count, past_from, tight, line_cost, tolerances, most, target,
    out_first, out_last, out_slot,
):  # fmt: skip
    """The best breaks of pieces first … stop − 1 over slots 0 … count − 1.

    `starts` says that `first` begins its paragraph; slots from `past_from` on lie past the edge and are kept for what
    cannot be held before. A line's r may be up to the first of `tolerances`; where that leaves no way, the lines there
    and a few before are chosen again with the next, and for the lines after them it falls back step by step: else one
    far worse line there could save them from being a little too loose. With `target` ≥ 0 (balanced setting) a line costs by
    how far its width is from the target, and no more than `most` slots are used. Returns the number of lines, or
    OUT_OF_SLOTS, or NO_WAY. What costs more than the breaks that `beam_fit` finds is not followed (branch and bound);
    they stand where nothing cheaper is found. Ties are broken by the earlier break, so that the same copy always breaks
    the same way.
    """
    weights = weights_of(rule, line_cost, tight, target, past_from)
    begin = 0
    while begin < count and piece_width(pieces, first, first) > slot_room(rule, lefts, rights, begin, starts) + EPSILON:
        begin += 1
    if begin >= count:
        return OUT_OF_SLOTS
    rooms = np.empty(count + 1)
    for s in range(count):
        rooms[s] = slot_room(rule, lefts, rights, s, starts and s == begin) + EPSILON
    good, bound = beam_fit(pieces, weights, first, stop, begin, rooms, most, tolerances, out_first, out_last, out_slot)
    bound += 1e-9 * bound
    room_for = 2 * (stop - first) + 64
    lines = TOO_MANY
    while lines == TOO_MANY:
        lines = fit_below(
            pieces, weights, first, stop, begin, rooms, most, tolerances, bound, out_first, out_last, out_slot,
            np.empty((room_for, FIGURES)), np.empty((room_for, PLACES), np.int64),
        )  # fmt: skip
        room_for *= 4
    return good if lines < 0 and good > 0 else lines


@njit(cache=True)
def uniform_from(rooms, begin, end):
    """The first slot from which those up to an end are all as wide as the last of them."""
    s = end
    while s > begin and rooms[s - 1] == rooms[end - 1]:
        s -= 1
    return s


@njit(cache=True)
def add_active(m, figures, active, over, full, head, tail):
    """Put a break behind the active ones. Returns where they end now."""
    active[tail], over[tail], full[tail] = m, figures[m, OVER_AT], figures[m, FULL_AT]
    i = tail - 1
    while i >= head and full[i] > full[tail]:
        full[i] = full[tail]
        i -= 1
    return tail + 1


@njit(cache=True, error_model="numpy")
def fit_below(
    pieces, weights, first, stop, begin, rooms, most, tolerances, bound, out_first, out_last, out_slot, figures, places
):
    """As `total_fit`, for ways that cost no more than a bound, with room for a number of breaks; TOO_MANY when that does
    not do."""
    n, count = stop - first, len(rooms) - 1
    # Breaks that lines may still begin after, in order: active[head] … active[tail − 1], each with its OVER_AT, and with the
    # least FULL_AT of it and those after it (or less): from there on lines are too loose as yet.
    active, over, full = np.empty(len(figures), np.int64), np.empty(len(figures)), np.empty(len(figures))
    # For each slot the breaks made last for each fitness, the least cost to reach it, and the piece that this is for.
    made, least, least_at = np.full((count + 1, 4), -1), np.zeros(count + 1), np.full(count + 1, -1)
    lowest = tolerances[0]
    gates = weights.target < 0 and lowest <= NOT_FILLED
    far = FAR_FITNESS if weights.justify else 0.0
    slack = FILLED * weights.size
    # Slots of one width up to the end make no difference to what follows, as long as there are plenty of them: there
    # breaks in the same place are one, whichever slot comes next.
    end, uniform, most_lines_for = min(count, weights.past_from), count, 0.0
    if weights.target < 0 and end > begin and rooms[end - 1] > 0:
        uniform, most_lines_for = uniform_from(rooms, begin, end), LEAST_FULL / rooms[end - 1]
    x, before = pieces[first, X0] - pieces[first, CHANGE0], pieces[first, SPACE0]
    figures[0, COST], figures[0, X_OF], figures[0, SPACES_OF] = 0.0, x, before
    figures[0, FULL_AT] = full[0] = rooms[begin] - slack + x + lowest * weights.give * before
    figures[0, OVER_AT] = over[0] = rooms[begin] + x - weights.shrink * before
    places[0, PIECE], places[0, NEXT_SLOT], places[0, HYPHENS], places[0, FITNESS] = first, begin, 0, -1
    places[0, LINE_FROM], places[0, GRADE], places[0, ONE_OF] = -1, 0, begin
    active[0] = 0
    nodes, head, tail = 1, 0, 1
    short = False
    best_end = -1
    level, until, p = 0, first - 1, first - 1
    for _ in range(40 * n + 40):
        p += 1
        if p >= stop:
            break
        if p > until:
            level = 0
        forced = pieces[p, FORCED] > 0
        ends = p == stop - 1
        hyphen = pieces[p, HYPHEN]
        natural = (ends or forced) and not weights.last_justified
        bounded_r = gates and not ends and not forced
        right, spaces, change = pieces[p, X1], pieces[p, SPACE1], pieces[p, CHANGE1]
        reach = right + change + lowest * (spaces * weights.give + weights.ragged)
        least_right = right - spaces * weights.shrink
        plenty = end - 1 - int((pieces[stop - 1, X1] - right) * most_lines_for)
        made_from, first_active, last_active, gone = nodes, head, tail, 0
        index = head
        while index < tail:
            if bounded_r and level == 0 and reach < full[index]:
                break  # lines from here on are too loose as yet
            a = active[index]
            index += 1
            fits = least_right + change <= over[index - 1]
            if forced or least_right > over[index - 1]:
                active[index - 1] = -1 - a
                gone += 1
            if not fits:
                continue
            tolerance = tolerances[max(level, (places[a, GRADE] + SLOWLY - 1) // SLOWLY)]
            gaps, width = spaces - figures[a, SPACES_OF], right - figures[a, X_OF] + change
            ladder, slot = places[a, HYPHENS], places[a, NEXT_SLOT]
            free = rooms[slot] - EPSILON - width
            most_open = slack + tolerance * (gaps * weights.give + weights.ragged)
            if bounded_r and tolerance <= NOT_FILLED and free > most_open:
                continue
            if hyphen == SET_HYPHEN and ladder >= weights.most_hyphens:
                continue
            r = filling(weights, free, gaps, natural)
            if r > tolerance:
                continue
            fit = fitness_of(weights, r)
            lone = ends and gaps == 0 and places[a, PIECE] > first
            total = figures[a, COST] + demerits_of(
                weights, r, width, hyphen, ladder, fit, places[a, FITNESS], lone, slot
            )
            if total > bound:
                continue
            next_slot = slot + 1
            if not ends:
                next_slot = next_slot_for(pieces, rooms, p + 1, next_slot, count)
                if next_slot >= count or next_slot >= begin + most:
                    short = True
                    continue
            one = uniform if uniform <= next_slot <= plenty else next_slot
            # Of lines that go on in one slot, those that cost more than another's dearest way on never win.
            if least_at[one] != p or total < least[one]:
                least_at[one], least[one] = p, total
            elif total > least[one] + far:
                continue
            found = made[one, fit]
            if found < made_from:
                found = -1
            elif figures[found, COST] <= total:
                continue
            if found < 0 and tolerance > WIDE and weights.target < 0 and nodes - made_from >= MOST_KEPT:
                worst = made_from
                for m in range(made_from + 1, nodes):
                    if figures[m, COST] > figures[worst, COST]:
                        worst = m
                if figures[worst, COST] <= total:
                    continue
                made[places[worst, ONE_OF], places[worst, FITNESS]] = -1
                found = worst
            if found < 0:
                if nodes >= len(figures):
                    return TOO_MANY
                found = nodes
                nodes += 1
            made[one, fit] = found
            figures[found, COST] = total
            places[found, PIECE], places[found, NEXT_SLOT], places[found, FITNESS] = p + 1, next_slot, fit
            places[found, HYPHENS], places[found, LINE_FROM] = ladder + 1 if hyphen > 0 else 0, a
            places[found, GRADE], places[found, ONE_OF] = max(level * SLOWLY, places[a, GRADE] - 1), one
        if gone > 0:
            # Those still of use move up to the ones not looked at.
            kept = index
            for i in range(index - 1, head - 1, -1):
                a = active[i]
                if a >= 0:
                    kept -= 1
                    active[kept], over[kept], full[kept] = a, over[i], figures[a, FULL_AT]
                    if kept + 1 < tail and full[kept + 1] < full[kept]:
                        full[kept] = full[kept + 1]
            head = kept
        if ends:
            for m in range(made_from, nodes):
                if best_end < 0 or figures[m, COST] < figures[best_end, COST]:
                    best_end = m
        elif nodes > made_from:
            x, before = pieces[p + 1, X0] - pieces[p + 1, CHANGE0], pieces[p + 1, SPACE0]
            for m in range(made_from, nodes):
                slot = places[m, NEXT_SLOT]
                figures[m, X_OF], figures[m, SPACES_OF] = x, before
                figures[m, FULL_AT] = rooms[slot] - slack + x + lowest * weights.give * before
                if places[m, GRADE] > 0:
                    figures[m, FULL_AT] = -np.inf
                figures[m, OVER_AT] = rooms[slot] + x - weights.shrink * before
                one = places[m, ONE_OF]
                if figures[m, COST] <= least[one] + far:
                    tail = add_active(m, figures, active, over, full, head, tail)
        if best_end >= 0 or (short and head == tail):
            break
        if head == tail or ends:
            if level + 1 >= len(tolerances):
                break
            # No way on: back to where those lines began and as many lines more as the level asks for, and from there
            # to here with the next tolerance.
            earliest = stop
            for i in range(first_active, last_active):
                m = active[i] if active[i] >= 0 else -1 - active[i]
                for _ in range(3 * level + 3):
                    if places[m, LINE_FROM] >= 0:
                        m = places[m, LINE_FROM]
                earliest = min(earliest, places[m, PIECE])
            level, until = level + 1, max(until, p)
            while nodes > 1 and places[nodes - 1, PIECE] > earliest:
                nodes -= 1
            made[:], least_at[:] = -1, -1
            head = tail = 0
            reached = pieces[earliest - 1, X1] - pieces[earliest - 1, SPACE1] * weights.shrink
            for m in range(nodes):
                i = places[m, PIECE]
                if i == earliest or reached <= figures[m, OVER_AT]:
                    closed = False
                    for q in range(i, earliest):
                        closed = closed or pieces[q, FORCED] > 0
                    if not closed:
                        tail = add_active(m, figures, active, over, full, head, tail)
            p = earliest - 1
    if best_end < 0:
        return OUT_OF_SLOTS if short else NO_WAY
    lines, m = 0, best_end
    while places[m, LINE_FROM] >= 0:
        lines += 1
        m = places[m, LINE_FROM]
    if lines > len(out_first):
        return OUT_OF_SLOTS
    m, line = best_end, lines - 1
    while places[m, LINE_FROM] >= 0:
        a = places[m, LINE_FROM]
        out_first[line], out_last[line], out_slot[line] = places[a, PIECE], places[m, PIECE] - 1, places[a, NEXT_SLOT]
        m = a
        line -= 1
    return lines


@njit(cache=True)
def break_paragraph(
    pieces, rule, first, stop, starts, lefts, rights, count, past_from, tight, out_first, out_last, out_slot
):
    """The breaks that the paragraph's rule asks for, over slots 0 … count − 1. Returns the lines, or OUT_OF_SLOTS."""
    if rule[BREAKING] == BALANCED:
        lines = fill_slots(pieces, rule, first, stop, starts, lefts, rights, count, out_first, out_last, out_slot)
        if lines <= 1:
            return lines
        most = out_slot[lines - 1] + 1 - out_slot[0]
        target = (pieces[stop - 1, X1] - pieces[first, X0]) / lines
        done = total_fit(
            pieces, rule, first, stop, starts, lefts, rights, count, past_from, tight, LINE_COST, ANY, most, target,
            out_first, out_last, out_slot,
        )  # fmt: skip
        if done > 0:
            return done
    else:
        done = total_fit(
            pieces, rule, first, stop, starts, lefts, rights, count, past_from, tight, LINE_COST, TOLERANCES, count, -1.0,
            out_first, out_last, out_slot,
        )  # fmt: skip
        if done > 0:
            return done
    return fill_slots(pieces, rule, first, stop, starts, lefts, rights, count, out_first, out_last, out_slot)
