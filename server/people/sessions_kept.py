"""Sessions as rows of the database, read once a request."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import BACKEND_SESSION_KEY
from django.contrib.sessions.backends.db import SessionStore as Kept
from django.contrib.sessions.models import Session
from django.utils import timezone

from doors.compiled import prepared

MOVED = {"documents.signing.Backend": "people.signing.Backend"}
"""Sessions name the class that let somebody in: where it has moved since, they go on (`doors.upgrading`)."""


class SessionStore(Kept):
    """Django's own, whose query is written out: it comes with every move of the pointer."""

    def decode(self, session_data: bytes | str) -> dict[str, Any]:
        found: dict[str, Any] = super().decode(session_data)
        if (backend := found.get(BACKEND_SESSION_KEY)) in MOVED:
            found[BACKEND_SESSION_KEY] = MOVED[backend]
        return found

    def _get_session_from_db(self):  # type: ignore[no-untyped-def]
        with prepared() as cursor:
            cursor.execute(
                "select session_data, expire_date from django_session where session_key = %s and expire_date > %s",
                [self.session_key, timezone.now()],
            )
            row = cursor.fetchone()
        if row is None:
            self._session_key = None
            return None
        return Session(session_key=self.session_key or "", session_data=row[0], expire_date=row[1])
