"""The copy of an ODT file (OASIS OpenDocument 1.3): every word that is seen in it, in its order.

That of tables (a row is a paragraph, its cells apart by tabs, where each cell is one), of text boxes (behind the
paragraph that they belong to), of links, sections and indexes; not what was deleted while changes were kept.
"""

from __future__ import annotations

import io
import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from odfdo import Document

from nestline.copy.imported import LINE_BREAK, Imported, Raw, scripted

TEXT = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"
TABLE = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
STYLE = "{urn:oasis:names:tc:opendocument:xmlns:style:1.0}"
TO_PT = {"pt": 1.0, "cm": 72 / 2.54, "mm": 72 / 25.4, "in": 72.0, "pc": 12.0}
ALIGNED = {"center": "center", "end": "end", "right": "end", "justify": "justify"}
BODY = ("Standard", "Text_20_body", "Default_20_Paragraph_20_Style")
"""Styles of all copy: what they say is said by the frame that it comes to."""
THROUGH = (
    "section",
    "table-of-content",
    "illustration-index",
    "table-index",
    "object-index",
    "user-index",
    "alphabetical-index",
    "bibliography",
    "index-body",
    "index-title",
    "list-item",
    "list-header",
    "numbered-paragraph",
)
"""What holds paragraphs that are seen as if they stood in its place."""
NOT_SEEN = (
    "annotation",
    "annotation-end",
    "tracked-changes",
    "hidden-text",
    "hidden-paragraph",
    "desc",
    "title",
    "ruby-text",
)


def read_odt(content: bytes) -> Imported:
    """A file's paragraphs. Raises whatever its library raises for broken files."""
    reader = _Reader(Document(io.BytesIO(content)))
    for block in reader.blocks(reader.file.body._xml_element, ""):
        reader.add(block)
    return reader.out


@dataclass(frozen=True)
class _Block:
    """A paragraph and which list it is of, or those of a row of a table, cell by cell, and which table's."""

    paragraphs: list[Any]
    listed: str = ""
    table: int | None = None


class _Reader:
    def __init__(self, file: Any) -> None:
        self.file, self.out, self.tables = file, Imported(), 0
        self.looks: dict[tuple[str, str], Raw] = {}

    def blocks(self, holder: Any, listed: str) -> Iterator[_Block]:
        """Paragraphs in their order, those of one row of a table together."""
        for child in holder:
            tag = _tag(child)
            if tag in ("p", "h"):
                yield _Block([child], listed)
            elif tag == "list":
                yield from self.blocks(child, self._kind(child) or listed or "bullets")
            elif tag == "table":
                self.tables += 1
                table = self.tables
                for row in child.iter(f"{TABLE}table-row"):
                    if next(row.iterancestors(f"{TABLE}table")) is child:
                        yield from self._row(row, table)
            elif tag in THROUGH:
                yield from self.blocks(child, listed)
            elif tag == "frame":  # anchored to its page
                boxes: list[Any] = []
                self._framed(child, boxes)
                for box in boxes:
                    yield from self.blocks(box, "")

    def _row(self, row: Any, table: int) -> Iterator[_Block]:
        cells = [list(self.blocks(cell, "")) for cell in row if _tag(cell) == "table-cell"]
        if all(len(cell) <= 1 and all(block.table is None for block in cell) for cell in cells):
            yield _Block([cell[0].paragraphs[0] if cell else None for cell in cells], "", table)
        else:
            for cell in cells:
                yield from cell

    def add(self, block: _Block) -> None:
        boxes: list[Any] = []
        behind = self.out.missing.total()
        first = next((one for one in block.paragraphs if one is not None), None)
        if first is None:
            return
        level = min(int(first.get(f"{TEXT}outline-level") or 1), 3) if _tag(first) == "h" else 0
        rules = {k: v for k, v in self._look(first.get(f"{TEXT}style-name"), "paragraph").items() if k != "script"}
        if level:
            if level not in self.out.looks:
                self.out.looks[level] = {**self._look(f"Heading_20_{level}", "paragraph", whole=True), **rules}
            rules = {k: v for k, v in rules.items() if k == "align"}
        elif block.listed:
            rules = {k: v for k, v in rules.items() if k not in ("indent", "first_indent")}
        cells = [
            [] if one is None else [_told(run, rules) for run in self._runs(one, {}, boxes)] for one in block.paragraphs
        ]
        if block.table is not None:
            self.out.add_row(cells, block.table, rules)
        elif any(run["text"] for run in cells[0]) or not (boxes or self.out.missing.total() > behind):
            self.out.add(cells[0], level, "" if level else block.listed, rules)
        for box in boxes:
            for inside in self.blocks(box, ""):
                self.add(inside)

    # Words

    def _runs(self, node: Any, look: Raw, boxes: list[Any]) -> list[Raw]:
        found: list[Raw] = [{"text": node.text, **look}] if node.text else []
        for child in node:
            tag = _tag(child)
            if tag == "span":
                found += self._runs(child, {**look, **self._look(child.get(f"{TEXT}style-name"), "text")}, boxes)
            elif tag == "line-break":
                found.append({"text": LINE_BREAK, **look})
            elif tag == "tab":
                found.append({"text": "\t", **look})
            elif tag == "s":
                count = int(child.get(f"{TEXT}c") or 1)
                found.append({"text": " " * min(count, 1000), **look})
            elif tag == "note":
                self.out.missing["footnote"] += 1
            elif tag == "frame":
                self._framed(child, boxes)
            elif tag and tag not in NOT_SEEN:
                found += self._runs(child, look, boxes)
            if child.tail:
                found.append({"text": child.tail, **look})
        return found

    def _framed(self, frame: Any, boxes: list[Any]) -> None:
        kinds = [_tag(child) for child in frame]
        boxes += [child for child in frame if _tag(child) == "text-box"]
        if "text-box" not in kinds:
            self.out.missing["formula" if "object" in kinds else "picture"] += 1

    # Looks

    def _look(self, name: str | None, family: str, whole: bool = False) -> Raw:
        """What a style and those that it is based on say, the nearest first, up to that of all copy."""
        if not name or (name in BODY and not whole):
            return {}
        if (known := self.looks.get((name, family))) is None:
            self.looks[name, family] = {}  # of styles that are based on each other
            style = self.file.get_style(family, name) or (
                self.file.get_style("paragraph", name) if family == "text" else None
            )
            known = {}
            if style is not None:
                parent = style._xml_element.get(f"{STYLE}parent-style-name")
                known = {
                    **self._look(parent, family),
                    **_letters(style),
                    **(_format(style) if family == "paragraph" else {}),
                }
            self.looks[name, family] = known
        return known

    def _kind(self, node: Any) -> str:
        name = node.get(f"{TEXT}style-name") or ""
        style: Any = self.file.get_style("list", name) if name else None
        if style is None:
            return ""
        return "numbers" if style.get_element("text:list-level-style-number") is not None else "bullets"


