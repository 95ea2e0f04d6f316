"""Whatever ends somebody's reach of a document is told at once: its streams end, and who may still see it asks anew."""

from __future__ import annotations

from typing import Any

from django.db.models.signals import post_delete
from django.dispatch import receiver

from documents.events import tell_again
from documents.models import Document, Share
from people.models import Member, Visit


@receiver(post_delete, sender=Share)
def share_ends(instance: Share, **_: Any) -> None:
    """With the share itself, or with its team."""
    tell_again([instance.document_id])


@receiver(post_delete, sender=Member)
def membership_ends(instance: Member, **_: Any) -> None:
    tell_again(Share.objects.filter(team_id=instance.team_id).values_list("document_id", flat=True))


@receiver(post_delete, sender=Visit)
def session_ends(instance: Visit, **_: Any) -> None:
    """Documents that its user has open, in this session or another."""
    tell_again(Document.objects.filter(windows__user_id=instance.user_id).distinct().values_list("id", flat=True))
