"""What a screen is told: everything once, then only what differs; letters where the lines say."""

import json
import unittest
from typing import Any

import numpy as np
import orjson
from hypothesis import given

from nestline.document import edits
from nestline.output.lines import lines_report
from nestline.rows import SCREEN_RECORD
from nestline.scene import Scene, difference, scene_of, whole
from support import STORY, document, documents, frame, obstacle, paragraph, studio


def drawn(raw: dict[str, Any]) -> Scene:
    return scene_of(studio(), studio().read(raw))


def as_json(content: Any) -> Any:
    return json.loads(orjson.dumps(content, option=orjson.OPT_SERIALIZE_NUMPY))


def rows(nest: dict[str, Any]) -> list[dict[str, float]]:
    """A nest's flat records as named columns."""
    table = np.array(nest["records"]).reshape(-1, len(SCREEN_RECORD))
    return [dict(zip(SCREEN_RECORD, row, strict=True)) for row in table.tolist()]


def changed(raw: dict[str, Any], *operations: edits.Operation) -> tuple[Any, Any]:
    """The difference that operations make, and the whole scene after them."""
    before, after = drawn(raw), drawn(edits.apply(raw, operations).document)
    return as_json(difference(studio(), before, after)), as_json(whole(studio(), after))


def put(at: list[Any], value: Any) -> edits.Operation:
    return {"do": "put", "at": at, "value": value}


class Whole(unittest.TestCase):
    def test_words_stand_where_the_lines_say(self) -> None:
        scene = drawn(document([frame("leaf", width=380), obstacle(x=280)], paragraph(STORY, align="justify")))
        nest = as_json(whole(studio(), scene))
        shape, told = nest["shapes"][nest["nests"]["f"]["shape"]], nest["nests"]["f"]
        lines = lines_report(scene.nests)["frames"][0]["lines"]
        at = 0
        for row, line in zip(rows(told), lines, strict=True):
            self.assertAlmostEqual(row["baseline"], line["baseline"], delta=0.001)
            self.assertEqual([row["start"], row["end"]], line["range"])
            first = int(row["firstWord"])
            for n, word in enumerate(line["words"]):
                self.assertEqual(shape["text"][shape["start"][first + n] : shape["end"][first + n]], word["text"])
                self.assertAlmostEqual(told["x"][at], word["x"], delta=0.001)
                at += 1
        self.assertEqual(at, len(told["x"]))

    def test_runs_of_another_look_are_segments_of_their_own(self) -> None:
        runs = {
            "runs": [
                {"text": "Bring "},
                {"text": "str", "weight": 700},
                {"text": "ing", "color": "#ff0000", "size": 20},
            ]
        }
        scene = as_json(whole(studio(), drawn(document([frame()], runs))))
        (shape,) = scene["shapes"].values()
        texts = [shape["text"][a:b] for a, b in zip(shape["start"], shape["end"], strict=True)]
        self.assertEqual(texts, ["Bring", "str", "ing"])
        looks = [shape["looks"][n] for n in shape["look"]]
        self.assertEqual([k["face"] for k in looks], ["EBGaramond-Regular", "EBGaramond-Bold", "EBGaramond-Regular"])
        self.assertEqual((looks[2]["size"], looks[2]["color"]), (20, "#ff0000"))

    def test_paint_is_told_in_figures(self) -> None:
        thing = frame(
            fill={"color": "lake", "tint": 50, "opacity": 0.5},
            stroke={"color": "ink", "width": "1mm", "dash": [2, "1mm"]},
        )
        told = as_json(whole(studio(), drawn(document([thing], paragraph("Kite"), colors={"lake": "#2f6f8f"}))))[
            "objects"
        ]["f"]
        self.assertEqual(told["fill"], {"color": "#97b7c7", "opacity": 0.5})
        self.assertAlmostEqual(told["stroke"]["width"], 72 / 25.4)
        self.assertAlmostEqual(told["stroke"]["dash"][1], 72 / 25.4)

    def test_the_rules_that_hold_are_told_of_every_paragraph(self) -> None:
        raw = document(
            [frame()],
            paragraph("One", style="Body"),
            paragraph("Two", style="Body", align="end", size=20),
            styles={"Body": {"size": 10, "leading": "1.5em", "font": "Lato"}},
        )
        (shape,) = as_json(whole(studio(), drawn(raw)))["shapes"].values()
        one, two = (shape["rules"][n] for n in shape["ruleOf"])
        self.assertEqual((one["size"], one["leading"], one["align"], one["font"]), (10, 15, "start", "Lato"))
        self.assertEqual((two["size"], two["leading"], two["align"]), (20, 30, "end"))

    def test_a_wrap_is_told_as_a_path_in_the_objects_own_box(self) -> None:
        told = as_json(whole(studio(), drawn(document([obstacle(kind="rectangle", clearance=10)]))))["objects"]["w"]
        self.assertRegex(told["wrap"], r"^M-?\d.*Z$")
        self.assertIsNone(as_json(whole(studio(), drawn(document([frame()], paragraph("")))))["objects"]["f"]["wrap"])


