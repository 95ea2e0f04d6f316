"""The API of text files: what of one is no copy."""

from __future__ import annotations

from typing import Annotated

from ninja import Router, Schema
from pydantic import Field

from doors.asked import Asked
from doors.errors import ErrorOut
from nestline.acts.copying import decoded
from nestline.copy.imports import read_text

router = Router(tags=["texts"])


class TextFileIn(Schema):
    """A text file, in base 64."""

    name: str = Field(max_length=300)
    content: Annotated[str, Field(max_length=30_000_000)]


class LeftOutOut(Schema):
    leftOut: list[str]
    """In words, with how many there are: pictures, footnotes, formulas, symbols."""


@router.post("/left-out", response={200: LeftOutOut, 400: ErrorOut})
def left_out(request: Asked, given: TextFileIn) -> LeftOutOut:
    """What of a text file stays behind when its words are brought as copy."""
    return LeftOutOut(leftOut=read_text(given.name, decoded(given.content)).left_out)
