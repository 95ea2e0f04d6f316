"""What is found to be wrong, its cures, why something stands where it does, and strain."""

from __future__ import annotations

from typing import Any, Literal

from ninja import Schema
from pydantic import Field

from nestline.document.model import Contour
from nestline.findings.strain import GREATEST, LARGEST_TYPE, LEAST, Strain


class CureOut(Schema):
    label: str
    operations: list[dict[str, Any]]


class FindingOut(Schema):
    """Something that was measured on a page (nestline.findings.finding): pages counted from 0, marks are boxes
    there."""

    kind: str
    title: str
    object: str
    page: int
    figure: float | None
    limit: float | None
    unit: str
    message: str
    words: str
    range: tuple[int, int] | None
    marks: list[tuple[float, float, float, float]]
    fault: bool
    neverMind: bool
    hasCures: bool
    shown: Literal["words", "line", "nothing"]


class FindingsOut(Schema):
    revision: int
    findings: list[FindingOut]


class CuresIn(Schema):
    """Which finding is to be mended."""

    base: int
    kind: str
    object: str
    page: int
    range: tuple[int, int] | None = None
    version: str | None = None


class TriedOut(CureOut):
    """A cure that was tried: whether it mends what it is for, and how many other findings come and go with it."""

    mends: bool
    more: int
    fewer: int


class StrainIn(Schema):
    """What the document is to be put under: copy longer by per cent, in the words of a language, larger type, another
    sheet, pictures that have not come."""

    by: float = Field(default=0, ge=LEAST, le=GREATEST)
    language: str | None = Field(default=None, max_length=35)
    type: float = Field(default=0, ge=0, le=LARGEST_TYPE)
    sheet: tuple[str, str] | None = None
    pictures: bool = True
    version: str | None = None

    def strain(self) -> Strain:
        return Strain(self.by, self.language or None, self.type, self.sheet, self.pictures)


class StrainOut(Schema):
    """What makes the document so, to be previewed: nothing of it is to be stored."""

    operations: list[dict[str, Any]]


class HoldsOut(Schema):
    """Up to which strain a frame holds its copy, in per cent: below nothing where it lacks room as it is, null where it
    holds all."""

    object: str
    upTo: float | None


class TraceStep(Schema):
    """How far a contour is traced; when it is `done`, what was wrong if anything."""

    share: float
    done: bool
    fault: str | None


class WhyIn(Schema):
    page: int
    at: tuple[float, float]


class CauseOut(Schema):
    """What put a line's end, a baseline or a solved value where it is (nestline.nesting.causes)."""

    what: Literal["left end", "right end", "baseline", "word spaces", "place", "size", "box"]
    said: str
    figure: float | None
    object: str
    rule: str
    lit: list[tuple[float, float, float, float]]


class WhyOut(Schema):
    """The causes at a place of a page, the nearest first; without a frame when no copy is near."""

    frame: str | None
    causes: list[CauseOut]


class TraceIn(Schema):
    object: str
    contour: Contour
