"""What a line costs, compiled by Numba: the weights of total fit.

Total fit is that of Knuth and Plass, "Breaking Paragraphs into Lines", Software: Practice and Experience 11 (1981):
badness 100·|r|³, demerits (10 + badness + penalty)². Beyond r = 1 it grows as r² here: lines twice too loose are bad,
but not worth eight of half that. What is asked for every line that is tried is inlined by the compiler (`forceinline`):
all weights would else be handed over each time.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit

from nestline.nesting.compiled.space import EPSILON
from nestline.rows import (
    ALIGN,
    ALIGN_LAST,
    END,
    FITTED_SPACE,
    FITTED_WIDTH,
    GREATEST_SPACE,
    GREATEST_TRACKING,
    JUSTIFY,
    KEEP_START,
    KEPT,
    LADDER,
    LEAST_SPACE,
    LONE_WORD,
    POOR,
    SIZE,
    SPACE_WIDTH,
    START,
    WEAK,
)

STRETCH = 0.5
"""How much a word space stretches at r = 1, as a share of itself."""
RAGGED = 2.0
"""How much a ragged line's end stretches at r = 1, in ems."""
ROUNDING = 1e-5
"""What a space may open up beyond its limit, in points: slots are widened by less when breaks are chosen."""
FILLED = 0.01
"""Room that may stay open in a justified line without spaces, in ems: what is more leaves it unfilled."""

# What costs how much, in demerits; a good line costs 100, one whose spaces are twice as wide 12,000, the loosest that
# is still filled 1.7 million. The first three are those of Knuth and Plass, section "Choosing the breakpoints".
LINE_COST = 10.0  # added to badness before it is squared: fewer lines are better where all else is alike
HYPHEN_COST = 50.0  # added to badness, too: a hyphen weighs little on a good line, much on a loose one
FAR_FITNESS = 3000.0  # a tight line below a loose one is seen
STEP_COST = 30_000.0  # three ragged lines that end below one another, short of the edge: as dear as a line 2.5 em short
WEDGE_COST = 20_000.0  # three that get longer, or shorter, one after the other: as one 2.3 em short
TWO_HYPHENS = 10_000.0  # hyphens below one another make a ladder: as dear as a line of r = 0.95
HYPHEN_ON_HOLE = 5e8  # a hyphen was to fill the line, and did not: only where every other way leaves more open
LONE_COST = (
    500_000.0  # a last word alone looks like a slip: as dear as spaces of two and a half times their width, r = 2.6
)
# "smil- | ing." at a paragraph's end, more than a last word alone: dearer than the two loosest lines that are still
# filled (common practice: never)
STUB_COST = 5_000_000.0
HYPHEN_AT_FOOT = (
    600_000.0  # a word that is not ended at the foot of a column: as dear as spaces of two and a half times their width
)
# too few lines go on in the next column, or are left for the next paragraph, so that this one ends short: as a last
# word alone
SHORT_COLUMN = 500_000.0
ACROSS = 1e11  # a word is not found again behind a picture: dearer than any hole
WEAK_COST = 2_000.0  # "a", "of", "und" left at a line's end: as dear as a line of r = 0.7
WEAK_RAGGED = 15_000.0  # in ragged copy, where the eye looks at ends: as a line that is more than 2 em short
# a hyphen that leaves two letters ("re-", "-ed"), parts a short word or a name, or no joint: as a line of r = 1.4
POOR_COST = 40_000.0
PARTED = 150_000.0  # "47 | km", "St. | Margaret's": as dear as spaces of nearly twice their width
TORN = 5e10  # "10 | 000", "10– | 12", "J. | K.": dearer than a line left unfilled, however much it lacks
# a justified line left unfilled: dearer than anything that can be seen but a torn figure and a word across a gap
HOLE = 1e9
# a last line that was to be filled, and cannot be: dearer than the loosest line that is filled, no hole: the paragraph
# ends there
OPEN_END = 2e6
HOLE_BY_EM, MOST_EMS = 2e8, 40.0  # two lines that lack an em each are better than one that lacks ten
DEEP, DEEP_FROM = (
    1e9,
    6.0,
    # for each em that it lacks more: one word alone in a line reads as a paragraph's end, and two that lack less are
    # better
)
FORBIDDEN = 1e12  # what a rule forbids
PAST_COST = 1e13  # a line past the edge
TIGHT_COST = 1e7  # each line, where fewer lines count
RAG, RAG_LENGTHS, ALIKE = 0.25, 14, 1
"""How short ragged lines are is told apart in so many steps of so many ems; they end together where it is one step at
most."""
LEVEL, SHORTER, LONGER, NO_TREND = range(4)
"""How a ragged line's end stands to that of the line before."""
SET_NATURAL = 4 * RAG_LENGTHS
"""The fitness of a last line, or of one that is ended by the copy: no rag goes on from it."""
FITNESSES = SET_NATURAL + 1
"""How many there are of what `fitness_of` says of a line."""
UNFILLED = 1e6
"""The r of a line that is left unfilled, and more: no tolerance but the last takes it."""


