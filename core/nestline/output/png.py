"""PNG pictures of pages, drawn from their PDF, so that there is one renderer."""

from __future__ import annotations

import io

import pypdfium2


def png_pages(pdf: bytes, dpi: float = 150) -> list[bytes]:
    """Each page of a PDF (its whole media box) as a PNG file at `dpi` dots per inch."""
    out = []
    document = pypdfium2.PdfDocument(pdf)
    try:
        for page in document:
            image = page.render(scale=dpi / 72).to_pil()
            buffer = io.BytesIO()
            image.save(buffer, "PNG", dpi=(dpi, dpi))
            out.append(buffer.getvalue())
    finally:
        document.close()
    return out
