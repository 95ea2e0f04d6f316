"""The ready outlines, each as a path that fills a box of the given size.

Each kind is one small function from the outline's figures to a path; add a kind by adding a function to `KINDS`.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from functools import lru_cache

from nestline.document.model import Outline
from nestline.errors import NestLineError
from nestline.outlines.path import Contour, Path, PathError, Piece, fitted, from_svg, polygon, transformed


def path_of(outline: Outline, width: float, height: float) -> Path:
    """The outline's path in its object's own box, 0, 0, width, height. Raises NestLineError for bad path data."""
    return _path_of(outline.written, width, height)


@lru_cache(maxsize=4096)
def _path_of(outline_json: str, width: float, height: float) -> Path:
    outline = Outline.model_validate_json(outline_json)
    return KINDS[outline.kind](outline, width, height)


def arc(cx: float, cy: float, rx: float, ry: float, start: float, sweep: float) -> tuple[Piece, ...]:
    """An elliptical arc by cubics of at most 45 degrees (off by less than 5e-6 of the radius); angles in degrees."""
    n = max(1, math.ceil(abs(sweep) / 45 - 1e-9))
    step = math.radians(sweep / n)
    k = 4 / 3 * math.tan(step / 4)
    pieces = []
    for i in range(n):
        a = math.radians(start) + i * step
        b = a + step
        ca, sa, cb, sb = math.cos(a), math.sin(a), math.cos(b), math.sin(b)
        units = ((ca, sa), (ca - k * sa, sa + k * ca), (cb + k * sb, sb - k * cb), (cb, sb))
        pieces.append(tuple((cx + rx * x, cy + ry * y) for x, y in units))
    return tuple(pieces)


def rectangle(outline: Outline, width: float, height: float) -> Path:
    return _rounded(outline.radius.points(), width, height)


def _rounded(radii: Sequence[float], width: float, height: float) -> Path:
    # Radii that do not fit are shrunk together (CSS Backgrounds 3, 4.5 "overlapping curves").
    sums = ((width, 0, 1), (height, 1, 2), (width, 2, 3), (height, 3, 0))
    shrink = min([1.0, *(side / (radii[a] + radii[b]) for side, a, b in sums if radii[a] + radii[b] > 0)])
    r = [radius * shrink for radius in radii]
    corners = (
        (r[0], r[0], 180),
        (width - r[1], r[1], 270),
        (width - r[2], height - r[2], 0),
        (r[3], height - r[3], 90),
    )
    turned = [
        arc(cx, cy, radius, radius, start, 90) if radius > 0 else () for (cx, cy, start), radius in zip(corners, r)
    ]
    ends = [(t[0][0], t[-1][-1]) if t else ((cx, cy), (cx, cy)) for t, (cx, cy, _) in zip(turned, corners)]
    pieces: list[Piece] = []
    for i in range(4):
        pieces += turned[i]
        leave, arrive = ends[i][1], ends[(i + 1) % 4][0]
        if leave != arrive:
            pieces.append((leave, arrive))
    return (tuple(pieces),)


def ellipse(_: Outline, width: float, height: float) -> Path:
    return (arc(width / 2, height / 2, width / 2, height / 2, -90, 360),)


UNSET: dict[str, dict[str, float]] = {
    "polygon": {"sides": 6},
    "star": {"points": 5, "depth": 0.5},
    "bubble": {"depth": 0.24, "tail": 0.24},
    "arch": {},
    "flag": {"depth": 0.16},
    "ticket": {"depth": 0.16},
    "cloud": {"points": 9},
    "ring": {"depth": 0.4},
}
"""The figures of a ready outline that has none of its own."""


def figures_of(outline: Outline, width: float, height: float) -> dict[str, float]:
    """The figures that an outline is drawn with, its own or those of its kind, in a box of this size."""
    unset = dict(UNSET.get(outline.kind, {}))
    if outline.kind == "arch":
        unset["depth"] = min(width / 2, height) / height  # half a circle
    own = {name: getattr(outline, name) for name in unset}
    return {name: unset[name] if own[name] is None else own[name] for name in unset}


def regular(outline: Outline, width: float, height: float) -> Path:
    n = int(figures_of(outline, width, height)["sides"])
    turns = (2 * math.pi * i / n - math.pi / 2 for i in range(n))
    return fitted((polygon((math.cos(a), math.sin(a)) for a in turns),), width, height)


def star(outline: Outline, width: float, height: float) -> Path:
    figures = figures_of(outline, width, height)
    n, inner = int(figures["points"]), 1 - figures["depth"]
    turns = ((math.pi * i / n - math.pi / 2, 1.0 if i % 2 == 0 else inner) for i in range(2 * n))
    return fitted((polygon((r * math.cos(a), r * math.sin(a)) for a, r in turns),), width, height)


def _mirrored(right: list[Piece]) -> Contour:
    """A contour from its right half, which runs from the top middle to the bottom middle of a unit box."""
    left = [tuple((1 - x, y) for x, y in reversed(piece)) for piece in reversed(right)]
    return (*right, *left)


def heart(_: Outline, width: float, height: float) -> Path:
    right: list[Piece] = [
        ((0.5, 0.22), (0.56, 0.06), (0.68, 0.0), (0.77, 0.0)),
        ((0.77, 0.0), (0.9, 0.0), (1.0, 0.12), (1.0, 0.29)),
        ((1.0, 0.29), (1.0, 0.56), (0.7, 0.76), (0.5, 1.0)),
    ]
    return fitted((_mirrored(right),), width, height)


def leaf(_: Outline, width: float, height: float) -> Path:
    right: list[Piece] = [
        ((0.5, 0.0), (0.74, 0.13), (1.0, 0.32), (1.0, 0.56)),
        ((1.0, 0.56), (1.0, 0.8), (0.74, 0.94), (0.5, 1.0)),
    ]
    return fitted((_mirrored(right),), width, height)


def kite(_: Outline, width: float, height: float) -> Path:
    corners = ((0.5, 0.0), (1.0, 0.36), (0.5, 1.0), (0.0, 0.36))
    return (polygon((x * width, y * height) for x, y in corners),)


def bubble(outline: Outline, width: float, height: float) -> Path:
    """A speech bubble: a rounded body above, a tail to the bottom edge. `depth` is the tail's share of the height,
    `tail` where its tip is, from left to right."""
    figures = figures_of(outline, width, height)
    body = height * (1 - figures["depth"])
    radii = outline.radius.points()
    if not any(radii):
        radii = (min(width, body) * 0.28,) * 4
    round_body = _rounded(radii, width, body)[0]
    tip = width * figures["tail"]
    # The tail's root lies on the straight part of the body's lower edge.
    low, high = min(radii[3], width / 2), width - min(radii[2], width / 2)
    half = min(width * 0.09, max(0.0, (high - low) / 2))
    centre = min(max(width * 0.32 if tip < width / 2 else width * 0.68, low + half), high - half)
    if half <= 0:
        centre = (low + high) / 2
    out: list[Piece] = []
    for piece in round_body:
        (x0, y0), (x1, y1) = piece[0], piece[-1]
        if len(piece) == 2 and abs(y0 - body) < 1e-9 and abs(y1 - body) < 1e-9 and x0 > x1:
            right, left = (centre + half, body), (centre - half, body)
            stops = [(x0, y0), right, (tip, height), left, (x1, y1)]
            out += [(a, b) for a, b in zip(stops, stops[1:], strict=False) if a != b]
        else:
            out.append(piece)
    return (tuple(out),)


def arch(outline: Outline, width: float, height: float) -> Path:
    """A rectangle under half an ellipse. `depth` is the curve's share of the height (a half circle unless set)."""
    rise = height * figures_of(outline, width, height)["depth"]
    curve = arc(width / 2, rise, width / 2, rise, 180, 180)
    if rise >= height:
        return ((*curve, ((width, rise), (0.0, rise))),)
    corners = ((width, rise), (width, height), (0.0, height), (0.0, rise))
    return ((*curve, *((a, b) for a, b in zip(corners, corners[1:], strict=False))),)


