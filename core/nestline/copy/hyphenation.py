"""Where words may be hyphenated: Liang's patterns (pyphen's dictionaries) by language, within limits.

Frank Liang, "Word Hy-phen-a-tion by Com-put-er", Stanford 1983.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from functools import lru_cache

import pyphen

from nestline.copy.breaks import SOFT_HYPHEN

WORD = re.compile(r"[^\W\d_]+(?:[\u00ad\u2019'][^\W\d_]+)*")
# What stands in an address is not hyphenated.
ADDRESS = re.compile(r"\S*(?:://|@|\w\.\w|/\w)\S*")


@dataclass(frozen=True)
class Hyphenation:
    """Limits: least letters before and after the hyphen (None: by language), least letters of a word, hyphens in a row,
    and capitals."""

    before: int = 2
    after: int | None = None
    least: int = 5
    ladder: int = 2
    capitals: bool = False


LEAST_AFTER = 3
SHORT_ENDS = frozenset(("de", "nl", "it", "es", "sv", "da", "pl", "fi", "ru", "hu"))
"""Languages whose words may end in two letters on the next line ("zähl-te"), by the limits that their patterns were
made for (from memory). That it is done as a last thing is a matter of what breaks cost (`pairs`)."""


def least_after(language: str, limits: Hyphenation) -> int:
    """How many letters a word must have after the hyphen."""
    if limits.after is not None:
        return limits.after
    return 2 if language.split("-")[0] in SHORT_ENDS else LEAST_AFTER


PLAIN = {"en": "en-US"}
"""Whose patterns a tag without region has: American ones part where a word is spoken ("print-ed"), British ones by its
origin."""


@lru_cache(maxsize=64)
def _patterns(language: str, before: int, after: int) -> pyphen.Pyphen | None:
    found = pyphen.language_fallback(PLAIN.get(language, language).replace("-", "_"))
    return pyphen.Pyphen(lang=found, left=before, right=after) if found else None


def has_patterns(language: str) -> bool:
    """Whether words of a language can be hyphenated."""
    return _patterns(language, 2, 3) is not None


@lru_cache(maxsize=50_000)
def hyphens(word: str, language: str, limits: Hyphenation) -> tuple[int, ...]:
    """Where a word (letters alone) may be hyphenated, as indices of the letter after the hyphen."""
    after = least_after(language, limits)
    patterns = _patterns(language, limits.before, after)
    if patterns is None or len(word) < limits.least or (word.isupper() and not limits.capitals):
        return ()
    return tuple(int(p) for p in patterns.positions(word) if limits.before <= p <= len(word) - after and _plain(p))


def _plain(position: object) -> bool:
    """Hyphenation that spells a word anew is left out: copy is never changed."""
    return getattr(position, "data", None) is None


def _limits_before(word: str, part: re.Match[str], language: str, limits: Hyphenation) -> Hyphenation:
    """What is elided goes on in the word behind its apostrophe: letters there count as letters after the hyphen
    ("jus-qu’au")."""
    behind = len(word) - part.end() - 1
    if behind < 2:
        return limits
    return replace(limits, after=max(2, least_after(language, limits) - behind))


def hyphen_places(text: str, language: str, limits: Hyphenation | None) -> list[int]:
    """Indices in `text` before which a hyphen may be set, soft hyphens included; without limits only these.

    A word with soft hyphens is broken at them alone.
    """
    places = [i + 1 for i, c in enumerate(text) if c == SOFT_HYPHEN and i + 1 < len(text)]
    if limits is None:
        return places
    addresses = [m.span() for m in ADDRESS.finditer(text)]
    for match in WORD.finditer(text):
        word = match.group()
        if SOFT_HYPHEN in word or any(a <= match.start() < b for a, b in addresses):
            continue
        start = match.start()
        for part in re.finditer(r"[^\W\d_]+", word):
            places += [
                start + part.start() + p
                for p in hyphens(part.group(), language, _limits_before(word, part, language, limits))
            ]
    return sorted(places)
