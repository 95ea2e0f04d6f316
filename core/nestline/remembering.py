"""What was computed, remembered up to a number of things or a size."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")


def remember(kept: OrderedDict[K, V], key: K, value: V, most: int) -> None:
    """Keep a value under a key; of more than `most`, the oldest go."""
    kept[key] = value
    while len(kept) > most:
        kept.popitem(last=False)


class Memory(Generic[K, V]):
    """Values by key, of a size of `most` in all; of more, those that were not asked for the longest go.

    What was asked for since the last round began, and in the round before, is kept in any case: a document larger than
    the memory would else push itself out while it is gone through, and be worked out anew from beginning to end after
    every edit. Within `passing` rounds (the steps of a drag) what is new is not: there may be thousands.
    """

    def __init__(self, most: float, size: Callable[[V], float] = lambda value: 1.0) -> None:
        self._most, self._size = most, size
        self._lasting: OrderedDict[K, V] = OrderedDict()
        self._before: OrderedDict[K, V] = OrderedDict()
        self._older: OrderedDict[K, V] = OrderedDict()
        self._whole = 0.0
        self._passing = False

    def __len__(self) -> int:
        return len(self._lasting) + len(self._before) + len(self._older)

    @property
    def size(self) -> float:
        """What all values come to."""
        return self._whole

    def round(self, passing: bool = False) -> None:
        """A whole document, or a passing state of it, is gone through from here on."""
        self._passing = passing
        if not passing:
            self._older.update(self._before)
            self._before, self._lasting = self._lasting, OrderedDict()
            self._shrink()

    def go_on(self) -> None:
        """What is asked for from here on belongs to the last round that was not passing."""
        self._passing = False

    def slim(self) -> None:
        """Keep only what was asked for in the round that is under way and in the one before."""
        for gone in self._older.values():
            self._whole -= self._size(gone)
        self._older.clear()

    def get(self, key: K) -> V | None:
        if (found := self._lasting.get(key)) is not None:
            return found
        for kept in (self._before, self._older):
            if (found := kept.get(key)) is not None:
                if self._passing:
                    kept.move_to_end(key)
                else:
                    self._lasting[key] = kept.pop(key)
                return found
        return None

    def put(self, key: K, value: V) -> V:
        """Keep a value; returns it."""
        for kept in (self._lasting, self._before, self._older):
            if key in kept:
                self._whole -= self._size(kept.pop(key))
        self._whole += self._size(value)
        (self._older if self._passing else self._lasting)[key] = value
        self._shrink()
        return value

    def _shrink(self) -> None:
        # The last of a passing round is asked for again before that is over.
        while self._whole > self._most and len(self._older) > (1 if self._passing else 0):
            self._whole -= self._size(self._older.popitem(last=False)[1])
