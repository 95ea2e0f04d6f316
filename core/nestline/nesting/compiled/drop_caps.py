"""Where a drop cap stands, and what it leaves of the slots beside it. Compiled by Numba."""

from __future__ import annotations

from numba import njit

from nestline.nesting.compiled.pieces import put_row
from nestline.nesting.compiled.space import EPSILON, slots_in_band
from nestline.rows import (
    BY_CAP,
    CAP_DOWN,
    CAP_LEFT,
    CAP_PUSH,
    DROP_LINES,
    DROP_WIDTH,
    FROM_RIGHT,
    INDENT,
    SLOT_LEFT,
    SLOT_LEFT_CAUSE,
    SLOT_RIGHT,
    SLOT_RIGHT_CAUSE,
)


@njit(cache=True)
def place_cap(space, rule, top, bottom, need, slots, cap):
    """Find the place of a drop cap: the first slot that is free from the top of its letters to its baseline. `cap`
    receives it (nestline.rows)."""
    count = slots_in_band(space, top, bottom, need, slots)
    if count == 0:
        return
    if rule[FROM_RIGHT] > 0:
        cap[CAP_LEFT] = slots[count - 1, SLOT_RIGHT] - rule[INDENT] - rule[DROP_WIDTH]
        cap[CAP_PUSH] = cap[CAP_LEFT] + rule[INDENT]
    else:
        cap[CAP_LEFT] = slots[0, SLOT_LEFT] + rule[INDENT]
        cap[CAP_PUSH] = slots[0, SLOT_LEFT] + rule[DROP_WIDTH]
    cap[CAP_DOWN] = bottom


@njit(cache=True)
def beside_cap(slots, count, rule, top, least, cap):
    """What a drop cap above leaves of the slots of a band. Returns how many are left."""
    if top >= cap[CAP_DOWN] - EPSILON:
        return count
    kept = 0
    for i in range(count):
        if rule[FROM_RIGHT] > 0:
            if slots[i, SLOT_RIGHT] > cap[CAP_PUSH]:
                slots[i, SLOT_RIGHT], slots[i, SLOT_RIGHT_CAUSE] = cap[CAP_PUSH], BY_CAP
        elif slots[i, SLOT_LEFT] < cap[CAP_PUSH]:
            slots[i, SLOT_LEFT], slots[i, SLOT_LEFT_CAUSE] = cap[CAP_PUSH], BY_CAP
        width = slots[i, SLOT_RIGHT] - slots[i, SLOT_LEFT]
        if width >= least - EPSILON and width > 0:
            put_row(slots[kept], slots[i])
            kept += 1
    return kept


@njit(cache=True)
def push_past(rule, slots):
    """Push the first lines past the edge aside for a drop cap."""
    for i in range(min(int(rule[DROP_LINES]), slots.total)):
        if rule[FROM_RIGHT] > 0:
            slots.rights[i] -= rule[DROP_WIDTH]
        else:
            slots.lefts[i] += rule[DROP_WIDTH]
