"""Who works here: teams, what lets somebody in, where somebody is signed in, and what is kept of that."""

from __future__ import annotations

import hashlib
import secrets

from django.conf import settings
from django.db import models
from django.db.models import Q
from django.utils import timezone


class Team(models.Model):
    """People who share documents and a library."""

    name = models.CharField(max_length=80, unique=True)
    made = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.name


class Member(models.Model):
    """Somebody in a team; a `keeper` says who else is in it, and may end it."""

    team = models.ForeignKey(Team, on_delete=models.CASCADE, related_name="members")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="memberships")
    keeper = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["team", "user"], name="member_once")]


def digest(token: str) -> str:
    """What is kept of a token that a link carries: whoever reads the database cannot use it."""
    return hashlib.sha256(token.encode()).hexdigest()


class Invitation(models.Model):
    """A link by which somebody makes an account of their own, once."""

    token = models.CharField(max_length=64, unique=True)
    name = models.CharField(max_length=150, blank=True)
    email = models.EmailField(blank=True)
    team = models.ForeignKey(Team, on_delete=models.SET_NULL, null=True, blank=True, related_name="invitations")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, null=True, related_name="invitations")
    made = models.DateTimeField(auto_now_add=True)
    ends = models.DateTimeField()
    used = models.DateTimeField(null=True, blank=True)

    @staticmethod
    def new_token() -> str:
        return secrets.token_urlsafe(24)

    @classmethod
    def open(cls) -> models.QuerySet[Invitation]:
        return cls.objects.filter(used=None, ends__gt=timezone.now())


class Visit(models.Model):
    """A session of somebody: where it was begun and when it was seen last. `key` is that of Django's session."""

    key = models.CharField(max_length=40, unique=True)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="visits")
    made = models.DateTimeField(auto_now_add=True)
    seen = models.DateTimeField(auto_now_add=True)
    agent = models.CharField(max_length=300, blank=True)
    address = models.GenericIPAddressField(null=True, blank=True)
    by = models.CharField(max_length=20, default="password")

    class Meta:
        ordering = ["-seen"]


class Passkey(models.Model):
    """A key pair on somebody's device (WebAuthn): its public half, and how often it was used."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="passkeys")
    credential = models.BinaryField(unique=True)
    public_key = models.BinaryField()
    count = models.PositiveBigIntegerField(default=0)
    name = models.CharField(max_length=80)
    made = models.DateTimeField(auto_now_add=True)
    used = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["id"]


class Happening(models.Model):
    """What was done that somebody may have to answer for: sign-ins, shares, deletions. Rows outlive the account."""

    at = models.DateTimeField(auto_now_add=True, db_index=True)
    what = models.CharField(max_length=40)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="happenings")
    name = models.CharField(max_length=150, blank=True)
    about = models.CharField(max_length=300, blank=True)
    address = models.GenericIPAddressField(null=True, blank=True)

    class Meta:
        ordering = ["-id"]
        indexes = [models.Index(fields=["user", "-id"], condition=~Q(user=None), name="happening_of")]
