"""Frames that follow their copy: moved, placed and sized by what they come to, closed up once, cured of leftover."""

from __future__ import annotations

from typing import Any, Literal

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.anchoring import moved_anchor
from nestline.acts.grouping import Ids
from nestline.acts.paths import Figure
from nestline.document import edits, lengths
from nestline.document.edits import Operation
from nestline.document.model import Frame, PageObject

Length = float | str


def _put(thing: PageObject, field: str, value: Any) -> Operation:
    return {"do": "put", "at": ["objects", thing.id, *field.split(".")], "value": value}


def hangs(thing: PageObject) -> bool:
    """Whether its place comes from the copy, and is moved by the figures of its anchor."""
    return thing.anchor is not None and thing.anchor.place != "in-line"


class Move(Given):
    objects: Ids
    by: tuple[Figure, Figure]


@act("move", Move)
def move(at: Acting, given: Move) -> list[Operation]:
    """Move objects by so many points, whatever of them gives. What goes along with one of them is moved with that; what
    stands in line is not moved: it goes to other words."""
    out: list[Operation] = []
    for identity in dict.fromkeys(given.objects):
        thing = at.thing(identity)
        in_line = thing.anchor is not None and thing.anchor.place == "in-line"
        if in_line or at.document.leader_of.get(identity) in given.objects:
            continue  # it stands where its words are
        x, y, _, _ = thing.box
        if hangs(thing):
            out += moved_anchor(at, thing, given.by)
            continue
        for field, value, by in (("x", x, given.by[0]), ("y", y, given.by[1])):
            if abs(by) > 1e-9:
                out.append(_put(thing, field, round(value + by, 4)))
    return out


def gives_along(frame: Frame | None, axis: str) -> bool:
    """Whether a frame's width or height follows its copy."""
    edges = {"width": ("left", "right"), "height": ("top", "bottom")}[axis]
    return frame is not None and any(e in frame.give for e in (*edges, "in-proportion"))


class PlaceEdges(Given):
    object: str
    field: Literal["x", "y", "width", "height"]
    value: Length
    version: str | None = None


@act("place", PlaceEdges)
def place(at: Acting, given: PlaceEdges) -> list[Operation]:
    """Set one figure of where an object stands or how large it is. The size of an edge that gives becomes its least."""
    thing = at.thing(given.object)
    wanted = lengths.points(given.value)
    if given.field in ("width", "height"):
        out = [_put(thing, given.field, given.value)]
        return out + least_put(thing, {given.field: given.value})
    stands = at.stands(thing.id, given.version)
    if hangs(thing):
        by = wanted - stands.box[0 if given.field == "x" else 1]
        return moved_anchor(at, thing, (by, 0.0) if given.field == "x" else (0.0, by), given.version)
    index = 0 if given.field == "x" else 1
    if stands.box[index] == thing.box[index]:
        return [_put(thing, given.field, given.value)]
    return [_put(thing, given.field, round(thing.box[index] + wanted - stands.box[index], 4))]


def least_put(thing: PageObject, sizes: dict[str, Length]) -> list[Operation]:
    """The operation that makes sizes the least of edges that give; a greatest that is less goes with it."""
    frame = thing.frame
    if frame is None:
        return []
    chosen = {axis: value for axis, value in sizes.items() if gives_along(frame, axis)}
    if not chosen:
        return []
    out = []
    least = frame.least.model_dump(exclude_none=True) if frame.least else {}
    out.append(_put(thing, "frame.least", {**least, **chosen}))
    greatest = frame.greatest.model_dump(exclude_none=True) if frame.greatest else {}
    raised = {a: v for a, v in chosen.items() if a in greatest and lengths.points(greatest[a]) < lengths.points(v)}
    if raised:
        out.append(_put(thing, "frame.greatest", {**greatest, **raised}))
    return out


class SizeTo(Given):
    object: str
    box: tuple[Figure, Figure, Figure, Figure]


@act("size", SizeTo)
def size(at: Acting, given: SizeTo) -> list[Operation]:
    """Give an object a box. Along edges that give its size becomes the least: it is never smaller than its copy."""
    thing = at.thing(given.object)
    x, y, width, height = (round(v, 4) for v in given.box)
    if width <= 0 or height <= 0:
        raise ActError("an object needs some width and height")
    out = [_put(thing, f, v) for f, v in (("x", x), ("y", y), ("width", width), ("height", height))]
    return out + least_put(thing, {"width": width, "height": height})


class CloseUp(Given):
    object: str
    edges: list[Literal["top", "right", "bottom", "left", "in-proportion"]] = ["bottom"]
    version: str | None = None


@act("close-up", CloseUp)
def close_up(at: Acting, given: CloseUp) -> list[Operation]:
    """Make a frame as large as its copy needs, once: no edge gives afterwards that did not before."""
    page, index, thing = at.place(given.object)
    if thing.frame is None:
        raise ActError(f"“{at.label(thing)}” holds no copy")
    raw = at.raw(thing.id)
    trial = {**raw, "frame": {k: v for k, v in raw["frame"].items() if k not in ("least", "greatest")}}
    trial["frame"]["give"] = list(given.edges)
    home, place_ = at.home(thing.id)
    changed = edits.apply(at.document.raw, [{"do": "put", "at": [*home, place_], "value": trial}]).document
    document = at.studio.read(changed)
    after = at.studio.nest(document, given.version, [page]).moved.get(thing.id, document.pages[page].objects[index])
    return [_put(thing, f, round(v, 4)) for f, v in zip(("x", "y", "width", "height"), after.box, strict=True)]
