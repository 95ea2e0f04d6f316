"""A group goes along with the one of its objects that belongs to copy: an icon of several outlines in a label."""

import unittest
from copy import deepcopy
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from draws import cases
from nestline import rows as k
from nestline.acts import ActError
from nestline.nesting.nests import settled
from nestline.scene import difference, scene_of, whole
from support import STORY, document, frame, paragraph, studio
from test_acts import done

Raw = dict[str, Any]
LEFT = {"ends": "with-the-last-line"}
PARTS = {"wick": (410, 40, 4, 10), "leaf": (406, 50, 12, 6), "spark": (412, 34, 6, 4)}
"""The icon's outlines: together 12 × 22 at 406, 34."""


def part(name: str, **more: Any) -> Raw:
    x, y, width, height = PARTS[name]
    return {"id": name, "x": x, "y": y, "width": width, "height": height, "fill": {"color": "ink"}, **more}


def label(anchor: Raw | None, runs: list[Raw] | None = None, group: bool = True, **rules: Any) -> Raw:
    """A label, and an icon whose wick belongs to its copy when an anchor is given."""
    parts = [part(n, **({"anchor": anchor} if n == "wick" and anchor else {})) for n in PARTS]
    icon = [{"id": "icon", "name": "Candle", "objects": parts}] if group else parts
    runs = runs or [{"text": "Bring "}, {"object": "wick"}, {"text": " string and friends up to the hill"}]
    words = {"runs": runs if anchor else [{"text": STORY}], "size": 12, "leading": 15}
    return document([frame(**rules), *icon], words)


def boxes(raw: Raw) -> dict[str, tuple[float, ...]]:
    """Where every object that is seen comes to stand: x, y, width, height and turn."""
    read = studio().read(raw)
    things = settled(read, studio().nest(read))
    return {t.id: (*t.box, t.turn) for _, t in things.objects() if not t.hidden}


def around(found: dict[str, tuple[float, ...]], names: Any = tuple(PARTS)) -> tuple[float, float, float, float]:
    xs = [found[n] for n in names]
    return (min(b[0] for b in xs), min(b[1] for b in xs), max(b[0] + b[2] for b in xs), max(b[1] + b[3] for b in xs))


class OnSeveralPages(unittest.TestCase):
    def test_what_stands_on_another_page_is_in_no_group_with_what_stands_here(self) -> None:
        raw = label(
            {"place": "beside"}, [{"text": STORY + " "}, {"object": "wick"}, {"text": STORY}], group=False, height=40
        )
        more = {"id": "g", "x": 100, "y": 100, "width": 260, "height": 300, "frame": {"copy": "story"}}
        raw["pages"].append({"width": 600, "height": 800, "objects": [more]})
        raw["chains"] = [["f", "g"]]
        read = studio().read(raw)
        self.assertEqual(studio().nest(read).page_of, {"wick": 1})
        with self.assertRaisesRegex(ActError, "several"):
            done(raw, "group", objects=["wick", "leaf"])
        self.assertEqual(len(done(raw, "group", objects=["spark", "leaf"])["pages"][0]["objects"]), 3)


