"""Groups: read, reached by edits, made and taken apart, and taken as one by other acts."""

import unittest
from copy import deepcopy
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from nestline.acts import ActError
from nestline.acts.grouping import leaves
from nestline.document import edits
from nestline.document.reading import Reader
from nestline.errors import DocumentError
from support import document, frame, nest_of, obstacle, paragraph, studio
from test_acts import done
from test_arranging import box

TREE = [
    box("a", 0, 0),
    {
        "id": "g",
        "name": "Pair",
        "objects": [box("b", 10, 0), {"id": "h", "objects": [box("c", 40, 0), box("d", 80, 5)]}],
    },
    box("e", 200, 0),
]


def shape(raw: dict[str, Any]) -> Any:
    """A page's objects by id, groups as lists."""

    def of(things: list[dict[str, Any]]) -> list[Any]:
        return [{t["id"]: of(t["objects"])} if "objects" in t else t["id"] for t in things]

    return of(raw["pages"][0]["objects"])


class OtherPages(unittest.TestCase):
    def test_what_is_dragged_to_another_page_stands_there_as_it_stood(self) -> None:
        raw = document(deepcopy(TREE))
        raw["pages"].append(
            {"width": 900, "height": 900, "objects": [{"id": "z", "x": 0, "y": 0, "width": 9, "height": 9}]}
        )
        for where, wanted in (
            ({"above": "z"}, ["z", "a"]),
            ({"below": "z"}, ["a", "z"]),
            ({"page": 1}, ["z", "a"]),
        ):
            made = done(raw, "restack", object="a", **where)
            self.assertEqual([o["id"] for o in made["pages"][1]["objects"]], wanted)
            was = next(o for o in raw["pages"][0]["objects"] if o["id"] == "a")
            self.assertIn(was, made["pages"][1]["objects"])
            self.assertNotIn(was, made["pages"][0]["objects"])
            self.assertEqual(len(made["pages"][0]["objects"]), len(raw["pages"][0]["objects"]) - 1)
        front = done(raw, "restack", object="a", page=0)
        self.assertEqual(front["pages"][0]["objects"][-1]["id"], "a")
        with self.assertRaises(ActError):
            done(raw, "restack", object="a", page=7)


class Reading(unittest.TestCase):
    def test_objects_in_groups_are_drawn_in_their_order(self) -> None:
        page = Reader().read(document(TREE)).pages[0]
        self.assertEqual([t.id for t in page.objects], list("abcde"))
        self.assertEqual(page.paths[2], ("pages", 0, "objects", 1, "objects", 1, "objects", 0))
        self.assertEqual(
            [(g.group.id, g.objects, g.inside) for g in page.groups],
            [("g", ("b", "c", "d"), None), ("h", ("c", "d"), "g")],
        )

    def test_what_a_group_hides_or_locks_is_hidden_or_locked(self) -> None:
        raw = document([{"id": "g", "hidden": True, "locked": True, "objects": [box("a", 0, 0)]}, box("b", 0, 0)])
        a, b = Reader().read(raw).pages[0].objects
        self.assertEqual((a.hidden, a.locked, b.hidden, b.locked), (True, True, False, False))

    def test_faults_are_named_by_their_path(self) -> None:
        for inner, path in (
            (box("b", 0, 0, colour="red"), "$.pages[0].objects[0].objects[0].colour"),
            (box("b", 0, 0, frame={"copy": "none"}), "$.pages[0].objects[0].objects[0].frame.copy"),
        ):
            with self.assertRaises(DocumentError) as caught:
                Reader().read(document([{"id": "g", "objects": [inner]}]))
            self.assertEqual(caught.exception.path, path)
        with self.assertRaises(DocumentError):
            Reader().read(document([{"id": "g", "objects": [box("g", 0, 0)]}]))

    def test_parts_of_a_group_push_singly(self) -> None:
        alone = document([frame(), obstacle("v", 120, 130), obstacle("w", 300, 250)], paragraph("Kites " * 120))
        grouped = document(
            [frame(), {"id": "g", "objects": [obstacle("v", 120, 130), obstacle("w", 300, 250)]}],
            paragraph("Kites " * 120),
        )
        self.assertEqual(nest_of(alone).nest.records.tolist(), nest_of(grouped).nest.records.tolist())
        hidden = edits.apply(grouped, [{"do": "put", "at": ["objects", "g", "hidden"], "value": True}]).document
        self.assertNotEqual(nest_of(alone).nest.records.tolist(), nest_of(hidden).nest.records.tolist())


