"""Objects that belong to the copy: put in line, beside their line or in the middle; moved to other words, let go."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any, Literal

import numpy as np

from nestline import rows as k
from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.completing import stay, without_object
from nestline.acts.going_along import as_they_stand, figures_of, with_along
from nestline.acts.grouping import Move as Restack
from nestline.acts.grouping import page_rewritten, restack, rewritten
from nestline.acts.wraps import CLEARANCE
from nestline.document.edits import Operation, Raw
from nestline.document.model import Anchor, PageObject
from nestline.nesting.along import carried, whole_of
from nestline.nesting.anchors import hang_of_line, holding
from nestline.nesting.glyphs import in_line_places
from nestline.nesting.nests import Nests
from nestline.nesting.placed import PlacedNest
from nestline.outlines import path
from nestline.pictures.contour import cut_out

Runs = list[Raw]


def length_of(run: Raw) -> int:
    return 1 if run.get("object") else len(run.get("text", ""))


def with_object(paragraphs: list[Raw], object_id: str, at: int) -> list[Raw]:
    """Paragraphs with an object's run at a code point of the copy, a paragraph's end counting one."""
    out = [dict(p) for p in paragraphs] or [{"runs": []}]
    for number, paragraph in enumerate(out):
        runs: Runs = list(paragraph.get("runs", []))
        length = sum(length_of(run) for run in runs)
        if at > length and number < len(out) - 1:
            at -= length + 1
            continue
        at = min(at, length)
        made: Runs = []
        put = False
        for run in runs:
            size = length_of(run)
            if not put and at <= size:
                if at > 0:
                    made.append({**run, "text": run["text"][:at]} if at < size else run)
                made.append({"object": object_id})
                if at < size:
                    made.append({**run, "text": run["text"][at:]} if at > 0 else run)
                put = True
            else:
                made.append(run)
            at -= size if not put else 0
        paragraph["runs"] = made if put else [*made, {"object": object_id}]
        return out
    return out


def numbered(paragraphs: list[Raw], numbers: Sequence[str]) -> list[Raw]:
    """Paragraphs whose page numbers read as they are set, so that code points count; `with_fields` takes that back."""
    left = iter(numbers)

    def run_of(run: Raw) -> Raw:
        return {**run, "text": next(left, "?")} if run.get("field") else run

    return [{**p, "runs": [run_of(r) for r in p["runs"]]} if p.get("runs") else p for p in paragraphs]


def with_fields(paragraphs: list[Raw]) -> list[Raw]:
    """Paragraphs with their page numbers as fields again."""

    def run_of(run: Raw) -> Raw:
        return {k: v for k, v in run.items() if k != "text"} if run.get("field") else run

    return [{**p, "runs": [run_of(r) for r in p["runs"]]} if p.get("runs") else p for p in paragraphs]


class PutAnchor(Given):
    object: str
    frame: str | None = None
    """The frame whose copy it belongs to: the one where it stands, or else the nearest, when not given."""
    at: int | None = None
    """The code point of the frame's copy that its place is before; where not given: the same words when only how it
    stands changes, else the line nearest to the object's top, or the nearest word of the nearest line for one in line.
    """
    place: Literal["in-line", "beside", "centred"] | None = None
    """How it stands; as it does, or in line, when not given."""
    version: str | None = None


@act("anchor", PutAnchor)
def put_anchor(at: Acting, given: PutAnchor) -> list[Operation]:
    """Let an object belong to a frame's copy, or move its place there to other words.

    In line it stands there like a letter. Put beside its line it stays where it stands, and moves with the line from
    then on; centred it goes to the middle of the frame, and pushes the copy round it. The group that it is part of goes
    along. Versions that are not shown get it where their copy begins, or where it ends.
    """
    page, index, thing = at.place(given.object)
    nests = at.studio.nest(at.document, given.version)
    host_page, host_index, host = at.place(given.frame or _own_frame(at, nests, thing))
    if host.frame is None:
        raise ActError(f"“{at.label(host)}” holds no copy for “{at.label(thing)}” to belong to")
    if host.id == thing.id or (thing.frame is not None and thing.frame.copy_name == host.frame.copy_name):
        raise ActError("an object cannot stand in its own copy")
    group = at.document.group_along(thing.id, {host.frame.copy_name})
    others = [at.place(i) for i in at.document.going_along(thing.id, {host.frame.copy_name})]
    things = [thing, *(other for _, _, other in others)]
    for one in things:
        if one.frame is not None and _stands_in(at, host.id, one.frame.copy_name):
            raise ActError(f"“{at.label(host)}” stands in the copy of “{at.label(one)}” itself")
        if one.id in at.document.chain_of:
            raise ActError(f"copy runs through “{at.label(one)}” in a chain; take it out of that first")
    place = given.place or (thing.anchor.place if thing.anchor else "in-line")
    if page != host_page and place == "in-line" and thing.anchor is None:
        raise ActError("the object and the frame are on different pages")
    out = _taken_out(at, thing.id, but=host.frame.copy_name)
    behind = min(index, *(place for _, place, _ in others)) if others else index
    if behind < host_index and page == host_page:  # else the frame's own fill would hide it
        out += restack(at, Restack(object=group.group.id if group else thing.id, above=host.id))
    name = host.frame.copy_name
    shown, _ = at.document.version_of(name, given.version)
    placed = next((n for n in nests if n.thing.id == host.id), None)
    numbers = placed.numbers if placed else ()
    stands = as_they_stand(nests, things)
    versions = at.document.raw["copies"][name]["versions"]
    where = given.at
    if where is None and thing.anchor and place != thing.anchor.place:
        runs = _places(numbered(versions[shown].get("paragraphs", []), numbers))
        where = next((start for start, run in runs if run.get("object") == thing.id), None)
    record = -1
    if place != "in-line" and placed is not None and len(placed.nest.records):
        record = _record(placed, where, stands)
        if where is None:
            where = int(placed.nest.ranges[record, k.RANGE_START])
    if where is None and place == "in-line" and placed is not None and len(placed.nest.records):
        where = nearest_place(placed, stands.box)
    where = where or 0
    for version, content in versions.items():
        old = content.get("paragraphs", [])
        point = where if version == shown or where == 0 else 10**9
        known = numbered(old, numbers)
        for start, run in _places(known):
            if run.get("object") == thing.id and start < point:
                point -= 1  # it goes from before its new place
        made = with_fields(with_object(without_object(known, {thing.id}), thing.id, max(point, 0)))
        path: list[str | int] = ["copies", name, "versions", version, "paragraphs"]
        out.append({"do": "splice", "at": path, "from": 0, "remove": len(old), "insert": made})
    anchor = _anchor(at, thing, place, placed, record, stands)
    if anchor is not None:
        out.append({"do": "put", "at": ["objects", thing.id, "anchor"], "value": anchor})
        if place == "centred" and all(one.wrap.by == "none" for one in things):
            for one in things:
                clear = one.picture is not None and (
                    one.contour is not None or cut_out(at.studio.pictures(one.picture.file))
                )
                wrap = {"by": "contour" if clear else "outline", "clearance": CLEARANCE}
                out.append({"do": "put", "at": ["objects", one.id, "wrap"], "value": wrap})
                if one.frame is not None and one.frame.pushed and others:  # a label keeps its place in its badge
                    out.append({"do": "put", "at": ["objects", one.id, "frame", "pushed"], "value": False})
    return out


def nearest_place(placed: PlacedNest, box: tuple[float, float, float, float]) -> int:
    """The code point of a frame's copy nearest to a box on its page: before the nearest word of the nearest line."""
    nest = placed.nest
    x, y = box[0] + box[2] / 2, box[1] + box[3] / 2
    if placed.matrix is not None:
        x, y = path.at(path.inverse(placed.matrix), (x, y))
    rows = nest.records
    down = np.maximum(np.maximum(rows[:, k.TOP] - y, y - rows[:, k.BOTTOM]), 0)
    across = np.maximum(np.maximum(nest.left - x, x - nest.right), 0)
    record = int(np.argmin(down * 1000 + across))
    start, end = (int(v) for v in nest.ranges[record])
    drawn = nest.drawn
    words = np.flatnonzero(drawn.record == record)
    if not len(words):
        return start
    nearest = words[int(np.argmin(np.abs(drawn.x[words] - x)))]
    if x > nest.right[record] and not nest.copy.bidi:
        return end
    return max(int(nest.copy.segments.start[drawn.segment[nearest]]), start)


