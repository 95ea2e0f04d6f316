"""Ties that run in a loop."""

from __future__ import annotations

from collections.abc import Sequence
from graphlib import CycleError, TopologicalSorter

from nestline.document.model import PageObject


def loop_of(things: Sequence[PageObject]) -> list[str] | None:
    """The ids of objects that are tied to themselves by way of others, each tied to the next; None when there
    are none."""
    try:
        TopologicalSorter({thing.id: [tie.to for tie in thing.ties] for thing in things if thing.ties}).prepare()
    except CycleError as error:
        # Each is asked for by the next, and the first stands at the end again.
        return list(reversed(error.args[1]))[:-1]
    return None
