"""Fonts for a PDF: each face embedded as a subset, its glyphs by their own ids (Identity-H)."""

from __future__ import annotations

import hashlib
import io
from dataclasses import dataclass, field

import pikepdf
from fontTools import subset
from fontTools.ttLib import TTFont
from pikepdf import Array, Dictionary, Name

from nestline.fonts.library import Face

REGISTRY = bytes.fromhex("41646f6265")
"""The registry that ISO 32000-2, 9.7.3 prescribes for fonts whose glyphs are named by their own ids."""

_TRUETYPE_TABLES = ("glyf", "loca", "head", "hhea", "hmtx", "maxp", "cvt ", "fpgm", "prep")


@dataclass(eq=False)
class PdfFont:
    """The glyphs of one face that a PDF uses, and the copy each stands for."""

    face: Face
    name: str
    advances: dict[int, int] = field(default_factory=dict)
    text_of: dict[int, str] = field(default_factory=dict)

    def means(self, glyph: int, advance: int, text: str) -> bool:
        """Note a glyph; whether reading it back by its id alone will give `text`."""
        self.advances[glyph] = advance
        return self.text_of.setdefault(glyph, text) == text

    def embedded(self, pdf: pikepdf.Pdf) -> Dictionary:
        """The Type 0 font with its subset font file."""
        font = self.face.open()
        names = font.getGlyphOrder()
        # What only shaping needs is not read at all: reading it takes longer than everything else.
        for table in ("GSUB", "GPOS", "GDEF", "BASE", "kern", "DSIG"):
            if table in font:
                del font[table]
        used = sorted(self.advances)
        unneeded = ["GSUB", "GPOS", "GDEF", "post", "DSIG", "BASE", "kern"]
        if not self.face.at:  # what varies is made plain with them
            unneeded += ["name", "cmap", "OS/2"]
        options = subset.Options(
            retain_gids=True,
            notdef_outline=True,
            glyph_names=False,
            hinting=True,
            layout_features=[],
            drop_tables=unneeded,
            recalc_timestamp=False,
            name_IDs=[],
            legacy_cmap=False,
        )
        subsetter = subset.Subsetter(options)
        subsetter.populate(glyphs=[names[g] for g in used])
        subsetter.subset(font)
        font = self.face.plain(font)
        scale = 1000 / self.face.units_per_em
        tag = hashlib.sha256(f"{self.face.key}:{used}".encode()).digest()
        prefix = "".join(chr(65 + b % 26) for b in tag[:6])
        base = Name(f"/{prefix}+{self.face.key}")
        file, key = self._file(pdf, font)
        head = font["head"]
        metrics = self.face.metrics
        descriptor = pdf.make_indirect(
            Dictionary(
                Type=Name.FontDescriptor,
                FontName=base,
                Flags=4,
                ItalicAngle=-10 if self.face.slope == "italic" else 0,
                FontBBox=Array([round(v * scale) for v in (head.xMin, head.yMin, head.xMax, head.yMax)]),
                Ascent=round(metrics.ascent * 1000),
                Descent=-round(metrics.descent * 1000),
                CapHeight=round(metrics.cap * 1000),
                StemV=80,
            )
        )
        descriptor[key] = file
        widths = Array()
        for glyph in used:
            widths.append(glyph)
            widths.append(Array([round(self.advances[glyph] * scale, 3)]))
        descendant = Dictionary(
            Type=Name.Font,
            Subtype=Name.CIDFontType0 if self.face.cff else Name.CIDFontType2,
            BaseFont=base,
            CIDSystemInfo=Dictionary(Registry=REGISTRY, Ordering=b"Identity", Supplement=0),
            FontDescriptor=descriptor,
            W=widths,
            DW=0,
        )
        if not self.face.cff:
            descendant.CIDToGIDMap = Name.Identity
        return pdf.make_indirect(
            Dictionary(
                Type=Name.Font,
                Subtype=Name.Type0,
                BaseFont=base,
                Encoding=Name("/Identity-H"),
                DescendantFonts=Array([pdf.make_indirect(descendant)]),
                ToUnicode=pdf.make_stream(self._to_unicode()),
            )
        )

    def _file(self, pdf: pikepdf.Pdf, font: TTFont) -> tuple[pikepdf.Object, str]:
        if self.face.cff:
            table = font.getTableData("CFF ") if not font.isLoaded("CFF ") else font["CFF "].compile(font)
            return pdf.make_stream(table, Subtype=Name.CIDFontType0C), "/FontFile3"
        for tag in list(font.keys()):
            if tag not in _TRUETYPE_TABLES and tag != "GlyphOrder":
                del font[tag]
        out = io.BytesIO()
        font.save(out, reorderTables=False)
        content = out.getvalue()
        return pdf.make_stream(content, Length1=len(content)), "/FontFile2"

    def _to_unicode(self) -> bytes:
        rows = [
            f"<{glyph:04X}> <{text.encode('utf-16-be').hex().upper()}>"
            for glyph, text in sorted(self.text_of.items())
            if text
        ]
        blocks = "".join(
            f"{len(part)} beginbfchar\n" + "\n".join(part) + "\nendbfchar\n"
            for part in (rows[i : i + 100] for i in range(0, len(rows), 100))
        )
        return (
            "/CIDInit /ProcSet findresource begin\n12 dict begin\nbegincmap\n"
            f"/CIDSystemInfo << /Registry <{REGISTRY.hex()}> /Ordering (UCS) /Supplement 0 >> def\n"
            "/CMapName /Nest-Identity-UCS def\n/CMapType 2 def\n"
            "1 begincodespacerange\n<0000> <FFFF>\nendcodespacerange\n"
            f"{blocks}endcmap\nCMapName currentdict /CMap defineresource pop\nend\nend\n"
        ).encode()
