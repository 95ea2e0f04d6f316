"""What is not kept for ever: sessions that are over, invitations, what happened long ago."""

from __future__ import annotations

from datetime import timedelta

from django.contrib.sessions.models import Session
from django.utils import timezone

from people.models import Happening, Invitation, Visit

KEPT = timedelta(days=730)
"""How long it is kept what happened."""


def forget_old() -> None:
    """Take away sessions that are over, invitations that are for a month, and what happened longer than two
    years ago."""
    now = timezone.now()
    Session.objects.filter(expire_date__lt=now).delete()
    living = Session.objects.values("session_key")
    Visit.objects.filter(seen__lt=now - timedelta(hours=1)).exclude(key__in=living).delete()
    Invitation.objects.filter(ends__lt=now - timedelta(days=30)).delete()
    Happening.objects.filter(at__lt=now - KEPT).delete()
