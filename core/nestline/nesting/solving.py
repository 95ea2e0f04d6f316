"""One solver for the page: frames that give, ties, wraps, chains, and objects that hang from the copy, until all rest.

Each of them depends on the others. A page is nested, its objects are placed, and it is nested again until nothing
moves. What goes on to another page, copy or an object that belongs to it, makes that page be solved again.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from contextlib import AbstractContextManager
from dataclasses import dataclass
from functools import cached_property, partial
from typing import Protocol

from nestline import rows as k
from nestline.copy.page_numbers import fields_in, numbers_in
from nestline.copy.shaped_copy import ShapedCopy
from nestline.copy.shaper import Shaper
from nestline.document.model import Frame, PageObject, Paragraph, Run, TextStyle
from nestline.document.reading import Document
from nestline.nesting.along import as_one, carried, in_line_sizes
from nestline.nesting.anchors import hung
from nestline.nesting.frame_nest import FrameNest
from nestline.nesting.giving import may_give
from nestline.nesting.glyphs import InLinePlace, in_line_places
from nestline.nesting.placed import PlacedNest
from nestline.nesting.ties import in_order, tied
from nestline.nesting.wrapping import (
    ContourOf,
    Wrapping,
    clears_in_ems,
    nearest_frame,
    only_below,
    page_wraps,
    pushing,
)

ROUNDS, SETTLED = 12, 0.05
"""How often a page is nested until nothing moves, and what counts as not moving, in points."""
DRIVEN = 5
"""The round after which an object that hangs from a line, and drives it before itself, pushes it no more."""
NO_COPY = 11.0
"""An em of the copy of a page without any, in points: the size that new copy has."""


@dataclass(eq=False)
class Shaped:
    """A frame's rules with its copy, shaped."""

    frame: Frame
    copy: ShapedCopy
    name: str
    version: str
    shaper: Shaper
    numbers: tuple[str, ...] = ()
    """What the page numbers in the copy read here, in order."""

    @cached_property
    def whole_lines(self) -> ShapedCopy:
        """The copy without breaks but the forced ones."""
        return self.shaper.unwrapped(self.copy)


class Nesting(Protocol):
    """What nests the frames of a page as it stands (nesting.nester.Nester)."""

    shaper: Shaper

    def placed(self, solver: Solver, index: int, number: int, thing: PageObject) -> PlacedNest: ...

    def given(
        self, solver: Solver, index: int, thing: PageObject, place: Callable[[PageObject], PageObject] | None = None
    ) -> PageObject: ...

    def factors(self, solver: Solver) -> dict[str, float]: ...

    def shortened(self, placed: PlacedNest, lines: int) -> PlacedNest: ...

    def written_out(self, paragraph: Paragraph, numbers: tuple[str, ...]) -> Paragraph: ...

    def naming_fonts(self, document: Document, copy: str, version: str) -> AbstractContextManager[None]: ...

    def in_points(self, thing: PageObject, em: float) -> PageObject: ...


