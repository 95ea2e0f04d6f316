"""What makes one document of another, as operations of an edit."""

from __future__ import annotations

from typing import Any

Operation = dict[str, Any]


def changes(old: Any, new: Any, at: tuple[str | int, ...] = ()) -> list[Operation]:
    """The operations (put, cut, splice) that make `new` of `old`, as few parts of it as differ; both are raw
    documents."""
    if old is new or (type(old) is type(new) and old == new):
        return []
    if isinstance(old, dict) and isinstance(new, dict):
        out: list[Operation] = []
        for name in old:
            if name not in new:
                out.append({"do": "cut", "at": [*at, name]})
        for name, value in new.items():
            if name not in old:
                out.append({"do": "put", "at": [*at, name], "value": value})
            else:
                out += changes(old[name], value, (*at, name))
        return out
    if isinstance(old, list) and isinstance(new, list):
        return _of_lists(old, new, at)
    return [{"do": "put", "at": list(at), "value": new}]


def _of_lists(old: list[Any], new: list[Any], at: tuple[str | int, ...]) -> list[Operation]:
    if len(old) == len(new) and all(_one(a, b) for a, b in zip(old, new, strict=True)):
        return [o for n, (a, b) in enumerate(zip(old, new, strict=True)) for o in changes(a, b, (*at, n))]
    shorter = min(len(old), len(new))
    begin = next((n for n in range(shorter) if old[n] != new[n]), shorter)
    end = next((n for n in range(shorter - begin) if old[-1 - n] != new[-1 - n]), shorter - begin)
    insert = new[begin : len(new) - end]
    return [{"do": "splice", "at": list(at), "from": begin, "remove": len(old) - begin - end, "insert": insert}]


def _one(a: Any, b: Any) -> bool:
    """Whether two items of a list are the same thing, maybe changed: objects with one id, pages, paragraphs."""
    return isinstance(a, dict) and isinstance(b, dict) and a.get("id") == b.get("id")
