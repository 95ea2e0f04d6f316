"""Invitations, which administrators make: links by which somebody makes an account of their own."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.contrib.auth.models import User
from django.utils import timezone
from ninja import Router, Schema
from pydantic import Field

from doors.asked import Asked
from doors.errors import ErrorOut, SaidOut
from people.entry import send
from people.errors import NotThere, Refused
from people.log import happened
from people.models import Invitation, Team, digest
from people.names import checked_email, checked_name

router = Router(tags=["account"])
DAYS = 14


class InviteIn(Schema):
    name: str = Field("", max_length=150)
    email: str = Field("", max_length=254)
    team: int | None = None


class InvitationOut(Schema):
    id: int
    name: str
    email: str
    team: str | None
    ends: datetime
    link: str = ""
    """Told once, when it is made: afterwards nobody can read it."""


def _administrator(request: Asked) -> None:
    if not request.user.is_staff:
        raise Refused("only an administrator invites")


def _out(row: Invitation, link: str = "") -> InvitationOut:
    team = row.team.name if row.team else None
    return InvitationOut(id=row.id, name=row.name, email=row.email, team=team, ends=row.ends, link=link)


@router.get("/invitations", response={200: list[InvitationOut], 403: ErrorOut})
def invitations(request: Asked) -> list[InvitationOut]:
    """Those that are open."""
    _administrator(request)
    return [_out(row) for row in Invitation.open().select_related("team").order_by("-id")]


@router.post("/invitations", response={200: InvitationOut, 400: ErrorOut, 403: ErrorOut})
def invite(request: Asked, given: InviteIn) -> InvitationOut:
    """Make an invitation; where an address is given, its link is sent there, too."""
    _administrator(request)
    team = Team.objects.filter(id=given.team).first() if given.team else None
    if given.team and team is None:
        raise NotThere("this team is not here any more")
    row, token = make_invitation(request.user, given.name, given.email, team)  # type: ignore[arg-type]
    link = request.build_absolute_uri(f"/invited/{token}")
    happened("invited", request.user, row.name or row.email, request)  # type: ignore[arg-type]
    if row.email:
        send(
            row.email,
            "You are invited to Nest Line",
            f"{request.user.get_username()} invites you to Nest Line.\n\n{link}\n\nThe link is good for "
            f"{DAYS} days, and once.\n",
        )
    return _out(row, link)


def make_invitation(by: User | None, name: str, email: str, team: Team | None) -> tuple[Invitation, str]:
    """An invitation, and the token of its link, which is kept nowhere. Raises NestLineError."""
    token = Invitation.new_token()
    row = Invitation.objects.create(
        token=digest(token),
        name=checked_name(name) if name.strip() else "",
        email=checked_email(email),
        by=by,
        team=team,
        ends=timezone.now() + timedelta(days=DAYS),
    )
    return row, token


@router.delete("/invitations/{invitation_id}", response={200: SaidOut, 403: ErrorOut, 404: ErrorOut})
def take_back(request: Asked, invitation_id: int) -> SaidOut:
    """An invitation that is open lets nobody in any more."""
    _administrator(request)
    if not Invitation.open().filter(id=invitation_id).delete()[0]:
        raise NotThere("this invitation is over already")
    happened("invitation taken back", request.user, request=request)  # type: ignore[arg-type]
    return SaidOut(message="the invitation is taken back")
