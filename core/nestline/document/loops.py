"""Ties that run in a loop."""

from __future__ import annotations

from collections.abc import Sequence

from nestline.document.model import PageObject


def loop_of(things: Sequence[PageObject]) -> list[str] | None:
    """The ids of objects that are tied to themselves by way of others; None when there are none."""
    ties = {t.id: [tie.to for tie in t.ties] for t in things}
    state: dict[str, int] = {}
    way: list[str] = []

    def visit(name: str) -> list[str] | None:
        if state.get(name) == 2 or name not in ties:
            return None
        if state.get(name) == 1:
            return way[way.index(name) :]
        state[name] = 1
        way.append(name)
        for to in ties[name]:
            found = visit(to)
            if found:
                return found
        way.pop()
        state[name] = 2
        return None

    for name in ties:
        found = visit(name)
        if found:
            return found
    return None
