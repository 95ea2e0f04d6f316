"""Reading documents, and edits with their inverses."""

import copy
import json
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from nestline.document import edits
from nestline.document.lengths import Sides
from nestline.document.reading import Reader
from nestline.errors import DocumentError, NestLineError
from support import document, documents, frame, paragraph, studio


def refusal(raw: Any) -> DocumentError:
    try:
        Reader().read(raw)
    except DocumentError as error:
        return error
    raise AssertionError("the document was read")


class Reading(unittest.TestCase):
    def test_defaults_are_those_of_the_format(self) -> None:
        read = Reader().read(document([frame()], paragraph("Kite")))
        rules = read.pages[0].objects[0].frame
        assert rules
        self.assertEqual((rules.padding, rules.sit, rules.hang, rules.stand), (Sides(), "top", "ascender", "descender"))
        self.assertEqual((rules.band, rules.pushed, rules.least_slot), ("letters", True, "by-copy"))
        self.assertEqual(read.pages[0].objects[0].wrap.by, "none")

    def test_each_fault_names_its_field_and_what_would_be_right(self) -> None:
        faults: list[tuple[dict[str, Any], str, str]] = [
            ({"width": "wide"}, "$.pages[0].objects[0].width", "0.25in"),
            ({"width": 0}, "$.pages[0].objects[0].width", "more than zero"),
            ({"outline": {"kind": "blob"}}, "$.pages[0].objects[0].outline.kind", "heart"),
            ({"outline": {"kind": "heart", "sides": 5}}, "$.pages[0].objects[0].outline", "another kind"),
            ({"outline": {"kind": "path"}}, "$.pages[0].objects[0].outline", "path data"),
            ({"colour": "red"}, "$.pages[0].objects[0].colour", "no such field"),
            ({"fill": {"color": "mauve"}}, "$.pages[0].objects[0].fill.color", "colours are"),
            ({"fill": {"color": "#12"}}, "$.pages[0].objects[0].fill.color", "#rrggbb"),
            ({"frame": {"copy": "tale"}}, "$.pages[0].objects[0].frame.copy", "copies are: story"),
            ({"frame": {"copy": "story", "sit": "centre"}}, "$.pages[0].objects[0].frame.sit", "middle"),
            ({"frame": {"copy": "story", "padding": -1}}, "$.pages[0].objects[0].frame.padding", "below zero"),
            ({"x": True}, "$.pages[0].objects[0].x", "length"),
            ({"wrap": {"by": "outline", "clearance": [1, 2, 3, 4]}}, "$.pages[0].objects[0].wrap", "box"),
        ]
        for change, path, said in faults:
            with self.subTest(change):
                error = refusal(document([{**frame(), **change}], paragraph("Kite")))
                self.assertEqual(error.path, path)
                self.assertIn(said, error.message)

    def test_anchors_contours_and_page_numbers_are_checked(self) -> None:
        picture = {"picture": {"file": "a.png"}}
        faults: list[tuple[dict[str, Any], str, str]] = [
            ({"anchor": {"place": "above"}}, "anchor.place", "beside"),
            ({"anchor": {"place": "beside", "side": "top"}}, "anchor.side", "fold"),
            ({"anchor": {"place": "beside", "x": "1em"}}, "anchor.x", "em"),
            ({**picture, "contour": {"from": "mask"}}, "contour", "mask picture"),
            ({**picture, "contour": {"from": "path"}}, "contour", "path data"),
            ({**picture, "contour": {"smoothness": 2}}, "contour.smoothness", "less than or equal"),
            (
                {**picture, "contour": {"from": "busy", "subject": {"box": [0, 0, 0, 1]}}},
                "contour.subject",
                "width and height",
            ),
        ]
        for change, field, said in faults:
            with self.subTest(change):
                error = refusal(document([{**frame(), **change}], paragraph("Kite")))
                self.assertEqual(error.path, f"$.pages[0].objects[0].{field}")
                self.assertIn(said, error.message)
        runs: list[tuple[dict[str, Any], str]] = [
            ({"field": "page", "text": "3"}, "only one"),
            ({"of": "f"}, "whose page"),
            ({"field": "page", "of": "none"}, "no frame"),
        ]
        for run, said in runs:
            self.assertIn(said, refusal(document([frame()], {"runs": [run]})).message)

    def test_rules_of_frames_that_follow_their_copy_are_checked(self) -> None:
        faults: list[tuple[str, Any, str]] = [
            ("give", ["down"], "no edge"),
            ("give", ["in-proportion", "left"], "stands alone"),
            ("padding", [1, 2, 3], "four"),
            ("padding", [1, -2, 3, 4], "below zero"),
            ("least", {"width": "2em"}, "em"),
            ("fit_type", {"least": 0}, "more than zero"),
            ("leftover", {"ends": "anywhere"}, "past-the-edge"),
            ("columns", 0, "greater than"),
            ("sit", "centre", "leaded"),
        ]
        for name, value, said in faults:
            with self.subTest(name):
                error = refusal(document([frame(**{name: value})], paragraph("Kite")))
                self.assertTrue(error.path.startswith(f"$.pages[0].objects[0].frame.{name}"), error.path)
                self.assertIn(said, error.message)
        limits = {"least": {"height": 90}, "greatest": {"height": 80}}
        error = refusal(document([frame(give=["bottom"], **limits)], paragraph("Kite")))
        self.assertIn("more than the greatest", error.message)

    def test_ids_are_used_once(self) -> None:
        error = refusal(document([frame(), frame()], paragraph("Kite")))
        self.assertEqual(error.path, "$.pages[0].objects[1].id")

    def test_a_missing_style_is_named(self) -> None:
        error = refusal(document([frame()], paragraph("Kite", style="Bodyy"), styles={"Body": {}}))
        self.assertEqual(error.path, "$.copies.story.versions.en.paragraphs[0].style")
        self.assertIn("Body", error.message)

    @given(
        st.recursive(
            st.none() | st.booleans() | st.integers() | st.text(max_size=6),
            lambda v: (
                st.lists(v, max_size=3)
                | st.dictionaries(
                    st.sampled_from(["pages", "objects", "x", "copies", "frame", "id", "versions", "en", "styles"]),
                    v,
                    max_size=4,
                )
            ),
            max_leaves=12,
        )
    )
    def test_any_json_is_read_or_refused_in_one_sentence(self, value: Any) -> None:
        raw = {"format": "nest-line", "version": 1, **value} if isinstance(value, dict) else value
        try:
            Reader().read(raw)
        except NestLineError as error:
            self.assertNotIn("\n", str(error))


