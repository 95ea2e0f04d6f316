"""Shaping and breaking of copy, against fontTools' own tables and Unicode's own test file."""

import re
import unittest
from pathlib import Path

from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st

from nestline.copy.breaks import graphemes, line_breaks
from nestline.copy.shaper import Shaper
from nestline.document.model import Paragraph
from nestline.fonts.library import FontError
from nestline.fonts.shaping import shape
from support import studio

UNICODE = Path("/usr/share/unicode/auxiliary/LineBreakTest.txt")
"""UAX #14's test file, from Debian's package unicode-data."""


class Breaks(unittest.TestCase):
    def test_break_opportunities_are_those_of_uax_14(self) -> None:
        if not UNICODE.is_file():
            self.skipTest("Debian's package unicode-data is not installed")
        cases = wrong = 0
        for line in UNICODE.read_text("utf-8").splitlines():
            marks = re.findall(r"[÷×]|[0-9A-F]{4,6}", line.partition("#")[0])
            if not marks:
                continue
            text = "".join(chr(int(m, 16)) for m in marks if m not in "÷×")
            if any(0xD800 <= ord(c) < 0xE000 for c in text) or "\u00ad" in text:
                continue  # a soft hyphen is kept whole until its hyphen can be set
            at, expected = 0, []
            for mark in marks:
                if mark == "÷":
                    expected.append(at)
                elif mark != "×":
                    at += 1
            cases += 1
            wrong += line_breaks(text, "en") != [e for e in expected if e]
        self.assertGreater(cases, 7000)
        # Differences between the Unicode version of the file and that of ICU.
        self.assertLessEqual(wrong, 40)

    def test_boundaries_count_code_points(self) -> None:
        self.assertEqual(line_breaks("🪁🪁 🪁", "en")[-1], 4)
        self.assertEqual(graphemes("e\u0301🪁"), [2, 3])

    @given(st.text(max_size=40))
    def test_breaks_end_at_the_end(self, text: str) -> None:
        found = line_breaks(text, "en")
        self.assertEqual(found, sorted(set(found)))
        if text:
            self.assertEqual(found[-1], len(text))


class Shaping(unittest.TestCase):
    def test_advances_are_the_fonts_own(self) -> None:
        for family in studio().fonts.families:
            face = studio().fonts.face(family)
            with TTFont(face.path) as font:
                widths, cmap = font["hmtx"], font.getBestCmap()
                for letter in [c for c in "Hxn" if ord(c) in cmap]:
                    self.assertEqual(shape(face, letter, 0, 1, "en").width, widths[cmap[ord(letter)]][0])

    def test_metrics_are_the_fonts_own(self) -> None:
        latin = [face for face in studio().fonts.faces.values() if face.has("H")]
        self.assertGreater(len(latin), 10)
        for face in latin:
            with TTFont(face.path) as font:
                os2, em = font["OS/2"], font["head"].unitsPerEm
                self.assertAlmostEqual(face.metrics.cap, os2.sCapHeight / em)
                self.assertAlmostEqual(face.metrics.ex, os2.sxHeight / em)

    def test_ligatures_and_kerning_are_shaped(self) -> None:
        face = studio().fonts.face("EB Garamond")
        self.assertLess(len(shape(face, "ffi", 0, 3, "en").ids), 3)
        self.assertLess(shape(face, "AV", 0, 2, "en").width, 2 * shape(face, "A", 0, 1, "en").width)

    @given(
        st.lists(
            st.sampled_from(["AVAST", "To", "Ty", "office", "fjord", "WAVE,", "“Yes”", "l’eau", "T.", "fl-", "r,"]),
            min_size=2,
            max_size=12,
        )
    )
    def test_a_line_is_as_wide_as_that_line_shaped_alone(self, words: list[str]) -> None:
        text = " ".join(words)
        for family in ("EB Garamond", "Vollkorn", "Lato"):
            shaped = Shaper(studio().fonts).paragraph(
                Paragraph.model_validate({"font": family, "runs": [{"text": text}]}), None, "en"
            )
            face = studio().fonts.face(family)
            for first in range(len(shaped.piece_start)):
                for last in range(first + 1, len(shaped.piece_start)):
                    a, b = int(shaped.piece_start[first]), int(shaped.piece_content_end[last])
                    width = shaped.x[b] - shaped.x[a] + shaped.start_change[first] + shaped.end_change[last]
                    line = shape(face, text, a, int(shaped.piece_end[last]), "en")
                    alone = line.before(b).width * 11 / face.units_per_em
                    self.assertAlmostEqual(width, alone, places=6)

    def test_a_missing_family_is_refused_with_those_there_are(self) -> None:
        with self.assertRaisesRegex(FontError, "EB Garamond"):
            studio().fonts.face("Quarrow Sans")

    def test_the_nearest_face_answers_for_a_weight_that_is_not_there(self) -> None:
        self.assertEqual(studio().fonts.face("Lato", 600).weight, 700)
        self.assertEqual(studio().fonts.face("Oswald", 400, "italic").slope, "normal")
