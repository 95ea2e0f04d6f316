"""What is found in objects and frames: where they are, what they are made of, what they have room for."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import pairwise

from nestline import rows as k
from nestline.document.lengths import Sides
from nestline.document.model import OBJECT, PageObject
from nestline.document.reading import Document
from nestline.errors import NestLineError
from nestline.findings.finding import KINDS, Box, Finding
from nestline.fonts.library import FontLibrary
from nestline.nesting.nests import Nests
from nestline.nesting.placed import PlacedNest
from nestline.outlines import placing
from nestline.pictures.placed import Contours, PictureSource, resolution

OFF = 0.01
CURVED = {"ellipse", "heart", "leaf", "kite", "drop", "cloud", "ring", "star", "arch", "bubble"}
"""Ready outlines in which every line begins elsewhere."""
ALIKE = 3
"""So many frames of one kind on a page are siblings."""


def of_frame(
    placed: PlacedNest, kind: str, figure: float | None, range: tuple[int, int] | None, marks: tuple[Box, ...]
) -> Finding:
    """A finding of a frame, and of some of its words."""
    words = " ".join(placed.nest.copy.text[range[0] : range[1]].replace(OBJECT, "").split()) if range else ""
    return Finding(
        kind, placed.thing.id, placed.page, figure, None, range=range, words=words, marks=marks, fault=KINDS[kind].fault
    )


class Things:
    """Looks at the objects of documents."""

    def __init__(self, pictures: PictureSource, contours: Contours, fonts: FontLibrary) -> None:
        self._pictures, self._contours, self._fonts = pictures, contours, fonts

    def find(self, document: Document, written: Document, nests: Nests) -> Iterator[Finding]:
        """What is found in a settled document; `written` is the document as it says itself."""
        nest_of = {placed.thing.id: placed for placed in nests}
        waiting = {t.id for page in written.pages for t in page.objects if t.anchor is not None and not t.hidden}
        for number, page in enumerate(document.pages):
            for thing in page.objects:
                if thing.hidden:
                    if thing.id in waiting:
                        yield Finding("waiting", thing.id, number, None, None)
                    continue
                bounds = placing.bounds_on_page(thing)
                yield from _off_page(document, number, thing, bounds)
                if thing.picture is not None:
                    yield from self._picture(thing, number, bounds)
                if (placed := nest_of.get(thing.id)) is not None:
                    yield from self._frame(document, placed, bounds)
            yield from _near(number, [t for t in page.objects if t.id in nest_of and not t.hidden])
            yield from _unlike(number, [t for t in page.objects if t.id in nest_of and not t.hidden])
        for frame, why in nests.nowhere.items():
            if frame in nest_of:
                yield Finding("nowhere", frame, nest_of[frame].page, None, None, (why,))

    def _picture(self, thing: PageObject, number: int, bounds: Box) -> Iterator[Finding]:
        assert thing.picture is not None
        try:
            file = self._pictures(thing.picture.file)
        except NestLineError:
            return
        finest = resolution(thing.picture, (file.width, file.height), thing.box[2], thing.box[3])
        yield Finding("coarse", thing.id, number, round(finest, 1), None, marks=(bounds,))
        if thing.wrap.by == "contour" or thing.picture.clip == "contour":
            try:
                sure = self._contours.found(thing).confidence
            except NestLineError as error:
                yield Finding("no-contour", thing.id, number, None, None, (str(error),), marks=(bounds,))
                return
            if sure is not None:
                yield Finding("doubtful", thing.id, number, round(sure, 2), None, marks=(bounds,))

    def _frame(self, document: Document, placed: PlacedNest, bounds: Box) -> Iterator[Finding]:
        nest, id = placed.nest, placed.thing.id
        if nest.leftover_words:
            told = of_frame(
                placed, "leftover", nest.leftover_words, (nest.leftover_start, len(nest.copy.text)), (bounds,)
            )
            yield replace(told, fault=nest.mark is None)
        if not nest.copy.text.strip():
            yield Finding("empty", id, placed.page, None, None, marks=(bounds,))
            return
        missing = sorted({p.text[at] for p in nest.copy.paragraphs for at in p.missing})
        if missing:
            yield replace(of_frame(placed, "no-letter", len(missing), None, (bounds,)), details=tuple(missing))
        absent = sorted({s.look.font for p in nest.copy.paragraphs for s in p.stretches})
        absent = [family for family in absent if not self._fonts.has_family(family)]
        if absent:
            yield replace(of_frame(placed, "stand-in", None, None, (bounds,)), details=tuple(absent))
        closed = {s.face.family for p in nest.copy.paragraphs for s in p.stretches if not s.face.may_embed}
        if closed:
            yield replace(of_frame(placed, "no-embed", None, None, (bounds,)), details=tuple(sorted(closed)))
        wanted = document.head.showing
        if wanted is not None and placed.version != wanted:
            yield replace(of_frame(placed, "no-version", None, None, (bounds,)), details=(placed.version, wanted))
        if placed.thing.outline.kind in CURVED:
            yield of_frame(placed, "curved", nest.copy.words, None, (bounds,))
        if placed.unsettled:
            yield of_frame(placed, "unsettled", None, None, (bounds,))
        yield from _padding(placed, bounds)
        if nest.wrap_ids and nest.leftover_words:
            inside = nest.records[~nest.past]
            taken = (inside[:, k.RIGHT] - inside[:, k.LEFT]) * (inside[:, k.BOTTOM] - inside[:, k.TOP])
            area = max(placing.area(placed.thing).area, 1e-9)
            yield of_frame(placed, "no-room", round(float(taken.sum()) / area, 3), None, (bounds,))


def _off_page(document: Document, number: int, thing: PageObject, bounds: Box) -> Iterator[Finding]:
    """What lies wholly off its page, or reaches past it without reaching into the bleed."""
    width, height = document.pages[number].sheet.size
    bleed = document.pages[number].sheet.bleed.pt
    left, top, right, bottom = bounds
    over = (-left, -top, right - width, bottom - height)
    if right <= OFF or bottom <= OFF or left >= width - OFF or top >= height - OFF:
        yield Finding("off-page", thing.id, number, round(max(over), 2), None, marks=(bounds,))
        return
    painted = thing.picture is not None or (thing.paint and (thing.fill is not None or thing.stroke is not None))
    # Paint may reach over the edge: into all of the bleed where there is one. A frame for copy stays on its page.
    bleeds = painted and (bleed > 0 or thing.frame is None)
    short = [reach for reach in over if reach > OFF and not (bleeds and reach >= bleed - OFF)]
    if short:
        yield Finding("off-page", thing.id, number, round(max(short), 2), None, marks=(bounds,))


def _padding(placed: PlacedNest, bounds: Box) -> Iterator[Finding]:
    """A filled or stroked frame whose lines come close to its edge: the least room beside them, in ems."""
    thing, nest = placed.thing, placed.nest
    painted = thing.paint and (
        (thing.fill is not None and thing.fill.opacity > 0) or (thing.stroke is not None and thing.stroke.width.pt > 0)
    )
    if not painted or thing.frame is None or not len(nest.records) or nest.copy.size <= 0:
        return
    if thing.outline.kind != "rectangle" or placed.matrix is not None:
        return
    x, y, width, height = thing.box
    kept = ~nest.past
    if not kept.any():
        return
    sides = (float(nest.left[kept].min()) - x, x + width - float(nest.right[kept].max()))
    yield of_frame(placed, "tight-padding", round(min(sides) / nest.copy.size, 3), None, (bounds,))


def _near(number: int, frames: Sequence[PageObject]) -> Iterator[Finding]:
    """Left edges or first lines of frames that nearly meet, and do not: the later one is told."""
    for axis, name in ((0, "left edges"), (1, "tops")):
        ends = sorted(((placing.bounds_on_page(t)[axis], t) for t in frames if not t.turn), key=lambda pair: pair[0])
        for (one, first), (other, second) in pairwise(ends):
            if 0.05 < other - one < (KINDS["near"].print or 0) and first.frame is not None and second.frame is not None:
                boxes = (placing.bounds_on_page(first), placing.bounds_on_page(second))
                yield Finding("near", second.id, number, round(other - one, 2), None, (name,), marks=boxes)


def _unlike(number: int, frames: Sequence[PageObject]) -> Iterator[Finding]:
    """A frame whose padding differs from that of its siblings: painted alike, of one kind of outline and nearly one
    size."""
    groups: dict[tuple[object, ...], list[PageObject]] = {}
    for thing in frames:
        if thing.fill is not None and thing.paint:
            wide, high = round(thing.box[2] / 8), round(thing.box[3] / 8)
            groups.setdefault((thing.outline.kind, thing.fill.written, wide, high), []).append(thing)
    for group in groups.values():
        each = [(thing, thing.frame.padding if thing.frame else Sides()) for thing in group]
        usual, count = Counter(padding for _, padding in each).most_common(1)[0]
        if len(group) < ALIKE or count <= len(group) / 2:
            continue
        for thing, padding in each:
            if padding != usual:
                yield Finding("unlike", thing.id, number, None, None, marks=(placing.bounds_on_page(thing),))
