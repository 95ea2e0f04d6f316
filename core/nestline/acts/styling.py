"""Named styles and colours: given to paragraphs, made from them, renamed everywhere."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.document.edits import Operation, Raw
from nestline.document.model import ParagraphRules

OWN = tuple(name for name in ParagraphRules.model_fields)
"""The fields of a paragraph that a style can hold."""


class SetStyle(Given):
    copy_name: Annotated[str, Field(alias="copy")]
    version: str
    paragraphs: list[int]
    style: str | None
    keep: bool = False
    """Whether what a paragraph sets itself stays."""


@act("set-style", SetStyle)
def set_style(at: Acting, given: SetStyle) -> list[Operation]:
    """Give paragraphs a style; what they had set themselves goes, unless it is to be kept."""
    if given.style is not None and given.style not in at.document.head.styles:
        raise ActError(f"there is no style “{given.style}” any more")
    out: list[Operation] = []
    for index in given.paragraphs:
        raw = _paragraph(at, given.copy_name, given.version, index)
        made = dict(raw) if given.keep else {k: v for k, v in raw.items() if k not in OWN}
        made.pop("style", None)
        if given.style is not None:
            made["style"] = given.style
        path = ["copies", given.copy_name, "versions", given.version, "paragraphs", index]
        out.append({"do": "put", "at": path, "value": made})
    return out


def _paragraph(at: Acting, copy: str, version: str, index: int) -> Raw:
    try:
        return at.document.raw["copies"][copy]["versions"][version]["paragraphs"][index]  # type: ignore[no-any-return]
    except (KeyError, IndexError):
        raise ActError("that paragraph is not there any more") from None


class StyleFrom(Given):
    copy_name: Annotated[str, Field(alias="copy")]
    version: str
    paragraph: int
    name: Annotated[str, Field(min_length=1, max_length=200)]


@act("style-from", StyleFrom)
def style_from(at: Acting, given: StyleFrom) -> list[Operation]:
    """Make a style of how a paragraph looks, or change one to it; the paragraph follows it from then on."""
    raw = _paragraph(at, given.copy_name, given.version, given.paragraph)
    base: Raw = {}
    if raw.get("style"):
        base = at.document.raw.get("styles", {}).get(raw["style"], {})
    style = {**base, **{k: v for k, v in raw.items() if k in OWN and v is not None}}
    path = ["copies", given.copy_name, "versions", given.version, "paragraphs", given.paragraph]
    return [
        {"do": "put", "at": ["styles", given.name.strip()], "value": style},
        {"do": "put", "at": path, "value": {"style": given.name.strip(), "runs": raw.get("runs", [])}},
    ]


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

    def walk(value: Any, path: list[str | int]) -> None:
        if isinstance(value, dict):
            for key, inner in value.items():
                if key in ("color", "background") and inner == given.name:
                    out.append({"do": "put", "at": [*path, key], "value": new})
                elif key not in ("colors", "text"):
                    walk(inner, [*path, key])
        elif isinstance(value, list):
            for index, inner in enumerate(value):
                walk(inner, [*path, index])

    walk(at.document.raw, [])
    return out
