"""The letters of a drop cap, and how large they are drawn."""

from __future__ import annotations

import unicodedata
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from nestline.copy.breaks import HANGING_SPACES, MANDATORY, graphemes
from nestline.copy.stretches import Stretch
from nestline.copy.styles import Look, Rules
from nestline.fonts.library import FontLibrary

Floats = NDArray[np.float64]


def drop_letters(text: str, rules: Rules) -> tuple[int, int]:
    """Where a drop cap's letters end, and where the copy beside it begins; 0, 0 without one.

    A mark before the first letter (an opening quotation mark) drops with it.
    """
    if rules.drop_cap is None or not text.strip():
        return 0, 0
    ends = graphemes(text)
    wanted = rules.drop_cap.letters
    if len(ends) > 1 and unicodedata.category(text[0]).startswith("P"):
        wanted += 1
    end = ends[min(wanted, len(ends)) - 1]
    if end >= len(text.rstrip()) or text[0] in HANGING_SPACES:
        return 0, 0
    stop = end
    while stop < len(text) and text[stop] in HANGING_SPACES and text[stop] not in MANDATORY:
        stop += 1
    return end, stop


def drop_look(look: Look, rules: Rules, fonts: FontLibrary) -> Look:
    """A drop cap reaches from the cap height of its first line to the baseline of its last."""
    drop = rules.drop_cap
    assert drop is not None
    made = replace(
        look,
        font=drop.font or look.font,
        weight=drop.weight or look.weight,
        slope=drop.slope or look.slope,
        color=drop.color or look.color,
        underline=False,
        tracking=0.0,
    )
    base = rules.look.face(fonts)
    face = made.face(fonts)
    high = (drop.lines - 1) * rules.leading + base.metrics.cap * rules.size
    return replace(made, size=round(high / max(face.metrics.cap, 0.1), 4))


def drop_extent(stretches: list[Stretch], rules: Rules) -> tuple[float, float]:
    """The room that a drop cap takes beside its lines (its ink and its gap), and where its ink begins."""
    if not stretches or rules.drop_cap is None:
        return 0.0, 0.0
    pen, left, right = 0.0, 1e9, -1e9
    for stretch in stretches:
        for glyph, advance, offset in zip(
            stretch.glyphs.ids.tolist(),
            stretch.glyphs.advances.tolist(),
            stretch.glyphs.x_offsets.tolist(),
            strict=True,
        ):
            box = stretch.face.hb_font.get_glyph_extents(glyph)
            if box is not None and box.width:
                begin = pen + (offset + box.x_bearing) * stretch.scale
                left, right = min(left, begin), max(right, begin + box.width * stretch.scale)
            pen += advance * stretch.scale
    if right < left:
        left, right = 0.0, pen
    return right - left + rules.drop_cap.gap.points(rules.size), left
