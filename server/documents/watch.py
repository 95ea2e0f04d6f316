"""The watchdog of a worker: ends what goes on long after its time is over.

Every computation has a budget and looks at a deadline (nestline.nesting.work). What looks at neither is ended here:
first by an exception in its own thread, which ends this request and no other; where that does not reach it, because it
never comes back to the interpreter, by ending the process, which is made anew. A worker that has grown too large is
made anew, too, when what it is at is done.
"""

from __future__ import annotations

import ctypes
import gc
import logging
import os
import signal
import sys
import threading
import time
import traceback
from collections.abc import Iterator
from contextlib import contextmanager

from nestline.nesting.work import TooLong

log = logging.getLogger("nestline")
GRACE = 4.0
"""Seconds past its deadline after which a thread is told to end; twice as many later its process is."""
LOOK = 0.5
MOST_MEMORY = 380e6
"""Bytes of a worker's own memory above which it lets go of what it keeps; above LEAVE it makes room for another."""
LEAVE = 620e6
GROWN = 40e6
"""Bytes by which it has to have grown since it let go last: to look through all memory takes a third of a second, in
which it answers nothing."""

_asked: dict[int, tuple[float, str]] = {}
"""Of each thread that answers a request: when that has to be over, and what it is."""
_told: dict[int, float] = {}
"""Of each thread that was told to end: when first."""
_telling = threading.Lock()


class Stopped(TooLong):
    """Ended by the watchdog, wherever it was."""

    def __init__(self) -> None:
        super().__init__(
            "this took far too long and was stopped; nothing was changed. Make the outline or the copy simpler"
        )


@contextmanager
def watched(seconds: float, what: str) -> Iterator[None]:
    """The watchdog looks after what this thread does, which has so many seconds."""
    me = threading.get_ident()
    _asked[me] = (time.monotonic() + seconds, what)
    try:
        yield
    finally:
        with _telling:
            _asked.pop(me, None)
            on_its_way = _told.pop(me, None) is not None
        if on_its_way:  # and only then: taking back what was not sent leaves the interpreter looking for it for ever
            ctypes.pythonapi.PyThreadState_SetAsyncExc(ctypes.c_ulong(me), None)


def stop(thread: int) -> None:
    """Raise Stopped in a thread, where it next comes back to the interpreter."""
    ctypes.pythonapi.PyThreadState_SetAsyncExc(ctypes.c_ulong(thread), ctypes.py_object(Stopped))


def memory() -> float:
    """The process's resident memory in bytes."""
    with open("/proc/self/statm") as file:
        return int(file.read().split()[1]) * float(os.sysconf("SC_PAGE_SIZE"))


class Watch(threading.Thread):
    """Looks twice a second at what a worker is at."""

    def __init__(self) -> None:
        super().__init__(name="watch", daemon=True)
        self._left = 0.0
        """The memory that was left when it let go last."""

    def run(self) -> None:
        looked = 0.0
        while True:
            time.sleep(LOOK)
            self.look(time.monotonic())
            if time.monotonic() - looked > 2:
                looked = time.monotonic()
                self._look_at_memory()

    def look(self, now: float) -> None:
        """Tell threads that are past their time to end; end the process where one did not listen."""
        for thread, (end, what) in list(_asked.items()):
            if now < end + GRACE:
                continue
            where = _where(thread)
            with _telling:
                if _asked.get(thread) != (end, what):  # it has just ended
                    continue
                first = _told.setdefault(thread, now)
                stop(thread)  # again and again: what tries many ways may take one for a way that failed
            if first == now:
                log.error("the watchdog stops %s: it is %.0f s past its time\n%s", what, now - end, where)
            if now > first + 2 * GRACE:
                log.critical("the watchdog ends this process: %s does not stop", what)
                self.end()

    def end(self) -> None:
        os.kill(os.getpid(), signal.SIGKILL)

    def _look_at_memory(self) -> None:
        now = memory()
        if now < MOST_MEMORY:
            self._left = 0.0
        # While it answers somebody it waits, unless it is far too large.
        elif now >= self._left + GROWN and (not _asked or now > LEAVE):
            from documents.store import forget_others

            forget_others()
            gc.collect()
            _trim()
            self._left = memory()
        if memory() > LEAVE and not _asked:
            log.warning("a worker with %.0f MB makes room for another", memory() / 1e6)
            os.kill(os.getpid(), signal.SIGTERM)


def _trim() -> None:
    """Give memory that is free back to the system."""
    if sys.platform == "linux":
        try:
            ctypes.CDLL("libc.so.6").malloc_trim(0)
        except (OSError, AttributeError):  # another C library
            pass


def _where(thread: int) -> str:
    frame = sys._current_frames().get(thread)
    return "".join(traceback.format_stack(frame)[-6:]) if frame else ""
