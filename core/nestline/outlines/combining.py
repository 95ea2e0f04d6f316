"""Outlines combined: union, difference, intersection and symmetric difference on the curves themselves
(skia-pathops)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import pathops
from fontTools.pens.recordingPen import RecordingPen

from nestline.outlines.path import Path, from_recording, transformed

How = Literal["union", "difference", "intersection", "symmetric-difference"]
_OPERATIONS = {
    "union": pathops.PathOp.UNION,
    "difference": pathops.PathOp.DIFFERENCE,
    "intersection": pathops.PathOp.INTERSECTION,
}
# The library works in single precision: large figures are brought near 1,000 first.
_NEAR = 1000.0


def combined(paths: Sequence[Path], how: How) -> Path:
    """The first path with each of the others in turn; empty when nothing is left. Non-zero rule, curves kept."""
    scale = _scale(paths)
    result = _to_ops(paths[0], scale)
    result.simplify(fix_winding=True, keep_starting_points=False)
    for other in paths[1:]:
        part = _to_ops(other, scale)
        part.simplify(fix_winding=True, keep_starting_points=False)
        if how == "symmetric-difference":
            # Both differences side by side: worked out in one go, parts that touch in points come out wound wrongly.
            there = _from_ops(_op(result, part, "difference"), scale) + _from_ops(
                _op(part, result, "difference"), scale
            )
            result = _to_ops(there, scale)
        else:
            result = _op(result, part, how)
    return _from_ops(result, scale)


def _op(a: pathops.Path, b: pathops.Path, how: str) -> pathops.Path:
    return pathops.op(a, b, _OPERATIONS[how], fix_winding=True, keep_starting_points=False)


def _scale(paths: Sequence[Path]) -> float:
    largest = max((abs(v) for path in paths for c in path for piece in c for p in piece for v in p), default=1.0)
    return _NEAR / largest if largest > 0 else 1.0


def _to_ops(path: Path, scale: float) -> pathops.Path:
    out = pathops.Path()
    pen = out.getPen()
    for contour in path:
        if not contour:
            continue
        pen.moveTo(tuple(v * scale for v in contour[0][0]))
        for piece in contour:
            points = [tuple(v * scale for v in p) for p in piece[1:]]
            if len(piece) == 4:
                pen.curveTo(*points)
            else:
                pen.lineTo(points[0])
        pen.closePath()
    return out


def _from_ops(path: pathops.Path, scale: float) -> Path:
    pen = RecordingPen()
    path.draw(pen)
    return transformed(from_recording(pen), (1 / scale, 0, 0, 1 / scale, 0, 0))
