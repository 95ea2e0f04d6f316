"""Everything a process keeps to answer for documents: the reader, the fonts, the nester, the contours.

One `Studio` serves the command `./nest set`; the server keeps one a document. The source of pictures is given to it.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from nestline.document.reading import Document, Reader
from nestline.errors import DocumentError, NestLineError, json_path
from nestline.fonts.baked import features_of
from nestline.fonts.library import Face, FontLibrary, shipped_fonts
from nestline.fonts.own import BadFont
from nestline.nesting.page import Nester, Nests
from nestline.output.pdf import write_pdf
from nestline.output.svg import Letters, write_svg
from nestline.pictures.files import PictureFile
from nestline.pictures.placed import Contours, Kept, PictureSource


class Studio:
    """Reads, nests and writes documents whose pictures come from `pictures`."""

    def __init__(self, pictures: PictureSource, fonts: FontLibrary | None = None, kept: Kept | None = None) -> None:
        self.fonts = fonts or shipped_fonts()
        self.pictures = pictures
        self.reader = Reader()
        self.nester = Nester(self.fonts)
        self.contours = Contours(pictures, kept)

    @property
    def size(self) -> float:
        """What it remembers, in bytes, about."""
        return self.nester.size

    def read(self, raw: Any) -> Document:
        """A document, checked. Raises DocumentError."""
        return self.reader.read(raw)

    def check_pictures(self, document: Document) -> None:
        """Raise DocumentError where a picture is missing or cannot be read."""
        for page in document.pages:
            for thing, path in zip(page.objects, page.paths, strict=True):
                files = [(thing.picture.file, ("picture", "file"))] if thing.picture else []
                if thing.contour and thing.contour.mask:
                    files.append((thing.contour.mask, ("contour", "mask")))
                for file, field in files:
                    try:
                        self.pictures(file)
                    except NestLineError as error:
                        raise DocumentError(json_path((*path, *field)), str(error)) from None

    def nest(self, document: Document, version: str | None = None, pages: list[int] | None = None) -> Nests:
        """Every frame's nest. Raises DocumentError."""
        return self.nester.nest(document, self.contours, version, pages)

    def nest_seen(self, document: Document, older: Document, before: Nests, seen: Iterable[int]) -> Nests | None:
        """See `Nester.nest_seen`."""
        return self.nester.nest_seen(document, self.contours, older, before, seen)

    def pdf(self, document: Document, version: str | None = None) -> bytes:
        return write_pdf(document, self.nest(document, version), self.pictures, self.contours)

    def svg(self, document: Document, page: int, letters: Letters = "outlines", version: str | None = None) -> bytes:
        """A page as SVG, its letters as outlines or as text with their fonts."""
        return write_svg(document, self.nest(document, version), self.pictures, page, letters, self.contours)


def try_font(face: Face) -> None:
    """Sets some words in a face and writes them as PDF and SVG. Raises BadFont when a table that this needs is broken: a
    font is tried before it is kept, not when a document is delivered."""

    def no_pictures(file: str) -> PictureFile:
        raise NestLineError(f"there is no picture “{file}”")

    letters = "".join(map(chr, sorted(face.open().getBestCmap())[:40]))
    run = {"text": "Hamburgefonstiv 0123 " + "".join(c for c in letters if c.isprintable()), "font": face.family}
    copies = {"c": {"versions": {"en": {"language": "en", "paragraphs": [{"runs": [run]}]}}}}
    thing = {"id": "f", "x": 0, "y": 0, "width": 300, "height": 200, "frame": {"copy": "c", "hang": "ink"}}
    pages = [{"width": 300, "height": 200, "objects": [thing]}]
    try:
        studio = Studio(no_pictures, FontLibrary([*shipped_fonts().faces.values(), face]))
        document = studio.read({"format": "nest-line", "version": 1, "copies": copies, "pages": pages})
        studio.pdf(document)
        studio.svg(document, 0, "text")
        studio.svg(document, 0, "outlines")
        features_of(face)
    except Exception as error:  # the font libraries raise many kinds for broken tables
        raise BadFont(
            f"the font “{face.family}” has broken tables and cannot be used ({type(error).__name__})"
        ) from None
