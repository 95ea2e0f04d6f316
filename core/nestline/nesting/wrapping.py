"""What pushes copy away on a page: the shapes of its objects, cleared."""

from __future__ import annotations

import math
from collections.abc import Callable, Container, Mapping, Sequence
from dataclasses import replace
from functools import lru_cache

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from nestline.document.lengths import Length, Sides
from nestline.document.model import Frame, Outline, PageObject
from nestline.errors import DocumentError, NestLineError, json_path
from nestline.nesting.frame_space import WrapRegion
from nestline.outlines import path, placing
from nestline.outlines.polygons import NO_REGION, Region, box_region, meet, region_of, shape_of

ContourOf = Callable[[PageObject], Region]
"""The visible contour of an object's picture in the object's own box, already cleared. Raises NestLineError."""

Wrapping = tuple[tuple[object, ...], WrapRegion]
"""A wrap with a key of everything it depends on."""

Paths = Mapping[str, tuple[str | int, ...]]
"""Where each object stands in the document, by id."""


def page_wraps(
    things: Sequence[PageObject], paths: Paths, contour_of: ContourOf, in_line: Container[str] = ()
) -> list[Wrapping]:
    """What pushes copy away on a page, each with a key of everything it depends on. Objects in line push nothing."""
    out: list[Wrapping] = []
    for thing in things:
        if thing.hidden or thing.wrap.by == "none" or thing.id in in_line:
            continue
        try:
            region = wrap_region(thing, contour_of)
            inside = shape_to_stay_in(thing, contour_of) if thing.wrap.inside else None
            region = all_but(region, inside) if inside is not None else region
        except NestLineError as error:
            raise DocumentError(json_path((*paths.get(thing.id, ()), "contour")), str(error)) from None
        key = (
            thing.id,
            thing.box,
            thing.turn,
            thing.pivot,
            thing.outline.written,
            thing.wrap.written,
            placing.stroke_reach(thing.stroke),
            thing.picture and thing.picture.written,
            thing.contour and thing.contour.written,
        )
        sides = "below" if thing.wrap.by == "below" else "both" if inside is not None else thing.wrap.sides
        out.append((key, WrapRegion(region, thing.id, sides, inside)))
    return out


def only_below(wrap: WrapRegion, y: float) -> WrapRegion:
    """What of a wrap pushes copy that stands below a height."""
    left, top, right, bottom = wrap.region.bounds if not wrap.region.empty else (0.0, 0.0, 0.0, 0.0)
    if top >= y:
        return wrap
    part = shape_of(wrap.region).intersection(shapely.box(left - 1, y, right + 1, max(bottom, y) + 1))
    return replace(wrap, region=region_of(part))


FARTHEST = 20_000.0
"""How far everything reaches about a shape that copy stays inside, in points."""


def all_but(region: Region, about: Region) -> Region:
    """Everything but a region: what pushes copy into it. Where nothing is left of it, everything `about` it."""
    if about.empty:
        return NO_REGION
    left, top, right, bottom = about.bounds
    far = box_region(left - FARTHEST, top - FARTHEST, right + FARTHEST, bottom + FARTHEST)
    if region.empty:
        return far
    return Region(np.concatenate([far.edges, region.edges]), np.concatenate([far.starts, region.starts]))


def shape_to_stay_in(thing: PageObject, contour_of: ContourOf) -> Region:
    """The shape that copy is to stay in, without its clearance: frames that meet it are held to it."""
    return wrap_region(
        thing.model_copy(update={"wrap": thing.wrap.model_copy(update={"clearance": Sides()})}), contour_of
    )


LIES_ON = 0.95
"""The share of a frame's box that a painted object behind it holds when the frame lies on it."""


def pushing(
    frame: Frame, thing: PageObject, wraps: Sequence[Wrapping], things: Sequence[PageObject], tied: Container[str]
) -> list[Wrapping]:
    """The wraps that push a frame: neither its own, nor those of what it is `tied` to or lies on. A frame that lies on
    a picture whose contour pushes lies on what the picture shows only where that contour holds it.

    `things` are the objects of its page, back to front.
    """
    if not frame.pushed:
        return []
    number = next((n for n, other in enumerate(things) if other.id == thing.id), 0) if wraps else 0
    behind = {other.id: other for other in things[:number]}
    return [
        (key, wrap)
        for key, wrap in wraps
        if wrap.object_id != thing.id
        and wrap.object_id not in tied
        and not (
            wrap.inside is None and wrap.object_id in behind and _lies_on_wrap(thing, behind[wrap.object_id], wrap)
        )
    ]


def _lies_on_wrap(thing: PageObject, ground: PageObject, wrap: WrapRegion) -> bool:
    if not lies_on(thing, ground):
        return False
    if ground.wrap.by != "contour" or ground.picture is None:
        return True
    _, _, width, height = thing.box
    return _share_in(placing.matrix(thing), width, height, wrap.region) >= LIES_ON


@lru_cache(maxsize=512)
def _share_in(
    matrix: tuple[float, float, float, float, float, float], width: float, height: float, region: Region
) -> float:
    """The share of a box, as it stands on its page, that a region holds."""
    box = shapely.Polygon(path.corners(matrix, width, height))
    return float(shape_of(region).intersection(box).area / max(box.area, 1e-9))


