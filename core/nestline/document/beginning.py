"""A new document: its first page, the colours and the style that it begins with, and copy dropped in at once."""

from __future__ import annotations

from typing import Any

from nestline.document.lengths import Length

COPY = "Copy 1"
LEAST_MARGIN = 4.0
"""Points between copy that is dropped in and the page's edge, at least."""
MARGIN_SHARE = 0.08
"""The same as a share of the page's smaller side."""


BLEED = {"mm": "3mm", "cm": "3mm", "in": "0.125in", "pt": "9pt", "pc": "9pt"}
"""What is printed is begun with, by the unit of its sheet (common practice); a screen has none."""


def begun(
    title: str, width: str, height: str, bleed: str | None, unit: str, *, facing: bool = False, words: str = ""
) -> dict[str, Any]:
    """An empty document of one page, as JSON of the open format; lengths as they are written ("210mm"), and the bleed
    that is usual where none is given. Words, a paragraph a line, stand in a frame within the page. Raises LengthError.
    """
    bleed = BLEED.get(unit, "0px") if bleed is None else bleed
    page: dict[str, Any] = {"width": width, "height": height, "bleed": bleed, "objects": []}
    raw: dict[str, Any] = {
        "format": "nest-line",
        "version": 1,
        "title": title or "Untitled",
        "language": "en",
        "unit": unit,
        "colors": {"ink": "#1d2b27", "paper": "#ffffff", "straw": "#f6e3b4", "kite red": "#d8523a", "lake": "#2f6f8f"},
        "styles": {"Body": {"font": "EB Garamond", "size": 11, "leading": "1.25em"}},
        "copies": {},
        "pages": [page],
    }
    if facing:
        raw["facing"] = True
    paragraphs = [line.strip() for line in words.splitlines() if line.strip()]
    if paragraphs:
        wide, high = (Length.read(side).points() for side in (width, height))
        room = max(LEAST_MARGIN, MARGIN_SHARE * min(wide, high))
        page["objects"].append(
            {
                "id": "copy",
                "name": "Copy",
                "x": room,
                "y": room,
                "width": wide - 2 * room,
                "height": high - 2 * room,
                "outline": {"kind": "rectangle"},
                "frame": {"copy": COPY},
            }
        )
        runs = [{"style": "Body", "runs": [{"text": text}]} for text in paragraphs]
        raw["copies"][COPY] = {"versions": {"en": {"language": "en", "paragraphs": runs}}}
    return raw
