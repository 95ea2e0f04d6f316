"""The watchdog, and the front that brings a document to the worker which has it warm."""

from __future__ import annotations

import contextlib
import ctypes
import json
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
from collections import Counter
from pathlib import Path
from typing import Any
from unittest.mock import patch

from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import connection
from django.test import Client, SimpleTestCase, TransactionTestCase

from documents import door, watch
from documents.door import Overtaken, Wanted, preview
from documents.store import create
from documents.turns import Turns
from nestline.errors import NestLineError
from tests.live import free_port
from tests.test_api import put, raw


class Watchdog(SimpleTestCase):
    def asked(self, work: Any) -> tuple[threading.Thread, list[BaseException]]:
        """Something is asked for that is over its time at once."""
        ended: list[BaseException] = []

        def run() -> None:
            try:
                with watch.watched(0, "a test"):
                    work()
            except BaseException as error:
                ended.append(error)

        thread = threading.Thread(target=run, daemon=True)
        thread.start()
        time.sleep(0.05)
        return thread, ended

    def test_what_goes_on_for_ever_is_stopped_and_its_neighbour_is_not(self) -> None:
        def endless() -> None:
            while True:
                pass

        def tries() -> None:
            """Takes whatever fails for a way that does not work, and tries the next."""
            while go_on.is_set():
                try:
                    endless()
                except NestLineError:
                    failed.append(1)

        go_on, failed = threading.Event(), list[int]()
        go_on.set()
        quiet = threading.Event()
        ends = list[float]()
        dog = watch.Watch()
        with patch.object(watch, "GRACE", 0.2), patch.object(dog, "end", lambda: ends.append(1)):
            with self.assertLogs("nestline", "ERROR") as said:
                endless_one, ended = self.asked(endless)
                stubborn, _ = self.asked(tries)
                neighbour, unharmed = self.asked(
                    lambda: (
                        watch._asked.update({threading.get_ident(): (time.monotonic() + 60, "quiet")}) or quiet.wait(20)
                    )
                )  # type: ignore[func-returns-value]
                for _ in range(8):
                    time.sleep(0.1)
                    dog.look(time.monotonic())
            endless_one.join(5)
            self.assertIsInstance(ended[0], watch.Stopped)
            self.assertGreater(len(failed), 1)
            self.assertTrue(ends, "what does not listen ends the process")
            self.assertTrue(any("endless" in line for line in said.output), "the log says where it was")
        go_on.clear()
        watch.stop(stubborn.ident or 0)
        stubborn.join(5)
        quiet.set()
        neighbour.join(5)
        self.assertEqual(unharmed, [])
        self.assertEqual(watch._asked, {})

    def test_the_interpreter_goes_on_undisturbed_after_what_was_watched(self) -> None:
        """An exception taken back that was never sent has the interpreter look for it at every call from then on: it is
        slower by a quarter, and under a profile stands still."""
        script = (
            "from documents.watch import watched\n"
            "import cProfile\n"
            "with watched(10, 'a test'): pass\n"
            "profile = cProfile.Profile()\n"
            "profile.enable()\n"
            "def called(): pass\n"
            "for _ in range(3): called()\n"
        )
        subprocess.run(
            [sys.executable, "-c", script],
            cwd=settings.ROOT / "server",
            env=os.environ | {"PYTHONPATH": str(settings.ROOT / "core")},
            check=True,
            timeout=60,
        )

    def test_a_process_that_keeps_too_much_lets_go_and_then_makes_room(self) -> None:
        dog = watch.Watch()
        with (
            patch.object(watch, "memory", lambda: 700e6),
            patch("documents.store.forget_others") as forget,
            patch("os.kill") as kill,
            self.assertLogs("nestline", "WARNING"),
        ):
            dog._look_at_memory()
            forget.assert_called_once()
            kill.assert_called_once_with(os.getpid(), signal.SIGTERM)

    def test_it_lets_go_once_it_has_grown_and_while_nobody_waits_for_an_answer(self) -> None:
        dog = watch.Watch()

        def lets_go(size: float) -> bool:
            with patch.object(watch, "memory", lambda: size), patch("documents.store.forget_others") as forget:
                dog._look_at_memory()
            return forget.called

        sizes = (379e6, 381e6, 400e6, 420e6, 422e6, 440e6, 200e6, 385e6)
        self.assertEqual([size for size in sizes if lets_go(size)], [381e6, 422e6, 385e6])
        with patch.dict(watch._asked, {1: (1e12, "a letter")}):
            self.assertFalse(lets_go(500e6))
            self.assertTrue(lets_go(621e6), "far too large")


