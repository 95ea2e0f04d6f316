"""What objects are called: by their name, their words, or their kind and a number."""

from __future__ import annotations

import unittest
from typing import Any

from support import STORY, document, frame, paragraph, studio


def labels(objects: list[dict[str, Any]], *paragraphs: dict[str, Any]) -> list[str]:
    read = studio().read(document(objects, *paragraphs))
    return [read.labels[t.id] for _, t in read.objects()]


def plain(identity: str, kind: str = "rectangle", **more: Any) -> dict[str, Any]:
    return {"id": identity, "x": 0, "y": 0, "width": 9, "height": 9, "outline": {"kind": kind}, **more}


class Naming(unittest.TestCase):
    def test_names_nobody_gave_are_made_of_words_or_of_kinds_with_a_number(self) -> None:
        self.assertEqual(labels([frame()], paragraph(STORY)), ["Every year in late summer …"])
        self.assertEqual(labels([frame()], paragraph("Fly")), ["Fly"])
        kinds = [plain("a"), plain("b", "heart"), plain("c"), plain("d", name="Rectangle 1"), plain("e", "heart")]
        self.assertEqual(labels(kinds), ["Rectangle 2", "Heart 1", "Rectangle 3", "Rectangle 1", "Heart 2"])

    def test_frames_of_the_same_words_are_told_apart_and_empty_ones_numbered(self) -> None:
        same = [{**frame(), "id": "a"}, {**frame(), "id": "b"}, {**frame(), "id": "c", "name": "Story"}]
        self.assertEqual(labels(same, paragraph("Fly")), ["Fly", "Fly 2", "Story"])
        self.assertEqual(labels([frame()], {"runs": []}), ["Frame 1"])

    def test_a_long_word_is_cut(self) -> None:
        (said,) = labels([frame()], paragraph("Donaudampfschifffahrtsgesellschaftskapitän und mehr"))
        self.assertLess(len(said), 32)
        self.assertTrue(said.endswith("…"))


if __name__ == "__main__":
    unittest.main()
