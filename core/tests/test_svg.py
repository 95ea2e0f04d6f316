"""SVG of the demo's pages, compared by pixels with the PDF: as outlines in resvg, as text with its fonts in
Chromium."""

from __future__ import annotations

import io
import re
import unittest
from xml.etree import ElementTree

import numpy as np
import resvg_py
from PIL import Image

from chromium import chromium_page
from demo.documents import DEMO
from demo.pictures import draw
from draws import cases, thrown
from nestline.document.reading import Document
from nestline.errors import NestLineError
from nestline.output.png import png_pages
from nestline.pictures.files import PictureFile, read_picture
from nestline.studio import Studio

DPI = 216
FINE = 2
"""The PDF's renderer sets each letter on a whole pixel: it draws this many times finer, and is made smaller."""
MOST_APART = 1.0
"""The greatest mean difference of grey values, of 255: outlines in resvg."""
TEXT_APART = 2.5
"""The same for letters that a browser hints and smooths."""


def grey(png: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(png)).convert("RGBA").convert("RGB").convert("L"), dtype=np.float64)


def smaller(png: bytes) -> np.ndarray:
    image = Image.open(io.BytesIO(png)).convert("RGBA").convert("RGB").convert("L")
    size = round(image.width / FINE), round(image.height / FINE)
    return np.asarray(image.resize(size, Image.Resampling.BOX), dtype=np.float64)


def apart(a: np.ndarray, b: np.ndarray) -> float:
    height, width = min(a.shape[0], b.shape[0]), min(a.shape[1], b.shape[1])
    return float(np.abs(a[:height, :width] - b[:height, :width]).mean())


class Alike(unittest.TestCase):
    studio: Studio
    documents: list[Document]

    @classmethod
    def setUpClass(cls) -> None:
        files = draw()
        known: dict[str, PictureFile] = {}

        def picture(name: str) -> PictureFile:
            if name not in files:
                raise NestLineError(f"there is no picture “{name}”")
            if name not in known:
                known[name] = read_picture(files[name])
            return known[name]

        cls.studio = Studio(picture)
        cls.documents = [cls.studio.read(make()) for make in DEMO]

    def test_outlines_in_resvg_are_the_pdf(self) -> None:
        for document in thrown("documents").sample(self.documents, cases(len(self.documents), least=3)):
            pages = png_pages(self.studio.pdf(document), DPI * FINE)
            for number, wanted in enumerate(smaller(page) for page in pages):
                svg = self.studio.svg(document, number).decode()
                ElementTree.fromstring(svg)
                height, width = wanted.shape
                # Both stretch the page to whole pixels.
                sized = f'width="{width}" height="{height}" preserveAspectRatio="none"'
                svg = re.sub(r'width="[\d.]+pt" height="[\d.]+pt"', sized, svg, count=1)
                drawn = grey(bytes(resvg_py.svg_to_bytes(svg_string=svg, background="white")))
                self.assertEqual(drawn.shape, (height, width))
                self.assertLess(apart(drawn, wanted), MOST_APART, (document.head.title, number))

    def test_text_with_its_fonts_in_chromium_is_the_pdf(self) -> None:
        with chromium_page() as page:
            for document in self.documents[:2]:
                wanted = Image.open(io.BytesIO(png_pages(self.studio.pdf(document), DPI)[0]))
                svg = self.studio.svg(document, 0, "text")
                page.set_viewport_size({"width": wanted.width, "height": wanted.height})
                page.set_content(
                    f"<style>body {{ margin: 0 }} svg {{ display: block; width: {wanted.width}px; height: "
                    f"{wanted.height}px }}</style>{svg.decode().split('?>', 1)[1]}"
                )
                page.evaluate("document.fonts.ready")
                page.wait_for_function("[...document.fonts].every((font) => font.status !== 'loading')")
                drawn = page.screenshot()
                self.assertLess(apart(grey(drawn), np.asarray(wanted.convert("L"), dtype=np.float64)), TEXT_APART)

    def test_its_words_are_those_of_the_document(self) -> None:
        for document in self.documents[:2]:
            svg = ElementTree.fromstring(self.studio.svg(document, 0, "text"))
            words = [w.text for w in svg.iter("{http://www.w3.org/2000/svg}tspan")]
            nests = [n for n in self.studio.nest(document) if n.page == 0]
            text = "".join("".join(words).split())
            for nest in nests:
                if nest.nest.copy.bidi:
                    continue
                for word in nest.nest.copy.text[: nest.nest.leftover_start].split()[:6]:
                    self.assertIn(word.replace("\u00ad", "").replace("\ufffc", ""), text)


if __name__ == "__main__":
    unittest.main()
