"""Where a nest sits and where it should, compiled by Numba. Everything in points."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit

from nestline.nesting.compiled.columns import nest_from
from nestline.nesting.compiled.inlining import inlined
from nestline.nesting.compiled.lines import borrowed_rows
from nestline.nesting.compiled.pieces import FAR, band_reach, hang_height, least_slot, stand_depth
from nestline.nesting.compiled.space import EPSILON, borrowed_space
from nestline.nesting.compiled.usable import next_usable, previous_usable
from nestline.rows import (
    COLUMN_SHIFT,
    COLUMNS,
    END_HANG,
    END_STAND,
    HANG_LEAST,
    PARAGRAPH,
    Y_BOTTOM,
    Y_TOP,
)

EXACT = 1e-6
"""A nest that is off by less is where it should be."""


class Aim(NamedTuple):
    """Where a nest is to sit: in the middle of the usable height `top` to `bottom`, lifted by so much, or at its
    bottom."""

    bottom_only: bool
    lift: float
    top: float
    bottom: float


class Nearest(NamedTuple):
    """The start found so far whose nest is nearest where it should sit, and how far off that is; FAR where there is
    none."""

    y: float
    off: float


@njit(cache=True)
def usable_height(space, copy, frame, slots):
    """The y of the highest hang metric and of the lowest stand metric at which a band has a usable slot, for the first
    line and for the last. Returns (FAR, −FAR) when there is none."""
    space, copy = borrowed_space(space), borrowed_rows(copy)
    first, last = copy.pieces[0], copy.pieces[-1]
    hang, stand = hang_height(first, frame), stand_depth(last, frame)
    up, down = band_reach(first, frame)
    above, last_down = band_reach(last, frame)
    below = min(last_down, stand)
    least = least_slot(copy.rules, int(first[PARAGRAPH]), frame)
    least_last = least_slot(copy.rules, int(last[PARAGRAPH]), frame)
    start = frame[Y_TOP] + max(hang, frame[HANG_LEAST])
    highest, deepest = FAR, -FAR
    for column in range(int(frame[COLUMNS])):
        shift = column * frame[COLUMN_SHIFT]
        floor = frame[Y_BOTTOM] + shift
        found = next_usable(space, start + shift, min(up, hang), down, least, floor, slots)
        if found == FAR:
            continue
        highest = min(highest, found - hang - shift)
        lowest = previous_usable(space, floor - stand, frame[Y_TOP] + shift, above, below, least_last, slots)
        if lowest > -FAR:
            deepest = max(deepest, lowest + stand - shift)
    return highest, deepest


@inlined
def off_middle(space, copy, frame, hang_y, aim, out):
    """How far the nest from `hang_y` is from where it should sit: above less below (0 in the middle), or less below.
    FAR when copy is left over."""
    _, at = nest_from(space, copy, frame, np.int64(0), hang_y, out)
    if at < len(copy.pieces):
        return FAR
    below = aim.bottom - out.ends[END_STAND]
    if aim.bottom_only:
        return -below
    return (out.ends[END_HANG] - aim.top) - below + 2 * aim.lift


@njit(cache=True)
def nearer(nearest, y, off, aim):
    """The nearest with one start more; of several as near the first. At the bottom none counts that reaches
    below it."""
    if off != FAR and abs(off) < nearest.off - EPSILON and (not aim.bottom_only or off <= EPSILON):
        return Nearest(y, abs(off))
    return nearest


@njit(cache=True)
def slope_of(aim):
    """How much further off a nest is from a start further down by one, its lines the same."""
    return 1.0 if aim.bottom_only else 2.0


@inlined
def follow_lines(space, copy, frame, aim, out):
    """Follow the lines that the nest from the top has: how far off it is is linear in its start while they stay the
    same, so that a step or two find an exact answer if there is one nearby. Returns the nearest, which is exact when
    its `off` is 0, and whether copy is left over from the top."""
    nearest, y = Nearest(FAR, FAR), aim.top
    for _ in range(8):
        off = off_middle(space, copy, frame, y, aim, out)
        if off == FAR:
            return nearest, y == aim.top
        nearest = nearer(nearest, y, off, aim)
        if abs(off) < EXACT:
            return Nearest(y, 0.0), False
        next_y = min(max(y - off / slope_of(aim), aim.top), aim.bottom)
        if abs(next_y - y) < 1e-9:
            break
        y = next_y
    return nearest, False
