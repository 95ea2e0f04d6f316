"""What two states of a sequence have in common: parts that were not touched are the same objects."""

from __future__ import annotations

from collections.abc import Sequence


def same_beginning(a: Sequence[object], b: Sequence[object]) -> int:
    """How many parts two sequences begin with that are the same."""
    least = min(len(a), len(b))
    return next((n for n in range(least) if a[n] is not b[n]), least)


def same_ends(a: Sequence[object], b: Sequence[object]) -> tuple[int, int]:
    """How many parts two sequences begin with, and end with behind those, that are the same."""
    head = same_beginning(a, b)
    least = min(len(a), len(b)) - head
    return head, next((n for n in range(least) if a[-1 - n] is not b[-1 - n]), least)
