"""Bounds of where all nests from a stretch of starts sit, compiled by Numba."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nestline.nesting.compiled.first_fit import fill_band
from nestline.nesting.compiled.lines import Line
from nestline.nesting.compiled.pieces import (
    FAR,
    band_reach,
    hang_height,
    indents,
    least_slot,
    piece_width,
    put_row,
    reach_below,
    stand_depth,
    step_down,
)
from nestline.nesting.compiled.space import slots_in_band
from nestline.nesting.compiled.usable import next_usable
from nestline.rows import (
    ALL_BY_LEADING,
    ASC,
    LEAST_HANG,
    LEAST_STAND,
    MOST_HANG,
    MOST_STAND,
    PARAGRAPH,
    PIECE_COLUMNS,
    UNDER,
    Y_BOTTOM,
)

NO_LINE = Line(0, 0.0, 0.0, 0.0, 0.0, 0.0)


class Starts(NamedTuple):
    """A stretch of starts from y to y + height; the room above a line that begins with each piece, and whether all
    pieces have the same heights."""

    y: float
    height: float
    gaps: NDArray[np.float64]
    even: bool


class Followed(NamedTuple):
    """Two nests followed line by line: `ahead` stays ahead of every nest of some starts (its bands are what theirs
    share), and `behind` stays behind (its bands are all that any of theirs covers). Of each the next piece, the last
    baseline, and what its line asks of the step down."""

    line: int
    ahead: int
    behind: int
    y_ahead: float
    y_behind: float
    reach_ahead: float
    reach_behind: float


class Found(NamedTuple):
    """Where the next lines of the two stand, whether the one behind may be cut to the stand metric, and whether one of
    them stands where geometry put it."""

    ahead: float
    behind: float
    may_be_cut: bool
    by_geometry: bool


@njit(cache=True)
def heights_between(pieces, first, last, tallest, lowest):
    """The greatest and the least heights of pieces first…last, into two rows like a piece's."""
    put_row(tallest, pieces[first])
    put_row(lowest, pieces[first])
    for p in range(first + 1, last + 1):
        for c in range(ASC, UNDER + 1):
            tallest[c] = max(tallest[c], pieces[p, c])
            lowest[c] = min(lowest[c], pieces[p, c])


@njit(cache=True)
def least_slots(copy, frame, first, last):
    """The least and the greatest width of a slot that paragraphs of pieces first…last use."""
    fewest, most = FAR, 0.0
    for p in range(int(copy.pieces[first, PARAGRAPH]), int(copy.pieces[last, PARAGRAPH]) + 1):
        least = least_slot(copy.rules, p, frame)
        fewest, most = min(fewest, least), max(most, least)
    return fewest, most


@njit(cache=True)
def steps_from(copy, frame, starts, followed, tallest, lowest):
    """The least baselines of the next lines of the two, after their first."""
    pieces, rules = copy.pieces, copy.rules
    ahead, behind = FAR, -FAR
    for p in range(followed.behind, min(followed.ahead, len(pieces) - 1) + 1):
        rule = rules[int(pieces[p, PARAGRAPH])]
        ahead = min(ahead, starts.gaps[p] + step_down(rule, lowest, frame, followed.reach_ahead))
        behind = max(behind, starts.gaps[p] + step_down(rule, tallest, frame, followed.reach_behind))
    return followed.y_ahead + ahead, followed.y_behind + behind


@njit(cache=True)
def find_both(space, copy, frame, starts, followed, tallest, lowest, fewest, most, slots, out):
    """Where the next lines of the two stand, their pieces being no taller than the tallest and no lower than the
    lowest. The one ahead is FAR where it finds no place though it has copy left."""
    pieces, n = copy.pieces, len(copy.pieces)
    (up_behind, down_behind), (up_ahead, down_ahead) = band_reach(tallest, frame), band_reach(lowest, frame)
    stand_behind, stand_ahead = stand_depth(tallest, frame), stand_depth(lowest, frame)
    need_behind, need_ahead = most, fewest
    if followed.line == 0:
        hang_behind, hang_ahead = hang_height(tallest, frame), hang_height(lowest, frame)
        from_ahead, from_behind = starts.y + hang_ahead, starts.y + starts.height + hang_behind
        up_ahead, up_behind = min(up_ahead, hang_ahead), min(up_behind, hang_behind)
        first = piece_width(pieces, 0, 0) + indents(copy.rules, 0, True, True)
        need_ahead, need_behind = max(need_ahead, first), max(need_behind, first)
    else:
        from_ahead, from_behind = steps_from(copy, frame, starts, followed, tallest, lowest)
    floor = frame[Y_BOTTOM]
    lowest_band = floor - max(stand_behind, down_behind)
    behind = next_usable(space, from_behind, up_behind, down_behind, need_behind, lowest_band, slots)
    may_be_cut = behind == FAR
    if may_be_cut:
        behind = max(from_behind, floor - min(stand_behind, down_behind))
    under = min(down_ahead, stand_ahead)
    # An object in line may stand all above a line, or below it: then lines share no band, and any may do.
    ahead = from_ahead
    if up_ahead + under > 0:
        ahead = next_usable(space, from_ahead, up_ahead, under, need_ahead, floor - under, slots)
    if ahead == FAR and followed.ahead >= n:
        ahead = from_ahead
    if followed.line == 0 and ahead < FAR:
        out[LEAST_HANG], out[MOST_HANG] = ahead - hang_height(tallest, frame), behind - hang_height(lowest, frame)
    return Found(ahead, behind, may_be_cut, ahead > from_ahead + 1e-6 or behind > from_behind + 1e-6)