class Edits(unittest.TestCase):
    raw = document([frame(), {"id": "g", "x": 1, "y": 2, "width": 3, "height": 4}], paragraph("One"), paragraph("Two"))

    def check(self, *operations: edits.Operation) -> edits.Raw:
        """Apply; the given document is unchanged, and the inverse gives it back exactly."""
        before = copy.deepcopy(self.raw)
        applied = edits.apply(self.raw, operations)
        self.assertEqual(self.raw, before)
        self.assertEqual(edits.apply(applied.document, applied.inverse).document, before)
        return applied.document

    def test_put_and_cut_reach_an_object_on_its_page(self) -> None:
        done = self.check({"do": "put", "at": ["objects", "g", "x"], "value": 9})
        self.assertEqual(done["pages"][0]["objects"][1]["x"], 9)
        self.check({"do": "cut", "at": ["objects", "g", "y"]})

    def test_a_put_below_what_is_missing_is_taken_back_whole(self) -> None:
        done = self.check({"do": "put", "at": ["objects", "g", "wrap", "by"], "value": "box"})
        self.assertEqual(done["pages"][0]["objects"][1]["wrap"], {"by": "box"})

    def test_splice_takes_out_and_puts_in(self) -> None:
        at = ["copies", "story", "versions", "en", "paragraphs"]
        done = self.check(
            {"do": "splice", "at": at, "from": 1, "remove": 1, "insert": [paragraph("2"), paragraph("3")]}
        )
        self.assertEqual(len(done["copies"]["story"]["versions"]["en"]["paragraphs"]), 3)

    def test_untouched_parts_are_shared(self) -> None:
        done = edits.apply(self.raw, [{"do": "put", "at": ["objects", "g", "x"], "value": 9}]).document
        self.assertIs(done["copies"], self.raw["copies"])
        self.assertIs(done["pages"][0]["objects"][0], self.raw["pages"][0]["objects"][0])

    def test_what_does_not_fit_is_refused(self) -> None:
        for operation in [
            {},
            {"do": "jump", "at": ["title"]},
            {"do": "put", "at": ["title"]},
            {"do": "put", "at": []},
            {"do": "put", "at": ["objects", "nobody", "x"], "value": 1},
            {"do": "put", "at": ["pages", 7, "x"], "value": 1},
            {"do": "splice", "at": ["pages"], "from": 5, "remove": 1},
            {"do": "splice", "at": ["title"], "from": 0},
            {"do": "put", "at": ["pages", -1], "value": 1},
            {"do": "put", "at": ["title", "x"], "value": 1},
            {"do": "splice", "at": ["pages"], "from": True, "insert": []},
            {"do": "put", "at": "title", "value": 1},
        ]:
            with self.subTest(operation), self.assertRaises(NestLineError):
                edits.apply({**self.raw, "title": "T"}, [operation])

    @given(documents(), st.data())
    def test_any_run_of_edits_can_be_taken_back(self, raw: dict[str, Any], data: st.DataObject) -> None:
        before = json.dumps(raw)
        operations = []
        for _ in range(data.draw(st.integers(1, 5))):
            thing = data.draw(st.sampled_from([o["id"] for o in raw["pages"][0]["objects"]]))
            field = data.draw(st.sampled_from(["x", "name", "turn", "fill", "hidden"]))
            operations.append({"do": "put", "at": ["objects", thing, field], "value": data.draw(st.integers(0, 9))})
        applied = edits.apply(raw, operations)
        self.assertEqual(
            json.dumps(edits.apply(applied.document, applied.inverse).document, sort_keys=True),
            json.dumps(json.loads(before), sort_keys=True),
        )


