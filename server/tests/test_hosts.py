"""Two hosts, two workers of jobs, one database behind a pooler, one store, one balancer: one of each is killed."""

from __future__ import annotations

import json
import tempfile
import threading
import time
import uuid
from pathlib import Path
from typing import Any

import requests
from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import connection
from django.test import TransactionTestCase

from demo.pictures import draw
from documents.models import Document, Job
from documents.store import create, raw_of
from tests.hosts import Deployment
from tests.test_api import raw
from tests.test_jobs import many_pages

EDITS = 200
AT_ONCE = 4
"""Windows that edit at one time, each in a document of its own."""
ASKED_AGAIN = 60
"""How often a window asks again, a quarter of a second apart, before it gives up (the client never does)."""
MOST_CONNECTIONS = 26
"""To the database, through the pooler and past it (deploy/pooler.ini), two hosts and two workers of jobs."""


class Window:
    """What a client's window does: it asks again while it is told to, under the same mark."""

    def __init__(self, deployment: Deployment, address: str = "") -> None:
        self.address = address or deployment.address
        self.session = requests.Session()
        self.session.trust_env = False
        self.session.verify = str(deployment.trusted)
        self.session.headers["Referer"] = f"{deployment.address}/"
        self.away = 0
        """Answers that said: ask again."""
        self.answered: set[str] = set()
        """The processes that answered."""

    def ask(self, method: str, path: str, body: Any = None, **more: Any) -> requests.Response:
        said = ""
        for _ in range(ASKED_AGAIN):
            token = self.session.cookies.get("csrftoken", "")
            try:
                answer = self.session.request(
                    method, f"{self.address}{path}", json=body, timeout=30, headers={"X-CSRFToken": token}, **more
                )
                if answer.status_code != 503:
                    self.answered.add(answer.headers.get("X-Worker", ""))
                    return answer
                said = answer.text
            except requests.RequestException as error:
                said = str(error)
            self.away += 1
            time.sleep(0.25)
        raise AssertionError(f"{method} {path} is not answered: {said}")

    def sign_in(self, name: str, password: str) -> None:
        self.ask("GET", "/")
        answer = self.ask("POST", "/api/session", {"name": name, "password": password})
        assert answer.status_code == 200, answer.text

    def edit(self, document_id: int, base: int, operation: dict[str, Any]) -> dict[str, Any]:
        body = {"base": base, "operations": [operation], "mark": uuid.uuid4().hex, "window": "w"}
        answer = self.ask("POST", f"/api/documents/{document_id}/edits", body)
        assert answer.status_code == 200, answer.text
        found: dict[str, Any] = answer.json()
        return found


