"""Merging two changes of one document: against reckonings of its own, and in either order."""

from __future__ import annotations

import copy
import json
import random
import unittest
from typing import Any

from draws import fair, seeds
from nestline.document import edits
from nestline.document.reading import Reader
from nestline.errors import NestLineError
from nestline.merging import changes, merged
from nestline.merging.words import atoms, paragraphs_of

Raw = dict[str, Any]


def words_of(count: int, dice: random.Random) -> str:
    return " ".join("".join(dice.choices("abcdeghiklmnoprstu", k=dice.randint(2, 7))) for _ in range(count))


def document(dice: random.Random) -> Raw:
    """A valid document: pages with objects, a group, copies in two languages."""
    copies = {}
    for number in range(dice.randint(1, 3)):
        versions = {}
        for language in ("en", "de")[: dice.randint(1, 2)]:
            paragraphs = []
            for _ in range(dice.randint(1, 4)):
                runs = [{"text": words_of(dice.randint(1, 12), dice) + " "}]
                if dice.random() < 0.4:
                    runs.append({"text": words_of(2, dice), "weight": 700})
                paragraphs.append({"runs": runs, **({"align": "center"} if dice.random() < 0.3 else {})})
            versions[language] = {"language": language, "paragraphs": paragraphs}
        copies[f"Copy {number}"] = {"versions": versions}
    count = 0
    names = list(copies)
    pages = []
    for _ in range(dice.randint(1, 4)):
        objects: list[Raw] = []
        for _ in range(dice.randint(0, 5)):
            count += 1
            thing: Raw = {
                "id": f"o{count}",
                "x": dice.randint(0, 200),
                "y": dice.randint(0, 200),
                "width": 90,
                "height": 60,
            }
            if dice.random() < 0.5 and names:
                thing["frame"] = {"copy": names.pop(), "padding": dice.randint(0, 9)}
            else:
                thing["fill"] = {"color": "ink"}
            objects.append(thing)
        if len(objects) > 3:
            count += 1
            objects = [{"id": f"g{count}", "objects": objects[:2]}, *objects[2:]]
        pages.append({"width": 300, "height": 400, "objects": objects})
    colors = {"ink": "#112211", "lake": "#2f6f8f"}
    return {"format": "nest-line", "version": 1, "title": "A", "colors": colors, "copies": copies, "pages": pages}


def things(raw: Raw) -> list[tuple[list[Raw], Raw]]:
    """Every object and group with the list that it stands in."""
    out = []

    def walk(objects: list[Raw]) -> None:
        for thing in objects:
            out.append((objects, thing))
            walk(thing.get("objects", []))

    for page in raw["pages"]:
        walk(page["objects"])
    return out


def changed(raw: Raw, dice: random.Random, mark: str) -> Raw:
    """The document with one to three changes of a designer; `mark` makes what is new tell whose it is."""
    raw = copy.deepcopy(raw)
    for _ in range(dice.randint(1, 3)):
        kind = dice.choice(
            [
                "move",
                "rule",
                "remove",
                "new",
                "order",
                "words",
                "words",
                "words",
                "look",
                "page",
                "title",
                "home",
                "sheet",
            ]
        )
        found = [(home, thing) for home, thing in things(raw) if "objects" not in thing]
        home, thing = dice.choice(found) if found else (None, None)
        page = dice.choice(raw["pages"])
        if kind == "move" and thing:
            thing[dice.choice(["x", "y", "width"])] = dice.randint(1, 300)
        elif kind == "rule" and thing:
            part = thing.get("frame", thing)
            part[dice.choice(["padding", "columns"]) if part is not thing else "name"] = (
                dice.randint(1, 5) if part is not thing else mark
            )
        elif kind == "remove" and home and thing and (home in [p["objects"] for p in raw["pages"]] or len(home) > 1):
            home.remove(thing)
        elif kind == "new":
            page["objects"].append({"id": f"{mark}{dice.randint(0, 10**6)}", "x": 1, "y": 2, "width": 30, "height": 40})
        elif kind == "order" and home and thing:
            home.remove(thing)
            home.insert(dice.randint(0, len(home)), thing)
        elif kind == "home" and home and thing and len(home) > 1:
            home.remove(thing)
            page["objects"].append(thing)
        elif kind == "page":
            sheet = {"width": dice.randint(100, 500), "height": 200, "objects": []}
            raw["pages"].insert(dice.randint(0, len(raw["pages"])), sheet)
        elif kind == "sheet":
            page[dice.choice(["margins", "bleed"])] = dice.randint(1, 3)
        elif kind == "title":
            raw["title"] = dice.choice("ABC")
        else:
            versions = raw["copies"][dice.choice(list(raw["copies"]))]["versions"]
            paragraphs = versions[dice.choice(list(versions))]["paragraphs"]
            place = dice.randrange(len(paragraphs))
            runs = paragraphs[place]["runs"]
            if kind == "look":
                if dice.random() < 0.5:
                    paragraphs[place][dice.choice(["leading", "space_before"])] = dice.choice([12, 14])
                else:
                    for run in runs:
                        run[dice.choice(["tracking", "size"])] = dice.randint(9, 11)
                continue
            run = dice.choice(runs) if runs else None
            if run is None:
                continue
            at = dice.randint(0, len(run["text"]))
            roll = dice.random()
            if roll < 0.4:
                run["text"] = run["text"][:at] + dice.choice([" ", ""]) + mark + words_of(1, dice) + run["text"][at:]
            elif roll < 0.7:
                run["text"] = run["text"][:at] + run["text"][at + dice.randint(1, 9) :]
            elif roll < 0.85:
                rest = {**paragraphs[place], "runs": [{**run, "text": run["text"][at:]}]}
                run["text"] = run["text"][:at]
                paragraphs.insert(place + 1, rest)
            elif len(paragraphs) > 1:
                gone = paragraphs.pop(place)
                paragraphs[place - 1]["runs"] += gone["runs"]
    return raw


