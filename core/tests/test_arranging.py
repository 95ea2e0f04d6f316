"""Objects aligned, spaced, stacked, duplicated, pasted, turned, and sized with their type."""

import unittest
from typing import Any

from nestline.acts import ActError
from nestline.acts.arranging import extent
from nestline.nesting.nests import settled
from support import STORY, document, frame, nest_of, paragraph, studio, thing_of
from test_acts import done, things


def box(name: str, x: float, y: float, width: float = 20, height: float = 10, **more: Any) -> dict[str, Any]:
    return {"id": name, "x": x, "y": y, "width": width, "height": height, **more}


ROW = [box("a", 10, 10), box("b", 50, 40, 40), box("c", 200, 90, 10, 30)]


def settled_box(raw: dict[str, Any], identity: str) -> tuple[float, ...]:
    """Where an object comes to stand."""
    read = studio().read(raw)
    return next(t.box for _, t in settled(read, studio().nest(read)).objects() if t.id == identity)


class Aligning(unittest.TestCase):
    def test_each_edge(self) -> None:
        for edge, index, value in (("left", 0, 10), ("right", 2, 210), ("top", 1, 10), ("bottom", 3, 120)):
            after = done(document(ROW), "align", objects=["a", "b", "c"], edge=edge)
            for thing in things(after).values():
                self.assertAlmostEqual(extent(thing_of(thing))[index], value)

    def test_one_object_goes_to_the_page_or_its_margins(self) -> None:
        raw = document([box("a", 1, 1, turn=90)])
        raw["pages"][0]["margins"] = [10, 20, 30, 40]
        for to, middle in (("page", 450), ("margins", 460)):
            left, _, right, _ = extent(thing_of(things(done(raw, "align", objects=["a"], edge="centre", to=to))["a"]))
            self.assertAlmostEqual((left + right) / 2, middle)

    def test_what_follows_its_copy_is_brought_level_as_it_stands(self) -> None:
        def giving(name: str, x: float, y: float, words: int) -> dict[str, Any]:
            return {**frame(x=x, y=y, width=120, height=10, give=["bottom"], copy=name), "id": name}

        raw = document([giving("f", 10, 10, 9), giving("g", 200, 30, 30), box("line", 10, 300)], paragraph(STORY))
        for name, words in (("f", 9), ("g", 30)):
            text = " ".join(STORY.split()[:words])
            raw["copies"][name] = {"versions": {"en": {"paragraphs": [paragraph(text, size=10)]}}}
        raw = done(raw, "anchor", object="line", frame="g", place="beside")
        after = done(raw, "align", objects=["f", "g", "line"], edge="bottom")
        bottoms = [y + height for _, y, _, height in (settled_box(after, i) for i in ("f", "g"))]
        self.assertAlmostEqual(bottoms[0], bottoms[1], delta=0.01)
        self.assertNotEqual(settled_box(after, "f")[3], settled_box(after, "g")[3])
        gaps = done(raw, "distribute", objects=["f", "g"], axis="down", gap=8)
        _, y, _, height = settled_box(gaps, "f")
        self.assertAlmostEqual(settled_box(gaps, "g")[1], y + height + 8, delta=0.01)
        # What hangs from copy is moved by the figures of its anchor.
        level = done(raw, "align", objects=["line"], edge="left", to="page")
        self.assertAlmostEqual(settled_box(level, "line")[0], 0, delta=0.01)
        self.assertEqual(things(level)["line"]["x"], things(raw)["line"]["x"])

    def test_equal_gaps_between_the_outermost(self) -> None:
        after = things(done(document(ROW), "distribute", objects=["a", "b", "c"], axis="across"))
        self.assertAlmostEqual(after["b"]["x"] - 30, after["c"]["x"] - after["b"]["x"] - 40)
        self.assertEqual((after["a"]["x"], after["c"]["x"]), (10, 200))

    def test_a_gap_that_is_given(self) -> None:
        after = things(done(document(ROW), "distribute", objects=["a", "b", "c"], axis="across", gap=5))
        self.assertEqual((after["b"]["x"], after["c"]["x"]), (35, 80))


class Stacking(unittest.TestCase):
    def order(self, ids: list[str], to: str) -> str:
        return "".join(things(done(document([box(i, 0, 0) for i in "abcd"]), "stack", objects=ids, to=to)))

    def test_where_they_go(self) -> None:
        self.assertEqual(self.order(["a", "c"], "front"), "bdac")
        self.assertEqual(self.order(["b", "d"], "back"), "bdac")
        self.assertEqual(self.order(["a", "b"], "forward"), "cabd")
        self.assertEqual(self.order(["c", "d"], "backward"), "acdb")
        self.assertEqual(self.order(["d"], "front"), "abcd")


