"""Columns, lines kept together, drop caps, tabs, leading out, and edges by ink."""

from __future__ import annotations

import random
import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from draws import cases, fair, seeds, thrown
from nestline import rows as k
from nestline.copy.dummy import dummy_paragraphs
from nestline.nesting.glyphs import column_rules, drop_caps, glyph_runs, leaders
from nestline.output.lines import frame_report
from support import STORY, document, frame, nest_of, obstacle, paragraph

WORDS = "Bring string and a warm coat, the wind on Quarry Hill is colder than it looks from the road below. "


def several(*paragraphs: dict[str, Any], **rules: Any) -> Any:
    raw = document([frame(**rules)], paragraphs[0])
    raw["copies"]["story"]["versions"]["en"]["paragraphs"] = list(paragraphs)
    return nest_of(raw)


class Columns(unittest.TestCase):
    def test_strips_of_the_padded_box_with_gutters_between(self) -> None:
        nest = nest_of(
            document([frame(width=320, height=200, padding=10, columns=3, gutter=12)], paragraph(WORDS * 6))
        ).nest
        width = (300 - 24) / 3
        for row in nest.records:
            left = 110 + row[k.COLUMN] * (width + 12)
            self.assertAlmostEqual(row[k.LEFT], left, places=6)
            self.assertAlmostEqual(row[k.RIGHT], left + width, places=6)
        self.assertEqual(sorted(set(nest.records[:, k.COLUMN])), [0, 1, 2])

    def test_they_share_the_y_at_which_their_first_lines_hang(self) -> None:
        nest = nest_of(document([frame(width=300, height=100, columns=2, hang="cap")], paragraph(WORDS * 4))).nest
        first = [nest.records[nest.records[:, k.COLUMN] == c][0, k.BASELINE] for c in (0, 1)]
        self.assertEqual(first[0], first[1])

    def test_balanced_is_the_smallest_depth_that_holds_all(self) -> None:
        for repeat in range(2, 9):
            raw = document(
                [frame(width=360, height=400, columns=3, balance=True)], paragraph(WORDS * repeat, breaking="first-fit")
            )
            nest = nest_of(raw).nest
            self.assertEqual(nest.leftover_words, 0)
            counts = [len(set(nest.records[nest.records[:, k.COLUMN] == c][:, k.LINE])) for c in range(3)]
            single = nest_of(
                document([frame(width=112, height=2000)], paragraph(WORDS * repeat, breaking="first-fit"))
            ).nest
            self.assertEqual(max(counts), -(-single.lines // 3), (repeat, counts))

    def test_balanced_columns_sit_in_the_middle(self) -> None:
        nest = nest_of(
            document([frame(width=360, height=400, columns=3, balance=True, sit="middle")], paragraph(WORDS * 5))
        ).nest
        self.assertAlmostEqual(nest.residue, 0, delta=0.05)
        top = nest.records[0, k.BASELINE] - nest.copy.pieces[0, k.ASC] - 100
        last = nest.records[:, k.BASELINE].max() + nest.copy.pieces[0, k.DESC]
        self.assertAlmostEqual(top, 500 - last, delta=0.1)

    @settings(max_examples=cases(40))
    @given(
        st.sampled_from(["heart", "leaf", "ellipse", "star", "rectangle"]),
        st.integers(2, 4),
        st.integers(2, 9),
        st.booleans(),
        st.booleans(),
        st.sampled_from(["top", "middle", "bottom", "leaded"]),
    )
    def test_nothing_is_lost_and_nothing_leaves_its_strip(
        self, kind: str, columns: int, repeat: int, balance: bool, wrapped: bool, sit: str
    ) -> None:
        things = [
            frame(kind, width=400, height=360, columns=columns, gutter=10, balance=balance, sit=sit, least_slot=20)
        ]
        if wrapped:
            things.append(obstacle(x=230, y=200, width=90, height=70))
        nest = nest_of(document(things, paragraph(WORDS * repeat))).nest
        ranges = nest.ranges.tolist()
        for (_, end), (start, _) in zip(ranges, ranges[1:], strict=False):
            self.assertFalse(nest.copy.text[end:start].strip())
        width = (400 - (columns - 1) * 10) / columns
        left, _, right, _ = nest.padded.bounds
        width = (right - left - (columns - 1) * 10) / columns
        for row in nest.records[~nest.past]:
            begin = left + row[k.COLUMN] * (width + 10)
            self.assertGreaterEqual(row[k.LEFT], begin - 1e-6)
            self.assertLessEqual(row[k.RIGHT], begin + width + 1e-6)

    def test_a_paragraph_may_begin_a_new_column(self) -> None:
        placed = several(paragraph(WORDS), paragraph(WORDS, new_column=True), width=300, height=200, columns=2)
        second = placed.nest.records[placed.nest.records[:, k.COLUMN] == 1]
        self.assertEqual(int(placed.nest.ranges[len(placed.nest.records) - len(second), 0]), len(WORDS) + 1)

    def test_lines_count_from_one_in_each_column_of_the_report(self) -> None:
        placed = nest_of(document([frame(width=300, height=100, columns=2)], paragraph(WORDS * 3)))
        lines = frame_report(placed)["lines"]
        self.assertEqual([r["line"] for r in lines if r["column"] == 2][0], 1)

    def test_a_rule_stands_in_the_middle_of_the_gutter(self) -> None:
        placed = nest_of(document([frame(width=300, height=100, columns=2, gutter=20)], paragraph(WORDS * 3)))
        ((x, top, bottom),) = column_rules(placed.nest)
        self.assertAlmostEqual(x, 250)
        self.assertAlmostEqual(top, placed.nest.records[:, k.TOP].min())
        self.assertAlmostEqual(bottom, placed.nest.records[:, k.BOTTOM].max())


class KeptTogether(unittest.TestCase):
    def lines_of(self, placed: Any, paragraph_: int) -> list[int]:
        """How many lines a paragraph has in each column."""
        nest = placed.nest
        of = nest.copy.pieces[nest.records[:, k.FIRST].astype(int), k.PARAGRAPH]
        return [
            len(set(nest.records[(of == paragraph_) & (nest.records[:, k.COLUMN] == c)][:, k.LINE])) for c in (0, 1)
        ]

    def test_a_column_ends_with_enough_lines_of_a_paragraph(self) -> None:
        whole = 0
        for height in range(80, 190, 7):
            both = [
                paragraph(WORDS * 2, keep={"start": 2, "end": 3}),
                paragraph(WORDS * 3, keep={"start": 2, "end": 3}),
            ]
            placed = several(*both, width=300, height=height, columns=2)
            for index in (0, 1):
                first, second = self.lines_of(placed, index)
                if first and second:
                    self.assertGreaterEqual(first, 3, height)
                    if placed.nest.leftover_words == 0:
                        whole += 1
                        self.assertGreaterEqual(second, 2, height)
        self.assertGreater(whole, 3)

    def test_whole_paragraphs_and_those_held_to_the_next(self) -> None:
        whole = several(
            paragraph(WORDS * 2), paragraph(WORDS * 2, keep={"whole": True}), width=300, height=130, columns=2
        )
        self.assertIn(0, self.lines_of(whole, 1))
        head = [
            paragraph(WORDS * 2),
            paragraph("A heading", keep={"next": True, "start": 1, "end": 1}),
            paragraph(WORDS),
        ]
        free = several(*[{**p, "keep": None} for p in head], width=300, height=97, columns=2)
        held = several(*head, width=300, height=97, columns=2)
        self.assertEqual(self.lines_of(free, 1), [1, 0])
        self.assertEqual(self.lines_of(held, 1), [0, 1])

    def test_breaks_are_chosen_for_columns_to_end_full(self) -> None:
        """A paragraph whose last line would stand alone in the next column gets a line less, or one more, where its
        lines allow it: no line is taken from this column for it."""
        dice = thrown(8)
        words = " ".join(dummy_paragraphs("en", 900)).split()
        alone = full = 0
        for _ in range(150):
            start, rules = (
                dice.randrange(len(words) - 160),
                {"align": "justify", "breaking": "optimal", "hyphenate": True},
            )
            text, width, height = " ".join(words[start : start + 160]), dice.uniform(300, 400), dice.uniform(70, 160)
            heads = []
            for keep in ({"start": 1, "end": 1}, {"start": 2, "end": 2}):
                parts = [
                    paragraph(part, size=10, leading="13pt", keep=keep, **rules)
                    for part in (text[: len(text) // 2], text[len(text) // 2 :])
                ]
                box = {"width": width, "height": height, "columns": 2}
                records = several(*parts, **box).nest.records
                columns = [records[(records[:, k.COLUMN] == c) & (records[:, k.PAST] == 0)] for c in (0, 1)]
                heads.append([c[:, k.BASELINE] for c in columns])
                if len(heads) == 1:
                    last = records[records[:, k.FIRST] >= columns[0][-1, k.LAST] + 1]
                    widow = (
                        len(last) > 0
                        and last[0, k.PARAGRAPH_START] == 0
                        and (len(last) == 1 or last[1, k.PARAGRAPH_START])
                    )
            if widow:
                alone += 1
                full += len(heads[1][0]) == len(heads[0][0])
        self.assertGreaterEqual(alone, fair(5))
        self.assertGreaterEqual(full, fair(2))


class DropCaps(unittest.TestCase):
    def test_it_reaches_from_the_cap_height_of_the_first_line_to_the_baseline_of_its_last(self) -> None:
        for breaking in ("optimal", "first-fit"):
            nest = nest_of(document([frame()], paragraph(WORDS * 3, drop_cap=3, breaking=breaking))).nest
            (cap,) = drop_caps(nest)
            self.assertEqual(cap.text, "B")
            baselines = nest.records[:, k.BASELINE]
            self.assertAlmostEqual(cap.baseline, baselines[2], places=4)
            metrics, size = cap.face.metrics, nest.copy.size
            self.assertAlmostEqual(
                cap.baseline - metrics.cap * cap.look.size, baselines[0] - metrics.cap * size, places=2
            )

    def test_its_ink_begins_at_the_slot_and_copy_stands_clear_of_it(self) -> None:
        nest = nest_of(document([frame()], paragraph(WORDS * 3, drop_cap={"lines": 3, "gap": 4}))).nest
        run = next(r for r in glyph_runs(nest) if r.stretch.role == "drop")
        box = run.stretch.face.hb_font.get_glyph_extents(int(run.ids[0]))
        assert box is not None
        left = run.x[0] + box.x_bearing * run.stretch.scale
        self.assertAlmostEqual(left, 100, places=4)
        right = left + box.width * run.stretch.scale
        self.assertTrue(all(abs(x - right - 4) < 1e-6 for x in nest.left[:3]))
        self.assertAlmostEqual(nest.left[3], 100, places=4)

    def test_no_letter_is_lost_or_set_twice(self) -> None:
        for text in (WORDS, "A kite. " + WORDS, "“Bring” " + WORDS):
            nest = nest_of(document([frame()], paragraph(text, drop_cap=2))).nest
            drawn = "".join(run.text[run.start : run.end] for run in glyph_runs(nest))
            self.assertEqual(drawn.replace(" ", ""), text.replace(" ", ""))
        placed = nest_of(document([frame()], paragraph(WORDS, drop_cap=2)))
        self.assertEqual(frame_report(placed)["lines"][0]["words"][0]["text"], "Bring")

    def test_in_a_curved_outline_it_stands_where_all_its_lines_are_free(self) -> None:
        nest = nest_of(document([frame("ellipse", width=300, height=300)], paragraph(WORDS * 3, drop_cap=3))).nest
        (cap,) = drop_caps(nest)
        x, top = float(nest.records[0, k.CAP_X]), float(nest.records[0, k.TOP])
        inside = ((x - 250) / 150) ** 2 + ((top - 250) / 150) ** 2
        self.assertLessEqual(inside, 1.001)


class Tabs(unittest.TestCase):
    def test_what_follows_begins_ends_or_is_centred_at_its_place(self) -> None:
        for align, edge in (("start", 0.0), ("end", 1.0), ("center", 0.5)):
            line = paragraph("10:00\tKites", tabs=[{"at": 150, "align": align}])
            words = frame_report(nest_of(document([frame()], line)))["lines"][0]["words"]
            self.assertAlmostEqual(words[1]["x"] + edge * words[1]["width"], 250, places=4)

    def test_figures_stand_by_their_point(self) -> None:
        prices = [paragraph(f"a\t{p}", tabs=[{"at": 120, "align": "figure"}]) for p in ("4.50", "112.25", "9")]
        placed = several(*prices)
        lines = frame_report(placed)["lines"]
        self.assertAlmostEqual(lines[2]["words"][1]["x"] + lines[2]["words"][1]["width"], 220, places=4)
        nest = placed.nest
        for number in (0, 1):
            point = nest.copy.text.index(".", int(nest.ranges[number, 0]))
            start = int(nest.copy.segments.start[nest.drawn.segment[nest.drawn.record == number][1]])
            x = lines[number]["words"][1]["x"] + nest.width_of(number, start, point)
            self.assertAlmostEqual(x, 220, places=4)

    def test_the_last_one_leads_to_the_slots_end_with_dots(self) -> None:
        line = paragraph("Knots\t£12", tabs=[{"at": "end", "leader": "."}])
        placed = nest_of(document([frame()], line))
        nest = placed.nest
        self.assertAlmostEqual(float(nest.right[0]), float(nest.records[0, k.RIGHT]), places=6)
        (mark,) = leaders(nest)
        self.assertEqual(set(mark.text), {"."})
        words = frame_report(placed)["lines"][0]["words"]
        self.assertGreater(mark.x, words[0]["x"] + words[0]["width"])

    def test_without_any_it_leads_to_the_next_three_ems(self) -> None:
        words = frame_report(nest_of(document([frame()], paragraph("a\tb", size=10))))["lines"][0]["words"]
        self.assertAlmostEqual(words[1]["x"], 130)


class LeadedOut(unittest.TestCase):
    def test_the_last_line_stands_at_the_bottom(self) -> None:
        nest = several(paragraph(WORDS), paragraph(WORDS), height=64, sit="leaded", stand="baseline").nest
        self.assertAlmostEqual(float(nest.records[-1, k.BASELINE]), 164, delta=0.05)
        self.assertTrue(nest.exact)

    def test_spaces_open_before_the_leading_and_neither_past_its_limit(self) -> None:
        steps = {}
        for height in (62, 70, 400):
            nest = several(paragraph(WORDS), paragraph(WORDS), height=height, sit="leaded", width=300).nest
            baselines = nest.records[:, k.BASELINE]
            steps[height] = [round(float(b - a), 3) for a, b in zip(baselines, baselines[1:], strict=False)]
        plain = 11 * 1.25
        self.assertAlmostEqual(steps[62][0], plain)
        self.assertGreater(steps[62][1], plain)
        self.assertAlmostEqual(steps[400][0], 11 * 1.6, places=3)
        self.assertAlmostEqual(steps[400][1], 11 * 1.6 + 11, places=3)

    def test_one_line_sits_in_the_middle(self) -> None:
        a, b = (nest_of(document([frame(sit=s, height=90)], paragraph("Kites"))).nest for s in ("leaded", "middle"))
        self.assertEqual(a.records[0, k.BASELINE], b.records[0, k.BASELINE])

    def test_balanced_columns_open_together_until_the_deepest_stands_at_the_bottom(self) -> None:
        exact = opened = 0
        for seed in seeds(40):
            dice = random.Random(f"leaded {seed}")
            count = dice.choice([2, 3])
            texts = [paragraph(WORDS * dice.randint(1, 8)) for _ in range(dice.randint(1, 3))]
            rules = {"columns": count, "balance": True, "sit": "leaded", "stand": "baseline"}
            size = {"width": dice.randint(300, 420), "height": dice.randint(90, 300)}
            nest = nest_of(document([frame(**size, **rules)], *texts)).nest
            if nest.leftover_words:
                continue
            records = nest.records
            lines = [set(records[records[:, k.COLUMN] == c][:, k.LINE].tolist()) for c in range(count)]
            if max(map(len, lines)) < 2:
                continue
            self.assertLess(max(map(len, lines[:-1])) - len(lines[-1]), 4, seed)  # even: not one after the other
            foot = float(records[:, k.BASELINE].max())
            self.assertLess(foot, 100 + size["height"] + 0.05)
            opened += nest.opened > 1
            if nest.exact:
                exact += 1
                self.assertAlmostEqual(foot, 100 + size["height"], delta=0.05)
            else:
                self.assertEqual(nest.opened, 2.0, "as far as they may")
        self.assertGreaterEqual(exact, fair(4))
        self.assertGreaterEqual(opened, fair(10))

    def test_balanced_columns_of_one_line_each_sit_in_the_middle(self) -> None:
        nests = [
            nest_of(
                document(
                    [frame(width=200, height=90, columns=2, balance=True, sit=sit)],
                    paragraph("Kites, string and a very long tail"),
                )
            ).nest
            for sit in ("leaded", "middle")
        ]
        self.assertEqual(len(set(nests[0].records[:, k.COLUMN])), 2)
        np.testing.assert_array_equal(nests[0].records, nests[1].records)


class Capacity(unittest.TestCase):
    def test_before_there_are_words_it_says_about_how_many_will_fit(self) -> None:
        for kind, rules in (
            ("rectangle", {}),
            ("rectangle", {"columns": 2}),
            ("leaf", {"padding": 8}),
            ("ellipse", {}),
        ):
            things = [frame(kind, width=300, height=260, least_slot="2em", **rules)]
            empty = nest_of(document(things, paragraph(""))).nest
            prose = " ".join(dummy_paragraphs("en", 400))
            full = nest_of(document(things, paragraph(prose))).nest
            held = full.copy.words - full.leftover_words
            self.assertGreater(empty.capacity, 0.85 * held, kind)
            self.assertLess(empty.capacity, 1.15 * held, kind)


class ByInk(unittest.TestCase):
    def test_the_ink_touches_the_top_and_stands_on_the_bottom(self) -> None:
        for text in ("anna", "Kite", "gap"):
            nest = nest_of(document([frame(hang="ink")], paragraph(text, size=30))).nest
            up, _ = nest.copy.ink(0, len(text))
            self.assertAlmostEqual(float(nest.records[0, k.BASELINE]) - up, 100, places=6)
            low = nest_of(document([frame(height=80, stand="ink", sit="bottom")], paragraph(text, size=30))).nest
            _, down = low.copy.ink(0, len(text))
            self.assertAlmostEqual(float(low.records[-1, k.BASELINE]) + down, 180, places=4)

    def test_with_several_lines_only_the_first_and_the_last_count(self) -> None:
        nest = nest_of(document([frame(hang="ink", width=80, least_slot=0)], paragraph("an axe on Hill", size=24))).nest
        first = nest.copy.text[slice(*nest.ranges[0])]
        up, _ = nest.copy.ink(0, len(first))
        self.assertAlmostEqual(float(nest.records[0, k.BASELINE]) - up, 100, places=6)


class Grid(unittest.TestCase):
    def test_every_column_stands_on_the_grid_of_its_page(self) -> None:
        for seed in seeds(60):
            dice = random.Random(seed)
            step = dice.choice([9, 12, 13.5])
            rules = {"columns": dice.choice([1, 2, 3]), "gutter": 9, "sit": dice.choice(["top", "middle", "bottom"])}
            rules["balance"] = dice.random() < 0.3
            kind = dice.choice(["rectangle", "ellipse", "heart"])
            thing = frame(kind, y=dice.uniform(20, 90), width=300, height=dice.uniform(120, 260), least_slot=0, **rules)
            wraps = [obstacle(y=dice.uniform(60, 300), width=60, height=50)] if dice.random() < 0.5 else []
            breaking = dice.choice(["first-fit", "optimal"])
            text = paragraph(STORY * 2, size=8, leading=10, grid=step, breaking=breaking, hyphenate=True)
            nest = nest_of(document([thing, *wraps], text)).nest
            baselines = nest.records[~nest.past, k.BASELINE]
            self.assertGreater(len(baselines), 0)
            off = np.abs(baselines / step - np.round(baselines / step)).max()
            self.assertLess(off * step, 1e-6, (seed, sorted(set(baselines.round(3)))))

    def test_frames_turned_alike_stand_on_one_grid(self) -> None:
        dice = thrown(2)
        for _ in range(25):
            turn, step = dice.uniform(-170, 170), dice.choice([9.0, 12.0, 13.5])
            down = np.array([-np.sin(np.radians(turn)), np.cos(np.radians(turn))])
            for kind in ("rectangle", "ellipse"):
                pivot = [dice.random(), dice.random()]
                box = {"x": dice.uniform(50, 400), "y": dice.uniform(50, 400), "width": 240, "height": 200}
                thing = frame(kind, turn=turn, pivot=pivot, setting="turned", columns=dice.choice([1, 2]), **box)
                placed = nest_of(document([thing], paragraph(STORY, size=8, leading=10, grid=step)))
                nest, (a, b, c, d, e, f) = placed.nest, placed.matrix or (1, 0, 0, 1, 0, 0)
                records = nest.records[~nest.past]
                self.assertGreater(len(records), 2)
                for x, y in records[:, [k.LEFT, k.BASELINE]]:
                    from_origin = float(np.array([a * x + c * y + e, b * x + d * y + f]) @ down)
                    self.assertAlmostEqual(from_origin / step, round(from_origin / step), delta=1e-6)


class JustifiedTabs(unittest.TestCase):
    def test_no_line_leaves_its_slot(self) -> None:
        for seed in seeds(120):
            dice = random.Random(seed)
            words = STORY.split()
            for place in sorted(dice.sample(range(1, 40), dice.randint(1, 4)), reverse=True):
                words[place : place + 1] = ["\t" + words[place]]
            text = " ".join(words).replace(" \t", "\t")
            tabs = dice.choice(
                [[], [{"at": dice.randint(30, 200), "align": dice.choice(["start", "end", "center"])}], [{"at": "end"}]]
            )
            made = paragraph(
                text,
                align="justify",
                tabs=tabs,
                breaking=dice.choice(["optimal", "first-fit"]),
                hyphenate=dice.random() < 0.5,
            )
            nest = nest_of(document([frame(width=dice.uniform(120, 330), height=500)], made)).nest
            over = (nest.right - nest.records[:, k.RIGHT])[~nest.past]
            self.assertLess(over.max(), 0.01, seed)


if __name__ == "__main__":
    unittest.main()
