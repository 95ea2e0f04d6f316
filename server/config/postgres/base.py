"""Django's connection to PostgreSQL: looked after without a query, and with statements that are planned once."""

from __future__ import annotations

import select
from typing import Any

from django.db.backends.postgresql import base


class DatabaseWrapper(base.DatabaseWrapper):
    """Django's own. A server that stops, or ends a connection, says so on it and closes it: one on which nothing has
    come in is in use still, and is not asked. That saves a way to the database at every request."""

    def is_usable(self) -> bool:
        if self.connection is None or self.connection.closed:
            return False
        wire = select.poll()
        wire.register(self.connection.fileno(), select.POLLIN | select.POLLHUP | select.POLLERR)
        return not wire.poll(0) or super().is_usable()

    def prepared(self) -> Any:
        """A cursor whose statements PostgreSQL keeps with their plans: for what is asked with every request. Through a
        pooler that hands connections on (settings.POOLED) they are as any other."""
        self.close_if_health_check_failed()
        self.ensure_connection()
        with self.wrap_database_errors:
            cursor = base.ServerBindingCursor(self.connection)  # type: ignore[call-arg]
        return self._prepare_cursor(cursor)  # type: ignore[attr-defined]