def lies_on(thing: PageObject, ground: PageObject) -> bool:
    """Whether a painted object holds so much of an object's box that this lies on it."""
    painted = ground.paint and (ground.picture is not None or (ground.fill is not None and ground.fill.opacity > 0))
    if not painted or ground.hidden:
        return False
    return share_on(thing, ground) >= LIES_ON


def share_on(thing: PageObject, ground: PageObject) -> float:
    """The share of an object's box that another's outline holds, both as they stand on their page."""
    _, _, width, height = thing.box
    if ground.box[2] * ground.box[3] < LEAST_SHARE * width * height:
        return 0.0
    if thing.turn == ground.turn == 0:
        (x, y, _, _), (gx, gy, gw, gh) = thing.box, ground.box
        across = min(x + width, gx + gw) - max(x, gx)
        down = min(y + height, gy + gh) - max(y, gy)
        share = max(across, 0.0) * max(down, 0.0) / max(width * height, 1e-9)
        if share < LEAST_SHARE or (ground.outline.kind == "rectangle" and not any(ground.outline.radius.points())):
            return share
    # Boxes that stand turned reach no further than the upright ones round them.
    (left, top, right, bottom), (a, b, c, d) = placing.bounds_on_page(thing), placing.bounds_on_page(ground)
    across, down = min(right, c) - max(left, a), min(bottom, d) - max(top, b)
    if max(across, 0.0) * max(down, 0.0) < LEAST_SHARE * width * height:
        return 0.0
    return _share_on(
        *placing.matrix(thing), width, height, placing.matrix(ground), ground.outline.written, ground.box[2:]
    )


LEAST_SHARE = 0.5
"""Shares below this are not told apart from none where that saves work."""


@lru_cache(maxsize=2048)
def _share_on(
    a: float,
    b: float,
    c: float,
    d: float,
    e: float,
    f: float,
    width: float,
    height: float,
    ground: tuple[float, ...],
    outline_json: str,
    size: tuple[float, float],
) -> float:
    area = placing.area_at(outline_json, *size)
    m = np.array(ground).reshape(3, 2)
    outline: BaseGeometry = shapely.transform(area, lambda places: places @ m[:2] + m[2])
    box = shapely.Polygon(path.corners((a, b, c, d, e, f), width, height))
    return float(shapely.make_valid(outline).intersection(box).area / max(box.area, 1e-9))


def reaching(near: Sequence[Wrapping], padded: Region) -> list[Wrapping]:
    """Of wraps, those that can touch a frame's padded outline: by their boxes, and of what copy is to stay inside by
    the shape itself."""
    if padded.empty:
        return []
    return [
        (key, wrap) for key, wrap in in_box(near, padded.bounds) if wrap.inside is None or meet(wrap.inside, padded)
    ]


def in_box(near: Sequence[Wrapping], box: tuple[float, float, float, float]) -> list[Wrapping]:
    """Of wraps, those whose own boxes meet a box: left, top, right, bottom."""
    left, top, right, bottom = box
    out = []
    for key, wrap in near:
        if not wrap.reach.empty:
            a, b, c, d = wrap.reach.bounds
            if a < right and c > left and b < bottom and d > top:
                out.append((key, wrap))
    return out


def in_points(thing: PageObject, em: float) -> PageObject:
    """An object whose clearance is in points, an em being `em` points."""

    given = thing.wrap.clearance
    top, right, bottom, left = map(Length, given.points(em))
    made = Sides(top, right, bottom, left, given.apart)
    return thing.model_copy(update={"wrap": thing.wrap.model_copy(update={"clearance": made})})


def clears_in_ems(thing: PageObject) -> bool:
    """Whether an object's clearance is in ems of the copy that it pushes."""
    return any(side.em for side in thing.wrap.clearance.four)


def nearest_frame(thing: PageObject, frames: Sequence[PageObject]) -> PageObject | None:
    """The frame whose copy an object pushes first: the nearest by their boxes, of several that it touches the one that
    it covers most of."""
    x, y, width, height = thing.box

    def distance(other: PageObject) -> tuple[float, float]:
        ox, oy, ow, oh = other.box
        across = min(x + width, ox + ow) - max(x, ox)
        down = min(y + height, oy + oh) - max(y, oy)
        return math.hypot(min(across, 0.0), min(down, 0.0)), -max(across, 0.0) * max(down, 0.0)

    return min((f for f in frames if f.id != thing.id), key=distance, default=None)


def wrap_region(thing: PageObject, contour_of: ContourOf) -> Region:
    """Where an object lets no copy stand, on its page; where it must stand, with `inside`: its shape without the
    clearance."""
    return placing.on_page(own_wrap_region(thing, contour_of), thing)


def own_wrap_region(thing: PageObject, contour_of: ContourOf) -> Region:
    """The same in the object's own box, as it stands unturned."""
    wrap = thing.wrap
    if wrap.inside and wrap.by != "contour":
        shape = thing.model_copy(update={"outline": Outline()}) if wrap.by == "box" else thing
        return placing.padded(shape, max(wrap.clearance.points()))
    if wrap.by == "box" or (wrap.by == "below" and wrap.clearance.apart):
        reach = placing.stroke_reach(thing.stroke)[1]
        top, right, bottom, left = (side + reach for side in wrap.clearance.points())
        _, _, width, height = thing.box
        return placing.cleared_box(width, height, (top, right, bottom, left))
    if wrap.by == "contour" and thing.picture is not None:
        return contour_of(thing)
    return placing.cleared_outline(thing, wrap.clearance.top.pt)
