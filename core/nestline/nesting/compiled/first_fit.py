"""First fit, compiled by Numba: each line takes as many pieces as its slot holds."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nestline.nesting.compiled.inlining import inlined
from nestline.nesting.compiled.lines import write_record
from nestline.nesting.compiled.pieces import begins_paragraph, indents, piece_width, raise_to
from nestline.nesting.compiled.space import EPSILON
from nestline.rows import (
    CHANGE0,
    EVEN,
    FIRST_INDENT,
    FORCED,
    FROM_RIGHT,
    HYPHEN,
    INDENT,
    LADDER,
    LAST,
    NO_CAP,
    PARAGRAPH,
    SET_HYPHEN,
    SLOT_LEFT,
    SLOT_RIGHT,
    X0,
    X1,
)

OUT_OF_SLOTS = -1


class Paragraph(NamedTuple):
    """What is to be broken into lines: pieces `first` … `stop` − 1, by a rule (a row of a paragraph's); `starts` says
    that `first` begins its paragraph."""

    rule: NDArray[np.float64]
    first: int
    stop: int
    starts: bool


class Slots(NamedTuple):
    """The slots that a paragraph runs through, in order, and the band that each is of; those from `past_from` on lie
    past the edge, and are kept for what cannot be held before, or stand for those of the next column where the copy
    `goes_on`. The next paragraph keeps `next_end` lines together at this one's foot. Where less than `narrow` is left
    for letters, justified lines are set ragged."""

    lefts: NDArray[np.float64]
    rights: NDArray[np.float64]
    bands: NDArray[np.int64]
    total: int
    past_from: int
    goes_on: bool
    next_end: int
    narrow: float


class Chosen(NamedTuple):
    """Breaks: of each line its first piece, its last, and its slot."""

    first: NDArray[np.int64]
    last: NDArray[np.int64]
    slot: NDArray[np.int64]


@njit(cache=True)
def room_to_choose(lines):
    """Chosen, with room for so many lines."""
    return Chosen(np.empty(lines, np.int64), np.empty(lines, np.int64), np.empty(lines, np.int64))


@njit(cache=True)
def slot_room(rule, slots, slot, first_slot):
    """The width that a slot leaves a paragraph's letters."""
    return slots.rights[slot] - slots.lefts[slot] - rule[INDENT] - (rule[FIRST_INDENT] if first_slot else 0.0)


@njit(cache=True)
def fill_slots(pieces, paragraph, slots, chosen):
    """First fit of a paragraph into slots. Returns the lines chosen, or OUT_OF_SLOTS."""
    at, slot, written, ladder = paragraph.first, 0, 0, 0
    rule = paragraph.rule
    while at < paragraph.stop:
        if slot >= slots.total or written >= len(chosen.first):
            return OUT_OF_SLOTS
        room = slot_room(rule, slots, slot, paragraph.starts and at == paragraph.first)
        last = fill_one(pieces, at, paragraph.stop, room, ladder < rule[LADDER])
        if last >= at:
            chosen.first[written], chosen.last[written], chosen.slot[written] = at, last, slot
            ladder = ladder + 1 if pieces[last, HYPHEN] == SET_HYPHEN else 0
            written += 1
            at = last + 1
        slot += 1
    return written


@njit(cache=True)
def fill_one(pieces, at, stop, room, hyphen_allowed):
    """The last piece of the longest line from `at` that a room holds; at − 1 when not even the first fits.

    A syllable whose hyphen does not fit may still be followed by the rest of its word.
    """
    last = at - 1
    p = at
    while p < stop:
        fits = piece_width(pieces, at, p) <= room + EPSILON
        hyphenated = pieces[p, HYPHEN] == SET_HYPHEN
        if fits and (hyphen_allowed or not hyphenated):
            last = p
        elif not fits and not hyphenated:
            break
        elif not fits and pieces[p, X1] - pieces[at, X0] + pieces[at, CHANGE0] > room + EPSILON:
            break
        if pieces[p, FORCED] > 0:
            break
        p += 1
    if last < at and not hyphen_allowed:
        return fill_one_anyhow(pieces, at, stop, room)
    return last


@njit(cache=True)
def fill_one_anyhow(pieces, at, stop, room):
    """As `fill_one`, where only a hyphen too many lets the line hold anything."""
    last = at - 1
    p = at
    while p < stop and piece_width(pieces, at, p) <= room + EPSILON:
        last = p
        if pieces[p, FORCED] > 0:
            break
        p += 1
    return last


@njit(cache=True)
def hyphens_before(pieces, records, written):
    """How many records in a row, up to the last one written, end in a hyphen that was set."""
    count = 0
    while count < min(written, len(records)) and (
        pieces[int(records[written - 1 - count, LAST]), HYPHEN] == SET_HYPHEN
    ):
        count += 1
    return count


@inlined
def fill_band(copy, at, line, slots, count, records, written, tall):
    """First fit of pieces from `at` into the slots of one band. Returns the next piece and the next record.

    `tall` gathers the greatest heights of the pieces placed (a row like a piece's), and has those of the first.
    """
    pieces, rules = copy.pieces, copy.rules
    paragraph = int(pieces[at, PARAGRAPH])
    starts = begins_paragraph(pieces, at)
    n, begin = len(pieces), at
    from_right = rules[paragraph, FROM_RIGHT] > 0
    for place in range(count):
        s = count - 1 - place if from_right else place
        room = slots[s, SLOT_RIGHT] - slots[s, SLOT_LEFT] - indents(rules, paragraph, starts, at == begin)
        allowed = hyphens_before(pieces, records, written) < rules[paragraph, LADDER]
        last = fill_one(pieces, at, n, room, allowed)
        if last < at:
            continue
        if rules[paragraph, EVEN] == 0:
            raise_to(tall, pieces, at, last + 1)
        written = write_record(records, written, line, at, last, slots, s, starts and at == begin, NO_CAP)
        at = last + 1
        if pieces[last, FORCED] == 1 or at >= n:
            break
    return at, written
