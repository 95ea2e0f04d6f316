"""The engine's studios: one for each document in this process, with a lock of its own.

What a process keeps belongs to a document: a document's requests come to the process that has it warm
(server/config/front), and what takes long in one of them holds up no other. Fonts and pictures are a user's, and shared
by their documents.
"""

from __future__ import annotations

import math
import os
import time
from collections import OrderedDict
from dataclasses import dataclass
from functools import partial
from threading import Lock, RLock
from weakref import WeakKeyDictionary

from django.contrib.postgres.expressions import ArraySubquery
from django.db.models import OuterRef

from assets.models import Font, within_reach
from assets.store import contour_of, fonts_of, keep_contour, picture_of
from doors.compiled import Compiled
from nestline.findings.finder import Finder
from nestline.fonts.library import FontLibrary
from nestline.nesting import is_compiled
from nestline.pictures.files import PictureFile
from nestline.remembering import remember
from nestline.studio import Studio
from nestline.warming import warm

Mark = tuple[int, ...]
"""What tells whether the fonts that a user may use changed: their ids."""
MOST_BYTES = 120e6
"""What all studios of a process may keep, about; the one used last always stays."""
LOOKED_AT_EACH = 0.25
"""Seconds between two looks at what they keep: a drag asks for more than a hundred previews in one."""
SLIM_BYTES = 0.75 * MOST_BYTES
"""How far they are made slimmer then: not at every preview again."""
MOST_PICTURES = 60e6
"""Bytes of pictures in their files that a process keeps in memory."""
_MOST_USERS = 64
YIELD = 0.001
"""Seconds that are enough for who waits for a lock to take it."""


@dataclass(frozen=True)
class _Held:
    studio: Studio
    lock: RLock
    mark: Mark


_studios: OrderedDict[int, _Held] = OrderedDict()
_fonts: OrderedDict[int, tuple[Mark, FontLibrary]] = OrderedDict()
_pictures: OrderedDict[tuple[int, str], PictureFile] = OrderedDict()
_lock = Lock()


def _picture(owner_id: int, file: str) -> PictureFile:
    """A user's picture; the last few are kept in memory."""
    key = (owner_id, file)
    with _lock:
        if found := _pictures.get(key):
            _pictures.move_to_end(key)
            return found
    found = picture_of(owner_id, file)
    with _lock:
        _pictures[key] = found
        while sum(len(p.content) for p in _pictures.values()) > MOST_PICTURES and len(_pictures) > 1:
            _pictures.popitem(last=False)
    return found


class _Contours:
    """Contours kept on the disk beside their pictures."""

    def __init__(self, owner_id: int) -> None:
        self._owner_id = owner_id

    def get(self, file: str, key: str) -> bytes | None:
        return contour_of(self._owner_id, file, key)

    def put(self, file: str, key: str, content: bytes) -> None:
        keep_contour(self._owner_id, file, key, content)


def fonts_within(user_id: int | OuterRef) -> ArraySubquery:
    """The mark of a user's fonts, for a query."""
    return ArraySubquery(Font.objects.filter(within_reach(user_id)).order_by("id").values("id"))


_marks = Compiled(lambda user_id: Font.objects.filter(within_reach(user_id)).order_by("id").values_list("id"), int)


def mark_of(owner_id: int) -> Mark:
    return tuple(int(id) for (id,) in _marks(owner_id))


def fonts_now(owner_id: int, mark: Mark | None = None) -> FontLibrary:
    """A user's fonts, read again when they changed."""
    mark = mark_of(owner_id) if mark is None else mark  # none is a mark, too
    with _lock:
        known = _fonts.get(owner_id)
        if known and known[0] == mark:
            _fonts.move_to_end(owner_id)
            return known[1]
    fonts = fonts_of(owner_id)
    with _lock:
        remember(_fonts, owner_id, (mark, fonts), _MOST_USERS)
    return fonts


def new_studio(owner_id: int, mark: Mark | None = None) -> Studio:
    """A studio with a user's pictures and fonts, for a document that is not stored yet."""
    return Studio(partial(_picture, owner_id), fonts_now(owner_id, mark), _Contours(owner_id))


def studio_of(
    owner_id: int, document_id: int, mark: Mark | None = None, before: tuple[Studio, RLock] | None = None
) -> tuple[Studio, RLock]:
    """A document's studio, and the lock to hold while using it. It is made anew when its owner's fonts changed, which
    their mark tells; else the one from `before`, that somebody still has something of, is kept again where it was let
    go to save memory."""
    mark = mark_of(owner_id) if mark is None else mark  # none is a mark, too
    with _lock:
        found = _studios.get(document_id)
        if found and found.mark == mark:
            _studios.move_to_end(document_id)
            return found.studio, found.lock
    if before and before[0].fonts is fonts_now(owner_id, mark):
        return adopt(document_id, *before, mark)
    return adopt(document_id, new_studio(owner_id, mark), RLock(), mark)


_finders: WeakKeyDictionary[Studio, Finder] = WeakKeyDictionary()


def finder_of(studio: Studio) -> Finder:
    """What looks for faults in a studio's documents; call with its lock held."""
    if (found := _finders.get(studio)) is None:
        found = _finders[studio] = Finder(studio)
    return found


def give_way(lock: RLock) -> None:
    """Let others have a studio that one holds once, and take it again: for what takes seconds and nobody waits for."""
    lock.release()
    time.sleep(YIELD)
    lock.acquire()


def adopt(document_id: int, studio: Studio, lock: RLock, mark: Mark) -> tuple[Studio, RLock]:
    """Keep a studio and its lock for a document; another that came first stays."""
    with _lock:
        found = _studios.get(document_id)
        if found is None or found.mark != mark:
            found = _studios[document_id] = _Held(studio, lock, mark)
        _studios.move_to_end(document_id)
        return found.studio, found.lock


def let_go() -> list[int]:
    """Where all studios keep too much: of those that were not used the longest, first what their documents do not need
    as they stand (a drag leaves many), then they themselves; which documents they were of."""
    global _looked_at
    gone: list[int] = []
    with _lock:
        if (now := time.monotonic()) < _looked_at + LOOKED_AT_EACH:
            return gone
        _looked_at = now
        if _kept() > MOST_BYTES:
            _slim()
        while len(_studios) > 1 and _kept() > MOST_BYTES:
            gone.append(_studios.popitem(last=False)[0])
    return gone


_looked_at = -math.inf


def _kept() -> float:
    return sum(held.studio.size for held in _studios.values())


def _slim() -> None:
    for held in _studios.values():
        if _kept() <= SLIM_BYTES:
            return
        if held.lock.acquire(blocking=False):  # one that is in use needs what it has
            try:
                held.studio.slim()
            finally:
                held.lock.release()


def keep_last() -> int | None:
    """Forget every studio but the one used last, which somebody may be at, and all pictures; which document that one is
    of."""
    with _lock:
        while len(_studios) > 1:
            _studios.popitem(last=False)
        _pictures.clear()
        return next(iter(_studios), None)


def compile_apart() -> None:
    """Compile the hot loops, where they have not been, in a process of its own: the memory that the compiler takes is
    not given back. Call before there are threads."""
    if is_compiled():
        return
    child = os.fork()
    if child == 0:
        failed = 1
        try:
            warm()
            failed = 0
        finally:
            os._exit(failed)
    os.waitpid(child, 0)