class Front(TransactionTestCase):
    """Two workers behind nginx, as ./nest starts them."""

    def setUp(self) -> None:
        home = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, home, ignore_errors=True)
        (home / "front").mkdir()
        self.port = free_port()
        conf = (Path(settings.ROOT) / "server/config/front.conf").read_text()
        upstream = "upstream worker_{} {{ server unix:{}/front/worker-{}.sock max_fails=0; keepalive 32; }}\n"
        workers = "".join(upstream.format(n, home, n) for n in (0, 1))
        for name, value in {
            "USER": "user root;" if os.getuid() == 0 else "",
            "HOME": str(home),
            "PORT": str(self.port),
            "WORKERS": workers,
            "COUNT": "2",
            "CONFIG": str(Path(settings.ROOT) / "server/config"),
            "MODULES": "/usr/lib/nginx/modules",
            "LISTEN": "127.0.0.1",
            "METRICS": "127.0.0.1",
        }.items():
            conf = conf.replace(f"@{name}@", value)
        (home / "front/nginx.conf").write_text(conf)
        environment = {
            **os.environ,
            "NEST_HOME": str(home),
            "NEST_WORKERS": "2",
            "NEST_DB_NAME": connection.settings_dict["NAME"],
            "NEST_SECRET": settings.SECRET_KEY,
        }
        command = [
            sys.executable,
            "-m",
            "gunicorn",
            "config.wsgi:application",
            "-c",
            "config/front.py",
            "--error-logfile",
            str(home / "log"),
        ]
        self.start(command, environment, Path(settings.ROOT) / "server")
        nginx = shutil.which("nginx") or "/usr/sbin/nginx"
        self.start(
            [nginx, "-e", str(home / "front.log"), "-c", str(home / "front/nginx.conf"), "-g", "daemon off;"],
            environment,
            home / "front",
        )
        for _ in range(300):
            try:
                if self.ask("/readyz")[0] == 200:
                    return
            except OSError:
                pass
            time.sleep(0.1)
        self.fail((home / "log").read_text()[-2000:] + (home / "front.log").read_text()[-1000:])

    def start(self, command: list[str], environment: dict[str, str], folder: Path) -> None:
        process = subprocess.Popen(command, env=environment, cwd=folder)
        self.addCleanup(process.wait)
        self.addCleanup(process.terminate)

    def ask(self, path: str, client: Client | None = None, body: Any = None) -> tuple[int, Any, str]:
        """The status, the answer, and the worker that gave it."""
        cookies = "; ".join(f"{k}={m.value}" for k, m in client.cookies.items()) if client else ""
        token = "c" * 32
        headers = {"Cookie": f"csrftoken={token}; {cookies}", "X-CSRFToken": token, "Content-Type": "application/json"}
        data = None if body is None else json.dumps(body).encode()
        try:
            answer = urllib.request.urlopen(
                urllib.request.Request(f"http://127.0.0.1:{self.port}{path}", data, headers), timeout=30
            )
        except urllib.error.HTTPError as error:
            return error.code, error.read(), error.headers.get("X-Worker", "")
        return answer.status, answer.read(), answer.headers.get("X-Worker", "")

    def test_metrics_are_for_this_machine_alone(self) -> None:
        address = f"http://127.0.0.1:{self.port}/metrics"
        with urllib.request.urlopen(address, timeout=30) as answer:
            self.assertIn(b"nest_line_jobs_waiting 0", answer.read())
        through = urllib.request.Request(address, headers={"X-Forwarded-For": "84.1.2.3"})
        with self.assertRaises(urllib.error.HTTPError) as refused:
            urllib.request.urlopen(through, timeout=30)
        self.assertEqual(refused.exception.code, 404)

    def test_a_document_stays_with_one_worker_and_goes_on_when_that_is_killed(self) -> None:
        user = get_user_model().objects.create_user("ada", password="kites-up-high")
        client = Client()
        client.force_login(user)
        rows = [create(user.id, raw()) for _ in range(12)]
        answered = {
            row.id: {
                self.ask(f"/api/documents/{row.id}{more}", client)[2]
                for more in ("", "/since?revision=1", "/pdf", "/json")
            }
            for row in rows
        }
        self.assertEqual({len(workers) for workers in answered.values()}, {1}, answered)
        workers = set.union(*answered.values())
        shares = Counter(worker for (worker,) in answered.values())
        self.assertEqual(sorted(shares.values()), [6, 6], "documents in use are shared out evenly")
        for worker in workers:
            os.kill(int(worker), signal.SIGKILL)
        for row in rows:
            body = {"base": 1, "operations": [put(["title"], "On")], "label": "Rename"}
            for _ in range(100):
                status, answer, worker = self.ask(f"/api/documents/{row.id}/edits", client, body)
                if status != 503:
                    break
                self.assertIn("nothing was changed", json.loads(answer)["message"])
                time.sleep(0.1)
            self.assertEqual(status, 200, answer)
            self.assertNotIn(worker, workers)
        with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/healthz") as answer:
            self.assertEqual(answer.read(), b"ok")

    def test_what_is_too_large_is_refused_before_it_is_read(self) -> None:
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}/api/documents/import", b"", {"Content-Length": "90000000"}
        )
        with self.assertRaises(urllib.error.HTTPError) as refused:
            urllib.request.urlopen(request, timeout=10)
        self.assertEqual(refused.exception.code, 413)
        self.assertIn("64 MB", json.loads(refused.exception.read())["message"])


