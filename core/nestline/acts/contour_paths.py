"""The contour of a placed picture as a path in its object's own box.

A contour by hand is kept as path data in fractions of its picture, so that it goes with the picture however that is
sized.
"""

from __future__ import annotations

from typing import Any

from nestline.acts.acting import ActError, Acting
from nestline.document.edits import Operation
from nestline.document.model import Contour, PageObject
from nestline.errors import NestLineError
from nestline.outlines.path import Path, to_svg, transformed
from nestline.pictures.placed import placement

BY_HAND = 0.2
"""How smooth a contour becomes for editing that is not yet of few points."""


def picture_box(at: Acting, thing: PageObject) -> tuple[float, float, float, float]:
    """Where the whole picture lies in the object's own box."""
    if thing.picture is None:
        raise ActError(f"“{at.label(thing)}” is no picture")
    file = at.studio.pictures(thing.picture.file)
    return placement(thing.picture, (file.width, file.height), thing.box[2], thing.box[3])


def with_contour(at: Acting, thing: PageObject, path: Path) -> list[Operation]:
    """A path in the object's own box as the contour of its picture, by hand."""
    x, y, width, height = picture_box(at, thing)
    if not path:
        raise ActError("a contour needs at least two points")
    fractions = transformed(path, (1 / width, 0, 0, 1 / height, -x / width, -y / height))
    old: dict[str, Any] = at.raw(thing.id).get("contour") or {}
    kept = {k: v for k, v in old.items() if k not in ("from", "d", "smoothness", "points")}
    contour = {**kept, "from": "path", "d": to_svg(fractions, 5)}
    if "holes" not in old and len(path) > 1:
        contour["holes"] = True
    return [{"do": "put", "at": ["objects", thing.id, "contour"], "value": contour}]


def contour_path(at: Acting, thing: PageObject) -> Path:
    """The contour as it is, for editing by hand, in the object's own box. Raises ActError."""
    if thing.picture is None:
        raise ActError(f"“{at.label(thing)}” is no picture")
    settings = thing.contour or Contour()
    if settings.source != "path" and settings.smoothness <= 0 and settings.points is None:
        thing = thing.model_copy(update={"contour": settings.model_copy(update={"smoothness": BY_HAND})})
    try:
        return at.studio.contours.found(thing).path
    except NestLineError as error:
        raise ActError(str(error)) from None
