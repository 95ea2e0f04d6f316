"""What a document can be had as: files for print, for screens, and of the open format."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from django.utils.text import slugify

from assets.models import Picture
from documents import exchange
from documents.models import Document
from documents.store import SMALL, raw_of, state_of
from nestline.document.model import PageSheet
from nestline.errors import NestLineError
from nestline.output.pdf import write_pdf
from nestline.output.png import page_picture

Kind = Literal["pdf", "png", "webp", "svg", "json", "zip"]
Letters = Literal["outlines", "text"]
MEDIA = {
    "pdf": "application/pdf",
    "svg": "image/svg+xml",
    "png": "image/png",
    "webp": "image/webp",
    "json": "application/json",
    "zip": "application/zip",
}
MOST_PIXELS = 16_000
"""The longest side of an exported picture, in pixels (WebP holds 16,383)."""
LARGE_PIXELS = 40e6
LARGE_BYTES = 30e6
"""A picture with more pixels than that, an archive of pictures with more bytes: a job (documents.jobs)."""


def takes_long(row: Document, kind: Kind, page: int = 1, dpi: float = 150) -> bool:
    """Whether an export is worked out apart. Raises NestLineError where the picture would be too large."""
    if kind == "json":
        return False
    if kind == "zip":
        files = exchange.files_of(raw_of(row))
        return (
            sum(Picture.objects.filter(owner_id=row.owner_id, file__in=files).values_list("size", flat=True))
            > LARGE_BYTES
        )
    if row.pages.count() > SMALL:
        return True
    if kind in ("png", "webp"):
        sheets = [PageSheet.model_validate(p.sheet) for p in row.pages.all()]
        if 1 <= page <= len(sheets):
            _check_pixels(sheets[page - 1], dpi)
            width, height = sheets[page - 1].size
            return width * height * (dpi / 72) ** 2 > LARGE_PIXELS
    return False


def exported(
    row: Document,
    kind: Kind,
    page: int = 1,
    dpi: float = 150,
    letters: Letters = "outlines",
    tell: Callable[[float], None] = lambda share: None,
) -> tuple[str, bytes, str]:
    """A file's name, its content and its media type. Raises NestLineError."""
    name = slugify(row.title) or "document"
    if kind == "json":
        return f"{name}.json", exchange.as_json(raw_of(row)), MEDIA[kind]
    if kind == "zip":
        return f"{name}.zip", exchange.as_archive(row.owner_id, raw_of(row), tell), MEDIA[kind]
    sheets = [PageSheet.model_validate(p.sheet) for p in row.pages.all()]
    if kind != "pdf":
        if not 1 <= page <= len(sheets):
            raise NestLineError(f"there is no page {page}")
        if kind != "svg":
            _check_pixels(sheets[page - 1], dpi)
        if len(sheets) > 1:
            name = f"{name}-{page}"
    tell(0.02)
    state = state_of(row)
    document = state.scene.document
    tell(0.5)
    with state.lock:
        if kind == "svg":
            content = state.studio.svg(state.studio.read(state.raw), page - 1, letters)
        else:
            content = write_pdf(
                document,
                state.scene.nests,
                state.studio.pictures,
                state.studio.contours,
                lambda share: tell(0.5 + 0.4 * share),
            )
    if kind in ("png", "webp"):
        content = page_picture(content, page - 1, dpi, "PNG" if kind == "png" else "WEBP")
    return f"{name}.{kind}", content, MEDIA[kind]


def _check_pixels(sheet: PageSheet, dpi: float) -> None:
    longer = max(sheet.size) + 2 * sheet.bleed.pt
    if not 10 <= dpi <= 2400:
        raise NestLineError(f"{dpi:g} dots an inch will not do; write a figure from 10 to 2400")
    if longer * dpi / 72 > MOST_PIXELS:
        raise NestLineError(f"that would be more than {MOST_PIXELS} pixels long; choose fewer dots an inch")
