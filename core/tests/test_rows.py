"""The rows of the core's arrays: every column is named in one place, and read by that name."""

from __future__ import annotations

import ast
import re
import unittest
from collections import Counter
from pathlib import Path

from nestline import rows

CORE = Path(rows.__file__).parent
OF_POINTS = ("outlines", "pictures")
"""Floors whose arrays are points and pixels: x, y and channels."""


NO_ROWS = ("Literal", "pixels")


def number(node: ast.expr | None) -> bool:
    """Whether an index is a plain number; −1 is whatever is last."""
    return isinstance(node, ast.Constant) and isinstance(node.value, int) and not isinstance(node.value, bool)


def bare_columns(source: str) -> list[str]:
    """Where a column, or a stretch of columns, is named by its number."""
    found = []
    for node in ast.walk(ast.parse(source)):
        if not isinstance(node, ast.Subscript) or ast.unparse(node.value) in NO_ROWS:
            continue
        index = node.slice
        last = index.elts[-1] if isinstance(index, ast.Tuple) and len(index.elts) > 1 else None
        bare = last is not None and (
            number(last) or (isinstance(last, ast.Slice) and (number(last.lower) or number(last.upper)))
        )
        name = ast.unparse(node.value).split(".")[-1]
        single = name in ("ends", "cap", "frame", "row", "rule", "record", "tall") and number(index)
        if bare or single:
            found.append(f"line {node.lineno}: {ast.unparse(node)}")
    return found


class Columns(unittest.TestCase):
    def test_the_search_finds_what_it_is_for(self) -> None:
        for bad in ("records[:, 3]", "ends[0]", "slots[i, 2]", "own[:, 2:5]", "nest.ranges[n, 0]", "out[-1, 1]"):
            self.assertEqual(len(bare_columns(bad)), 1, bad)
        for good in ("records[:, BASELINE]", "words[0]", "records[-1, k.LINE]", "a[i, j]", "Literal['a', 1]"):
            self.assertEqual(bare_columns(good), [], good)

    def test_no_column_is_named_by_its_number(self) -> None:
        for file in sorted(CORE.rglob("*.py")):
            if file.parent.name in OF_POINTS:
                continue
            with self.subTest(file=file.relative_to(CORE)):
                self.assertEqual(bare_columns(file.read_text()), [])

    def test_every_name_is_given_once(self) -> None:
        source = Path(rows.__file__).read_text()
        names = Counter(
            target.id
            for node in ast.walk(ast.parse(source))
            if isinstance(node, ast.Assign)
            for part in node.targets
            for target in (part.elts if isinstance(part, ast.Tuple) else [part])
            if isinstance(target, ast.Name)
        )
        self.assertEqual([name for name, count in names.items() if count > 1], [])
        own = set(names)
        for file in sorted(CORE.rglob("*.py")):
            if file == Path(rows.__file__):
                continue
            again = {
                target.id
                for node in ast.parse(file.read_text()).body
                if isinstance(node, ast.Assign)
                for part in node.targets
                for target in (part.elts if isinstance(part, ast.Tuple) else [part])
                if isinstance(target, ast.Name)
            }
            with self.subTest(file=file.relative_to(CORE)):
                self.assertEqual(again & own - {"ALIGN", "BREAKING", "LONE_WORD", "OBJECT"}, set())

    def test_the_compiled_loops_are_short_and_in_small_files(self) -> None:
        for file in sorted((CORE / "nesting" / "compiled").glob("*.py")):
            source = file.read_text()
            with self.subTest(file=file.name):
                self.assertLessEqual(len(re.findall("\n", source)), 400)
                for node in ast.walk(ast.parse(source)):
                    if isinstance(node, ast.FunctionDef):
                        length = (node.end_lineno or 0) - node.body[1 if ast.get_docstring(node) else 0].lineno + 1
                        self.assertLessEqual(length, 80, node.name)
