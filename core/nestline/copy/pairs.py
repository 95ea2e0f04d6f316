"""What belongs together: places where a line may end, but had better not, by language.

Month names come from CLDR through ICU; units, titles and abbreviations are lists (common practice in each language). A
no-break space in the copy needs none of this: it holds always.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import lru_cache

import icu

from nestline import rows as k
from nestline.copy.compounds import joints

UNITS = (
    "km/h km mm cm m kg mg g ml l h min s °C °F % ‰ € £ $ pt px em in ft lb oz mph kWh kW W V A GB MB kB kHz "
    "MHz Hz dpi am pm a.m. p.m. "
    "Uhr Std. Min. Sek. Mio. Mrd. EUR USD GBP CHF o'clock o’clock"
).split()
TITLES = {
    "en": "Mr Mrs Ms Dr Prof St Sir Lady Rev Capt No Nos Fig p pp vol ch c ca Mt".split(),
    "de": "Hr Fr Herr Frau Dr Prof St Nr Abb S Bd Kap Art Abs ca Str".split(),
    "fr": "M MM Mme Mlle Dr Pr St Ste n° nos fig p pp vol chap art av".split(),
}
REFERENCES = {
    "en": "page pages chapter chapters section part volume figure table plate note line item number room gate hall "
    "platform track route".split(),
    "de": "Seite Seiten Kapitel Abschnitt Teil Band Heft Abbildung Tabelle Tafel Zeile Punkt Nummer Raum Zimmer "
    "Tor Halle Gleis Linie".split(),
    "fr": "page pages chapitre chapitres section partie volume tome figure tableau planche note ligne numéro salle "
    "porte voie quai".split(),
}
"""What a figure behind it counts."""
ROMAN = r"(?:[IVX]{2,6}|[VX])(?![^\W_])"
"""Of a ruler's name; one alone may be a pronoun."""
SHORT_WORDS = {
    "en": "a an the of to in on at by as is it or and but if so my we he I no for".split(),
    "de": "ein der die das den dem des und zu in im an am um so es er ich von mit auf bei".split(),
    "fr": "le la les un une de du des et à au aux en ou y il elle ne se ce que qui par".split(),
}
"""Words that lead on to the next: at a line's end they make a reader wait (common practice)."""
FRENCH = r"\s(?=[;:!?»])|«\s"
SPACES = "[ \u2009\u2002]"


@lru_cache(maxsize=64)
def _patterns(language: str) -> tuple[tuple[re.Pattern[str], int], ...]:
    symbols = icu.DateFormatSymbols(icu.Locale(language))
    named = {*symbols.getMonths(), *symbols.getShortMonths()} - {""}
    months = "|".join(re.escape(name) for name in sorted(named, key=len, reverse=True))
    units = "|".join(re.escape(unit) for unit in sorted(UNITS, key=len, reverse=True))
    base = language.split("-")[0].lower()
    titles = "|".join(re.escape(title) for title in TITLES.get(base, TITLES["en"]))
    references = "|".join(f"[{word[0].upper()}{word[0]}]{word[1:]}" for word in REFERENCES.get(base, REFERENCES["en"]))
    held = [
        rf"(?<=\d){SPACES}(?=\d{{3}}(?!\d))",  # 10 000
        rf"(?<=\d){SPACES}?[–-]{SPACES}?(?=\d)",  # 10–12, 10 – 12
        rf"(?<=\d){SPACES}(?=[–-]{SPACES}?\d)",
        rf"\b[A-ZÄÖÜÉ]\.{SPACES}?(?=[A-ZÄÖÜÉ]\.)",  # J. K.
        rf"\b[a-zA-ZäöüÄÖÜ]\.{SPACES}?(?=[a-zA-ZäöüÄÖÜ]{{1,2}}\.)",  # z. B.
        *([FRENCH] if base == "fr" else []),
    ]
    kept = [
        rf"(?<=\d){SPACES}(?=(?:{units})(?![^\W\d_]))",  # 47 km
        rf"[£$€]{SPACES}(?=\d)",
        rf"(?<=\d)(?:\.|st|nd|rd|th|er)?{SPACES}(?=(?:{months})(?![^\W\d_]))",  # 12 May
        rf"\b(?:{months}){SPACES}(?=\d{{1,4}}\b)",  # May 12
        rf"(?<![\w.])(?:{titles})\.?{SPACES}(?=[A-ZÄÖÜÉ\d])",  # St. Margaret's, p. 31
        rf"\b[A-ZÄÖÜÉ]\.{SPACES}(?=[A-ZÄÖÜÉ])",  # A. Marlow
        rf"\b(?:{references}){SPACES}(?=\d|{ROMAN})",  # page 31, Part II
        rf"\b[A-ZÄÖÜÉ][^\W\d_]+{SPACES}(?={ROMAN})",  # Henry VIII
        rf"{SPACES}(?=[–—]{SPACES})",  # no line begins with a dash
        r"(?<=[^\s\d–—])(?=[–—]\S)",
    ]
    return tuple((re.compile(p), grade) for patterns, grade in ((held, k.HELD), (kept, k.KEPT)) for p in patterns)


