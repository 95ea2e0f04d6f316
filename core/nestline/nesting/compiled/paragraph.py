"""A paragraph whose breaks are chosen over all its slots at once (optimal, balanced), compiled by Numba.

Its bands are found first, one after the other as far as the copy may need them; then its breaks are chosen over all
their slots; then its lines are written down.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nestline.nesting.compiled.breaking import break_paragraph
from nestline.nesting.compiled.drop_caps import beside_cap, place_cap
from nestline.nesting.compiled.first_fit import OUT_OF_SLOTS, Paragraph, Slots, room_to_choose
from nestline.nesting.compiled.inlining import inlined
from nestline.nesting.compiled.lines import Above, Line, Reached, above_of, first_baseline, write_record
from nestline.nesting.compiled.pieces import (
    FAR,
    band_reach,
    begins_paragraph,
    drop_depth,
    gap_above,
    hang_height,
    holds_object,
    indents,
    least_slot,
    on_grid,
    opening_room,
    paragraph_end,
    piece_width,
    ragged_below,
    raise_row,
    raised,
    reach_below,
    stand_depth,
    taller,
    tallest_letters,
    tallest_of,
    widest_piece,
)
from nestline.nesting.compiled.space import slots_in_band
from nestline.nesting.compiled.usable import Wanted, usable_from
from nestline.nesting.compiled.weights import TIGHT_COST
from nestline.rows import (
    ALIGN,
    BAND_BASELINE,
    BAND_BOTTOM,
    BAND_COLUMNS,
    BAND_CUT,
    BAND_HANG,
    BAND_REACH,
    BAND_STAND,
    BAND_TOP,
    BAND_WHY,
    BY_GEOMETRY,
    CAP_LEFT,
    DROP_LINES,
    DROP_WIDTH,
    END_BASELINE,
    END_HANG,
    END_STAND,
    FROM_RIGHT,
    GOES_ON,
    IN_CAP,
    JUSTIFY,
    KEEP_END,
    LEADING,
    LISTED_SLOT_COLUMNS,
    NO_CAP,
    PARAGRAPH,
    PIECE_COLUMNS,
    SLOT_BAND,
    SLOT_COLUMNS,
    SLOT_LEFT,
    SLOT_RIGHT,
    TIGHT,
    X_LEFT,
    X_RIGHT,
)

MOST_OPENED = 8
"""How often the breaks of a paragraph with objects in line are chosen, before all its lines are opened for them."""
MOST_PAST = 100_000


class Bands(NamedTuple):
    """The bands of a paragraph that are found, and the slots of them all (nestline.rows); how long those are together,
    and those of the last band; whether none follows."""

    rows: NDArray[np.float64]
    slots: NDArray[np.float64]
    total: int
    slot_count: int
    length: float
    last_length: float
    ended: bool


@njit(cache=True)
def set_paragraph(space, copy, frame, column, reached, out):
    """Set the paragraph, or the rest of it, that the next piece belongs to. Returns how far copy has come.

    Its bands are those of its tallest letters; an object in line opens that of its own line, for which the breaks are
    chosen again until each stands in a band that was opened for it. What no slot before the floor holds is set as if
    slots as wide as the column's box went on below; those lines are not written.
    """
    pieces, at = copy.pieces, reached.at
    stop = paragraph_end(pieces, at)
    letters = tallest_of(pieces, at, stop)
    objects = holds_object(letters)
    if objects:
        letters = tallest_letters(pieces, at, stop)
    opened = np.zeros((0, PIECE_COLUMNS))
    done = reached
    for attempt in range(MOST_OPENED):
        if attempt == MOST_OPENED - 1:
            letters = tallest_of(pieces, at, stop)
        bands, lines, chosen = choose_breaks(space, copy, frame, column, reached, stop, letters, opened, out)
        done = write_lines(copy, column, reached, bands, lines, chosen, out)
        if not objects:
            break
        held = objects_held(pieces, bands, lines, chosen)
        higher = False
        for b in range(len(held)):
            known = raised(letters, opened[b]) if b < len(opened) else letters
            higher = higher or taller(held[b], known)
            raise_row(held[b], known)
        if not higher:
            break
        opened = held
    return done


@njit(cache=True)
def choose_breaks(space, copy, frame, column, reached, stop, letters, opened, out):
    """The bands of a paragraph, in bands of the height of some letters (a row like a piece's), of which the first have
    the heights in the rows of `opened`; how many lines it has, and their breaks."""
    pieces, rules, at = copy.pieces, copy.rules, reached.at
    paragraph = int(pieces[at, PARAGRAPH])
    starts = begins_paragraph(pieces, at)
    widest = widest_piece(pieces, at, stop) + indents(rules, paragraph, True, True)
    box = max(frame[X_RIGHT] - frame[X_LEFT], widest)
    bands = Bands(np.empty((256, BAND_COLUMNS)), np.empty((1024, LISTED_SLOT_COLUMNS)), 0, 0, 0.0, 0.0, False)
    wanted = 1.3 * piece_width(pieces, at, stop - 1)
    chosen = room_to_choose(1)
    lines, past = OUT_OF_SLOTS, 4
    tight = TIGHT_COST if frame[TIGHT] > 0 else 0.0
    next_end = int(rules[int(pieces[stop, PARAGRAPH]), KEEP_END]) if stop < len(pieces) else 0
    while lines < 0:
        # Bands need not be those of lines: one whose slots hold nothing is passed over.
        while not bands.ended and bands.length < wanted + 3 * bands.last_length + 1e-9:
            bands = find_band(space, copy, frame, column, reached, letters, opened, bands, out)
        held = bands.slot_count
        count = held + (int(wanted / box) + past if bands.ended else 0)
        lefts, rights = np.zeros(count), np.full(count, box)
        chosen = room_to_choose(count + 1)
        of_band = -1 - np.arange(count)
        for s in range(held):
            lefts[s], rights[s] = bands.slots[s, SLOT_LEFT], bands.slots[s, SLOT_RIGHT]
            of_band[s] = int(bands.slots[s, SLOT_BAND])
        past_from = held if bands.ended else held + 1
        slots = Slots(
            lefts,
            rights,
            of_band,
            count,
            past_from,
            bands.ended and frame[GOES_ON] > 0,
            next_end,
            ragged_below(rules[paragraph], frame),
        )
        lines = break_paragraph(pieces, Paragraph(rules[paragraph], at, stop, starts), slots, tight, chosen)
        wanted, past = wanted * 1.6 + box, past * 4
        if past > MOST_PAST:
            break
    return bands, lines, chosen


@inlined
def find_band(space, copy, frame, column, reached, letters, opened, bands, out):
    """Find one band more, and its slots."""
    pieces, rules, at, number = copy.pieces, copy.rules, reached.at, bands.total
    rows, slots, listed, found_slots, cap = bands.rows, bands.slots, bands.slot_count, out.slots, out.reckoned[IN_CAP]
    paragraph = int(pieces[at, PARAGRAPH])
    rule, least = rules[paragraph], least_slot(rules, paragraph, frame)
    tall = letters if number >= len(opened) else raised(letters, opened[number])
    above = above_of(column, reached, gap_above(pieces, rules, at))
    if number > 0:
        above = Above(rows[number - 1, BAND_BASELINE], rows[number - 1, BAND_REACH], 0.0, False)
    start, up, why = first_baseline(above, rule, tall, frame)
    _, down = band_reach(tall, frame)
    stand = stand_depth(tall, frame)
    need, deeper = least, 0.0
    first = piece_width(pieces, at, at) + indents(rules, paragraph, True, True)
    if above.first:
        need = max(least, first)
    if number == 0 and rule[DROP_LINES] > 1 and begins_paragraph(pieces, at):
        deeper = drop_depth(rules, paragraph)
        need = max(need, rule[DROP_WIDTH] + first)
    start = on_grid(start, rule, frame)
    wanted = Wanted(up, down + deeper, stand + deeper, need, least)
    found, cut, count = usable_from(space, start, wanted, rule, frame, found_slots)
    pushed = number == 0 and above.first and start + 1e-6 < found < FAR and deeper == 0
    if pushed and rule[ALIGN] == JUSTIFY and frame[TIGHT] == 0:
        room = opening_room(copy, paragraph, at, paragraph_end(pieces, at), need)
        if room > need:
            wanted = Wanted(up, down, stand, room, least)
            lower, cut_lower, count_lower = usable_from(space, start, wanted, rule, frame, found_slots)
            if lower <= found + 2 * rule[LEADING]:
                found, cut, count = lower, cut_lower, count_lower
            else:
                count = slots_in_band(space, found - up, found + (stand if cut else down), least, found_slots)
    if found == FAR:
        return Bands(rows, slots, number, listed, bands.length, bands.last_length, True)
    if number == len(rows):
        rows = np.concatenate((rows, np.empty_like(rows)))
    top, bottom = found - up, found + (stand if cut else down)
    rows[number, BAND_BASELINE], rows[number, BAND_TOP], rows[number, BAND_BOTTOM] = found, top, bottom
    rows[number, BAND_CUT] = 1.0 if cut else 0.0
    rows[number, BAND_WHY] = BY_GEOMETRY if found > start + 1e-6 else why
    rows[number, BAND_REACH] = reach_below(tall, frame)
    rows[number, BAND_HANG], rows[number, BAND_STAND] = hang_height(tall, frame), stand
    if deeper > 0:
        place_cap(space, rule, found - up, found + deeper, need, found_slots, cap)
        count = slots_in_band(space, top, bottom, least, found_slots)
    count = beside_cap(found_slots, count, rule, top, least, cap)
    length = 0.0
    for place in range(count):
        i = count - 1 - place if rule[FROM_RIGHT] > 0 else place
        if listed == len(slots):
            slots = np.concatenate((slots, np.empty_like(slots)))
        for c in range(SLOT_COLUMNS):
            slots[listed, c] = found_slots[i, c]
        slots[listed, SLOT_BAND] = number
        length += slots[listed, SLOT_RIGHT] - slots[listed, SLOT_LEFT]
        listed += 1
    return Bands(rows, slots, number + 1, listed, bands.length + length, length, cut)


@inlined
def write_lines(copy, column, reached, bands, lines, chosen, out):
    """Write down the lines of a paragraph that stand before the floor. Returns how far copy has come."""
    pieces, ends, rows, listed, records = copy.pieces, out.ends, bands.rows, bands.slots, out.records
    firsts, lasts, slots_of = chosen.first, chosen.last, chosen.slot
    at, written, line = reached.at, reached.written, reached.line
    starts = begins_paragraph(pieces, at)
    drop = starts and copy.rules[int(pieces[at, PARAGRAPH]), DROP_LINES] > 1
    last_band, by_geometry = -1, 0
    for i in range(max(lines, 0)):
        s = slots_of[i]
        if s >= bands.slot_count or written >= len(records):
            break
        band = int(listed[s, SLOT_BAND])
        if band != last_band:
            if line == column.first_line:
                ends[END_HANG] = rows[band, BAND_BASELINE] - rows[band, BAND_HANG]
            elif rows[band, BAND_WHY] == BY_GEOMETRY:
                by_geometry += 1
            last_band = band
            line += 1
        this = Line(
            line - 1,
            rows[band, BAND_BASELINE],
            rows[band, BAND_TOP],
            rows[band, BAND_BOTTOM],
            rows[band, BAND_WHY],
            0.0,
        )
        cap_x = out.reckoned[IN_CAP, CAP_LEFT] if drop and i == 0 else NO_CAP
        written = write_record(records, written, this, firsts[i], lasts[i], listed, s, starts and i == 0, cap_x)
        at = lasts[i] + 1
    if last_band < 0:
        return Reached(at, written, line, reached.baseline, reached.reach, False, by_geometry)
    baseline = rows[last_band, BAND_BASELINE]
    ends[END_STAND], ends[END_BASELINE] = baseline + rows[last_band, BAND_STAND], baseline
    return Reached(at, written, line, baseline, rows[last_band, BAND_REACH], rows[last_band, BAND_CUT] > 0, by_geometry)


@njit(cache=True)
def objects_held(pieces, bands, lines, chosen):
    """For each band a row with the greatest heights of the pieces in it that hold objects in line."""
    firsts, lasts, slots_of, slots = chosen.first, chosen.last, chosen.slot, bands.slots
    held = np.full((bands.total, PIECE_COLUMNS), -FAR)
    for i in range(max(lines, 0)):
        if slots_of[i] >= bands.slot_count:
            break
        for p in range(firsts[i], lasts[i] + 1):
            if holds_object(pieces[p]):
                band = int(slots[slots_of[i], SLOT_BAND])
                raise_row(held[band], pieces[p])
    return held
