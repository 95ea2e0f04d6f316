"""What is told of a font for it to be found: its kind, and the scripts that it draws."""

from __future__ import annotations

from functools import lru_cache
from typing import Literal

import numpy as np

from nestline.fonts.library import Face
from nestline.outlines.path import flattened

Kind = Literal["serif", "sans", "mono", "other"]

SCRIPTS = {"Latin": "ahW", "Greek": "αλΩ", "Cyrillic": "яжД", "Arabic": "عبم", "Hebrew": "אבש"}
"""Letters of each script that a font draws all of, if it draws the script."""
FOOT = 1.5
"""How much wider than its stem the foot of an I is where there are serifs (from memory: three to four times in book
faces)."""


@lru_cache(maxsize=500)
def scripts_of(face: Face) -> tuple[str, ...]:
    """The scripts that a face draws, of those that are asked for."""
    return tuple(script for script, letters in SCRIPTS.items() if all(face.has(letter) for letter in letters))


@lru_cache(maxsize=500)
def kind_of(face: Face) -> Kind:
    """The kind of a face, seen from its letters: what the files say of themselves is often left empty."""
    if not all(face.has(letter) for letter in "iIW"):
        return "other"
    font = face.hb_font
    advance = {letter: font.get_glyph_h_advance(font.get_nominal_glyph(ord(letter)) or 0) for letter in "iW"}
    if advance["i"] == advance["W"]:
        return "mono"
    contours = [
        c for c in flattened(face.outline(font.get_nominal_glyph(ord("I")) or 0), face.units_per_em / 400) if len(c) > 1
    ]
    if not contours:
        return "other"
    (_, low), (_, high) = (side(np.concatenate(contours), axis=0) for side in (np.min, np.max))
    return "serif" if _wide(contours, low + 0.01 * (high - low)) > FOOT * _wide(contours, (low + high) / 2) else "sans"


def _wide(contours: list[np.ndarray], y: float) -> float:
    """How wide a letter is at a height, in font units."""
    x: list[float] = []
    for contour in contours:
        (x0, y0), (x1, y1) = contour[:-1].T, contour[1:].T
        crossed = (y0 > y) != (y1 > y)
        x.extend((x0 + (y - y0) / np.where(crossed, y1 - y0, 1) * (x1 - x0))[crossed])
    return max(x) - min(x) if x else 0.0
