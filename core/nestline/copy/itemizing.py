"""Text in stretches of one script, and of one font that has its letters."""

from __future__ import annotations

import unicodedata

import icu
import numpy as np
from numpy.typing import NDArray

from nestline.fonts.library import Face, FontLibrary

Floats = NDArray[np.float64]
BEYOND_LATIN = "\u0250"
"""The first letter that may be of another script than Latin's."""


def by_script(text: str, start: int, end: int) -> list[tuple[int, int, str | None]]:
    """A run cut where its script changes (UAX #24; common and inherited characters go with what stands before)."""
    if (run := text[start:end]) and max(run) < BEYOND_LATIN:
        return [(start, end, "Latn" if any(map(str.isalpha, run)) else None)]
    out: list[tuple[int, int, str | None]] = []
    begin, current = start, None
    for i in range(start, end):
        if text[i] < BEYOND_LATIN:
            script = "Latn" if text[i].isalpha() else None
        else:
            code = icu.Script.getScript(text[i]).getShortName()
            script = None if code in ("Zyyy", "Zinh", "Zzzz") else code
        if script is None or script == current:
            continue
        if current is not None:
            out.append((begin, i, current))
            begin = i
        current = script
    if end > begin:
        out.append((begin, end, current))
    return out


def by_face(
    text: str, start: int, end: int, levels: list[int], asked: Face, fonts: FontLibrary
) -> list[tuple[int, int, Face]]:
    """A stretch cut where its direction changes and where its font lacks letters, which another then draws."""
    if min(levels[start:end], default=0) == max(levels[start:end], default=0) and all(
        letter <= " " or _stays(letter) or asked.has(letter) for letter in set(text[start:end])
    ):
        return [(start, end, asked)] if end > start else []
    out: list[tuple[int, int, Face]] = []
    begin, current = start, asked
    for i in range(start, end):
        letter = text[i]
        face = current
        if letter > " " and not _stays(letter):
            face = asked if asked.has(letter) else current if current.has(letter) else fonts.fallback(letter, asked)
        if i > begin and (face is not current or levels[i] != levels[i - 1]):
            out.append((begin, i, current))
            begin = i
        current = face
    if end > begin:
        out.append((begin, end, current))
    return out


def _stays(letter: str) -> bool:
    """Marks, joiners and spaces are drawn by the font of what stands before them."""
    if letter < "\u0300":
        return letter in "\u00a0\u00ad"
    return unicodedata.category(letter) in ("Mn", "Me", "Mc", "Cf", "Zs", "Cc")
