"""The contour of a picture: where its subject is, traced from its pixels or given.

Whatever it is found from, it comes out as an area in pixels; smooth curves of few points may then take its place.
"""

from __future__ import annotations

from collections.abc import Generator
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from nestline.document.model import Contour
from nestline.errors import NestLineError
from nestline.outlines.fitting import fitted_path, path_of_area
from nestline.outlines.path import Path, PathError, from_svg, transformed
from nestline.outlines.polygons import area_of, simplified
from nestline.pictures.busy import SURE, busy_mask
from nestline.pictures.files import PictureFile
from nestline.pictures.plain import certainty, on_paper, plain_mask

TOLERANCE_PX = 1.0
LOOSEST = 0.02
"""How far the smoothest contour may stray from the edge, as a share of the picture's longer side."""


@dataclass(frozen=True)
class Traced:
    """A contour found: its area in pixels of the picture, and how sure it is (None where there is no doubt)."""

    area: BaseGeometry
    confidence: float | None = None


Tracing = Generator[float, None, Traced]


def traced(picture: PictureFile, contour: Contour, mask: PictureFile | None = None) -> Tracing:
    """Trace a picture's contour; yields how far it has come, from 0 to 1.

    Raises NestLineError when there is no transparency or no plain background, or nothing is found.
    """
    source = contour.source or ("alpha" if picture.transparent else "plain")
    if source == "path":
        return Traced(_given(contour, picture))
    if source == "plain":
        plain = yield from plain_mask(picture, contour.threshold)
        yield 0.9
        return Traced(contour_of_mask(plain, contour.holes), certainty(picture, contour.threshold))
    if source == "busy":
        busy, confidence = yield from busy_mask(picture, contour.threshold, contour.subject)
        return Traced(contour_of_mask(busy, contour.holes), confidence)
    if source == "mask":
        assert mask is not None
        return Traced(_masked(mask, picture, contour))
    if not picture.transparent:
        raise NestLineError("the picture has no transparency; find its contour from “plain”, its background")
    alpha = np.asarray(picture.decoded().getchannel("A"))
    yield 0.5
    area = contour_of_mask(alpha >= max(1, round(contour.threshold * 255)), contour.holes)
    if area.is_empty:
        raise NestLineError("nothing in the picture is as opaque as the contour's threshold; lower it")
    return Traced(area)


LEAST_CUT = 0.001
"""The share of a picture that is transparent where its subject is cut out. (The corners of a window that was
photographed from the screen come to less.)"""


def cut_out(picture: PictureFile) -> bool:
    """Whether a picture's transparency says where its subject is."""
    if not picture.transparent:
        return False
    return float(np.mean(np.asarray(picture.decoded().getchannel("A")) < 128)) >= LEAST_CUT


def stands_on_paper(picture: PictureFile) -> bool:
    """Whether a picture shows a thing on white, surely found from that: the white is no part of what it shows."""
    return on_paper(picture) and certainty(picture) >= SURE


def _given(contour: Contour, picture: PictureFile) -> BaseGeometry:
    try:
        path = from_svg(contour.d or "")
    except PathError as error:
        raise NestLineError(f"the contour's path {error}") from None
    area = area_of(transformed(path, (picture.width, 0, 0, picture.height, 0, 0)), TOLERANCE_PX / 4)
    return area if contour.holes else without_holes(area)


def _masked(mask: PictureFile, picture: PictureFile, contour: Contour) -> BaseGeometry:
    """The light part of a mask picture (or the opaque part of one that is all of one grey), stretched to the
    picture."""
    pixels = mask.decoded()
    grey = np.asarray(pixels.convert("L"))
    if mask.transparent:
        alpha = np.asarray(pixels.getchannel("A"))
        grey = (
            alpha
            if grey[alpha > 0].size == 0 or np.ptp(grey[alpha > 0]) < 8
            else (grey * (alpha / 255.0)).astype(np.uint8)
        )
    area = contour_of_mask(grey >= max(1, round(contour.threshold * 255)), contour.holes)
    if area.is_empty:
        raise NestLineError(
            "nothing in the mask picture is as light as the threshold; lower it, or choose another mask"
        )
    by = np.array([picture.width / mask.width, picture.height / mask.height])
    return shapely.transform(area, lambda p: p * by)


def without_holes(area: BaseGeometry) -> BaseGeometry:
    return shapely.union_all([Polygon(p.exterior) for p in getattr(area, "geoms", [area]) if isinstance(p, Polygon)])


def curves_of(traced: Traced, contour: Contour, picture: PictureFile) -> Path:
    """The contour as a path in pixels: its edge within a pixel, or smooth curves where it is to be smooth or of few
    points. One given as a path is that path."""
    if contour.source == "path":
        return transformed(from_svg(contour.d or ""), (picture.width, 0, 0, picture.height, 0, 0))
    if contour.smoothness <= 0 and contour.points is None:
        return path_of_area(simplified(traced.area, TOLERANCE_PX))
    longer = max(picture.width, picture.height)
    return fitted_path(traced.area, tolerance_of(contour.smoothness, longer), contour.points)


def tolerance_of(smoothness: float, longer: float) -> float:
    """How far smooth curves may stray, in pixels of a picture with this longer side."""
    least = max(TOLERANCE_PX, longer / 1500)
    return float(least + (LOOSEST * longer - least) * smoothness**2)


def contour_of_mask(mask: NDArray[np.bool_], holes: bool) -> BaseGeometry:
    """The area of a mask's true pixels.

    OpenCV's contours run through pixel centres (Suzuki & Abe 1985), which lie half a pixel right of and below its
    figures; half a pixel is added all round.
    """
    found, levels = cv2.findContours(mask.astype(np.uint8), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    if levels is None:
        return Polygon()
    parts = []
    for i, ring in enumerate(found):
        if levels[0][i][3] >= 0:
            continue  # a hole: taken with the contour around it
        shell: NDArray[Any] = ring[:, 0, :]
        # A part of one or two pixels has no area between its centres.
        part = Polygon(shell) if len(shell) >= 4 else shapely.MultiPoint(shell).convex_hull
        if not part.is_valid:
            part = part.buffer(0) if part.buffer(0).area > 0 else part.convex_hull
        part = part.buffer(0.5, join_style="mitre", cap_style="square")
        child = levels[0][i][2]
        while holes and child >= 0:
            hole = found[child][:, 0, :]
            if len(hole) >= 4:
                part = part.difference(Polygon(hole).buffer(0).buffer(-0.5, join_style="mitre"))
            child = levels[0][child][0]
        parts.append(part)
    if not parts:
        return Polygon()
    whole = simplified(shapely.union_all(parts), TOLERANCE_PX / 2)
    return shapely.transform(whole, lambda places: places + 0.5)
