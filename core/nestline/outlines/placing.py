"""An object's shape on its page: its path, padded region, wrap region and matrix.

Shapes are worked out in the object's own box and remembered by value, then moved and turned to the page: dragging or
turning an object works nothing out again.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
import shapely
from shapely.geometry import box as rectangle_area
from shapely.geometry.base import BaseGeometry

from nestline.document.model import Outline, PageObject, Stroke
from nestline.outlines import kinds
from nestline.outlines.path import Affine
from nestline.outlines.polygons import Region, area_of, eroded, inset, outset, region_of


def matrix(thing: PageObject) -> Affine:
    """From the object's own box (origin at its top left) to its page: turned about its pivot, then moved."""
    x, y, width, height = thing.box
    px, py = thing.pivot[0] * width, thing.pivot[1] * height
    c, s = math.cos(math.radians(thing.turn)), math.sin(math.radians(thing.turn))
    return (c, s, -s, c, x + px - c * px + s * py, y + py - s * px - c * py)


def bounds_on_page(thing: PageObject) -> tuple[float, float, float, float]:
    """Left, top, right and bottom of an object's box on its page."""
    _, _, width, height = thing.box
    a, b, c, d, e, f = matrix(thing)
    corners = [(a * x + c * y + e, b * x + d * y + f) for x in (0, width) for y in (0, height)]
    across, down = zip(*corners, strict=True)
    return min(across), min(down), max(across), max(down)


def pivot_on_page(thing: PageObject) -> tuple[float, float]:
    x, y, width, height = thing.box
    return x + thing.pivot[0] * width, y + thing.pivot[1] * height


def page_top_for(thing: PageObject) -> float:
    """How far down the coordinates of a turned object, as it stood unturned, the line lies that goes through the page's
    origin in the direction of its lines: those of all objects turned alike are measured from one."""
    x, y = pivot_on_page(thing)
    turn = math.radians(thing.turn)
    return y + math.sin(turn) * x - math.cos(turn) * y


def stroke_reach(stroke: Stroke | None) -> tuple[float, float]:
    """How far a stroke reaches inside and outside the outline, in points."""
    if stroke is None:
        return 0.0, 0.0
    width = stroke.width.pt
    return {"inside": (width, 0.0), "centred": (width / 2, width / 2), "outside": (0.0, width)}[stroke.position]


@lru_cache(maxsize=2048)
def area_at(outline_json: str, width: float, height: float) -> BaseGeometry:
    """An outline, as JSON, flattened in a box of this size. One without lengths of its own is flattened a little
    larger, at one of a few sizes, and brought to its size: while a frame grows in proportion, its curves are flattened
    once."""
    outline = Outline.model_validate_json(outline_json)
    if any(outline.radius.points()) or outline.kind == "rectangle" or (outline.d is not None and outline.box is None):
        return area_of(kinds.path_of(outline, width, height))
    longer = max(width, height)
    scale = 2.0 ** (math.ceil(STEPS * math.log2(longer)) / STEPS) / longer
    large = round(width * scale, 6), round(height * scale, 6)
    if min(large) <= 0:
        return area_of(kinds.path_of(outline, width, height))
    by = np.array([width / large[0], height / large[1]])
    return shapely.transform(_area_at(outline_json, *large), lambda places: places * by)


STEPS = 4
"""How many sizes outlines are flattened at, from one to its double."""


@lru_cache(maxsize=512)
def _area_at(outline_json: str, width: float, height: float) -> BaseGeometry:
    return area_of(kinds.path_of(Outline.model_validate_json(outline_json), width, height))


def area(thing: PageObject) -> BaseGeometry:
    """The outline's area in the object's own box."""
    _, _, width, height = thing.box
    return area_at(thing.outline.written, width, height)


@lru_cache(maxsize=2048)
def _padded(outline_json: str, width: float, height: float, padding: float) -> Region:
    return region_of(inset(area_at(outline_json, width, height), padding))


def padded(thing: PageObject, padding: float) -> Region:
    """Where copy may stand, in the object's own box: `padding` points inside the inner edge of the stroke."""
    _, _, width, height = thing.box
    return _padded(thing.outline.written, width, height, padding + stroke_reach(thing.stroke)[0])


@lru_cache(maxsize=2048)
def _padded_by_side(
    outline_json: str, width: float, height: float, inner: float, turn: float, sides: tuple[float, float, float, float]
) -> Region:
    """The outline inside its stroke, turned about the corner of its box and eroded by the box of the sides."""
    inside = inset(area_at(outline_json, width, height), inner)
    if turn:
        cos, sin = math.cos(math.radians(turn)), math.sin(math.radians(turn))
        inside = shapely.transform(inside, lambda places: places @ np.array([[cos, sin], [-sin, cos]]))
    return region_of(eroded(inside, *sides))


def padded_by_side(thing: PageObject, sides: tuple[float, float, float, float], level: bool) -> Region:
    """Where copy may stand on the page, `sides` (top, right, bottom, left) inside the inner edge of the stroke.

    The sides are those of the page when the frame is set `level`, else those of the box, which is then unturned.
    """
    x, y, width, height = thing.box
    turn = thing.turn if level else 0.0
    found = _padded_by_side(thing.outline.written, width, height, stroke_reach(thing.stroke)[0], turn, sides)
    if not turn:
        return found.moved(x, y)
    corner = matrix(thing)
    return found.moved(corner[4], corner[5])


@lru_cache(maxsize=2048)
def _cleared(outline_json: str, width: float, height: float, clearance: float) -> Region:
    return region_of(outset(area_at(outline_json, width, height), clearance))


def cleared_outline(thing: PageObject, clearance: float) -> Region:
    """The outline and everything within `clearance` of the outer edge of its stroke, in the object's own box."""
    _, _, width, height = thing.box
    return _cleared(thing.outline.written, width, height, clearance + stroke_reach(thing.stroke)[1])


@lru_cache(maxsize=2048)
def cleared_box(width: float, height: float, sides: tuple[float, float, float, float]) -> Region:
    """The box grown by top, right, bottom, left (square corners, as a CSS margin box)."""
    top, right, bottom, left = sides
    return region_of(rectangle_area(-left, -top, width + right, height + bottom))


def on_page(region: Region, thing: PageObject) -> Region:
    """A region of the object's own box, turned and moved to its page."""
    x, y, width, height = thing.box
    return region.turned(thing.turn, (thing.pivot[0] * width, thing.pivot[1] * height)).moved(x, y)
