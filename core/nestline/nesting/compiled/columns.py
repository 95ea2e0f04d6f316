"""All columns of a frame, compiled by Numba: copy goes on from one to the next."""

from __future__ import annotations

import numpy as np
from numba import njit

from nestline.nesting.compiled.column import nest_column
from nestline.nesting.compiled.inlining import inlined
from nestline.nesting.compiled.keeping import first_lines_of, keep_together, last_lines_of, stand_of
from nestline.nesting.compiled.lines import Column, Written, borrowed_rows, borrowed_written
from nestline.nesting.compiled.pieces import FAR, begins_paragraph, hang_height
from nestline.nesting.compiled.space import borrowed_space
from nestline.rows import (
    BASELINE,
    BOTTOM,
    COLUMN,
    COLUMN_SHIFT,
    COLUMN_STEP,
    COLUMNS,
    END_BASELINE,
    END_BY_GEOMETRY,
    END_COLUMN,
    END_HANG,
    END_LINES,
    END_STAND,
    ENDS,
    FROM_ABOVE,
    GOES_ON,
    INTO,
    KEEP_START,
    LAID,
    LEADING,
    LINE,
    PARAGRAPH,
    TOP,
    X_LEFT,
    X_RIGHT,
    Y_BOTTOM,
    Y_TOP,
)


@inlined
def lay_column(frame, own, number):
    """Let a copy of a frame's rules be those of one of its columns, as it is laid in the space. Returns how far
    down."""
    shift, step = number * frame[COLUMN_SHIFT], number * frame[COLUMN_STEP]
    own[Y_TOP], own[Y_BOTTOM], own[LAID] = frame[Y_TOP] + shift, frame[Y_BOTTOM] + shift, shift
    own[X_LEFT], own[X_RIGHT] = frame[X_LEFT] + step, frame[X_RIGHT] + step
    own[GOES_ON] = 1.0 if number + 1 < int(frame[COLUMNS]) or frame[GOES_ON] > 0 else 0.0
    return shift


@njit(cache=True)
def held_before(copy, records, before, begin, written, first, at):
    """How many lines more the column before must leave to this one, so that enough lines of a paragraph that goes on
    here begin it; 0 where there are enough. The column before has its records from `before` on, this one from `begin`
    on, and its pieces from `first` to `at`."""
    pieces, rules = copy.pieces, copy.rules
    paragraph = int(pieces[first, PARAGRAPH])
    ends_here = at >= len(pieces) or int(pieces[at, PARAGRAPH]) != paragraph
    if not ends_here or begins_paragraph(pieces, first):
        return 0
    count = first_lines_of(pieces, records, begin, written, paragraph)
    if count >= rules[paragraph, KEEP_START]:
        return 0
    here = last_lines_of(pieces, records, before, begin, paragraph)
    return int(min(rules[paragraph, KEEP_START] - count, here))


@inlined
def put_beside(records, begin, written, number, shift):
    """Put a column's records where it stands."""
    for r in range(begin, written):
        records[r, BASELINE] -= shift
        records[r, TOP] -= shift
        records[r, BOTTOM] -= shift
        records[r, COLUMN] = number


@inlined
def below_arms(space, copy, frame, at, column, lasts):
    """The y of the hang metric of the first line of an arm that others run into: a leading below their last lines."""
    lowest = -FAR
    for i in range(len(space.above)):
        if space.above[i, INTO] == column:
            lowest = max(lowest, lasts[space.above[i, FROM_ABOVE]])
    if lowest == -FAR:
        return lowest
    leading = copy.rules[int(copy.pieces[at, PARAGRAPH]), LEADING]
    return lowest + leading - hang_height(copy.pieces[at], frame)


@njit(cache=True)
def nest_from(space, copy, frame, first_piece, hang_y, out):
    """Nest copy downwards from the first line's hang metric at `hang_y` (or the first y below that does).

    Columns lie below one another in `space`, each frame[COLUMN_SHIFT] further down, and are put side by side in the
    records. Returns (records written, next piece); `out.ends` receives what nestline.rows names.
    """
    space, copy, out = borrowed_space(space), borrowed_rows(copy), borrowed_written(out)
    pieces, records, ends = copy.pieces, out.records, out.ends
    n, columns = len(pieces), int(frame[COLUMNS])
    ends[:] = 0.0
    own, own_ends = frame.copy(), np.zeros(ENDS)
    inner = Written(records, own_ends, out.slots, out.reckoned)
    begins, pieces_at = np.zeros(columns + 1, np.int64), np.zeros(columns + 1, np.int64)
    held, tried = np.zeros(columns + 1, np.int64), np.zeros(columns + 1, np.int64)
    lasts = np.full(columns, -FAR)
    hangs, stands, geometric = np.empty(columns), np.empty(columns), np.zeros(columns)
    at, written, c = first_piece, np.int64(0), 0
    while c < columns:
        shift = lay_column(frame, own, c)
        begin, begins[c], pieces_at[c] = written, written, at
        hangs[c], stands[c] = FAR, -FAR
        if at < n:
            line = int(records[begin - 1, LINE]) + 1 if begin > 0 else 0
            hang = max(hang_y, below_arms(space, copy, own, at, c, lasts))
            written, at = nest_column(space, copy, own, Column(hang + shift, line), at, begin, inner)
            geometric[c] = own_ends[END_BY_GEOMETRY]
            if written > begin:
                hangs[c], stands[c] = own_ends[END_HANG] - shift, own_ends[END_STAND] - shift
                if at < n and own[GOES_ON] > 0 and written < len(records):
                    kept, at = keep_together(copy, records, begin, written, at, held[c])
                    if kept < written:
                        written = kept
                        stands[c] = (
                            records[written - 1, BASELINE] - shift + stand_of(copy, own, records, begin, written)
                        )
            put_beside(records, begin, written, c, shift)
            lasts[c] = records[written - 1, BASELINE] if written > begin else -FAR
            if c > 0 and written > begin and tried[c] == 0:
                over = held_before(copy, records, begins[c - 1], begin, written, pieces_at[c], at)
                if over > 0:
                    tried[c], held[c - 1] = 1, over
                    at, written = pieces_at[c - 1], begins[c - 1]
                    c -= 1
                    continue
        c += 1
    ends[END_HANG], ends[END_STAND] = FAR, -FAR
    for c in range(columns):
        ends[END_HANG], ends[END_STAND] = min(ends[END_HANG], hangs[c]), max(ends[END_STAND], stands[c])
        ends[END_BY_GEOMETRY] += geometric[c]
    if written > 0:
        ends[END_BASELINE] = records[written - 1, BASELINE]
        ends[END_LINES] = records[written - 1, LINE] + 1
        ends[END_COLUMN] = records[written - 1, COLUMN]
    else:
        ends[:] = 0.0
    return written, at
