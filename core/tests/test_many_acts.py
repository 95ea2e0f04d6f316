"""Many acts one after another, at random: each is done whole or refused in words, and undone to what was there."""

import json
import random
import unittest
from collections.abc import Callable
from functools import partial
from typing import Any

from draws import fair, seeds
from nestline.acts import ActError, expanded
from nestline.document import edits
from nestline.errors import NestLineError
from nestline.nesting.causes import why_here
from nestline.output.pdf import write_pdf
from nestline.scene import Scene, difference, scene_of
from support import STORY, document, frame, paragraph, studio

Raw = dict[str, Any]
BODY = {"font": "EB Garamond", "size": 11, "leading": 14}


def beginning(dice: random.Random) -> Raw:
    """A chain of three frames with wraps, an outline, a frame by itself in two languages, and an empty page."""
    height = dice.choice([40, 70, 120])
    frames = [frame(id=f"f{i}", x=20 + 150 * i, y=20, width=130, height=height) for i in (1, 2, 3)]
    raw = document(frames, paragraph(STORY, **BODY), paragraph(STORY, **BODY, keep={"start": 2, "end": 2}))
    raw["pages"][0]["objects"] += [
        {"id": "k", "x": 500, "y": 200, "width": 90, "height": 90, "outline": {"kind": "kite"}},
        {
            "id": "p1",
            "x": 40,
            "y": 300,
            "width": 30,
            "height": 20,
            "fill": {"color": "ink"},
            "wrap": {"by": "box", "clearance": 5},
        },
        {"id": "p2", "x": 240, "y": 40, "width": 30, "height": 20, "wrap": {"by": "outline", "clearance": 4}},
        frame(id="e", x=400, y=300, width=100, height=60, copy="other"),
    ]
    words = {
        "en": {"paragraphs": [paragraph("Other words.")]},
        "de": {"language": "de", "paragraphs": [paragraph("Andere.")]},
    }
    raw["copies"]["other"] = {"versions": words}
    raw["pages"].append({**raw["pages"][0], "objects": []})
    return {**raw, "chains": [["f1", "f2", "f3"]]}


def ids_in(raw: Raw) -> list[str]:
    def walk(things: list[Raw]) -> list[str]:
        return [i for t in things for i in (walk(t["objects"]) if "objects" in t else [t["id"]])]

    return [i for page in raw["pages"] for i in walk(page["objects"])]


def seen_of(scene: Scene) -> set[str]:
    """The objects that are seen."""
    return {t.id for _, t in scene.document.objects() if not t.hidden}


def without_words(scene: Scene) -> set[str]:
    """The objects that belong to copy and are named in none."""
    return {t.id for _, t in scene.document.objects() if t.anchor and t.id not in scene.document.holders}


