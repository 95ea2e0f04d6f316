"""How objects push copy: the wrap that is chosen for them, with a clearance that fits it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nestline.acts.acting import Acting, Given, act
from nestline.document.edits import Operation, Raw
from nestline.document.model import CLEAR_BY_SIDE

CLEARANCE = 9
"""How far copy keeps from what begins to push it, in points."""


class SetWrap(Given):
    """What is None stays as it is."""

    objects: Annotated[list[str], Field(min_length=1, max_length=5000)]
    by: Literal["none", "box", "outline", "contour", "below"]
    inside: bool | None = None
    sides: Literal["both", "left", "right", "widest"] | None = None


@act("wrap", SetWrap)
def set_wrap(at: Acting, given: SetWrap) -> list[Operation]:
    """Let objects push copy another way."""
    return [
        {"do": "put", "at": ["objects", identity, "wrap"], "value": wrapped(at.whole(identity).get("wrap"), given)}
        for identity in given.objects
    ]


def wrapped(wrap: Raw | None, given: SetWrap) -> Raw:
    """A wrap as it is written, changed: one that begins to push has a clearance; of four that do not fit it the first
    stays."""
    changed = given.model_dump(include={"by", "inside", "sides"}, exclude_none=True)
    out = {**(wrap or {}), **changed}
    clearance = out.get("clearance")
    if clearance is None and given.by != "none":
        out["clearance"] = CLEARANCE
    elif isinstance(clearance, list) and given.by not in CLEAR_BY_SIDE:
        out["clearance"] = clearance[0]
    return out
