"""What is seen of a page at points of it: colours painted one over the other, below copy and above it.

Paint lies as outputs paint it: the sheet, then each object's fill, tinted and as opaque as it is, then its picture
inside its outline (and its contour where it is clipped by that). Strokes and other copy are left out.
"""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nestline.document.colors import color_figure, tinted
from nestline.document.lengths import Sides
from nestline.document.model import PageObject
from nestline.document.reading import Document
from nestline.errors import NestLineError
from nestline.findings.finding import Box
from nestline.outlines import placing
from nestline.outlines.polygons import area_of, points_inside
from nestline.pictures.placed import Contours, PictureSource, clip_of, placement
from nestline.remembering import remember

Floats = NDArray[np.float64]
SAMPLE_PX = 1200
"""A picture is looked at so many pixels large, across or down: a word over it is some pixels high then."""
MOST_SAMPLES = 16


@dataclass(frozen=True, eq=False)
class Seen:
    """For points of a page: the colour behind copy of an object, and how what lies above it changes what is seen
    through it: so much of the light comes through, to which `over` is added."""

    behind: Floats
    through: Floats
    over: Floats

    def of(self, rgb: Floats) -> Floats:
        """How a colour that is painted in the copy's place looks."""
        return rgb * self.through[..., None] + self.over

    @property
    def behind_seen(self) -> Floats:
        return self.of(self.behind)


class Sight:
    """Looks at the pages of documents; keeps small samples of their pictures."""

    def __init__(self, pictures: PictureSource, contours: Contours) -> None:
        self._pictures, self._contours = pictures, contours
        self._samples: OrderedDict[str, tuple[NDArray[np.uint8], tuple[int, int]]] = OrderedDict()

    def seen(self, document: Document, page: int, place: int, points: Floats) -> Seen:
        """What is seen at points (n × 2) of a page of a settled document, for copy of the object at a place in its
        stack."""
        head, sheet = document.head, document.pages[page].sheet
        paper = color_figure(head, sheet.background) if sheet.background else (1.0, 1.0, 1.0)
        behind = np.tile(np.array(paper, float), (len(points), 1))
        through, over = np.ones(len(points)), np.zeros((len(points), 3))
        if not len(points):
            return Seen(behind, through, over)
        (left, top), (right, bottom) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
        reach = (left, top, right, bottom)
        for at, thing in enumerate(document.pages[page].objects):
            if thing.hidden or not touch(placing.bounds_on_page(thing), reach):
                continue
            for where, rgb, alpha in self._paint(document, thing, points):
                if at <= place:
                    behind[where] = behind[where] * (1 - alpha[:, None]) + rgb * alpha[:, None]
                else:
                    over[where] = over[where] * (1 - alpha[:, None]) + rgb * alpha[:, None]
                    through[where] *= 1 - alpha
        return Seen(behind, through, over)

    def _paint(
        self, document: Document, thing: PageObject, points: Floats
    ) -> list[tuple[NDArray[np.int64], Floats, Floats]]:
        """What an object paints, from below: at which points, in which colours, how opaque."""
        fill = thing.fill if thing.paint and thing.fill and thing.fill.opacity > 0 else None
        if fill is None and thing.picture is None:
            return []
        own = _own(thing, points)
        inside = np.flatnonzero(_within(thing, own))
        found = []
        if fill is not None and len(inside):
            rgb = np.array(tinted(color_figure(document.head, fill.color), fill.tint))
            found.append((inside, np.tile(rgb, (len(inside), 1)), np.full(len(inside), float(fill.opacity))))
        if thing.picture is not None and len(inside):
            try:
                sample, size = self._sample(thing.picture.file)
            except NestLineError:
                return found
            x, y, w, h = placement(thing.picture, size, thing.box[2], thing.box[3])
            across, down = own[inside].T
            high, wide, _ = sample.shape
            column, line = np.floor((across - x) / w * wide).astype(int), np.floor((down - y) / h * high).astype(int)
            on = (column >= 0) & (column < wide) & (line >= 0) & (line < high)
            if (clip := clip_of(self._contours, thing)) is not None:
                on &= points_inside(area_of(clip), across, down)
            red, green, blue, alpha = (sample[line[on], column[on]] / 255).T
            found.append((inside[on], np.stack([red, green, blue], axis=1), alpha))
        return found

    def _sample(self, file: str) -> tuple[NDArray[np.uint8], tuple[int, int]]:
        """A picture's pixels, small, as red, green, blue and opacity in 0…255; and its whole size."""
        if (known := self._samples.get(file)) is None:
            picture = self._pictures(file)
            pixels = picture.decoded().convert("RGBA")
            pixels.thumbnail((SAMPLE_PX, SAMPLE_PX))
            known = (np.asarray(pixels, np.uint8), (picture.width, picture.height))
            remember(self._samples, file, known, MOST_SAMPLES)
        return known


def _own(thing: PageObject, points: Floats) -> Floats:
    """Points of the page in an object's own box."""
    a, b, c, d, e, f = placing.matrix(thing)
    (x, y), det = (points - [e, f]).T, a * d - b * c
    return np.stack([(d * x - c * y) / det, (a * y - b * x) / det], axis=1)


def _within(thing: PageObject, own: Floats) -> NDArray[np.bool_]:
    _, _, width, height = thing.box
    x, y = own.T
    found: NDArray[np.bool_] = (x >= 0) & (x <= width) & (y >= 0) & (y <= height)
    if thing.outline.kind == "rectangle" and thing.outline.d is None and thing.outline.radius == Sides():
        return found
    found[found] = points_inside(placing.area(thing), x[found], y[found])
    return found


def touch(box: Box, other: Box) -> bool:
    """Whether two boxes of a page touch."""
    (left, top, right, bottom), (from_, above, to, below) = box, other
    return left <= to and right >= from_ and top <= below and bottom >= above
