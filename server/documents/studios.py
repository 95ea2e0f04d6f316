"""The engine's studios: one for each user in this process, since pictures are a user's own."""

from __future__ import annotations

import os
from collections import OrderedDict
from functools import partial
from threading import RLock

from django.db.models import Count, Max

from assets.models import Font
from assets.store import contour_of, fonts_of, keep_contour, picture_of
from nestline.errors import NestLineError
from nestline.nesting import is_compiled
from nestline.pictures.files import PictureFile
from nestline.studio import Studio

_MOST = 16
_studios: OrderedDict[int, tuple[Studio, RLock, tuple[int | None, int]]] = OrderedDict()
_lock = RLock()


class _Pictures:
    """A user's pictures, the last few kept in memory."""

    def __init__(self, owner_id: int) -> None:
        self._find = partial(picture_of, owner_id)
        self._kept: OrderedDict[str, PictureFile] = OrderedDict()

    def __call__(self, file: str) -> PictureFile:
        if file not in self._kept:
            self._kept[file] = self._find(file)
            while sum(len(p.content) for p in self._kept.values()) > 100_000_000 and len(self._kept) > 1:
                self._kept.popitem(last=False)
        self._kept.move_to_end(file)
        return self._kept[file]


class _Contours:
    """Contours kept on the disk beside their pictures."""

    def __init__(self, owner_id: int) -> None:
        self._owner_id = owner_id

    def get(self, file: str, key: str) -> bytes | None:
        return contour_of(self._owner_id, file, key)

    def put(self, file: str, key: str, content: bytes) -> None:
        keep_contour(self._owner_id, file, key, content)


Mark = tuple[int | None, int]


def studio_of(owner_id: int, mark: Mark | None = None) -> tuple[Studio, RLock]:
    """A user's studio, and the lock to hold while using it. It is made anew when the user's fonts changed, which their
    mark tells: the newest one's id, and how many there are."""
    if mark is None:
        own = Font.objects.filter(owner_id=owner_id).aggregate(Max("id"), Count("id"))
        mark = (own["id__max"], own["id__count"])
    with _lock:
        found = _studios.get(owner_id)
        if found is None or found[2] != mark:
            found = _studios[owner_id] = (
                Studio(_Pictures(owner_id), fonts_of(owner_id), _Contours(owner_id)),
                RLock(),
                mark,
            )
            while len(_studios) > _MOST:
                _studios.popitem(last=False)
        _studios.move_to_end(owner_id)
        return found[0], found[1]


def compile_apart() -> None:
    """Compile the hot loops, where they have not been, in a process of its own: the memory that the compiler takes is not
    given back. Call before there are threads."""
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


def warm() -> None:
    """Load the hot loops, compiled, before the first request."""

    def no_pictures(file: str) -> PictureFile:
        raise NestLineError(f"there is no picture “{file}”")

    copy = {
        "versions": {
            "en": {"paragraphs": [{"align": "justify", "runs": [{"text": "Bring string, bring friends. " * 9}]}]}
        }
    }
    frame = {"copy": "s", "sit": "middle", "padding": 4}
    objects = [
        {"id": "f", "x": 0, "y": 0, "width": 200, "height": 200, "outline": {"kind": "ellipse"}, "frame": frame},
        {"id": "g", "x": 0, "y": 0, "width": 60, "height": 30, "frame": {"copy": "s"}},
        {"id": "w", "x": 90, "y": 90, "width": 20, "height": 20, "wrap": {"by": "outline", "clearance": 2}},
    ]
    pages = [{"width": 300, "height": 300, "objects": objects}]
    studio = Studio(no_pictures)
    document = studio.read({"format": "nest-line", "version": 1, "copies": {"s": copy}, "pages": pages})
    for placed in studio.nest(document):
        _ = placed.nest.fill, placed.nest.drawn
