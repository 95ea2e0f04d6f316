"""What the API says when something cannot be done."""

import orjson
from django.http import HttpResponse
from ninja import Schema


class CollisionOut(Schema):
    """A place that two windows changed at the same time, with what each made of it; `why` where they do not go
    together."""

    what: str
    theirs: str
    mine: str
    why: str


class ErrorOut(Schema):
    message: str
    path: str | None = None
    collisions: list[CollisionOut] = []


def refused(message: str, status: int, **headers: str) -> HttpResponse:
    """An answer in the form of the API's errors (ErrorOut)."""
    content = orjson.dumps({"message": message, "path": None, "collisions": []})
    return HttpResponse(content, status=status, content_type="application/json", headers=headers)
