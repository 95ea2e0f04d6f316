"""The subject of a picture on a plain background, as a mask.

The background is modelled from the picture's border: a smooth colour field in Lab, fitted robustly. What differs from
it is the subject; a mild darkening without a change of hue counts as its shadow. The edge is then refined at full size:
each pixel near it goes to the side whose local mean it is nearer to, the 50 % level between inside and outside.
"""

from __future__ import annotations

from collections.abc import Generator
from typing import Any, TypeVar

import cv2
import numpy as np
from numpy.typing import NDArray

from nestline.errors import NestLineError
from nestline.pictures.files import PictureFile

T = TypeVar("T")
Mask = NDArray[np.bool_]
Pixels = NDArray[np.float32]

MODEL_PX = 1000
"""The longer side at which the background is modelled."""
BORDER = 0.03
"""The border's width, as a share of the shorter side."""
COLOUR, SHADE = 7.0, 30.0
"""How far in chroma, and in lightness alone, something differs that is no shadow (CIELAB units, threshold 0.5)."""
LIGHTER = 5.0
SMALLEST = 2e-4
"""The smallest part that counts, as a share of the picture."""
TILE = 1024
"""The side of the pieces in which a picture is refined, in pixels."""
BAND = 5
"""How far about the rough edge it is refined, in pixels of the full picture at the model's scale."""


def plain_mask(picture: PictureFile, threshold: float = 0.5) -> Generator[float, None, Mask]:
    """The pixels of the subject; yields how far it has come. A lower threshold takes fainter differences in. Raises
    NestLineError when the border is not plain, or nothing differs from it."""
    image: NDArray[Any] = np.asarray(picture.decoded().convert("RGB"))
    yield 0.3
    height, width = image.shape[:2]
    scale = min(1.0, MODEL_PX / max(height, width))
    size = (max(8, round(width * scale)), max(8, round(height * scale)))
    small: NDArray[Any] = cv2.resize(image, size, interpolation=cv2.INTER_AREA) if scale < 1 else image
    lab = lab_of(small)
    background, spread = background_of(lab)
    if spread > PLAIN:
        raise NestLineError(
            "the picture's background is not plain enough to find its subject; find it on a busy one, mark it, or wrap "
            "by “box” or “outline”"
        )
    rough = _differs(lab - background, spread, threshold)
    rough = cleaned(rough)
    yield 0.5
    if not rough.any():
        raise NestLineError("nothing in the picture differs from its background; lower the contour's threshold")
    if rough.mean() > 0.98:
        raise NestLineError("all of the picture differs from its border; raise the contour's threshold")
    return (yield from refine(image, rough, scale, 0.5, 0.9))


CERTAIN_PX, PLAIN = 400, 12.0
"""The longer side at which certainty is judged; how far a plain border may stray from its colour (CIELAB units)."""


def certainty(picture: PictureFile, threshold: float = 0.5) -> float:
    """How sure a subject on a plain background is, from 0 to 1: how far it stays the same when somewhat fainter and
    only somewhat stronger differences count. 0 where the border is not plain or nothing differs from it."""
    image: NDArray[Any] = np.asarray(picture.decoded().convert("RGB"))
    height, width = image.shape[:2]
    scale = min(1.0, CERTAIN_PX / max(height, width))
    size = (max(8, round(width * scale)), max(8, round(height * scale)))
    lab = lab_of(cv2.resize(image, size, interpolation=cv2.INTER_AREA))
    background, spread = background_of(lab)
    if spread > PLAIN:
        return 0.0
    masks = [cleaned(_differs(lab - background, spread, threshold * by)) for by in (0.7, 1.0, 1.5)]
    if not all(mask.any() for mask in masks) or masks[1].mean() > 0.98:
        return 0.0
    same = np.logical_and.reduce(masks).sum() / np.logical_or.reduce(masks).sum()
    return float(same)


PAPER_L, PAPER_CHROMA = 93.0, 5.0
"""How light, and how near to grey, a border is that is like paper (CIELAB units)."""


def on_paper(picture: PictureFile) -> bool:
    """Whether a picture's border is like paper: nearly white all round."""
    small = picture.decoded().convert("RGB")
    small.thumbnail((CERTAIN_PX, CERTAIN_PX))
    background, spread = background_of(lab_of(np.asarray(small)))
    light, chroma = background[..., 0], np.hypot(background[..., 1], background[..., 2])
    return bool(spread <= PLAIN and light.min() >= PAPER_L and chroma.max() <= PAPER_CHROMA)


def lab_of(image: NDArray[Any]) -> Pixels:
    return np.asarray(cv2.cvtColor(image.astype(np.float32) / 255, cv2.COLOR_RGB2LAB), dtype=np.float32)


def _terms(height: int, width: int) -> Pixels:
    """The terms of a smooth field: a polynomial of the second degree in x and y."""
    y, x = np.mgrid[-1 : 1 : height * 1j, -1 : 1 : width * 1j].astype(np.float32)
    return np.stack([np.ones_like(x), x, y, x * y, x * x, y * y], axis=-1)


