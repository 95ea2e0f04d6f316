"""XLIFF 2.1 (OASIS, from memory): copy as it goes to translators and comes home.

A file a copy, a unit with one segment a paragraph; codes of looks are `pc`, of objects, page numbers and forced line
ends `ph`. Notes say the frame, how many letters fit, and where its picture lies beside the file. Read is what other
programs may make of it: segments cut further, `sc` and `ec` instead of `pc`, marks, states.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from xml.etree.ElementTree import Element, SubElement, tostring

from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException

from nestline.errors import NestLineError
from nestline.translating.segments import Code, Content, Span
from nestline.translating.states import State

CORE = "urn:oasis:names:tc:xliff:document:2.0"
"""The namespace of the core of XLIFF 2.0 and 2.1."""
XML = "http://www.w3.org/XML/1998/namespace"
MOST_BYTES = 30_000_000
MOST_DEPTH = 60
MARKS = {"bold": "xlf:b", "italic": "xlf:i", "underline": "xlf:u"}
CONTROL = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]")
"""What XML 1.0 cannot hold; XLIFF writes it as `cp`."""
VERSIONS = "versions"
"""The category of the note that names the versions, in the file's first note."""


@dataclass(frozen=True, eq=False)
class Unit:
    """A paragraph that goes out: of which copy, its number there, its words, the translation so far, what is told with
    it."""

    copy: str
    number: int
    content: Content
    state: State = "new"
    target: tuple[Span, ...] | None = None
    notes: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class Home:
    """A paragraph that came home: the words it was made from, and its translation, where it has one."""

    copy: str
    number: int
    source: tuple[Span, ...]
    target: tuple[Span, ...] | None


@dataclass(frozen=True)
class Letter:
    """What goes out or comes home: versions (of another's file empty), their languages, and its paragraphs."""

    source: str
    target: str
    source_language: str
    target_language: str
    units: Sequence[Unit | Home] = field(default_factory=tuple)


def write_xliff(letter: Letter) -> bytes:
    """An XLIFF 2.1 file."""
    root = Element(
        "xliff",
        {"xmlns": CORE, "version": "2.1", "srcLang": letter.source_language, "trgLang": letter.target_language},
    )
    files: dict[str, Element] = {}
    for unit in letter.units:
        assert isinstance(unit, Unit)
        if unit.copy not in files:
            made = SubElement(root, "file", {"id": f"f{len(files) + 1}", "original": unit.copy})
            made.set(f"{{{XML}}}space", "preserve")
            notes = SubElement(made, "notes")
            SubElement(notes, "note", {"category": VERSIONS}).text = f"{letter.source} > {letter.target}"
            files[unit.copy] = made
        _write_unit(files[unit.copy], unit)
    if not files:
        SubElement(SubElement(root, "file", {"id": "f1"}), "skeleton").text = "nothing to translate"
    _spread(root, 0)
    written: bytes = tostring(root, encoding="utf-8", xml_declaration=True)
    return written + b"\n"


def _write_unit(file: Element, unit: Unit) -> None:
    made = SubElement(file, "unit", {"id": f"p{unit.number + 1}", "name": f"{unit.copy}, paragraph {unit.number + 1}"})
    if unit.notes:
        notes = SubElement(made, "notes")
        for category, said in unit.notes:
            SubElement(notes, "note", {"category": category}).text = CONTROL.sub("", said)
    done = unit.state == "done" and unit.target is not None
    segment = SubElement(made, "segment", {"id": "s1", "state": "translated" if done else "initial"})
    _write_spans(SubElement(segment, "source"), unit.content.spans, unit.content.codes)
    if unit.target is not None:
        _write_spans(SubElement(segment, "target"), unit.target, unit.content.codes)


def _write_spans(into: Element, spans: Sequence[Span], codes: Mapping[str, Code]) -> None:
    open_code: str | None = None
    at = into
    for span in spans:
        code = codes.get(span.code or "")
        if code is not None and code.alone:
            kind = {"type": "fmt", "subType": "xlf:lb"} if code.kind == "break" else {"type": "other"}
            free = "yes" if code.kind == "break" else "no"
            if code.kind != "break":
                open_code, at = None, into
            SubElement(at, "ph", {"id": code.id, "disp": code.said, "canCopy": free, "canDelete": free, **kind})
            continue
        if span.code != open_code:
            open_code, at = span.code, into
            if code is not None:
                mark = next((MARKS[name] for name in code.said.split() if name in MARKS), None)
                look = {"type": "fmt", "subType": mark} if mark else {}
                at = SubElement(into, "pc", {"id": code.id, "dispStart": code.said, "canCopy": "no", **look})
        _add(at, span.text)


def _add(at: Element, text: str) -> None:
    """Text at the end of an element, what XML cannot hold as `cp`."""
    start = 0
    for found in CONTROL.finditer(text):
        _add_plain(at, text[start : found.start()])
        SubElement(at, "cp", {"hex": f"{ord(found.group()):04X}"})
        start = found.end()
    _add_plain(at, text[start:])


