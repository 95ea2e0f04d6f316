"""Small slips put into the core's code, one at a time: how many of them its tests see.

    .venv/bin/python -m benchmarks.mutations PACKAGE … [--count 200] [--seed 1] [--keep FOLDER]

The slips are cosmic-ray's (a sign turned, a comparison made weak, a figure one more); of all that there are in a package `count`
are drawn by the seed. Each is tried in a clone of the last commit, with the test modules of its package (TESTS), the first
failure ending the run. Slips in annotations are left out: they do nothing. Compiled loops (nesting/compiled) are left out, too: each
slip there would compile them anew. Needs `pip install cosmic-ray` in an environment of its own, named by COSMIC_RAY.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import sqlite3
import subprocess
import sys
import tempfile
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
COSMIC_RAY = os.environ.get("COSMIC_RAY", "cosmic-ray")
TESTS = {
    "document": "test_lengths test_document test_parts test_limits test_naming test_grouping test_recipes test_versions test_both_sides test_broken_files",
    "copy": "test_copy_rules test_pairs test_fitted test_edges test_copy_parts test_both_sides test_copy test_styles test_breaking test_hyphenation test_bidi test_fonts test_anchors test_output test_seen_first",
    "nesting": "test_both_sides test_nesting test_columns test_causes test_chains test_chaining test_sit test_anchors test_pushing "
    "test_sharing test_giving test_slots test_breaking test_seen_first test_going_along test_work test_quality test_bidi test_output test_arms",
    "acts": "test_arranging test_chaining test_styling test_naming test_outline_acts test_recipes test_grouping test_offers test_paging "
    "test_placing_pictures test_many_acts test_going_along test_anchors test_giving test_copying test_acts",
}
"""Those that look at a package, quick ones first."""
SECONDS = 240.0
"""After so long a slip counts as seen: it has made something endless."""
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


def drawn(session: Path, count: int, seed: int) -> int:
    """Leave so many slips of a session's, drawn by the seed. Returns how many there were."""
    with sqlite3.connect(session) as rows:
        notes: dict[str, list[tuple[tuple[int, int], tuple[int, int]]]] = {}
        slips = []
        for job, module, operator, line, column in rows.execute(
            "select job_id, module_path, operator_name, start_pos_row, start_pos_col from mutation_specs order by module_path, "
            "operator_name, occurrence, start_pos_row"
        ):
            if any(part in Path(module).parts for part in OUT) or "RemoveDecorator" in operator:
                continue
            if module not in notes:
                notes[module] = annotated(Path(module))
            if not any(begin <= (line, column) < end for begin, end in notes[module]):
                slips.append(job)
        wanted = random.Random(seed).sample(slips, min(count, len(slips)))
        rows.execute("create temp table wanted (job text)")
        rows.executemany("insert into wanted values (?)", [(job,) for job in wanted])
        for table in ("work_items", "mutation_specs"):
            rows.execute(f"delete from {table} where job_id not in (select job from wanted)")
    return len(slips)


def tried(package: str, count: int, seed: int, folder: Path) -> None:
    tree, session, config = folder / "tree", folder / f"{package}.sqlite", folder / f"{package}.toml"
    if not tree.exists():
        subprocess.run(["git", "clone", "-q", str(ROOT), str(tree)], check=True)
    command = (
        f"env PYTHONPATH={tree / 'core'}:{tree}:{tree / 'core/tests'} {sys.executable} -m unittest -f {TESTS[package]}"
    )
    config.write_text(
        f'[cosmic-ray]\nmodule-path = "{tree / "core/nestline" / package}"\ntimeout = {SECONDS}\nexcluded-modules = []\n'
        f'test-command = "{command}"\n[cosmic-ray.distributor]\nname = "local"\n'
    )
    run = [COSMIC_RAY, "init", str(config), str(session)]
    subprocess.run(run, check=True, cwd=tree / "core/tests")
    whole = drawn(session, count, seed)
    subprocess.run([COSMIC_RAY, "exec", str(config), str(session)], check=True, cwd=tree / "core/tests")
    say(package, session, whole)


def say(package: str, session: Path, whole: int = 0) -> None:
    with sqlite3.connect(session) as rows:
        results = list(
            rows.execute(
                "select m.module_path, m.operator_name, m.start_pos_row, r.test_outcome, r.worker_outcome, r.diff from work_results r join "
                "mutation_specs m using (job_id) order by 1, 3"
            )
        )
    outcomes = Counter(outcome for *_, outcome, _, _ in results)
    seen = outcomes["KILLED"] + outcomes["INCOMPETENT"]
    print(
        f"{package}: {seen} of {len(results)} slips seen ({100 * seen / max(len(results), 1):.0f} %), drawn from {whole}"
    )
    for module, operator, line, outcome, _, diff in results:
        if outcome == "SURVIVED":
            changed = [row for row in (diff or "").splitlines() if row[:1] in "+-" and row[:3] not in ("+++", "---")]
            print(f"  {Path(module).name}:{line} {operator.split('/')[-1]}\n    " + "\n    ".join(changed))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("packages", nargs="+", choices=sorted(TESTS))
    parser.add_argument("--count", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--keep", type=Path, help="a folder for the clone and the sessions")
    given = parser.parse_args()
    folder = given.keep or Path(tempfile.mkdtemp())
    folder.mkdir(parents=True, exist_ok=True)
    for package in given.packages:
        tried(package, given.count, given.seed, folder)


if __name__ == "__main__":
    main()
