"""Copy that goes out to be translated and comes home."""

from __future__ import annotations

from ninja import Schema
from pydantic import Field

from nestline.output.translations import What


class TranslatedOut(Schema):
    """How far a version is: how many paragraphs are new, have other words in the source by now (stale), or are done."""

    version: str
    language: str
    source: str
    new: int
    stale: int
    done: int


class DeskIn(Schema):
    """What is sent to the stand-in for a translation desk: how long it takes, and whether it gives up in the middle."""

    source: str = Field(max_length=80)
    target: str = Field(min_length=1, max_length=80)
    what: What = "all"
    seconds: float = Field(default=8, ge=0, le=120)
    fails: bool = False


class HomecomingIn(Schema):
    """A file that came home, in base 64, and the version it is for: that which it names when left out."""

    name: str = Field(default="", max_length=400)
    content: str = Field(max_length=45_000_000)
    version: str | None = Field(default=None, min_length=1, max_length=80)


class ChangeOut(Schema):
    """A paragraph that came home; `problems` keep it from being taken."""

    id: str
    copyName: str
    number: int
    label: str
    source: str
    before: str
    after: str
    problems: list[str]
    notes: list[str]


class HomecomingOut(Schema):
    """What a translation would change: `same` stand there already, `empty` came without one; `told` would be wrong with
    it."""

    version: str
    language: str
    same: int
    empty: int
    told: list[str]
    changes: list[ChangeOut]
