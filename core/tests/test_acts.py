"""Acts: what a designer does in one go comes to operations that can be undone."""

import base64
import json
import random
import unittest
from typing import Any

from draws import seeds
from nestline.acts import ActError, expanded
from nestline.acts.acting import Acting
from nestline.acts.own_copy import lies_behind
from nestline.document import edits
from nestline.document.colors import color_figure
from nestline.document.contrast import contrast
from support import document, frame, nest_of, paragraph, studio


def done(raw: dict[str, Any], act: str, **given: Any) -> dict[str, Any]:
    """The document after an act; its inverse must give back what was there."""
    studio().read(raw)
    operations = expanded(studio(), raw, [{"do": "act", "act": act, "given": given}])
    json.dumps(operations)  # they are stored as JSON
    applied = edits.apply(raw, operations)
    studio().read(applied.document)
    assert edits.apply(applied.document, applied.inverse).document == raw
    return applied.document


def outline(kind: str = "rectangle", **more: Any) -> dict[str, Any]:
    return {"id": "a", "x": 10, "y": 20, "width": 100, "height": 80, "outline": {"kind": kind}, **more}


def things(raw: dict[str, Any]) -> dict[str, dict[str, Any]]:
    return {t["id"]: t for page in raw["pages"] for t in page["objects"]}


def given_look(raw: dict[str, Any]) -> dict[str, Any]:
    """The rules of the first paragraph of the only copy."""
    (copy,) = raw["copies"].values()
    return {k: v for k, v in copy["versions"]["en"]["paragraphs"][0].items() if k != "runs"}


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

    def test_new_copy_looks_the_same_whatever_way_it_comes_and_reads_and_holds_six_letters(self) -> None:
        for seed in seeds(120):
            dice = random.Random(seed)
            fill = {
                "color": f"#{dice.randrange(1 << 24):06x}",
                "opacity": dice.choice([1, 1, 0.3]),
                "tint": dice.choice([100, 40]),
            }
            width, height = dice.uniform(14, 300), dice.uniform(14, 200)
            thing = outline(dice.choice(["rectangle", "heart", "ellipse", "star", "kite"]), width=width, height=height)
            if dice.random() < 0.6:
                thing["fill"] = fill
            ground = {
                "id": "g",
                "x": 0,
                "y": 0,
                "width": 500,
                "height": 500,
                "fill": {"color": f"#{dice.randrange(1 << 24):06x}"},
            }
            body = dice.choice([None, {"size": 9, "leading": 12, "font": "Source Sans 3"}])
            raw = document([*([ground] if dice.random() < 0.5 else []), thing], styles={"Body": body} if body else {})
            text = base64.b64encode(b"Bring string and friends.").decode()
            looks = []
            for act, given in (
                ("give-copy", {}),
                ("dummy-copy", {}),
                ("bring-text", {"name": "a.txt", "content": text, "plain": True}),
            ):
                after = done(raw, act, object="a", version="en", **given)
                name = things(after)["a"]["frame"]["copy"]
                first = after["copies"][name]["versions"]["en"]["paragraphs"][0]
                looks.append(
                    (
                        {k: v for k, v in first.items() if k != "runs"},
                        {k: v for k, v in things(after)["a"]["frame"].items() if k != "copy"},
                    )
                )
            self.assertTrue(looks[0] == looks[1] == looks[2], (seed, looks))
            look = looks[0][0]
            read = studio().read(raw)
            behind = lies_behind(Acting(studio(), read), next(t for _, t in read.objects() if t.id == "a"))
            ratio = {name: contrast(color_figure(read.head, name), behind) for name in ("ink", "paper")}
            chosen = look.get("color", "ink")
            self.assertTrue(ratio[chosen] >= 4.5 or ratio[chosen] == max(ratio.values()), (seed, ratio, chosen))
            self.assertTrue(chosen == "ink" or ratio["ink"] < 4.5)
            size = look.get("size")
            if size is not None:
                self.assertTrue(size == int(size) and size < (9 if body else 11), seed)

    def test_a_frame_with_four_paddings_and_a_stroke_lets_its_copy_go(self) -> None:
        for padding in ([4, 5, 6, 7], ["1em", "2mm", 3, 0], 9, "1em"):
            raw = document([frame(padding=padding, stroke={"width": 4})], paragraph("Kites and string"))
            after = done(raw, "take-copy", object="f")
            old, new = nest_of(raw).nest, nest_of(after).nest
            self.assertLess(abs(old.left - new.left).max(), 1e-6)

    def test_what_holds_copy_already_is_left_alone(self) -> None:
        with self.assertRaises(ActError):
            done(document([frame()], paragraph("Kite")), "give-copy", object="f", version="en")

    def test_words_typed_behind_new_copy_take_its_look_and_give_it_where_there_is_none(self) -> None:
        words = [{"runs": [{"text": text}]} for text in ("Kites", "at 4.50", "each")]
        raw = document([outline("heart", fill={"color": "#101010"})])
        given = done(raw, "give-copy", object="a", version="en", paragraphs=words[:1])
        made = done(given, "write", object="a", version="en", paragraphs=words)
        (copy,) = made["copies"].values()
        self.assertEqual({k: given_look(given)[k] for k in ("align", "color")}, {"align": "center", "color": "paper"})
        self.assertEqual(copy["versions"]["en"]["paragraphs"], [{**given_look(given), **p} for p in words])
        self.assertEqual(done(raw, "write", object="a", version="en", paragraphs=words[:1]), given)
        # Paragraphs that stand there keep their own rules; those behind them go on in the last one's.
        apart = document([frame()], {**paragraph("Kite"), "align": "end"}, {**paragraph("String"), "space_before": 4})
        rules = [
            {k: v for k, v in p.items() if k != "runs"}
            for c in done(apart, "write", object="f", version="en", paragraphs=words)["copies"].values()
            for p in c["versions"]["en"]["paragraphs"]
        ]
        self.assertEqual([rules[0].get("align"), rules[1].get("space_before"), rules[2]], ["end", 4, rules[1]])
        with self.assertRaises(ActError):
            done(document([outline()]), "write", object="gone", version="en", paragraphs=words)

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
