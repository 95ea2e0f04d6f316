"""Small slips put into the core's code, one at a time: how many of them its tests see.

    .venv/bin/python -m benchmarks.mutations PACKAGE … [--count 200] [--seed 1] [--keep FOLDER]

The slips are cosmic-ray's (a sign turned, a comparison made weak, a figure one more); of all that there are in a
package `count` are drawn by the seed. Each is tried in a clone of the last commit with those tests of its package's
modules (TESTS) that run its line (as coverage says), quick ones first, the first failure ending the run; two at a time.
Slips in annotations are left out: they do nothing. Compiled loops (nesting/compiled) are left out, too: each slip there
would compile them anew. Needs `pip install cosmic-ray` in an environment of its own, named by COSMIC_RAY.
"""

from __future__ import annotations

import argparse
import ast
import json
import os
import random
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from queue import SimpleQueue
from typing import NamedTuple

ROOT = Path(__file__).resolve().parents[1]
COSMIC_RAY = os.environ.get("COSMIC_RAY", "cosmic-ray")
TESTS = {
    "document": "test_lengths test_document test_parts test_limits test_naming test_grouping test_recipes "
    "test_versions test_both_sides test_broken_files",
    "copy": "test_copy_rules test_pairs test_fitted test_edges test_copy_parts test_joining test_both_sides "
    "test_copy test_styles test_spelling test_columns test_chains "
    "test_breaking test_hyphenation test_bidi test_fonts test_files test_anchors test_output test_seen_first",
    "nesting": "test_both_sides test_nesting test_columns test_causes test_chains test_chaining test_sit test_anchors "
    "test_pushing "
    "test_sharing test_giving test_slots test_breaking test_seen_first test_going_along test_work "
    "test_quality test_bidi test_output test_arms",
    "acts": "test_act_rules test_color_read test_spelling test_versions test_arranging test_chaining test_styling "
    "test_naming test_outline_acts test_recipes test_grouping test_offers test_paging "
    "test_placing_pictures test_many_acts test_going_along test_anchors test_giving test_copying test_acts "
    "test_wraps test_spreading test_translating test_pictures test_seen",
}
"""Those that look at a package, quick ones first."""
LONGER = 6.0
"""A run that takes so many times as long as its tests do (and a minute more) counts as seen: it has made something
endless."""
AT_ONCE = 2
OUT = ("compiled",)

Places = set[tuple[int, int]]


def annotated(path: Path) -> list[tuple[tuple[int, int], tuple[int, int]]]:
    """Where annotations stand in a file: from line and column to line and column."""
    found = []
    for node in ast.walk(ast.parse(path.read_text())):
        parts = [getattr(node, "annotation", None), getattr(node, "returns", None)]
        found += [
            ((p.lineno, p.col_offset), (p.end_lineno or 0, p.end_col_offset or 0))
            for p in parts
            if isinstance(p, ast.expr)
        ]
    return found


class Slip(NamedTuple):
    module: str
    operator: str
    occurrence: int
    line: int


def drawn(session: Path, count: int, seed: int) -> tuple[list[Slip], int]:
    """So many slips of a session's, drawn by the seed, and how many there were."""
    with sqlite3.connect(session) as rows:
        notes: dict[str, list[tuple[tuple[int, int], tuple[int, int]]]] = {}
        slips = []
        for module, operator, occurrence, line, column in rows.execute(
            "select module_path, operator_name, occurrence, start_pos_row, start_pos_col from mutation_specs "
            "order by module_path, "
            "operator_name, occurrence, start_pos_row"
        ):
            if any(part in Path(module).parts for part in OUT) or "RemoveDecorator" in operator:
                continue
            if module not in notes:
                notes[module] = annotated(Path(module))
            if not any(begin <= (line, column) < end for begin, end in notes[module]):
                slips.append(Slip(module, operator, occurrence, line))
    return random.Random(seed).sample(slips, min(count, len(slips))), len(slips)


REACHING = """
import functools, gc, json, sys, time, unittest
import coverage
package, into, *modules = sys.argv[1:]
cover = coverage.Coverage(data_file=None, source=[package])
took = {}
def forget():
    # What an earlier test left to be remembered would hide the lines that a later one counts on.
    for one in gc.get_objects():
        ours = ("nestline.copy", "nestline.nesting", "nestline.acts", "support")
        if isinstance(one, functools._lru_cache_wrapper) and one.__module__.startswith(ours):
            one.cache_clear()
class Result(unittest.TextTestResult):
    def startTest(self, test):
        forget()
        cover.switch_context(test.id())
        took[test.id()] = time.monotonic()
        super().startTest(test)
    def stopTest(self, test):
        took[test.id()] = time.monotonic() - took[test.id()]
        cover.switch_context("")
        super().stopTest(test)
cover.start()
done = unittest.TextTestRunner(resultclass=Result).run(unittest.defaultTestLoader.loadTestsFromNames(modules))
cover.stop()
data = cover.get_data()
lines = {file: {line: names for line, names in data.contexts_by_lineno(file).items()} for file in data.measured_files()}
json.dump({"took": took, "lines": lines}, open(into, "w"))
sys.exit(not done.wasSuccessful())
"""


