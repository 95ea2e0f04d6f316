"""Fonts that users bring: checked, and made into plain font files, one for each weight and slope.

TTF, OTF, WOFF and WOFF2; a variable font becomes a file for each of its named weights.
"""

from __future__ import annotations

import io
from dataclasses import dataclass

from fontTools.ttLib import TTFont
from fontTools.ttLib.tables._f_v_a_r import table__f_v_a_r
from fontTools.varLib import instancer

from nestline.errors import NestLineError

MOST_BYTES = 20_000_000
MOST_INSTANCES = 9
SIGNATURES = (b"\x00\x01\x00\x00", b"OTTO", b"true", b"wOFF", b"wOF2")


class BadFont(NestLineError):
    """The file is no font that can be used."""


@dataclass(frozen=True)
class OwnFace:
    """A plain font file of one weight and slope."""

    family: str
    weight: int
    slope: str
    content: bytes
    may_embed: bool


def read_own_font(content: bytes) -> list[OwnFace]:
    """The faces of a font file. Raises BadFont."""
    if len(content) > MOST_BYTES:
        raise BadFont(f"the font is larger than {MOST_BYTES // 1_000_000} MB")
    if content[:4] == b"ttcf":
        raise BadFont("this is a collection of fonts; bring its fonts one by one")
    if content[:4] not in SIGNATURES:
        raise BadFont("this is not a font file; bring TTF, OTF, WOFF or WOFF2")
    try:
        font = TTFont(io.BytesIO(content), recalcTimestamp=False)
        for tag in ("cmap", "head", "hhea", "hmtx", "maxp", "name", "OS/2", "post"):
            if tag not in font:
                raise BadFont(f"the font lacks its table “{tag}” and cannot be used")
            _ = font[tag]
        if "glyf" not in font and "CFF " not in font and "CFF2" not in font:
            raise BadFont("the font has no outlines (a bitmap font); it cannot be used")
        if not font.getBestCmap():
            raise BadFont("the font says for no letter which glyph draws it")
        family = font["name"].getBestFamilyName() or "Unnamed"
        return [_face(one, family) for one in _instances(font)]
    except BadFont:
        raise
    except Exception as error:  # the parser raises many kinds for broken files
        raise BadFont(f"the font is broken and cannot be read ({type(error).__name__})") from None


def _instances(font: TTFont) -> list[TTFont]:
    if "fvar" not in font:
        return [font]
    table: table__f_v_a_r = font["fvar"]
    axes = {axis.axisTag: axis for axis in table.axes}
    pinned = {tag: axis.defaultValue for tag, axis in axes.items()}
    weights: list[float] = [pinned.get("wght", 400)]
    if "wght" in axes:
        low, high = axes["wght"].minValue, axes["wght"].maxValue
        named = sorted({i.coordinates.get("wght", pinned["wght"]) for i in table.instances})
        weights = [w for w in named if low <= w <= high][:MOST_INSTANCES] or weights
    made = []
    for weight in weights:
        fresh = io.BytesIO()
        font.save(fresh)
        fresh.seek(0)
        at = {**pinned, **({"wght": weight} if "wght" in axes else {})}
        one = instancer.instantiateVariableFont(TTFont(fresh, recalcTimestamp=False), at, inplace=True)
        one["OS/2"].usWeightClass = round(weight)
        made.append(one)
    return made


def _face(font: TTFont, family: str) -> OwnFace:
    os2 = font["OS/2"]
    italic = bool(os2.fsSelection & 1) or bool(font["head"].macStyle & 2)
    font.flavor = None
    out = io.BytesIO()
    font.save(out, reorderTables=False)
    weight = min(1000, max(1, int(os2.usWeightClass or 400)))
    return OwnFace(family[:120], weight, "italic" if italic else "normal", out.getvalue(), not os2.fsType & 0x0002)
