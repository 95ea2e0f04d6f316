"""What a line costs, compiled by Numba: the weights of total fit.

Total fit is that of Knuth and Plass, "Breaking Paragraphs into Lines", Software: Practice and Experience 11 (1981):
badness 100·|r|³, demerits (10 + badness + penalty)².
"""

from __future__ import annotations

from typing import NamedTuple

from numba import njit

from nestline.rows import (
    ALIGN,
    ALIGN_LAST,
    JUSTIFY,
    LADDER,
    LEAST_SPACE,
    LONE_WORD,
    SIZE,
    SPACE_WIDTH,
)  # fmt: skip

# The figures of Knuth and Plass, section "Choosing the breakpoints"; two hyphens in a row and far fitness cost 3,000.
LINE_COST, HYPHEN_COST, TWO_HYPHENS, FAR_FITNESS = 10.0, 50.0, 3000.0, 3000.0
STRETCH = 0.5
"""How much a word space stretches at r = 1, as a share of itself."""
RAGGED = 2.0
"""How much a ragged line's end stretches at r = 1, in ems."""
LONE_COST, FORBIDDEN, PAST_COST, TIGHT_COST = 5000.0, 1e12, 1e13, 1e7
NOT_FILLED, LARGEST_R, FILLED = 8.0, 20.0, 0.01
"""From `NOT_FILLED` on a justified line is set natural, and so is one without spaces: it costs by the room left open, from
`FILLED` ems on."""


class Weights(NamedTuple):
    """What a paragraph's rule says of how its lines are filled, widths in points.

    `shrink` and `give` are what a word space can lose, and gains at r = 1; `ragged` what a line's end gains then. With
    `target` ≥ 0 a line costs by how far its width is from it. Lines in slots from `past_from` on cost PAST_COST each,
    and every line `tight` more.
    """

    justify: bool
    last_justified: bool
    shrink: float
    give: float
    ragged: float
    size: float
    most_hyphens: float
    lone_word: float
    line_cost: float
    tight: float
    target: float
    past_from: int


@njit(cache=True)
def weights_of(rule, line_cost, tight, target, past_from):
    """The Weights of a rule."""
    justify = rule[ALIGN] == JUSTIFY
    space, size = rule[SPACE_WIDTH], rule[SIZE]
    return Weights(
        justify, justify and rule[ALIGN_LAST] == JUSTIFY, space * max(0.0, 1.0 - rule[LEAST_SPACE]) if justify else 0.0,
        space * STRETCH if justify else 0.0, 0.0 if justify else RAGGED * size, size, rule[LADDER], rule[LONE_WORD],
        line_cost, tight, target, past_from,
    )  # fmt: skip


@njit(cache=True, error_model="numpy")
def filling(weights, free, gaps, natural):
    """How far a line's spaces must shrink (r < 0) or stretch for it to fill its room, `free` wider than its letters."""
    if weights.target >= 0:
        return 0.0
    if free < 0:
        return max(free / (gaps * weights.shrink), -1.0) if gaps * weights.shrink > 0 else 0.0
    if natural:
        return 0.0
    if not weights.justify:
        return free / weights.ragged
    open_ = NOT_FILLED + free / weights.size
    if gaps > 0:
        return min(free / (gaps * weights.give), open_)
    return 0.0 if free < FILLED * weights.size else open_


@njit(cache=True)
def fitness_of(weights, r):
    """How loose a line is, as one of four: tight, decent, loose, very loose."""
    if not weights.justify:
        return 1
    return 0 if r < -0.5 else 1 if r <= 0.5 else 2 if r <= 1 else 3


@njit(cache=True)
def demerits_of(weights, r, width, hyphen, ladder, fit, fit_before, lone, slot):
    """What a line costs, given what the line before it ends in."""
    badness = min(abs(r), LARGEST_R)
    badness = 100.0 * badness * badness * badness
    if weights.target >= 0:
        badness = 100.0 * ((width - weights.target) / weights.size) ** 2
    demerits = weights.line_cost + badness + (HYPHEN_COST if hyphen > 0 else 0.0)
    demerits *= demerits
    if hyphen > 0 and ladder > 0:
        demerits += TWO_HYPHENS
    if weights.justify and fit_before >= 0 and abs(fit - fit_before) > 1:
        demerits += FAR_FITNESS
    if lone and weights.lone_word >= 0:
        demerits += FORBIDDEN if weights.lone_word > 0 else LONE_COST
    if slot >= weights.past_from:
        demerits += PAST_COST
    return demerits + weights.tight
