"""Copy given to an object, and taken from it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from nestline.acts.acting import ActError, Acting, Given, act, fresh
from nestline.acts.completing import chain_put
from nestline.copy.styles import Rules, paragraph_rules
from nestline.document import lengths, recipes
from nestline.document.colors import called, color_figure, tinted
from nestline.document.contrast import ENOUGH, ENOUGH_FOR_LARGE, Rgb, contrast, enough
from nestline.document.edits import Operation, Raw
from nestline.document.model import Head, PageObject, Paragraph
from nestline.errors import NestLineError
from nestline.fonts.shaping import shape
from nestline.nesting.frame_space import slots_of_band
from nestline.nesting.wrapping import share_on
from nestline.outlines.placing import padded, stroke_reach

STRAIGHT = {"rectangle", "polygon"}
PADDING, PADDING_SHARE = 12.0, 6
"""The room of new copy to a painted edge, in points: never more than this share of the object's smaller side."""
NEW_SIZE, LEAST_NEW, LETTERS_A_LINE = 11.0, 4, 6
"""The size of new copy, in points; the least it is made, and how many letters a line must hold before it is made
smaller."""


class GiveCopy(Given):
    object: str
    version: str
    paragraphs: list[dict[str, Any]] = []


@act("give-copy", GiveCopy)
def give_copy(at: Acting, given: GiveCopy) -> list[Operation]:
    """Give an outline its first copy, in the look that new copy has whatever way it comes (see `new_look`), with room
    to a painted edge, in the middle of the height of a curved outline.

    Common practice: centred setting is the calm choice in a curved outline, and a filled or stroked frame wants room.
    """
    thing = at.thing(given.object)
    if thing.frame is not None:
        raise ActError(f"“{at.label(thing)}” holds copy already")
    if thing.picture is not None:
        raise ActError("a picture holds no copy; draw an outline for it")
    name = fresh(at.document.copies, "Copy ")
    room = room_inside(thing)
    rules = new_look(at, thing, room)
    paragraphs = [{**rules, **p} for p in given.paragraphs or [{"runs": []}]]
    frame: dict[str, Any] = {"copy": name}
    if room:
        frame["padding"] = room
    if thing.outline.kind not in STRAIGHT:
        frame["sit"] = "middle"
    language = at.document.language_of(given.version)
    copy = {"versions": {given.version: {"language": language, "paragraphs": paragraphs}}}
    return [
        {"do": "put", "at": ["copies", name], "value": copy},
        {"do": "put", "at": ["objects", thing.id, "frame"], "value": frame},
    ]


class Write(Given):
    object: str
    version: str
    paragraphs: list[dict[str, Any]]


@act("write", Write)
def write(at: Acting, given: Write) -> list[Operation]:
    """Make the copy of a frame read as given: each paragraph keeps the rules that stand there, those past the last take
    its.

    For words that are typed behind `give-copy` before it is known how new copy looks; an object without copy gets it.
    """
    thing = at.thing(given.object)
    if thing.frame is None:
        return give_copy(at, GiveCopy(object=given.object, version=given.version, paragraphs=given.paragraphs))
    name = thing.frame.copy_name
    key, _ = at.document.version_of(name, given.version)
    old = at.document.raw["copies"][name]["versions"][key]["paragraphs"]
    stood = [{k: v for k, v in p.items() if k != "runs"} for p in old] or [{}]
    words = [{**stood[min(i, len(stood) - 1)], **p} for i, p in enumerate(given.paragraphs or [{"runs": []}])]
    path = ["copies", name, "versions", key, "paragraphs"]
    return [{"do": "splice", "at": path, "from": 0, "remove": len(old), "insert": words}]


def room_inside(thing: PageObject) -> float:
    """The padding of new copy: some to a painted edge, none else."""
    if not (thing.fill or thing.stroke):
        return 0
    room = min(PADDING, round(min(thing.box[2:]) / PADDING_SHARE, 1))
    return int(room) if room == int(room) else room


def new_look(at: Acting, thing: PageObject, padding: float = 0.0) -> Raw:
    """The look of new copy in an object, as rules of its paragraphs: the style Body, where there is one; centred in a
    curved outline; 11 pt (or Body's size), or the largest whole size below it of which six letters stand in a line; in
    ink, or in paper where ink does not read on what lies behind."""
    rules: Raw = {} if thing.outline.kind in STRAIGHT else {"align": "center"}
    head = at.document.head
    body = head.styles.get("Body")
    if body is not None:
        rules["style"] = "Body"
    plain = paragraph_rules(Paragraph(), body, head.language)
    if (size := _size_for(at, thing, plain, padding)) < plain.size:
        rules |= {"size": size, "leading": "1.25em"}
    if (color := readable_on(at, thing)) is not None:
        rules["color"] = color
    return rules


