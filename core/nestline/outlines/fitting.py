"""Few smooth curves through many points (P. J. Schneider, "An Algorithm for Automatically Fitting Digitized Curves", in
Graphics Gems, 1990).

Corners are found first and kept; between them cubic pieces are fitted by least squares, and split where they stray.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry
from shapely.geometry.polygon import orient

from nestline.outlines.path import Contour, Path, Piece, polygon
from nestline.outlines.polygons import polygon_parts

Points = NDArray[np.float64]

CORNER = math.radians(48)
"""A turn of the edge by more is a corner."""
MOST_POINTS = 1600
"""Rings with more points are thinned before."""
ROUNDS = 4


def fitted_path(area: BaseGeometry, tolerance: float, most: int | None = None) -> Path:
    """The rings of an area as smooth curves that stray from it by about `tolerance`; where a ring needs more than
    `most` points for that, by more."""
    out = (_ring(points, tolerance, most) for points in rings_of(area))
    return tuple(contour for contour in out if contour)


def rings_of(area: BaseGeometry) -> Iterator[Points]:
    """The rings of an area as points, holes running the other way round (so that they are holes by the non-zero
    rule)."""
    for part in polygon_parts(area):
        turned = orient(part)
        for ring in (turned.exterior, *turned.interiors):
            points = np.asarray(ring.coords, dtype=np.float64)[:-1, :2]
            if len(points) >= 3:
                yield points


def path_of_area(area: BaseGeometry) -> Path:
    """An area as a path of straight pieces."""
    return tuple(polygon([(float(x), float(y)) for x, y in points]) for points in rings_of(area))


def _ring(points: Points, tolerance: float, most: int | None) -> Contour:
    points = _thinned(points)
    for _ in range(24):
        pieces = _fitted_ring(points, tolerance)
        if most is None or len(pieces) <= max(most, 2):
            break
        tolerance *= 1.3
    return tuple(pieces)


def _thinned(points: Points) -> Points:
    """A ring with points at even distances, and its own while there are not too many."""
    closed = np.vstack([points, points[:1]])
    steps = np.hypot(*np.diff(closed, axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    count = min(MOST_POINTS, max(len(points), int(along[-1] / 2.0), 16))
    at = np.linspace(0.0, along[-1], count, endpoint=False)
    if len(points) <= MOST_POINTS // 4:
        at = np.unique(np.concatenate([at, along[:-1]]))
    return np.column_stack([np.interp(at, along, closed[:, 0]), np.interp(at, along, closed[:, 1])])


def _corners(points: Points, tolerance: float) -> list[int]:
    """The places of a ring's corners, found on the ring simplified."""
    simple = np.asarray(shapely.simplify(Polygon(points), max(tolerance, 0.7), preserve_topology=True).exterior.coords)[
        :-1
    ]
    if len(simple) < 3:
        return [0]
    before, after = simple - np.roll(simple, 1, axis=0), np.roll(simple, -1, axis=0) - simple
    turn = np.abs(np.arctan2(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0], (before * after).sum(axis=1)))
    sides = np.minimum(np.hypot(*before.T), np.hypot(*after.T))
    sharp = simple[(turn > CORNER) & (sides > 4 * tolerance)]
    places = sorted({int(np.argmin(((points - corner) ** 2).sum(axis=1))) for corner in sharp})
    return places or [0]


def _fitted_ring(points: Points, tolerance: float) -> list[Piece]:
    corners = _corners(points, tolerance)
    count = len(points)
    # Directions are taken over several points: a single step of a ring of pixels says little.
    step = float(np.hypot(*np.diff(points, axis=0).T).mean())
    reach = int(min(max(2.0, 6 * tolerance / max(step, 1e-9)), 14.0, count / 6))
    reach = max(reach, 1)
    pieces: list[Piece] = []
    smooth = len(corners) == 1 and not _is_corner(points, corners[0])
    for i, start in enumerate(corners):
        stop = corners[(i + 1) % len(corners)]
        stop = stop if stop > start else stop + count
        run = points[np.arange(start, stop + 1) % count]
        if len(run) < 2:
            continue
        if smooth:
            tangent = _unit(points[(start + reach) % count] - points[start - reach])
            pieces += _fit(run, tangent, -tangent, tolerance, reach)
        else:
            pieces += _fit(run, _tangent(run, reach), _tangent(run[::-1], reach), tolerance, reach)
    return pieces