def drop(_: Outline, width: float, height: float) -> Path:
    right: list[Piece] = [
        ((0.5, 0.0), (0.56, 0.2), (1.0, 0.42), (1.0, 0.68)),
        ((1.0, 0.68), (1.0, 0.87), (0.78, 1.0), (0.5, 1.0)),
    ]
    return fitted((_mirrored(right),), width, height)


def flag(outline: Outline, width: float, height: float) -> Path:
    """A flag with a notch in its right edge; `depth` is the notch's share of the width."""
    notch = width * (1 - figures_of(outline, width, height)["depth"])
    return (polygon(((0, 0), (width, 0), (notch, height / 2), (width, height), (0, height))),)


def ticket(outline: Outline, width: float, height: float) -> Path:
    """A rectangle with a round bite out of each side; `depth` is a bite's radius as a share of the height."""
    r = min(height * figures_of(outline, width, height)["depth"], height / 2, width / 2)
    middle = height / 2
    right, left = arc(width, middle, r, r, -90, -180), arc(0, middle, r, r, 90, -180)
    pieces: list[Piece] = [((0, 0), (width, 0)), ((width, 0), (width, middle - r)), *right]
    pieces += [((width, middle + r), (width, height)), ((width, height), (0, height))]
    pieces += [((0, height), (0, middle + r)), *left, ((0, middle - r), (0, 0))]
    return (tuple(p for p in pieces if p[0] != p[-1]),)


