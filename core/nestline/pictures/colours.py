"""What the colours of a picture say of where its subject is: a rough mask made exact by them.

The colours inside and outside a mask are counted (histograms, as in Y. Boykov and M.-P. Jolly, "Interactive Graph
Cuts", 2001), and each pixel goes to the side on which its colour is the likelier, smoothed along the picture's own
edges (the guided filter of K. He, J. Sun and X. Tang, 2010); that is done again with the new mask until it stays.
"""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from nestline.pictures.plain import Mask, Pixels

CELLS = (24, 40, 40)
"""Into how many cells lightness and the two axes of colour are cut."""
REACH = 96.0
"""How far the axes of colour are told apart, in CIELAB units each way."""
LIKELIEST = 5.0
"""How much one pixel's colour can say: the logarithm of a ratio."""
RARE = 2e-6
"""What a colour that was never seen counts for, as a share of all."""
ROUNDS = 4
NEAR = 0.03
"""How far from the mask's edge its own word counts for less, as a share of the longer side."""


def cells_of(lab: Pixels) -> NDArray[np.int32]:
    """The cell of colour of each pixel of a CIELAB image (height × width × 3), counted through."""
    light = np.clip(lab[..., 0] / 100 * CELLS[0], 0, CELLS[0] - 1).astype(np.int32)
    a, b = (
        np.clip((lab[..., axis] + REACH) / (2 * REACH) * CELLS[axis], 0, CELLS[axis] - 1).astype(np.int32)
        for axis in (1, 2)
    )
    return np.asarray((light * CELLS[1] + a) * CELLS[2] + b)


def made_exact(
    lab: Pixels, cells: NDArray[np.int32], mask: Mask, given: NDArray[np.uint8] | None = None, threshold: float = 0.5
) -> Mask:
    """A mask that follows from the colours inside and outside a rough one.

    `given` holds 1 where a pixel is the subject's in any case, 0 where it is not, 2 elsewhere. Of a higher threshold (0
    to 1) only what is more likely the subject's stays.
    """
    height, width = mask.shape
    longer = max(height, width)
    window = 2 * max(2, round(0.004 * longer)) + 1
    for _ in range(ROUNDS):
        before = mask
        pixels: NDArray[Any] = mask.astype(np.uint8)
        said = _guided(_likelier(cells, pixels), lab[..., 0], window)
        said = np.asarray(cv2.GaussianBlur(said, (0, 0), max(1.0, 0.0015 * longer)), np.float32)
        inwards = cv2.distanceTransform(pixels, cv2.DIST_L2, 5) - cv2.distanceTransform(1 - pixels, cv2.DIST_L2, 5)
        said += np.clip(inwards / (NEAR * longer), -1, 1)
        mask = np.asarray(said > 4 * (threshold - 0.5))
        if given is not None:
            mask = np.asarray((mask & (given != 0)) | (given == 1))
        if not mask.any() or (mask == before).all():
            break
    return mask


def shared(one: Mask, other: Mask) -> float:
    """How far two masks are the same: what both hold over what either holds."""
    return float((one & other).sum() / max((one | other).sum(), 1))


def _likelier(cells: NDArray[np.int32], mask: NDArray[Any]) -> Pixels:
    """How much likelier each pixel's colour is inside a mask than outside, as a logarithm."""
    rim = 2 * max(2, round(0.006 * max(mask.shape))) + 1
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (rim, rim))
    inner, outer = cv2.erode(mask, disc) > 0, cv2.dilate(mask, disc) == 0
    if inner.sum() < 0.3 * mask.sum():
        inner = mask > 0
    inside, outside = (_counted(cells[side]) for side in (inner, outer))
    ratio = np.log((inside + RARE) / (outside + RARE)).astype(np.float32)
    return np.asarray(np.clip(ratio, -LIKELIEST, LIKELIEST).ravel()[cells])


def _counted(cells: NDArray[np.int32]) -> NDArray[np.float64]:
    """The share of each cell of colour, its neighbours' counted in."""
    counts = np.bincount(cells, minlength=int(np.prod(CELLS))).reshape(CELLS).astype(np.float64)
    for axis in range(3):
        padded = np.pad(counts, [(2, 2) if a == axis else (0, 0) for a in range(3)], mode="edge")
        steps = (padded.take(range(i, i + CELLS[axis]), axis=axis) for i in range(5))
        counts = np.sum([weight * step for weight, step in zip((1, 4, 6, 4, 1), steps, strict=True)], axis=0) / 16
    return np.asarray(counts / max(len(cells), 1))


def _guided(values: Pixels, guide: Pixels, window: int) -> Pixels:
    """Values smoothed within a square window, but not across edges of the guide."""

    def mean(of: Pixels) -> Pixels:
        return np.asarray(cv2.boxFilter(of, -1, (window, window)), np.float32)

    of_guide, of_values = mean(guide), mean(values)
    spread = mean(guide * guide) - of_guide * of_guide
    slope = np.asarray((mean(guide * values) - of_guide * of_values) / (spread + 20), np.float32)
    return mean(slope) * guide + mean(of_values - slope * of_guide)
