"""SVG of a page: outlines, paint and pictures as the PDF has them; letters as outlines, or as text with their fonts in
it.

Letters stand where the engine put them. As text, each word is one `text` element at the engine's x, in a subset of the
engine's font file that travels in the SVG (CSS Fonts 4, `@font-face`).
"""

from __future__ import annotations

import base64
import io
from collections.abc import Iterator
from html import escape
from typing import Literal

from fontTools import subset

from nestline import rows as k
from nestline.document.colors import color_figure, tinted
from nestline.document.model import LetterStroke, Line, PageObject, Stroke
from nestline.document.reading import Document
from nestline.fonts.baked import fitted_features
from nestline.fonts.library import Face
from nestline.fonts.shaping import shape
from nestline.nesting.glyphs import GlyphRun, Mark, column_rules, glyph_runs, marks, underlines
from nestline.nesting.nests import Nests, settled
from nestline.nesting.placed import PlacedNest
from nestline.outlines import kinds, placing
from nestline.outlines.path import Affine, Path, to_svg, transformed
from nestline.pictures.placed import Contours, PictureSource, clip_of, placement

Letters = Literal["outlines", "text"]


def write_svg(
    document: Document,
    nests: Nests,
    pictures: PictureSource,
    page: int = 0,
    letters: Letters = "outlines",
    contours: Contours | None = None,
) -> bytes:
    """A page with its bleed as an SVG document. Raises NestLineError when a picture is missing."""
    whole = settled(document, nests)
    return _Writer(whole, nests, pictures, contours or Contours(pictures), letters).page(page)


def _f(value: float) -> str:
    text = f"{value:.4f}".rstrip("0").rstrip(".")
    return "0" if text in ("", "-0") else text


def _matrix(m: Affine) -> str:
    return f"matrix({' '.join(f'{v:.8g}' for v in m)})"


