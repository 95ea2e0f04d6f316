"""The hot loops of nesting, compiled by Numba. Plain functions over plain arrays; everything in points.

Geometry arrives as a `Space`: the edges of the padded outline and of the wraps, and an index of them by height.

Copy arrives as a row a piece and a row a paragraph (see copy.shaped). A line on baseline b needs a band from
b − above to b + below; its slots are where the whole band is free (5-engine, "Bands and slots").
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray


class Space(NamedTuple):
    """Where copy may stand: the padded outline and the wraps.

    `edges` is (n, 4): x0, y0, x1, y1, the edges of a ring one after another; `starts` is 1 where a ring begins;
    `owner` says whose edge it is: 0 the padded outline, k ≥ 1 the wrap k − 1. `side` says where copy may stand beside
    each wrap: 0 both, 1 left of it only, 2 right of it only. `events` are the y of all vertices, in order.
    `members[strips[i]:strips[i + 1]]` are the edges that reach into the i-th strip of height `ruler[1]` below `ruler[0]`.
    """

    edges: NDArray[np.float64]
    starts: NDArray[np.int64]
    owner: NDArray[np.int64]
    side: NDArray[np.int64]
    events: NDArray[np.float64]
    strips: NDArray[np.int64]
    members: NDArray[np.int64]
    ruler: NDArray[np.float64]


OUTLINE = 0
# Columns of a record, one for each slot that holds copy.
LINE, FIRST, LAST, BASELINE, TOP, BOTTOM, LEFT, RIGHT, LEFT_CAUSE, RIGHT_CAUSE, PARAGRAPH_START, PAST, WHY = range(13)
RECORD_COLUMNS = 13
# Why a baseline is where it is.
BY_HANG, BY_LEADING, BY_GEOMETRY, BY_EDGE = range(4)
# Columns of the pieces and rules (copy.shaped).
X0, X1, CHANGE0, CHANGE1, SPACE0, SPACE1, PARAGRAPH, FORCED, ASC, DESC, BOX_UP, BOX_DOWN, CAP, EX = range(14)
LEADING, ALIGN, ALIGN_LAST, BEFORE, AFTER, INDENT, FIRST_INDENT, SIZE, SPACE_WIDTH = range(9)
# Columns of a frame's rules.
BY_LINE_BOX, HANG_KIND, HANG_LENGTH, HANG_LEAST, STAND_KIND, LEAST_PT, LEAST_EM, Y_TOP, Y_BOTTOM = range(9)
HANG_ASCENDER, HANG_CAP, HANG_EX, HANG_BOX, HANG_BY_LENGTH = range(5)
STAND_BASELINE, STAND_DESCENDER, STAND_BOX = range(3)

EPSILON = 1e-7
TOUCH = 1e-8
FAR = 1e9


@njit(cache=True)
def strip_of(y, ruler, count):
    """The strip that holds a height, the first or last one for heights beyond them."""
    return min(max(int((y - ruler[0]) / ruler[1]), 0), count - 1)


@njit(cache=True)
def index_by_height(edges, ruler, count):
    """The strips and members of a Space."""
    strips = np.zeros(count + 1, np.int64)
    for i in range(len(edges)):
        low, high = min(edges[i, 1], edges[i, 3]), max(edges[i, 1], edges[i, 3])
        for s in range(strip_of(low, ruler, count), strip_of(high, ruler, count) + 1):
            strips[s + 1] += 1
    for s in range(count):
        strips[s + 1] += strips[s]
    filled = strips[:-1].copy()
    members = np.empty(strips[count], np.int64)
    for i in range(len(edges)):
        low, high = min(edges[i, 1], edges[i, 3]), max(edges[i, 1], edges[i, 3])
        for s in range(strip_of(low, ruler, count), strip_of(high, ruler, count) + 1):
            members[filled[s]] = i
            filled[s] += 1
    return strips, members


@njit(cache=True)
def slots_in_band(space, top, bottom, least, out):
    """The slots of a band, left to right: rows of left, right, cause of the left end, cause of the right end.

    `out` is an (m, 4) array to fill; returns how many were found. Both ends of every slot are edges of the outline or
    of a wrap; only slots at least `least` wide are kept.
    """
    edges, starts, owner, side = space.edges, space.starts, space.owner, space.side
    # A band may touch an edge: what rounding adds to its height does not count.
    top, bottom = top + TOUCH, bottom - TOUCH
    height = len(space.strips) - 1
    if height < 1:
        return 0
    first_strip, last_strip = strip_of(top, space.ruler, height), strip_of(bottom, space.ruler, height)
    n = space.strips[last_strip + 1] - space.strips[first_strip]
    lows = np.empty(n + 2)
    highs = np.empty(n + 2)
    who = np.empty(n + 2, np.int64)
    crossing = np.empty(n)
    crosser = np.empty(n, np.int64)
    count = crossings = 0
    middle = (top + bottom) / 2
    before = -2
    strip = first_strip
    for place in range(space.strips[first_strip], space.strips[last_strip + 1]):
        while place >= space.strips[strip + 1]:
            strip += 1
        i = space.members[place]
        x0, y0, x1, y1 = edges[i, 0], edges[i, 1], edges[i, 2], edges[i, 3]
        low_y, high_y = (y0, y1) if y0 < y1 else (y1, y0)
        if high_y <= top or low_y >= bottom:
            continue
        if strip > first_strip and strip_of(low_y, space.ruler, height) < strip:
            continue  # met in a strip above
        # Edges that follow one another meet inside the band: one forbidden stretch.
        joined = before == i - 1 and starts[i] == 0
        before = i
        # The part of the edge inside the band, projected on x.
        if y0 == y1:
            a, b = x0, x1
        else:
            slope = (x1 - x0) / (y1 - y0)
            a = x0 if top <= y0 <= bottom else x0 + (min(max(y0, top), bottom) - y0) * slope
            b = x1 if top <= y1 <= bottom else x0 + (min(max(y1, top), bottom) - y0) * slope
            if (y0 <= middle) != (y1 <= middle):
                crossing[crossings] = x0 + (middle - y0) * slope
                crosser[crossings] = owner[i]
                crossings += 1
        low, high = (a, b) if a < b else (b, a)
        if joined and top < y0 < bottom:
            if low < lows[count - 1]:
                lows[count - 1] = low
            if high > highs[count - 1]:
                highs[count - 1] = high
        else:
            lows[count], highs[count], who[count] = low, high, owner[i]
            count += 1
    wraps = len(side)
    for k in range(wraps):
        if side[k] == 0:
            continue
        first, last = FAR, -FAR
        for i in range(count):
            if who[i] == k + 1:
                first, last = min(first, lows[i]), max(last, highs[i])
        if first > last:
            continue
        for i in range(count):
            if who[i] == k + 1:
                if side[k] == 1:
                    highs[i] = FAR
                else:
                    lows[i] = -FAR
    # Insertion sort by the low end: there are few stretches, mostly in order.
    for i in range(1, count):
        a, b, c = lows[i], highs[i], who[i]
        j = i - 1
        while j >= 0 and lows[j] > a:
            lows[j + 1], highs[j + 1], who[j + 1] = lows[j], highs[j], who[j]
            j -= 1
        lows[j + 1], highs[j + 1], who[j + 1] = a, b, c
    found = 0
    if count == 0:
        return 0
    reach, reacher = highs[0], who[0]
    parity = np.zeros(wraps + 1, np.int64)
    for i in range(1, count):
        if lows[i] > reach:
            if lows[i] - reach >= least - EPSILON:
                at = (reach + lows[i]) / 2
                parity[:] = 0
                for c in range(crossings):
                    if crossing[c] < at:
                        parity[crosser[c]] ^= 1
                free = parity[OUTLINE] == 1
                for k in range(wraps):
                    if parity[k + 1] == 1:
                        free = False
                if free and found < len(out) - 1:
                    out[found, 0], out[found, 1] = reach, lows[i]
                    out[found, 2], out[found, 3] = reacher, who[i]
                    found += 1
            reach, reacher = highs[i], who[i]
        elif highs[i] > reach:
            reach, reacher = highs[i], who[i]
    return found


@njit(cache=True)
def widest_in_band(space, top, bottom, out):
    """The width of the widest slot of a band; 0 when there is none."""
    widest = 0.0
    for i in range(slots_in_band(space, top, bottom, 0.0, out)):
        widest = max(widest, out[i, 1] - out[i, 0])
    return widest


@njit(cache=True)
def next_usable(space, start, above, below, least, last, out):
    """The first baseline from `start` to `last` whose band has a slot at least `least` wide; FAR when none has.

    Steps from one vertex to the next (at most half a point), then bisects between the last band that does not do and
    the first that does. When `start` itself does, the last row of `out` says how many slots it has.
    """
    step = 0.5
    baseline = start
    bad = start
    while baseline <= last + EPSILON:
        count = slots_in_band(space, baseline - above, baseline + below, least, out)
        if count > 0:
            if baseline == start:
                out[-1, 0] = count
                return baseline
            good = baseline
            while good - bad > 1e-8:
                half = (good + bad) / 2
                if slots_in_band(space, half - above, half + below, least, out) > 0:
                    good = half
                else:
                    bad = half
            return good
        bad = baseline
        if baseline >= last:
            break
        following = baseline + step
        upper = np.searchsorted(space.events, baseline - above + 0.02)
        if upper < len(space.events):
            following = min(following, space.events[upper] + above)
        lower = np.searchsorted(space.events, baseline + below + 0.02)
        if lower < len(space.events):
            following = min(following, space.events[lower] - below)
        baseline = min(following, max(last, baseline + 1e-9))
    return FAR


@njit(cache=True)
def previous_usable(space, start, first, above, below, least, out):
    """The last baseline from `start` up to `first` whose band has a slot at least `least` wide; −FAR when none has."""
    baseline = start
    bad = start
    while baseline >= first - EPSILON:
        if slots_in_band(space, baseline - above, baseline + below, least, out) > 0:
            good = baseline
            while bad - good > 1e-8:
                half = (good + bad) / 2
                if slots_in_band(space, half - above, half + below, least, out) > 0:
                    good = half
                else:
                    bad = half
            return good
        bad = baseline
        if baseline <= first:
            break
        following = baseline - 0.5
        upper = np.searchsorted(space.events, baseline - above - 0.02) - 1
        if upper >= 0:
            following = max(following, space.events[upper] + above)
        lower = np.searchsorted(space.events, baseline + below - 0.02) - 1
        if lower >= 0:
            following = max(following, space.events[lower] - below)
        baseline = max(following, first)
    return -FAR


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
    return piece[BOX_DOWN]


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
def fill_band(pieces, rules, frame, at, line, baseline, top, bottom, slots, count, why, records, written, tall):
    """First fit of pieces from `at` into the slots of one band. Returns the next piece and the next record.

    `tall` gathers the greatest heights of the pieces placed (a row like a piece's).
    """
    paragraph = int(pieces[at, PARAGRAPH])
    starts_paragraph = at == 0 or int(pieces[at - 1, PARAGRAPH]) != paragraph
    n = len(pieces)
    begin = at
    for s in range(count):
        room = slots[s, 1] - slots[s, 0] - indents(rules, paragraph, starts_paragraph, at == begin)
        if piece_width(pieces, at, at) > room + EPSILON:
            continue
        last = at
        while pieces[last, FORCED] == 0 and last + 1 < n and piece_width(pieces, at, last + 1) <= room + EPSILON:
            last += 1
        for k in range(at, last + 1):
            for c in range(ASC, EX + 1):
                if pieces[k, c] > tall[c]:
                    tall[c] = pieces[k, c]
        if written < len(records):
            records[written, LINE], records[written, FIRST], records[written, LAST] = line, at, last
            records[written, BASELINE], records[written, TOP], records[written, BOTTOM] = baseline, top, bottom
            records[written, LEFT], records[written, RIGHT] = slots[s, 0], slots[s, 1]
            records[written, LEFT_CAUSE], records[written, RIGHT_CAUSE] = slots[s, 2], slots[s, 3]
            records[written, PARAGRAPH_START] = 1.0 if starts_paragraph and at == begin else 0.0
            records[written, PAST], records[written, WHY] = 0.0, why
            written += 1
        at = last + 1
        if pieces[last, FORCED] == 1 or at >= n:
            break
    return at, written


@njit(cache=True)
def nest_from(space, pieces, rules, frame, first_piece, hang_y, records, slots, ends):
    """Nest copy downwards from the first line's hang metric at `hang_y` (or the first y below that does).

    Fills `records`; returns (records written, next piece). `ends` receives the y of the first line's hang metric, the
    y of the last line's stand metric, the last baseline, the number of lines, and how many lines after the first stand
    where geometry, not leading, put them.
    """
    n = len(pieces)
    at, line, written = first_piece, 0, 0
    baseline = 0.0
    tall, before = np.zeros(14), np.zeros(14)
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
        leading = rules[paragraph, LEADING]
        least = least_slot(rules, paragraph, frame)
        gap = 0.0
        if line > 0 and (at == 0 or int(pieces[at - 1, PARAGRAPH]) != paragraph):
            gap = rules[int(pieces[at - 1, PARAGRAPH]), AFTER] + rules[paragraph, BEFORE]
        tall[:] = pieces[at]
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
            if line == 0:
                hang = hang_height(tall, frame)
                start = hang_y + hang
                if skipped > 0:
                    start = max(start, baseline + 0.5)
                above = min(up, hang)
                room = indents(rules, paragraph, True, True)
                need = max(least, piece_width(pieces, at, at) + room)
                why = BY_HANG
            else:
                start = baseline + gap + (previous_down + up if by_box else leading)
                why = BY_LEADING
            found = next_usable(space, start, above, down, need, floor - max(stand, down), slots)
            cut = False
            if found == FAR and (stand < down):
                found = next_usable(space, start, above, stand, need, floor - stand, slots)
                cut = True
            if found == FAR:
                none_left = True
                break
            if found > start + 1e-6:
                why = BY_GEOMETRY
            below = stand if cut else down
            top, bottom = found - above, found + below
            if found > start or need > least or cut:
                count = slots_in_band(space, top, bottom, least, slots)
            else:
                count = int(slots[-1, 0])  # next_usable has just found them
            before[:] = tall
            placed, written = fill_band(
                pieces, rules, frame, at, line, found, top, bottom, slots, count, why, records, written, tall
            )
            grown = False
            for c in range(ASC, EX + 1):
                if tall[c] > before[c] + 1e-9:
                    grown = True
            if not grown:
                break
        if none_left:
            break
        if placed == at:
            # No slot of this band holds the next piece: it stays empty.
            baseline = found
            previous_down = tall[BOX_DOWN]
            skipped += 1
            if cut:
                break
            continue
        if line == 0:
            ends[0] = found - hang_height(tall, frame)
        elif why == BY_GEOMETRY:
            ends[4] += 1
        line_at, line_written, line_top, line_why = at, saved, top, why
        baseline, previous_down = found, tall[BOX_DOWN]
        ends[1], ends[2] = found + stand_depth(tall, frame), found
        at = placed
        line += 1
        last_was_cut = cut
        if cut:
            break
    # The last line's band is cut at the bottom to the stand metric: it may hold more than its whole band did.
    if line > 0 and not last_was_cut and frame[STAND_KIND] != STAND_BOX:
        paragraph = int(pieces[line_at, PARAGRAPH])
        tall[:] = pieces[line_at]
        for k in range(line_at, at):
            for c in range(ASC, EX + 1):
                tall[c] = max(tall[c], pieces[k, c])
        stand, down = stand_depth(tall, frame), tall[BOX_DOWN] if by_box else tall[DESC]
        if stand < down:
            before[:] = tall
            bottom = ends[2] + stand
            count = slots_in_band(space, line_top, bottom, least_slot(rules, paragraph, frame), slots)
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
            for c in range(ASC, EX + 1):
                if tall[c] > before[c] + 1e-9:
                    taller = True
            if placed < at or taller:
                records[line_written:written] = keep
            else:
                at, written = placed, again
    ends[3] = line
    return written, at


@njit(cache=True)
def fill_past(pieces, rules, frame, at, line, baseline, previous_down, left, right, records, written):
    """Lines past the edge: on below, in the width left…right, without a floor. Returns the records written."""
    n = len(pieces)
    slots = np.zeros((1, 4))
    slots[0, 0], slots[0, 1] = left, right
    tall = np.zeros(14)
    by_box = frame[BY_LINE_BOX] > 0
    first = line == 0
    while at < n and written < len(records):
        paragraph = int(pieces[at, PARAGRAPH])
        gap = 0.0
        if not first and int(pieces[at - 1, PARAGRAPH]) != paragraph:
            gap = rules[int(pieces[at - 1, PARAGRAPH]), AFTER] + rules[paragraph, BEFORE]
        up = pieces[at, BOX_UP] if by_box else pieces[at, ASC]
        down = pieces[at, BOX_DOWN] if by_box else pieces[at, DESC]
        if first:
            baseline = baseline + hang_height(pieces[at], frame)
        elif by_box:
            baseline = baseline + gap + previous_down + up
        else:
            baseline = baseline + gap + rules[paragraph, LEADING]
        first = False
        # What is wider than the box stands alone, past the box's end too.
        alone = left + piece_width(pieces, at, at) + indents(rules, paragraph, True, True)
        slots[0, 1] = right if alone <= right else alone
        tall[:] = pieces[at]
        top, bottom = baseline - up, baseline + down
        placed, again = fill_band(
            pieces, rules, frame, at, line, baseline, top, bottom, slots, 1, BY_LEADING, records, written, tall
        )
        for k in range(written, again):
            records[k, PAST] = 1.0
        previous_down = tall[BOX_DOWN]
        at, written = placed, again
        line += 1
    return written


@njit(cache=True)
def usable_height(space, first, last, rules, frame, slots):
    """The y of the highest hang metric and of the lowest stand metric at which a band has a usable slot.

    `first` and `last` are pieces of the first and the last line. Returns (FAR, −FAR) when there is none.
    """
    by_box = frame[BY_LINE_BOX] > 0
    hang, stand = hang_height(first, frame), stand_depth(last, frame)
    least = least_slot(rules, int(first[PARAGRAPH]), frame)
    down = first[BOX_DOWN] if by_box else first[DESC]
    up = first[BOX_UP] if by_box else first[ASC]
    start = frame[Y_TOP] + max(hang, frame[HANG_LEAST])
    found = next_usable(space, start, min(up, hang), down, least, frame[Y_BOTTOM], slots)
    if found == FAR:
        return FAR, -FAR
    up = last[BOX_UP] if by_box else last[ASC]
    down = last[BOX_DOWN] if by_box else last[DESC]
    lowest = previous_usable(
        space,
        frame[Y_BOTTOM] - stand,
        frame[Y_TOP],
        up,
        min(down, stand),
        least_slot(rules, int(last[PARAGRAPH]), frame),
        slots,
    )
    return found - hang, (lowest + stand if lowest > -FAR else -FAR)


@njit(cache=True)
def off_middle(space, pieces, rules, frame, hang_y, aim_bottom, lift, top, bottom, records, slots, ends):
    """How far the nest from `hang_y` is from where it should sit: above less below (0 in the middle), or less below.

    FAR when copy is left over. `ends` as in nest_from.
    """
    _, at = nest_from(space, pieces, rules, frame, 0, hang_y, records, slots, ends)
    if at < len(pieces):
        return FAR
    below = bottom - ends[1]
    if aim_bottom:
        return -below
    return (ends[0] - top) - below + 2 * lift


@njit(cache=True)
def heights_between(pieces, first, last, tallest, lowest):
    """The greatest and the least heights of pieces first…last, into two rows like a piece's."""
    tallest[:] = pieces[first]
    lowest[:] = pieces[first]
    for p in range(first + 1, last + 1):
        for c in range(ASC, EX + 1):
            tallest[c] = max(tallest[c], pieces[p, c])
            lowest[c] = min(lowest[c], pieces[p, c])


@njit(cache=True)
def bounds_over(space, pieces, rules, frame, y, height, gaps, even, slots, out):
    """Bounds of the first hang metric and the last stand metric of the nests from all starts y to y + height.

    `out` receives least and greatest hang y, least and greatest stand y, and 1 when every line stands by leading.
    Returns False when copy is left over from each start. Two nests are followed line by line: one that stays ahead of
    every nest of these starts (its bands are what they share) and one that stays behind (its bands are all that any of
    them covers); first fit keeps their order. `gaps` is the room above a line that begins with each piece; `even` says
    that all pieces have the same heights.
    """
    n = len(pieces)
    by_box = frame[BY_LINE_BOX] > 0
    floor = frame[Y_BOTTOM]
    ahead = behind = line = 0
    last_ahead = last_behind = 0.0
    down_above_ahead = down_above_behind = 0.0
    tall, tallest, lowest = np.zeros(14), np.empty(14), np.empty(14)
    nothing = np.empty((0, RECORD_COLUMNS))
    out[:] = (0.0, 0.0, FAR, FAR, 1.0)
    heights_between(pieces, 0, 0 if even else n - 1, tallest, lowest)
    while behind < n:
        reach = ahead
        found_ahead = found_behind = 0.0
        after = ahead
        may_be_cut = False
        fewest, most = FAR, 0.0
        for p in range(int(pieces[behind, PARAGRAPH]), int(pieces[min(ahead, n - 1), PARAGRAPH]) + 1):
            fewest, most = min(fewest, least_slot(rules, p, frame)), max(most, least_slot(rules, p, frame))
        # Where heights differ the line is bounded twice: by the heights of all copy, then by those it may hold.
        for again in range(1 if even else 2):
            if not even:
                heights_between(pieces, behind if again else 0, min(reach, n) - 1 if again else n - 1, tallest, lowest)
            up_behind, up_ahead = (tallest[BOX_UP], lowest[BOX_UP]) if by_box else (tallest[ASC], lowest[ASC])
            down_behind, down_ahead = (tallest[BOX_DOWN], lowest[BOX_DOWN]) if by_box else (tallest[DESC], lowest[DESC])
            stand_behind, stand_ahead = stand_depth(tallest, frame), stand_depth(lowest, frame)
            over_behind, over_ahead = up_behind, up_ahead
            need_behind, need_ahead = most, fewest
            if line == 0:
                hang_behind, hang_ahead = hang_height(tallest, frame), hang_height(lowest, frame)
                from_ahead, from_behind = y + hang_ahead, y + height + hang_behind
                over_ahead, over_behind = min(up_ahead, hang_ahead), min(up_behind, hang_behind)
                first = piece_width(pieces, 0, 0) + indents(rules, 0, True, True)
                need_ahead, need_behind = max(need_ahead, first), max(need_behind, first)
            else:
                from_ahead, from_behind = FAR, -FAR
                for p in range(behind, min(ahead, n - 1) + 1):
                    step = gaps[p] + (0.0 if by_box else rules[int(pieces[p, PARAGRAPH]), LEADING])
                    from_ahead, from_behind = min(from_ahead, step), max(from_behind, step)
                from_ahead += last_ahead + (down_above_ahead + up_ahead if by_box else 0.0)
                from_behind += last_behind + (down_above_behind + up_behind if by_box else 0.0)
            lowest_band = floor - max(stand_behind, down_behind)
            found_behind = next_usable(space, from_behind, over_behind, down_behind, need_behind, lowest_band, slots)
            may_be_cut = found_behind == FAR
            if may_be_cut:
                found_behind = max(from_behind, floor - min(stand_behind, down_behind))
            under = min(down_ahead, stand_ahead)
            found_ahead = next_usable(space, from_ahead, over_ahead, under, need_ahead, floor - under, slots)
            if found_ahead == FAR:
                if ahead < n:
                    return False
                found_ahead = from_ahead
            if found_ahead > from_ahead + 1e-6 or found_behind > from_behind + 1e-6:
                out[4] = 0.0
            if line == 0:
                out[0], out[1] = found_ahead - hang_behind, found_behind - hang_ahead
            after = ahead
            if ahead < n:
                core_top = found_behind - over_ahead
                core_bottom = found_ahead + (under if may_be_cut else down_ahead)
                if core_bottom - core_top < 0.01:
                    after = n
                else:
                    count = slots_in_band(space, core_top, core_bottom, fewest, slots)
                    after, _ = fill_band(
                        pieces, rules, frame, ahead, 0, 0.0, 0.0, 0.0, slots, count, 0, nothing, 0, tall
                    )
            reach = max(after, behind + 1)
        if ahead < n and after >= n:
            out[2] = found_ahead + stand_ahead
        ahead = after
        if may_be_cut:
            break
        count = slots_in_band(space, found_ahead - over_behind, found_behind + down_behind, most, slots)
        behind, _ = fill_band(pieces, rules, frame, behind, 0, 0.0, 0.0, 0.0, slots, count, 0, nothing, 0, tall)
        if behind >= n:
            out[3] = found_behind + stand_behind
        last_ahead, last_behind = found_ahead, found_behind
        down_above_ahead, down_above_behind = lowest[BOX_DOWN], tallest[BOX_DOWN]
        line += 1
        if behind == 0:
            break
    if out[2] == FAR:
        out[2] = last_ahead
    return True


MOST_TRIED = 4000
FINE = 0.01
SCANNED = 16


@njit(cache=True)
def solve_sit(space, pieces, rules, frame, aim_bottom, lift, top, bottom, records, slots):
    """The hang y at which the nest sits in the middle (or at the bottom) best. FAR when copy is left over at the top.

    First along the lines that the nest has: its offset is linear in y while they stay the same, so that a step or two
    find an exact answer if there is one nearby. Where none is found, all starts are searched by halves: a stretch of
    starts is bounded (`bounds_over`), the most promising is tried and cut in two, and those that cannot hold a nearer
    start than the best so far are dropped. The shortest stretches are scanned at 0.01 pt.
    """
    ends = np.zeros(5)
    slope = 1.0 if aim_bottom else 2.0
    best_y, best = FAR, FAR
    y = top
    for _ in range(8):
        off = off_middle(space, pieces, rules, frame, y, aim_bottom, lift, top, bottom, records, slots, ends)
        if off == FAR:
            if y == top:
                return FAR
            break
        if abs(off) < best and (not aim_bottom or off <= EPSILON):
            best_y, best = y, abs(off)
        if abs(off) < 1e-6:
            return y
        aim = min(max(y - off / slope, top), bottom)
        if abs(aim - y) < 1e-9:
            break
        y = aim
    n = len(pieces)
    gaps = np.zeros(n)
    even = True
    leading = rules[0, LEADING]
    if frame[BY_LINE_BOX] > 0:
        leading = pieces[0, BOX_UP] + pieces[0, BOX_DOWN]
    same_steps = True
    for p in range(1, n):
        paragraph = int(pieces[p, PARAGRAPH])
        if int(pieces[p - 1, PARAGRAPH]) != paragraph:
            gaps[p] = rules[int(pieces[p - 1, PARAGRAPH]), AFTER] + rules[paragraph, BEFORE]
            same_steps = same_steps and gaps[p] == 0 and rules[paragraph, LEADING] == rules[0, LEADING]
        for c in range(ASC, EX + 1):
            even = even and pieces[p, c] == pieces[0, c]
    same_steps = same_steps and even
    out = np.empty(5)
    begins, heights, nearest = np.empty(MOST_TRIED), np.empty(MOST_TRIED), np.empty(MOST_TRIED)
    aims = np.empty(MOST_TRIED)
    height = FINE * SCANNED
    while height < 6 and height * 8 < bottom - top:
        height *= 2
    waiting = 0
    while top + height * waiting < bottom and waiting < MOST_TRIED:
        begins[waiting], heights[waiting], nearest[waiting], aims[waiting] = top + height * waiting, height, -1.0, 0.0
        waiting += 1
    for _ in range(MOST_TRIED):
        if waiting == 0:
            break
        i = int(np.argmin(nearest[:waiting]))
        begin, height, bound, aim = begins[i], heights[i], nearest[i], aims[i]
        waiting -= 1
        begins[i], heights[i], nearest[i], aims[i] = (
            begins[waiting],
            heights[waiting],
            nearest[waiting],
            aims[waiting],
        )
        if bound >= best - 1e-3:
            break
        parts = 1
        if bound >= 0:
            tries = SCANNED + 1 if height <= FINE * SCANNED + 1e-9 else 1
            for t in range(tries):
                y = aim if t == 0 else begin + FINE * (t - 1)
                off = off_middle(space, pieces, rules, frame, y, aim_bottom, lift, top, bottom, records, slots, ends)
                if off != FAR and abs(off) < best and (not aim_bottom or off <= EPSILON):
                    best_y, best = y, abs(off)
            if best < 1e-6:
                return best_y
            if bound >= best - 1e-3 or tries > 1:
                continue
            parts = 2
        height /= parts
        for part in range(parts):
            y = begin + height * part
            if waiting >= MOST_TRIED or not bounds_over(space, pieces, rules, frame, y, height, gaps, even, slots, out):
                continue
            low, high = out[2] - bottom, out[3] - bottom
            if aim_bottom:
                if low > EPSILON:
                    continue
                high = min(high, 0.0)
            else:
                low, high = low + out[0] - top + 2 * lift, high + out[1] - top + 2 * lift
            near = 0.0 if low <= 0 <= high else min(abs(low), abs(high))
            aim = y + height * (min(max(-low / (high - low), 0.0), 1.0) if low < high < FAR / 2 else 0.5)
            if same_steps and out[4] > 0:
                # Only whole lines can be between the bounds: the nearest that any count of lines comes.
                near = FAR
                at = low
                while at <= high + 1e-6:
                    last = at + slope * height
                    this = 0.0 if at <= 0 <= last else min(abs(at), abs(last))
                    if aim_bottom and at > 0:
                        this = FAR
                    if this < near:
                        near = this
                        aim = y + min(max(-at / slope, 0.0), height)
                    if at > 0:
                        break
                    at += leading
            if near < best:
                begins[waiting], heights[waiting], nearest[waiting], aims[waiting] = y, height, near, aim
                waiting += 1
    return best_y


@njit(cache=True)
def surely_fits(space, width, top, bottom, above, below, leading, slots):
    """Whether slots at least `width` wide run on for a leading's height, so that some line meets one in any case."""
    step = leading / 4
    middle = (top + bottom) / 2
    for begin in (middle, top):
        run = 0.0
        y = begin
        while y <= bottom and y - begin < 12 * leading:
            if widest_in_band(space, y - above, y + below, slots) >= width:
                run += step
                if run > leading + 2 * step:
                    return True
            else:
                run = 0.0
            y += step
    return False


@njit(cache=True)
def width_that_always_fits(space, top, bottom, above, below, leading, slots):
    """The width that some line of the frame has, wherever the lines start: the least, over all starts, of the widest.

    A piece wider than this cannot be counted on to find a slot, and is broken.
    """
    steps = int(max(8, min(64, leading * 2)))
    least = FAR
    for phase in range(steps):
        widest = 0.0
        y = top + leading * phase / steps
        while y < bottom:
            widest = max(widest, widest_in_band(space, y - above, y + below, slots))
            y += leading
        least = min(least, widest)
    return least if least < FAR else 0.0


@njit(cache=True)
def slot_length_below(space, baseline, leading, above, below, least, floor, slots):
    """The usable slot length of all lines below a baseline, at a leading."""
    total = 0.0
    baseline += leading
    for _ in range(10_000):
        found = next_usable(space, baseline, above, below, least, floor - below, slots)
        if found == FAR:
            break
        for i in range(slots_in_band(space, found - above, found + below, least, slots)):
            total += slots[i, 1] - slots[i, 0]
        baseline = found + leading
    return total


@njit(cache=True)
def align_records(records, pieces, rules, widest_space, starts, widths, more, loose):
    """Where each record's first letter stands, its natural width, what each word space gains, and whether it is too
    loose to justify (then it is set natural). `rules` columns ALIGN and ALIGN_LAST: 0 start, 1 centre, 2 end, 3 justify.
    """
    for i in range(len(records)):
        first, last = int(records[i, FIRST]), int(records[i, LAST])
        rule = rules[int(pieces[first, PARAGRAPH])]
        width = piece_width(pieces, first, last)
        indent = rule[INDENT] + (rule[FIRST_INDENT] if records[i, PARAGRAPH_START] > 0 else 0.0)
        room = records[i, RIGHT] - records[i, LEFT] - indent
        align = rule[ALIGN]
        if align == 3 and pieces[last, FORCED] > 0:
            align = rule[ALIGN_LAST]
        gaps = pieces[last, SPACE1] - pieces[first, SPACE0]
        gain = (room - width) / gaps if align == 3 and gaps > 0 else 0.0
        loose[i] = align == 3 and (gaps == 0 or gain > (widest_space - 1) * rule[SPACE_WIDTH])
        if loose[i]:
            gain = 0.0
        free = room - width - gain * gaps
        share = 0.5 if align == 1 else 1.0 if align == 2 else 0.0
        starts[i], widths[i], more[i] = records[i, LEFT] + indent + free * share, width, gain


@njit(cache=True)
def place_words(records, starts, more, pieces, piece_words, word_x, word_spaces):
    """The word segments of every record in order: their records, their indices, their x.

    `piece_words` holds for each piece its first word segment and the one after its last.
    """
    n = len(records)
    total = 0
    for i in range(n):
        total += piece_words[int(records[i, LAST]), 1] - piece_words[int(records[i, FIRST]), 0]
    which, index, x = np.empty(total, np.int64), np.empty(total, np.int64), np.empty(total)
    at = 0
    for i in range(n):
        first = int(records[i, FIRST])
        x0, change, spaces = pieces[first, X0], pieces[first, CHANGE0], pieces[first, SPACE0]
        for word in range(piece_words[first, 0], piece_words[int(records[i, LAST]), 1]):
            which[at], index[at] = i, word
            shift = change if word_x[word] > x0 + 1e-9 else 0.0
            x[at] = starts[i] + word_x[word] - x0 + shift + more[i] * (word_spaces[word] - spaces)
            at += 1
    return which, index, x
