"""What is read off the rows of pieces, paragraphs and frames, compiled by Numba. Everything in points."""

from __future__ import annotations

import numpy as np
from numba import njit

from nestline.rows import (
    AFTER,
    ALIGN,
    ASC,
    BEFORE,
    BOX_DOWN,
    BOX_UP,
    BY_COPY,
    BY_LINE_BOX,
    CAP,
    CHANGE0,
    CHANGE1,
    DESC,
    DROP_LINES,
    EX,
    FIRST_INDENT,
    FORCED,
    GRADE,
    GRID,
    GRID_FROM,
    HANG_ASCENDER,
    HANG_BOX,
    HANG_CAP,
    HANG_EX,
    HANG_KIND,
    HANG_LENGTH,
    HYPHEN,
    INDENT,
    JUSTIFY,
    LAID,
    LEADING,
    LEAST_EM,
    LEAST_PT,
    LEAST_ROOM,
    NO_GRADE,
    NO_HYPHEN,
    OPENS,
    PARAGRAPH,
    PIECE_COLUMNS,
    RAGGED_BELOW,
    RAGGED_ROOM,
    SIZE,
    SPACE0,
    STAND_BASELINE,
    STAND_BY_LENGTH,
    STAND_DESCENDER,
    STAND_KIND,
    STAND_LENGTH,
    UNDER,
    WEAK,
    X0,
    X1,
    X_LEFT,
    X_RIGHT,
)

FAR = 1e9
"""Further than anything can be."""


@njit(cache=True)
def put_row(row, of):
    """Let a row be as another. (A slice that is assigned brings the wording of NumPy's refusals into all loops: ten
    seconds of compiling.)"""
    for c in range(len(of)):
        row[c] = of[c]


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
def band_reach(piece, frame):
    """How far the band of a line of such pieces reaches above its baseline, and below it: by its letters or its line
    box."""
    if frame[BY_LINE_BOX] > 0:
        return piece[BOX_UP], piece[BOX_DOWN]
    return piece[ASC], piece[DESC]


@njit(cache=True)
def step_down(rule, tall, frame, above):
    """From a baseline to the next one, of a line of such pieces: the leading, or more where an object in line opens it.
    `above` is what `reach_below` says of the line above."""
    return above + tall[BOX_UP] if frame[BY_LINE_BOX] > 0 else max(rule[LEADING], max(tall[OPENS], above))


@njit(cache=True)
def reach_below(tall, frame):
    """What a line of such pieces asks of the step to the next: the depth of its line box, or of its objects in line."""
    return tall[BOX_DOWN] if frame[BY_LINE_BOX] > 0 else tall[UNDER]


@njit(cache=True)
def piece_width(pieces, first, last):
    """The natural width of pieces first…last set as a line of their own."""
    return pieces[last, X1] - pieces[first, X0] + pieces[first, CHANGE0] + pieces[last, CHANGE1]


@njit(cache=True)
def opening_width(pieces, first, stop):
    """The width of the first two words of some pieces; of the first piece where there are no more than two."""
    last, p = -1, first
    while p + 1 < stop and pieces[p, FORCED] == 0:
        if pieces[p + 1, SPACE0] - pieces[first, SPACE0] == 2 and last < 0:
            last = p
        p += 1
    return piece_width(pieces, first, last if last >= 0 else first)


@njit(cache=True)
def opening_room(copy, paragraph, first, stop, need):
    """The room that a first line of justified copy asks for where an outline opens downwards: that of the fewest words
    that fill `need`, so that its slot is filled as they are; `need` itself where a word would take it half as far
    again, or more."""
    pieces, indent, found = copy.pieces, indents(copy.rules, paragraph, True, True), need
    for p in range(first, stop):
        room = piece_width(pieces, first, p) + indent
        if pieces[p, FORCED] > 0 or room > 1.5 * need:
            break
        if room >= need and pieces[p, HYPHEN] == NO_HYPHEN:
            if pieces[p, GRADE] == NO_GRADE:
                return room
            if found == need and pieces[p, GRADE] == WEAK:
                found = room
    return found