class Hosts(TransactionTestCase):
    def setUp(self) -> None:
        self.user = get_user_model().objects.create_user("ada", password="kites-up-high")
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.deployment = self.enterContext(Deployment(folder))

    def until(self, there: Any, what: str, seconds: float = 60) -> None:
        end = time.monotonic() + seconds
        while not there():
            if time.monotonic() > end:
                self.fail(what)
            time.sleep(0.05)

    def on_both_hosts(self, window: Window) -> list[Document]:
        """Documents to edit at one time. Which host has one is a matter of its number: not all are on the same."""
        by_host: dict[str, list[Document]] = {}
        for _ in range(20 * AT_ONCE):
            row = create(self.user.id, raw())
            window.answered.clear()
            window.ask("GET", f"/api/documents/{row.id}")
            by_host.setdefault(next(iter(window.answered)), []).append(row)
            if len(by_host) > 1 and sum(map(len, by_host.values())) >= AT_ONCE:
                one_each = [rows.pop() for rows in by_host.values()]
                return [*one_each, *(row for rows in by_host.values() for row in rows)][:AT_ONCE]
        raise AssertionError("the balancer asks one host only")

    def test_one_of_each_is_killed_and_nothing_is_lost(self) -> None:
        window = Window(self.deployment)
        window.sign_in("ada", "kites-up-high")
        self.files_are_shared(window)
        self.changes_are_told_across(window)
        documents = self.on_both_hosts(window)
        long = create(self.user.id, many_pages(60, 400))
        job = window.ask(
            "POST", f"/api/documents/{long.id}/exports", {"kind": "pdf", "page": 1, "dpi": 150, "letters": "outlines"}
        ).json()["job"]
        self.assertIsNotNone(job, "it takes long enough to be done apart")

        made, faults = [0] * AT_ONCE, []
        windows = [Window(self.deployment) for _ in range(AT_ONCE)]
        for one in windows:
            one.session.cookies.update(window.session.cookies)

        def edits(number: int) -> None:
            try:
                base = documents[number].revision
                for turn in range(EDITS // AT_ONCE):
                    base = windows[number].edit(
                        documents[number].id, base, {"do": "put", "at": ["objects", "f", "x"], "value": 20 + turn}
                    )["revision"]
                    made[number] += 1
            except BaseException as error:
                faults.append(error)

        threads = [threading.Thread(target=edits, args=(number,)) for number in range(AT_ONCE)]
        for thread in threads:
            thread.start()
        self.until(lambda: Job.objects.get(id=job["id"]).state == "running", "no worker takes the job")
        at_it = max(("jobs-1", "jobs-2"), key=lambda name: self.deployment.parts[name].processes)
        self.deployment.parts[at_it].kill()
        self.until(lambda: sum(made) > EDITS // 4 or faults, "no edits")
        self.deployment.parts["app-1"].kill()
        after = time.monotonic()
        for thread in threads:
            thread.join()
        self.assertEqual(faults, [])
        self.assertEqual(made, [EDITS // AT_ONCE] * AT_ONCE)
        self.assertGreater(len(set().union(*(one.answered for one in windows))), 1, "both hosts were at it")
        for row in documents:
            found = Document.objects.get(id=row.id)
            self.assertEqual(
                found.revision - row.revision, EDITS // AT_ONCE, "each edit is made once, and none is lost"
            )
            self.assertEqual(raw_of(found)["pages"][0]["objects"][0]["x"], 20 + EDITS // AT_ONCE - 1)

        self.until(lambda: Job.objects.get(id=job["id"]).state == "done", "the job is not taken up again", 120)
        result = window.ask("GET", f"/api/jobs/{job['id']}/result")
        self.assertEqual(result.content[:5], b"%PDF-")
        self.assertEqual(window.ask("GET", "/api/session").json()["name"], "ada", "nobody is signed out")
        self.assertFalse(self.deployment.answers("app-1"))
        self.assertLess(self.connections(), MOST_CONNECTIONS)

        # The host comes again, and has its share of the documents; the other is asked to end while edits go on.
        self.deployment.begin("app-1")
        self.deployment.until("app-1")
        time.sleep(2.5)  # the balancer looks again after two seconds
        threads = [threading.Thread(target=edits, args=(number,)) for number in range(AT_ONCE)]
        for number, row in enumerate(documents):
            row.refresh_from_db()
            windows[number].away = 0
        for thread in threads:
            thread.start()
        self.until(lambda: sum(made) > EDITS * 5 // 4 or faults, "no edits")
        self.deployment.parts["app-2"].end()
        for thread in threads:
            thread.join()
        self.assertEqual((faults, sum(made)), ([], 2 * EDITS))
        self.assertGreater(time.monotonic(), after)

    def connections(self) -> int:
        with connection.cursor() as cursor:
            cursor.execute(
                "select count(*) from pg_stat_activity where datname = %s", [connection.settings_dict["NAME"]]
            )
            return int(cursor.fetchone()[0])

    def files_are_shared(self, window: Window) -> None:
        """Pictures and fonts that came through one host are there in the other; they are in the store alone."""
        one, other = (self.own(window, name) for name in ("app-1", "app-2"))
        content = draw()["pictures/box-kite.png"]
        brought = one.ask("POST", "/api/pictures", files={"file": ("kite.png", content)}).json()
        self.assertEqual(other.ask("GET", brought["url"]).content, content)
        font = Path(settings.FONT_FILES) / "Inter-Regular.ttf"
        font = font if font.is_file() else next(Path(settings.FONT_FILES).glob("*.ttf"))
        refused = other.ask("POST", "/api/fonts", files={"file": ("font.ttf", font.read_bytes())})
        self.assertEqual(refused.status_code, 400, "it comes with the application already")
        kept = [entry["Key"] for entry in self.deployment.client().list_objects_v2(Bucket="nest-line")["Contents"]]
        self.assertEqual([key.split("/")[0] for key in kept], ["pictures"])
        self.assertFalse(list(self.deployment.folder.glob("app-*/media/pictures")))
        picture = {"id": "p", "x": 10, "y": 10, "width": 160, "height": 120, "picture": {"file": brought["file"]}}
        content = json.dumps({**raw(), "pages": [{"width": 300, "height": 300, "objects": [picture]}]})
        made = one.ask("POST", "/api/documents/import", files={"file": ("kite.json", content)}).json()
        shown = other.ask("GET", f"/api/documents/{made['id']}/picture.png")
        self.assertEqual((shown.status_code, shown.content[:4]), (200, b"\x89PNG"))

    def changes_are_told_across(self, window: Window) -> None:
        """An edit through one host is told at once to a window whose stream comes from the other."""
        row = create(self.user.id, raw())
        one, other = (self.own(window, name) for name in ("app-1", "app-2"))
        with other.session.get(f"{other.address}/live/{row.id}", stream=True, timeout=30) as stream:
            self.assertEqual(stream.status_code, 200)
            events = (json.loads(line[6:]) for line in stream.iter_lines(chunk_size=1) if line.startswith(b"data: "))
            self.assertEqual(next(events)["what"], "ready")
            revision = one.edit(row.id, row.revision, {"do": "put", "at": ["objects", "f", "x"], "value": 44})[
                "revision"
            ]
            while (event := next(events)).get("what") == "again":
                pass
            self.assertEqual(event["revision"], revision)

    def own(self, window: Window, name: str) -> Window:
        """A window of the same session that asks one host past the balancer."""
        found = Window(self.deployment, self.deployment.host(name))
        found.session.headers.update(
            {"X-Forwarded-Proto": "https", "Referer": found.address.replace("http:", "https:") + "/"}
        )
        for cookie in window.session.cookies:
            found.session.cookies.set(cookie.name, cookie.value)
        return found
