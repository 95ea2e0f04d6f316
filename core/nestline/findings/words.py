"""Where the words of a nest stand on their page, and what they are drawn in."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.findings.finding import Box
from nestline.nesting.placed import PlacedNest

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class SetWords:
    """The words of a nest as they are set, a row each. `left`, `right`, `baseline` before the frame's turn; `ex` is the
    x-height, all in points; `look` indexes the looks of the copy."""

    placed: PlacedNest
    record: NDArray[np.int64]
    start: NDArray[np.int64]
    end: NDArray[np.int64]
    left: Floats
    right: Floats
    baseline: Floats
    ex: Floats
    size: Floats
    look: NDArray[np.int64]

    def __len__(self) -> int:
        return len(self.start)

    @cached_property
    def reach(self) -> Box:
        """The box round all of them, and what is looked at round them, on the page."""
        if not len(self):
            return 0.0, 0.0, 0.0, 0.0
        ex = self.ex
        left, right = float((self.left - ex / 2).min()), float((self.right + ex / 2).max())
        top, bottom = float((self.baseline - 1.5 * ex).min()), float((self.baseline + ex / 2).max())
        corners = [on_page(self.placed, (x, y)) for x in (left, right) for y in (top, bottom)]
        across, down = zip(*corners, strict=True)
        return min(across), min(down), max(across), max(down)

    def box(self, word: int) -> Box:
        """A word from its baseline to its x-height, on the page."""
        corners = [
            (float(x), float(y))
            for x in (self.left[word], self.right[word])
            for y in (self.baseline[word] - 1.4 * self.ex[word], self.baseline[word] + 0.4 * self.ex[word])
        ]
        across, down = zip(*(on_page(self.placed, corner) for corner in corners), strict=True)
        return min(across), min(down), max(across), max(down)

    def points(self, across: int, down: int, which: NDArray[np.int64] | None = None) -> Floats:
        """Points spread over words (all, or those of these numbers) and half an x-height round them, on the page, each
        in the middle of an equal part: words × points × 2."""
        x = ((np.arange(across) + 0.5) / across)[None, :, None]
        y = ((np.arange(down) + 0.5) / down)[None, None, :]
        chosen = np.arange(len(self)) if which is None else which
        ex, left, right, baseline = (
            of[chosen, None, None] for of in (self.ex, self.left - self.ex / 2, self.right + self.ex / 2, self.baseline)
        )
        shape = (len(chosen), across, down)
        xs = np.broadcast_to(left + (right - left) * x, shape)
        ys = np.broadcast_to(baseline - 1.5 * ex + 2 * ex * y, shape)
        found = np.stack([xs, ys], axis=-1).reshape(len(chosen), -1, 2)
        return found if self.placed.matrix is None else _turned(found, self.placed.matrix)


def _turned(points: Floats, matrix: tuple[float, ...]) -> Floats:
    a, b, c, d, e, f = matrix
    x, y = np.moveaxis(points, -1, 0)
    return np.stack([a * x + c * y + e, b * x + d * y + f], axis=-1)


def on_page(placed: PlacedNest, point: tuple[float, float]) -> tuple[float, float]:
    """A point of a nest on its page."""
    if placed.matrix is None:
        return point
    x, y = _turned(np.array(point), placed.matrix).tolist()
    return x, y


def set_words(placed: PlacedNest) -> SetWords:
    """The words of a nest, lines past the edge with them where these are drawn."""
    nest, segments = placed.nest, placed.nest.copy.segments
    drawn = nest.drawn
    hidden = nest.rules.ends == "with-the-last-line"
    kept = ~nest.past[drawn.record] if hidden and len(drawn.record) else np.ones(len(drawn.record), bool)
    record, segment = drawn.record[kept], drawn.segment[kept]
    start = np.maximum(segments.start[segment], nest.ranges[record, k.RANGE_START])
    end = np.minimum(segments.end[segment], nest.ranges[record, k.RANGE_END])
    c = nest.copy
    letters = np.maximum(c.letters[end] - c.letters[start] - 1, 0)
    left = drawn.x[kept]
    right = left + (c.x[end] - c.x[start]) * nest.factors[record] + letters * nest.tracks[record]
    look = segments.look[segment]
    sizes = np.array([look.size for _, look in segments.looks] or [0.0])
    exes = np.array([face.metrics.ex * look.size for face, look in segments.looks] or [0.0])
    return SetWords(
        placed, record, start, end, left, right, nest.records[record, k.BASELINE], exes[look], sizes[look], look
    )
