"""Shaping by HarfBuzz, in font units."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import uharfbuzz as hb
from numpy.typing import NDArray

from nestline.fonts.library import Face

UNSAFE_TO_BREAK = int(hb.GlyphFlags.UNSAFE_TO_BREAK)
FLAGS_ALONE = (
    hb.BufferSerializeFlags.NO_GLYPH_NAMES
    | hb.BufferSerializeFlags.NO_POSITIONS
    | hb.BufferSerializeFlags.NO_CLUSTERS
    | hb.BufferSerializeFlags.GLYPH_FLAGS
)


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
    face: Face,
    text: str,
    start: int,
    end: int,
    language: str,
    script: str | None = None,
    tracked: bool = False,
    features: tuple[tuple[str, int], ...] = (),
    rtl: bool = False,
) -> Glyphs:
    """Shape text[start:end] in one face, seeing nothing outside that stretch (so that a line stands on its own).

    `features` are OpenType features by tag. Letters set apart are not joined: `tracked` leaves ligatures out (CSS Text
    3, 10.2 "letter-spacing").
    """
    buffer = hb.Buffer()
    buffer.add_codepoints(list(map(ord, text[start:end])))
    buffer.cluster_level = hb.BufferClusterLevel.MONOTONE_GRAPHEMES
    buffer.direction = "rtl" if rtl else "ltr"
    buffer.language = language
    if script:
        buffer.script = script
    buffer.guess_segment_properties()
    asked: dict[str, int | bool] = {"liga": False, "clig": False} if tracked else {}
    hb.shape(face.hb_font, buffer, {**asked, **dict(features)} or None)
    infos, positions = buffer.glyph_infos or [], buffer.glyph_positions or []
    return Glyphs(
        np.array([i.codepoint for i in infos], np.int32),
        np.array([i.cluster + start for i in infos], np.int32),
        np.array([p.x_advance for p in positions], np.int32),
        np.array([p.x_offset for p in positions], np.int32),
        np.array([p.y_offset for p in positions], np.int32),
        _unsafe(face.hb_font, buffer),
    )


def _unsafe(font: hb.Font, buffer: hb.Buffer) -> NDArray[np.bool_]:
    """Which glyphs are not to be parted from those before them. Read from what HarfBuzz writes of a buffer
    ("12|40#1|7"): to ask each glyph for its flags takes longer than all else."""
    written = buffer.serialize(font, format=hb.BufferSerializeFormat.TEXT, flags=FLAGS_ALONE)
    glyphs = written.strip("[]").split("|") if written else []
    return np.array(["#" in g and int(g.partition("#")[2], 16) & UNSAFE_TO_BREAK for g in glyphs], np.bool_)
