"""The rows that nesting reads and writes, column by column, and what is read off a row. Everything in points.

A row a piece and a row a paragraph come from copy.shaped; a row of a frame's rules from nesting.frame; a record is
written for each slot that holds copy.
"""

from __future__ import annotations

import numpy as np
from numba import njit

# Columns of a record, one for each slot that holds copy.
LINE, FIRST, LAST, BASELINE, TOP, BOTTOM, LEFT, RIGHT, LEFT_CAUSE, RIGHT_CAUSE, PARAGRAPH_START, PAST, WHY = range(13)
COLUMN, CAP_X = range(13, 15)
RECORD_COLUMNS = 15
NO_CAP = -1e8
# What an end of a slot comes from, beside the outline (0) and the wraps (1 …).
BY_BOX, BY_CAP = -1.0, -2.0
# Why a baseline is where it is.
BY_HANG, BY_LEADING, BY_GEOMETRY, BY_EDGE = range(4)
# Columns of the pieces and rules (copy.shaped).
(
    X0,
    X1,
    CHANGE0,
    CHANGE1,
    SPACE0,
    SPACE1,
    PARAGRAPH,
    FORCED,
    ASC,
    DESC,
    BOX_UP,
    BOX_DOWN,
    CAP,
    EX,
    OPENS,
    UNDER,
    HYPHEN,
    LETTERS0,
    LETTERS1,
    HANG0,
    TABS0,
    TABS1,
    FILLS0,
    FILLS1,
) = range(24)
PIECE_COLUMNS = 24
LEADING, ALIGN, ALIGN_LAST, BEFORE, AFTER, INDENT, FIRST_INDENT, SIZE, SPACE_WIDTH = range(9)
BREAKING, LADDER, LEAST_SPACE, GREATEST_SPACE, GREATEST_TRACKING, LONE_WORD, FROM_RIGHT, GRID = range(9, 17)
KEEP_START, KEEP_END, KEEP_NEXT, DROP_LINES, DROP_WIDTH, NEW_COLUMN, EVEN = range(17, 24)
FIRST_FIT, OPTIMAL, BALANCED = range(3)
START, CENTER, END, JUSTIFY = range(4)
# What a break after a piece sets: nothing, a hyphen, or nothing after a hyphen that is in the copy.
NO_HYPHEN, SET_HYPHEN, OWN_HYPHEN = range(3)
# Columns of a frame's rules.
(
    BY_LINE_BOX,
    HANG_KIND,
    HANG_LENGTH,
    HANG_LEAST,
    STAND_KIND,
    LEAST_PT,
    LEAST_EM,
    Y_TOP,
    Y_BOTTOM,
    X_LEFT,
    X_RIGHT,
    TIGHT,
    STAND_LENGTH,
    COLUMNS,
    COLUMN_STEP,
    COLUMN_SHIFT,
    GOES_ON,
    LAID,
) = range(18)
FRAME_COLUMNS = 18
HANG_ASCENDER, HANG_CAP, HANG_EX, HANG_BOX, HANG_BY_LENGTH = range(5)
STAND_BASELINE, STAND_DESCENDER, STAND_BOX, STAND_BY_LENGTH = range(4)
# What a nest says of itself: the y of the first hang metric and of the last stand metric, the last baseline, the number
# of lines, how many lines after the first stand where geometry put them, and the last column that holds any.
END_HANG, END_STAND, END_BASELINE, END_LINES, END_BY_GEOMETRY, END_COLUMN = range(6)
ENDS = 6


@njit(cache=True)
def hang_height(piece, frame):
    """How far below the hang metric the baseline lies, for a line of such pieces."""
    kind = int(frame[HANG_KIND])
    if kind == HANG_ASCENDER:
        return piece[ASC]
    if kind == HANG_CAP:
        return piece[CAP]
    if kind == HANG_EX:
        return piece[EX]
    if kind == HANG_BOX:
        return piece[BOX_UP]
    return frame[HANG_LENGTH]


@njit(cache=True)
def stand_depth(piece, frame):
    """How far above the stand metric the baseline lies, for a line of such pieces."""
    kind = int(frame[STAND_KIND])
    if kind == STAND_BASELINE:
        return 0.0
    if kind == STAND_DESCENDER:
        return piece[DESC]
    if kind == STAND_BY_LENGTH:
        return frame[STAND_LENGTH]
    return piece[BOX_DOWN]


@njit(cache=True)
def step_down(rule, tall, by_box, above):
    """From a baseline to the next one, of a line of such pieces: the leading, or more where an object in line opens it.
    `above` is what `reach_below` says of the line above."""
    return above + tall[BOX_UP] if by_box else max(rule[LEADING], max(tall[OPENS], above))


@njit(cache=True)
def reach_below(tall, by_box):
    """What a line of such pieces asks of the step to the next: the depth of its line box, or of its objects in line."""
    return tall[BOX_DOWN] if by_box else tall[UNDER]


@njit(cache=True)
def piece_width(pieces, first, last):
    """The natural width of pieces first…last set as a line of their own."""
    return pieces[last, X1] - pieces[first, X0] + pieces[first, CHANGE0] + pieces[last, CHANGE1]


@njit(cache=True)
def least_slot(rules, paragraph, frame):
    return frame[LEAST_PT] + frame[LEAST_EM] * rules[paragraph, SIZE]


@njit(cache=True)
def indents(rules, paragraph, paragraph_start, first_slot):
    """Room at the start of a slot: the indent in each, the first-line indent only in a paragraph's first."""
    room = rules[paragraph, INDENT]
    if paragraph_start and first_slot:
        room += rules[paragraph, FIRST_INDENT]
    return room


@njit(cache=True)
def drop_depth(rules, paragraph):
    """How far below the first baseline of a paragraph its drop cap stands; 0 when it has none."""
    lines = rules[paragraph, DROP_LINES]
    return (lines - 1) * rules[paragraph, LEADING] if lines > 1 else 0.0


@njit(cache=True)
def on_grid(baseline, rule, frame):
    """The first baseline of the paragraph's grid from one on, in a column laid frame[LAID] further down than it stands;
    itself where there is no grid."""
    step = rule[GRID]
    if step <= 0:
        return baseline
    laid = frame[LAID]
    return np.ceil((baseline - laid) / step - 1e-9) * step + laid
