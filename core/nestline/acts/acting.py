"""What an act is, and what it works on."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import BaseModel, ConfigDict

from nestline.document import recipes
from nestline.document.edits import Operation, Raw
from nestline.document.model import PageObject
from nestline.document.reading import Document
from nestline.errors import NestLineError
from nestline.nesting.placed import PlacedNest
from nestline.studio import Studio


class ActError(NestLineError):
    """The act cannot be done on this document, in the designer's words."""

    code = "act"


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
ACTS: dict[str, tuple[type[Given], Act]] = {}
"""Every act that is known, by its name: what it is given, and what does it."""


def act(
    name: str, given: type[G]
) -> Callable[[Callable[[Acting, G], list[Operation]]], Callable[[Acting, G], list[Operation]]]:
    """Make a function an act of this name."""

    def register(function: Callable[[Acting, G], list[Operation]]) -> Callable[[Acting, G], list[Operation]]:
        ACTS[name] = (given, function)
        return function

    return register
