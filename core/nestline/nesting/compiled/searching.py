"""The search for a start where nests do not keep their order, compiled by Numba: by a scan, and by samples."""

from __future__ import annotations

import numpy as np
from numba import njit

from nestline.nesting.compiled.inlining import inlined
from nestline.nesting.compiled.middle import EXACT, Nearest, nearer, off_middle, slope_of
from nestline.nesting.compiled.pieces import FAR
from nestline.nesting.compiled.space import spent

FINE = 0.01
"""Starts nearer to one another than this, in points, are not told apart."""
STARTS_A_LINE, MOST_SAMPLES, MOST_WAITING = 16, 1200, 64
"""How many starts are tried a line apart where breaks are chosen over all lines, at most in all, and stretches
between."""
COARSER = 4
"""How many times further apart they are where they do not seem to come near any more."""


@inlined
def solve_by_scan(space, copy, frame, aim, out):
    """As `solve_sit`, for columns and drop caps, whose nests do not keep their order: starts are scanned a fraction of
    a line apart, and from each that is better than its neighbours the lines it has are followed."""
    top, bottom = aim.top, aim.bottom
    count = int(min(400, max(24, (bottom - top) / 0.5)))
    offs = np.empty(count + 1)
    for i in range(count + 1):
        if spent(space):
            offs[i] = FAR
            continue
        offs[i] = off_middle(space, copy, frame, top + (bottom - top) * i / count, aim, out)
    if offs[0] == FAR:
        return FAR
    nearest = Nearest(FAR, FAR)
    for i in range(count + 1):
        here = abs(offs[i])
        if offs[i] == FAR or (i > 0 and abs(offs[i - 1]) < here) or (i < count and abs(offs[i + 1]) < here):
            continue
        y, off = top + (bottom - top) * i / count, offs[i]
        for _ in range(5):
            nearest = nearer(nearest, y, off, aim)
            if off == FAR or abs(off) < EXACT:
                break
            y = min(max(y - off / slope_of(aim), top), bottom)
            off = off_middle(space, copy, frame, y, aim, out)
        if nearest.off < EXACT:
            break
    return nearest.y if nearest.y < FAR else top


@njit(cache=True)
def nearest_between(a, off_a, b, off_b, slope):
    """How near zero the lines of either end may come between two starts, and where: each goes on by `slope` as far as
    it does. FAR is an end from which copy is left over."""
    near, aim = FAR, (a + b) / 2
    for y, off in ((a, off_a), (b, off_b)):
        if off == FAR:
            continue
        zero = y - off / slope
        if a <= zero <= b:
            return 0.0, zero
        other = b if y == a else a
        this = min(abs(off), abs(off + slope * (other - y)))
        if this < near:
            near, aim = this, (a + b) / 2
    return near, aim


@inlined
def solve_by_samples(space, copy, frame, aim, step, nearest, out):
    """As `solve_sit`, where breaks are chosen over all lines: starts a part of a line apart are nested, and between two
    whose lines are not the same those that could come nearer are looked for by halves.

    A later start puts the last line no higher but by the lines that other breaks save: where starts from a whole line
    on are too low by more than that, or leave copy over, none below is nearer. Such a stretch is gone through in longer
    steps.
    """
    top, bottom, slope, fine = aim.top, aim.bottom, slope_of(aim), 5 * FINE
    starts, offs, stack = np.empty(MOST_SAMPLES), np.empty(MOST_SAMPLES), np.empty((MOST_WAITING, 4))
    apart = max(step / STARTS_A_LINE, (bottom - top) / (len(offs) - 2))
    count, hopeless, y = 0, 0.0, top
    while count < len(offs) and hopeless <= 2 * step and not spent(space):
        off = off_middle(space, copy, frame, y, aim, out)
        starts[count], offs[count] = y, off
        nearest = nearer(nearest, y, off, aim)
        further = apart
        if off == FAR or off > nearest.off + 3 * step:
            further = COARSER * apart if hopeless > 0 else apart
            hopeless += further
        else:
            hopeless = 0.0
        count += 1
        if y == bottom:
            break
        y = min(y + further, bottom)
    for i in range(count - 1):
        waiting = 1
        stack[0] = (starts[i], offs[i], starts[i + 1], offs[i + 1])
        while waiting > 0 and nearest.off >= fine and not spent(space):
            waiting -= 1
            a, off_a, b, off_b = stack[waiting]
            near, y = nearest_between(a, off_a, b, off_b, slope)
            if (off_a == FAR) != (off_b == FAR):
                near, y = 0.0, (a + b) / 2  # the last start that holds all is often the nearest: it is looked for
            if near >= nearest.off - fine or b - a < fine:
                continue
            if y - a < 1e-9 or b - y < 1e-9:
                y = (a + b) / 2
            off = off_middle(space, copy, frame, y, aim, out)
            nearest = nearer(nearest, y, off, aim)
            if waiting + 2 <= len(stack):
                stack[waiting] = (y, off, b, off_b)
                stack[waiting + 1] = (a, off_a, y, off)
                waiting += 2
    return nearest.y
