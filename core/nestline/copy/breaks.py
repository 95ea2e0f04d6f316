"""Where copy may be broken: UAX #14 by ICU, and grapheme boundaries (UAX #29)."""

from __future__ import annotations

import icu

HANGING_SPACES = frozenset(
    " \t\n\r\u2028\u2029\u1680\u3000\u205f" + "".join(map(chr, [*range(0x2000, 0x2007), *range(0x2008, 0x200B)]))
)
MANDATORY = frozenset("\n\r\u2028\u2029\u000b\u000c\u0085")
SOFT_HYPHEN = "\u00ad"


def _boundaries(iterator: icu.BreakIterator, text: str) -> list[int]:
    """Boundaries after the start as code point indices (ICU counts UTF-16 units)."""
    iterator.setText(text)
    found = list(iterator)
    if all(ord(c) < 0x10000 for c in text):
        return found
    units = 0
    index_of = {}
    for index, character in enumerate(text):
        index_of[units] = index
        units += 2 if ord(character) > 0xFFFF else 1
    index_of[units] = len(text)
    return [index_of[u] for u in found if u in index_of]


def line_breaks(text: str, language: str) -> list[int]:
    """Break opportunities of UAX #14 as code point indices, the end of the text included.

    Soft hyphens are kept whole until hyphenation sets their hyphen.
    """
    found = _boundaries(icu.BreakIterator.createLineInstance(icu.Locale(language)), text)
    return [b for b in found if b == len(text) or text[b - 1] != SOFT_HYPHEN]


def graphemes(text: str) -> list[int]:
    """Grapheme cluster boundaries as code point indices, the end of the text included."""
    return _boundaries(icu.BreakIterator.createCharacterInstance(icu.Locale.getRoot()), text)


def words(text: str) -> list[int]:
    """Word boundaries (UAX #29) as code point indices, the end of the text included."""
    return _boundaries(icu.BreakIterator.createWordInstance(icu.Locale.getRoot()), text)
