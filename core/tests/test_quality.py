"""How well lines are filled: optimal against first fit on outlines and copies of docs/quality.md, and what a river is."""

import sys
import unittest
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[2]))

from benchmarks.quality import columns, nest, totals, worked_out  # noqa: E402
from nestline.nesting.quality import _rivers, quality_of  # noqa: E402


class Filling(unittest.TestCase):
    def test_optimal_stretches_far_less_than_first_fit(self) -> None:
        # First fit breaks as Chromium does (docs/quality.md says in how many columns).
        found = worked_out(with_chromium=False)
        every = totals(found["rows"])
        self.assertGreaterEqual(len(found["rows"]), 40)
        self.assertLessEqual(every["mean"], 0.65)
        self.assertLessEqual(every["worst"], 0.65)
        self.assertLessEqual(every["hyphens"], 1.3)
        self.assertLessEqual(every["single"], every["single_first"])
        self.assertLessEqual(every["rivers"], every["rivers_first"])

    def test_a_stretch_is_the_share_that_word_spaces_grew(self) -> None:
        width, text = columns()[0]
        filled = nest("rectangle", width, 4000, text, "first-fit")
        quality = quality_of(filled)
        space = filled.copy.rules[0, 8]
        grown = [float(m) / space for m, loose in zip(filled.space_more, filled.loose, strict=True) if not loose]
        for stretch in grown[:-1]:
            self.assertTrue(any(abs(stretch - s) < 1e-6 for s in quality.stretches))

    def test_a_river_is_three_gaps_below_one_another(self) -> None:
        rows = [(10.0, [50.0]), (20.0, [53.0]), (30.0, [56.0]), (40.0, [90.0])]
        self.assertEqual(_rivers(rows, 12), 1)
        self.assertEqual(_rivers(rows[:2], 12), 0)
        self.assertEqual(_rivers([(y, [40.0 * i]) for i, (y, _) in enumerate(rows)], 12), 0)
