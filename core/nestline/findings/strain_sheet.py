"""A page of small pictures: a document under one strain after the other, to show to a client."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont

import nestline.fonts
from nestline.document.edits import apply
from nestline.document.reading import Document
from nestline.errors import NestLineError
from nestline.findings.strain import Strain, strained
from nestline.output.pdf import write_pdf
from nestline.output.png import png_pages
from nestline.studio import Studio

MOST_PAGES = 8
LONGER = 620
"""The longer side of a page in it, in pixels."""
GAP, HEAD, TYPE_PX = 28, 44, 20
INK, SOFT, PAPER, EDGE, FAULT = "#1d3a33", "#4c5e56", "#ffffff", "#8c8168", "#b03a22"
FONT = Path(nestline.fonts.__file__).parent / "shipped" / "Lato-Regular.ttf"


def strain_sheet(
    studio: Studio,
    document: Document,
    strains: Sequence[Strain],
    version: str | None = None,
    tell: Callable[[float], None] = lambda share: None,
) -> bytes:
    """A PNG with a column for each strain and a row for each page; over each column its strain, and how many words are
    left over. Raises NestLineError where there are too many pages."""
    if len(document.pages) > MOST_PAGES:
        raise NestLineError(f"this document has {len(document.pages)} pages; pictures are made of {MOST_PAGES} at most")
    columns: list[tuple[str, str, list[Image.Image]]] = []
    for number, strain in enumerate(strains):
        after = studio.read(apply(document.raw, strained(document, strain, version)).document)
        nests = studio.nest(after, version)
        # What is over behind a mark was chosen to be.
        left = sum(placed.nest.leftover_words for placed in nests if placed.nest.mark is None)
        longest = max(max(page.sheet.size) + 2 * page.sheet.bleed.pt for page in after.pages)
        pdf = write_pdf(after, nests, studio.pictures, studio.contours)
        pages = [Image.open(io.BytesIO(one)).convert("RGB") for one in png_pages(pdf, 72 * LONGER / longest)]
        told = "all words stand" if not left else f"{left} {'word is' if left == 1 else 'words are'} left over"
        columns.append((strain.said, told, pages))
        tell((number + 1) / len(strains))
    return _composed(columns)


def _composed(columns: Sequence[tuple[str, str, list[Image.Image]]]) -> bytes:
    font, small = (ImageFont.truetype(str(FONT), size) for size in (TYPE_PX, TYPE_PX * 4 // 5))
    wide = [max(max(p.width for p in pages), 200) for _, _, pages in columns]
    rows = [max(pages[n].height for _, _, pages in columns) for n in range(len(columns[0][2]))]
    size = (GAP + sum(w + GAP for w in wide), GAP + HEAD + sum(h + GAP for h in rows))
    sheet = Image.new("RGB", size, PAPER)
    draw = ImageDraw.Draw(sheet)
    x = GAP
    for width, (said, told, pages) in zip(wide, columns, strict=True):
        draw.text((x, GAP - 8), said, INK, font)
        draw.text((x, GAP - 8 + TYPE_PX * 1.3), told, FAULT if "left" in told else SOFT, small)
        y = GAP + HEAD
        for page, height in zip(pages, rows, strict=True):
            sheet.paste(page, (x, y))
            draw.rectangle((x - 1, y - 1, x + page.width, y + page.height), outline=EDGE)
            y += height + GAP
        x += width + GAP
    out = io.BytesIO()
    sheet.save(out, "PNG", optimize=True)
    return out.getvalue()
