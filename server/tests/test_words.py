"""Rules of the job are the core's: what the client must not know by itself is looked for in its source."""

from __future__ import annotations

import json
import re
import unittest
from pathlib import Path

from nestline.document.schema import defaults

ROOT = Path(__file__).resolve().parents[2]
SOURCE = ROOT / "web" / "src"
WRITTEN_BY_THE_CORE = ("api/rules.ts", "api/schema.d.ts", "drawing/records.ts")
ONLY_THE_CORE = {
    r"leading [-*/]|\bhalf.?leading|\(lead\b": "half-leading",
    r"clearance: \d": "a clearance of its own",
    r"\b(PAINT|FITTING)\b|of_the_object": "which rules go to several objects, and which edges fit",
    r'\["fill", "stroke", "paint", "wrap"\]': "which rules of an object a recipe holds",
    r"return-to-recipe\b.*rules: \[\.\.\.": "which rules return to a recipe",
    r"outline\??\.(sides|points|depth|tail) \?\? |\bunset:": "figures of ready outlines",
    r"size \?\? 12\) \* 1": "where a caret stands in a frame without lines",
}
"""Words, and what knowing them would mean."""


def sources() -> list[tuple[str, str]]:
    files = [path for path in SOURCE.rglob("*.ts*") if ".test." not in path.name]
    found = [(path.relative_to(SOURCE).as_posix(), path.read_text()) for path in files]
    return [(name, text) for name, text in found if name not in WRITTEN_BY_THE_CORE]


class Words(unittest.TestCase):
    def test_the_client_knows_no_rule_of_the_job(self) -> None:
        for name, text in sources():
            for pattern, meaning in ONLY_THE_CORE.items():
                self.assertIsNone(re.search(pattern, text), f"web/src/{name}: {meaning}; ask the core")

    def test_what_holds_where_nothing_is_said_comes_from_the_core(self) -> None:
        """No `frame.sit ?? "top"`: api/rules.ts has it, written from the models."""
        for part, fields in defaults().items():
            for field, value in fields.items():
                said = rf"\b{part}\??\.{field} \?\? {re.escape(json.dumps(value))}(?![\w.\[])"
                for name, text in sources():
                    if value not in (None, [], ""):
                        self.assertIsNone(re.search(said, text), f"web/src/{name}: {part}.{field}; see api/rules.ts")

    def test_these_words_would_be_found(self) -> None:
        self.assertGreater(len(sources()), 60)
        lines = ["(lead - m.ascent) / 2", "{ clearance: 9 }", 'frame.sit ?? "top"', "const PAINT = []"]
        for line in lines[:2] + lines[3:]:
            self.assertTrue(any(re.search(pattern, line) for pattern in ONLY_THE_CORE), line)

    def test_what_the_glossary_names_in_code_is_there(self) -> None:
        glossary = (ROOT / "docs/glossary.md").read_text()
        named = set(re.findall(r"`([\w./]+)`", glossary))
        self.assertGreater(len(named), 15)
        code = "\n".join(
            path.read_text()
            for folder in ("core/nestline", "server/documents")
            for path in (ROOT / folder).rglob("*.py")
        )
        files = {path.stem for path in (ROOT / "core/nestline").rglob("*.py")}
        for name in named:
            last = name.split(".")[-1]
            found = (
                (ROOT / name).exists()
                if "/" in name
                else last in files or re.search(rf"\b(class|def) {last}\b|^    {last}:", code, re.M)
            )
            self.assertTrue(found, f"docs/glossary.md: {name} is not in the code any more")

    def test_a_line_is_a_line_of_copy(self) -> None:
        for name, text in sources():
            self.assertIsNone(
                re.search(r"class (Line|Window)\b|new Line\(", text), f"web/src/{name}: see docs/glossary.md"
            )


if __name__ == "__main__":
    unittest.main()
