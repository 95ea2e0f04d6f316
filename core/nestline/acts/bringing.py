"""What is brought in from files: outlines from SVG."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.paths import Figure, path_outline
from nestline.document.edits import Operation
from nestline.outlines.path import bounds, transformed
from nestline.outlines.svg_import import MOST_BYTES, read_svg


class BringSvg(Given):
    page: int
    name: str = ""
    svg: Annotated[str, Field(max_length=MOST_BYTES)]
    at: tuple[Figure, Figure] | None = None
    """Where its middle goes; the page's middle when not given."""
    ids: list[str] | None = None


@act("bring-svg", BringSvg)
def bring_svg(at: Acting, given: BringSvg) -> list[Operation]:
    """The shapes of an SVG file as objects, made smaller where they are larger than the page."""
    if not 0 <= given.page < len(at.document.pages):
        raise ActError("that page is not there any more")
    found = read_svg(given.svg.encode())
    boxes = [bounds(s.path) for s in found.shapes]
    left, top = min(b[0] for b in boxes), min(b[1] for b in boxes)
    right, bottom = max(b[2] for b in boxes), max(b[3] for b in boxes)
    width, height = at.document.pages[given.page].sheet.size
    scale = min(1.0, 0.9 * width / max(right - left, 1e-6), 0.9 * height / max(bottom - top, 1e-6))
    cx, cy = given.at or (width / 2, height / 2)
    move = (scale, 0, 0, scale, cx - scale * (left + right) / 2, cy - scale * (top + bottom) / 2)
    made: list[dict[str, Any]] = []
    for number, shape in enumerate(found.shapes):
        outline, (x, y, w, h) = path_outline(transformed(shape.path, move))
        thing: dict[str, Any] = {
            "id": given.ids[number]
            if given.ids and number < len(given.ids)
            else at.fresh_id("o", [m["id"] for m in made]),
            "name": shape.name or given.name,
            "x": round(x, 4),
            "y": round(y, 4),
            "width": round(w, 4),
            "height": round(h, 4),
            "outline": outline,
        }
        if shape.fill:
            thing["fill"] = {"color": shape.fill, "opacity": round(shape.fill_opacity, 4)}
        if shape.stroke:
            width_pt = round(shape.stroke_width * scale, 4)
            thing["stroke"] = {"color": shape.stroke, "width": width_pt, "opacity": round(shape.stroke_opacity, 4)}
        made.append(thing)
    count = len(at.document.raw["pages"][given.page]["objects"])
    return [{"do": "splice", "at": ["pages", given.page, "objects"], "from": count, "remove": 0, "insert": made}]
