"""Lines, compiled by Numba: copy into slots, baseline after baseline.

Copy arrives as a row a piece and a row a paragraph (see copy.shaped). A line on baseline b needs a band from
b − above to b + below; its slots are where the whole band is free (docs/architecture.md, "From outline to lines").
"""

from __future__ import annotations

import numpy as np
from numba import njit

from nestline.nesting.breaking import OUT_OF_SLOTS, TIGHT_COST, break_paragraph, fill_one
from nestline.nesting.pieces import (
    AFTER,
    ALIGN,
    ALIGN_LAST,
    ASC,
    BASELINE,
    BEFORE,
    BOTTOM,
    BOX_DOWN,
    BOX_UP,
    BREAKING,
    BY_BOX,
    BY_CAP,
    BY_GEOMETRY,
    BY_HANG,
    BY_LEADING,
    BY_LINE_BOX,
    CAP_X,
    CENTER,
    CHANGE0,
    COLUMN,
    COLUMN_SHIFT,
    COLUMN_STEP,
    COLUMNS,
    DESC,
    DROP_LINES,
    DROP_WIDTH,
    END,
    END_BASELINE,
    END_BY_GEOMETRY,
    END_COLUMN,
    END_HANG,
    END_LINES,
    END_STAND,
    ENDS,
    EVEN,
    FILLS0,
    FILLS1,
    FIRST,
    FIRST_FIT,
    FIRST_INDENT,
    FORCED,
    FROM_RIGHT,
    GOES_ON,
    GREATEST_SPACE,
    GREATEST_TRACKING,
    GRID,
    HANG0,
    HYPHEN,
    INDENT,
    JUSTIFY,
    KEEP_END,
    KEEP_NEXT,
    KEEP_START,
    LADDER,
    LAID,
    LAST,
    LEFT,
    LEFT_CAUSE,
    LETTERS0,
    LETTERS1,
    LINE,
    NEW_COLUMN,
    NO_CAP,
    OPENS,
    PARAGRAPH,
    PARAGRAPH_START,
    PAST,
    PIECE_COLUMNS,
    RIGHT,
    RIGHT_CAUSE,
    SET_HYPHEN,
    SPACE0,
    SPACE1,
    SPACE_WIDTH,
    STAND_BOX,
    STAND_KIND,
    START,
    TABS0,
    TABS1,
    TIGHT,
    TOP,
    UNDER,
    WHY,
    X0,
    X_LEFT,
    X_RIGHT,
    Y_BOTTOM,
    Y_TOP,
    drop_depth,
    hang_height,
    indents,
    least_slot,
    on_grid,
    piece_width,
    reach_below,
    stand_depth,
    step_down,
)
from nestline.nesting.space import EPSILON, FAR, next_usable, slots_in_band


@njit(cache=True)
def hyphens_before(pieces, records, written):
    """How many records in a row, up to the last one written, end in a hyphen that was set."""
    count = 0
    while count < min(written, len(records)) and (
        pieces[int(records[written - 1 - count, LAST]), HYPHEN] == SET_HYPHEN
    ):
        count += 1
    return count


@njit(cache=True)
def fill_band(pieces, rules, frame, at, line, baseline, top, bottom, slots, count, why, records, written, tall):
    """First fit of pieces from `at` into the slots of one band. Returns the next piece and the next record.

    `tall` gathers the greatest heights of the pieces placed (a row like a piece's), and has those of the first.
    """
    paragraph = int(pieces[at, PARAGRAPH])
    starts_paragraph = at == 0 or int(pieces[at - 1, PARAGRAPH]) != paragraph
    n = len(pieces)
    begin = at
    from_right = rules[paragraph, FROM_RIGHT] > 0
    for place in range(count):
        s = count - 1 - place if from_right else place
        room = slots[s, 1] - slots[s, 0] - indents(rules, paragraph, starts_paragraph, at == begin)
        allowed = hyphens_before(pieces, records, written) < rules[paragraph, LADDER]
        last = fill_one(pieces, at, n, room, allowed)
        if last < at:
            continue
        if rules[paragraph, EVEN] == 0:
            for k in range(at, last + 1):
                for c in range(ASC, UNDER + 1):
                    if pieces[k, c] > tall[c]:
                        tall[c] = pieces[k, c]
        if written < len(records):
            records[written, LINE], records[written, FIRST], records[written, LAST] = line, at, last
            records[written, BASELINE], records[written, TOP], records[written, BOTTOM] = baseline, top, bottom
            records[written, LEFT], records[written, RIGHT] = slots[s, 0], slots[s, 1]
            records[written, LEFT_CAUSE], records[written, RIGHT_CAUSE] = slots[s, 2], slots[s, 3]
            records[written, PARAGRAPH_START] = 1.0 if starts_paragraph and at == begin else 0.0
            records[written, PAST], records[written, WHY], records[written, CAP_X] = 0.0, why, NO_CAP
            written += 1
        at = last + 1
        if pieces[last, FORCED] == 1 or at >= n:
            break
    return at, written


@njit(cache=True)
def paragraph_end(pieces, at):
    """The piece after the last one of the paragraph that `at` belongs to."""
    stop = at + 1
    while stop < len(pieces) and pieces[stop, PARAGRAPH] == pieces[at, PARAGRAPH]:
        stop += 1
    return stop


