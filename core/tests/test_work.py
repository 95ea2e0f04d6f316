"""The budget of every computation: it ends, says that it did, and comes to the same again; and the deadline
beyond it."""

from __future__ import annotations

import random
import threading
import unittest
from typing import Any

import support
from draws import fair, seeds
from nestline.errors import NestLineError
from nestline.nesting import work
from nestline.nesting.work import TooLong, count, until, within
from nestline.studio import Studio

KINDS = ["rectangle", "ellipse", "star", "heart", "leaf", "kite", "arch", "cloud", "ring"]


def no_pictures(file: str) -> Any:
    raise NestLineError(file)


def raw(dice: random.Random) -> dict[str, Any]:
    """A frame as nobody should make one: out of all proportion, with rules that have to be searched for."""
    sizes = [5, 60, 300, 2000, 1e6]
    frame: dict[str, Any] = {
        "copy": "c",
        "sit": dice.choice(["middle", "bottom", "leaded"]),
        "padding": dice.choice([0, 3]),
    }
    if dice.random() < 0.5:
        frame |= {"columns": dice.choice([2, 9]), "balance": True}
    if dice.random() < 0.6:
        frame["give"] = dice.choice(
            [["bottom"], ["right", "bottom"], ["left", "right", "top", "bottom"], ["in-proportion"]]
        )
    else:
        frame["fit_type"] = {"grow": True}
    thing = {
        "id": "f",
        "x": 0,
        "y": 0,
        "width": dice.choice(sizes),
        "height": dice.choice(sizes),
        "turn": dice.choice([0, 30]),
        "outline": {"kind": dice.choice(KINDS)},
        "frame": frame,
    }
    paragraph: dict[str, Any] = {"runs": [{"text": "Bring string and friends. " * dice.choice([1, 30])}]}
    if dice.random() < 0.3:
        paragraph["leading"] = dice.choice([0.01, 900])
    copies = {"c": {"versions": {"en": {"language": "en", "paragraphs": [paragraph]}}}}
    pages = [{"width": 600, "height": 800, "objects": [thing]}]
    return {"format": "nest-line", "version": 1, "copies": copies, "pages": pages}


class Budget(unittest.TestCase):
    def test_whatever_is_asked_ends_within_its_budget_and_comes_to_the_same_again(self) -> None:
        spent = 0
        for seed in seeds(12):
            document = raw(random.Random(seed))
            found = []
            for _ in range(2):
                studio = Studio(no_pictures)  # nothing remembered
                with within(1e12) as done:
                    (placed,) = studio.nest(studio.read(document))
                found.append(
                    (placed.nest.records.tolist(), placed.thing.box, placed.factor, placed.unsettled, done.counted)
                )
            self.assertEqual(found[0], found[1], seed)
            # A search, once, and a few nests more in the rounds of the page.
            self.assertLess(done.counted, work.SEARCH + 12 * work.FRAME, seed)
            spent += placed.unsettled
        self.assertGreaterEqual(spent, fair(1), "the cases are hard enough for the budget to matter")

    def test_what_is_within_counts_for_what_is_around_it_and_in_its_own_thread(self) -> None:
        with within(100) as outer:
            with within(30) as inner:
                count(20)
                self.assertFalse(inner.spent)
                count(20)
                self.assertTrue(inner.spent)
            self.assertEqual((outer.counted, outer.spent), (40, False))
            seen = []

            def other() -> None:
                with within(10) as mine:
                    count(5)
                    seen.append((mine.counted, mine.spent))

            thread = threading.Thread(target=other)
            thread.start()
            thread.join()
            self.assertEqual((seen, outer.counted), ([(5, False)], 40))
            with within(1000) as last:
                count(70)
                self.assertTrue(last.spent, "no more than is left around it")
            self.assertTrue(outer.spent)

    def test_a_space_that_is_kept_is_counted_in_the_room_that_there_is_now(self) -> None:
        raw = support.document([support.frame()], support.paragraph(support.STORY))
        studio = Studio(no_pictures)
        studio.nest(studio.read(raw))
        work.room(len(work.room(0)))  # made larger by another space
        longer = support.document([support.frame()], support.paragraph(support.STORY + " more"))
        counted = []
        for one in (studio, Studio(no_pictures)):
            with within(1e12) as done:
                one.nest(one.read(longer))
            counted.append(done.counted)
        self.assertEqual(*counted)

    def test_beyond_a_deadline_it_is_refused_in_words(self) -> None:
        studio = Studio(no_pictures)
        document = studio.read(raw(random.Random(1)))
        with until(-1), self.assertRaises(TooLong) as refused:
            studio.nest(document)
        self.assertIn("too long to work out", str(refused.exception))
        studio.nest(document)  # and nothing of it stays behind


if __name__ == "__main__":
    unittest.main()
