"""Named styles and colours."""

import unittest

from nestline.acts import ActError
from support import document, frame, nest_of, paragraph
from test_acts import done, outline, things

HERE = {"copy": "story", "version": "en"}


class Styles(unittest.TestCase):
    def test_a_style_takes_the_place_of_what_paragraphs_set_themselves(self) -> None:
        raw = document([frame()], paragraph("Kite", size=20, align="center"), styles={"Loud": {"size": 30}})
        after = done(raw, "set-style", **HERE, paragraphs=[0], style="Loud")
        made = after["copies"]["story"]["versions"]["en"]["paragraphs"][0]
        self.assertEqual(made, {"style": "Loud", "runs": [{"text": "Kite"}]})
        kept = done(raw, "set-style", **HERE, paragraphs=[0], style="Loud", keep=True)
        self.assertEqual(nest_of(kept).nest.copy.paragraphs[0].rules.size, 20)

    def test_a_style_made_of_a_paragraph_looks_like_it(self) -> None:
        raw = document(
            [frame()], paragraph("Kite", style="Body", size=20), styles={"Body": {"leading": 15, "size": 12}}
        )
        after = done(raw, "style-from", **HERE, paragraph=0, name="Larger")
        self.assertEqual(after["styles"]["Larger"], {"leading": 15, "size": 20})
        self.assertEqual(nest_of(raw).nest.records.tolist(), nest_of(after).nest.records.tolist())

    def test_changing_a_style_changes_all_that_follow_it(self) -> None:
        raw = document(
            [frame()],
            paragraph("One", style="Body", size=20),
            paragraph("Two", style="Body"),
            styles={"Body": {"size": 12}},
        )
        after = done(raw, "style-from", **HERE, paragraph=0, name="Body")
        self.assertEqual([p.rules.size for p in nest_of(after).nest.copy.paragraphs], [20, 20])

    def test_a_style_that_is_gone_is_said(self) -> None:
        with self.assertRaisesRegex(ActError, "no style"):
            done(document([frame()], paragraph("Kite")), "set-style", **HERE, paragraphs=[0], style="Loud")


class Colors(unittest.TestCase):
    def test_a_renamed_colour_is_renamed_everywhere(self) -> None:
        raw = document(
            [frame(fill={"color": "straw"}, stroke={"color": "straw"})], paragraph("Kite", color="straw"),
            colors={"straw": "#f6e3b4", "sky": "#ddeeff"}, styles={"Body": {"color": "straw"}},
        )  # fmt: skip
        raw["pages"][0]["background"] = "straw"
        after = done(raw, "rename-color", name="straw", to="hay")
        self.assertEqual(list(after["colors"]), ["hay", "sky"])
        self.assertNotIn("straw", str(after))
        with self.assertRaisesRegex(ActError, "already"):
            done(raw, "rename-color", name="straw", to="sky")

    def test_copy_that_is_called_like_a_colour_is_left_alone(self) -> None:
        raw = document([outline(fill={"color": "straw"})], colors={"straw": "#f6e3b4"})
        raw["copies"] = {"straw": {"versions": {"en": {"paragraphs": [{"runs": [{"text": "straw"}]}]}}}}
        after = done(raw, "rename-color", name="straw", to="hay")
        self.assertEqual(after["copies"], raw["copies"])
        self.assertEqual(things(after)["a"]["fill"]["color"], "hay")