@njit(cache=True)
def tallest_of(pieces, first, stop):
    """The greatest heights of some pieces, in a row like a piece's."""
    tall = pieces[first].copy()
    for p in range(first + 1, stop):
        for c in range(ASC, UNDER + 1):
            tall[c] = max(tall[c], pieces[p, c])
    return tall


@njit(cache=True)
def gap_above(pieces, rules, at):
    """The room between the paragraph before and the one that piece `at` begins; 0 elsewhere."""
    if at == 0 or pieces[at - 1, PARAGRAPH] == pieces[at, PARAGRAPH]:
        return 0.0
    return rules[int(pieces[at - 1, PARAGRAPH]), AFTER] + rules[int(pieces[at, PARAGRAPH]), BEFORE]


@njit(cache=True)
def place_cap(space, rule, top, bottom, need, slots, cap):
    """Find the place of a drop cap: the first slot that is free from the top of its letters to its baseline.

    `cap` receives the x up to which copy beside it is pushed, the y down to which it is, and the x of its left end.
    """
    count = slots_in_band(space, top, bottom, need, slots)
    if count == 0:
        return
    if rule[FROM_RIGHT] > 0:
        cap[2] = slots[count - 1, 1] - rule[INDENT] - rule[DROP_WIDTH]
        cap[0] = cap[2] + rule[INDENT]
    else:
        cap[2] = slots[0, 0] + rule[INDENT]
        cap[0] = slots[0, 0] + rule[DROP_WIDTH]
    cap[1] = bottom


@njit(cache=True)
def beside_cap(slots, count, rule, top, least, cap):
    """What a drop cap above leaves of the slots of a band. Returns how many are left."""
    if top >= cap[1] - EPSILON:
        return count
    kept = 0
    for i in range(count):
        if rule[FROM_RIGHT] > 0:
            if slots[i, 1] > cap[0]:
                slots[i, 1], slots[i, 3] = cap[0], BY_CAP
        elif slots[i, 0] < cap[0]:
            slots[i, 0], slots[i, 2] = cap[0], BY_CAP
        if slots[i, 1] - slots[i, 0] >= least - EPSILON and slots[i, 1] > slots[i, 0]:
            slots[kept] = slots[i]
            kept += 1
    return kept


MOST_OPENED = 8
"""How often the breaks of a paragraph with objects in line are chosen, before all its lines are opened for them."""


@njit(cache=True)
def set_paragraph(
    space, pieces, rules, frame, at, hang_y, first_line, line, baseline, previous_down, records, written, slots, ends, cap
):  # fmt: skip
    """Set a paragraph whose breaks are chosen over all its slots at once (optimal, balanced).

    Its bands are those of its tallest letters; an object in line opens that of its own line, for which the breaks are
    chosen again until each stands in a band that was opened for it. What no slot before the floor holds is set as if
    slots as wide as the column's box went on below; those lines are not written. Returns next piece, records, lines,
    last baseline, what that line asks of the step below it, whether the last band was cut to the stand metric, and how
    many lines stand where geometry put them.
    """
    stop = paragraph_end(pieces, at)
    letters = tallest_of(pieces, at, stop)
    holds_objects = letters[OPENS] > 0 or letters[UNDER] > 0
    if holds_objects:
        letters = tallest_letters(pieces, at, stop)
    opened = np.zeros((0, PIECE_COLUMNS))
    for attempt in range(MOST_OPENED):
        if attempt == MOST_OPENED - 1:
            letters = tallest_of(pieces, at, stop)
        done, held = set_paragraph_in(
            space, pieces, rules, frame, at, stop, hang_y, first_line, line, baseline, previous_down, records, written,
            slots, ends, cap, letters, opened, holds_objects,
        )  # fmt: skip
        higher = False
        for b in range(len(held)):
            known = np.maximum(letters, opened[b]) if b < len(opened) else letters
            for c in range(ASC, UNDER + 1):
                higher = higher or held[b, c] > known[c] + 1e-9
            held[b] = np.maximum(held[b], known)
        if not higher:
            break
        opened = held
    return done


@njit(cache=True)
def tallest_letters(pieces, first, stop):
    """The greatest heights of those pieces that hold no object in line; those of the lowest where each holds one."""
    tall = np.full(PIECE_COLUMNS, -FAR)
    lowest = first
    for p in range(first, stop):
        if pieces[p, OPENS] <= 0 and pieces[p, UNDER] <= 0:
            tall = np.maximum(tall, pieces[p])
        if pieces[p, ASC] + pieces[p, DESC] < pieces[lowest, ASC] + pieces[lowest, DESC]:
            lowest = p
    return tall if tall[ASC] > -FAR else pieces[lowest].copy()


