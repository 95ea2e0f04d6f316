"""Named styles and colours: given to paragraphs, made from them, renamed everywhere."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.anchoring import length_of, numbered, with_fields
from nestline.document.edits import Operation, Raw
from nestline.document.model import Letters, ParagraphRules

OWN = tuple(name for name in ParagraphRules.model_fields)
"""The fields of a paragraph that a style can hold."""


class SetStyle(Given):
    copy_name: Annotated[str, Field(alias="copy")]
    version: str
    paragraphs: list[int]
    style: str | None
    keep: bool = False
    """Whether what a paragraph sets itself stays."""
    only: bool = False
    """Whether other versions stay as they are: how copy looks is one in all of them, unless it is to be otherwise in
    one."""


@act("set-style", SetStyle)
def set_style(at: Acting, given: SetStyle) -> list[Operation]:
    """Give paragraphs a style; what they had set themselves goes, unless it is to be kept."""
    if given.style is not None and given.style not in at.document.head.styles:
        raise ActError(f"there is no style “{given.style}” any more")
    out: list[Operation] = []
    for version, index in _in_versions(at, given.copy_name, given.version, given.paragraphs, given.only):
        raw = _paragraph(at, given.copy_name, version, index)
        made = dict(raw) if given.keep else {k: v for k, v in raw.items() if k not in OWN or k in ITS_VERSION}
        made.pop("style", None)
        if given.style is not None:
            made["style"] = given.style
        path = ["copies", given.copy_name, "versions", version, "paragraphs", index]
        out.append({"do": "put", "at": path, "value": made})
    return out


ITS_VERSION = {"language", "direction"}
"""What of a paragraph is of its words, not of its look."""


def _in_versions(at: Acting, copy: str, version: str, paragraphs: list[int], only: bool) -> list[tuple[str, int]]:
    """The paragraphs of a version and, unless these stay as they are, those that stand in their places in the others:
    all of theirs where all are meant."""
    out = [(version, index) for index in paragraphs]
    versions = at.document.copies.get(copy, {})
    if only or version not in versions:
        return out
    every = set(paragraphs) >= set(range(len(versions[version].paragraphs)))
    for name, other in versions.items():
        if name != version:
            count = len(other.paragraphs)
            out += [(name, index) for index in (range(count) if every else paragraphs) if index < count]
    return out


class SetRule(Given):
    copy_name: Annotated[str, Field(alias="copy")]
    version: str
    paragraphs: Annotated[list[int], Field(max_length=100_000)]
    rule: str
    value: Any = None
    """None takes it away again."""
    only: bool = False
    """Whether other versions stay as they are."""


@act("set-rule", SetRule)
def set_rule(at: Acting, given: SetRule) -> list[Operation]:
    """Give paragraphs a rule, in every version of their copy, unless it is only for one."""
    if given.rule not in OWN:
        raise ActError(f"“{given.rule}” is no rule of paragraphs")
    only = given.only or given.rule in ITS_VERSION
    out: list[Operation] = []
    for version, index in _in_versions(at, given.copy_name, given.version, given.paragraphs, only):
        raw = _paragraph(at, given.copy_name, version, index)
        path = ["copies", given.copy_name, "versions", version, "paragraphs", index, given.rule]
        if given.value is not None:
            out.append({"do": "put", "at": path, "value": given.value})
        elif given.rule in raw:
            out.append({"do": "cut", "at": path})
    return out


def _paragraph(at: Acting, copy: str, version: str, index: int) -> Raw:
    try:
        return at.document.raw["copies"][copy]["versions"][version]["paragraphs"][index]  # type: ignore[no-any-return]
    except (KeyError, IndexError):
        raise ActError("that paragraph is not there any more") from None


class StyleStretches(Given):
    copy_name: Annotated[str, Field(alias="copy")]
    version: str
    stretches: Annotated[list[tuple[int, int]], Field(min_length=1, max_length=2000)]
    """From and to, in code points of the copy, a paragraph's end counting one."""
    look: dict[str, Any]
    """What their letters are to have; None takes it away again."""


@act("style-stretches", StyleStretches)
def style_stretches(at: Acting, given: StyleStretches) -> list[Operation]:
    """Change how the letters of some stretches of copy look."""
    wrong = set(given.look) - set(Letters.model_fields)
    if wrong:
        raise ActError(f"“{sorted(wrong)[0]}” is no rule of letters")
    try:
        paragraphs = at.document.raw["copies"][given.copy_name]["versions"][given.version]["paragraphs"]
    except KeyError:
        raise ActError("that copy is not there any more") from None
    out: list[Operation] = []
    base = 0
    numbers = numbers_set(at, given.copy_name, given.version)
    for index, raw in enumerate(numbered(paragraphs, numbers)):
        length = sum(length_of(run) for run in raw.get("runs", []))
        inside = [(max(a - base, 0), min(b - base, length)) for a, b in given.stretches]
        inside = [(a, b) for a, b in inside if a < b]
        if inside:
            runs = _restyled(raw.get("runs", []), inside, given.look)
            path = ["copies", given.copy_name, "versions", given.version, "paragraphs", index, "runs"]
            out.append({"do": "put", "at": path, "value": with_fields([{"runs": runs}])[0]["runs"]})
        base += length + 1
    if not out:
        raise ActError("choose some words first")
    return out


