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

    def test_how_copy_looks_counts_in_every_version_unless_it_is_only_for_one(self) -> None:
        raw = document([frame()], paragraph("Kite", size=20), paragraph("Day"), styles={"Loud": {"size": 30}})
        versions = raw["copies"]["story"]["versions"]
        german = [{"runs": [{"text": t}], "language": "de"} for t in ("Drachen", "Tag", "Ende")]
        versions["de"] = {"language": "de", "paragraphs": german}
        versions["fi"] = {"language": "fi", "paragraphs": [{"runs": [{"text": "Leija"}]}]}

        def of(after: dict, version: str, field: str) -> list:  # type: ignore[type-arg]
            return [p.get(field) for p in after["copies"]["story"]["versions"][version]["paragraphs"]]

        every = done(raw, "set-rule", **HERE, paragraphs=[0, 1], rule="align", value="center")
        self.assertEqual(
            [of(every, v, "align") for v in ("en", "de", "fi")], [["center"] * 2, ["center"] * 3, ["center"]]
        )
        second = done(every, "set-rule", **HERE, paragraphs=[1], rule="align", value="end")
        self.assertEqual(
            [of(second, v, "align") for v in ("en", "de", "fi")],
            [["center", "end"], ["center", "end", "center"], ["center"]],
        )
        alone = done(every, "set-rule", **HERE, paragraphs=[0, 1], rule="align", value="end", only=True)
        self.assertEqual([of(alone, v, "align") for v in ("en", "de")], [["end"] * 2, ["center"] * 3])
        off = done(every, "set-rule", **HERE, paragraphs=[0], rule="size")
        self.assertEqual(of(off, "en", "size"), [None, None])
        tongue = done(raw, "set-rule", **HERE, paragraphs=[0], rule="language", value="fr")
        self.assertEqual([of(tongue, v, "language") for v in ("en", "de")], [["fr", None], ["de"] * 3])
        styled = done(raw, "set-style", **HERE, paragraphs=[0, 1], style="Loud")
        self.assertEqual([of(styled, v, "style") for v in ("en", "de", "fi")], [["Loud"] * 2, ["Loud"] * 3, ["Loud"]])
        self.assertEqual(of(styled, "de", "language"), ["de"] * 3)  # its words' own, no look
        made = done(raw, "style-from", **HERE, paragraph=0, name="Large")
        self.assertEqual([of(made, v, "style") for v in ("en", "de")], [["Large", None], ["Large", None, None]])
        with self.assertRaises(ActError):
            done(raw, "set-rule", **HERE, paragraphs=[0], rule="runs", value=[])

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
            [frame(fill={"color": "straw"}, stroke={"color": "straw"})],
            paragraph("Kite", color="straw"),
            colors={"straw": "#f6e3b4", "sky": "#ddeeff"},
            styles={"Body": {"color": "straw"}},
        )
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
