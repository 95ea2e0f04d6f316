"""Pictures placed in objects: where their pixels come to lie, and the contour there."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable

import shapely
from shapely.geometry.base import BaseGeometry

from nestline.document import lengths
from nestline.document.model import Contour, PageObject, Picture
from nestline.outlines import placing
from nestline.outlines.polygons import Region, inset, outset, region_of
from nestline.pictures.contour import contour_of_picture
from nestline.pictures.files import PictureFile

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
    return (width - w) / 2 + lengths.points(picture.x), (height - h) / 2 + lengths.points(picture.y), w, h


def resolution(picture: Picture, size: tuple[int, int], width: float, height: float) -> float:
    """Pixels per inch at the size at which the picture stands."""
    return size[0] * 72 / max(placement(picture, size, width, height)[2], 1e-9)


class Contours:
    """Contours of placed pictures, remembered by file and settings. Keep one per process and source of pictures."""

    def __init__(self, source: PictureSource) -> None:
        self._source = source
        self._areas: OrderedDict[tuple[object, ...], BaseGeometry] = OrderedDict()
        self._regions: OrderedDict[tuple[object, ...], Region] = OrderedDict()

    def __call__(self, thing: PageObject) -> Region:
        """The visible contour of the object's picture, cleared, in the object's own box. Raises NestLineError."""
        assert thing.picture is not None
        _, _, width, height = thing.box
        clearance = lengths.points(thing.wrap.clearance)
        settings = thing.contour or Contour.model_validate({})
        key = (
            thing.picture.model_dump_json(), settings.source, settings.threshold, settings.holes, width, height, clearance,
            thing.outline.model_dump_json(), thing.wrap.inside,
        )  # fmt: skip
        found = self._regions.get(key)
        if found is None:
            file = self._source(thing.picture.file)
            area = self._area(thing.picture.file, file, settings)
            x, y, w, h = placement(thing.picture, (file.width, file.height), width, height)
            placed = shapely.transform(area, lambda p: p * [w / file.width, h / file.height] + [x, y])
            visible = shapely.make_valid(placed).intersection(placing.area(thing))
            # A pixel's quarter is finer than the contour is known.
            cleared = inset(visible, clearance) if thing.wrap.inside else outset(visible, clearance)
            found = region_of(shapely.simplify(cleared, 0.25 * w / file.width))
            _remember(self._regions, key, found, 400)
        return found

    def _area(self, name: str, file: PictureFile, settings: Contour) -> BaseGeometry:
        key = (name, settings.source, settings.threshold, settings.holes)
        found = self._areas.get(key)
        if found is None:
            found = contour_of_picture(file, settings.threshold, settings.holes, settings.source)
            _remember(self._areas, key, found, 200)
        return found


def _remember(kept: OrderedDict, key: tuple[object, ...], value: object, most: int) -> None:
    kept[key] = value
    while len(kept) > most:
        kept.popitem(last=False)
