"""Outlines of objects as paths, and paths as outlines."""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field

from nestline.acts.acting import ActError
from nestline.document.edits import Operation, Raw
from nestline.document.model import PageObject
from nestline.outlines import kinds, placing
from nestline.outlines.path import Path, bounds, inverse, to_svg, transformed
from nestline.outlines.path import at as path_at

Figure = Annotated[float, Field(allow_inf_nan=False, ge=-1e6, le=1e6)]
Spot = tuple[Figure, Figure]
LEAST = 0.5
"""The least width and height of an outline, in points."""


def own_path(thing: PageObject) -> Path:
    """The outline in the object's own box."""
    return kinds.path_of(thing.outline, thing.box[2], thing.box[3])


def page_path(thing: PageObject) -> Path:
    return transformed(own_path(thing), placing.matrix(thing))


def to_own(thing: PageObject, at: Spot) -> tuple[float, float]:
    """A point of the page in the object's own box."""
    return path_at(inverse(placing.matrix(thing)), at)


def path_outline(path: Path) -> tuple[Raw, tuple[float, float, float, float]]:
    """A path as an outline of its own size, and its bounds."""
    if not path:
        raise ActError("nothing would be left of the outline")
    left, top, right, bottom = bounds(path)
    width, height = max(right - left, LEAST), max(bottom - top, LEAST)
    moved = transformed(path, (1, 0, 0, 1, -left, -top))
    outline = {"kind": "path", "d": to_svg(moved, 3), "box": [rounded(width), rounded(height)]}
    return outline, (left, top, width, height)


def reshaped(thing: PageObject, path: Path) -> list[Operation]:
    """Give an object another outline, a path in its own box as it was; what does not change stays on its place."""
    outline, (left, top, width, height) = path_outline(path)
    x, y, old_width, old_height = thing.box
    # The box changes, and with it where the pivot is: the page's place of every point must not.
    turn = math.radians(thing.turn)
    cos, sin = math.cos(turn), math.sin(turn)
    px, py = thing.pivot[0] * old_width, thing.pivot[1] * old_height
    qx, qy = thing.pivot[0] * width, thing.pivot[1] * height
    dx, dy = left + qx - px, top + qy - py
    new_x, new_y = x + px - qx + cos * dx - sin * dy, y + py - qy + sin * dx + cos * dy
    values = {
        "outline": outline,
        "x": rounded(new_x),
        "y": rounded(new_y),
        "width": rounded(width),
        "height": rounded(height),
    }
    return [{"do": "put", "at": ["objects", thing.id, name], "value": value} for name, value in values.items()]


def rounded(value: float) -> float:
    return round(value, 4)
