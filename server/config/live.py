"""The live process: tells each window at once what others do to its document (server-sent events).

One ASGI process holds all streams, and one connection to PostgreSQL that listens (NOTIFY, see documents.events); a
stream costs a queue, not a thread. Who it is for is told by the session's cookie. Nothing is kept here: a stream that
was cut is opened again by its window, which then asks what it missed.
"""

from __future__ import annotations

import asyncio
import json
import logging
from collections.abc import Awaitable, Callable
from http.cookies import CookieError, SimpleCookie
from importlib import import_module
from typing import Any
from urllib.parse import urlsplit

import psycopg
from asgiref.sync import sync_to_async
from django.conf import settings
from django.contrib.auth import get_user
from django.db import close_old_connections
from django.http import HttpRequest

from documents.events import CHANNEL
from documents.models import Document
from documents.reach import allowed

log = logging.getLogger("nestline")
MOST_STREAMS, MOST_OF_A_USER, MOST_WAITING = 2000, 40, 200
PING = 20.0
"""Seconds after which a silent stream says that it is there."""

Event = dict[str, Any]
Receive = Callable[[], Awaitable[Event]]
Send = Callable[[Event], Awaitable[None]]

_streams: dict[int, set[asyncio.Queue[bytes | None]]] = {}
_of_user: dict[int, int] = {}
_listening: asyncio.Task[None] | None = None
_hears = False
"""Whether the database tells this process of changes just now."""


async def application(scope: Event, receive: Receive, send: Send) -> None:
    """GET /live/{document}: a stream of events, each a line of JSON; GET /live/healthz: whether this process
    listens."""
    if scope["type"] == "lifespan":
        return await _lifespan(receive, send)
    if scope["type"] != "http":
        return
    headers = {name.decode("latin-1").lower(): value.decode("latin-1") for name, value in scope["headers"]}
    path = scope["path"]
    if path == "/live/healthz":
        return await _plain(send, 200 if _hears else 503, {})
    allowed = _allowed(headers)
    document = path.removeprefix("/live/")
    if (
        scope["method"] != "GET"
        or not path.startswith("/live/")
        or not document.isascii()
        or not document.isdigit()
        or len(document) > 15
    ):
        return await _plain(send, 404, allowed)
    user_id, revision = await sync_to_async(_who)(headers.get("cookie", ""), int(document))
    if user_id is None:
        return await _plain(send, 401, allowed)
    if revision is None:
        return await _plain(send, 404, allowed)
    if sum(map(len, _streams.values())) >= MOST_STREAMS or _of_user.get(user_id, 0) >= MOST_OF_A_USER:
        return await _plain(send, 429, allowed)
    await _stream(receive, send, allowed, user_id, int(document), revision)


def _allowed(headers: dict[str, str]) -> dict[str, str]:
    """What lets the page of this host, on whatever port, read the stream."""
    origin = headers.get("origin", "")
    host = urlsplit(f"//{headers.get('host', '')}").hostname
    if not origin or urlsplit(origin).hostname != host:
        return {}
    return {"Access-Control-Allow-Origin": origin, "Access-Control-Allow-Credentials": "true", "Vary": "Origin"}


def _who(cookies: str, document_id: int) -> tuple[int | None, int | None]:
    """The user of a session, and the revision of a document of theirs."""
    close_old_connections()
    try:
        jar = SimpleCookie(cookies)
    except CookieError:
        return None, None
    key = jar[settings.SESSION_COOKIE_NAME].value if settings.SESSION_COOKIE_NAME in jar else None
    if not key:
        return None, None
    request = HttpRequest()
    request.session = import_module(settings.SESSION_ENGINE).SessionStore(key)
    user = get_user(request)
    if not user.is_authenticated:
        return None, None
    rows = Document.objects.filter(allowed(user.pk, "see"), id=document_id, deleted=None)
    return user.pk, rows.values_list("revision", flat=True).first()


async def _plain(send: Send, status: int, headers: dict[str, str]) -> None:
    raw = [(name.encode(), value.encode()) for name, value in headers.items()]
    await send({"type": "http.response.start", "status": status, "headers": [(b"content-type", b"text/plain"), *raw]})
    await send({"type": "http.response.body", "body": b""})


