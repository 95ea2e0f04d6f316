"""How fast the core's rows of docs/speed.md are against those of an earlier commit.

    python -m benchmarks.against COMMIT [--runs 5]

The two take turns; a row's ratio is the median of the runs' ratios of p50.
"""

from __future__ import annotations

import argparse
import json
import statistics
from pathlib import Path

from benchmarks.trees import ROOT, started, tree_of


def measure() -> None:
    """Print the p50 of every row of this tree, in ms."""
    from benchmarks.speed import chain, core, following, timed

    rows = {name: timed(120, one) for name, one in core().items()}
    rows |= {f"follows: {name}": times for name, times in following().items()}
    rows |= {f"chain: {name}": times for name, times in chain().items()}
    print(json.dumps({name: statistics.median(times) for name, times in rows.items()}))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("commit", nargs="?")
    parser.add_argument("--runs", type=int, default=5)
    parser.add_argument("--measure", action="store_true")
    given = parser.parse_args()
    if given.measure:
        return measure()
    trees = {"before": tree_of(given.commit), "now": ROOT}
    runs: dict[str, list[dict[str, float]]] = {"before": [], "now": []}
    for tree in trees.values():  # whatever is compiled at first is compiled now
        started(tree, Path(__file__), "--measure").communicate()
    for _ in range(given.runs):
        for name, tree in trees.items():
            said, _ = started(tree, Path(__file__), "--measure").communicate()
            runs[name].append(json.loads(said))
    print("| row | before | now | ratio |\n| --- | --- | --- | --- |")
    for row in runs["now"][0]:
        before, now = ([run[row] for run in runs[name]] for name in ("before", "now"))
        ratio = statistics.median(b / a for a, b in zip(before, now, strict=True))
        print(f"| {row} | {statistics.median(before):.2f} ms | {statistics.median(now):.2f} ms | {ratio:.2f} |")


if __name__ == "__main__":
    main()
