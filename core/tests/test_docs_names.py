"""Every name of the code that the docs say is there."""

from __future__ import annotations

import re
import subprocess
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
PAGES = sorted((*(ROOT / "docs").glob("*.md"), ROOT / "README.md", ROOT / "CONTRIBUTING.md"))
CODE = (
    ".py",
    ".ts",
    ".tsx",
    ".css",
    ".conf",
    ".lua",
    ".json",
    ".sql",
    ".ini",
    ".toml",
    ".in",
    ".service",
    "nest",
    "run",
    ".js",
)
FILE = re.compile(r"^[\w./*-]+\.(?:py|tsx?|md|json|conf|lua|ini|css|txt|toml)$")
NAME = re.compile(r"^[A-Za-z_]\w*(?:\.[A-Za-z_]\w*)*$")


def tracked() -> list[str]:
    command = ["git", "ls-files", "--cached", "--others", "--exclude-standard"]
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=True)
    return [name for name in done.stdout.splitlines() if (ROOT / name).is_file()]


def names_in(page: Path) -> set[str]:
    """What stands between single back ticks, outside of blocks of code."""
    text = re.sub(r"^```.*?^```", "", page.read_text(), flags=re.M | re.S)
    return set(re.findall(r"`([^`\n]+)`", text))


class Named(unittest.TestCase):
    def test_files_and_names_are_there(self) -> None:
        files = tracked()
        words: set[str] = set()
        for name in files:
            if name.endswith(CODE):
                words |= set(re.findall(r"\w+", (ROOT / name).read_text(errors="replace")))
            words |= set(re.findall(r"\w+", name))
        looked_at = 0
        for page in PAGES:
            for name in sorted(names_in(page)):
                with self.subTest(page=page.name, name=name):
                    if FILE.match(name) and "*" not in name:
                        looked_at += 1
                        known = any(file == name or file.endswith(f"/{name}") for file in files)
                        self.assertTrue(known or page.name not in CHECKED, "there is no such file")
                    elif NAME.match(name) and ("_" in name or "." in name):
                        looked_at += 1
                        self.assertEqual(sorted(set(name.split(".")) - words), [], "no such name in the code")
        self.assertGreater(looked_at, 300)


CHECKED = {"architecture.md", "choices.md", "README.md", "CONTRIBUTING.md", "testing.md"}
"""Pages that name files of this tree; others name those of users, too."""

if __name__ == "__main__":
    unittest.main()