def _told(run: Raw, rules: Raw) -> Raw:
    """A run by what it has otherwise than its paragraph, superior and inferior figures by their own letters."""
    run = dict(run)
    if script := run.pop("script", None):
        run["text"] = scripted(run["text"], script == "raised")
    for name, usual in (("weight", 400), ("slope", "normal")):
        if run.get(name) == rules.get(name, usual):
            run.pop(name)
    return run


def _tag(node: Any) -> str:
    return node.tag.rpartition("}")[2] if isinstance(node.tag, str) else ""


def _letters(style: Any) -> Raw:
    values = style.get_properties(area="text") or {}
    look: Raw = {}
    weight, slope = values.get("fo:font-weight"), values.get("fo:font-style")
    if weight is not None:
        look["weight"] = 700 if weight in ("bold", "700", "800", "900") else 400
    if slope is not None:
        look["slope"] = "italic" if slope in ("italic", "oblique") else "normal"
    if values.get("style:text-underline-style", "none") != "none":
        look["underline"] = True
    size, color = _points(values.get("fo:font-size")), str(values.get("fo:color") or "")
    if size:
        look["size"] = size
    if re.fullmatch(r"#[0-9a-fA-F]{6}", color):
        look["color"] = color.lower()
    if values.get("fo:font-variant") == "small-caps":
        look["features"] = {"smcp": 1}
    raised = str(values.get("style:text-position") or "").partition(" ")[0]
    if raised not in ("", "0%"):
        look["script"] = "lowered" if raised.startswith(("sub", "-")) else "raised"
    return look


def _format(style: Any) -> Raw:
    values = style.get_properties(area="paragraph") or {}
    look: Raw = {}
    for name, key in (
        ("space_before", "fo:margin-top"),
        ("space_after", "fo:margin-bottom"),
        ("indent", "fo:margin-left"),
        ("first_indent", "fo:text-indent"),
    ):
        if (points := _points(values.get(key))) and points > 0:
            look[name] = points
    if align := ALIGNED.get(str(values.get("fo:text-align"))):
        look["align"] = align
    keep = {"whole": values.get("fo:keep-together") == "always", "next": values.get("fo:keep-with-next") == "always"}
    if any(keep.values()):
        look["keep"] = {name: True for name, held in keep.items() if held}
    return look


def _points(value: Any) -> float | None:
    found = re.fullmatch(r"(-?\d*\.?\d+)(pt|cm|mm|in|pc)", str(value or ""))
    return round(float(found[1]) * TO_PT[found[2]], 2) if found else None
