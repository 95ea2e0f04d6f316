"""While a backup is made no file is deleted: it names what was there at one moment."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection

LOCK = 0x4E4C_4241
"""The key of the lock in the database that a backup holds."""


@contextmanager
def holding() -> Iterator[None]:
    """No file is deleted meanwhile, in whatever process."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_advisory_lock(%s)", [LOCK])
    try:
        yield
    finally:
        with connection.cursor() as cursor:
            cursor.execute("select pg_advisory_unlock(%s)", [LOCK])


def may_delete() -> bool:
    """Whether no backup is being made; in a transaction it stays so until that ends."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_try_advisory_xact_lock_shared(%s)", [LOCK])
        return bool(cursor.fetchone()[0])
