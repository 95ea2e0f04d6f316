"""Objects arranged: aligned, distributed, stacked, duplicated, turned, sized with their type."""

from __future__ import annotations

import copy as copying
import math
from collections.abc import Mapping, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given, act, fresh
from nestline.acts.backgrounds import backgrounds
from nestline.acts.completing import leaves_of, without_object
from nestline.acts.following import Move, move
from nestline.acts.going_along import keeping_places, left_standing, with_along, with_held
from nestline.acts.grouping import Ids, Unit, page_of, page_rewritten, renamed, rewritten, units_of
from nestline.acts.paths import Figure, page_path
from nestline.copy.styles import DISPLAY, Rules, paragraph_rules
from nestline.document import lengths
from nestline.document.edits import Operation, Raw
from nestline.document.model import PageObject, TextStyle
from nestline.outlines.path import bounds

Box = tuple[float, float, float, float]


def extent(thing: PageObject) -> Box:
    """left, top, right, bottom of the outline on its page, turned as it is."""
    return bounds(page_path(thing))


def _moved(thing: PageObject, dx: float, dy: float) -> list[Operation]:
    x, y, _, _ = thing.box
    out: list[Operation] = []
    if abs(dx) > 1e-9:
        out.append({"do": "put", "at": ["objects", thing.id, "x"], "value": round(x + dx, 4)})
    if abs(dy) > 1e-9:
        out.append({"do": "put", "at": ["objects", thing.id, "y"], "value": round(y + dy, 4)})
    return out


def unit_extents(at: Acting, units: Sequence[Unit]) -> list[Box]:
    """The extent of each object, or of all of a group, as it stands once frames have the size of their copy, ties hold
    and what belongs to copy has its place."""
    things = {i: at.thing(i) for unit in units for i in unit.objects}
    moved: Mapping[str, PageObject] = at.studio.nest(at.document).moved if any(map(at.follows, things.values())) else {}
    out = []
    for unit in units:
        boxes = [extent(moved.get(i, things[i])) for i in unit.objects]
        left, top, right, bottom = zip(*boxes, strict=True)
        out.append((min(left), min(top), max(right), max(bottom)))
    return out


def _unit_moved(at: Acting, unit: Unit, dx: float, dy: float) -> list[Operation]:
    return move(at, Move(objects=list(unit.objects), by=(dx, dy)))


class Align(Given):
    objects: Ids
    edge: Literal["left", "centre", "right", "top", "middle", "bottom"]
    to: Literal["objects", "page", "margins"] = "objects"


@act("align", Align)
def align(at: Acting, given: Align) -> list[Operation]:
    """Bring one edge or the middle of objects level with each other's, the page's or its margins'. One object alone
    goes to the page."""
    page, units = page_of(at, given.objects), units_of(at, given.objects)
    boxes = unit_extents(at, units)
    if given.to == "objects" and len(units) > 1:
        target: Box = (
            min(b[0] for b in boxes),
            min(b[1] for b in boxes),
            max(b[2] for b in boxes),
            max(b[3] for b in boxes),
        )
    else:
        target = page_box(at, page, given.to == "margins")
    out: list[Operation] = []
    for unit, (left, top, right, bottom) in zip(units, boxes, strict=True):
        dx = dy = 0.0
        if given.edge == "left":
            dx = target[0] - left
        elif given.edge == "right":
            dx = target[2] - right
        elif given.edge == "centre":
            dx = (target[0] + target[2] - left - right) / 2
        elif given.edge == "top":
            dy = target[1] - top
        elif given.edge == "bottom":
            dy = target[3] - bottom
        else:
            dy = (target[1] + target[3] - top - bottom) / 2
        out += _unit_moved(at, unit, dx, dy)
    return out


def page_box(at: Acting, page: int, within_margins: bool) -> Box:
    sheet = at.document.pages[page].sheet
    width, height = sheet.size
    if not within_margins:
        return (0.0, 0.0, width, height)
    top, right, bottom, left = sheet.margins.points()
    return (left, top, width - right, height - bottom)


class Distribute(Given):
    objects: Annotated[list[str], Field(min_length=2, max_length=2000)]
    axis: Literal["across", "down"]
    gap: Figure | None = None
    """The gap between neighbours; equal gaps between the outermost two when not given."""


