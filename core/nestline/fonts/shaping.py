"""Shaping by HarfBuzz, in font units."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import uharfbuzz as hb
from numpy.typing import NDArray

from nestline.fonts.library import Face

UNSAFE_TO_BREAK = int(hb.GlyphFlags.UNSAFE_TO_BREAK)


@dataclass(frozen=True, eq=False)
class Glyphs:
    """A shaped stretch of text in one direction, its glyphs from left to right, in font units.

    `clusters` are the indices of the code points (in the text that was given) that the glyphs stand for.
    """

    ids: NDArray[np.int32]
    clusters: NDArray[np.int32]
    advances: NDArray[np.int32]
    x_offsets: NDArray[np.int32]
    y_offsets: NDArray[np.int32]
    unsafe: NDArray[np.bool_]

    @property
    def width(self) -> int:
        return int(self.advances.sum())

    def before(self, end: int) -> Glyphs:
        """Those that stand for code points before `end`."""
        if not len(self.clusters) or self.clusters.max() < end:
            return self
        keep = self.clusters < end
        return Glyphs(
            self.ids[keep],
            self.clusters[keep],
            self.advances[keep],
            self.x_offsets[keep],
            self.y_offsets[keep],
            self.unsafe[keep],
        )


def shape(
    face: Face, text: str, start: int, end: int, language: str, script: str | None = None, tracked: bool = False,
    features: tuple[tuple[str, int], ...] = (), rtl: bool = False,
) -> Glyphs:  # fmt: skip
    """Shape text[start:end] in one face, seeing nothing outside that stretch (so that a line stands on its own).

    `features` are OpenType features by tag. Letters set apart are not joined: `tracked` leaves ligatures out (CSS Text 3, 10.2 "letter-spacing").
    """
    buffer = hb.Buffer()
    buffer.add_codepoints([ord(c) for c in text[start:end]])
    buffer.cluster_level = hb.BufferClusterLevel.MONOTONE_GRAPHEMES
    buffer.direction = "rtl" if rtl else "ltr"
    buffer.language = language
    if script:
        buffer.script = script
    buffer.guess_segment_properties()
    asked: dict[str, int | bool] = {"liga": False, "clig": False} if tracked else {}
    hb.shape(face.hb_font, buffer, {**asked, **dict(features)} or None)
    infos, positions = buffer.glyph_infos or [], buffer.glyph_positions or []
    n = len(infos)
    table = np.array(
        [
            (i.codepoint, i.cluster, p.x_advance, p.x_offset, p.y_offset, int(i.flags) & UNSAFE_TO_BREAK)
            for i, p in zip(infos, positions, strict=True)
        ],
        dtype=np.int32,
    ).reshape(n, 6)
    ids, clusters, advances, x_offsets, y_offsets, unsafe = table.T
    return Glyphs(ids, clusters + start, advances, x_offsets, y_offsets, unsafe != 0)
