"""What every request of the API may bring and take, checked before it is read: its size, its JSON, its time."""

from __future__ import annotations

from collections.abc import Callable

import orjson
from django.conf import settings
from django.http import HttpRequest, HttpResponse

from documents.watch import watched
from doors.errors import problem
from nestline.nesting.work import TooLong, until

MOST_JSON = 40_000_000
"""Bytes of a request's JSON: a text that is brought travels in it."""
MOST_UPLOAD = 64_000_000
"""Bytes of a request with a file."""
SECONDS = 25.0
"""What working an answer out may take; a preview PREVIEW_SECONDS."""
PREVIEW_SECONDS = 8.0
NOT_KEPT = "the text holds a character that cannot be kept (U+0000); take it out and try again"


class Bounds:
    """Middleware that refuses what is too large, is no JSON, or takes too long, in words."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if not request.path.startswith("/api/"):
            return self.get_response(request)
        if fault := _fault(request):
            return fault
        seconds = PREVIEW_SECONDS if request.path.endswith("/preview") else SECONDS
        try:
            with watched(seconds, f"{request.method} {request.path}"), until(seconds):
                return self.get_response(request)
        except TooLong as error:  # what is outside the API's own handling
            return problem(str(error), error.status)


def _fault(request: HttpRequest) -> HttpResponse | None:
    if "\0" in request.path or "%00" in request.META.get("QUERY_STRING", ""):
        return problem("the address holds a character that cannot be kept (U+0000)", 400)
    try:
        length = int(request.META.get("CONTENT_LENGTH") or 0)
    except ValueError:
        return problem("the request does not say its length", 400)
    json = request.content_type == "application/json"
    most = MOST_JSON if json else MOST_UPLOAD
    if length > most:
        return problem(f"that has {length / 1e6:.0f} MB; at most {most / 1e6:.0f} MB can be sent at once", 413)
    if not json or not length:
        return None
    if b"\\u0000" in request.body or b"\0" in request.body:
        return problem(NOT_KEPT, 400)
    try:
        orjson.loads(request.body)  # refuses lone surrogates, figures without end and what nests too deep
    except orjson.JSONDecodeError as error:
        return problem(f"the request is not JSON: {error}", 400)
    return None


assert settings.DATA_UPLOAD_MAX_MEMORY_SIZE >= MOST_JSON
