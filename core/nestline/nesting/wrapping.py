"""What pushes copy away on a page: the shapes of its objects, cleared."""

from __future__ import annotations

from collections.abc import Callable, Container, Mapping, Sequence

import numpy as np

from nestline.document import lengths
from nestline.document.model import Outline, PageObject
from nestline.errors import DocumentError, NestLineError, json_path
from nestline.nesting.frame import WrapRegion
from nestline.outlines import placing
from nestline.outlines.polygons import Region, box_region

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
            inside = region if thing.wrap.inside else None
            region = all_but(region) if inside is not None else region
        except NestLineError as error:
            raise DocumentError(json_path((*paths.get(thing.id, ()), "contour")), str(error)) from None
        key = (
            thing.id, thing.box, thing.turn, thing.pivot, thing.outline.model_dump_json(), thing.wrap.model_dump_json(),
            placing.stroke_reach(thing.stroke), thing.picture and thing.picture.model_dump_json(),
            thing.contour and thing.contour.model_dump_json(),
        )  # fmt: skip
        sides = "below" if thing.wrap.by == "below" else "both" if inside is not None else thing.wrap.sides
        out.append((key, WrapRegion(region, thing.id, sides, inside)))
    return out


FARTHEST = 20_000.0
"""How far everything reaches about a shape that copy stays inside, in points."""


def all_but(region: Region) -> Region:
    """Everything but a region: what pushes copy into it."""
    if region.empty:
        return region
    left, top, right, bottom = region.bounds
    far = box_region(left - FARTHEST, top - FARTHEST, right + FARTHEST, bottom + FARTHEST)
    return Region(np.concatenate([far.edges, region.edges]), np.concatenate([far.starts, region.starts]))


def wrap_region(thing: PageObject, contour_of: ContourOf) -> Region:
    """Where an object lets no copy stand, on its page; where it must stand, with `inside`: its shape without the
    clearance."""
    wrap = thing.wrap
    if wrap.inside and wrap.by != "contour":
        given = max(wrap.clearance, key=lengths.points) if isinstance(wrap.clearance, tuple) else wrap.clearance
        own = placing.padded(
            thing.model_copy(update={"outline": Outline()}) if wrap.by == "box" else thing, lengths.points(given)
        )
        return placing.on_page(own, thing)
    if wrap.by == "box" or (wrap.by == "below" and isinstance(wrap.clearance, tuple)):
        given = wrap.clearance if isinstance(wrap.clearance, tuple) else (wrap.clearance,) * 4
        reach = placing.stroke_reach(thing.stroke)[1]
        top, right, bottom, left = (lengths.points(c) + reach for c in given)
        _, _, width, height = thing.box
        own = placing.cleared_box(width, height, (top, right, bottom, left))
    elif wrap.by == "contour" and thing.picture is not None:
        own = contour_of(thing)
    else:
        own = placing.cleared_outline(thing, lengths.points(wrap.clearance))
    return placing.on_page(own, thing)
