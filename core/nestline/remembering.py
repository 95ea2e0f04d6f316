"""What was computed, remembered up to a number of things."""

from __future__ import annotations

from collections import OrderedDict
from typing import TypeVar

K = TypeVar("K")
V = TypeVar("V")


def remember(kept: OrderedDict[K, V], key: K, value: V, most: int) -> None:
    """Keep a value under a key; of more than `most`, the oldest go."""
    kept[key] = value
    while len(kept) > most:
        kept.popitem(last=False)
