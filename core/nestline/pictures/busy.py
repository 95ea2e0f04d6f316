"""The subject of a picture on a busy background, as a mask, with how sure it is.

GrabCut (C. Rother, V. Kolmogorov, A. Blake, 2004; OpenCV's own) on a small picture, begun from where the picture
differs from its border, from its middle, and from what the designer marked; each mask found is made exact by its
colours. The candidate with the strongest contrast along its edge is refined at full size as on a plain background. It
is sure when all beginnings come to the same, and so does its own mask made larger and smaller.
"""

from __future__ import annotations

from collections.abc import Generator
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from nestline.document.model import Subject
from nestline.errors import NestLineError
from nestline.pictures.colours import cells_of, made_exact, shared
from nestline.pictures.files import PictureFile
from nestline.pictures.plain import Mask, Pixels, background_of, cleaned, lab_of, refine, refined

ROUGH_PX, EXACT_PX = 256, 800
"""The longer side at which a subject is found, and at which its mask is made exact."""
ROUNDS = 4
SURE = 0.9
"""A confidence below which the designer is asked to mark the subject."""
ALONE = 0.8
"""The most that a mask is sure of which only one of two beginnings led to."""
LOOSE = 0.03
"""How much larger and smaller a mask is made to see whether it comes back, as a share of the longer side."""
STROKE = 0.02
"""The width of a stroke that marks, as a share of the longer side."""


def busy_mask(
    picture: PictureFile, threshold: float = 0.5, subject: Subject | None = None
) -> Generator[float, None, tuple[Mask, float]]:
    """The pixels of the subject and a confidence from 0 to 1; yields how far it has come. A higher threshold keeps only
    what differs more. Raises NestLineError when nothing is found."""
    image: NDArray[Any] = np.asarray(picture.decoded().convert("RGB"))
    yield 0.1
    small, _ = _at_most(image, ROUGH_PX)
    larger, scale = _at_most(image, EXACT_PX)
    lab = lab_of(larger)
    cells, given = cells_of(lab), _given(lab.shape[:2], subject)
    seeds = _seeds(lab_of(small), threshold, subject)
    found: list[tuple[float, Mask, Mask]] = []
    for done, seed in enumerate(seeds):
        rough = _kept(cleaned(_cut(small, seed)), subject)
        yield 0.1 + 0.6 * (done + 0.5) / len(seeds)
        if _is_subject(rough):
            rough = refined(larger, rough, rough.shape[1] / lab.shape[1])
            exact = _kept(made_exact(lab, cells, rough, given, threshold), subject)
            for mask in (rough, exact):
                if _is_subject(mask):
                    found.append((_contrast(lab, mask), mask, exact))
        yield 0.1 + 0.6 * (done + 1) / len(seeds)
    if not found:
        raise NestLineError(
            "no subject was found in the picture; mark it with a rectangle or a stroke, or draw the contour by hand"
        )
    _, best, exact = max(found, key=lambda candidate: candidate[0])
    # The best that each beginning led to.
    others = {id(e): max((c for c in found if c[2] is e), key=lambda c: c[0])[1] for _, _, e in found}
    sure = min([shared(best, exact), *(shared(best, other) for other in others.values())])
    if len(others) < 2:
        sure = min(sure, ALONE)
    reach = 2 * round(LOOSE * max(lab.shape)) + 1
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach))
    for number, change in enumerate((cv2.dilate, cv2.erode)):
        start = np.asarray(change(best.astype(np.uint8), disc) > 0)
        if start.any():
            sure = min(sure, shared(exact, _kept(made_exact(lab, cells, start, given, threshold), subject)))
        yield 0.8 + 0.05 * number
    mask = yield from refine(image, best, scale, 0.86)
    yield 1.0
    return mask, round(sure, 3)


def _at_most(image: NDArray[Any], longer: int) -> tuple[NDArray[Any], float]:
    """An image no longer than so many pixels on its longer side, and by what it is smaller."""
    height, width = image.shape[:2]
    scale = min(1.0, longer / max(height, width))
    if scale == 1.0:
        return image, scale
    size = (max(16, round(width * scale)), max(16, round(height * scale)))
    return np.asarray(cv2.resize(image, size, interpolation=cv2.INTER_AREA)), scale


def _is_subject(mask: Mask) -> bool:
    return bool(mask.any() and mask.mean() < 0.97)


def _given(shape: tuple[int, ...], subject: Subject | None) -> NDArray[np.uint8] | None:
    """What the designer marked: 1 the subject's, 0 not, 2 not said."""
    if subject is None:
        return None
    out = np.full(shape, 2, np.uint8)
    if subject.box is not None:
        out[~_inside(subject.box, shape)] = 0
    for strokes, value in ((subject.keep, 1), (subject.drop, 0)):
        for stroke in strokes:
            _stroked(out, stroke, value)
    return out


