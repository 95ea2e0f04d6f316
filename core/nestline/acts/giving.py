"""Copy given to an object, and taken from it."""

from __future__ import annotations

from typing import Any

from nestline.acts.acting import ActError, Acting, Given, act, chain_put, fresh
from nestline.document import recipes
from nestline.document.edits import Operation, Raw
from nestline.document.model import PageObject
from nestline.document.reading import color_figure, tinted
from nestline.outlines.placing import stroke_reach

STRAIGHT = {"rectangle", "polygon"}
PADDING = 12


class GiveCopy(Given):
    object: str
    version: str
    paragraphs: list[dict[str, Any]] = []


@act("give-copy", GiveCopy)
def give_copy(at: Acting, given: GiveCopy) -> list[Operation]:
    """Give an outline its first copy: centred in a curved outline, with room to a painted edge, in a colour that reads.

    Common practice: centred setting is the calm choice in a curved outline, and a filled or stroked frame wants room.
    """
    thing = at.thing(given.object)
    if thing.frame is not None:
        raise ActError(f"“{thing.label}” holds copy already")
    if thing.picture is not None:
        raise ActError("a picture holds no copy; draw an outline for it")
    name = fresh(at.document.copies, "Copy ")
    straight = thing.outline.kind in STRAIGHT
    rules: dict[str, Any] = {} if straight else {"align": "center"}
    if "Body" in at.document.head.styles:
        rules["style"] = "Body"
    if (color := readable_on(at, thing)) is not None:
        rules["color"] = color
    paragraphs = [{**rules, **p} for p in given.paragraphs or [{"runs": []}]]
    frame: dict[str, Any] = {"copy": name}
    if thing.fill or thing.stroke:
        frame["padding"] = PADDING
    if not straight:
        frame["sit"] = "middle"
    language = at.document.language_of(given.version)
    copy = {"versions": {given.version: {"language": language, "paragraphs": paragraphs}}}
    return [
        {"do": "put", "at": ["copies", name], "value": copy},
        {"do": "put", "at": ["objects", thing.id, "frame"], "value": frame},
    ]


class TakeCopy(Given):
    object: str


def released(at: Acting, thing: PageObject, also: list[str]) -> Raw:
    """The copy of a frame in an outline of its own without paint, where it stood."""
    raw = at.raw(thing.id)
    keep = ("x", "y", "width", "height", "turn", "pivot", "outline", "frame", "hidden")
    out: Raw = {k: raw[k] for k in keep if k in raw} | without_paint(raw)
    inner = stroke_reach(thing.stroke)[0]
    if inner and thing.frame:
        given = thing.frame.padding
        out["frame"] = {**raw["frame"], "padding": f"{given} + {inner:g}" if isinstance(given, str) else given + inner}
    return {"id": at.fresh_id("o", also), "name": f"Copy of {thing.label}", **out}


def without_paint(raw: Raw) -> Raw:
    """The recipe of a frame, to be followed by another outline in all but paint and wrap."""
    if "recipe" not in raw:
        return {}
    return {"recipe": raw["recipe"], "departs": [*raw.get("departs", ()), *recipes.OF_THE_OBJECT]}


@act("take-copy", TakeCopy)
def take_copy(at: Acting, given: TakeCopy) -> list[Operation]:
    """Take copy out of an object: it lives on, where it stood, in an outline without paint above it."""
    thing = at.thing(given.object)
    if thing.frame is None:
        raise ActError(f"“{thing.label}” holds no copy")
    home, index = at.home(thing.id)
    made = released(at, thing, [])
    return [
        {"do": "cut", "at": ["objects", thing.id, "frame"]},
        {"do": "splice", "at": home, "from": index + 1, "remove": 0, "insert": [made]},
        *chain_put(at.document, {thing.id: made["id"]}),
    ]


class Join(Given):
    type: str
    outline: str


@act("join", Join)
def join(at: Acting, given: Join) -> list[Operation]:
    """Existing type and an existing outline made one: the copy, with its rules, goes into the outline."""
    source, target = at.thing(given.type), at.thing(given.outline)
    if source.frame is None:
        raise ActError(f"“{source.label}” holds no copy")
    if target.frame is not None:
        raise ActError(f"“{target.label}” holds copy already; take it out first")
    if target.picture is not None:
        raise ActError("a picture holds no copy")
    if target.anchor is not None and source.id in at.document.chain_of:
        raise ActError(f"“{target.label}” belongs to copy itself, so that no copy can run through it; release it first")
    out: list[Operation] = [
        {"do": "put", "at": ["objects", target.id, "frame"], "value": at_home_in(target, at.raw(source.id)["frame"], source)},
    ]
    out += chain_put(at.document, {source.id: target.id})
    if target.recipe is None:
        for field, value in _recipe_at_home(at, source).items():
            out.append({"do": "put", "at": ["objects", target.id, field], "value": value})
    if source.fill or source.stroke or source.picture:
        out.append({"do": "cut", "at": ["objects", source.id, "frame"]})
    else:
        home, index = at.home(source.id)
        out.append({"do": "splice", "at": home, "from": index, "remove": 1, "insert": []})
    return out


NOT_AT_HOME = ("wrap_lines", "give", "least", "greatest", "whole_pixels", "least_slot")
"""Rules of a frame that speak of its own outline, and make no sense in another: lines that do not wrap, edges that give and
how far, the narrowest slot of a line of type."""


def at_home_in(target: PageObject, frame: Raw, source: PageObject) -> Raw:
    """A frame's rules as they make sense in another outline: that keeps its size, and its lines wrap in it."""
    rules = source.frame
    line_of_type = rules is not None and not rules.wrap_lines
    gone = NOT_AT_HOME if line_of_type or (rules is not None and rules.give) else ()
    made = {rule: value for rule, value in frame.items() if rule not in gone}
    if line_of_type and target.outline.kind not in STRAIGHT:
        made.setdefault("sit", "middle")
    if (target.fill or target.stroke) and line_of_type:
        made.setdefault("padding", PADDING)
    return made


def _recipe_at_home(at: Acting, source: PageObject) -> Raw:
    """The recipe of a frame, to be followed by another outline in all but paint, wrap, and what makes no sense there."""
    made = without_paint(at.raw(source.id))
    if made:
        held = at.document.raw["recipes"][made["recipe"]].get("frame") or {}
        made["departs"] = list(dict.fromkeys([*made["departs"], *(r for r in NOT_AT_HOME if r in held)]))
    return made


def luminance(rgb: tuple[float, float, float]) -> float:
    """Relative luminance (WCAG 2.2)."""
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in rgb]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(a: tuple[float, float, float], b: tuple[float, float, float]) -> float:
    """Contrast ratio of two colours, from 1 to 21 (WCAG 2.2)."""
    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def readable_on(at: Acting, thing: PageObject) -> str | None:
    """The colour for new copy in an object: none to name while its style's reads (4.5 : 1) on the fill, else that of
    ink and paper which reads better."""
    head = at.document.head
    style = head.styles.get("Body")
    own = color_figure(head, (style.color if style and style.color else "ink"))
    behind = (1.0, 1.0, 1.0)
    if thing.fill:
        color = tinted(color_figure(head, thing.fill.color), thing.fill.tint)
        share = thing.fill.opacity
        behind = tuple(1 - (1 - c) * share for c in color)  # type: ignore[assignment]
    if contrast(own, behind) >= 4.5:
        return None
    return max(("ink", "paper"), key=lambda name: contrast(color_figure(head, name), behind))
