"""Paths: closed contours of straight and cubic pieces, as plain values.

A `Path` is a tuple of contours; a contour is a tuple of pieces, each an (n, 2) tuple of points: two points for a
straight piece, four for a cubic one. Every contour is closed. Overlaps count by the non-zero rule, as in SVG.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np
from fontTools.misc.transform import Transform
from fontTools.pens.recordingPen import DecomposingRecordingPen, RecordingPen
from fontTools.svgLib.path import parse_path
from numpy.typing import NDArray

Point = tuple[float, float]
Piece = tuple[Point, ...]
Contour = tuple[Piece, ...]
Path = tuple[Contour, ...]
Affine = tuple[float, float, float, float, float, float]
"""a b c d e f, as in SVG's matrix(): x' = a·x + c·y + e, y' = b·x + d·y + f."""


def at(m: Affine, point: tuple[float, float]) -> tuple[float, float]:
    """Where a point goes."""
    x, y = Transform(*m).transformPoint(point)
    return x, y


def inverse(m: Affine) -> Affine:
    """What takes everything back to where it was."""
    a, b, c, d, e, f = Transform(*m).inverse()
    return a, b, c, d, e, f


def corners(m: Affine, width: float, height: float) -> list[tuple[float, float]]:
    """Where the corners of a box from (0, 0) to (width, height) go, from the upper left one clockwise."""
    return [at(m, point) for point in ((0.0, 0.0), (width, 0.0), (width, height), (0.0, height))]


class PathError(ValueError):
    """The text is not SVG path data."""


def polygon(points: Iterable[Point]) -> Contour:
    """A closed contour through corners."""
    corners = list(points)
    return tuple((a, b) for a, b in zip(corners, corners[1:] + corners[:1], strict=True))


def transformed(path: Path, m: Affine) -> Path:
    return tuple(
        tuple(tuple((m[0] * x + m[2] * y + m[4], m[1] * x + m[3] * y + m[5]) for x, y in piece) for piece in contour)
        for contour in path
    )


def bounds(path: Path) -> tuple[float, float, float, float]:
    """left, top, right, bottom of the path itself (not of its handles)."""
    xs: list[float] = []
    ys: list[float] = []
    for contour in path:
        for piece in contour:
            for axis, out in ((0, xs), (1, ys)):
                values = [p[axis] for p in piece]
                out += [values[0], values[-1]]
                if len(piece) == 4:
                    out += [_cubic(values, t) for t in _extrema(values)]
    return min(xs), min(ys), max(xs), max(ys)


def _cubic(v: list[float], t: float) -> float:
    s = 1 - t
    return s * s * s * v[0] + 3 * s * s * t * v[1] + 3 * s * t * t * v[2] + t * t * t * v[3]


def _extrema(v: list[float]) -> list[float]:
    a = -v[0] + 3 * v[1] - 3 * v[2] + v[3]
    b = 2 * (v[0] - 2 * v[1] + v[2])
    c = v[1] - v[0]
    if abs(a) < 1e-12:
        roots = [-c / b] if abs(b) > 1e-12 else []
    else:
        d = b * b - 4 * a * c
        roots = [(-b + s * math.sqrt(d)) / (2 * a) for s in (1, -1)] if d >= 0 else []
    return [t for t in roots if 0 < t < 1]


def fitted(path: Path, width: float, height: float) -> Path:
    """The path stretched so that its bounds are the box 0, 0, width, height."""
    left, top, right, bottom = bounds(path)
    sx = width / (right - left) if right > left else 1.0
    sy = height / (bottom - top) if bottom > top else 1.0
    return transformed(path, (sx, 0, 0, sy, -left * sx, -top * sy))


