"""A path as its points, for editing by hand: knots with handles, and what a designer does to them.

A knot is a corner, smooth (its handles on one line) or symmetrical (and of one length); which it is can be read off its
handles, so that nothing but the path itself is stored.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from nestline.outlines.path import Contour, Path, Piece, Point

Kind = Literal["corner", "smooth", "symmetrical"]


@dataclass(frozen=True)
class Knot:
    """A point of a path with the handle that comes before it and the one after; None where the edge is straight."""

    at: Point
    before: Point | None = None
    after: Point | None = None

    @property
    def kind(self) -> Kind:
        if self.before is None or self.after is None:
            return "corner"
        (ax, ay), (bx, by) = _less(self.before, self.at), _less(self.after, self.at)
        a, b = math.hypot(ax, ay), math.hypot(bx, by)
        if a < 1e-9 or b < 1e-9 or ax * bx + ay * by >= 0 or abs(ax * by - ay * bx) > 0.01 * a * b:
            return "corner"
        return "symmetrical" if abs(a - b) <= 0.01 * max(a, b) else "smooth"

    def moved(self, dx: float, dy: float) -> Knot:
        x, y = self.at
        return Knot((x + dx, y + dy), _plus(self.before, dx, dy), _plus(self.after, dx, dy))


Knots = tuple[Knot, ...]
Which = tuple[int, int]
"""A knot by its contour and its place in it."""


def _less(a: Point, b: Point) -> Point:
    return a[0] - b[0], a[1] - b[1]


def _plus(p: Point | None, dx: float, dy: float) -> Point | None:
    return None if p is None else (p[0] + dx, p[1] + dy)


def knots_of(path: Path) -> tuple[Knots, ...]:
    """Each contour as its knots."""
    out = []
    for contour in path:
        count = len(contour)
        knots = []
        for i, piece in enumerate(contour):
            previous = contour[i - 1]
            before = previous[2] if len(previous) == 4 else None
            after = piece[1] if len(piece) == 4 else None
            knots.append(Knot(piece[0], before, after))
        out.append(tuple(knots) if count else ())
    return tuple(out)


def path_of(contours: Iterable[Knots]) -> Path:
    """The path through knots; contours of fewer than two knots draw nothing and are left out."""
    out: list[Contour] = []
    for knots in contours:
        if len(knots) < 2:
            continue
        pieces: list[Piece] = []
        for a, b in zip(knots, (*knots[1:], knots[0]), strict=True):
            if a.after is None and b.before is None:
                if a.at != b.at:
                    pieces.append((a.at, b.at))
            else:
                pieces.append((a.at, a.after or a.at, b.before or b.at, b.at))
        if pieces:
            out.append(tuple(pieces))
    return tuple(out)


def nearest(path: Path, to: Point) -> tuple[int, int, float, float]:
    """The place on a path nearest to a point: contour, piece, t in 0…1, distance."""
    best = (0, 0, 0.0, math.inf)
    for c, contour in enumerate(path):
        for i, piece in enumerate(contour):
            t, distance = _nearest_on(piece, to)
            if distance < best[3]:
                best = (c, i, t, distance)
    return best


def _nearest_on(piece: Piece, to: Point) -> tuple[float, float]:
    ts = np.linspace(0, 1, 2 if len(piece) == 2 else 65)
    if len(piece) == 2:
        (ax, ay), (bx, by) = piece
        length = (bx - ax) ** 2 + (by - ay) ** 2
        t = 0.0 if length == 0 else min(1.0, max(0.0, ((to[0] - ax) * (bx - ax) + (to[1] - ay) * (by - ay)) / length))
        return t, math.hypot(ax + t * (bx - ax) - to[0], ay + t * (by - ay) - to[1])
    low, high = 0.0, 1.0
    for _ in range(6):
        ts = np.linspace(low, high, 33)
        points = _at(piece, ts)
        away = np.hypot(points[:, 0] - to[0], points[:, 1] - to[1])
        k = int(np.argmin(away))
        low, high = float(ts[max(k - 1, 0)]), float(ts[min(k + 1, 32)])
    return float(ts[k]), float(away[k])


def _at(piece: Piece, t: np.ndarray) -> np.ndarray:
    p = np.array(piece)
    s = (1 - t)[:, None]
    t = t[:, None]
    return np.asarray(s**3 * p[0] + 3 * s * s * t * p[1] + 3 * s * t * t * p[2] + t**3 * p[3])


def with_point(path: Path, to: Point) -> tuple[Path, Which]:
    """The path with a knot more where it is nearest to a point; the curve does not change (de Casteljau)."""
    c, i, t, _ = nearest(path, to)
    t = min(max(t, 0.001), 0.999)
    piece = path[c][i]
    if len(piece) == 2:
        middle = _between(piece[0], piece[1], t)
        parts: tuple[Piece, ...] = ((piece[0], middle), (middle, piece[1]))
    else:
        a, b, d, e = piece
        ab, bd, de = _between(a, b, t), _between(b, d, t), _between(d, e, t)
        abd, bde = _between(ab, bd, t), _between(bd, de, t)
        middle = _between(abd, bde, t)
        parts = ((a, ab, abd, middle), (middle, bde, de, e))
    contour = (*path[c][:i], *parts, *path[c][i + 1 :])
    return (*path[:c], contour, *path[c + 1 :]), (c, i + 1)


def _between(a: Point, b: Point, t: float) -> Point:
    return a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])


def without(contours: tuple[Knots, ...], which: set[Which]) -> tuple[Knots, ...]:
    """The contours without some knots; a contour left with fewer than two goes."""
    kept = (tuple(k for i, k in enumerate(knots) if (c, i) not in which) for c, knots in enumerate(contours))
    return tuple(knots for knots in kept if len(knots) >= 2)


def moved(contours: tuple[Knots, ...], which: set[Which], dx: float, dy: float) -> tuple[Knots, ...]:
    """Some knots moved, their handles with them."""
    return tuple(
        tuple(k.moved(dx, dy) if (c, i) in which else k for i, k in enumerate(knots))
        for c, knots in enumerate(contours)
    )


def with_kind(contours: tuple[Knots, ...], which: set[Which], kind: Kind) -> tuple[Knots, ...]:
    """Some knots made corners, smooth or symmetrical. A straight side gets a handle of a third of its length."""
    out = []
    for c, knots in enumerate(contours):
        row = list(knots)
        for i, knot in enumerate(knots):
            if (c, i) in which:
                row[i] = _of_kind(knots[i - 1], knot, knots[(i + 1) % len(knots)], kind)
        out.append(tuple(row))
    return tuple(out)


def _of_kind(previous: Knot, knot: Knot, following: Knot, kind: Kind) -> Knot:
    if kind == "corner":
        return replace(knot, before=None, after=None) if knot.kind != "corner" else knot
    before = knot.before or _between(knot.at, previous.at, 1 / 3)
    after = knot.after or _between(knot.at, following.at, 1 / 3)
    (ax, ay), (bx, by) = _less(before, knot.at), _less(after, knot.at)
    a, b = math.hypot(ax, ay), math.hypot(bx, by)
    # Along the bisector of both sides: the direction from the one handle to the other.
    ux, uy = (bx / b if b else 0) - (ax / a if a else 0), (by / b if b else 0) - (ay / a if a else 0)
    length = math.hypot(ux, uy)
    if length < 1e-9:
        ux, uy, length = -(by / b if b else 0), (bx / b if b else 1), 1.0
    ux, uy = ux / length, uy / length
    if kind == "symmetrical":
        a = b = (a + b) / 2
    return Knot(knot.at, (knot.at[0] - ux * a, knot.at[1] - uy * a), (knot.at[0] + ux * b, knot.at[1] + uy * b))


def with_handle(
    contours: tuple[Knots, ...], which: Which, side: Literal["before", "after"], to: Point, free: bool = False
) -> tuple[Knots, ...]:
    """One handle put elsewhere; the other follows as the knot's kind has it, unless it is `free` (then a corner)."""
    c, i = which
    knot = contours[c][i]
    kind = "corner" if free else knot.kind
    new = replace(knot, **{side: to})
    other = "after" if side == "before" else "before"
    opposite: Point | None = getattr(knot, other)
    if kind != "corner" and opposite is not None:
        dx, dy = _less(to, knot.at)
        length = math.hypot(dx, dy)
        keep = length if kind == "symmetrical" else math.hypot(*_less(opposite, knot.at))
        if length > 1e-9:
            new = replace(new, **{other: (knot.at[0] - dx / length * keep, knot.at[1] - dy / length * keep)})
    return (*contours[:c], (*contours[c][:i], new, *contours[c][i + 1 :]), *contours[c + 1 :])
