"""The copy of a DOCX file (ECMA-376, part 1): every word that is seen in it, in its order.

That of tables (a row is a paragraph, its cells apart by tabs, where each cell is one), of text boxes (behind the paragraph that
they belong to), of content controls, of links and of what was inserted while changes were kept; not what was deleted.
"""

from __future__ import annotations

import io
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import docx
from docx.enum.style import WD_STYLE_TYPE
from docx.oxml.ns import qn
from docx.styles.style import BaseStyle, ParagraphStyle
from docx.text.font import Font
from docx.text.paragraph import Paragraph
from docx.text.parfmt import ParagraphFormat
from docx.text.run import Run

from nestline.copy.imported import LINE_BREAK, Imported, Raw, scripted

CHOICE = "{http://schemas.openxmlformats.org/markup-compatibility/2006}"
MATHS = "{http://schemas.openxmlformats.org/officeDocument/2006/math}"
THROUGH = {
    qn(f"w:{name}")
    for name in ("hyperlink", "ins", "moveTo", "smartTag", "sdt", "sdtContent", "fldSimple", "customXml", "dir", "bdo", "rubyBase")
}  # fmt: skip
"""What holds words that are seen as if they stood in its place."""
LETTERS = {
    qn("w:tab"): "\t", qn("w:cr"): LINE_BREAK, qn("w:noBreakHyphen"): "\u2011", qn("w:softHyphen"): "\u00ad",
}  # fmt: skip
COUNTED = {
    qn("w:footnoteReference"): "footnote", qn("w:endnoteReference"): "footnote", qn("w:sym"): "symbol",
    f"{MATHS}oMath": "formula", qn("w:object"): "picture",
}  # fmt: skip
ALIGNED = {
    "LEFT": "start", "START": "start", "CENTER": "center", "RIGHT": "end", "END": "end", "JUSTIFY": "justify",
}  # fmt: skip
LINKS = ("Hyperlink", "FollowedHyperlink")
"""Styles of letters that only say that there is a link."""


def read_docx(content: bytes) -> Imported:
    """A file's paragraphs. Raises whatever its libraries raise for broken files."""
    return _Reader(docx.Document(io.BytesIO(content))).read()


@dataclass(frozen=True)
class _Block:
    """A paragraph, or those of a row of a table, cell by cell, and which table's."""

    paragraphs: list[Any]
    table: int | None = None


