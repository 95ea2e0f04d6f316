r"""Many designers at once on the running application: each drags the delta kite over a poster of their own.

    NEST_HOME=/var/lib/nest-line/… PYTHONPATH=core:server:. .venv/bin/python -m benchmarks.load \
        [DESIGNERS …] [--seconds 20] [--large]

Each is a window of an account of its own: one preview in flight, the next 16 ms after the one before at the earliest;
with `--large` one more of them exports, opens and imports without a pause. Accounts and documents are made for it and
deleted again. The times are from asking to the whole answer, over loopback, this program's own work included.
"""

from __future__ import annotations

import argparse
import asyncio
import json
import os
import statistics
import sys
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
HOME = Path(os.environ["NEST_HOME"])
sys.path[:0] = [str(ROOT / "server"), str(ROOT / "core"), str(ROOT)]
os.environ["DJANGO_SETTINGS_MODULE"] = "config.settings"
for line in (HOME / "env").read_text().split():
    name, _, value = line.partition("=")
    os.environ.setdefault(name, value)
PORT = int((HOME / "server.port").read_text())
FRAME = 0.016


@dataclass
class Designer:
    """An account with a poster, signed in."""

    session: str
    document: int
    revision: int
    times: list[float] = field(default_factory=list)
    refused: int = 0
    largest: float = 0.0


class Window:
    """A connection that is kept, as a browser keeps it."""

    def __init__(self, designer: Designer) -> None:
        self.designer = designer
        self.reader: asyncio.StreamReader | None = None

    async def ask(self, path: str, body: Any = None) -> tuple[int, bytes]:
        if self.reader is None:
            self.reader, self.writer = await asyncio.open_connection("127.0.0.1", PORT)
        content = b"" if body is None else json.dumps(body).encode()
        method = "GET" if body is None else "POST"
        head = (
            f"{method} {path} HTTP/1.1\r\nHost: 127.0.0.1:{PORT}\r\nContent-Type: application/json\r\n"
            f"Cookie: sessionid={self.designer.session}; csrftoken={'c' * 32}\r\nX-CSRFToken: {'c' * 32}\r\n"
            f"Content-Length: {len(content)}\r\n\r\n"
        )
        self.writer.write(head.encode() + content)
        status = int((await self.reader.readline()).split()[1])
        length, chunked, close = 0, False, False
        while (row := (await self.reader.readline()).strip()) != b"":
            name, _, value = row.lower().partition(b":")
            length = int(value) if name == b"content-length" else length
            chunked = chunked or (name == b"transfer-encoding" and b"chunked" in value)
            close = close or (name == b"connection" and b"close" in value)
        found = b""
        if chunked:
            while size := int(await self.reader.readline(), 16):
                found += await self.reader.readexactly(size)
                await self.reader.readexactly(2)
            await self.reader.readexactly(2)
        else:
            found = await self.reader.readexactly(length)
        if close:
            self.writer.close()
            self.reader = None
        return status, found


async def drag(designer: Designer, until: float) -> None:
    window = Window(designer)
    step = 0
    while (began := time.perf_counter()) < until:
        step += 1
        by = [-(step % 60) * 1.3 - step * 0.007, (step % 60) * 0.8]  # nowhere twice
        moved = {"do": "act", "act": "move", "given": {"objects": ["delta"], "by": by}}
        body = {"base": designer.revision, "operations": [moved]}
        status, _ = await window.ask(f"/api/documents/{designer.document}/preview", body)
        took = time.perf_counter() - began
        designer.times.append(took * 1e3)
        designer.refused += status != 200
        await asyncio.sleep(max(0.0, FRAME - took))


async def heavy(designer: Designer, until: float) -> None:
    """Someone who asks for long things all the time."""
    window = Window(designer)
    while time.perf_counter() < until:
        await window.ask(f"/api/documents/{designer.document}/pdf")
        await window.ask(f"/api/documents/{designer.document}/png?dpi=300")
        await window.ask(f"/api/documents/{designer.document}")


async def run(designers: list[Designer], seconds: float, busy: Designer | None) -> None:
    for designer in designers:  # warm, as after opening the document
        await Window(designer).ask(f"/api/documents/{designer.document}")
    until = time.perf_counter() + seconds
    await asyncio.gather(*(drag(d, until) for d in designers), *([heavy(busy, until)] if busy else []))


def made(count: int) -> list[Designer]:
    from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY, get_user_model
    from django.db import transaction

    from demo.documents import poster
    from demo.pictures import draw
    from documents.exchange import as_json, bring_in
    from documents.management.commands.load_demo import _archive
    from people.sessions_kept import SessionStore

    archive = _archive(as_json(poster()), draw())
    out = []
    for number in range(count):
        user, _ = get_user_model().objects.get_or_create(username=f"load-{number}")
        session = SessionStore()
        session[SESSION_KEY] = str(user.pk)
        session[BACKEND_SESSION_KEY] = "people.signing.Backend"
        session[HASH_SESSION_KEY] = user.get_session_auth_hash()
        session.save()
        with transaction.atomic():
            row = bring_in(user.pk, "poster", archive)
        out.append(Designer(session.session_key, row.id, row.revision))
    return out


def memory() -> list[float]:
    """What each worker takes, in MB."""
    master = (HOME / "server.pid").read_text().strip()
    workers = Path(f"/proc/{master}/task/{master}/children").read_text().split()
    rows = [row for w in workers for row in Path(f"/proc/{w}/status").read_text().splitlines()]
    return [int(row.split()[1]) / 1024 for row in rows if row.startswith("VmRSS")]


def main() -> None:
    import django

    django.setup()
    from django.contrib.auth import get_user_model

    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("designers", nargs="*", type=int, default=[1, 8, 32])
    parser.add_argument("--seconds", type=float, default=20)
    parser.add_argument("--large", action="store_true")
    given = parser.parse_args()
    try:
        everyone = made(max(given.designers) + 1)
        print(
            "| designers | previews a second | p50 | p95 | longest | slowest designer's p50 | refused |\n"
            + "| --- " * 7
            + "|"
        )
        for count in given.designers:
            some = everyone[:count]
            for designer in some:
                designer.times.clear()
                designer.refused = 0
            asyncio.run(run(some, given.seconds, everyone[-1] if given.large else None))
            times = sorted(t for d in some for t in d.times)
            slowest = max(statistics.median(d.times) for d in some)
            figures = (statistics.median(times), times[int(len(times) * 0.95)], times[-1], slowest)
            said = " | ".join(f"{f:.0f} ms" for f in figures)
            print(
                f"| {count} | {len(times) / given.seconds:.0f} | {said} | {sum(d.refused for d in some)} |", flush=True
            )
        print("The workers take", " and ".join(f"{size:.0f} MB" for size in memory()), "then.")
    finally:
        get_user_model().objects.filter(username__startswith="load-").delete()


if __name__ == "__main__":
    main()
