"""Shapes of an SVG file as outlines (SVG 2): arcs, transforms, groups and `use` are worked out; text and pictures in it
are left out and counted. What could harm is refused before anything is read."""

from __future__ import annotations

import io
from dataclasses import dataclass

import svgelements
from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException

from nestline.errors import NestLineError
from nestline.outlines.path import Path, PathError, from_svg, transformed

MOST_BYTES = 5_000_000
MOST_SHAPES = 2000
MOST_ELEMENTS = 50_000
PT = 0.75
"""Points in a CSS pixel."""


class SvgError(NestLineError):
    """The file cannot be brought in."""

    code = "svg"


@dataclass(frozen=True)
class Shape:
    """One shape: its path in points, and its paint as CSS figures (None for none)."""

    path: Path
    name: str
    fill: str | None
    fill_opacity: float
    stroke: str | None
    stroke_width: float
    stroke_opacity: float


@dataclass(frozen=True)
class Shapes:
    shapes: tuple[Shape, ...]
    left_out: int
    """Texts and pictures, which are no outlines."""
    size: tuple[float, float] | None = None
    """Width and height of the sheet it is drawn on, in points, where it says so."""


def read_svg(content: bytes) -> Shapes:
    """The shapes of an SVG file, in its stacking order. Raises SvgError."""
    if len(content) > MOST_BYTES:
        raise SvgError(f"the file is larger than {MOST_BYTES // 1_000_000} MB")
    try:
        root = ElementTree.fromstring(content, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except DefusedXmlException:
        raise SvgError("the file defines entities or reaches for other files; it is not brought in") from None
    except Exception:
        raise SvgError("the file is not whole XML") from None
    if not str(root.tag).endswith("svg"):
        raise SvgError("the file is XML, but not SVG")
    _check_size(root)
    try:
        svg = svgelements.SVG.parse(io.BytesIO(content), reify=True, ppi=96)
        elements = list(svg.elements())
    except RecursionError:
        raise SvgError("its parts are nested too deeply") from None
    except Exception as error:
        raise SvgError(f"its shapes cannot be read ({type(error).__name__})") from None
    shapes: list[Shape] = []
    left_out = 0
    for element in elements:
        if isinstance(element, svgelements.Text | svgelements.Image):
            left_out += 1
            continue
        if not isinstance(element, svgelements.Shape) or _hidden(element):
            continue
        shape = _shape(element)
        if shape:
            shapes.append(shape)
        if len(shapes) > MOST_SHAPES:
            raise SvgError(f"it has more than {MOST_SHAPES} shapes")
    if not shapes:
        raise SvgError("it has no shapes" + (", only text or pictures" if left_out else ""))
    return Shapes(tuple(shapes), left_out, _sheet(svg))


def _sheet(svg: svgelements.SVG) -> tuple[float, float] | None:
    try:
        width, height = float(svg.width) * PT, float(svg.height) * PT
    except (TypeError, ValueError):
        return None
    return (width, height) if width > 0 and height > 0 else None


def _check_size(root: ElementTree) -> None:
    """Refuse trees that are too deep or too large, counting what `use` repeats."""
    by_id = {e.get("id"): e for e in root.iter() if e.get("id")}
    budget = [MOST_ELEMENTS]

    def walk(element: ElementTree, depth: int) -> None:
        budget[0] -= 1
        if budget[0] < 0 or depth > 200:
            raise SvgError("it repeats or nests its parts too often")
        if str(element.tag).endswith("}use") or element.tag == "use":
            href = element.get("href") or element.get("{http://www.w3.org/1999/xlink}href") or ""
            target = by_id.get(href[1:]) if href.startswith("#") else None
            if target is not None:
                walk(target, depth + 1)
        for child in element:
            walk(child, depth + 1)

    walk(root, 0)


def _hidden(element: svgelements.Shape) -> bool:
    values = element.values
    return values.get("display") == "none" or values.get("visibility") in ("hidden", "collapse")


def _shape(element: svgelements.Shape) -> Shape | None:
    try:
        data = svgelements.Path(element).d()
        path = from_svg(data) if data else ()
    except (PathError, ValueError, ZeroDivisionError):
        return None
    path = tuple(c for c in path if len(c) > 1)
    if not path:
        return None
    fill, fill_opacity = _color(element.fill)
    stroke, stroke_opacity = _color(element.stroke)
    width = float(element.stroke_width or 0) if element.stroke is not None else 0.0
    whole = _share(element.values.get("opacity"))
    name = str(element.id or "")[:200]
    return Shape(
        transformed(path, (PT, 0, 0, PT, 0, 0)),
        name,
        fill,
        fill_opacity * whole * _share(element.values.get("fill-opacity")),
        stroke if width else None,
        width * PT,
        stroke_opacity * whole * _share(element.values.get("stroke-opacity")),
    )


def _color(color: svgelements.Color | None) -> tuple[str | None, float]:
    if color is None or color.value is None:
        return None, 1.0
    return f"#{color.red:02x}{color.green:02x}{color.blue:02x}", 1.0


def _share(text: object) -> float:
    try:
        return min(1.0, max(0.0, float(str(text)))) if text is not None else 1.0
    except ValueError:
        return 1.0
