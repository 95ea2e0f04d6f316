"""How far letters reach over an edge for it to look straight, from their outlines.

A stem stands on the edge; what comes to a point, a curve or a bar (A, T, V, W, y, o) reaches over it by a share of the
room that it leaves beside itself (common practice: margins by eye; the share is our own).
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from nestline.fonts.library import Face
from nestline.outlines.path import flattened

SHARE, DEEPEST = 0.3, 0.15
"""Of the room beside a letter, on the mean over its height, what it reaches over; room counts so deep, in ems: the stem
of a d is no edge of it."""
LEVELS = 32
"""At how many heights a letter is looked at."""


@lru_cache(maxsize=5000)
def overhang(face: Face, glyph: int) -> tuple[float, float]:
    """How far a letter reaches over an edge at its left and at its right, in font units; never less than 0.

    What its outline stands away from its origin and its advance counts whole, so that a stem is on the edge itself.
    """
    contours = [c for c in flattened(face.outline(glyph), face.units_per_em / 400) if len(c) > 1]
    if not contours:
        return 0.0, 0.0
    points = np.concatenate(contours)
    (left, low), (right, high) = points.min(axis=0), points.max(axis=0)
    (x0, y0), (x1, y1) = (np.concatenate([c[part] for c in contours]).T for part in (slice(-1), slice(1, None)))
    rooms = []
    for y in low + (np.arange(LEVELS) + 0.5) / LEVELS * (high - low):
        crossed = (y0 > y) != (y1 > y)
        if crossed.any():
            x = (x0 + (y - y0) / np.where(crossed, y1 - y0, 1) * (x1 - x0))[crossed]
            rooms.append((x.min() - left, right - x.max()))
    if not rooms:
        return 0.0, 0.0
    advance = face.hb_font.get_glyph_h_advance(glyph)
    beside = SHARE * np.minimum(np.array(rooms), DEEPEST * face.units_per_em).mean(axis=0)
    return max(0.0, float(left + beside[0])), max(0.0, float(advance - right + beside[1]))
