"""Trees of earlier commits, to measure and compare this one against."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


def tree_of(commit: str) -> Path:
    """The tree of a commit. It stays: what it has compiled serves the next comparison."""
    name = subprocess.check_output(["git", "rev-parse", "--short", commit], cwd=ROOT, text=True).strip()
    tree = Path(tempfile.gettempdir()) / f"nest-line-{name}"
    if not tree.exists():
        print(f"The tree of {name} is taken to {tree}; its loops are compiled first, which takes minutes")
        tree.mkdir()
        archive = subprocess.Popen(["git", "archive", name], cwd=ROOT, stdout=subprocess.PIPE)
        subprocess.run(["tar", "-x"], cwd=tree, stdin=archive.stdout, check=True)
    return tree


def started(tree: Path, script: Path, *given: str) -> subprocess.Popen[str]:
    """A script of this tree's benchmarks, run with the code of a tree."""
    if tree != ROOT:
        (tree / "benchmarks" / script.name).write_text(script.read_text())
        (tree / "benchmarks" / "trees.py").write_text(Path(__file__).read_text())
    paths = f"{tree / 'core'}:{tree}:{tree / 'core' / 'tests'}"
    return subprocess.Popen(
        [sys.executable, "-m", f"benchmarks.{script.stem}", *given],
        cwd=tree,
        env=os.environ | {"PYTHONPATH": paths},
        stdout=subprocess.PIPE,
        text=True,
    )
