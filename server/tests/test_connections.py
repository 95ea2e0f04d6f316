"""A connection that the database has ended is not used again; one that it has not is not asked."""

from __future__ import annotations

from unittest import mock

import psycopg
from django.db import connection
from django.db.backends.postgresql import base
from django.test import TransactionTestCase


def end(pid: int) -> None:
    """PostgreSQL ends a connection from its side, as when it is stopped, and has told its client."""
    wanted = connection.settings_dict
    with psycopg.connect(
        dbname=wanted["NAME"], user=wanted["USER"], password=wanted["PASSWORD"], host=wanted["HOST"], port=wanted["PORT"],
        autocommit=True,
    ) as outside:  # fmt: skip
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
