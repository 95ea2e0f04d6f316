"""Why here: the cause of every end and baseline is the one that makes it so: taken away, the end moves."""

import re
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from nestline import rows as k
from nestline.nesting.causes import Cause, why_here
from support import STORY, document, frame, obstacle, paragraph, studio


def causes_at(raw: dict[str, Any], x: float, y: float, page: int = 0) -> list[Cause]:
    read = studio().read(raw)
    found = why_here(read, studio().nest(read), page, (x, y))
    return found[1] if found else []


def story(*objects: dict[str, Any], **rules: Any) -> dict[str, Any]:
    words = {"font": "EB Garamond", "size": 11, "leading": 14, **rules.pop("words", {})}
    return document([frame(x=100, y=100, width=300, height=280, **rules), *objects], paragraph(STORY * 4, **words))


class Ends(unittest.TestCase):
    def test_padding_and_the_outlines_edge(self) -> None:
        for padding, rule, figure in ((12, "padding", 12), (0, "outline", 0), ([1, 2, 3, 20], "padding", 20)):
            (cause, *_) = causes_at(story(padding=padding), 105 + (20 if isinstance(padding, list) else padding), 200)
            self.assertEqual((cause.what, cause.rule, cause.figure), ("left end", rule, figure))
            self.assertTrue(
                all(abs(x - (100 + (figure or 0))) < 0.01 for line in cause.lit for x in (line[0], line[2]))
            )

    def test_the_wrap_of_the_right_object_with_its_clearance(self) -> None:
        raw = story(obstacle("a", x=330, y=180, clearance=6), obstacle("b", x=70, y=180, clearance=9))
        right = causes_at(raw, 322, 220)[0]
        self.assertEqual((right.what, right.object, right.figure, right.rule), ("right end", "a", 6, "clearance"))
        left = causes_at(raw, 162, 220)[0]
        self.assertEqual((left.what, left.object, left.figure), ("left end", "b", 9))
        self.assertIn("outline", left.said)
        self.assertTrue(left.lit)

    def test_a_gap_has_the_same_cause_on_both_sides(self) -> None:
        raw = story(obstacle("a", x=210, y=180))
        for x in (200, 300):
            self.assertEqual(causes_at(raw, x, 220)[0].object, "a")

    def test_columns(self) -> None:
        cause = causes_at(story(columns=2, gutter=20), 238, 200)[0]
        self.assertEqual((cause.what, cause.rule, cause.figure), ("right end", "columns", 20))

    @given(kind=st.sampled_from(["ellipse", "leaf", "kite", "heart"]), padding=st.floats(0, 15), y=st.floats(150, 330))
    def test_what_is_lit_lies_at_the_end_that_it_explains(self, kind: str, padding: float, y: float) -> None:
        raw = story(obstacle("w", x=220, y=200), kind=kind, padding=padding)
        read = studio().read(raw)
        nests = studio().nest(read)
        nest = nests[0].nest
        for row in nest.records[~nest.past]:
            if not row[k.TOP] <= y <= row[k.BOTTOM]:
                continue
            found = why_here(read, nests, 0, (float(row[k.LEFT]) + 0.5, y))
            assert found is not None
            for cause in found[1]:
                if cause.what in ("left end", "right end") and cause.away < 900:
                    self.assertTrue(cause.lit)


class Baselines(unittest.TestCase):
    def cause(self, raw: dict[str, Any], line: int) -> Cause:
        nest = studio().nest(studio().read(raw))[0].nest
        row = nest.records[line]
        found = causes_at(raw, (float(row[k.LEFT]) + float(row[k.RIGHT])) / 2, float(row[k.BASELINE]))
        return next(c for c in found if c.what == "baseline")

    def test_hang_leading_and_sit(self) -> None:
        self.assertEqual(self.cause(story(hang="cap"), 0).rule, "hang")
        self.assertIn("cap height", self.cause(story(hang="cap"), 0).said)
        step = self.cause(story(), 3)
        self.assertEqual((step.rule, step.figure), ("size", 14))
        self.assertEqual(self.cause(story(sit="middle"), 0).rule, "sit")

    def test_where_geometry_put_it(self) -> None:
        raw = story({"id": "b", "x": 90, "y": 150, "width": 320, "height": 60, "wrap": {"by": "below"}})
        nest = studio().nest(studio().read(raw))[0].nest
        first = next(i for i, r in enumerate(nest.records) if r[k.BASELINE] > 205)
        self.assertIn("first height", self.cause(raw, first).said)

    def test_a_first_line_in_a_tip_is_told_to_begin_where_its_words_fill_a_slot(self) -> None:
        raw = document([frame("ellipse", width=300, height=400)], paragraph(STORY * 2, align="justify"))
        self.assertIn("its words fill a slot", self.cause(raw, 0).said)
        ragged = document([frame("ellipse", width=300, height=400)], paragraph(STORY * 2))
        self.assertIn("a slot is wide enough", self.cause(ragged, 0).said)

    def test_space_between_paragraphs(self) -> None:
        raw = document([frame()], paragraph("Up.", space_after=9), paragraph("Down."))
        self.assertIn("between paragraphs", self.cause(raw, 1).said)


