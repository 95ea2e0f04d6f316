"""Parts of shaped copy, from both sides: a copy says of each paragraph what that says by itself; hanging marks; soft
hyphens."""

from __future__ import annotations

import io
import random
import unittest
from typing import Any

import docx
import icu
import numpy as np
import uharfbuzz as hb

from draws import fair, seeds, thrown
from nestline import rows as k
from nestline.copy.bidi import levels_of
from nestline.copy.breaks import HANGING_SPACES, MANDATORY, forces, hangs, letters_of, line_breaks
from nestline.copy.hyphenation import hyphen_places
from nestline.copy.imports import read_text
from nestline.copy.itemizing import by_face, by_script
from nestline.copy.line_ends import HANGING
from nestline.copy.paragraph import shape_paragraph
from nestline.copy.shaped_copy import ShapedCopy, join_paragraphs
from nestline.copy.shaped_paragraph import ShapedParagraph
from nestline.document.model import Paragraph
from nestline.fonts.library import shipped_fonts
from nestline.fonts.shaping import shape

FONTS = shipped_fonts()
WORDS = (
    "“Every kite,” she said, “flies office-hours.” ‘A’ Típ Ay (wind) Großer, fluffy; so-called “AVATAR” plays.".split()
)
IN_LINE = {"big": (20.0, 30.0, 2.0, 0.5), "away": None}


def shaped(dice: random.Random, **rules: Any) -> ShapedParagraph:
    runs: list[dict[str, Any]] = []
    for _ in range(dice.randint(1, 3)):
        runs.append({"text": " ".join(dice.choices(WORDS, k=dice.randint(1, 9))) + " "})
        if dice.random() < 0.4:
            runs[-1] |= dice.choice([{"slope": "italic"}, {"size": 17}, {"font": "Lato", "weight": 700}])
        if dice.random() < 0.3:
            runs.append({"object": dice.choice(list(IN_LINE))})
    paragraph = Paragraph.model_validate({"runs": runs, **rules})
    return shape_paragraph(paragraph, None, "en", FONTS, IN_LINE)


class Copies(unittest.TestCase):
    def copies(self) -> list[tuple[list[ShapedParagraph], ShapedCopy]]:
        out = []
        for seed in seeds(25):
            dice = random.Random(seed)
            rules = [{}, {"indent": 9, "first_indent": 14}, {"first_indent": 25}, {"indent": 30}]
            parts = [shaped(dice, **dice.choice(rules)) for _ in range(dice.randint(1, 5))]
            out.append((parts, join_paragraphs(parts)))
        return out

    def test_ink_of_letters_is_that_of_their_paragraph_wherever_it_stands(self) -> None:
        for parts, copy in self.copies():
            for number, part in enumerate(parts):
                at = int(copy.offset[number])
                alone = join_paragraphs([part])
                for start in range(0, len(part.text), 5):
                    stop = min(start + 4, len(part.text))
                    self.assertEqual(copy.ink(at + start, at + stop), alone.ink(start, stop))
                    if "A" in part.text[start:stop]:
                        self.assertGreater(alone.ink(start, stop)[0], 4)
        self.assertEqual(copy.ink(0, 0), (0.0, 0.0))

    def test_objects_are_found_where_they_stand_and_nowhere_else(self) -> None:
        for parts, copy in self.copies():
            places = [
                (int(copy.offset[n]) + s.start, s.object)
                for n, part in enumerate(parts)
                for s in part.stretches
                if s.role == "object"
            ]
            for start in range(0, len(copy.text) + 1, 3):
                for stop in (start, start + 1, start + 7, len(copy.text)):
                    inside = [name for place, name in places if start <= place < stop]
                    self.assertEqual(copy.objects_between(start, stop), inside)

    def test_the_widest_indent_counts_first_lines_that_go_further_in(self) -> None:
        for parts, copy in self.copies():
            wanted = max(p.rules.indent + max(p.rules.first_indent, 0.0) for p in parts)
            self.assertEqual(copy.widest_indent, wanted)
            self.assertAlmostEqual(copy.widest_piece, max(p.widest_piece - 0 for p in parts), delta=3)

    def test_heights_are_those_of_what_stands_in_a_piece(self) -> None:
        looked_at = 0
        for parts, _ in self.copies():
            for part in parts:
                for number, (start, end) in enumerate(zip(part.piece_start, part.piece_end, strict=True)):
                    here = [s for s in part.stretches if s.start < end and s.end > start and s.role == ""]
                    if here and not any(s.role == "object" for s in part.stretches if s.start < end and s.end > start):
                        ascender = max(s.face.metrics.ascender * s.look.size for s in here)
                        self.assertAlmostEqual(part.rows[number, k.ASC], ascender, delta=1e-9)
                        looked_at += 1
        self.assertGreaterEqual(looked_at, fair(300))

    def test_the_stretch_of_a_letter_holds_it(self) -> None:
        for parts, _ in self.copies():
            for part in parts:
                for index in range(len(part.text)):
                    found = part.stretch_at(index)
                    self.assertTrue(found.start <= index < found.end)
                self.assertIs(part.stretch_at(len(part.text)), part.stretches[-1])


