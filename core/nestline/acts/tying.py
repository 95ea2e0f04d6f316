"""Objects that go under, over or beside another: tied to it in one act."""

from __future__ import annotations

from typing import Literal

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.document.edits import Operation, Raw

Side = Literal["below", "above", "left", "right"]
ONE_WAY: dict[Side, tuple[str, str]] = {
    "below": ("top", "bottom"),
    "above": ("bottom", "top"),
    "left": ("right", "left"),
    "right": ("left", "right"),
}
"""Which edge of an object is tied to which of the other when it goes to a side of that."""
NEAR = 6.0
"""The gap in points where none is given."""


class GoUnder(Given):
    object: str
    to: str
    """What it goes under, over or beside."""
    side: Side = "below"
    gap: float | str | None = None
    width: bool = True
    """Whether it takes the width of what it goes under or over."""


@act("go-under", GoUnder)
def go_under(at: Acting, given: GoUnder) -> list[Operation]:
    """Tie an object under another (over it, to its left or right) at a gap: level with its left edge and as wide where
    it is under or over, level with its top where it is beside. The other pushes it no longer, by being tied; ties that
    it had to others at those edges go."""
    thing, other = at.thing(given.object), at.thing(given.to)
    if thing.id == other.id:
        raise ActError("an object cannot be tied to itself")
    if at.place(thing.id)[0] != at.place(other.id)[0]:
        raise ActError(f"“{at.label(other)}” is on another page; ties stay on one page")
    edge, its = ONE_WAY[given.side]
    gap = NEAR if given.gap is None else given.gap
    ties: list[Raw] = [{"edge": edge, "to": other.id, "its": its, "gap": gap}]
    upright = given.side in ("below", "above")
    ties.append({"edge": "left" if upright else "top", "to": other.id})
    if upright and given.width:
        ties.append({"edge": "width", "to": other.id})
    taken = {tie["edge"] for tie in ties} | ({"right", "bottom"} & {"right" if upright else "bottom"})
    axis = {"top", "bottom", "baseline"} if upright else {"left", "right"}
    kept = [tie for tie in at.raw(thing.id).get("ties", []) if tie["edge"] not in taken | axis]
    out: list[Operation] = [{"do": "put", "at": ["objects", thing.id, "ties"], "value": [*kept, *ties]}]
    frame = thing.frame
    if frame is not None and upright and given.width:
        # It takes its width from the other, its height from its words; one whose width alone was ruled has a height of
        # its own.
        grows = ["top"] if given.side == "above" else ["bottom"]
        ruled = frame.wrap_lines and (
            frame.give or any(tie["edge"] == "width" for tie in at.raw(thing.id).get("ties", []))
        )
        if ruled and not {"top", "bottom"} & set(frame.give):
            grows = []
        if not grows and frame.give:
            out.append({"do": "cut", "at": ["objects", thing.id, "frame", "give"]})
        elif list(frame.give) != grows:
            out.append({"do": "put", "at": ["objects", thing.id, "frame", "give"], "value": grows})
        if not frame.wrap_lines:
            out.append({"do": "put", "at": ["objects", thing.id, "frame", "wrap_lines"], "value": True})
    return out
