"""Where a frame's copy may stand: its padded outline, its columns and the wraps that push it, as the edges that the
compiled loops read."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.nesting import compiled, work
from nestline.nesting.arms import arms_of
from nestline.nesting.frame_rules import FrameRules
from nestline.nesting.work import room
from nestline.outlines.polygons import Region, box_region

Floats = NDArray[np.float64]
band_reach: Callable[[Floats, Floats], tuple[float, float]] = getattr(
    compiled.band_reach, "py_func", compiled.band_reach
)
"""For one row Python is quicker than the way into what is compiled."""
STRIP_HEIGHT, MOST_STRIPS = 8.0, 800
MOST_SLOTS = 256
"""Slots of one band at most."""
SLOTS = np.empty((MOST_SLOTS, k.SLOT_COLUMNS))
RECKONED_IN = np.empty((k.RECKONED, k.PIECE_COLUMNS))
"""What all loops reckon in: they hold the interpreter's lock, and nothing in it is looked at again."""


@dataclass(frozen=True, eq=False)
class WrapRegion:
    """What pushes copy away: a region cleared already, whose it is, and where copy may stand beside it.

    `sides` is "both", "left", "right" or "widest", or "below" where nothing stands beside it in a column. `inside` is
    the shape that copy is to stay in, of a region that is everything else; frames that do not meet it are not pushed.
    """

    region: Region
    object_id: str
    sides: str = "both"
    inside: Region | None = None

    @property
    def reach(self) -> Region:
        """What a frame must meet to be pushed."""
        return self.inside or self.region


@dataclass(frozen=True)
class Strips:
    """Columns as vertical strips of a box: how many, the first one's left and right, and the step from one to the next;
    or the arms of an outline, each with the whole box."""

    count: int
    left: float
    right: float
    step: float

    @property
    def arms(self) -> bool:
        return self.count > 1 and self.step == 0


@dataclass(frozen=True, eq=False)
class Geometry:
    space: compiled.Space
    bounds: tuple[float, float, float, float]
    strips: Strips
    shift: float


def strips_of(bounds: tuple[float, float, float, float], rules: FrameRules) -> Strips:
    left, _, right, _ = bounds
    if rules.columns <= 1:
        return Strips(1, left, right, 0.0)
    width = max((right - left - (rules.columns - 1) * rules.gutter) / rules.columns, 1.0)
    return Strips(rules.columns, left, left + width, width + rules.gutter)


def space_of(
    parts: list[tuple[Region, float, int]], side: list[int], above: list[tuple[int, int]] | None = None
) -> compiled.Space:
    """Regions as edges with their index by height, in strips of about a line's height: each with how far down it is
    laid and whose it is. `above` says which columns run into which, the one below first."""
    count = sum([len(region.starts) for region, _, _ in parts])
    edges, rings = np.empty((count, k.EDGE_COLUMNS)), np.empty((count, k.RING_COLUMNS), np.int64)
    at = 0
    for region, down, whose in parts:
        x, y = region.shift
        at = compiled.lay_edges(region.unmoved, region.starts, x, y + down, whose, edges, rings, at)
    members, *index = compiled.index_by_height(edges, STRIP_HEIGHT, MOST_STRIPS)
    return compiled.Space(
        edges,
        rings,
        np.array(side, np.int64),
        members,
        room(max(len(members), len(side)) + 3),
        np.array(above or [], np.int64).reshape(-1, 2),
        *index,
    )


def in_room(geometry: Geometry) -> Geometry:
    """A geometry from before, reckoning in the room that there is now."""
    mine = geometry.space.room
    now = room(0)
    return geometry if now is mine else replace(geometry, space=geometry.space._replace(room=now))


@dataclass(frozen=True)
class _Lane:
    """A column, or an arm, that copy runs down before the next: from where to where it is, and what walls it off."""

    begin: float
    stop: float
    walls: tuple[Region, ...] = ()