class Hanging(unittest.TestCase):
    def test_marks_that_hang_make_a_line_shorter_by_what_hangs_and_by_nothing_else(self) -> None:
        hung = 0
        for seed in seeds(20):
            plain, hanging = (shaped(random.Random(seed), hang_punctuation=hang) for hang in (False, True))
            np.testing.assert_allclose(hanging.start_change + hanging.start_hang, plain.start_change, atol=1e-9)
            self.assertTrue((plain.start_hang == 0).all())
            for number, start in enumerate(hanging.piece_start):
                advance = hanging.x[start + 1] - hanging.x[start]
                share = HANGING.get(hanging.text[start])
                if share is not None:
                    self.assertAlmostEqual(hanging.start_hang[number], share * advance, delta=1e-9)
                else:  # test_edges has what letters reach over
                    self.assertTrue(0 <= hanging.start_hang[number] < 0.5 * max(advance, 0.01))
                hung += share is not None and share > 0.5
            shorter = plain.end_change - hanging.end_change
            self.assertTrue((shorter >= -1e-9).all())
            for number, end in enumerate(hanging.piece_content_end):
                advance = hanging.x[end] - hanging.x[end - 1]
                share = HANGING.get(hanging.text[end - 1])
                if end > hanging.piece_start[number] and share is not None:
                    self.assertAlmostEqual(shorter[number], share * advance, delta=1e-9)
        self.assertGreaterEqual(hung, fair(10))


class SoftHyphens(unittest.TestCase):
    def test_one_at_the_very_end_is_no_place_for_a_hyphen(self) -> None:
        for text, places in (
            ("Liegen\u00adschaft", [7]),
            ("Liegen\u00ad", []),
            ("\u00ad", []),
            ("a\u00adb\u00ad", [2]),
        ):
            self.assertEqual(hyphen_places(text, "de", None), places)

    def test_a_line_does_not_break_there_by_itself(self) -> None:
        self.assertEqual(line_breaks("so\u00adft and", "en"), [6, 9])
        self.assertEqual(line_breaks("so\u00ad", "en"), [3], "the end of the text is one, whatever stands there")


class Docx(unittest.TestCase):
    def test_headings_that_are_and_are_not_italic_or_bold(self) -> None:
        for italic, bold in ((True, True), (False, False), (True, False), (False, True)):
            made, out = docx.Document(), io.BytesIO()
            font = made.styles["Heading 1"].font
            font.italic, font.bold = italic, bold
            made.add_heading("A heading", 1)
            made.save(out)
            look = read_text("copy.docx", out.getvalue()).looks[1]
            self.assertEqual(look["slope"], "italic" if italic else "normal")
            self.assertEqual(look["weight"], 700 if bold else 400)


