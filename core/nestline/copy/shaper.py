"""The shaper: copies and paragraphs shaped once, and remembered."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping, Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from nestline.alike import same_ends
from nestline.copy.joining import Block, blocks_of
from nestline.copy.paragraph import InLine, shape_paragraph
from nestline.copy.rebreaking import broken_to_fit, scaled, unwrapped
from nestline.copy.shaped_copy import ShapedCopy, copy_of, join_paragraphs
from nestline.copy.shaped_paragraph import ShapedParagraph
from nestline.document.model import Paragraph, Style
from nestline.fonts.library import FontLibrary
from nestline.remembering import Memory, remember

Floats = NDArray[np.float64]


NOTHING_IN_LINE: InLine = {}
MOST_SHAPED = 20e6
"""The bytes of paragraphs, and of copies with theirs, that are remembered when shaped, about."""
MOST_IN_BLOCKS, BLOCK_BYTES = 5e6, 120
"""The bytes of blocks that are remembered beyond what the document needs, and what a letter takes in one, about."""
PARAGRAPH_BYTES, COPY_BYTES = 200, 290
"""What a letter takes of a shaped paragraph, and of a copy with its paragraphs, about (measured: 50 words a
paragraph)."""
MOST_SCALED = 3
LONG = 60
"""Paragraphs from which on a copy takes over what it has in common with how it was before."""


def size_of(copy: ShapedCopy) -> float:
    """What a copy takes with its paragraphs, in bytes, about."""
    return 2e3 + COPY_BYTES * len(copy.text)


class Long(NamedTuple):
    """A long copy, shaped: what its paragraphs were shaped with besides themselves, they, and what they came to."""

    of: tuple[object, ...]
    paragraphs: Sequence[Paragraph]
    shaped: Sequence[ShapedParagraph]


class Shaper:
    """Shapes copies, remembering paragraphs and copies by identity of their (frozen) parts. Keep one for each
    document."""

    def __init__(self, fonts: FontLibrary) -> None:
        self.fonts = fonts
        self._paragraphs: Memory[tuple[object, ...], tuple[Paragraph, ShapedParagraph]] = Memory(
            MOST_SHAPED, lambda kept: 2e3 + PARAGRAPH_BYTES * len(kept[1].text)
        )
        self._copies: Memory[tuple[int, ...], ShapedCopy] = Memory(MOST_SHAPED, size_of)
        self._last_long: Long | None = None
        """The long copy that was shaped last: the next state of it is like it but for what changed."""
        self._blocks: Memory[tuple[int, ...], Block] = Memory(
            MOST_IN_BLOCKS, lambda block: 2e3 + BLOCK_BYTES * len(block.text)
        )

    @property
    def _memories(self) -> tuple[Memory[Any, Any], ...]:
        return self._paragraphs, self._copies, self._blocks

    def round(self, passing: bool) -> None:
        """A document, or a passing state of it, is gone through from here on (see `Memory`)."""
        for kept in self._memories:
            kept.round(passing)

    def slim(self) -> None:
        """Keep only what was asked for last (see `Memory`)."""
        for kept in self._memories:
            kept.slim()

    def go_on(self) -> None:
        """Some of the document that was gone through last is shaped again, as it has changed."""
        for kept in self._memories:
            kept.go_on()

    @property
    def size(self) -> float:
        """What is remembered, in bytes, about."""
        return sum(kept.size for kept in self._memories)

    def paragraph(
        self, paragraph: Paragraph, style: Style | None, language: str, in_line: InLine = NOTHING_IN_LINE
    ) -> ShapedParagraph:
        # A style is compared by value: an edit of the document's head reads its styles again.
        inside = tuple(in_line.get(r.object, ()) for r in paragraph.runs if r.object) if in_line else ()
        key = (id(paragraph), style.written if style else None, language, inside)
        if found := self._paragraphs.get(key):
            return found[1]
        return self._paragraphs.put(key, (paragraph, shape_paragraph(paragraph, style, language, self.fonts, in_line)))[
            1
        ]

    def copy(
        self,
        paragraphs: Sequence[Paragraph],
        styles: Mapping[str, Style],
        language: str,
        base: Style | None = None,
        in_line: InLine = NOTHING_IN_LINE,
    ) -> ShapedCopy:
        """A copy of one version; paragraphs without a style have the `base`. Raises FontError."""
        return self.joined(self._shaped(paragraphs, styles, language, base, in_line))

    def excerpted(
        self,
        paragraphs: Sequence[Paragraph],
        styles: Mapping[str, Style],
        language: str,
        base: Style | None,
        in_line: InLine,
        excerpt: tuple[int, int],
    ) -> ShapedCopy:
        """As `copy`, with the figures of some paragraphs alone; it is not remembered."""
        return copy_of(self._blocks_of(self._shaped(paragraphs, styles, language, base, in_line)), excerpt)

    def _shaped(
        self,
        paragraphs: Sequence[Paragraph],
        styles: Mapping[str, Style],
        language: str,
        base: Style | None,
        in_line: InLine,
    ) -> Sequence[ShapedParagraph]:
        """Each paragraph shaped. Of a long copy those that it has in common with the last are not asked for one
        by one."""

        def each(some: Sequence[Paragraph]) -> list[ShapedParagraph]:
            return [self.paragraph(p, styles.get(p.style) if p.style else base, language, in_line) for p in some]

        if len(paragraphs) <= LONG:
            return each(paragraphs)
        of = (language, base, in_line, styles)
        last = self._last_long
        head, tail = same_ends(last.paragraphs, paragraphs) if last and last.of == of else (0, 0)
        known = last.shaped if last else ()
        shaped = [*known[:head], *each(paragraphs[head : len(paragraphs) - tail]), *known[len(known) - tail :]]
        self._last_long = Long(of, tuple(paragraphs), shaped)
        return shaped

    def _blocks_of(self, shaped: Sequence[ShapedParagraph]) -> Sequence[Block]:
        return blocks_of(shaped, self._blocks if len(shaped) > LONG else None)

    def joined(self, shaped: Sequence[ShapedParagraph]) -> ShapedCopy:
        key = tuple([id(p) for p in shaped])
        found = self._copies.get(key)
        return found if found is not None else self._copies.put(key, copy_of(self._blocks_of(shaped)))

    def scaled(self, copy: ShapedCopy, factor: float) -> ShapedCopy:
        """The copy with all sizes times a factor."""
        known = copy.__dict__.setdefault("_scaled", OrderedDict())
        if factor not in known:
            remember(known, factor, join_paragraphs([scaled(p, factor) for p in copy.paragraphs]), MOST_SCALED)
        return known[factor]  # type: ignore[no-any-return]

    def unwrapped(self, copy: ShapedCopy) -> ShapedCopy:
        """The copy with no break but the forced ones."""
        found = copy.__dict__.get("_unwrapped")
        if found is None:
            found = join_paragraphs([unwrapped(p) for p in copy.paragraphs])
            copy.__dict__["_unwrapped"] = found
        return found

    def broken_to_fit(self, copy: ShapedCopy, widest: float) -> ShapedCopy:
        """The copy with pieces wider than `widest` broken between graphemes; itself when there are none."""
        broken = [broken_to_fit(p, widest) for p in copy.paragraphs]
        if all(a is b for a, b in zip(broken, copy.paragraphs, strict=True)):
            return copy
        return join_paragraphs(broken)