class Tests:
    """Which tests of a package run a line, and how long each takes."""

    def __init__(self, tree: Path, package: str) -> None:
        found = tree.parent / f"{package}-tests.json"
        if not found.exists():
            subprocess.run([sys.executable, "-m", "nestline.warming"], check=True, env=surroundings(tree))
            command = [sys.executable, "-c", REACHING, str(tree / "core/nestline" / package), str(found)]
            subprocess.run(
                [*command, *TESTS[package].split()], check=True, cwd=tree / "core/tests", env=surroundings(tree)
            )
        told = json.loads(found.read_text())
        self.took: dict[str, float] = told["took"]
        self.lines: dict[str, dict[str, list[str]]] = told["lines"]

    def reaching(self, slip: Slip) -> list[str]:
        """Quick ones first; all that run anything of the file where the line runs before any test does."""
        lines = self.lines.get(slip.module, {})
        names = set(lines.get(str(slip.line), ())) - {""} or {one for some in lines.values() for one in some} - {""}
        return sorted(names, key=lambda name: self.took[name])


def surroundings(tree: Path) -> dict[str, str]:
    return {**os.environ, "PYTHONPATH": f"{tree / 'core'}:{tree}:{tree / 'core/tests'}"}


def is_seen(slip: Slip, tree: Path, whole: Path, tests: Tests) -> tuple[bool, str]:
    """Whether a test sees a slip that is put into a tree, and what it changes."""
    module = tree / Path(slip.module).relative_to(whole)
    subprocess.run([COSMIC_RAY, "apply", str(module), slip.operator, str(slip.occurrence)], check=True)
    changed = subprocess.run(["git", "diff", "-U0", str(module)], cwd=tree, capture_output=True, text=True).stdout
    names = tests.reaching(slip)
    seconds = LONGER * sum(tests.took[name] for name in names) + 60
    command = [sys.executable, "-m", "unittest", "-f", *names]
    try:
        run = subprocess.run(
            command, cwd=tree / "core/tests", env=surroundings(tree), capture_output=True, timeout=seconds
        )
        seen = bool(names) and run.returncode != 0
    except subprocess.TimeoutExpired:
        seen = True
    subprocess.run(["git", "checkout", "-q", str(module)], check=True, cwd=tree)
    return seen, "\n    ".join(row for row in changed.splitlines() if row[:1] in "+-" and row[:3] not in ("+++", "---"))


def tried(package: str, count: int, seed: int, folder: Path) -> None:
    tree, session, config = folder / "tree", folder / f"{package}.sqlite", folder / f"{package}.toml"
    if not tree.exists():
        subprocess.run(["git", "clone", "-q", str(ROOT), str(tree)], check=True)
        (tree / "web/node_modules").symlink_to(ROOT / "web/node_modules")  # dictionaries, and a breaker to compare with
    config.write_text(
        f'[cosmic-ray]\nmodule-path = "{tree / "core/nestline" / package}"\ntimeout = 1\nexcluded-modules = []\n'
        f'test-command = "false"\n[cosmic-ray.distributor]\nname = "local"\n'
    )
    session.unlink(missing_ok=True)
    subprocess.run([COSMIC_RAY, "init", str(config), str(session)], check=True, cwd=tree / "core/tests")
    slips, of = drawn(session, count, seed)
    tests = Tests(tree, package)
    free: SimpleQueue[Path] = SimpleQueue()
    for number in range(AT_ONCE):
        shutil.rmtree(folder / f"tree-{number}", ignore_errors=True)
        shutil.copytree(tree, folder / f"tree-{number}", symlinks=True)
        free.put(folder / f"tree-{number}")

    def one(slip: Slip) -> bool:
        beside = free.get()
        seen, changed = is_seen(slip, beside, tree, tests)
        free.put(beside)
        name = f"{Path(slip.module).name}:{slip.line} {slip.operator.split('/')[-1]}"
        print(f"  {'seen' if seen else 'NOT SEEN'} {name}" + ("" if seen else f"\n    {changed}"), flush=True)
        return seen

    with ThreadPoolExecutor(AT_ONCE) as at_once:
        seen = sum(at_once.map(one, slips))
    print(f"{package}: {seen} of {len(slips)} slips seen ({100 * seen / len(slips):.0f} %), drawn from {of}")


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("packages", nargs="+", choices=sorted(TESTS))
    parser.add_argument("--count", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument(
        "--keep", type=Path, help="a folder for the clone, the sessions and which tests run which lines"
    )
    given = parser.parse_args()
    folder = given.keep or Path(tempfile.mkdtemp())
    folder.mkdir(parents=True, exist_ok=True)
    for package in given.packages:
        tried(package, given.count, given.seed, folder)


if __name__ == "__main__":
    main()
