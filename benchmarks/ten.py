"""The ten kinds of sheet that a typesetter is asked for, as pages to be looked at: pictures of them at 300 per cent.

    PYTHONPATH=core:. .venv/bin/python -m benchmarks.ten FOLDER

What is still objectionable in them is listed in docs/sheets.md.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from benchmarks.browser import ROOT

sys.path[:0] = [str(ROOT / "core" / "tests")]

from nestline.copy.dummy import PROSE  # noqa: E402
from nestline.output.png import png_pages  # noqa: E402
from nestline.pictures.files import PictureFile  # noqa: E402
from nestline.studio import Studio  # noqa: E402

WIDTH, HEIGHT = 340.0, 240.0


def prose(language: str, first: int, count: int) -> str:
    return " ".join(
        f"{one}." if not one.endswith((".", "!", "?")) else one for one in PROSE[language][first : first + count]
    )


def sheet(
    name: str,
    paragraphs: list[dict[str, Any]],
    rules: dict[str, Any] | None = None,
    outline: str = "rectangle",
    language: str = "en",
    box: tuple[float, float, float, float] = (30, 26, 280, 196),
    others: list[dict[str, Any]] | None = None,
) -> dict[str, Any]:
    x, y, width, height = box
    thing = {"id": "f", "x": x, "y": y, "width": width, "height": height, "outline": {"kind": outline}}
    frame = {"copy": "story", "least_slot": 0, **(rules or {})}
    copies = {"story": {"versions": {language: {"language": language, "paragraphs": paragraphs}}}}
    page = {
        "width": WIDTH,
        "height": HEIGHT,
        "background": "paper",
        "objects": [{**thing, "frame": frame}, *(others or [])],
    }
    return {"format": "nest-line", "version": 1, "title": name, "language": language, "copies": copies, "pages": [page]}


def text(words: str, **rules: Any) -> dict[str, Any]:
    return {"font": "EB Garamond", "size": 10.5, "leading": 13, "runs": [{"text": words}], **rules}


def ten() -> list[dict[str, Any]]:
    picture = {
        "id": "w",
        "x": 30,
        "y": 30,
        "width": 280,
        "height": 120,
        "fill": {"color": "#b9cfc9"},
    }
    return [
        sheet(
            "headline",
            [
                text(
                    "How a box kite is made in an afternoon, and why it hums",
                    size=34,
                    leading=36,
                    breaking="by-sense",
                    hyphenate=False,
                )
            ],
        ),
        sheet("ragged", [text(prose("en", 0, 7), align="start")]),
        sheet(
            "centred in an outline",
            [text(prose("en", 3, 6), align="center")],
            {"padding": 10, "sit": "middle"},
            "ellipse",
        ),
        sheet(
            "narrow, justified",
            [text(prose("en", 0, 9), align="justify", hyphenate=True, size=9, leading=11.5)],
            {"columns": 3, "gutter": 12},
        ),
        sheet(
            "German compounds",
            [text(prose("de", 0, 8), align="justify", hyphenate=True, size=9.5, leading=12)],
            {"columns": 2, "gutter": 14},
            language="de",
        ),
        sheet("drop cap", [text(prose("en", 0, 6), align="justify", hyphenate=True, drop_cap={"lines": 3})]),
        sheet(
            "caption",
            [text(f"Cane, brown paper and two bands of colour: {prose('en', 5, 9)}", size=8, leading=10)],
            box=(30, 156, 280, 60),
            others=[picture],
        ),
        sheet(
            "pull quote",
            [
                text(
                    "“The string is the heart of it; the rest is paper, paste and patience.”",
                    size=24,
                    leading=28,
                    slope="italic",
                    align="center",
                    breaking="balanced",
                    hyphenate=False,
                )
            ],
            {"sit": "middle"},
        ),
        sheet(
            "list",
            [
                text(words, list="numbers", indent=16, space_after=4)
                for words in (
                    "Four canes, split, of the length of your arm and a hand more",
                    "Two sheets of brown paper",
                    "Flour paste, still warm, in a pot that nobody needs before supper",
                    "A reel of waxed string; red is easy to find in grass",
                )
            ],
        ),
        sheet(
            "label",
            [text("2.50", size=44, leading=44, align="center", weight=700)],
            {"sit": "middle", "hang": "cap", "stand": "baseline"},
            "ellipse",
            box=(110, 60, 120, 120),
        ),
    ]


def no_pictures(file: str) -> PictureFile:
    raise FileNotFoundError(file)


def main() -> None:
    folder = Path(sys.argv[1])
    folder.mkdir(parents=True, exist_ok=True)
    studio = Studio(no_pictures)
    for number, raw in enumerate(ten(), 1):
        document = studio.read(raw)
        name = f"{number:02}-{raw['title'].replace(' ', '-').replace(',', '')}"
        (folder / f"{name}.json").write_text(json.dumps(raw, ensure_ascii=False, indent=1))
        (folder / f"{name}.png").write_bytes(png_pages(studio.pdf(document), 216)[0])
        for placed in studio.nest(document):
            print(
                name, f"{placed.nest.lines} lines, {placed.nest.leftover_words} over, loosest {placed.nest.loosest:.2f}"
            )


if __name__ == "__main__":
    main()
