"""Queries of the ORM whose SQL is worked out once, for what is asked at every move of the pointer."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.db import connection
from django.db.models import QuerySet


class Compiled:
    """Rows of a query that takes whole numbers, as tuples. `build` gives the query for given numbers; each must come into
    it as it is. Working its SQL out takes the ORM a few times as long as PostgreSQL takes to answer it."""

    def __init__(self, build: Callable[..., QuerySet[Any, Any]], count: int) -> None:
        self._build = build
        self._count = count
        self._known: tuple[str, list[int]] | None = None

    def __call__(self, *numbers: int) -> list[tuple[Any, ...]]:
        if self._known is None:
            # Stand-ins -1, -2 … tell where each number goes.
            sql, places = self._build(*(-1 - n for n in range(self._count))).query.sql_with_params()
            self._known = (sql, [-1 - int(place) for place in places])
        sql, order = self._known
        with connection.cursor() as cursor:
            cursor.execute(sql, [numbers[n] for n in order])
            rows: list[tuple[Any, ...]] = cursor.fetchall()
            return rows
