"""What can be done about findings: acts that mend them, tried before they are offered."""

from __future__ import annotations

from typing import Any

from nestline.acts import offers
from nestline.document.colors import color_figure
from nestline.document.contrast import contrast
from nestline.document.edits import Operation
from nestline.document.reading import Document
from nestline.findings.finding import Cure, Finding
from nestline.nesting.placed import PlacedNest


def cures_of(one: Finding, document: Document, placed: PlacedNest | None) -> tuple[Cure, ...]:
    """What can be tried about a finding; empty where only the designer can help."""
    id = one.object

    def object_put(label: str, *fields: str, value: Any) -> Cure:
        return Cure(label, ({"do": "put", "at": ["objects", id, *fields], "value": value},))

    match one.kind:
        case "leftover":
            return tuple(Cure(made["label"], tuple(made["operations"])) for made in offers.cures(id))
        case "hidden":
            before: Operation = {"do": "act", "act": "stack", "given": {"objects": [id], "to": "front"}}
            return (Cure("put it before what covers it", (before,)),)
        case "pale" if placed is not None:
            return _colours(one, document, placed)
        case "small" if placed is not None and one.limit is not None:
            return (_letters(f"set it in {one.limit:g} pt", one, placed, {"size": one.limit}),)
        case "off-page":
            return _onto_page(one, document)
        case "tight-padding":
            return (object_put("half an em of padding", "frame", "padding", value="0.5em"),)
        case "unfilled" | "loose" | "river" | "lone-slot":
            return tuple(
                _paragraphs(label, one, placed, rule, value)
                for label, rule, value in (("hyphenate", "hyphenate", True), ("set it flush left", "align", "start"))
                if placed is not None
            )
        case "ladder" if placed is not None:
            fewer = {"ladder": 1}
            return (
                _paragraphs("never two hyphens in a row", one, placed, "hyphenate", fewer),
                _paragraphs("no hyphens", one, placed, "hyphenate", False),
            )
        case "widow" | "orphan" if placed is not None:
            return (_paragraphs("keep two lines together", one, placed, "keep", {"start": 2, "end": 2}),)
        case "last-word" if placed is not None:
            return (_paragraphs("never a word alone", one, placed, "last_word_alone", False),)
        case "stale" if placed is not None and one.range is not None:
            here = _paragraphs_at(placed, one.range)
            return (Cure("its words are right as they are", (_kept(placed, here),)),)
        case "untranslated" if placed is not None:
            every = list(range(len(placed.nest.copy.paragraphs)))
            return (Cure("they stay as they are in this language", (_kept(placed, every),)),)
        case "empty":
            return (Cure("take the frame away", ({"do": "act", "act": "delete", "given": {"objects": [id]}},)),)
        case _:
            return ()


def _kept(placed: PlacedNest, paragraphs: list[int]) -> Operation:
    given = {"copy": placed.copy, "version": placed.version, "paragraphs": paragraphs}
    return {"do": "act", "act": "keep-translation", "given": given}


def _paragraphs_at(placed: PlacedNest, range: tuple[int, int]) -> list[int]:
    """The numbers of the paragraphs that a range begins in."""
    base, out = 0, []
    for number, paragraph in enumerate(placed.nest.copy.paragraphs):
        if base <= range[0] <= base + len(paragraph.text):
            out.append(number)
        base += len(paragraph.text) + 1
    return out


def _paragraphs(label: str, one: Finding, placed: PlacedNest | None, rule: str, value: Any) -> Cure:
    """A rule for the paragraphs that a finding speaks of."""
    assert placed is not None and one.range is not None
    path = ["copies", placed.copy, "versions", placed.version, "paragraphs"]
    numbers = _paragraphs_at(placed, one.range)
    return Cure(label, tuple({"do": "put", "at": [*path, number, rule], "value": value} for number in numbers))


def _letters(label: str, one: Finding, placed: PlacedNest, look: dict[str, Any]) -> Cure:
    """A look for the words that a finding speaks of."""
    given = {"copy": placed.copy, "version": placed.version, "stretches": [list(one.range or (0, 0))], "look": look}
    return Cure(label, ({"do": "act", "act": "style-stretches", "given": given},))


def _colours(one: Finding, document: Document, placed: PlacedNest) -> tuple[Cure, ...]:
    """The document's own colours that may do, those that differ most from the words' own first."""
    looks = placed.nest.copy.segments.looks
    now = color_figure(document.head, looks[0][1].color) if looks else (0.0, 0.0, 0.0)
    names = dict.fromkeys(["paper", "ink", *document.head.colors])
    far = sorted(names, key=lambda name: -contrast(color_figure(document.head, name), now))
    copies = [_letters(f"{name} copy", one, placed, {"color": name}) for name in far[:3]]
    ground = max(("paper", "ink"), key=lambda name: contrast(color_figure(document.head, name), now))
    fill: Operation = {"do": "put", "at": ["objects", one.object, "fill"], "value": {"color": ground, "opacity": 0.9}}
    return (*copies, Cure(f"fill its frame with {ground}", (fill,)))


def _onto_page(one: Finding, document: Document) -> tuple[Cure, ...]:
    found = next((t for t in document.pages[one.page].objects if t.id == one.object), None)
    if found is None or found.turn:
        return ()
    x, y, width, height = found.box
    wide, high = document.pages[one.page].sheet.size
    by = [
        round(min(max(at, 0), max(whole - size, 0)) - at, 3)
        for at, size, whole in ((x, width, wide), (y, height, high))
    ]
    move: Operation = {"do": "act", "act": "move", "given": {"objects": [one.object], "by": by}}
    return (Cure("move it onto the page", (move,)),)
