"""The font library: faces by family, weight and slope, with their metrics.

The families in `shipped/` come with the application, each under the SIL Open Font License (see `shipped/licences`).
"""

from __future__ import annotations

import logging
from collections import OrderedDict
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from pathlib import Path

import uharfbuzz as hb
from fontTools.pens.recordingPen import RecordingPen
from fontTools.ttLib import TTFont

from nestline.errors import NestLineError
from nestline.fonts.varying import NORMAL_WIDTH, WEIGHT, Axes, axes_of, pinned
from nestline.outlines.path import Path as Path_
from nestline.outlines.path import from_recording
from nestline.remembering import remember

logging.getLogger("fontTools").setLevel(logging.ERROR)

SHIPPED = Path(__file__).parent / "shipped"

_STYLES = {
    "Regular": (400, "normal"),
    "Italic": (400, "italic"),
    "Bold": (700, "normal"),
    "BoldItalic": (700, "italic"),
}
_FAMILIES = {
    "EBGaramond": "EB Garamond",
    "Vollkorn": "Vollkorn",
    "SourceSans3": "Source Sans 3",
    "Lato": "Lato",
    "Oswald": "Oswald",
    "AbrilFatface": "Abril Fatface",
    "LeagueSpartan": "League Spartan",
    "NotoSerifHebrew": "Noto Serif Hebrew",
    "NotoNaskhArabic": "Noto Naskh Arabic",
}

FALLBACKS = ("EB Garamond", "Source Sans 3", "Noto Serif Hebrew", "Noto Naskh Arabic")
"""Where a letter that a font lacks is looked for, in this order; then in all other families."""

DEFAULT_FAMILY = "EB Garamond"


class FontError(NestLineError):
    """There is no font of a family's name."""

    code = "font"

    def __init__(self, family: str, families: Iterable[str]) -> None:
        super().__init__(f"there is no font “{family}”; fonts are: {', '.join(families)}")
        self.family = family


@dataclass(frozen=True)
class Metrics:
    """Heights above the baseline (depths below it, positive) in ems.

    `ascent` and `descent` are those of the line box (hhea, or OS/2 typo when the font asks for it, CSS Inline 3);
    `ascender` and `descender` are those of the letters themselves: the tallest of b d f h k l, the deepest of
    g j p q y; `cap` and `ex` are OS/2 sCapHeight and sxHeight, or the heights of H and x. `underline_at` is where an
    underline's middle is below the baseline (the post table).
    """

    ascent: float
    descent: float
    ascender: float
    descender: float
    cap: float
    ex: float
    underline_at: float = 0.1
    underline_thickness: float = 0.05


@dataclass(frozen=True, eq=False)
class Face:
    """One font file; a variable one at one weight and width (`at`, by the tags of its axes)."""

    key: str
    family: str
    weight: int
    slope: str
    path: Path
    metrics: Metrics = field(repr=False)
    units_per_em: int
    cff: bool
    may_embed: bool = True
    """Whether its maker lets it go out with a document (OS/2 fsType)."""
    axes: Axes = Axes()
    at: tuple[tuple[str, float], ...] = ()

    @cached_property
    def hb_font(self) -> hb.Font:
        """The HarfBuzz font, scaled in font units."""
        return _hb_font(self.path, dict(self.at))

    def has(self, letter: str) -> bool:
        """Whether the font draws a letter."""
        return bool(self.hb_font.get_nominal_glyph(ord(letter)))

    def outline(self, glyph: int) -> Path_:
        """A glyph's outline in font units, y upwards."""
        found = self._outlines.get(glyph)
        if found is None:
            pen = RecordingPen()
            self.hb_font.draw_glyph_with_pen(glyph, pen)
            found = self._outlines[glyph] = from_recording(pen)
        return found

    @cached_property
    def _outlines(self) -> dict[int, Path_]:
        return {}

    def open(self) -> TTFont:
        """Its file, as it is."""
        return TTFont(self.path, recalcTimestamp=False)

    def plain(self, font: TTFont) -> TTFont:
        """What was opened (and made smaller), as a plain font of this weight and width."""
        return pinned(font, dict(self.at)) if self.at else font


def _hb_font(path: Path, at: dict[str, float]) -> hb.Font:
    font = hb.Font(hb.Face(hb.Blob.from_file_path(str(path))))
    if at:
        font.set_variations(at)
    return font


