"""The breaks that a paragraph's rule asks for, compiled by Numba: total fit, balanced setting, first fit."""

from __future__ import annotations

import numpy as np
from numba import njit

from nestline.nesting.compiled.beam import beam_fit
from nestline.nesting.compiled.borrowing import borrowed, kept
from nestline.nesting.compiled.first_fit import OUT_OF_SLOTS, fill_slots
from nestline.nesting.compiled.known_breaks import Course, course_of
from nestline.nesting.compiled.pieces import opening_width, piece_width
from nestline.nesting.compiled.total_fit import NO_WAY, TOO_MANY, fit_below
from nestline.nesting.compiled.weights import LINE_COST, PAST_COST, weights_of
from nestline.rows import BALANCED, BREAKING, X0, X1

ANY = 1e9
"""Lines may be as loose as they must; what that costs is in the weights."""

EVEN_LINES, LOOSE_LINES, ALL_FILLED = 1.5e5, 4e6, 9e8
"""What the best breaks may cost, one after the other: hardly a line above r = 2; a few at the loosest; none unfilled. Within a
bound the best is found, or that there is none; the lower it is, the fewer ways are followed."""


@njit(cache=True, error_model="numpy")
def total_fit(pieces, paragraph, slots, tight, line_cost, most_r, most, target, chosen):
    """The best breaks of a paragraph over its slots, no line looser than `most_r`.

    With `target` ≥ 0 (balanced setting) a line costs by how far its width is from the target, and no more than `most` slots
    are used. Returns the number of lines, or OUT_OF_SLOTS, or NO_WAY. What costs more than the breaks that `beam_fit` finds
    is not followed; they stand where nothing cheaper is found. Ties are broken by the earlier break, so that the same copy
    always breaks the same way.
    """
    first, stop = paragraph.first, paragraph.stop
    weights = weights_of(paragraph.rule, line_cost, tight, target, slots.past_from)
    alone = piece_width(pieces, first, first)
    opening = opening_width(pieces, first, stop) if first == 0 and tight == 0.0 else alone
    held = course_of(paragraph, slots, weights, alone, opening, most)
    if held.begin >= slots.total:
        return OUT_OF_SLOTS
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
def break_paragraph(pieces, paragraph, slots, tight, chosen):
    """The breaks that a paragraph's rule asks for, every line dearer by `tight`. Returns the lines, or OUT_OF_SLOTS."""
    if paragraph.rule[BREAKING] == BALANCED:
        lines = fill_slots(pieces, paragraph, slots, chosen)
        if lines <= 1:
            return lines
        most = chosen.slot[lines - 1] + 1 - chosen.slot[0]
        target = (pieces[paragraph.stop - 1, X1] - pieces[paragraph.first, X0]) / lines
        done = total_fit(pieces, paragraph, slots, tight, LINE_COST, ANY, most, target, chosen)
    else:
        done = total_fit(pieces, paragraph, slots, tight, LINE_COST, ANY, slots.total, -1.0, chosen)
    return done if done > 0 else fill_slots(pieces, paragraph, slots, chosen)
