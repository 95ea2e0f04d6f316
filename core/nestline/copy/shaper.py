"""The shaper: copies and paragraphs shaped once, and remembered."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from nestline.alike import same_ends
from nestline.copy.paragraph import InLine, shape_paragraph
from nestline.copy.rebreaking import broken_to_fit, scaled, unwrapped
from nestline.copy.shaped_copy import ShapedCopy, join_paragraphs
from nestline.copy.shaped_paragraph import ShapedParagraph
from nestline.document.model import Paragraph, Style
from nestline.fonts.library import FontLibrary
from nestline.remembering import Memory, remember

Floats = NDArray[np.float64]


NOTHING_IN_LINE: InLine = {}
MOST_SHAPED = 20e6
"""The bytes of paragraphs, and of copies with theirs, that are remembered when shaped, about."""
PARAGRAPH_BYTES, COPY_BYTES = 200, 290
"""What a letter takes of a shaped paragraph, and of a copy with its paragraphs, about (measured: 50 words a paragraph)."""
MOST_SCALED = 3
LONG = 60
"""Paragraphs from which on a copy takes over what it has in common with how it was before."""


def size_of(copy: ShapedCopy) -> float:
    """What a copy takes with its paragraphs, in bytes, about."""
    return 2e3 + COPY_BYTES * len(copy.text)


class Shaper:
    """Shapes copies, remembering paragraphs and copies by identity of their (frozen) parts. Keep one for each
    document."""

    def __init__(self, fonts: FontLibrary) -> None:
        self.fonts = fonts
        self._paragraphs: Memory[tuple[object, ...], tuple[Paragraph, ShapedParagraph]] = Memory(
            MOST_SHAPED, lambda kept: 2e3 + PARAGRAPH_BYTES * len(kept[1].text)
        )
        self._copies: Memory[tuple[int, ...], ShapedCopy] = Memory(MOST_SHAPED, size_of)
        self._excerpted_last: tuple[tuple[object, ...], Sequence[Paragraph], ShapedCopy] | None = None
        """The copy with some figures that was made last: what it was made of, its paragraphs and itself."""
        self._joined_last: ShapedCopy | None = None
        """The long copy that was joined last: the next state of it begins as it does."""

    def round(self, passing: bool) -> None:
        """A document, or a passing state of it, is gone through from here on (see `Memory`)."""
        self._paragraphs.round(passing)
        self._copies.round(passing)

    def slim(self) -> None:
        """Keep only what was asked for last (see `Memory`)."""
        self._paragraphs.slim()
        self._copies.slim()

    def go_on(self) -> None:
        """Some of the document that was gone through last is shaped again, as it has changed."""
        self._paragraphs.go_on()
        self._copies.go_on()

    @property
    def size(self) -> float:
        """What is remembered, in bytes, about."""
        return self._paragraphs.size + self._copies.size

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
        self, paragraphs: Sequence[Paragraph], styles: Mapping[str, Style], language: str, base: Style | None = None,
        in_line: InLine = NOTHING_IN_LINE,
    ) -> ShapedCopy:  # fmt: skip
        """A copy of one version; paragraphs without a style have the `base`. Raises FontError."""
        return self.joined(
            [self.paragraph(p, styles.get(p.style) if p.style else base, language, in_line) for p in paragraphs]
        )

    def excerpted(
        self, paragraphs: Sequence[Paragraph], styles: Mapping[str, Style], language: str, base: Style | None,
        in_line: InLine, excerpt: tuple[int, int],
    ) -> ShapedCopy:  # fmt: skip
        """As `copy`, with the figures of some paragraphs alone; it is not remembered, but the next begins from it."""
        head, tail = 0, 0
        like: ShapedCopy | None = None
        known: tuple[ShapedParagraph, ...] = ()
        of = (language, base, in_line, styles)
        if self._excerpted_last is not None and self._excerpted_last[0] == of:
            _, before, like = self._excerpted_last
            head, tail = same_ends(before, paragraphs)
            known = like.paragraphs
        end = len(paragraphs) - tail
        shaped = [
            *known[:head],
            *(
                self.paragraph(p, styles.get(p.style) if p.style else base, language, in_line)
                for p in paragraphs[head:end]
            ),
            *known[len(known) - tail :],
        ]
        found = join_paragraphs(shaped, like, excerpt)
        self._excerpted_last = (of, paragraphs, found)
        return found

    def joined(self, shaped: Sequence[ShapedParagraph]) -> ShapedCopy:
        key = tuple(id(p) for p in shaped)
        found = self._copies.get(key)
        if found is None:
            like = self._joined_last if len(shaped) > LONG else None
            found = self._copies.put(key, join_paragraphs(shaped, like))
            if len(shaped) > LONG:
                self._joined_last = found
        return found

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
