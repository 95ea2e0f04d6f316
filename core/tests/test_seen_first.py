"""A change of a long copy, worked out first where it is seen: the same as all of it, and what differs is enough to draw
it."""

from __future__ import annotations

import json
import random
import unittest
from typing import Any
from unittest.mock import patch

import numpy as np

from draws import fair, seeds
from nestline import scene
from nestline.copy import shaper
from nestline.document import edits
from nestline.nesting import kept as kept_in_chains
from nestline.scene import Json, Scene, difference, scene_of, scene_seen
from nestline.studio import Studio
from support import STORY, studio

WORDS = STORY.split()


def long_document(dice: random.Random, pages: int) -> Json:
    """A chain over all pages with a wrap on each, a copy of its own on some, rules that reach over pages' ends."""

    def paragraph() -> Json:
        keep = {"keep": {"start": 2, "end": 2}} if dice.random() < 0.3 else {}
        rules = {"align": "justify"} if dice.random() < 0.3 else {"size": dice.choice([9, 10, 12])}
        return {**rules, **keep, "runs": [{"text": " ".join(dice.choices(WORDS, k=dice.randint(3, 90)))}]}

    copies: Json = {"long": [paragraph() for _ in range(pages * 3)]}
    sheets = []
    for n in range(pages):
        frame = {"copy": "long", "sit": dice.choice(["top", "top", "middle"])}
        objects: list[Json] = [{"id": f"f{n}", "x": 20, "y": 20, "width": 200, "height": 260, "frame": frame}]
        if dice.random() < 0.6:
            wrap = {"by": "outline", "clearance": 5}
            objects.append({"id": f"w{n}", "x": dice.randint(0, 200), "y": 90, "width": 60, "height": 60, "wrap": wrap})
        if dice.random() < 0.4:
            copies[f"c{n}"] = [paragraph()]
            give = {"give": ["bottom"]} if dice.random() < 0.5 else {}
            objects.append(
                {"id": f"o{n}", "x": 20, "y": 300, "width": 200, "height": 60, "frame": {"copy": f"c{n}", **give}}
            )
            objects.append(
                {
                    "id": f"t{n}",
                    "x": 20,
                    "y": 400,
                    "width": 50,
                    "height": 9,
                    "ties": [{"edge": "top", "to": f"o{n}", "its": "bottom", "gap": 4}],
                }
            )
        sheets.append({"width": 240, "height": 480, "objects": objects})
    versions = {name: {"versions": {"en": {"language": "en", "paragraphs": some}}} for name, some in copies.items()}
    chain = [f"f{n}" for n in range(pages)]
    return {"format": "nest-line", "version": 1, "copies": versions, "pages": sheets, "chains": [chain]}


def operation(dice: random.Random, raw: Json) -> Json:
    """A word typed, a paragraph put in or taken away, anywhere in any copy."""
    name = dice.choice([*raw["copies"], "long", "long"])
    paragraphs = raw["copies"][name]["versions"]["en"]["paragraphs"]
    at = dice.randrange(len(paragraphs))
    path = ["copies", name, "versions", "en", "paragraphs"]
    kind = dice.random()
    text = paragraphs[at]["runs"][0]["text"] if paragraphs[at]["runs"] else ""
    if kind < 0.7 or len(paragraphs) < 2:
        return {"do": "put", "at": [*path, at, "runs"], "value": [{"text": f"{text} {dice.choice(WORDS)}"}]}
    if kind < 0.85:
        return {"do": "splice", "at": path, "from": at, "remove": 1, "insert": []}
    return {
        "do": "splice",
        "at": path,
        "from": at,
        "remove": 0,
        "insert": [{"runs": [{"text": "Put in 🪁 here. " * 9}]}],
    }


def read(kept: Studio, raw: Json) -> Any:
    return kept.read(raw)


def records(scene: Scene, page: int) -> list[Any]:
    return [
        (n.thing.id, n.thing.box, n.nest.records.tolist(), n.nest.ranges.tolist())
        for n in scene.nests
        if n.page == page
    ]