@lru_cache(maxsize=4000)
def parted(text: str, language: str) -> dict[int, int]:
    """The places in a text (the index of the letter that would begin a line) where what belongs together would be
    parted, and how much it does: rows.KEPT or rows.HELD."""
    found: dict[int, int] = {}
    if not any(c.isdigit() or c in ".–—-«»!?:;IVX" for c in text):
        return found
    for place, grade in _places(text, language):
        found[place] = max(grade, found.get(place, k.NO_GRADE))
    return found


@lru_cache(maxsize=64)
def _short_words(language: str) -> re.Pattern[str] | None:
    words = SHORT_WORDS.get(language.split("-")[0].lower())
    return re.compile(rf"(?<![\w'’-])(?:{'|'.join(words)}){SPACES}+(?=\S)", re.IGNORECASE) if words else None


@lru_cache(maxsize=4000)
def weak_ends(text: str, language: str) -> frozenset[int]:
    """The places in a text where a line would end in a short word that leads on to the next."""
    pattern = _short_words(language)
    return frozenset(match.end() for match in pattern.finditer(text)) if pattern else frozenset()


@lru_cache(maxsize=4000)
def chosen_pairs(text: str, together: tuple[str, ...]) -> frozenset[int]:
    """The places in a text where words would be parted that are to stay together, as they are written or with other
    capitals."""
    found: set[int] = set()
    for words in together:
        inner = r"[ \u2009\u2002]+".join(re.escape(word) for word in words.split())
        for match in re.finditer(rf"(?<!\w){inner}(?!\w)", text, re.IGNORECASE):
            found |= {match.start() + m.end() for m in re.finditer(r"[ \u2009\u2002]+", match.group())}
    return frozenset(found)


@lru_cache(maxsize=4000)
def sense_breaks(text: str, language: str) -> dict[int, int]:
    """Where a heading is broken by sense: behind a mark (0), or before a short word that leads on (1), with its
    place."""
    found = {m.end(): 1 for m in re.finditer(rf"{SPACES}+(?=\S)", text) if _leads_on(text[m.end() :], language)}
    found |= {m.end(): 0 for m in re.finditer(rf"[,;:.!?…–—”’»]{SPACES}+(?=\S)", text)}
    weak = weak_ends(text, language)
    return {place: grade for place, grade in found.items() if place not in weak}


def _leads_on(rest: str, language: str) -> bool:
    pattern = _short_words(language)
    return pattern is not None and pattern.match(rest) is not None


def _places(text: str, language: str) -> Iterator[tuple[int, int]]:
    for pattern, grade in _patterns(language):
        for match in pattern.finditer(text):
            yield match.end(), grade


WORD_TO_HYPHENATE, LEAST_PART = 7, 3
"""Words of fewer letters, and parts of words, that are better left whole (common practice)."""


def reads_poorly(text: str, place: int, language: str) -> bool:
    """Whether a hyphen before a letter leaves two letters of its word on a side, or parts a short word or a name; in
    German, where all nouns have capitals, or a compound elsewhere than at its joints."""
    begin, end = place, place
    while begin > 0 and text[begin - 1].isalpha():
        begin -= 1
    while end < len(text) and text[end].isalpha():
        end += 1
    if min(place - begin, end - place) < LEAST_PART or end - begin < WORD_TO_HYPHENATE:
        return True
    if language.lower().startswith("de"):
        joined = joints(text[begin:end])
        return bool(joined) and place - begin not in joined
    return text[begin].isupper() and not _begins_sentence(text, begin)


def _begins_sentence(text: str, place: int) -> bool:
    before = text[:place].rstrip(" \u00a0\"'“”‘’„‚«»‹›([—–")
    return not before or before[-1] in ".!?:…"
