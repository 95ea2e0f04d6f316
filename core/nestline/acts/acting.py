"""What an act is, and how acts become operations."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError

from nestline.document import edits, recipes
from nestline.document.edits import Operation, Raw
from nestline.document.model import PageObject
from nestline.document.reading import Document, in_users_words
from nestline.errors import NestLineError
from nestline.nesting.placed import PlacedNest
from nestline.studio import Studio


class ActError(NestLineError):
    """The act cannot be done on this document, in the designer's words."""


class Given(BaseModel):
    """Base of what an act is given."""

    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True)


G = TypeVar("G", bound=Given)


@dataclass(frozen=True)
class Acting:
    """What an act works on: the document as it stands, and the studio for fonts, pictures and nests."""

    studio: Studio
    document: Document

    def thing(self, object_id: str) -> PageObject:
        """An object by its id. Raises ActError."""
        return self.place(object_id)[2]

    def place(self, object_id: str) -> tuple[int, int, PageObject]:
        """Page, place in its stacking order, and the object. Raises ActError."""
        for page_index, page in enumerate(self.document.pages):
            for index, thing in enumerate(page.objects):
                if thing.id == object_id:
                    return page_index, index, thing
        raise ActError(f"there is no object “{object_id}” any more")

    def label(self, thing: PageObject | str) -> str:
        """What an object is called."""
        identity = thing if isinstance(thing, str) else thing.id
        return self.document.labels.get(identity, identity)

    def stands(self, object_id: str, version: str | None = None) -> PageObject:
        """An object as it stands once frames have taken the size of their copy, ties hold, and what belongs to copy has
        its place in it."""
        page, _, thing = self.place(object_id)
        if not self.follows(thing):
            return thing
        return self.studio.nest(self.document, version, [page]).moved.get(thing.id, thing)

    def follows(self, thing: PageObject) -> bool:
        """Whether an object may come to stand otherwise than it is written."""
        along = thing.anchor is not None or thing.id in self.document.leader_of
        return along or bool(thing.ties) or bool(thing.frame and thing.frame.give)

    def placed(self, object_id: str, version: str | None = None, raw: Raw | None = None) -> PlacedNest:
        """A frame's nest, in the document or in a changed one. Raises ActError where the frame is not set anywhere."""
        document = self.document if raw is None else self.studio.read(raw)
        pages = [document.page_of[object_id]] if object_id in document.page_of else []
        for placed in self.studio.nest(document, version, pages):
            if placed.thing.id == object_id:
                return placed
        raise ActError(f"“{self.label(object_id)}” is not set anywhere: it is hidden, or its words are left over")

    def home(self, object_id: str) -> tuple[list[str | int], int]:
        """The path of the list that an object stands in (its page's, or its group's), and its place there."""
        page, index, _ = self.place(object_id)
        path = self.document.pages[page].paths[index]
        return list(path[:-1]), int(path[-1])

    def raw(self, object_id: str) -> Raw:
        """An object as it is written in the document."""
        path, index = self.home(object_id)
        return self.list_at(path)[index]

    def whole(self, object_id: str) -> Raw:
        """An object as it is written, with what it takes from its recipe."""
        raw = self.raw(object_id)
        name = raw.get("recipe")
        return recipes.following(raw, self.document.raw["recipes"][name]) if name else raw

    def list_at(self, path: Sequence[str | int]) -> list[Raw]:
        """The list of objects at a path of the document."""
        part: Any = self.document.raw
        for step in path:
            part = part[step]
        return part  # type: ignore[no-any-return]

    def fresh_id(self, stem: str = "o", also: Iterable[str] = ()) -> str:
        taken = {t.id for _, t in self.document.objects()}
        taken |= {g.group.id for page in self.document.pages for g in page.groups}
        return fresh(taken | set(also), stem)


