"""Fitted letters: what a justified line gives to word spaces, to the spaces between letters and to their widths."""

import itertools
import re
import subprocess
import tempfile
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from draws import thrown
from nestline import rows as k
from nestline.nesting.frame_nest import FrameNest
from nestline.nesting.glyphs import glyph_runs
from nestline.nesting.quality import faults_of
from support import STORY, document, frame, nest_of, nested, obstacle, paragraph, studio

ARABIC = "كل عام في أواخر الصيف تعود الريح إلى المرج، ويصعد أهل البلدة كلهم للقائها ومعهم الخيوط والأصدقاء. " * 2
GERMAN = (
    "Jedes Jahr im Spätsommer kehrt der Wind auf die Gemeindewiese zurück, und die ganze Stadt steigt "
    "hinauf, um ihn zu "
    "empfangen. Bringt Schnur, bringt Freunde, bringt mit, was am Küchentisch entstanden ist."
)


def sheets(count: int) -> list[tuple[int, dict[str, Any], FrameNest]]:
    """Justified copy of two languages and looks, in columns, outlines and beside a picture, with limits of many
    sizes."""
    dice = thrown(18)
    out = []
    for number in range(count):
        limits = {"letter_space": dice.choice([0, 0.01, 0.02]), "letter_width": dice.choice([0, 0.01, 0.015])}
        language = dice.choice(["en", "de"])
        text = (STORY if language == "en" else GERMAN) * 2
        cut = text.index(" ", len(text) // 3)
        first = paragraph(
            "",
            align="justify",
            font=dice.choice(["EB Garamond", "Source Sans 3", "Vollkorn"]),
            stretch=limits,
            size=dice.choice([9, 11.5]),
            hyphenate=dice.random() < 0.7,
            breaking=dice.choice(["optimal", "first-fit"]),
            tracking=dice.choice([0, 0, 0.2]),
        )
        first["runs"] = [{"text": text[:cut]}, {"text": text[cut : cut + 40], "slope": "italic", "size": 13}]
        first["runs"].append({"text": text[cut + 40 :]})
        kind = dice.choice(["rectangle", "ellipse", "heart"])
        things = [frame(kind, width=dice.uniform(120, 300), height=800)]
        if number % 3 == 0:
            things.append(obstacle(x=dice.uniform(90, 200), y=200))
        raw = document(things, first, language=language)
        out.append((number, limits, nest_of(raw).nest))
    return out


class Fitted(unittest.TestCase):
    def test_letters_share_within_limits_and_fill_the_line(self) -> None:
        """Of every filled line the last letter drawn ends where its slot does, and nothing is wider than it may be."""
        filled, natural = 0, 0
        for number, limits, nest in sheets(40):
            size = nest.copy.rules[0, k.SIZE]
            self.assertLessEqual(abs(nest.factors - 1).max(), limits["letter_width"] + 1e-9)
            self.assertLessEqual(abs(nest.tracks).max(), limits["letter_space"] * size + 1e-9)
            ends: dict[int, float] = {}
            for run in glyph_runs(nest):
                if len(run.ids):  # what is between letters comes behind the last one, too
                    end = float(run.x[0] + run.advances.sum() - nest.tracks[run.record])
                    ends[run.record] = max(ends.get(run.record, 0.0), end)
            for record, row in enumerate(nest.records):
                what = (number, record)
                self.assertAlmostEqual(ends[record], nest.right[record], delta=1e-6, msg=str(what))
                last = nest.copy.pieces[int(row[k.LAST])]
                if last[k.FORCED] or nest.loose[record]:
                    natural += 1
                    self.assertGreaterEqual(nest.factors[record], 1 - limits["letter_width"])
                    if nest.loose[record]:
                        self.assertEqual((nest.factors[record], nest.tracks[record]), (1.0, 0.0), what)
                elif nest.copy.pieces[int(row[k.LAST]), k.SPACE1] > nest.copy.pieces[int(row[k.FIRST]), k.SPACE0]:
                    filled += 1
                    self.assertAlmostEqual(nest.right[record], row[k.RIGHT], delta=2e-5, msg=str(what))
        self.assertGreater(filled, 400)
        self.assertGreater(natural, 40)

    def test_words_are_drawn_as_wide_as_is_said(self) -> None:
        looked = 0
        for number, _, nest in sheets(15):
            said = {}
            drawn, segments = nest.drawn, nest.copy.segments
            for record, segment, x in zip(drawn.record, drawn.segment, drawn.x, strict=True):
                a = max(int(segments.start[segment]), int(nest.ranges[record, 0]))
                b = min(int(segments.end[segment]), int(nest.ranges[record, 1]))
                said[int(record), a] = (float(x), nest.drawn_width(int(record), a, b), b)
            for run in glyph_runs(nest):
                ends = np.append(run.x[1:], run.x[0] + run.advances.sum())
                for (record, a), (x, width, b) in said.items():
                    within = (run.clusters >= a) & (run.clusters < b + (run.hyphen and b == run.end - 1))
                    if record != run.record or not within.any() or run.start > a or run.end < b:
                        continue
                    looked += 1
                    self.assertAlmostEqual(run.x[within][0], x, delta=1e-6, msg=str((number, record)))
                    end = float(ends[within][-1]) - float(nest.tracks[record])
                    # A letter's own offset is not where the next begins; none of these fonts has any here.
                    self.assertAlmostEqual(end, x + width, delta=1e-6, msg=str((number, record)))
        self.assertGreater(looked, 800)

    def test_joined_scripts_lines_with_tabs_and_ragged_copy_are_left_alone(self) -> None:
        cases = {
            "arabic": paragraph(ARABIC, align="justify", language="ar", font="Noto Naskh Arabic"),
            "tabs": paragraph(STORY.replace("wind", "wi\tnd"), align="justify"),
            "ragged": paragraph(STORY, align="start"),
            "off": paragraph(STORY, align="justify", stretch={"letter_space": 0, "letter_width": 0}),
        }
        for name, given in cases.items():
            nest = nest_of(document([frame(height=600)], given)).nest
            self.assertGreater(len(nest.records), 2, name)
            self.assertEqual((set(nest.factors), set(nest.tracks)), ({1.0}, {0.0}), name)
        nest = nest_of(document([frame(height=600)], paragraph(STORY, align="justify"))).nest
        self.assertGreater(len(set(nest.factors)), 3)

    def test_word_spaces_vary_less_with_them(self) -> None:
        with_them, without = [], []
        for width in range(120, 260, 10):
            for stretch, found in (({}, with_them), ({"letter_space": 0, "letter_width": 0}, without)):
                given = paragraph(STORY * 2, align="justify", hyphenate=True, stretch=stretch)
                found.append(faults_of(nest_of(document([frame(width=width, height=3000)], given)).nest))
        ours, plain = (sum(f.stretch for f in found) for found in (with_them, without))
        self.assertLess(ours, 0.75 * plain)
        self.assertLessEqual(sum(f.unfilled for f in with_them), sum(f.unfilled for f in without))
        self.assertLess(sum(f.worst for f in with_them), sum(f.worst for f in without))

    def test_word_spaces_of_a_narrow_space_close_less(self) -> None:
        """Between words there is never less than .15 em where nothing else is said; as little as is said where
        it is."""
        for stretch in ({}, {"least": 0.4}, {"letter_space": 0, "letter_width": 0}):
            gaps = []
            for width in range(100, 300, 7):
                given = paragraph(STORY, align="justify", stretch=stretch, font="Vollkorn", size=10)
                nest = nest_of(document([frame(width=width, height=1600)], given)).nest
                space = nest.copy.rules[0, k.SPACE_WIDTH]
                gaps += (space * nest.factors + nest.space_more + 2 * nest.tracks)[:-1].tolist()
            self.assertEqual(min(gaps) >= 1.5 - 1e-4, "least" not in stretch, (stretch, min(gaps)))
            self.assertLess(min(gaps), 1.6)

    def test_the_pdf_has_words_where_the_records_say(self) -> None:
        """Read back by poppler's pdftotext: each word's left edge within .05 px of its record."""
        for font, kind in itertools.product(("EB Garamond", "Source Sans 3"), ("rectangle", "ellipse")):
            given = paragraph(STORY, align="justify", font=font, size=12)
            raw = document([frame(kind, width=220, height=500)], given)
            (placed,) = nested(raw)
            self.assertGreater(len(set(placed.nest.factors)), 3)
            pdf = studio().pdf(studio().read(raw))
            with tempfile.TemporaryDirectory() as folder:
                path = Path(folder) / "page.pdf"
                path.write_bytes(pdf)
                done = subprocess.run(
                    ["pdftotext", "-bbox", str(path), "-"], capture_output=True, text=True, check=True
                )
            read = [
                (float(a), float(b)) for a, b in re.findall(r'<word xMin="([\d.]+)".*?xMax="([\d.]+)"', done.stdout)
            ]
            drawn = placed.nest.drawn
            edge = 0.0 if read[0][0] - drawn.x[0] < 1 else read[0][0] - float(drawn.x[0])
            missing = 0
            for x in drawn.x:
                missing += min(abs(left - edge - float(x)) for left, _ in read) > 0.0375
            self.assertEqual(missing, 0, (font, kind))
            # And their right edges where the lines end.
            for record in range(len(placed.nest.records)):
                right = float(placed.nest.right[record])
                self.assertLess(min(abs(b - edge - right) for _, b in read), 0.05, (font, kind, record))
