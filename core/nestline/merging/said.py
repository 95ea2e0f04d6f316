"""Collisions in the designer's words."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from nestline.document.reading import Document
from nestline.merging.documents import Collision
from nestline.merging.sequences import MISSING

LONGEST = 300
"""How many letters of a side are shown."""
_FIELDS = {
    "x": "its place across",
    "y": "its place down",
    "width": "its width",
    "height": "its height",
    "turn": "its turn",
    "outline": "its outline",
    "fill": "its fill",
    "stroke": "its stroke",
    "name": "its name",
    "frame": "its rules",
    "wrap": "how it pushes copy away",
    "anchor": "where it belongs in copy",
    "ties": "its ties",
    "picture": "its picture",
    "contour": "its contour",
    "paint": "whether it is painted",
    "hidden": "whether it is hidden",
    "locked": "whether it is locked",
    "objects": "the order of what is in it",
    "": "where it stands",
    "columns": "its columns",
    "padding": "its padding",
    "sit": "how its lines sit",
    "give": "which edges give",
    "copy": "its copy",
    "recipe": "its recipe",
}


def said(collisions: Iterable[Collision], document: Document) -> list[dict[str, str]]:
    """Of each place: `what` it is, and what it holds by `theirs` and by `mine`; each place once."""
    out: dict[tuple[str, str, str], dict[str, str]] = {}
    for one in collisions:
        found = {"what": _what(one.path, document), "theirs": _value(one.theirs), "mine": _value(one.mine), "why": ""}
        out.setdefault((found["what"], found["theirs"], found["mine"]), found)
    return list(out.values())


def _what(path: tuple[str | int, ...], document: Document) -> str:
    if not path:
        return "the document"
    if path[0] == "objects":
        label = document.labels.get(str(path[1]), "")
        thing = f"“{label}”" if label else "something on the page"
        field = next((str(step) for step in reversed(path[2:]) if isinstance(step, str)), None)
        return thing if field is None else f"{thing}: {_FIELDS.get(field, _plain(field))}"
    if path[0] == "copies":
        version = f", {path[3]}" if len(path) > 3 else ""
        return f"words of “{path[1]}”{version}"
    if path[0] == "pages":
        return "the pages" if len(path) < 2 else "a page"
    name = f" “{path[1]}”" if len(path) > 1 else ""
    return {"colors": "the colour", "styles": "the style", "recipes": "the recipe"}.get(
        str(path[0]), "the " + _plain(str(path[0]))
    ) + name


def _plain(field: str) -> str:
    return field.replace("_", " ")


def _value(value: Any) -> str:
    if value is MISSING:
        return "taken away"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, str):
        return (value[: LONGEST - 1] + "…" if len(value) > LONGEST else value) or "taken away"
    if isinstance(value, int | float):
        return f"{value:g}"
    if isinstance(value, list):
        return ", ".join(_value(one) for one in value if not isinstance(one, dict | list))[:LONGEST] or "changed"
    if isinstance(value, dict):
        shown = [f"{_plain(k)} {_value(v)}" for k, v in value.items() if k and not isinstance(v, dict | list)]
        return ", ".join(shown)[:LONGEST] or "changed"
    return "none"
