"""Teams: who is in them, and who says so."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db import IntegrityError, transaction
from ninja import Router, Schema
from pydantic import Field

from doors.asked import Asked
from doors.errors import ErrorOut, SaidOut
from nestline.errors import NestLineError
from people.errors import NotThere, Refused
from people.log import happened
from people.models import Member, Team

router = Router(tags=["teams"])
MOST_TEAMS = 50
"""Teams that somebody may keep."""


class TeamIn(Schema):
    name: str = Field(min_length=1, max_length=80)


class MemberIn(Schema):
    name: str = Field(max_length=150)
    keeper: bool = False


class MemberOut(Schema):
    name: str
    keeper: bool


class TeamOut(Schema):
    id: int
    name: str
    keeper: bool
    """Whether it is yours to keep."""
    members: list[MemberOut]


def _out(team: Team, user: User) -> TeamOut:
    members = [MemberOut(name=m.user.get_username(), keeper=m.keeper) for m in team.members.select_related("user")]
    mine = any(m.keeper and m.name == user.get_username() for m in members)
    return TeamOut(id=team.id, name=team.name, keeper=mine, members=members)


def team_of(user_id: int, team_id: int, keeper: bool = False) -> Team:
    """A team that somebody is in; with `keeper` one that they keep. Raises NotThere, Refused."""
    found = Member.objects.select_related("team").filter(team_id=team_id, user_id=user_id).first()
    if found is None:
        raise NotThere("this team is not here, or you are not in it")
    if keeper and not found.keeper:
        raise Refused(f"who keeps “{found.team.name}” says who is in it")
    return found.team


@router.get("", response=list[TeamOut])
def teams(request: Asked) -> list[TeamOut]:
    """The teams that one is in."""
    rows = Team.objects.filter(members__user_id=request.user.id).order_by("name")
    return [_out(team, request.user) for team in rows]  # type: ignore[arg-type]


@router.get("/people", response=list[str])
def people(request: Asked) -> list[str]:
    """The names of all who have an account here: to share with, or to take into a team."""
    return list(User.objects.filter(is_active=True).order_by("username").values_list("username", flat=True)[:2000])


@router.post("", response={200: TeamOut, 400: ErrorOut})
def make_team(request: Asked, given: TeamIn) -> TeamOut:
    """Make a team; whoever makes it keeps it."""
    if Member.objects.filter(user_id=request.user.id, keeper=True).count() >= MOST_TEAMS:
        raise NestLineError(f"you keep {MOST_TEAMS} teams already")
    name = given.name.strip().replace("\0", "")
    if not name:
        raise NestLineError("give the team a name")
    try:
        with transaction.atomic():
            team = Team.objects.create(name=name)
            Member.objects.create(team=team, user_id=request.user.id, keeper=True)
    except IntegrityError:
        raise NestLineError(f"there is a team called “{name}” already") from None
    happened("team made", request.user, name, request)  # type: ignore[arg-type]
    return _out(team, request.user)  # type: ignore[arg-type]


@router.put("/{team_id}/members", response={200: TeamOut, 400: ErrorOut, 403: ErrorOut, 404: ErrorOut})
def put_member(request: Asked, team_id: int, given: MemberIn) -> TeamOut:
    """Take somebody into a team, or say whether they keep it."""
    team = team_of(request.user.id, team_id, keeper=True)
    user = User.objects.filter(username=given.name, is_active=True).first()
    if user is None:
        raise NotThere(f"nobody is called “{given.name[:60]}” here")
    with transaction.atomic():
        Member.objects.update_or_create(team=team, user=user, defaults={"keeper": given.keeper})
        _still_kept(team)
    happened("into a team", request.user, f"{given.name} into {team.name}", request)  # type: ignore[arg-type]
    return _out(team, request.user)  # type: ignore[arg-type]


@router.delete("/{team_id}/members/{name}", response={200: SaidOut, 400: ErrorOut, 403: ErrorOut, 404: ErrorOut})
def drop_member(request: Asked, team_id: int, name: str) -> SaidOut:
    """Take somebody out of a team, or leave it."""
    team = team_of(request.user.id, team_id, keeper=name != request.user.get_username())
    with transaction.atomic():
        if not Member.objects.filter(team=team, user__username=name).delete()[0]:
            raise NotThere(f"“{name}” is not in this team")
        _still_kept(team)
    happened("out of a team", request.user, f"{name} out of {team.name}", request)  # type: ignore[arg-type]
    return SaidOut(message=f"“{name}” is not in “{team.name}” any more")


@router.delete("/{team_id}", response={200: SaidOut, 403: ErrorOut, 404: ErrorOut})
def end_team(request: Asked, team_id: int) -> SaidOut:
    """End a team: what was shared with it is shared with its members no more, its library goes back to who
    brought it."""
    team = team_of(request.user.id, team_id, keeper=True)
    name = team.name
    team.delete()
    happened("team ended", request.user, name, request)  # type: ignore[arg-type]
    return SaidOut(message=f"“{name}” has ended")


def _still_kept(team: Team) -> None:
    """Raises NestLineError where nobody would keep a team that has members."""
    if not team.members.filter(keeper=True).exists():
        raise NestLineError("a team has somebody who keeps it; name another first, or end the team")
