"""Outlines edited by hand, combined, drawn, brought from SVG; combinations against Shapely on fine polygons."""

import math
import unittest
from typing import Any

import numpy as np
from hypothesis import example, given, settings
from hypothesis import strategies as st

from draws import cases
from nestline.acts import ActError
from nestline.document.model import Outline
from nestline.errors import NestLineError
from nestline.outlines import kinds, points
from nestline.outlines.combining import combined
from nestline.outlines.path import bounds, from_svg, transformed
from nestline.outlines.placing import matrix
from nestline.outlines.polygons import area_of
from nestline.outlines.svg_import import read_svg
from support import KINDS, document, frame, paragraph, thing_of
from test_acts import done, outline, things


def page_area(raw: dict[str, Any]) -> Any:
    thing = thing_of({k: v for k, v in raw.items() if k != "frame"})
    return area_of(transformed(kinds.path_of(thing.outline, thing.box[2], thing.box[3]), matrix(thing)))


placed = st.builds(
    lambda kind, x, y, w, h, turn: {
        "id": "", "x": x, "y": y, "width": w, "height": h, "turn": turn, "outline": {"kind": kind}
    },
    st.sampled_from(KINDS), st.integers(0, 120), st.integers(0, 120), st.integers(30, 200), st.integers(30, 200),
    st.sampled_from([0, 0, 17, -60]),
)  # fmt: skip


SQUARE = {"id": "", "x": 0, "y": 0, "width": 30, "height": 30, "turn": 0, "outline": {"kind": "rectangle"}}


class Combining(unittest.TestCase):
    @settings(max_examples=cases(100))
    @example(SQUARE, {**SQUARE, "turn": 17}, "symmetric-difference")
    @given(placed, placed, st.sampled_from(["union", "difference", "intersection", "symmetric-difference"]))
    def test_areas_are_those_of_shapely(self, a: dict[str, Any], b: dict[str, Any], how: str) -> None:
        # Shapely on outlines flattened within 0.01 pt; the area may differ by 0.05 % of both.
        things_ = [thing_of({**a, "id": "a"}), thing_of({**b, "id": "b"})]
        paths = [transformed(kinds.path_of(t.outline, t.box[2], t.box[3]), matrix(t)) for t in things_]
        ours = area_of(combined(paths, how)).area  # type: ignore[arg-type]
        first, second = (area_of(p) for p in paths)
        theirs = {
            "union": first.union,
            "difference": first.difference,
            "intersection": first.intersection,
            "symmetric-difference": first.symmetric_difference,
        }[how](second).area
        self.assertAlmostEqual(ours, theirs, delta=0.0005 * (first.area + second.area))

    def test_curves_stay_curves(self) -> None:
        discs = [
            kinds.path_of(Outline(kind="ellipse"), 100, 100),
            transformed(kinds.path_of(Outline(kind="ellipse"), 100, 100), (1, 0, 0, 1, 50, 0)),
        ]
        pieces = [p for c in combined(discs, "union") for p in c]
        self.assertTrue(all(len(p) == 4 for p in pieces))
        self.assertLess(len(pieces), 24)

    def test_the_result_keeps_the_copy_and_the_paint_of_the_base(self) -> None:
        raw = document([frame("ellipse"), outline("star", fill={"color": "#ff0000"})], paragraph("Kite"))
        after = done(raw, "combine", objects=["a", "f"], how="union", base="a")
        (made,) = things(after).values()
        self.assertEqual((made["id"], made["fill"]["color"], made["frame"]["copy"]), ("a", "#ff0000", "story"))

    def test_stacking_does_not_decide_a_difference(self) -> None:
        a, b = outline(), {**outline(), "id": "b", "x": 60}
        for base, left in (("a", 10), ("b", 110)):
            after = done(document([a, b]), "combine", objects=["a", "b"], how="difference", base=base)
            (made,) = things(after).values()
            self.assertAlmostEqual(made["x"], left, places=2)
            self.assertAlmostEqual(made["width"], 50, places=2)

    def test_copy_of_the_others_is_not_lost(self) -> None:
        second = {**frame(x=150), "id": "g"}
        after = done(document([frame(), second], paragraph("Kite")), "combine", objects=["f", "g"], how="union")
        self.assertEqual(len(things(after)), 2)
        self.assertTrue(all(t["frame"]["copy"] == "story" for t in things(after).values()))

    def test_nothing_left_is_said(self) -> None:
        far = {**outline(), "id": "b", "x": 500}
        with self.assertRaisesRegex(ActError, "nothing would be left"):
            done(document([outline(), far]), "combine", objects=["a", "b"], how="intersection")


