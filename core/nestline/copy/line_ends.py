"""What a break changes: the letters of a line shaped alone at its ends, the hyphen that is set there, what hangs."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from nestline.copy.stretches import Stretch
from nestline.fonts.library import Face
from nestline.fonts.overhang import overhang
from nestline.fonts.shaping import shape

Floats = NDArray[np.float64]


HANGING = {
    **dict.fromkeys(".,", 0.8),
    **dict.fromkeys("-\u2010\u2011", 0.6),
    **dict.fromkeys("\"'“”‘’„‚«»‹›", 0.6),
    **dict.fromkeys(":;", 0.5),
    **dict.fromkeys("–—…", 0.3),
    **dict.fromkeys("!?()[]*", 0.2),
}
"""The share of a mark that hangs outside its slot (common practice; figures of our own)."""


def hyphen_of(face: Face) -> str:
    """The hyphen that the engine sets: U+2010 where the font has it, else U+002D (CSS Text 4,
    "hyphenate-character")."""
    return "\u2010" if face.hb_font.get_nominal_glyph(0x2010) else "-"


class LineEnds:
    """Works out how a line's width differs from the running widths when the line starts or ends in a place."""

    def __init__(self, text: str, stretches: tuple[Stretch, ...], language: str, x: Floats, safe: NDArray[np.bool_]):
        self.text, self.stretches, self.language, self.x, self.safe = text, stretches, language, x, safe

    def change_at_start(self, start: int, content: int) -> float:
        stretch = self._stretch(start)
        if stretch is None or self.safe[start] or start == stretch.start or content <= start:
            return 0.0
        end = start + 1
        while end < stretch.end and not self.safe[end]:
            end += 1
        return self._width(stretch, start, end) - float(self.x[end] - self.x[start])

    def change_at_end(self, start: int, content: int, end: int) -> float:
        """The spaces that hang past a line's end are shaped with it (CSS Text 3, 4.1.3), so its last letter
        keeps them."""
        stretch = self._stretch(content - 1) if content > start else None
        if stretch is None or content >= stretch.end:
            return 0.0
        stop = min(end, stretch.end)
        if stop == stretch.end or self.safe[stop]:
            return 0.0
        begin = stop - 1
        while begin > stretch.start and not self.safe[begin]:
            begin -= 1
        if begin >= content:
            return 0.0
        return self._width(stretch, begin, stop, content) - float(self.x[content] - self.x[begin])

    def hang_at_start(self, start: int, content: int) -> float:
        """How far the first mark or letter of a line hangs out before its slot."""
        if content <= start:
            return 0.0
        if (share := HANGING.get(self.text[start])) is not None:
            return share * float(self.x[start + 1] - self.x[start])
        return self._reaches(start, 0)

    def hang_at_end(self, start: int, content: int, hyphenated: bool) -> float:
        """How far the last mark or letter of a line hangs out behind its slot."""
        stretch = self._stretch(content - 1) if content > start else None
        if stretch is None:
            return 0.0
        if hyphenated:
            hyphen = shape(stretch.face, hyphen_of(stretch.face), 0, 1, self.language)
            return HANGING["-"] * hyphen.width * stretch.scale
        if (share := HANGING.get(self.text[content - 1])) is not None:
            return share * float(self.x[content] - self.x[content - 1])
        return self._reaches(content - 1, 1)

    def _reaches(self, index: int, side: int) -> float:
        """How far a letter reaches over an edge at its left (0) or its right (1); nothing where copy runs from right to
        left."""
        stretch = self._stretch(index)
        if stretch is None or stretch.role or stretch.level % 2 or not len(stretch.glyphs.ids):
            return 0.0
        at = max(0, int(np.searchsorted(stretch.glyphs.clusters, index, side="right")) - 1)
        return overhang(stretch.face, int(stretch.glyphs.ids[at]))[side] * stretch.scale

    def change_with_hyphen(self, start: int, end: int) -> float:
        """What a hyphen set at `end` adds, shaped with the letters before it."""
        stretch = self._stretch(end - 1)
        if stretch is None:
            return 0.0
        begin = end - 1
        while begin > max(stretch.start, start) and not self.safe[begin]:
            begin -= 1
        shaped = self.text[begin:end] + hyphen_of(stretch.face)
        tracked = not stretch.look.joined
        glyphs = shape(
            stretch.face, shaped, 0, len(shaped), self.language, stretch.script, tracked, stretch.look.features
        )
        count = len(np.unique(glyphs.clusters))
        width = float(glyphs.advances.sum()) * stretch.scale + count * stretch.look.tracking
        return width - float(self.x[end] - self.x[begin])

    def _stretch(self, index: int) -> Stretch | None:
        return next((s for s in self.stretches if s.start <= index < s.end), None)

    def _width(self, stretch: Stretch, start: int, end: int, upto: int | None = None) -> float:
        """The width of text[start:upto] when text[start:end] is shaped alone."""
        tracked = not stretch.look.joined
        glyphs = shape(
            stretch.face, self.text, start, end, self.language, stretch.script, tracked, stretch.look.features
        )
        within = glyphs.clusters < (end if upto is None else upto)
        count = len(np.unique(glyphs.clusters[within]))
        return float(glyphs.advances[within].sum()) * stretch.scale + count * stretch.look.tracking
