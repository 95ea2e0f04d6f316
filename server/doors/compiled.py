"""Queries of the ORM whose SQL is worked out once, for what is asked at every move of the pointer and every letter."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

from django.db import connection
from django.db.models import QuerySet


def prepared() -> Any:
    """A cursor whose statements are planned once for each connection (config.postgres)."""
    return connection.prepared()  # type: ignore[attr-defined]


_STAND_INS: dict[type, Callable[[int], Any]] = {
    int: lambda n: -1_000_001 - n,
    str: lambda n: f"stands in for {n}",
    datetime: lambda n: datetime(1900, 1, 1 + n, tzinfo=UTC),
}


class Compiled:
    """Rows of a query, as tuples. `build` gives the query for values of these `kinds` (int, str, datetime); each must
    come into it as it is. Working its SQL out takes the ORM a few times as long as PostgreSQL takes to answer it."""

    def __init__(self, build: Callable[..., QuerySet[Any, Any]], *kinds: type) -> None:
        self._build = build
        self._stand_ins = [_STAND_INS[kind](n) for n, kind in enumerate(kinds)]
        self._known: tuple[str, list[tuple[int | None, Any]]] | None = None

    def __call__(self, *values: Any) -> list[tuple[Any, ...]]:
        if self._known is None:
            sql, given = self._build(*self._stand_ins).query.sql_with_params()
            places = {stand_in: n for n, stand_in in enumerate(self._stand_ins)}
            self._known = (sql, [(places.get(one), one) for one in given])
        sql, order = self._known
        with prepared() as cursor:
            cursor.execute(sql, [one if place is None else values[place] for place, one in order])
            rows: list[tuple[Any, ...]] = cursor.fetchall()
            return rows
