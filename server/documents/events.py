"""What windows of a document are told at once: sent through PostgreSQL (NOTIFY) when the transaction is committed."""

from __future__ import annotations

import json
from collections.abc import Iterable
from typing import Any

from django.db import connection

CHANNEL = "nest_line"


def tell(document_id: int, event: dict[str, Any]) -> None:
    """Tell every window of a document something; at most 8,000 bytes (PostgreSQL's limit)."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_notify(%s, %s)", [CHANNEL, json.dumps({"document": document_id, **event})])


def tell_again(document_ids: Iterable[int]) -> None:
    """Tell every window of documents to look again at what its user may do."""
    for document_id in document_ids:
        tell(document_id, {"what": "shared"})
