"""Which windows a document is open in, and where each of them is."""

from __future__ import annotations

from typing import Any

from documents.events import tell
from documents.history import open_windows
from documents.models import Window
from documents.store import document_for

MOST_WINDOWS = 50
"""Of a document at one time."""


def say_where(user: Any, document_id: int, window: str, page: int, chosen: list[str], gone: bool, hello: bool) -> None:
    """Keep that a window is open (or not any more), and tell the others where it is. Raises Gone."""
    row = document_for(user.id, document_id, "see")
    if gone:
        row.windows.filter(name=window).delete()
    elif open_windows(row).count() < MOST_WINDOWS or row.windows.filter(name=window).exists():
        Window.objects.update_or_create(document=row, name=window, defaults={"user": user})
    event = {"window": window, "who": user.get_username()[:60], "page": page, "chosen": [c[:60] for c in chosen]}
    tell(document_id, {"what": "gone" if gone else "hello" if hello else "here", **event})