def _own_frame(at: Acting, nests: Nests, thing: PageObject) -> str:
    """The frame that an object belongs to without being told: where it stands, or the nearest on its page, one that
    only says page numbers last. Raises ActError."""
    there = _placed_in(nests, thing.id)
    if there is not None:
        return there.thing.id
    frames = [t for _, t in at.document.objects() if t.frame is not None and t.id != thing.id]
    if thing.anchor is not None:
        for frame in frames:
            assert frame.frame is not None
            if _stands_in(at, thing.id, frame.frame.copy_name):
                return frame.id
    stands = nests.moved.get(thing.id, thing)
    page = nests.page_of.get(thing.id, at.place(thing.id)[0])
    own = thing.frame.copy_name if thing.frame else None
    near = [
        (bool(n.numbers), _apart(n.thing.box, stands.box), n.thing.id)
        for n in nests
        if n.page == page and n.thing.id != thing.id and n.thing.frame and n.thing.frame.copy_name != own
    ]
    if not near:
        raise ActError(f"there is no copy on this page for “{at.label(thing)}” to belong to")
    return min(near, key=lambda found: found[:2])[2]


def _placed_in(nests: Nests, object_id: str) -> PlacedNest | None:
    """The nest in whose copy an object has its place; None while it waits, or belongs to the page."""
    if object_id in nests.anchors:
        return nests.anchors[object_id][0]
    return next((n for n in nests if any(p.object == object_id for p in in_line_places(n.nest))), None)