@njit(cache=True)
def pieces_ahead(space, copy, frame, followed, found, tallest, lowest, fewest, out, tall):
    """The piece after the last that the line ahead may hold: what fits the band that all lines share."""
    pieces = copy.pieces
    up_behind, _ = band_reach(tallest, frame)
    up, down = band_reach(lowest, frame)
    if followed.line == 0:
        up = min(up, hang_height(lowest, frame))
    top = found.behind - up
    bottom = found.ahead + (min(down, stand_depth(lowest, frame)) if found.may_be_cut else down)
    if bottom - top < 0.01:
        return len(pieces)
    count = slots_in_band(space, top, bottom, fewest, out.slots)
    after, _ = fill_band(copy, followed.ahead, NO_LINE, out.slots, count, out.records[:0], 0, tall)
    return after


@njit(cache=True)
def follow_on(space, copy, frame, followed, found, after, tallest, lowest, most, out, tall):
    """The two after their next lines: the one behind holds what fits all that any line covers."""
    up, down = band_reach(tallest, frame)
    if followed.line == 0:
        up = min(up, hang_height(tallest, frame))
    count = slots_in_band(space, found.ahead - up, found.behind + down, most, out.slots)
    behind, _ = fill_band(copy, followed.behind, NO_LINE, out.slots, count, out.records[:0], 0, tall)
    # What the slower nest has placed, the faster has too.
    return Followed(
        followed.line + 1,
        max(after, behind),
        behind,
        found.ahead,
        found.behind,
        reach_below(lowest, frame),
        reach_below(tallest, frame),
    )


@njit(cache=True)
def bounds_over(space, copy, frame, starts, written, out):
    """Bounds of the first hang metric and the last stand metric of the nests from all of some starts.

    `out` receives them (nestline.rows). Returns False when copy is left over from each start. First fit keeps the order
    of the two nests that are followed.
    """
    pieces, n, even = copy.pieces, len(copy.pieces), starts.even
    tall, tallest, lowest = np.zeros(PIECE_COLUMNS), np.empty(PIECE_COLUMNS), np.empty(PIECE_COLUMNS)
    out[LEAST_HANG], out[MOST_HANG], out[LEAST_STAND], out[MOST_STAND], out[ALL_BY_LEADING] = 0.0, 0.0, FAR, FAR, 1.0
    heights_between(pieces, 0, 0 if even else n - 1, tallest, lowest)
    at = Followed(0, 0, 0, 0.0, 0.0, 0.0, 0.0)
    while at.behind < n:
        reach = after = at.ahead
        found = Found(0.0, 0.0, False, False)
        fewest, most = least_slots(copy, frame, at.behind, min(at.ahead, n - 1))
        # Where heights differ the line is bounded twice: by the heights of all copy, then by those it may hold.
        for again in range(1 if even else 2):
            if not even:
                heights_between(
                    pieces, at.behind if again else 0, min(reach, n) - 1 if again else n - 1, tallest, lowest
                )
            found = find_both(space, copy, frame, starts, at, tallest, lowest, fewest, most, written.slots, out)
            if found.ahead == FAR:
                return False
            if found.by_geometry:
                out[ALL_BY_LEADING] = 0.0
            after = at.ahead
            if after < n:
                after = pieces_ahead(space, copy, frame, at, found, tallest, lowest, fewest, written, tall)
            reach = max(after, at.behind + 1)
        if at.ahead < n and after >= n:
            out[LEAST_STAND] = found.ahead + stand_depth(lowest, frame)
        if found.may_be_cut:
            break
        at = follow_on(space, copy, frame, at, found, after, tallest, lowest, most, written, tall)
        if at.behind >= n:
            out[MOST_STAND] = found.behind + stand_depth(tallest, frame)
        if at.behind == 0:
            break
    if out[LEAST_STAND] == FAR:
        # The rest needs a line below that one at least.
        out[LEAST_STAND] = at.y_ahead + (stand_depth(lowest, frame) if even else 0.0)
    return True