def cloud(outline: Outline, width: float, height: float) -> Path:
    """Round puffs along an ellipse; `points` is how many."""
    n = int(figures_of(outline, width, height)["points"])
    turns = [2 * math.pi * i / n - math.pi / 2 for i in range(n)]
    corners = [(math.cos(a), math.sin(a)) for a in turns]
    pieces: list[Piece] = []
    for (ax, ay), (bx, by) in zip(corners, corners[1:] + corners[:1], strict=True):
        # Half a circle and a little more over each chord, outwards.
        cx, cy = (ax + bx) / 2, (ay + by) / 2
        radius = math.hypot(bx - ax, by - ay) / 2
        out = math.hypot(cx, cy) or 1.0
        cx, cy = cx * (1 + 0.25 * radius / out), cy * (1 + 0.25 * radius / out)
        r = math.hypot(ax - cx, ay - cy)
        start = math.degrees(math.atan2(ay - cy, ax - cx))
        sweep = (math.degrees(math.atan2(by - cy, bx - cx)) - start) % 360
        pieces += arc(cx, cy, r, r, start, sweep)
    return fitted((tuple(pieces),), width, height)


def ring(outline: Outline, width: float, height: float) -> Path:
    """An ellipse with a hole; `depth` is the ring's breadth as a share of the radius."""
    share = 1 - figures_of(outline, width, height)["depth"]
    rx, ry = width / 2, height / 2
    return (arc(rx, ry, rx, ry, -90, 360), arc(rx, ry, rx * share, ry * share, -90, -360))


def free(outline: Outline, width: float, height: float) -> Path:
    try:
        path = from_svg(outline.d or "")
    except PathError as error:
        raise NestLineError(f"the outline's `d` {error}") from None
    if outline.box is None:
        return path
    return transformed(path, (width / outline.box[0], 0, 0, height / outline.box[1], 0, 0))


KINDS: dict[str, Callable[[Outline, float, float], Path]] = {
    "rectangle": rectangle,
    "ellipse": ellipse,
    "polygon": regular,
    "star": star,
    "heart": heart,
    "leaf": leaf,
    "kite": kite,
    "bubble": bubble,
    "arch": arch,
    "drop": drop,
    "flag": flag,
    "ticket": ticket,
    "cloud": cloud,
    "ring": ring,
    "path": free,
}
