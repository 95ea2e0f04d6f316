"""Paths as polygons for nesting: flattened, made valid, padded and cleared, as edge arrays.

Curves are flattened within 0.01 pt and offset with 64 segments a quarter circle, so that a slot is never off by more
than 0.02 pt (docs/choices.md, "Exactness").
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from nestline.outlines.path import Path, flattened
from nestline.rows import EDGE_X0, EDGE_X1, EDGE_Y0, EDGE_Y1

TOLERANCE = 0.01
QUARTER = 64

Edges = NDArray[np.float64]
"""(n, 4): x0, y0, x1, y1; the edges of a ring follow one another."""


@dataclass(frozen=True, eq=False)
class Region:
    """An area bounded by rings, as edges: `starts` holds 1 where a new ring begins. `shift` moves `unmoved` right and
    down: so that what is dragged is moved without its edges being copied."""

    unmoved: Edges
    starts: NDArray[np.int64]
    shift: tuple[float, float] = (0.0, 0.0)
    _turned_last: tuple[tuple[float, tuple[float, float]], Region] | None = field(default=None, init=False, repr=False)
    """How it was turned last, and what came of it: while it is dragged it is turned once."""

    @cached_property
    def edges(self) -> Edges:
        return self.unmoved + np.array(self.shift * 2) if any(self.shift) else self.unmoved

    @property
    def empty(self) -> bool:
        return len(self.starts) == 0

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """left, top, right, bottom."""
        xs, ys = self.edges[:, EDGE_X0], self.edges[:, EDGE_Y0]
        return float(xs.min()), float(ys.min()), float(xs.max()), float(ys.max())

    def moved(self, x: float, y: float) -> Region:
        moved = Region(self.unmoved, self.starts, (self.shift[0] + x, self.shift[1] + y))
        if not self.empty:
            a, b, c, d = self.bounds
            moved.__dict__["bounds"] = (a + x, b + y, c + x, d + y)
        return moved

    def turned(self, degrees: float, about: tuple[float, float]) -> Region:
        if degrees == 0 or self.empty:
            return self
        if self._turned_last and self._turned_last[0] == (degrees, about):
            return self._turned_last[1]
        c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
        points = self.edges.reshape(-1, 2) - np.array(about)
        out = points @ np.array([[c, s], [-s, c]]) + np.array(about)
        turned = Region(np.ascontiguousarray(out.reshape(-1, 4)), self.starts)
        self.__dict__["_turned_last"] = (degrees, about), turned
        return turned


NO_REGION = Region(np.empty((0, 4)), np.empty(0, dtype=np.int64))


def box_region(left: float, top: float, right: float, bottom: float) -> Region:
    """A rectangle as a region."""
    corners = np.array([[left, top], [right, top], [right, bottom], [left, bottom], [left, top]])
    return Region(np.ascontiguousarray(np.hstack([corners[:-1], corners[1:]])), np.array([1, 0, 0, 0], dtype=np.int64))


def region_of(shape: BaseGeometry) -> Region:
    """A Shapely area as a region."""
    rings: list[NDArray[np.float64]] = []
    for part in polygon_parts(shape):
        rings += [np.asarray(r.coords) for r in (part.exterior, *part.interiors)]
    edges, starts = [], []
    for ring in rings:
        if len(ring) < 4:
            continue
        edges.append(np.hstack([ring[:-1, :2], ring[1:, :2]]))
        first = np.zeros(len(ring) - 1, dtype=np.int64)
        first[0] = 1
        starts.append(first)
    if not edges:
        return NO_REGION
    return Region(np.ascontiguousarray(np.concatenate(edges)), np.concatenate(starts))


def meet(a: Region, b: Region) -> bool:
    """Whether two regions have more in common than points of their edges."""
    if a.empty or b.empty:
        return False
    return float(shape_of(a).intersection(shape_of(b)).area) > 1e-6


def shape_of(region: Region) -> BaseGeometry:
    """A region as a Shapely area, by the even-odd rule."""
    firsts = np.flatnonzero(region.starts)
    rings = [ring[:, :2] for ring in np.split(region.edges, firsts[1:]) if len(ring) >= 3]
    if len(rings) == 1 and (simple := Polygon(rings[0])).is_valid:
        return simple
    return _faces(rings, even_odd=True)


def points_inside(area: BaseGeometry, x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which points lie inside an area, its edge left out. GEOS prepares an area for that while it is asked, and must
    not in two threads at once; areas are remembered and shared, so a copy is asked."""
    own = shapely.from_wkb(shapely.to_wkb(area))
    found: NDArray[np.bool_] = shapely.contains_xy(own, x, y)
    return found


def polygon_parts(shape: BaseGeometry) -> list[Polygon]:
    if isinstance(shape, Polygon):
        return [] if shape.is_empty else [shape]
    if isinstance(shape, MultiPolygon) or hasattr(shape, "geoms"):
        return [p for g in shape.geoms for p in polygon_parts(g)]
    return []


def area_of(path: Path, tolerance: float = TOLERANCE) -> BaseGeometry:
    """The area a path covers by the non-zero rule, as a valid Shapely area."""
    rings = [r for r in flattened(path, tolerance) if len(r) >= 3]
    if len(rings) == 1:
        simple = Polygon(rings[0])
        if simple.is_valid:
            return simple
    return _faces(rings, even_odd=False)


