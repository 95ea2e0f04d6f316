"""Pictures placed in objects: where their pixels come to lie, and the contour there."""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from collections.abc import Callable, Generator
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from nestline.document.model import Contour, PageObject, Picture
from nestline.errors import NestLineError
from nestline.outlines import placing
from nestline.outlines.path import Path, to_svg, transformed
from nestline.outlines.polygons import Region, area_of, inset, outset, region_of, simplified
from nestline.pictures.contour import TOLERANCE_PX, Traced, curves_of
from nestline.pictures.contour import traced as tracing_of
from nestline.pictures.files import PictureFile
from nestline.remembering import remember

PictureSource = Callable[[str], PictureFile]
"""A picture by the file name a document gives. Raises NestLineError when it is not there."""


def placement(
    picture: Picture, size: tuple[int, int], width: float, height: float
) -> tuple[float, float, float, float]:
    """x, y, width, height of the whole picture in the object's own box.

    It fills the box or stands whole within it, centred; then it is scaled about its middle and moved by x and y.
    """
    choose = min if picture.fit == "whole" else max
    scale = choose(width / size[0], height / size[1]) * picture.scale
    w, h = size[0] * scale, size[1] * scale
    return (width - w) / 2 + picture.x.pt, (height - h) / 2 + picture.y.pt, w, h


def resolution(picture: Picture, size: tuple[int, int], width: float, height: float) -> float:
    """Pixels per inch at the size at which the picture stands."""
    return size[0] * 72 / max(placement(picture, size, width, height)[2], 1e-9)


class Kept(Protocol):
    """Where traced contours are kept with their pictures, so that none is traced twice."""

    def get(self, file: str, key: str) -> bytes | None:
        """What was kept for a picture under a key."""

    def put(self, file: str, key: str, content: bytes) -> None:
        """Keep a contour with its picture."""


@dataclass(frozen=True)
class Found:
    """The contour of a placed picture in its object's own box, before it is cleared and clipped: its path, how many
    points that has, and how sure it is (None where there is no doubt)."""

    path: Path
    points: int
    confidence: float | None

    @cached_property
    def svg(self) -> str:
        return to_svg(self.path, 2)


class Contours:
    """Contours of placed pictures, remembered by file and settings. Keep one per process and source of pictures."""

    def __init__(self, source: PictureSource, kept: Kept | None = None) -> None:
        self._source, self._kept = source, kept
        self._traced: OrderedDict[tuple[object, ...], Traced] = OrderedDict()
        self._curves: OrderedDict[tuple[object, ...], tuple[Path, BaseGeometry]] = OrderedDict()
        self._regions: OrderedDict[tuple[object, ...], Region] = OrderedDict()
        self._found: OrderedDict[tuple[object, ...], tuple[Path, Found]] = OrderedDict()

    def __call__(self, thing: PageObject) -> Region:
        """The visible contour of the object's picture, cleared, in the object's own box. Raises NestLineError."""
        assert thing.picture is not None
        _, _, width, height = thing.box
        clearance = thing.wrap.clearance.top.pt
        settings = thing.contour or Contour()
        key = (
            thing.picture.written,
            settings.written,
            width,
            height,
            clearance,
            thing.outline.written,
            thing.wrap.inside,
        )
        found = self._regions.get(key)
        if found is None:
            file = self._source(thing.picture.file)
            _, area = self._shape(thing.picture.file, file, settings)
            x, y, w, h = placement(thing.picture, (file.width, file.height), width, height)
            placed = shapely.transform(area, lambda p: p * [w / file.width, h / file.height] + [x, y])
            visible = shapely.make_valid(placed).intersection(placing.area(thing))
            # A pixel's quarter is finer than the contour is known.
            cleared = inset(visible, clearance) if thing.wrap.inside else outset(visible, clearance)
            found = region_of(simplified(cleared, 0.25 * w / file.width))
            remember(self._regions, key, found, 400)
        return found

    def found(self, thing: PageObject) -> Found:
        """The contour as it was found or drawn. Raises NestLineError."""
        assert thing.picture is not None
        settings = thing.contour or Contour()
        file = self._source(thing.picture.file)
        path, _ = self._shape(thing.picture.file, file, settings)
        x, y, w, h = placement(thing.picture, (file.width, file.height), thing.box[2], thing.box[3])
        traced = self._traced.get(self._key(thing.picture.file, settings))
        confidence = traced.confidence if traced else None
        key = (id(path), x, y, w, h, confidence)
        if (known := self._found.get(key)) is None:
            placed = transformed(path, (w / file.width, 0, 0, h / file.height, x, y))
            known = (path, Found(placed, sum(len(c) for c in path), confidence))
            remember(self._found, key, known, 400)
        return known[1]

    def trace(self, name: str, settings: Contour) -> Generator[float, None, None]:
        """Trace a picture so that it is known; yields how far it has come. Raises NestLineError."""
        key = self._key(name, settings)
        if self._known(name, key) is not None:
            return
        file = self._source(name)
        mask = self._source(settings.mask) if settings.source == "mask" and settings.mask else None
        traced = yield from tracing_of(file, settings, mask)
        self._keep(name, key, traced)

    @staticmethod
    def _key(name: str, settings: Contour) -> tuple[object, ...]:
        """Everything that tracing depends on: what smooths it is not traced again."""
        subject = settings.subject.written if settings.subject and settings.source == "busy" else None
        return (name, settings.source, settings.threshold, settings.holes, settings.mask, settings.d, subject)

    def _known(self, name: str, key: tuple[object, ...]) -> Traced | None:
        found = self._traced.get(key)
        if found is None and self._kept is not None and key[1] != "path":
            content = self._kept.get(name, _digest(key))
            if content is not None:
                confidence = np.frombuffer(content[:8])[0]
                found = Traced(shapely.from_wkb(content[8:]), None if np.isnan(confidence) else float(confidence))
                remember(self._traced, key, found, 200)
        return found

    def _keep(self, name: str, key: tuple[object, ...], traced: Traced) -> None:
        remember(self._traced, key, traced, 200)
        if self._kept is not None and key[1] != "path":
            sure = np.array([np.nan if traced.confidence is None else traced.confidence])
            self._kept.put(name, _digest(key), sure.tobytes() + shapely.to_wkb(traced.area))

    def _shape(self, name: str, file: PictureFile, settings: Contour) -> tuple[Path, BaseGeometry]:
        """The contour in pixels: as a path, and the area in it."""
        key = self._key(name, settings)
        whole = (*key, settings.smoothness, settings.points)
        found = self._curves.get(whole)
        if found is None:
            traced = self._known(name, key)
            if traced is None:
                for _ in self.trace(name, settings):
                    pass
                traced = self._traced[key]
            path = curves_of(traced, settings, file)
            exact = settings.source == "path" or (settings.smoothness <= 0 and settings.points is None)
            area = simplified(traced.area, TOLERANCE_PX) if exact else area_of(path, TOLERANCE_PX / 4)
            found = (path, area)
            remember(self._curves, whole, found, 200)
        return found


def clip_of(contours: Contours, thing: PageObject) -> Path | None:
    """The contour that a picture is painted inside of, in its object's own box; None where it is not, or none
    is found."""
    if thing.picture is None or thing.picture.clip != "contour":
        return None
    try:
        return contours.found(thing).path
    except NestLineError:
        return None


def _digest(key: tuple[object, ...]) -> str:
    return hashlib.blake2b(repr((TRACER, *key[1:])).encode(), digest_size=12).hexdigest()


TRACER = 2
"""Raised when tracing changes, so that contours kept before are traced again."""
