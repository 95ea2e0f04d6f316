"""Recipes saved from frames, followed, changed, departed from and returned to, and let go."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Annotated, Any

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.grouping import Ids
from nestline.document import recipes
from nestline.document.edits import Operation, Raw
from nestline.document.model import Frame, ParagraphRules
from nestline.document.recipes import OF_THE_OBJECT, TEXT

RecipeName = Annotated[str, Field(min_length=1, max_length=80)]
FRAME_RULES = tuple(f.alias or name for name, f in Frame.model_fields.items() if name != "copy_name")


def _recipe(at: Acting, name: str) -> Raw:
    found: Raw | None = (at.document.raw.get("recipes") or {}).get(name)
    if found is None:
        raise ActError(f"there is no recipe “{name}” any more")
    return found


def _frame_of(at: Acting, object_id: str) -> tuple[Raw, Raw, Raw | None]:
    """An object that holds copy, as it is written and with its recipe written out, and that recipe."""
    raw = at.raw(object_id)
    if not raw.get("frame"):
        raise ActError(f"“{at.label(object_id)}” holds no copy; a recipe is for frames")
    recipe = _recipe(at, raw["recipe"]) if raw.get("recipe") else None
    return raw, recipes.following(raw, recipe) if recipe else raw, recipe


def _rewritten(at: Acting, raw: Raw, change: Callable[[Raw], Raw]) -> list[Operation]:
    """The paragraphs of a frame's copy changed, in every version of it."""
    out: list[Operation] = []
    copy = raw["frame"]["copy"]
    for version, content in at.document.raw["copies"][copy]["versions"].items():
        paragraphs = content.get("paragraphs", [])
        made = [change(p) for p in paragraphs]
        if made != paragraphs:
            path = ["copies", copy, "versions", version, "paragraphs"]
            out.append({"do": "put", "at": path, "value": made})
    return out


def _without(paragraph: Raw, rules: Iterable[str]) -> Raw:
    """A paragraph without its style and some rules of its own."""
    gone = {"style", *rules}
    return {k: v for k, v in paragraph.items() if k not in gone}


def _text_of(at: Acting, paragraph: Raw, base: Raw) -> Raw:
    """A paragraph's rules as a style: its own over its style's (or the recipe's)."""
    style = (at.document.raw.get("styles") or {}).get(paragraph.get("style"), base)
    own = {k: v for k, v in paragraph.items() if k in ParagraphRules.model_fields and v is not None}
    return {**style, **own}


class SaveRecipe(Given):
    object: str
    name: RecipeName
    rules: list[str]
    """The rules to take: names of a frame's rules, fill, stroke, paint, wrap, text."""
    version: str | None = None


@act("save-recipe", SaveRecipe)
def save_recipe(at: Acting, given: SaveRecipe) -> list[Operation]:
    """Make a recipe of some rules of a frame (or change the one of that name to them); the frame follows it."""
    raw, whole, old = _frame_of(at, given.object)
    wrong = set(given.rules) - {*FRAME_RULES, *OF_THE_OBJECT, TEXT}
    if wrong:
        raise ActError(f"“{sorted(wrong)[0]}” is no rule that a recipe can hold")
    if not given.rules:
        raise ActError("choose at least one rule for the recipe")
    defaults = Frame.model_validate({"copy": "any"}).model_dump(mode="json", by_alias=True)
    frame = {r: whole["frame"].get(r, defaults[r]) for r in given.rules if r in FRAME_RULES}
    recipe: Raw = {"frame": frame}
    for rule in OF_THE_OBJECT:
        if rule in given.rules:
            recipe[rule] = whole.get(rule, {"paint": True, "wrap": {}}.get(rule))
    if TEXT in given.rules:
        copy = raw["frame"]["copy"]
        shown, _ = at.document.version_of(copy, given.version)
        paragraphs = at.document.raw["copies"][copy]["versions"][shown].get("paragraphs", [])
        recipe[TEXT] = _text_of(at, paragraphs[0] if paragraphs else {}, (old or {}).get(TEXT) or {})
    name = given.name.strip()
    out: list[Operation] = [{"do": "put", "at": ["recipes", name], "value": recipe}]
    return out + _taken_up(at, given.object, name, recipe)


def _taken_up(at: Acting, object_id: str, name: str, recipe: Raw) -> list[Operation]:
    """A frame made to follow a recipe in all that it holds: what it set itself of that goes."""
    raw, whole, old = _frame_of(at, object_id)
    held = recipes.held(recipe)
    # What it had of another recipe and the new one does not hold stays as it is.
    kept = whole if old is not None and raw.get("recipe") != name else raw
    made = {k: v for k, v in kept.items() if k not in held and k != "departs"}
    made["frame"] = {k: v for k, v in kept["frame"].items() if k not in held}
    made["recipe"] = name
    home, index = at.home(object_id)
    out: list[Operation] = [{"do": "splice", "at": home, "from": index, "remove": 1, "insert": [made]}]
    if recipe.get(TEXT):
        out += _rewritten(at, raw, lambda p: _without(p, recipe[TEXT]))
    return out


