"""Copy brought in, made up, searched, and turned into outlines."""

from __future__ import annotations

import base64
import binascii
import re
from collections.abc import Iterable, Iterator
from typing import Annotated, Any

from pydantic import Field

from nestline import rows as k
from nestline.acts.acting import ActError, Acting, Given, act, fresh
from nestline.acts.going_along import left_standing
from nestline.acts.own_copy import STRAIGHT, GiveCopy, give_copy
from nestline.acts.paths import Figure, path_outline
from nestline.copy.dummy import cut_to, dummy_paragraphs
from nestline.copy.imports import HEADINGS, read_text
from nestline.document import edits, lengths
from nestline.document.edits import Operation, Raw
from nestline.document.model import PageObject
from nestline.nesting.frame_nest import FrameNest
from nestline.nesting.glyphs import glyph_runs, marks, underlines
from nestline.outlines.path import Contour, Path, Piece, transformed


class BringText(Given):
    object: str
    version: str
    name: str = ""
    content: Annotated[str, Field(max_length=30_000_000)]
    """The file, in base 64."""
    plain: bool = False


def decoded(content: str) -> bytes:
    """A file's bytes from base 64. Raises ActError."""
    try:
        return base64.b64decode(content, validate=True)
    except (binascii.Error, ValueError):
        raise ActError("the file did not arrive whole; bring it again") from None


@act("bring-text", BringText)
def bring_text(at: Acting, given: BringText) -> list[Operation]:
    """A text file as an object's copy, instead of what it held; with its formatting, or plain."""
    found = read_text(given.name, decoded(given.content))
    out: list[Operation] = []
    if not given.plain:
        for level in sorted(found.headings):
            if f"Heading {level}" not in at.document.head.styles:
                out.append(
                    {
                        "do": "put",
                        "at": ["styles", f"Heading {level}"],
                        "value": _heading(at, level, found.looks.get(level)),
                    }
                )
    paragraphs = found.plain() if given.plain else found.paragraphs
    return out + _with_copy(at, given.object, given.version, paragraphs)


def _heading(at: Acting, level: int, look: Raw | None) -> Raw:
    """A heading's style as the file has it; what it does not say is as usual."""
    body = at.document.head.styles.get("Body")
    font = {"font": body.font} if body and body.font else {}
    return {**font, **HEADINGS[level], "leading": "1.2em", **(look or {})}


def _with_copy(at: Acting, object_id: str, version: str, paragraphs: list[Raw]) -> list[Operation]:
    """Paragraphs as the copy of an object: its own are replaced, or it is given its first."""
    thing = at.thing(object_id)
    if thing.frame is None:
        return give_copy(at, GiveCopy(object=object_id, version=version, paragraphs=paragraphs))
    name = thing.frame.copy_name
    key, content = at.document.version_of(name, version)
    old = at.document.raw["copies"][name]["versions"][key]["paragraphs"]
    # What stands there first says how paragraphs look that say nothing themselves.
    base = {k: v for k, v in (old[0] if old else {}).items() if k != "runs"}
    made = [{**({} if "style" in p else base), **p} for p in paragraphs]
    path = ["copies", name, "versions", key, "paragraphs"]
    return [{"do": "splice", "at": path, "from": 0, "remove": len(content.paragraphs), "insert": made}]


class Dummy(Given):
    object: str
    version: str


@act("dummy-copy", Dummy)
def dummy_copy(at: Acting, given: Dummy) -> list[Operation]:
    """Dummy copy that fills an object to its end, in the copy's language."""
    thing = at.thing(given.object)
    language = given.version
    if thing.frame:
        language = at.document.version_of(thing.frame.copy_name, given.version)[1].language

    apart = _told_apart(at, thing, given.version)

    def operations(words: int) -> list[Operation]:
        texts = cut_to(dummy_paragraphs(language, words), words)
        made: list[Raw] = [{"runs": [{"text": t}]} for t in texts]
        for paragraph in made[1:]:
            paragraph |= apart
        return _with_copy(at, given.object, given.version, made)

    def over(words: int) -> int:
        raw = edits.apply(at.document.raw, operations(words)).document
        return at.placed(at.document.last_of_chain(given.object), given.version, raw).nest.leftover_words

    low, high = 1, 40
    while high < 60_000 and over(high) == 0:
        low, high = high, high * 2
    while high - low > 1:
        middle = (low + high) // 2
        if over(middle) == 0:
            low = middle
        else:
            high = middle
    return operations(low)


def _told_apart(at: Acting, thing: PageObject, version: str) -> Raw:
    """What tells paragraphs of dummy copy apart where neither their style nor the copy does so already: an indent, or a
    space between centred ones."""
    style = at.document.head.styles.get("Body")
    first = None
    if thing.frame is not None:
        paragraphs = at.document.version_of(thing.frame.copy_name, version)[1].paragraphs
        first = paragraphs[0] if paragraphs else None
        if first is not None and first.style is not None:
            style = at.document.head.styles.get(first.style)
    fields = ("space_before", "space_after", "first_indent", "list")
    if any(getattr(part, field) for part in (style, first) if part is not None for field in fields):
        return {}
    centred = first.align == "center" if first is not None else thing.outline.kind not in STRAIGHT
    return {"space_before": "0.5em"} if centred else {"first_indent": "1.2em"}


