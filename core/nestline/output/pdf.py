"""PDF for print: real text in embedded subset fonts, pictures with their transparency, exact trim and bleed boxes.

The same document gives the same bytes. Text is positioned glyph by glyph, as the nest has it; copy read back from the
PDF is the copy (ActualText where a glyph's own meaning is not enough).
"""

from __future__ import annotations

import io
import zlib
from collections.abc import Callable
from itertools import zip_longest

import pikepdf
from pikepdf import Array, Dictionary, Name

from nestline import rows as k
from nestline.document.colors import color_figure, tinted
from nestline.document.lengths import Length
from nestline.document.model import LetterStroke, PageObject, Stroke
from nestline.document.reading import Document
from nestline.fonts.library import Face
from nestline.fonts.shaping import shape
from nestline.nesting.glyphs import GlyphRun, Mark, column_rules, glyph_runs, marks, underlines
from nestline.nesting.nests import Nests, settled
from nestline.nesting.placed import PlacedNest
from nestline.outlines import kinds, placing
from nestline.outlines.path import Path, transformed
from nestline.output.pdf_fonts import PdfFont
from nestline.output.pdf_structure import ARTIFACT, ENDED, Structure
from nestline.pictures.files import PictureFile
from nestline.pictures.placed import Contours, PictureSource, clip_of, placement


def write_pdf(
    document: Document,
    nests: Nests,
    pictures: PictureSource,
    contours: Contours | None = None,
    tell: Callable[[float], None] = lambda share: None,
) -> bytes:
    """The whole document as a PDF; pictures that are painted inside their contour need the `contours`. `tell` is told
    how far it is, from 0 to 1. Raises NestLineError when a picture is missing."""
    return _Writer(settled(document, nests), nests, pictures, contours or Contours(pictures)).write(tell)


def _f(value: float) -> str:
    text = f"{value:.4f}".rstrip("0").rstrip(".")
    return "0" if text in ("", "-0") else text


