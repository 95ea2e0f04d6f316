"""How often lines tear what belongs together: varied paragraphs with figures, dates, names and references in them.

Where something belongs together is written in the copy itself, by a mark that is taken out before it is set: `|` for
what had better not be parted, `¦` inside figures, ranges, initials and what French sets apart, which never is (common
practice; not the engine's own lists). Chromium sets the same words in the same font with the same hyphens.

    PYTHONPATH=core:core/tests:. .venv/bin/python -m benchmarks.torn
"""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from benchmarks.sheets import FONTS, LANGUAGES, LETTER, WORD_SPACES, words_of
from nestline.copy.hyphenation import Hyphenation, hyphen_places

PAIRS = {
    "en": (
        "47 |km; 9.30 |p.m.; St. |Margaret’s; 12 |May; May |12; 10 ¦000; 1250 ¦000; 12 ¦– ¦14; 1914–¦18; J. "
        "¦K. |Marlow; A. |Marlow; "
        "Dr |Ashdown; Mrs |Byrne; p. |31; No. |4; Fig. |3; 20 |°C; 35 |mm; 5 |%; 7 |o’clock; chapter |4; "
        "page |31; Henry |VIII; 3 |kg; "
        "vol. |2; 8 |am; platform |2"
    ),
    "de": (
        "47 |km; 9.30 |Uhr; St. |Margarethen; 12. |Mai; 10 ¦000; 12 ¦– ¦14; 1914–¦18; J. ¦K. |Marlow; A. "
        "|Marlow; Dr. |Aschbach; "
        "Frau |Bernau; S. |31; Nr. |4; Abb. |3; 20 |°C; 35 |mm; 5 |%; z. ¦B.; d. ¦h.; u. ¦a.; Kapitel |4; "
        "Seite |31; Heinrich |VIII.; 3 |kg; "
        "Bd. |2; Gleis |2; 3 |Mio."
    ),
    "fr": (
        "47 |km; 12 |mai; 10 ¦000; 12 ¦– ¦14; 1914–¦18; J. ¦K. |Marlow; A. |Marlow; Mme |Aubin; M. |Bernard; "
        "Dr |Colin; p. |31; n° |4; "
        "fig. |3; 20 |°C; 35 |mm; 5 |%; chapitre |4; page |31; Henri |IV; 3 |kg; vol. |2; voie |2; vraiment "
        "¦!; vite ¦:; « ¦ici ¦»; jamais ¦?"
    ),
}


@dataclass(frozen=True)
class Marked:
    """A paragraph, and which of its letters belong to those before them: inside a figure, or else."""

    text: str
    inside: frozenset[int]
    other: frozenset[int]
    language: str
    rules: dict[str, Any]
    width: float


def marked(count: int) -> Iterator[Marked]:
    """Paragraphs by a seed; one word in nine or so is followed by something that belongs together."""
    for number in range(count):
        dice = random.Random(f"torn {number}")
        language, size = dice.choice(LANGUAGES), dice.choice((9.0, 11.0, 13.0))
        words: list[str] = []
        for word in words_of(dice, language, dice.randint(50, 110)).split():
            words.append(word)
            if dice.random() < 0.11 and not word.endswith((".", "!", "?", ":", ";")):
                words.append(dice.choice(PAIRS[language].split("; ")))
        text, inside, other = "", set(), set()
        for letter in " ".join(words):
            if letter == "¦":
                inside.add(len(text))
            elif letter == "|":
                other.add(len(text))
            else:
                text += letter
        rules = {
            "align": dice.choice(("justify", "justify", "start")),
            "hyphenate": True,
            "size": size,
            "leading": "1.3em",
            "font": dice.choice(FONTS),
        }
        yield Marked(text, frozenset(inside), frozenset(other), language, rules, dice.randint(28, 75) * LETTER * size)


def starts_of(one: Marked, breaking: str) -> list[int]:
    """Where lines begin that the engine sets."""
    from support import document, frame, nest_of, paragraph

    more = {"stretch": WORD_SPACES} if breaking == "first-fit" and one.rules["align"] == "justify" else {}
    raw = document([frame(width=one.width, height=3000)], paragraph(one.text, **one.rules, breaking=breaking, **more))
    story = raw["copies"]["story"]
    story["versions"] = {one.language: {**story["versions"]["en"], "language": one.language}}
    return [int(begin) for begin, _ in nest_of(raw).nest.ranges]


def chromium_starts(page: Any, one: Marked, css: str = "") -> list[int]:
    """Where lines begin that Chromium sets."""
    from chromium import lines_in_chromium
    from support import studio

    face, px = studio().fonts.face(one.rules["font"]), 0.75
    places = set(hyphen_places(one.text, one.language, Hyphenation()))
    soft = "".join(("\u00ad" if i in places else "") + c for i, c in enumerate(one.text))
    align = "justify" if one.rules["align"] == "justify" else "left"
    html = (
        f"<div id=frame><p class=copy lang={one.language} "
        f"style='width:{one.width / px}px;font-size:{one.rules['size'] / px}px;"
        f"{css}text-align:{align};hyphens:manual'>{soft}</p></div>"
    )
    return [int(a) - soft[: int(a)].count("\u00ad") for a, *_ in lines_in_chromium(page, face.path, "", html)[0]]


def torn(count: int = 240) -> list[str]:
    """Rows of the table: how many there are, and how many are torn."""
    from chromium import chromium_page

    found: dict[str, Counter[str]] = {}
    with chromium_page() as page:
        for one in marked(count):
            ways = {
                "optimal": starts_of(one, "optimal"),
                "first fit": starts_of(one, "first-fit"),
                "Chromium": chromium_starts(page, one),
                "Chromium, pretty": chromium_starts(page, one, "text-wrap:pretty;"),
            }
            for way, starts in ways.items():
                found.setdefault(way, Counter()).update(
                    {
                        "inside": len(one.inside),
                        "inside torn": len(one.inside.intersection(starts)),
                        "other": len(one.other),
                        "other torn": len(one.other.intersection(starts)),
                    }
                )
    return [
        f"| {way} | {of['inside torn']} of {of['inside']} | {of['other torn']} of {of['other']} "
        f"({of['other torn'] / of['other']:.1%}) |"
        for way, of in found.items()
    ]


if __name__ == "__main__":
    print("\n".join(torn()))
