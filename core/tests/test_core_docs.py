"""The examples of docs/core.md run, in their order; and the package holds what it needs."""

import ast
import re
import shutil
import subprocess
import sys
import tempfile
import tomllib
import unittest
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[2]
DOCS = ROOT / "docs" / "core.md"


def imports(path: Path) -> set[str]:
    """The packages that a module imports, wherever in it."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {one.name.partition(".")[0] for one in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module and not node.level:
            found.add(node.module.partition(".")[0])
    return found


class Examples(unittest.TestCase):
    def test_each_runs(self) -> None:
        blocks = re.findall(r"^## (.+?)\n.*?```python\n(.*?)```", DOCS.read_text(), re.DOTALL | re.MULTILINE)
        self.assertEqual(len(blocks), 10)
        names: dict[str, Any] = {}
        for head, code in blocks:
            with self.subTest(example=head):
                exec(compile(code, head, "exec"), names)


class Package(unittest.TestCase):
    def test_it_is_built_with_its_fonts_and_its_types(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            copied = Path(folder) / "core"
            shutil.copytree(ROOT / "core", copied, ignore=shutil.ignore_patterns("__pycache__", "tests"))
            command = [sys.executable, "-c", "import setuptools; setuptools.setup()", "-q", "build_py", "-d", "built"]
            done = subprocess.run(command, cwd=copied, capture_output=True, text=True, check=False)
            self.assertEqual(done.returncode, 0, done.stderr + done.stdout)
            names = {str(p.relative_to(copied / "built")) for p in (copied / "built").rglob("*") if p.is_file()}
        here = {
            str(p.relative_to(ROOT / "core"))
            for p in (ROOT / "core" / "nestline").rglob("*")
            if p.is_file() and "__pycache__" not in p.parts
        }
        self.assertEqual(names, here)
        self.assertIn("nestline/py.typed", names)

    def test_it_asks_for_what_it_imports(self) -> None:
        asked = tomllib.loads((ROOT / "core" / "pyproject.toml").read_text())["project"]["dependencies"]
        wanted = {re.split(r"[=\[><]", one)[0].lower() for one in asked}
        called = {
            "fontTools": "fonttools",
            "cv2": "opencv-python-headless",
            "PIL": "pillow",
            "icu": "pyicu-wheels",
            "docx": "python-docx",
            "pathops": "skia-pathops",
            "markdown_it": "markdown-it-py",
            "pydantic_core": "pydantic",
            "llvmlite": "numba",
            "lxml": "odfdo",
        }
        for path in (ROOT / "core" / "nestline").rglob("*.py"):
            for name in imports(path):
                if name in sys.stdlib_module_names or name == "nestline":
                    continue
                self.assertIn(called.get(name, name).lower(), wanted, path)
