"""Text files as paragraphs: plain text, Markdown, DOCX (ECMA-376) and ODT (OASIS OpenDocument).

Formatting is mapped to the document's own terms: bold and italic, underline, sizes and colours set on words, alignment,
headings to styles that look as they do in the file, bullets and numbers; or left out, when plain copy is wanted. Fonts are
not taken over: they are seldom there.
"""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from nestline.errors import BROKEN_ARCHIVE, NestLineError

MOST_BYTES = 20_000_000
MOST_UNPACKED = 200_000_000
MOST_LETTERS = 2_000_000
LINE_BREAK = "\u2028"
HEADINGS = {
    1: {"size": "1.8em", "weight": 700},
    2: {"size": "1.4em", "weight": 700},
    3: {"size": "1.15em", "weight": 700},
}
"""What the styles of headings look like when the document has none of that name."""


class TextError(NestLineError):
    """The file cannot be read as text."""


@dataclass
class Imported:
    """Paragraphs in the open format, and the names of heading levels they use."""

    paragraphs: list[dict[str, Any]] = field(default_factory=list)
    headings: set[int] = field(default_factory=set)
    looks: dict[int, dict[str, Any]] = field(default_factory=dict)
    """What the styles of its headings look like in the file, by level."""

    def add(self, runs: list[dict[str, Any]], heading: int = 0, listed: str = "", align: str = "") -> None:
        joined = _joined(runs)
        paragraph: dict[str, Any] = {"runs": joined}
        if align:
            paragraph["align"] = align
        if heading:
            level = min(heading, 3)
            self.headings.add(level)
            paragraph["style"] = f"Heading {level}"
        if listed:
            paragraph["list"] = {"kind": listed}
        self.paragraphs.append(paragraph)

    def plain(self) -> list[dict[str, Any]]:
        """The same words without any formatting."""
        return [{"runs": _joined([{"text": r["text"]} for r in p["runs"]])} for p in self.paragraphs]


def read_text(name: str, content: bytes) -> Imported:
    """A text file by its content, its name telling only Markdown from plain text. Raises TextError."""
    if len(content) > MOST_BYTES:
        raise TextError(f"the file is larger than {MOST_BYTES // 1_000_000} MB")
    if content[:4] == b"PK\x03\x04":
        read: Callable[[bytes], Imported] = _packed(content)
    elif content[:5] in (b"%PDF-", b"{\\rtf") or content[:8] == b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1":
        raise TextError("this kind of file is not read; bring TXT, Markdown, DOCX or ODT")
    else:
        read = _markdown if name.lower().endswith((".md", ".markdown")) else _plain_text
    try:
        found = read(content)
    except TextError:
        raise
    except Exception as error:  # libraries raise many kinds for broken files
        raise TextError(f"the file is broken and cannot be read ({type(error).__name__})") from None
    if sum(len(r["text"]) for p in found.paragraphs for r in p["runs"]) > MOST_LETTERS:
        raise TextError("the file holds more than two million letters")
    if not any(p["runs"] for p in found.paragraphs):
        raise TextError("there are no words in the file")
    return found


def _decoded(content: bytes) -> str:
    for start, encoding in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if content.startswith(start):
            return content.decode(encoding, "replace")
    try:
        text = content.decode("utf-8")
    except UnicodeDecodeError:
        text = content.decode("cp1252", "replace")
    if text.count("\x00") or sum(ord(c) < 9 for c in text[:2000]) > 2:
        raise TextError("this is not a text file; bring TXT, Markdown, DOCX or ODT")
    return text


def _clean(text: str) -> str:
    return text.replace("\r\n", "\n").replace("\r", "\n").replace("\x0b", LINE_BREAK).replace("\x0c", "\n")


def _plain_text(content: bytes) -> Imported:
    """A line end is a paragraph's; where empty lines part paragraphs, single line ends are only wrapping."""
    text = _clean(_decoded(content)).strip("\n")
    out = Imported()
    blocks = [b for b in text.split("\n\n") if b.strip()]
    wrapped = len(blocks) > 1 and any("\n" in b.strip() for b in blocks)
    for part in blocks if wrapped else text.split("\n"):
        if part.strip() or not wrapped:
            out.add([{"text": " ".join(part.split()) if wrapped else part.rstrip()}])
    return out