def _size_for(at: Acting, thing: PageObject, plain: Rules, padding: float) -> float:
    """The size of new copy: the style's, or the largest whole one below it of which six letters stand in a line."""
    own = padded(thing, padding)
    if own.empty:
        return plain.size
    face = plain.look.face(at.studio.fonts)
    letters = "abcdefghijklmnopqrstuvwxyz"
    em = shape(face, letters, 0, len(letters), "en").width / face.units_per_em / len(letters)
    middle = (own.bounds[1] + own.bounds[3]) / 2

    def holds(size: float) -> bool:
        slots = slots_of_band(own, (), middle - size / 2, middle + size / 2)
        return max((b - a for a, b in slots), default=0.0) >= LETTERS_A_LINE * em * size

    sizes = range(math.ceil(plain.size) - 1, LEAST_NEW - 1, -1)
    return plain.size if holds(plain.size) else float(next((s for s in sizes if holds(s)), LEAST_NEW))


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
        more = [lengths.more(side.raw, inner) for side in given.four]
        out["frame"] = {**raw["frame"], "padding": more if given.apart else more[0]}
    return {"id": at.fresh_id("o", also), "name": f"Words of {thing.name}" if thing.name else "", **out}


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
        raise ActError(f"“{at.label(thing)}” holds no copy")
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
        raise ActError(f"“{at.label(source)}” holds no copy")
    if target.frame is not None:
        raise ActError(f"“{at.label(target)}” holds copy already; take it out first")
    if target.picture is not None:
        raise ActError("a picture holds no copy")
    if target.anchor is not None and source.id in at.document.chain_of:
        raise ActError(
            f"“{at.label(target)}” belongs to copy itself, so that no copy can run through it; release it first"
        )
    out: list[Operation] = [
        {
            "do": "put",
            "at": ["objects", target.id, "frame"],
            "value": at_home_in(target, at.raw(source.id)["frame"], source),
        },
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
"""Rules of a frame that speak of its own outline, and make no sense in another: lines that do not wrap, edges that give
and how far, the narrowest slot of a line of type."""


def at_home_in(target: PageObject, frame: Raw, source: PageObject) -> Raw:
    """A frame's rules as they make sense in another outline: that keeps its size, and its lines wrap in it."""
    rules = source.frame
    line_of_type = rules is not None and not rules.wrap_lines
    gone = NOT_AT_HOME if line_of_type or (rules is not None and rules.give) else ()
    made = {rule: value for rule, value in frame.items() if rule not in gone}
    if line_of_type and target.outline.kind not in STRAIGHT:
        made.setdefault("sit", "middle")
    if line_of_type and (room := room_inside(target)):
        made.setdefault("padding", room)
    return made


def _recipe_at_home(at: Acting, source: PageObject) -> Raw:
    """The recipe of a frame, to be followed by another outline in all but paint, wrap, and what makes no sense
    there."""
    made = without_paint(at.raw(source.id))
    if made:
        held = at.document.raw["recipes"][made["recipe"]].get("frame") or {}
        made["departs"] = list(dict.fromkeys([*made["departs"], *(r for r in NOT_AT_HOME if r in held)]))
    return made


def readable_on(at: Acting, thing: PageObject) -> str | None:
    """The colour for new copy in an object: none to name while its style's reads (4.5 : 1) on what lies behind it, else
    that of ink and paper which reads better."""
    head = at.document.head
    style = head.styles.get("Body")
    own = color_figure(head, (style.color if style and style.color else "ink"))
    behind = lies_behind(at, thing)
    if contrast(own, behind) >= ENOUGH:
        return None
    return max(("ink", "paper"), key=lambda name: contrast(color_figure(head, name), behind))


def lies_behind(at: Acting, thing: PageObject) -> Rgb:
    """The colour that copy in an object stands on: the page, the fills and pictures that hold half of its box and more,
    and its own fill, one over the other by their opacity."""
    head, page = at.document.head, at.document.pages[at.document.page_of[thing.id]]
    behind: Rgb = color_figure(head, page.sheet.background) if page.sheet.background else (1.0, 1.0, 1.0)
    for other in page.objects:
        if other.id == thing.id:
            break
        if other.hidden or not other.paint or share_on(thing, other) < 0.5:
            continue
        behind = _over(behind, head, other)
        if other.picture is not None:
            behind = _over_picture(behind, at, other)
    return _over(behind, head, thing) if thing.paint else behind


@dataclass(frozen=True)
class ColorRead:
    """How well copy of a colour is read in an object: the contrast (1 to 21) with what lies behind it, that in words,
    whether it is enough in words, and whether it is too little."""

    contrast: float
    behind: str
    said: str
    poor: bool


def color_read(at: Acting, object_id: str, color: str) -> ColorRead:
    """How well copy of a colour, a name or a figure, would be read in an object. Raises ActError."""
    head, thing = at.document.head, at.stands(object_id)
    behind = lies_behind(at, thing)
    bare = at.document.pages[at.document.page_of[thing.id]].sheet.background is None
    sheet = "the sheet" if bare and behind == (1.0, 1.0, 1.0) else None
    ratio = contrast(color_figure(head, color), behind)
    said = sheet or called(behind, head.colors) or "what lies behind it"
    return ColorRead(round(ratio, 2), said, enough(ratio), ratio < ENOUGH_FOR_LARGE)


def _over(behind: Rgb, head: Head, thing: PageObject) -> Rgb:
    if thing.fill is None:
        return behind
    color, share = tinted(color_figure(head, thing.fill.color), thing.fill.tint), thing.fill.opacity
    return tuple(b + (c - b) * share for b, c in zip(behind, color, strict=True))  # type: ignore[return-value]


def _over_picture(behind: Rgb, at: Acting, thing: PageObject) -> Rgb:
    """The mean colour of a picture on what lies behind it."""
    assert thing.picture is not None
    try:
        image = at.studio.pictures(thing.picture.file).decoded().convert("RGBA").resize((24, 24))
    except NestLineError:
        return behind
    pixels = np.asarray(image, dtype=np.float64) / 255
    cover = pixels[..., 3:]
    mean = (pixels[..., :3] * cover + np.array(behind) * (1 - cover)).mean(axis=(0, 1))
    return float(mean[0]), float(mean[1]), float(mean[2])
