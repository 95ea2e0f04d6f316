"""Objects that belong to the copy and stand outside its lines: beside their line, or in the middle of their frame."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nestline.document import lengths
from nestline.document.model import PageObject
from nestline.document.reading import Document
from nestline.nesting import kernel as k
from nestline.nesting.frame import FrameNest
from nestline.nesting.glyphs import InLinePlace

if TYPE_CHECKING:
    from nestline.nesting.page import PlacedNest


def hung(document: Document, page: int, thing: PageObject, host: PlacedNest, place: InLinePlace) -> PageObject:
    """An object where its anchor puts it, on a page of the document.

    Raises AssertionError for an object without an anchor.
    """
    anchor = thing.anchor
    assert anchor is not None
    nest, frame = host.nest, host.thing
    _, _, width, height = thing.box
    left, top, frame_width, frame_height = frame.box
    dx, dy = lengths.points(anchor.x), lengths.points(anchor.y)
    sheet_width, sheet_height = document.pages[page].sheet.size
    if anchor.place == "centred":
        box = (left, top, left + frame_width, top + frame_height)
        bounds = nest.padded.bounds if not nest.padded.empty else box
        x = (bounds[0] + bounds[2] - width) / 2 + dx
        y = (bounds[1] + bounds[3] - height) / 2 + dy
        return _put(thing, host, x, y)
    row = nest.records[place.record]
    if anchor.across == "page":
        edges = (0.0, sheet_width)
    elif anchor.across == "frame":
        edges = (left, left + frame_width)
    elif anchor.across == "column":
        strips = nest.geometry.strips
        shift = float(row[k.COLUMN]) * strips.step
        edges = (strips.left + shift, strips.right + shift)
    else:
        same = nest.records[:, k.LINE] == row[k.LINE]
        edges = (float(nest.records[same, k.LEFT].min()), float(nest.records[same, k.RIGHT].max()))
    on_left = anchor.side == "left"
    if anchor.side in ("fold", "edge"):
        fold_is_left = not document.head.facing or page % 2 == 0
        on_left = fold_is_left == (anchor.side == "fold")
    if anchor.outside:
        x = edges[0] - abs(dx) - width if on_left else edges[1] + abs(dx)
    else:
        x = edges[0] + dx if on_left else edges[1] - dx - width
    if anchor.down == "line":
        y = float(row[k.BASELINE]) - hang_of_line(nest, place.record, frame) + dy
    else:
        y = (top if anchor.down == "frame" else 0.0) + dy
    made = _put(thing, host, x, y)
    # It is kept on the page, its top and its left edge first where it is larger than that.
    x = max(min(lengths.points(made.x), sheet_width - width), 0.0)
    y = max(min(lengths.points(made.y), sheet_height - height), 0.0)
    return made if (x, y) == made.box[:2] else made.model_copy(update={"x": round(x, 4), "y": round(y, 4)})


def hang_of_line(nest: FrameNest, record: int, frame: PageObject) -> float:
    """How far the metric from which the frame's lines hang is above the baseline of a line."""
    hang = frame.frame.hang if frame.frame else "ascender"
    same = nest.records[nest.records[:, k.LINE] == nest.records[record, k.LINE]]
    first, last = int(same[:, k.FIRST].min()), int(same[:, k.LAST].max())
    column = {"cap": k.CAP, "ex": k.EX, "line-box": k.BOX_UP}.get(hang, k.ASC)
    return float(np.max(nest.copy.pieces[first : last + 1, column]))


def _put(thing: PageObject, host: PlacedNest, x: float, y: float) -> PageObject:
    """The object at a place in the coordinates of its frame's lines; it turns with a frame that is set turned."""
    turn = thing.turn
    if host.matrix is not None:
        a, b, c, d, e, f = host.matrix
        width, height = thing.box[2:]
        middle = (x + thing.pivot[0] * width, y + thing.pivot[1] * height)
        x = a * middle[0] + c * middle[1] + e - thing.pivot[0] * width
        y = b * middle[0] + d * middle[1] + f - thing.pivot[1] * height
    return thing.model_copy(update={"x": round(x, 4), "y": round(y, 4), "turn": turn})