def settled(raw: Raw) -> str:
    """A document with its copy written in one way, so that two of the same can be told."""
    raw = copy.deepcopy(raw)
    for value in raw["copies"].values():
        for version in value["versions"].values():
            version["paragraphs"] = paragraphs_of(atoms(version["paragraphs"]))
    return json.dumps(raw, sort_keys=True)


class Merging(unittest.TestCase):
    def test_two_changes_come_to_the_same_in_either_order_and_are_valid_or_collide(self) -> None:
        both = collided = 0
        for seed in seeds(500):
            dice = random.Random(seed)
            base = document(dice)
            a, b = changed(base, dice, "q"), changed(base, dice, "z")
            before = [json.dumps(one, sort_keys=True) for one in (base, a, b)]
            one, other = merged(base, a, b), merged(base, b, a)
            self.assertEqual(before, [json.dumps(x, sort_keys=True) for x in (base, a, b)], "nothing given is changed")
            self.assertEqual(bool(one.collisions), bool(other.collisions), seed)
            if one.collisions:
                collided += 1
                continue
            both += 1
            try:
                Reader().read(one.document)
            except NestLineError as error:
                self.fail(f"seed {seed}: {error}")
            if not at_one_place(base, a, b):
                self.assertEqual(settled(one.document), settled(other.document), seed)
            applied = edits.apply(a, changes(a, one.document))
            self.assertEqual(applied.document, one.document, seed)
            self.assertEqual(edits.apply(applied.document, applied.inverse).document, a, seed)
        self.assertGreaterEqual(both, fair(300))
        self.assertGreaterEqual(collided, fair(20))

    def test_words_of_both_sides_by_a_reckoning_word_by_word(self) -> None:
        """Words of the base are all different, so that what becomes of each can be told without aligning anything."""
        for seed in seeds(300):
            dice = random.Random(seed)
            base = [f"w{n}" for n in range(dice.randint(5, 40))]
            sides: list[dict[int, str | None]] = []
            behind: list[dict[int, str]] = []
            free = set(range(len(base)))
            for mark in "ab":
                mine = set(dice.sample(sorted(free), min(len(free), dice.randint(0, 5))))
                free -= {n + d for n in mine for d in (-1, 0, 1)}
                sides.append({n: dice.choice([None, f"{mark}{n}"]) for n in mine})
                behind.append({n: f"{mark}new{n}" for n in dice.sample(sorted(free), min(len(free), 2))})
                free -= set(behind[-1])

            def said(which: tuple[int, ...], base=base, sides=sides, behind=behind) -> str:  # type: ignore[no-untyped-def]
                out = []
                for n, word in enumerate(base):
                    now = word
                    for s in which:
                        now = sides[s].get(n, now)
                    out += [now] if now is not None else []
                    out += [behind[s][n] for s in which if n in behind[s]]
                return " ".join(out)

            def raw(text: str) -> Raw:
                return {
                    "copies": {"c": {"versions": {"en": {"paragraphs": [{"runs": [{"text": text}]}]}}}},
                    "pages": [],
                }

            found = merged(raw(" ".join(base)), raw(said((0,))), raw(said((1,))))
            self.assertEqual(found.collisions, (), seed)
            self.assertEqual(found.document, raw(said((0, 1))), seed)

    def test_what_is_put_in_at_one_place_stands_in_the_order_in_which_it_came(self) -> None:
        self.assertEqual(
            self.text("Bring string", "Bring string and tape", "Bring string, please"), "Bring string and tape, please"
        )
        self.assertEqual(
            self.text("Bring string", "Bring kites string", "Bring some string"), "Bring kites some string"
        )

    def test_words_that_both_changed_collide_and_show_both(self) -> None:
        found = self.merge("Bring string now", "Bring ropes now", "Bring twine now")
        self.assertEqual([(c.theirs, c.mine) for c in found.collisions], [("ropes", "twine")])
        self.assertEqual(
            self.text("Bring string now", "Bring ropes now!", "Bring twine now", "mine"), "Bring twine now!"
        )
        self.assertEqual(
            self.text("Bring string now", "Bring ropes now", "Bring twine now, all", "theirs"), "Bring ropes now, all"
        )

    def test_looks_merge_by_field_and_go_with_words_that_the_other_typed(self) -> None:
        base = [{"runs": [{"text": "Bring string now"}]}]
        bold = [{"runs": [{"text": "Bring string now", "weight": 700}]}]
        typed = [{"runs": [{"text": "Bring strings and tape now"}]}]
        slanted = [{"runs": [{"text": "Bring "}, {"text": "string", "slope": "italic"}, {"text": " now"}]}]
        self.assertEqual(self.runs(base, bold, typed), [{"text": "Bring strings and tape now", "weight": 700}])
        self.assertEqual(
            self.runs(base, bold, slanted),
            [
                {"text": "Bring ", "weight": 700},
                {"text": "string", "weight": 700, "slope": "italic"},
                {"text": " now", "weight": 700},
            ],
        )

    def test_taking_away_against_a_change_collides(self) -> None:
        base = document(random.Random(3))
        first = things(base)[0][1]["id"]
        gone, moved = copy.deepcopy(base), copy.deepcopy(base)
        home, thing = next(t for t in things(gone) if t[1]["id"] == first)
        home.remove(thing)
        next(t for t in things(moved) if t[1]["id"] == first)[1]["name"] = "mine"
        found = merged(base, gone, moved)
        self.assertEqual([c.path[:2] for c in found.collisions], [("objects", first)])
        kept = merged(base, gone, moved, "mine").document
        self.assertIn(first, [t["id"] for _, t in things(kept)])

    def test_two_new_things_of_one_name_are_both_there(self) -> None:
        base = document(random.Random(5))
        sides = [copy.deepcopy(base), copy.deepcopy(base)]
        for number, side in enumerate(sides):
            side["copies"]["New"] = {"versions": {"en": {"paragraphs": [{"runs": [{"text": f"side {number}"}]}]}}}
            frame = {"id": "new", "x": number, "y": 0, "width": 50, "height": 50, "frame": {"copy": "New"}}
            side["pages"][0]["objects"].append(frame)
        found = merged(base, *sides)
        self.assertEqual(found.collisions, ())
        Reader().read(found.document)
        new = [t for _, t in things(found.document) if t["id"].startswith("new")]
        said = [
            found.document["copies"][t["frame"]["copy"]]["versions"]["en"]["paragraphs"][0]["runs"][0]["text"]
            for t in new
        ]
        self.assertEqual(sorted(said), ["side 0", "side 1"])

    def merge(self, base: str, theirs: str, mine: str, prefer: Any = None) -> Any:
        def raw(text: str) -> Raw:
            return {"copies": {"c": {"versions": {"en": {"paragraphs": [{"runs": [{"text": text}]}]}}}}, "pages": []}

        return merged(raw(base), raw(theirs), raw(mine), prefer)

    def text(self, *given: Any) -> str:
        paragraphs = self.merge(*given).document["copies"]["c"]["versions"]["en"]["paragraphs"]
        return "".join(run["text"] for run in paragraphs[0]["runs"])

    def runs(self, *sides: list[Raw]) -> list[Raw]:
        docs = [{"copies": {"c": {"versions": {"en": {"paragraphs": p}}}}, "pages": []} for p in sides]
        found = merged(docs[0], docs[1], docs[2])
        self.assertEqual(found.collisions, ())
        return found.document["copies"]["c"]["versions"]["en"]["paragraphs"][0]["runs"]  # type: ignore[no-any-return]


def at_one_place(base: Raw, a: Raw, b: Raw) -> bool:
    """Whether both sides put something in at one place: the order in which it came decides there."""
    one, other = merged(base, a, b).document, merged(base, b, a).document
    bags = []
    for raw in (one, other):
        letters = sorted(
            letter
            for c in raw["copies"].values()
            for v in c["versions"].values()
            for atom in atoms(v["paragraphs"])
            for letter in atom.text
        )
        bags.append((letters, sorted(t["id"] for _, t in things(raw)), len(raw["pages"])))
    return settled(one) != settled(other) and bags[0] == bags[1]
