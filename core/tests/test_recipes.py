"""Recipes: followed, departed from and returned to, changed for all, let go; taken along and read by hand-written
documents."""

import copy
import unittest
from typing import Any

from nestline.acts import ActError
from nestline.document.reading import Reader
from nestline.document.shipped_recipes import SHIPPED
from nestline.errors import DocumentError
from support import document, frame, nest_of, paragraph, studio
from test_acts import done

CARD = {"frame": {"padding": 9, "sit": "middle"}, "fill": {"color": "#ffeecc"}, "text": {"size": 15, "align": "center"}}


def followers(**first: Any) -> dict[str, Any]:
    """Two frames that follow a recipe; the first with fields of its own."""
    objects = [{**frame(), "recipe": "Card", **first}, {**frame(), "id": "g", "x": 300, "recipe": "Card"}]
    return {**document(objects, paragraph("Bring string")), "recipes": {"Card": CARD}}


def things(raw: dict[str, Any]) -> dict[str, Any]:
    return {t.id: t for _, t in Reader().read(raw).objects()}


class Following(unittest.TestCase):
    def test_a_frame_takes_every_rule_that_its_recipe_holds(self) -> None:
        thing = things(followers())["f"]
        self.assertEqual((thing.frame.padding.raw, thing.frame.sit, thing.fill.color), (9, "middle", "#ffeecc"))
        self.assertEqual(thing.departs, ())
        copy_ = nest_of(followers()).nest.copy
        self.assertEqual((copy_.size, copy_.paragraphs[0].rules.align), (15, "center"))

    def test_what_it_sets_itself_goes_before_and_is_where_it_departs(self) -> None:
        own = frame(padding=3)["frame"]
        thing = things(followers(frame=own, fill=None))["f"]
        self.assertEqual((thing.frame.padding.raw, thing.frame.sit, thing.fill), (3, "middle", None))
        self.assertEqual(set(thing.departs), {"padding", "fill"})
        # A rule that is named only has its default.
        thing = things(followers(departs=["sit", "text"]))["f"]
        self.assertEqual((thing.frame.sit, thing.frame.padding.raw), ("top", 9))
        self.assertEqual(nest_of(followers(departs=["sit", "text"])).nest.copy.size, 11)

    def test_a_changed_recipe_changes_all_that_follow_it_and_only_them(self) -> None:
        reader, before = Reader(), followers()
        old = {t.id: t for _, t in reader.read(before).objects()}
        after = {**before, "recipes": {"Card": {**CARD, "frame": {"padding": 20}}}}
        new = {t.id: t for _, t in reader.read(after).objects()}
        self.assertEqual([new[i].frame.padding.raw for i in "fg"], [20, 20])
        self.assertEqual([old[i].frame.padding.raw for i in "fg"], [9, 9])
        again = {t.id: t for _, t in reader.read(before).objects()}
        self.assertIs(again["f"], old["f"], "read once")

    def test_faults_are_named(self) -> None:
        for change, path, said in (
            ({"recipes": {}}, "$.pages[0].objects[0].recipe", "none yet"),
            ({"recipes": {"Card": {"frame": {"padding": -1}}}}, "$.recipes.Card.frame", "padding"),
            ({"recipes": {"Card": {"frame": {"copy": "x"}}}}, "$.recipes.Card.frame", "leave “copy” out"),
            ({"recipes": {"Card": {"fill": {"color": "mauve"}}}}, "$.recipes.Card.fill.color", "colours are"),
            ({"recipes": {"Card": {"outline": {}}}}, "$.recipes.Card.outline", "no such field"),
        ):
            with self.subTest(change), self.assertRaises(DocumentError) as caught:
                Reader().read({**followers(), **change})
            self.assertEqual(caught.exception.path, path)
            self.assertIn(said, caught.exception.message)

    def test_every_shipped_recipe_can_be_followed(self) -> None:
        self.assertEqual(len(SHIPPED), 7)
        for name, recipe in SHIPPED.items():
            raw = document([{**frame(), "recipe": name}], paragraph("Fly a kite on the hill"))
            placed = nest_of({**raw, "recipes": {name: recipe}})
            self.assertEqual(placed.nest.leftover_words, 0, name)


