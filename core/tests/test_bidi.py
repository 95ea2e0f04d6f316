"""Copy from right to left and in both directions: against Unicode's own cases, and letters that a font lacks."""

import random
import unittest
from pathlib import Path

import numpy as np

from draws import fair, seeds
from nestline.copy.bidi import levels_of, visual_order
from nestline.nesting.glyphs import glyph_runs
from nestline.output.lines import frame_report
from support import document, frame, nest_of, obstacle, paragraph, studio

CASES = Path("/usr/share/unicode/BidiCharacterTest.txt")
"""UAX #9's test file, from Debian's package unicode-data."""
HEBREW = "עפיפונים עולים מעל הגבעה כל בוקר"
ARABIC = "طائرات ورقية تصعد فوق التل"


class Levels(unittest.TestCase):
    def test_levels_and_order_are_those_of_uax_9(self) -> None:
        if not CASES.is_file():
            self.skipTest("Debian's package unicode-data is not installed")
        count = wrong = 0
        for row in CASES.read_text("utf-8").splitlines():
            fields = row.split(";")
            if row.startswith("#") or len(fields) < 5:
                continue
            text = "".join(chr(int(c, 16)) for c in fields[0].split())
            if "\u2029" in text or "\n" in text or "\r" in text or any(ord(c) > 0xFFFF for c in text):
                continue  # a paragraph of copy holds no paragraph end
            count += 1
            if count % 9:
                continue  # a ninth of the cases
            direction = {"0": "ltr", "1": "rtl", "2": "auto"}[fields[1]]
            levels, base = levels_of(text, direction, "en")
            given = fields[3].split()
            known = [i for i, level in enumerate(given) if level != "x"]
            expected_order = [int(i) for i in fields[4].split()]
            # Characters that the algorithm removes stand anywhere; trailing spaces take the line's level (L1).
            order = [known[i] for i in visual_order([int(given[i]) for i in known])]
            wrong += order != expected_order or base != int(fields[2])
            wrong += any(levels[i] != int(given[i]) for i in known if not text[i:].isspace() and i < len(levels))
        self.assertGreater(count, 80_000)
        self.assertLessEqual(wrong, 20)


class Empty(unittest.TestCase):
    def test_copy_without_letters_runs_as_it_is_told_or_as_its_language_does(self) -> None:
        for direction, language, base in (
            ("ltr", "ar", 0),
            ("rtl", "en", 1),
            ("auto", "ar-EG", 1),
            ("auto", "en", 0),
            ("rtl", "ar", 1),
            ("ltr", "en", 0),
        ):
            self.assertEqual(levels_of("", direction, language), ([], base))


