"""Acts: what a designer does in one go comes to operations that can be undone."""

import unittest
from typing import Any

from nestline.acts import ActError, expanded
from nestline.acts.giving import contrast
from nestline.document import edits
from support import document, frame, paragraph, studio


def done(raw: dict[str, Any], act: str, **given: Any) -> dict[str, Any]:
    """The document after an act; its inverse must give back what was there."""
    studio().read(raw)
    operations = expanded(studio(), raw, [{"do": "act", "act": act, "given": given}])
    applied = edits.apply(raw, operations)
    studio().read(applied.document)
    assert edits.apply(applied.document, applied.inverse).document == raw
    return applied.document


def outline(kind: str = "rectangle", **more: Any) -> dict[str, Any]:
    return {"id": "a", "x": 10, "y": 20, "width": 100, "height": 80, "outline": {"kind": kind}, **more}


def things(raw: dict[str, Any]) -> dict[str, dict[str, Any]]:
    return {t["id"]: t for page in raw["pages"] for t in page["objects"]}


class GivingCopy(unittest.TestCase):
    def test_a_curved_outline_centres_its_first_copy_both_ways(self) -> None:
        after = done(document([outline("heart")]), "give-copy", object="a", version="en")
        made = things(after)["a"]["frame"]
        self.assertEqual(made["sit"], "middle")
        self.assertEqual(
            after["copies"][made["copy"]]["versions"]["en"]["paragraphs"], [{"align": "center", "runs": []}]
        )

    def test_a_painted_frame_gets_room_and_a_bare_one_none(self) -> None:
        filled = outline(fill={"color": "#f6e3b4"})
        after = done(document([filled]), "give-copy", object="a", version="en")
        self.assertGreater(things(after)["a"]["frame"]["padding"], 0)
        bare = done(document([outline()]), "give-copy", object="a", version="en")
        self.assertNotIn("padding", things(bare)["a"]["frame"])

    def test_new_copy_always_reads_on_its_fill(self) -> None:
        for fill, color in (("#1d3a33", "paper"), ("#f6e3b4", None), ("#101010", "paper")):
            after = done(document([outline(fill={"color": fill})]), "give-copy", object="a", version="en")
            name = things(after)["a"]["frame"]["copy"]
            given = after["copies"][name]["versions"]["en"]["paragraphs"][0].get("color")
            self.assertEqual(given, color)

    def test_what_holds_copy_already_is_left_alone(self) -> None:
        with self.assertRaises(ActError):
            done(document([frame()], paragraph("Kite")), "give-copy", object="f", version="en")

    def test_contrast_is_that_of_the_standard(self) -> None:
        # The W3C's worked examples for WCAG 2: #767676 on white 4.54:1, #777777 on white 4.48:1.
        for grey, ratio in ((0x76, 4.54), (0x77, 4.48)):
            self.assertAlmostEqual(contrast((grey / 255,) * 3, (1.0, 1.0, 1.0)), ratio, places=2)


class Expanding(unittest.TestCase):
    def test_an_act_sees_what_stands_before_it_in_the_edit(self) -> None:
        raw = document([])
        put = {"do": "splice", "at": ["pages", 0, "objects"], "from": 0, "remove": 0, "insert": [outline()]}
        operations = expanded(
            studio(), raw, [put, {"do": "act", "act": "give-copy", "given": {"object": "a", "version": "en"}}]
        )
        self.assertIn("frame", things(edits.apply(raw, operations).document)["a"])

    def test_what_is_no_act_is_said(self) -> None:
        with self.assertRaisesRegex(ActError, "no act"):
            done(document([]), "fly")
