"""Pages added, moved, duplicated, deleted."""

from __future__ import annotations

from typing import Any, Literal

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.arranging import Delete, delete, placed
from nestline.acts.paths import Figure
from nestline.document import lengths
from nestline.document.edits import Operation, Raw

MOST = 1000


def _pages(at: Acting, index: int) -> list[Raw]:
    pages: list[Raw] = at.document.raw["pages"]
    if not 0 <= index < len(pages):
        raise ActError("that page is not there any more")
    return pages


def _put_in(index: int, page: Raw) -> Operation:
    return {"do": "splice", "at": ["pages"], "from": index, "remove": 0, "insert": [page]}


class AddPage(Given):
    after: int


@act("add-page", AddPage)
def add_page(at: Acting, given: AddPage) -> list[Operation]:
    """An empty page behind another, with its size, margins, bleed and background."""
    pages = _pages(at, given.after)
    if len(pages) >= MOST:
        raise ActError(f"a document has at most {MOST} pages")
    sheet = {k: v for k, v in pages[given.after].items() if k not in ("objects", "guides")}
    return [_put_in(given.after + 1, {**sheet, "objects": []})]


class OnePage(Given):
    page: int


@act("duplicate-page", OnePage)
def duplicate_page(at: Acting, given: OnePage) -> list[Operation]:
    """A page once more behind itself, with its objects and their copies."""
    page = _pages(at, given.page)[given.page]
    objects: list[Raw] = page.get("objects", [])
    copies: dict[str, Any] = {}
    for thing in at.document.pages[given.page].objects:
        if thing.frame:
            copies[thing.frame.copy_name] = at.document.raw["copies"][thing.frame.copy_name]
    out = [_put_in(given.page + 1, {**page, "objects": []})]
    if objects:
        path: list[str | int] = ["pages", given.page + 1, "objects"]
        out += placed(at, path, 0, objects, copies, (0.0, 0.0), None, None, at.document.head.chains)
    return out


class MovePage(Given):
    page: int
    to: int


@act("move-page", MovePage)
def move_page(at: Acting, given: MovePage) -> list[Operation]:
    """Put a page elsewhere in the order."""
    pages = _pages(at, given.page)
    to = min(max(given.to, 0), len(pages) - 1)
    if to == given.page:
        return []
    out: Operation = {"do": "splice", "at": ["pages"], "from": given.page, "remove": 1, "insert": []}
    return [out, _put_in(to, pages[given.page])]


@act("delete-page", OnePage)
def delete_page(at: Acting, given: OnePage) -> list[Operation]:
    """Take a page away with its objects, and the copies that no frame of another page holds."""
    pages = _pages(at, given.page)
    if len(pages) == 1:
        raise ActError("a document needs a page; this is its only one")
    ids = [t.id for t in at.document.pages[given.page].objects]
    gone = delete(at, Delete(objects=ids)) if ids else []
    return [*gone, {"do": "splice", "at": ["pages"], "from": given.page, "remove": 1, "insert": []}]


class Guide(Given):
    page: int
    axis: Literal["x", "y"]
    old: Figure | None = None
    """Where the guide lies that is moved or taken away, in points; a new one when not given."""
    new: Figure | None = None
    """Where it goes; it is taken away when not given."""


@act("guide", Guide)
def guide(at: Acting, given: Guide) -> list[Operation]:
    """Put a guide on a page, move it, or take it away: whatever was done to the others meanwhile."""
    if not 0 <= given.page < len(at.document.pages):
        raise ActError("that page is not there any more")
    written = (at.document.raw["pages"][given.page].get("guides") or {}).get(given.axis) or []
    guides = list(written)
    if given.old is not None:
        old = given.old
        away = [abs(lengths.points(g) - old) for g in guides]
        if away and min(away) < 0.5:
            del guides[away.index(min(away))]
    if given.new is not None:
        guides.append(round(given.new, 4))
    if guides == written:
        return []
    return [{"do": "put", "at": ["pages", given.page, "guides", given.axis], "value": guides}]