def fresh(taken: Iterable[str], stem: str) -> str:
    """The first of stem1, stem2 … that is not taken."""
    all_taken = set(taken)
    number = 1
    while f"{stem}{number}" in all_taken:
        number += 1
    return f"{stem}{number}"


Act = Callable[[Acting, Any], list[Operation]]
_ACTS: dict[str, tuple[type[Given], Act]] = {}


def act(
    name: str, given: type[G]
) -> Callable[[Callable[[Acting, G], list[Operation]]], Callable[[Acting, G], list[Operation]]]:
    """Make a function an act of this name."""

    def register(function: Callable[[Acting, G], list[Operation]]) -> Callable[[Acting, G], list[Operation]]:
        _ACTS[name] = (given, function)
        return function

    return register


def expanded(studio: Studio, raw: Raw, operations: Sequence[Operation]) -> list[Operation]:
    """The operations with every act turned into what it does, and those by which what is seen stays (`acts.seen`). Raises
    NestLineError."""
    from nestline.acts.seen import staying

    out: list[Operation] = []
    begun = raw
    last_act = max((i for i, o in enumerate(operations) if isinstance(o, dict) and o.get("do") == "act"), default=-1)
    for index, operation in enumerate(operations):
        if index > last_act:
            out += operations[index:]
            break
        done = [operation] if operation.get("do") != "act" else _one(studio, raw, operation)
        if index < last_act and done:
            raw = edits.apply(raw, done).document
        out += done
    _check_fonts(studio, begun, out)
    return staying(studio, begun, out)


def _check_fonts(studio: Studio, raw: Raw, operations: Sequence[Operation]) -> None:
    """Raises FontError for a font that is named anew and is not there; one that the document names already stands."""
    named = set(edits.named("font", operations))
    for family in sorted(family for family in named if isinstance(family, str) and not studio.fonts.has_family(family)):
        if family not in set(edits.named("font", raw)):
            studio.fonts.check_family(family)


def _one(studio: Studio, raw: Raw, operation: Operation) -> list[Operation]:
    from nestline.acts import all_acts  # noqa: F401  (registers them)

    found = _ACTS.get(str(operation.get("act")))
    if found is None:
        raise ActError(f"there is no act “{operation.get('act')}”")
    model, function = found
    try:
        given = model.model_validate(operation.get("given") or {})
    except ValidationError as error:
        raise in_users_words(error, ("given",)) from None
    at = Acting(studio, studio.read(raw))
    return completed(at, function(at, given))


def completed(at: Acting, operations: list[Operation]) -> list[Operation]:
    """An act's operations, and those by which nothing names what they take away: chains close over it, ties to it and its
    places in copies are let go, and page numbers that were those of such a frame are of their own."""
    chained = _with_whole_chains(at.document.raw, operations)
    if all(o["at"][0] == "objects" and len(o["at"]) > 2 for o in operations):
        return chained  # fields of objects, as in every drag: nothing is taken away
    return _with_live_ties(at, _with_live_names(at, chained))


def _with_live_names(at: Acting, operations: list[Operation]) -> list[Operation]:
    """Operations, and those that take the names of what they take away out of copies: places of objects, and frames whose
    page a number says."""
    named = {
        name
        for versions in at.document.copies.values()
        for content in versions.values()
        for paragraph in content.paragraphs
        for run in paragraph.runs
        for name in (run.of, run.object)
        if name is not None
    }
    if not operations or not named:
        return operations
    after, out = edits.apply(at.document.raw, operations).document, list(operations)
    gone = named.difference(t["id"] for page in after["pages"] for t in leaves_of(page.get("objects", [])))
    for name, copy in after.get("copies", {}).items() if gone else ():
        for version, content in copy["versions"].items():
            old = content.get("paragraphs", [])
            left = [_with_own_numbers(paragraph, gone) for paragraph in without_object(old, gone)]
            for i, (now, was) in enumerate(zip(left, old, strict=True)):
                if now != was:
                    path = ["copies", name, "versions", version, "paragraphs", i, "runs"]
                    out.append({"do": "put", "at": path, "value": now["runs"]})
    return out


