"""Changes of one object that are meant for all that are chosen, or for the recipe that it follows."""

from __future__ import annotations

import json
import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from draws import cases
from nestline.acts import expanded
from nestline.acts.acting import ActError
from nestline.document import edits
from support import studio

Raw = dict[str, Any]
FRAMES, PLAIN = ("f", "g", "h"), ("p", "q")


def document() -> Raw:
    """Three frames, two of them of one copy; two outlines without copy."""

    def copy(*texts: str) -> Raw:
        return {"versions": {"en": {"language": "en", "paragraphs": [{"runs": [{"text": text}]} for text in texts]}}}

    def thing(number: int, identity: str, **more: Any) -> Raw:
        return {"id": identity, "x": 10 + 60 * number, "y": 10, "width": 50, "height": 80, **more}

    objects = [
        thing(0, "f", frame={"copy": "a"}, recipe="Label", departs=["padding"]),
        thing(1, "g", frame={"copy": "b"}),
        thing(2, "h", frame={"copy": "a"}, recipe="Label"),
        *(thing(3 + n, identity) for n, identity in enumerate(PLAIN)),
    ]
    return {
        "format": "nest-line",
        "version": 1,
        "recipes": {"Label": {"frame": {"sit": "top"}, "text": {"size": 9}}},
        "styles": {"Loud": {"size": 20}},
        "copies": {"a": copy("One", "Two"), "b": copy("Three", "Four", "Five")},
        "pages": [{"width": 400, "height": 200, "objects": objects}],
    }


def put(*at: Any, value: Any) -> Raw:
    return {"do": "put", "at": list(at), "value": value}


def done(raw: Raw, act: str, **given: Any) -> Raw:
    operations = expanded(studio(), raw, [{"do": "act", "act": act, "given": given}])
    json.dumps(operations)
    return edits.apply(raw, operations).document


def things(raw: Raw) -> dict[str, Raw]:
    return {thing["id"]: thing for thing in raw["pages"][0]["objects"]}


def paragraphs(raw: Raw, copy: str) -> list[Raw]:
    return raw["copies"][copy]["versions"]["en"]["paragraphs"]  # type: ignore[no-any-return]


class ForAll(unittest.TestCase):
    @settings(max_examples=cases(60), deadline=None)
    @given(
        st.permutations([*FRAMES, *PLAIN]),
        st.integers(1, 5),
        st.sampled_from([("fill",), ("wrap", "by"), ("frame", "sit")]),
    )
    def test_paint_and_wrap_all_get_and_rules_of_frames_the_frames(
        self, order: list[str], count: int, rule: tuple[str, ...]
    ) -> None:
        chosen = order[:count]
        frames = [identity for identity in chosen if identity in FRAMES]
        first = (frames if rule[0] == "frame" else chosen)[:1]
        if not first:
            return
        value = {"fill": {"color": "#ff0000"}, "by": "box", "sit": "middle"}[rule[-1]]
        raw = document()
        after = things(done(raw, "for-all", objects=chosen, operations=[put("objects", first[0], *rule, value=value)]))
        wanted = frames if rule[0] == "frame" else chosen
        for identity, before in things(raw).items():
            now: Any = after[identity]
            for step in rule:
                now = now.get(step, {})
            self.assertEqual(now == value, identity in wanted, (chosen, rule, identity))
            if identity not in wanted:
                self.assertEqual(after[identity], before)

    def test_rules_of_paragraphs_go_to_every_paragraph_of_the_other_frames_copies_once(self) -> None:
        at = ("copies", "a", "versions", "en", "paragraphs")
        operations = [put(*at, n, "size", value=14) for n in (0, 1)]
        raw = document()
        after = done(raw, "for-all", objects=["f", "g", "h", "p"], operations=operations)
        self.assertEqual([p["size"] for copy in "ab" for p in paragraphs(after, copy)], [14] * 5)
        # Of the first alone where no other copy is chosen.
        after = done(raw, "for-all", objects=["f", "h"], operations=operations[:1])
        self.assertEqual(
            [p.get("size") for copy in "ab" for p in paragraphs(after, copy)], [14, None, None, None, None]
        )

    def test_a_style_goes_to_all_paragraphs_of_the_others(self) -> None:
        style = {"copy": "a", "version": "en", "paragraphs": [1], "style": "Loud"}
        act = {"do": "act", "act": "set-style", "given": style}
        after = done(document(), "for-all", objects=["f", "g"], operations=[act])
        styles = [p.get("style") for copy in "ab" for p in paragraphs(after, copy)]
        self.assertEqual(styles, [None, "Loud", "Loud", "Loud", "Loud"])

    def test_what_names_its_objects_and_what_is_not_chosen_stay_as_they_are(self) -> None:
        raw = document()
        move = {"do": "act", "act": "move", "given": {"objects": ["p"], "by": [5, 0]}}
        other = put("objects", "q", "fill", value={"color": "#00ff00"})
        words = put("copies", "b", "versions", "en", "paragraphs", 0, "size", value=7)
        after = done(raw, "for-all", objects=["f", "p"], operations=[move, other, words])
        self.assertEqual([things(after)[i]["x"] - things(raw)[i]["x"] for i in "fpq"], [0, 5, 0])
        self.assertEqual([i for i, thing in things(after).items() if "fill" in thing], ["q"])
        self.assertEqual([p.get("size") for p in paragraphs(after, "b")], [7, None, None])


class OntoRecipe(unittest.TestCase):
    def test_rules_paint_and_text_of_a_follower_become_the_recipes(self) -> None:
        at = ("copies", "a", "versions", "en", "paragraphs")
        operations = [
            put("objects", "f", "frame", "padding", value=6),
            put("objects", "f", "fill", value={"color": "#ff0000"}),
            *(put(*at, n, "leading", value=15) for n in (0, 1)),
            put("objects", "f", "turn", value=3),
        ]
        raw = document()
        after = done(raw, "onto-recipe", object="f", recipe="Label", operations=operations)
        recipe = after["recipes"]["Label"]
        self.assertEqual(recipe["frame"], {"sit": "top", "padding": 6})
        self.assertEqual((recipe["fill"], recipe["text"]), ({"color": "#ff0000"}, {"size": 9, "leading": 15}))
        mine = things(after)["f"]
        self.assertEqual((mine["turn"], mine.get("fill"), mine["frame"]), (3, None, {"copy": "a"}))
        self.assertEqual(mine.get("departs", []), [], "where it departed from the recipe it is as that again")
        self.assertEqual(things(after)["h"], things(raw)["h"])
        read = {t.id: t for _, t in studio().read(after).objects()}
        self.assertEqual([read[i].frame.padding.raw for i in "fgh"], [6, 0, 6])

    def test_both_at_once_go_onto_the_recipe_and_to_the_frames_that_are_chosen(self) -> None:
        inner = {
            "do": "act",
            "act": "for-all",
            "given": {"objects": ["f", "g"], "operations": [put("objects", "f", "frame", "sit", value="bottom")]},
        }
        after = done(document(), "onto-recipe", object="f", recipe="Label", operations=[inner])
        self.assertEqual(after["recipes"]["Label"]["frame"]["sit"], "bottom")
        self.assertEqual([things(after)[i]["frame"].get("sit") for i in "fgh"], [None, "bottom", None])

    def test_of_another_recipe_it_is_refused_in_words(self) -> None:
        with self.assertRaisesRegex(ActError, "does not follow “Label” any more"):
            done(
                document(), "onto-recipe", object="g", recipe="Label", operations=[put("objects", "g", "turn", value=1)]
            )


if __name__ == "__main__":
    unittest.main()