def _is_corner(points: Points, at: int) -> bool:
    reach = max(2, len(points) // 40)
    a, b = points[at] - points[at - reach], points[(at + reach) % len(points)] - points[at]
    return bool(abs(math.atan2(a[0] * b[1] - a[1] * b[0], float(a @ b))) > CORNER)


def _unit(v: Points) -> Points:
    length = float(np.hypot(*v))
    return v / length if length > 1e-12 else np.array([1.0, 0.0])


def _tangent(run: Points, reach: int) -> Points:
    """The direction in which a run begins, over a few points."""
    return _unit(run[min(len(run) - 1, max(1, min(reach, len(run) // 4)))] - run[0])


def _fit(run: Points, left: Points, right: Points, tolerance: float, reach: int) -> list[Piece]:
    first, last = run[0], run[-1]
    if len(run) == 2 or _straight(run, min(tolerance, 0.75)):
        return [_piece(first, last)]
    t = _chords(run)
    best = None
    for _ in range(ROUNDS):
        curve = _least_squares(run, t, left, right)
        off, worst = _stray(run, curve, t)
        if off <= tolerance:
            return [tuple((float(x), float(y)) for x, y in curve)]
        best = worst
        if off > 9 * tolerance:
            break
        t = _again(run, curve, t)
    assert best is not None
    split = min(max(best, 1), len(run) - 2)
    # As far to either side, or the direction would be that of the longer one.
    wide = max(1, min(reach, split, len(run) - 1 - split))
    middle = _unit(run[split + wide] - run[split - wide])
    before = _fit(run[: split + 1], left, -middle, tolerance, reach)
    return before + _fit(run[split:], middle, right, tolerance, reach)


def _piece(a: Points, b: Points) -> Piece:
    return ((float(a[0]), float(a[1])), (float(b[0]), float(b[1])))


def _straight(run: Points, tolerance: float) -> bool:
    way = _unit(run[-1] - run[0])
    off = run - run[0]
    return bool(np.abs(off[:, 0] * way[1] - off[:, 1] * way[0]).max() <= tolerance)


def _chords(run: Points) -> Points:
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(run, axis=0).T))])
    return np.asarray(along / max(along[-1], 1e-12))


def _basis(t: Points) -> tuple[Points, Points, Points, Points]:
    s = 1 - t
    return s**3, 3 * t * s * s, 3 * t * t * s, t**3


def _least_squares(run: Points, t: Points, left: Points, right: Points) -> Points:
    b0, b1, b2, b3 = _basis(t)
    first, last = run[0], run[-1]
    a1, a2 = b1[:, None] * left, b2[:, None] * right
    rest = run - (b0 + b1)[:, None] * first - (b2 + b3)[:, None] * last
    c11, c12, c22 = float((a1 * a1).sum()), float((a1 * a2).sum()), float((a2 * a2).sum())
    x1, x2 = float((a1 * rest).sum()), float((a2 * rest).sum())
    det = c11 * c22 - c12 * c12
    length = float(np.hypot(*(last - first)))
    one, two = ((x1 * c22 - x2 * c12) / det, (c11 * x2 - c12 * x1) / det) if abs(det) > 1e-12 else (0.0, 0.0)
    if one < 1e-3 * length or two < 1e-3 * length or max(one, two) > 3 * length + 1e-9:
        one = two = length / 3
    return np.array([first, first + left * one, last + right * two, last])


def _at(curve: Points, t: Points) -> Points:
    b = _basis(t)
    return np.asarray(sum(part[:, None] * point for part, point in zip(b, curve, strict=True)))


def _stray(run: Points, curve: Points, t: Points) -> tuple[float, int]:
    off = np.hypot(*(_at(curve, t) - run).T)
    worst = int(np.argmax(off))
    return float(off[worst]), worst


def _again(run: Points, curve: Points, t: Points) -> Points:
    """Parameters nearer to the points (Newton and Raphson, one step)."""
    first = 3 * np.diff(curve, axis=0)
    second = 2 * np.diff(first, axis=0)
    s = 1 - t
    d = _at(curve, t) - run
    d1 = s[:, None] ** 2 * first[0] + 2 * (s * t)[:, None] * first[1] + t[:, None] ** 2 * first[2]
    d2 = s[:, None] * second[0] + t[:, None] * second[1]
    under = (d1 * d1).sum(axis=1) + (d * d2).sum(axis=1)
    step = np.where(np.abs(under) > 1e-12, (d * d1).sum(axis=1) / np.where(np.abs(under) > 1e-12, under, 1.0), 0.0)
    return np.maximum.accumulate(np.clip(t - step, 0.0, 1.0))
