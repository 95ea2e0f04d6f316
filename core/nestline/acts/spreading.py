"""Changes of one object that are meant for more: for all that are chosen, or for the recipe that it follows.

Both hold operations and acts, and come to operations and acts: they are opened before anything is done
(`acts.expanding`).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Annotated, Any

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given
from nestline.acts.wraps import SetWrap, wrapped
from nestline.document.edits import Operation
from nestline.document.model import PageObject
from nestline.document.recipes import OF_THE_OBJECT, TEXT

Operations = Annotated[list[dict[str, Any]], Field(min_length=1, max_length=2000)]


class Spread(Given):
    operations: Operations


class ForAll(Spread):
    objects: Annotated[list[str], Field(min_length=1, max_length=5000)]
    """The one spoken of first."""


def for_all(at: Acting, given: ForAll) -> list[Operation]:
    """Changes of the first of several objects as changes of all: of paint and wrap all get them, of a frame's rules and
    its copy's paragraphs the frames."""
    ids = given.objects
    things = {t.id: t for _, t in at.document.objects() if t.id in ids}
    frames = [things[i] for i in ids if i in things and things[i].frame]
    out: list[Operation] = []
    done: set[object] = set()
    for operation in given.operations:
        path = _path(operation)
        if path[:1] == ["objects"] and len(path) > 2 and path[1] in ids and path[2] in OF_THE_OBJECT:
            out += [
                {**operation, "at": ["objects", i, *path[2:]]} for i in (path[1], *(i for i in ids if i != path[1]))
            ]
            continue
        out.append(operation)
        if len(frames) > 1:
            out += _for_frames(at, operation, path, frames[0], frames[1:], done)
    return out


def _path(operation: Operation) -> list[Any]:
    path = operation.get("at") if operation.get("do") != "act" else None
    return path if isinstance(path, list) else []


def _for_frames(
    at: Acting,
    operation: Operation,
    path: list[Any],
    first: PageObject,
    others: Sequence[PageObject],
    done: set[object],
) -> Iterator[Operation]:
    """What a change of the first frame, or of its copy, is for the other frames."""
    assert first.frame is not None
    if path[:1] == ["objects"] and len(path) > 3 and path[1] == first.id and path[2] == "frame":
        for other in others:
            yield {**operation, "at": ["objects", other.id, *path[2:]]}
    elif operation.get("act") == "set-style" and (operation.get("given") or {}).get("copy") == first.frame.copy_name:
        for name, version, count in _copies(at, first, others):
            more = {"copy": name, "version": version, "paragraphs": list(range(count))}
            yield {**operation, "given": {**operation["given"], **more}}
    elif _is_of_paragraph(operation, path, first.frame.copy_name) and path[6] not in done:
        done.add(path[6])  # one that is said of several paragraphs of the first is said once of the others
        for name, version, count in _copies(at, first, others):
            for number in range(count):
                yield {**operation, "at": ["copies", name, "versions", version, "paragraphs", number, path[6]]}


def _is_of_paragraph(operation: Operation, path: list[Any], copy: str) -> bool:
    """Whether a rule of one paragraph of a copy is put."""
    puts = operation.get("do") == "put" and len(path) == 7
    return puts and path[:2] == ["copies", copy] and path[4] == "paragraphs"


def _copies(at: Acting, first: PageObject, others: Sequence[PageObject]) -> Iterator[tuple[str, str, int]]:
    """The other frames' copies, each once: its name, the version that is shown, and how many paragraphs it has."""
    assert first.frame is not None
    for name in dict.fromkeys(other.frame.copy_name for other in others if other.frame):
        if name != first.frame.copy_name:
            version, content = at.document.version_of(name)
            yield name, version, len(content.paragraphs)


class OntoRecipe(Spread):
    object: str
    recipe: str


def onto_recipe(at: Acting, given: OntoRecipe) -> list[Operation]:
    """Changes of a frame as changes of the recipe that it follows; where it departed from that, it returns."""
    thing = at.thing(given.object)
    if thing.recipe != given.recipe:
        raise ActError(f"“{at.label(thing)}” does not follow “{given.recipe}” any more")
    copy = thing.frame.copy_name if thing.frame else None
    out: list[Operation] = []
    back: dict[str, None] = {}
    put: set[object] = set()
    for operation in given.operations:
        path = _path(operation)
        mine = path[:2] == ["objects", thing.id]
        if mine and len(path) > 3 and path[2] == "frame" and path[3] != "copy":
            back[str(path[3])] = None
            out.append({**operation, "at": ["recipes", given.recipe, *path[2:]]})
        elif mine and len(path) > 2 and path[2] in OF_THE_OBJECT:
            back[str(path[2])] = None
            out.append({**operation, "at": ["recipes", given.recipe, *path[2:]]})
        elif copy is not None and _is_of_paragraph(operation, path, copy):
            back[f"{TEXT}.{path[6]}"] = None
            if path[6] not in put:
                out.append({**operation, "at": ["recipes", given.recipe, TEXT, path[6]]})
            put.add(path[6])
        elif operation.get("act") == "wrap" and thing.id in (operation.get("given") or {}).get("objects", ()):
            back["wrap"] = None
            value = wrapped(at.whole(thing.id).get("wrap"), SetWrap.model_validate(operation["given"]))
            out.append({"do": "put", "at": ["recipes", given.recipe, "wrap"], "value": value})
        else:
            out.append(operation)
    if back:
        out.append({"do": "act", "act": "return-to-recipe", "given": {"object": thing.id, "rules": list(back)}})
    return out
