"""Where a line may stand, compiled by Numba: the baselines whose bands have slots. Everything in points."""

from __future__ import annotations

from typing import NamedTuple

from numba import njit

from nestline.nesting.compiled.pieces import FAR, on_grid
from nestline.nesting.compiled.space import (
    EPSILON,
    slots_in_band,
    spent,
    vertex_above,
    vertex_below,
    widest_in_band,
)
from nestline.rows import SLOT_LEFT, SLOT_RIGHT, Y_BOTTOM


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
            total += slots[i, SLOT_RIGHT] - slots[i, SLOT_LEFT]
        baseline = found + leading
    return total


class Wanted(NamedTuple):
    """What a line asks of its band: how far it reaches above its baseline, and below it (where the outline ends, to the
    stand metric at least); one slot at least `need` wide, and the others at least `least`."""

    above: float
    down: float
    stand: float
    need: float
    least: float


@njit(cache=True)
def usable_from(space, start, wanted, rule, frame, slots):
    """The first usable baseline from `start` on the paragraph's grid, whether its band is cut to the stand metric, and
    how many slots at least `least` wide that has: they are in `slots`.

    FAR when there is none. A band that reaches down to its whole depth is looked for first.
    """
    above, down, stand, need, least = wanted
    floor = frame[Y_BOTTOM]
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
            on = on_grid(found, rule, frame)
            if on <= found + 1e-7:
                return found, cut == 1, slots_in_band(space, found - above, found + below, least, slots)
            at = on
    return FAR, False, 0
