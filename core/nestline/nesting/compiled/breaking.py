"""The breaks that a paragraph's rule asks for, compiled by Numba: total fit, balanced setting, first fit."""

from __future__ import annotations

import numpy as np
from numba import njit

from nestline.nesting.compiled.beam import beam_fit
from nestline.nesting.compiled.borrowing import borrowed, kept
from nestline.nesting.compiled.first_fit import OUT_OF_SLOTS, fill_slots, slot_room
from nestline.nesting.compiled.known_breaks import Course, course_of
from nestline.nesting.compiled.pieces import opening_width, piece_width
from nestline.nesting.compiled.total_fit import NO_WAY, TOO_MANY, fit_below
from nestline.nesting.compiled.weights import LINE_COST, PAST_COST, weights_of
from nestline.rows import BALANCED, BREAKING, TAPERING, WIDENING, X0, X1

SLOPE, LEAST_SLOPE = 0.35, 0.12
"""How much the first and the last of lines that grow, or get shorter, differ from their mean, and how much they must at
least."""
ANY = 1e9
"""Lines may be as loose as they must; what that costs is in the weights."""

EVEN_LINES, LOOSE_LINES, ALL_FILLED = 1.5e5, 4e6, 9e8
"""What the best breaks may cost, one after the other: hardly a line above r = 2; a few at the loosest; none unfilled.
Within a bound the best is found, or that there is none; the lower it is, the fewer ways are followed."""


@njit(cache=True, error_model="numpy")
def total_fit(pieces, paragraph, slots, tight, line_cost, most_r, most, target, step, chosen):
    """The best breaks of a paragraph over its slots, no line looser than `most_r`.

    With `target` ≥ 0 (lines of even length, or each longer or shorter by `step`) a line costs by how far its width is
    from the target, and no more than `most` slots are used. Returns the number of lines, or OUT_OF_SLOTS, or NO_WAY.
    What costs more than the breaks that `beam_fit` finds is not followed; they stand where nothing cheaper is found.
    Ties are broken by the earlier break, so that the same copy always breaks the same way.
    """
    first, stop = paragraph.first, paragraph.stop
    level = weights_of(
        paragraph.rule, line_cost, tight, target, 0.0, 0, slots.past_from, slots.goes_on, slots.next_end, slots.narrow
    )
    alone = piece_width(pieces, first, first)
    opening = opening_width(pieces, first, stop) if first == 0 and tight == 0.0 else alone
    held = course_of(paragraph, slots, level, alone, opening, most)
    if held.begin >= slots.total:
        return OUT_OF_SLOTS
    weights = weights_of(
        paragraph.rule,
        line_cost,
        tight,
        target,
        step,
        held.begin,
        slots.past_from,
        slots.goes_on,
        slots.next_end,
        slots.narrow,
    )
    rooms = borrowed(held.rooms)
    course = Course(
        rooms, borrowed(held.bands), held.begin, held.total, held.most, held.uniform, held.end, held.lines_for
    )
    good, bound = beam_fit(pieces, weights, first, stop, course, most_r, chosen)
    bound += 1e-9 * bound
    lines, room_for = NO_WAY, 4 * (stop - first) + 64
    # Lines past the edge, and what each costs where lines count, come on top.
    surely = (bound - bound % PAST_COST if bound < np.inf else 0.0) + tight * good
    for most_cost in (EVEN_LINES, LOOSE_LINES, ALL_FILLED, np.inf):
        within = min(most_cost + surely, bound)
        lines = fit_below(pieces, weights, first, stop, course, most_r, within, chosen, room_for)
        while lines == TOO_MANY:
            room_for *= 4
            lines = fit_below(pieces, weights, first, stop, course, most_r, within, chosen, room_for)
        if lines > 0 or within == bound:
            break
    return kept(good if lines < 0 and good > 0 else lines, held.rooms, held.bands)


@njit(cache=True)
def sloped(rule, slots, first_slot, lines, wide, tight):
    """How wide the first of some lines should be, how much wider each should be than the one before, and how many lines
    more that takes: one where they would be too full to slope, unless lines count."""
    room = slot_room(rule, slots, first_slot, False)
    more = 0
    if (
        tight == 0.0
        and room < (1.0 + LEAST_SLOPE) * wide / lines
        and first_slot + lines < min(slots.total, slots.past_from)
    ):
        more = 1
    mean = wide / (lines + more)
    slope = max(0.0, min(SLOPE, room / mean - 1.0))
    if rule[BREAKING] == TAPERING:
        slope = -slope
    return mean * (1.0 - slope), 2.0 * slope * mean / (lines + more - 1), more


@njit(cache=True)
def break_paragraph(pieces, paragraph, slots, tight, chosen):
    """The breaks that a paragraph's rule asks for, every line dearer by `tight`. Returns the lines, or OUT_OF_SLOTS."""
    rule = paragraph.rule
    if rule[BREAKING] >= BALANCED:
        lines = fill_slots(pieces, paragraph, slots, chosen)
        if lines <= 1:
            return lines
        most = chosen.slot[lines - 1] + 1 - chosen.slot[0]
        wide = pieces[paragraph.stop - 1, X1] - pieces[paragraph.first, X0]
        target, step = wide / lines, 0.0
        if rule[BREAKING] >= WIDENING:
            target, step, more = sloped(rule, slots, chosen.slot[0], lines, wide, tight)
            most += more
        done = total_fit(pieces, paragraph, slots, tight, LINE_COST, ANY, most, target, step, chosen)
    else:
        done = total_fit(pieces, paragraph, slots, tight, LINE_COST, ANY, slots.total, -1.0, 0.0, chosen)
    return done if done > 0 else fill_slots(pieces, paragraph, slots, chosen)