def numbers_set(at: Acting, copy: str, version: str) -> tuple[str, ...]:
    """What the page numbers in a copy read where it is set first."""
    if not any(r.field for p in at.document.copies[copy][version].paragraphs for r in p.runs):
        return ()
    return next((n.numbers for n in at.studio.nest(at.document, version) if n.copy == copy), ())


def _restyled(runs: list[Raw], stretches: list[tuple[int, int]], look: Raw) -> list[Raw]:
    """Runs cut where stretches begin and end, those inside changed, neighbours that look the same joined. Objects stay
    as they are, page numbers are changed whole."""
    cuts = {place for stretch in stretches for place in stretch}
    out: list[Raw] = []
    at = 0
    for run in runs:
        if run.get("object"):
            out.append(run)
            at += 1
            continue
        text = run.get("text", "")
        if run.get("field"):
            inside = any(low < at + len(text) and at < high for low, high in stretches)
            out.append({k: v for k, v in {**run, **(look if inside else {})}.items() if v is not None})
            at += len(text)
            continue
        places = [0, *sorted(c - at for c in cuts if at < c < at + len(text)), len(text)]
        for a, b in zip(places, places[1:], strict=False):
            part = {**run, "text": text[a:b]}
            if any(low <= at + a and at + b <= high for low, high in stretches):
                part = {k: v for k, v in {**part, **look}.items() if v is not None}
            before = out[-1] if out and not (out[-1].get("object") or out[-1].get("field")) else None
            if before and {**before, "text": ""} == {**part, "text": ""}:
                before["text"] += part["text"]
            elif part["text"]:
                out.append(part)
        at += len(text)
    return out


class StyleFrom(Given):
    copy_name: Annotated[str, Field(alias="copy")]
    version: str
    paragraph: int
    name: Annotated[str, Field(min_length=1, max_length=200)]
    only: bool = False
    """Whether other versions stay as they are."""


@act("style-from", StyleFrom)
def style_from(at: Acting, given: StyleFrom) -> list[Operation]:
    """Make a style of how a paragraph looks, or change one to it; the paragraph follows it from then on."""
    raw = _paragraph(at, given.copy_name, given.version, given.paragraph)
    base: Raw = {}
    if raw.get("style"):
        base = at.document.raw.get("styles", {}).get(raw["style"], {})
    style = {**base, **{k: v for k, v in raw.items() if k in OWN and v is not None}}
    name = given.name.strip()
    out: list[Operation] = [{"do": "put", "at": ["styles", name], "value": style}]
    for version, index in _in_versions(at, given.copy_name, given.version, [given.paragraph], given.only):
        path = ["copies", given.copy_name, "versions", version, "paragraphs", index]
        there = _paragraph(at, given.copy_name, version, index)
        own = {k: v for k, v in there.items() if k in ITS_VERSION} if version != given.version else {}
        out.append({"do": "put", "at": path, "value": {**own, "style": name, "runs": there.get("runs", [])}})
    return out


class RenameColor(Given):
    name: str
    to: Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[^#]")]


@act("rename-color", RenameColor)
def rename_color(at: Acting, given: RenameColor) -> list[Operation]:
    """Call a colour otherwise, everywhere it is used."""
    colors = at.document.head.colors
    new = given.to.strip()
    if given.name not in colors:
        raise ActError(f"there is no colour “{given.name}” any more")
    if new in colors and new != given.name:
        raise ActError(f"there is a colour “{new}” already")
    renamed = {(new if k == given.name else k): v for k, v in at.document.raw["colors"].items()}
    out: list[Operation] = [{"do": "put", "at": ["colors"], "value": renamed}]

    return out + _everywhere(at, ("color", "background"), given.name, new, leave="colors")


def _everywhere(at: Acting, keys: tuple[str, ...], old: str, new: str, leave: str = "") -> list[Operation]:
    """Name something otherwise wherever the document names it under one of some keys."""
    out: list[Operation] = []

    def walk(value: Any, path: list[str | int]) -> None:
        if isinstance(value, dict):
            for key, inner in value.items():
                if key in keys and inner == old:
                    out.append({"do": "put", "at": [*path, key], "value": new})
                elif key != leave:
                    walk(inner, [*path, key])
        elif isinstance(value, list):
            for index, inner in enumerate(value):
                walk(inner, [*path, index])

    walk(at.document.raw, [])
    return out


class ReplaceFont(Given):
    font: str
    by: str


@act("replace-font", ReplaceFont)
def replace_font(at: Acting, given: ReplaceFont) -> list[Operation]:
    """Set in another font whatever names a font: copy, styles, recipes."""
    if given.by not in at.studio.fonts.families:
        raise ActError(f"the font “{given.by}” is not here")
    return _everywhere(at, ("font",), given.font, given.by)
