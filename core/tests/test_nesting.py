"""What always holds of a nest (5 of 7 are here; slots and PDF have files of their own)."""

import json
import unittest
from typing import Any

import numpy as np
from hypothesis import given

from nestline import rows as k
from nestline.output.lines import lines_report
from support import STORY, document, documents, frame, nest_of, nested, obstacle, paragraph, studio


class Always(unittest.TestCase):
    @given(documents())
    def test_every_character_is_in_one_line_or_in_the_leftover(self, raw: dict[str, Any]) -> None:
        nest = nest_of(raw).nest
        text = nest.copy.text
        inside = nest.ranges[~nest.past]
        at = 0
        for start, end in inside:
            self.assertGreaterEqual(start, at)
            self.assertEqual(text[at:start].strip(), "", "only spaces and paragraph ends fall between lines")
            at = int(end)
        self.assertEqual(text[at : nest.leftover_start].strip(), "")
        past = nest.ranges[nest.past]
        self.assertEqual("".join(text[a:b] for a, b in past).replace(" ", ""), "".join(nest.leftover_text.split()))
        self.assertEqual(nest.leftover_words, len(text[nest.leftover_start :].split()))

    @given(documents())
    def test_no_word_leaves_its_slot(self, raw: dict[str, Any]) -> None:
        nest = nest_of(raw).nest
        drawn, segments = nest.drawn, nest.copy.segments
        for record, segment, x in zip(drawn.record, drawn.segment, drawn.x, strict=True):
            row = nest.records[record]
            start, end = nest.ranges[record]
            if row[k.PAST]:
                continue
            width = nest.width_of(record, max(start, segments.start[segment]), min(end, segments.end[segment]))
            self.assertGreaterEqual(x, row[k.LEFT] - 0.01)
            self.assertLessEqual(x + width, row[k.RIGHT] + 0.01)
        inside = ~nest.past
        self.assertTrue((nest.right[inside] <= nest.records[inside, k.RIGHT] + 0.01).all())

    @given(documents())
    def test_slots_stay_in_the_outline_and_out_of_wraps(self, raw: dict[str, Any]) -> None:
        from shapely.geometry import box

        from nestline.nesting.wrapping import page_wraps
        from support import area

        placed = nest_of(raw)
        if placed.nest.padded.empty or placed.matrix:
            return
        page = studio().read(raw).pages[0]
        outline = area(placed.nest.padded)
        wraps = [area(w.region) for _, w in page_wraps(page.objects, {}, studio().contours)]
        for r in placed.nest.records[~placed.nest.past]:
            slot = box(r[k.LEFT], r[k.TOP], r[k.RIGHT], r[k.BOTTOM])
            self.assertLess(slot.difference(outline).area, 1e-4)
            for wrap in wraps:
                self.assertLess(slot.intersection(wrap).area, 1e-4)

    @given(documents())
    def test_nesting_twice_gives_the_same(self, raw: dict[str, Any]) -> None:
        from nestline.studio import Studio
        from support import no_pictures

        other = Studio(no_pictures, studio().fonts)
        again = other.nest(other.read(json.loads(json.dumps(raw))))
        self.assertEqual(lines_report(nested(raw)), lines_report(again))

    @given(documents())
    def test_a_page_moved_as_a_whole_gives_the_moved_nest(self, raw: dict[str, Any]) -> None:
        moved = json.loads(json.dumps(raw))
        for thing in moved["pages"][0]["objects"]:
            thing["x"] += 64
            thing["y"] += 32
        a, b = nest_of(raw).nest, nest_of(moved).nest
        self.assertEqual(a.ranges.tolist(), b.ranges.tolist())
        np.testing.assert_allclose(b.left, a.left + 64, atol=1e-6)
        np.testing.assert_allclose(b.records[:, k.BASELINE], a.records[:, k.BASELINE] + 32, atol=1e-6)


