import io
import random
import subprocess
import tempfile
import unittest
from pathlib import Path

import uharfbuzz as hb
from fontTools.ttLib import TTFont

from demo.variable_font import FAMILY, WEIGHTS, WIDTHS, variable_font
from nestline.fonts.about import kind_of
from nestline.fonts.library import SHIPPED, Face, FontLibrary, read_face, shipped_fonts
from nestline.fonts.own import read_own_font
from nestline.fonts.shaping import shape
from nestline.studio import Studio, try_font

WORDS = "Hamburgefonstiv 0123"


class Variable(unittest.TestCase):
    def setUp(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        own = read_own_font(variable_font())
        self.assertTrue(own.varies)
        path = folder / "own-kite.otf"
        path.write_bytes(own.content)
        self.face = read_face(path, own.family, own.weight, own.slope)
        self.fonts = FontLibrary([*shipped_fonts().faces.values(), self.face])

    def width(self, face: Face) -> float:
        return shape(face, WORDS, 0, len(WORDS), "en").width

    def test_it_stands_at_any_weight_and_width_between_its_ends(self) -> None:
        self.assertEqual((self.face.axes.weight, self.face.axes.width), (WEIGHTS, WIDTHS))
        plain = read_face(SHIPPED / "Lato-Regular.ttf", "Lato", 400, "normal")
        natural = sum(plain.hb_font.get_glyph_h_advance(plain.hb_font.get_nominal_glyph(ord(c)) or 0) for c in WORDS)
        random.seed(5)
        for _ in range(40):
            weight, width = random.randint(200, 900), random.uniform(60, 140)
            held = (min(max(weight, 300), 800), min(max(round(width, 1), 75), 125))
            share = 1 + 0.1 * (held[0] - 300) / 500 + 0.25 * (held[1] - 100) / 25
            face = self.fonts.face(FAMILY, weight, "normal", width)
            self.assertAlmostEqual(self.width(face) / natural, share, delta=0.002)
            self.assertEqual(face.weight, held[0])
            self.assertIs(self.fonts.face(FAMILY, weight, "normal", width), face)

    def test_its_plain_file_draws_what_is_set(self) -> None:
        random.seed(6)
        for _ in range(3):
            face = self.fonts.face(FAMILY, random.randint(300, 800), "normal", random.uniform(75, 125))
            plain, out = face.plain(face.open()), io.BytesIO()
            plain.save(out)
            self.assertNotIn("fvar", TTFont(io.BytesIO(out.getvalue())))
            alone = hb.Font(hb.Face(out.getvalue()))
            for letter in WORDS:
                glyph = face.hb_font.get_nominal_glyph(ord(letter)) or 0
                self.assertLessEqual(
                    abs(alone.get_glyph_h_advance(glyph) - face.hb_font.get_glyph_h_advance(glyph)), 1, letter
                )

    def test_heights_are_those_of_its_letters_at_that_weight(self) -> None:
        light, bold = self.fonts.face(FAMILY, 300), self.fonts.face(FAMILY, 800)
        self.assertAlmostEqual(bold.metrics.cap / light.metrics.cap, 1.1, delta=0.003)
        self.assertAlmostEqual(bold.metrics.ex / light.metrics.ex, 1.1, delta=0.003)

    def test_a_document_says_weight_and_width_and_every_output_draws_them(self) -> None:
        def refused(file: str) -> None:
            raise AssertionError(file)

        studio = Studio(refused, self.fonts)  # type: ignore[arg-type]

        def read(**look: object) -> str:
            copy = {"versions": {"en": {"language": "en", "paragraphs": [{"runs": [{"text": WORDS, **look}]}]}}}
            style = {"font": FAMILY, "size": 18, "stretch": {"letter_space": 0, "letter_width": 0}}
            copy["versions"]["en"]["paragraphs"][0] |= style  # type: ignore[index]
            thing = {"id": "f", "x": 10, "y": 10, "width": 380, "height": 80, "frame": {"copy": "c"}}
            return studio.read(  # type: ignore[return-value]
                {
                    "format": "nest-line",
                    "version": 1,
                    "copies": {"c": copy},
                    "pages": [{"width": 400, "height": 100, "objects": [thing]}],
                }
            )

        ends = {}
        for name, look in {
            "plain": {"weight": 300},
            "wide": {"weight": 300, "font_width": 125},
            "bold": {"weight": 800},
        }.items():
            document = read(**look)
            (nest,) = studio.nest(document)  # type: ignore[arg-type]
            ends[name] = float(nest.nest.right[0] - nest.nest.left[0])
            with tempfile.TemporaryDirectory() as folder:
                path = Path(folder) / "out.pdf"
                path.write_bytes(studio.pdf(document))  # type: ignore[arg-type]
                said = subprocess.run(["pdftotext", "-bbox", path, "-"], capture_output=True, text=True, check=True)
            words = [line for line in said.stdout.splitlines() if "<word" in line]
            left, right = float(words[0].split('"')[1]), float(words[-1].split('"')[5])
            self.assertAlmostEqual(right - left, ends[name], delta=0.05)
            self.assertIn("<path", studio.svg(document, 0).decode())  # type: ignore[arg-type]
        self.assertAlmostEqual(ends["wide"] / ends["plain"], 1.25, delta=0.005)
        self.assertAlmostEqual(ends["bold"] / ends["plain"], 1.1, delta=0.005)

    def test_it_is_tried_and_told_like_any_other(self) -> None:
        try_font(self.face)
        self.assertEqual(kind_of(self.fonts.face(FAMILY, 700)), "sans")
        self.assertEqual(self.fonts.face("Lato", 650, "normal", 80).key, "Lato-Bold")
