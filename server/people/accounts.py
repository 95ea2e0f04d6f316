"""One's own account: its password, where it is signed in, what is kept of it, its end."""

from __future__ import annotations

from datetime import datetime

from django.contrib.auth import update_session_auth_hash
from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.db import transaction
from django.utils import timezone
from ninja import Router, Schema
from pydantic import Field

from doors.asked import Asked
from doors.errors import ErrorOut, SaidOut
from people.errors import NotThere, Refused
from people.log import happened
from people.models import Happening, Visit
from people.names import checked_email
from people.passkeys import PasskeyOut
from people.passwords import is_password_of, set_password
from people.sessions import end_others

router = Router(tags=["account"])
NOT_YOURS = "this is not your password as it is now"
MOST_SHOWN = 200


class VisitOut(Schema):
    id: int
    here: bool
    """Whether it is the session that asks."""
    agent: str
    address: str | None
    by: str
    made: datetime
    seen: datetime


class HappeningOut(Schema):
    at: datetime
    what: str
    about: str
    address: str | None


class TeamOfOut(Schema):
    id: int
    name: str


class AccountOut(Schema):
    name: str
    email: str
    administrator: bool
    password: bool
    """Whether it has one; else it is entered by passkey or link alone."""
    made: datetime
    teams: list[TeamOfOut]
    passkeys: list[PasskeyOut]
    visits: list[VisitOut]
    happenings: list[HappeningOut]


class PasswordIn(Schema):
    old: str = Field("", max_length=1000)
    new: str = Field(max_length=1000)


class EmailIn(Schema):
    email: str = Field("", max_length=254)


class LeaveIn(Schema):
    password: str = Field("", max_length=1000)


@router.get("", response=AccountOut)
def account(request: Asked) -> AccountOut:
    """All that the account's page shows."""
    user, key = request.user, request.session.session_key
    living = set(
        Session.objects.filter(
            session_key__in=Visit.objects.filter(user=user).values("key"), expire_date__gt=timezone.now()
        ).values_list("session_key", flat=True)
    )
    visits = [one for one in Visit.objects.filter(user=user) if one.key in living]
    return AccountOut(
        name=user.get_username(),
        email=user.email,
        administrator=user.is_staff,
        password=user.has_usable_password(),
        made=user.date_joined,
        teams=[TeamOfOut(id=m.team_id, name=m.team.name) for m in user.memberships.select_related("team")],  # type: ignore[attr-defined]
        passkeys=[PasskeyOut.of(row) for row in user.passkeys.all()],  # type: ignore[attr-defined]
        visits=[
            VisitOut(id=v.id, here=v.key == key, agent=v.agent, address=v.address, by=v.by, made=v.made, seen=v.seen)
            for v in visits
        ],
        happenings=[
            HappeningOut(at=h.at, what=h.what, about=h.about, address=h.address)
            for h in Happening.objects.filter(user=user)[:MOST_SHOWN]
        ],
    )


@router.patch("", response={200: SaidOut, 400: ErrorOut})
def change_email(request: Asked, given: EmailIn) -> SaidOut:
    """Where links to set a new password go."""
    User.objects.filter(pk=request.user.pk).update(email=checked_email(given.email))
    happened("e-mail changed", request.user, request=request)  # type: ignore[arg-type]
    return SaidOut(message="your address is kept" if given.email else "your address is taken away")


@router.post("/password", response={200: SaidOut, 400: ErrorOut, 403: ErrorOut})
def change_password(request: Asked, given: PasswordIn) -> SaidOut:
    """Another password; every other session ends."""
    user, before = User.objects.get(pk=request.user.pk), request.session.session_key
    _prove(user, given.old)
    set_password(user, given.new)
    user.save(update_fields=["password"])
    update_session_auth_hash(request, user)
    Visit.objects.filter(user=user).exclude(key=before).delete()
    Visit.objects.filter(key=before).update(key=request.session.session_key)
    happened("password changed", user, request=request)
    return SaidOut(message="your password is changed, and every other session has ended")


@router.delete("/visits/{visit_id}", response={200: SaidOut, 404: ErrorOut})
def end_visit(request: Asked, visit_id: int) -> SaidOut:
    """End a session elsewhere."""
    row = Visit.objects.filter(id=visit_id, user=request.user).first()
    if row is None:
        raise NotThere("this session has ended already")
    Session.objects.filter(session_key=row.key).delete()
    row.delete()
    happened("session ended", request.user, row.agent[:80], request)  # type: ignore[arg-type]
    return SaidOut(message="that session has ended")


@router.post("/leave", response={200: SaidOut, 403: ErrorOut})
def leave(request: Asked, given: LeaveIn) -> SaidOut:
    """Delete the account with all that is its: documents, pictures, fonts, recipes."""
    user = User.objects.get(pk=request.user.pk)
    _prove(user, given.password)
    if user.is_superuser and not User.objects.filter(is_superuser=True, is_active=True).exclude(pk=user.pk).exists():
        raise Refused("you are the only administrator; make another first (./nest account add NAME --administrator)")
    name = user.get_username()
    end_others(request)
    with transaction.atomic():
        happened("account deleted", None, request=request, name=name)
        user.delete()
    request.session.flush()
    return SaidOut(message=f"the account “{name}” is deleted, with all that was its")


def _prove(user: User, password: str) -> None:
    """Raises Refused unless it is the password of the account, where it has one."""
    if user.has_usable_password() and not is_password_of(user, password):
        raise Refused(NOT_YOURS)
