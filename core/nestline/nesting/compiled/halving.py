"""The search for a start in first fit, whose nests keep their order, compiled by Numba: by bounds and halves."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nestline.nesting.compiled.bounding import Starts, bounds_over
from nestline.nesting.compiled.inlining import inlined
from nestline.nesting.compiled.middle import EXACT, nearer, off_middle, slope_of
from nestline.nesting.compiled.pieces import FAR
from nestline.nesting.compiled.searching import FINE
from nestline.nesting.compiled.space import EPSILON, spent
from nestline.rows import ALL_BY_LEADING, BOUNDS, LEAST_HANG, LEAST_STAND, MOST_HANG, MOST_STAND

MOST_TRIED, SCANNED, NEAR_ENOUGH = 4000, 16, 1e-3
"""Stretches of starts that are tried at most, starts of the shortest of them, and what makes no difference, in
points."""


class Stretches(NamedTuple):
    """Stretches of starts that are still to be searched: where each begins, how high it is, how near its nests may
    come, and the start that is most promising."""

    begins: NDArray[np.float64]
    heights: NDArray[np.float64]
    nearest: NDArray[np.float64]
    aims: NDArray[np.float64]


@njit(cache=True)
def most_promising(waiting, stretches, aim):
    """The stretch that may hold the nearest start; of equals, at the bottom, the lowest."""
    i = int(np.argmin(stretches.nearest[:waiting]))
    if aim.bottom_only:
        for other in range(waiting):
            if stretches.nearest[other] == stretches.nearest[i] and stretches.begins[other] > stretches.begins[i]:
                i = other
    return i


@njit(cache=True)
def near_over(y, height, bounds, aim, leading):
    """How near the nests from a stretch of starts may come by their bounds, and from which start; FAR where they
    cannot.

    With a `leading` all lines step by it: where all stand by leading too, only whole lines can be between the bounds,
    and the nearest that any count of lines comes is what counts."""
    low, high = bounds[LEAST_STAND] - aim.bottom, bounds[MOST_STAND] - aim.bottom
    slope = slope_of(aim)
    if aim.bottom_only:
        if low > EPSILON:
            return FAR, y
        high = min(high, 0.0)
    else:
        low = low + bounds[LEAST_HANG] - aim.top + 2 * aim.lift
        high = high + bounds[MOST_HANG] - aim.top + 2 * aim.lift
    near = 0.0 if low <= 0 <= high else min(abs(low), abs(high))
    start = y + height * (min(max(-low / (high - low), 0.0), 1.0) if low < high < FAR / 2 else 0.5)
    if leading <= 0 or bounds[ALL_BY_LEADING] == 0:
        return near, start
    near, at = FAR, low
    while at <= high + 1e-6:
        last = at + slope * height
        this = 0.0 if at <= 0 <= last else min(abs(at), abs(last))
        if aim.bottom_only and at > 0:
            this = FAR
        if this < near:
            near = this
            start = y + min(max(-at / slope, 0.0), height)
        if at > 0:
            break
        at += leading
    return near, start


@inlined
def solve_by_halves(space, copy, frame, aim, starts, leading, nearest, out):
    """As `solve_sit` in first fit: a stretch of starts is bounded (`bounds_over`), the most promising is tried and cut
    in two, and those that cannot hold a nearer start than the best so far are dropped. The shortest are scanned at 0.01
    pt."""
    top, bottom = aim.top, aim.bottom
    bounds = np.empty(BOUNDS)
    waits = Stretches(np.empty(MOST_TRIED), np.empty(MOST_TRIED), np.empty(MOST_TRIED), np.empty(MOST_TRIED))
    height = FINE * SCANNED
    while height < 6 and height * 8 < bottom - top:
        height *= 2
    waiting = 0
    while top + height * waiting < bottom and waiting < MOST_TRIED:
        waits.begins[waiting], waits.heights[waiting] = top + height * waiting, height
        waits.nearest[waiting], waits.aims[waiting] = -1.0, 0.0
        waiting += 1
    for _ in range(MOST_TRIED):
        if waiting == 0 or spent(space):
            break
        i = most_promising(waiting, waits, aim)
        begin, height, bound, start = waits.begins[i], waits.heights[i], waits.nearest[i], waits.aims[i]
        waiting -= 1
        waits.begins[i], waits.heights[i] = waits.begins[waiting], waits.heights[waiting]
        waits.nearest[i], waits.aims[i] = waits.nearest[waiting], waits.aims[waiting]
        if bound >= nearest.off - NEAR_ENOUGH:
            break
        parts = 1
        if bound >= 0:
            tries = SCANNED + 1 if height <= FINE * SCANNED + 1e-9 else 1
            for t in range(tries):
                y = start if t == 0 else begin + FINE * (t - 1)
                nearest = nearer(nearest, y, off_middle(space, copy, frame, y, aim, out), aim)
                if spent(space):
                    break
            if nearest.off < EXACT:
                return nearest.y
            if bound >= nearest.off - NEAR_ENOUGH or tries > 1:
                continue
            parts = 2
        height /= parts
        for part in range(parts):
            y = begin + height * part
            if waiting >= MOST_TRIED:
                continue
            if not bounds_over(space, copy, frame, Starts(y, height, starts.gaps, starts.even), out, bounds):
                continue
            near, start = near_over(y, height, bounds, aim, leading)
            if near < nearest.off:
                waits.begins[waiting], waits.heights[waiting] = y, height
                waits.nearest[waiting], waits.aims[waiting] = near, start
                waiting += 1
    return nearest.y
