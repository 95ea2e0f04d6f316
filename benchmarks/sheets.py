"""Varied sheets of justified copy, by a seed: three languages and fonts, columns of 25 to 75 letters, outlines, and
copy beside pictures. Those of even numbers are for tuning weights, the others are looked at when the weights stand.

    PYTHONPATH=core:. .venv/bin/python -m benchmarks.sheets [COUNT] [--half tuning|fresh]
"""

from __future__ import annotations

import argparse
import random
import sys
from collections.abc import Iterator
from copy import deepcopy
from dataclasses import dataclass
from typing import Any

from benchmarks.browser import ROOT

sys.path[:0] = [str(ROOT / "core" / "tests")]

from nestline.copy.dummy import dummy_paragraphs  # noqa: E402
from nestline.nesting.quality import Faults, faults_of  # noqa: E402

FONTS = ("EB Garamond", "Source Sans 3", "Vollkorn")
LANGUAGES = ("en", "de", "fr")
CLASSES = ("column", "outline", "picture")
KINDS = ("ellipse", "heart", "leaf", "arch", "bubble", "drop", "kite")
LETTER = 0.42
"""The width of a letter, roughly, in ems."""


@dataclass(frozen=True)
class Sheet:
    kind: str
    letters: int
    raw: dict[str, Any]


def sheets(count: int, half: str = "all") -> Iterator[Sheet]:
    """Sheets of the open format; `half` is all, tuning or fresh."""
    for number in range(count):
        if half == "all" or (number % 2 == 0) == (half == "tuning"):
            yield sheet(number)


def words_of(dice: random.Random, language: str, count: int) -> str:
    words = " ".join(dummy_paragraphs(language, 700)).split()
    start = dice.randrange(len(words) - count)
    return " ".join(words[start : start + count])


def sheet(number: int) -> Sheet:
    from support import document, frame, obstacle, paragraph

    dice = random.Random(f"sheet {number}")
    kind, language, size = CLASSES[number // 2 % 3], dice.choice(LANGUAGES), dice.choice((9.0, 11.0, 13.0))
    letters = dice.randint(25, 75)
    width = letters * LETTER * size
    rules = {
        "align": "justify",
        "breaking": "optimal",
        "hyphenate": True,
        "size": size,
        "leading": "1.3em",
        "font": dice.choice(FONTS),
    }
    paragraphs = [
        paragraph(words_of(dice, language, dice.randint(40, 110)), **rules) for _ in range(dice.randint(1, 3))
    ]
    box: dict[str, Any] = {"width": width, "height": 3000}
    objects: list[dict[str, Any]] = []
    outline = "rectangle"
    if kind == "outline":
        outline, width = dice.choice(KINDS), max(width, 45 * LETTER * size)
        box = {"width": width * 1.3, "height": width * 1.3 * dice.uniform(0.9, 1.5)}
    elif kind == "picture":
        box["width"] = width = max(width, 45 * LETTER * size)
        for place in range(dice.randint(1, 2)):
            across = width * dice.uniform(0.25, 0.5)
            x = 100 + (width - across) * dice.choice((0.0, 0.5, 1.0, dice.random()))
            y = 100 + 40 + 260 * place
            shape = dice.choice(("ellipse", "rectangle", "star", "leaf"))
            objects.append(
                obstacle(f"w{place}", x, y, across, across * dice.uniform(0.7, 1.4), shape, clearance=size * 0.7)
            )
    raw = document(
        [frame(outline, padding=0 if kind != "outline" else size / 2, **box), *objects],
        *paragraphs,
        height=4000,
        language=language,
    )
    versions = raw["copies"]["story"]["versions"]
    raw["copies"]["story"]["versions"] = {language: {**versions["en"], "language": language}}
    return Sheet(kind, letters, raw)


WORD_SPACES = {"letter_space": 0, "letter_width": 0}
"""Justified by word spaces alone: as a browser does it, and first fit here."""


def by_breaking(sheet: Sheet, breaking: str) -> dict[str, Any]:
    """A sheet with its copy broken so; first fit by word spaces alone."""
    raw = deepcopy(sheet.raw)  # what was read once is not changed
    for version in raw["copies"]["story"]["versions"].values():
        more = {"stretch": WORD_SPACES} if breaking == "first-fit" else {}
        version["paragraphs"] = [{**p, "breaking": breaking, **more} for p in version["paragraphs"]]
    return raw


def set_by(sheet: Sheet, breaking: str) -> Faults:
    from support import nest_of

    return faults_of(nest_of(by_breaking(sheet, breaking)).nest)


def sums(found: list[Faults]) -> dict[str, float]:
    counted = ("lines", "paragraphs", "unfilled", "across", "ladders", "alone", "hyphens")
    out: dict[str, float] = {name: sum(getattr(f, name) for f in found) for name in counted}
    out["stretch"] = sum(f.stretch for f in found) / max(len(found), 1)
    out["worst"] = sum(f.worst for f in found) / max(len(found), 1)
    return out


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("count", nargs="?", type=int, default=200)
    parser.add_argument("--half", choices=("all", "tuning", "fresh"), default="all")
    given = parser.parse_args()
    rows: dict[str, list[tuple[Faults, Faults]]] = {kind: [] for kind in CLASSES}
    for one in sheets(given.count, given.half):
        rows[one.kind].append((set_by(one, "optimal"), set_by(one, "first-fit")))
    for kind, found in rows.items():
        for name, place in (("optimal", 0), ("first fit", 1)):
            print(f"{kind:8} {name:9}", {k: round(v, 2) for k, v in sums([pair[place] for pair in found]).items()})


if __name__ == "__main__":
    main()
