"""What is seen stays: before a rule goes, what it had brought about is written down.

A frame that gives, a tie, fitted type and an anchor make an object stand otherwise than it is written. Where an edit
takes such a rule away or puts another in its place, the object is first brought, as it is written, to how it is seen:
the new rule then changes what it names, later, and nothing now (`acts.changes` says what each may change).
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from nestline.acts.acting import Acting
from nestline.acts.arranging import scaled_copy
from nestline.acts.completing import leaves_of, stay
from nestline.document import edits, lengths
from nestline.document.edits import Operation, Raw
from nestline.document.model import PageObject
from nestline.document.reading import Document
from nestline.errors import NestLineError
from nestline.nesting.giving import may_give
from nestline.studio import Studio

_OF_OBJECTS = {"frame", "ties", "pivot", "recipe", "departs", "anchor", "width", "height", "outline", "hidden"}
_OF_FRAMES = {"give", "fit_type", "copy"}

_Rules = tuple[object, ...]
NOT_LARGER = 1 - 2e-5
"""What written sizes are multiplied by, so that rounded they are not larger than those that held all copy."""


def staying(studio: Studio, raw: Raw, operations: list[Operation]) -> list[Operation]:
    """Operations on a document, and those by which what is seen stays where their rules no longer put it there."""
    if not any(map(_may_take_rules, operations)):
        return operations
    try:
        after_raw = edits.apply(raw, operations).document
        before, after = studio.read(raw), studio.read(after_raw)
    except NestLineError:
        return operations  # what is wrong with them is said where they are made
    return [*operations, *_kept(Acting(studio, before), after, after_raw)]


def _may_take_rules(operation: Operation) -> bool:
    at = operation.get("at") or [None]
    if at[0] == "objects":
        if len(at) < 3 or at[2] not in _OF_OBJECTS:
            return len(at) == 2
        return at[2] != "frame" or len(at) == 3 or at[3] in _OF_FRAMES
    return at[0] in ("recipes", "chains") or (at[0] == "pages" and (len(at) < 3 or "objects" in at))


def _kept(at: Acting, after: Document, after_raw: Raw) -> list[Operation]:
    written = {raw["id"]: raw for page in at.document.raw["pages"] for raw in leaves_of(page.get("objects", []))}
    made = {raw["id"]: raw for page in after_raw["pages"] for raw in leaves_of(page.get("objects", []))}
    now = after.by_id
    out: list[Operation] = []
    for _, thing in at.document.objects():
        new = now.get(thing.id)
        if new is None:
            continue
        old_raw, new_raw = written[thing.id], made[thing.id]
        same = {f for f in ("x", "y", "width", "height", "turn") if old_raw.get(f) == new_raw.get(f)}
        if _rules_of(at.document, thing) != _rules_of(after, new) and (at.follows(thing) or thing.pivot != new.pivot):
            stands = at.stands(thing.id)
            if not stands.hidden or thing.hidden:
                moves = {o["at"][-1]: o for o in stay(thing, stands)}
                if thing.pivot != new.pivot:
                    moves |= {o["at"][-1]: o for o in _turned_the_same(stands, new)}
                    if new.ties and new.ties == thing.ties:
                        out.append(_ties_the_same(stands, new_raw, moves))
                out += [o for field, o in moves.items() if field in same]
        if _has_own_size(old_raw) and _has_own_size(new_raw) and not same >= {"width", "height"}:
            box = [thing.box[2], thing.box[3]]
            out.append({"do": "put", "at": ["objects", thing.id, "outline", "box"], "value": box})
    return out + _sizes_kept(at, after)


def _rules_of(document: Document, thing: PageObject) -> _Rules:
    """What may make an object stand otherwise than it is written."""
    goes_on = document.beside_in_chain(thing.id, 1) is not None
    frame = thing.frame
    give = tuple(frame.give) if frame is not None and may_give(frame, goes_on) and not thing.hidden else ()
    return give, thing.ties, thing.pivot, thing.anchor is not None, frame is not None


def _turned_the_same(stands: PageObject, new: PageObject) -> list[Operation]:
    """An object with another pivot, put where it stands as it did turned about its old one."""
    x, y, width, height = stands.box
    c, s = math.cos(math.radians(stands.turn)), math.sin(math.radians(stands.turn))

    def off(pivot: tuple[float, float]) -> tuple[float, float]:
        px, py = pivot[0] * width, pivot[1] * height
        return px - c * px + s * py, py - s * px - c * py

    (ax, ay), (bx, by) = off(stands.pivot), off(new.pivot)
    return [
        {"do": "put", "at": ["objects", new.id, field], "value": round(value, 6)}
        for field, value in (("x", x + ax - bx), ("y", y + ay - by))
    ]


def _ties_the_same(stands: PageObject, raw: Raw, moves: dict[str, Operation]) -> Operation:
    """The ties of an object whose box is put elsewhere about another pivot, with gaps that hold it there."""
    x, y, _, _ = stands.box
    dx, dy = moves["x"]["value"] - x, moves["y"]["value"] - y
    by = {"left": dx, "right": -dx, "top": dy, "bottom": -dy}
    ties = [
        {**tie, "gap": round(lengths.points(tie.get("gap", 0)) + by[tie["edge"]], 6)} if tie["edge"] in by else tie
        for tie in raw["ties"]
    ]
    return {"do": "put", "at": ["objects", raw["id"], "ties"], "value": ties}


def _has_own_size(raw: Raw) -> bool:
    """Whether an object's outline is a path drawn at the size that the object has as it is written."""
    outline = raw.get("outline") or {}
    return outline.get("kind") == "path" and outline.get("box") is None


def _sizes_kept(at: Acting, after: Document) -> list[Operation]:
    """Copies whose type was fitted and is no longer, at the size that it had come to."""
    fitted: dict[str, PageObject] = {}
    for _, thing in at.document.objects():
        if thing.frame is not None and thing.frame.fit_type is not None:
            fitted.setdefault(thing.frame.copy_name, thing)
    out: list[Operation] = []
    if not fitted:
        return out
    still = {t.frame.copy_name for _, t in after.objects() if t.frame is not None and t.frame.fit_type is not None}
    for name, thing in fitted.items():
        if name in still or name not in after.copies:
            continue
        base = at.document.text_style_of(thing)
        for version in at.document.copies[name]:
            if version not in after.copies[name]:
                continue
            nests = at.studio.nest(at.document, version, [at.document.page_of[thing.id]])
            factor = next((n.factor for n in nests if n.copy == name), 1.0)
            paragraphs = at.document.raw["copies"][name]["versions"][version].get("paragraphs", [])
            unchanged = after.raw["copies"][name]["versions"][version].get("paragraphs", []) == paragraphs
            if abs(factor - 1.0) > 1e-9 and unchanged:
                out += [o for o in scaled_copy(at, name, factor * NOT_LARGER, base) if o["at"][3] == version]
    return out


def written_as_seen(at: Acting, ids: Sequence[str]) -> list[Operation]:
    """The operations that write objects down as they are seen."""
    return [o for i in ids for o in stay(at.thing(i), at.stands(i))]