class InTurn(SimpleTestCase):
    def test_a_few_at_a_time_in_the_order_in_which_they_came(self) -> None:
        turns = Turns(at_once=2, long=10)
        dice, begun, at_once, most = random.Random(5), [], 0, 0
        entered = threading.Lock()

        def ask(number: int) -> None:
            nonlocal at_once, most
            with turns.one():
                with entered:
                    begun.append(number)
                    at_once += 1
                    most = max(most, at_once)
                time.sleep(0.002 + dice.random() / 200)
                with entered:
                    at_once -= 1

        threads = [threading.Thread(target=ask, args=(n,)) for n in range(24)]
        for number, thread in enumerate(threads):
            thread.start()
            while number >= 2 and len(turns._waiting) + len(begun) <= number:  # it stands in the queue
                time.sleep(0.0001)
        for thread in threads:
            thread.join()
        self.assertEqual(most, 2)
        # Two that have their turn together may be seen in either order.
        self.assertTrue(all(abs(place - number) <= 1 for place, number in enumerate(begun)), begun)

    def test_a_turn_that_takes_long_holds_up_nobody_and_leaves_nothing_behind(self) -> None:
        turns = Turns(at_once=1, long=0.05)
        with turns.one(), turns.one():
            self.assertEqual((len(turns._waiting), len(turns._began)), (0, 2))
        with self.assertRaises(ZeroDivisionError), turns.one():
            raise ZeroDivisionError
        self.assertEqual((len(turns._waiting), len(turns._began)), (0, 0))

    def test_who_is_ended_while_it_waits_takes_no_turn_from_those_behind(self) -> None:
        turns = Turns(at_once=1, long=10)
        had: list[int] = []

        def ask(number: int) -> None:
            with contextlib.suppress(TimeoutError), turns.one():
                had.append(number)

        with turns.one():
            threads = [threading.Thread(target=ask, args=(n,)) for n in range(4)]
            for number, thread in enumerate(threads):
                thread.start()
                while len(turns._waiting) <= number:
                    time.sleep(0.0001)
            for number in (0, 2):  # as the watch ends a request
                ctypes.pythonapi.PyThreadState_SetAsyncExc(
                    ctypes.c_ulong(threads[number].ident or 0), ctypes.py_object(TimeoutError)
                )
        for thread in threads:
            thread.join(10)
        self.assertEqual(had, [1, 3])
        self.assertEqual((len(turns._waiting), len(turns._began)), (0, 0))


class Newest(TransactionTestCase):
    def test_a_preview_that_is_overtaken_before_its_turn_is_not_worked_out(self) -> None:
        user = get_user_model().objects.create_user("ada", password="kites-up-high")
        row = create(user.id, raw())
        wanted = Wanted(1, [put(["objects", "f", "x"], 60)], window="w")
        self.assertEqual(list(preview(user.id, row.id, wanted, 7)["nests"]), ["f"])
        self.assertEqual(list(preview(user.id, row.id, wanted, 8)["nests"]), ["f"])
        with self.assertRaises(Overtaken), patch.object(door, "expanded") as expanded:
            preview(user.id, row.id, wanted, 7)
        expanded.assert_not_called()
        self.assertEqual(list(preview(user.id, row.id, Wanted(1, wanted.operations, window="v"), 1)["nests"]), ["f"])