def to_svg(path: Path, digits: int = 4) -> str:
    """SVG path data, absolute commands."""

    def f(value: float) -> str:
        text = f"{value:.{digits}f}".rstrip("0").rstrip(".")
        return "0" if text in ("-0", "") else text

    out = []
    for contour in path:
        if not contour:
            continue
        out.append(f"M{f(contour[0][0][0])} {f(contour[0][0][1])}")
        for i, piece in enumerate(contour):
            if len(piece) == 4:
                out.append("C" + " ".join(f"{f(x)} {f(y)}" for x, y in piece[1:]))
            elif i < len(contour) - 1:
                out.append(f"L{f(piece[1][0])} {f(piece[1][1])}")
        out.append("Z")
    return "".join(out)


def from_svg(data: str) -> Path:
    """SVG path data (SVG 2, 9.3) as a path: arcs and quadratics become cubics, open contours are closed.

    Raises PathError.
    """
    pen = RecordingPen()
    try:
        parse_path(data, pen)
        plain = DecomposingRecordingPen({})
        pen.replay(plain)
    except Exception as error:  # the parser raises many kinds for bad text
        raise PathError(f"is not SVG path data ({error or type(error).__name__})") from None
    contours = from_recording(plain)
    if not contours:
        raise PathError("draws nothing; path data needs at least one contour")
    flat = [v for contour in contours for piece in contour for point in piece for v in point]
    if not all(math.isfinite(v) and abs(v) <= 1e6 for v in flat):
        raise PathError("has figures that are too large")
    return contours


def from_recording(plain: RecordingPen) -> Path:
    """What a pen recorded, as a path; empty when it drew nothing."""
    contours: list[Contour] = []
    pieces: list[Piece] = []
    start = at = (0.0, 0.0)

    def close() -> None:
        nonlocal pieces
        if pieces and at != start:
            pieces.append((at, start))
        if pieces:
            contours.append(tuple(pieces))
        pieces = []

    for command, points in plain.value:
        if command == "moveTo":
            close()
            start = at = points[0]
        elif command == "lineTo":
            if points[0] != at:
                pieces.append((at, points[0]))
            at = points[0]
        elif command == "curveTo":
            pieces.append((at, *points))
            at = points[-1]
        elif command == "qCurveTo":
            for control, end in _quadratics(points):
                one = (at[0] + 2 / 3 * (control[0] - at[0]), at[1] + 2 / 3 * (control[1] - at[1]))
                two = (end[0] + 2 / 3 * (control[0] - end[0]), end[1] + 2 / 3 * (control[1] - end[1]))
                pieces.append((at, one, two, end))
                at = end
        else:
            close()
            at = start
    close()
    return tuple(contours)


def _quadratics(points: tuple[Point, ...]) -> list[tuple[Point, Point]]:
    """TrueType-style quadratic runs as (control, end) pairs."""
    controls, end = list(points[:-1]), points[-1]
    out = []
    for i, control in enumerate(controls):
        if i == len(controls) - 1:
            out.append((control, end))
        else:
            after = controls[i + 1]
            out.append((control, ((control[0] + after[0]) / 2, (control[1] + after[1]) / 2)))
    return out


def flattened(path: Path, tolerance: float) -> list[NDArray[np.float64]]:
    """Each contour as an (n, 2) ring, straight pieces kept, cubics within `tolerance` points of the curve."""
    rings = []
    for contour in path:
        parts = []
        for piece in contour:
            if len(piece) == 2:
                parts.append(np.array([piece[0]]))
                continue
            p = np.array(piece, dtype=np.float64)
            # A bound of the deviation by second differences (the usual flatness estimate for Bézier curves).
            bend = max(np.abs(p[0] - 2 * p[1] + p[2]).max(), np.abs(p[1] - 2 * p[2] + p[3]).max())
            n = max(1, min(2000, math.ceil(math.sqrt(0.75 * math.sqrt(2) * bend / tolerance))))
            t = np.arange(n)[:, None] / n
            s = 1 - t
            parts.append(s**3 * p[0] + 3 * s * s * t * p[1] + 3 * s * t * t * p[2] + t**3 * p[3])
        if parts:
            rings.append(np.concatenate(parts))
    return rings
