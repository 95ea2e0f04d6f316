"""Objects that belong to the copy and stand outside its lines: beside their line, or in the middle of their frame."""

from __future__ import annotations

import numpy as np

from nestline import rows as k
from nestline.document.model import Anchor, PageObject
from nestline.document.reading import Document
from nestline.nesting.along import carried, whole_of
from nestline.nesting.frame_nest import FrameNest
from nestline.nesting.glyphs import InLinePlace
from nestline.nesting.placed import PlacedNest
from nestline.outlines import path

Box = tuple[float, float, float, float]


Edges = tuple[float, float, float]
"""The left and the right edge that an object hangs from, and the height from which its top is measured."""


def _edges(document: Document, page: int, anchor: Anchor, host: PlacedNest, record: int) -> Edges:
    nest, frame = host.nest, host.thing
    left, top, frame_width, _ = frame.box
    row = nest.records[record]
    if anchor.across == "page":
        edges = (0.0, document.pages[page].sheet.size[0])
    elif anchor.across == "frame":
        edges = (left, left + frame_width)
    elif anchor.across == "column":
        strips = nest.geometry.strips
        shift = float(row[k.COLUMN]) * strips.step
        edges = (strips.left + shift, strips.right + shift)
    else:
        same = nest.records[:, k.LINE] == row[k.LINE]
        edges = (float(nest.records[same, k.LEFT].min()), float(nest.records[same, k.RIGHT].max()))
    if anchor.down == "line":
        return (*edges, float(row[k.BASELINE]) - hang_of_line(nest, record, frame))
    return (*edges, top if anchor.down == "frame" else 0.0)


def starts_left(nest: FrameNest, record: int) -> bool:
    """Whether the paragraph of a line runs from left to right."""
    return nest.copy.paragraphs[nest.paragraph_of(record)].base % 2 == 0


def is_on_left(document: Document, page: int, anchor: Anchor, nest: FrameNest, record: int) -> bool:
    """Whether an object hangs at the left of a line: the fold is at the left of a right-hand page, and of a page by
    itself; the start is at the left unless the line's paragraph runs from right to left."""
    if anchor.side in ("start", "end"):
        return (anchor.side == "start") == starts_left(nest, record)
    if anchor.side not in ("fold", "edge"):
        return anchor.side == "left"
    fold_is_left = not document.head.facing or page % 2 == 0
    return fold_is_left == (anchor.side == "fold")


def hung(document: Document, page: int, thing: PageObject, host: PlacedNest, place: InLinePlace) -> PageObject:
    """An object where its anchor puts it, on a page of the document.

    Raises AssertionError for an object without an anchor.
    """
    anchor = thing.anchor
    assert anchor is not None
    nest, frame = host.nest, host.thing
    _, _, width, height = thing.box
    left, top, frame_width, frame_height = frame.box
    dx, dy = anchor.x.pt, anchor.y.pt
    sheet_width, sheet_height = document.pages[page].sheet.size
    if anchor.place == "centred":
        box = (left, top, left + frame_width, top + frame_height)
        bounds = nest.padded.bounds if not nest.padded.empty else box
        x = (bounds[0] + bounds[2] - width) / 2 + dx
        y = (bounds[1] + bounds[3] - height) / 2 + dy
        return _put(thing, host, x, y)
    start, end, down = _edges(document, page, anchor, host, place.record)
    on_left = is_on_left(document, page, anchor, nest, place.record)
    if anchor.outside:
        x = start - abs(dx) - width if on_left else end + abs(dx)
    else:
        x = start + dx if on_left else end - dx - width
    made = _put(thing, host, x, down + dy)
    # It is kept on the page, its top and its left edge first where it is larger than that.
    x = max(min(made.x.pt, sheet_width - width), 0.0)
    y = max(min(made.y.pt, sheet_height - height), 0.0)
    return made if (x, y) == made.box[:2] else made.put(x=round(x, 4), y=round(y, 4))


def holding(
    document: Document, page: int, anchor: Anchor, box: Box, host: PlacedNest, record: int
) -> dict[str, float | bool]:
    """The figures of an anchor (`x`, `y`, for one beside its line `out` too) that keep an object in its box, in the
    coordinates of its frame's lines."""
    x, y, width, height = box
    if anchor.place == "centred":
        left, top, frame_width, frame_height = host.thing.box
        whole = (left, top, left + frame_width, top + frame_height)
        bounds = host.nest.padded.bounds if not host.nest.padded.empty else whole
        middle = ((bounds[0] + bounds[2] - width) / 2, (bounds[1] + bounds[3] - height) / 2)
        return {"x": round(x - middle[0], 4), "y": round(y - middle[1], 4)}
    start, end, down = _edges(document, page, anchor, host, record)
    on_left = is_on_left(document, page, anchor, host.nest, record)
    within = x - start if on_left else end - (x + width)
    out = within + width <= 1e-6
    figure = -(within + width) if out else within
    return {"x": round(-figure if out else figure, 4), "y": round(y - down, 4), "out": out}


def hang_of_line(nest: FrameNest, record: int, frame: PageObject) -> float:
    """How far the metric from which the frame's lines hang is above the baseline of a line."""
    hang = frame.frame.hang if frame.frame else "ascender"
    same = nest.records[nest.records[:, k.LINE] == nest.records[record, k.LINE]]
    first, last = int(same[:, k.FIRST].min()), int(same[:, k.LAST].max())
    column = {"cap": k.CAP, "ex": k.EX, "line-box": k.BOX_UP}.get(str(hang), k.ASC)
    return float(np.max(nest.copy.pieces[first : last + 1, column]))


def _put(thing: PageObject, host: PlacedNest, x: float, y: float) -> PageObject:
    """The object at a place in the coordinates of its frame's lines; it turns with a frame that is set turned."""
    turn = thing.turn
    if host.matrix is not None:
        width, height = thing.box[2:]
        across, down = thing.pivot[0] * width, thing.pivot[1] * height
        x, y = path.at(host.matrix, (x + across, y + down))
        x, y = x - across, y - down
    return thing.put(x=round(x, 4), y=round(y, 4), turn=turn)


def in_line(
    document: Document, thing: PageObject, leader: str, found: tuple[PlacedNest, InLinePlace] | None
) -> PageObject:
    """An object where the copy puts it that it belongs to, or the one that it goes along with; hidden while that is not
    set anywhere."""
    if found is None:
        return thing.model_copy(update={"hidden": True})
    placed, place = found
    whole = thing
    if leader in document.along:
        whole = whole_of(document, next(t for _, t in document.objects() if t.id == leader))
    size = place.width / whole.box[2] if whole.box[2] else 1.0
    width, height, x, y, turn = whole.box[2] * size, whole.box[3] * size, place.left, place.top, whole.turn
    if placed.matrix is not None:
        across, down = whole.pivot[0] * width, whole.pivot[1] * height
        x, y = path.at(placed.matrix, (x + across, y + down))
        x, y = x - across, y - down
        turn += placed.thing.turn
    there = whole.put(x=round(x, 4), y=round(y, 4), width=round(width, 4), height=round(height, 4), turn=turn)
    return there if whole is thing else carried(thing, whole, there)
