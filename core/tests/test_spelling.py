"""Spelling by the dictionaries of npm's packages, and stretches of copy styled."""

import unittest
from pathlib import Path

from nestline.acts import ActError
from nestline.copy.spelling import Speller
from support import document, frame, nest_of, paragraph
from test_acts import done

DICTIONARIES = Path(__file__).parents[2] / "web" / "node_modules"


class WithObjects(unittest.TestCase):
    def test_words_get_another_look_and_objects_and_page_numbers_stay(self) -> None:
        runs = [{"text": "One "}, {"object": "o"}, {"text": " on page "}, {"field": "page"}, {"text": " and more"}]
        small = {"id": "o", "x": 0, "y": 0, "width": 9, "height": 9, "anchor": {"place": "in-line"}}
        raw = document([frame(), small], {"runs": runs})
        # “more” stands behind the object (one code point) and the page number (one figure).
        text = "One \ufffc on page 1 and more"
        at = text.index("more")
        after = done(raw, "style-stretches", copy="story", version="en", stretches=[[at, at + 4]], look={"weight": 700})
        made = after["copies"]["story"]["versions"]["en"]["paragraphs"][0]["runs"]
        self.assertEqual(made, [*runs[:4], {"text": " and "}, {"text": "more", "weight": 700}])


@unittest.skipUnless((DICTIONARIES / "dictionary-en").is_dir(), "the packages of the client are not installed")
class Spelling(unittest.TestCase):
    speller = Speller(DICTIONARIES)

    def test_words_that_are_not_in_the_dictionary(self) -> None:
        self.assertEqual(self.speller.unknown(["string", "strng", "don’t", "Kites"], "en-GB"), ["strng"])
        self.assertEqual(self.speller.unknown(["grey", "gray", "colour", "colur"], "en"), ["colur"])
        self.assertEqual(self.speller.unknown(["colour", "color"], "en-GB"), ["color"])
        self.assertEqual(self.speller.unknown(["Drachen", "Drchen"], "de"), ["Drchen"])

    def test_a_language_without_a_dictionary(self) -> None:
        self.assertIsNone(self.speller.unknown(["string"], "qq"))
        self.assertIsNone(self.speller.unknown(["string"], "../../en"))
        self.assertEqual(self.speller.better("string", "qq"), [])

    def test_words_close_to_one(self) -> None:
        self.assertIn("string", self.speller.better("strng", "en"))


class Stretches(unittest.TestCase):
    TEXT = "Bring string and a coat"
    HERE = {"copy": "story", "version": "en"}

    def runs(self, raw: dict, index: int = 0) -> list[dict]:  # type: ignore[type-arg]
        return raw["copies"]["story"]["versions"]["en"]["paragraphs"][index]["runs"]  # type: ignore[no-any-return]

    def test_several_stretches_at_once(self) -> None:
        raw = document([frame()], paragraph(self.TEXT), paragraph("Kites"))
        after = done(
            raw, "style-stretches", **self.HERE, stretches=[[6, 12], [24, 29]], look={"size": 20, "color": "#aa0000"}
        )
        self.assertEqual([r["text"] for r in self.runs(after)], ["Bring ", "string", " and a coat"])
        self.assertEqual(self.runs(after)[1], {"text": "string", "size": 20, "color": "#aa0000"})
        self.assertEqual(self.runs(after, 1), [{"text": "Kites", "size": 20, "color": "#aa0000"}])
        self.assertEqual(nest_of(after).nest.copy.text, nest_of(raw).nest.copy.text)

    def test_taken_away_again_the_runs_are_one(self) -> None:
        raw = document([frame()], paragraph(self.TEXT))
        styled = done(raw, "style-stretches", **self.HERE, stretches=[[6, 12]], look={"weight": 700})
        plain = done(styled, "style-stretches", **self.HERE, stretches=[[0, 23]], look={"weight": None})
        self.assertEqual(self.runs(plain), [{"text": self.TEXT}])

    def test_only_letters_can_be_changed_and_something_must_be_chosen(self) -> None:
        raw = document([frame()], paragraph(self.TEXT))
        for given in (
            {"stretches": [[0, 4]], "look": {"align": "center"}},
            {"stretches": [[4, 4]], "look": {"size": 9}},
        ):
            with self.assertRaises(ActError):
                done(raw, "style-stretches", **self.HERE, **given)


if __name__ == "__main__":
    unittest.main()
