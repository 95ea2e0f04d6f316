"""Text files as paragraphs: plain text, Markdown, DOCX (ECMA-376) and ODT (OASIS OpenDocument).

Formatting is mapped to the document's own terms: bold and italic, underline, sizes and colours set on words, alignment,
indents and spaces, headings to styles that look as they do in the file, bullets and numbers; or left out, when plain
copy is wanted. Fonts are not taken over: they are seldom there. Every word is: of tables and text boxes, too, where
they stand; what is no copy is counted.
"""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Callable
from typing import Any

from nestline.copy.imported import LINE_BREAK, Imported, TextError
from nestline.errors import BROKEN_ARCHIVE

MOST_BYTES = 20_000_000
MOST_UNPACKED = 200_000_000
MOST_LETTERS = 2_000_000
HEADINGS = {
    1: {"size": "1.8em", "weight": 700},
    2: {"size": "1.4em", "weight": 700},
    3: {"size": "1.15em", "weight": 700},
}
"""What the styles of headings look like when the document has none of that name."""


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
    found.align_rows()
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
    """A line end is a paragraph's; in text that is wrapped by hand, only an empty line is."""
    text = _clean(_decoded(content)).strip("\n")
    out = Imported()
    blocks = [[line.strip() for line in block.split("\n") if line.strip()] for block in re.split(r"\n\s*\n", text)]
    if _wrapped(blocks):
        for block in blocks:
            out.add([{"text": " ".join(" ".join(block).split())}])
    else:
        for line in text.split("\n"):
            out.add([{"text": line.rstrip()}])
    return out


WRAPPED_AT = (40, 100)
"""Letters of the longest line of text that somebody, or something, has wrapped."""


def _wrapped(blocks: list[list[str]]) -> bool:
    """Whether lines end where the next word had no room in the longest of them."""
    ends = [pair for block in blocks for pair in zip(block, block[1:], strict=False)]
    longest = max((len(line) for block in blocks for line in block), default=0)
    full = sum(len(line) + 1 + len(after.split()[0]) > longest for line, after in ends)
    return WRAPPED_AT[0] <= longest <= WRAPPED_AT[1] and len(ends) > 1 and full >= 0.8 * len(ends)


def _markdown(content: bytes) -> Imported:
    from markdown_it import MarkdownIt

    out = Imported()
    lists: list[str] = []
    row: list[list[dict[str, Any]]] | None = None
    tables = 0
    heading = 0
    for token in MarkdownIt("commonmark").enable("table").parse(_clean(_decoded(content))):
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
        elif token.type == "html_block":
            if words := " ".join(re.sub(r"<!--.*?-->|<[^>]*>", " ", token.content, flags=re.DOTALL).split()):
                out.add([{"text": words}])
        elif token.type == "tr_open":
            row = []
        elif token.type == "tr_close":
            out.add_row(row or [], tables)
            row = None
        elif token.type == "table_close":
            tables += 1
        elif token.type == "inline":
            out.missing["picture"] += sum(one.type == "image" for one in token.children or [])
            runs = _markdown_runs(token.children or [])
            if row is None:
                out.add(runs, heading, lists[-1] if lists else "")
            else:
                row.append(runs)
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
        elif token.type == "hardbreak" or (token.type == "html_inline" and token.content.lower().startswith("<br")):
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
                from nestline.copy.docx_copy import read_docx  # their libraries take a third of a second to load

                return read_docx
            if "mimetype" in names and archive.read("mimetype").startswith(b"application/vnd.oasis.opendocument.text"):
                from nestline.copy.odt_copy import read_odt

                return read_odt
    except TextError:
        raise
    except BROKEN_ARCHIVE:
        raise TextError("the file is broken and cannot be read") from None
    raise TextError("this archive is no text document; bring DOCX or ODT")
