"""A connection that the database has ended is not used again; one that it has not is not asked."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import Any
from unittest import mock

import psycopg
from django.contrib.auth import get_user_model
from django.db import connection
from django.db.backends.postgresql import base
from django.http import HttpRequest
from django.test import Client, TransactionTestCase, override_settings


def end(pid: int) -> None:
    """PostgreSQL ends a connection from its side, as when it is stopped, and has told its client."""
    wanted = connection.settings_dict
    with psycopg.connect(
        dbname=wanted["NAME"],
        user=wanted["USER"],
        password=wanted["PASSWORD"],
        host=wanted["HOST"],
        port=wanted["PORT"],
        autocommit=True,
    ) as outside:
        outside.execute("select pg_terminate_backend(%s, 5000)", [pid])


def backend() -> int:
    with connection.cursor() as cursor:
        cursor.execute("select pg_backend_pid()")
        return int(cursor.fetchone()[0])


def request_begins() -> None:
    """As Django has it at the beginning of a request."""
    connection.health_check_enabled = True
    connection.health_check_done = False


class Connections(TransactionTestCase):
    def test_one_that_is_open_is_kept_without_a_question(self) -> None:
        first = backend()
        with mock.patch.object(base.DatabaseWrapper, "is_usable", side_effect=AssertionError("asked")):
            for _ in range(3):
                request_begins()
                self.assertEqual(backend(), first)

    def test_one_that_was_ended_is_replaced_before_it_is_used(self) -> None:
        for _ in range(10):
            first = backend()
            end(first)
            request_begins()
            self.assertNotEqual(backend(), first)

    def test_a_statement_that_is_planned_once_finds_a_new_one_too(self) -> None:
        for _ in range(5):
            first = backend()
            end(first)
            request_begins()
            with connection.prepared() as cursor:
                cursor.execute("select pg_backend_pid()")
                self.assertNotEqual(int(cursor.fetchone()[0]), first)


@override_settings(PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])  # many times over
class EndedAnywhere(TransactionTestCase):
    """A connection that ends before any of a request's statements: what was asked is asked again, and done once."""

    def setUp(self) -> None:
        quiet = logging.getLogger("django")
        self.addCleanup(quiet.setLevel, quiet.level)
        quiet.setLevel(logging.CRITICAL)
        get_user_model().objects.create_user("ada", password="kite-day-2")
        self.client.login(request=HttpRequest(), username="ada", password="kite-day-2")
        made = self.client.post("/api/documents", {"title": "Hill"}, content_type="application/json")
        self.path = f"/api/documents/{made.json()['id']}"
        self.frame = [{"id": "f", "x": 0, "y": 0, "width": 90, "height": 40, "frame": {}}]

    def ended_before(self, statement: int, ask: Callable[[], Any]) -> tuple[Any, bool]:
        """The answer, and whether the request came to that statement."""
        left = statement

        def execute(run: Any, sql: Any, params: Any, many: bool, context: Any) -> Any:
            nonlocal left
            if left == 0:
                end(connection.connection.info.backend_pid)
            left -= 1
            return run(sql, params, many, context)

        with connection.execute_wrapper(execute), self.assertLogs("nestline", "WARNING") as logged:
            logging.getLogger("nestline").warning("begun")
            answer = ask()
        self.assertFalse([line for line in logged.output if "fault" in line], f"statement {statement}")
        return answer, left < 0

    def test_an_edit(self) -> None:
        for statement in range(40):
            with self.subTest(statement):
                label = f"Edit {statement}"
                base = self.client.get(self.path).json()["revision"]

                def ask(base: int = base, label: str = label) -> Any:
                    change = {"do": "put", "at": ["title"], "value": label}
                    given = {"base": base, "operations": [change], "label": label, "mark": f"mark {label}"}
                    return self.client.post(f"{self.path}/edits", given, content_type="application/json")

                answer, came = self.ended_before(statement, ask)
                self.assertIn(answer.status_code, (200, 503))
                self.assertEqual(ask().status_code, 200)
                after = self.client.get(self.path).json()
                self.assertEqual((after["revision"], after["undo"]), (base + 1, label))
            if not came:
                break
        else:
            self.fail("forty statements for an edit")
        self.assertGreater(statement, 3)

    def test_signing_in_and_out_and_reading(self) -> None:
        client = Client()
        asks = [
            lambda: client.post(
                "/api/session", {"name": "ada", "password": "kite-day-2"}, content_type="application/json"
            ),
            lambda: client.get("/api/documents"),
            lambda: client.get(self.path),
            lambda: client.delete("/api/session"),
        ]
        for ask in asks:
            for statement in range(40):
                answer, came = self.ended_before(statement, ask)
                if not came:
                    break
                self.assertIn(answer.status_code, (200, 204, 401, 503), (statement, answer.content))
