"""Ways in for who is not signed in: an invitation, a link to a new password."""

from __future__ import annotations

import logging
from datetime import timedelta

from django.conf import settings
from django.contrib.auth.models import User
from django.contrib.auth.tokens import default_token_generator
from django.core.mail import send_mail
from django.db import IntegrityError, transaction
from django.http import HttpRequest
from django.utils import timezone
from django.utils.encoding import force_str
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode
from ninja import Router, Schema
from pydantic import Field

from doors.errors import ErrorOut, SaidOut
from nestline.errors import NestLineError
from people.errors import NotThere
from people.log import happened
from people.models import Invitation, Member, Visit, digest
from people.names import checked_email, checked_name
from people.passwords import set_password
from people.sessions import SessionOut, enter, same_site

router = Router(tags=["entry"])
log = logging.getLogger("nestline")
OVER = "this link is over: it was used, or its time has passed. Ask for another"
RESETS_AN_HOUR = 5
"""Mails with a link that an account gets."""


class InvitedOut(Schema):
    name: str
    email: str
    team: str | None
    by: str | None


class ComeIn(Schema):
    name: str = Field(max_length=150)
    password: str = Field(max_length=1000)
    email: str = Field("", max_length=254)


class ForgotIn(Schema):
    name: str = Field(max_length=254)


class NewPasswordIn(Schema):
    user: str = Field(max_length=40)
    token: str = Field(max_length=120)
    password: str = Field(max_length=1000)


def _invitation(token: str) -> Invitation:
    row = Invitation.open().select_related("team", "by").filter(token=digest(token)).first()
    if row is None:
        raise NotThere(OVER)
    return row


@router.get("/invitation/{token}", response={200: InvitedOut, 404: ErrorOut})
def invitation(request: HttpRequest, token: str) -> InvitedOut:
    """Whom an invitation is for, and who made it."""
    row = _invitation(token)
    return InvitedOut(
        name=row.name,
        email=row.email,
        team=row.team.name if row.team else None,
        by=row.by.get_username() if row.by else None,
    )


@router.post("/invitation/{token}", response={200: SessionOut, 400: ErrorOut, 404: ErrorOut})
def come_in(request: HttpRequest, token: str, given: ComeIn) -> SessionOut:
    """Make an account by an invitation, and sign in."""
    same_site(request)
    row = _invitation(token)
    user = User(username=checked_name(given.name), email=checked_email(given.email or row.email))
    set_password(user, given.password)
    try:
        with transaction.atomic():
            if not Invitation.open().filter(pk=row.pk).update(used=timezone.now()):
                raise NotThere(OVER)
            user.save()
            if row.team:
                Member.objects.create(team=row.team, user=user)
            happened("account made", user, "by invitation", request)
    except IntegrityError:
        raise NestLineError(f"somebody is called “{given.name}” already; take another name") from None
    enter(request, user, "invitation")
    return SessionOut(name=user.get_username())


@router.post("/forgot", response=SaidOut)
def forgot(request: HttpRequest, given: ForgotIn) -> SaidOut:
    """Send a link to a new password. Whether there is such an account is not told."""
    same_site(request)
    named = User.objects.filter(is_active=True, username=given.name).exclude(email="")
    found = named.first() or User.objects.filter(is_active=True, email__iexact=given.name).exclude(email="").first()
    since = timezone.now() - timedelta(hours=1)
    if found and found.happenings.filter(what="link asked for", at__gt=since).count() < RESETS_AN_HOUR:  # type: ignore[attr-defined]
        happened("link asked for", found, request=request)
        uid = urlsafe_base64_encode(str(found.pk).encode())
        link = request.build_absolute_uri(f"/new-password/{uid}/{default_token_generator.make_token(found)}")
        send(
            found.email,
            "A new password for Nest Line",
            f"Somebody, probably you, asked for a new password for the account “{found.get_username()}”.\n\n{link}\n\n"
            "The link is good for a day, and once. Without it nothing changes.\n",
        )
    return SaidOut(message="If there is such an account and its address is known, a link is on its way to it.")


def send(to: str, subject: str, body: str) -> None:
    """Send a mail; where that fails it is logged, and whoever asked is not kept waiting."""
    try:
        send_mail(subject, body, settings.DEFAULT_FROM_EMAIL, [to])
    except OSError as error:
        log.error("a mail could not be sent: %s", error)


@router.post("/new-password", response={200: SessionOut, 400: ErrorOut, 404: ErrorOut})
def new_password(request: HttpRequest, given: NewPasswordIn) -> SessionOut:
    """Set a new password by the link of a mail, and sign in; all other sessions end."""
    same_site(request)
    try:
        user = User.objects.filter(pk=int(force_str(urlsafe_base64_decode(given.user))), is_active=True).first()
    except (ValueError, OverflowError):
        user = None
    if user is None or not default_token_generator.check_token(user, given.token):
        raise NotThere(OVER)
    set_password(user, given.password)
    user.save(update_fields=["password"])
    Visit.objects.filter(user=user).delete()
    happened("password changed", user, "by link", request)
    enter(request, user, "link")
    return SessionOut(name=user.get_username())
