"""The copy of a DOCX file (ECMA-376, part 1): every word that is seen in it, in its order.

That of tables (a row is a paragraph, its cells apart by tabs, where each cell is one), of text boxes (behind the
paragraph that they belong to), of content controls, of links and of what was inserted while changes were kept; not what
was deleted.
"""

from __future__ import annotations

import io
import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

import docx
from docx.enum.style import WD_STYLE_TYPE
from docx.oxml.ns import qn
from docx.styles.style import ParagraphStyle
from docx.text.paragraph import Paragraph
from docx.text.parfmt import ParagraphFormat

from nestline.copy.imported import LINE_BREAK, Imported, Raw, scripted

CHOICE = "{http://schemas.openxmlformats.org/markup-compatibility/2006}"
MATHS = "{http://schemas.openxmlformats.org/officeDocument/2006/math}"
THROUGH = {
    qn(f"w:{name}")
    for name in (
        "hyperlink",
        "ins",
        "moveTo",
        "smartTag",
        "sdt",
        "sdtContent",
        "fldSimple",
        "customXml",
        "dir",
        "bdo",
        "rubyBase",
    )
}
"""What holds words that are seen as if they stood in its place."""
LETTERS = {
    qn("w:tab"): "\t",
    qn("w:cr"): LINE_BREAK,
    qn("w:noBreakHyphen"): "\u2011",
    qn("w:softHyphen"): "\u00ad",
}
COUNTED = {
    qn("w:footnoteReference"): "footnote",
    qn("w:endnoteReference"): "footnote",
    qn("w:sym"): "symbol",
    f"{MATHS}oMath": "formula",
    qn("w:object"): "picture",
}
ALIGNED = {
    "LEFT": "start",
    "START": "start",
    "CENTER": "center",
    "RIGHT": "end",
    "END": "end",
    "JUSTIFY": "justify",
}
VALUE = qn("w:val")
MOST_BASES = 20
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


@dataclass(frozen=True)
class _Style:
    """What a style of the file says, with those that it is based on, up to that of all copy; `whole` with that, too."""

    name: str
    look: Raw
    whole: Raw
    keep: Raw
    capitals: bool | None

    @property
    def level(self) -> int:
        """Of a heading; 0 of what is none."""
        number = self.name[8:] if self.name.startswith("Heading ") else ""
        return 1 if self.name == "Title" else int(number) if number.isdigit() else 0


class _Reader:
    def __init__(self, file: Any) -> None:
        self.file, self.body, self.out, self.tables = file, file._body, Imported(), 0
        self.kinds: dict[tuple[int | None, int], str] = {}
        self.styles: dict[tuple[str | None, WD_STYLE_TYPE], _Style] = {}

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
        style = self._style_of(first)
        heading = style.level
        if heading and min(heading, 3) not in self.out.looks:
            self.out.looks[min(heading, 3)] = {**style.keep, **{k: v for k, v in style.whole.items() if k != "script"}}
        rules = self._rules(first, style)
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
        of_paragraph = self._style_of(paragraph)
        for run, said in self._runs(paragraph._p, boxes):
            own = self._style(run.style, WD_STYLE_TYPE.CHARACTER) if run.style else None
            known = (said.pop("capitals", None), own.capitals if own else None, of_paragraph.capitals)
            text, look = self._text(run, boxes), self._letters(said, own, rules, heading)
            if script := look.pop("script", None):
                text = scripted(text, script == "raised")
            capitals = next((one for one in known if one is not None), False)
            runs.append({"text": text.upper() if capitals else text, **look})
        return runs

    def _paragraph(self, element: Any) -> Paragraph:
        return Paragraph(element, self.body)

    # Words

    def _runs(self, holder: Any, boxes: list[Any]) -> Iterator[tuple[Any, Raw]]:
        """Runs that are seen, with what each says of its letters."""
        for child in holder:
            if child.tag == qn("w:r"):
                if (ruby := child.find(qn("w:ruby"))) is not None:
                    yield from self._runs(ruby, boxes)
                said = _letters_said(child)
                if not said.pop("hidden", False):
                    yield child, said
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

    def _style(self, name: str | None, kind: WD_STYLE_TYPE) -> _Style:
        """A style by its id; the one of all copy, or of all letters, where none is named."""
        if (known := self.styles.get((name, kind))) is None:
            found, plain = self.file.part.get_style(name, kind), self.file.styles.default(kind)
            bases = list(_based_on(found))
            look, whole = _chain(_based_on(found, plain)), _chain(bases)
            look.pop("capitals", None)
            known = self.styles[name, kind] = _Style(
                found.name or "",
                look,
                whole,
                _keeping(bases if found.name != plain.name else []),
                whole.pop("capitals", None),
            )
        return known

    def _style_of(self, paragraph: Paragraph) -> _Style:
        return self._style(paragraph._p.style, WD_STYLE_TYPE.PARAGRAPH)

    def _letters(self, said: Raw, own: _Style | None, rules: Raw, heading: int) -> Raw:
        look = dict(said)
        if own is not None and own.name not in LINKS:
            look = {**own.look, **look}
        if look.get("weight") == rules.get("weight", 400) or (heading and look.get("weight") == 700):
            look.pop("weight", None)
        if look.get("slope") == rules.get("slope", "normal"):
            look.pop("slope", None)
        return look

    def _rules(self, paragraph: Paragraph, style: _Style) -> Raw:
        """What the file says of a paragraph, itself or by styles that say more than that of all copy."""
        found = _format_look(paragraph.paragraph_format)
        if style.level:
            return {k: v for k, v in found.items() if k == "align"}
        found = {**style.look, **found}
        if self._listed(paragraph):
            found = {k: v for k, v in found.items() if k not in ("indent", "first_indent")}
        keep = style.keep | _keeping_of(paragraph.paragraph_format)
        return {**{k: v for k, v in found.items() if v not in (0, "start", "normal", 400, False)}, **keep}

    def _listed(self, paragraph: Paragraph) -> str:
        name = self._style_of(paragraph).name
        numbers: Any = None if paragraph._p.pPr is None else paragraph._p.pPr.numPr
        kind = "bullets" if name.startswith("List Bullet") else "numbers" if name.startswith("List Number") else ""
        if numbers is None:
            return kind
        number, level = numbers.numId, numbers.ilvl
        key = (None if number is None else int(number.val), 0 if level is None else int(level.val))
        if key not in self.kinds:
            self.kinds[key] = self._kind(*key)
        return self.kinds[key] or kind or "bullets"

    def _kind(self, numbers: int | None, level: int) -> str:
        """Which kind of list a numbering is at a level, by the part of the file that says so."""
        if numbers is None:
            return ""
        try:
            part = self.file.part.numbering_part.element
        except (KeyError, NotImplementedError):
            return ""
        for number in part.findall(qn("w:num")):
            if number.get(qn("w:numId")) == str(numbers):
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


