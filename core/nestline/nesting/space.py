"""Slots, compiled by Numba: which stretches of a band are free. Plain functions over plain arrays, in points.

Geometry arrives as a `Space`: the edges of the padded outline and of the wraps, and an index of them by height.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

OUTLINE = 0
EPSILON = 1e-7
TOUCH = 1e-8
FAR = 1e9
# Columns of `rings`, and of the room to reckon in.
STARTS, OWNER = 0, 1
LOW, HIGH, WHO, CROSSING, CROSSER, PARITY, ROOM = range(7)


class Space(NamedTuple):
    """Where copy may stand: the padded outline and the wraps.

    `edges` is (n, 4): x0, y0, x1, y1, the edges of a ring one after another; `rings` is (n, 2): 1 where a ring begins, and
    whose edge it is: 0 the padded outline's, k ≥ 1 that of the wrap k − 1. `side` says where copy may stand beside each
    wrap: 0 both, 1 left of it only, 2 right of it only. `members[members[i]:members[i + 1]]` are the edges that reach into
    the i-th of `strips` strips of height 1 / `scale` below `top`. `room` is to reckon in, and all share it:
    compiled loops hold the interpreter's lock, and nothing in it is looked at again but its last row, which counts the
    bands looked at (LOW) and says how many may be (HIGH, see nesting.work).

    Few arrays, since each is counted anew whenever a Space is handed to a function.
    """

    edges: NDArray[np.float64]
    rings: NDArray[np.int64]
    side: NDArray[np.int64]
    members: NDArray[np.int64]
    room: NDArray[np.float64]
    strips: int
    top: float
    scale: float


@njit(cache=True)
def strip_of(y, top, scale, count):
    """The strip that holds a height, the first or last one for heights beyond them."""
    return min(max(int((y - top) * scale), 0), count - 1)


@njit(cache=True)
def lay_edges(edges, starts, right, down, whose, all_edges, all_rings, at):
    """Write edges, moved right and down, behind those already there. Returns the place after them."""
    for i in range(len(edges)):
        all_edges[at, 0], all_edges[at, 1] = edges[i, 0] + right, edges[i, 1] + down
        all_edges[at, 2], all_edges[at, 3] = edges[i, 2] + right, edges[i, 3] + down
        all_rings[at, STARTS], all_rings[at, OWNER] = starts[i], whose
        at += 1
    return at


@njit(cache=True)
def index_by_height(edges, strip_height, most):
    """The members, strips, top and scale of a Space in strips of about a height, `most` at most."""
    n = len(edges)
    top, bottom = (FAR, -FAR) if n > 0 else (0.0, 1.0)
    for i in range(n):
        top, bottom = min(top, edges[i, 1]), max(bottom, edges[i, 1])
    height = max(bottom - top, 1e-6)
    count = max(1, min(most, int(height / strip_height)))
    scale = count / height
    first = np.zeros(count + 2, np.int64)
    reach = np.empty((n, 2), np.int64)
    for i in range(n):
        a, b = strip_of(edges[i, 1], top, scale, count), strip_of(edges[i, 3], top, scale, count)
        low, high = (a, b) if a < b else (b, a)
        reach[i, 0], reach[i, 1] = low, high
        for s in range(low, high + 1):
            first[s + 2] += 1
    first[0] = first[1] = count + 1
    for s in range(2, count + 2):
        first[s] += first[s - 1]
    members = np.empty(first[count + 1], np.int64)
    for i in range(n):
        for s in range(reach[i, 0], reach[i, 1] + 1):
            members[first[s + 1]] = i
            first[s + 1] += 1
    members[: count + 1] = first[: count + 1]
    return members, count, top, scale


@njit(cache=True)
def vertex_below(space, y):
    """The y of the first vertex below a height; FAR when there is none."""
    edges, members, count = space.edges, space.members, space.strips
    for s in range(strip_of(y, space.top, space.scale, count), count):
        best = FAR
        for m in range(members[s], members[s + 1]):
            for end in (1, 3):
                at = edges[members[m], end]
                if y < at < best:
                    best = at
        # Those of the strips below may reach up into this one: what lies in it is the first.
        if best < FAR and (s == count - 1 or strip_of(best, space.top, space.scale, count) <= s):
            return best
    return FAR


@njit(cache=True)
def vertex_above(space, y):
    """The y of the last vertex above a height; −FAR when there is none."""
    edges, members, count = space.edges, space.members, space.strips
    for s in range(strip_of(y, space.top, space.scale, count), -1, -1):
        best = -FAR
        for m in range(members[s], members[s + 1]):
            for end in (1, 3):
                at = edges[members[m], end]
                if best < at < y:
                    best = at
        if best > -FAR and strip_of(best, space.top, space.scale, count) >= s:
            return best
    return -FAR


@njit(cache=True)
def slots_in_band(space, top, bottom, least, out):
    """The slots of a band, left to right: rows of left, right, cause of the left end, cause of the right end.

    `out` is an (m, 4) array to fill; returns how many were found. Both ends of every slot are edges of the outline or
    of a wrap; only slots at least `least` wide are kept.
    """
    edges, rings, side, members, room = space.edges, space.rings, space.side, space.members, space.room
    counted = len(room) - 1
    room[counted, LOW] += 1
    if room[counted, LOW] > room[counted, HIGH]:
        return 0
    begin, scale, height = space.top, space.scale, space.strips
    # A band may touch an edge: what rounding adds to its height does not count.
    top, bottom = top + TOUCH, bottom - TOUCH
    first_strip, last_strip = strip_of(top, begin, scale, height), strip_of(bottom, begin, scale, height)
    # Of each forbidden stretch its low and high end and whose it is; of each edge that crosses the band's middle its x
    # there and whose it is; the parity of crossings for each owner.
    count = crossings = 0
    middle = (top + bottom) / 2
    before = -2
    strip = first_strip
    for place in range(members[first_strip], members[last_strip + 1]):
        while place >= members[strip + 1]:
            strip += 1
        i = members[place]
        x0, y0, x1, y1 = edges[i, 0], edges[i, 1], edges[i, 2], edges[i, 3]
        low_y, high_y = (y0, y1) if y0 < y1 else (y1, y0)
        if high_y <= top or low_y >= bottom:
            continue
        if strip > first_strip and strip_of(low_y, begin, scale, height) < strip:
            continue  # met in a strip above
        # Edges that follow one another meet inside the band: one forbidden stretch.
        joined = before == i - 1 and rings[i, STARTS] == 0
        before = i
        # The part of the edge inside the band, projected on x.
        if y0 == y1:
            a, b = x0, x1
        else:
            slope = (x1 - x0) / (y1 - y0)
            a = x0 if top <= y0 <= bottom else x0 + (min(max(y0, top), bottom) - y0) * slope
            b = x1 if top <= y1 <= bottom else x0 + (min(max(y1, top), bottom) - y0) * slope
            if (y0 <= middle) != (y1 <= middle):
                room[crossings, CROSSING] = x0 + (middle - y0) * slope
                room[crossings, CROSSER] = rings[i, OWNER]
                crossings += 1
        low, high = (a, b) if a < b else (b, a)
        if joined and top < y0 < bottom:
            if low < room[count - 1, LOW]:
                room[count - 1, LOW] = low
            if high > room[count - 1, HIGH]:
                room[count - 1, HIGH] = high
        else:
            room[count, LOW], room[count, HIGH], room[count, WHO] = low, high, rings[i, OWNER]
            count += 1
    wraps = len(side)
    for k in range(wraps):
        if side[k] == 0:
            continue
        first, last = FAR, -FAR
        for i in range(count):
            if room[i, WHO] == k + 1:
                first, last = min(first, room[i, LOW]), max(last, room[i, HIGH])
        if first > last:
            continue
        for i in range(count):
            if room[i, WHO] == k + 1:
                if side[k] == 1:
                    room[i, HIGH] = FAR
                else:
                    room[i, LOW] = -FAR
    # Insertion sort by the low end: there are few stretches, mostly in order.
    for i in range(1, count):
        a, b, c = room[i, LOW], room[i, HIGH], room[i, WHO]
        j = i - 1
        while j >= 0 and room[j, LOW] > a:
            room[j + 1, LOW], room[j + 1, HIGH], room[j + 1, WHO] = room[j, LOW], room[j, HIGH], room[j, WHO]
            j -= 1
        room[j + 1, LOW], room[j + 1, HIGH], room[j + 1, WHO] = a, b, c
    found = 0
    if count == 0:
        return 0
    reach, reacher = room[0, HIGH], room[0, WHO]
    for i in range(1, count):
        if room[i, LOW] > reach:
            if room[i, LOW] - reach >= least - EPSILON:
                at = (reach + room[i, LOW]) / 2
                for k in range(wraps + 1):
                    room[k, PARITY] = 0
                for c in range(crossings):
                    if room[c, CROSSING] < at:
                        crosser = int(room[c, CROSSER])
                        room[crosser, PARITY] = 1 - room[crosser, PARITY]
                free = room[OUTLINE, PARITY] == 1
                for k in range(wraps):
                    if room[k + 1, PARITY] == 1:
                        free = False
                if free and found < len(out):
                    out[found, 0], out[found, 1] = reach, room[i, LOW]
                    out[found, 2], out[found, 3] = reacher, room[i, WHO]
                    found += 1
            reach, reacher = room[i, HIGH], room[i, WHO]
        elif room[i, HIGH] > reach:
            reach, reacher = room[i, HIGH], room[i, WHO]
    return found


@njit(cache=True)
def spent(space):
    """Whether no more bands may be looked at (nesting.work): then none has a slot."""
    last = len(space.room) - 1
    return space.room[last, LOW] > space.room[last, HIGH]


@njit(cache=True)
def widest_in_band(space, top, bottom, out):
    """The width of the widest slot of a band; 0 when there is none."""
    widest = 0.0
    for i in range(slots_in_band(space, top, bottom, 0.0, out)):
        widest = max(widest, out[i, 1] - out[i, 0])
    return widest


@njit(cache=True)
def edge_of_use(space, bad, good, above, below, least, out):
    """The baseline nearest to `bad` that is as usable as `good`, no vertex between them meeting the band's ends.

    The widest slot's width is linear there as a rule, so that the place is where it reaches `least`; halved where not.
    """
    wide = widest_in_band(space, good - above, good + below, out) - (least - EPSILON)
    narrow = widest_in_band(space, bad - above, bad + below, out) - (least - EPSILON)
    guess = bad + (good - bad) * narrow / (narrow - wide) if narrow < wide else (bad + good) / 2
    for nearer in (guess - 4e-9, guess + 4e-9):
        if min(bad, good) < nearer < max(bad, good):
            if slots_in_band(space, nearer - above, nearer + below, least, out) > 0:
                good = nearer
            else:
                bad = nearer
    while abs(good - bad) > 1e-8:
        half = (good + bad) / 2
        if slots_in_band(space, half - above, half + below, least, out) > 0:
            good = half
        else:
            bad = half
    return good


@njit(cache=True)
def next_usable(space, start, above, below, least, last, out):
    """The first baseline from `start` to `last` whose band has a slot at least `least` wide; FAR when none has.

    Steps from one vertex to the next (at most half a point), and leaps where even what the bands of a stretch of
    baselines have in common has no such slot.
    """
    step, leap = 0.5, (above + below) / 2
    baseline = bad = start
    while baseline <= last + EPSILON:
        if slots_in_band(space, baseline - above, baseline + below, least, out) > 0:
            return baseline if baseline == start else edge_of_use(space, bad, baseline, above, below, least, out)
        bad = baseline
        if baseline >= last or spent(space):
            break
        while leap > step and not spent(space):
            there = min(baseline + leap, last)
            if slots_in_band(space, there - above, baseline + below, least, out) > 0:
                leap /= 2
                continue
            baseline = bad = there
            if baseline >= last:
                return FAR
        leap = 2 * step
        following = baseline + step
        following = min(following, vertex_below(space, baseline - above + 0.02) + above)
        following = min(following, vertex_below(space, baseline + below + 0.02) - below)
        baseline = min(following, max(last, baseline + 1e-9))
    return FAR


@njit(cache=True)
def previous_usable(space, start, first, above, below, least, out):
    """The last baseline from `start` up to `first` whose band has a slot at least `least` wide; −FAR when none has."""
    step, leap = 0.5, (above + below) / 2
    baseline = bad = start
    while baseline >= first - EPSILON:
        if slots_in_band(space, baseline - above, baseline + below, least, out) > 0:
            return baseline if baseline == start else edge_of_use(space, bad, baseline, above, below, least, out)
        bad = baseline
        if baseline <= first or spent(space):
            break
        while leap > step and not spent(space):
            there = max(baseline - leap, first)
            if slots_in_band(space, baseline - above, there + below, least, out) > 0:
                leap /= 2
                continue
            baseline = bad = there
            if baseline <= first:
                return -FAR
        leap = 2 * step
        following = baseline - step
        following = max(following, vertex_above(space, baseline - above - 0.02) + above)
        following = max(following, vertex_above(space, baseline + below - 0.02) - below)
        baseline = max(following, first)
    return -FAR


@njit(cache=True)
def surely_fits(space, width, top, bottom, above, below, leading, slots):
    """Whether slots at least `width` wide run on for a leading's height, so that some line meets one in any case."""
    step = leading / 4
    middle = (top + bottom) / 2
    for begin in (middle, (top + middle) / 2, (middle + bottom) / 2):
        reach = begin + 1.5 * leading
        if reach <= bottom and widest_in_band(space, begin - above, reach + below, slots) >= width:
            return True
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
        while y < bottom and not spent(space):
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