class Edits(unittest.TestCase):
    def test_an_object_is_reached_by_its_id_wherever_it_is_and_so_is_a_group(self) -> None:
        raw = document(TREE)
        applied = edits.apply(
            raw,
            [
                {"do": "put", "at": ["objects", "d", "x"], "value": 99},
                {"do": "put", "at": ["objects", "h", "name"], "value": "Inner"},
            ],
        )
        self.assertEqual(applied.document["pages"][0]["objects"][1]["objects"][1]["objects"][1]["x"], 99)
        self.assertEqual(edits.apply(applied.document, applied.inverse).document, raw)


class Acts(unittest.TestCase):
    def test_grouped_in_the_place_of_the_front_one(self) -> None:
        raw = document([box(i, 0, 0) for i in "abcd"])
        self.assertEqual(shape(done(raw, "group", objects=["c", "a"], id="g")), ["b", {"g": ["a", "c"]}, "d"])
        with self.assertRaises(ActError):
            done(raw, "group", objects=["a"])

    def test_a_group_and_an_object_make_a_group_of_both(self) -> None:
        after = done(document(TREE), "group", objects=["b", "c", "d", "e"], id="n")
        self.assertEqual(shape(after), ["a", {"n": [{"g": ["b", {"h": ["c", "d"]}]}, "e"]}])

    def test_taken_apart_leaves_what_was_in_it_where_it_was(self) -> None:
        self.assertEqual(shape(done(document(TREE), "ungroup", objects=["c"])), ["a", "b", {"h": ["c", "d"]}, "e"])

    def test_deleting_all_of_a_group_deletes_the_group(self) -> None:
        self.assertEqual(shape(done(document(TREE), "delete", objects=["c", "d"])), ["a", {"g": ["b"]}, "e"])
        self.assertEqual(shape(done(document(TREE), "delete", objects=["b", "c", "d"])), ["a", "e"])

    def test_a_group_goes_up_and_down_as_one(self) -> None:
        self.assertEqual(
            shape(done(document(TREE), "stack", objects=["b", "c", "d"], to="back"))[0], {"g": ["b", {"h": ["c", "d"]}]}
        )
        self.assertEqual(
            shape(done(document(TREE), "stack", objects=["c"], to="front"))[1], {"g": ["b", {"h": ["d", "c"]}]}
        )

    def test_dragged_to_another_place_of_the_list(self) -> None:
        self.assertEqual(shape(done(document(TREE), "restack", object="a", above="e"))[-1], "a")
        self.assertEqual(
            shape(done(document(TREE), "restack", object="e", below="c")), ["a", {"g": ["b", {"h": ["e", "c", "d"]}]}]
        )
        self.assertEqual(shape(done(document(TREE), "restack", object="g"))[0], {"g": ["b", {"h": ["c", "d"]}]})
        self.assertEqual(shape(done(document(TREE), "restack", object="g", above="c")), shape(document(TREE)))

    def test_aligned_and_spaced_as_one(self) -> None:
        after = done(document(TREE), "align", objects=list("abcde"), edge="left")
        page = studio().read(after).pages[0]
        self.assertEqual([t.box[0] for t in page.objects], [0, 0, 30, 70, 0])

    def test_a_duplicate_has_groups_and_copies_of_its_own(self) -> None:
        raw = document([{"id": "g", "objects": [frame(), box("a", 0, 0)]}], paragraph("Kite"))
        after = done(raw, "duplicate", objects=["f", "a"], by=[5, 0], ids=["x", "y"])
        first, second = after["pages"][0]["objects"]
        self.assertEqual(leaves(second), ["x", "y"])
        self.assertNotEqual(second["id"], first["id"])
        self.assertNotEqual(second["objects"][0]["frame"]["copy"], "story")
        studio().read(after)

    @given(st.lists(st.tuples(st.sampled_from("abcdefgh"), st.sampled_from("abcdefgh"), st.booleans()), max_size=12))
    def test_whatever_is_done_no_object_is_lost(self, steps: list[tuple[str, str, bool]]) -> None:
        raw = document([box(i, 0, 0) for i in "abcdefgh"])
        for one, other, joins in steps:
            try:
                raw = done(raw, "group", objects=[one, other]) if joins else done(raw, "ungroup", objects=[one])
            except ActError:
                continue
            raw = done(raw, "restack", object=one, below=other)
            self.assertEqual(sorted(i for t in raw["pages"][0]["objects"] for i in leaves(t)), list("abcdefgh"))
            studio().read(raw)


if __name__ == "__main__":
    unittest.main()
