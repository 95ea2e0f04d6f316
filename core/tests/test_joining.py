"""A copy is joined from the same blocks whatever it was before: its figures are those of a cold start, to the
last bit."""

from __future__ import annotations

import random
import unittest

import numpy as np

from draws import seeds, thrown
from nestline import rows as k
from nestline.copy.joining import LEAST_IN_A_BLOCK, MOST_IN_A_BLOCK, Block, blocks_of
from nestline.copy.shaped_copy import ShapedCopy, copy_of, join_paragraphs
from nestline.copy.shaper import LONG, Shaper
from nestline.document.model import Paragraph
from nestline.fonts.library import shipped_fonts
from nestline.remembering import Memory
from support import STORY

FONTS = shipped_fonts()
WORDS = STORY.split()
FIGURES = (
    "offset",
    "x",
    "spaces",
    "letters",
    "fills",
    "piece_start",
    "piece_content_end",
    "piece_end",
    "pieces",
    "rules",
)
OF_WORDS = ("start", "end", "x", "width", "spaces", "letters", "fills", "look", "rtl")


def written(dice: random.Random) -> Paragraph:
    text = " ".join(dice.choices(WORDS, k=dice.randint(0, 8)))
    run = {"text": text, **dice.choice([{}, {}, {"weight": 700}, {"size": 14}])}
    return Paragraph.model_validate({"runs": [run, {"text": dice.choice(["", "\tend", " so"])}]})


def changed(dice: random.Random, paragraphs: list[Paragraph]) -> None:
    """A paragraph typed in, put in, taken out, or several moved."""
    at = dice.randrange(len(paragraphs))
    kind = dice.choice(["type", "type", "put in", "take out", "move"])
    if kind == "type":
        paragraphs[at] = written(dice)
    elif kind == "put in":
        paragraphs.insert(at, written(dice))
    elif kind == "take out" and len(paragraphs) > LONG + 2:
        del paragraphs[at]
    else:
        some = paragraphs[at : at + 5]
        del paragraphs[at : at + 5]
        to = dice.randrange(len(paragraphs))
        paragraphs[to:to] = some


class Joined(unittest.TestCase):
    def assert_same(self, one: ShapedCopy, other: ShapedCopy) -> None:
        for name in FIGURES:
            np.testing.assert_array_equal(getattr(one, name), getattr(other, name), name)
        for name in OF_WORDS:
            np.testing.assert_array_equal(getattr(one.segments, name), getattr(other.segments, name), name)
        self.assertEqual((one.segments.looks, one.text, one.words), (other.segments.looks, other.text, other.words))

    def test_kept_copies_are_those_of_a_cold_start(self) -> None:
        for seed in seeds(6):
            dice = random.Random(seed)
            kept = Shaper(FONTS)
            paragraphs = [written(dice) for _ in range(dice.choice([LONG + 5, 150]))]
            for _ in range(12):
                changed(dice, paragraphs)
                self.assert_same(kept.copy(paragraphs, {}, "en"), Shaper(FONTS).copy(paragraphs, {}, "en"))

    def test_an_excerpt_has_the_figures_of_the_whole_and_becomes_it(self) -> None:
        dice = thrown(3)
        kept = Shaper(FONTS)
        paragraphs = [written(dice) for _ in range(160)]
        for _ in range(12):
            changed(dice, paragraphs)
            first = dice.randrange(len(paragraphs))
            wanted = first, dice.randint(first + 1, len(paragraphs))
            some = kept.excerpted(paragraphs, {}, "en", None, {}, wanted)
            whole = kept.copy(paragraphs, {}, "en")
            assert some.excerpt is not None
            self.assertLessEqual(some.excerpt[0], wanted[0])
            self.assertGreaterEqual(some.excerpt[1], wanted[1])
            for a, b in (some.excerpt, (0, 1), (len(paragraphs) - 1, len(paragraphs))):
                letters = slice(*whole.offset[[a, b]].tolist())
                np.testing.assert_array_equal(some.x[letters], whole.x[letters])
                inside = (whole.pieces[:, k.PARAGRAPH] >= a) & (whole.pieces[:, k.PARAGRAPH] < b)
                np.testing.assert_array_equal(some.pieces[inside], whole.pieces[inside])
            for name in ("offset", "piece_start", "piece_content_end", "piece_end", "rules"):
                np.testing.assert_array_equal(getattr(some, name), getattr(whole, name), name)
            np.testing.assert_array_equal(some.segments.start, whole.segments.start)
            self.assertEqual((some.text, some.words), (whole.text, whole.words))
            self.assert_same(some.whole, whole)

    def test_what_a_paragraph_is_moved_on_by_is_what_stands_before_it(self) -> None:
        dice = thrown(9)
        shaper = Shaper(FONTS)
        shaped = [shaper.paragraph(written(dice), None, "en") for _ in range(90)]
        whole = join_paragraphs(shaped)
        for number, part in enumerate(shaped):
            at = int(whole.offset[number])
            self.assertEqual(at, sum(len(p.text) + 1 for p in shaped[:number]))
            moved = whole.x[at : at + len(part.text) + 1] - sum(float(p.x[-1]) for p in shaped[:number])
            np.testing.assert_allclose(moved, part.x, atol=1e-8)

    def test_a_change_leaves_the_other_blocks_as_they_are(self) -> None:
        dice = thrown(5)
        shaper = Shaper(FONTS)
        shaped = [shaper.paragraph(written(dice), None, "en") for _ in range(300)]
        kept: Memory[tuple[int, ...], Block] = Memory(1e9)
        before = blocks_of(shaped, kept)
        sizes = [len(block.text) + 1 for block in before]
        self.assertLess(max(sizes), MOST_IN_A_BLOCK + max(len(p.text) + 1 for p in shaped))
        self.assertGreaterEqual(min(sizes[:-1]), LEAST_IN_A_BLOCK)
        self.assertEqual(sum(sizes), sum(len(p.text) + 1 for p in shaped))
        for number in range(0, 300, 20):
            for changed_ in ([shaped[number + 5]], [shaped[number + 5], shaped[0]], []):
                now = [*shaped[:number], *changed_, *shaped[number + 1 :]]
                after = blocks_of(now, kept)
                new = [block for block in after if not any(block is known for known in before)]
                self.assertLessEqual(len(new), 4)
                self.assertEqual([p for block in after for p in block.paragraphs], now)
                self.assert_same(copy_of(after), join_paragraphs(now))


if __name__ == "__main__":
    unittest.main()
