"""What is kept of what happened (`people.models.Happening`): sign-ins, shares, deletions."""

from __future__ import annotations

import logging

from django.contrib.auth.models import User
from django.http import HttpRequest

from people.address import client_address
from people.models import Happening

log = logging.getLogger("nestline")


def happened(what: str, user: User | None, about: str = "", request: HttpRequest | None = None, name: str = "") -> None:
    """Keep that something happened: who did it, what it was about, and from where."""
    address = client_address(request) if request is not None else None
    Happening.objects.create(
        what=what,
        user=user,
        name=(name or (user.get_username() if user else ""))[:150].replace("\0", ""),
        about=about[:300].replace("\0", ""),
        address=address,
    )