def one_act(dice: random.Random, any_id: Callable[[], str]) -> Raw:
    number = dice.randrange
    place = dice.choice(["in-line", "beside", "centred"])
    choices: list[tuple[str, Raw]] = [
        ("link", {"frame": any_id(), "to": any_id()}),
        ("go-on", {"frame": any_id()}),
        ("link-new", {"frame": any_id(), "page": number(2), "at": [number(500), number(500)]}),
        ("take-out-of-chain", {"frame": any_id()}),
        ("cut-chain", {"frame": any_id(), "words": dice.choice(["go", "stay"])}),
        ("jump-line", {"frame": any_id(), "kind": dice.choice(["to", "from"])}),
        (
            "anchor",
            {"object": any_id(), "frame": any_id(), "place": place, "at": dice.choice([None, 0, 5, 300, 10**6])},
        ),
        ("anchor", {"object": dice.choice(["p1", "p2", "k"]), "frame": any_id(), "place": place}),
        ("release", {"object": any_id()}),
        ("move", {"objects": [any_id(), any_id()], "by": [number(-60, 60), number(-60, 60)]}),
        ("place", {"object": any_id(), "field": dice.choice("xy"), "value": number(400)}),
        ("delete", {"objects": [any_id()]}),
        ("duplicate", {"objects": [any_id(), any_id()]}),
        ("duplicate-page", {"page": 0}),
        ("move-page", {"page": 0, "to": 1}),
        ("delete-page", {"page": number(2)}),
        ("take-copy", {"object": any_id()}),
        ("join", {"type": any_id(), "outline": any_id()}),
        (
            "write",
            {"object": any_id(), "version": "en", "paragraphs": [{"runs": [{"text": "Kites, at 4.50"}]}] * number(4)},
        ),
        ("group", {"objects": [any_id(), any_id()]}),
        ("copy-to-outlines", {"object": any_id()}),
        ("add-version", {"version": "de", "copies": ["story"]}),
        ("combine", {"objects": [any_id(), any_id()], "how": "union"}),
        ("ungroup", {"objects": [any_id()]}),
        ("fit-in-line", {"object": any_id()}),
        ("restack", {"object": any_id(), "above": any_id()}),
        ("combine", {"objects": [any_id(), any_id()], "how": "difference"}),
        ("anchor", {"object": any_id(), "place": place}),
        ("close-up", {"object": any_id(), "edges": ["bottom"]}),
        ("size", {"object": any_id(), "box": [10, 10, number(20, 200), number(20, 200)]}),
    ]
    name, given = dice.choice(choices)
    return {"do": "act", "act": name, "given": given}


def one_tie(dice: random.Random, identity: str, other: str) -> Raw:
    edge = dice.choice(["top", "left", "width", "bottom"])
    return {"do": "put", "at": ["objects", identity, "ties"], "value": [{"edge": edge, "to": other, "gap": 4}]}


def one_rule(dice: random.Random, identity: str) -> Raw:
    rule, value = dice.choice(
        [
            ("give", ["bottom"]),
            ("give", ["in-proportion"]),
            ("fit_type", {"least": 5}),
            ("greatest", {"height": 150, "width": 300}),
            ("columns", 2),
        ]
    )
    return {"do": "put", "at": ["objects", identity, "frame", rule], "value": value}


class ManyActs(unittest.TestCase):
    def test_each_is_done_whole_or_refused_in_words_and_undone(self) -> None:
        kept, done = studio(), 0
        for seed in seeds(10):
            dice = random.Random(seed)
            raw, scene = beginning(dice), None
            for _ in range(16):
                known = ids_in(raw) or ["none"]
                kind = dice.random()
                if kind < 0.75:
                    operation = one_act(dice, partial(dice.choice, known))
                elif kind < 0.88:
                    operation = one_tie(dice, dice.choice(known), dice.choice(known))
                else:
                    operation = one_rule(dice, dice.choice(known))
                try:
                    operations = expanded(kept, raw, [operation])
                    json.dumps(operations)  # they are stored as JSON
                except ActError as error:
                    self.assertTrue(str(error))
                    continue
                try:
                    applied = edits.apply(raw, operations)
                    after = scene_of(kept, kept.read(applied.document))
                except NestLineError as error:
                    # A field may be given a wrong value; what an act comes to is a document in any case.
                    self.assertEqual(operation["do"], "put", f"{operation}: {error}")
                    continue
                self.assertEqual(edits.apply(applied.document, applied.inverse).document, raw, operation)
                if (
                    scene and operation["do"] == "act" and operation["act"] != "write"
                ):  # what words are written over waits
                    self.assertLessEqual(seen_of(scene) & set(ids_in(applied.document)), seen_of(after), operation)
                    self.assertLessEqual(without_words(after), without_words(scene), operation)
                difference(kept, scene, after)
                why_here(after.document, after.nests, 0, (100, 60))
                raw, scene = applied.document, after
                done += 1
            final = kept.read(raw)
            self.assertTrue(write_pdf(final, kept.nest(final), kept.pictures).startswith(b"%PDF"))
        self.assertGreaterEqual(done, fair(60))


if __name__ == "__main__":
    unittest.main()