class Solver:
    """A document being solved: where its objects stand, and with which piece of its copy each frame begins."""

    def __init__(
        self,
        nester: Nesting,
        document: Document,
        contour_of: ContourOf,
        version: str | None,
        wanted: Iterable[int] | None,
        begins: Mapping[str, int] | None = None,
        excerpts: Mapping[tuple[str, str], tuple[int, int]] | None = None,
    ) -> None:
        """`wanted` are pages to solve, with all that they are linked to; with `begins`, the pieces that some frames of
        chains begin with, those pages alone. `excerpts` are the paragraphs of long copies that are needed
        (`ShapedCopy.excerpt`)."""
        self._excerpts = excerpts or {}
        self.nester, self.document, self.contour_of, self.version = nester, document, contour_of, version
        self.hang = {t.id: t for _, t in document.objects() if t.anchor and t.anchor.place != "in-line"}
        """What hangs from the copy, with what goes along with it."""
        if along := [i for leader in self.hang for i in document.along.get(leader, ())]:
            by_id = document.by_id
            self.hang.update((i, by_id[i]) for i in along)
        sets = {t.frame.fit_type.set for _, t in document.objects() if t.frame and t.frame.fit_type} - {None}
        everything = begins is None and (wanted is None or bool(sets))
        linked = set(wanted or ()) if begins is not None else self._linked(set(wanted or ()))
        self._beyond = set() if begins is None else {t.id for _, t in document.objects() if t.frame and not t.hidden}
        """Frames that copy goes on in though their pages are not solved."""
        self.pages = list(range(len(document.pages))) if everything else sorted(linked)
        self.frames: dict[str, Shaped] = {}
        self.page_of: dict[str, int] = {}
        """Where each visible frame stands."""
        self.hung: dict[str, int] = {}
        """The page on which each object that hangs from the copy has its place; those without one wait."""
        self.things: dict[int, list[PageObject]] = {}
        self.wraps: dict[int, list[Wrapping]] = {}
        self.ems: dict[str, tuple[str, float]] = {}
        """Of objects whose clearance is in ems: the frame whose copy it is an em of, and its points."""
        self._in_points: dict[str, PageObject] = {}
        self.begins: dict[str, tuple[ShapedCopy, int]] = {}
        self.given_up: dict[str, tuple[int, int]] = {}
        """Frames that leave last lines to the next: the piece they began with then, and how many lines."""
        self.factors: dict[str, float] = {}
        self.placed: dict[str, tuple[tuple[object, ...], tuple[object, ...], PlacedNest]] = {}
        """Each frame's nest as asked for last, with what it was asked for with."""
        self.unsettled: set[int] = set()
        self.below: dict[str, float | None] = {}
        """Objects beside a line that drive it before them, from where on they push copy: from the foot of that line."""
        self.cut_short: dict[str, PageObject | None] = {}
        """Frames whose size (or type, None) was looked for until the work that it may take was spent: it is not looked
        for again in the rounds after."""
        self._fitted = False
        self._shaped: dict[tuple[object, ...], ShapedCopy] = {}
        self._fields: dict[tuple[str, str], list[Run]] = {}
        self.in_line = document.in_line
        self._room_in_line = in_line_sizes(document)
        for index in self.pages:
            self._shape(index)
        for identity, piece in (begins or {}).items():
            self.begins[identity] = (self.begin(identity)[0], piece)

    def _linked(self, wanted: set[int]) -> set[int]:
        """Pages with those that their copy comes from, goes on to, or hangs objects on."""
        document = self.document
        if not document.head.chains and not self.hang:
            return wanted
        groups = [{document.page_of[f] for f in chain} for chain in document.head.chains]
        for identity in self.hang:
            holders = {
                p for p, t in document.objects() if t.frame and t.frame.copy_name in document.holders.get(identity, ())
            }
            groups.append(holders | {document.page_of[identity]})
        grown = True
        while grown:
            linked = wanted.union(*(g for g in groups if g & wanted))
            grown, wanted = linked != wanted, linked
        return wanted

    def _shape(self, index: int) -> None:
        """Shape the copies of a page's frames, and let its objects stand as they are written."""
        document, shaper = self.document, self.nester.shaper
        for thing in document.pages[index].objects:
            if thing.frame is None or thing.hidden:
                continue
            name = thing.frame.copy_name
            version_name, copy = document.version_of(name, self.version)
            chain = document.chain_of.get(thing.id)
            first = document.by_id[chain[0]] if chain else thing
            if (fields := self._fields.get((name, version_name))) is None:
                fields = self._fields[name, version_name] = fields_in(copy.paragraphs)
            numbers = numbers_in(document, thing.id, fields)
            paragraphs = self._numbered(copy.paragraphs, numbers)
            styled = document.text_style_of(first)
            key = (name, id(styled), None if paragraphs is copy.paragraphs else thing.id)
            if (known := self._shaped.get(key)) is None:
                known = self._shaped[key] = self._shape_copy(name, version_name, paragraphs, copy.language, styled)
            self.frames[thing.id] = Shaped(thing.frame, known, name, version_name, shaper, numbers)
            self.page_of[thing.id] = index
        self._find_ems(index)
        self.things[index] = self._listed(index)
        self._wrap(index)

    def _find_ems(self, index: int) -> None:
        """What clearances in ems come to: ems of the copy that is pushed, that of the nearest frame."""
        things = self.document.pages[index].objects
        wanting = [t for t in things if t.wrap.by != "none" and clears_in_ems(t)]
        frames = [t for t in things if t.id in self.frames and self.frames[t.id].frame.pushed] if wanting else []
        for thing in wanting:
            holders = self.document.holders.get(thing.id, frozenset()) if thing.anchor else frozenset()
            held_by = [f for f in frames if self.frames[f.id].name in holders]
            nearest = nearest_frame(thing, held_by or frames)
            size = self.frames[nearest.id].copy.size if nearest is not None else NO_COPY
            if nearest is not None:
                self.ems[thing.id] = (nearest.id, size)
            self._in_points[thing.id] = self.nester.in_points(thing, size)
            if thing.id in self.hang:
                self.hang[thing.id] = self._in_points[thing.id]

    def pushing(self, thing: PageObject, index: int) -> list[Wrapping]:
        """The wraps of its page that push a frame."""
        tied_to = self.document.tied_with.get(thing.id, frozenset())
        return pushing(self.frames[thing.id].frame, thing, self.wraps[index], self.things[index], tied_to)

    def _shape_copy(
        self, name: str, version: str, paragraphs: Sequence[Paragraph], language: str, base: TextStyle | None
    ) -> ShapedCopy:
        with self.nester.naming_fonts(self.document, name, version):
            styles = self.document.head.styles
            if excerpt := self._excerpts.get((name, version)):
                return self.nester.shaper.excerpted(paragraphs, styles, language, base, self._room_in_line, excerpt)
            return self.nester.shaper.copy(paragraphs, styles, language, base, self._room_in_line)

    def _numbered(self, paragraphs: tuple[Paragraph, ...], numbers: tuple[str, ...]) -> Sequence[Paragraph]:
        """Paragraphs with their page numbers written out."""
        if not numbers:
            return paragraphs
        out, at = [], 0
        for paragraph in paragraphs:
            count = sum(run.field is not None for run in paragraph.runs)
            out.append(self.nester.written_out(paragraph, numbers[at : at + count]) if count else paragraph)
            at += count
        return out

    def _listed(self, index: int) -> list[PageObject]:
        """What stands on a page, back to front, what hangs there from another page in front."""
        written = (self._in_points.get(t.id, t) for t in self.document.pages[index].objects)
        mine = [t for t in written if t.id not in self.hang or self.hung.get(t.id) == index]
        away = (i for i, p in self.hung.items() if p == index and self.document.page_of[i] != index)
        return [*mine, *(self.hang[i] for i in away)]

    def _wrap(self, index: int) -> None:
        any_frame = any(t.id in self.frames for t in self.things[index])
        wraps = page_wraps(self.things[index], self.document.paths, self.contour_of, self.in_line) if any_frame else []
        if self.below:
            wraps = [
                (key, wrap) if (y := self.below.get(wrap.object_id)) is None else ((*key, y), only_below(wrap, y))
                for key, wrap in wraps
            ]
        self.wraps[index] = wraps

    # Solving

    def solve(self) -> None:
        """Bring every page to rest, then find what fitted type comes to, and let all rest again with that."""
        self._rest()
        fits = self.nester.factors(self)
        self._fitted = True
        if any(f != 1.0 for f in fits.values()):
            self.factors = fits
            self._rest()

    def _rest(self) -> None:
        restless = set(self.pages)
        for _ in range(ROUNDS):
            for index in self.pages:
                if index in restless:
                    restless.discard(index)
                    restless |= self._settle(index)
            if not restless:
                return
        self.unsettled |= restless

    def _settle(self, index: int) -> set[int]:
        """Bring a page to rest. Returns the other pages that have to be looked at again for it."""
        others: set[int] = set()
        written = self._listed(index)
        moving = {t.id for t in written if t.ties or (t.id in self.frames and self._gives(t.id)) or t.id in self.hang}
        follows = not self._fitted and any(t.ties or t.id in self.frames and self._gives(t.id) for t in written)
        chains = any(t.id in self.document.chain_of for t in written)
        hosts = bool(self.hang) and any(t.id in self.frames and self.frames[t.id].copy.holds_objects for t in written)
        if not (follows or chains or hosts or moving):
            return others
        least: tuple[float, list[PageObject]] | None = None
        self.unsettled.discard(index)
        for round_ in range(ROUNDS):
            before = self.things[index]
            begun = self._flow(index, others) if chains else False
            if follows:
                self.things[index] = self._round(index)
            if hosts or self.hang:
                self._hang(index, others)
            far = _far(before, self.things[index])
            if not far and not begun:
                return others
            if far:
                self._wrap(index)
            if not chains and not any(w.object_id in moving for _, w in self.wraps[index]) and not hosts:
                return others
            if far <= SETTLED and not begun:
                break
            if round_ == DRIVEN and hosts and self._let_lines_stand(index):
                self._hang(index, others)
                self._wrap(index)
            if round_ > 2 and (least is None or far < least[0]):
                least = far, self.things[index]
        else:
            # It goes round and round: the round after which least has moved stands.
            self.unsettled.add(index)
            if least is not None:
                self.things[index] = least[1]
                self._wrap(index)
        if chains:
            self._flow(index, others)
        return others

    def _let_lines_stand(self, index: int) -> bool:
        """Let objects of a page that hang from a line by its height push copy from below that line only. Whether there
        are any that did not yet."""
        driving = [
            i
            for i, p in self.hung.items()
            if p == index
            and i not in self.below
            and (anchor := self.hang[i].anchor)
            and anchor.place == "beside"
            and anchor.down == "line"
        ]
        self.below.update(dict.fromkeys(driving))
        return bool(driving)

    def _gives(self, identity: str) -> bool:
        return may_give(self.frames[identity].frame, self.goes_on(identity))

    def goes_on(self, identity: str) -> bool:
        if self.after(identity) is not None:
            return True
        chain = self.document.chain_of.get(identity, ()) if self._beyond else ()
        return any(i in self._beyond for i in chain[chain.index(identity) + 1 :]) if chain else False

    def after(self, identity: str) -> str | None:
        """The frame in which a frame's copy goes on: the next of its chain that is not hidden."""
        chain = self.document.chain_of.get(identity)
        if chain is None:
            return None
        return next((i for i in chain[chain.index(identity) + 1 :] if i in self.frames), None)

    def begin(self, identity: str) -> tuple[ShapedCopy, int]:
        """The copy that a frame sets, and the piece of it that it begins with."""
        mine = self.frames[identity]
        if (found := self.begins.get(identity)) is not None:
            return found
        copy = mine.copy if mine.frame.wrap_lines else mine.whole_lines
        factor = self.factors.get(identity, 1.0)
        return (copy if factor == 1.0 else self.nester.shaper.scaled(copy, factor)), 0

    def nested(self, thing: PageObject, index: int, number: int = 0) -> PlacedNest:
        """A frame's nest among the wraps of its page as they are."""
        placed = self.nester.placed(self, index, number, thing)
        given_up = self.given_up.get(thing.id)
        if given_up and given_up[0] == self.begin(thing.id)[1]:
            placed = self.nester.shortened(placed, given_up[1])
        return placed

    def _flow(self, index: int, others: set[int]) -> bool:
        """Fill the page's frames of each chain in order. Whether any frame of the page begins elsewhere than before."""
        things = {t.id: t for t in self.things[index]}
        begun = False
        for chain in self.document.head.chains:
            mine = [i for i in chain if i in things and i in self.frames]
            at = 0
            while at < len(mine):
                identity = mine[at]
                at += 1
                nest = self.nested(things[identity], index).nest
                before = self._lines_wanted_before(chain, identity, nest)
                if before is not None:
                    if before in mine:
                        at, begun = mine.index(before), True
                    else:
                        others.add(self.page_of[before])
                    continue
                after = self.after(identity)
                if after is None:
                    continue
                old = self.begins.get(after)
                if old is None or old[0] is not nest.copy or old[1] != nest.next_piece:
                    self.begins[after] = (nest.copy, nest.next_piece)
                    if self.page_of[after] == index:
                        begun = True
                    else:
                        others.add(self.page_of[after])
        return begun

    def _lines_wanted_before(self, chain: tuple[str, ...], identity: str, nest: FrameNest) -> str | None:
        """The frame before that has to leave lines to this one, because too few of a paragraph would stand here."""
        count = nest.lines_of_first_paragraph
        if count == 0:
            return None
        wanted = int(nest.copy.rules[int(nest.copy.pieces[nest.begin, k.PARAGRAPH]), k.KEEP_START])
        before = next((i for i in reversed(chain[: chain.index(identity)]) if i in self.frames), None)
        if count >= wanted or before is None:
            return None
        start = self.begin(before)[1]
        if self.given_up.get(before, (-1, 0))[0] == start:
            return None
        self.given_up[before] = (start, wanted - count)
        return before

    def _round(self, index: int) -> list[PageObject]:
        """Every object where its ties put it, every frame that gives as large as its copy needs, among the wraps as
        they are."""
        by_id = {t.id: t for t in self.things[index]}
        # What hangs from the copy is where it was placed last.
        out = [_at(t, by_id[t.id]) if t.id in self.hang else t for t in self._listed(index)]

        def baseline_of(thing: PageObject) -> float | None:
            if thing.id not in self.frames:
                return None
            nest = self.nester.placed(self, index, 0, thing).nest
            return float(nest.records[0, k.BASELINE]) if len(nest.records) else None

        for place in in_order(out):
            thing = tied(out[place], by_id, baseline_of)
            mine = self.frames.get(thing.id)
            if mine is not None and self._gives(thing.id) and len(mine.copy.pieces):
                where_tied = partial(tied, things=by_id, baseline_of=_no_baseline, sizes=False) if thing.ties else None
                thing = self.nester.given(self, index, thing, where_tied)
                thing = tied(thing, by_id, baseline_of, sizes=False)
            out[place] = by_id[thing.id] = thing
        return out

    def _hang(self, index: int, others: set[int]) -> None:
        """Put what belongs to the copy of a page's frames beside its line, or in the middle of its frame."""
        found: dict[str, PageObject] = {}
        by_id = {t.id: t for t in self.things[index]}
        for thing in self.things[index]:
            mine = self.frames.get(thing.id)
            if mine is None or not mine.copy.holds_objects:
                continue
            placed = self.nested(thing, index)
            for place in in_line_places(placed.nest):
                other = self.hang.get(place.object)
                elsewhere = self.hung.get(place.object, index) < index
                if other is not None and place.object not in found and not elsewhere:
                    here = self._hung(index, other, by_id, placed, place)
                    found |= here
                    if place.object in self.below and placed.matrix is None:
                        self.below.update(dict.fromkeys(here, float(placed.nest.records[place.record, k.BOTTOM])))
        gone = {i for i, p in self.hung.items() if p == index and i not in found}
        for identity in gone:
            del self.hung[identity]
            # Its words have run on: to a page that may have been looked at while they seemed to stand here.
            holders = self.document.holders.get(identity, frozenset())
            others |= {self.page_of[i] for i, f in self.frames.items() if f.name in holders} - {index}
        come = [i for i in found if self.hung.get(i) != index]
        for identity in come:
            if identity in self.hung:
                others.add(self.hung[identity])
            self.hung[identity] = index
        if come or gone:
            now = {t.id: t for t in self.things[index]}
            self.things[index] = [now.get(t.id, t) for t in self._listed(index)]
        if found:
            self.things[index] = [_at(t, found[t.id]) if t.id in found else t for t in self.things[index]]

    def _hung(
        self, index: int, thing: PageObject, by_id: dict[str, PageObject], host: PlacedNest, place: InLinePlace
    ) -> dict[str, PageObject]:
        """An object where its anchor puts it, and what goes along with it, by id."""
        along = self.document.along.get(thing.id, ())
        sized = {i: _sized(self.hang[i], by_id.get(i)) for i in (thing.id, *along)}
        if not along:
            return {thing.id: hung(self.document, index, sized[thing.id], host, place)}
        whole = as_one(thing, sized.values())
        there = hung(self.document, index, whole, host, place)
        return {i: carried(one, whole, there) for i, one in sized.items()}


def _no_baseline(_: PageObject) -> None:
    """Ties of baselines are left aside while a size is looked for."""


def _sized(written: PageObject, now: PageObject | None) -> PageObject:
    """An object as it is written, as large as it has come to be."""
    if now is None or now.box[2:] == written.box[2:]:
        return written
    return written.model_copy(update={"width": now.width, "height": now.height})


def _at(thing: PageObject, where: PageObject) -> PageObject:
    """An object where another state of it stands."""
    same = thing.box == where.box and thing.turn == where.turn
    fields = ("x", "y", "width", "height", "turn")
    return thing if same else thing.model_copy(update={f: getattr(where, f) for f in fields})


def _far(before: Sequence[PageObject], after: Sequence[PageObject]) -> float:
    """How far objects have moved; an object that came or went has moved very far."""
    old = {t.id: t for t in before}
    if len(before) != len(after) or any(t.id not in old for t in after):
        return 1e6
    pairs = ((old[t.id], t) for t in after)
    return max(
        (max(abs(v - w) for v, w in zip(a.box, b.box, strict=True)) for a, b in pairs if a is not b), default=0.0
    )