class Replace(Given):
    find: Annotated[str, Field(min_length=1, max_length=1000)]
    replace: Annotated[str, Field(max_length=10_000)] = ""
    capitals: bool = False
    """Whether capitals and small letters are told apart."""
    words: bool = False
    """Whole words only."""
    copies: list[str] | None = None


def finder(given: Replace) -> re.Pattern[str]:
    pattern = re.escape(given.find)
    if given.words:
        pattern = rf"(?<!\w){pattern}(?!\w)"
    return re.compile(pattern, 0 if given.capitals else re.IGNORECASE)


def found_in(at: Acting, given: Replace) -> list[tuple[str, str, int, list[tuple[int, int]]]]:
    """Where the words stand: copy, version, paragraph, and their stretches."""
    pattern = finder(given)
    out = []
    for name, versions in at.document.copies.items():
        if given.copies is not None and name not in given.copies:
            continue
        for version, content in versions.items():
            for index, paragraph in enumerate(content.paragraphs):
                spans = [m.span() for m in pattern.finditer(paragraph.text) if m.end() > m.start()]
                if spans:
                    out.append((name, version, index, spans))
    return out


@act("replace", Replace)
def replace_words(at: Acting, given: Replace) -> list[Operation]:
    """Words replaced everywhere; what is put in looks like the first letter of what it replaces."""
    found = found_in(at, given)
    if not found:
        raise ActError(f"“{given.find}” is nowhere in the copy")
    out: list[Operation] = []
    for name, version, index, spans in found:
        raw = at.document.raw["copies"][name]["versions"][version]["paragraphs"][index]
        runs = raw.get("runs", [])
        for start, end in reversed(spans):
            runs = spliced(runs, start, end, given.replace)
        path = ["copies", name, "versions", version, "paragraphs", index, "runs"]
        out.append({"do": "put", "at": path, "value": runs})
    return out


def spliced(runs: list[Raw], start: int, end: int, text: str) -> list[Raw]:
    """Runs with characters start … end replaced."""
    out: list[Raw] = []
    at = 0
    placed = False
    for run in runs:
        body = run.get("text", "")
        a, b = max(start - at, 0), min(end - at, len(body))
        if a < b or (a == b == start - at and not placed and start == end):
            body = body[:a] + ("" if placed else text) + body[b:]
            placed = True
        if body:
            out.append({**run, "text": body})
        at += len(run.get("text", ""))
    return out


class TypeLine(Given):
    page: int
    at: tuple[Figure, Figure]
    version: str
    text: str = ""
    width: Annotated[float, Field(gt=0, le=1e5)] | None = None
    """The width of a frame of fixed width; a line of display type that grows with its words when not given."""
    height: Annotated[float, Field(gt=0, le=1e5)] = 80.0
    id: str | None = None


DISPLAY = 36.0


@act("type-line", TypeLine)
def type_line(at: Acting, given: TypeLine) -> list[Operation]:
    """A line of display type that grows with its words, or a frame of fixed width for copy."""
    if not 0 <= given.page < len(at.document.pages):
        raise ActError("that page is not there any more")
    display = given.width is None
    name = fresh(at.document.copies, "Line " if display else "Copy ")
    paragraph: Raw = {"runs": [{"text": given.text}] if given.text else []}
    if display:
        paragraph |= {"size": DISPLAY, "leading": "1.15em"}
    if "Body" in at.document.head.styles:
        paragraph = {"style": "Body", **paragraph}
    frame: Raw = {"copy": name, "least_slot": 0}
    if display:
        frame |= {"wrap_lines": False, "give": ["right"]}
    thing: Raw = {
        "id": given.id or at.fresh_id(),
        "x": round(given.at[0], 4),
        "y": round(given.at[1] - (DISPLAY if display else 0), 4),
        "width": round(given.width or DISPLAY, 4),
        "height": round(1.3 * DISPLAY if display else given.height, 4),
        "frame": frame,
    }
    copy = {"versions": {given.version: {"language": given.version, "paragraphs": [paragraph]}}}
    count = len(at.document.raw["pages"][given.page]["objects"])
    return [
        {"do": "put", "at": ["copies", name], "value": copy},
        {"do": "splice", "at": ["pages", given.page, "objects"], "from": count, "remove": 0, "insert": [thing]},
    ]


class Outlines(Given):
    object: str
    version: str | None = None