@njit(cache=True)
def set_paragraph_in(
    space, pieces, rules, frame, at, stop, hang_y, first_line, line, baseline, previous_down, records, written, slots,
    ends, cap, letters, opened, holds_objects,
):  # fmt: skip
    """As `set_paragraph`, pieces at … stop − 1, in bands of the height of some letters (a row like a piece's), of which the
    first have the heights in the rows of `opened`. Returns what that does, and for each band a row with the greatest
    heights of the pieces in it that hold objects in line (no rows without any)."""
    paragraph = int(pieces[at, PARAGRAPH])
    rule = rules[paragraph]
    starts = at == 0 or int(pieces[at - 1, PARAGRAPH]) != paragraph
    by_box = frame[BY_LINE_BOX] > 0
    floor, least = frame[Y_BOTTOM], least_slot(rules, paragraph, frame)
    tall = letters
    gap = gap_above(pieces, rules, at) if line > first_line else 0.0
    drop = starts and rule[DROP_LINES] > 1
    natural = piece_width(pieces, at, stop - 1)
    widest = 0.0
    for p in range(at, stop):
        widest = max(widest, piece_width(pieces, p, p))
    box = max(frame[X_RIGHT] - frame[X_LEFT], widest + indents(rules, paragraph, True, True))
    # Bands: baseline, top, bottom, why, cut, what they ask of the step below, hang and stand. Slots: left, right, causes,
    # band.
    bands = np.empty((256, 8))
    found_slots = np.empty((1024, 5))
    band_count = slot_count = 0
    wanted = 1.3 * natural
    length, last_length = 0.0, 0.0
    ended = False
    out_first, out_last, out_slot = np.empty(1, np.int64), np.empty(1, np.int64), np.empty(1, np.int64)
    lines = OUT_OF_SLOTS
    past = 4
    while lines < 0:
        while not ended and length < wanted + 3 * last_length + 1e-9:
            # Bands need not be those of lines: one whose slots hold nothing is passed over.
            tall = letters if band_count >= len(opened) else np.maximum(letters, opened[band_count])
            up, down = (tall[BOX_UP], tall[BOX_DOWN]) if by_box else (tall[ASC], tall[DESC])
            stand = stand_depth(tall, frame)
            above, need, why, deeper = up, least, BY_LEADING, 0.0
            if line == first_line and band_count == 0:
                hang = hang_height(tall, frame)
                start, above, why = hang_y + hang, min(up, hang), BY_HANG
                need = max(least, piece_width(pieces, at, at) + indents(rules, paragraph, True, True))
            elif band_count == 0:
                start = baseline + gap + step_down(rule, tall, by_box, previous_down)
            else:
                start = bands[band_count - 1, 0] + step_down(rule, tall, by_box, bands[band_count - 1, 5])
            if drop and band_count == 0:
                deeper = drop_depth(rules, paragraph)
                need = max(need, rule[DROP_WIDTH] + piece_width(pieces, at, at) + indents(rules, paragraph, True, True))
            start = on_grid(start, rule, frame)
            found, cut, count = usable_from(
                space, start, above, down + deeper, stand + deeper, need, least, floor, rule, frame, slots
            )
            if found == FAR:
                ended = True
                break
            if band_count == len(bands):
                bands = np.concatenate((bands, np.empty_like(bands)))
            top, bottom = found - above, found + (stand if cut else down)
            row = bands[band_count]
            row[0], row[1], row[2], row[4] = found, top, bottom, 1.0 if cut else 0.0
            row[3] = BY_GEOMETRY if found > start + 1e-6 else why
            row[5], row[6], row[7] = reach_below(tall, by_box), hang_height(tall, frame), stand
            if deeper > 0:
                place_cap(space, rule, found - above, found + deeper, need, slots, cap)
                count = slots_in_band(space, top, bottom, least, slots)
            count = beside_cap(slots, count, rule, top, least, cap)
            last_length = 0.0
            for place in range(count):
                i = count - 1 - place if rule[FROM_RIGHT] > 0 else place
                if slot_count == len(found_slots):
                    found_slots = np.concatenate((found_slots, np.empty_like(found_slots)))
                found_slots[slot_count, :4] = slots[i]
                found_slots[slot_count, 4] = band_count
                last_length += slots[i, 1] - slots[i, 0]
                slot_count += 1
            length += last_length
            band_count += 1
            ended = cut
        more = 0
        if ended:
            more = int(wanted / box) + past
        lefts, rights = np.zeros(slot_count + more), np.full(slot_count + more, box)
        lefts[:slot_count], rights[:slot_count] = found_slots[:slot_count, 0], found_slots[:slot_count, 1]
        out_first = np.empty(slot_count + more + 1, np.int64)
        out_last, out_slot = np.empty_like(out_first), np.empty_like(out_first)
        past_from = slot_count if ended else slot_count + 1
        lines = break_paragraph(
            pieces, rule, at, stop, starts, lefts, rights, slot_count + more, past_from,
            TIGHT_COST if frame[TIGHT] > 0 else 0.0, out_first, out_last, out_slot,
        )  # fmt: skip
        wanted, past = wanted * 1.6 + box, past * 4
        if past > 100_000:
            break
    placed, last_band, by_geometry = at, -1, 0
    for i in range(max(lines, 0)):
        s = out_slot[i]
        if s >= slot_count or written >= len(records):
            break
        band = int(found_slots[s, 4])
        row = bands[band]
        if band != last_band:
            if line == first_line:
                ends[0] = row[0] - row[6]
            elif row[3] == BY_GEOMETRY:
                by_geometry += 1
            last_band = band
            line += 1
        record = records[written]
        record[LINE], record[FIRST], record[LAST] = line - 1, out_first[i], out_last[i]
        record[BASELINE], record[TOP], record[BOTTOM], record[WHY] = row[0], row[1], row[2], row[3]
        record[LEFT], record[RIGHT], record[LEFT_CAUSE], record[RIGHT_CAUSE] = found_slots[s, :4]
        record[PARAGRAPH_START], record[PAST] = 1.0 if starts and i == 0 else 0.0, 0.0
        record[CAP_X] = cap[2] if drop and i == 0 else NO_CAP
        written += 1
        placed = out_last[i] + 1
    cut_last = False
    if last_band >= 0:
        row = bands[last_band]
        baseline, previous_down, cut_last = row[0], row[5], row[4] > 0
        ends[1], ends[2] = baseline + row[7], baseline
    held = np.full((band_count if holds_objects else 0, PIECE_COLUMNS), -FAR)
    for i in range(max(lines, 0) if holds_objects else 0):
        if out_slot[i] >= slot_count:
            break
        for p in range(out_first[i], out_last[i] + 1):
            if pieces[p, OPENS] > 0 or pieces[p, UNDER] > 0:
                band = int(found_slots[out_slot[i], 4])
                held[band] = np.maximum(held[band], pieces[p])
    return (placed, written, line, baseline, previous_down, cut_last, by_geometry), held


