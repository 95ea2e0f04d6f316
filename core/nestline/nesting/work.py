"""How much work a computation may take: counted in bands that are looked at, so that the same input comes to the same
result on any machine. When it is spent, the best so far stands, and is marked.

The compiled loops count in the room that they share (`space.slots_in_band`); `within` says how much of it a piece of
work may spend. Beyond that stands a deadline in seconds (`until`): it refuses in words, whatever a machine can do.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from nestline.errors import NestLineError
from nestline.rows import HIGH, LOW, ROOM

T = TypeVar("T")
FRAME = 300_000
"""Bands that one nest of a frame may look at: a page of small type searched for its middle looks at some 30,000."""
SEARCH = 1_000_000
"""Bands that the search for a size, or for a factor of type, may look at."""


class TooLong(NestLineError):
    """What was asked takes longer than it may."""

    code = "too-long"

    status = 503


_rooms: list[NDArray[np.float64]] = []
_local = threading.local()


def room(rows: int) -> NDArray[np.float64]:
    """The room that all spaces reckon in, made larger when one needs more; its last row counts."""
    if not _rooms or rows >= len(_rooms[-1]):
        larger = np.empty((max(2048, 2 * rows), ROOM))
        larger[-1, LOW], larger[-1, HIGH] = 0.0, np.inf
        _rooms[:] = [larger]
    return _rooms[-1]


class Work:
    """Work that is counted, and the most of it that there may be."""

    def __init__(self, most: float) -> None:
        self.most = most
        self.counted = 0.0

    @property
    def spent(self) -> bool:
        """Whether no more may be done."""
        return self.counted > self.most


class within:
    """Counts the bands looked at in this thread, and ends what looks at more than that, or than what is around it may
    still look at. (A class: made from a generator it would take longer than some nests do.)"""

    def __init__(self, bands: float) -> None:
        check()
        self.around: Work | None = getattr(_local, "work", None)
        left = np.inf if self.around is None else max(self.around.most - self.around.counted, 0.0)
        self.work = Work(min(bands, left))

    def __enter__(self) -> Work:
        _local.work = self.work
        return self.work

    def __exit__(self, *_: object) -> None:
        _local.work = self.around
        if self.around is not None:
            self.around.counted += self.work.counted


def count(bands: float) -> None:
    """Counts work that looks at no bands, by how many it is worth."""
    work: Work | None = getattr(_local, "work", None)
    if work is not None:
        work.counted += bands


_gate = threading.Lock()


def run(loop: Callable[..., T], *given: object) -> T:
    """Runs a compiled loop with this thread's count. It holds the interpreter's lock as it runs: none waits for the
    gate longer than it would for that."""
    check()
    work: Work | None = getattr(_local, "work", None)
    with _gate:
        row = _rooms[-1][-1]
        row[LOW], row[HIGH] = (0.0, np.inf) if work is None else (work.counted, work.most)
        try:
            return loop(*given)
        finally:
            if work is not None:
                work.counted = float(row[LOW])
            row[LOW], row[HIGH] = 0.0, np.inf  # for who calls a loop without this


@contextmanager
def until(seconds: float) -> Iterator[None]:
    """Refuses, in this thread, what goes on for longer. Raises TooLong from within."""
    before = getattr(_local, "deadline", None)
    wanted = time.monotonic() + seconds
    _local.deadline = wanted if before is None else min(before, wanted)
    try:
        yield
    finally:
        _local.deadline = before


def check() -> None:
    """Raises TooLong when the time of this thread's work is over."""
    deadline = getattr(_local, "deadline", None)
    if deadline is not None and time.monotonic() > deadline:
        raise TooLong("this would take too long to work out; make the outline or the copy simpler, or smaller in size")