@njit(cache=True)
def least_slot(rules, paragraph, frame):
    """The narrowest slot that lines of a paragraph use. By its copy: lines need room for some words, justified ones for
    words to share, but in a narrow column they take half of it."""
    size = rules[paragraph, SIZE]
    least = frame[LEAST_PT] + frame[LEAST_EM] * size
    if frame[BY_COPY] > 0:
        room = rules[paragraph, RAGGED_ROOM if frame[BY_COPY] == RAGGED_BELOW else LEAST_ROOM]
        least = max(least, min(room, (frame[X_RIGHT] - frame[X_LEFT]) / 2))
    return least


@njit(cache=True)
def ragged_below(rule, frame):
    """How narrow a slot's room must be for the lines of a justified paragraph to be set ragged there; 0 where they
    never are."""
    if frame[BY_COPY] != RAGGED_BELOW or rule[ALIGN] != JUSTIFY:
        return 0.0
    return min(rule[LEAST_ROOM], (frame[X_RIGHT] - frame[X_LEFT]) / 2)


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
    laid = frame[LAID] + frame[GRID_FROM]
    return np.ceil((baseline - laid) / step - 1e-9) * step + laid


@njit(cache=True)
def begins_paragraph(pieces, at):
    """Whether a paragraph, or what there is of it, begins with a piece."""
    return at == 0 or pieces[at - 1, PARAGRAPH] != pieces[at, PARAGRAPH]


@njit(cache=True)
def paragraph_end(pieces, at):
    """The piece after the last one of the paragraph that `at` belongs to."""
    stop = at + 1
    while stop < len(pieces) and pieces[stop, PARAGRAPH] == pieces[at, PARAGRAPH]:
        stop += 1
    return stop


@njit(cache=True)
def gap_above(pieces, rules, at):
    """The room between the paragraph before and the one that piece `at` begins; 0 elsewhere."""
    if at == 0 or not begins_paragraph(pieces, at):
        return 0.0
    return rules[int(pieces[at - 1, PARAGRAPH]), AFTER] + rules[int(pieces[at, PARAGRAPH]), BEFORE]


@njit(cache=True)
def widest_piece(pieces, first, stop):
    """The width of the widest of some pieces, each set alone."""
    widest = 0.0
    for p in range(first, stop):
        widest = max(widest, piece_width(pieces, p, p))
    return widest


@njit(cache=True)
def raise_to(tall, pieces, first, stop):
    """Let a row of heights reach as far as some pieces do."""
    for p in range(first, stop):
        for c in range(ASC, UNDER + 1):
            if pieces[p, c] > tall[c]:
                tall[c] = pieces[p, c]


@njit(cache=True)
def raise_row(tall, by):
    """Let a row be nowhere less than another. (NumPy's own of two rows takes a second to compile at each place.)"""
    for c in range(len(by)):
        if by[c] > tall[c]:
            tall[c] = by[c]


@njit(cache=True)
def raised(tall, by):
    """A row that is nowhere less than either of two."""
    higher = tall.copy()
    raise_row(higher, by)
    return higher


@njit(cache=True)
def taller(tall, than):
    """Whether a row of heights reaches further than another, anywhere."""
    for c in range(ASC, UNDER + 1):
        if tall[c] > than[c] + 1e-9:
            return True
    return False


@njit(cache=True)
def tallest_of(pieces, first, stop):
    """The greatest heights of some pieces, in a row like a piece's."""
    tall = pieces[first].copy()
    raise_to(tall, pieces, first + 1, stop)
    return tall


@njit(cache=True)
def tallest_letters(pieces, first, stop):
    """The greatest heights of those pieces that hold no object in line; those of the lowest where each holds one."""
    tall = np.full(PIECE_COLUMNS, -FAR)
    lowest = first
    for p in range(first, stop):
        if not holds_object(pieces[p]):
            raise_row(tall, pieces[p])
        if pieces[p, ASC] + pieces[p, DESC] < pieces[lowest, ASC] + pieces[lowest, DESC]:
            lowest = p
    return tall if tall[ASC] > -FAR else pieces[lowest].copy()


@njit(cache=True)
def holds_object(piece):
    """Whether a piece, or the tallest of some, holds an object in line."""
    return piece[OPENS] > 0 or piece[UNDER] > 0
