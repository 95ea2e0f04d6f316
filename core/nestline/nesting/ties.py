"""Ties: an edge, the width or the first baseline of an object bound to another's, at a distance."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from nestline.document.model import PageObject, Tie
from nestline.outlines import path, placing

BaselineOf = Callable[[PageObject], float | None]
"""The y of the first baseline of a frame's copy on the page, None without any."""


def extent(thing: PageObject) -> tuple[float, float, float, float]:
    """left, top, right, bottom of an object's box on its page, turned as it is."""
    corners = path.corners(placing.matrix(thing), *thing.box[2:])
    xs, ys = [x for x, _ in corners], [y for _, y in corners]
    return min(xs), min(ys), max(xs), max(ys)


def in_order(things: Sequence[PageObject]) -> list[int]:
    """The places of objects, each after those it is tied to. Loops do not occur in a document that was read."""
    place = {t.id: i for i, t in enumerate(things)}
    out: list[int] = []
    done: set[int] = set()

    def visit(index: int) -> None:
        if index in done:
            return
        done.add(index)
        for tie in things[index].ties:
            if tie.to in place:
                visit(place[tie.to])
        out.append(index)

    for index in range(len(things)):
        visit(index)
    return out


def tied(
    thing: PageObject, things: Mapping[str, PageObject], baseline_of: BaselineOf, sizes: bool = True
) -> PageObject:
    """The object where its ties put it; of a width or of two opposite edges its size too (unless not `sizes`)."""
    x, y, width, height = thing.box
    wanted: dict[str, float] = {}
    for tie in thing.ties:
        other = things.get(tie.to)
        if other is not None and (value := _value(tie, other, baseline_of)) is not None:
            wanted[tie.edge] = value
    if not wanted:
        return thing
    if sizes:
        if "left" in wanted and "right" in wanted:
            width = max(wanted["right"] - wanted["left"], 0.1)
        elif "width" in wanted:
            width = max(wanted["width"], 0.1)
        if "top" in wanted and "bottom" in wanted:
            height = max(wanted["bottom"] - wanted["top"], 0.1)
    if "left" in wanted:
        x = wanted["left"]
    elif "right" in wanted:
        x = wanted["right"] - width
    if "top" in wanted:
        y = wanted["top"]
    elif "bottom" in wanted:
        y = wanted["bottom"] - height
    made = thing.put(x=x, y=y, width=width, height=height)
    if "baseline" in wanted:
        own = baseline_of(made)
        if own is not None:
            made = made.put(y=y + wanted["baseline"] - own)
    return thing if made.box == thing.box else made


def _value(tie: Tie, other: PageObject, baseline_of: BaselineOf) -> float | None:
    """Where the tie puts the edge: its gap runs to the right and downwards from a left, top or baseline edge, to the
    left and upwards from a right or bottom one."""
    left, top, right, bottom = extent(other)
    its = {"left": left, "top": top, "right": right, "bottom": bottom, "width": right - left}
    value = baseline_of(other) if tie.its_edge == "baseline" else its[tie.its_edge]
    if value is None:
        return None
    gap = tie.gap.pt
    return value - gap if tie.edge in ("right", "bottom") else value + gap