def _markdown(content: bytes) -> Imported:
    from markdown_it import MarkdownIt

    out = Imported()
    lists: list[str] = []
    heading = 0
    for token in MarkdownIt("commonmark").parse(_clean(_decoded(content))):
        if token.type in ("bullet_list_open", "ordered_list_open"):
            lists.append("bullets" if token.type[0] == "b" else "numbers")
        elif token.type in ("bullet_list_close", "ordered_list_close"):
            lists.pop()
        elif token.type == "heading_open":
            heading = int(token.tag[1])
        elif token.type == "heading_close":
            heading = 0
        elif token.type in ("fence", "code_block"):
            for line in token.content.rstrip("\n").split("\n"):
                out.add([{"text": line}])
        elif token.type == "inline":
            out.add(_markdown_runs(token.children or []), heading, lists[-1] if lists else "")
    return out


def _markdown_runs(tokens: list[Any]) -> list[dict[str, Any]]:
    runs: list[dict[str, Any]] = []
    look: dict[str, Any] = {}
    for token in tokens:
        if token.type == "strong_open":
            look = {**look, "weight": 700}
        elif token.type == "strong_close":
            look = {k: v for k, v in look.items() if k != "weight"}
        elif token.type == "em_open":
            look = {**look, "slope": "italic"}
        elif token.type == "em_close":
            look = {k: v for k, v in look.items() if k != "slope"}
        elif token.type == "softbreak":
            runs.append({"text": " ", **look})
        elif token.type == "hardbreak":
            runs.append({"text": LINE_BREAK, **look})
        elif token.type in ("text", "code_inline") and token.content:
            runs.append({"text": token.content, **look})
    return runs


def _packed(content: bytes) -> Callable[[bytes], Imported]:
    """Which of the two packed formats it is; refuses archives that unpack to far more than they hold."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            names = set(archive.namelist())
            if sum(i.file_size for i in archive.infolist()) > MOST_UNPACKED or len(names) > 5000:
                raise TextError("the file unpacks to more than is sensible; it is not read")
            for name in names:
                if name.endswith((".xml", ".rels")) and b"<!ENTITY" in archive.read(name).replace(
                    b"\0", b""
                ):  # in UTF-16 too
                    raise TextError("the file defines entities; it is not read")
            if "word/document.xml" in names:
                return _docx
            if "mimetype" in names and archive.read("mimetype").startswith(b"application/vnd.oasis.opendocument.text"):
                return _odt
    except TextError:
        raise
    except BROKEN_ARCHIVE:
        raise TextError("the file is broken and cannot be read") from None
    raise TextError("this archive is no text document; bring DOCX or ODT")


def _docx(content: bytes) -> Imported:
    import docx
    from docx.oxml.ns import qn

    out = Imported()
    for paragraph in docx.Document(io.BytesIO(content)).paragraphs:
        style = (paragraph.style.name or "") if paragraph.style is not None else ""
        heading = (
            1 if style == "Title" else int(style[8:]) if style.startswith("Heading ") and style[8:].isdigit() else 0
        )
        if heading and min(heading, 3) not in out.looks:
            out.looks[min(heading, 3)] = _docx_style(paragraph.style)
        numbered = paragraph._p.pPr is not None and paragraph._p.pPr.numPr is not None
        listed = "bullets" if style.startswith("List Bullet") else "numbers" if style.startswith("List Number") else ""
        runs: list[dict[str, Any]] = []
        for run in paragraph.iter_inner_content():
            for piece in getattr(run, "runs", [run]):
                text = "".join(
                    LINE_BREAK if c.tag == qn("w:br") else "\t" if c.tag == qn("w:tab") else (c.text or "")
                    for c in piece._r
                    if c.tag in (qn("w:t"), qn("w:br"), qn("w:tab"))
                )
                look: dict[str, Any] = {}
                if piece.bold and not heading:
                    look["weight"] = 700
                if piece.italic:
                    look["slope"] = "italic"
                if piece.underline:
                    look["underline"] = True
                runs.append({"text": text, **look, **_docx_letters(piece.font)})
        align = ALIGNED.get(str(paragraph.alignment).partition(" ")[0], "") if paragraph.alignment is not None else ""
        out.add(runs, heading, listed or ("bullets" if numbered else ""), align)
    return out


ALIGNED = {"LEFT": "start", "CENTER": "center", "RIGHT": "end", "JUSTIFY": "justify"}


def _docx_letters(font: Any) -> dict[str, Any]:
    """Size and colour that are set on words themselves; a colour of the file's theme is not."""
    look: dict[str, Any] = {}
    if font.size is not None:
        look["size"] = round(font.size.pt, 2)
    if font.color is not None and font.color.rgb is not None:
        look["color"] = f"#{str(font.color.rgb).lower()}"
    return look


