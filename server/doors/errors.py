"""What the API says when something cannot be done: one form everywhere, problem details (RFC 9457)."""

from __future__ import annotations

from collections.abc import Callable
from http import HTTPStatus
from typing import Any

import orjson
from django.http import HttpRequest, HttpResponse
from ninja import Schema

from nestline.errors import DocumentError, NestLineError

PROBLEM = "application/problem+json"
SIGNED_OUT = "You are signed out. Sign in again; your work is stored."
TOO_OLD = "this page is too old; load it again"


class CollisionOut(Schema):
    """A place that two windows changed at the same time, with what each made of it; `why` where they do not go
    together."""

    what: str
    theirs: str
    mine: str
    why: str


class ErrorOut(Schema):
    """Problem details (RFC 9457). `code` is the kind, for programs; `message` says to people what is wrong and what
    would be right (`detail` is the same); `path` is the JSON path of the field that it is about."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    code: str
    message: str
    path: str | None = None
    collisions: list[CollisionOut] = []


class SaidOut(Schema):
    """What was done, in a sentence."""

    message: str


class SignedOut(NestLineError):
    """Nobody is signed in, or who says to be somebody is not believed."""

    status = 401
    code = "signed-out"


class StalePage(NestLineError):
    """What is asked comes from another site, or from a page of an older session."""

    status = 403
    code = "stale-page"


class TooMany(NestLineError):
    """It was asked too often."""

    status = 429
    code = "too-many"


CODES = {
    400: "cannot",
    401: "signed-out",
    403: "barred",
    404: "not-there",
    405: "wrong-method",
    409: "overtaken",
    413: "too-large",
    422: "not-valid",
    429: "too-many",
    503: "away",
}
"""What kind a status stands for, where nothing more is known."""
SAID = {
    400: "the server cannot read this request",
    401: SIGNED_OUT,
    403: TOO_OLD,
    404: "there is nothing at this address",
    405: "this address is not asked in this way",
}
"""What is said where the framework refuses."""


def problem(
    message: str,
    status: int,
    code: str | None = None,
    path: str | None = None,
    collisions: list[dict[str, str]] | None = None,
    headers: dict[str, str] | None = None,
) -> HttpResponse:
    """An answer in the form of the API's errors (ErrorOut)."""
    found = {
        "type": "about:blank",
        "title": HTTPStatus(status).phrase,
        "status": status,
        "detail": message,
        "code": code or CODES.get(status, "fault" if status >= 500 else "cannot"),
        "message": message,
        "path": path,
        "collisions": collisions or [],
    }
    return HttpResponse(orjson.dumps(found), status=status, content_type=PROBLEM, headers=headers)


def problem_of(error: NestLineError) -> HttpResponse:
    """What the core or the server refuses, in its words and with its fields."""
    status = getattr(error, "status", 400)
    again = {"Retry-After": "2"} if status == 503 else {}
    path = error.path if isinstance(error, DocumentError) else None
    message = error.message if isinstance(error, DocumentError) else str(error)
    code = CODES.get(status) if status != 400 and error.code == NestLineError.code else error.code
    return problem(message, status, code, path, getattr(error, "collisions", []), again)


def not_valid(errors: list[dict[str, Any]]) -> HttpResponse:
    """A request whose fields are not what they should be: the first is named; the path is that of its JSON."""
    first = errors[0] if errors else {"loc": (), "msg": "it is not what it should be"}
    where, *inner = [*first["loc"], ""][:-1] or ["body"]
    steps = inner[1:] if where == "body" else inner  # the body's own name is not in its JSON
    path = "$" + "".join(f"[{step}]" if isinstance(step, int) else f".{step}" for step in steps)
    return problem(f"{path}: {first['msg']}" if steps else str(first["msg"]), 422, path=path)


class Problems:
    """Whatever refuses within the API (no such address, a method that it has not, a page that is too old): it is said
    in the form of its errors."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        status = response.status_code
        if status < 400 or not request.path.startswith("/api/"):
            return response
        if response.headers.get("Content-Type", "").startswith(PROBLEM):
            return response
        kept = {name: response.headers[name] for name in ("Allow", "Retry-After") if name in response.headers}
        message = SAID.get(status, HTTPStatus(status).phrase)
        return problem(message, status, StalePage.code if status == 403 else None, headers=kept)


def described(schema: dict[str, Any]) -> dict[str, Any]:
    """An OpenAPI document in which every operation says how it refuses."""
    content = {PROBLEM: {"schema": {"$ref": "#/components/schemas/ErrorOut"}}}
    for operations in schema["paths"].values():
        for operation in operations.values():
            answers = operation["responses"]
            for status in [status for status in answers if int(status) >= 400]:
                answers[status]["content"] = content
            answers["default"] = {"description": "It cannot be done: problem details (RFC 9457)", "content": content}
    return schema
