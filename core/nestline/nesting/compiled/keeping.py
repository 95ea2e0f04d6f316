"""Lines that are kept together at the ends of columns, compiled by Numba."""

from __future__ import annotations

from numba import njit

from nestline.nesting.compiled.lines import line_begin
from nestline.nesting.compiled.pieces import paragraph_end, raised, stand_depth, tallest_letters, tallest_of
from nestline.rows import BREAKING, FIRST, FIRST_FIT, KEEP_END, KEEP_NEXT, LAST, LINE, PARAGRAPH


@njit(cache=True)
def cut_lines(records, begin, written, count):
    """The records of a column without its last `count` lines: where they now end."""
    for _ in range(count):
        if written <= begin:
            break
        written = line_begin(records, written, begin)
    return written


@njit(cache=True)
def lines_among(pieces, records, begin, stop, step, paragraph):
    """How many lines belong to a paragraph, of records from one on before another is met; `step` is 1 or −1."""
    count, last = 0, -1.0
    for r in range(begin, stop, step):
        if int(pieces[int(records[r, FIRST]), PARAGRAPH]) != paragraph:
            break
        if records[r, LINE] != last:
            count += 1
            last = records[r, LINE]
    return count


@njit(cache=True)
def last_lines_of(pieces, records, begin, written, paragraph):
    """How many lines of a column, from its end upwards, belong to a paragraph."""
    return lines_among(pieces, records, written - 1, begin - 1, -1, paragraph)


@njit(cache=True)
def first_lines_of(pieces, records, begin, written, paragraph):
    """How many lines of a column, from its begin downwards, belong to a paragraph."""
    return lines_among(pieces, records, begin, written, 1, paragraph)


@njit(cache=True)
def keep_together(copy, records, begin, written, at, held):
    """Cut lines off a column's end that must stand with those of the next; returns the records and the next piece.

    `held` lines go over in any case. A column is never left empty for it.
    """
    pieces, rules = copy.pieces, copy.rules
    whole, first = written, at
    paragraph = int(pieces[at, PARAGRAPH])
    if int(pieces[at - 1, PARAGRAPH]) == paragraph:
        here = last_lines_of(pieces, records, begin, written, paragraph)
        over = held if here - held >= rules[paragraph, KEEP_END] else here
        written = cut_lines(records, begin, written, over)
    elif held > 0:
        written = cut_lines(records, begin, written, held)
    while written > begin:
        last = int(records[written - 1, LAST])
        before = int(pieces[last, PARAGRAPH])
        if int(pieces[last + 1, PARAGRAPH]) == before or rules[before, KEEP_NEXT] == 0:
            break
        written = cut_lines(records, begin, written, last_lines_of(pieces, records, begin, written, before))
    if written == begin:
        return whole, first
    return written, int(records[written - 1, LAST]) + 1


@njit(cache=True)
def stand_of(copy, frame, records, begin, written):
    """How far above the stand metric the last baseline of a column lies."""
    pieces = copy.pieces
    last = int(records[written - 1, LAST])
    own = tallest_of(pieces, int(records[line_begin(records, written, begin), FIRST]), last + 1)
    if copy.rules[int(pieces[last, PARAGRAPH]), BREAKING] == FIRST_FIT:
        return stand_depth(own, frame)
    first = last
    while first > 0 and pieces[first - 1, PARAGRAPH] == pieces[last, PARAGRAPH]:
        first -= 1
    return stand_depth(raised(own, tallest_letters(pieces, first, paragraph_end(pieces, last))), frame)