def geometry_of(
    padded: Region, wraps: tuple[WrapRegion, ...], rules: FrameRules | None = None
) -> tuple[Geometry, tuple[str, ...]]:
    """Outline and wraps in one set of edges; wraps that cannot touch the frame are left out."""
    left, _, right, _ = padded.bounds
    strips = strips_of(padded.bounds, rules or FrameRules())
    near = [w for w in wraps if not w.region.empty and _touches(w.region.bounds, padded.bounds)]
    if rules is not None and rules.arms_of_size > 0:
        whole = geometry_of(padded, tuple(near))[0]
        arms = arms_of(padded, [w.region for w in near], whole.space, rules.arms_of_size, SLOTS)
        if arms:
            lanes = [_Lane(left, right, (arm.others,)) for arm in arms]
            above = [(number, up) for number, arm in enumerate(arms) for up in arm.above]
            return _laid(padded, near, lanes, replace(whole.strips, count=len(arms)), above)
    if strips.count == 1:
        return _laid(padded, near, [_Lane(strips.left, strips.right)], strips)
    low, high = _heights(padded, near)
    lanes = []
    for column in range(strips.count):
        begin, stop = strips.left + column * strips.step, strips.right + column * strips.step
        beyond = [(a, c) for a, c in ((left - 10, begin), (stop, right + 10)) if c - a > 10 + 1e-9]
        lanes.append(_Lane(begin, stop, tuple(box_region(a, low - 4, c, high + 4) for a, c in beyond)))
    return _laid(padded, near, lanes, strips)


def _heights(padded: Region, near: list[WrapRegion]) -> tuple[float, float]:
    """The top and the bottom of all that stands in a frame or pushes it."""
    bounds = [padded.bounds, *(w.region.bounds for w in near)]
    return min(b[1] for b in bounds), max(b[3] for b in bounds)


def _laid(
    padded: Region,
    near: list[WrapRegion],
    lanes: list[_Lane],
    strips: Strips,
    above: list[tuple[int, int]] | None = None,
) -> tuple[Geometry, tuple[str, ...]]:
    """Lanes below one another, each a copy of the outline with what is beside it walled off: so a nest runs down
    through them all."""
    shift = 0.0
    if len(lanes) > 1:
        low, high = _heights(padded, near)
        shift = high - low + 10.0
    parts: list[tuple[Region, float, int]] = []
    side: list[int] = []
    ids: list[str] = []
    for number, lane in enumerate(lanes):
        down = number * shift
        parts.append((padded, down, 0))
        for wrap in near:
            if len(lanes) > 1 and (wrap.region.bounds[2] <= lane.begin or wrap.region.bounds[0] >= lane.stop):
                continue
            region, where = beside(wrap, lane.begin, lane.stop)
            ids.append(wrap.object_id)
            side.append(where)
            parts.append((region, down, len(ids)))
        if lane.walls:
            ids.append("")
            side.append(0)
            parts.extend((wall, down, len(ids)) for wall in lane.walls)
    return Geometry(space_of(parts, side, above), padded.bounds, strips, shift), tuple(ids)


def beside(wrap: WrapRegion, begin: float, stop: float) -> tuple[Region, int]:
    """What a wrap keeps free in a column from one x to another, and at which side of it copy may stand (Space.side)."""
    left, top, right, bottom = wrap.region.bounds
    if wrap.sides == "below":
        return box_region(begin - 10, top, stop + 10, bottom), 0
    widest = "left" if left - begin >= stop - right else "right"
    return wrap.region, {"both": 0, "left": 1, "right": 2}[widest if wrap.sides == "widest" else wrap.sides]


def _touches(a: tuple[float, float, float, float], b: tuple[float, float, float, float]) -> bool:
    return a[2] > b[0] and a[0] < b[2] and a[3] > b[1] and a[1] < b[3]


def slots_of_band(
    padded: Region, wraps: tuple[WrapRegion, ...], top: float, bottom: float, least: float = 0.0
) -> list[tuple[float, float]]:
    """The slots of one band, left to right, as (left, right)."""
    if padded.empty:
        return []
    geometry, _ = geometry_of(padded, wraps)
    out = np.empty((1024, k.SLOT_COLUMNS))
    found = work.run(compiled.slots_in_band, geometry.space, top, bottom, least, out)
    return [(float(slot[k.SLOT_LEFT]), float(slot[k.SLOT_RIGHT])) for slot in out[:found]]


def frame_row(
    rules: FrameRules, bounds: tuple[float, float, float, float], strips: Strips | None = None, shift: float = 0.0
) -> Floats:
    """A frame's rules as the compiled loops read them (rows.BY_LINE_BOX …)."""
    row = rules.row.copy()
    left, row[k.Y_TOP], right, row[k.Y_BOTTOM] = bounds
    if strips is not None:
        left, right = strips.left, strips.right
        row[k.COLUMNS], row[k.COLUMN_STEP], row[k.COLUMN_SHIFT] = strips.count, strips.step, shift
    row[k.X_LEFT], row[k.X_RIGHT] = left, max(right, left + 1)
    return row