class _Writer:
    def __init__(self, document: Document, nests: Nests, pictures: PictureSource, contours: Contours) -> None:
        self.document, self.pictures, self.contours = document, pictures, contours
        self.nests = {(n.page, n.thing.id): n for n in nests}
        self.pdf = pikepdf.new()
        self.fonts: dict[str, PdfFont] = {}
        self.images: dict[str, tuple[str, pikepdf.Object]] = {}
        self.opacities: dict[tuple[float, float], str] = {}
        self.structure = Structure()
        self.first_of = {id: chain[0] for chain in document.head.chains for id in chain}

    def write(self, tell: Callable[[float], None]) -> bytes:
        contents = []
        for index in range(len(self.document.pages)):
            tell(index / len(self.document.pages))
            contents.append(self._content(index))
        resources = self.pdf.make_indirect(
            Dictionary(
                Font=Dictionary({f"/{f.name}": f.embedded(self.pdf) for f in self.fonts.values()}),
                XObject=Dictionary({f"/{name}": image for name, image in self.images.values()}),
                ExtGState=Dictionary(
                    {
                        f"/{name}": Dictionary(Type=Name.ExtGState, ca=fill, CA=stroke)
                        for (fill, stroke), name in self.opacities.items()
                    }
                ),
            )
        )
        for page, content in zip(self.document.pages, contents, strict=True):
            width, height = page.sheet.size
            bleed = page.sheet.bleed.pt
            outer = Array([0, 0, round(width + 2 * bleed, 4), round(height + 2 * bleed, 4)])
            trim = Array([round(v, 4) for v in (bleed, bleed, bleed + width, bleed + height)])
            self.pdf.pages.append(
                pikepdf.Page(
                    Dictionary(
                        Type=Name.Page,
                        MediaBox=outer,
                        BleedBox=outer,
                        TrimBox=trim,
                        Resources=resources,
                        Contents=self.pdf.make_stream(content),
                    )
                )
            )
        self.structure.write(self.pdf, list(self.pdf.pages))
        self.pdf.Root.Lang = pikepdf.String(self.document.head.language)
        self.pdf.Root.ViewerPreferences = Dictionary(DisplayDocTitle=True)
        self.pdf.docinfo["/Title"] = pikepdf.String(self.document.head.title or "Untitled")
        self.pdf.docinfo["/Producer"] = pikepdf.String("Nest Line")
        out = io.BytesIO()
        self.pdf.save(out, deterministic_id=True, compress_streams=True, min_version="1.6")
        return out.getvalue()

    def _content(self, index: int) -> bytes:
        page = self.document.pages[index]
        width, height = page.sheet.size
        bleed = page.sheet.bleed.pt
        self.structure.new_page()
        # From here on y grows downwards from the trim corner.
        out = [f"q 1 0 0 -1 {_f(bleed)} {_f(height + bleed)} cm"]
        if page.sheet.background:
            rgb = " ".join(_f(c) for c in color_figure(self.document.head, page.sheet.background))
            whole = f"{_f(-bleed)} {_f(-bleed)} {_f(width + 2 * bleed)} {_f(height + 2 * bleed)}"
            out.append(f"{ARTIFACT} {rgb} rg {whole} re f {ENDED}")
        for thing in page.objects:
            if thing.hidden:
                continue
            out.append(self._object(thing, index))
            placed = self.nests.get((index, thing.id))
            if placed:
                out.append(self._copy(placed))
        out.append("Q")
        return "\n".join(part for part in out if part).encode("latin-1")

    def _object(self, thing: PageObject, index: int) -> str:
        _, _, width, height = thing.box
        path = _path_operators(kinds.path_of(thing.outline, width, height))
        out = [f"q {' '.join(_f6(v) for v in placing.matrix(thing))} cm"]
        if thing.paint and thing.fill:
            rgb = tinted(color_figure(self.document.head, thing.fill.color), thing.fill.tint)
            out.append(
                f"{ARTIFACT} {self._opacity(thing.fill.opacity, 1)}{' '.join(_f(c) for c in rgb)} rg {path} f {ENDED}"
            )
        if thing.picture:
            file = self.pictures(thing.picture.file)
            x, y, w, h = placement(thing.picture, (file.width, file.height), width, height)
            name = self._image(thing.picture.file, file)
            clip = f"{path} W n"
            if (contour := clip_of(self.contours, thing)) is not None:
                clip += f" {_path_operators(contour)} W n"
            drawn = f"q {clip} {self._opacity(1, 1)}{_f(w)} 0 0 {_f(-h)} {_f(x)} {_f(y + h)} cm /{name} Do Q"
            out.append(f"{self._figure(thing, index)} {drawn} {ENDED}")
        if thing.paint and thing.stroke:
            out.append(_artifact(self._stroke(thing.stroke, path, width, height)))
        out.append("Q")
        return "\n".join(out) if len(out) > 2 else ""

    def _figure(self, thing: PageObject, index: int) -> str:
        """What begins a picture: a figure where it is described, else an artifact."""
        if thing.picture is None or not thing.picture.alt.strip():
            return ARTIFACT
        sheet = self.document.pages[index].sheet
        left, top, right, bottom = placing.bounds_on_page(thing)
        bleed, (_, height) = sheet.bleed.pt, sheet.size
        box = (left + bleed, height + bleed - bottom, right + bleed, height + bleed - top)
        return self.structure.figure(thing.id, (index, top, left), thing.picture.alt.strip(), box)

    def _stroke(self, stroke: Stroke, path: str, width: float, height: float) -> str:
        line = stroke.width.pt
        if line <= 0:
            return ""
        rgb = " ".join(_f(c) for c in color_figure(self.document.head, stroke.color))
        caps, joins = {"butt": 0, "round": 1, "square": 2}, {"miter": 0, "round": 1, "bevel": 2}
        clip = ""
        if stroke.position == "inside":
            clip, line = f"{path} W n ", 2 * line
        elif stroke.position == "outside":
            far = 4 * line + width + height
            clip = f"{_f(-far)} {_f(-far)} {_f(width + 2 * far)} {_f(height + 2 * far)} re {path} W* n "
            line *= 2
        dash = " ".join(map(_f, stroke.dashes))
        return (
            f"q {clip}{self._opacity(1, stroke.opacity)}{rgb} RG {_f(line)} w {caps[stroke.cap]} J "
            f"{joins[stroke.join]} j [{dash}] 0 d {path} S Q"
        )

    def _opacity(self, fill: float, stroke: float) -> str:
        if (fill, stroke) == (1, 1) and not self.opacities:
            return ""
        name = self.opacities.setdefault((fill, stroke), f"G{len(self.opacities)}")
        return f"/{name} gs "

    def _image(self, key: str, file: PictureFile) -> str:
        if key not in self.images:
            self.images[key] = (f"I{len(self.images)}", self._embedded(file))
        return self.images[key][0]

    def _embedded(self, file: PictureFile) -> pikepdf.Object:
        pixels = file.decoded()
        plain = file.media_type == "image/jpeg" and not file.transparent
        if plain and _usable_jpeg(file.content, pixels.size):
            return self.pdf.make_indirect(
                pikepdf.Stream(
                    self.pdf,
                    file.content,
                    Type=Name.XObject,
                    Subtype=Name.Image,
                    Width=file.width,
                    Height=file.height,
                    ColorSpace=Name.DeviceRGB,
                    BitsPerComponent=8,
                    Filter=Name.DCTDecode,
                )
            )
        common = {"Type": Name.XObject, "Subtype": Name.Image, "Width": file.width, "Height": file.height}

        def stream(samples: bytes, space: Name) -> pikepdf.Stream:
            return pikepdf.Stream(
                self.pdf,
                zlib.compress(samples, 6),
                ColorSpace=space,
                BitsPerComponent=8,
                Filter=Name.FlateDecode,
                **common,
            )

        image = stream(pixels.convert("RGB").tobytes(), Name.DeviceRGB)
        if file.transparent:
            image.SMask = self.pdf.make_indirect(stream(pixels.getchannel("A").tobytes(), Name.DeviceGray))
        return self.pdf.make_indirect(image)

    def _copy(self, placed: PlacedNest) -> str:
        out = ["q", self._opacity(1, 1)]
        if placed.nest.rules.ends == "at-the-edge" and placed.nest.leftover_words:
            _, _, width, height = placed.thing.box
            edge = transformed(kinds.path_of(placed.thing.outline, width, height), placing.matrix(placed.thing))
            out.append(f"{_path_operators(edge)} W n")
        if placed.matrix:
            out.append(f"{' '.join(_f6(v) for v in placed.matrix)} cm")
        out += map(_artifact, self._behind(placed))
        out.append("BT")
        open_paragraph = -1
        state: tuple[str, float, str, LetterStroke | None] | None = None
        wide, apart = 100.0, 0.0
        runs = list(glyph_runs(placed.nest))
        for run, following in zip_longest(runs, runs[1:]):
            font = self._font(run.stretch.face)
            number = placed.nest.paragraph_of(run.record)
            written, spoken = self._run(run, font, float(placed.nest.records[run.record, k.BASELINE]))
            if (following is None or following.record != run.record) and (space := self._space_after(run, font)):
                written, spoken = f"{written} {space}", spoken and f"{spoken} "
            if spoken or number != open_paragraph:
                out += [ENDED] * (open_paragraph >= 0) + [self._paragraph(placed, number, spoken)]
                open_paragraph = number
            over = run.stretch.look.stroke
            over = over if over is not None and over.position == "centred" else None
            look = (font.name, run.stretch.look.size, run.stretch.look.color, over)
            if look != state:
                out.append(f"/{font.name} {_f(look[1])} Tf {self._rgb(look[2])} rg")
                out.append(self._letter_stroke(look[3], state[3] if state else None))
                state = look
            if (per_cent := round(100 * run.wide, 4)) != wide:
                out.append(f"{_f(per_cent)} Tz")
                wide = per_cent
            if (between := round(run.apart, 4)) != apart:
                out.append(f"{_f(between)} Tc")
                apart = between
            out.append(written)
            if spoken:  # what is spoken otherwise than by its letters is marked alone
                out.append(ENDED)
                open_paragraph = -1
        out += [ENDED] * (open_paragraph >= 0)
        if wide != 100:
            out.append("100 Tz")
        if apart:
            out.append("0 Tc")
        for mark in marks(placed.nest):
            out += [self._letter_stroke(None, state[3] if state else None), ARTIFACT, self._mark(mark), ENDED]
        out.append("ET")
        for under in underlines(placed.nest):
            box = (under.left, under.y - under.thickness / 2, under.right - under.left, under.thickness)
            out.append(_artifact(f"{self._rgb(under.color)} rg {' '.join(_f(v) for v in box)} re f"))
        if placed.thing.frame and (rule := placed.thing.frame.column_rule):
            for x, top, bottom in column_rules(placed.nest):
                line = f"{_f(x)} {_f(top)} m {_f(x)} {_f(bottom)} l"
                out.append(_artifact(self._stroke(rule.model_copy(update={"position": "centred"}), line, 0, 0)))
        out.append("Q")
        return "\n".join(part for part in out if part)

    def _paragraph(self, placed: PlacedNest, number: int, spoken: str = "") -> str:
        """What begins content of a paragraph, spoken as it is or as said."""
        left, top, _, _ = placing.bounds_on_page(placed.thing)
        language = placed.nest.copy.paragraphs[number].rules.language
        own = language if language != self.document.head.language else ""
        run = self.first_of.get(placed.thing.id, placed.thing.id)
        return self.structure.paragraph(run, number, (placed.page, top, left), own, spoken)

    def _behind(self, placed: PlacedNest) -> list[str]:
        """Strokes that lie behind the letters: as lines along their outlines, so that no word stands there twice."""
        layers: list[list[str]] = [[], []]
        for run in glyph_runs(placed.nest):
            stroke = run.stretch.look.stroke
            if stroke is None or (stroke.position == "centred" and stroke.second is None):
                continue
            baseline = float(placed.nest.records[run.record, k.BASELINE])
            shapes = [transformed(run.stretch.face.outline(glyph), affine) for glyph, affine in run.placed(baseline)]
            path = " ".join(filter(None, map(_path_operators, shapes)))
            if not path:
                continue
            own = stroke.width.pt
            out = own if stroke.position == "outside" else own / 2
            if stroke.second is not None:
                second = Stroke(
                    color=stroke.second.color,
                    join=stroke.second.join,
                    width=Length(2 * (out + stroke.second.width.pt)),
                )
                layers[0].append(self._stroke(second, path, 0, 0))
            if stroke.position == "outside":
                line = Stroke(
                    color=stroke.color,
                    width=Length(2 * own),
                    dash=tuple(map(Length, stroke.dashes)),
                    cap=stroke.cap,
                    join=stroke.join,
                )
                layers[1].append(self._stroke(line, path, 0, 0))
        return layers[0] + layers[1]

    def _rgb(self, color: str) -> str:
        return " ".join(_f(c) for c in color_figure(self.document.head, color))

    def _letter_stroke(self, stroke: LetterStroke | None, before: LetterStroke | None) -> str:
        """The text rendering mode: filled, or filled and stroked (ISO 32000-2, 9.3.6)."""
        if stroke is None:
            return "0 Tr" if before else ""
        caps, joins = {"butt": 0, "round": 1, "square": 2}, {"miter": 0, "round": 1, "bevel": 2}
        dash = " ".join(map(_f, stroke.dashes))
        return (
            f"2 Tr {self._rgb(stroke.color)} RG {_f(stroke.width.pt)} w {caps[stroke.cap]} J "
            f"{joins[stroke.join]} j [{dash}] 0 d"
        )

    def _font(self, face: Face) -> PdfFont:
        if face.key not in self.fonts:
            self.fonts[face.key] = PdfFont(face, f"F{len(self.fonts)}")
        return self.fonts[face.key]

    def _mark(self, mark: Mark) -> str:
        """A bullet or number, as text of its own."""
        font = self._font(mark.face)
        glyphs = shape(mark.face, mark.text, 0, len(mark.text), self.document.head.language)
        hexes = ""
        ends = [*glyphs.clusters[1:].tolist(), len(mark.text)]
        for glyph, cluster, end in zip(glyphs.ids.tolist(), glyphs.clusters.tolist(), ends, strict=True):
            font.means(glyph, mark.face.hb_font.get_glyph_h_advance(glyph), mark.text[cluster:end])
            hexes += f"{glyph:04X}"
        place = f"1 0 0 -1 {_f(mark.x)} {_f(mark.baseline)} Tm"
        return f"/{font.name} {_f(mark.look.size)} Tf {self._rgb(mark.look.color)} rg {place} <{hexes}> Tj"

    def _space_after(self, run: GlyphRun, font: PdfFont) -> str:
        """The space that a line ends with, past its edge: read by its structure a PDF has no line ends that
        part words."""
        shaper = run.stretch.face.hb_font
        space = shaper.get_nominal_glyph(ord(" "))
        if run.hyphen or run.text[run.end : run.end + 1] != " " or run.stretch.level % 2 or not space:
            return ""
        font.means(space, shaper.get_glyph_h_advance(space), " ")
        return f"<{space:04X}> Tj"

    def _run(self, run: GlyphRun, font: PdfFont, baseline: float) -> tuple[str, str]:
        """One line's glyphs of one look: a Tm, then TJ arrays with the exact positions; and what they say where their
        glyphs alone do not."""
        size = run.stretch.look.size
        scale = 1000 / run.stretch.face.units_per_em
        natural = run.stretch.face.hb_font
        unit = size * round(run.wide, 6) / 1000  # of a TJ array's figures, drawn wider (ISO 32000-2, 9.3.4)
        out = [f"1 0 0 -1 {_f(run.x[0])} {_f(baseline)} Tm"]
        # A hyphen that the engine set is read as a soft one (ISO 32000-2, 14.8.2.6.3).
        actual = run.text[run.start : run.end - 1] + "\u00ad" if run.hyphen else run.text[run.start : run.end]
        spoken: list[bool] = []
        starts = sorted({*run.clusters.tolist(), run.end})
        array: list[str] = []
        hexes = ""
        pen = run.x[0]
        rise = 0.0
        for i, glyph in enumerate(run.ids.tolist()):
            advance = natural.get_glyph_h_advance(glyph)
            first = i == 0 or run.clusters[i - 1] != run.clusters[i]
            last = i == len(run.ids) - 1 or run.clusters[i + 1] != run.clusters[i]
            cluster_end = starts[starts.index(run.clusters[i]) + 1]
            text = run.text[run.clusters[i] : cluster_end] if first else ""
            spoken.append(font.means(glyph, advance, text) and first and last)
            lift = float(run.y[i])
            if abs(lift - rise) > 1e-6:
                if hexes:
                    array.append(f"<{hexes}>")
                if array:
                    out.append(f"[{' '.join(array)}] TJ")
                out.append(f"{_f(lift)} Ts")
                array, hexes, rise = [], "", lift
            move = round(-(run.x[i] - pen) / unit, 2)
            if abs(move) >= 0.02:
                if hexes:
                    array.append(f"<{hexes}>")
                array.append(_f(move))
                hexes = ""
                pen -= move * unit
            hexes += f"{glyph:04X}"
            pen += round(advance * scale, 3) * unit + round(run.apart, 4) * round(run.wide, 6)
        if hexes:
            array.append(f"<{hexes}>")
        out.append(f"[{' '.join(array)}] TJ")
        if rise:
            out.append("0 Ts")
        if all(spoken) and not run.hyphen:
            return " ".join(out), ""
        return " ".join(out), actual


def _artifact(drawn: str) -> str:
    """What says nothing to who has the page read."""
    return f"{ARTIFACT} {drawn} {ENDED}" if drawn else ""


def _f6(value: float) -> str:
    text = f"{value:.8f}".rstrip("0").rstrip(".")
    return "0" if text in ("", "-0") else text


def _path_operators(path: Path) -> str:
    out = []
    for contour in path:
        if not contour:
            continue
        out.append(f"{_f(contour[0][0][0])} {_f(contour[0][0][1])} m")
        for piece in contour:
            if len(piece) == 4:
                out.append(" ".join(f"{_f(x)} {_f(y)}" for x, y in piece[1:]) + " c")
            else:
                out.append(f"{_f(piece[1][0])} {_f(piece[1][1])} l")
        out.append("h")
    return " ".join(out)


def _usable_jpeg(content: bytes, size: tuple[int, int]) -> bool:
    """Whether a JPEG can go into the PDF as it is: three colours, upright."""
    from PIL import Image

    with Image.open(io.BytesIO(content)) as image:
        return image.mode == "RGB" and image.size == size and image.getexif().get(274, 1) == 1