@njit(cache=True)
def widen_last_line(space, pieces, rules, frame, line, records, written, slots, ends, cap):
    """The last line's band is cut at the bottom to the stand metric: its slots may be wider for that."""
    first = written
    while first > 0 and records[first - 1, LINE] == line:
        first -= 1
    if first == written:
        return
    paragraph = int(pieces[int(records[first, FIRST]), PARAGRAPH])
    stand = ends[1] - ends[2]
    top, bottom = records[first, TOP], ends[2] + stand
    if bottom >= records[first, BOTTOM]:
        return
    least = least_slot(rules, paragraph, frame)
    found = slots_in_band(space, top, bottom, least, slots)
    for i in range(beside_cap(slots, found, rules[paragraph], top, least, cap)):
        for r in range(first, written):
            if slots[i, 0] <= records[r, LEFT] + EPSILON and slots[i, 1] >= records[r, RIGHT] - EPSILON:
                alone = True
                for other in range(first, written):
                    if other != r and records[other, RIGHT] > slots[i, 0] and records[other, LEFT] < slots[i, 1]:
                        alone = False
                if alone:
                    records[r, LEFT], records[r, RIGHT] = slots[i, 0], slots[i, 1]
                    records[r, LEFT_CAUSE], records[r, RIGHT_CAUSE] = slots[i, 2], slots[i, 3]
                    records[r, BOTTOM] = bottom


@njit(cache=True)
def push_past(rule, lefts, rights):
    """Push the first lines past the edge aside for a drop cap."""
    for i in range(min(int(rule[DROP_LINES]), len(lefts))):
        if rule[FROM_RIGHT] > 0:
            rights[i] -= rule[DROP_WIDTH]
        else:
            lefts[i] += rule[DROP_WIDTH]


@njit(cache=True)
def set_past(pieces, rules, frame, at, line, baseline, previous_down, left, right, records, written):
    """As `fill_past`, for one paragraph whose breaks are chosen over all its lines at once."""
    paragraph = int(pieces[at, PARAGRAPH])
    rule = rules[paragraph]
    stop = paragraph_end(pieces, at)
    starts = at == 0 or int(pieces[at - 1, PARAGRAPH]) != paragraph
    letters = tallest_letters(pieces, at, stop)
    by_box = frame[BY_LINE_BOX] > 0
    widest = 0.0
    for p in range(at, stop):
        widest = max(widest, piece_width(pieces, p, p))
    width = max(right - left, widest + indents(rules, paragraph, True, True))
    lines, count = OUT_OF_SLOTS, int(1.5 * piece_width(pieces, at, stop - 1) / width) + 4
    out_first, out_last, out_slot = np.empty(1, np.int64), np.empty(1, np.int64), np.empty(1, np.int64)
    lefts_of, rights_of = np.empty(1), np.empty(1)
    while lines < 0 and count < 1_000_000:
        lefts, rights = np.full(count, left), np.full(count, left + width)
        if starts and rule[DROP_LINES] > 1:
            push_past(rule, lefts, rights)
        out_first, out_last, out_slot = np.empty(count, np.int64), np.empty(count, np.int64), np.empty(count, np.int64)
        lines = break_paragraph(
            pieces, rule, at, stop, starts, lefts, rights, count, count + 1, 0.0, out_first, out_last, out_slot
        )
        lefts_of, rights_of = lefts, rights
        count *= 2
    gap = gap_above(pieces, rules, at)
    wide = rule[DROP_WIDTH] if starts and rule[DROP_LINES] > 1 else 0.0
    for i in range(max(lines, 0)):
        tall = np.maximum(letters, tallest_of(pieces, out_first[i], out_last[i] + 1))
        up, down = (tall[BOX_UP], tall[BOX_DOWN]) if by_box else (tall[ASC], tall[DESC])
        if line == 0 and i == 0:
            baseline += hang_height(tall, frame)
        else:
            baseline += gap + step_down(rule, tall, by_box, previous_down)
        gap, previous_down = 0.0, reach_below(tall, by_box)
        if written < len(records):
            record = records[written]
            record[LINE], record[FIRST], record[LAST] = line, out_first[i], out_last[i]
            record[BASELINE], record[TOP], record[BOTTOM] = baseline, baseline - up, baseline + down
            record[LEFT], record[RIGHT] = lefts_of[out_slot[i]], rights_of[out_slot[i]]
            record[LEFT_CAUSE] = record[RIGHT_CAUSE] = BY_BOX
            record[PARAGRAPH_START] = 1.0 if starts and i == 0 else 0.0
            record[PAST], record[WHY], record[CAP_X] = 1.0, BY_LEADING, NO_CAP
            if wide > 0 and i == 0:
                record[CAP_X] = left + rule[INDENT] if rule[FROM_RIGHT] == 0 else left + width - wide - rule[INDENT]
            written += 1
        line += 1
    return stop, written, line, baseline, previous_down


