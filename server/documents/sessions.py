"""Signing in and out."""

from __future__ import annotations

from urllib.parse import urlsplit

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema
from ninja.errors import HttpError
from ninja.utils import check_csrf

from documents.errors import ErrorOut

router = Router(tags=["session"])


class SessionIn(Schema):
    name: str
    password: str


class SessionOut(Schema):
    """Who is signed in, and where the live process is, which tells a window what others do (config.live)."""

    name: str | None
    live: str = ""


@router.get("", response=SessionOut)
def who(request: HttpRequest) -> SessionOut:
    """Who is signed in; nobody is None."""
    get_token(request)
    name = request.user.get_username() or None if request.user.is_authenticated else None
    return SessionOut(name=name, live=_live(request))


@router.post("", response={200: SessionOut, 401: ErrorOut})
def sign_in(request: HttpRequest, given: SessionIn):  # type: ignore[no-untyped-def]
    """Sign in with a name and a password."""
    _same_site(request)
    user = authenticate(request, username=given.name, password=given.password)
    if user is None:
        return 401, ErrorOut(message="this name and password do not belong together")
    login(request, user)
    return SessionOut(name=user.get_username())


@router.delete("", response=SessionOut)
def sign_out(request: HttpRequest) -> SessionOut:
    """Sign out."""
    _same_site(request)
    logout(request)
    return SessionOut(name=None)


def _live(request: HttpRequest) -> str:
    """Where the live process is: on a port of its own of this host, else behind the same address (a balancer)."""
    if not settings.LIVE_PORT:
        return ""
    host = urlsplit(f"//{request.get_host()}").hostname or ""
    shown = f"[{host}]" if ":" in host else host
    return f"{request.scheme}://{shown}:{settings.LIVE_PORT}"


def _same_site(request: HttpRequest) -> None:
    if check_csrf(request):
        raise HttpError(403, "this page is too old; load it again")
