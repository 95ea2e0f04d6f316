"""Chains made and changed: copy goes on in another frame, a frame is put in or taken out, a chain is cut."""

from __future__ import annotations

import copy as copying
from collections.abc import Mapping
from typing import Any, Literal

from nestline.acts.acting import ActError, Acting, Given, act, fresh
from nestline.acts.anchoring import length_of, numbered, with_fields
from nestline.acts.arranging import extent
from nestline.acts.paging import AddPage, add_page
from nestline.acts.paths import Figure
from nestline.copy.wording import CONTINUED, continued
from nestline.document.edits import Operation, Raw
from nestline.document.model import PageObject

PASSED_ON = ("outline", "fill", "stroke", "recipe", "departs", "paint", "turn")
"""What a new frame in a chain takes from the one before it, beside its rules."""
ONE_FRAMES_OWN = ("copy", "give", "least", "greatest")
"""Rules that are not passed on: they belong to one frame's size."""


def chain_operation(chains: list[list[str]]) -> Operation:
    kept = [chain for chain in chains if len(chain) > 1]
    return {"do": "put", "at": ["chains"], "value": kept}


def _chains(at: Acting) -> list[list[str]]:
    return [list(chain) for chain in at.document.head.chains]


def _holding(chains: list[list[str]], identity: str) -> list[str] | None:
    """The chain that a frame is in."""
    return next((chain for chain in chains if identity in chain), None)


def _joined(chains: list[list[str]], source: str, more: list[str]) -> Operation:
    """The operation that puts frames behind another, in its chain or in a new one; a chain that they made goes."""
    mine = _holding(chains, source)
    joined = list(mine or [source])
    place = joined.index(source) + 1
    joined[place:place] = more
    return chain_operation([*(c for c in chains if c is not mine and c[0] not in more), joined])


def _frame(at: Acting, identity: str) -> PageObject:
    thing = at.thing(identity)
    if thing.frame is None:
        raise ActError(f"“{at.label(thing)}” holds no copy")
    if not thing.frame.wrap_lines:
        raise ActError(f"“{at.label(thing)}” does not wrap its lines; let it wrap them, then its copy can run on")
    if thing.anchor is not None:
        raise ActError(f"“{at.label(thing)}” belongs to copy itself; release it first")
    return thing


def _rules_of(at: Acting, identity: str) -> Raw:
    return {k: v for k, v in at.raw(identity)["frame"].items() if k not in ONE_FRAMES_OWN}


class Link(Given):
    frame: str
    to: str
    version: str | None = None


@act("link", Link)
def link(at: Acting, given: Link) -> list[Operation]:
    """Let a frame's copy go on in another object.

    An outline without copy becomes a frame with the same rules. Copy that the other frame holds already comes behind:
    none is lost. In the middle of a chain the frame is put in between.
    """
    source, target = _frame(at, given.frame), at.thing(given.to)
    if source.id == target.id:
        raise ActError("copy cannot go on in the frame that it comes from")
    if target.picture is not None:
        raise ActError("a picture holds no copy; draw an outline for it")
    assert source.frame is not None
    name = source.frame.copy_name
    chains = _chains(at)
    mine, theirs = _holding(chains, source.id), _holding(chains, target.id)
    if mine is not None and mine is theirs:
        raise ActError(f"“{at.label(target)}” is in this chain already; take it out to put it elsewhere")
    if theirs is not None and theirs[0] != target.id:
        raise ActError(f"“{at.label(target)}” is in the middle of another chain; cut that chain before it first")
    if target.anchor is not None:
        raise ActError(f"“{at.label(target)}” belongs to copy itself; release it first")
    out: list[Operation] = []
    if target.frame is None:
        out.append(
            {"do": "put", "at": ["objects", target.id, "frame"], "value": {**_rules_of(at, source.id), "copy": name}}
        )
    else:
        _frame(at, target.id)
        out += _behind(at, name, target.frame.copy_name, theirs or [target.id])
    return [*out, _joined(chains, source.id, theirs or [target.id])]


