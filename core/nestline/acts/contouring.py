"""The contour of a placed picture drawn by hand: made from what was traced, drawn, or taken from another outline.

A contour by hand is kept as path data in fractions of its picture, so that it goes with the picture however that is
sized.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.contour_paths import contour_path, picture_box, with_contour
from nestline.acts.outlining import Draw, Object
from nestline.acts.paths import own_path, page_path, to_own
from nestline.document.edits import Operation
from nestline.outlines import placing, points
from nestline.outlines.path import Path, bounds, inverse, transformed
from nestline.outlines.points import Knot
from nestline.outlines.svg_import import MOST_BYTES, read_svg


@act("contour-by-hand", Object)
def by_hand(at: Acting, given: Object) -> list[Operation]:
    """The contour that was found, with few points, to be edited by hand from now on."""
    thing = at.thing(given.object)
    if thing.contour and thing.contour.source == "path":
        return []
    return with_contour(at, thing, contour_path(at, thing))


class DrawContour(Draw):
    object: str


@act("draw-contour", DrawContour)
def draw_contour(at: Acting, given: DrawContour) -> list[Operation]:
    """A contour drawn freely round the picture's subject: knots on the page, closed from the last to the first."""
    thing = at.thing(given.object)
    if len(given.knots) < 2:
        raise ActError("a contour needs at least two points")

    def own(spot: tuple[float, float] | None) -> tuple[float, float] | None:
        return None if spot is None else to_own(thing, spot)

    knots = tuple(Knot(to_own(thing, k.at), own(k.before), own(k.after)) for k in given.knots)
    return with_contour(at, thing, points.path_of([knots]))


class FromObject(Given):
    object: str
    outline: str
    """The object whose outline it is to be, where that lies."""


@act("contour-from-outline", FromObject)
def from_outline(at: Acting, given: FromObject) -> list[Operation]:
    """The contour of a picture from another object's outline, where that lies over the picture."""
    thing, other = at.thing(given.object), at.thing(given.outline)
    if at.place(thing.id)[0] != at.place(other.id)[0]:
        raise ActError("the picture and the outline are on different pages")
    on_page = own_path(other) if other.id == thing.id else page_path(other)
    if other.id != thing.id:
        on_page = transformed(on_page, inverse(placing.matrix(thing)))
    return with_contour(at, thing, on_page)


class FromSvg(Given):
    object: str
    svg: Annotated[str, Field(max_length=MOST_BYTES)]


@act("contour-from-svg", FromSvg)
def from_svg_file(at: Acting, given: FromSvg) -> list[Operation]:
    """The contour of a picture from the shapes of an SVG file: drawn on a sheet of the picture's proportions it lies as
    it does there; else it is made as large as the picture and centred on it."""
    thing = at.thing(given.object)
    x, y, width, height = picture_box(at, thing)
    found = read_svg(given.svg.encode())
    path: Path = tuple(c for shape in found.shapes for c in shape.path)
    if found.size is not None and abs(found.size[0] / found.size[1] / (width / height) - 1) < 0.01:
        scale = width / found.size[0]
        return with_contour(at, thing, transformed(path, (scale, 0, 0, scale, x, y)))
    left, top, right, bottom = bounds(path)
    scale = min(width / max(right - left, 1e-6), height / max(bottom - top, 1e-6))
    dx = x + (width - scale * (right + left)) / 2
    dy = y + (height - scale * (bottom + top)) / 2
    return with_contour(at, thing, transformed(path, (scale, 0, 0, scale, dx, dy)))
