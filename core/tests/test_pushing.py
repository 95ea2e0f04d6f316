"""What pushes a frame and what does not: ties, what it lies on, clearance in ems, shapes to stay inside."""

from __future__ import annotations

import random
import unittest
from typing import Any

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from draws import cases, seeds
from nestline import rows as k
from nestline.nesting.nests import settled
from nestline.nesting.wrapping import share_on
from nestline.outlines import placing
from support import KINDS, STORY, area, document, frame, nested, obstacle, paragraph, studio, thing_of

Raw = dict[str, Any]
EDGES = ["top", "right", "bottom", "left"]


def places(raw: Raw, frame_id: str = "f") -> np.ndarray:
    """Where every word of a frame stands."""
    placed = next(n for n in nested(raw) if n.thing.id == frame_id)
    drawn = placed.nest.drawn
    return np.column_stack([drawn.x, placed.nest.records[drawn.record, k.BASELINE]])


def bands(raw: Raw, frame_id: str = "f") -> shapely.Geometry:
    """What the letters of a frame take up: each line's band from its first letter to its last, past the edge aside."""
    placed = next(n for n in nested(raw) if n.thing.id == frame_id)
    nest = placed.nest
    boxes = [
        shapely.box(left, row[k.TOP], right, row[k.BOTTOM])
        for row, left, right in zip(nest.records, nest.left, nest.right, strict=True)
        if not row[k.PAST]
    ]
    if placed.matrix is not None:
        a, b, c, d, e, f = placed.matrix
        m = np.array([[a, b], [c, d]])
        return shapely.transform(shapely.union_all(boxes), lambda places: places @ m + [e, f])
    return shapely.union_all(boxes)


class Tied(unittest.TestCase):
    def test_a_frame_is_not_pushed_by_what_it_is_tied_to_through_any_number_of_ties(self) -> None:
        for seed in seeds(60):
            dice = random.Random(seed)
            count = dice.randint(1, 4)
            things = [
                obstacle(f"w{i}", dice.randint(60, 300), dice.randint(60, 300), kind=dice.choice(KINDS))
                for i in range(count)
            ]
            host = frame(width=260, height=200)
            # Each is tied to one before it, or that to it: a tree of ties, either way; gaps keep all where it stands.
            all_things: list[Raw] = [host, *things]
            for number, thing in enumerate(things, start=1):
                one, other = thing, dice.choice(all_things[:number])
                edge, axis = dice.choice([("left", "x"), ("top", "y")])
                free_there = all(tie["edge"] != edge for tie in other.get("ties", []))  # an edge is tied once
                if dice.random() < 0.5 and free_there:
                    one, other = other, one
                one.setdefault("ties", []).append({"edge": edge, "to": other["id"], "gap": one[axis] - other[axis]})
            order = all_things[:]
            dice.shuffle(order)
            alone = {key: value for key, value in host.items() if key != "ties"}
            free = places(document([alone], paragraph(STORY)))
            self.assertTrue(np.allclose(places(document(order, paragraph(STORY))), free, atol=1e-9), seed)

    def test_what_is_tied_elsewhere_pushes(self) -> None:
        pair = [obstacle("a", y=110), {**obstacle("b", x=700), "ties": [{"edge": "top", "to": "a"}]}]
        free = places(document([frame()], paragraph(STORY)))
        self.assertFalse(np.array_equal(places(document([frame(), *pair], paragraph(STORY))), free))


class LyingOn(unittest.TestCase):
    @settings(max_examples=cases(150))
    @given(
        st.sampled_from(KINDS),
        st.integers(40, 500),
        st.integers(40, 500),
        st.integers(-80, 300),
        st.integers(-80, 300),
        st.sampled_from([0, 0, 30, 90]),
        st.sampled_from([0, 0, 15]),
        st.booleans(),
        st.booleans(),
    )
    def test_on_a_painted_object_that_holds_its_box(
        self,
        kind: str,
        width: int,
        height: int,
        x: int,
        y: int,
        turn: float,
        own_turn: float,
        behind: bool,
        filled: bool,
    ) -> None:
        ground = obstacle("g", x, y, width, height, kind, turn=turn, **({"fill": {"color": "ink"}} if filled else {}))
        host = frame(x=100, y=100, width=150, height=90, turn=own_turn)
        objects = [ground, host] if behind else [host, ground]
        raw = document(objects, paragraph(STORY, size=8))
        # The share of the box that the ground holds, reckoned with areas drawn from its wrap without any clearance.
        thing, other = thing_of({**host, "frame": {"copy": "story"}}), thing_of(ground)
        box = area(placing.on_page(placing.cleared_box(150, 90, (0, 0, 0, 0)), thing))
        outline = area(placing.on_page(placing.cleared_outline(other, 0.0), other))
        share = box.intersection(outline).area / box.area
        if share > 0.6:
            self.assertAlmostEqual(share_on(thing, other), share, delta=1e-3)
        if abs(share - 0.95) < 1e-3:
            return
        if behind and filled and share >= 0.95:
            self.assertTrue(np.array_equal(places(raw), places(document([host], paragraph(STORY, size=8)))))
        else:
            self.assertLess(bands(raw).intersection(outline.buffer(5.9)).area, 1e-3)