def _behind(at: Acting, name: str, other: str, frames: list[str]) -> list[Operation]:
    """Another copy put behind one, in every version, and its frames given that one."""
    if other == name:
        return []
    out: list[Operation] = []
    mine, theirs = (at.document.raw["copies"][n]["versions"] for n in (name, other))
    first = next(iter(mine))
    for version, content in theirs.items():
        more = [p for p in content.get("paragraphs", []) if p.get("runs")]
        if not more:
            continue
        into = version if version in mine else at.document.version_of(name, version)[0]
        if version not in mine and version != next(iter(theirs)):
            continue  # a language that this copy does not have: the first of the other's stands for it
        old = mine[into].get("paragraphs", [])
        kept = len(old) if into != first or any(p.get("runs") for p in old) else 0  # an empty copy's paragraph goes
        path = ["copies", name, "versions", into, "paragraphs"]
        out.append({"do": "splice", "at": path, "from": kept, "remove": len(old) - kept, "insert": more})
    out += [{"do": "put", "at": ["objects", f, "frame", "copy"], "value": name} for f in frames]
    if {t.id for _, t in at.document.objects() if t.frame and t.frame.copy_name == other} <= set(frames):
        out.append({"do": "cut", "at": ["copies", other]})
    return out


class LinkNew(Given):
    frame: str
    page: int
    at: tuple[Figure, Figure]
    """Where its top left corner goes, on its page."""
    id: str | None = None


@act("link-new", LinkNew)
def link_new(at: Acting, given: LinkNew) -> list[Operation]:
    """Let a frame's copy go on in a new frame of the same outline, size, rules and paint; it is put where it is all on
    its page, its top and its left edge first where it is larger than that."""
    source = _frame(at, given.frame)
    if not 0 <= given.page < len(at.document.pages):
        raise ActError("that page is not there any more")
    x, y = given.at
    left, top, right, bottom = extent(source.put(x=x, y=y))
    width, height = at.document.pages[given.page].sheet.size
    x += max(min(0.0, width - right), -left)
    y += max(min(0.0, height - bottom), -top)
    return _linked_new(at, given.model_copy(update={"at": (x, y)}))


def _linked_new(at: Acting, given: LinkNew) -> list[Operation]:
    source = _frame(at, given.frame)
    raw = at.raw(source.id)
    assert source.frame is not None
    identity = given.id or at.fresh_id()
    _, _, width, height = source.box
    made: Raw = {
        "id": identity,
        "name": source.name,
        "x": round(given.at[0], 4),
        "y": round(given.at[1], 4),
        "width": width,
        "height": height,
        **{k: copying.deepcopy(raw[k]) for k in PASSED_ON if k in raw},
        "frame": {**_rules_of(at, source.id), "copy": source.frame.copy_name},
    }
    count = len(at.document.raw["pages"][given.page].get("objects", []))
    return [
        {"do": "splice", "at": ["pages", given.page, "objects"], "from": count, "remove": 0, "insert": [made]},
        _joined(_chains(at), source.id, [identity]),
    ]


class OneFrame(Given):
    frame: str


def _own_copy(at: Acting, frames: list[str], versions: Mapping[str, Any]) -> list[Operation]:
    """Frames given a copy of their own."""
    thing = at.thing(frames[0])
    assert thing.frame is not None
    name = fresh(at.document.copies, f"{thing.frame.copy_name.rstrip('0123456789 ')} ")
    out: list[Operation] = [{"do": "put", "at": ["copies", name], "value": {"versions": versions}}]
    return out + [{"do": "put", "at": ["objects", f, "frame", "copy"], "value": name} for f in frames]


def _empty(at: Acting, copy: str) -> Raw:
    """A copy without words, in the versions and the look of another."""
    out: Raw = {}
    for version, content in at.document.raw["copies"][copy]["versions"].items():
        first = (content.get("paragraphs") or [{}])[0]
        rules = {k: v for k, v in first.items() if k not in ("runs", "list", "drop_cap")}
        out[version] = {**{k: v for k, v in content.items() if k == "language"}, "paragraphs": [{**rules, "runs": []}]}
    return out