def _docx_style(style: Any) -> dict[str, Any]:
    """What a style and those that it is based on say of letters and paragraph, the nearest first."""
    look: dict[str, Any] = {}
    while style is not None:
        found = _docx_letters(style.font)
        if style.font.bold is not None:
            found["weight"] = 700 if style.font.bold else 400
        if style.font.italic is not None:
            found["slope"] = "italic" if style.font.italic else "normal"
        space = style.paragraph_format
        if space.space_before is not None:
            found["space_before"] = round(space.space_before.pt, 2)
        if space.space_after is not None:
            found["space_after"] = round(space.space_after.pt, 2)
        if space.alignment is not None:
            found["align"] = ALIGNED.get(str(space.alignment).partition(" ")[0], "start")
        look = {**found, **look}
        style = style.base_style
    return look


def _odt(content: bytes) -> Imported:
    from odfdo import Document

    document = Document(io.BytesIO(content))
    looks: dict[str, dict[str, Any]] = {}

    def look_of(name: str | None) -> dict[str, Any]:
        if not name:
            return {}
        if name not in looks:
            style: Any = document.get_style("text", name) or document.get_style("paragraph", name)
            found: dict[str, Any] = {}
            values = (style.get_properties(area="text") or {}) if style is not None else {}
            if values.get("fo:font-weight") in ("bold", "700", "800", "900"):
                found["weight"] = 700
            if values.get("fo:font-style") in ("italic", "oblique"):
                found["slope"] = "italic"
            if values.get("style:text-underline-style", "none") != "none":
                found["underline"] = True
            size, color = str(values.get("fo:font-size") or ""), str(values.get("fo:color") or "")
            if re.fullmatch(r"\d+(\.\d+)?pt", size):
                found["size"] = round(float(size[:-2]), 2)
            if re.fullmatch(r"#[0-9a-fA-F]{6}", color):
                found["color"] = color.lower()
            looks[name] = found
        return looks[name]

    def runs_of(node: Any, look: dict[str, Any]) -> list[dict[str, Any]]:
        found = [{"text": node.text, **look}] if node.text else []
        for child in node:
            tag = child.tag.rpartition("}")[2]
            if tag == "span":
                name = child.get("{urn:oasis:names:tc:opendocument:xmlns:text:1.0}style-name")
                found += runs_of(child, {**look, **look_of(name)})
            elif tag == "line-break":
                found.append({"text": LINE_BREAK, **look})
            elif tag == "tab":
                found.append({"text": "\t", **look})
            elif tag == "s":
                count = int(child.get("{urn:oasis:names:tc:opendocument:xmlns:text:1.0}c") or 1)
                found.append({"text": " " * min(count, 1000), **look})
            elif tag not in ("note", "annotation", "frame", "tracked-changes"):
                found += runs_of(child, look)
            if child.tail:
                found.append({"text": child.tail, **look})
        return found

    out = Imported()

    def walk(node: Any, listed: str) -> None:
        for child in node:
            tag = child.tag.rpartition("}")[2]
            if tag in ("p", "h"):
                space = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"
                level = int(child.get(f"{space}outline-level") or 1) if tag == "h" else 0
                base = look_of(child.get(f"{space}style-name"))
                if level and min(level, 3) not in out.looks:
                    out.looks[min(level, 3)] = {**look_of(f"Heading_20_{level}"), **base}
                base = {} if level else base
                out.add(runs_of(child, base), level, listed)
            elif tag == "list":
                name = child.get("{urn:oasis:names:tc:opendocument:xmlns:text:1.0}style-name") or ""
                style: Any = document.get_style("list", name) if name else None
                numbers = style is not None and style.get_element("text:list-level-style-number") is not None
                walk(child, "numbers" if numbers else "bullets")
            elif tag in ("list-item", "section", "list-header"):
                walk(child, listed)

    walk(document.body._xml_element, "")
    return out


def _joined(runs: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Runs of one look made one; empty ones go."""
    out: list[dict[str, Any]] = []
    for run in runs:
        if not run["text"]:
            continue
        if out and {**out[-1], "text": ""} == {**run, "text": ""}:
            out[-1] = {**out[-1], "text": out[-1]["text"] + run["text"]}
        else:
            out.append(run)
    return out