class Lines(unittest.TestCase):
    def test_a_line_may_have_several_slots(self) -> None:
        nest = nest_of(
            document([frame(width=400, height=300), obstacle(x=260, y=150, width=80, height=120)], paragraph(STORY * 2))
        ).nest
        lines = nest.records[:, k.LINE].astype(int).tolist()
        self.assertTrue(any(lines.count(n) == 2 for n in lines))

    def test_copy_goes_on_below_where_no_slot_is_wide_enough(self) -> None:
        bar = obstacle(x=90, y=160, width=320, height=60, kind="rectangle", clearance=0)
        records = nest_of(document([frame(width=300, height=300), bar], paragraph(STORY))).nest.records
        above, below = records[records[:, k.BASELINE] < 170], records[records[:, k.BASELINE] > 170]
        self.assertTrue(len(above) and len(below))
        self.assertAlmostEqual(below[0, k.TOP], 220, places=5)
        self.assertEqual(below[0, k.WHY], k.BY_GEOMETRY)

    def test_slots_name_what_bounds_them(self) -> None:
        records = nest_of(document([frame(width=400), obstacle(x=260, y=110)], paragraph(STORY))).nest.records
        causes = {tuple(r) for r in records[:, [k.LEFT_CAUSE, k.RIGHT_CAUSE]].astype(int).tolist()}
        self.assertIn((0, 1), causes)
        self.assertIn((1, 0), causes)

    def test_a_word_wider_than_every_slot_is_broken_between_graphemes(self) -> None:
        nest = nest_of(
            document([frame(width=80, height=200, least_slot=0)], paragraph("Wind" + "e\u0301" * 60 + " kites"))
        ).nest
        self.assertTrue(nest.broken)
        self.assertEqual(nest.leftover_words, 0)
        text = nest.copy.text
        for start, _ in nest.ranges:
            self.assertNotEqual(text[start], "\u0301", "never between a letter and its accent")

    def test_leftover_goes_on_below_the_edge_and_is_counted_in_words(self) -> None:
        nest = nest_of(document([frame(width=200, height=40)], paragraph(STORY))).nest
        self.assertGreater(nest.leftover_words, 10)
        self.assertEqual(nest.leftover_words + len(nest.copy.text[: nest.leftover_start].split()), nest.copy.words)
        self.assertTrue((nest.records[nest.past][:, k.BASELINE] > 140).all())
        self.assertEqual(nest.fill, 1.0)

    def test_padding_that_leaves_nothing_loses_nothing(self) -> None:
        nest = nest_of(document([frame(width=40, height=40, padding=30)], paragraph("Bring string"))).nest
        self.assertEqual(nest.leftover_words, 2)
        self.assertTrue(nest.past.all())

    def test_empty_copy_and_empty_paragraphs(self) -> None:
        self.assertEqual(len(nest_of(document([frame()], paragraph(""))).nest.records), 1)
        nest = nest_of(document([frame()], paragraph("One"), paragraph(""), paragraph("Two"))).nest
        self.assertEqual(nest.lines, 3)

    def test_a_forced_break_ends_the_line(self) -> None:
        nest = nest_of(document([frame()], paragraph("Bring string\u2028bring friends"))).nest
        self.assertEqual([nest.copy.text[a:b] for a, b in nest.ranges], ["Bring string", "bring friends"])

    def test_a_tall_run_gets_the_band_it_needs(self) -> None:
        runs = {"runs": [{"text": "low low low "}, {"text": "TALL", "size": 40}, {"text": " low"}]}
        nest = nest_of(document([frame(width=500)], runs)).nest
        self.assertAlmostEqual(nest.records[0, k.BASELINE] - 100, 0.706 * 40, delta=0.1)

    def test_frames_that_nothing_pushes(self) -> None:
        raw = document([frame(pushed=False), obstacle(y=120)], paragraph(STORY))
        free = document([frame()], paragraph(STORY))
        self.assertEqual(nest_of(raw).nest.ranges.tolist(), nest_of(free).nest.ranges.tolist())

    def test_wraps_push_whichever_lies_on_top(self) -> None:
        over, under = (
            document([frame(), obstacle(y=120)], paragraph(STORY)),
            document([obstacle(y=120), frame()], paragraph(STORY)),
        )
        self.assertEqual(nest_of(over).nest.ranges.tolist(), nest_of(under).nest.ranges.tolist())

    def test_a_hidden_object_pushes_nothing_and_one_without_paint_does(self) -> None:
        free = nest_of(document([frame()], paragraph(STORY))).nest.ranges.tolist()
        hidden = nest_of(document([frame(), obstacle(y=120, hidden=True)], paragraph(STORY))).nest.ranges.tolist()
        unpainted = nest_of(document([frame(), obstacle(y=120, paint=False)], paragraph(STORY))).nest.ranges.tolist()
        self.assertEqual(hidden, free)
        self.assertNotEqual(unpainted, free)

    def test_turned_frames_nest_level_or_turned(self) -> None:
        level = nest_of(document([frame("ellipse", turn=30)], paragraph(STORY)))
        self.assertIsNone(level.matrix)
        turned = nest_of(document([frame("ellipse", turn=30, setting="turned")], paragraph(STORY)))
        straight = nest_of(document([frame("ellipse")], paragraph(STORY)))
        self.assertIsNotNone(turned.matrix)
        np.testing.assert_allclose(turned.nest.left, straight.nest.left, atol=1e-6)


