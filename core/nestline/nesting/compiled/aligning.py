"""Where letters stand in their slots, compiled by Numba."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nestline.nesting.compiled.pieces import piece_width, ragged_below
from nestline.nesting.compiled.space import EPSILON
from nestline.nesting.compiled.weights import fitted, opened, weights_of
from nestline.rows import (
    ALIGN,
    ALIGN_LAST,
    CENTER,
    CHANGE0,
    END,
    FILL,
    FILLS0,
    FILLS1,
    FIRST,
    FIRST_INDENT,
    FORCED,
    FROM,
    FROM_RIGHT,
    HANG0,
    INDENT,
    JUSTIFY,
    LAST,
    LEFT,
    LETTERS0,
    LETTERS1,
    NATURAL,
    PARAGRAPH,
    PARAGRAPH_START,
    RANGE_END,
    RANGE_START,
    RIGHT,
    SPACE0,
    SPACE1,
    SPACE_MORE,
    START,
    TABS0,
    TABS1,
    TOO_LOOSE,
    TRACK,
    WIDENED,
    X0,
)


class Words(NamedTuple):
    """The words of a copy: for each piece the first that it reaches into and the one after the last, and for each word
    what runs before it (copy.shaped_copy.Segments)."""

    of_piece: NDArray[np.int64]
    x: NDArray[np.float64]
    spaces: NDArray[np.float64]
    letters: NDArray[np.float64]
    fills: NDArray[np.float64]


@njit(cache=True)
def align_records(copy, frame, records, out):
    """Work out where letters stand in every record (rows.FROM …).

    Word spaces and letters share what is free in a justified line (`opened`). A line with tabs is set natural; what is
    free goes to the tabs that reach for the slot's end.
    """
    pieces = copy.pieces
    for i in range(len(records)):
        first, last = int(records[i, FIRST]), int(records[i, LAST])
        rule = copy.rules[int(pieces[first, PARAGRAPH])]
        width = piece_width(pieces, first, last)
        indent = rule[INDENT] + (rule[FIRST_INDENT] if records[i, PARAGRAPH_START] > 0 else 0.0)
        room = records[i, RIGHT] - records[i, LEFT] - indent
        align = rule[ALIGN]
        if room + EPSILON < ragged_below(rule, frame):
            align = START
        natural = align != JUSTIFY
        if align == JUSTIFY and pieces[last, FORCED] > 0:
            align = rule[ALIGN_LAST]
            natural = align != JUSTIFY and width <= room + EPSILON
        gaps = pieces[last, SPACE1] - pieces[first, SPACE0]
        letters = pieces[last, LETTERS1] - pieces[first, LETTERS0] - 1
        filling = pieces[last, FILLS1] - pieces[first, FILLS0]
        gain = share = track = fill = 0.0
        weights = weights_of(rule, 0.0, 0.0, -1.0, 0.0, 0, 0, False, 0, 0.0)
        loose = False
        if pieces[last, TABS1] - pieces[first, TABS0] > 0:
            natural = True
            if align == JUSTIFY:
                align = START
            if filling > 0:
                fill = max(0.0, room - width) / filling
        if not natural:
            lent = fitted(weights, letters, width)
            gain, share, track, loose = opened(weights, room - width, gaps, letters, lent)
            track += share * weights.apart
        if loose:
            align = rule[ALIGN_LAST]
        wider = share * weights.wide
        free = room - width * (1.0 + wider) - gain * gaps - track * max(letters, 0) - fill * filling
        share = 0.5 if align == CENTER else 1.0 if align == END else 0.0
        if rule[FROM_RIGHT] > 0:
            # Copy from right to left starts at the right, and is indented there.
            share, indent = 1.0 - share, 0.0
        out[FROM, i], out[NATURAL, i] = records[i, LEFT] + indent + free * share, width
        out[SPACE_MORE, i], out[TRACK, i], out[FILL, i], out[TOO_LOOSE, i] = gain, track, fill, 1.0 if loose else 0.0
        out[WIDENED, i] = wider


@njit(cache=True)
def place_words(pieces, records, alignment, words):
    """The words of every record in order: their records, their indices, their x. A word that goes on from the line
    before begins where the line begins."""
    n = len(records)
    total = 0
    for i in range(n):
        total += words.of_piece[int(records[i, LAST]), RANGE_END] - words.of_piece[int(records[i, FIRST]), RANGE_START]
    which, index, x = np.empty(total, np.int64), np.empty(total, np.int64), np.empty(total)
    at = 0
    for i in range(n):
        first = int(records[i, FIRST])
        x0, change, spaces = pieces[first, X0], pieces[first, CHANGE0], pieces[first, SPACE0]
        letters, filled, start = pieces[first, LETTERS0], pieces[first, FILLS0], alignment[FROM, i]
        more, track, fill = alignment[SPACE_MORE, i], alignment[TRACK, i], alignment[FILL, i]
        factor = 1.0 + alignment[WIDENED, i]
        for word in range(words.of_piece[first, RANGE_START], words.of_piece[int(records[i, LAST]), RANGE_END]):
            which[at], index[at] = i, word
            if words.x[word] <= x0 + 1e-9:
                x[at] = start - pieces[first, HANG0] * factor
            else:
                x[at] = start + (words.x[word] - x0 + change) * factor + more * (words.spaces[word] - spaces)
                x[at] += track * (words.letters[word] - letters) + fill * (words.fills[word] - filled)
            at += 1
    return which, index, x