def background_of(lab: Pixels) -> tuple[Pixels, float]:
    """The background's colour everywhere, and how far its border strays from that (a robust standard deviation)."""
    height, width = lab.shape[:2]
    strip = max(2, round(BORDER * min(height, width)))
    border = np.zeros((height, width), dtype=bool)
    border[:strip] = border[-strip:] = border[:, :strip] = border[:, -strip:] = True
    terms = _terms(height, width)
    a, b = terms[border], lab[border]
    weight = np.ones(len(a), dtype=np.float32)
    # What leans on the border is no background: begin with what is near its median.
    far = np.linalg.norm(b - np.median(b, axis=0), axis=1)
    weight[far > max(8.0, 3 * float(np.median(far)))] = 0
    for _ in range(6):
        fit, *_ = np.linalg.lstsq(a * weight[:, None], b * weight[:, None], rcond=None)
        off = np.linalg.norm(b - a @ fit, axis=1)
        sigma = max(0.5, 1.4826 * float(np.median(off[weight > 0])))
        weight = (off < 3.5 * sigma).astype(np.float32)
        if not weight.any():
            break
    return (terms @ fit).astype(np.float32), 1.4826 * float(np.median(off))


def _differs(difference: Pixels, spread: float, threshold: float) -> Mask:
    """Where a picture differs from its background by more than noise and shadow."""
    smooth = cv2.GaussianBlur(difference, (0, 0), 0.8)
    by = 2 * max(threshold, 0.02)
    chroma = np.hypot(smooth[..., 1], smooth[..., 2])
    lighter = smooth[..., 0]
    floor = 2.5 * spread
    colour = chroma > max(COLOUR * by, floor)
    return np.asarray(colour | (lighter > max(LIGHTER * by, floor)) | (-lighter > max(SHADE * by, floor)), dtype=bool)


def cleaned(mask: Mask) -> Mask:
    """Specks taken out, cracks closed, parts that matter kept."""
    pixels: NDArray[Any] = mask.astype(np.uint8)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (3, 3))
    pixels = cv2.morphologyEx(cv2.morphologyEx(pixels, cv2.MORPH_CLOSE, disc), cv2.MORPH_OPEN, disc)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(pixels, connectivity=8)
    keep = np.zeros(count, dtype=bool)
    keep[1:] = stats[1:, cv2.CC_STAT_AREA] >= SMALLEST * mask.size
    return np.asarray(keep[labels], dtype=bool)


def refined(image: NDArray[Any], rough: Mask, scale: float) -> Mask:
    """The rough mask at the picture's own size, its edge where the colour is half-way between inside and outside."""
    return run_through(refine(image, rough, scale))


def run_through(steps: Generator[float, None, T]) -> T:
    """What a generator that tells how far it has come comes to."""
    try:
        while True:
            next(steps)
    except StopIteration as end:
        return end.value  # type: ignore[no-any-return]


def refine(
    image: NDArray[Any], rough: Mask, scale: float, begun: float = 0.0, done: float = 1.0
) -> Generator[float, None, Mask]:
    """As `refined`; yields how far it has come, on the way from `begun` to `done`. Piece by piece, and only where the
    edge is: a large picture takes little room."""
    height, width = image.shape[:2]
    full: NDArray[Any] = cv2.resize(rough.astype(np.uint8), (width, height), interpolation=cv2.INTER_LINEAR)
    reach = max(2, round(BAND / scale / 2))
    out = full.astype(bool)
    edge = cv2.morphologyEx(rough.astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8)) > 0
    # The edge may lie two pixels of the rough mask from where it shows there, and is looked for `reach` about that.
    apart, around = reach + round(2 / scale), 4 * reach + 1
    for top in range(0, height, TILE):
        yield begun + (done - begun) * top / height
        for left in range(0, width, TILE):
            bottom, right = min(top + TILE, height), min(left + TILE, width)
            rows = slice(max(0, int((top - apart) * scale)), int((bottom + apart) * scale) + 1)
            columns = slice(max(0, int((left - apart) * scale)), int((right + apart) * scale) + 1)
            if not edge[rows, columns].any():
                continue
            up, before = max(0, top - around), max(0, left - around)
            part = np.s_[up : bottom + around, before : right + around]
            found = _refined_part(image[part], full[part], reach)
            out[top:bottom, left:right] = found[top - up : bottom - up, left - before : right - before]
    # Single pixels of noise at the edge go with their neighbours.
    return np.asarray(cv2.medianBlur(out.astype(np.uint8), 3), dtype=bool)


def _refined_part(image: NDArray[Any], full: NDArray[Any], reach: int) -> Mask:
    """A piece of a picture refined, the mask being moved by `reach` pixels at most."""
    out = full.astype(bool)
    inner = cv2.distanceTransform(np.pad(full, 1, mode="edge"), cv2.DIST_L2, 5)[1:-1, 1:-1] > reach
    outer = cv2.distanceTransform(np.pad(1 - full, 1, mode="edge"), cv2.DIST_L2, 5)[1:-1, 1:-1] <= reach
    band = outer & ~inner
    pixels = image.astype(np.float32)
    window = (6 * reach + 1, 6 * reach + 1)
    sides = []
    for mask in (inner, ~outer):
        share = cv2.boxFilter(mask.astype(np.float32), -1, window, borderType=cv2.BORDER_REPLICATE)
        total = cv2.boxFilter(pixels * mask[..., None], -1, window, borderType=cv2.BORDER_REPLICATE)
        sides.append((total, share))
    (in_total, in_share), (out_total, out_share) = sides
    known = band & (in_share > 1e-4) & (out_share > 1e-4)
    inside = in_total[known] / in_share[known][:, None]
    outside = out_total[known] / out_share[known][:, None]
    way = inside - outside
    along = np.einsum("ij,ij->i", pixels[known] - outside, way) / np.maximum(np.einsum("ij,ij->i", way, way), 1e-6)
    out[known] = along >= 0.5
    return out
