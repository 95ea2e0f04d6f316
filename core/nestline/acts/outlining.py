"""Outlines edited by hand and combined."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.giving import released, without_paint
from nestline.acts.grouping import page_rewritten, rewritten
from nestline.document.edits import Operation, Raw
from nestline.document.model import PageObject
from nestline.outlines import combining, kinds, placing, points
from nestline.outlines.path import Affine, Path, PathError, bounds, from_svg, to_svg, transformed
from nestline.outlines.points import Kind, Knot, Which

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
    a, b, c, d, e, f = _inverse(placing.matrix(thing))
    return a * at[0] + c * at[1] + e, b * at[0] + d * at[1] + f


def _inverse(m: Affine) -> Affine:
    a, b, c, d, e, f = m
    det = a * d - b * c
    return d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det


def path_outline(path: Path) -> tuple[Raw, tuple[float, float, float, float]]:
    """A path as an outline of its own size, and its bounds."""
    if not path:
        raise ActError("nothing would be left of the outline")
    left, top, right, bottom = bounds(path)
    width, height = max(right - left, LEAST), max(bottom - top, LEAST)
    moved = transformed(path, (1, 0, 0, 1, -left, -top))
    outline = {"kind": "path", "d": to_svg(moved, 3), "box": [_r(width), _r(height)]}
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
    values = {"outline": outline, "x": _r(new_x), "y": _r(new_y), "width": _r(width), "height": _r(height)}
    return [{"do": "put", "at": ["objects", thing.id, name], "value": value} for name, value in values.items()]


def _r(value: float) -> float:
    return round(value, 4)


class Pointed(Given):
    object: str
    of: Literal["outline", "contour"] = "outline"
    """Whose points: the object's outline, or its picture's contour."""


def _edited(at: Acting, given: Pointed) -> Path:
    """The path whose points are edited, in the object's own box."""
    from nestline.acts.contouring import contour_path

    thing = at.thing(given.object)
    return own_path(thing) if given.of == "outline" else contour_path(at, thing)


def _changed(at: Acting, given: Pointed, path: Path) -> list[Operation]:
    from nestline.acts.contouring import with_contour

    thing = at.thing(given.object)
    return reshaped(thing, path) if given.of == "outline" else with_contour(at, thing, path)


class Place(Pointed):
    at: Spot


@act("add-point", Place)
def add_point(at: Acting, given: Place) -> list[Operation]:
    """A point more on the edge where it was clicked; the curve does not change."""
    path, _ = points.with_point(_edited(at, given), to_own(at.thing(given.object), given.at))
    return _changed(at, given, path)


class Points(Pointed):
    points: list[Which]


def _knots(path: Path, which: list[Which]) -> tuple[points.Knots, ...]:
    knots = points.knots_of(path)
    for c, i in which:
        if not (0 <= c < len(knots) and 0 <= i < len(knots[c])):
            raise ActError("that point is not there any more")
    return knots


@act("delete-points", Points)
def delete_points(at: Acting, given: Points) -> list[Operation]:
    left = points.path_of(points.without(_knots(_edited(at, given), given.points), set(given.points)))
    if not left:
        raise ActError(f"{'an outline' if given.of == 'outline' else 'a contour'} needs at least two points")
    return _changed(at, given, left)


class MovePoints(Points):
    by: Spot


@act("move-points", MovePoints)
def move_points(at: Acting, given: MovePoints) -> list[Operation]:
    """Some points moved by a way on the page."""
    thing = at.thing(given.object)
    x0, y0 = to_own(thing, (0.0, 0.0))
    x1, y1 = to_own(thing, given.by)
    knots = points.moved(_knots(_edited(at, given), given.points), set(given.points), x1 - x0, y1 - y0)
    return _changed(at, given, points.path_of(knots))


class PointKind(Points):
    kind: Kind


@act("point-kind", PointKind)
def point_kind(at: Acting, given: PointKind) -> list[Operation]:
    knots = points.with_kind(_knots(_edited(at, given), given.points), set(given.points), given.kind)
    return _changed(at, given, points.path_of(knots))


class MoveHandle(Pointed):
    point: Which
    side: Literal["before", "after"]
    to: Spot
    free: bool = False


