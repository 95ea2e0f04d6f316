"""Edges by eye: letters that reach over an edge by their outlines, against their pixels (Pillow's FreeType); list
numbers."""

import unittest

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from nestline import rows as k
from nestline.fonts.library import shipped_fonts
from nestline.fonts.overhang import DEEPEST, SHARE, overhang
from nestline.nesting.glyphs import glyph_runs, list_marks
from support import document, frame, nest_of, paragraph

PIXELS = 800


def by_pixels(path: str, letter: str) -> tuple[float, float]:
    """How far a letter reaches over at its left and its right, in ems, read off its pixels."""
    font = ImageFont.truetype(path, PIXELS, layout_engine=ImageFont.Layout.BASIC)
    image = Image.new("L", (3 * PIXELS, 3 * PIXELS))
    ImageDraw.Draw(image).text((PIXELS, PIXELS), letter, font=font, fill=255)
    ink = np.asarray(image) > 127
    columns, rows = np.flatnonzero(ink.any(axis=0)), np.flatnonzero(ink.any(axis=1))
    left, right = int(columns[0]), int(columns[-1])
    lefts = [min(np.flatnonzero(ink[y])[0] - left, DEEPEST * PIXELS) for y in rows]
    rights = [min(right - np.flatnonzero(ink[y])[-1], DEEPEST * PIXELS) for y in rows]
    advance = font.getlength(letter)
    return (
        max(0.0, (left - PIXELS + SHARE * float(np.mean(lefts))) / PIXELS),
        max(0.0, (PIXELS + advance - right - 1 + SHARE * float(np.mean(rights))) / PIXELS),
    )


class Overhang(unittest.TestCase):
    def test_it_is_what_the_pixels_say(self) -> None:
        compared = 0
        for family in ("EB Garamond", "Source Sans 3", "Abril Fatface", "Oswald"):
            face = shipped_fonts().face(family)
            for letter in "AHTVWLPSnoydf7":
                glyph = face.hb_font.get_nominal_glyph(ord(letter))
                ours = [v / face.units_per_em for v in overhang(face, glyph)]
                np.testing.assert_allclose(ours, by_pixels(str(face.path), letter), atol=0.005, err_msg=family + letter)
                compared += 1
        self.assertEqual(compared, 56)

    def test_what_comes_to_a_point_reaches_over_more_than_a_stem(self) -> None:
        face = shipped_fonts().face("Source Sans 3")

        def beyond(letter: str, side: int) -> float:
            """What a letter reaches over beyond its own ink."""
            glyph = face.hb_font.get_nominal_glyph(ord(letter))
            extents = face.hb_font.get_glyph_extents(glyph)
            assert extents is not None
            own = (extents.x_bearing, face.hb_font.get_glyph_h_advance(glyph) - extents.x_bearing - extents.width)
            return (overhang(face, glyph)[side] - own[side]) / face.units_per_em

        for stem in "HlIE":
            self.assertAlmostEqual(beyond(stem, 0), 0, delta=0.002)
        for letter in "AVWTYy":
            self.assertGreater(beyond(letter, 0), 0.015, letter)
            self.assertGreater(beyond(letter, 1), 0.015, letter)
        self.assertGreater(beyond("L", 1), 0.02)
        self.assertAlmostEqual(beyond("L", 0), 0, delta=0.002)

    def test_stems_of_display_stand_on_the_edge_and_nothing_moves_elsewhere(self) -> None:
        face = shipped_fonts().face("Source Sans 3")
        bearing = {
            c: face.hb_font.get_glyph_extents(face.hb_font.get_nominal_glyph(ord(c))).x_bearing / face.units_per_em
            for c in "HT"
        }
        text = "Home\u2028Tea"

        def lefts(**rules: object) -> list[float]:
            nest = nest_of(document([frame(width=500)], paragraph(text, font="Source Sans 3", **rules))).nest
            return [float(run.x[0]) for run in glyph_runs(nest)]

        for size in (12, 40):
            home, tea = lefts(size=size)
            display = size >= 20
            self.assertAlmostEqual(home + bearing["H"] * size, 100 + (0 if display else bearing["H"] * size), delta=0.1)
            self.assertEqual(tea + bearing["T"] * size < 99.9, display)
            self.assertEqual(lefts(size=size, hang_punctuation=False), [100, 100])
            hung = lefts(size=size, hang_punctuation=True)
            self.assertAlmostEqual(hung[0], 100 - bearing["H"] * size, delta=0.003 * size)
            self.assertLess(hung[1], 100 - bearing["T"] * size)

    def test_both_edges_of_justified_lines(self) -> None:
        text = "Vans and tea wait at every tent for you till very late at night " * 4
        given = paragraph(text, align="justify", hang_punctuation=True, size=12, hyphenate=True, font="Source Sans 3")
        nest = nest_of(document([frame(width=150, height=600)], given)).nest
        face, seen = shipped_fonts().face("Source Sans 3"), 0
        for run in glyph_runs(nest):
            row = nest.records[run.record]
            if nest.copy.pieces[int(row[k.LAST]), k.FORCED] or run.hyphen or nest.loose[run.record]:
                continue
            wide, scale = float(nest.factors[run.record]), run.stretch.scale
            left = overhang(face, int(run.ids[0]))[0] * scale * wide
            right = overhang(face, int(run.ids[-1]))[1] * scale * wide
            self.assertAlmostEqual(run.x[0], row[k.LEFT] - left, places=6)
            end = float(run.x[0] + run.advances.sum() - nest.tracks[run.record])
            self.assertAlmostEqual(end, row[k.RIGHT] + right, delta=3e-5)
            seen += 1
        self.assertGreater(seen, 4)


class Numbers(unittest.TestCase):
    def test_numbers_of_a_list_align_on_their_points(self) -> None:
        numbered = [paragraph(f"item {i}", list="numbers") for i in range(12)]
        apart = [*numbered[:11], paragraph("no item"), *numbered[:3]]
        marks = list_marks(nest_of(document([frame(height=700)], *apart)).nest)
        self.assertEqual([m.text for m in marks], [*(f"{i}." for i in range(1, 12)), "1.", "2.", "3."])
        font = shipped_fonts().face("EB Garamond").hb_font

        def end(mark: object) -> float:
            width = sum(font.get_glyph_h_advance(font.get_nominal_glyph(ord(c))) for c in mark.text)  # type: ignore[attr-defined]
            return float(mark.x) + width * 11 / 1000  # type: ignore[attr-defined]

        first = [end(m) for m in marks[:11]]
        self.assertLess(max(first) - min(first), 0.15)  # kerning of the figures aside
        self.assertAlmostEqual(min(m.x for m in marks[:11]), 100, delta=1e-6)
        self.assertAlmostEqual(min(m.x for m in marks[11:]), 100, delta=1e-6)
