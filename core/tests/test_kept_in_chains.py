"""What is kept while a document changes, nests of a chain and the spaces of frames, comes to what a cold start comes
to, to the last bit."""

from __future__ import annotations

import random
import unittest
from typing import Any
from unittest import mock

import numpy as np

from draws import fair, seeds
from nestline.copy.shaped_copy import ShapedCopy
from nestline.document import edits
from nestline.nesting import nester
from nestline.nesting.frame_nest import FrameNest
from support import STORY, document, frame, paragraph, studio

Raw = dict[str, Any]
WORDS = STORY.split()


def written(dice: random.Random) -> Raw:
    text = " ".join(dice.choices(WORDS, k=dice.randint(1, 30)))
    rules: Raw = {
        "size": dice.choice([9, 10, 10, 10, 14]),
        "align": dice.choice(["start", "justify", "justify", "center"]),
    }
    rules["breaking"] = dice.choice(["first-fit", "optimal", "optimal"])
    for more in (
        {"space_before": 5},
        {"first_indent": 9},
        {"keep": {"start": 2, "end": 2}},
        {"keep": {"next": True}},
        {"hyphenate": True},
        {"drop_cap": {"lines": 2}},
        {"grid": "13pt"},
        {"hang_punctuation": False},
    ):
        if dice.random() < 0.15:
            rules |= more
    made = paragraph(text, **rules)
    if dice.random() < 0.2:
        made["runs"].append({"text": " " + dice.choice(WORDS), "weight": 700})
    return made


def chained(dice: random.Random) -> Raw:
    count = dice.randint(1, 6)
    pages = []
    rules = dice.choice(
        [
            {},
            {},
            {"sit": "middle"},
            {"sit": "leaded"},
            {"columns": 2},
            {"give": ["bottom"]},
            {"fit_type": {"grow": True}},
        ]
    )
    for n in range(count):
        size = {"width": dice.choice([150, 200, 200]), "height": dice.choice([90, 140, 140])}
        kind = dice.choice(["rectangle", "rectangle", "ellipse"])
        objects = [{**frame(kind, x=40, y=40, padding=4, **size, **rules), "id": f"f{n}"}]
        if dice.random() < 0.5:
            objects.append(
                {
                    "id": f"w{n}",
                    "x": dice.randint(30, 160),
                    "y": 70,
                    "width": 50,
                    "height": 40,
                    "outline": {"kind": "ellipse"},
                    "wrap": {"by": "outline", "clearance": 5},
                }
            )
        pages.append({"width": 420, "height": 595, "objects": objects})
    raw = document([], *(written(dice) for _ in range(dice.randint(4, 16))))
    chains = [[f"f{n}" for n in range(count)]] if count > 1 else []
    return {**raw, "pages": pages, "chains": chains}


HERE = ["copies", "story", "versions", "en", "paragraphs"]


def change(dice: random.Random, raw: Raw) -> Raw:
    """A word typed, a paragraph put in, taken out or with another rule, a wrap or a frame moved, sized or turned."""
    there = raw["copies"]["story"]["versions"]["en"]["paragraphs"]
    at = dice.randrange(len(there))
    kind = dice.choice(["type", "type", "type", "put in", "take out", "rule", "move", "frame"])
    if kind == "put in":
        return {"do": "splice", "at": HERE, "from": at, "remove": 0, "insert": [written(dice)]}
    if kind == "take out" and len(there) > 3:
        return {"do": "splice", "at": HERE, "from": at, "remove": 1, "insert": []}
    if kind == "rule":
        return {"do": "put", "at": [*HERE, at, "space_after"], "value": f"{dice.choice([0, 3, 7])}pt"}
    wraps = [t["id"] for page in raw["pages"] for t in page["objects"] if "wrap" in t]
    if kind == "move" and wraps:
        return {"do": "put", "at": ["objects", dice.choice(wraps), "x"], "value": dice.randint(30, 160)}
    if kind == "frame":
        name = f"f{dice.randrange(len(raw['pages']))}"
        field, value = dice.choice([("x", 40), ("x", 47), ("height", 120), ("turn", 10), ("turn", 0)])
        return {"do": "put", "at": ["objects", name, field], "value": value}
    runs = there[at]["runs"]
    text = runs[0]["text"] + " " + "x" * dice.randint(1, 5)
    return {"do": "put", "at": [*HERE, at, "runs"], "value": [{**runs[0], "text": text}, *runs[1:]]}


class Kept(unittest.TestCase):
    def test_nests_that_are_kept_are_those_of_a_cold_start(self) -> None:
        taken = moved = 0
        own = nester.as_before

        def counted(old: FrameNest, copy: ShapedCopy, begin: int) -> FrameNest | None:
            nonlocal taken, moved
            found = own(old, copy, begin)
            taken += found is not None
            moved += found is not None and begin != old.begin
            return found

        for seed in seeds(60):
            dice = random.Random(f"kept {seed}")
            raw = chained(dice)
            kept = studio()
            kept.nest(kept.read(raw))
            for step in range(10):
                raw = edits.apply(raw, [change(dice, raw)]).document
                with mock.patch.object(nester, "as_before", counted):
                    found = kept.nest(kept.read(raw))
                cold = studio()
                for one, other in zip(found, cold.nest(cold.read(raw)), strict=True):
                    at = f"seed {seed}, step {step}, {one.thing.id}"
                    self.assertEqual(one.thing.box, other.thing.box, at)
                    for name in ("begin", "next_piece", "lines", "exact", "start_y", "stand_y", "opened", "residue"):
                        self.assertEqual(getattr(one.nest, name), getattr(other.nest, name), f"{at}: {name}")
                    for name in ("records", "alignment", "left", "ranges"):
                        np.testing.assert_array_equal(
                            getattr(one.nest, name), getattr(other.nest, name), f"{at}: {name}"
                        )
                    np.testing.assert_array_equal(one.nest.drawn.x, other.nest.drawn.x, at)
        self.assertGreaterEqual(taken, fair(120))
        self.assertGreaterEqual(moved, fair(30))


if __name__ == "__main__":
    unittest.main()
