"""Fonts of one's own, and features baked into a font for the screen: against HarfBuzz asked for them."""

import io
import unittest

import uharfbuzz as hb
from fontTools.ttLib import TTFont

from nestline.fonts.baked import baked, features_of
from nestline.fonts.library import shipped_fonts
from nestline.fonts.own import BadFont, read_own_font

FACE = shipped_fonts().face("EB Garamond")


def glyphs(content: bytes, text: str, features: dict[str, int] | None = None) -> list[tuple[int, int]]:
    font = hb.Font(hb.Face(content))
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    hb.shape(font, buffer, features)
    infos, places = buffer.glyph_infos or [], buffer.glyph_positions or []
    return [(i.codepoint, p.x_advance) for i, p in zip(infos, places, strict=True)]


class Baked(unittest.TestCase):
    def test_what_is_baked_in_draws_as_what_is_asked_for(self) -> None:
        original = FACE.path.read_bytes()
        for features in ({"smcp": 1}, {"onum": 1, "dlig": 1}, {"liga": 0}, {"kern": 0}, {"smcp": 1, "liga": 0}):
            content = baked(FACE, tuple(sorted(features.items())))
            for text in ("Affable officers fly 1845 kites", "AVAWA To st ct"):
                self.assertEqual(glyphs(content, text), glyphs(original, text, features), features)

    def test_features_are_those_of_the_font(self) -> None:
        self.assertTrue({"smcp", "onum", "liga"} <= set(features_of(FACE)))


class Own(unittest.TestCase):
    def test_every_usual_kind_of_file(self) -> None:
        for flavor in (None, "woff", "woff2"):
            font = TTFont(FACE.path)
            font.flavor = flavor
            out = io.BytesIO()
            font.save(out)
            face = read_own_font(out.getvalue())
            self.assertEqual((face.family, face.weight, face.slope), ("EB Garamond", 400, "normal"))
            self.assertEqual(glyphs(face.content, "Kite"), glyphs(FACE.path.read_bytes(), "Kite"))

    def test_what_is_no_font_is_refused(self) -> None:
        content = FACE.path.read_bytes()
        for bad in (
            b"",
            b"kite",
            content[:3000],
            b"OTTO" + b"\x00" * 500,
            b"ttcf" + content,
            b"\x00\x01\x00\x00" + b"\xff" * 200,
        ):
            with self.assertRaises(BadFont):
                read_own_font(bad)
