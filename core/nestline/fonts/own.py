"""Fonts that users bring: checked, and kept as plain font files, one for each weight and slope.

TTF, OTF, WOFF and WOFF2; a variable font stays one that varies in weight and width.
"""

from __future__ import annotations

import io
from dataclasses import dataclass

from fontTools.ttLib import TTFont

from nestline.errors import NestLineError
from nestline.fonts.varying import without_other_axes

MOST_BYTES = 20_000_000
SIGNATURES = (b"\x00\x01\x00\x00", b"OTTO", b"true", b"wOFF", b"wOF2")


class BadFont(NestLineError):
    """The file is no font that can be used."""

    code = "bad-font"


@dataclass(frozen=True)
class OwnFace:
    """A font file of one slope, and of one weight unless it varies."""

    family: str
    weight: int
    slope: str
    content: bytes
    may_embed: bool
    varies: bool = False


def read_own_font(content: bytes) -> OwnFace:
    """The face of a font file. Raises BadFont."""
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
        return _face(without_other_axes(font) if "fvar" in font else font, family)
    except BadFont:
        raise
    except Exception as error:  # the parser raises many kinds for broken files
        raise BadFont(f"the font is broken and cannot be read ({type(error).__name__})") from None


def _face(font: TTFont, family: str) -> OwnFace:
    os2 = font["OS/2"]
    italic = bool(os2.fsSelection & 1) or bool(font["head"].macStyle & 2)
    font.flavor = None
    out = io.BytesIO()
    font.save(out, reorderTables=False)
    weight = min(1000, max(1, int(os2.usWeightClass or 400)))
    return OwnFace(
        family[:120], weight, "italic" if italic else "normal", out.getvalue(), not os2.fsType & 0x0002, "fvar" in font
    )