@act("distribute", Distribute)
def distribute(at: Acting, given: Distribute) -> list[Operation]:
    """Give objects equal gaps: the outermost stay (or, with a gap given, the first stays)."""
    units = units_of(at, given.objects)
    low, high = (0, 2) if given.axis == "across" else (1, 3)
    boxes = unit_extents(at, units)
    placed = sorted(zip(boxes, units, strict=True), key=lambda p: (p[0][low] + p[0][high], p[1].raw["id"]))
    if len(placed) < 2:
        raise ActError("a gap needs two objects or groups")
    if given.gap is None and len(placed) < 3:
        raise ActError("equal gaps need three or more objects; or give the gap")
    sizes = [b[high] - b[low] for b, _ in placed]
    whole = placed[-1][0][high] - placed[0][0][low]
    gap = given.gap if given.gap is not None else (whole - sum(sizes)) / (len(placed) - 1)
    out: list[Operation] = []
    at_edge = placed[0][0][low]
    for (box, unit), size in zip(placed, sizes, strict=True):
        by = at_edge - box[low]
        out += _unit_moved(at, unit, by, 0) if given.axis == "across" else _unit_moved(at, unit, 0, by)
        at_edge += size + gap
    return out


class Stack(Given):
    objects: Ids
    to: Literal["front", "back", "forward", "backward"]


@act("stack", Stack)
def stack(at: Acting, given: Stack) -> list[Operation]:
    """Change the stacking order; the chosen keep their order among themselves. What is in a group stays in it."""
    out: list[Operation] = []
    homes: dict[tuple[str | int, ...], set[int]] = {}
    for unit in units_of(at, given.objects):
        homes.setdefault(unit.home, set()).add(unit.index)
    for home, chosen in sorted(homes.items(), key=lambda h: -len(h[0])):
        objects = at.list_at(home)
        order = list(range(len(objects)))
        mine, rest = [i for i in order if i in chosen], [i for i in order if i not in chosen]
        if given.to == "front":
            order = rest + mine
        elif given.to == "back":
            order = mine + rest
        else:
            indices = range(len(order) - 2, -1, -1) if given.to == "forward" else range(1, len(order))
            for i in indices:
                j = i + 1 if given.to == "forward" else i - 1
                if order[i] in chosen and order[j] not in chosen:
                    order[i], order[j] = order[j], order[i]
        if order != list(range(len(objects))):
            moved = [objects[i] for i in order]
            out.append({"do": "splice", "at": list(home), "from": 0, "remove": len(objects), "insert": moved})
    return backgrounds(at, at.document.raw, out)


class Duplicate(Given):
    objects: Ids
    by: tuple[Figure, Figure] = (12.0, 12.0)
    ids: list[str] | None = None
    anchored: bool = False
    """Whether objects that belong to copy keep their anchors though their words are not duplicated: these are put in
    next."""


@act("duplicate", Duplicate)
def duplicate(at: Acting, given: Duplicate) -> list[Operation]:
    """Objects once more, their copy too with what belongs to it, in front of the last of them."""
    units = units_of(at, with_held(at, given.objects))
    things = [at.thing(i) for u in units for i in u.objects]
    copies = {t.frame.copy_name: at.document.raw["copies"][t.frame.copy_name] for t in things if t.frame}
    last = units[-1]
    page = at.place(things[0].id)[0]
    raws, chains = [u.raw for u in units], at.document.head.chains
    home, index = list(last.home), last.index + 1
    ids = given.ids
    if ids is not None:
        # Those that were chosen get the ids that were given.
        wanted, used = iter(ids), list(ids)
        ids = []
        for leaf in leaves_of(raws):
            one = next(wanted, None) if leaf["id"] in given.objects else None
            ids.append(one or at.fresh_id("o", used))
            used.append(ids[-1])
    return placed(at, home, index, raws, copies, given.by, ids, page, chains, given.anchored)


class Paste(Given):
    page: int
    objects: Annotated[list[dict[str, Any]], Field(min_length=1, max_length=2000)]
    copies: dict[str, Any] = {}
    colors: dict[str, str] = {}
    styles: dict[str, Any] = {}
    recipes: dict[str, Any] = {}
    chains: list[list[str]] = []
    by: tuple[Figure, Figure] = (0.0, 0.0)
    ids: list[str] | None = None


