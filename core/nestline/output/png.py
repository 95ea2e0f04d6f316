"""PNG and WebP pictures of pages, drawn from their PDF, so that there is one renderer."""

from __future__ import annotations

import io
from typing import Literal

import pypdfium2


def png_pages(pdf: bytes, dpi: float = 150) -> list[bytes]:
    """Each page of a PDF (its whole media box) as a PNG file at `dpi` dots per inch."""
    document = pypdfium2.PdfDocument(pdf)
    try:
        return [_drawn(page, dpi, "PNG") for page in document]
    finally:
        document.close()


def page_picture(pdf: bytes, page: int, dpi: float, kind: Literal["PNG", "WEBP"]) -> bytes:
    """One page of a PDF (its whole media box) as a picture at `dpi` dots per inch."""
    document = pypdfium2.PdfDocument(pdf)
    try:
        return _drawn(document[page], dpi, kind)
    finally:
        document.close()


def _drawn(page: pypdfium2.PdfPage, dpi: float, kind: str) -> bytes:
    image = page.render(scale=dpi / 72).to_pil()
    buffer = io.BytesIO()
    image.save(buffer, kind, **({"dpi": (dpi, dpi)} if kind == "PNG" else {"quality": 90}))
    return buffer.getvalue()