@njit(cache=True)
def usable_from(space, start, above, down, stand, need, least, floor, rule, frame, slots):
    """The first usable baseline from `start` on the paragraph's grid, whether its band is cut to the stand metric, and how
    many slots at least `least` wide that has: they are in `slots`.

    FAR when there is none. A band that reaches down to its whole depth is looked for first; one of its slots is at least
    `need` wide.
    """
    if start <= floor - max(stand, down) + EPSILON:
        # As a rule the first baseline does.
        count = slots_in_band(space, start - above, start + down, need, slots)
        if count > 0:
            if need > least:
                count = slots_in_band(space, start - above, start + down, least, slots)
            return start, False, count
    for cut in range(2):
        below = stand if cut else down
        if cut and stand >= down:
            break
        last = floor - (stand if cut else max(stand, down))
        at = start
        for _ in range(10_000):
            found = next_usable(space, at, above, below, need, last, slots)
            if found == FAR:
                break
            wanted = on_grid(found, rule, frame)
            if wanted <= found + 1e-7:
                return found, cut == 1, slots_in_band(space, found - above, found + below, least, slots)
            at = wanted
    return FAR, False, 0


@njit(cache=True)
def nest_column(space, pieces, rules, frame, first_piece, hang_y, first_line, written, records, slots, ends):
    """Nest copy into one column downwards from the first line's hang metric at `hang_y` (or the first y below that does).

    Fills `records` from `written` on, lines counted from `first_line`; returns (records written, next piece). `ends` as
    in nest_from.
    """
    n = len(pieces)
    at, line = first_piece, first_line
    baseline = 0.0
    cap = np.array([0.0, -FAR, 0.0])
    tall, before = np.zeros(PIECE_COLUMNS), np.zeros(PIECE_COLUMNS)
    previous_down = 0.0
    line_at, line_written = at, 0
    line_top, line_why = 0.0, 0.0
    by_box = frame[BY_LINE_BOX] > 0
    floor = frame[Y_BOTTOM]
    ends[:] = 0.0
    last_was_cut = False
    skipped = 0
    while at < n:
        paragraph = int(pieces[at, PARAGRAPH])
        if line > first_line and frame[GOES_ON] > 0 and rules[paragraph, NEW_COLUMN] > 0:
            if int(pieces[at - 1, PARAGRAPH]) != paragraph:
                break
        if rules[paragraph, BREAKING] != FIRST_FIT:
            start = line
            placed, written, line, baseline, previous_down, last_was_cut, by_geometry = set_paragraph(
                space, pieces, rules, frame, at, hang_y, first_line, line, baseline, previous_down, records, written,
                slots, ends, cap,
            )  # fmt: skip
            ends[4] += by_geometry
            if line > start:
                line_at, line_written = -1, 0
            stop = placed
            while stop < n and int(pieces[stop, PARAGRAPH]) == paragraph:
                stop += 1
            at = placed
            if stop > placed or last_was_cut or line == start:
                break
            continue
        rule = rules[paragraph]
        least = least_slot(rules, paragraph, frame)
        gap = 0.0
        if line > first_line and (at == 0 or int(pieces[at - 1, PARAGRAPH]) != paragraph):
            gap = rules[int(pieces[at - 1, PARAGRAPH]), AFTER] + rule[BEFORE]
        tall[:] = pieces[at]
        starts = at == 0 or int(pieces[at - 1, PARAGRAPH]) != paragraph
        deeper = drop_depth(rules, paragraph) if starts else 0.0
        placed, cut, none_left = at, False, False
        saved = written
        found = FAR
        top = bottom = 0.0
        why = BY_LEADING
        for _ in range(4):
            written = saved
            up = tall[BOX_UP] if by_box else tall[ASC]
            down = tall[BOX_DOWN] if by_box else tall[DESC]
            stand = stand_depth(tall, frame)
            above = up
            need = least
            if line == first_line:
                hang = hang_height(tall, frame)
                start = hang_y + hang
                if skipped > 0:
                    start = max(start, baseline + 0.5)
                above = min(up, hang)
                room = indents(rules, paragraph, True, True)
                need = max(least, piece_width(pieces, at, at) + room)
                why = BY_HANG
            else:
                start = baseline + gap + step_down(rule, tall, by_box, previous_down)
                why = BY_LEADING
            if line > first_line or rule[GRID] > 0:
                start = on_grid(start, rule, frame)
            if deeper > 0:
                beside = rule[DROP_WIDTH] + indents(rules, paragraph, True, True)
                need = max(need, beside + piece_width(pieces, at, at))
            found, cut, count = usable_from(
                space, start, above, down + deeper, stand + deeper, need, least, floor, rule, frame, slots
            )
            if found == FAR:
                none_left = True
                break
            if found > start + 1e-6:
                why = BY_GEOMETRY
            below = stand if cut else down
            top, bottom = found - above, found + below
            if deeper > 0:
                place_cap(space, rule, found - above, found + deeper, need, slots, cap)
                count = slots_in_band(space, top, bottom, least, slots)
            count = beside_cap(slots, count, rule, top, least, cap)
            before[:] = tall
            placed, written = fill_band(
                pieces, rules, frame, at, line, found, top, bottom, slots, count, why, records, written, tall
            )
            grown = False
            for c in range(ASC, UNDER + 1):
                if tall[c] > before[c] + 1e-9:
                    grown = True
            if not grown:
                break
        if none_left:
            break
        if placed == at:
            # No slot of this band holds the next piece: it stays empty.
            baseline = found
            previous_down = reach_below(tall, by_box)
            skipped += 1
            if cut:
                break
            continue
        if deeper > 0 and saved < len(records):
            records[saved, CAP_X] = cap[2]
        if line == first_line:
            ends[0] = found - hang_height(tall, frame)
        elif why == BY_GEOMETRY:
            ends[4] += 1
        line_at, line_written, line_top, line_why = at, saved, top, why
        baseline, previous_down = found, reach_below(tall, by_box)
        ends[1], ends[2] = found + stand_depth(tall, frame), found
        at = placed
        line += 1
        last_was_cut = cut
        if cut:
            break
    # The last line's band is cut at the bottom to the stand metric: it may hold more than its whole band did.
    if line > first_line and line_at < 0:
        if not last_was_cut:
            widen_last_line(space, pieces, rules, frame, line - 1, records, written, slots, ends, cap)
    elif line > first_line and not last_was_cut and frame[STAND_KIND] != STAND_BOX:
        paragraph = int(pieces[line_at, PARAGRAPH])
        tall[:] = pieces[line_at]
        for k in range(line_at, at):
            for c in range(ASC, UNDER + 1):
                tall[c] = max(tall[c], pieces[k, c])
        stand, down = stand_depth(tall, frame), tall[BOX_DOWN] if by_box else tall[DESC]
        if stand < down:
            before[:] = tall
            bottom = ends[2] + stand
            least = least_slot(rules, paragraph, frame)
            count = slots_in_band(space, line_top, bottom, least, slots)
            count = beside_cap(slots, count, rules[paragraph], line_top, least, cap)
            keep = records[line_written:written].copy()
            placed, again = fill_band(
                pieces,
                rules,
                frame,
                line_at,
                line - 1,
                ends[2],
                line_top,
                bottom,
                slots,
                count,
                line_why,
                records,
                line_written,
                tall,
            )
            taller = False
            for c in range(ASC, UNDER + 1):
                if tall[c] > before[c] + 1e-9:
                    taller = True
            if placed < at or taller:
                records[line_written:written] = keep
            else:
                records[line_written, CAP_X] = keep[0, CAP_X]
                at, written = placed, again
    ends[3] = line - first_line
    return written, at


