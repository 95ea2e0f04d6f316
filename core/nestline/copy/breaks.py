"""Where copy may be broken: UAX #14 by ICU, and grapheme boundaries (UAX #29)."""

from __future__ import annotations

import icu
import numpy as np
from numpy.typing import NDArray

Letters = NDArray[np.uint32]
HANGING_SPACES = frozenset(
    " \t\n\r\u2028\u2029\u1680\u3000\u205f" + "".join(map(chr, [*range(0x2000, 0x2007), *range(0x2008, 0x200B)]))
)
MANDATORY = frozenset("\n\r\u2028\u2029\u000b\u000c\u0085")
SOFT_HYPHEN = "\u00ad"


def letters_of(text: str) -> Letters:
    """The code points of a text."""
    return np.frombuffer(text.encode("utf-32-le", "surrogatepass"), np.uint32)


def _table(letters: frozenset[str]) -> NDArray[np.bool_]:
    table = np.zeros(ord(max(letters)) + 2, dtype=bool)
    table[[ord(c) for c in letters]] = True
    return table


_HANGING, _FORCING = _table(HANGING_SPACES), _table(MANDATORY)


def hangs(letters: Letters) -> NDArray[np.bool_]:
    """Which letters are spaces that hang past a line's end."""
    found: NDArray[np.bool_] = _HANGING[np.minimum(letters, len(_HANGING) - 1)]
    return found


def forces(letters: Letters) -> NDArray[np.bool_]:
    """Which letters end a line."""
    found: NDArray[np.bool_] = _FORCING[np.minimum(letters, len(_FORCING) - 1)]
    return found


def _boundaries(iterator: icu.BreakIterator, text: str) -> list[int]:
    """Boundaries after the start as code point indices (ICU counts UTF-16 units)."""
    iterator.setText(text)
    found = list(iterator)
    if max(text, default="") < "\U00010000":
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
    if SOFT_HYPHEN not in text:
        return found
    return [b for b in found if b == len(text) or text[b - 1] != SOFT_HYPHEN]


def graphemes(text: str) -> list[int]:
    """Grapheme cluster boundaries as code point indices, the end of the text included."""
    return _boundaries(icu.BreakIterator.createCharacterInstance(icu.Locale.getRoot()), text)


def words(text: str) -> list[int]:
    """Word boundaries (UAX #29) as code point indices, the end of the text included."""
    return _boundaries(icu.BreakIterator.createWordInstance(icu.Locale.getRoot()), text)