@act("paste", Paste)
def paste(at: Acting, given: Paste) -> list[Operation]:
    """Objects brought from this or another document, with their copies, and the colours, styles and recipes not yet
    here."""
    if not 0 <= given.page < len(at.document.pages):
        raise ActError("that page is not there any more")
    out: list[Operation] = []
    for field, there, wanted in (
        ("colors", at.document.head.colors, given.colors),
        ("styles", at.document.head.styles, given.styles),
        ("recipes", at.document.head.recipes, given.recipes),
    ):
        for name, value in wanted.items():
            if name not in there:
                out.append({"do": "put", "at": [field, name], "value": value})
    count = len(at.document.raw["pages"][given.page]["objects"])
    path: list[str | int] = ["pages", given.page, "objects"]
    return out + placed(at, path, count, given.objects, given.copies, given.by, given.ids, given.page, given.chains)


def placed(
    at: Acting,
    home: list[str | int],
    index: int,
    raws: list[Raw],
    copies: dict[str, Any],
    by: tuple[float, float],
    ids: list[str] | None,
    page: int | None = None,
    chains: Sequence[Sequence[str]] = (),
    anchored: bool = False,
) -> list[Operation]:
    """Put copies of raw objects and groups into a list, under new ids (of `ids`, for the objects, while they last) and
    with copies of their own. Ties lead to what was made with them, else to what is on `page`, else they go. Frames that
    were in one of the `chains` together are so again. What belongs to copy that is not made with it belongs to the
    page, unless it is to stay `anchored`."""
    out: list[Operation] = []
    names: dict[str, str] = {}
    taken = set(at.document.copies)
    for name, value in copies.items():
        new = name if name not in taken else fresh(taken, f"{name.rstrip('0123456789 ')} ")
        taken.add(new)
        names[name] = new
        out.append({"do": "put", "at": ["copies", new], "value": value})
    used: list[str] = []

    def fresh_id(stem: str) -> str:
        wanted = [i for i in ids or [] if i not in used] if stem == "o" else []
        used.append(wanted[0] if wanted else at.fresh_id(stem, used))
        return used[-1]

    def put(thing: Raw) -> None:
        for axis, further in (("x", by[0]), ("y", by[1])):
            if further:
                thing[axis] = round(lengths.points(thing.get(axis, 0)) + further, 4)
        frame = thing.get("frame")
        if isinstance(frame, dict):
            if frame.get("copy") not in names:
                raise ActError("the copy of what was copied is missing")
            thing["frame"] = {**frame, "copy": names[frame["copy"]]}

    made = [renamed(copying.deepcopy(raw), fresh_id, put) for raw in raws]
    new_ids = {old["id"]: new["id"] for old, new in zip(leaves_of(raws), leaves_of(made), strict=True)}
    here = {t.id for t in at.document.pages[page].objects} if page is not None else set()
    for leaf in leaves_of(made):
        if leaf.get("ties"):
            ties = [{**tie, "to": new_ids.get(tie["to"], tie["to"])} for tie in leaf["ties"]]
            leaf["ties"] = [tie for tie in ties if tie["to"] in here or tie["to"] in new_ids.values()]
    known = {t.id for _, t in at.document.objects()}
    for operation in out:
        operation["value"] = _with_new_objects(operation["value"], new_ids, known)
    if not anchored:
        _let_go(at, made, new_ids, [operation["value"] for operation in out], by)
    out.append({"do": "splice", "at": home, "from": index, "remove": 0, "insert": made})
    again = [[new_ids[i] for i in chain if i in new_ids] for chain in chains]
    if any(len(chain) > 1 for chain in again):
        old = [list(chain) for chain in at.document.head.chains]
        out.append({"do": "put", "at": ["chains"], "value": [*old, *(c for c in again if len(c) > 1)]})
    return out


def _let_go(at: Acting, made: list[Raw], new_ids: dict[str, str], copies: list[Raw], by: tuple[float, float]) -> None:
    """Objects whose words were not made with them stand by themselves, where they stood."""
    named = {
        run.get("object")
        for copy in copies
        if isinstance(copy, dict) and isinstance(copy.get("versions"), dict)
        for content in copy["versions"].values()
        if isinstance(content, dict)
        for paragraph in content.get("paragraphs", [])
        for run in paragraph.get("runs", [])
    }
    old_ids = {new: old for old, new in new_ids.items()}
    led = at.document.leader_of

    def by_itself(leaf: Raw) -> bool:
        """Whether what it belongs to copy with, itself or what it goes along with, has no words here."""
        old = old_ids[leaf["id"]]
        return (
            new_ids.get(led[old]) not in named if old in led else bool(leaf.get("anchor")) and leaf["id"] not in named
        )

    alone = [leaf for leaf in leaves_of(made) if by_itself(leaf)]
    if not alone:
        return
    moved = at.studio.nest(at.document).moved
    for leaf in alone:
        leaf.pop("anchor", None)
        stands = moved.get(old_ids[leaf["id"]])
        if stands is not None and not stands.hidden:
            x, y, width, height = stands.box
            leaf |= {
                "x": round(x + by[0], 4),
                "y": round(y + by[1], 4),
                "width": width,
                "height": height,
                "turn": stands.turn,
            }


