"""The nests of a document, and where all that stands on its pages came to rest."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

from nestline.copy.page_numbers import fields_in, page_named
from nestline.document.model import PageObject, Run
from nestline.document.reading import Document
from nestline.nesting.glyphs import InLinePlace
from nestline.nesting.placed import PlacedNest


class Nests(list[PlacedNest]):
    """Every frame's nest, and the objects that came to rest elsewhere than the document says."""

    def __init__(self) -> None:
        super().__init__()
        self.moved: dict[str, PageObject] = {}
        self.page_of: dict[str, int] = {}
        """The pages of objects that stand on another than they are written on."""
        self.nowhere: dict[str, str] = {}
        """Frames whose copy names a page that there is none of, each with why."""
        self.anchors: dict[str, tuple[PlacedNest, InLinePlace]] = {}
        """Where in a copy each object that stands elsewhere has its place."""
        self.ems: Mapping[str, tuple[str, float]] = {}
        """Of objects whose clearance is in ems: the frame whose copy it is an em of, and its points."""
        self.below: Mapping[str, float] = {}
        """Objects across a line that they hang from: from which height of their page on they push copy, the foot of
        that line."""
        self.leaders: Mapping[str, str | None] = {}
        """The object of each group that all of it goes along with into copy, or would."""

    def put(self, document: Document, index: int, things: Sequence[PageObject]) -> None:
        """Take down what stands on a page otherwise than it is written."""
        was = {t.id: t for t in document.pages[index].objects}
        for thing in things:
            at_home, known = thing.id in was, self.moved.get(thing.id)
            if was.get(thing.id) is thing:
                continue
            if at_home and thing.hidden and thing.id in self.page_of:
                continue  # it stands on another page
            if not at_home and known is not None and not known.hidden:
                continue
            self.moved[thing.id] = thing
            if at_home:
                self.page_of.pop(thing.id, None)
            else:
                self.page_of[thing.id] = index

    def wait(self, document: Document, waiting: Iterable[PageObject], pages: Iterable[int]) -> None:
        """Hide what belongs to copy that is not set anywhere."""
        solved = set(pages)
        for thing in waiting:
            if not thing.hidden and document.page_of[thing.id] in solved:
                self.moved[thing.id] = thing.model_copy(update={"hidden": True})


def settled(document: Document, nests: Nests) -> Document:
    """The document with every object as it came to rest: frames as large as their copy needs, ties held, what belongs
    to copy on the page of its words."""
    changed, away = nests.moved, nests.page_of
    if not changed:
        return document
    pages = []
    for index, page in enumerate(document.pages):
        stay = [(t, p) for t, p in zip(page.objects, page.paths, strict=True) if t.id not in away]
        come = [
            (t, p)
            for other in document.pages
            for t, p in zip(other.objects, other.paths, strict=True)
            if away.get(t.id) == index
        ]
        objects = tuple(changed.get(t.id, t) for t, _ in (*stay, *come))
        pages.append(replace(page, objects=objects, paths=tuple(p for _, p in (*stay, *come))))
    return replace(document, pages=tuple(pages))


def nowhere(document: Document, nests: Nests, version: str | None) -> dict[str, str]:
    """Frames with jump lines that lead nowhere: the chain ends there, or no copy goes on so far."""
    out: dict[str, str] = {}
    filled = {n.thing.id: n.nest for n in nests}
    jumps: dict[tuple[str, str], list[Run]] = {}
    for placed in nests:
        copy = (placed.copy, placed.version)
        if copy not in jumps:
            fields = fields_in(document.copies[placed.copy][placed.version].paragraphs)
            jumps[copy] = [r for r in fields if r.field in ("next-page", "previous-page")]
        for run in jumps[copy]:
            if page_named(document, run, placed.thing.id) is None:
                out[placed.thing.id] = (
                    "the copy does not go on there" if run.field == "next-page" else "no copy comes from there"
                )
                continue
            of = run.of or placed.thing.id
            before = document.beside_in_chain(of, -1) if run.field == "previous-page" else of
            nest = filled.get(before or of)
            if nest is not None and nest.next_piece >= len(nest.copy.pieces):
                out[placed.thing.id] = "the copy ends before it goes on there"
    return out