class Ems(unittest.TestCase):
    def test_an_em_is_one_of_the_copy_that_is_pushed_of_the_nearest_frame(self) -> None:
        for seed in seeds(40):
            dice = random.Random(seed)
            size = dice.choice([7, 9.5, 14])
            ems = dice.choice([0.5, 1, 1.5])
            kind = dice.choice(["box", "outline"])
            near, far = frame(width=240, height=220), {**frame(x=600, y=600, width=200, height=200), "id": "far"}
            far["frame"] = {"copy": "other"}
            wrap = obstacle("w", dice.randint(80, 300), dice.randint(80, 300), kind=dice.choice(["ellipse", "heart"]))
            given_in_ems = {**wrap, "wrap": {"by": kind, "clearance": f"{ems}em"}}
            in_points = {**wrap, "wrap": {"by": kind, "clearance": ems * size}}
            both = []
            for one in (given_in_ems, in_points):
                raw = document([far, near, one], paragraph(STORY, size=size))
                raw["copies"]["other"] = {"versions": {"en": {"paragraphs": [paragraph("Elsewhere.", size=40)]}}}
                both.append(raw)
            self.assertTrue(np.allclose(places(both[0]), places(both[1]), atol=1e-9), seed)
            self.assertEqual(studio().nest(studio().read(both[0])).ems, {"w": ("f", size)})

    def test_each_side_of_a_box(self) -> None:
        wrap = {**obstacle("w"), "wrap": {"by": "box", "clearance": ["1em", 3, "0.5em + 2", 0]}}
        points = {**obstacle("w"), "wrap": {"by": "box", "clearance": [10, 3, 7, 0]}}
        a, b = (places(document([frame(), w], paragraph(STORY, size=10))) for w in (wrap, points))
        self.assertTrue(np.array_equal(a, b))


class Inside(unittest.TestCase):
    @settings(max_examples=cases(80))
    @given(
        st.sampled_from(["ellipse", "kite", "star", "heart"]),
        st.integers(-100, 420),
        st.integers(-100, 420),
        st.sampled_from([0, 10, 400]),
        st.integers(40, 300),
    )
    def test_a_frame_is_held_by_a_shape_that_it_meets_and_by_no_other(
        self, kind: str, x: int, y: int, clearance: int, side: int
    ) -> None:
        shape = {
            **obstacle("s", x, y, side, side, kind),
            "wrap": {"by": "outline", "inside": True, "clearance": clearance},
        }
        host = frame(x=100, y=100, width=150, height=120)
        nest = next(n for n in nested(document([host, shape], paragraph(STORY, size=8))) if n.thing.id == "f").nest
        thing = thing_of(shape)
        outline = area(placing.on_page(placing.cleared_outline(thing, 0.0), thing))
        held = outline.intersection(shapely.box(100, 100, 250, 220)).area
        free = places(document([host], paragraph(STORY, size=8)))
        if held <= 0:
            self.assertTrue(np.array_equal(places(document([host, shape], paragraph(STORY, size=8))), free))
        elif held > 1e-3:
            inner = outline.buffer(-clearance) if clearance else outline
            set_ = bands(document([host, shape], paragraph(STORY, size=8)))
            self.assertLess(set_.difference(inner.buffer(0.05)).area, 1e-3)
            if inner.is_empty:
                self.assertEqual(int((~nest.past).sum()), 0)
                self.assertEqual(nest.leftover_words, len(STORY.split()))


class OwnSizePaths(unittest.TestCase):
    @settings(max_examples=cases(60))
    @given(st.integers(20, 700), st.integers(20, 700), st.integers(3, 9), st.integers(0, 10_000))
    def test_a_path_without_a_box_is_nested_in_as_it_is_drawn(
        self, width: int, height: int, corners: int, seed: int
    ) -> None:
        dice = random.Random(seed)
        turns = sorted(dice.uniform(0, 6.283) for _ in range(corners))
        points = [(width / 2 + width / 2 * np.cos(a), height / 2 + height / 2 * np.sin(a)) for a in turns]
        d = "M" + "L".join(f"{x:.3f} {y:.3f}" for x, y in points) + "Z"
        thing = thing_of(frame(width=width, height=height, outline={"kind": "path", "d": d}))
        own = shapely.Polygon(points)
        self.assertAlmostEqual(placing.area(thing).area, own.area, delta=0.01 * (own.length + 1))

    def test_it_is_stretched_with_its_object(self) -> None:
        outline = {"kind": "path", "d": "M0 0H200V100H0Z"}
        host = frame(width=200, height=100, outline=outline, give=["bottom"], least_slot=0)
        raw = document([host], paragraph(STORY))
        placed = nested(raw)[0]
        self.assertEqual(placed.nest.leftover_words, 0)
        read = studio().read(raw)
        stands = next(t for _, t in settled(read, studio().nest(read)).objects())
        self.assertAlmostEqual(placing.area(stands).bounds[3], stands.box[3], delta=0.01)


if __name__ == "__main__":
    unittest.main()
