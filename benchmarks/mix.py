r"""Designers at work on the running application, in a stated mix: how many of them are served well.

    NEST_HOME=/var/lib/nest-line/… PYTHONPATH=core:server:. .venv/bin/python -m benchmarks.mix \
        [DESIGNERS …] [--seconds 40]

A round of a designer is what MIX says, on a poster of their own: drags that are previewed and stored, words typed,
times in which they look and think; now and then a document is opened, and a PDF taken. Rounds are begun at random. The
number of worker processes is that of `NEST_WORKERS=N ./nest start`. Times are from asking to the whole answer, this
program's own work included.
"""

from __future__ import annotations

import argparse
import asyncio
import json
import random
import time
from collections import defaultdict

from benchmarks.load import FRAME, Designer, Window, made, memory

MIX = (("drag", 2.0), ("look", 4.0), ("type", 3.0), ("look", 6.0), ("drag", 1.0), ("look", 4.0))
"""What a round is made of, in seconds: three of twenty are dragged, three typed."""
LETTERS = 5.0
"""Letters typed a second."""
OPENS, EXPORTS = 0.3, 0.1
"""How many of a round's ends are followed by opening a document, and by a PDF."""
PROMPT = {"preview": 120.0, "stored": 250.0, "letter": 150.0, "open": 2000.0, "pdf": 4000.0}
"""What is served well, in ms: nineteen of twenty are answered within that."""

Times = dict[str, list[float]]


async def round_of(designer: Designer, times: Times, draws: random.Random, until: float) -> None:
    window = Window(designer)
    at = f"/api/documents/{designer.document}"

    async def asked(kind: str, path: str, body: object = None) -> bytes:
        began = time.perf_counter()
        status, content = await window.ask(path, body)
        if status == 200:
            times[kind].append((time.perf_counter() - began) * 1e3)
        else:
            times["refused"].append(status)
        return content

    async def stored(kind: str, operations: list[dict[str, object]], join: str = "") -> None:
        content = await asked(kind, f"{at}/edits", {"base": designer.revision, "operations": operations, "join": join})
        designer.revision = json.loads(content).get("revision", designer.revision)

    await asyncio.sleep(draws.uniform(0, sum(s for _, s in MIX)))
    step = typed = 0
    while time.perf_counter() < until:
        for what, seconds in MIX:
            end = min(time.perf_counter() + seconds * draws.uniform(0.7, 1.3), until)
            if what == "look":
                await asyncio.sleep(max(0.0, end - time.perf_counter()))
            while what == "drag" and (began := time.perf_counter()) < end:
                step += 1
                by = [-(step % 60) * 1.3 - step * 0.007, (step % 60) * 0.8]
                moved = {"do": "act", "act": "move", "given": {"objects": ["delta"], "by": by}}
                await asked("preview", f"{at}/preview", {"base": designer.revision, "operations": [moved]})
                await asyncio.sleep(max(0.0, FRAME - (time.perf_counter() - began)))
            if what == "drag":
                small = {"do": "act", "act": "move", "given": {"objects": ["delta"], "by": [draws.choice((-1, 1)), 0]}}
                await stored("stored", [small])
            while what == "type" and (began := time.perf_counter()) < end:
                typed += 1
                text = {
                    "do": "put",
                    "at": ["copies", "When", "versions", "en", "paragraphs", 0, "runs", 0, "text"],
                    "value": "Saturday"[: 1 + typed % 8],
                }
                await stored("letter", [text], "typing")
                await asyncio.sleep(max(0.0, 1 / LETTERS - (time.perf_counter() - began)))
        if draws.random() < OPENS:
            await asked("open", at)
        if draws.random() < EXPORTS:
            await asked("pdf", f"{at}/pdf")


def main() -> None:
    import django

    django.setup()
    from django.contrib.auth import get_user_model

    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("designers", nargs="*", type=int, default=[8, 16, 32, 48])
    parser.add_argument("--seconds", type=float, default=40)
    given = parser.parse_args()
    try:
        everyone = made(max(given.designers))
        print("| designers | " + " | ".join(f"{kind}, p50 / p95" for kind in PROMPT) + " | refused | served well |")
        print("| --- " * (len(PROMPT) + 3) + "|")
        for count in given.designers:
            times: Times = defaultdict(list)

            async def all_of_them(count: int = count, times: Times = times) -> None:
                for designer in everyone[:count]:
                    await Window(designer).ask(f"/api/documents/{designer.document}")
                until = time.perf_counter() + given.seconds
                await asyncio.gather(
                    *(round_of(d, times, random.Random(n), until) for n, d in enumerate(everyone[:count]))
                )

            asyncio.run(all_of_them())
            said, well = [], True
            for kind, most in PROMPT.items():
                found = sorted(times[kind])
                if not found:
                    said.append("—")
                    continue
                p50, p95 = found[len(found) // 2], found[int(len(found) * 0.95)]
                said.append(f"{p50:.0f} / {p95:.0f} ms")
                well = well and p95 <= most
            print(f"| {count} | {' | '.join(said)} | {len(times['refused'])} | {'yes' if well else 'no'} |", flush=True)
        print("The workers take", " and ".join(f"{size:.0f} MB" for size in memory()), "then.")
    finally:
        get_user_model().objects.filter(username__startswith="load-").delete()


if __name__ == "__main__":
    main()
