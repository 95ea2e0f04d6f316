"""Rules of acts from both sides: what is changed, and what beside it stays as it is."""

from __future__ import annotations

import base64
import math
import random
import unittest
from typing import Any

import numpy as np

from draws import seeds
from nestline import rows as k
from nestline.acts import ActError
from nestline.acts.chaining import split
from nestline.acts.offers import Allowed, endings
from nestline.acts.styling import _restyled
from nestline.document import edits
from support import STORY, document, frame, nest_of, paragraph, studio
from test_acts import done, given_look, outline, things
from test_offers import acting, column
from test_recipes import things as read_things
from test_seen import seen

Raw = dict[str, Any]


def versions(*names: str, **sources: str) -> Raw:
    """Versions of a copy, some told to be translated from others."""
    return {
        "versions": {
            name: {
                "language": name[:2],
                "paragraphs": [paragraph(f"Kites {name}")],
                **({"source": {"version": sources[name], "paragraphs": ["Kites"]}} if name in sources else {}),
            }
            for name in names
        }
    }


class Versions(unittest.TestCase):
    def test_renamed_wherever_it_is_and_whatever_was_translated_from_it_says_so(self) -> None:
        raw = document([frame()], paragraph("Kites"))
        raw["copies"] = {"story": versions("en", "de", "fr", de="en", fr="de"), "other": versions("de", "fr")}
        after = done(raw, "rename-version", version="en", to="en-GB")["copies"]
        self.assertEqual(list(after["story"]["versions"]), ["en-GB", "de", "fr"])
        self.assertEqual(after["other"], raw["copies"]["other"])
        told = {name: one.get("source", {}).get("version") for name, one in after["story"]["versions"].items()}
        self.assertEqual(told, {"en-GB": None, "de": "en-GB", "fr": "de"})
        for version, to in (("en", "fr"), ("fr", "de")):
            with self.assertRaisesRegex(ActError, "already"):
                done(raw, "rename-version", version=version, to=to)

    def test_a_text_is_brought_as_a_version_plain_or_as_it_looks(self) -> None:
        content = base64.b64encode(b"Bring **string**").decode()
        for plain, weights in ((True, [None]), (False, [None, 700])):
            raw = document([frame()], paragraph("Kites", size=17))
            given = {
                "copy": "story",
                "version": "de",
                "language": "de",
                "name": "a.md",
                "content": content,
                "plain": plain,
            }
            (made,) = done(raw, "bring-version", **given)["copies"]["story"]["versions"]["de"]["paragraphs"]
            self.assertEqual([run.get("weight") for run in made["runs"]], weights)
            self.assertEqual(made["size"], 17)


