"""What the API says when something cannot be done."""

from ninja import Schema


class ErrorOut(Schema):
    message: str
    path: str | None = None