def _with_new_objects(copy: Raw, new_ids: dict[str, str], known: set[str]) -> Raw:
    """A copy whose runs of objects name those that were made with it; runs of others go. Page numbers name the frames
    that were made with it, else those that are `known`, else their own."""

    def of_new(run: Raw) -> Raw:
        if run.get("object"):
            return {**run, "object": new_ids[run["object"]]}
        if run.get("of") is None:
            return run
        of = new_ids.get(run["of"], run["of"])
        return (
            {**run, "of": of} if of in known or of in new_ids.values() else {k: v for k, v in run.items() if k != "of"}
        )

    if not isinstance(copy, dict) or not isinstance(copy.get("versions"), dict):
        return copy
    versions = {}
    for name, content in copy["versions"].items():
        paragraphs = content.get("paragraphs", []) if isinstance(content, dict) else []
        runs = [r for p in paragraphs for r in p.get("runs", [])]
        named = {r["object"] for r in runs if r.get("object")}
        if not named and not any(r.get("of") for r in runs):
            versions[name] = content
            continue
        kept = without_object(paragraphs, named - set(new_ids))
        made = [{**p, "runs": [of_new(r) for r in p["runs"]]} if "runs" in p else p for p in kept]
        versions[name] = {**content, "paragraphs": made}
    return {**copy, "versions": versions}


class Delete(Given):
    objects: Ids


@act("delete", Delete)
def delete(at: Acting, given: Delete) -> list[Operation]:
    """Take objects away, and the copies that no other frame holds with what stands in their lines. What belonged to
    them otherwise stays where it stands."""
    things = [t for _, t in at.document.objects()]
    gone, held_before = set(given.objects), {t.frame.copy_name for t in things if t.frame}
    stays: list[PageObject] = []
    while True:
        held = {t.frame.copy_name for t in things if t.frame and t.id not in gone}
        alone = [
            at.thing(i)
            for i, copies in at.document.holders.items()
            if i not in gone
            and i in at.document.page_of
            and copies.isdisjoint(held)
            and not copies.isdisjoint(held_before)
        ]
        stays = [t for t in alone if t.anchor and t.anchor.place != "in-line"]
        more = {one.id for t in alone if t not in stays for one in with_along(at, t)}
        if not more:
            break
        gone |= more
    out: list[Operation] = []
    for page in range(len(at.document.pages)):
        objects = at.list_at(["pages", page, "objects"])
        out += page_rewritten(at, page, rewritten(objects, lambda raw: [] if raw["id"] in gone else [raw]))
    if stays:
        out += left_standing(at, stays, at.studio.nest(at.document))
    let_go = {t.frame.copy_name for t in things if t.frame and t.id in gone} - held
    return keeping_places(at, out + [{"do": "cut", "at": ["copies", name]} for name in sorted(let_go)])


class Turn(Given):
    objects: Ids
    by: Figure
    about: tuple[Figure, Figure] | None = None


@act("turn", Turn)
def turn(at: Acting, given: Turn) -> list[Operation]:
    """Turn objects by degrees about a point of the page (each about its own pivot when none is given)."""
    out: list[Operation] = []
    angle = math.radians(given.by)
    cos, sin = math.cos(angle), math.sin(angle)
    for identity in dict.fromkeys(given.objects):
        thing = at.thing(identity)
        new = (thing.turn + given.by + 180) % 360 - 180
        out.append({"do": "put", "at": ["objects", thing.id, "turn"], "value": round(new, 4)})
        if given.about is not None:
            x, y, width, height = thing.box
            px, py = x + thing.pivot[0] * width, y + thing.pivot[1] * height
            dx, dy = px - given.about[0], py - given.about[1]
            out += _moved(thing, cos * dx - sin * dy - dx, sin * dx + cos * dy - dy)
    return out


class Resize(Given):
    objects: Ids
    factor: Annotated[float, Field(gt=0.001, lt=1000)]
    about: tuple[Figure, Figure]
    type: bool = True