class Points(unittest.TestCase):
    def test_a_point_more_changes_no_curve(self) -> None:
        for kind in KINDS:
            for turn in (0, 30):
                raw = document([outline(kind, turn=turn)])
                before = page_area(raw["pages"][0]["objects"][0])
                after = page_area(things(done(raw, "add-point", object="a", at=[60, 20]))["a"])
                self.assertLess(before.symmetric_difference(after).area, 0.5, kind)

    def test_what_is_not_moved_stays_on_its_place_even_when_turned(self) -> None:
        raw = document([outline("rectangle", turn=25, pivot=[0.2, 0.9])])
        thing = thing_of(raw["pages"][0]["objects"][0])
        corner = np.array(matrix(thing)).reshape(3, 2).T @ np.array([0, 80, 1])
        after = done(raw, "move-points", object="a", points=[[0, 1], [0, 2]], by=[30, -12])
        new = thing_of(things(after)["a"])
        path = transformed(kinds.path_of(new.outline, new.box[2], new.box[3]), matrix(new))
        self.assertLess(points.nearest(path, (float(corner[0]), float(corner[1])))[3], 0.01)
        self.assertAlmostEqual(
            page_area(things(after)["a"]).area,
            100 * 80 + 80 * (30 * math.cos(math.radians(25)) - 12 * math.sin(math.radians(25))),
            delta=2,
        )

    def test_kinds_can_be_set_and_are_read_off_the_handles(self) -> None:
        knots = points.knots_of(kinds.path_of(Outline(kind="kite"), 100, 100))
        for kind in ("smooth", "symmetrical", "corner"):
            knots = points.with_kind(knots, {(0, 1)}, kind)  # type: ignore[arg-type]
            self.assertEqual(knots[0][1].kind, kind)

    def test_a_handle_takes_the_other_with_it_unless_it_is_free(self) -> None:
        knots = points.knots_of(kinds.path_of(Outline(kind="ellipse"), 100, 100))
        for free, kind in ((False, "symmetrical"), (True, "corner")):
            moved = points.with_handle(knots, (0, 2), "after", (80, 90), free)
            self.assertEqual(moved[0][2].kind, kind)

    def test_a_deleted_point_goes_and_the_last_two_stay(self) -> None:
        after = done(document([outline()]), "delete-points", object="a", points=[[0, 0]])
        self.assertAlmostEqual(page_area(things(after)["a"]).area, 4000, delta=0.01)
        with self.assertRaisesRegex(ActError, "at least two"):
            done(document([outline()]), "delete-points", object="a", points=[[0, 0], [0, 1], [0, 2]])

    def test_an_outline_drawn_freely_is_where_it_was_drawn(self) -> None:
        knots = [{"at": [100, 100]}, {"at": [200, 100], "before": [180, 80], "after": [220, 120]}, {"at": [150, 220]}]
        after = done(document([]), "draw", page=0, knots=knots)
        (made,) = things(after).values()
        path = from_svg(made["outline"]["d"])
        left, top, right, bottom = bounds(path)
        self.assertAlmostEqual(right - left, made["width"], places=2)
        self.assertAlmostEqual(bottom - top, made["height"], places=2)
        self.assertAlmostEqual(made["x"] + path[0][0][0][0], 100, places=2)

    def test_forty_points_round_a_subject(self) -> None:
        ring = [{"at": [300 + 100 * math.cos(a), 300 + 80 * math.sin(a)]} for a in np.linspace(0, 6.2, 40)]
        (made,) = things(done(document([]), "draw", page=0, knots=ring)).values()
        self.assertEqual(len(from_svg(made["outline"]["d"])[0]), 40)