class AtOnce(unittest.TestCase):
    """What is found for all letters of a text at once is what a look at each of them finds."""

    LETTERS = "aZ é9.,-\u2010\u2003\u3000\u00a0\u00ad\t\n\u2028'(שж漢e\u0301\u2066\u200f"

    def texts(self, latin: bool = False) -> list[str]:
        letters = "".join(c for c in self.LETTERS if c < "\u0250") if latin else self.LETTERS
        dice = thrown(8)
        return ["", *("".join(dice.choices(letters, k=dice.randint(1, 40))) for _ in range(400))]

    def test_which_letters_hang_and_which_end_a_line(self) -> None:
        for text in self.texts():
            letters = letters_of(text)
            self.assertEqual(hangs(letters).tolist(), [c in HANGING_SPACES for c in text])
            self.assertEqual(forces(letters).tolist(), [c in MANDATORY for c in text])

    def test_levels_are_those_of_the_bidirectional_algorithm(self) -> None:
        for text in self.texts(latin=True)[1:]:
            for direction, base in (("ltr", 0), ("auto", icu.Bidi.DEFAULT_LTR)):
                bidi, whole = icu.Bidi(), icu.UnicodeString(text)
                bidi.setPara(whole, base)
                self.assertEqual(levels_of(text, direction, "en"), (list(bidi.getLevels()), bidi.getParaLevel()))

    def test_a_stretch_of_one_script_or_face_is_what_it_is_before_another(self) -> None:
        asked = FONTS.face("EB Garamond")
        for text in self.texts(latin=True)[1:]:
            beside, levels = text + "漢", [0] * len(text) + [1]
            before = [(a, min(b, len(text)), s) for a, b, s in by_script(beside, 0, len(beside)) if a < len(text)]
            here = by_script(text, 0, len(text))
            self.assertEqual([c[:2] for c in here], [c[:2] for c in before])
            self.assertTrue(here[0][2] in (None, before[0][2]), "without a letter of its own it goes with any")
            self.assertEqual(
                by_face(text, 0, len(text), levels, asked, FONTS),
                [cut for cut in by_face(beside, 0, len(beside), levels, asked, FONTS) if cut[0] < len(text)],
            )

    def test_words_by_look_begin_and_end_where_each_letter_says(self) -> None:
        for seed in seeds(40):
            part = shaped(random.Random(seed))
            firsts = {s.start for s in part.stretches}
            firsts |= {
                int(at) for at, h in zip(part.piece_start[1:], part.piece_hyphen, strict=False) if h != k.SET_HYPHEN
            }
            spaces = {i for i, c in enumerate(part.text) if c in HANGING_SPACES or c == "\u00a0"}
            spaces |= {i for s in part.stretches if s.role for i in range(s.start, s.end)}
            letters = [i for i in range(len(part.text)) if i not in spaces]
            words = part.segments[0].tolist()
            self.assertEqual([i for w in words for i in range(w[k.WORD_START], w[k.WORD_END])], letters)
            begins = [i for i in letters if i - 1 in spaces or i in firsts]
            self.assertEqual([w[k.WORD_START] for w in words], begins)

    def test_a_glyph_may_be_parted_from_those_before_it_where_harfbuzz_says_so(self) -> None:
        face = FONTS.face("EB Garamond")
        for text in self.texts():
            buffer = hb.Buffer()
            buffer.add_str(text)
            buffer.cluster_level = hb.BufferClusterLevel.MONOTONE_GRAPHEMES
            buffer.direction, buffer.language = "ltr", "en"
            buffer.guess_segment_properties()
            hb.shape(face.hb_font, buffer)
            said = [bool(info.flags & hb.GlyphFlags.UNSAFE_TO_BREAK) for info in buffer.glyph_infos or []]
            self.assertEqual(shape(face, text, 0, len(text), "en").unsafe.tolist(), said)


if __name__ == "__main__":
    unittest.main()