class Duplicating(unittest.TestCase):
    def test_a_duplicate_has_a_copy_of_its_own(self) -> None:
        after = done(document([frame()], paragraph("Kite")), "duplicate", objects=["f"], by=[5, 7], ids=["g"])
        made = things(after)
        self.assertEqual((made["g"]["x"], made["g"]["y"]), (105, 107))
        self.assertNotEqual(made["g"]["frame"]["copy"], made["f"]["frame"]["copy"])
        self.assertEqual(after["copies"][made["g"]["frame"]["copy"]], after["copies"]["story"])

    def test_what_is_pasted_brings_its_colours_and_styles(self) -> None:
        source = document([frame(fill={"color": "straw"})], paragraph("Kite", style="Loud"))
        after = done(
            document([]),
            "paste",
            page=0,
            objects=source["pages"][0]["objects"],
            copies=source["copies"],
            colors={"straw": "#f6e3b4"},
            styles={"Loud": {"size": 30}},
        )
        self.assertEqual(after["colors"], {"straw": "#f6e3b4"})
        self.assertEqual(after["styles"], {"Loud": {"size": 30}})
        self.assertEqual(len(things(after)), 1)

    def test_deleting_takes_copy_that_no_other_frame_holds(self) -> None:
        twice = [frame(), {**frame(), "id": "g"}]
        self.assertIn("story", done(document(twice, paragraph("Kite")), "delete", objects=["f"])["copies"])
        self.assertEqual(done(document(twice, paragraph("Kite")), "delete", objects=["f", "g"])["copies"], {})

    def test_what_was_tied_to_what_is_deleted_is_tied_no_longer_and_stays(self) -> None:
        picture = {"id": "p", "x": 60, "y": 70, "width": 200, "height": 120}
        to_picture = [{"edge": "top", "to": "p", "its": "bottom", "gap": 3}, {"edge": "width", "to": "p"}]
        caption = {**frame(x=60, y=10, give=["bottom"]), "ties": [*to_picture, {"edge": "left", "to": "rule"}]}
        rule = {"id": "rule", "x": 40, "y": 300, "width": 90, "height": 1}
        raw = document([picture, caption, rule], paragraph(STORY))
        stood = settled_box(raw, "f")
        self.assertEqual(stood[:3], (40, 193, 200))
        after = done(raw, "delete", objects=["p"])
        self.assertEqual(things(after)["f"]["ties"], [{"edge": "left", "to": "rule"}])
        self.assertEqual(settled_box(after, "f"), stood)
        after = done(after, "delete", objects=["rule"])
        self.assertNotIn("ties", things(after)["f"])
        self.assertEqual(settled_box(after, "f"), stood)

    def test_outlines_that_are_combined_can_have_had_ties(self) -> None:
        two = [{**ROW[0], "id": "a"}, {**ROW[1], "id": "b"}, {**ROW[2], "ties": [{"edge": "top", "to": "a"}]}]
        raw = document(two)
        identity = ROW[2]["id"]
        stood = settled_box(raw, identity)
        for base in ("a", "b"):
            after = done(raw, "combine", objects=["a", "b"], how="union", base=base)
            self.assertEqual("ties" in things(after)[identity], base == "a")
            self.assertEqual(settled_box(after, identity)[2:], stood[2:])


class TurningAndSizing(unittest.TestCase):
    def test_turned_about_any_point(self) -> None:
        after = things(done(document(ROW), "turn", objects=["a"], by=90, about=[0, 0]))["a"]
        self.assertAlmostEqual(extent(thing_of(after))[0], -20, places=3)
        self.assertAlmostEqual(extent(thing_of(after))[1], 10, places=3)

    def test_sized_with_its_type_it_breaks_as_before(self) -> None:
        raw = document([frame("heart", padding=6, sit="middle")], paragraph(STORY, size=10, leading=13, space_after=3))
        after = done(raw, "scale", objects=["f"], factor=1.7, about=[100, 100])
        a, b = nest_of(raw).nest, nest_of(after).nest
        self.assertEqual(a.ranges.tolist(), b.ranges.tolist())
        self.assertAlmostEqual(float(b.width[0] / a.width[0]), 1.7, places=3)

    def test_an_outline_sized_alone_lets_its_copy_nest_anew(self) -> None:
        raw = document([frame()], paragraph(STORY))
        after = done(raw, "scale", objects=["f"], factor=1.5, about=[0, 0], type=False)
        self.assertEqual(after["copies"], raw["copies"])
        self.assertLess(nest_of(after).nest.lines, nest_of(raw).nest.lines)

    def test_objects_of_two_pages_are_not_arranged_together(self) -> None:
        raw = document([box("a", 0, 0)])
        raw["pages"].append({"width": 90, "height": 90, "objects": [box("b", 0, 0)]})
        with self.assertRaisesRegex(ActError, "one page"):
            done(raw, "align", objects=["a", "b"], edge="left")
