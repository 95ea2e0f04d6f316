"""Outlines edited by hand and combined."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.contour_paths import contour_path, with_contour
from nestline.acts.grouping import page_rewritten, rewritten
from nestline.acts.own_copy import released, without_paint
from nestline.acts.paths import Spot, own_path, page_path, path_outline, reshaped, rounded, to_own
from nestline.document.edits import Operation, Raw
from nestline.outlines import combining, points
from nestline.outlines.path import Path, PathError, from_svg
from nestline.outlines.points import Kind, Knot, Which


class Pointed(Given):
    object: str
    of: Literal["outline", "contour"] = "outline"
    """Whose points: the object's outline, or its picture's contour."""


def _edited(at: Acting, given: Pointed) -> Path:
    """The path whose points are edited, in the object's own box."""
    thing = at.thing(given.object)
    return own_path(thing) if given.of == "outline" else contour_path(at, thing)


def _changed(at: Acting, given: Pointed, path: Path) -> list[Operation]:
    thing = at.thing(given.object)
    return reshaped(thing, path) if given.of == "outline" else with_contour(at, thing, path)


class AddPoint(Pointed):
    at: Spot


@act("add-point", AddPoint)
def add_point(at: Acting, given: AddPoint) -> list[Operation]:
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
        **given.look,
        "id": given.id or at.fresh_id(),
        "x": rounded(x),
        "y": rounded(y),
        "width": rounded(width),
        "height": rounded(height),
        "outline": outline,
    }
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
    raw |= {"x": rounded(x), "y": rounded(y), "width": rounded(width), "height": rounded(height), "outline": outline}
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
