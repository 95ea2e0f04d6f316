"""Recipes: named sets of frame rules, paint, wrap and text style that frames follow.

A frame that names a recipe takes every rule that the recipe holds, but for those that it sets itself and those that its
`departs` names. Changing the recipe changes every frame that follows it.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

Raw = dict[str, Any]

OF_THE_OBJECT = ("fill", "stroke", "paint", "wrap")
"""What a recipe may hold of an object, beside the rules of its frame and the style of its text."""
TEXT = "text"
"""The name by which a frame departs from all of a recipe's text style."""


def held(recipe: Raw) -> list[str]:
    """The names of the rules that a recipe holds: those of the frame, of the object, and `text.size` and the like."""
    text, frame = recipe.get(TEXT) or {}, recipe.get("frame") or {}
    return [*frame, *(r for r in OF_THE_OBJECT if r in recipe), *(f"{TEXT}.{name}" for name in text)]


def departures(thing: Raw, recipe: Raw) -> list[str]:
    """The rules of a recipe that an object sets otherwise, the looks of its paragraphs aside."""
    named, frame = set(thing.get("departs") or ()), thing.get("frame") or {}
    rules = [r for r in held(recipe) if r in named or (r in thing if r in OF_THE_OBJECT else r in frame)]
    return [*rules, TEXT] if TEXT in named else rules


def given_by(recipe: Raw, departs: Iterable[str]) -> Raw:
    """What a recipe gives an object that departs from it in these rules: `frame` and the fields of the object."""
    without = set(departs)
    frame = {k: v for k, v in (recipe.get("frame") or {}).items() if k not in without}
    return {"frame": frame, **{r: recipe[r] for r in OF_THE_OBJECT if r in recipe and r not in without}}


def following(thing: Raw, recipe: Raw) -> Raw:
    """An object with the rules that it takes from its recipe written out."""
    departs = departures(thing, recipe)
    given = given_by(recipe, departs)
    frame = given.pop("frame")
    out = {**given, **thing}
    if thing.get("frame"):
        out["frame"] = {**frame, **thing["frame"]}
    if departs:
        out["departs"] = departs
    return out
