"""Rules whose slips no test saw once: each against another way to reckon it."""

from __future__ import annotations

import io
import random
import unittest
from typing import Any

import numpy as np
import pikepdf
from shapely.geometry import box as rectangle

from draws import seeds
from nestline import rows as k
from nestline.copy.page_numbers import page_named
from nestline.copy.pairs import reads_poorly
from nestline.document import edits
from nestline.document.model import Run
from nestline.merging.sequences import aligned, parts
from nestline.nesting.wrapping import nearest_frame
from support import STORY, document, frame, nest_of, paragraph, studio, thing_of


class Merged(unittest.TestCase):
    def test_stretches_that_only_touch_do_not_collide(self) -> None:
        for seed in seeds(60):
            dice = random.Random(f"touching {seed}")
            base = [f"b{n}" for n in range(dice.randint(3, 9))]
            cut = dice.randrange(1, len(base))
            start, stop = dice.randrange(cut), dice.randint(cut + 1, len(base))
            theirs, mine = [*base[:start], "theirs", *base[cut:]], [*base[:cut], "mine", *base[stop:]]
            if dice.random() < 0.5:
                theirs, mine = mine, theirs
            changes = [aligned(base, side, which, str)[0] for side, which in ((theirs, "theirs"), (mine, "mine"))]
            found = parts(base, *changes, None, lambda one, other: one.items == other.items)
            with self.subTest(seed=seed):
                self.assertEqual([part.collides for part in found], [None, None])
                merged = list(base)
                for part in reversed(found):
                    merged[part.start : part.stop] = part.items
                wanted = [*base[:start], *(x for x in (*theirs, *mine) if x not in base), *base[stop:]]
                self.assertEqual(sorted(merged), sorted(wanted))


class Pushed(unittest.TestCase):
    def test_of_two_frames_that_it_touches_an_object_pushes_the_one_it_covers_most_of(self) -> None:
        decided = 0
        for seed in seeds(120):
            dice = random.Random(f"covered {seed}")
            boxes = [[dice.randint(0, 200), dice.randint(0, 200), *dice.choices(range(40, 160), k=2)] for _ in range(3)]
            thing, *frames = (
                thing_of({"id": f"t{n}", **dict(zip(("x", "y", "width", "height"), box, strict=True))})
                for n, box in enumerate(boxes)
            )
            one, *others = (rectangle(x, y, x + w, y + h) for x, y, w, h in boxes)
            covered = [one.intersection(other).area for other in others]
            if min(covered) > 0 and covered[0] != covered[1]:
                decided += 1
                found = nearest_frame(thing, frames)
                self.assertIs(found, frames[int(np.argmax(covered))], seed)
        self.assertGreater(decided, 0)


class Chained(unittest.TestCase):
    def test_a_jump_line_names_the_pages_next_to_its_own(self) -> None:
        count = 5
        pages = [
            {"width": 200, "height": 200, "objects": [{**frame(width=100, height=60), "id": f"f{n}"}]}
            for n in range(count)
        ]
        raw = {**document([], paragraph(STORY)), "pages": pages, "chains": [[f"f{n}" for n in range(count)]]}
        read = studio().read(raw)
        for number in range(count):
            for field, page in (("previous-page", number - 1), ("next-page", number + 1)):
                wanted = page if 0 <= page < count else None
                run = Run.model_validate({"text": "", "field": field})
                self.assertEqual(page_named(read, run, f"f{number}"), wanted, (field, number))

    def test_what_the_paragraph_after_the_last_becomes_counts_for_where_a_frame_ends(self) -> None:
        def chain(size: float) -> dict[str, Any]:
            pages = [
                {"width": 400, "height": 400, "objects": [{**frame(x=10, y=10, width=200, height=100), "id": f"f{n}"}]}
                for n in range(2)
            ]
            copy = [paragraph(STORY[:100], size=12), paragraph("Before noon", size=12, keep={"next": True})]
            copy.append(paragraph("Then there is more. " * 9, size=size))
            return {**document([], *copy), "pages": pages, "chains": [["f0", "f1"]]}

        kept, ends, raw = studio(), set(), chain(30)
        for size in (60, 8, 60, 12, 59):
            at = ["copies", "story", "versions", "en", "paragraphs", 2, "size"]
            raw = edits.apply(raw, [{"do": "put", "at": at, "value": size}]).document
            warm = kept.nest(kept.read(raw))
            cold = type(kept)(lambda file: None).nest(kept.read(raw))  # type: ignore[arg-type,return-value]
            self.assertEqual([one.nest.next_piece for one in warm], [one.nest.next_piece for one in cold], size)
            ends.add(warm[0].nest.next_piece)
        self.assertGreater(len(ends), 1)