@act("move-handle", MoveHandle)
def move_handle(at: Acting, given: MoveHandle) -> list[Operation]:
    """A handle put where a point of the page is."""
    thing = at.thing(given.object)
    knots = points.with_handle(
        _knots(_edited(at, given), [given.point]), given.point, given.side, to_own(thing, given.to), given.free
    )
    return _changed(at, given, points.path_of(knots))


class DrawnKnot(Given):
    at: Spot
    before: Spot | None = None
    after: Spot | None = None


class Draw(Given):
    page: int
    knots: list[DrawnKnot]
    id: str | None = None
    look: dict[str, Any] = {}


@act("draw", Draw)
def draw(at: Acting, given: Draw) -> list[Operation]:
    """An outline drawn freely: knots on the page, closed from the last to the first."""
    if len(given.knots) < 2 or len(given.knots) > 5000:
        raise ActError("an outline needs at least two points")
    if not 0 <= given.page < len(at.document.pages):
        raise ActError("that page is not there any more")
    path = points.path_of([tuple(Knot(k.at, k.before, k.after) for k in given.knots)])
    outline, (x, y, width, height) = path_outline(path)
    thing = {
        **given.look, "id": given.id or at.fresh_id(), "x": _r(x), "y": _r(y), "width": _r(width),
        "height": _r(height), "outline": outline,
    }  # fmt: skip
    count = len(at.document.raw["pages"][given.page]["objects"])
    return [{"do": "splice", "at": ["pages", given.page, "objects"], "from": count, "remove": 0, "insert": [thing]}]


class Combine(Given):
    objects: Annotated[list[str], Field(min_length=2, max_length=200)]
    how: combining.How
    base: str | None = None
    """Which is kept and, in a difference, cut from; the first unless given. Its copy, paint and name stay."""


@act("combine", Combine)
def combine(at: Acting, given: Combine) -> list[Operation]:
    """Objects of one page made one, which keeps the copy of the one that had it."""
    things = [at.thing(i) for i in dict.fromkeys(given.objects)]
    if len({at.place(t.id)[0] for t in things}) > 1:
        raise ActError("only objects of one page can be combined")
    if len(things) < 2:
        raise ActError("choose two or more objects to combine")
    base = at.thing(given.base) if given.base else things[0]
    order = [base, *(t for t in things if t.id != base.id)]
    result = combining.combined([page_path(t) for t in order], given.how)
    if not result:
        raise ActError("nothing would be left of the outline")
    outline, (x, y, width, height) = path_outline(result)
    keeper = base if base.frame else next((t for t in order if t.frame), None)
    raw: Raw = {k: v for k, v in at.raw(base.id).items() if k not in ("turn", "pivot", "outline")}
    raw |= {"x": _r(x), "y": _r(y), "width": _r(width), "height": _r(height), "outline": outline}
    if keeper and not base.frame:
        raw["frame"] = at.raw(keeper.id)["frame"]
        if "recipe" not in raw:
            raw |= without_paint(at.raw(keeper.id))
    # Copy of the others stays where it stood, in outlines without paint.
    made: list[Raw] = []
    for thing in order:
        if thing.frame and thing is not keeper:
            made.append(released(at, thing, [m["id"] for m in made]))
    page = at.place(base.id)[0]
    gone = {t.id for t in order}

    def become(thing: Raw) -> list[Raw]:
        return [raw, *made] if thing["id"] == base.id else [] if thing["id"] in gone else [thing]

    return page_rewritten(at, page, rewritten(at.list_at(["pages", page, "objects"]), become))


class Object(Given):
    object: str


@act("to-path", Object)
def to_path(at: Acting, given: Object) -> list[Operation]:
    """A ready outline as its points."""
    thing = at.thing(given.object)
    return [] if thing.outline.kind == "path" else reshaped(thing, own_path(thing))


class PathData(Given):
    object: str
    d: Annotated[str, Field(max_length=500_000)]


@act("set-path", PathData)
def set_path(at: Acting, given: PathData) -> list[Operation]:
    """An outline from SVG path data, in the object's own box."""
    try:
        return reshaped(at.thing(given.object), from_svg(given.d))
    except PathError as error:
        raise ActError(f"this {error}") from None