def _faces(rings: list[NDArray[np.float64]], even_odd: bool) -> BaseGeometry:
    """The union of the faces between closed rings that are covered: wound about, or passed an odd number of times."""
    if not rings:
        return Polygon()
    edges = np.vstack([np.hstack([r, np.roll(r, -1, axis=0)]) for r in rings])
    lines = shapely.union_all([shapely.linearrings(np.vstack([r, r[:1]])) for r in rings])
    faces = _covered(shapely.get_parts(shapely.polygonize([lines])), edges, even_odd)
    # What two of them have in common is no edge of the whole. (A union looks at each of them with all others.)
    corners, whose = shapely.get_coordinates(shapely.get_rings(faces), return_index=True)
    sides = np.hstack([corners[:-1], corners[1:]])[whose[:-1] == whose[1:]]
    turned = (sides[:, 0] > sides[:, 2]) | ((sides[:, 0] == sides[:, 2]) & (sides[:, 1] > sides[:, 3]))
    sides[turned] = sides[turned][:, [2, 3, 0, 1]]
    each, count = np.unique(sides, axis=0, return_counts=True)
    outer = shapely.linestrings(each[count == 1].reshape(-1, 2, 2))
    parts = _covered(shapely.get_parts(shapely.polygonize(outer)), edges, even_odd)
    return parts[0] if len(parts) == 1 else MultiPolygon(list(parts))


def _covered(faces: NDArray[np.object_], edges: NDArray[np.float64], even_odd: bool) -> NDArray[np.object_]:
    """Those of the faces between edges (x0, y0, x1, y1) that are covered, from a point of each to the right."""
    points = shapely.get_coordinates(shapely.point_on_surface(faces))
    rays = np.stack([points, np.column_stack([np.full(len(points), edges[:, 0].max() + 1.0), points[:, 1]])], axis=1)
    face, edge = shapely.STRtree(shapely.linestrings(edges.reshape(-1, 2, 2))).query(shapely.linestrings(rays))
    x, y = points[face].T
    x0, y0, x1, y1 = edges[edge].T
    level = (y0 <= y) == (y1 <= y)
    passed = ~level & (x0 + (y - y0) / np.where(level, 1.0, y1 - y0) * (x1 - x0) > x)
    turns = np.bincount(face[passed], np.where(even_odd | (y1 > y0), 1, -1)[passed], len(faces))
    covered: NDArray[np.object_] = faces[turns % 2 == 1 if even_odd else turns != 0]
    return covered


def inset(area: BaseGeometry, padding: float) -> BaseGeometry:
    """The area `padding` points inside its edge: every point at least that far from it."""
    return _offset(area, -padding) if padding > 0 else area


def outset(area: BaseGeometry, clearance: float) -> BaseGeometry:
    """The area and everything within `clearance` points of it (a round offset)."""
    return _offset(area, clearance) if clearance > 0 else area


def eroded(area: BaseGeometry, top: float, right: float, bottom: float, left: float) -> BaseGeometry:
    """The area and its holes eroded by a box: every point from which the edge is at least so far in each direction.

    The forbidden points are those within the box of a point of the edge: the Minkowski sum of each edge and the box.
    """
    if not any((top, right, bottom, left)) or area.is_empty:
        return area
    region = region_of(area)
    corners = np.array([[-right, -bottom], [left, -bottom], [left, top], [-right, top]])
    starts, ends = region.edges[:, None, [EDGE_X0, EDGE_Y0]], region.edges[:, None, [EDGE_X1, EDGE_Y1]]
    points = np.concatenate([starts + corners, ends + corners], axis=1)
    near = shapely.convex_hull(shapely.multipoints(points.reshape(-1, 2), indices=np.repeat(np.arange(len(points)), 8)))
    return area.difference(shapely.union_all(near))


def _offset(area: BaseGeometry, distance: float) -> BaseGeometry:
    valid = area if area.is_valid else shapely.make_valid(area)
    # Arc corners are chords inside the true arc: fine enough that they are off by less than the tolerance.
    fine = math.ceil(math.pi / 4 / math.acos(max(0.0, 1 - TOLERANCE / 2 / max(abs(distance), 1.0))))
    out = valid.buffer(distance, quad_segs=max(QUARTER, min(fine, 512)))
    return simplified(out, TOLERANCE)


LEVEL = 100.0
"""Sides that run level, or upright, for at least so many times what a simpler area may stray, stay so."""


def simplified(area: BaseGeometry, tolerance: float) -> BaseGeometry:
    """An area within a tolerance of another, with fewer corners; level sides and upright ones stay where they are.

    A side without its last corner would be slightly inclined, and a line that makes way for it would stand at the very
    first height with room for a word, in the corner where that is.
    """
    simple = shapely.simplify(area, tolerance, preserve_topology=True)
    places = shapely.get_coordinates(area)
    across, down = np.abs(np.diff(places, axis=0)).T
    straight = (np.minimum(across, down) < 1e-9) & (np.maximum(across, down) > LEVEL * tolerance)
    if not straight.any():
        return simple
    kept = np.isin(places @ [1, 1j], shapely.get_coordinates(simple) @ [1, 1j])
    lost = straight & ~(kept[:-1] & kept[1:])
    if not lost.any():
        return simple
    kept[:-1] |= straight
    kept[1:] |= straight
    rings = shapely.get_rings(shapely.get_parts(area))
    whose = np.repeat(np.arange(len(rings)), shapely.get_num_coordinates(rings))
    kept |= (np.bincount(whose[kept], minlength=len(rings)) < 4)[whose]
    firsts = np.searchsorted(whose, np.arange(len(rings)))
    kept[firsts] = kept[np.append(firsts[1:], len(whose)) - 1] = True
    closed = shapely.linearrings(places[kept], indices=whose[kept])
    parts, at = [], 0
    for part in shapely.get_parts(area):
        count = 1 + shapely.get_num_interior_rings(part)
        parts.append(Polygon(closed[at], closed[at + 1 : at + count]))
        at += count
    out = parts[0] if len(parts) == 1 else MultiPolygon(parts)
    return out if out.is_valid else area
