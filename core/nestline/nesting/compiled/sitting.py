"""Where lines sit, compiled by Numba: the start from which a nest is nearest the middle, or the bottom."""

from __future__ import annotations

import numpy as np
from numba import njit

from nestline.nesting.compiled.bounding import Starts
from nestline.nesting.compiled.halving import solve_by_halves
from nestline.nesting.compiled.lines import borrowed_rows, borrowed_written
from nestline.nesting.compiled.middle import Aim, follow_lines
from nestline.nesting.compiled.pieces import FAR, gap_above
from nestline.nesting.compiled.searching import solve_by_samples, solve_by_scan
from nestline.nesting.compiled.space import borrowed_space
from nestline.rows import (
    ASC,
    BOX_DOWN,
    BOX_UP,
    BREAKING,
    BY_LINE_BOX,
    COLUMNS,
    DROP_LINES,
    FIRST_FIT,
    LEADING,
    OPENS,
    PARAGRAPH,
    UNDER,
)


@njit(cache=True)
def solve_sit(space, copy, frame, bottom_only, lift, top, bottom, out):
    """The hang y at which the nest sits in the middle (or at the bottom) best. FAR when copy is left over at the top.

    First along the lines that the nest has. Where none is found, and breaks are chosen over all lines, starts are
    sampled (`solve_by_samples`); in first fit all starts are searched by halves (`solve_by_halves`).
    """
    space, copy, out = borrowed_space(space), borrowed_rows(copy), borrowed_written(out)
    aim = Aim(bottom_only, lift, top, bottom)
    pieces, rules = copy.pieces, copy.rules
    if frame[COLUMNS] > 1 or rules[:, DROP_LINES].max() > 1:
        return solve_by_scan(space, copy, frame, aim, out)
    nearest, over = follow_lines(space, copy, frame, aim, out)
    if over:
        return FAR
    if nearest.off == 0.0:
        return nearest.y
    n = len(pieces)
    leading = rules[0, LEADING]
    if frame[BY_LINE_BOX] > 0:
        leading = pieces[0, BOX_UP] + pieces[0, BOX_DOWN]
    gaps, even, same_steps, most_step = np.zeros(n), True, True, leading
    for p in range(n):
        most_step = max(most_step, max(pieces[p, OPENS], pieces[p, UNDER]))
        gaps[p] = gap_above(pieces, rules, p)
        if p > 0 and pieces[p - 1, PARAGRAPH] != pieces[p, PARAGRAPH]:
            same_steps = same_steps and gaps[p] == 0 and rules[int(pieces[p, PARAGRAPH]), LEADING] == rules[0, LEADING]
        for c in range(ASC, UNDER + 1):
            even = even and pieces[p, c] == pieces[0, c]
    for p in range(len(rules)):
        if rules[p, BREAKING] != FIRST_FIT:
            return solve_by_samples(space, copy, frame, aim, most_step, nearest, out)
    starts = Starts(top, 0.0, gaps, even)
    return solve_by_halves(space, copy, frame, aim, starts, leading if same_steps and even else 0.0, nearest, out)
