"""Libraries of teams: recipes, fonts and pictures that members give, and colours."""

from __future__ import annotations

import re
from typing import Any, Literal

from django.db.models import Q
from ninja import Router, Schema
from pydantic import Field

from assets.models import Font, Picture, Recipe, TeamColor
from assets.wire import PictureOut
from doors.asked import Asked
from doors.errors import ErrorOut
from nestline.errors import NestLineError
from people.errors import NotThere
from people.log import happened
from people.models import Team
from people.teams import team_of

router = Router(tags=["libraries"])
MOST_COLORS = 200
Kind = Literal["recipe", "font", "picture"]
NAMED: dict[Kind, tuple[Any, str]] = {
    "recipe": (Recipe, "name"),
    "font": (Font, "family"),
    "picture": (Picture, "file"),
}
"""The rows of each kind, and the field that they are called by."""


class GivenOut(Schema):
    name: str
    by: str
    mine: bool


class ColorOut(Schema):
    name: str
    figure: str


class TeamPictureOut(PictureOut):
    by: str
    mine: bool


class LibraryOut(Schema):
    team: int
    name: str
    recipes: list[GivenOut]
    fonts: list[GivenOut]
    pictures: list[TeamPictureOut]
    colors: list[ColorOut]


class GiveIn(Schema):
    """What is given to a team, or taken back: one's own recipe by its name, font by its family, picture by its file."""

    kind: Kind
    name: str = Field(max_length=200)
    give: bool = True


class ColorIn(Schema):
    name: str = Field(min_length=1, max_length=60)
    figure: str = Field(max_length=7)


class MineOut(Schema):
    """What of one's own can be given."""

    recipes: list[str]
    fonts: list[str]
    pictures: list[PictureOut]


def _library(team: Team, user_id: int) -> LibraryOut:
    def given(kind: Kind) -> list[GivenOut]:
        rows, field = NAMED[kind]
        found = (
            rows.objects.filter(team=team).order_by(field).values_list(field, "owner__username", "owner_id").distinct()
        )
        return [GivenOut(name=name, by=by, mine=owner == user_id) for name, by, owner in found]

    pictures = Picture.objects.filter(team=team).select_related("owner").order_by("name", "id")
    return LibraryOut(
        team=team.id,
        name=team.name,
        recipes=given("recipe"),
        fonts=given("font"),
        pictures=[
            TeamPictureOut(**PictureOut.of(p).dict(), by=p.owner.get_username(), mine=p.owner_id == user_id)
            for p in pictures
        ],
        colors=[ColorOut(name=c.name, figure=c.figure) for c in team.colors.all()],  # type: ignore[attr-defined]
    )


def colors_for(user_id: int) -> list[tuple[str, str, str]]:
    """Name, figure and team of the colours that somebody's teams keep."""
    rows = TeamColor.objects.filter(team__members__user_id=user_id).order_by("team__name", "team_id", "name")
    return list(rows.values_list("name", "figure", "team__name"))


@router.get("", response=list[LibraryOut])
def libraries(request: Asked) -> list[LibraryOut]:
    """The libraries of the teams that one is in."""
    teams = Team.objects.filter(members__user_id=request.user.id).order_by("name")
    return [_library(team, request.user.id) for team in teams]


@router.get("/mine", response=MineOut)
def mine(request: Asked) -> MineOut:
    """One's own recipes, fonts and pictures, which can be given to a team."""
    own = Q(owner_id=request.user.id)
    return MineOut(
        recipes=list(Recipe.objects.filter(own).values_list("name", flat=True)),
        fonts=sorted(set(Font.objects.filter(own).values_list("family", flat=True))),
        pictures=[PictureOut.of(row) for row in Picture.objects.filter(own).order_by("-id")[:500]],
    )


@router.put("/{team_id}", response={200: LibraryOut, 400: ErrorOut, 404: ErrorOut})
def give(request: Asked, team_id: int, given: GiveIn) -> LibraryOut:
    """Give something of one's own to a team, or take it back; who keeps the team gives back what others gave."""
    team = team_of(request.user.id, team_id)
    rows, field = NAMED[given.kind]
    named = rows.objects.filter(**{field: given.name})
    if given.give:
        count = named.filter(owner_id=request.user.id).update(team=team)
    else:
        keeper = team.members.filter(user_id=request.user.id, keeper=True).exists()
        count = named.filter(Q(team=team) if keeper else Q(team=team, owner_id=request.user.id)).update(team=None)
    if not count:
        raise NotThere(f"there is no {given.kind} “{given.name[:60]}” of yours")
    what = "given to a team" if given.give else "taken back from a team"
    happened(what, request.user, f"{given.kind} {given.name} · {team.name}", request)  # type: ignore[arg-type]
    return _library(team, request.user.id)


@router.put("/{team_id}/colors", response={200: LibraryOut, 400: ErrorOut, 404: ErrorOut})
def keep_color(request: Asked, team_id: int, given: ColorIn) -> LibraryOut:
    """Keep a colour with a team, or change it."""
    team = team_of(request.user.id, team_id)
    name = given.name.strip().replace("\0", "")
    if not re.fullmatch(r"#[0-9a-fA-F]{6}", given.figure) or not name:
        raise NestLineError("a colour has a name and a figure as #2f6f8f")
    if team.colors.exclude(name=name).count() >= MOST_COLORS:  # type: ignore[attr-defined]
        raise NestLineError(f"a team keeps at most {MOST_COLORS} colours")
    TeamColor.objects.update_or_create(team=team, name=name, defaults={"figure": given.figure.lower()})
    return _library(team, request.user.id)


@router.delete("/{team_id}/colors/{name}", response={200: LibraryOut, 404: ErrorOut})
def drop_color(request: Asked, team_id: int, name: str) -> LibraryOut:
    """Take a colour away from a team; documents keep it."""
    team = team_of(request.user.id, team_id)
    if not TeamColor.objects.filter(team=team, name=name).delete()[0]:
        raise NotThere("this colour is not here any more")
    return _library(team, request.user.id)
