"""The doors: headers that say what a page may do, and whether the application is well."""

from __future__ import annotations

import os
from collections.abc import Callable

from django.db import DatabaseError, InterfaceError, OperationalError, connection
from django.http import HttpRequest, HttpResponse

AWAY = "the database does not answer just now; nothing was changed. It is tried again in a moment"


def is_away(error: BaseException) -> bool:
    """Whether an error says that the database, or this connection to it, is gone: what was asked for may be asked
    again."""
    if isinstance(error, (OperationalError, InterfaceError)):
        return True
    # Ended by the server, a connection tells of it in classes of their own.
    return isinstance(error, DatabaseError) and connection.connection is not None and bool(connection.connection.closed)


def let_go() -> None:
    """Close a connection that does not work any more; the next request opens another."""
    if not connection.in_atomic_block:
        connection.close_if_unusable_or_obsolete()


class Permissions:
    """Middleware: what the page may ask of the browser, and who may load its files."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        response.headers.setdefault(
            "Permissions-Policy", "camera=(), microphone=(), geolocation=(), payment=(), usb=()"
        )
        response.headers.setdefault("Cross-Origin-Resource-Policy", "same-origin")
        response.headers["X-Worker"] = str(os.getpid())
        return response


def healthz(request: HttpRequest) -> HttpResponse:
    """The process answers."""
    return HttpResponse("ok", content_type="text/plain")


def readyz(request: HttpRequest) -> HttpResponse:
    """The process answers, and so does the database."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("select 1")
            cursor.fetchone()
    except DatabaseError:
        let_go()
        return HttpResponse("the database is away", status=503, content_type="text/plain", headers={"Retry-After": "2"})
    return HttpResponse("ready", content_type="text/plain")
