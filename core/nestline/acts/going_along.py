"""Objects that go along with one that belongs to copy: where they stand, and that they stay there when groups
change."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from nestline.acts.acting import Acting
from nestline.acts.completing import completed, stay
from nestline.document import edits
from nestline.document.edits import Operation
from nestline.document.model import PageObject
from nestline.nesting.along import as_one
from nestline.nesting.anchors import holding
from nestline.nesting.nests import Nests


def with_along(at: Acting, thing: PageObject) -> list[PageObject]:
    """An object that belongs to copy, and those that go along with it."""
    return [thing, *(at.thing(i) for i in at.document.along.get(thing.id, ()))]


def with_held(at: Acting, objects: Iterable[str]) -> list[str]:
    """Objects with those of their page that belong to the copy of frames among them, and what goes along with these: a
    label with its icon."""
    out = list(dict.fromkeys(objects))
    for identity in out:  # it grows meanwhile: what stands in a copy may hold one itself
        frame = at.thing(identity).frame
        if frame is None:
            continue
        page = at.document.page_of[identity]
        for other, copies in at.document.holders.items():
            if frame.copy_name in copies and at.document.page_of.get(other) == page:
                out += [one.id for one in with_along(at, at.thing(other)) if one.id not in out]
    return out


def left_standing(at: Acting, things: Iterable[PageObject], nests: Nests) -> list[Operation]:
    """The operations by which objects belong to no copy any more and stay where they stand, with what goes along with
    them."""
    out: list[Operation] = []
    for thing in things:
        out.append({"do": "cut", "at": ["objects", thing.id, "anchor"]})
        for one in with_along(at, thing):
            out += stay(one, nests.moved.get(one.id, one))
    return out


def as_they_stand(nests: Nests, things: Sequence[PageObject]) -> PageObject:
    """Objects as one, the first of them leading, where they stand; that object itself when it is alone."""
    stand = [nests.moved.get(t.id, t) for t in things]
    return as_one(stand[0], stand) if len(stand) > 1 else stand[0]


def figures_of(raw: edits.Raw, figures: dict[str, float | bool]) -> edits.Raw:
    """An anchor as it is written with other figures, without an `out` that its x says by itself."""
    plain = {n: v for n, v in figures.items() if n != "out" or v != (figures["x"] < 0)}
    return {**{n: v for n, v in raw.items() if n != "out"}, **plain}


def keeping_places(at: Acting, operations: list[Operation]) -> list[Operation]:
    """Operations that change groups, with those by which everything stands where it did, though others go along now
    with an object that belongs to copy."""
    if not any(t.anchor for _, t in at.document.objects()):
        return operations
    before = at.document
    after = at.studio.read(edits.apply(before.raw, completed(at, operations)).document)
    if before.along == after.along:
        return operations
    nests, out = at.studio.nest(before), list(operations)
    still = after.by_id
    for leader in dict.fromkeys([*before.along, *after.along]):
        was, now = before.along.get(leader, ()), after.along.get(leader, ())
        for identity in (i for i in was if i not in now and i in still and i not in after.leader_of):
            one = at.thing(identity)
            out += stay(one, nests.moved.get(identity, one))
        if leader not in still or was == now:
            continue
        thing = at.thing(leader)
        stands = nests.moved.get(leader, thing)
        by = (stands.box[0] - thing.box[0], stands.box[1] - thing.box[1])
        for identity in (i for i in now if i not in was):
            one = at.thing(identity)
            x, y, _, _ = nests.moved.get(identity, one).box
            out += stay(one, one.put(x=x - by[0], y=y - by[1]))
        found = nests.anchors.get(leader)
        if found is not None and thing.anchor is not None:
            box = as_they_stand(nests, [thing, *map(at.thing, now)]).box
            placed, place = found
            figures = holding(before, placed.page, thing.anchor, box, placed, place.record)
            anchor = figures_of(at.raw(leader)["anchor"], figures)
            out.append({"do": "put", "at": ["objects", leader, "anchor"], "value": anchor})
    return out
