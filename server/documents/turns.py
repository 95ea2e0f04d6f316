"""Turns: of what many ask for at once, a few are worked out at a time, in the order in which they came.

Threads of one process that compute all together only take the interpreter from one another: each answer comes later,
some much later than others.
"""

from __future__ import annotations

import threading
import time
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager


class Turns:
    """So many `at_once`. A turn that takes more than `long` seconds is not waited for any longer: the next goes on
    beside it, so that what is slow holds nobody up."""

    def __init__(self, at_once: int, long: float) -> None:
        self._at_once, self._long = at_once, long
        self._waiting: deque[threading.Event] = deque()
        self._began: dict[threading.Event, float] = {}
        self._lock = threading.Lock()

    @contextmanager
    def one(self) -> Iterator[None]:
        mine = threading.Event()
        with self._lock:
            self._waiting.append(mine)
            if self._waiting[0] is mine:  # whoever waits before it knows already
                mine.set()
        wait = None
        try:
            while not self._is_mine(mine, wait):
                wait = self._until_one_is_long()
            yield
        finally:  # whether it had its turn, or was ended while it waited
            with self._lock:
                self._began.pop(mine, None)
                if mine in self._waiting:
                    self._waiting.remove(mine)
                self._call_next()

    def _call_next(self) -> None:
        if self._waiting:
            self._waiting[0].set()

    def _is_mine(self, mine: threading.Event, wait: float | None) -> bool:
        """Wait to be called, or for so many seconds; take the turn where it is there."""
        mine.wait(wait)
        with self._lock:
            mine.clear()
            if self._waiting[0] is not mine or len(self._quick()) >= self._at_once:
                return False
            self._waiting.popleft()
            self._began[mine] = time.monotonic()
            self._call_next()
            return True

    def _quick(self) -> list[float]:
        """When the turns began that are waited for."""
        now = time.monotonic()
        return [began for began in self._began.values() if now - began < self._long]

    def _until_one_is_long(self) -> float:
        with self._lock:
            return max(0.0, min(self._quick(), default=0.0) + self._long - time.monotonic())