class SeenFirst(unittest.TestCase):
    def setUp(self) -> None:
        # Short copies are taken for long ones.
        for module, name, few in ((scene, "PATCHED", 200), (kept_in_chains, "WINDOWED", 3), (shaper, "LONG", 5)):
            less = patch.object(module, name, few)
            less.start()
            self.addCleanup(less.stop)

    def test_what_is_seen_is_as_when_all_is_worked_out_and_then_the_rest_follows(self) -> None:
        told = patches = excerpted = 0
        for seed in seeds(12):
            dice = random.Random(seed)
            raw = long_document(dice, 8)
            kept = studio()
            shown = scene_of(kept, read(kept, raw))
            window = Drawn(plain(difference(kept, None, shown)))
            for _ in range(10):
                raw = edits.apply(raw, [operation(dice, raw)]).document
                document = read(kept, raw)
                first = dice.randrange(7)
                seen = scene_seen(kept, document, shown, [first, first + 1])
                assert seen is not None
                window.take(plain(difference(kept, shown, seen)))
                self.assertEqual(window.scene, plain(difference(kept, None, seen)), f"seed {seed}")
                patches += len(plain(difference(kept, shown, seen))["patches"])
                fresh = scene_of(studio(), read(studio(), raw))
                # An edit before what is seen moves what is between on; else it is the same to the last bit.
                same = all(records(seen, number) == records(fresh, number) for number in (first, first + 1))
                told += same
                excerpted += any(n.nest.copy.excerpt for n in seen.nests)
                shown = seen
                if dice.random() < 0.5:
                    whole = scene_of(kept, document)
                    window.take(plain(difference(kept, shown, whole)))
                    self.assertEqual(window.scene, plain(difference(kept, None, fresh)), f"seed {seed}")
                    shown = whole
        self.assertGreaterEqual(told, fair(60))
        self.assertGreaterEqual(patches, fair(60))
        self.assertGreaterEqual(excerpted, fair(40))

    def test_after_a_change_on_a_page_that_is_seen_it_is_exactly_the_same(self) -> None:
        for seed in seeds(15):
            dice = random.Random(1000 + seed)
            raw = long_document(dice, 7)
            kept = studio()
            whole = scene_of(kept, read(kept, raw))
            here = dice.randrange(6)
            nest = next(n.nest for n in whole.nests if n.thing.id == f"f{here}")
            if nest.begin >= len(nest.copy.pieces):
                continue
            at = int(nest.copy.pieces[nest.begin, 6])
            text = raw["copies"]["long"]["versions"]["en"]["paragraphs"][at]["runs"][0]["text"]
            put = ["copies", "long", "versions", "en", "paragraphs", at, "runs"]
            raw = edits.apply(raw, [{"do": "put", "at": put, "value": [{"text": f"{text} kite"}]}]).document
            seen = scene_seen(kept, read(kept, raw), whole, [here, here + 1])
            assert seen is not None
            fresh = scene_of(studio(), read(studio(), raw))
            for other in (here, here + 1):
                self.assertEqual(records(seen, other), records(fresh, other), f"seed {1000 + seed}, page {other}")

    def test_what_hangs_together_with_more_is_worked_out_whole(self) -> None:
        raw = long_document(random.Random(1), 7)
        raw["pages"][3]["objects"][0]["frame"]["fit_type"] = {"least": 5}
        kept = studio()
        whole = scene_of(kept, read(kept, raw))
        self.assertIsNone(scene_seen(kept, read(kept, raw), whole, [0]))


def plain(found: Json) -> Json:
    """As it comes to a window."""

    def default(value: Any) -> Any:
        return value.tolist() if isinstance(value, np.ndarray) else value.item()

    out: Json = json.loads(json.dumps(found, default=default))
    return out


class Drawn:
    """What a window makes of what it is told, reckoned here by itself: the client does the same."""

    def __init__(self, scene: Json) -> None:
        self.scene = scene

    def take(self, change: Json) -> None:
        old = self.scene
        pages = [new or was for new, was in zip(change["pages"], old["pages"], strict=True)]
        ids = {i for page in pages for i in page["order"]}
        shapes = {**old["shapes"], **change["shapes"]}
        for key, made in change["patches"].items():
            shapes[key] = patched(shapes[made["of"]], made)
        nests = {i: n for i, n in {**old["nests"], **change["nests"]}.items() if i in change["nested"]}
        used = {n["shape"] for n in nests.values()}
        self.scene = {
            **change,
            "pages": pages,
            "nests": nests,
            "patches": {},
            "objects": {i: o for i, o in {**old["objects"], **change["objects"]}.items() if i in ids},
            "labels": {i: o for i, o in {**old["labels"], **change["labels"]}.items() if i in ids},
            "shapes": {key: shape for key, shape in shapes.items() if key in used},
        }


def patched(old: Json, patch: Json) -> Json:
    units = old["text"].encode("utf-16-le")
    start, count, text = patch["text"]
    new = units[: 2 * start] + text.encode("utf-16-le") + units[2 * (start + count) :]
    out = {**old, "text": new.decode("utf-16-le"), "words": patch["words"]}
    for name, change in patch["lists"].items():
        if change is not None:
            first, count, by = change
            behind = old[name][first + count :]
            out[name] = [
                *old[name][:first],
                *by,
                *([n + patch["shift"] for n in behind] if name in ("start", "end") else behind),
            ]
    return out