class InLine(unittest.TestCase):
    def test_no_wrap_is_told_of_what_stands_in_a_line_for_it_pushes_nothing(self) -> None:
        pushes = {"wrap": {"by": "outline", "clearance": 4}}
        told = {}
        for place in ("in-line", "beside"):
            raw = label({"place": place})
            for one in raw["pages"][0]["objects"][1]["objects"]:
                one |= pushes
            own = studio()
            scene = scene_of(own, own.read(raw))
            told[place] = {n: o["wrap"] for n, o in whole(own, scene)["objects"].items() if n in PARTS}
            # As it changes from the one to the other, all of it is told anew.
            other = deepcopy(raw)
            other["pages"][0]["objects"][1]["objects"][0]["anchor"]["place"] = {
                "in-line": "beside",
                "beside": "in-line",
            }[place]
            self.assertLessEqual(PARTS.keys(), difference(own, scene, scene_of(own, own.read(other)))["objects"].keys())
        self.assertEqual(set(told["in-line"].values()), {None})
        self.assertNotIn(None, told["beside"].values())

    def test_all_of_it_stands_in_the_line_as_one(self) -> None:
        raw = label({"place": "in-line"})
        found = boxes(raw)
        nest = studio().nest(studio().read(raw))[0].nest
        left, top, right, bottom = around(found)
        self.assertAlmostEqual(bottom, float(nest.records[0, k.BASELINE]), places=3)
        self.assertAlmostEqual(right - left, 12, places=3)
        for name, (x, y, width, height) in PARTS.items():
            self.assertAlmostEqual(found[name][0] - left, x - 406, places=3)
            self.assertAlmostEqual(found[name][1] - top, y - 34, places=3)
            self.assertEqual(found[name][2:4], (width, height))

    def test_words_keep_clear_of_all_of_it(self) -> None:
        raw = label({"place": "in-line"})
        nest = studio().nest(studio().read(raw))[0].nest
        words = {
            nest.copy.text[a:b]: (float(x), float(x + w))
            for a, b, x, w in zip(
                nest.copy.segments.start, nest.copy.segments.end, nest.drawn.x, nest.copy.segments.width, strict=True
            )
        }
        left, _, right, _ = around(boxes(raw))
        self.assertGreater(left, words["Bring"][1])
        self.assertLess(right, words["string"][0])

    def test_icon_and_label_are_centred_as_one(self) -> None:
        raw = label(
            {"place": "in-line"},
            [{"object": "wick"}, {"text": "\u00a0Fly"}],
            sit="middle",
            hang="cap",
            stand="baseline",
            least_slot=0,
            width=120,
        )
        raw["copies"]["story"]["versions"]["en"]["paragraphs"][0]["align"] = "center"
        nest = studio().nest(studio().read(raw))[0].nest
        left, top, _, bottom = around(boxes(raw))
        self.assertAlmostEqual(left - 100, 220 - float(nest.right[0]), delta=0.02)
        self.assertAlmostEqual(top - 100, 380 - bottom, delta=0.06)

    def test_with_fitted_type_it_grows_as_a_whole(self) -> None:
        raw = label({"place": "in-line"}, width=160, height=90, fit_type={"least": 6, "grow": True, "greatest": 60})
        found = boxes(raw)
        size = found["wick"][2] / 4
        self.assertGreater(size, 1.2)
        left, top, right, bottom = around(found)
        self.assertAlmostEqual(right - left, 12 * size, places=2)
        self.assertAlmostEqual(bottom - top, 22 * size, places=2)
        self.assertAlmostEqual(found["spark"][0] - left, 6 * size, places=2)

    def test_it_turns_with_a_frame_that_is_set_turned(self) -> None:
        level, turned = (
            boxes(label({"place": "in-line"})),
            boxes(label({"place": "in-line"}, turn=90, setting="turned")),
        )
        middle = (100 + 150, 100 + 140)
        for name in PARTS:
            x, y, width, height, _ = level[name]
            right, down = x + width / 2 - middle[0], y + height / 2 - middle[1]
            x, y, width, height, turn = turned[name]
            self.assertAlmostEqual(x + width / 2, middle[0] - down, delta=1e-3)
            self.assertAlmostEqual(y + height / 2, middle[1] + right, delta=1e-3)
            self.assertEqual(turn, 90)

    def test_in_the_leftover_all_of_it_waits(self) -> None:
        raw = label({"place": "in-line"}, [{"text": STORY}, {"object": "wick"}], height=40, leftover=LEFT)
        self.assertFalse(set(PARTS) & set(boxes(raw)))

    def test_in_line_none_of_it_pushes_copy(self) -> None:
        raw = label({"place": "in-line"})
        bare = studio().nest(studio().read(raw))[0].nest.records.tolist()
        for one in raw["pages"][0]["objects"][1]["objects"]:
            one["wrap"] = {"by": "outline", "clearance": 9}
        self.assertEqual(studio().nest(studio().read(raw))[0].nest.records.tolist(), bare)

    @given(st.floats(0, 60), st.floats(0, 60), st.integers(-180, 180))
    @settings(max_examples=cases(25), deadline=None)
    def test_where_it_was_drawn_makes_no_difference(self, x: float, y: float, turn: int) -> None:
        raw, moved = label({"place": "in-line"}), label({"place": "in-line"})
        for objects in (raw, moved):
            objects["pages"][0]["objects"][1]["objects"][1]["turn"] = turn
        for one in moved["pages"][0]["objects"][1]["objects"]:
            one["x"], one["y"] = one["x"] + x, one["y"] + y
        for name, box in boxes(raw).items():
            for a, b in zip(box, boxes(moved)[name], strict=True):
                self.assertAlmostEqual(a, b, delta=2e-4)