class Follow(Given):
    objects: Ids
    recipe: RecipeName
    rules: dict[str, Any] | None = None
    """The recipe itself, when it comes from a library; one of the document's with that name goes before it."""
    version: str | None = None


@act("follow", Follow)
def follow(at: Acting, given: Follow) -> list[Operation]:
    """Make frames follow a recipe."""
    there = (at.document.raw.get("recipes") or {}).get(given.recipe)
    recipe = there if there is not None else given.rules
    if recipe is None:
        raise ActError(f"there is no recipe “{given.recipe}” any more")
    out: list[Operation] = []
    if there is None:
        out.append({"do": "put", "at": ["recipes", given.recipe], "value": recipe})
    for identity in dict.fromkeys(given.objects):
        out += _taken_up(at, identity, given.recipe, recipe)
    return out


class LetGo(Given):
    objects: Ids
    version: str | None = None


@act("let-go", LetGo)
def let_go(at: Acting, given: LetGo) -> list[Operation]:
    """Let frames go from their recipes: they keep every rule as it stands, as their own."""
    out: list[Operation] = []
    for identity in dict.fromkeys(given.objects):
        raw, whole, recipe = _frame_of(at, identity)
        if recipe is None:
            continue
        home, index = at.home(identity)
        made = {k: v for k, v in whole.items() if k not in ("recipe", "departs")}
        out.append({"do": "splice", "at": home, "from": index, "remove": 1, "insert": [made]})
        if recipe.get(TEXT) and TEXT not in whole.get("departs", ()):
            style = recipe[TEXT]
            out += _rewritten(at, raw, lambda p, style=style: p if p.get("style") else {**style, **p})  # type: ignore[misc]
    return out


class ReturnTo(Given):
    object: str
    rules: list[str]
    """Rules that the frame sets otherwise; `text.size` and the like for those of its copy."""
    version: str | None = None


@act("return-to-recipe", ReturnTo)
def return_to_recipe(at: Acting, given: ReturnTo) -> list[Operation]:
    """Take some of a frame's rules from its recipe again."""
    raw, _, recipe = _frame_of(at, given.object)
    if recipe is None:
        raise ActError(f"“{at.label(given.object)}” follows no recipe")
    gone = set(given.rules)
    made = {k: v for k, v in raw.items() if k not in gone or k not in OF_THE_OBJECT}
    made["frame"] = {k: v for k, v in raw["frame"].items() if k not in gone}
    named = [r for r in raw.get("departs", ()) if r not in gone]
    made.pop("departs", None)
    if named:
        made["departs"] = named
    home, index = at.home(given.object)
    out: list[Operation] = []
    if made != raw:
        out.append({"do": "splice", "at": home, "from": index, "remove": 1, "insert": [made]})
    text = {r.removeprefix(f"{TEXT}.") for r in gone if r.startswith(f"{TEXT}.")}
    if text:
        out += _rewritten(at, raw, lambda p: _without(p, text))
    return out


class RecipeFrom(Given):
    object: str
    version: str | None = None


@act("recipe-from", RecipeFrom)
def recipe_from(at: Acting, given: RecipeFrom) -> list[Operation]:
    """Make a frame's recipe as the frame is, where it departs: all that follow it become so."""
    raw, whole, recipe = _frame_of(at, given.object)
    if recipe is None:
        raise ActError(f"“{at.label(given.object)}” follows no recipe")
    rules = [r for r in recipes.held(recipe) if not r.startswith(f"{TEXT}.")]
    rules += [TEXT] if recipe.get(TEXT) else []
    name = raw["recipe"]
    return save_recipe(at, SaveRecipe(object=given.object, name=name, rules=rules, version=given.version))


class DropRecipe(Given):
    name: RecipeName


@act("drop-recipe", DropRecipe)
def drop_recipe(at: Acting, given: DropRecipe) -> list[Operation]:
    """Take a recipe out of the document; frames that followed it keep their rules."""
    _recipe(at, given.name)
    followers = [t.id for _, t in at.document.objects() if t.recipe == given.name]
    framed = [i for i in followers if at.raw(i).get("frame")]
    out = let_go(at, LetGo(objects=framed)) if framed else []
    out += [{"do": "cut", "at": ["objects", i, "recipe"]} for i in followers if i not in framed]
    return [*out, {"do": "cut", "at": ["recipes", given.name]}]


class RenameRecipe(Given):
    name: RecipeName
    to: RecipeName


@act("rename-recipe", RenameRecipe)
def rename_recipe(at: Acting, given: RenameRecipe) -> list[Operation]:
    """Call a recipe otherwise, for all that follow it."""
    _recipe(at, given.name)
    new = given.to.strip()
    if new != given.name and new in at.document.head.recipes:
        raise ActError(f"there is a recipe “{new}” already")
    renamed = {(new if k == given.name else k): v for k, v in at.document.raw["recipes"].items()}
    followers = [t.id for _, t in at.document.objects() if t.recipe == given.name]
    return [
        {"do": "put", "at": ["recipes"], "value": renamed},
        *({"do": "put", "at": ["objects", i, "recipe"], "value": new} for i in followers),
    ]
