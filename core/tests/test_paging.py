"""Pages: added, duplicated with their copies, moved, deleted; mixed sizes."""

import unittest
from typing import Any

from nestline.acts import ActError
from nestline.document.reading import Reader
from support import document, frame, obstacle, paragraph, studio
from test_acts import done


def two() -> dict[str, Any]:
    raw = document([frame(), obstacle()], paragraph("Bring string"))
    raw["pages"][0] |= {"margins": 20, "guides": {"x": [30], "y": []}}
    raw["copies"]["other"] = {"versions": {"en": {"language": "en", "paragraphs": [paragraph("Fly")]}}}
    far = {**frame(), "id": "g", "frame": {"copy": "other"}}
    raw["pages"].append({"width": 200, "height": 300, "objects": [far]})
    return raw


def ids(raw: dict[str, Any]) -> list[list[str]]:
    return [[t.id for t in page.objects] for page in Reader().read(raw).pages]


class Pages(unittest.TestCase):
    def test_a_new_page_is_as_the_one_before_it_and_empty(self) -> None:
        raw = done(two(), "add-page", after=0)
        self.assertEqual(ids(raw), [["f", "w"], [], ["g"]])
        self.assertEqual(raw["pages"][1]["margins"], 20)
        self.assertNotIn("guides", raw["pages"][1])
        self.assertEqual(
            [p.sheet.size for p in Reader().read(raw).pages][1:], [Reader().read(raw).pages[0].sheet.size, (200, 300)]
        )

    def test_a_duplicate_has_objects_and_copies_of_its_own(self) -> None:
        raw = done(two(), "duplicate-page", page=0)
        self.assertEqual(len(ids(raw)), 3)
        self.assertEqual(len(ids(raw)[1]), 2)
        self.assertEqual(len(raw["copies"]), 3)
        nests = studio().nest(studio().read(raw))
        first, second = (n for n in nests if n.page < 2)
        self.assertEqual(first.nest.records.tolist(), second.nest.records.tolist())
        self.assertNotEqual(first.copy, second.copy)

    def test_ties_and_objects_in_line_of_a_duplicate_are_its_own(self) -> None:
        raw = two()
        raw["pages"][0]["objects"][1]["ties"] = [{"edge": "left", "to": "f", "its": "right", "gap": 4}]
        raw["pages"][0]["objects"].append(
            {"id": "i", "x": 0, "y": 0, "width": 9, "height": 9, "anchor": {"place": "in-line"}}
        )
        raw["copies"]["story"]["versions"]["en"]["paragraphs"][0]["runs"].append({"object": "i"})
        made = Reader().read(done(raw, "duplicate-page", page=0)).pages[1]
        host, tied, _ = made.objects
        self.assertEqual(tied.ties[0].to, host.id)
        read = Reader().read(done(raw, "duplicate-page", page=0))
        named = [r.object for p in read.copies[host.frame.copy_name]["en"].paragraphs for r in p.runs if r.object]
        self.assertEqual(named, [made.objects[2].id])

    def test_moved_pages_keep_their_objects(self) -> None:
        self.assertEqual(ids(done(two(), "move-page", page=1, to=0)), [["g"], ["f", "w"]])
        self.assertEqual(ids(done(two(), "move-page", page=0, to=9)), [["g"], ["f", "w"]])
        self.assertEqual(done(two(), "move-page", page=1, to=1), two())

    def test_deleted_its_copies_go_but_those_that_others_hold(self) -> None:
        raw = done(two(), "delete-page", page=0)
        self.assertEqual((ids(raw), list(raw["copies"])), ([["g"]], ["other"]))
        shared = two()
        shared["pages"][1]["objects"][0]["frame"]["copy"] = "story"
        self.assertEqual(set(done(shared, "delete-page", page=0)["copies"]), {"story", "other"})

    def test_what_cannot_be_is_refused(self) -> None:
        one = document([frame()], paragraph("Kite"))
        for name, given in (
            ("delete-page", {"page": 0}),
            ("delete-page", {"page": 5}),
            ("add-page", {"after": -1}),
            ("duplicate-page", {"page": 2}),
        ):
            with self.subTest(name, given=given), self.assertRaises(ActError):
                done(one, name, **given)


if __name__ == "__main__":
    unittest.main()
