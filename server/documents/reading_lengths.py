"""Lengths read as the core reads them, for what the client draws while one is typed."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Schema

from nestline.document import lengths

router = Router()
MOST = 40


class LengthsIn(Schema):
    texts: list[str]
    em: float = 0.0
    """What an em is, in points."""


class LengthsOut(Schema):
    points: list[float | None]
    """Each in points; none where the text is no length."""


@router.post("", response=LengthsOut)
def read_lengths(request: HttpRequest, given: LengthsIn) -> LengthsOut:
    """What typed lengths come to."""
    return LengthsOut(points=[_points(text, given.em) for text in given.texts[:MOST]])


def _points(text: str, em: float) -> float | None:
    try:
        return lengths.points(text, em)
    except lengths.LengthError:
        return None
