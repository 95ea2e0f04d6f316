"""Paragraphs joined: figures of many from those of each, by way of blocks that stay as they are while their paragraphs
do.

A letter typed into a long copy changes one block; all the others are taken over. Where blocks end is said by the text
of their paragraphs, so that a paragraph put in moves no other block's end, and a copy is joined from the same blocks
whatever it was before: figures come out the same to the last bit.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.copy.shaped_paragraph import ShapedParagraph
from nestline.copy.styles import Look
from nestline.fonts.library import Face
from nestline.remembering import Memory

Floats = NDArray[np.float64]
Whole = NDArray[np.int64]
Looks = list[tuple[Face, Look]]
LEAST_IN_A_BLOCK, MOST_IN_A_BLOCK = 1_500, 6_000
"""How many letters a block has: what is dear is joining each, and joining anew those beside one that changes."""
ENDS_ONE_OF = 6
"""Of the paragraphs behind the least, one in so many ends a block."""


class Part(Protocol):
    """Paragraphs that follow one another: one, or a block. All is counted from where the first begins."""

    @property
    def running(self) -> Floats:
        """A row of each running figure (rows.RUNNING0): before each code point, a paragraph's end counting one."""

    @property
    def places(self) -> Whole:
        """Three rows: where each piece starts, its content ends, and it ends."""

    @property
    def rows(self) -> Floats:
        """A row a piece (rows.PIECE_COLUMNS)."""

    @property
    def rule_rows(self) -> Floats:
        """A row a paragraph (rows.RULE_COLUMNS)."""

    @property
    def segments(self) -> tuple[Whole, Looks]:
        """Words by look, a row each (rows.WORD_COLUMNS), and the looks."""

    @property
    def text(self) -> str: ...

    @property
    def words(self) -> int: ...


@dataclass(frozen=True, eq=False)
class Block:
    """Paragraphs joined to one part."""

    paragraphs: tuple[ShapedParagraph, ...]
    running: Floats
    places: Whole
    rows: Floats
    rule_rows: Floats
    segments: tuple[Whole, Looks]
    text: str
    words: int


Blocks = Memory[tuple[int, ...], Block]


def blocks_of(paragraphs: Sequence[ShapedParagraph], kept: Blocks | None = None) -> list[Block]:
    """The blocks that paragraphs are joined from; those that are `kept`, by what they are of, are taken over."""
    out: list[Block] = []
    begin = 0
    for stop in _ends(paragraphs):
        mine = tuple(paragraphs[begin:stop])
        begin = stop
        if kept is None:
            out.append(joined(mine, mine))
            continue
        key = tuple([id(p) for p in mine])
        block = kept.get(key)
        out.append(block if block is not None else kept.put(key, joined(mine, mine)))
    return out


def _ends(paragraphs: Sequence[ShapedParagraph]) -> list[int]:
    """Behind which paragraphs blocks end."""
    out, count = [], 0
    for stop, paragraph in enumerate(paragraphs, 1):
        count += len(paragraph.text) + 1
        if count >= MOST_IN_A_BLOCK or count >= LEAST_IN_A_BLOCK and paragraph.sum % ENDS_ONE_OF == 0:
            out.append(stop)
            count = 0
    return [*out, len(paragraphs)] if count else out


def joined(
    parts: Sequence[Part], paragraphs: tuple[ShapedParagraph, ...], figured: Collection[int] | None = None
) -> Block:
    """Parts, of which the `paragraphs` are, as one. Of parts that are not among those `figured` there are places, rules
    and words, while running figures and pieces are 0."""
    if len(parts) == 1:
        one = parts[0]
        return Block(paragraphs, one.running, one.places, one.rows, one.rule_rows, one.segments, one.text, one.words)
    at = begins([p.running.shape[1] for p in parts])
    piece = begins([len(p.rows) for p in parts])
    paragraph = begins([len(p.rule_rows) for p in parts])
    # How far each part's own running figures are moved on by those of the parts before.
    bases = np.zeros((len(parts) + 1, len(k.RUNNING0)))
    np.cumsum([p.running[:, -1] for p in parts], axis=0, out=bases[1:])
    further = np.zeros((len(parts), k.PIECE_COLUMNS))
    further[:, k.RUNNING0] = further[:, k.RUNNING1] = bases[:-1]
    further[:, k.PARAGRAPH] = paragraph[:-1]
    # Written where they stay: copies on the way would cost more than all the adding. Zeros that nobody writes to cost
    # no memory, and no time.
    running, rows = np.zeros((len(k.RUNNING0), at[-1])), np.zeros((piece[-1], k.PIECE_COLUMNS))
    places = np.empty((3, piece[-1]), np.int64)
    for n, p in enumerate(parts):
        np.add(p.places, at[n], out=places[:, piece[n] : piece[n + 1]])
        if figured is None or n in figured:
            np.add(p.running, bases[n, :, None], out=running[:, at[n] : at[n + 1]])
            np.add(p.rows, further[n], out=rows[piece[n] : piece[n + 1]])
    return Block(
        paragraphs,
        running,
        places,
        rows,
        np.concatenate([p.rule_rows for p in parts]),
        _words(parts, at),
        "\n".join([p.text for p in parts]),
        sum([p.words for p in parts]),
    )


def begins(lengths: Sequence[int]) -> NDArray[Any]:
    """Where each part begins, and the end of all."""
    out = np.zeros(len(lengths) + 1, np.int64)
    np.cumsum(lengths, out=out[1:])
    return out


def _words(parts: Sequence[Part], at: Whole) -> tuple[Whole, Looks]:
    """The words of parts by look, and the looks in the order of their first use."""
    found: dict[tuple[Face, Look], int] = {}
    numbers: list[int] = []
    before: Looks | None = None
    rows = []
    for p in parts:
        own, looks = p.segments
        if looks != before:  # most follow one that looks the same: to number it anew would cost more
            numbers, before = [found.setdefault(pair, len(found)) for pair in looks], looks
        if numbers != list(range(len(numbers))):
            own = own.copy()
            own[:, k.WORD_LOOK] = np.array(numbers, dtype=np.int64)[own[:, k.WORD_LOOK]]
        rows.append(own)
    joined_rows = np.concatenate(rows)
    joined_rows[:, [k.WORD_START, k.WORD_END]] += np.repeat(at[:-1], [len(own) for own in rows])[:, None]
    return joined_rows, list(found)
