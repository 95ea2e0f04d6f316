"""A stretch of a paragraph in one look, font, script and direction, shaped."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nestline.copy.styles import Look
from nestline.fonts.library import Face
from nestline.fonts.shaping import Glyphs

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Stretch:
    """A stretch of a paragraph in one look, font, script and direction: text[start:end].

    An odd `level` runs from right to left; `fallback` says that its font stands in for one that lacks its letters.
    """

    start: int
    end: int
    look: Look
    face: Face
    script: str | None
    glyphs: Glyphs
    level: int = 0
    fallback: bool = False
    role: str = ""
    """"drop" for the letters of a drop cap, which stand beside the lines, "tab" for a tab, "object" for one in line,
    "anchor" for the place of one that stands elsewhere."""
    advance: float = 0.0
    leader: str = ""
    object: str = ""
    heights: tuple[float, float] = (0.0, 0.0)
    """How far an object in line reaches above the baseline and below it."""

    @property
    def scale(self) -> float:
        """Points per font unit."""
        return self.look.size / self.face.units_per_em