class Given(unittest.TestCase):
    """What a line was given to fill its slot, added up again."""

    def test_spaces_and_letters_that_are_told_fill_the_slot(self) -> None:
        told = 0
        for width in range(150, 260, 10):
            words = {"font": "EB Garamond", "size": 11, "leading": 14, "align": "justify", "hyphenate": True}
            raw = document([frame(x=100, y=100, width=width, height=500)], paragraph(STORY * 3, **words))
            nest = studio().nest(studio().read(raw))[0].nest
            for i, row in enumerate(nest.records[:-1]):
                found = causes_at(raw, (float(row[k.LEFT]) + float(row[k.RIGHT])) / 2, float(row[k.BASELINE]) - 1)
                said = next((c.said for c in found if c.what == "word spaces" and "justify" in c.said), "")
                shares = {
                    what: self.share(said, what)
                    for what in ("opened", "closed", "apart", "closer", "wider", "narrower")
                }
                text = nest.copy.text[slice(*nest.ranges[i])]
                gaps, letters = text.strip().count(" "), len(text.strip()) - 1
                own = float(nest.copy.rules[0, k.SPACE_WIDTH])
                filled = gaps * own * (shares["opened"] - shares["closed"])
                filled += 11 * letters * (shares["apart"] - shares["closer"])
                filled += float(nest.width[i]) * (shares["wider"] - shares["narrower"])
                free = float(row[k.RIGHT]) - float(row[k.LEFT]) - float(nest.width[i])
                # Shares are told to one per cent of a space, a tenth of a per cent of an em and of a width.
                near = gaps * own * 0.005 + 11 * (letters + 1) * 0.001 + float(nest.width[i]) * 0.001
                if not nest.loose[i] and abs(free) > near:
                    told += 1
                    self.assertAlmostEqual(filled, free, delta=near, msg=(said, text))
        self.assertGreater(told, 60)

    @staticmethod
    def share(said: str, what: str) -> float:
        """The share that stands nearest before or behind a word of what is said, in hundredths."""
        behind = re.search(rf"{what} by ([\d.]+) %", said)
        before = re.search(rf"([\d.]+) % (?:of an em )?{what}", said)
        found = behind or before
        return float(found[1]) / 100 if found else 0.0

    def test_what_is_free_before_a_line_is_told_where_it_is_and_nowhere_else(self) -> None:
        for align, said in (
            ("center", "the line is centred in its slot"),
            ("end", "the line is set flush at the other end"),
        ):
            raw = story(words={"align": align, "hyphenate": False})
            nest = studio().nest(studio().read(raw))[0].nest
            row, left = nest.records[2], float(nest.left[2])
            gap = left - float(row[k.LEFT])
            self.assertGreater(gap, 1)
            y = float(row[k.BASELINE]) - 1
            (before,) = [c for c in causes_at(raw, left - gap / 2, y) if c.what == "word spaces"]
            self.assertEqual((before.said, before.rule), (said, "align"))
            self.assertAlmostEqual(before.figure or 0, gap, delta=0.01)
            self.assertEqual([c for c in causes_at(raw, left + 20, y) if c.what == "word spaces"], [])


class Solved(unittest.TestCase):
    def test_what_opens_a_line_is_named(self) -> None:
        for band in ("letters", "line-box"):
            raw = story(band=band)
            icon = {"id": "icon", "x": 0, "y": 0, "width": 12, "height": 30, "anchor": {"place": "in-line"}}
            raw["pages"][0]["objects"].append(icon)
            words = {"font": "EB Garamond", "size": 11, "leading": 14}
            runs = [{"text": f"{STORY} "}, {"object": "icon"}, {"text": f" {STORY}"}]
            raw["copies"]["story"]["versions"]["en"]["paragraphs"] = [{"runs": runs, **words}]
            read = studio().read(raw)
            (placed,) = [n for n in studio().nest(read) if n.thing.id == "f"]
            records = placed.nest.records
            steps = {int(r[k.LINE]): float(r[k.BASELINE]) for r in records}
            (line,) = [n for n in steps if n and steps[n] - steps[n - 1] > 14.01]
            said = {c.what: c for c in causes_at(raw, 180, steps[line] - 1)}["baseline"]
            self.assertEqual((said.object, said.said), ("icon", "an object in line opens the line"), band)
            self.assertAlmostEqual(said.figure or 0, steps[line] - steps[line - 1], places=4)
            other = {c.what: c for c in causes_at(raw, 180, steps[line - 1] - 1)}["baseline"]
            self.assertEqual(other.object, "f", band)

    def test_fitted_type_and_giving_edges_are_named(self) -> None:
        fitted = causes_at(story(fit_type={"least": 4}, words={"size": 16, "leading": 20}), 200, 200)
        self.assertTrue(any(c.rule == "fit" for c in fitted))
        self.assertTrue(any(c.rule == "give" for c in causes_at(story(give=["bottom"]), 200, 200)))

    def test_nothing_is_said_where_there_is_no_copy(self) -> None:
        self.assertEqual(causes_at(story(), 700, 700), [])


if __name__ == "__main__":
    unittest.main()
