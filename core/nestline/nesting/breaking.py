"""Where the lines of a paragraph end, compiled by Numba: total fit over the real sequence of slots, and balanced setting.

Total fit is that of Knuth and Plass, "Breaking Paragraphs into Lines", Software: Practice and Experience 11 (1981):
badness 100·|r|³, demerits (10 + badness + penalty)². Here a paragraph runs through slots of different widths, so that
breaks in the same place are told apart by the slot that comes next.
"""

from __future__ import annotations

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
NOT_FILLED, LARGEST_R = 8.0, 20.0
"""From `NOT_FILLED` on a justified line is set natural, and so is one without spaces: it costs by the room left open."""
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
    OUT_OF_SLOTS, or NO_WAY. Ties are broken by the earlier break, so that the same copy always breaks the same way.
    """
    n = stop - first
    most_nodes = 24 * n + 256
    piece, slot, ladder = np.empty(most_nodes, np.int64), np.empty(most_nodes, np.int64), np.empty(most_nodes, np.int64)
    fitness, before = np.empty(most_nodes, np.int64), np.empty(most_nodes, np.int64)
    cost = np.empty(most_nodes)
    grade = np.empty(most_nodes, np.int64)  # for how many lines more tolerance is left; the level is its SLOWLY-th
    # What a line that begins at a node has: the x of its letters, spaces before it, its slot's room.
    x_of, spaces_of, room_of = np.empty(most_nodes), np.empty(most_nodes), np.empty(most_nodes)
    active = np.empty(most_nodes, np.int64)
    # For each slot the nodes made last for each fitness, the least cost to reach it, and the piece that this is for.
    made, least, least_at = np.full((count + 1, 4), -1), np.zeros(count + 1), np.full(count + 1, -1)
    justify = rule[ALIGN] == JUSTIFY
    last_justified = justify and rule[ALIGN_LAST] == JUSTIFY
    space, size = rule[SPACE_WIDTH], rule[SIZE]
    shrink = space * max(0.0, 1.0 - rule[LEAST_SPACE]) if justify else 0.0
    give = space * STRETCH if justify else 0.0
    ragged = 0.0 if justify else RAGGED * size
    ladder_most = rule[LADDER]
    begin = 0
    while begin < count and piece_width(pieces, first, first) > slot_room(rule, lefts, rights, begin, starts) + EPSILON:
        begin += 1
    if begin >= count:
        return OUT_OF_SLOTS
    piece[0], slot[0], ladder[0], fitness[0], before[0], cost[0] = first, begin, 0, -1, -1, 0.0
    grade[0] = 0
    x_of[0], spaces_of[0] = pieces[first, X0] - pieces[first, CHANGE0], pieces[first, SPACE0]
    room_of[0] = slot_room(rule, lefts, rights, begin, starts) + EPSILON
    active[0] = 0
    nodes = actives = 1
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
        set_hyphen = hyphen == SET_HYPHEN
        natural = (ends or forced) and not last_justified
        gated = target < 0 and not ends and not forced
        right, spaces, change = pieces[p, X1], pieces[p, SPACE1], pieces[p, CHANGE1]
        made_from, were = nodes, actives
        kept = 0
        for index in range(actives):
            a = active[index]
            room = room_of[a]
            gaps = spaces - spaces_of[a]
            bare = right - x_of[a]
            tolerance = tolerances[max(level, (grade[a] + SLOWLY - 1) // SLOWLY)]
            if gated and bare + change + tolerance * (gaps * give + ragged) < room and tolerance <= NOT_FILLED:
                active[kept] = a  # too loose as yet
                kept += 1
                continue
            shrinks = gaps * shrink
            if bare - shrinks <= room and not forced:
                active[kept] = a
                kept += 1
            width = bare + change
            if width - shrinks > room:
                continue
            free = room - EPSILON - width
            if target >= 0:
                r = 0.0
            elif free < 0:
                r = max(free / shrinks, -1.0) if shrinks > 0 else 0.0
            elif natural:
                r = 0.0
            elif justify:
                open_ = NOT_FILLED + free / size
                if gaps > 0:
                    r = min(free / (gaps * give), open_)
                else:
                    r = 0.0 if free < 0.01 * size else open_
            else:
                r = free / (RAGGED * size)
            if r > tolerance:
                continue
            if set_hyphen and ladder[a] >= ladder_most:
                continue
            i, s = piece[a], slot[a]
            badness = 100.0 * min(abs(r), LARGEST_R) ** 3
            if target >= 0:
                badness = 100.0 * ((width - target) / size) ** 2
            demerits = (line_cost + badness + (HYPHEN_COST if hyphen > 0 else 0.0)) ** 2
            if hyphen > 0 and ladder[a] > 0:
                demerits += TWO_HYPHENS
            fit = 0 if r < -0.5 else 1 if r <= 0.5 else 2 if r <= 1 else 3
            if justify and fitness[a] >= 0 and abs(fit - fitness[a]) > 1:
                demerits += FAR_FITNESS
            if ends and gaps == 0 and i > first and rule[LONE_WORD] >= 0:
                demerits += FORBIDDEN if rule[LONE_WORD] > 0 else LONE_COST
            if s >= past_from:
                demerits += PAST_COST
            demerits += tight
            total = cost[a] + demerits
            next_slot = s + 1
            if not ends:
                while next_slot < count and piece_width(pieces, p + 1, p + 1) > (
                    slot_room(rule, lefts, rights, next_slot, False) + EPSILON
                ):
                    next_slot += 1
                if next_slot >= count or next_slot >= begin + most:
                    short = True
                    continue
            if not justify:
                fit = 1
            # Of lines that go on in one slot, those that cost more than another's dearest way on never win.
            if least_at[next_slot] != p or total < least[next_slot]:
                least_at[next_slot], least[next_slot] = p, total
            elif total > least[next_slot] + FAR_FITNESS + TWO_HYPHENS:
                continue
            found = made[next_slot, fit]
            if found < made_from:
                found = -1
            elif cost[found] <= total:
                continue
            if found < 0 and tolerance > WIDE and target < 0 and nodes - made_from >= MOST_KEPT:
                worst = made_from
                for m in range(made_from + 1, nodes):
                    if cost[m] > cost[worst]:
                        worst = m
                if cost[worst] <= total:
                    continue
                made[slot[worst], fitness[worst]] = -1
                found = worst
            if found < 0:
                if nodes >= most_nodes:
                    more, wider = np.empty(most_nodes, np.int64), np.empty(most_nodes)
                    piece, slot = np.concatenate((piece, more)), np.concatenate((slot, more))
                    ladder, fitness = np.concatenate((ladder, more)), np.concatenate((fitness, more))
                    before, active = np.concatenate((before, more)), np.concatenate((active, more))
                    cost, grade = np.concatenate((cost, wider)), np.concatenate((grade, more))
                    x_of, spaces_of = np.concatenate((x_of, wider)), np.concatenate((spaces_of, wider))
                    room_of = np.concatenate((room_of, wider))
                    most_nodes *= 2
                found = nodes
                nodes += 1
            made[next_slot, fit] = found
            piece[found], slot[found], fitness[found] = p + 1, next_slot, fit
            ladder[found] = ladder[a] + 1 if hyphen > 0 else 0
            before[found], cost[found] = a, total
            grade[found] = max(level * SLOWLY, grade[a] - 1)
        for m in range(made_from, 0 if ends else nodes):
            x_of[m], spaces_of[m] = pieces[p + 1, X0] - pieces[p + 1, CHANGE0], pieces[p + 1, SPACE0]
            room_of[m] = slot_room(rule, lefts, rights, slot[m], False) + EPSILON
        actives = kept
        if ends:
            for m in range(made_from, nodes):
                if best_end < 0 or cost[m] < cost[best_end]:
                    best_end = m
        else:
            for m in range(made_from, nodes):
                if cost[m] <= least[slot[m]] + FAR_FITNESS + TWO_HYPHENS:
                    active[actives] = m
                    actives += 1
        if best_end >= 0 or (short and actives == 0):
            break
        if actives == 0 or ends:
            if level + 1 >= len(tolerances):
                break
            # No way on: back to where those lines began and as many lines more as the level asks for, and from there
            # to here with the next tolerance.
            earliest = stop
            for index in range(were):
                m = active[index]
                for _ in range(3 * level + 3):
                    if before[m] >= 0:
                        m = before[m]
                earliest = min(earliest, piece[m])
            level, until = level + 1, max(until, p)
            while nodes > 1 and piece[nodes - 1] > earliest:
                nodes -= 1
            made[:], least_at[:] = -1, -1
            actives = 0
            for m in range(nodes):
                i = piece[m]
                bare = pieces[earliest - 1, X1] - x_of[m]
                shrinks = (pieces[earliest - 1, SPACE1] - spaces_of[m]) * shrink
                if i == earliest or bare - shrinks <= room_of[m]:
                    closed = False
                    for q in range(i, earliest):
                        closed = closed or pieces[q, FORCED] > 0
                    if not closed:
                        active[actives] = m
                        actives += 1
            p = earliest - 1
    if best_end < 0:
        return OUT_OF_SLOTS if short else NO_WAY
    lines = 0
    m = best_end
    while before[m] >= 0:
        lines += 1
        m = before[m]
    if lines > len(out_first):
        return OUT_OF_SLOTS
    m, line = best_end, lines - 1
    while before[m] >= 0:
        a = before[m]
        out_first[line], out_last[line], out_slot[line] = piece[a], piece[m] - 1, slot[a]
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