class WhoGoesAlong(unittest.TestCase):
    def along(self, objects: list[Raw], runs: list[Raw]) -> dict[str, tuple[str, ...]]:
        return dict(studio().read(document(objects, {"runs": runs})).along)

    def test_the_largest_group_that_does_not_hold_the_copy(self) -> None:
        candle = {"id": "icon", "objects": [part("wick", anchor={"place": "in-line"}), part("leaf")]}
        outer = {"id": "outer", "objects": [candle, part("spark")]}
        runs = [{"text": "Bring "}, {"object": "wick"}]
        self.assertEqual(self.along([frame(), outer], runs), {"wick": ("leaf", "spark")})
        whole = {"id": "whole", "objects": [frame(), outer]}
        self.assertEqual(self.along([whole], runs), {"wick": ("leaf", "spark")})
        self.assertEqual(self.along([{"id": "whole", "objects": [frame(), *candle["objects"]]}], runs), {})

    def test_two_that_belong_to_copy_take_each_its_own_group(self) -> None:
        anchor = {"place": "in-line"}
        first = {"id": "a", "objects": [part("wick", anchor=anchor), part("leaf")]}
        second = {"id": "b", "objects": [part("spark", anchor=anchor), {**part("leaf"), "id": "leaf2"}]}
        runs = [{"object": "wick"}, {"text": " Bring "}, {"object": "spark"}]
        found = self.along([frame(), {"id": "both", "objects": [first, second]}], runs)
        self.assertEqual(found, {"wick": ("leaf",), "spark": ("leaf2",)})

    def test_a_group_says_who_leads_it_or_would(self) -> None:
        def leaders(raw: Raw) -> Any:
            return studio().nest(studio().read(raw)).leaders

        self.assertEqual(leaders(label(None)), {"icon": "leaf"}, "its largest")
        self.assertEqual(leaders(label({"place": "in-line"})), {"icon": "wick"})
        # In a group with the frame of that copy only the inner one goes along; the label would lead the whole.
        raw = label({"place": "in-line"})
        raw["pages"][0]["objects"] = [{"id": "card", "objects": raw["pages"][0]["objects"]}]
        self.assertEqual(leaders(raw), {"card": "f", "icon": "wick"})
        raw = deepcopy(raw)
        raw["pages"][0]["objects"][0]["objects"][1]["objects"] = [part("wick", anchor={"place": "in-line"})]
        self.assertEqual(leaders(raw)["icon"], None, "nothing goes along, and nothing is loose")

    def test_what_is_tied_follows_its_tie(self) -> None:
        tie = {"edge": "left", "to": "wick", "its": "right", "gap": 3}
        icon = {"id": "icon", "objects": [part("wick", anchor={"place": "in-line"}), part("leaf", ties=[tie])]}
        self.assertEqual(self.along([frame(), icon], [{"object": "wick"}]), {})


