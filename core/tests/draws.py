"""How many random cases a run of the tests draws, and which: others each time, and again the same where their seed is
given.

`./nest test` says its seed; `./nest test --seed N` draws the same. It draws a fifth of what `--all` draws. A test that
draws asks `seeds` or `thrown` here; those of Hypothesis are given the seed by the runner (server/config/runner.py).
"""

from __future__ import annotations

import os
import random

SEED = int(os.environ.get("NEST_SEED", "0"))
"""Of this run; 0 where nobody gives one."""

SHARE = float(os.environ.get("NEST_CASES", "0.2"))
"""How many of the cases are drawn: 1 is all of them."""

LEAST = 10
"""So many at least, where there are so many."""


def cases(count: int, least: int = LEAST) -> int:
    """How many cases this run draws of so many."""
    return max(min(count, least), round(count * SHARE))


def seeds(count: int, least: int = LEAST) -> list[int]:
    """The seeds of this run's cases of so many."""
    return [100_000 * SEED + number for number in range(cases(count, least))]


def fair(count: float) -> int:
    """How often something is to be seen at least that all cases of the first seed show so often: chance has its
    half."""
    return int(count * SHARE / 2)


def thrown(name: object) -> random.Random:
    """What a test throws that draws its cases one after the other; `name` tells it from others."""
    return random.Random(f"{SEED} {name}" if SEED else name)  # type: ignore[arg-type]
