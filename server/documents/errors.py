"""What the API says when something cannot be done."""

from ninja import Schema


class CollisionOut(Schema):
    """A place that two windows changed at the same time, with what each made of it; `why` where they do not go together."""

    what: str
    theirs: str
    mine: str
    why: str


class ErrorOut(Schema):
    message: str
    path: str | None = None
    collisions: list[CollisionOut] = []
