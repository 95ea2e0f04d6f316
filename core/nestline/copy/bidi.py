"""The direction of copy: levels of the Unicode Bidirectional Algorithm (UAX #9), by ICU, and their visual order."""

from __future__ import annotations

from collections.abc import Sequence

import icu

RIGHT_TO_LEFT = {"ar", "he", "iw", "fa", "ur", "yi", "ps", "sd", "ug", "dv", "ckb"}
FIRST_FROM_RIGHT = "\u0590"
"""No letter before it runs from right to left, and no mark before it says so."""


def levels_of(text: str, direction: str, language: str) -> tuple[list[int], int]:
    """The level of every code point, and that of the paragraph.

    `direction` is ltr, rtl or auto: then the first strong letter decides, or the language where there is none.
    """
    by_language = 1 if language.split("-")[0].lower() in RIGHT_TO_LEFT else 0
    if not text:
        return [], by_language if direction == "auto" else int(direction == "rtl")
    if (direction == "ltr" or direction == "auto" and not by_language) and max(text) < FIRST_FROM_RIGHT:
        return [0] * len(text), 0
    base = {"ltr": 0, "rtl": 1}.get(direction)
    if base is None:
        base = icu.Bidi.DEFAULT_RTL if by_language else icu.Bidi.DEFAULT_LTR
    bidi = icu.Bidi()
    whole = icu.UnicodeString(text)  # kept alive while its levels are read
    bidi.setPara(whole, base)
    units = list(bidi.getLevels())
    if len(units) == len(text):
        return units, int(bidi.getParaLevel())
    levels, at = [], 0
    for character in text:  # ICU counts UTF-16 units
        levels.append(units[at])
        at += 2 if ord(character) > 0xFFFF else 1
    return levels, int(bidi.getParaLevel())


def visual_order(levels: Sequence[int]) -> list[int]:
    """The items of a line from left to right (UAX #9, rule L2)."""
    order = list(range(len(levels)))
    if not order:
        return order
    odd = [level for level in levels if level % 2]
    for level in range(max(levels), (min(odd) if odd else 1) - 1, -1):
        start = None
        for place in range(len(order) + 1):
            inside = place < len(order) and levels[order[place]] >= level
            if inside and start is None:
                start = place
            elif not inside and start is not None:
                order[start:place] = reversed(order[start:place])
                start = None
    return order
