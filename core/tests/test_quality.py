"""How well lines are filled: optimal against first fit on outlines and copies of docs/quality.md, and what a
river is."""

import sys
import unittest
from pathlib import Path

import numpy as np

from draws import thrown

sys.path.insert(0, str(Path(__file__).parents[2]))

from benchmarks.quality import columns, nest, totals, worked_out  # noqa: E402
from benchmarks.sheets import set_by, sheets, sums  # noqa: E402
from nestline import rows as k  # noqa: E402
from nestline.nesting.quality import evenness, faults_of, quality_of, rivers  # noqa: E402
from support import document, frame, nest_of, paragraph


class Filling(unittest.TestCase):
    def test_optimal_stretches_far_less_than_first_fit(self) -> None:
        # First fit breaks as Chromium does (docs/quality.md says in how many columns).
        found = worked_out(with_chromium=False)
        every = totals(found["rows"])
        self.assertGreaterEqual(len(found["rows"]), 28)
        self.assertLessEqual(every["mean"], 0.40)
        self.assertLessEqual(every["worst"], 0.45)
        self.assertLessEqual(every["mean_before"], 0.60)
        self.assertLessEqual(every["hyphens"], 1.2)
        self.assertLessEqual(every["rivers"], 0.6 * every["rivers_first"])

    def test_a_typesetter_marks_far_less_than_in_first_fit(self) -> None:
        found = [(set_by(one, "optimal"), set_by(one, "first-fit")) for one in sheets(60, "fresh")]
        best, first = (sums([pair[place] for pair in found]) for place in (0, 1))
        self.assertGreater(best["lines"], 300)
        self.assertLessEqual(best["unfilled"], 0.2 * first["unfilled"])
        self.assertEqual(best["across"], 0)
        self.assertEqual(best["ladders"], 0)
        self.assertLessEqual(best["stretch"], 0.5 * first["stretch"])

    def test_faults_are_counted_as_they_are_drawn(self) -> None:
        words = "Bring string, bring friends, and bring whatever you built at the kitchen table to the common at noon."
        for greatest, unfilled in ((1.2, True), (20.0, False)):
            rules = {"align": "justify", "stretch": {"greatest": greatest}, "breaking": "first-fit"}
            nest = nest_of(document([frame(width=110, height=300)], paragraph(words, **rules))).nest
            faults = faults_of(nest)
            self.assertEqual(faults.unfilled > 0, unfilled)
            self.assertEqual(faults.unfilled, int(nest.loose.sum()))
            self.assertEqual((faults.lines, faults.paragraphs, faults.hyphens), (len(nest.records), 1, 0))
            grown = [float(v) / float(nest.copy.rules[0, k.SPACE_WIDTH]) for v in nest.space_more[:-1] if v]
            if not unfilled:
                self.assertAlmostEqual(faults.worst, max(abs(v) for v in grown))
        alone = nest_of(document([frame(width=400, height=300)], paragraph(words, breaking="first-fit"))).nest
        self.assertEqual(faults_of(alone).alone, int(" " not in alone.copy.text[slice(*alone.ranges[-1].tolist())]))

    def test_a_stretch_is_the_share_that_word_spaces_grew(self) -> None:
        width, text = columns()[0]
        filled = nest("rectangle", width, 4000, text, "first-fit")
        quality = quality_of(filled)
        space = filled.copy.rules[0, 8]
        grown = [float(m) / space for m, loose in zip(filled.space_more, filled.loose, strict=True) if not loose]
        for stretch in grown[:-1]:
            self.assertTrue(any(abs(stretch - s) < 1e-6 for s in quality.stretches))

    def test_columns_made_by_tabs_are_no_river(self) -> None:
        for between, width, count in (("\t", 90, 0), (" ", 68, 1)):
            lines = "\u2028".join([f"nn{between}nnnnnn"] * 4)
            rules = {"align": "justify", "last": "justify", "stretch": {"greatest": 20}, "breaking": "first-fit"}
            nest = nest_of(document([frame(width=width, height=300)], paragraph(lines, size=12, **rules))).nest
            self.assertEqual(len(rivers(nest)), count)

    def test_a_tab_stands_between_two_places_where_the_text_has_one(self) -> None:
        dice = thrown(4)
        for _ in range(60):
            text = "".join(dice.choices("ab \t", (5, 3, 2, dice.choice([0, 1])), k=40))
            copy = nest_of(document([frame(width=300, height=300)], paragraph(text))).nest.copy
            a, b = (np.array([dice.randint(0, 40) for _ in range(30)]) for _ in range(2))
            said = [("\t" in text[min(i, j) : max(i, j)]) for i, j in zip(a, b, strict=True)]
            self.assertEqual(copy.tabs_between(a, b).tolist(), said)

    def test_a_river_is_three_wide_gaps_below_one_another(self) -> None:
        """Lines of words as wide as they must be for their gaps to stand where they are wanted, set one by one."""
        cases = {
            "river": (["nn nnnnnn", "nn nnnnnn", "nn nnnnnn"], 1),
            "long": (["nn nnnnnn"] * 5, 1),
            "two lines": (["nn nnnnnn", "nn nnnnnn", "nnnnnn nn"], 0),
            "elsewhere": (["nn nnnnnn", "nnnnnn nn", "nn nnnnnn", "nnnnnn nn"], 0),
            "in the middle": (["nnnnnn nn", "nn nnnnnn", "nn nnnnnn", "nn nnnnnn", "nnnnnn nn"], 1),
        }
        for name, (lines, count) in cases.items():
            for width, wide in ((68, True), (54.5, False)):
                text = "\u2028".join(lines) + "\u2028n n"
                rules = {"align": "justify", "last": "justify", "stretch": {"greatest": 20}, "breaking": "first-fit"}
                nest = nest_of(document([frame(width=width, height=300)], paragraph(text, size=12, **rules))).nest
                self.assertEqual(len(nest.records), len(lines) + 1, name)
                found = [way for way in rivers(nest) if len(way) > 1 and way[-1].record < len(lines)]
                self.assertEqual(len(found), count if wide else 0, (name, width))
                for way in found:
                    self.assertEqual([g.record for g in way], list(range(way[0].record, way[-1].record + 1)))

    def test_evenness_is_how_much_word_spaces_differ(self) -> None:
        same, other = "nn nn nn", "nn nn nn nn"
        for lines, even in (([same, same, same], True), ([same, other, same], False)):
            text = "\u2028".join(lines)
            limits = {"greatest": 20, "letter_space": 0, "letter_width": 0}
            rules = {"align": "justify", "last": "justify", "stretch": limits, "breaking": "first-fit"}
            nest = nest_of(document([frame(width=90, height=300)], paragraph(text + "\u2028" + text, **rules))).nest
            more = [float(v) / float(nest.copy.rules[0, k.SPACE_WIDTH]) for v in nest.space_more]
            self.assertEqual(evenness(nest) < 1e-6, even)
            mean = sum(more) / len(more)
            self.assertAlmostEqual(evenness(nest), (sum((m - mean) ** 2 for m in more) / len(more)) ** 0.5, places=6)
