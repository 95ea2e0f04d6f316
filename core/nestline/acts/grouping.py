"""Groups: objects taken as one. Acts on several objects work on units, a unit being an object or a group chosen
whole."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.backgrounds import backgrounds
from nestline.acts.going_along import keeping_places
from nestline.document.edits import Operation, Raw

Ids = Annotated[list[str], Field(min_length=1, max_length=2000)]
Path = list[str | int]


@dataclass(frozen=True)
class Unit:
    """An object or a group as it is written, the objects in it (back to front), the list it stands in and its place."""

    raw: Raw
    objects: tuple[str, ...]
    home: tuple[str | int, ...]
    index: int


def leaves(raw: Raw) -> list[str]:
    """The ids of the objects in a raw object or group, back to front."""
    if "objects" not in raw:
        return [raw["id"]]
    return [i for inner in raw["objects"] for i in leaves(inner)]


def page_of(at: Acting, ids: Iterable[str]) -> int:
    """The one page that objects are on. Raises ActError."""
    pages = {at.place(i)[0] for i in ids}
    if len(pages) > 1:
        raise ActError("choose objects of one page")
    return pages.pop()


def units_of(at: Acting, ids: Sequence[str]) -> list[Unit]:
    """What objects of one page come to, groups of which all is chosen taken whole; back to front."""
    page = page_of(at, ids)
    chosen, out = set(ids), []

    def walk(path: Path) -> None:
        for index, raw in enumerate(at.list_at(path)):
            inner = leaves(raw)
            if inner and chosen.issuperset(inner):
                out.append(Unit(raw, tuple(inner), tuple(path), index))
            elif "objects" in raw:
                walk([*path, index, "objects"])

    walk(["pages", page, "objects"])
    return out


def rewritten(raws: Sequence[Raw], change: Callable[[Raw], list[Raw]]) -> list[Raw]:
    """A list of raw objects, each replaced by what `change` gives; groups that lose all their objects go."""
    out: list[Raw] = []
    for raw in raws:
        if "objects" not in raw:
            out += change(raw)
            continue
        inner = rewritten(raw["objects"], change)
        if inner == raw["objects"]:
            out.append(raw)
        elif inner:
            out.append({**raw, "objects": inner})
    return out


def page_rewritten(at: Acting, page: int, objects: list[Raw]) -> list[Operation]:
    """The operation that puts another list of objects on a page; none when it is the same."""
    path: Path = ["pages", page, "objects"]
    old = at.list_at(path)
    return [] if objects == old else [{"do": "splice", "at": path, "from": 0, "remove": len(old), "insert": objects}]


class Group(Given):
    objects: Ids
    id: str | None = None
    name: str = ""


@act("group", Group)
def group(at: Acting, given: Group) -> list[Operation]:
    """Make one group of objects, in the place of the front one; they keep their order."""
    units = units_of(at, given.objects)
    if len(units) < 2:
        raise ActError("choose two or more objects to group")
    page = page_of(at, given.objects)
    if any(at.thing(i).anchor or i in at.document.leader_of for i in given.objects):
        # What belongs to copy may stand on another page than it is written on.
        stand = at.studio.nest(at.document).page_of
        if len({stand.get(i, page) for i in given.objects}) > 1:
            raise ActError("a group stands on one page; these stand on several")
    made: Raw = {"id": given.id or at.fresh_id("g"), "name": given.name, "objects": [u.raw for u in units]}
    gone = {id(u.raw) for u in units}
    front = units[-1].raw

    def without(raws: list[Raw]) -> list[Raw]:
        out: list[Raw] = []
        for raw in raws:
            if raw is front:
                out.append(made)
            elif id(raw) in gone:
                continue
            elif "objects" in raw:
                inner = without(raw["objects"])
                if inner:
                    out.append({**raw, "objects": inner})
            else:
                out.append(raw)
        return out

    return keeping_places(at, page_rewritten(at, page, without(at.list_at(["pages", page, "objects"]))))


class Ungroup(Given):
    objects: Ids


@act("ungroup", Ungroup)
def ungroup(at: Acting, given: Ungroup) -> list[Operation]:
    """Take the outermost groups apart that objects are in: their objects stay where they are."""
    page = page_of(at, given.objects)
    chosen = set(given.objects)
    path: Path = ["pages", page, "objects"]
    out: list[Raw] = []
    for raw in at.list_at(path):
        if "objects" in raw and chosen.intersection(leaves(raw)):
            flags = {k: True for k in ("hidden", "locked") if raw.get(k)}
            out += [{**inner, **flags} for inner in raw["objects"]]
        else:
            out.append(raw)
    operations = page_rewritten(at, page, out)
    if not operations:
        raise ActError("none of these is in a group")
    return keeping_places(at, operations)


class Move(Given):
    object: str
    """An object or a group."""
    above: str | None = None
    """What it goes right in front of."""
    below: str | None = None
    """What it goes right behind; the very back when neither is given."""
    page: int | None = None
    """The page to whose front it goes."""


@act("restack", Move)
def restack(at: Acting, given: Move) -> list[Operation]:
    """Put an object or a group elsewhere in the stacking order: right in front of another or right behind it, into its
    group, at the very back without one; before all of a page. On another page it stands where it stood on its own."""
    for page in range(len(at.document.pages)):
        found = _taken(at.list_at(["pages", page, "objects"]), given.object)
        if found is None:
            continue
        rest, raw = found
        if given.page is not None:
            if not 0 <= given.page < len(at.document.pages):
                raise ActError("that page is not there any more")
            there = rest if given.page == page else at.list_at(["pages", given.page, "objects"])
            return _on_page(at, page, rest, given.page, [*there, raw])
        beside = given.above or given.below
        if beside is None:
            return backgrounds(at, at.document.raw, page_rewritten(at, page, [raw, *rest]))
        if beside in _ids(raw):
            return []
        placed = _placed(rest, beside, raw, 1 if given.above else 0)
        if placed is not None:
            return backgrounds(at, at.document.raw, page_rewritten(at, page, placed))
        for other in range(len(at.document.pages)):
            placed = _placed(at.list_at(["pages", other, "objects"]), beside, raw, 1 if given.above else 0)
            if placed is not None:
                return _on_page(at, page, rest, other, placed)
        raise ActError(f"there is no object “{beside}” any more")
    raise ActError(f"there is no object “{given.object}” any more")


def _on_page(at: Acting, page: int, rest: list[Raw], other: int, placed: list[Raw]) -> list[Operation]:
    """What is left on a page, and what stands on another then."""
    out = page_rewritten(at, page, rest) if other != page else []
    return backgrounds(at, at.document.raw, out + page_rewritten(at, other, placed))


def _ids(raw: Raw) -> set[str]:
    return {raw["id"]}.union(*(_ids(inner) for inner in raw.get("objects", [])))


def _taken(raws: list[Raw], identity: str) -> tuple[list[Raw], Raw] | None:
    for index, raw in enumerate(raws):
        if raw["id"] == identity:
            return [*raws[:index], *raws[index + 1 :]], raw
        if "objects" in raw:
            found = _taken(raw["objects"], identity)
            if found is not None:
                inner = [{**raw, "objects": found[0]}] if found[0] else []
                return [*raws[:index], *inner, *raws[index + 1 :]], found[1]
    return None


def _placed(raws: list[Raw], beside: str, raw: Raw, after: int) -> list[Raw] | None:
    for index, one in enumerate(raws):
        if one["id"] == beside:
            return [*raws[: index + after], raw, *raws[index + after :]]
        if "objects" in one:
            inner = _placed(one["objects"], beside, raw, after)
            if inner is not None:
                return [*raws[:index], {**one, "objects": inner}, *raws[index + 1 :]]
    return None


def renamed(raw: Raw, fresh_id: Callable[[str], str], each: Callable[[Raw], Any]) -> Raw:
    """A raw object or group once more under new ids; `each` sees every object of it."""
    if "objects" not in raw:
        out = {**raw, "id": fresh_id("o")}
        each(out)
        return out
    return {**raw, "id": fresh_id("g"), "objects": [renamed(inner, fresh_id, each) for inner in raw["objects"]]}
