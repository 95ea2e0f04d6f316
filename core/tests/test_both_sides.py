"""Rules seen from their other side too: what a small slip in each would do, and nothing else would notice."""

from __future__ import annotations

import re
import unittest
import zlib

import numpy as np

from nestline import rows as k
from nestline.copy.hyphenation import Hyphenation, hyphen_places
from nestline.nesting.causes import why_here
from nestline.nesting.glyphs import drop_caps
from support import STORY, document, frame, nest_of, obstacle, paragraph, studio


class Copy(unittest.TestCase):
    def test_a_word_of_the_least_length_is_hyphenated_and_one_shorter_is_not(self) -> None:
        for word in ("summer", "kitchen", "friendship", "hospital"):
            at = Hyphenation(least=len(word))
            self.assertTrue(hyphen_places(word, "en-GB", at), word)
            self.assertFalse(hyphen_places(word, "en-GB", Hyphenation(least=len(word) + 1)), word)

    def test_an_opening_quote_drops_with_its_cap_and_a_letter_does_not(self) -> None:
        for text, dropped in ((f"“{STORY}", "“E"), (STORY, "E"), (f"¿{STORY}", "¿E")):
            nest = nest_of(document([frame()], paragraph(text * 2, drop_cap=2))).nest
            self.assertEqual("".join(cap.text for cap in drop_caps(nest)), dropped)
            line = nest.copy.text[nest.ranges[0][0] : nest.ranges[0][1]]
            self.assertTrue(line.lstrip("“¿E").startswith("very year"), line)

    def test_figures_stand_by_a_decimal_comma_as_by_a_point(self) -> None:
        def marks_at(mark: str) -> list[float]:
            rows = [
                paragraph(f"\t{n}{mark}{rest}", tabs=[{"at": 120, "align": "figure"}])
                for n, rest in ((5, 25), (1234, 5), (77, 125))
            ]
            nest = nest_of(document([frame()], *rows)).nest
            out = []
            for number, (first, _) in enumerate(nest.ranges.tolist()):
                at = nest.copy.text.index(mark, first)
                out.append(float(nest.left[number] + nest.copy.x[at] - nest.copy.x[first]))
            return out

        for mark in ",.":
            found = marks_at(mark)
            self.assertLess(max(found) - min(found), 1e-6, mark)
            self.assertAlmostEqual(found[0], 100 + 120, places=4)


class Objects(unittest.TestCase):
    def test_a_gap_to_a_bottom_edge_runs_upwards_and_to_a_top_edge_downwards(self) -> None:
        for edge, gap, top in (("bottom", 7, 300 - 7 - 20), ("top", 7, 300 + 7), ("bottom", -7, 300 + 7 - 20)):
            base = {"id": "b", "x": 10, "y": 300, "width": 50, "height": 50}
            ties = [{"edge": edge, "to": "b", "its": "top", "gap": gap}]
            raw = document([base, {"id": "t", "x": 10, "y": 10, "width": 50, "height": 20, "ties": ties}])
            moved = studio().nest(studio().read(raw)).moved["t"]
            self.assertAlmostEqual(moved.box[1], top, places=6)

    def test_why_here_names_the_clearance_of_the_side_that_pushes(self) -> None:
        wrap = obstacle("w", x=220, y=180)
        wrap["wrap"] = {"by": "box", "clearance": [3, 5, 7, 11]}
        raw = document([frame(), wrap], paragraph(STORY * 4, size=11, leading=14))
        read = studio().read(raw)
        nests = studio().nest(read)
        # Left of the object copy ends before its left clearance; right of it begins behind its right one.
        for x, what, figure in ((206, "right end", 11), (308, "left end", 5)):
            found = why_here(read, nests, 0, (x, 220))
            assert found is not None
            ends = [c for c in found[1] if c.object == "w"]
            self.assertEqual([(c.what, c.figure) for c in ends[:1]], [(what, figure)])

    def test_beside_at_the_fold_is_the_side_where_the_fold_is(self) -> None:
        anchor = {"place": "beside", "side": "fold", "across": "frame", "x": 4}
        for page, side, at_left in ((0, "fold", True), (1, "fold", False), (0, "edge", False), (1, "edge", True)):
            runs = {"runs": [{"text": STORY}, {"object": "n"}]}
            note = {"id": "n", "x": 0, "y": 0, "width": 30, "height": 20, "anchor": {**anchor, "side": side}}
            raw = {**document([], runs), "facing": True}
            sheet = {"width": 500, "height": 500, "objects": []}
            full = {**sheet, "objects": [frame(), note]}
            raw["pages"] = [full, sheet] if page == 0 else [sheet, full]
            moved = studio().nest(studio().read(raw)).moved["n"]
            self.assertEqual(moved.box[0] < 250, at_left, f"page {page}, {side}")


class Lines(unittest.TestCase):
    def test_letters_share_what_a_line_lacks_among_the_gaps_between_them(self) -> None:
        """A line of n letters has n - 1 gaps: shared among n it would end short of its slot."""
        text = "Internationalisation notwithstanding, incomprehensibilities characterise " * 4
        nest = nest_of(
            document([frame(width=180)], paragraph(text, align="justify", stretch={"letters": 0.2}, hyphenate=False))
        ).nest
        tracked = [n for n in range(len(nest.records)) if nest.tracks[n] > 0.01]
        self.assertTrue(tracked)
        for n in tracked:
            if not nest.records[n, k.PAST]:
                self.assertAlmostEqual(float(nest.right[n]), float(nest.records[n, k.RIGHT]), delta=0.02)

    def test_space_after_a_paragraph_is_kept_past_the_edge(self) -> None:
        for after in (0, 9):
            rules = {"size": 10, "leading": 12, "space_after": after}
            raw = document([frame(height=30)], *(paragraph("One line.", **rules) for _ in range(6)))
            baselines = nest_of(raw).nest.records[:, k.BASELINE]
            self.assertEqual(len(baselines), 6)
            self.assertTrue(np.allclose(np.diff(baselines), 12 + after), f"{after}: {np.diff(baselines)}")


class Print(unittest.TestCase):
    def test_what_was_raised_for_a_mark_is_level_again_for_the_next_letters(self) -> None:
        """Every text object that raises its letters (Ts) ends level: the rise would stay for all that follow."""
        # Letters that have no sign of their own with their mark: it is set raised, and stands at the end of its run.
        rows = [
            paragraph(f"Kite {letter}", size=size, font="Vollkorn")
            for letter in ("l\u0304", "f\u0301")
            for size in (9, 14)
        ]
        raw = document([frame()], *rows, paragraph("Level."))
        content = studio().pdf(studio().read(raw))
        streams = [
            zlib.decompress(s) for s in re.findall(rb"stream\r?\n(.*?)\r?\nendstream", content, re.S) if s[:1] == b"x"
        ]
        page = next(s for s in streams if b" Ts" in s)
        rises = [float(r) for r in re.findall(rb"(-?[\d.]+) Ts", page)]
        self.assertTrue(any(rises))
        for piece in page.split(b" Tf")[1:]:
            raised = re.findall(rb"(-?[\d.]+) Ts", piece)
            self.assertTrue(not raised or float(raised[-1]) == 0, piece[:200])