def _with_own_numbers(paragraph: Raw, gone: set[str]) -> Raw:
    """A paragraph whose page numbers name none of some frames."""
    if not any(run.get("of") in gone for run in paragraph.get("runs", [])):
        return paragraph
    runs = [{k: v for k, v in r.items() if k != "of" or v not in gone} for r in paragraph["runs"]]
    return {**paragraph, "runs": runs}


def without_object(paragraphs: list[Raw], objects: set[str]) -> list[Raw]:
    """Paragraphs without the runs of some objects; runs that look the same are joined again."""
    out = []
    for paragraph in paragraphs:
        runs: list[Raw] = []
        for run in paragraph.get("runs", []):
            if run.get("object") in objects:
                continue
            alike = runs and not any(one.get("object") or one.get("field") for one in (run, runs[-1]))
            if alike and {**runs[-1], "text": ""} == {**run, "text": ""}:
                runs[-1] = {**run, "text": runs[-1].get("text", "") + run.get("text", "")}
            else:
                runs.append(run)
        out.append({**paragraph, "runs": runs} if runs != paragraph.get("runs", []) else paragraph)
    return out


def leaves_of(things: Iterable[Raw]) -> Iterator[Raw]:
    """The objects in a list of objects and groups, back to front."""
    for thing in things:
        if "objects" in thing:
            yield from leaves_of(thing["objects"])
        else:
            yield thing


def stay(thing: PageObject, stands: PageObject) -> list[Operation]:
    """The operations that write an object down where it stands."""
    fields = zip(
        ("x", "y", "width", "height", "turn"), (*stands.box, stands.turn), (*thing.box, thing.turn), strict=True
    )
    return [
        {"do": "put", "at": ["objects", thing.id, name], "value": round(new, 4)}
        for name, new, old in fields
        if new != old
    ]


def _with_live_ties(at: Acting, operations: list[Operation]) -> list[Operation]:
    """Operations, and those by which what was tied to an object that they take from its page is tied no longer."""
    if not operations or not any(t.ties for _, t in at.document.objects()):
        return operations
    after, out = edits.apply(at.document.raw, operations).document, list(operations)
    for page in after["pages"]:
        things = list(leaves_of(page.get("objects", [])))
        here = {raw["id"] for raw in things}
        for raw in things:
            ties = raw.get("ties", [])
            kept = [tie for tie in ties if tie["to"] in here]
            if kept == ties:
                continue
            path: list[str | int] = ["objects", raw["id"], "ties"]
            out.append({"do": "put", "at": path, "value": kept} if kept else {"do": "cut", "at": path})
    return out


def _with_whole_chains(raw: Raw, operations: list[Operation]) -> list[Operation]:
    """An act's operations, and one that closes chains over frames that they take away."""
    if not raw.get("chains") or not operations:
        return operations
    after = edits.apply(raw, operations).document
    things = (t for page in after["pages"] for t in leaves_of(page.get("objects", [])) if t.get("frame"))
    copies = {t["id"]: t["frame"].get("copy") for t in things}
    chains = []
    for chain in after.get("chains", []):
        left = [i for i in chain if i in copies]
        left = [i for i in left if copies[i] == copies[left[0]]]
        if len(left) > 1:
            chains.append(left)
    if chains == after.get("chains", []):
        return operations
    return [*operations, {"do": "put", "at": ["chains"], "value": chains}]


def chain_put(document: Document, new_names: dict[str, str]) -> list[Operation]:
    """The operation that gives frames' places in chains to others; none where no chain changes."""
    old = [list(chain) for chain in document.head.chains]
    made = [[new_names.get(i, i) for i in chain] for chain in old]
    return [] if made == old else [{"do": "put", "at": ["chains"], "value": made}]