class Faults(unittest.TestCase):
    """Faults that a document could have and was read with all the same."""

    def test_each_is_refused_where_it_stands(self) -> None:
        def raw(**thing: Any) -> dict[str, Any]:
            objects = [
                {"id": "a", "x": 0, "y": 0, "width": 9, "height": 9, **thing},
                {"id": "b", "x": 0, "y": 0, "width": 9, "height": 9},
            ]
            copies = {"c": {"versions": {"en": {"paragraphs": [{"runs": [{"text": "x"}]}]}}}}
            return {
                "format": "nest-line",
                "version": 1,
                "copies": copies,
                "pages": [{"width": 99, "height": 99, "objects": objects}],
            }

        Reader().read(raw())
        inside = raw(frame={"copy": "c"}, anchor={})
        inside["copies"]["c"]["versions"]["en"]["paragraphs"][0]["runs"].append({"object": "a"})
        for wrong, said in (
            ({**raw(), "version": True}, "$.version"),
            (raw(picture={"file": "../secret.png"}), "picture"),
            (raw(picture={"file": "/etc/passwd"}), "picture"),
            (raw(picture={"file": "C:\\a.png"}), "picture"),
            (raw(picture={"file": "a/../../b.png"}), "picture"),
            (raw(ties=[{"edge": "top", "to": "b"}, {"edge": "top", "to": "b", "its": "bottom"}]), "tied twice"),
            (raw(frame={"copy": "c", "fit_type": {"least": 12, "greatest": 9}}), "least type size"),
            (inside, "the copy that it holds"),
        ):
            with self.assertRaises(DocumentError) as refused:
                Reader().read(wrong)
            self.assertIn(said, str(refused.exception))

    def test_what_cannot_be_drawn_or_shown_is_refused_with_its_path(self) -> None:
        def raw(head: dict[str, Any], **thing: Any) -> dict[str, Any]:
            made = document([{"id": "a", "x": 0, "y": 0, "width": 90, "height": 90, **thing}], paragraph("Fly a kite"))
            return {**made, **head}

        def path(d: str) -> dict[str, Any]:
            return {"kind": "path", "d": d}

        kept = studio()
        for wrong, at in (
            (raw({}, outline=path("M0 0 Lxx")), "$.pages[0].objects[0].outline.d"),
            (raw({}, outline=path("zzz"), frame={"copy": "story"}), "$.pages[0].objects[0].outline.d"),
            (raw({}, outline=path("M0 0L9 9Z"), frame={"copy": "story"}), "$.pages[0].objects[0].outline"),
            (raw({}, contour={"from": "path", "d": "Q1"}), "$.pages[0].objects[0].contour.d"),
            (raw({"showing": "fi"}), "$.showing"),
            (raw({}, outline=3), "$.pages[0].objects[0].outline"),
        ):
            with self.assertRaises(DocumentError) as refused:
                kept.check_whole(kept.read(wrong))
            self.assertEqual(refused.exception.path, at)
            self.assertNotIn("instance of", refused.exception.message)
        # A line that is only painted has no area, and need have none; what there is may be shown.
        for right in (
            raw({}, outline=path("M0 0L9 9")),
            raw({"showing": "en"}),
            {**raw({"showing": "fi"}), "copies": {}},
        ):
            kept.check_whole(kept.read(right))