@njit(cache=True)
def cut_lines(records, begin, written, count):
    """The records of a column without its last `count` lines: where they now end."""
    for _ in range(count):
        if written <= begin:
            break
        line = records[written - 1, LINE]
        while written > begin and records[written - 1, LINE] == line:
            written -= 1
    return written


@njit(cache=True)
def lines_of(pieces, records, begin, written, paragraph):
    """How many lines of a column, from its end upwards, belong to a paragraph."""
    count, last = 0, -1.0
    for r in range(written - 1, begin - 1, -1):
        if int(pieces[int(records[r, FIRST]), PARAGRAPH]) != paragraph:
            break
        if records[r, LINE] != last:
            count += 1
            last = records[r, LINE]
    return count


@njit(cache=True)
def keep_together(pieces, rules, records, begin, written, at, held):
    """Cut lines off a column's end that must stand with those of the next; returns the records and the next piece.

    `held` lines go over in any case. A column is never left empty for it.
    """
    whole, first = written, at
    paragraph = int(pieces[at, PARAGRAPH])
    if int(pieces[at - 1, PARAGRAPH]) == paragraph:
        here = lines_of(pieces, records, begin, written, paragraph)
        over = held if here - held >= rules[paragraph, KEEP_END] else here
        written = cut_lines(records, begin, written, over)
    elif held > 0:
        written = cut_lines(records, begin, written, held)
    while written > begin:
        last = int(records[written - 1, LAST])
        before = int(pieces[last, PARAGRAPH])
        if int(pieces[last + 1, PARAGRAPH]) == before or rules[before, KEEP_NEXT] == 0:
            break
        written = cut_lines(records, begin, written, lines_of(pieces, records, begin, written, before))
    if written == begin:
        return whole, first
    return written, int(records[written - 1, LAST]) + 1