class Acts(unittest.TestCase):
    def test_saving_one_changes_nothing_that_is_seen(self) -> None:
        raw = document([frame(padding=7, sit="bottom"), {**frame(), "id": "g", "x": 300}], paragraph("Kite", size=14))
        after = done(raw, "save-recipe", object="f", name="Label", rules=["padding", "give", "fill", "text"])
        self.assertEqual(after["recipes"]["Label"]["frame"], {"padding": 7, "give": []})
        self.assertEqual(after["recipes"]["Label"]["text"]["size"], 14)
        one = after["pages"][0]["objects"][0]
        self.assertEqual((one["recipe"], one["frame"].get("padding"), one["frame"]["sit"]), ("Label", None, "bottom"))
        self.assertEqual(nest_of(after).nest.records.tolist(), nest_of(raw).nest.records.tolist())

    def test_followed_by_another_it_is_as_the_first(self) -> None:
        raw = document([frame(padding=7), {**frame(padding=1, sit="bottom"), "id": "g", "x": 300}], paragraph("Kite"))
        after = done(raw, "save-recipe", object="f", name="Label", rules=["padding"])
        after = done(after, "follow", objects=["g"], recipe="Label")
        thing = things(after)["g"]
        self.assertEqual((thing.frame.padding.raw, thing.frame.sit, thing.departs), (7, "bottom", ()))

    def test_one_of_a_library_comes_into_the_document(self) -> None:
        raw = document([frame(padding=3)], paragraph("Kite", size=30, weight=700))
        after = done(raw, "follow", objects=["f"], recipe="Caption", rules=SHIPPED["Caption"])
        self.assertEqual(after["recipes"]["Caption"], SHIPPED["Caption"])
        rules = nest_of(after).nest.copy.paragraphs[0].rules
        self.assertEqual((rules.size, rules.look.weight), (8.5, 700), "what the recipe does not hold stays")
        # One of the document's goes before one of the library with its name.
        again = done(after, "follow", objects=["f"], recipe="Caption", rules={"frame": {"padding": 99}})
        self.assertEqual(things(again)["f"].frame.padding.raw, ["0.5em", 0, 0, 0])

    def test_let_go_it_keeps_its_rules(self) -> None:
        raw = followers(frame=frame(padding=3)["frame"])
        after = done(raw, "let-go", objects=["f"])
        before_, after_ = things(raw)["f"], things(after)["f"]
        self.assertIsNone(after_.recipe)
        self.assertEqual((after_.frame, after_.fill), (before_.frame, before_.fill))
        self.assertEqual(nest_of(after).nest.records.tolist(), nest_of(raw).nest.records.tolist())

    def test_every_version_keeps_its_look_when_let_go(self) -> None:
        raw = followers()
        raw["copies"]["story"]["versions"]["de"] = {"language": "de", "paragraphs": [paragraph("Schnur")]}
        after = done(raw, "let-go", objects=["f"])
        for version in ("en", "de"):
            before_, after_ = (studio().nest(studio().read(r), version)[0].nest.copy for r in (raw, after))
            self.assertEqual((after_.size, after_.paragraphs[0].rules.align), (before_.size, "center"), version)

    def test_returned_to_it_departs_no_more(self) -> None:
        raw = followers(frame=frame(padding=3, sit="bottom")["frame"], fill=None)
        one = done(raw, "return-to-recipe", object="f", rules=["padding"])
        self.assertEqual(set(things(one)["f"].departs), {"sit", "fill"})
        whole = done(raw, "return-to-recipe", object="f", rules=["padding", "sit", "fill"])
        self.assertEqual(things(whole)["f"].departs, ())
        self.assertEqual(things(whole)["f"].fill.color, "#ffeecc")

    def test_made_as_one_of_its_frames_is_all_follow(self) -> None:
        raw = followers(frame=frame(padding=3)["frame"])
        after = done(raw, "recipe-from", object="f")
        self.assertEqual([things(after)[i].frame.padding.raw for i in "fg"], [3, 3])
        self.assertEqual(things(after)["f"].departs, ())

    def test_dropped_or_renamed_nothing_that_is_seen_changes(self) -> None:
        raw = followers()
        for after in (done(raw, "drop-recipe", name="Card"), done(raw, "rename-recipe", name="Card", to="Ticket")):
            self.assertEqual([things(after)[i].frame for i in "fg"], [things(raw)[i].frame for i in "fg"])
            self.assertNotIn("Card", after["recipes"])

    def test_copy_taken_out_of_a_follower_brings_its_rules_and_no_paint(self) -> None:
        after = done(followers(), "take-copy", object="f")
        out = next(t for t in things(after).values() if t.frame and t.id not in "fg")
        self.assertEqual((out.frame.padding.raw, out.fill), (9, None))
        self.assertEqual(things(after)["f"].fill.color, "#ffeecc")

    def test_nothing_that_was_given_is_changed(self) -> None:
        raw = followers()
        before = copy.deepcopy(raw)
        for name, given in (
            ("let-go", {"objects": ["f"]}),
            ("drop-recipe", {"name": "Card"}),
            ("recipe-from", {"object": "f"}),
        ):
            done(raw, name, **given)
        self.assertEqual(raw, before)

    def test_what_cannot_be_is_refused(self) -> None:
        raw = document([frame(), {"id": "o", "x": 0, "y": 0, "width": 9, "height": 9}], paragraph("Kite"))
        for name, given in (
            ("save-recipe", {"object": "o", "name": "X", "rules": ["padding"]}),
            ("save-recipe", {"object": "f", "name": "X", "rules": []}),
            ("save-recipe", {"object": "f", "name": "X", "rules": ["copy"]}),
            ("follow", {"objects": ["f"], "recipe": "X"}),
            ("return-to-recipe", {"object": "f", "rules": ["padding"]}),
        ):
            with self.subTest(name, given=given), self.assertRaises(ActError):
                done(raw, name, **given)


class Showing(unittest.TestCase):
    def test_the_version_that_a_document_shows_and_what_stands_in_for_it(self) -> None:
        raw = document([frame()], paragraph("Fly"))
        raw["copies"]["story"]["versions"]["de"] = {"language": "de", "paragraphs": [paragraph("Flieg")]}
        for showing, text in (("de", "Flieg"), ("fi", "Fly"), (None, "Fly")):
            placed = studio().nest(studio().read({**raw, "showing": showing}))[0]
            self.assertEqual(placed.nest.copy.text, text)


if __name__ == "__main__":
    unittest.main()
