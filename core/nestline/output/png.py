"""PNG and WebP pictures of pages, drawn from their PDF, so that there is one renderer."""

from __future__ import annotations

import io
from threading import Lock
from types import TracebackType
from typing import Literal

import pypdfium2
from PIL import Image

_alone = Lock()
"""Held for each call of PDFium, of whatever file: it must not be in two threads of a process at once."""


class Pages:
    """The pages of a PDF as pictures, painted while it is open (with `with`); any thread may, each waits for
    its turn."""

    def __init__(self, pdf: bytes) -> None:
        with _alone:
            self._document = pypdfium2.PdfDocument(pdf)

    def __enter__(self) -> Pages:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        with _alone:
            self._document.close()

    def __len__(self) -> int:
        with _alone:
            return len(self._document)

    def painted(self, page: int, dpi: float) -> Image.Image:
        """A page (its whole media box) at `dpi` dots per inch."""
        with _alone:
            opened = self._document[page]
            bitmap = opened.render(scale=dpi / 72)
            try:
                image: Image.Image = bitmap.to_pil()
                return image.copy()  # the other has the bitmap's own bytes
            finally:
                bitmap.close()
                opened.close()


def png_pages(pdf: bytes, dpi: float = 150) -> list[bytes]:
    """Each page of a PDF as a PNG file at `dpi` dots per inch."""
    with Pages(pdf) as pages:
        return [_file(pages.painted(page, dpi), dpi, "PNG") for page in range(len(pages))]


def page_picture(pdf: bytes, page: int, dpi: float, kind: Literal["PNG", "WEBP"]) -> bytes:
    """One page of a PDF as a picture at `dpi` dots per inch."""
    with Pages(pdf) as pages:
        return _file(pages.painted(page, dpi), dpi, kind)


def _file(image: Image.Image, dpi: float, kind: str) -> bytes:
    buffer = io.BytesIO()
    image.save(buffer, kind, **({"dpi": (dpi, dpi)} if kind == "PNG" else {"quality": 90}))
    return buffer.getvalue()
