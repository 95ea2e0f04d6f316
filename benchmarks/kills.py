"""Kills the running application's parts while words are written, and looks whether an acknowledged change was lost.

    PYTHONPATH=core:. .venv/bin/python -m benchmarks.kills [ROUNDS] [KIND …]

Each round writes marks into one document, kills a worker, the master, the live process, the front or the database (at
once, without warning) in between, starts again what does not come back by itself, asks again for what was not answered,
with the same id, and compares: every acknowledged mark is there once, in order, and undo goes back to the beginning.
Only loopback; a document of the demo account, which is deleted again. NEST_HOME is the application's home (./nest start
says where its log is).
"""

from __future__ import annotations

import http.client
import http.cookiejar
import json
import os
import random
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
HOME = Path(os.environ["NEST_HOME"])
PORT = (HOME / "server.port").read_text().strip()
ADDRESS = f"http://127.0.0.1:{PORT}"


KINDS = ["worker", "master", "live", "database", "front", "cut"]
"""What is killed; at a cut the connection is closed before the answer is read."""


class Client:
    """A window: signed in, asking again until it is answered."""

    def __init__(self) -> None:
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.asked = self.again = 0
        self.send("/api/session")
        self.send("/api/session", {"name": "designer", "password": "kite-day"})

    def once(self, path: str, body: Any = None, method: str | None = None) -> Any:
        token = next((c.value for c in self.jar if c.name == "csrftoken"), "")
        headers = {"X-CSRFToken": token or "", "Content-Type": "application/json", "Referer": ADDRESS}
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(ADDRESS + path, data, headers, method=method)
        with self.opener.open(request, timeout=20) as answer:
            return json.loads(answer.read() or b"null")

    def send(self, path: str, body: Any = None, method: str | None = None) -> Any:
        """As the client does: what was not answered, or with 503, is asked again."""
        self.asked += 1
        for _ in range(200):
            try:
                return self.once(path, body, method)
            except urllib.error.HTTPError as error:
                if error.code not in (502, 503, 504):
                    raise RuntimeError(f"{path}: {error.code} {error.read()[:300]!r}") from None
            except (OSError, http.client.HTTPException):
                pass
            self.again += 1
            time.sleep(0.2)
        raise RuntimeError(f"{path} is not answered")


def cut(client: Client, path: str, body: Any) -> None:
    """Ask for a change, and hang up without waiting for the answer."""
    connection = http.client.HTTPConnection("127.0.0.1", int(PORT))
    cookies = "; ".join(f"{c.name}={c.value}" for c in client.jar)
    token = next((c.value for c in client.jar if c.name == "csrftoken"), "") or ""
    headers = {"X-CSRFToken": token, "Content-Type": "application/json", "Referer": ADDRESS, "Cookie": cookies}
    connection.request("POST", path, json.dumps(body), headers)
    time.sleep(random.uniform(0, 0.02))
    connection.close()


def kill(what: str) -> None:
    master = int((HOME / "server.pid").read_text())
    if what == "worker":
        workers = subprocess.run(["pgrep", "-P", str(master)], capture_output=True, text=True).stdout.split()
        os.kill(int(random.choice(workers)), signal.SIGKILL)
        return
    if what == "database":
        os.kill(int((HOME / "database" / "postmaster.pid").read_text().split()[0]), signal.SIGQUIT)
    else:
        files = {"master": "server.pid", "live": "live.pid", "front": "front/nginx.pid"}
        os.kill(int((HOME / files[what]).read_text()), signal.SIGKILL)
    time.sleep(random.uniform(0, 1))
    subprocess.run([str(ROOT / "nest"), "start", "--port", PORT], check=True, stdout=subprocess.DEVNULL)


def main(rounds: int, kinds: list[str]) -> None:
    client = Client()
    made = client.send("/api/documents", {"title": "Kills"})
    id = made["id"]
    lost = twice = kept = 0
    revision, marks = 1, list[str]()
    put = {"do": "put", "at": ["copies"], "value": {"c": {"versions": {"en": {"language": "en", "paragraphs": []}}}}}
    revision = client.send(f"/api/documents/{id}/edits", {"base": revision, "operations": [put], "mark": "begin"})[
        "revision"
    ]
    for number, what in enumerate(kinds * rounds):
        dice = random.Random(number)
        when = dice.randint(2, 12)
        for n in range(16):
            if n == when and what != "cut":
                child = os.fork()
                if child == 0:
                    kill(what)
                    os._exit(0)
            mark = f"{what}-{number}-{n}"
            splice = {
                "do": "splice",
                "at": ["copies", "c", "versions", "en", "paragraphs"],
                "from": len(marks),
                "remove": 0,
                "insert": [{"runs": [{"text": mark}]}],
            }
            body = {"base": revision, "operations": [splice], "label": mark, "mark": mark, "window": "kills"}
            if n == when and what == "cut":
                cut(client, f"/api/documents/{id}/edits", body)
            revision = client.send(f"/api/documents/{id}/edits", body)["revision"]
            marks.append(mark)
            kept += 1
        if what != "cut":
            os.waitpid(child, 0)
        found = client.send(f"/api/documents/{id}")["document"]["copies"]["c"]["versions"]["en"]["paragraphs"]
        said = [p["runs"][0]["text"] for p in found]
        lost += len(set(marks) - set(said))
        twice += len(said) - len(set(said))
        if said != marks:
            print(f"round {number} ({what}): differs")
        # Back to the beginning of the round, and on from there.
        for _ in range(16):
            revision = client.send(
                f"/api/documents/{id}/undo", {"base": revision, "window": "kills", "mark": f"u{number}-{_}"}
            )["revision"]
        marks = marks[:-16]
        found = client.send(f"/api/documents/{id}")["document"]["copies"]["c"]["versions"]["en"]["paragraphs"]
        if [p["runs"][0]["text"] for p in found] != marks:
            print(f"round {number} ({what}): undo does not come back")
    client.send(f"/api/documents/{id}", method="DELETE")
    print(
        f"{len(kinds) * rounds} kills: {kept} changes acknowledged, {lost} lost, {twice} made twice; "
        f"{client.again} of {client.asked} asked again"
    )


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 5, sys.argv[2:] or KINDS)