class Weights(NamedTuple):
    """What a paragraph's rule says of how its lines are filled, widths in points.

    `shrink` and `give` are what a word space can lose, and gains at r = 1; `apart` and `wide` what each letter, and
    each point of the line, can lose and gains there; `widest` what a word space can gain at most, `track` what each
    letter can then; `ragged` what a line's end gains at r = 1. With `target` ≥ 0 a line costs by how far its width is
    from it, or from `step` more for each slot behind `first_slot`. Lines in slots from `past_from` on cost PAST_COST
    each, unless the copy `goes_on` in another column: then fewer than `fewest_over` cost SHORT_COLUMN, and so do fewer
    than `fewest_left` for the next paragraph in this one. Where less than `narrow` is left for letters, lines are set
    ragged. Every line costs `tight` more.
    """

    justify: bool
    rag: bool
    last_justified: bool
    shrink: float
    give: float
    apart: float
    wide: float
    widest: float
    track: float
    ragged: float
    size: float
    most_hyphens: float
    lone_word: float
    line_cost: float
    tight: float
    target: float
    step: float
    first_slot: int
    past_from: int
    goes_on: bool
    fewest_over: int
    fewest_left: int
    narrow: float


@njit(cache=True)
def weights_of(rule, line_cost, tight, target, step, first_slot, past_from, goes_on, fewest_left, narrow):
    """The Weights of a rule."""
    justify = rule[ALIGN] == JUSTIFY
    space, size = rule[SPACE_WIDTH], rule[SIZE]
    widest = space * (rule[GREATEST_SPACE] - 1.0)
    return Weights(
        justify,
        rule[ALIGN] == START or rule[ALIGN] == END,
        justify and rule[ALIGN_LAST] == JUSTIFY,
        space * max(0.0, 1.0 - rule[LEAST_SPACE]) if justify else 0.0,
        min(space * STRETCH, widest) if justify else 0.0,
        rule[FITTED_SPACE] if justify else 0.0,
        rule[FITTED_WIDTH] if justify else 0.0,
        widest,
        rule[GREATEST_TRACKING],
        0.0 if justify else RAGGED * size,
        size,
        rule[LADDER],
        rule[LONE_WORD],
        line_cost,
        tight,
        target,
        step,
        first_slot,
        past_from,
        goes_on,
        int(rule[KEEP_START]),
        fewest_left,
        narrow,
    )


@njit(cache=True, forceinline=True)
def fitted(weights, letters, width):
    """What the letters of a line can give, and take, by their spacing and their widths."""
    return weights.apart * letters + weights.wide * width


@njit(cache=True, error_model="numpy")
def opened(weights, free, gaps, letters, lent):
    """What each word space of a justified line gains, so much being free; which share of what they can lend (`fitted`)
    its letters do, from −1 to 1; what each letter gains beyond; and whether it stays unfilled. The one place that says
    so.

    Up to r = 1 word spaces and letters share; then word spaces open up to their limit, and at last letters to theirs.
    """
    room = gaps * (weights.shrink if free < 0 else weights.give) + lent
    if room > 0 and abs(free) <= room:
        share = free / room
        return (free - share * lent) / gaps if gaps > 0 else 0.0, share, 0.0, False
    share = 0.0 if lent <= 0 else -1.0 if free < 0 else 1.0
    rest = free - share * lent
    if gaps > 0 and rest / gaps <= weights.widest + ROUNDING:
        return rest / gaps, share, 0.0, False
    gain = weights.widest if gaps > 0 else 0.0
    rest -= gain * gaps
    if letters <= 0 or rest / letters > weights.track + ROUNDING:
        return 0.0, 0.0, 0.0, True
    return gain, share, max(rest / letters, 0.0), False


@njit(cache=True, error_model="numpy", forceinline=True)
def filling(weights, free, gaps, letters, lent, natural, narrow):
    """How far a line must shrink (r < 0) or stretch for it to fill its room, `free` wider than its letters, which lend
    what `fitted` says; from UNFILLED on where it is left unfilled. In a `narrow` room it is set ragged; ∞ where it does
    not hold it."""
    if weights.target >= 0:
        return 0.0
    if narrow:
        return np.inf if free < -EPSILON else 0.0 if natural else max(free, 0.0) / (RAGGED * weights.size)
    if free < 0:
        room = gaps * weights.shrink + lent
        return max(free / room, -1.0) if room > 0 else 0.0
    if natural:
        return 0.0
    if not weights.justify:
        return free / weights.ragged
    room = gaps * weights.give + lent
    if free <= room and room > 0:
        return free / room
    if gaps == 0 and free < FILLED * weights.size:
        return 1.0 if lent > 0 else 0.0
    _, _, _, loose = opened(weights, free, gaps, letters, lent)
    if loose:
        return UNFILLED + free / weights.size
    return (free - lent) / (gaps * weights.give if gaps > 0 and weights.give > 0 else letters * STRETCH * weights.size)