def _apart(a: tuple[float, float, float, float], b: tuple[float, float, float, float]) -> float:
    """How far two boxes are from each other, across and down together; 0 where they meet."""
    across = max(a[0] - b[0] - b[2], b[0] - a[0] - a[2], 0.0)
    return across + max(a[1] - b[1] - b[3], b[1] - a[1] - a[3], 0.0)


class FitInLine(Given):
    object: str
    version: str | None = None


@act("fit-in-line", FitInLine)
def fit_in_line(at: Acting, given: FitInLine) -> list[Operation]:
    """Make an object that stands in line as wide as the measure of its frame, its height in proportion; with the group
    that goes along with it."""
    thing = at.thing(given.object)
    found = _placed_in(at.studio.nest(at.document, given.version), thing.id)
    if found is None or thing.anchor is None or thing.anchor.place != "in-line":
        raise ActError(f"“{at.label(thing)}” stands in no line")
    left, _, right, _ = found.nest.geometry.bounds
    whole, things = whole_of(at.document, thing), with_along(at, thing)
    if len(things) == 1:
        whole = at.stands(thing.id, given.version)
    factor = math.floor((right - left) * 100) / 100 / whole.box[2]
    larger = whole.put(width=whole.box[2] * factor, height=whole.box[3] * factor)
    out = []
    for one in things:
        sized = carried(one, whole, larger)
        box = dict(zip(("x", "y", "width", "height"), sized.box, strict=True))
        fields = ("width", "height") if len(things) == 1 else tuple(box)
        out += [{"do": "put", "at": ["objects", one.id, name], "value": box[name]} for name in fields]
    return out


def _record(placed: PlacedNest, where: int | None, thing: PageObject) -> int:
    """The record of a line: that of a code point, or the one nearest to an object's top."""
    nest = placed.nest
    if where is not None:
        return max(int(np.searchsorted(nest.ranges[:, k.RANGE_START], where, side="right")) - 1, 0)
    top = thing.box[1]
    tops = [float(r[k.BASELINE]) - hang_of_line(nest, i, placed.thing) for i, r in enumerate(nest.records)]
    # Of lines side by side, the one nearest across.
    middle = thing.box[0] + thing.box[2] / 2
    aside = [abs((float(r[k.LEFT]) + float(r[k.RIGHT])) / 2 - middle) for r in nest.records]
    return min(range(len(tops)), key=lambda i: (round(abs(tops[i] - top), 3), aside[i]))


