"""The letters of a nest: glyph ids with positions, as every output draws them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nestline.copy.breaks import MANDATORY
from nestline.copy.shaped import Stretch, hyphen_of
from nestline.fonts.shaping import shape
from nestline.nesting import kernel as k
from nestline.nesting.frame import FrameNest


@dataclass(frozen=True, eq=False)
class GlyphRun:
    """Glyphs of one look on one line. Positions in points: `x` of each glyph's origin, `y` upwards from the baseline.

    `clusters` index code points of `text`, the paragraph's text; a `hyphen` set at the line's end stands in it at the
    last place before `end`.
    """

    record: int
    stretch: Stretch
    text: str
    start: int
    end: int
    ids: NDArray[np.int32]
    clusters: NDArray[np.int32]
    x: NDArray[np.float64]
    y: NDArray[np.float64]
    advances: NDArray[np.float64]
    hyphen: bool


def glyph_runs(nest: FrameNest) -> Iterator[GlyphRun]:
    """Every line's glyphs, shaped as the line stands, in the copy's order."""
    copy = nest.copy
    for number in range(len(nest.records)):
        paragraph_index = int(copy.pieces[int(nest.records[number, k.FIRST]), k.PARAGRAPH])
        paragraph = copy.paragraphs[paragraph_index]
        base = int(copy.offset[paragraph_index])
        start, end = (int(v) - base for v in nest.ranges[number])
        stop = int(copy.piece_end[int(nest.records[number, k.LAST])]) - base
        hyphenated = bool(nest.hyphens[number])
        more = float(nest.space_more[number])
        pen = float(nest.left[number])
        for stretch in paragraph.stretches:
            a, b = max(start, stretch.start), min(end, stretch.end)
            while a < b and paragraph.text[b - 1] in MANDATORY:
                b -= 1
            if a >= b:
                continue
            text = paragraph.text
            hyphen = hyphenated and b == end
            if hyphen:
                text = text[:b] + hyphen_of(stretch.face)
                b = stop = b + 1
            # The spaces that hang past the line's end are shaped with it, and not drawn.
            shaped_to = b if hyphen else max(b, min(stop, stretch.end))
            language, script = paragraph.rules.language, stretch.script
            glyphs = shape(stretch.face, text, a, shaped_to, language, script, not stretch.look.joined).before(b)
            spaces = np.array([text[c] in " \u00a0" for c in glyphs.clusters])
            cluster_ends = np.append(glyphs.clusters[1:] != glyphs.clusters[:-1], True)
            tracking = stretch.look.tracking + float(nest.tracks[number])
            advances = glyphs.advances * stretch.scale + spaces * more + cluster_ends * tracking
            x = pen + np.concatenate([[0.0], np.cumsum(advances)[:-1]]) + glyphs.x_offsets * stretch.scale
            yield GlyphRun(
                number, stretch, text, a, b, glyphs.ids, glyphs.clusters, x,
                (glyphs.y_offsets * stretch.scale).astype(np.float64), advances, hyphen,
            )  # fmt: skip
            pen += float(advances.sum())