@njit(cache=True, forceinline=True)
def fitness_of(weights, r, natural, before):
    """How a line is filled, for the one below it to look well: of a justified line whether it is tight, decent, loose
    or very loose; of a ragged one how short it is, and what is its trend. `before` is that of the line before it, −1 of
    none."""
    if weights.justify:
        return 0 if r < -0.5 else 1 if r <= 0.5 else 2 if r <= 1 else 3
    if not weights.rag or weights.target >= 0:
        return 0
    if natural:
        return SET_NATURAL
    length = min(int(r * RAGGED / RAG), RAG_LENGTHS - 1)
    if before < 0 or before == SET_NATURAL:
        return RAG_LENGTHS * NO_TREND + length
    more = length - before % RAG_LENGTHS
    trend = LEVEL if abs(more) <= ALIKE else SHORTER if more > 0 else LONGER
    return RAG_LENGTHS * trend + length


@njit(cache=True, forceinline=True)
def rag_cost(fit, before):
    """What it costs that ragged lines make a step, or a wedge."""
    trend = fit // RAG_LENGTHS
    if trend >= NO_TREND or trend != before // RAG_LENGTHS:
        return 0.0
    if trend == LEVEL:
        return STEP_COST if fit % RAG_LENGTHS > ALIKE else 0.0
    return WEDGE_COST


@njit(cache=True, forceinline=True)
def demerits_of(weights, r, width, hyphen, grade, ladder, fit, fit_before, ends, lone, slot, across):
    """What a line costs, given how ill its break is and how many before it in a row end in a hyphen (`ladder`); whether
    it `ends` the paragraph, and is a `lone` word, or with a hyphen before it the rest of one; `across` says that its
    last word goes on in its own band."""
    size = abs(r)
    badness = 100.0 * (size * size * size if size <= 1.0 else size * size)
    hole = r >= UNFILLED
    if weights.target >= 0:
        target = weights.target + weights.step * (slot - weights.first_slot)
        badness = 100.0 * ((width - target) / weights.size) ** 2
    elif hole:
        badness = 0.0
    demerits = weights.line_cost + badness + (HYPHEN_COST if hyphen > 0 else 0.0)
    demerits *= demerits
    if hole:
        ems = min(r - UNFILLED, MOST_EMS)
        demerits += HOLE + HOLE_BY_EM * ems + DEEP * max(ems - DEEP_FROM, 0.0)
        if hyphen > 0:
            demerits += HYPHEN_ON_HOLE
    if grade > 0:
        weak = WEAK_COST if weights.justify else WEAK_RAGGED
        demerits += weak if grade == WEAK else POOR_COST if grade == POOR else PARTED if grade == KEPT else TORN
    if hyphen > 0 and ladder > 0:
        demerits += TWO_HYPHENS
    if hyphen > 0 and slot == weights.past_from - 1:
        demerits += HYPHEN_AT_FOOT
    if hyphen > 0 and across:
        demerits += ACROSS
    if fit_before >= 0:
        if weights.rag:
            demerits += rag_cost(fit, fit_before)
        elif weights.justify and abs(fit - fit_before) > 1:
            demerits += FAR_FITNESS
    if lone and weights.lone_word >= 0:
        demerits += FORBIDDEN if weights.lone_word > 0 else LONE_COST
        if ladder > 0:
            demerits += STUB_COST
    if slot >= weights.past_from:
        if not weights.goes_on:
            demerits += PAST_COST
        elif ends and slot - weights.past_from + 1 < weights.fewest_over and weights.first_slot < weights.past_from:
            demerits += SHORT_COLUMN
    elif ends and weights.goes_on and 0 < weights.past_from - 1 - slot < weights.fewest_left:
        demerits += SHORT_COLUMN
    return demerits + weights.tight


@njit(cache=True)
def farthest(weights):
    """How much more a line can cost after one of another fitness."""
    return FAR_FITNESS if weights.justify else max(STEP_COST, WEDGE_COST) if weights.rag and weights.target < 0 else 0.0


@njit(cache=True)
def fitnesses(weights):
    """How many fitnesses the lines of a paragraph have."""
    return 4 if weights.justify else FITNESSES if weights.rag and weights.target < 0 else 1


@njit(cache=True)
def left_of(bound, cost):
    """What a way that has cost so much may still cost below a bound, lines past the edge aside: holes make these no
    fewer."""
    return bound % PAST_COST - cost % PAST_COST if bound < np.inf else np.inf


@njit(cache=True)
def may_leave_open(bound, cost, most_r):
    """Whether such a way may leave a line unfilled, or do what is forbidden."""
    return most_r >= UNFILLED and left_of(bound, cost) >= HOLE


@njit(cache=True)
def r_within(weights, demerits):
    """The loosest that a line can be which costs no more than so many demerits, but for what it is dearer by itself."""
    badness = max(np.sqrt(max(demerits - weights.tight, 0.0)) - weights.line_cost, 0.0) / 100.0
    return np.cbrt(badness) if badness <= 1.0 else min(np.sqrt(badness), UNFILLED - 1.0)


@njit(cache=True, error_model="numpy")
def loosest_filled(weights):
    """The r of a line whose word spaces are as wide as they may be: what is looser stays unfilled, unless
    letters help."""
    if not weights.justify or weights.track > 0 or weights.give <= 0:
        return UNFILLED - 1.0
    return (weights.widest + ROUNDING) / weights.give
