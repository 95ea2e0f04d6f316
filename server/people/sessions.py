"""Signing in and out, and where one is signed in."""

from __future__ import annotations

from datetime import timedelta
from urllib.parse import urlsplit

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth import SESSION_KEY, authenticate, login, logout
from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.core.exceptions import PermissionDenied
from django.db.models import Sum
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.utils import timezone
from ninja import Router, Schema
from ninja.utils import check_csrf
from pydantic import Field

from doors.errors import TOO_OLD, ErrorOut, SignedOut, StalePage, TooMany, problem
from people.address import client_address
from people.log import happened
from people.models import Visit
from people.passwords import checking

router = Router(tags=["session"])
SEEN_EVERY = timedelta(minutes=5)
"""How exactly it is known when a session was used last."""


class SessionIn(Schema):
    name: str = Field(max_length=150)
    password: str = Field(max_length=1000)


class SessionOut(Schema):
    """Who is signed in, and where the live process is, which tells a window what others do (config.live)."""

    name: str | None
    live: str = ""


@router.get("", response=SessionOut)
def who(request: HttpRequest) -> SessionOut:
    """Who is signed in; `name` is null for nobody."""
    get_token(request)
    if not request.user.is_authenticated:
        return SessionOut(name=None, live=_live(request))
    now = timezone.now()
    Visit.objects.filter(key=request.session.session_key, seen__lt=now - SEEN_EVERY).update(seen=now)
    return SessionOut(name=request.user.get_username(), live=_live(request))


@router.post("", response={200: SessionOut, 401: ErrorOut, 429: ErrorOut})
def sign_in(request: HttpRequest, given: SessionIn):  # type: ignore[no-untyped-def]
    """Sign in with a name and a password."""
    same_site(request)
    user = _checked(request, given)
    if user is None:
        # A name that nobody has may be a password in the wrong field: it is not kept.
        known = User.objects.filter(username=given.name).first()
        happened("sign-in failed", known, request=request)
        raise SignedOut("this name and password do not belong together")
    enter(request, user, "password")
    return SessionOut(name=user.get_username())


def enter(request: HttpRequest, user: User, by: str) -> None:
    """Begin a session of somebody who has shown who they are."""
    backend = settings.AUTHENTICATION_BACKENDS[-1]
    login(request, user, backend=backend)
    address = client_address(request)
    agent = request.headers.get("User-Agent", "")[:300].replace("\0", "")
    key = request.session.session_key or ""
    Visit.objects.update_or_create(key=key, defaults={"user": user, "agent": agent, "address": address, "by": by})
    happened("signed in", user, by, request)


@router.delete("", response=SessionOut)
def sign_out(request: HttpRequest) -> SessionOut:
    """Sign out."""
    same_site(request)
    if request.user.is_authenticated:
        Visit.objects.filter(key=request.session.session_key).delete()
        happened("signed out", request.user, request=request)  # type: ignore[arg-type]
    logout(request)
    return SessionOut(name=None)


def _live(request: HttpRequest) -> str:
    """Where the live process is: on a port of its own of this host, else behind the same address (a balancer)."""
    if not settings.LIVE_PORT:
        return ""
    host = urlsplit(f"//{request.get_host()}").hostname or ""
    shown = f"[{host}]" if ":" in host else host
    return f"{request.scheme}://{shown}:{settings.LIVE_PORT}"


@router.delete("/elsewhere", response={200: SessionOut, 401: ErrorOut})
def sign_out_elsewhere(request: HttpRequest):  # type: ignore[no-untyped-def]
    """End every session of this user but this one."""
    same_site(request)
    if not request.user.is_authenticated:
        raise SignedOut("sign in first")
    end_others(request)
    return SessionOut(name=request.user.get_username())


def end_others(request: HttpRequest) -> None:
    """End every session of whoever asks but the one that asks."""
    key = request.session.session_key
    Visit.objects.filter(user_id=request.user.pk or 0).exclude(key=key).delete()
    for row in Session.objects.filter(expire_date__gt=timezone.now()).exclude(session_key=key):
        if row.get_decoded().get(SESSION_KEY) == str(request.user.pk):
            row.delete()


MOST_OF_AN_ADDRESS = 60
"""Sign-ins that may fail from one address, of whatever names, in the time after which tries are forgotten."""


def _checked(request: HttpRequest, given: SessionIn) -> User | None:
    since = timezone.now() - settings.AXES_COOLOFF_TIME
    tries = AccessAttempt.objects.filter(ip_address=client_address(request), attempt_time__gt=since)
    if (tries.aggregate(failed=Sum("failures_since_start"))["failed"] or 0) >= MOST_OF_AN_ADDRESS:
        raise TooMany("there were too many tries from this address; wait ten minutes, then try again")
    with checking():
        try:
            user = authenticate(request, username=given.name, password=given.password)
            return user if isinstance(user, User) else None
        except PermissionDenied:
            return None


def locked_out(request: HttpRequest, *_: object, **__: object) -> HttpResponse:
    """What is said where a name was tried too often (django-axes)."""
    said = "there were too many tries with this name; wait ten minutes, then try again"
    return problem(said, 429, headers={"Retry-After": "600"})


def same_site(request: HttpRequest) -> None:
    """Refuse what another site sends where no session is asked for."""
    if check_csrf(request):
        raise StalePage(TOO_OLD)
