"""The API of a user's recipes: those that ship, and a library of one's own, used in every document."""

from __future__ import annotations

from typing import Any

import orjson
from django.db import transaction
from django.http import HttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field

from assets.models import Recipe, within_reach
from doors.asked import Asked
from doors.errors import ErrorOut
from nestline.document.reading import portable_recipe
from nestline.document.shipped_recipes import SHIPPED
from nestline.errors import NestLineError

router = Router(tags=["recipes"])
FORMAT = "nest-line-recipes"
MOST, LARGEST = 500, 2_000_000


class RecipeOut(Schema):
    name: str
    rules: dict[str, Any]
    own: bool
    for_new_frames: bool
    team: str | None = None
    """The team whose it is, where somebody else gave it."""


class RecipeIn(Schema):
    name: str = Field(min_length=1, max_length=80)
    rules: dict[str, Any]
    colors: dict[str, str] = {}


class Named(Schema):
    """A recipe by its name, or none."""

    name: str | None = None


def _all(request: Asked) -> list[RecipeOut]:
    own = [
        RecipeOut(name=r.name, rules=r.rules, own=True, for_new_frames=r.for_new_frames)
        for r in Recipe.objects.filter(owner=request.user)
    ]
    names = {r.name for r in own}
    given = Recipe.objects.filter(within_reach(request.user.id)).exclude(owner=request.user).select_related("team")
    for row in given.exclude(name__in=names).order_by("name", "id"):
        if row.name not in names and row.team:
            names.add(row.name)
            own.append(RecipeOut(name=row.name, rules=row.rules, own=False, for_new_frames=False, team=row.team.name))
    shipped = [
        RecipeOut(name=n, rules=r, own=False, for_new_frames=False) for n, r in SHIPPED.items() if n not in names
    ]
    return own + shipped


def _keep(request: Asked, name: str, rules: dict[str, Any], colors: dict[str, str]) -> None:
    name = name.strip()
    if not name or len(name) > 80:
        raise NestLineError("a recipe needs a name of at most 80 letters")
    if Recipe.objects.filter(owner=request.user).exclude(name=name).count() >= MOST:
        raise NestLineError(f"a library holds at most {MOST} recipes")
    Recipe.objects.update_or_create(owner=request.user, name=name, defaults={"rules": portable_recipe(rules, colors)})


@router.get("", response=list[RecipeOut])
def recipes(request: Asked) -> list[RecipeOut]:
    """One's own recipes, those of one's teams, then those that ship; one of one's own stands for a shipped one of its
    name."""
    return _all(request)


@router.post("", response={200: list[RecipeOut], 400: ErrorOut})
def keep_recipe(request: Asked, given: RecipeIn) -> list[RecipeOut]:
    """Keep a recipe in the library, or change it. `colors` are those of the document that it comes from."""
    _keep(request, given.name, given.rules, given.colors)
    return _all(request)


@router.post("/for-new-frames", response={200: list[RecipeOut], 400: ErrorOut})
def choose_for_new_frames(request: Asked, given: Named) -> list[RecipeOut]:
    """Choose the recipe that new frames follow, or none. A shipped one, or a team's, becomes one of one's own
    by that."""
    with transaction.atomic():
        Recipe.objects.filter(owner=request.user, for_new_frames=True).update(for_new_frames=False)
        if given.name is not None:
            row = Recipe.objects.filter(owner=request.user, name=given.name).first()
            rules = next((one.rules for one in _all(request) if one.name == given.name), None)
            if rules is None:
                raise NestLineError(f"there is no recipe “{given.name}” in the library any more")
            row = row or Recipe(owner=request.user, name=given.name, rules=rules)
            row.for_new_frames = True
            row.save()
    return _all(request)


@router.post("/drop", response={200: list[RecipeOut], 400: ErrorOut})
def drop_recipe(request: Asked, given: Named) -> list[RecipeOut]:
    """Take a recipe out of the library; documents that use it keep theirs."""
    Recipe.objects.filter(owner=request.user, name=given.name or "").delete()
    return _all(request)


@router.get("/library.json", include_in_schema=False)
def library(request: Asked) -> HttpResponse:
    """One's own recipes as JSON, to be brought in elsewhere."""
    rows = Recipe.objects.filter(owner=request.user)
    content = {"format": FORMAT, "version": 1, "recipes": {r.name: r.rules for r in rows}}
    response = HttpResponse(orjson.dumps(content, option=orjson.OPT_INDENT_2), content_type="application/json")
    response["Content-Disposition"] = 'attachment; filename="recipes.json"'
    return response


@router.post("/import", response={200: list[RecipeOut], 400: ErrorOut})
def bring_recipes(request: Asked, file: UploadedFile = File(...)) -> list[RecipeOut]:  # type: ignore[type-arg]
    """Bring recipes from JSON: a library's, or those of a document. Nothing is kept when one of them will not do."""
    if (file.size or 0) > LARGEST:
        raise NestLineError("a file of recipes has at most 2 MB")
    try:
        content = orjson.loads(file.read())
    except orjson.JSONDecodeError:
        raise NestLineError("this is no JSON file; recipes come as JSON") from None
    found = content.get("recipes") if isinstance(content, dict) else None
    if not isinstance(found, dict) or not found or not all(isinstance(r, dict) for r in found.values()):
        raise NestLineError('there are no recipes in this file: it has no "recipes": { … }')
    colors = content.get("colors")
    with transaction.atomic():
        for name, rules in found.items():
            _keep(request, name, rules, colors if isinstance(colors, dict) else {})
    return _all(request)