@act("scale", Resize)
def scale(at: Acting, given: Resize) -> list[Operation]:
    """Enlarge objects about a point, with their strokes, padding, type and leading in proportion (or the outlines
    alone)."""
    f = given.factor
    out: list[Operation] = []
    copies: dict[str, TextStyle | None] = {}
    for identity in dict.fromkeys(given.objects):
        thing = at.thing(identity)
        x, y, width, height = thing.box
        values: dict[str, Any] = {
            "x": given.about[0] + (x - given.about[0]) * f,
            "y": given.about[1] + (y - given.about[1]) * f,
            "width": width * f,
            "height": height * f,
        }
        for name, value in values.items():
            out.append({"do": "put", "at": ["objects", thing.id, name], "value": round(value, 4)})
        raw = at.whole(thing.id)
        if raw.get("outline", {}).get("radius"):
            radius = raw["outline"]["radius"]
            scaled = [times(r, f) for r in radius] if isinstance(radius, list) else times(radius, f)
            out.append({"do": "put", "at": ["objects", thing.id, "outline", "radius"], "value": scaled})
        if not given.type:
            continue
        if raw.get("stroke"):
            out.append({"do": "put", "at": ["objects", thing.id, "stroke"], "value": _scaled_stroke(raw["stroke"], f)})
        if thing.frame:
            for rule in ("padding", "hang", "hang_least", "lift", "least_slot"):
                value = raw["frame"].get(rule)
                if value is not None and not (isinstance(value, str) and value[:1].isalpha()):  # a length, not a word
                    new = [times(v, f) for v in value] if isinstance(value, list) else times(value, f)
                    out.append({"do": "put", "at": ["objects", thing.id, "frame", rule], "value": new})
            copies.setdefault(thing.frame.copy_name, at.document.text_style_of(thing))
    for name in sorted(copies):
        out += scaled_copy(at, name, f, copies[name])
    return out


def _scaled_stroke(stroke: Raw, factor: float) -> Raw:
    out = {**stroke, "width": times(stroke.get("width", 1), factor)}
    if stroke.get("dash"):
        out["dash"] = [times(d, factor) for d in stroke["dash"]]
    return out


LENGTHS_OF_COPY = ("size", "leading", "space_before", "space_after", "indent", "first_indent", "tracking")


def scaled_copy(at: Acting, name: str, factor: float, base: TextStyle | None = None) -> list[Operation]:
    """Every size of a copy times a factor: its paragraphs state what their style (or the `base`) gave them."""
    out: list[Operation] = []
    for version, content in at.document.copies[name].items():
        raws = at.document.raw["copies"][name]["versions"][version]["paragraphs"]
        made = []
        for paragraph, raw in zip(content.paragraphs, raws, strict=True):
            style = at.document.head.styles.get(paragraph.style) if paragraph.style else base
            rules = paragraph_rules(paragraph, style, content.language)
            new = {**with_edges(raw, rules, factor), "size": round(rules.size * factor, 4)}
            new["leading"] = round(rules.leading * factor, 4)
            for field in ("space_before", "space_after", "indent", "first_indent"):
                if getattr(rules, field):
                    new[field] = round(getattr(rules, field) * factor, 4)
            if rules.look.tracking:
                new["tracking"] = round(rules.look.tracking * factor, 4)
            if any("size" in run for run in raw.get("runs", [])):
                new["runs"] = [
                    {**run, "size": times(run["size"], factor)} if "size" in run else run for run in raw["runs"]
                ]
            made.append(new)
        at_path = ["copies", name, "versions", version, "paragraphs"]
        out.append({"do": "splice", "at": at_path, "from": 0, "remove": len(raws), "insert": made})
    return out


def with_edges(raw: Raw, rules: Rules, factor: float) -> Raw:
    """A paragraph whose edges stay as they are when its size is times a factor: what is not said goes by its size."""
    same = (rules.size >= DISPLAY) == (rules.size * factor >= DISPLAY)
    return raw if same else {"hang_punctuation": rules.hang_punctuation, **raw}


def times(length: Any, factor: float) -> Any:
    """A length times a factor; a length in ems alone stays as it is (its type grows with it)."""
    pt, em = lengths.parse(length)
    if em and not pt:
        return length
    scaled = round(pt * factor, 4)
    return f"{scaled:g} + {em:g}em" if em else scaled