def _anchor(
    at: Acting, thing: PageObject, place: str, placed: PlacedNest | None, record: int, stands: PageObject
) -> Raw | None:
    """How an object is to stand; None where that stays as it is."""
    old: Raw = at.raw(thing.id).get("anchor") or {}
    if place == (thing.anchor.place if thing.anchor else None):
        return None
    if place == "in-line":
        return {"place": "in-line"}
    if place == "centred" or placed is None or record < 0:
        return {"place": place}
    kept: Raw = {name: old[name] for name in ("across", "down", "side") if name in old}
    box = placed.thing.box
    side = "left" if stands.box[0] + stands.box[2] / 2 <= box[0] + box[2] / 2 else "right"
    anchor = Anchor.model_validate({"place": "beside", "side": side, **kept})
    figures = holding(at.document, placed.page, anchor, stands.box, placed, record)
    return figures_of({"place": "beside", "side": anchor.side, **kept}, figures)


def moved_anchor(at: Acting, thing: PageObject, by: tuple[float, float], version: str | None = None) -> list[Operation]:
    """The operation that moves an object which hangs from the copy, its words staying the same; none while it waits."""
    nests = at.studio.nest(at.document, version)
    found = nests.anchors.get(thing.id)
    if found is None or thing.anchor is None:
        return []
    placed, place = found
    x, y, width, height = as_they_stand(nests, with_along(at, thing)).box
    box = (x + by[0], y + by[1], width, height)
    figures = holding(at.document, placed.page, thing.anchor, box, placed, place.record)
    anchor = figures_of(at.raw(thing.id)["anchor"], figures)
    return [{"do": "put", "at": ["objects", thing.id, "anchor"], "value": anchor}]


def _places(paragraphs: list[Raw]) -> list[tuple[int, Raw]]:
    """Every run with the code point at which it begins."""
    out, at = [], 0
    for paragraph in paragraphs:
        for run in paragraph.get("runs", []):
            out.append((at, run))
            at += length_of(run)
        at += 1
    return out


def _stands_in(at: Acting, object_id: str, copy: str) -> bool:
    """Whether an object stands in a copy, or in one that stands in it."""
    for content in at.document.copies[copy].values():
        for paragraph in content.paragraphs:
            for run in paragraph.runs:
                if run.object is None:
                    continue
                inner = at.thing(run.object)
                if run.object == object_id or (inner.frame and _stands_in(at, object_id, inner.frame.copy_name)):
                    return True
    return False


def _taken_out(at: Acting, object_id: str, but: str | None = None) -> list[Operation]:
    """The operations that take an object's runs out of every copy (`but` one)."""
    out: list[Operation] = []
    for name, copy in at.document.raw.get("copies", {}).items():
        for version, content in copy["versions"].items():
            old: list[Any] = content.get("paragraphs", [])
            made = without_object(old, {object_id})
            if name != but and made != old:
                path: list[str | int] = ["copies", name, "versions", version, "paragraphs"]
                out.append({"do": "splice", "at": path, "from": 0, "remove": len(old), "insert": made})
    return out


class Release(Given):
    object: str
    version: str | None = None


@act("release", Release)
def release(at: Acting, given: Release) -> list[Operation]:
    """Let an object go from the copy: it stays where it stands, and belongs to the page."""
    thing = at.thing(given.object)
    if thing.anchor is None:
        raise ActError(f"“{at.label(thing)}” stands in no copy")
    nests = at.studio.nest(at.document, given.version)
    things = with_along(at, thing)
    out = _taken_out(at, thing.id)
    out.append({"do": "cut", "at": ["objects", thing.id, "anchor"]})
    there = nests.page_of.get(thing.id)
    if there is None:
        return out + [operation for one in things for operation in stay(one, nests.moved.get(one.id, one))]
    # Its words have run on to another page: it stays there.
    made = []
    for one in things:
        raw = {k: v for k, v in at.raw(one.id).items() if k != "anchor"}
        after = nests.moved.get(one.id, one)
        box = dict(zip(("x", "y", "width", "height"), (round(v, 4) for v in after.box), strict=True))
        made.append({**raw, **box, "turn": after.turn})
    gone = {one.id for one in things}
    page = at.place(thing.id)[0]
    here = at.list_at(["pages", page, "objects"])
    home = page_rewritten(at, page, rewritten(here, lambda raw: [] if raw["id"] in gone else [raw]))
    count = len(at.document.raw["pages"][there].get("objects", []))
    if len(made) > 1:
        made = [{"id": at.fresh_id("g"), "objects": made}]
    return [
        *out[:-1],
        *home,
        {"do": "splice", "at": ["pages", there, "objects"], "from": count, "remove": 0, "insert": made},
    ]
