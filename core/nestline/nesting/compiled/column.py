"""One column, compiled by Numba: copy set line after line downwards, by first fit or a paragraph at once."""

from __future__ import annotations

from numba import njit

from nestline.nesting.compiled.drop_caps import beside_cap, place_cap
from nestline.nesting.compiled.first_fit import fill_band
from nestline.nesting.compiled.inlining import inlined
from nestline.nesting.compiled.lines import (
    Line,
    Reached,
    above_of,
    first_baseline,
    line_begin,
)
from nestline.nesting.compiled.paragraph import set_paragraph
from nestline.nesting.compiled.pieces import (
    FAR,
    band_reach,
    begins_paragraph,
    drop_depth,
    gap_above,
    hang_height,
    indents,
    least_slot,
    on_grid,
    paragraph_end,
    piece_width,
    put_row,
    raise_to,
    reach_below,
    stand_depth,
    taller,
)
from nestline.nesting.compiled.space import EPSILON, slots_in_band
from nestline.nesting.compiled.usable import Wanted, usable_from
from nestline.rows import (
    BOTTOM,
    BREAKING,
    BY_GEOMETRY,
    CAP_DOWN,
    CAP_LEFT,
    CAP_PUSH,
    CAP_X,
    DROP_WIDTH,
    END_BASELINE,
    END_BY_GEOMETRY,
    END_HANG,
    END_LINES,
    END_STAND,
    FIRST,
    FIRST_FIT,
    GOES_ON,
    IN_BEFORE,
    IN_CAP,
    IN_TALL,
    LEFT,
    LEFT_CAUSE,
    NEW_COLUMN,
    PARAGRAPH,
    RIGHT,
    RIGHT_CAUSE,
    SLOT_LEFT,
    SLOT_LEFT_CAUSE,
    SLOT_RIGHT,
    SLOT_RIGHT_CAUSE,
    STAND_BOX,
    STAND_KIND,
    TOP,
)


@njit(cache=True)
def nest_column(space, copy, frame, column, at, written, out):
    """Nest copy from piece `at` into one column downwards, and its records from `written` on. Returns the records
    written and the next piece; `out.ends` receives what the column says of itself."""
    pieces, rules, ends = copy.pieces, copy.rules, out.ends
    ends[:] = 0.0
    out.reckoned[IN_CAP, CAP_PUSH], out.reckoned[IN_CAP, CAP_DOWN], out.reckoned[IN_CAP, CAP_LEFT] = 0.0, -FAR, 0.0
    reached = Reached(at, written, column.first_line, 0.0, 0.0, False, 0)
    # The last line, its first piece and record; a piece of −1 where its breaks were chosen with those of others.
    last, last_at, last_written, last_was_cut = Line(0, 0.0, 0.0, 0.0, 0.0, 0.0), at, written, False
    skipped = 0
    while reached.at < len(pieces):
        before = reached
        paragraph = int(pieces[before.at, PARAGRAPH])
        if before.line > column.first_line and frame[GOES_ON] > 0 and rules[paragraph, NEW_COLUMN] > 0:
            if begins_paragraph(pieces, before.at):
                break
        if rules[paragraph, BREAKING] != FIRST_FIT:
            reached = set_paragraph(space, copy, frame, column, before, out)
            ends[END_BY_GEOMETRY] += reached.by_geometry
            last_was_cut = reached.cut
            if reached.line > before.line:
                last_at = -1
            if reached.at < paragraph_end(pieces, before.at) or reached.cut or reached.line == before.line:
                break
            continue
        reached, line = set_line(space, copy, frame, column, before, skipped, out)
        if line.baseline == FAR:
            reached = before
            break
        if reached.at == before.at:
            skipped += 1  # no slot of this band holds the next piece: it stays empty
        else:
            last, last_at, last_written, last_was_cut = line, before.at, before.written, reached.cut
            ends[END_BY_GEOMETRY] += reached.by_geometry
        if reached.cut:
            break
    at, written = reached.at, reached.written
    if reached.line > column.first_line and not last_was_cut:
        if last_at < 0:
            widen_last_line(space, copy, frame, written, out)
        elif frame[STAND_KIND] != STAND_BOX:
            at, written = fill_last_again(space, copy, frame, last, last_at, last_written, at, written, out)
    ends[END_LINES] = reached.line - column.first_line
    return written, at


