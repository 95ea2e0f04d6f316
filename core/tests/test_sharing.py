"""Edits as values: what two come to, and what another process's document shares with one's own."""

import json
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from nestline.document.edits import apply, grafted, joined
from support import document, frame, obstacle, paragraph

VALUES = st.recursive(
    st.none() | st.booleans() | st.integers(0, 3) | st.floats(0, 2) | st.sampled_from(["", "a", "b"]),
    lambda inner: st.lists(inner, max_size=5) | st.dictionaries(st.sampled_from("abcd"), inner, max_size=4),
    max_leaves=24,
)


class Grafted(unittest.TestCase):
    @given(VALUES, VALUES)
    def test_it_says_the_same_as_the_new_one(self, old: Any, new: Any) -> None:
        self.assertEqual(json.dumps(grafted(old, new)), json.dumps(new))
        self.assertIs(grafted(old, json.loads(json.dumps(old))), old)

    def test_what_is_the_same_is_the_older_one(self) -> None:
        old = document([frame(), *(obstacle(f"o{n}") for n in range(4))], paragraph("Bring string."))
        new = json.loads(json.dumps(old))
        objects = new["pages"][0]["objects"]
        del objects[2]
        objects.insert(3, {"id": "new"})
        new["copies"]["story"]["versions"]["en"]["paragraphs"].insert(0, {"runs": [{"text": "Up."}]})
        made = grafted(old, new)
        self.assertEqual(made, new)
        things = {t["id"]: t for t in old["pages"][0]["objects"]}
        kept = [t["id"] for t in made["pages"][0]["objects"] if things.get(t["id"]) is t]
        self.assertEqual(kept, ["f", "o0", "o3"])
        was, now = (c["story"]["versions"]["en"]["paragraphs"] for c in (old["copies"], made["copies"]))
        self.assertIs(now[1], was[0])

    def test_order_and_kinds_of_figures_count(self) -> None:
        for old, new in (
            ({"a": 1, "b": 2}, {"b": 2, "a": 1}),
            ([1], [1.0]),
            ([1], [True]),
            ({"a": [0]}, {"a": [False]}),
        ):
            self.assertEqual(json.dumps(grafted(old, new)), json.dumps(new))


def put(at: list[Any], value: Any) -> dict[str, Any]:
    return {"do": "put", "at": at, "value": value}


RUNS = ["copies", "story", "versions", "en", "paragraphs", 0, "runs"]
EDITS = st.lists(
    st.one_of(
        st.text("abc", max_size=4).map(lambda t: put(RUNS, [{"text": t}])),
        st.sampled_from(["start", "center"]).map(lambda v: put([*RUNS[:-1], "align"], v)),
        st.integers(0, 50).map(lambda v: put(["objects", "f", "x"], v)),
        st.just({"do": "splice", "at": RUNS[:-2], "from": 0, "remove": 0, "insert": [{"runs": []}]}),
    ),
    min_size=1,
    max_size=8,
)


class Joined(unittest.TestCase):
    @given(st.data())
    def test_done_and_undone_they_come_to_the_same(self, data: st.DataObject) -> None:
        before = document([frame()], paragraph("Bring string."))
        now, operations, inverse = before, [], []
        for operation in data.draw(EDITS):
            applied = apply(now, [operation])
            now = applied.document
            operations, inverse = joined(operations, inverse, [operation], applied.inverse)
        self.assertEqual(apply(before, operations).document, now)
        self.assertEqual(apply(now, inverse).document, before)

    def test_a_place_that_is_typed_in_again_is_kept_once(self) -> None:
        first, second = ([put(RUNS, [{"text": text}])] for text in ("B", "Br"))
        self.assertEqual(joined(first, ["back"], second, ["to B"]), (second, ["back"]))  # type: ignore[list-item]


if __name__ == "__main__":
    unittest.main()