class _Reader:
    def __init__(self, file: Any) -> None:
        self.file, self.out, self.tables = file, Imported(), 0
        self.body_style = file.styles.default(WD_STYLE_TYPE.PARAGRAPH)  # of paragraphs that name none

    def read(self) -> Imported:
        for block in self._blocks(self.file.element.body):
            self._add(block)
        return self.out

    # Blocks: paragraphs, wherever they stand

    def _blocks(self, holder: Any) -> Iterator[_Block]:
        """Paragraphs in their order, those of one row of a table together."""
        for child in holder:
            if child.tag == qn("w:p"):
                yield _Block([child])
            elif child.tag == qn("w:tbl"):
                self.tables += 1
                table = self.tables
                for row in _under(child, qn("w:tr")):
                    yield from self._row(row, table)
            elif child.tag in THROUGH:
                yield from self._blocks(child)
            elif child.tag == f"{CHOICE}AlternateContent":
                yield from self._blocks(child[0] if len(child) else child)
            elif child.tag == f"{MATHS}oMathPara":
                self.out.missing["formula"] += 1

    def _row(self, row: Any, table: int) -> Iterator[_Block]:
        cells = [list(self._blocks(cell)) for cell in _under(row, qn("w:tc"))]
        if all(len(cell) == 1 and cell[0].table is None for cell in cells):
            yield _Block([cell[0].paragraphs[0] for cell in cells], table)
        else:
            for cell in cells:
                yield from cell

    def _add(self, block: _Block) -> None:
        boxes: list[Any] = []
        behind = self.out.missing.total()
        first = self._paragraph(block.paragraphs[0])
        heading = _level(first.style)
        if heading and min(heading, 3) not in self.out.looks:
            self.out.looks[min(heading, 3)] = {**_keeping(first.style), **_look_of(first.style)}
        rules = self._rules(first, heading)
        cells = [self._words(self._paragraph(element), rules, heading, boxes) for element in block.paragraphs]
        if block.table is not None:
            self.out.add_row(cells, block.table, rules)
        elif any(run["text"] for run in cells[0]) or not (boxes or self.out.missing.total() > behind):
            self.out.add(cells[0], heading, "" if heading else self._listed(first), rules)
        for box in boxes:
            for inside in self._blocks(box):
                self._add(inside)

    def _words(self, paragraph: Paragraph, rules: Raw, heading: int, boxes: list[Any]) -> list[Raw]:
        runs: list[Raw] = []
        for run in self._runs(paragraph._p, boxes):
            text = self._text(run._r, boxes)
            look = self._letters(run, rules, heading)
            if script := look.pop("script", None):
                text = scripted(text, script == "raised")
            runs.append({"text": text.upper() if _in_capitals(run, paragraph) else text, **look})
        return runs

    def _paragraph(self, element: Any) -> Paragraph:
        return Paragraph(element, self.file._body)

    # Words

    def _runs(self, holder: Any, boxes: list[Any]) -> Iterator[Run]:
        for child in holder:
            if child.tag == qn("w:r"):
                if (ruby := child.find(qn("w:ruby"))) is not None:
                    yield from self._runs(ruby, boxes)
                run = Run(child, self._paragraph(holder))
                if not run.font.hidden:
                    yield run
            elif child.tag in THROUGH:
                yield from self._runs(child, boxes)
            elif child.tag == f"{MATHS}oMath" or child.tag == f"{MATHS}oMathPara":
                self.out.missing["formula"] += 1

    def _text(self, run: Any, boxes: list[Any]) -> str:
        text = ""
        for child in run:
            if child.tag == qn("w:t"):
                text += child.text or ""
            elif child.tag == qn("w:br"):
                text += LINE_BREAK if child.get(qn("w:type")) in (None, "textWrapping") else ""
            elif child.tag in LETTERS:
                text += LETTERS[child.tag]
            elif child.tag in COUNTED:
                self.out.missing[COUNTED[child.tag]] += 1
            elif child.tag in (qn("w:drawing"), qn("w:pict")):
                self._drawn(child, boxes)
            elif child.tag == f"{CHOICE}AlternateContent" and len(child):
                text += self._text(child[0], boxes)
        return text

    def _drawn(self, drawing: Any, boxes: list[Any]) -> None:
        """What is drawn: its text boxes hold copy, its pictures do not."""
        found = [one for one in drawing.iter(qn("w:txbxContent"))]
        boxes += [one for one in found if not any(other in one.iterancestors() for other in found)]
        pictures = [
            one for one in drawing.iter() if isinstance(one.tag, str) and one.tag.endswith(("}pic", "}imagedata"))
        ]
        self.out.missing["picture"] += sum(not any(box in one.iterancestors() for box in found) for one in pictures)

    # Looks

    def _letters(self, run: Run, rules: Raw, heading: int) -> Raw:
        look = _font_look(run.font)
        if run.style is not None and run.style.name not in LINKS and (own := run._r.style) is not None and own:
            look = {**_chain(run.style), **look}
        if look.get("weight") == rules.get("weight", 400) or (heading and look.get("weight") == 700):
            look.pop("weight", None)
        if look.get("slope") == rules.get("slope", "normal"):
            look.pop("slope", None)
        return look

    def _rules(self, paragraph: Paragraph, heading: int) -> Raw:
        """What the file says of a paragraph, itself or by styles that say more than that of all copy."""
        found = _format_look(paragraph.paragraph_format)
        if heading:
            return {k: v for k, v in found.items() if k == "align"}
        style: Any = paragraph.style
        found = {**_chain(style, self.body_style), **found}
        if self._listed(paragraph):
            found = {k: v for k, v in found.items() if k not in ("indent", "first_indent")}
        keep = _keeping(style, self.body_style) | _keeping_of(paragraph.paragraph_format)
        return {**{k: v for k, v in found.items() if v not in (0, "start", "normal", 400, False)}, **keep}

    def _listed(self, paragraph: Paragraph) -> str:
        name = (paragraph.style.name or "") if paragraph.style is not None else ""
        numbers = None if paragraph._p.pPr is None else paragraph._p.pPr.numPr
        kind = "bullets" if name.startswith("List Bullet") else "numbers" if name.startswith("List Number") else ""
        if numbers is None:
            return kind
        return self._kind(numbers) or kind or "bullets"

    def _kind(self, numbers: Any) -> str:
        """Which kind of list a paragraph's numbering is, by the part of the file that says so."""
        if numbers.numId is None:
            return ""
        level = numbers.ilvl.val if numbers.ilvl is not None else 0
        try:
            part = self.file.part.numbering_part.element
        except (KeyError, NotImplementedError):
            return ""
        for number in part.findall(qn("w:num")):
            if number.get(qn("w:numId")) == str(numbers.numId.val):
                wanted = number.find(qn("w:abstractNumId")).get(qn("w:val"))
                for abstract in part.findall(qn("w:abstractNum")):
                    if abstract.get(qn("w:abstractNumId")) != wanted:
                        continue
                    for one in abstract.findall(qn("w:lvl")):
                        written = one.find(qn("w:numFmt"))
                        if one.get(qn("w:ilvl")) == str(level) and written is not None:
                            return "bullets" if written.get(qn("w:val")) == "bullet" else "numbers"
        return ""


