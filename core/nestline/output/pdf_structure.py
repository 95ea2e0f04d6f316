"""What a PDF says of its own structure, for those who have it read to them (ISO 32000-2, 14.7 and 14.8).

A document holds a part for each run of copy, with its paragraphs, and a figure for each picture with what it is
described by; all else on a page is an artifact. Parts stand in the order in which a page is read: from its top down,
then from its start.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import pikepdf
from pikepdf import Array, Dictionary, Name

Place = tuple[int, float, float]
"""Page, top and left of what is read."""
ARTIFACT, ENDED = "/Artifact BMC", "EMC"


@dataclass(eq=False)
class _Element:
    """A paragraph or figure, and where its content stands: page and number of the marked content there."""

    kind: str
    language: str = ""
    alt: str = ""
    box: tuple[float, float, float, float] | None = None
    marks: list[tuple[int, int]] = field(default_factory=list)


@dataclass(eq=False)
class _Group:
    """What is read as one: a run of copy, or a figure alone."""

    place: Place
    elements: dict[int, _Element] = field(default_factory=dict)


class Structure:
    """Collects what is marked while pages are written."""

    def __init__(self) -> None:
        self._groups: dict[str, _Group] = {}
        self._owners: list[list[_Element]] = []

    def new_page(self) -> None:
        self._owners.append([])

    def paragraph(self, copy: str, number: int, place: Place, language: str, spoken: str = "") -> str:
        """What begins content of a paragraph (by its number) of a run of copy; ENDED ends it. It is `spoken` as said
        where its glyphs alone do not tell (ISO 32000-2, 14.9.4).
        """
        group = self._groups.setdefault(f"copy {copy}", _Group(place))
        return self._mark(group.elements.setdefault(number, _Element("P", language)), "Span" if spoken else "P", spoken)

    def figure(self, id: str, place: Place, alt: str, box: tuple[float, float, float, float]) -> str:
        """What begins a picture. `box` in the page's own points, y upwards: left, bottom, right, top."""
        page, _, _ = place
        group = self._groups.setdefault(f"figure {page} {id}", _Group(place))
        return self._mark(group.elements.setdefault(0, _Element("Figure", alt=alt, box=box)), "Figure")

    def _mark(self, element: _Element, tag: str, spoken: str = "") -> str:
        owners = self._owners[-1]
        element.marks.append((len(self._owners) - 1, len(owners)))
        owners.append(element)
        actual = f" /ActualText <FEFF{spoken.encode('utf-16-be').hex().upper()}>" if spoken else ""
        return f"/{tag} <</MCID {len(owners) - 1}{actual}>> BDC"

    def write(self, pdf: pikepdf.Pdf, pages: Sequence[pikepdf.Page]) -> None:
        """Put the tree into a PDF that has these pages."""
        root = pdf.make_indirect(Dictionary(Type=Name.StructTreeRoot))
        whole = pdf.make_indirect(Dictionary(Type=Name.StructElem, S=Name.Document, P=root, K=Array()))
        made: dict[_Element, pikepdf.Object] = {}
        for group in sorted(self._groups.values(), key=lambda group: group.place):
            parent = whole
            if any(element.kind == "P" for element in group.elements.values()):
                parent = pdf.make_indirect(Dictionary(Type=Name.StructElem, S=Name.Sect, P=whole, K=Array()))
                whole.K.append(parent)
            for _, element in sorted(group.elements.items()):
                made[element] = pdf.make_indirect(self._element(element, parent, pages))
                parent.K.append(made[element])
        numbers = Array()
        for number, owners in enumerate(self._owners):
            pages[number].obj.StructParents = number
            pages[number].obj.Tabs = Name.S
            numbers.append(number)
            numbers.append(pdf.make_indirect(Array([made[element] for element in owners])))
        root.K = whole
        root.ParentTree = pdf.make_indirect(Dictionary(Nums=numbers))
        root.ParentTreeNextKey = len(self._owners)
        pdf.Root.StructTreeRoot = root
        pdf.Root.MarkInfo = Dictionary(Marked=True)

    @staticmethod
    def _element(element: _Element, parent: pikepdf.Object, pages: Sequence[pikepdf.Page]) -> Dictionary:
        content = Array([Dictionary(Type=Name.MCR, Pg=pages[page].obj, MCID=number) for page, number in element.marks])
        found = Dictionary(Type=Name.StructElem, S=Name(f"/{element.kind}"), P=parent, K=content)
        if element.language:
            found.Lang = pikepdf.String(element.language)
        if element.kind == "Figure":
            found.Alt = pikepdf.String(element.alt)
        if element.box is not None:
            found.A = Dictionary(O=Name.Layout, BBox=Array([round(v, 4) for v in element.box]))
        return found
