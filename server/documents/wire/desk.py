"""Documents as the desk lists them, makes them and shares them."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ninja import Schema
from pydantic import Field

from documents.exports import Kind, Letters
from documents.reach import Need


class DocumentOut(Schema):
    id: int
    title: str
    changed: datetime
    picture: str
    width: float
    height: float
    pages: int
    folder: str
    deleted: datetime | None
    owner: str | None
    """Whose it is, where it is somebody else's."""
    may: Need
    shared: bool
    """Whether it is one's own and shared with somebody."""


class DocumentsOut(Schema):
    documents: list[DocumentOut]


class NewDocument(Schema):
    title: str = Field("", max_length=200)
    width: str = "210mm"
    height: str = "297mm"
    bleed: str | None = None
    """That which is usual for the unit where none is given: 3 mm, an eighth of an inch, none on a screen."""
    unit: Literal["pt", "mm", "cm", "in", "px", "pc"] = "mm"
    facing: bool = False
    words: str = Field("", max_length=400_000)
    """Copy that stands on its page at once, a paragraph a line."""
    folder: str = Field("", max_length=100)


class ManyIn(Schema):
    """What is done with several documents: put into a folder ("" takes them out), deleted, restored, or, of deleted
    ones, forgotten for good."""

    ids: list[int] = Field(max_length=1000)
    do: Literal["folder", "delete", "restore", "forget"]
    folder: str = Field("", max_length=100)


class ManyOut(Schema):
    """How many documents something was done with."""

    count: int


class Rename(Schema):
    title: str = Field(max_length=200)


class ShareIn(Schema):
    """With whom, by name, or with which team; what they may do."""

    name: str = Field("", max_length=150)
    team: int | None = None
    may: Literal["see", "edit"] = "see"


class ShareOut(Schema):
    id: int
    name: str
    team: bool
    may: Literal["see", "edit"]


class JobOut(Schema):
    """A job: how far it is from 0 to 1, and when it is done what came of it: a file to be had for a week, or a
    document."""

    id: int
    kind: Literal["export", "import", "trace", "desk", "account"]
    state: Literal["waiting", "running", "done", "failed", "cancelled"]
    share: float
    said: str
    path: str
    name: str
    size: int
    document: int | None
    made: datetime
    url: str | None


class ExportIn(Schema):
    kind: Kind
    page: int = 1
    dpi: float = 150
    letters: Letters = "outlines"


class ExportOut(Schema):
    """Where the file is to be had at once, or the job that makes it."""

    url: str | None
    job: JobOut | None