class Hyphens(unittest.TestCase):
    def test_words_of_seven_letters_may_be_parted_and_shorter_ones_had_better_not(self) -> None:
        """Common practice: fewer than seven letters are left whole."""
        for word, poor in (("kitchen", False), ("garden", True), ("lantern", False), ("window", True)):
            self.assertIs(reads_poorly(f"the {word} here", 4 + 3, "en"), poor, word)

    def test_each_that_is_set_is_spoken_as_a_soft_one(self) -> None:
        """ISO 32000-2, 14.8.2.6.3: a hyphen at a line's end that is none of the text is read as U+00AD."""
        text = "Extraordinary neighbourhood celebrations, unforgettable afternoons and kitemaking. " * 3
        raw = document([frame(width=110, height=500)], paragraph(text, align="justify", hyphenate=True))
        placed = nest_of(raw)
        set_ones = int(np.count_nonzero(placed.nest.hyphens))
        self.assertGreater(set_ones, 3)
        spoken = 0
        with pikepdf.open(io.BytesIO(studio().pdf(studio().read(raw)))) as pdf:
            for given, operator in pikepdf.parse_content_stream(pdf.pages[0]):
                if str(operator) == "BDC" and "/ActualText" in given[1]:
                    said = str(given[1]["/ActualText"])
                    self.assertNotIn("-", said)
                    spoken += said.rstrip().endswith("\u00ad")
        self.assertEqual(spoken, set_ones)


class LeadedOut(unittest.TestCase):
    def test_its_lines_are_those_of_copy_with_that_leading(self) -> None:
        compared = 0
        for seed in seeds(30):
            dice = random.Random(f"leaded {seed}")
            kind = dice.choice(["ellipse", "kite", "heart", "rectangle"])
            size = {"width": dice.randint(160, 300), "height": dice.randint(200, 320)}
            copy = {"text": STORY[: dice.randint(90, 200)], "size": 10}
            rules = {"padding": 4, "least_slot": 0}
            rules |= {"hang": dice.choice(["ascender", "line-box"]), "stand": dice.choice(["descender", "line-box"])}
            opened = nest_of(document([frame(kind, sit="leaded", **size, **rules)], paragraph(**copy, leading=12))).nest
            between = np.unique(np.diff(opened.records[:, k.BASELINE]).round(6))
            if opened.leftover_words or len(between) != 1 or between[0] <= 12.01:
                continue
            compared += 1
            plain = nest_of(document([frame(kind, **size, **rules)], paragraph(**copy, leading=float(between[0])))).nest
            self.assertAlmostEqual(plain.stand_y, opened.stand_y, delta=0.01)
            for column in (k.FIRST, k.LAST, k.LEFT, k.RIGHT):
                np.testing.assert_allclose(
                    plain.records[:, column], opened.records[:, column], atol=0.01, err_msg=str(seed)
                )
        self.assertGreater(compared, 0)


class Lifted(unittest.TestCase):
    def test_balanced_columns_in_the_middle_are_lifted_by_as_much_as_is_said(self) -> None:
        for seed in seeds(30):
            dice = random.Random(f"lifted {seed}")
            columns, lift = dice.randint(2, 4), dice.choice([3.0, 7.5, 12.0])
            rules = {"sit": "middle", "columns": columns, "gutter": 8, "balance": True, "width": 400, "height": 300}
            copy = paragraph(STORY[: dice.randint(150, 300)], size=10)
            level, lifted = (nest_of(document([frame(**rules, lift=by)], copy)).nest for by in (0, lift))
            moved = level.records[:, k.BASELINE] - lifted.records[:, k.BASELINE]
            np.testing.assert_allclose(moved, lift, atol=0.05, err_msg=str(seed))
            self.assertEqual((level.exact, lifted.exact), (True, True), seed)


if __name__ == "__main__":
    unittest.main()