def _under(holder: Any, tag: str) -> Iterator[Any]:
    """Rows of a table, cells of a row: those in content controls, too."""
    for child in holder:
        if child.tag == tag:
            yield child
        elif child.tag in THROUGH:
            yield from _under(child, tag)


def _level(style: BaseStyle | None) -> int:
    name = (style.name or "") if style is not None else ""
    return 1 if name == "Title" else int(name[8:]) if name.startswith("Heading ") and name[8:].isdigit() else 0


def _in_capitals(run: Run, paragraph: Paragraph) -> bool:
    """Whether letters are shown as capitals, by themselves or by the nearest style that says so."""
    said = run.font.all_caps
    for style in (run.style, paragraph.style):
        while said is None and style is not None:
            said, style = style.font.all_caps, style.base_style
    return bool(said)


def _font_look(font: Font) -> Raw:
    """What is set on letters themselves; a colour of the file's theme is not."""
    look: Raw = {}
    if font.size is not None:
        look["size"] = round(font.size.pt, 2)
    if font.color is not None and font.color.rgb is not None:
        look["color"] = f"#{str(font.color.rgb).lower()}"
    if font.bold is not None:
        look["weight"] = 700 if font.bold else 400
    if font.italic is not None:
        look["slope"] = "italic" if font.italic else "normal"
    if font.underline:
        look["underline"] = True
    if font.small_caps:
        look["features"] = {"smcp": 1}
    if font.superscript or font.subscript:
        look["script"] = "raised" if font.superscript else "lowered"
    return look


def _format_look(given: ParagraphFormat) -> Raw:
    look: Raw = {}
    for name, value in (
        ("space_before", given.space_before), ("space_after", given.space_after), ("indent", given.left_indent),
        ("first_indent", given.first_line_indent),
    ):  # fmt: skip
        if value is not None and value.pt >= 0:
            look[name] = round(value.pt, 2)
    if given.alignment is not None:
        look["align"] = ALIGNED.get(str(given.alignment).partition(" ")[0], "start")
    return look


def _chain(style: Any, end: Any = None) -> Raw:
    """What a style and those that it is based on say, the nearest first, up to one of them."""
    look: Raw = {}
    while style is not None and (end is None or style.style_id != end.style_id):
        of_paragraphs = _format_look(style.paragraph_format) if isinstance(style, ParagraphStyle) else {}
        look = {**_font_look(style.font), **of_paragraphs, **look}
        style = style.base_style
    return look


def _look_of(style: Any) -> Raw:
    """A heading's style, all of it."""
    return {k: v for k, v in _chain(style).items() if k != "script"}


def _keeping_of(given: ParagraphFormat) -> Raw:
    keep = {"whole": given.keep_together, "next": given.keep_with_next}
    said = {name: bool(value) for name, value in keep.items() if value}
    return {"keep": said} if said else {}


def _keeping(style: Any, end: Any = None) -> Raw:
    """Whether a style keeps its lines together, and with the next paragraph."""
    said: Raw = {}
    while style is not None and (end is None or style.style_id != end.style_id):
        said = {**_keeping_of(style.paragraph_format).get("keep", {}), **said}
        style = style.base_style
    return {"keep": said} if said else {}