class _Writer:
    def __init__(
        self, document: Document, nests: Nests, pictures: PictureSource, contours: Contours, letters: Letters
    ) -> None:
        self.document, self.pictures, self.contours, self.letters = document, pictures, contours, letters
        self.nests = {(n.page, n.thing.id): n for n in nests}
        self.glyphs: dict[tuple[str, int], str] = {}
        self.defs: list[str] = []
        self.fonts: dict[str, tuple[str, Face, set[int], set[str]]] = {}
        """Of each face used as text: the name of its family here, the glyphs and the letters it is used for."""

    def page(self, index: int) -> bytes:
        page = self.document.pages[index]
        width, height = page.sheet.size
        bleed = page.sheet.bleed.pt
        body: list[str] = []
        if page.sheet.background:
            box = f'x="{_f(-bleed)}" y="{_f(-bleed)}" width="{_f(width + 2 * bleed)}" height="{_f(height + 2 * bleed)}"'
            body.append(f'<rect {box} fill="{self._color(page.sheet.background)}"/>')
        for thing in page.objects:
            if thing.hidden:
                continue
            body += self._object(thing)
            if (placed := self.nests.get((index, thing.id))) is not None:
                body += self._copy(placed)
        size = f'width="{_f(width + 2 * bleed)}pt" height="{_f(height + 2 * bleed)}pt"'
        view = f'viewBox="{_f(-bleed)} {_f(-bleed)} {_f(width + 2 * bleed)} {_f(height + 2 * bleed)}"'
        title = escape(self.document.head.title or "Untitled")
        style = "".join(self._font_face(*font) for font in self.fonts.values())
        defs = "".join(self.defs) + (f"<style>{style}</style>" if style else "")
        out = [
            '<?xml version="1.0" encoding="UTF-8"?>',
            f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" {size} {view}>',
            f"<title>{title}</title>",
            f"<defs>{defs}</defs>" if defs else "",
            *body,
            "</svg>\n",
        ]
        return "\n".join(part for part in out if part).encode()

    def _color(self, color: str) -> str:
        return _css(color_figure(self.document.head, color))

    def _defined(self, content: str, stem: str) -> str:
        """A part defined once, by its id."""
        name = f"{stem}{len(self.defs)}"
        self.defs.append(content.replace("ID", name, 1))
        return name

    def _object(self, thing: PageObject) -> list[str]:
        _, _, width, height = thing.box
        d = to_svg(kinds.path_of(thing.outline, width, height), 4)
        out: list[str] = []
        if thing.paint and thing.fill:
            color = _css(tinted(color_figure(self.document.head, thing.fill.color), thing.fill.tint))
            opacity = f' fill-opacity="{_f(thing.fill.opacity)}"' if thing.fill.opacity < 1 else ""
            out.append(f'<path d="{d}" fill="{color}"{opacity}/>')
        if thing.picture:
            out.append(self._picture(thing, d))
        if thing.paint and thing.stroke:
            out += self._stroke(thing.stroke, d, width, height)
        return [f'<g transform="{_matrix(placing.matrix(thing))}">', *out, "</g>"] if out else []

    def _picture(self, thing: PageObject, d: str) -> str:
        assert thing.picture is not None
        file = self.pictures(thing.picture.file)
        x, y, width, height = placement(thing.picture, (file.width, file.height), thing.box[2], thing.box[3])
        clip = self._defined(f'<clipPath id="ID"><path d="{d}"/></clipPath>', "c")
        content, media = file.content, file.media_type
        if media not in ("image/png", "image/jpeg"):
            buffer = io.BytesIO()
            file.decoded().save(buffer, "PNG")
            content, media = buffer.getvalue(), "image/png"
        href = f"data:{media};base64,{base64.b64encode(content).decode()}"
        alt = f"<title>{escape(thing.picture.alt)}</title>" if thing.picture.alt else ""
        box = f'x="{_f(x)}" y="{_f(y)}" width="{_f(width)}" height="{_f(height)}"'
        image = f'<image {box} preserveAspectRatio="none" href="{href}">{alt}</image>'
        if (contour := clip_of(self.contours, thing)) is not None:
            inner = self._defined(f'<clipPath id="ID"><path d="{to_svg(contour, 4)}"/></clipPath>', "c")
            image = f'<g clip-path="url(#{inner})">{image}</g>'
        return f'<g clip-path="url(#{clip})">{image}</g>'

    def _stroke(self, stroke: Stroke, d: str, width: float, height: float) -> list[str]:
        line = stroke.width.pt
        if line <= 0:
            return []
        opacity = f' stroke-opacity="{_f(stroke.opacity)}"' if stroke.opacity < 1 else ""
        if stroke.position == "centred":
            return [f'<path d="{d}" fill="none" {self._line(stroke, line)}{opacity}/>']
        if stroke.position == "inside":
            clip = self._defined(f'<clipPath id="ID"><path d="{d}"/></clipPath>', "c")
        else:
            far = 4 * line + width + height
            around = f"M{_f(-far)} {_f(-far)}H{_f(width + far)}V{_f(height + far)}H{_f(-far)}Z"
            clip = self._defined(f'<clipPath id="ID"><path d="{around}{d}" clip-rule="evenodd"/></clipPath>', "c")
        return [f'<g clip-path="url(#{clip})"><path d="{d}" fill="none" {self._line(stroke, 2 * line)}{opacity}/></g>']

    def _line(self, line: Line, width: float) -> str:
        dash = f' stroke-dasharray="{" ".join(map(_f, line.dashes))}"' if line.dash else ""
        joined = f'stroke-linecap="{line.cap}" stroke-linejoin="{line.join}" stroke-miterlimit="10"'
        return f'stroke="{self._color(line.color)}" stroke-width="{_f(width)}" {joined}{dash}'

    def _copy(self, placed: PlacedNest) -> list[str]:
        nest = placed.nest
        runs = list(glyph_runs(nest))
        out = [*self._behind(nest, runs)]
        for run in runs:
            baseline = float(nest.records[run.record, k.BASELINE])
            as_text = self.letters == "text" and run.stretch.level % 2 == 0 and run.stretch.role != "drop"
            out += self._words(run, baseline) if as_text else self._drawn(run, baseline)
        out += [self._mark(mark) for mark in marks(nest)]
        for line in underlines(nest):
            box = f'x="{_f(line.left)}" y="{_f(line.y - line.thickness / 2)}" width="{_f(line.right - line.left)}"'
            out.append(f'<rect {box} height="{_f(line.thickness)}" fill="{self._color(line.color)}"/>')
        if placed.thing.frame and (rule := placed.thing.frame.column_rule):
            for x, top, bottom in column_rules(nest):
                centred = rule.model_copy(update={"position": "centred"})
                out += self._stroke(centred, f"M{_f(x)} {_f(top)}V{_f(bottom)}", 0, 0)
        if placed.matrix:
            out = [f'<g transform="{_matrix(placed.matrix)}">', *out, "</g>"]
        if nest.rules.ends == "at-the-edge" and nest.leftover_words:
            _, _, width, height = placed.thing.box
            edge = transformed(kinds.path_of(placed.thing.outline, width, height), placing.matrix(placed.thing))
            clip = self._defined(f'<clipPath id="ID"><path d="{to_svg(edge, 4)}"/></clipPath>', "c")
            out = [f'<g clip-path="url(#{clip})">', *out, "</g>"]
        return out

    def _letter_line(self, stroke: LetterStroke | None) -> str:
        """The stroke over the letters; none where it lies behind them."""
        if stroke is None or stroke.position == "outside":
            return ""
        return " " + self._line(stroke, stroke.width.pt)

    def _behind(self, nest: object, runs: list[GlyphRun]) -> Iterator[str]:
        """Strokes that lie behind all letters: the second ones first."""
        for second in (True, False):
            for run in runs:
                stroke = run.stretch.look.stroke
                if stroke is None or (stroke.second is None if second else stroke.position != "outside"):
                    continue
                own = stroke.width.pt
                path = self._path(run, float(nest.records[run.record, k.BASELINE]))  # type: ignore[attr-defined]
                if second and stroke.second is not None:
                    out = own if stroke.position == "outside" else own / 2
                    line = Stroke(color=stroke.second.color, join=stroke.second.join)
                    width = 2 * (out + stroke.second.width.pt)
                    yield f'<path d="{to_svg(path, 4)}" fill="none" {self._line(line, width)}/>'
                else:
                    yield f'<path d="{to_svg(path, 4)}" fill="none" {self._line(stroke, 2 * own)}/>'

    @staticmethod
    def _path(run: GlyphRun, baseline: float) -> Path:
        return tuple(
            contour
            for glyph, affine in run.placed(baseline)
            for contour in transformed(run.stretch.face.outline(glyph), affine)
        )

    def _drawn(self, run: GlyphRun, baseline: float) -> list[str]:
        """A run's letters as outlines, each glyph drawn once and used where it stands."""
        look = run.stretch.look
        stroke = self._letter_line(look.stroke)
        if stroke:
            path = to_svg(self._path(run, baseline), 4)
            return [f'<path d="{path}" fill="{self._color(look.color)}"{stroke}/>'] if path else []
        used = []
        for glyph, (across, _, _, down, x, y) in run.placed(baseline):
            name = self._glyph(run.stretch.face, glyph)
            if name:
                place = f"translate({_f(x)} {_f(y)}) scale({across:.8g} {down:.8g})"
                used.append(f'<use href="#{name}" transform="{place}"/>')
        return [f'<g fill="{self._color(look.color)}">{"".join(used)}</g>'] if used else []

    def _glyph(self, face: Face, glyph: int) -> str:
        key = (face.key, glyph)
        if key not in self.glyphs:
            d = to_svg(face.outline(glyph), 2)
            self.glyphs[key] = self._defined(f'<path id="ID" d="{d}"/>', "g") if d else ""
        return self.glyphs[key]

    def _words(self, run: GlyphRun, baseline: float) -> list[str]:
        """A run's words as text, each at its x."""
        look, face = run.stretch.look, run.stretch.face
        family = self._family(face, run.ids.tolist(), run.text[run.start : run.end])
        apart = abs(run.apart) > 1e-5
        # Letters set apart are not joined (CSS Text 3, 10.2), unless it is asked for: fitted ones are.
        own = dict(look.features)
        features = fitted_features(face, own) if apart and look.joined else own
        more = [f'letter-spacing="{run.apart:.6g}"'] if apart else []
        style = "white-space:pre;font-kerning:normal"
        if features:
            asked = ",".join(f"'{tag}' {on}" for tag, on in features.items())
            style += f";font-feature-settings:{asked}"
        if run.wide != 1.0:
            more.append(f'transform="scale({run.wide:.8g} 1)"')
        stroke = self._letter_line(look.stroke)
        out = []
        for first, last in _words_in(run):
            begin = int(run.clusters[first])
            end = int(run.clusters[last + 1]) if last + 1 < len(run.clusters) else run.end
            place = f'x="{_f(float(run.x[first]) / run.wide)}" y="{_f(baseline)}"'
            out.append(f"<tspan {place}>{escape(run.text[begin:end])}</tspan>")
        if not out:
            return []
        font = f'font-family="{family}" font-size="{_f(look.size)}" fill="{self._color(look.color)}"'
        return [f'<text {" ".join([font, *more])}{stroke} style="{style}">{"".join(out)}</text>']

    def _family(self, face: Face, ids: list[int], text: str) -> str:
        if face.key not in self.fonts:
            self.fonts[face.key] = (f"n{len(self.fonts)}", face, set(), set())
        name, _, glyphs, letters = self.fonts[face.key]
        glyphs.update(ids)
        letters.update(text)
        return name

    @staticmethod
    def _font_face(name: str, face: Face, glyphs: set[int], letters: set[str]) -> str:
        """A subset of a font file as a rule of CSS: the glyphs that are used and what makes them of letters."""
        options = subset.Options(flavor="woff2", layout_features=["*"], notdef_outline=True, name_IDs=[], hinting=False)
        font = face.open()
        maker = subset.Subsetter(options)
        maker.populate(gids=sorted(glyphs), text="".join(sorted(letters)))
        maker.subset(font)
        font = face.plain(font)
        font.flavor = "woff2"
        buffer = io.BytesIO()
        font.save(buffer)
        data = base64.b64encode(buffer.getvalue()).decode()
        return f'@font-face{{font-family:"{name}";src:url(data:font/woff2;base64,{data}) format("woff2")}}'

    def _mark(self, mark: Mark) -> str:
        glyphs = shape(mark.face, mark.text, 0, len(mark.text), self.document.head.language)
        scale, pen, used = mark.look.size / mark.face.units_per_em, mark.x, []
        for glyph, advance in zip(glyphs.ids.tolist(), glyphs.advances.tolist(), strict=True):
            name = self._glyph(mark.face, glyph)
            if name:
                place = f"translate({_f(pen)} {_f(mark.baseline)}) scale({scale:.8g} {-scale:.8g})"
                used.append(f'<use href="#{name}" transform="{place}"/>')
            pen += advance * scale
        return f'<g fill="{self._color(mark.look.color)}">{"".join(used)}</g>'


def _words_in(run: GlyphRun) -> Iterator[tuple[int, int]]:
    """First and last glyph of each stretch without spaces."""
    first = -1
    for i, cluster in enumerate(run.clusters.tolist()):
        space = run.text[cluster] in " \u00a0\t\u2028"
        if space and first >= 0:
            yield first, i - 1
            first = -1
        elif not space and first < 0:
            first = i
    if first >= 0:
        yield first, len(run.clusters) - 1


def _css(rgb: tuple[float, float, float]) -> str:
    return "#" + "".join(f"{round(c * 255):02x}" for c in rgb)
