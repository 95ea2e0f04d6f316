"""Everything a process keeps to answer for documents: the reader, the fonts, the nester, the contours.

One `Studio` serves the command `./nest set`; the server keeps one a document. The source of pictures is given to it.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterable
from typing import Any

from nestline.document.model import PageObject
from nestline.document.reading import Document, Reader
from nestline.errors import DocumentError, NestLineError, json_path
from nestline.fonts.baked import features_of
from nestline.fonts.library import Face, FontLibrary, shipped_fonts
from nestline.fonts.own import BadFont
from nestline.nesting.nester import Nester
from nestline.nesting.nests import Nests
from nestline.outlines import placing
from nestline.outlines.kinds import path_of
from nestline.outlines.path import PathError, from_svg
from nestline.output.svg import Letters, write_svg
from nestline.pictures.files import PictureFile
from nestline.pictures.placed import Contours, Kept, PictureSource
from nestline.remembering import remember

MOST_READ = 2
MOST_DRAWABLE = 20_000
LEAST_AREA = 1e-6
"""Of a frame, in square points."""


class Studio:
    """Reads, nests and writes documents whose pictures come from `pictures`."""

    def __init__(self, pictures: PictureSource, fonts: FontLibrary | None = None, kept: Kept | None = None) -> None:
        self.fonts = fonts or shipped_fonts()
        self.pictures = pictures
        self.reader = Reader()
        self.nester = Nester(self.fonts)
        self.contours = Contours(pictures, kept)
        self._read_last: OrderedDict[int, tuple[Any, Document]] = OrderedDict()
        """Documents as read last, by their raw form: each step of a drag begins with the same."""
        self._drawable: OrderedDict[int, PageObject] = OrderedDict()
        """Objects whose path data was found to be drawable."""

    @property
    def size(self) -> float:
        """What it remembers, in bytes, about."""
        return self.nester.size

    def slim(self) -> None:
        """Forget what its document does not need as it stands, nor did before; it is worked out again where it is asked
        for."""
        self.nester.slim()

    def read(self, raw: Any) -> Document:
        """A document, checked. Raises DocumentError. Its raw form is not to be changed afterwards."""
        if (known := self._read_last.get(id(raw))) is not None:
            self._read_last.move_to_end(id(raw))
            return known[1]
        document = self.reader.read(raw)
        for page in document.pages:
            for thing, path in zip(page.objects, page.paths, strict=True):
                self._check_path(thing, path)
        remember(self._read_last, id(raw), (raw, document), MOST_READ)
        return document

    def _check_path(self, thing: PageObject, path: tuple[str | int, ...]) -> None:
        """Raise DocumentError where an object's path data cannot be drawn."""
        if thing.outline.d is None or id(thing) in self._drawable:
            return
        try:
            path_of(thing.outline, thing.box[2], thing.box[3])
        except NestLineError as error:
            message = str(error).removeprefix("the outline's `d` ")
            raise DocumentError(json_path((*path, "outline", "d")), message) from None
        remember(self._drawable, id(thing), thing, MOST_DRAWABLE)

    def check_whole(self, document: Document) -> None:
        """Raise DocumentError for what a document that is brought in must not have, though one that is there may come
        to it: pictures that are missing, frames without area, a version to be shown that there is none of."""
        self.check_pictures(document)
        versions = sorted({name for versions in document.copies.values() for name in versions})
        showing = document.head.showing
        if showing is not None and versions and showing not in versions:
            raise DocumentError("$.showing", f"no copy has a version “{showing}”; versions are: {', '.join(versions)}")
        for page in document.pages:
            for thing, path in zip(page.objects, page.paths, strict=True):
                if thing.contour and thing.contour.d:
                    try:
                        from_svg(thing.contour.d)
                    except PathError as error:
                        raise DocumentError(json_path((*path, "contour", "d")), str(error)) from None
                if thing.frame is not None and placing.area(thing).area < LEAST_AREA:
                    raise DocumentError(json_path((*path, "outline")), "has no area that copy could stand in")

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
        from nestline.output.pdf import write_pdf  # its libraries take half a second to load

        return write_pdf(document, self.nest(document, version), self.pictures, self.contours)

    def svg(self, document: Document, page: int, letters: Letters = "outlines", version: str | None = None) -> bytes:
        """A page as SVG, its letters as outlines or as text with their fonts."""
        return write_svg(document, self.nest(document, version), self.pictures, page, letters, self.contours)


def try_font(face: Face) -> None:
    """Sets some words in a face and writes them as PDF and SVG. Raises BadFont when a table that this needs is broken:
    a font is tried before it is kept, not when a document is delivered."""

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