@inlined
def set_line(space, copy, frame, column, reached, skipped, out):
    """Set one line by first fit: its band is sought for its first piece, and again where pieces that it holds reach
    further.

    Returns how far copy has come and the line (its baseline is FAR where there is no band for it); where its slots hold
    nothing, copy has come no further. `skipped` bands were found empty before.
    """
    pieces, rules, at = copy.pieces, copy.rules, reached.at
    paragraph = int(pieces[at, PARAGRAPH])
    rule, least = rules[paragraph], least_slot(rules, paragraph, frame)
    above = above_of(column, reached, gap_above(pieces, rules, at))
    deeper = drop_depth(rules, paragraph) if begins_paragraph(pieces, at) else 0.0
    first = piece_width(pieces, at, at) + indents(rules, paragraph, True, True)
    need = max(least, first) if above.first else least
    if deeper > 0:
        need = max(need, rule[DROP_WIDTH] + first)
    tall, before, cap = out.reckoned[IN_TALL], out.reckoned[IN_BEFORE], out.reckoned[IN_CAP]
    slots, records = out.slots, out.records
    put_row(tall, pieces[at])
    placed, written, cut = at, reached.written, False
    line = Line(reached.line, FAR, 0.0, 0.0, 0.0, 0.0)
    for _ in range(4):
        start, up, why = first_baseline(above, rule, tall, frame)
        if above.first and skipped > 0:
            start = max(start, reached.baseline + 0.5)
        start = on_grid(start, rule, frame)
        _, down = band_reach(tall, frame)
        stand = stand_depth(tall, frame)
        wanted = Wanted(up, down + deeper, stand + deeper, need, least)
        found, cut, count = usable_from(space, start, wanted, rule, frame, slots)
        if found == FAR:
            return reached, Line(reached.line, FAR, 0.0, 0.0, 0.0, 0.0)
        top, bottom = found - up, found + (stand if cut else down)
        line = Line(reached.line, found, top, bottom, float(BY_GEOMETRY) if found > start + 1e-6 else why, 0.0)
        if deeper > 0:
            place_cap(space, rule, found - up, found + deeper, need, slots, cap)
            count = slots_in_band(space, top, bottom, least, slots)
        count = beside_cap(slots, count, rule, top, least, cap)
        put_row(before, tall)
        placed, written = fill_band(copy, at, line, slots, count, records, reached.written, tall)
        if not taller(tall, before):
            break
    if placed == at:
        return Reached(at, written, reached.line, line.baseline, reach_below(tall, frame), cut, 0), line
    if deeper > 0 and reached.written < len(records):
        records[reached.written, CAP_X] = cap[CAP_LEFT]
    by_geometry = 0
    if above.first:
        out.ends[END_HANG] = line.baseline - hang_height(tall, frame)
    elif line.why == BY_GEOMETRY:
        by_geometry = 1
    out.ends[END_STAND], out.ends[END_BASELINE] = line.baseline + stand_depth(tall, frame), line.baseline
    return Reached(placed, written, reached.line + 1, line.baseline, reach_below(tall, frame), cut, by_geometry), line


@njit(cache=True)
def fill_last_again(space, copy, frame, line, first, begin, at, written, out):
    """Cut the last line's band to the stand metric, where it may hold more than its whole band did: pieces from `first`
    on, in records from `begin` on. Returns the next piece and the records written."""
    pieces, rules, records = copy.pieces, copy.rules, out.records
    paragraph = int(pieces[first, PARAGRAPH])
    tall, before = out.reckoned[IN_TALL], out.reckoned[IN_BEFORE]
    put_row(tall, pieces[first])
    raise_to(tall, pieces, first, at)
    stand, (_, down) = stand_depth(tall, frame), band_reach(tall, frame)
    if stand >= down:
        return at, written
    put_row(before, tall)
    baseline = out.ends[END_BASELINE]
    bottom, least = baseline + stand, least_slot(rules, paragraph, frame)
    count = slots_in_band(space, line.top, bottom, least, out.slots)
    count = beside_cap(out.slots, count, rules[paragraph], line.top, least, out.reckoned[IN_CAP])
    keep = records[begin:written].copy()
    again = Line(line.number, baseline, line.top, bottom, line.why, 0.0)
    placed, now = fill_band(copy, first, again, out.slots, count, records, begin, tall)
    if placed < at or taller(tall, before):
        for r in range(begin, written):
            put_row(records[r], keep[r - begin])
        return at, written
    records[begin, CAP_X] = keep[0, CAP_X]
    return placed, now


@njit(cache=True)
def widen_last_line(space, copy, frame, written, out):
    """Cut the last line's band to the stand metric: its slots may be wider for that."""
    records, slots = out.records, out.slots
    if written == 0:
        return
    first = line_begin(records, written, 0)
    paragraph = int(copy.pieces[int(records[first, FIRST]), PARAGRAPH])
    stand = out.ends[END_STAND] - out.ends[END_BASELINE]
    top, bottom = records[first, TOP], out.ends[END_BASELINE] + stand
    if bottom >= records[first, BOTTOM]:
        return
    least = least_slot(copy.rules, paragraph, frame)
    found = slots_in_band(space, top, bottom, least, slots)
    for i in range(beside_cap(slots, found, copy.rules[paragraph], top, least, out.reckoned[IN_CAP])):
        left, right = slots[i, SLOT_LEFT], slots[i, SLOT_RIGHT]
        for r in range(first, written):
            if left <= records[r, LEFT] + EPSILON and right >= records[r, RIGHT] - EPSILON:
                alone = True
                for other in range(first, written):
                    if other != r and records[other, RIGHT] > left and records[other, LEFT] < right:
                        alone = False
                if alone:
                    records[r, LEFT], records[r, RIGHT] = left, right
                    records[r, LEFT_CAUSE], records[r, RIGHT_CAUSE] = (
                        slots[i, SLOT_LEFT_CAUSE],
                        slots[i, SLOT_RIGHT_CAUSE],
                    )
                    records[r, BOTTOM] = bottom
