"""A picture's contour from its transparency or its plain background, as an area in the picture's own pixels."""

from __future__ import annotations

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from nestline.errors import NestLineError
from nestline.pictures.files import PictureFile
from nestline.pictures.plain import plain_mask

TOLERANCE_PX = 1.0


def contour_of_picture(
    picture: PictureFile, threshold: float = 0.5, holes: bool = False, source: str | None = None
) -> BaseGeometry:
    """The area whose opacity is at least `threshold` (`source` "alpha"), or that differs from a plain background
    ("plain"); left open it is by transparency where there is any. Holes are filled unless asked for.

    Raises NestLineError when there is no transparency or no plain background, or nothing is found.
    """
    if source == "plain" or (source is None and not picture.transparent):
        return contour_of_mask(plain_mask(picture, threshold), holes)
    if not picture.transparent:
        raise NestLineError("the picture has no transparency; find its contour from “plain”, its background")
    alpha = np.asarray(picture.decoded().getchannel("A"))
    area = contour_of_mask(alpha >= max(1, round(threshold * 255)), holes)
    if area.is_empty:
        raise NestLineError("nothing in the picture is as opaque as the contour's threshold; lower it")
    return area


def contour_of_mask(mask: NDArray[np.bool_], holes: bool) -> BaseGeometry:
    """The area of a mask's true pixels, simplified within a pixel.

    OpenCV's contours run through pixel centres (Suzuki & Abe 1985); half a pixel is added all round.
    """
    found, levels = cv2.findContours(mask.astype(np.uint8), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    if levels is None:
        return Polygon()
    parts = []
    for i, ring in enumerate(found):
        if levels[0][i][3] >= 0:
            continue  # a hole: taken with the contour around it
        shell = ring[:, 0, :]
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
    return shapely.simplify(shapely.union_all(parts), TOLERANCE_PX) if parts else Polygon()