class Acts(unittest.TestCase):
    """What is done by hand: everything stays where it is seen unless it is moved."""

    def assert_same(self, one: dict[str, tuple[float, ...]], other: dict[str, tuple[float, ...]], names: Any) -> None:
        for name in names:
            for a, b in zip(one[name], other[name], strict=True):
                self.assertAlmostEqual(a, b, delta=1e-3, msg=name)

    def test_put_beside_its_line_all_of_it_stays(self) -> None:
        raw = label(None)
        after = done(raw, "anchor", object="wick", frame="f", place="beside")
        self.assert_same(boxes(raw), boxes(after), PARTS)
        # Copy put in above: all of it goes down with its line.
        runs = after["copies"]["story"]["versions"]["en"]["paragraphs"][0]["runs"]
        longer = {
            **after,
            "copies": {"story": {"versions": {"en": {"paragraphs": [paragraph(STORY), {"runs": runs}]}}}},
        }
        before, below = boxes(after), boxes(longer)
        down = below["wick"][1] - before["wick"][1]
        self.assertGreater(down, 30)
        for name in PARTS:
            self.assertAlmostEqual(below[name][1] - before[name][1], down, delta=1e-3)
            self.assertAlmostEqual(below[name][0], before[name][0], delta=1e-3)

    def test_put_in_the_middle_all_of_it_is_there_and_pushes(self) -> None:
        raw = label(None, width=200, height=300)
        after = done(raw, "anchor", object="wick", frame="f", place="centred")
        left, top, right, bottom = around(boxes(after))
        self.assertAlmostEqual((left + right) / 2, 200, delta=1e-3)
        self.assertAlmostEqual((top + bottom) / 2, 250, delta=1e-3)
        wraps = [o["wrap"]["by"] for o in after["pages"][0]["objects"][-1]["objects"]]
        self.assertEqual(wraps, ["outline"] * 3)

    def test_a_badge_with_its_label_is_one(self) -> None:
        label_ = {
            **frame("ellipse", x=420, y=60, width=60, height=60, copy="free", sit="middle", least_slot=0),
            "id": "b",
        }
        ring = {"id": "r", "x": 415, "y": 55, "width": 70, "height": 70, "outline": {"kind": "ellipse"}}
        raw = document([frame(height=300), {"id": "badge", "objects": [ring, label_]}], paragraph(STORY * 2))
        word = paragraph("Free", size=14, align="center")
        raw["copies"]["free"] = {"versions": {"en": {"paragraphs": [word]}}}

        def stands(raw: Raw) -> tuple[float, float]:
            """Where the word stands in its badge."""
            read = studio().read(raw)
            nest = next(n.nest for n in studio().nest(read) if n.thing.id == "b")
            self.assertEqual(nest.leftover_words, 0)
            x, y, *_ = boxes(raw)["b"]
            return float(nest.left[0]) - x, float(nest.records[0, k.BASELINE]) - y

        alone = stands(raw)
        for leader in ("r", "b"):
            for place in ("in-line", "beside", "centred"):
                after = done(raw, "anchor", object=leader, frame="f", place=place)
                for a, b in zip(stands(after), alone, strict=True):
                    self.assertAlmostEqual(a, b, delta=1e-3, msg=f"{leader} {place}")
                self.assertAlmostEqual(boxes(after)["b"][0] - boxes(after)["r"][0], 5, delta=1e-3)

    def test_a_group_behind_the_frame_comes_before_it_whole(self) -> None:
        raw = label(None)
        raw["pages"][0]["objects"].reverse()
        after = done(raw, "anchor", object="wick", frame="f", place="in-line")
        self.assertEqual([o["id"] for o in after["pages"][0]["objects"]], ["f", "icon"])
        self.assertEqual(len(after["pages"][0]["objects"][1]["objects"]), 3)

    def test_moved_by_hand_it_moves_once(self) -> None:
        raw = done(label(None), "anchor", object="wick", frame="f", place="beside")
        after = done(raw, "move", objects=list(PARTS), by=(-7, 11))
        before, moved = boxes(raw), boxes(after)
        for name in PARTS:
            self.assertAlmostEqual(moved[name][0] - before[name][0], -7, delta=1e-3)
            self.assertAlmostEqual(moved[name][1] - before[name][1], 11, delta=1e-3)

    def test_in_line_it_is_not_moved_and_keeps_its_shape(self) -> None:
        raw = done(label(None), "anchor", object="wick", frame="f", place="in-line")
        self.assertEqual(done(raw, "move", objects=list(PARTS), by=(-7, 11)), raw)
        # One of its outlines alone is moved within it.
        moved = boxes(done(raw, "move", objects=["spark"], by=(0, 2)))
        self.assertAlmostEqual(
            moved["spark"][1] - moved["leaf"][1], PARTS["spark"][1] + 2 - PARTS["leaf"][1], delta=1e-3
        )

    def test_let_go_all_of_it_stays(self) -> None:
        for place in ("in-line", "beside", "centred"):
            raw = done(label(None), "anchor", object="wick", frame="f", place=place)
            after = done(raw, "release", object="wick")
            self.assert_same(boxes(raw), boxes(after), PARTS)
            self.assertFalse(studio().read(after).along)

    def test_let_go_on_the_page_that_its_words_have_run_on_to(self) -> None:
        first, second = {**frame(height=60), "id": "f"}, {**frame(), "id": "g"}
        for one in (first, second):
            one["frame"] = {"copy": "story"}
        icon = {
            "id": "icon",
            "objects": [part(n, **({"anchor": {"place": "beside"}} if n == "wick" else {})) for n in PARTS],
        }
        raw = document([first, icon], {"runs": [{"text": f"{STORY} {STORY} "}, {"object": "wick"}, {"text": " end"}]})
        raw = {
            **raw,
            "pages": [*raw["pages"], {"width": 400, "height": 500, "objects": [second]}],
            "chains": [["f", "g"]],
        }
        before = boxes(raw)
        after = done(raw, "release", object="wick")
        self.assertEqual(len(after["pages"][0]["objects"]), 1)
        self.assertEqual([o["id"] for o in after["pages"][1]["objects"][1]["objects"]], list(PARTS))
        self.assert_same(before, boxes(after), PARTS)

    def test_taken_apart_grouped_and_thinned_out_all_stays_where_it_is(self) -> None:
        for place in ("in-line", "beside", "centred"):
            raw = done(label(None), "anchor", object="wick", frame="f", place=place)
            apart = done(raw, "ungroup", objects=list(PARTS))
            self.assertFalse(studio().read(apart).along)
            self.assert_same(boxes(raw), boxes(apart), ("leaf", "spark"))
            fewer = done(raw, "delete", objects=["wick"])
            self.assert_same(boxes(raw), boxes(fewer), ("leaf", "spark"))
            if place == "in-line":
                continue  # there it takes its room in the line, as much as it needs
            again = done(apart, "group", objects=list(PARTS))
            self.assertEqual(set(studio().read(again).along["wick"]), {"leaf", "spark"})
            self.assert_same(boxes(apart), boxes(again), PARTS)

    def test_frames_of_a_chain_and_what_ties_lead_to_can_be_deleted_beside_it(self) -> None:
        raw = deepcopy(done(label(None), "anchor", object="wick", frame="f", place="in-line"))
        tie = {"edge": "left", "to": "g", "its": "left", "gap": 0}
        note = {"id": "note", "x": 10, "y": 10, "width": 20, "height": 20, "ties": [tie]}
        more = [{**frame(x=100, y=300), "id": name} for name in ("g", "h")]
        raw["pages"][0]["objects"] += [*more, note]
        raw["chains"] = [["f", "g", "h"]]
        after = done(raw, "delete", objects=["g"])
        self.assertEqual(after["chains"], [["f", "h"]])
        self.assert_same(boxes(raw), boxes(after), PARTS)

    def test_wider_than_the_frame_all_of_it_is_fitted(self) -> None:
        raw = label({"place": "in-line"}, width=60, height=300, least_slot=0)
        for one in raw["pages"][0]["objects"][1]["objects"]:
            one["x"], one["width"] = one["x"] * 10, one["width"] * 10
        left, top, right, bottom = around(boxes(done(raw, "fit-in-line", object="wick")))
        self.assertAlmostEqual(right - left, 60, delta=0.01)
        self.assertAlmostEqual((bottom - top) / 22, 0.5, delta=1e-3)

    def test_a_duplicate_with_its_words_is_whole(self) -> None:
        raw = done(label(None), "anchor", object="wick", frame="f", place="in-line")
        after = done(raw, "duplicate", objects=["f", *PARTS], by=(0, 200))
        read = studio().read(after)
        self.assertEqual([len(others) for others in read.along.values()], [2, 2])

    def test_a_duplicate_without_its_words_stands_where_it_was_seen(self) -> None:
        for place in ("in-line", "beside", "centred"):
            raw = done(label(None, turn=30, setting="turned"), "anchor", object="wick", frame="f", place=place)
            after = done(raw, "duplicate", objects=list(PARTS), by=(40, 50), ids=["w2", "l2", "s2"])
            self.assertEqual(list(studio().read(after).along), ["wick"])
            before, now = boxes(raw), boxes(after)
            for old, new in zip(PARTS, ("w2", "l2", "s2"), strict=True):
                for a, b, by in zip(now[new], before[old], (40, 50, 0, 0, 0), strict=True):
                    self.assertAlmostEqual(a, b + by, delta=1e-3, msg=place)

    def test_what_cannot_be_is_refused(self) -> None:
        raw = label(None)
        inner = {**frame(x=420, width=60, height=40), "id": "g", "frame": {"copy": "note"}}
        raw["pages"][0]["objects"][1]["objects"].append(inner)
        raw["copies"]["note"] = {"versions": {"en": {"paragraphs": [{"runs": [{"object": "f"}]}]}}}
        raw["pages"][0]["objects"][0]["anchor"] = {"place": "in-line"}
        with self.assertRaisesRegex(ActError, "stands in the copy of “Frame 1” itself"):
            done(raw, "anchor", object="wick", frame="f", place="in-line")