@njit(cache=True)
def stand_of(pieces, rules, frame, records, begin, written):
    """How far above the stand metric the last baseline of a column lies."""
    last = int(records[written - 1, LAST])
    r = written - 1
    while r > begin and records[r - 1, LINE] == records[written - 1, LINE]:
        r -= 1
    own = tallest_of(pieces, int(records[r, FIRST]), last + 1)
    if rules[int(pieces[last, PARAGRAPH]), BREAKING] == FIRST_FIT:
        return stand_depth(own, frame)
    first = last
    while first > 0 and pieces[first - 1, PARAGRAPH] == pieces[last, PARAGRAPH]:
        first -= 1
    return stand_depth(np.maximum(own, tallest_letters(pieces, first, paragraph_end(pieces, last))), frame)


@njit(cache=True)
def nest_from(space, pieces, rules, frame, first_piece, hang_y, records, slots, ends):
    """Nest copy downwards from the first line's hang metric at `hang_y` (or the first y below that does).

    Columns lie below one another in `space`, each frame[COLUMN_SHIFT] further down, and are put side by side in the
    records. Fills `records`; returns (records written, next piece). `ends` receives what pieces.ENDS names.
    """
    n, columns = len(pieces), int(frame[COLUMNS])
    ends[:] = 0.0
    own, own_ends = frame.copy(), np.zeros(ENDS)
    begins, pieces_at = np.zeros(columns + 1, np.int64), np.zeros(columns + 1, np.int64)
    held, tried = np.zeros(columns + 1, np.int64), np.zeros(columns + 1, np.int64)
    hangs, stands, geometric = np.empty(columns), np.empty(columns), np.zeros(columns)
    at, written, c = first_piece, 0, 0
    while c < columns:
        shift = c * frame[COLUMN_SHIFT]
        own[Y_TOP], own[Y_BOTTOM], own[LAID] = frame[Y_TOP] + shift, frame[Y_BOTTOM] + shift, shift
        own[X_LEFT], own[X_RIGHT] = frame[X_LEFT] + c * frame[COLUMN_STEP], frame[X_RIGHT] + c * frame[COLUMN_STEP]
        begin = written
        begins[c], pieces_at[c] = begin, at
        own[GOES_ON] = 1.0 if c + 1 < columns or frame[GOES_ON] > 0 else 0.0
        hangs[c], stands[c] = FAR, -FAR
        if at < n:
            line = int(records[begin - 1, LINE]) + 1 if begin > 0 else 0
            written, at = nest_column(
                space, pieces, rules, own, at, hang_y + shift, line, begin, records, slots, own_ends
            )
            geometric[c] = own_ends[4]
            if written > begin:
                hangs[c], stands[c] = own_ends[0] - shift, own_ends[1] - shift
                over = at < n and (c + 1 < columns or frame[GOES_ON] > 0)
                if over and written < len(records):
                    kept, at = keep_together(pieces, rules, records, begin, written, at, held[c])
                    if kept < written:
                        written = kept
                        depth = stand_of(pieces, rules, own, records, begin, written)
                        stands[c] = records[written - 1, BASELINE] - shift + depth
            for r in range(begin, written):
                records[r, BASELINE] -= shift
                records[r, TOP] -= shift
                records[r, BOTTOM] -= shift
                records[r, COLUMN] = c
            if c > 0 and written > begin and tried[c] == 0:
                paragraph = int(pieces[pieces_at[c], PARAGRAPH])
                ends_here = at >= n or int(pieces[at, PARAGRAPH]) != paragraph
                if ends_here and int(pieces[pieces_at[c] - 1, PARAGRAPH]) == paragraph:
                    count, last = 0, -1.0
                    for r in range(begin, written):
                        if int(pieces[int(records[r, FIRST]), PARAGRAPH]) != paragraph:
                            break
                        if records[r, LINE] != last:
                            count += 1
                            last = records[r, LINE]
                    if count < rules[paragraph, KEEP_START]:
                        tried[c] = 1
                        here = lines_of(pieces, records, begins[c - 1], begin, paragraph)
                        held[c - 1] = int(min(rules[paragraph, KEEP_START] - count, here))
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


@njit(cache=True)
def fill_past(pieces, rules, frame, at, line, baseline, previous_down, left, right, records, written):
    """Lines past the edge: on below, in the width left…right, without a floor. Returns the records written."""
    n = len(pieces)
    slots = np.zeros((1, 4))
    slots[0, 0], slots[0, 1] = left, right
    tall = np.zeros(PIECE_COLUMNS)
    by_box = frame[BY_LINE_BOX] > 0
    first = line == 0
    pushed = 0
    while at < n and written < len(records):
        paragraph = int(pieces[at, PARAGRAPH])
        if rules[paragraph, BREAKING] != FIRST_FIT:
            at, written, line, baseline, previous_down = set_past(
                pieces, rules, frame, at, line, baseline, previous_down, left, right, records, written
            )
            first = False
            continue
        gap = 0.0
        if not first and int(pieces[at - 1, PARAGRAPH]) != paragraph:
            gap = rules[int(pieces[at - 1, PARAGRAPH]), AFTER] + rules[paragraph, BEFORE]
        # What is wider than the box stands alone, past the box's end too.
        rule = rules[paragraph]
        starts = rule[DROP_LINES] > 1 and (at == 0 or int(pieces[at - 1, PARAGRAPH]) != paragraph)
        if starts:
            pushed = int(rule[DROP_LINES])
        aside = rule[DROP_WIDTH] if pushed > 0 else 0.0
        alone = left + piece_width(pieces, at, at) + indents(rules, paragraph, True, True) + aside
        slots[0, 0], slots[0, 1] = left, right if alone <= right else alone
        cap_x = NO_CAP
        if starts:
            cap_x = left + rule[INDENT] if rule[FROM_RIGHT] == 0 else slots[0, 1] - aside - rule[INDENT]
        if rule[FROM_RIGHT] > 0:
            slots[0, 1] -= aside
        else:
            slots[0, 0] += aside
        pushed -= 1
        tall[:] = pieces[at]
        placed, again = fill_band(
            pieces, rules, frame, at, line, 0.0, 0.0, 0.0, slots, 1, BY_LEADING, records, written, tall
        )
        baseline += hang_height(tall, frame) if first else gap + step_down(rule, tall, by_box, previous_down)
        first = False
        up, down = (tall[BOX_UP], tall[BOX_DOWN]) if by_box else (tall[ASC], tall[DESC])
        for k in range(written, again):
            records[k, BASELINE], records[k, TOP], records[k, BOTTOM] = baseline, baseline - up, baseline + down
            records[k, PAST] = 1.0
        if again > written:
            records[written, CAP_X] = cap_x
        previous_down = reach_below(tall, by_box)
        at, written = placed, again
        line += 1
    return written