async def _stream(
    receive: Receive, send: Send, allowed: dict[str, str], user_id: int, document_id: int, revision: int
) -> None:
    queue: asyncio.Queue[bytes | None] = asyncio.Queue(MOST_WAITING)
    _streams.setdefault(document_id, set()).add(queue)
    _of_user[user_id] = _of_user.get(user_id, 0) + 1
    left = asyncio.create_task(_left(receive))
    raw = [(name.encode(), value.encode()) for name, value in allowed.items()]
    fixed = [(b"content-type", b"text/event-stream"), (b"cache-control", b"no-store"), (b"x-accel-buffering", b"no")]
    try:
        await send({"type": "http.response.start", "status": 200, "headers": [*fixed, *raw]})
        first = json.dumps({"what": "ready", "revision": revision})
        await send(
            {"type": "http.response.body", "body": f"retry: 1500\ndata: {first}\n\n".encode(), "more_body": True}
        )
        while not left.done():
            wanted = asyncio.create_task(queue.get())
            await asyncio.wait({wanted, left}, timeout=PING, return_when=asyncio.FIRST_COMPLETED)
            if not wanted.done():
                wanted.cancel()
                body: bytes | None = b": here\n\n"
            else:
                body = wanted.result()
            if body is None or left.done():
                break
            await send({"type": "http.response.body", "body": body, "more_body": True})
        await send({"type": "http.response.body", "body": b""})
    except OSError:
        pass
    finally:
        left.cancel()
        _streams[document_id].discard(queue)
        if not _streams[document_id]:
            del _streams[document_id]
        _of_user[user_id] -= 1
        if not _of_user[user_id]:
            del _of_user[user_id]


async def _left(receive: Receive) -> None:
    while (await receive())["type"] != "http.disconnect":
        pass


async def _lifespan(receive: Receive, send: Send) -> None:
    global _listening
    while True:
        message = await receive()
        if message["type"] == "lifespan.startup":
            _listening = asyncio.create_task(_listen())
            await send({"type": "lifespan.startup.complete"})
        elif message["type"] == "lifespan.shutdown":
            if _listening:
                _listening.cancel()
            for queue in [queue for queues in _streams.values() for queue in queues]:
                _put(queue, None)
            await send({"type": "lifespan.shutdown.complete"})
            return


def _put(queue: asyncio.Queue[bytes | None], body: bytes | None) -> None:
    """Into a stream's queue; one that does not keep up is ended, and its window asks what it missed."""
    try:
        queue.put_nowait(body)
    except asyncio.QueueFull:
        queue.get_nowait()
        while not queue.empty():
            queue.get_nowait()
        queue.put_nowait(None)


async def _listen() -> None:
    """Listen for good; while the database is away, ask again every second. What was missed is asked for by the
    windows."""
    global _hears
    while True:
        try:
            wanted: dict[str, Any] = settings.DATABASES["default"]
            connection = await psycopg.AsyncConnection.connect(
                dbname=wanted["NAME"],
                user=wanted["USER"],
                password=wanted["PASSWORD"],
                host=wanted["HOST"],
                port=wanted["PORT"],
                autocommit=True,
                connect_timeout=5,
                application_name="nest-line live",
            )
            async with connection:
                await connection.execute(f"listen {CHANNEL}")
                _hears = True
                for queues in _streams.values():
                    for queue in queues:
                        _put(queue, b'data: {"what": "again"}\n\n')
                async for notice in connection.notifies():
                    event = json.loads(notice.payload)
                    body = f"data: {notice.payload}\n\n".encode()
                    for queue in list(_streams.get(event.get("document"), ())):
                        _put(queue, body)
                        if event.get("what") == "shared":
                            _put(queue, None)  # it ends: whoever may still see the document asks for it anew
        except (psycopg.Error, OSError, ValueError) as error:
            log.warning("the live process lost the database: %s", error)
        finally:
            _hears = False
        await asyncio.sleep(1)
