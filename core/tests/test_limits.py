"""What a document may hold: each limit at its edge, and docs/limits.md says the same."""

from __future__ import annotations

import json
import unittest
from pathlib import Path
from typing import Any

from nestline.document import limits
from nestline.errors import NestLineError
from nestline.nesting import work

DOCS = Path(__file__).resolve().parents[2] / "docs" / "limits.md"


def raw(pages: int = 1, objects: int = 0, paragraphs: int = 1, letters: int = 1, copies: int = 1) -> dict[str, Any]:
    text = {"runs": [{"text": "x" * letters}]}
    versions = {"versions": {"en": {"paragraphs": [text] * paragraphs}}}
    things = [{"id": "g", "objects": [{"id": "o"}] * objects}]
    return {
        "pages": [{"objects": things if objects else []}] * pages,
        "copies": {f"c{n}": versions for n in range(copies)},
    }


class Limits(unittest.TestCase):
    def test_each_count_at_its_limit_and_beyond(self) -> None:
        for field, most, more in (
            ("pages", limits.MOST_PAGES, 1),
            ("objects", limits.MOST_OBJECTS - 1, 1),
            ("paragraphs", limits.MOST_PARAGRAPHS, 1),
            ("letters", limits.MOST_LETTERS_OF_A_PARAGRAPH, 1),
            ("copies", limits.MOST_COPIES, 1),
        ):
            limits.check_counts(raw(**{field: most}))
            with self.assertRaises(NestLineError) as refused:
                limits.check_counts(raw(**{field: most + more}))
            self.assertRegex(str(refused.exception), r"holds [\d,]+ .*; there may be [\d,]+", field)
        with self.assertRaises(NestLineError):
            limits.check_counts(raw(letters=90_000, paragraphs=34))

    def test_what_is_not_well_formed_is_left_to_the_reader(self) -> None:
        for part in (
            None,
            [],
            3,
            "x",
            {"pages": 3},
            {"copies": []},
            {"copies": {"a": 1}},
            {"pages": [3, {"objects": {}}]},
        ):
            limits.check_counts(part)

    def test_json_that_cannot_be_kept_or_read_is_refused_in_one_line(self) -> None:
        for content, said in (
            (b'{"a": 1, "a": 2}', "twice"),
            (b'{"a": {"b": 1, "b": 1}}', "twice"),
            (b'["\\u0000"]', "U+0000"),
            (b'{"\\u0000": 1}', "U+0000"),
            (b'["\\ud800"]', "surrogate"),
            (b"[NaN]", "NaN"),
            (b"[" * 5000, "not a JSON"),
            (b"9" * 5000, "digits"),
            (b"\xff", "not a JSON"),
            (b"{", "line 1"),
            (b"[" * 50 + b"]" * 50, "nests"),
            (b" " * (limits.MOST_JSON + 1), "20 MB"),
        ):
            with self.assertRaises(NestLineError) as refused:
                limits.parse(content, "a.json")
            self.assertIn(said, str(refused.exception))
            self.assertNotIn("\n", str(refused.exception))
        self.assertEqual(limits.parse("\ufeff{}".encode(), "a.json"), {})
        self.assertEqual(limits.parse(json.dumps({"a": "kite \U0001fa81"}), "a"), {"a": "kite \U0001fa81"})

    def test_the_documentation_says_the_same(self) -> None:
        said = DOCS.read_text("utf-8")
        for figure in (
            limits.MOST_PAGES,
            limits.MOST_OBJECTS,
            limits.MOST_COPIES,
            limits.MOST_PARAGRAPHS,
            limits.MOST_LETTERS_OF_A_PARAGRAPH,
            limits.MOST_LETTERS,
            limits.MOST_DEEP,
            work.FRAME,
            work.SEARCH,
        ):
            self.assertIn(f"{figure:,}", said)


if __name__ == "__main__":
    unittest.main()
