"""A document as it is opened, kept up with and looked at by others."""

from __future__ import annotations

from typing import Any

from ninja import Schema
from pydantic import Field

from documents.reach import Need
from documents.wire.scene import SceneOut


class OpenOut(Schema):
    """A document as it stands: `document` is the open format (docs/document-format.md)."""

    id: int
    revision: int
    undo: str | None
    redo: str | None
    document: dict[str, Any]
    scene: SceneOut
    pictures: dict[str, str]
    complete: bool
    """Whether the scene holds every page, or the first alone."""
    shown: str
    may: Need
    """What whoever asks may do with it."""
    owner: str


class EditOut(Schema):
    """What an edit changed: the parts of `document` that are new, or, of a large one, the `operations` that make it so,
    and the difference of the scene. Where it is not `complete`, the pages that are seen are as they are now and the
    others as they were: they are asked for (`/rest`). `shown` is what the window calls what it shows from then on."""

    revision: int
    undo: str | None
    redo: str | None
    document: dict[str, Any]
    operations: list[dict[str, Any]] | None
    scene: SceneOut
    pictures: dict[str, str]
    complete: bool
    shown: str


class RestOut(Schema):
    """What was still missing of a revision's scene."""

    revision: int
    scene: SceneOut
    shown: str


class HereIn(Schema):
    """Where a window is: the page that it looks at, what is chosen there, and whether it is being closed."""

    window: str = Field(min_length=1, max_length=40)
    page: int = 0
    chosen: list[str] = Field([], max_length=20)
    gone: bool = False
    hello: bool = False