def _add_plain(at: Element, text: str) -> None:
    if not text:
        return
    if len(at):
        at[-1].tail = (at[-1].tail or "") + text
    else:
        at.text = (at.text or "") + text


def _spread(element: Element, depth: int) -> None:
    """A line for each element, but within words."""
    if element.tag in ("source", "target", "note", "skeleton") or not len(element):
        return
    element.text = "\n" + "  " * (depth + 1)
    for child in element:
        _spread(child, depth + 1)
        child.tail = "\n" + "  " * (depth + 1)
    element[-1].tail = "\n" + "  " * depth


# Reading


def read_xliff(content: bytes) -> Letter:
    """What stands in an XLIFF 2.0 or 2.1 file. Raises NestLineError in the user's words."""
    if len(content) > MOST_BYTES:
        raise NestLineError(f"this file has {len(content) / 1e6:.0f} MB; there may be {MOST_BYTES / 1e6:.0f}")
    try:
        root = ElementTree.fromstring(content, forbid_dtd=True)
    except DefusedXmlException:
        raise NestLineError("this file names entities or a document type; an XLIFF file needs neither") from None
    except (ElementTree.ParseError, ValueError, LookupError) as error:
        raise NestLineError(f"this file is not whole: {str(error)[:200]}") from None
    if root.tag != f"{{{CORE}}}xliff":
        old = root.tag.endswith("xliff")
        raise NestLineError("this is XLIFF 1; write it as 2.0 or 2.1" if old else "this file is not XLIFF")
    source = target = ""
    homes: list[Home] = []
    for file in root.findall(_(("file",))):
        name = file.get("original", "")
        for note in file.findall(_(("notes", "note"))):
            if note.get("category") == VERSIONS and " > " in (note.text or ""):
                source, _sign, target = (note.text or "").partition(" > ")
        for unit in file.iter(_(("unit",))):
            number = re.fullmatch(r"p([1-9][0-9]{0,6})", unit.get("id", ""))
            if number is None:
                raise NestLineError(f"the unit “{unit.get('id', '')[:40]}” is none of those that went out from here")
            homes.append(_home(name, int(number.group(1)) - 1, unit))
    return Letter(source, target, root.get("srcLang", ""), root.get("trgLang", ""), homes)


def _(path: tuple[str, ...]) -> str:
    return "/".join(f"{{{CORE}}}{name}" for name in path)


def _home(copy: str, number: int, unit: Element) -> Home:
    source: list[Span] = []
    target: list[Span] = []
    whole = True
    for part in unit:
        if part.tag not in (_(("segment",)), _(("ignorable",))):
            continue
        words, made = part.find(_(("source",))), part.find(_(("target",)))
        if words is None:
            raise NestLineError(f"paragraph {number + 1} of “{copy}” has no source")
        source += _spans(words)
        if made is None and part.tag == _(("segment",)):
            whole = False
        target += _spans(words if made is None else made)
    return Home(copy, number, _joined(source), _joined(target) if whole else None)


def _spans(words: Element) -> list[Span]:
    """Words with codes: those that are innermost count; marks and what is unknown are looked through."""
    out: list[Span] = []
    running: list[tuple[str, str | None]] = []

    def say(text: str | None, code: str | None) -> None:
        if text:
            out.append(Span(text, running[-1][1] if running else code))

    def walk(element: Element, code: str | None, depth: int) -> None:
        if depth > MOST_DEPTH:
            raise NestLineError(f"codes stand within codes {MOST_DEPTH} deep; that is no translation")
        say(element.text, code)
        for child in element:
            name = child.tag.rpartition("}")[2]
            id = child.get("copyOf") or child.get("id", "")
            match name:
                case "pc":
                    before = len(out)
                    walk(child, id, depth + 1)
                    if len(out) == before:
                        out.append(Span("", id))
                case "sc":
                    running.append((child.get("id", ""), id))
                case "ec":
                    start = child.get("startRef") or child.get("id", "")
                    running[:] = [one for one in running if one[0] != start]
                case "ph":
                    out.append(Span("", id))
                case "cp":
                    say(_sign(child.get("hex", "")), code)
                case "mrk":
                    walk(child, code, depth + 1)
            say(child.tail, code)

    walk(words, None, 0)
    return out


def _sign(figure: str) -> str:
    if not re.fullmatch(r"[0-9A-Fa-f]{1,6}", figure) or int(figure, 16) > 0x10FFFF:
        raise NestLineError(f"“{figure[:20]}” is no character")
    return chr(int(figure, 16))


def _joined(spans: Sequence[Span]) -> tuple[Span, ...]:
    """Neighbours of one code made one. Words in an alone code's place cannot be: `ph` holds none."""
    out: list[Span] = []
    for span in spans:
        if out and span.text and out[-1].text and out[-1].code == span.code:
            out[-1] = Span(out[-1].text + span.text, span.code)
        else:
            out.append(span)
    return tuple(out)
