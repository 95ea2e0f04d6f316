"""Edits: lists of small operations on a raw document, each with its inverse.

Three operations are enough for every change:

    { "do": "put",    "at": path, "value": v }                        set a field (or a whole part)
    { "do": "cut",    "at": path }                                    take a field away
    { "do": "splice", "at": path, "from": i, "remove": n, "insert": [...] }   change a stretch of a list

A path starts at the document; `["objects", id, …]` reaches an object or a group, wherever it is. Documents are values:
`apply` returns a new document that shares every untouched part with the old one.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import orjson

from nestline.errors import NestLineError

Raw = dict[str, Any]
Operation = dict[str, Any]
Path = tuple[str | int, ...]


class EditError(NestLineError):
    """The operation does not fit the document as it is."""

    code = "edit"


@dataclass(frozen=True)
class Applied:
    """What `apply` gives: the new document, the operations that undo it, and the parts it touched.

    `inverse` names places, not objects: it holds for the new document as it is, whatever its objects are called by
    then. `touched` holds ("head",), ("page", index) and ("copy", name, version); a copy put or cut whole has version
    None.
    """

    document: Raw
    inverse: list[Operation]
    touched: frozenset[tuple[Any, ...]]


def apply(document: Raw, operations: Sequence[Operation]) -> Applied:
    """Apply operations in order. Raises EditError, leaving the given document as it was (it is never changed)."""
    inverse: list[Operation] = []
    touched: set[tuple[Any, ...]] = set()
    for operation in operations:
        document, undo, at = _apply_one(document, operation)
        inverse.insert(0, undo)
        touched.add(_touched(at))
    return Applied(document, inverse, frozenset(touched))


def _apply_one(document: Raw, operation: Any) -> tuple[Raw, Operation, Path]:
    if not isinstance(operation, dict) or not isinstance(operation.get("at"), list) or not operation["at"]:
        raise EditError("an operation needs `do` and a path `at`")
    given: list[Any] = operation["at"]
    if len(given) > 40 or not all(
        isinstance(s, str) or (isinstance(s, int) and not isinstance(s, bool)) for s in given
    ):
        raise EditError("the path of an operation is a list of names and places")
    at = _resolved(document, tuple(given))
    do = operation.get("do")
    if do == "put":
        if "value" not in operation:
            raise EditError("`put` needs a value")
        at, value = _from_what_is_there(document, at, operation["value"])
        changed, old = _put(document, at, value)
        undo = {"do": "cut", "at": [*at]} if old is _NOTHING else {"do": "put", "at": [*at], "value": old}
    elif do == "cut":
        changed, old = _put(document, at, _NOTHING)
        undo = {"do": "cut", "at": [*at]} if old is _NOTHING else {"do": "put", "at": [*at], "value": old}
    elif do == "splice":
        changed, undo = _splice(document, at, operation)
    else:
        raise EditError(f"there is no operation “{do}”; use put, cut or splice")
    return changed, undo, at


class _Nothing:
    pass


_NOTHING = _Nothing()


def _resolved(document: Raw, path: Path) -> Path:
    """`("objects", id, …)` becomes `("pages", p, "objects", i, …)`."""
    if path[0] != "objects":
        return path
    if len(path) < 2:
        raise EditError("a path to an object needs its id")
    pages = document.get("pages")
    for p, page in enumerate(pages if isinstance(pages, list) else []):
        found = _place_of(page.get("objects") if isinstance(page, dict) else None, path[1])
        if found is not None:
            return ("pages", p, "objects", *found, *path[2:])
    raise EditError(f"there is no object “{path[1]}” any more")


def _place_of(objects: Any, identity: str | int) -> Path | None:
    """Where an object or a group stands in a list of them, groups entered. An operation before may have made it
    none."""
    for i, thing in enumerate(objects if isinstance(objects, list) else []):
        if not isinstance(thing, dict):
            continue
        if thing.get("id") == identity:
            return (i,)
        if "objects" in thing:
            found = _place_of(thing["objects"], identity)
            if found is not None:
                return (i, "objects", *found)
    return None


def _from_what_is_there(document: Raw, at: Path, value: Any) -> tuple[Path, Any]:
    """Shorten a put to the first missing part on its way, so that its inverse takes that part away again."""
    part: Any = document
    for depth, step in enumerate(at[:-1]):
        part = _step(part, step)
        if part is _NOTHING or part is None:
            for missing in reversed(at[depth + 1 :]):
                value = {missing: value}
            return at[: depth + 1], value
    return at, value


def _step(part: Any, step: str | int) -> Any:
    if isinstance(part, dict) and isinstance(step, str):
        return part.get(step, _NOTHING)
    if isinstance(part, list) and isinstance(step, int) and 0 <= step < len(part):
        return part[step]
    raise EditError(f"the document has no place “{step}” there")


def _put(part: Any, path: Path, value: Any) -> tuple[Any, Any]:
    """`part` with `value` at `path`, and what stood there."""
    step = path[0]
    old = _step(part, step)
    if len(path) > 1:
        if old is _NOTHING or old is None:
            return part, _NOTHING
        value, old = _put(old, path[1:], value)
    if isinstance(part, list):
        if value is _NOTHING:
            raise EditError("items of a list are taken out with splice")
        changed: Any = [*part]
        changed[step] = value
        return changed, old
    changed = dict(part)
    if value is _NOTHING:
        changed.pop(step, None)
    else:
        changed[step] = value
    return changed, old


def _splice(document: Raw, at: Path, operation: Operation) -> tuple[Raw, Operation]:
    start, count, insert = operation.get("from"), operation.get("remove", 0), operation.get("insert", [])
    if not (type(start) is int and type(count) is int and isinstance(insert, list)):
        raise EditError("`splice` needs from, remove and insert")
    part: Any = document
    for step in at:
        part = _step(part, step)
    old = [] if part is _NOTHING else part
    if not isinstance(old, list) or not 0 <= start <= len(old) or not 0 <= count <= len(old) - start:
        raise EditError("the list to change is not that long any more")
    at, value = _from_what_is_there(document, at, [*old[:start], *insert, *old[start + count :]])
    changed, _ = _put(document, at, value)
    removed = old[start : start + count]
    return changed, {"do": "splice", "at": [*at], "from": start, "remove": len(insert), "insert": removed}


def _touched(at: Path) -> tuple[Any, ...]:
    if at[0] == "pages" and len(at) > 1 and isinstance(at[1], int):
        return ("page", at[1])
    if at[0] == "copies" and len(at) > 1:
        return ("copy", at[1], at[3] if len(at) > 4 else None)
    return ("pages",) if at[0] == "pages" else ("copies",) if at[0] == "copies" else ("head",)


def joined(
    first: list[Operation], first_inverse: list[Operation], then: list[Operation], then_inverse: list[Operation]
) -> tuple[list[Operation], list[Operation]]:
    """Two edits as one, and its inverse. Where the second puts another value in the place where the first has put one
    last, as typing does, only that is kept: a paragraph is not stored once for every letter."""
    again = len(then) == 1 and first and then[0]["do"] == first[-1]["do"] == "put" and then[0]["at"] == first[-1]["at"]
    if again:
        return [*first[:-1], *then], first_inverse
    return [*first, *then], [*then_inverse, *first_inverse]


def named(field: str, part: Any) -> Iterator[Any]:
    """Every value that a field of this name has in a part of a document, or is given by operations."""
    if isinstance(part, list | tuple):
        for one in part:
            yield from named(field, one)
    elif isinstance(part, dict):
        at = part.get("at")
        if part.get("do") == "put" and isinstance(at, list) and at and at[-1] == field:
            yield part.get("value")
        for name, value in part.items():
            if name == field:
                yield value
            yield from named(field, value)


def grafted(old: Any, new: Any) -> Any:
    """A JSON value, every part of it that is the same in an older one being that: another process made the change, and
    what this one worked out for the rest still holds."""
    if _same(old, new):
        return old
    if isinstance(old, dict) and isinstance(new, dict):
        return {key: grafted(old[key], value) if key in old else value for key, value in new.items()}
    if not (isinstance(old, list) and isinstance(new, list)):
        return new
    # What was put in or taken out lies between the same beginning and the same end.
    shorter = min(len(old), len(new))
    begin = next((n for n in range(shorter) if not _same(old[n], new[n])), shorter)
    end = next((n for n in range(shorter - begin) if not _same(old[-1 - n], new[-1 - n])), shorter - begin)
    middle = zip(old[begin : len(old) - end], new[begin : len(new) - end], strict=False)
    between = [grafted(a, b) for a, b in middle]
    return [*old[:begin], *between, *new[begin + len(between) : len(new) - end], *old[len(old) - end :]]


def _same(a: Any, b: Any) -> bool:
    """Whether JSON values are written alike, to the order of names and the kinds of figures."""
    return a is b or orjson.dumps(a) == orjson.dumps(b)