@act("take-out-of-chain", OneFrame)
def take_out(at: Acting, given: OneFrame) -> list[Operation]:
    """Take a frame out of its chain: the copy passes it by, and it holds an empty copy of its own."""
    thing = _frame(at, given.frame)
    chains = _chains(at)
    mine = _holding(chains, thing.id)
    if mine is None or thing.frame is None:
        raise ActError(f"“{at.label(thing)}” is in no chain")
    mine.remove(thing.id)
    return [*_own_copy(at, [thing.id], _empty(at, thing.frame.copy_name)), chain_operation(chains)]


class Cut(Given):
    frame: str
    words: Literal["stay", "go"] = "go"


@act("cut-chain", Cut)
def cut_chain(at: Acting, given: Cut) -> list[Operation]:
    """Cut a chain behind a frame. Its words stay with the frames before the cut, or go with those after it that show
    them; each version is cut where its own words break."""
    thing = _frame(at, given.frame)
    chains = _chains(at)
    mine = _holding(chains, thing.id)
    if mine is None or mine[-1] == thing.id or thing.frame is None:
        raise ActError(f"no copy goes on from “{at.label(thing)}” in a chain")
    place = mine.index(thing.id) + 1
    before, after = mine[:place], mine[place:]
    name = thing.frame.copy_name
    out: list[Operation] = []
    versions = _empty(at, name)
    if given.words == "go":
        for version, content in at.document.raw["copies"][name]["versions"].items():
            nests = at.studio.nest(at.document, version)
            placed = next((n for n in nests if n.thing.id == thing.id), None)
            old = content.get("paragraphs", [])
            if placed is None:
                continue
            kept, gone = map(with_fields, split(numbered(old, placed.numbers), placed.nest.held[1]))
            if gone:
                path = ["copies", name, "versions", version, "paragraphs"]
                out.append({"do": "splice", "at": path, "from": 0, "remove": len(old), "insert": kept})
                versions[version] = {**versions[version], "paragraphs": gone}
    rest = [c for c in chains if c is not mine]
    return [*out, *_own_copy(at, after, versions), chain_operation([*rest, before, after])]


def split(paragraphs: list[Raw], at: int) -> tuple[list[Raw], list[Raw]]:
    """Paragraphs before and after a code point of the copy, a paragraph's end counting one. What goes on within a
    paragraph is not indented as its first line is."""
    for number, paragraph in enumerate(paragraphs):
        runs = paragraph.get("runs", [])
        length = sum(length_of(run) for run in runs)
        if at > length:
            at -= length + 1
            continue
        if at <= 0:
            return paragraphs[:number], paragraphs[number:]
        if at == length:
            return paragraphs[: number + 1], paragraphs[number + 1 :]
        first: list[Raw] = []
        second: list[Raw] = []
        for run in runs:
            size = length_of(run)
            if at >= size:
                first.append(run)
            elif at <= 0:
                second.append(run)
            else:
                first.append({**run, "text": run["text"][:at]})
                second.append({**run, "text": run["text"][at:]})
            at -= size
        rest = {k: v for k, v in paragraph.items() if k not in ("drop_cap", "list")}
        head, tail = {**paragraph, "runs": first}, {**rest, "runs": second, "first_indent": 0}
        return [*paragraphs[:number], head], [tail, *paragraphs[number + 1 :]]
    return paragraphs, []


class JumpLine(Given):
    frame: str
    """The frame behind which the chain breaks."""
    kind: Literal["to", "from"] = "to"
    words: str = ""
    """What stands before the number, in versions of the language shown; that language's own wording when empty.
    Versions in other languages have theirs."""
    version: str | None = None
    """The version that is shown."""
    id: str | None = None


JUMP_SIZE = 8


