"""Documents merged: objects by their ids, wherever they stand; fields singly; pages and other lists by their
stretches."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any

from nestline.errors import json_path
from nestline.merging.sequences import MISSING, Side, aligned, ordered, parts
from nestline.merging.words import merged_copy

Raw = dict[str, Any]
Path = tuple[str | int, ...]


@dataclass(frozen=True)
class Collision:
    """A place where both sides changed the same: what it holds by theirs and by mine (MISSING: taken away).

    `path` is that of the document, objects as ("objects", id, …).
    """

    path: Path
    theirs: Any
    mine: Any

    @property
    def where(self) -> str:
        return json_path(self.path)


@dataclass(frozen=True)
class Merged:
    """A document with both changes; where they collide it has the side that was preferred, theirs when none was."""

    document: Raw
    collisions: tuple[Collision, ...]


def merged(base: Raw, theirs: Raw, mine: Raw, prefer: Side | None = None) -> Merged:
    """`mine` was made of `base`, which is `theirs` by now: both together. Documents are raw, of the open format."""
    if theirs is base or theirs == base:
        return Merged(mine, ())
    if mine == base:
        return Merged(theirs, ())
    mine = _renamed(mine, _clashes(base, theirs, mine))
    merging = _Merging(prefer)
    left_out = ("pages", "copies")
    heads = [{k: v for k, v in one.items() if k not in left_out} for one in (base, theirs, mine)]
    head = merging.value((), *heads)
    copies = merging.copies(*(one.get("copies", {}) for one in (base, theirs, mine)))
    pages = merging.pages(base, theirs, mine)
    out = {name: head[name] for name in (*theirs, *head) if name in head}
    out = {**out, "copies": copies} if copies or "copies" in theirs else out
    return Merged({**out, "pages": pages}, tuple(merging.collisions))


@dataclass
class _Merging:
    prefer: Side | None
    collisions: list[Collision] = field(default_factory=list)

    def collide(self, path: Path, theirs: Any, mine: Any) -> Any:
        self.collisions.append(Collision(path, theirs, mine))
        return mine if self.prefer == "mine" else theirs

    def value(self, path: Path, base: Any, theirs: Any, mine: Any) -> Any:
        """One value three ways; MISSING where there is none."""
        if mine is base or _same(mine, base):
            return theirs
        if theirs is base or _same(theirs, base) or _same(theirs, mine):
            return mine
        if isinstance(theirs, dict) and isinstance(mine, dict) and (isinstance(base, dict) or base is MISSING):
            old = base if isinstance(base, dict) else {}
            if len({json.dumps(one.get("kind")) for one in (old or theirs, theirs, mine)}) == 1:
                return self.fields(path, old, theirs, mine)
        if all(isinstance(one, list) for one in (base, theirs, mine)):
            return self.items(path, base, theirs, mine)
        return self.collide(path, theirs, mine)

    def fields(self, path: Path, base: Raw, theirs: Raw, mine: Raw) -> Raw:
        out: Raw = {}
        for name in (*theirs, *(n for n in mine if n not in theirs)):
            value = self.value((*path, name), *(one.get(name, MISSING) for one in (base, theirs, mine)))
            if value is not MISSING:
                out[name] = value
        for name in base:
            if name not in theirs and name not in mine:
                out.pop(name, None)
        return out

    def items(self, path: Path, base: list[Any], theirs: list[Any], mine: list[Any]) -> list[Any]:
        """Lists without names: what was put in and taken out on either side."""
        hunks_a, _ = aligned(base, theirs, "theirs", _key)
        hunks_b, _ = aligned(base, mine, "mine", _key)
        found = parts(base, hunks_a, hunks_b, self.prefer, lambda a, b: _span(a) == _span(b))
        if any(part.collides for part in found):
            self.collide(path, theirs, mine)
        out: list[Any] = []
        at = 0
        for part in found:
            out += [*base[at : part.start], *part.items]
            at = max(at, part.stop)
        return out + list(base[at:])

    def copies(self, base: Raw, theirs: Raw, mine: Raw) -> Raw:
        def versions(path: Path, *sides: Raw) -> Raw:
            return self.named(path, sides, "paragraphs", self.paragraphs)

        return self.named(("copies",), (base, theirs, mine), "versions", versions)

    def named(self, path: Path, sides: Sequence[Raw], inner: str, merge: Callable[..., Any]) -> Raw:
        """Parts by their names, one field of each merged by `merge`."""
        out: Raw = {}
        _, theirs, mine = sides
        for name in (*theirs, *(n for n in mine if n not in theirs)):
            at = (*path, name)
            parts = [one.get(name, MISSING) for one in sides]
            if any(one is MISSING or inner not in one for one in parts):
                whole = self.value(at, *parts)
                if whole is not MISSING:
                    out[name] = whole
                continue
            rest = self.fields(at, *({k: v for k, v in one.items() if k != inner} for one in parts))
            out[name] = {**rest, inner: merge((*at, inner), *(one[inner] for one in parts))}
        return out

    def paragraphs(self, path: Path, base: list[Raw], theirs: list[Raw], mine: list[Raw]) -> list[Raw]:
        if mine == base:
            return theirs
        if theirs == base or theirs == mine:
            return mine
        out, collided = merged_copy(
            base, theirs, mine, self.prefer, lambda o, t, m, name: self.value((*path, name), o, t, m)
        )
        self.collisions += [Collision(path, *both) for both in collided]
        return out

    # Pages and their objects

    def pages(self, base: Raw, theirs: Raw, mine: Raw) -> list[Raw]:
        if mine["pages"] == base["pages"]:
            return list(theirs["pages"])
        if theirs["pages"] == base["pages"]:
            return list(mine["pages"])
        names = _page_names(base["pages"], theirs["pages"], mine["pages"])
        trees = [_Tree.of(one["pages"], called) for one, called in zip((base, theirs, mine), names, strict=True)]
        things = self.things(*trees)
        order, both = ordered(*names)
        if both:
            order = list(names[2] if self.collide(("pages",), names[1], names[2]) is names[2] else names[1])
        # In the order of either side, those that were taken away too: that collides with a change of the same page.
        every = [*order, *(name for name in (*names[1], *names[2]) if name not in order)]
        sheets = {name: self.value(("pages", name), *(t.sheets.get(name, MISSING) for t in trees)) for name in every}
        order = [name for name in every if sheets[name] is not MISSING]
        if not order:  # each side took away what the other had left
            self.collide(("pages",), names[1], names[2])
            return list((mine if self.prefer == "mine" else theirs)["pages"])
        homes = self.homes(things, order, *trees)
        return [{**sheets[name], "objects": self.inside(name, things, homes, *trees)} for name in order]

    def things(self, base: _Tree, theirs: _Tree, mine: _Tree) -> dict[str, Raw]:
        """Every object and group by its id, without what stands inside of it."""
        out: dict[str, Raw] = {}
        for identity in (*theirs.things, *(i for i in mine.things if i not in theirs.things)):
            sides = [tree.things.get(identity, MISSING) for tree in (base, theirs, mine)]
            parents = [tree.parents.get(identity) for tree in (base, theirs, mine)]
            # Where it stands is a change too, against which taking it away collides.
            with_parent = [
                one if one is MISSING else {**one, "": parent} for one, parent in zip(sides, parents, strict=True)
            ]
            value = self.value(("objects", identity), *with_parent)
            if value is not MISSING:
                out[identity] = value
        return out

    def homes(
        self, things: dict[str, Raw], order: list[str], base: _Tree, theirs: _Tree, mine: _Tree
    ) -> dict[str, str]:
        """Where each object stands: its page or group; where that is gone, what that stood in, else the first page."""
        out: dict[str, str] = {}
        for identity, thing in things.items():
            home = thing[""]
            while home not in order and home not in things:
                above = next((t.parents[home] for t in (theirs, mine, base) if home in t.parents), None)
                if above is None:  # a page that was taken away while something was put there
                    self.collisions.append(Collision(("objects", identity), MISSING, thing))
                    above = order[0]
                home = above
            out[identity] = home
        # Groups put into each other by the two sides.
        for identity in list(out):
            seen, at = {identity}, out[identity]
            while at in out:
                if at in seen:
                    self.collisions.append(
                        Collision(("objects", identity), theirs.parents.get(identity), mine.parents.get(identity))
                    )
                    out[identity] = order[0]
                    break
                seen.add(at)
                at = out[at]
        return out

    def inside(
        self, home: str, things: dict[str, Raw], homes: dict[str, str], base: _Tree, theirs: _Tree, mine: _Tree
    ) -> list[Raw]:
        """What stands in a page or a group, back to front."""
        here = {identity for identity, at in homes.items() if at == home}
        sides = [[i for i in tree.orders.get(home, []) if i in here] for tree in (base, theirs, mine)]
        order, both = ordered(*sides)
        if both:
            order = sides[2] if self.collide(("objects", home, "objects"), sides[1], sides[2]) is sides[2] else sides[1]
        order = [*order, *(i for i in homes if i in here and i not in order)]
        out = []
        for identity in order:
            thing = {name: value for name, value in things[identity].items() if name != ""}
            if "objects" in thing:
                thing["objects"] = self.inside(identity, things, homes, base, theirs, mine)
                if not thing["objects"]:
                    continue  # a group that both emptied
            out.append(thing)
        return out


@dataclass(frozen=True)
class _Tree:
    """Pages as sheets, objects by id (a group's `objects` empty), where each stands, and the order in each place."""

    sheets: dict[str, Raw]
    things: dict[str, Raw]
    parents: dict[str, str]
    orders: dict[str, list[str]]

    @classmethod
    def of(cls, pages: Sequence[Raw], names: Sequence[str]) -> _Tree:
        tree = cls({}, {}, {}, {})
        for page, name in zip(pages, names, strict=True):
            tree.sheets[name] = {k: v for k, v in page.items() if k != "objects"}
            tree._walk(name, page.get("objects", []))
        return tree

    def _walk(self, home: str, things: list[Raw]) -> None:
        self.orders[home] = [thing["id"] for thing in things]
        for thing in things:
            self.parents[thing["id"]] = home
            if "objects" in thing:
                self.things[thing["id"]] = {**thing, "objects": []}
                self._walk(thing["id"], thing["objects"])
            else:
                self.things[thing["id"]] = thing


def _ids(things: Sequence[Raw]) -> Iterator[str]:
    for thing in things:
        yield thing["id"]
        yield from _ids(thing.get("objects", []))


def _page_names(base: list[Raw], theirs: list[Raw], mine: list[Raw]) -> list[list[str]]:
    """Pages have no names of their own: those of the base are told by what stands on them, then by their sheets."""
    first = [f"\0page {n}" for n in range(len(base))]
    out = [first]
    for side, pages in (("theirs", theirs), ("mine", mine)):
        pairs = _matched(base, pages)
        out.append([first[pairs[n]] if n in pairs else f"\0{side} {n}" for n in range(len(pages))])
    return out


def _matched(base: list[Raw], pages: list[Raw]) -> dict[int, int]:
    """Which page is which of the base: the most likeness in order, each at most once (Needleman and Wunsch)."""
    begin = 0
    while begin < min(len(base), len(pages)) and _alike(base[begin], pages[begin]) > 1:
        begin += 1
    old, new = base[begin:], pages[begin:]
    keys = [[set(_ids(page.get("objects", []))) for page in part] for part in (old, new)]
    rows = [[0.0] * (len(new) + 1) for _ in range(len(old) + 1)]

    def score(i: int, j: int) -> float:
        a, b = keys[0][i], keys[1][j]
        shared = 2 * len(a & b) / max(1, len(a) + len(b))
        sheet = {k: v for k, v in old[i].items() if k != "objects"} == {
            k: v for k, v in new[j].items() if k != "objects"
        }
        # What has other objects alone is another page.
        return 4 * shared + (0.5 if sheet else 0.1) if shared or not a or not b else 0

    for i in range(len(old)):
        for j in range(len(new)):
            rows[i + 1][j + 1] = max(rows[i][j + 1], rows[i + 1][j], rows[i][j] + score(i, j))
    pairs = {n: n for n in range(begin)}
    i, j = len(old), len(new)
    while i and j:
        if rows[i][j] == rows[i - 1][j]:
            i -= 1
        elif rows[i][j] == rows[i][j - 1]:
            j -= 1
        else:
            pairs[begin + j - 1] = begin + i - 1
            i, j = i - 1, j - 1
    return pairs


def _alike(a: Raw, b: Raw) -> int:
    """2: the same page, surely; it or its objects are the same."""
    if a is b:
        return 2
    ids = list(_ids(a.get("objects", [])))
    return 2 if ids and ids == list(_ids(b.get("objects", []))) else 0


NAMES = {"id", "to", "object", "of", "copy"}
"""The fields that name an object or a copy."""


def _clashes(base: Raw, theirs: Raw, mine: Raw) -> dict[tuple[str, str], str]:
    """Names that both sides gave to something new, and what mine is called instead: by kind and name."""
    out: dict[tuple[str, str], str] = {}
    sides = [
        {thing: raw for page in one["pages"] for thing, raw in _by_id(page.get("objects", []))}
        for one in (base, theirs, mine)
    ]
    copies = [one.get("copies", {}) for one in (base, theirs, mine)]
    for kind, (old, a, b) in (("thing", sides), ("copy", copies)):
        taken = {*old, *a, *b}
        for name in b:
            if name in a and name not in old and a[name] != b[name]:
                stem = name.rstrip("0123456789") or name
                number = 1
                while f"{stem}{number}" in taken:
                    number += 1
                taken.add(f"{stem}{number}")
                out[kind, name] = f"{stem}{number}"
    return out


def _by_id(things: Sequence[Raw]) -> Iterator[tuple[str, Raw]]:
    for thing in things:
        yield thing["id"], thing
        yield from _by_id(thing.get("objects", []))


def _renamed(part: Any, names: dict[tuple[str, str], str]) -> Any:
    """A document with some of its objects and copies called otherwise, everywhere."""
    if not names:
        return part
    if isinstance(part, list):
        return [_renamed(one, names) for one in part]
    if not isinstance(part, dict):
        return part
    out: Raw = {}
    for name, value in part.items():
        if name in NAMES and isinstance(value, str):
            value = names.get(("copy" if name == "copy" else "thing", value), value)
        elif name == "copies" and isinstance(value, dict):
            value = {names.get(("copy", key), key): _renamed(one, names) for key, one in value.items()}
        else:
            value = _renamed(value, names)
        out[name] = value
    return out


def _same(a: Any, b: Any) -> bool:
    return type(a) is type(b) and a == b if isinstance(a, bool) or isinstance(b, bool) else bool(a == b)


def _key(item: Any) -> str:
    return json.dumps(item, sort_keys=True)


def _span(hunk: Any) -> tuple[Any, ...]:
    return hunk.start, hunk.stop, [_key(item) for item in hunk.items]