@act("copy-to-outlines", Outlines)
def copy_to_outlines(at: Acting, given: Outlines) -> list[Operation]:
    """An object's copy as outlines in front of it, for good, with the lines that run past its edge.

    Letters of one colour make one object, so many that there are too many pieces for one several. The object itself
    keeps its paint and its picture. What belonged to the copy stays where it stands, and belongs to the page.
    """
    thing = at.thing(given.object)
    if thing.frame is None:
        raise ActError(f"“{at.label(thing)}” holds no copy")
    if thing.id in at.document.chain_of:
        raise ActError(f"copy runs through “{at.label(thing)}” in a chain; cut the chain before it and behind it first")
    home, index = at.home(thing.id)
    placed = at.placed(thing.id, given.version)
    drawn = Letters()
    for run in glyph_runs(placed.nest):
        look = run.stretch.look
        baseline = float(placed.nest.records[run.record, k.BASELINE])
        for glyph, affine in run.placed(baseline):
            drawn.add(look.color, look.stroke, transformed(run.stretch.face.outline(glyph), affine))
    _add_marks(placed.nest, drawn)
    made: list[Raw] = []
    for color, stroke, contours in drawn.objects():
        path: Path = tuple(c for c in contours if c)
        if not path:
            continue
        if placed.matrix is not None:
            path = transformed(path, placed.matrix)
        outline, (x, y, width, height) = path_outline(path)
        thing_raw: Raw = {
            "id": at.fresh_id("o", [m["id"] for m in made]),
            "name": f"{at.label(thing)}, letters",
            "x": round(x, 4),
            "y": round(y, 4),
            "width": round(width, 4),
            "height": round(height, 4),
            "outline": outline,
            "fill": {"color": color},
        }
        if stroke is not None:
            given_ = stroke.model_dump(mode="json", exclude={"second", "position"})
            thing_raw["stroke"] = {**given_, "position": stroke.position}
            if stroke.second is not None:
                more = lengths.points(stroke.second.width) + (
                    lengths.points(stroke.width) * (1 if stroke.position == "outside" else 0.5)
                )
                behind = {**thing_raw, "id": at.fresh_id("o", [m["id"] for m in [*made, thing_raw]])}
                behind["fill"] = None
                behind["stroke"] = {
                    "color": stroke.second.color,
                    "width": more,
                    "join": stroke.second.join,
                    "position": "outside",
                }
                made.insert(0, {k: v for k, v in behind.items() if v is not None})
        made.append(thing_raw)
    if not made:
        raise ActError("there are no letters to turn into outlines")
    out: list[Operation] = [{"do": "cut", "at": ["objects", thing.id, "frame"]}]
    bare = not (thing.fill or thing.stroke or thing.picture or thing.wrap.by != "none")
    keep = 0 if bare else 1
    if bare:
        out = []
    out.append({"do": "splice", "at": home, "from": index + keep, "remove": 1 - keep, "insert": made})
    others = {t.frame.copy_name for _, t in at.document.objects() if t.frame and t.id != thing.id}
    if thing.frame.copy_name not in others:
        theirs = [at.thing(i) for i, copies in at.document.holders.items() if thing.frame.copy_name in copies]
        held = [one for one in theirs if one.anchor is not None]
        out = [*left_standing(at, held, at.studio.nest(at.document, given.version)), *out]
        out.append({"do": "cut", "at": ["copies", thing.frame.copy_name]})
    return out


MOST_PIECES = 5000
"""Pieces of outline in one object of letters: as text they stay well below the most that an outline may have."""


class Letters:
    """Letters drawn as contours, by colour and stroke; in several objects where there are too many pieces for one."""

    def __init__(self) -> None:
        self._parts: dict[tuple[str, Any], list[list[Contour]]] = {}
        self._pieces: dict[tuple[str, Any], int] = {}

    def add(self, color: str, stroke: Any, contours: Iterable[Contour]) -> None:
        """One letter, which is never parted."""
        look, letter = (color, stroke), list(contours)
        parts, more = self._parts.setdefault(look, [[]]), sum(map(len, letter))
        if parts[-1] and self._pieces[look] + more > MOST_PIECES:
            parts.append([])
            self._pieces[look] = 0
        parts[-1] += letter
        self._pieces[look] = self._pieces.get(look, 0) + more

    def objects(self) -> Iterator[tuple[str, Any, list[Contour]]]:
        return ((*look, part) for look, parts in self._parts.items() for part in parts)


def _add_marks(nest: FrameNest, drawn: Letters) -> None:
    from nestline.fonts.shaping import shape

    for mark in marks(nest):
        glyphs = shape(mark.face, mark.text, 0, len(mark.text), "en")
        scale, pen = mark.look.size / mark.face.units_per_em, mark.x
        for glyph, advance in zip(glyphs.ids.tolist(), glyphs.advances.tolist(), strict=True):
            shape_ = transformed(mark.face.outline(glyph), (scale, 0, 0, -scale, pen, mark.baseline))
            drawn.add(mark.look.color, mark.look.stroke, shape_)
            pen += advance * scale
    for line in underlines(nest):
        top, bottom = line.y - line.thickness / 2, line.y + line.thickness / 2
        corners = [(line.left, top), (line.right, top), (line.right, bottom), (line.left, bottom)]
        box: tuple[Piece, ...] = tuple((a, b) for a, b in zip(corners, corners[1:] + corners[:1], strict=True))
        drawn.add(line.color, None, [box])