@act("jump-line", JumpLine)
def jump_line(at: Acting, given: JumpLine) -> list[Operation]:
    """A line that says on which page copy goes on (below the frame), or from which it comes (above the next frame). It
    is an object like any other, tied to its frame, and its number is always right."""
    thing = _frame(at, given.frame)
    after = at.document.beside_in_chain(thing.id, 1)
    if after is None:
        raise ActError(f"no copy goes on from “{at.label(thing)}” in a chain")
    host = thing if given.kind == "to" else at.thing(after)
    page = at.place(host.id)[0]
    field = {"field": "next-page" if given.kind == "to" else "previous-page", "of": host.id}
    name = fresh(at.document.copies, "Jump line ")
    assert thing.frame is not None
    follows = "Jump line" in at.document.head.recipes
    paragraph: Raw = {"align": "end" if given.kind == "to" else "start"}
    if not follows:
        paragraph |= {"size": JUMP_SIZE, "leading": "1.2em", "slope": "italic"}
        if "Body" in at.document.head.styles:
            paragraph["style"] = "Body"
    copies = at.document.copies[thing.frame.copy_name]
    shown = at.document.version_of(thing.frame.copy_name, given.version)[1].language
    versions: Raw = {}
    for version, copy in copies.items():
        words = _jump_words(given, copy.language, shown)
        runs = [{"text": words if words.endswith((" ", "\u00a0")) else words + " "}, field]
        versions[version] = {"language": copy.language, "paragraphs": [{"runs": runs, **paragraph}]}
    edge = "bottom" if given.kind == "to" else "top"
    x, y, width, height = host.box
    high = round(1.2 * JUMP_SIZE, 2)
    made: Raw = {
        "id": given.id or at.fresh_id(),
        "name": "Jump line",
        "x": x,
        "width": width,
        "height": high,
        "y": round(y + height + 3 if given.kind == "to" else y - high - 3, 4),
        "ties": [
            {"edge": "top" if given.kind == "to" else "bottom", "to": host.id, "its": edge, "gap": 3},
            {"edge": "left", "to": host.id},
            {"edge": "width", "to": host.id},
        ],
        "frame": {"copy": name, "pushed": False, "least_slot": 0},
    }
    if follows:
        # It takes what it is set in from the recipe; its place and width are the frame's.
        made |= {"recipe": "Jump line", "departs": ["give", "wrap_lines"]}
    count = len(at.document.raw["pages"][page].get("objects", []))
    return [
        {
            "do": "put",
            "at": ["copies", name],
            "value": {"versions": versions},
        },
        {"do": "splice", "at": ["pages", page, "objects"], "from": count, "remove": 0, "insert": [made]},
    ]


def _jump_words(given: JumpLine, language: str, shown: str) -> str:
    own, english = continued(language), CONTINUED["en"]
    if given.words and (language.split("-")[0] == shown.split("-")[0] or own is None):
        return given.words
    return (own or english)[0 if given.kind == "to" else 1]


class GoOn(Given):
    frame: str
    id: str | None = None


@act("go-on", GoOn)
def go_on(at: Acting, given: GoOn) -> list[Operation]:
    """Let a frame's copy go on in a new one: beside it or below it where the page has room, else on the next page in
    the same place (a new page when there is none)."""
    thing = _frame(at, given.frame)
    page = at.place(thing.id)[0]
    sheet_width, sheet_height = at.document.pages[page].sheet.size
    left, top, right, bottom = extent(thing)
    gap = 12.0
    taken = [extent(t) for t in at.document.pages[page].objects if t.id != thing.id and not t.hidden]
    x, y, _, _ = thing.box
    for dx, dy in ((right - left + gap, 0.0), (0.0, bottom - top + gap), (left - right - gap, 0.0)):
        box = (left + dx, top + dy, right + dx, bottom + dy)
        inside = box[0] >= 0 and box[1] >= 0 and box[2] <= sheet_width and box[3] <= sheet_height
        free = not any(a[0] < box[2] and a[2] > box[0] and a[1] < box[3] and a[3] > box[1] for a in taken)
        if inside and free:
            return _linked_new(at, LinkNew(frame=thing.id, page=page, at=(x + dx, y + dy), id=given.id))
    if page + 1 < len(at.document.pages):
        return _linked_new(at, LinkNew(frame=thing.id, page=page + 1, at=(x, y), id=given.id))
    new_page = add_page(at, AddPage(after=page))
    linked = _linked_new(at, LinkNew(frame=thing.id, page=page, at=(x, y), id=given.id))
    return [*new_page, {**linked[0], "at": ["pages", page + 1, "objects"], "from": 0}, *linked[1:]]