@njit(cache=True)
def align_records(records, pieces, rules, starts, widths, more, tracks, loose, fills):
    """For each record: where its first letter stands, its natural width, what each word space and each letter gains,
    and whether it is too loose to justify (then it is set natural).

    Word spaces open up to their limit first, then letters up to theirs (off by default).
    """
    for i in range(len(records)):
        first, last = int(records[i, FIRST]), int(records[i, LAST])
        rule = rules[int(pieces[first, PARAGRAPH])]
        width = piece_width(pieces, first, last)
        indent = rule[INDENT] + (rule[FIRST_INDENT] if records[i, PARAGRAPH_START] > 0 else 0.0)
        room = records[i, RIGHT] - records[i, LEFT] - indent
        align = rule[ALIGN]
        natural = align != JUSTIFY
        if align == JUSTIFY and pieces[last, FORCED] > 0:
            align = rule[ALIGN_LAST]
            natural = align != JUSTIFY and width <= room + EPSILON
        gaps = pieces[last, SPACE1] - pieces[first, SPACE0]
        letters = pieces[last, LETTERS1] - pieces[first, LETTERS0] - 1
        gain = track = 0.0
        loose[i] = False
        fills[i] = 0.0
        filling = pieces[last, FILLS1] - pieces[first, FILLS0]
        if pieces[last, TABS1] - pieces[first, TABS0] > 0:
            # A line with tabs is set natural; what is free goes to the tabs that reach for the slot's end.
            natural = True
            if align == JUSTIFY:
                align = START
            if filling > 0:
                fills[i] = max(0.0, room - width) / filling
        if not natural:
            gain = (room - width) / gaps if gaps > 0 else 0.0
            widest = (rule[GREATEST_SPACE] - 1) * rule[SPACE_WIDTH]
            if gain > widest or gaps == 0:
                gain = widest if gaps > 0 else 0.0
                rest = room - width - gain * gaps
                track = rest / letters if letters > 0 else FAR
                if track > rule[GREATEST_TRACKING] + 1e-9:
                    loose[i] = True
                    gain = track = 0.0
        free = room - width - gain * gaps - track * max(letters, 0) - fills[i] * filling
        if loose[i]:
            align = rule[ALIGN_LAST]
        share = 0.5 if align == CENTER else 1.0 if align == END else 0.0
        if rule[FROM_RIGHT] > 0:
            # Copy from right to left starts at the right, and is indented there.
            share, indent = 1.0 - share, 0.0
        starts[i], widths[i], more[i], tracks[i] = records[i, LEFT] + indent + free * share, width, gain, track


@njit(cache=True)
def place_words(
    records, starts, more, tracks, fills, pieces, piece_words, word_x, word_spaces, word_letters, word_fills
):
    """The word segments of every record in order: their records, their indices, their x.

    `piece_words` holds for each piece the first word segment that it reaches into and the one after the last. A word
    that goes on from the line before begins where the line begins.
    """
    n = len(records)
    total = 0
    for i in range(n):
        total += piece_words[int(records[i, LAST]), 1] - piece_words[int(records[i, FIRST]), 0]
    which, index, x = np.empty(total, np.int64), np.empty(total, np.int64), np.empty(total)
    at = 0
    for i in range(n):
        first = int(records[i, FIRST])
        x0, change, spaces, letters, filled = (
            pieces[first, X0], pieces[first, CHANGE0], pieces[first, SPACE0], pieces[first, LETTERS0],
            pieces[first, FILLS0],
        )  # fmt: skip
        for word in range(piece_words[first, 0], piece_words[int(records[i, LAST]), 1]):
            which[at], index[at] = i, word
            if word_x[word] <= x0 + 1e-9:
                x[at] = starts[i] - pieces[first, HANG0]
            else:
                x[at] = starts[i] + word_x[word] - x0 + change + more[i] * (word_spaces[word] - spaces)
                x[at] += tracks[i] * (word_letters[word] - letters) + fills[i] * (word_fills[word] - filled)
            at += 1
    return which, index, x