class Alignment(unittest.TestCase):
    def lines(self, **rules: Any) -> Any:
        return nest_of(document([frame(width=220, height=400)], paragraph(STORY, **rules))).nest

    def test_start_center_end(self) -> None:
        start, center, end = (self.lines(align=a) for a in ("start", "center", "end"))
        self.assertTrue(np.allclose(start.left, 100))
        self.assertTrue(np.allclose(center.left - 100, 320 - center.right))
        self.assertTrue(np.allclose(end.right, 320))

    def test_justified_lines_fill_their_slots_but_the_last(self) -> None:
        nest = self.lines(align="justify")
        full = ~nest.loose
        full[-1] = False
        self.assertTrue(full.sum() > 3)
        self.assertTrue(np.allclose(nest.right[full], 320, atol=1e-6))
        self.assertLess(nest.right[-1], 319)

    def test_the_last_line_aligns_as_it_is_told(self) -> None:
        self.assertAlmostEqual(self.lines(align="justify", last="end").right[-1], 320)

    def test_a_line_that_cannot_be_filled_decently_is_set_natural_and_marked(self) -> None:
        nest = nest_of(
            document(
                [frame(width=120)],
                paragraph("a bb Quarrowbykitedays and more words", align="justify", breaking="first-fit"),
            )
        ).nest
        self.assertTrue(nest.loose.any())
        self.assertEqual(nest.space_more[nest.loose].tolist(), [0.0] * int(nest.loose.sum()))

    def test_indents(self) -> None:
        nest = self.lines(first_indent=20, indent=5)
        self.assertAlmostEqual(nest.left[0], 125)
        self.assertTrue(np.allclose(nest.left[1:], 105))

    def test_punctuation_hangs_outside_the_slot(self) -> None:
        text = "“Bring string, bring friends,” and bring whatever you built at the kitchen table."
        plain, hanging = (
            nest_of(document([frame(width=150)], paragraph(text, align="justify", hang_punctuation=h))).nest
            for h in (False, True)
        )
        self.assertAlmostEqual(plain.drawn.x[0], 100)
        mark = plain.copy.x[1] - plain.copy.x[0]
        self.assertAlmostEqual(hanging.drawn.x[0], 100 - 0.6 * mark * hanging.factors[0], places=6)

    def test_baselines_stand_on_the_pages_grid(self) -> None:
        for breaking in ("optimal", "first-fit"):
            for kind in ("rectangle", "heart"):
                raw = document([frame(kind, y=103)], paragraph(STORY, grid=13, leading=12, breaking=breaking))
                baselines = nest_of(raw).nest.records[:, k.BASELINE]
                self.assertLess(np.abs(baselines / 13 - np.round(baselines / 13)).max(), 1e-6)
                self.assertTrue((np.diff(np.unique(baselines)) >= 13 - 1e-6).all())

    def test_space_stands_between_paragraphs_but_not_at_the_top(self) -> None:
        two = [paragraph("One", space_before=9, space_after=4), paragraph("Two", space_before=5)]
        records = nest_of(document([frame()], *two)).nest.records
        self.assertAlmostEqual(records[0, k.TOP], 100)
        self.assertAlmostEqual(records[1, k.BASELINE] - records[0, k.BASELINE], 11 * 1.25 + 9)