def _inside(box: tuple[float, float, float, float], shape: tuple[int, ...]) -> Mask:
    x, y, w, h = box
    inside = np.zeros(shape, bool)
    inside[round(y * shape[0]) : round((y + h) * shape[0]), round(x * shape[1]) : round((x + w) * shape[1])] = True
    return inside


def _seeds(lab: Pixels, threshold: float, subject: Subject | None) -> list[NDArray[np.uint8]]:
    """What to begin from: GrabCut's marks (0 background, 1 subject, 2 likely background, 3 likely subject)."""
    height, width = lab.shape[:2]
    field, spread = background_of(lab)
    off = np.linalg.norm(lab - field, axis=-1)
    smooth = cv2.GaussianBlur(off, (0, 0), max(1.0, min(height, width) / 100))
    marks = []
    rim = max(1, round(0.01 * min(height, width)))
    limit = float(np.quantile(smooth, 0.35 + 0.4 * threshold))
    differing = np.where(smooth > max(limit, 2 * spread * 2 * threshold), cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
    middle = np.full((height, width), cv2.GC_PR_BGD, np.uint8)
    dy, dx = round(0.12 * height), round(0.12 * width)
    middle[dy : height - dy, dx : width - dx] = cv2.GC_PR_FGD
    for mark in (differing, middle):
        mark[:rim] = mark[-rim:] = mark[:, :rim] = mark[:, -rim:] = cv2.GC_BGD
        marks.append(mark)
    if subject is None:
        return marks
    if subject.box is not None:
        inside = _inside(subject.box, (height, width))
        marks = [
            np.where(inside, np.where(m == cv2.GC_BGD, cv2.GC_PR_FGD, m), cv2.GC_BGD).astype(np.uint8) for m in marks
        ]
    for mark in marks:
        for strokes, value in ((subject.keep, cv2.GC_FGD), (subject.drop, cv2.GC_BGD)):
            for stroke in strokes:
                _stroked(mark, stroke, int(value))
    return marks


def _stroked(mark: NDArray[np.uint8], stroke: tuple[tuple[float, float], ...], value: int) -> None:
    height, width = mark.shape
    thick = max(2, round(STROKE * max(height, width)))
    points = np.array([[round(x * width), round(y * height)] for x, y in stroke], np.int32)
    cv2.polylines(mark, [points.reshape(-1, 1, 2)], False, value, thick)


def _cut(image: NDArray[Any], seed: NDArray[np.uint8]) -> Mask:
    marks = seed.copy()
    if not ((marks == 1) | (marks == 3)).any() or not ((marks == 0) | (marks == 2)).any():
        return np.zeros(marks.shape, bool)
    cv2.setRNGSeed(7)  # the same picture gives the same contour
    bgr = np.ascontiguousarray(image[..., ::-1])
    cv2.grabCut(bgr, marks, (0, 0, 1, 1), np.zeros((1, 65)), np.zeros((1, 65)), ROUNDS, cv2.GC_INIT_WITH_MASK)
    return np.asarray((marks == cv2.GC_FGD) | (marks == cv2.GC_PR_FGD))


def _kept(mask: Mask, subject: Subject | None) -> Mask:
    """The largest part, parts a quarter as large or marked, their holes left out of account."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=8)
    if count <= 2:
        return mask
    areas = stats[1:, cv2.CC_STAT_AREA]
    keep = np.concatenate([[False], areas >= 0.25 * areas.max()])
    if subject is not None:
        marked = np.zeros(mask.shape, np.uint8)
        for stroke in subject.keep:
            _stroked(marked, stroke, 1)
        keep[np.unique(labels[(marked > 0) & mask])] = True
        keep[0] = False
    return np.asarray(keep[labels])


def _contrast(lab: Pixels, mask: Mask) -> float:
    """How strongly a mask's edge parts what is on its two sides: the difference of the local means over that and the
    spread about them, from 0 to 1."""
    inside = mask.astype(np.float32)
    window = (2 * max(3, round(0.02 * max(mask.shape))) + 1,) * 2
    edge = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8)) > 0
    if not edge.any():
        return 0.0
    means, spreads = [], []
    for side in (inside, 1 - inside):
        share = np.maximum(cv2.boxFilter(side, -1, window), 1e-4)[..., None]
        mean = cv2.boxFilter(lab * side[..., None], -1, window) / share
        square = cv2.boxFilter(lab * lab * side[..., None], -1, window) / share
        means.append(mean[edge])
        spreads.append(np.sqrt(np.maximum(square - mean * mean, 0)).sum(axis=-1)[edge])
    apart = np.linalg.norm(means[0] - means[1], axis=-1)
    rough = (spreads[0] + spreads[1]) / 2
    return float(np.mean(apart / (apart + rough + 4.0)) * 1.15)
