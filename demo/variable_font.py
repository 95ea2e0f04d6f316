"""A made-up variable font: a shipped one whose letters grow wider with its two axes, by known shares."""

from __future__ import annotations

import io
from functools import cache

from fontTools.fontBuilder import FontBuilder
from fontTools.ttLib import TTFont
from fontTools.ttLib.tables.TupleVariation import TupleVariation

from nestline.fonts.library import SHIPPED

FAMILY = "Kite Sans"
WEIGHTS, WIDTHS = (300.0, 800.0), (75.0, 125.0)
WIDER_AT_BOLDEST, WIDER_AT_WIDEST = 0.1, 0.25
"""How much wider letters are at the greatest weight and width; at the least width so much narrower."""


@cache
def variable_font() -> bytes:
    """Its letters are those of Lato at weight 300 (its default) and width 100; heavier ones are taller by a
    tenth, too."""
    font = TTFont(SHIPPED / "Lato-Regular.ttf", recalcTimestamp=False)
    for tag in ("GPOS", "GSUB", "GDEF", "kern", "DSIG", "fpgm", "prep", "cvt "):
        if tag in font:
            del font[tag]
    for name in font["name"].names:
        if name.nameID in (1, 16):
            font["name"].setName(FAMILY, name.nameID, name.platformID, name.platEncID, name.langID)
    builder = FontBuilder(font=font)
    builder.setupFvar([("wght", 300, 300, 800, "Weight"), ("wdth", 75, 100, 125, "Width")], [])
    glyf, metrics = font["glyf"], font["hmtx"]

    def moved(name: str, wider: float, taller: float) -> list[tuple[int, int]]:
        points, _ = glyf._getCoordinatesAndControls(name, metrics.metrics)
        return [(round(wider * x), round(taller * y)) for x, y in points[:-4]] + [
            (0, 0),
            (round(wider * metrics[name][0]), 0),
            (0, 0),
            (0, 0),
        ]

    variations = {
        name: [
            TupleVariation({"wght": (0, 1, 1)}, moved(name, WIDER_AT_BOLDEST, 0.1)),
            TupleVariation({"wdth": (0, 1, 1)}, moved(name, WIDER_AT_WIDEST, 0)),
            TupleVariation({"wdth": (-1, -1, 0)}, moved(name, -WIDER_AT_WIDEST, 0)),
        ]
        for name in font.getGlyphOrder()
    }
    builder.setupGvar(variations)
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()