class Words(unittest.TestCase):
    def test_words_given_a_look_keep_all_else_and_neighbours_of_one_look_are_one(self) -> None:
        for seed in seeds(200):
            dice = random.Random(seed)
            runs: list[Raw] = []
            for _ in range(dice.randint(1, 5)):
                kind = dice.random()
                if kind < 0.15:
                    runs.append({"object": f"o{len(runs)}"})
                elif kind < 0.25:
                    runs.append({"field": "page", "text": "12", "size": 9})
                else:
                    look = dice.choice([{}, {}, {"weight": 700}, {"slope": "italic", "size": 9}])
                    runs.append({"text": "kites fly"[: dice.randint(1, 9)], **look})
            each = [{**run, "text": letter} for run in runs for letter in (run.get("text") or "\ufffc")]
            places = sorted(dice.sample(range(len(each) + 1), k=min(2 * dice.randint(1, 2), (len(each) + 1) // 2 * 2)))
            stretches = list(zip(places[::2], places[1::2], strict=False))
            look = dice.choice([{"weight": 700}, {"size": 9}, {"slope": None}])
            made = _restyled([dict(run) for run in runs], stretches, look)
            got = [{**run, "text": letter} for run in made for letter in (run.get("text") or "\ufffc")]
            at, wanted = 0, []
            for run in runs:
                letters = run.get("text") or "\ufffc"
                for place in range(at, at + len(letters)):
                    inside = any(low <= place < high for low, high in stretches)
                    if "field" in run:  # changed whole
                        inside = any(low < at + len(letters) and at < high for low, high in stretches)
                    changed = {**run, **(look if inside and "object" not in run else {})}
                    wanted.append({k: v for k, v in {**changed, "text": letters[place - at]}.items() if v is not None})
                at += len(letters)
            self.assertEqual(got, wanted, seed)
            for one, other in zip(made, made[1:], strict=False):
                plain = not {"object", "field"} & {*one, *other}
                self.assertFalse(plain and {**one, "text": ""} == {**other, "text": ""}, (seed, made))

    def test_copy_is_split_at_any_letter_and_is_whole_when_put_together(self) -> None:
        paragraphs = [
            paragraph("Bring string", first_indent=9),
            paragraph("to fly"),
            paragraph(""),
            {"runs": [{"text": "and "}, {"object": "o"}, {"text": "friends", "weight": 700}], "first_indent": 7},
        ]
        lengths = [12, 6, 0, 12]
        for at in range(sum(lengths) + len(lengths)):
            first, second = split(paragraphs, at)
            shown = ["".join(r.get("text", "\ufffc") for r in p["runs"]) for p in (*first, *second)]
            number = next(n for n in range(4) if at <= sum(lengths[: n + 1]) + n)
            begin = sum(lengths[:number]) + number
            inner = begin < at < begin + lengths[number]
            self.assertEqual(len(first), number + (at > begin), at)
            self.assertEqual(len(first) + len(second), 4 + inner, at)
            if inner:
                shown[number : number + 2] = [shown[number] + shown[number + 1]]
                self.assertEqual(second[0].get("first_indent", 0), 0, at)
            self.assertEqual(shown, ["Bring string", "to fly", "", "and \ufffcfriends"], at)


class Placing(unittest.TestCase):
    def test_an_object_goes_to_any_other_page_and_is_gone_from_its_own(self) -> None:
        raw = document([], paragraph("Kites"))
        names = [["a", "b"], ["c"], ["d"]]
        raw["pages"] = [
            {
                "width": 300,
                "height": 300,
                "objects": [{"id": i, "x": 5, "y": 5, "width": 20, "height": 20} for i in ids],
            }
            for ids in names
        ]
        for moved in "abcd":
            for page in range(3):
                own = next(n for n, ids in enumerate(names) if moved in ids)
                if names[page][-1] == moved:
                    continue
                after = [
                    [o["id"] for o in p["objects"]] for p in done(raw, "restack", object=moved, page=page)["pages"]
                ]
                wanted = [[i for i in ids if i != moved] for ids in names]
                wanted[page].append(moved)
                self.assertEqual(after, wanted, (moved, page, own))

    def test_turned_about_another_point_it_stands_where_it_stood(self) -> None:
        for seed in seeds(60):
            dice = random.Random(seed)
            thing = {
                "id": "a",
                "x": 50,
                "y": 60,
                "width": dice.uniform(20, 200),
                "height": dice.uniform(20, 200),
                "turn": dice.uniform(-180, 180),
                "pivot": [dice.random(), dice.random()],
            }
            raw = document([thing])
            pivot = [dice.choice([0, 0.5, 1]), dice.random()]
            after = things(done_put(raw, ["objects", "a", "pivot"], pivot))["a"]
            for one, other in zip(corners(thing), corners(after), strict=True):
                self.assertLess(math.dist(one, other), 1e-4, seed)

    def test_type_that_was_fitted_stays_as_large_when_it_is_fitted_no_more(self) -> None:
        for grow in (True, False):
            for words, sizes in ((6, (9, 60)), (70, (9, 11))):
                text = " ".join(STORY.split()[:words])
                raw = document(
                    [frame(fit_type={"grow": grow}, height=90)],
                    paragraph(text, size=sizes[0]),
                    paragraph("Kites", size=sizes[1]),
                )
                before, fitted = seen(raw), nest_of(raw)
                after = done_put(raw, ["objects", "f", "frame", "fit_type"], None)
                if abs(fitted.factor - 1) < 1e-9:
                    self.assertEqual(after["copies"], raw["copies"])
                else:
                    self.assertAlmostEqual(nest_of(after).nest.copy.size, sizes[0] * fitted.factor, delta=0.02)
                self.assertLess(seen(after).letters_moved(before, "f"), 0.5, (grow, words))
                # Copy that is written anew in the same step is as it is written.
                path = ["copies", "story", "versions", "en", "paragraphs"]
                both = edits.apply(
                    raw,
                    expanded_of(
                        raw,
                        [
                            {"do": "cut", "at": ["objects", "f", "frame", "fit_type"]},
                            {"do": "splice", "at": path, "from": 0, "remove": 2, "insert": [paragraph("New", size=13)]},
                        ],
                    ),
                ).document
                self.assertEqual(nest_of(both).nest.copy.size, 13)


def expanded_of(raw: Raw, operations: list[Raw]) -> list[Raw]:
    from nestline.acts import expanded

    return expanded(studio(), raw, operations)


def done_put(raw: Raw, at: list[Any], value: Any) -> Raw:
    operation = {"do": "cut", "at": at} if value is None else {"do": "put", "at": at, "value": value}
    return edits.apply(raw, expanded_of(raw, [operation])).document


def corners(thing: Raw) -> list[tuple[float, float]]:
    """An object's corners on its page, turned about its pivot (clockwise, y down)."""
    x, y, w, h = (float(thing[name]) for name in ("x", "y", "width", "height"))
    turn, (px, py) = math.radians(thing.get("turn", 0)), thing.get("pivot", (0.5, 0.5))
    cx, cy = x + px * w, y + py * h
    c, s = math.cos(turn), math.sin(turn)
    return [
        (cx + c * (a - cx) - s * (b - cy), cy + s * (a - cx) + c * (b - cy))
        for a, b in ((x, y), (x + w, y), (x + w, y + h), (x, y + h))
    ]


class Sizes(unittest.TestCase):
    def test_a_frame_made_larger_is_the_same_picture_larger(self) -> None:
        """Whatever of its copy is a length grows with it, in versions that are not shown, too."""
        for seed in seeds(12):
            dice = random.Random(seed)
            rules = {
                name: round(dice.uniform(0.2, most), 2)
                for name, most in (
                    ("tracking", 0.8),
                    ("indent", 9),
                    ("first_indent", 9),
                    ("space_before", 6),
                    ("space_after", 6),
                )
                if dice.random() < 0.7
            }
            size, factor = dice.choice([6, 8, 9]), dice.choice([0.8, 1.25, 1.4])
            raw = document(
                [frame(padding=0, height=500)],
                paragraph(STORY, size=size, leading=size * 1.4, hang_punctuation=False, **rules),
                paragraph(STORY, size=size, leading=12),
            )
            after = done(raw, "scale", objects=["f"], factor=factor, about=[100, 100])
            before, larger = nest_of(raw).nest, nest_of(after).nest
            self.assertEqual(before.ranges.tolist(), larger.ranges.tolist(), (seed, rules))
            wanted = [
                [100 + (v - 100) * factor for v in row] for row in before.records[:, [k.BASELINE, k.LEFT]].tolist()
            ]
            for got, at in zip(larger.records[:, [k.BASELINE, k.LEFT]].tolist(), wanted, strict=True):
                self.assertLess(math.dist(got, at), 0.02, (seed, rules))
            spread = np.sort(before.drawn.x) * factor - 100 * (factor - 1)
            self.assertLess(float(np.abs(np.sort(larger.drawn.x) - spread).max()), 0.05, (seed, rules))

    def test_new_copy_is_the_largest_whole_size_of_which_six_letters_stand_in_a_line(self) -> None:
        sizes = []
        for width in range(14, 60, 2):
            after = done(document([outline(width=width, height=60)]), "give-copy", object="a", version="en")
            sizes.append(given_look(after).get("size", 11))
        self.assertEqual(sizes, sorted(sizes))
        self.assertTrue({5, 6, 7, 8, 9, 10, 11} <= set(sizes), sizes)


class Recipes(unittest.TestCase):
    def test_what_another_recipe_held_and_the_new_one_does_not_stays(self) -> None:
        raw = document(
            [frame(padding=7, sit="bottom"), {**frame(padding=1), "id": "g"}, {**frame(), "id": "h"}], paragraph("Kite")
        )
        for first, second in (("Label", "Other"), ("Other", "Label")):
            one = done(raw, "save-recipe", object="f", name=first, rules=["padding", "sit"])
            one = done(one, "save-recipe", object="g", name=second, rules=["padding"])
            after = read_things(done(one, "follow", objects=["f"], recipe=second))["f"]
            self.assertEqual((after.frame.padding.raw, after.frame.sit, after.recipe), (1, "bottom", second))


class Ending(unittest.TestCase):
    def test_an_outline_made_smaller_keeps_its_pivot_where_it_was(self) -> None:
        made = 0
        for pivot in ([0, 0], [0.5, 0.5], [1, 0.25]):
            raw = column(95)
            raw["pages"][0]["objects"][0]["pivot"] = pivot
            for one in endings(
                acting(raw), "f", Allowed(size=0, leading=0, tracking=0, word_space=0, padding=0, outline=0.2)
            ):
                before, after = raw["pages"][0]["objects"][0], things(edits.apply(raw, one.operations).document)["f"]
                made += after["width"] != before["width"]
                for side, size, share in (("x", "width", pivot[0]), ("y", "height", pivot[1])):
                    self.assertAlmostEqual(
                        after[side] + share * after[size], before[side] + share * before[size], delta=0.01
                    )
                self.assertAlmostEqual(after["width"] / after["height"], before["width"] / before["height"], places=3)
        self.assertGreater(made, 2)


if __name__ == "__main__":
    unittest.main()
