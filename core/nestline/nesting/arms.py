"""The arms of where copy may stand: parts that lie side by side with a gap between, read one after the other when
asked.

Where copy may stand is scanned line by line; stretches that follow one another make an arm, until one parts in two or
two become one. What is shorter than two lines is a notch, not an arm.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from nestline import rows as k
from nestline.nesting import compiled, work
from nestline.outlines.polygons import Region, polygon_parts, region_of, shape_of

STEP, LEAST_WIDTH, LEAST_HEIGHT, MOST_STEPS = 0.5, 3.0, 2.4, 600
"""How far apart it is scanned, and how wide and how high an arm is at least, in ems; and how often it is scanned at
most."""
HALVINGS, THIN = 24, 0.01
"""How exactly the height is found at which stretches part, and half of how high what is scanned is, in points."""

Scan = Callable[[float], list[tuple[float, float]]]
Place = tuple[int, int]
"""A stretch that was found: the scan, and which of its stretches, from the left."""


@dataclass(frozen=True)
class Arm:
    """One arm: where copy may not stand while it is filled, and the arms before it that run into it."""

    others: Region
    above: tuple[int, ...]


def arms_of(
    padded: Region, wraps: list[Region], space: compiled.Space, size: float, out: NDArray[np.float64]
) -> list[Arm]:
    """The arms of a padded outline with wraps, in the order in which they are read: from the top, each when all that
    run into it are, the left one first. `space` holds both; `size` is that of the type, in points, `out` room for
    slots."""
    left, top, right, bottom = padded.bounds

    def at(y: float) -> list[tuple[float, float]]:
        found = work.run(compiled.slots_in_band, space, y - THIN, y + THIN, LEAST_WIDTH * size, out)
        return [(float(out[i, k.SLOT_LEFT]), float(out[i, k.SLOT_RIGHT])) for i in range(found)]

    step = max(STEP * size, (bottom - top) / MOST_STEPS)
    heights = np.arange(top + step / 2, bottom, step).tolist()
    scans = [at(y) for y in heights]
    chains = _without_notches(scans, LEAST_HEIGHT * size / step)
    if len(chains) < 2:
        return []
    free = shape_of(padded)
    for wrap in wraps:
        free = free.difference(shape_of(wrap))
    above = _above(chains, scans)
    order = _in_order(chains, above, scans)
    areas: list[BaseGeometry] = []
    for chain in chains:
        (first, one), (last, _) = chain[0], chain[-1]
        begin, end = top - 1.0, bottom + 1.0
        over, under = _meets(scans, first, first - 1, one), _meets(scans, last, last + 1, chain[-1][1])
        if over:
            begin = _parting(at, heights, scans, first - 1)[len(over) == 1]
        if under:
            end = _parting(at, heights, scans, last)[len(under) == 1]
        slab = free.intersection(shapely.box(left - 1, begin, right + 1, end))
        low, high = scans[first][one]
        point = shapely.Point((low + high) / 2, heights[first])
        areas.append(min(polygon_parts(slab), key=point.distance))
    return [Arm(region_of(free.difference(areas[c])), tuple(order.index(a) for a in above[c])) for c in order]


def _overlap(a: tuple[float, float], b: tuple[float, float]) -> bool:
    return min(a[1], b[1]) - max(a[0], b[0]) > 1e-6


def _meets(scans: list[list[tuple[float, float]]], here: int, there: int, place: int) -> list[int]:
    """The stretches of another scan that lie above or below one."""
    if not 0 <= there < len(scans):
        return []
    return [i for i, other in enumerate(scans[there]) if _overlap(scans[here][place], other)]


def _chains(scans: list[list[tuple[float, float]]]) -> list[list[Place]]:
    """Stretches that follow one another, each the only one above the next and below the one before."""
    of: dict[Place, list[Place]] = {}
    chains: list[list[Place]] = []
    for row, found in enumerate(scans):
        for i in range(len(found)):
            ups = _meets(scans, row, row - 1, i)
            goes_on = len(ups) == 1 and len(_meets(scans, row - 1, row, ups[0])) == 1
            chain = of[row - 1, ups[0]] if goes_on else []
            if not goes_on:
                chains.append(chain)
            chain.append((row, i))
            of[row, i] = chain
    return chains


def _without_notches(scans: list[list[tuple[float, float]]], least: float) -> list[list[Place]]:
    """The chains, the shortest that end nowhere left out (of the scans, too) until all are long enough."""
    while True:
        chains = _chains(scans)
        ends = [
            c
            for c in chains
            if len(c) < least
            and not (_meets(scans, c[0][0], c[0][0] - 1, c[0][1]) and _meets(scans, c[-1][0], c[-1][0] + 1, c[-1][1]))
        ]
        if not ends or len(chains) < 2:
            return chains
        for row, i in min(ends, key=len):
            scans[row] = [s for n, s in enumerate(scans[row]) if n != i]


def _above(chains: list[list[Place]], scans: list[list[tuple[float, float]]]) -> list[tuple[int, ...]]:
    """Of each chain those that run into it."""
    number = {place: n for n, chain in enumerate(chains) for place in chain}
    return [
        tuple(number[chain[0][0] - 1, i] for i in _meets(scans, chain[0][0], chain[0][0] - 1, chain[0][1]))
        for chain in chains
    ]


def _in_order(
    chains: list[list[Place]], above: list[tuple[int, ...]], scans: list[list[tuple[float, float]]]
) -> list[int]:
    """The chains as they are read."""
    begin = [(chain[0][0], scans[chain[0][0]][chain[0][1]][0]) for chain in chains]
    order: list[int] = []

    def read(one: int) -> None:
        if one in order or any(a not in order for a in above[one]):
            return
        order.append(one)
        for below in sorted((c for c, ups in enumerate(above) if one in ups), key=lambda c: begin[c][1]):
            read(below)

    for one in sorted(range(len(chains)), key=begin.__getitem__):
        read(one)
    return order


def _parting(at: Scan, heights: list[float], scans: list[list[tuple[float, float]]], row: int) -> tuple[float, float]:
    """The height between a scan and the next at which stretches part or become one: where they surely are one, and
    where they surely are parted."""
    many, few = heights[row], heights[row + 1]
    if len(scans[row]) < len(scans[row + 1]):
        many, few = few, many
    most = max(len(scans[row]), len(scans[row + 1]))
    for _ in range(HALVINGS):
        half = (many + few) / 2
        if len(at(half)) >= most:
            many = half
        else:
            few = half
    sure = math.copysign(2 * THIN, many - few)
    return few - sure, many + sure
