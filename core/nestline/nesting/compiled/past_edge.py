"""Lines past the edge, compiled by Numba: on below, in the width of the column, without a floor."""

from __future__ import annotations

import numpy as np
from numba import njit

from nestline.nesting.compiled.breaking import break_paragraph
from nestline.nesting.compiled.drop_caps import push_past
from nestline.nesting.compiled.first_fit import OUT_OF_SLOTS, Paragraph, Slots, fill_band, room_to_choose
from nestline.nesting.compiled.lines import (
    Above,
    Line,
    Reached,
    borrowed_rows,
    borrowed_written,
    first_baseline,
    write_record,
)
from nestline.nesting.compiled.pieces import (
    band_reach,
    begins_paragraph,
    gap_above,
    indents,
    paragraph_end,
    piece_width,
    put_row,
    raise_to,
    reach_below,
    tallest_letters,
    widest_piece,
)
from nestline.rows import (
    BASELINE,
    BOTTOM,
    BREAKING,
    BY_BOX,
    BY_LEADING,
    CAP_X,
    DROP_LINES,
    DROP_WIDTH,
    FIRST_FIT,
    FROM_RIGHT,
    IN_TALL,
    INDENT,
    NO_CAP,
    PARAGRAPH,
    SLOT_COLUMNS,
    SLOT_LEFT,
    SLOT_LEFT_CAUSE,
    SLOT_RIGHT,
    SLOT_RIGHT_CAUSE,
    TOP,
)


@njit(cache=True)
def above_past(copy, reached):
    """What stands above the next line past the edge; above the very first it is the edge that its hang metric is to
    have."""
    gap = 0.0 if reached.line == 0 else gap_above(copy.pieces, copy.rules, reached.at)
    return Above(reached.baseline, reached.reach, gap, reached.line == 0)


@njit(cache=True)
def fill_past(copy, frame, left, right, reached, out):
    """Set what is left of copy past the edge, in the width left…right. Returns the records written."""
    copy, out = borrowed_rows(copy), borrowed_written(out)
    pushed = np.int64(0)
    while reached.at < len(copy.pieces) and reached.written < len(out.records):
        if copy.rules[int(copy.pieces[reached.at, PARAGRAPH]), BREAKING] == FIRST_FIT:
            reached, pushed = fill_line_past(copy, frame, left, right, reached, pushed, out)
        else:
            reached = set_past(copy, frame, left, right, reached, out)
    return reached.written


@njit(cache=True)
def fill_line_past(copy, frame, left, right, reached, pushed, out):
    """Set one line past the edge by first fit. `pushed` lines, this one among them, stand beside a drop cap; returns
    how far copy has come, and how many lines still stand beside it. What is wider than the box stands alone, past its
    end too."""
    pieces, rules, at, slots = copy.pieces, copy.rules, reached.at, out.slots
    paragraph = int(pieces[at, PARAGRAPH])
    rule = rules[paragraph]
    starts = rule[DROP_LINES] > 1 and begins_paragraph(pieces, at)
    if starts:
        pushed = int(rule[DROP_LINES])
    aside = rule[DROP_WIDTH] if pushed > 0 else 0.0
    alone = left + piece_width(pieces, at, at) + indents(rules, paragraph, True, True) + aside
    slots[0, SLOT_LEFT], slots[0, SLOT_RIGHT] = left, max(right, alone)
    slots[0, SLOT_LEFT_CAUSE] = slots[0, SLOT_RIGHT_CAUSE] = 0.0
    cap_x = NO_CAP
    if starts:
        cap_x = left + rule[INDENT] if rule[FROM_RIGHT] == 0 else slots[0, SLOT_RIGHT] - aside - rule[INDENT]
    if rule[FROM_RIGHT] > 0:
        slots[0, SLOT_RIGHT] -= aside
    else:
        slots[0, SLOT_LEFT] += aside
    tall, records, begin = out.reckoned[IN_TALL], out.records, reached.written
    put_row(tall, pieces[at])
    # What the line holds says how high it is, and that where it stands.
    line = Line(reached.line, 0.0, 0.0, 0.0, float(BY_LEADING), 1.0)
    placed, written = fill_band(copy, at, line, slots, 1, records, begin, tall)
    baseline, _, _ = first_baseline(above_past(copy, reached), rule, tall, frame)
    up, down = band_reach(tall, frame)
    for k in range(begin, written):
        records[k, BASELINE], records[k, TOP], records[k, BOTTOM] = baseline, baseline - up, baseline + down
    if written > begin:
        records[begin, CAP_X] = cap_x
    return Reached(placed, written, reached.line + 1, baseline, reach_below(tall, frame), False, 0), pushed - 1


@njit(cache=True)
def set_past(copy, frame, left, right, reached, out):
    """Set a paragraph past the edge, its breaks chosen over all its lines at once. Returns how far copy has come."""
    pieces, rules, at = copy.pieces, copy.rules, reached.at
    paragraph, stop = int(pieces[at, PARAGRAPH]), paragraph_end(pieces, at)
    rule, starts = rules[paragraph], begins_paragraph(pieces, at)
    letters = tallest_letters(pieces, at, stop)
    width = max(right - left, widest_piece(pieces, at, stop) + indents(rules, paragraph, True, True))
    drop = starts and rule[DROP_LINES] > 1
    count = int(1.5 * piece_width(pieces, at, stop - 1) / width) + 4
    slots, chosen, lines = slots_past(rule, left, width, count, drop), room_to_choose(count), OUT_OF_SLOTS
    while lines < 0 and count < 1_000_000:
        slots, chosen = slots_past(rule, left, width, count, drop), room_to_choose(count)
        lines = break_paragraph(pieces, Paragraph(rule, at, stop, starts), slots, 0.0, chosen)
        count *= 2
    slot = np.zeros((1, SLOT_COLUMNS))
    slot[0, SLOT_LEFT_CAUSE] = slot[0, SLOT_RIGHT_CAUSE] = BY_BOX
    cap_x = NO_CAP
    if drop and rule[DROP_WIDTH] > 0:
        cap_x = left + rule[INDENT] if rule[FROM_RIGHT] == 0 else left + width - rule[DROP_WIDTH] - rule[INDENT]
    tall = out.reckoned[IN_TALL]
    for i in range(max(lines, 0)):
        put_row(tall, letters)
        raise_to(tall, pieces, chosen.first[i], chosen.last[i] + 1)
        up, down = band_reach(tall, frame)
        baseline, _, _ = first_baseline(above_past(copy, reached), rule, tall, frame)
        slot[0, SLOT_LEFT], slot[0, SLOT_RIGHT] = slots.lefts[chosen.slot[i]], slots.rights[chosen.slot[i]]
        line = Line(reached.line, baseline, baseline - up, baseline + down, float(BY_LEADING), 1.0)
        written = write_record(
            out.records,
            reached.written,
            line,
            chosen.first[i],
            chosen.last[i],
            slot,
            0,
            starts and i == 0,
            cap_x if i == 0 else NO_CAP,
        )
        next_piece = chosen.last[i] + 1
        reached = Reached(next_piece, written, reached.line + 1, baseline, reach_below(tall, frame), False, 0)
    return Reached(stop, reached.written, reached.line, reached.baseline, reached.reach, False, 0)


@njit(cache=True)
def slots_past(rule, left, width, count, drop):
    """So many slots of one width past the edge, the first of them pushed aside by a drop cap."""
    slots = Slots(np.full(count, left), np.full(count, left + width), np.arange(count), count, count + 1, False, 0, 0.0)
    if drop:
        push_past(rule, slots)
    return slots
