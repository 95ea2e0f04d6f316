"""Groups that go along with the one of their objects that belongs to copy: an icon of several outlines in a label.

Who goes along with whom is the document's to say (`Document.along`). What they take up together stands in the copy, or
beside it, as one object would; all of them keep their places in it.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

from nestline.copy.paragraph import InLine
from nestline.document.model import PageObject
from nestline.document.reading import Document
from nestline.outlines import path, placing


def as_one(leader: PageObject, things: Iterable[PageObject]) -> PageObject:
    """An object in the place of all: the box that they take up, turned ones by their corners, with the leader's
    anchor."""
    corners = []
    for thing in things:
        corners += path.corners(placing.matrix(thing), *thing.box[2:])
    left, top = min(x for x, _ in corners), min(y for _, y in corners)
    right, bottom = max(x for x, _ in corners), max(y for _, y in corners)
    made = leader.put(x=left, y=top, width=right - left, height=bottom - top, turn=0.0)
    return made.model_copy(update={"pivot": (0.5, 0.5)})


def carried(thing: PageObject, was: PageObject, now: PageObject) -> PageObject:
    """An object that keeps its place in a box which is moved, turned and made larger or smaller as a whole."""
    ax, ay, width, height = was.box
    bx, by, new_width, _ = now.box
    size = new_width / width if width else 1.0
    x, y, own_width, own_height = thing.box
    px, py = thing.pivot
    right = (x + px * own_width - ax - width / 2) * size
    down = (y + py * own_height - ay - height / 2) * size
    cos, sin = math.cos(math.radians(now.turn)), math.sin(math.radians(now.turn))
    middle_x, middle_y = bx + now.box[2] / 2, by + now.box[3] / 2
    own_width, own_height = own_width * size, own_height * size
    sized = {"width": round(own_width, 4), "height": round(own_height, 4)} if size != 1.0 else {}
    return thing.put(
        x=round(middle_x + cos * right - sin * down - px * own_width, 4),
        y=round(middle_y + sin * right + cos * down - py * own_height, 4),
        turn=thing.turn + now.turn,
        **sized,
    )


def whole_of(document: Document, leader: PageObject) -> PageObject:
    """An object that belongs to copy, with what goes along with it, as it is written: all as one."""
    along = document.along.get(leader.id)
    if not along:
        return leader
    return as_one(leader, (t for _, t in document.objects() if t.id == leader.id or t.id in along))


def in_line_sizes(document: Document) -> InLine:
    """What objects that belong to the copy take up in it (see copy.paragraph.InLine), with what goes along with
    them."""
    out: dict[str, tuple[float, float, float, float] | None] = {}
    for _, thing in document.objects():
        if thing.anchor is None:
            continue
        if thing.anchor.place != "in-line":
            out[thing.id] = None
        elif not thing.hidden:
            whole = whole_of(document, thing)
            out[thing.id] = (whole.box[2], whole.box[3], thing.anchor.shift.pt, thing.anchor.shift.em)
    return out
