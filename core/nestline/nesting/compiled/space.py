"""Slots, compiled by Numba: which stretches of a band are free. Plain functions over plain arrays, in points.

Geometry arrives as a `Space`: the edges of the padded outline and of the wraps, and an index of them by height.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nestline.nesting.compiled.borrowing import borrowed
from nestline.nesting.compiled.inlining import inlined
from nestline.nesting.compiled.pieces import FAR
from nestline.rows import (
    CROSSER,
    CROSSING,
    EDGE_X0,
    EDGE_X1,
    EDGE_Y0,
    EDGE_Y1,
    HIGH,
    LOW,
    OUTLINE,
    OWNER,
    PARITY,
    SLOT_LEFT,
    SLOT_LEFT_CAUSE,
    SLOT_RIGHT,
    SLOT_RIGHT_CAUSE,
    STARTS,
    WHO,
)

EPSILON = 1e-7
TOUCH = 1e-8


class Space(NamedTuple):
    """Where copy may stand: the padded outline and the wraps.

    `edges` has a row an edge, the edges of a ring one after another, and `rings` beside it where rings begin and whose
    they are (nestline.rows). `side` says where copy may stand beside each wrap: 0 both, 1 left of it only, 2 right of
    it only. `members[members[i]:members[i + 1]]` are the edges that reach into the i-th of `strips` strips of height 1
    / `scale` below `top`. `room` is to reckon in, and all share it: compiled loops hold the interpreter's lock, and
    nothing in it is looked at again but its last row, which counts the bands looked at (LOW) and says how many may be
    (HIGH, see nesting.work).

    Columns are strips side by side, or the arms of an outline: `above` has a row for each arm that runs into another
    (the other, it).

    Few arrays, since each is counted anew whenever a Space is handed to a function, and whenever one is taken from it:
    inner loops take them once, and hand arrays on by themselves. So do all named tuples of this package.
    """

    edges: NDArray[np.float64]
    rings: NDArray[np.int64]
    side: NDArray[np.int64]
    members: NDArray[np.int64]
    room: NDArray[np.float64]
    above: NDArray[np.int64]
    strips: int
    top: float
    scale: float


@njit(cache=True)
def borrowed_space(space):
    return Space(
        borrowed(space.edges),
        borrowed(space.rings),
        borrowed(space.side),
        borrowed(space.members),
        borrowed(space.room),
        borrowed(space.above),
        space.strips,
        space.top,
        space.scale,
    )


@njit(cache=True)
def strip_of(y, top, scale, count):
    """The strip that holds a height, the first or last one for heights beyond them."""
    return min(max(int((y - top) * scale), 0), count - 1)


@njit(cache=True)
def lay_edges(edges, starts, right, down, whose, all_edges, all_rings, at):
    """Write edges, moved right and down, behind those already there. Returns the place after them."""
    for i in range(len(edges)):
        all_edges[at, EDGE_X0], all_edges[at, EDGE_Y0] = edges[i, EDGE_X0] + right, edges[i, EDGE_Y0] + down
        all_edges[at, EDGE_X1], all_edges[at, EDGE_Y1] = edges[i, EDGE_X1] + right, edges[i, EDGE_Y1] + down
        all_rings[at, STARTS], all_rings[at, OWNER] = starts[i], whose
        at += 1
    return at


@njit(cache=True)
def index_by_height(edges, strip_height, most):
    """The members, strips, top and scale of a Space in strips of about a height, `most` at most."""
    n = len(edges)
    top, bottom = (FAR, -FAR) if n > 0 else (0.0, 1.0)
    for i in range(n):
        top, bottom = min(top, edges[i, EDGE_Y0]), max(bottom, edges[i, EDGE_Y0])
    height = max(bottom - top, 1e-6)
    count = max(1, min(most, int(height / strip_height)))
    scale = count / height
    first = np.zeros(count + 2, np.int64)
    lowest, highest = np.empty(n, np.int64), np.empty(n, np.int64)
    for i in range(n):
        a, b = strip_of(edges[i, EDGE_Y0], top, scale, count), strip_of(edges[i, EDGE_Y1], top, scale, count)
        low, high = (a, b) if a < b else (b, a)
        lowest[i], highest[i] = low, high
        for s in range(low, high + 1):
            first[s + 2] += 1
    first[0] = first[1] = count + 1
    for s in range(2, count + 2):
        first[s] += first[s - 1]
    members = np.empty(first[count + 1], np.int64)
    for i in range(n):
        for s in range(lowest[i], highest[i] + 1):
            members[first[s + 1]] = i
            first[s + 1] += 1
    for s in range(count + 1):
        members[s] = first[s]
    return members, count, top, scale


@njit(cache=True)
def vertex_below(space, y):
    """The y of the first vertex below a height; FAR when there is none."""
    edges, members, count = space.edges, space.members, space.strips
    for s in range(strip_of(y, space.top, space.scale, count), count):
        best = FAR
        for m in range(members[s], members[s + 1]):
            for end in (EDGE_Y0, EDGE_Y1):
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
            for end in (EDGE_Y0, EDGE_Y1):
                at = edges[members[m], end]
                if best < at < y:
                    best = at
        if best > -FAR and strip_of(best, space.top, space.scale, count) >= s:
            return best
    return -FAR


@njit(cache=True)
def slots_in_band(space, top, bottom, least, out):
    """The slots of a band, left to right, as rows of `out`: their ends and what each comes from (nestline.rows).

    Returns how many were found. Both ends of every slot are edges of the outline or of a wrap; only slots at least
    `least` wide are kept.
    """
    room, side = space.room, space.side
    counted = len(room) - 1
    room[counted, LOW] += 1
    if room[counted, LOW] > room[counted, HIGH]:
        return 0
    # A band may touch an edge: what rounding adds to its height does not count.
    count, crossings = find_stretches(
        space.edges, space.rings, space.members, room, space.strips, space.top, space.scale, top + TOUCH, bottom - TOUCH
    )
    if count == 0:
        return 0
    open_sides(side, room, count)
    sort_stretches(room, count)
    return free_between(room, len(side), count, crossings, least, out)


@inlined
def find_stretches(edges, rings, members, room, height, begin, scale, top, bottom):
    """Write into the room what the edges inside a band forbid: of each stretch its ends and whose it is, and of each
    edge that crosses the band's middle its x there and whose it is. Returns how many stretches and crossings there are.
    """
    first_strip, last_strip = strip_of(top, begin, scale, height), strip_of(bottom, begin, scale, height)
    count = crossings = 0
    middle = (top + bottom) / 2
    before = -2
    strip = first_strip
    for place in range(members[first_strip], members[last_strip + 1]):
        while place >= members[strip + 1]:
            strip += 1
        i = members[place]
        x0, y0, x1, y1 = edges[i, EDGE_X0], edges[i, EDGE_Y0], edges[i, EDGE_X1], edges[i, EDGE_Y1]
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
    return count, crossings


@inlined
def open_sides(side, room, count):
    """Let what a wrap forbids go on without end at the side where no copy may stand."""
    for k in range(len(side)):
        if side[k] == 0:
            continue
        for i in range(count):
            if room[i, WHO] == k + 1:
                if side[k] == 1:
                    room[i, HIGH] = FAR
                else:
                    room[i, LOW] = -FAR


@inlined
def sort_stretches(room, count):
    """Insertion sort by the low end: there are few stretches, mostly in order."""
    for i in range(1, count):
        a, b, c = room[i, LOW], room[i, HIGH], room[i, WHO]
        j = i - 1
        while j >= 0 and room[j, LOW] > a:
            room[j + 1, LOW], room[j + 1, HIGH], room[j + 1, WHO] = room[j, LOW], room[j, HIGH], room[j, WHO]
            j -= 1
        room[j + 1, LOW], room[j + 1, HIGH], room[j + 1, WHO] = a, b, c


@inlined
def free_between(room, wraps, count, crossings, least, out):
    """The slots between forbidden stretches, as rows of `out`. Returns how many there are."""
    found = 0
    reach, reacher = room[0, HIGH], room[0, WHO]
    for i in range(1, count):
        if room[i, LOW] > reach:
            if room[i, LOW] - reach >= least - EPSILON:
                if is_free(room, wraps, (reach + room[i, LOW]) / 2, crossings) and found < len(out):
                    out[found, SLOT_LEFT], out[found, SLOT_RIGHT] = reach, room[i, LOW]
                    out[found, SLOT_LEFT_CAUSE], out[found, SLOT_RIGHT_CAUSE] = reacher, room[i, WHO]
                    found += 1
            reach, reacher = room[i, HIGH], room[i, WHO]
        elif room[i, HIGH] > reach:
            reach, reacher = room[i, HIGH], room[i, WHO]
    return found


@inlined
def is_free(room, wraps, x, crossings):
    """Whether a place in the band's middle lies inside the outline and outside every wrap, by the parity of
    crossings."""
    for k in range(wraps + 1):
        room[k, PARITY] = 0
    for c in range(crossings):
        if room[c, CROSSING] < x:
            crosser = int(room[c, CROSSER])
            room[crosser, PARITY] = 1 - room[crosser, PARITY]
    free = room[OUTLINE, PARITY] == 1
    for k in range(wraps):
        if room[k + 1, PARITY] == 1:
            free = False
    return free


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
        widest = max(widest, out[i, SLOT_RIGHT] - out[i, SLOT_LEFT])
    return widest