def _letters_said(holder: Any) -> Raw:
    """What a run, or a style, says of letters (its w:rPr): rules of the open format, and `capitals`, `hidden` and
    `script` (raised or lowered); a colour of the file's theme is none."""
    look: Raw = {}
    properties = holder.find(qn("w:rPr"))
    for one in properties if properties is not None else ():
        kind, value = str(one.tag).rpartition("}")[2], one.get(VALUE)
        on = value not in ("0", "false", "off", "none")
        if kind == "sz" and value:
            look["size"] = round(float(value) / 2, 2)
        elif kind == "color" and re.fullmatch(r"[0-9a-fA-F]{6}", value or ""):
            look["color"] = f"#{value.lower()}"
        elif kind == "b":
            look["weight"] = 700 if on else 400
        elif kind == "i":
            look["slope"] = "italic" if on else "normal"
        elif kind == "u" and on:
            look["underline"] = True
        elif kind == "smallCaps" and on:
            look["features"] = {"smcp": 1}
        elif kind in ("caps", "vanish"):
            look["capitals" if kind == "caps" else "hidden"] = on
        elif kind == "vertAlign" and value in ("superscript", "subscript"):
            look["script"] = "raised" if value == "superscript" else "lowered"
    return look


def _format_look(given: ParagraphFormat) -> Raw:
    look: Raw = {}
    for name, value in (
        ("space_before", given.space_before),
        ("space_after", given.space_after),
        ("indent", given.left_indent),
        ("first_indent", given.first_line_indent),
    ):
        if value is not None and value.pt >= 0:
            look[name] = round(value.pt, 2)
    if given.alignment is not None:
        look["align"] = ALIGNED.get(str(given.alignment).partition(" ")[0], "start")
    return look


def _chain(styles: Iterable[Any]) -> Raw:
    """What styles that are based on one another say, the nearest first."""
    look: Raw = {}
    for one in styles:
        of_paragraphs = _format_look(one.paragraph_format) if isinstance(one, ParagraphStyle) else {}
        look = {**_letters_said(one.element), **of_paragraphs, **look}
    look.pop("hidden", None)
    return look


def _keeping_of(given: ParagraphFormat) -> Raw:
    keep = {"whole": given.keep_together, "next": given.keep_with_next}
    said = {name: bool(value) for name, value in keep.items() if value}
    return {"keep": said} if said else {}


def _keeping(styles: Iterable[Any]) -> Raw:
    """Whether styles keep their lines together, and with the next paragraph."""
    said: Raw = {}
    for one in styles:
        if isinstance(one, ParagraphStyle):
            said = {**_keeping_of(one.paragraph_format).get("keep", {}), **said}
    return {"keep": said} if said else {}


def _based_on(style: Any, end: Any = None) -> Iterator[Any]:
    """A style and those that it is based on, the nearest first, before one of them; so many at most, for a file may
    have them go round."""
    for _ in range(MOST_BASES):
        if style is None or (end is not None and style.style_id == end.style_id):
            return
        yield style
        style = style.base_style
