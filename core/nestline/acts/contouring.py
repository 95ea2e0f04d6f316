"""The contour of a placed picture drawn by hand: made from what was traced, drawn, or taken from another outline.

A contour by hand is kept as path data in fractions of its picture, so that it goes with the picture however that is sized.
"""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.outlining import Draw, Object, own_path, page_path, to_own
from nestline.document.edits import Operation
from nestline.document.model import Contour, PageObject
from nestline.errors import NestLineError
from nestline.outlines import placing, points
from nestline.outlines.path import Affine, Path, bounds, to_svg, transformed
from nestline.outlines.points import Knot
from nestline.outlines.svg_import import MOST_BYTES, read_svg
from nestline.pictures.placed import placement

BY_HAND = 0.2
"""How smooth a contour becomes for editing that is not yet of few points."""


def _picture_box(at: Acting, thing: PageObject) -> tuple[float, float, float, float]:
    """Where the whole picture lies in the object's own box."""
    if thing.picture is None:
        raise ActError(f"“{at.label(thing)}” is no picture")
    file = at.studio.pictures(thing.picture.file)
    return placement(thing.picture, (file.width, file.height), thing.box[2], thing.box[3])


def with_contour(at: Acting, thing: PageObject, path: Path) -> list[Operation]:
    """A path in the object's own box as the contour of its picture, by hand."""
    x, y, width, height = _picture_box(at, thing)
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
        on_page = transformed(on_page, _inverse(placing.matrix(thing)))
    return with_contour(at, thing, on_page)


def _inverse(m: Affine) -> Affine:
    a, b, c, d, e, f = m
    det = a * d - b * c
    return d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det


class FromSvg(Given):
    object: str
    svg: Annotated[str, Field(max_length=MOST_BYTES)]


@act("contour-from-svg", FromSvg)
def from_svg_file(at: Acting, given: FromSvg) -> list[Operation]:
    """The contour of a picture from the shapes of an SVG file: drawn on a sheet of the picture's proportions it lies as
    it does there; else it is made as large as the picture and centred on it."""
    thing = at.thing(given.object)
    x, y, width, height = _picture_box(at, thing)
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