def read_face(path: Path, family: str, weight: int, slope: str, width: float = NORMAL_WIDTH) -> Face:
    """A face from its file, its metrics measured; a variable one at a weight and width."""
    with TTFont(path, lazy=True) as font:
        em = font["head"].unitsPerEm
        os2, hhea = font["OS/2"], font["hhea"]
        typo = bool(os2.fsSelection & 128)
        ascent = os2.sTypoAscender if typo else hhea.ascent
        descent = -os2.sTypoDescender if typo else -hhea.descent
        axes = axes_of(font)
        at = axes.at(weight, width)
        shaper = _hb_font(path, at)

        def heights(letters: str) -> list[tuple[float, float]]:
            ids = [shaper.get_nominal_glyph(ord(letter)) for letter in letters]
            boxes = [shaper.get_glyph_extents(i) for i in ids if i]
            return [(b.y_bearing, -b.y_bearing - b.height) for b in boxes if b]

        said = (0, 0) if at else (getattr(os2, "sCapHeight", 0), getattr(os2, "sxHeight", 0))
        cap = said[0] or max((h for h, _ in heights("H")), default=0.7 * em)
        ex = said[1] or max((h for h, _ in heights("x")), default=0.5 * em)
        ascender = max((h for h, _ in heights("bdfhkl")), default=ascent)
        descender = max((d for _, d in heights("gjpqy")), default=descent)
        post = font["post"]
        thickness = max(float(post.underlineThickness), 0.03 * em)
        under = max(-float(post.underlinePosition), 1.2 * thickness)
        heights_ = (ascent, descent, ascender, descender, cap, ex, under, thickness)
        metrics = Metrics(*(v / em for v in heights_))
        weight = round(at.get(WEIGHT, weight))
        cff = "CFF " in font or "CFF2" in font
        may_embed = not os2.fsType & 0x0002
        return Face(
            path.stem, family, weight, slope, path, metrics, em, cff, may_embed, axes, tuple(sorted(at.items()))
        )


MOST_INSTANCES = 100
"""Variable faces that a library keeps at weights and widths of their own."""


class FontLibrary:
    """Families of faces; a weight or slope that a family lacks is answered by its nearest face.

    A library that `stands_in` answers for a family that is not there by DEFAULT_FAMILY: a document is not refused for a
    font that its owner does not have, and what stands in is said (`has_family`).
    """

    def __init__(self, faces: list[Face], stands_in: bool = False) -> None:
        self.stands_in = stands_in
        self.faces = {face.key: face for face in faces}
        self._families: dict[str, list[Face]] = {}
        self._fallbacks: dict[tuple[str, str], Face] = {}
        self._instances: OrderedDict[str, Face] = OrderedDict()
        for face in faces:
            self._families.setdefault(face.family, []).append(face)

    @property
    def families(self) -> list[str]:
        return list(self._families)

    def has_family(self, family: str) -> bool:
        return family in self._families

    def check_family(self, family: str) -> None:
        """Raises FontError when there is no such family."""
        if not self.has_family(family):
            raise FontError(family, self._families)

    def face(self, family: str, weight: int = 400, slope: str = "normal", width: float = NORMAL_WIDTH) -> Face:
        """The nearest face of a family. Raises FontError when there is no such family, and nothing stands in.

        A variable face is taken at the weight and the width (per cent of the normal one), as near as its axes go.
        """
        if self.stands_in and not self.has_family(family):
            family = DEFAULT_FAMILY
        self.check_family(family)
        faces = self._families[family]
        found = min(faces, key=lambda f: (f.slope != slope, abs(f.weight - weight), f.weight))
        return self._varied(found, weight, width) if found.at else found

    def _varied(self, face: Face, weight: float, width: float) -> Face:
        weight, width = round(weight), round(width, 1)
        if face.axes.at(weight, width) == dict(face.at):
            return face
        key = f"{face.key}-w{weight}-d{width:g}"
        if (known := self._instances.get(key)) is None:
            known = replace(read_face(face.path, face.family, weight, face.slope, width), key=key)
            remember(self._instances, key, known, MOST_INSTANCES)
        return known

    def fallback(self, letter: str, instead_of: Face) -> Face:
        """The first face that draws a letter which another lacks, of its weight and slope; that face when none does."""
        key = (letter, instead_of.key)
        if key not in self._fallbacks:
            families = [*FALLBACKS, *(f for f in self._families if f not in FALLBACKS)]
            asked = (instead_of.weight, instead_of.slope)
            faces = (self.face(f, *asked) for f in families if f in self._families)
            self._fallbacks[key] = next((f for f in faces if f.has(letter)), instead_of)
        return self._fallbacks[key]


@lru_cache(maxsize=1)
def shipped_fonts() -> FontLibrary:
    """The families that come with the application."""
    faces = []
    for stem, family in _FAMILIES.items():
        for style, (weight, slope) in _STYLES.items():
            for path in SHIPPED.glob(f"{stem}-{style}.?tf"):
                faces.append(read_face(path, family, weight, slope))
    return FontLibrary(faces)