class Difference(unittest.TestCase):
    raw = document(
        [frame(width=200), {**frame(x=500, y=600, width=200), "id": "g"}, obstacle(x=150, y=110)], paragraph(STORY)
    )

    def test_a_moved_wrap_changes_itself_and_the_frames_it_touches(self) -> None:
        told, _ = changed(self.raw, put(["objects", "w", "y"], 118))
        self.assertEqual((list(told["objects"]), list(told["nests"]), told["shapes"]), (["w"], ["f"], {}))
        self.assertEqual(told["nested"], ["f", "g"])

    def test_a_wrap_moved_from_one_frame_to_another_changes_both(self) -> None:
        told, _ = changed(self.raw, put(["objects", "w", "x"], 560), put(["objects", "w", "y"], 620))
        self.assertEqual(sorted(told["nests"]), ["f", "g"])

    def test_copy_that_changed_brings_its_new_shape(self) -> None:
        at = ["copies", "story", "versions", "en", "paragraphs", 0, "runs", 0, "text"]
        told, after = changed(self.raw, put(at, "No wind?"))
        self.assertEqual(sorted(told["nests"]), ["f", "g"])
        self.assertEqual(told["shapes"], after["shapes"])

    def test_a_colour_that_changed_is_drawn_everywhere(self) -> None:
        told, after = changed(self.raw, put(["colors"], {"ink": "#00ff00"}))
        self.assertEqual({**told, "labels": after["labels"]}, after)

    def test_order_tells_what_is_gone_and_what_lies_in_front(self) -> None:
        told, _ = changed(self.raw, {"do": "splice", "at": ["pages", 0, "objects"], "from": 0, "remove": 1})
        self.assertEqual(told["pages"][0]["order"], ["g", "w"])
        self.assertEqual(told["nested"], ["g"])

    @given(documents())
    def test_what_differs_put_into_what_was_is_what_is(self, raw: dict[str, Any]) -> None:
        """The client's rule: replace what came, drop what is not named any more."""
        operations = [put(["objects", "f", "x"], 120), put(["objects", "f", "frame", "padding"], 9)]
        told, after = changed(raw, *operations)
        before = as_json(whole(studio(), drawn(raw)))
        merged = {
            "objects": {**before["objects"], **told["objects"]},
            "labels": {**before["labels"], **told["labels"]},
            "nests": {k: v for k, v in {**before["nests"], **told["nests"]}.items() if k in told["nested"]},
        }
        self.assertEqual(merged["objects"], after["objects"])
        self.assertEqual(merged["nests"], after["nests"])
        used = {n["shape"] for n in merged["nests"].values()}
        shapes = {k: v for k, v in {**before["shapes"], **told["shapes"]}.items() if k in used}
        self.assertEqual(shapes, after["shapes"])
