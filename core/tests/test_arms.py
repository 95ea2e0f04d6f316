"""Arms of an outline, read one after the other."""

import unittest
from typing import Any

import numpy as np
from shapely.geometry import Polygon, box

from draws import thrown
from nestline import rows as k
from nestline.copy.dummy import dummy_paragraphs
from nestline.nesting.placed import PlacedNest
from support import document, frame, nest_of, obstacle, paragraph

WORDS = " ".join(dummy_paragraphs("en", 1500))
LETTERS = {
    "U": ("M0 0H.35V.6H.65V0H1V1H0Z", [(0, 0, 0.35, 0.6), (0.65, 0, 1, 0.6), (0, 0.6, 1, 1)]),
    "n": ("M0 0H1V1H.65V.4H.35V1H0Z", [(0, 0, 1, 0.4), (0, 0.4, 0.35, 1), (0.65, 0.4, 1, 1)]),
    "H": (
        "M0 0H.35V.4H.65V0H1V1H.65V.7H.35V1H0Z",
        [(0, 0, 0.35, 0.4), (0.65, 0, 1, 0.4), (0, 0.4, 1, 0.7), (0, 0.7, 0.35, 1), (0.65, 0.7, 1, 1)],
    ),
}
"""Outlines in a box of 1, and the boxes of their arms as they are read."""


def letter(name: str, words: int = 400, **rules: Any) -> PlacedNest:
    thing = frame(
        x=50, y=50, width=500, height=600, outline={"kind": "path", "d": LETTERS[name][0], "box": [1, 1]}, **rules
    )
    return nest_of(document([thing], paragraph(" ".join(WORDS.split()[:words]), size=9, leading=12)))


def arms(name: str, placed: PlacedNest) -> list[list[int]]:
    """Of each arm the numbers of the records in it; every record lies in one."""
    records = placed.nest.records[~placed.nest.past]
    boxes = [(50 + a * 500, 50 + b * 600, 50 + c * 500, 50 + d * 600) for a, b, c, d in LETTERS[name][1]]
    out: list[list[int]] = [[] for _ in boxes]
    for number, row in enumerate(records):
        inside = [
            i
            for i, (a, b, c, d) in enumerate(boxes)
            if a - 0.1 <= row[k.LEFT] and row[k.RIGHT] <= c + 0.1 and b - 1 <= row[k.TOP] and row[k.BOTTOM] <= d + 1
        ]
        out[inside[0]].append(number)
    return out


class Arms(unittest.TestCase):
    def test_each_arm_is_filled_before_the_next(self) -> None:
        for name in LETTERS:
            for sit in ("top", "middle", "bottom"):
                for breaking in ("first-fit", "optimal"):
                    placed = letter(name, 180 if sit != "top" else 1500, arms="in-turn", sit=sit)
                    self.assertGreater(len(placed.nest.records), 5)
                    inside = arms(name, placed)
                    if sit == "top":
                        self.assertTrue(all(inside), (name, breaking))
                    self.assertEqual(
                        [n for one in inside for n in one], list(range(int((~placed.nest.past).sum()))), (name, sit)
                    )

    def test_across_lines_take_the_slots_of_their_bands(self) -> None:
        placed = letter("U", 900)
        first = placed.nest.records[:2]
        self.assertEqual(first[0, k.BASELINE], first[1, k.BASELINE])
        turned = letter("U", 900, arms="in-turn")
        self.assertLess(turned.nest.records[0, k.BASELINE], turned.nest.records[1, k.BASELINE])

    def test_lines_go_on_by_the_leading_where_arms_meet(self) -> None:
        for name in ("U", "H"):
            placed = letter(name, 900, arms="in-turn")
            inside = arms(name, placed)
            body = inside[2]
            above = max(placed.nest.records[n, k.BASELINE] for one in inside[:2] for n in one)
            self.assertGreaterEqual(placed.nest.records[body[0], k.BASELINE], above + 12 - 1e-6)
            self.assertLess(placed.nest.records[body[0], k.BASELINE], above + 24)

    def test_beside_a_picture_one_side_is_read_before_the_other(self) -> None:
        dice = thrown(4)
        for _ in range(12):
            kind = dice.choice(["ellipse", "rectangle", "kite"])
            picture = obstacle(
                "w", x=100 + dice.uniform(120, 170), y=100 + dice.uniform(60, 120), width=150, height=200, kind=kind
            )
            picture["wrap"]["clearance"] = 8
            thing = frame(x=100, y=100, width=440, height=460, arms="in-turn")
            nest = nest_of(document([thing, picture], paragraph(WORDS, size=9, leading=12))).nest
            records = nest.records[~nest.past]
            middle = picture["x"] + 75
            sides = [0 if r[k.RIGHT] < middle else 1 if r[k.LEFT] > middle else 2 for r in records]
            order = [s for n, s in enumerate(sides) if n == 0 or s != sides[n - 1]]
            self.assertEqual(order, [2, 0, 1, 2])
            for left in range(2):
                down = records[[n for n, s in enumerate(sides) if s == left], k.BASELINE]
                self.assertTrue((np.diff(down) > 11.9).all())

    def test_slots_are_free(self) -> None:
        dice = thrown(9)
        for _ in range(20):
            points = [
                (0.5 + dice.uniform(0.2, 0.5) * np.cos(a), 0.5 + dice.uniform(0.2, 0.5) * np.sin(a))
                for a in np.linspace(0, 6.2, 14)
            ]
            d = "M" + "L".join(f"{x:.4f} {y:.4f}" for x, y in points) + "Z"
            outline = Polygon([(50 + 600 * x, 50 + 600 * y) for x, y in points])
            thing = frame(
                x=50,
                y=50,
                width=600,
                height=600,
                outline={"kind": "path", "d": d, "box": [1, 1]},
                arms="in-turn",
                least_slot="1em",
            )
            nest = nest_of(document([thing], paragraph(WORDS, size=9, leading=12))).nest
            records = nest.records[~nest.past]
            self.assertGreater(len(records), 5)
            bands = [box(r[k.LEFT], r[k.TOP], r[k.RIGHT], r[k.BOTTOM]) for r in records]
            for band in bands:
                self.assertLess(band.difference(outline.buffer(0.05)).area, 1e-6)
            for a, one in enumerate(records):
                for other in records[a + 1 :]:
                    if one[k.LEFT] < other[k.RIGHT] - 1e-6 and other[k.LEFT] < one[k.RIGHT] - 1e-6:
                        self.assertGreater(abs(one[k.BASELINE] - other[k.BASELINE]), 9, "lines on one another")
