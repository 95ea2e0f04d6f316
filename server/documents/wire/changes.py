"""Changes as they are sent, tried and answered."""

from __future__ import annotations

from typing import Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from nestline.acts.offers import Allowed, TryKind
from nestline.findings.strain import GREATEST, LEAST


class Operation(Schema):
    """One operation of an edit (see docs/choices.md, "Edits")."""

    do: Literal["put", "cut", "splice", "act"]
    at: list[str | int] | None = None
    act: str | None = None
    given: dict[str, Any] | None = None
    value: Any = None
    start: int | None = Field(None, alias="from")
    remove: int | None = None
    insert: list[Any] | None = None

    model_config = ConfigDict(populate_by_name=True)


class StepIn(Schema):
    """What a window asks for: `base` is the revision that it stands on, `mark` the id of what it asks for, by which
    that is never done twice, `prefer` the side that holds where both changed the same, `shown` the name of what it
    shows."""

    base: int
    shown: str = Field("", max_length=40)
    window: str = Field("", max_length=40)
    mark: str = Field("", max_length=40)
    prefer: Literal["mine", "theirs"] | None = None


class EditIn(StepIn):
    operations: list[Operation]
    on: list[Operation] = []
    """The window's own changes since `base`, on which this one was made."""
    seen: list[int] = Field([], max_length=40)
    """The pages that the window shows."""
    label: str = "Change"
    join: str = Field("", max_length=120)


class PreviewIn(Schema):
    """A window counts its previews: one that is overtaken by the next before its turn comes is not worked out."""

    base: int
    operations: list[Operation]
    window: str = Field("", max_length=40)
    number: int = 0


class TriesIn(Schema):
    base: int
    object: str
    kind: TryKind
    version: str | None = None
    strain: float = Field(default=0, ge=LEAST, le=GREATEST)


class TryOut(Schema):
    across: str
    down: str
    operations: list[dict[str, Any]]
    shown: list[dict[str, Any]]
    """What shows it: under the strain that was asked for; never stored."""


class TypedColorIn(Schema):
    """A colour as it is typed, and the object whose copy is to have it."""

    text: str = Field(max_length=200)
    object: str | None = None


class ReadColorOut(Schema):
    """What a typed colour comes to, a name or #rrggbb, and how well copy of it is read where it stands (1 to 21):
    `said` in words, `poor` where it is too little. Empty where there is nothing to tell."""

    color: str | None
    contrast: float | None
    behind: str | None
    said: str | None
    poor: bool


class OfferedOut(Schema):
    """A colour that a document has not: what it is called there, and whose it is, in words."""

    name: str
    said: str
    figure: str


class EndingsIn(Schema):
    base: int
    object: str
    allowed: Allowed
    version: str | None = None


class EndingOut(Schema):
    """A way to make copy end with its frame, and what it costs (nestline.acts.offers)."""

    label: str
    operations: list[dict[str, Any]]
    changes: list[str]
    distance: float
    worst: float
    rivers: int
    uneven: float
    hyphens: int
    lines: int
