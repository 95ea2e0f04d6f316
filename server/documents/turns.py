"""Turns: of what many ask for at once, a few are worked out at a time, in the order in which they came.

Threads of one process that compute all together only take the interpreter from one another: each answer comes later, some
much later than others.
"""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager


class Turns:
    """So many `at_once`; who has waited for `patience` seconds goes on without a turn, so that what takes long holds nobody
    up for longer."""

    def __init__(self, at_once: int, patience: float) -> None:
        self._free = at_once
        self._patience = patience
        self._waiting: deque[threading.Event] = deque()
        self._lock = threading.Lock()

    @contextmanager
    def one(self) -> Iterator[None]:
        mine: threading.Event | None = None
        with self._lock:
            if self._free and not self._waiting:
                self._free -= 1
            else:
                mine = threading.Event()
                self._waiting.append(mine)
        has_turn = mine is None or mine.wait(self._patience)
        if mine is not None and not has_turn:
            with self._lock:
                has_turn = mine.is_set()  # it came in this very moment
                if not has_turn:
                    self._waiting.remove(mine)
        try:
            yield
        finally:
            if has_turn:
                with self._lock:
                    if self._waiting:
                        self._waiting.popleft().set()
                    else:
                        self._free += 1