class Lines(unittest.TestCase):
    def test_hebrew_starts_at_the_right_and_reads_leftwards(self) -> None:
        nest = nest_of(document([frame(width=150)], paragraph(HEBREW))).nest
        self.assertTrue(np.allclose(nest.right[:-1], 250))
        first = nest.drawn.x[nest.drawn.record == 0]
        self.assertTrue((np.diff(first) < 0).all())

    def test_alignment_is_turned_round_with_the_direction(self) -> None:
        start, end = (
            nest_of(document([frame(width=150)], paragraph(HEBREW, align=align))).nest for align in ("start", "end")
        )
        self.assertAlmostEqual(float(start.right[0]), 250)
        self.assertAlmostEqual(float(end.left[0]), 100)

    def test_in_a_band_of_two_slots_it_begins_in_the_right_one(self) -> None:
        objects = [frame(width=400, least_slot=10), obstacle(x=280, y=90, width=40, height=80)]
        for breaking in ("optimal", "first-fit"):
            nest = nest_of(document(objects, paragraph(HEBREW * 3, breaking=breaking))).nest
            self.assertGreater(nest.left[0], nest.left[1])

    def test_a_number_in_hebrew_keeps_its_figures_in_order(self) -> None:
        nest = nest_of(document([frame(width=500)], paragraph("בשנת 1845 עפיפון"))).nest
        xs = {
            nest.copy.text[nest.copy.segments.start[s] : nest.copy.segments.end[s]]: x
            for s, x in zip(nest.drawn.segment, nest.drawn.x, strict=True)
        }
        self.assertGreater(xs["בשנת"], xs["1845"])
        self.assertGreater(xs["1845"], xs["עפיפון"])
        run = next(r for r in glyph_runs(nest) if r.text[r.start : r.end].strip() == "1845")
        self.assertTrue((np.diff(run.x) > 0).all())

    def test_glyphs_fill_the_line_without_gap_or_overlap(self) -> None:
        for text in (HEBREW, ARABIC, f"The word {HEBREW[:8]} means kite", f"{ARABIC} Quarrowby {ARABIC}"):
            nest = nest_of(document([frame(width=220)], paragraph(text, align="justify"))).nest
            for number in range(len(nest.records)):
                spans = sorted(
                    (float(r.x[0]), float(r.x[0] + r.advances.sum())) for r in glyph_runs(nest) if r.record == number
                )
                for (_, end), (start, _) in zip(spans, spans[1:], strict=False):
                    self.assertAlmostEqual(end, start, delta=0.6)
                self.assertAlmostEqual(spans[-1][1], float(nest.right[number]), delta=0.6)

    def test_words_stand_where_their_glyphs_stand(self) -> None:
        nest = nest_of(document([frame(width=160)], paragraph(f"A {HEBREW} and {ARABIC} 12 kites"))).nest
        runs = list(glyph_runs(nest))
        for record, segment, x in zip(nest.drawn.record, nest.drawn.segment, nest.drawn.x, strict=True):
            start = int(nest.copy.segments.start[segment])
            run = next(r for r in runs if r.record == record and r.start <= start < r.end)
            inside = (run.clusters >= start) & (run.clusters < int(nest.copy.segments.end[segment]))
            self.assertAlmostEqual(float(run.x[inside].min()), float(x), delta=0.05)


class Fallback(unittest.TestCase):
    def test_letters_that_a_font_lacks_are_drawn_by_another_and_known(self) -> None:
        nest = nest_of(document([frame()], paragraph("Kite עפיפון طائرة αετός змей", font="Abril Fatface"))).nest
        stretches = nest.copy.paragraphs[0].stretches
        self.assertEqual(nest.copy.paragraphs[0].missing, ())
        self.assertTrue(any(s.fallback for s in stretches))
        self.assertFalse(stretches[0].fallback)

    def test_a_letter_that_no_font_has_is_reported(self) -> None:
        nest = nest_of(document([frame()], paragraph("kite \U00013080"))).nest
        self.assertEqual(nest.copy.paragraphs[0].missing, (5,))

    def test_every_shipped_font_has_its_licence(self) -> None:
        folder = next(iter(studio().fonts.faces.values())).path.parent
        for face in studio().fonts.faces.values():
            self.assertTrue((folder / "licences" / f"{face.path.stem.split('-')[0]}-OFL.txt").is_file(), face.key)


class Words(unittest.TestCase):
    def test_no_two_words_of_a_line_overlap_with_set_hyphens_too(self) -> None:
        hyphens = 0
        for seed in seeds(150):
            dice = random.Random(seed)
            latin = ["incomprehensibilities", "temperature", "of", "internationalization", "kites"]
            hebrew = ["שלום", "עולם", "רוח", "הגדולה", "של"]
            words = [dice.choice(latin if dice.random() < 0.6 else hebrew) for _ in range(40)]
            text = paragraph(
                " ".join(words),
                hyphenate=True,
                align=dice.choice(["start", "justify", "center"]),
                direction=dice.choice(["rtl", "ltr", "auto"]),
                underline=dice.random() < 0.2,
            )
            placed = nest_of(document([frame(width=dice.uniform(70, 200), height=900)], text))
            for line in frame_report(placed)["lines"]:
                hyphens += line["text"].endswith("-")
                row = sorted(line["words"], key=lambda w: w["x"])
                for one, other in zip(row, row[1:]):
                    self.assertLessEqual(one["x"] + one["width"], other["x"] + 0.01, (seed, line))
                self.assertAlmostEqual(row[0]["x"], line["left"], delta=0.05)
                self.assertAlmostEqual(row[-1]["x"] + row[-1]["width"], line["right"], delta=0.05)
        self.assertGreaterEqual(hyphens, fair(100))