class TakingCopy(unittest.TestCase):
    def test_copy_taken_out_stays_where_it_stood(self) -> None:
        from support import nested

        for stroke in (None, {"width": 8, "position": "inside"}):
            thing = frame(
                "heart", padding=5, sit="middle", fill={"color": "#eeeeee"}, **({"stroke": stroke} if stroke else {})
            )
            raw = document([thing], paragraph("Bring string, bring friends, and bring whatever you built."))
            after = done(raw, "take-copy", object="f")
            self.assertNotIn("frame", things(after)["f"])
            before_lines, after_lines = (nested(r)[0].nest.records[:, :8] for r in (raw, after))
            np.testing.assert_allclose(after_lines, before_lines, atol=0.02)

    def test_type_and_outline_are_joined_in_one_act(self) -> None:
        raw = document([frame(padding=4), outline("star")], paragraph("Kite"))
        after = done(raw, "join", type="f", outline="a")
        self.assertEqual(list(things(after)), ["a"])
        self.assertEqual(things(after)["a"]["frame"], {"copy": "story", "padding": 4})


SVG = b"""<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100" viewBox="0 0 100 50">
<defs><circle id="c" r="5"/></defs><g transform="translate(10 10)"><rect width="10" height="20" fill="red"/>
<use href="#c" x="20"/></g><path d="M0 0A10 10 0 0 1 20 0Z" stroke="#00f" stroke-width="2" fill="none"/>
<text>hi</text></svg>"""


class Svg(unittest.TestCase):
    def test_shapes_come_in_as_outlines(self) -> None:
        found = read_svg(SVG)
        self.assertEqual(found.left_out, 1)
        rectangle, circle, half = found.shapes
        # 1 px is 0.75 pt, and the view box is shown at twice its size.
        self.assertEqual(bounds(rectangle.path), (15, 15, 30, 45))
        self.assertAlmostEqual(area_of(circle.path).area, math.pi * 7.5**2, delta=0.2)
        self.assertAlmostEqual(area_of(half.path).area, math.pi * 15**2 / 2, delta=0.4)
        self.assertEqual((rectangle.fill, half.fill, half.stroke, half.stroke_width), ("#ff0000", None, "#0000ff", 3))

    def test_they_are_placed_on_the_page_and_never_larger(self) -> None:
        after = done(document([], width=90, height=90), "bring-svg", page=0, svg=SVG.decode())
        for thing in things(after).values():
            self.assertGreaterEqual(thing["x"], 0)
            self.assertLessEqual(thing["x"] + thing["width"], 90)

    def test_hostile_files_are_refused(self) -> None:
        bomb = '<!DOCTYPE s [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]>'
        space = 'xmlns="http://www.w3.org/2000/svg"'
        doubling = "".join(f'<g id="g{i}"><use href="#g{i - 1}"/><use href="#g{i - 1}"/></g>' for i in range(1, 40))
        for bad in (
            f"{bomb}<svg {space}>&b;</svg>",
            f'<!DOCTYPE s [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg {space}>&x;</svg>',
            "<svg",
            "not xml",
            "<html/>",
            f"<svg {space}/>",
            f'<svg {space}><g id="g0"><rect width="1" height="1"/></g>{doubling}</svg>',
            f'<svg {space}><g id="a"><use href="#a"/></g></svg>',
            "<svg " + space + ">" + "<g>" * 3000 + "</g>" * 3000 + "</svg>",
        ):
            with self.assertRaises(NestLineError):
                read_svg(bad.encode())
