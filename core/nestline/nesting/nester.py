"""A document nested: every frame of every page, each pushed by the wraps of the other objects of its page.

A `Nester` remembers nests by the values they depend on, so that after an edit only the frames whose outline, copy,
rules or wraps changed are nested again.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from typing import Any

from nestline import rows as k
from nestline.copy.page_numbers import with_numbers
from nestline.copy.rebreaking import roughly_scaled
from nestline.copy.shaped_copy import ShapedCopy
from nestline.copy.shaper import Shaper, size_of
from nestline.document.model import Frame, PageObject, Paragraph
from nestline.document.reading import Document
from nestline.errors import DocumentError, json_path
from nestline.fonts.library import FontError, FontLibrary
from nestline.nesting.anchors import in_line
from nestline.nesting.frame import nest_frame
from nestline.nesting.frame_nest import FrameNest, without_last_lines
from nestline.nesting.frame_rules import FrameRules, frame_rules
from nestline.nesting.frame_space import Geometry, geometry_of, in_room
from nestline.nesting.giving import fitted, given, share_held, sides_of
from nestline.nesting.glyphs import InLinePlace, in_line_places
from nestline.nesting.kept import as_before, begins_as_before, excerpt_for, runs_past_its_excerpt
from nestline.nesting.nests import Nests, nowhere
from nestline.nesting.placed import PlacedNest
from nestline.nesting.solving import Shaped, Solver
from nestline.nesting.wrapping import ContourOf, Wrapping, in_box, in_points, reaching
from nestline.outlines import placing
from nestline.outlines.path import Affine
from nestline.outlines.polygons import Region
from nestline.remembering import Memory

Key = tuple[object, ...]
MOST_NESTED, MOST_SOLVED = 15e6, 8e6
"""The bytes of nests, and of sizes and factors found, that are remembered with the copies that they are of, about,
beyond what the document as it stands needs."""
NEST_BYTES = 50e3
"""What a nest of a few dozen lines takes, about (measured with the reference page)."""


MOST_SPACED = 4e6
"""The bytes of edges that are remembered beyond that."""

Box = tuple[float, float, float, float]
"""Left, top, right, bottom."""
Spaced = tuple[Region, Geometry, tuple[str, ...]]
"""Where copy may stand in a padded outline, as `geometry_of` says."""


class Nester:
    """Nests documents, remembering shaped copy and nests. Keep one for each document."""

    def __init__(self, fonts: FontLibrary) -> None:
        self.shaper = Shaper(fonts)
        self._settled: Memory[Key, tuple[PageObject, PageObject, ShapedCopy, bool]] = Memory(
            MOST_SOLVED, lambda kept: size_of(kept[2])
        )
        self._looked: Memory[Key, Box] = Memory(2000)
        self._factors: Memory[Key, tuple[ShapedCopy, float, bool]] = Memory(MOST_SOLVED, lambda kept: size_of(kept[0]))
        self._nests: Memory[Key, tuple[ShapedCopy, FrameNest]] = Memory(MOST_NESTED, _size_of_nest)
        self._in_chains: Memory[Key, tuple[ShapedCopy, int, FrameNest]] = Memory(
            MOST_NESTED, lambda kept: _size_of_nest((kept[0], kept[2]))
        )
        self._written_out: Memory[Key, tuple[Paragraph, Paragraph]] = Memory(2000)
        self._rules: Memory[Key, tuple[Frame, FrameRules]] = Memory(2000)
        self._in_points: Memory[Key, tuple[PageObject, PageObject]] = Memory(2000)
        self._spaces: Memory[Key, Spaced] = Memory(MOST_SPACED, lambda kept: kept[1].space.edges.nbytes)

    @property
    def _memories(self) -> tuple[Memory[Key, Any], ...]:
        return (
            self._settled,
            self._looked,
            self._factors,
            self._nests,
            self._in_chains,
            self._written_out,
            self._in_points,
            self._rules,
            self._spaces,
        )

    def _round(self, passing: bool) -> None:
        self.shaper.round(passing)
        for kept in self._memories:
            kept.round(passing)

    def slim(self) -> None:
        """Keep only what the document as it stands needs, and as it stood before: not the steps of a drag that are
        past."""
        self.shaper.slim()
        for kept in self._memories:
            kept.slim()

    @property
    def size(self) -> float:
        """What is remembered of copies, nests and sizes, in bytes, about."""
        return self.shaper.size + sum(m.size for m in (self._settled, self._factors, self._nests, self._in_chains))

    def nest(
        self, document: Document, contour_of: ContourOf, version: str | None = None, pages: Iterable[int] | None = None
    ) -> Nests:
        """Every frame's nest, page by page, back to front; of the named pages only when they are given.

        Raises DocumentError for a font that is not there.
        """
        wanted = list(range(len(document.pages)) if pages is None else pages)
        self._round(pages is not None)
        solver = Solver(self, document, contour_of, version, None if pages is None else wanted)
        solver.solve()
        out = Nests()
        for index in solver.pages:
            placed, things = self._all_placed(solver, index)
            for one in placed:
                for place in in_line_places(one.nest):
                    if place.object in solver.hang:
                        out.anchors.setdefault(place.object, (one, place))
            if index in wanted:
                out.extend(placed)
            out.put(document, index, things)
        out.wait(document, [t for t in solver.hang.values() if t.id not in solver.hung], solver.pages)
        out.nowhere = nowhere(document, out, version)
        out.ems = solver.ems
        out.below = {i: y for i, y in solver.below.items() if y is not None}
        out.leaders = {g.group.id: document.leader_in(g) for page in document.pages for g in page.groups}
        return out

    def nest_seen(
        self,
        document: Document,
        contour_of: ContourOf,
        older: Document,
        before: Nests,
        seen: Iterable[int],
        version: str | None = None,
    ) -> Nests | None:
        """The nests of an `older` document with those of the pages that are `seen` made anew, after a change of copy:
        what is looked at follows at once, all else later by `nest`. None where what is seen hangs together with more
        than that.

        A frame of a chain begins where it did if nothing before that has changed; no more of the chain is looked at
        than from there to the frame behind what is seen.
        """
        things = [t for _, t in document.objects()]
        if any(t.anchor and t.anchor.place != "in-line" or t.frame and t.frame.fit_type for t in things):
            return None
        pages = {page for page in seen if 0 <= page < len(document.pages)}
        shown = frozenset(pages)
        begins: dict[str, int] = {}
        excerpts: dict[tuple[str, str], tuple[int, int]] = {}
        nests = {n.thing.id: n for n in before}
        for chain in document.head.chains:
            mine = [i for i in chain if i in nests and nests[i].page == document.page_of[i]]
            places = [n for n, i in enumerate(mine) if document.page_of[i] in shown]
            if not places:
                continue
            first, last = min(places), max(places)
            while first and not begins_as_before(document, older, nests[mine[first]]):
                first -= 1
            begin = nests[mine[first]]
            begins[begin.thing.id] = begin.nest.begin if first else 0
            pages |= {document.page_of[i] for i in mine[first : last + 2]}
            behind = nests[mine[last + 3]] if last + 3 < len(mine) else None
            if excerpt := excerpt_for(document, older, begin, behind):
                excerpts[begin.copy, begin.version] = excerpt
        self._round(passing=True)
        self.shaper.go_on()
        solver = Solver(self, document, contour_of, version, pages, begins, excerpts)
        solver.solve()
        if any(runs_past_its_excerpt(placed) for *_, placed in solver.placed.values()):
            return None
        out = Nests()
        out.extend(n for n in before if n.page not in shown)
        out.moved = {i: t for i, t in before.moved.items() if document.page_of.get(i) not in shown}
        out.page_of, out.nowhere, out.leaders = dict(before.page_of), before.nowhere, before.leaders
        out.anchors = {i: a for i, a in before.anchors.items() if a[0].page not in shown}
        out.ems = {**before.ems, **solver.ems}
        for index in sorted(shown):
            placed, stand = self._all_placed(solver, index)
            out.extend(placed)
            out.put(document, index, stand)
        out.sort(key=lambda n: n.page)
        return out

    def _all_placed(self, solver: Solver, index: int) -> tuple[list[PlacedNest], list[PageObject]]:
        """A page's nests back to front, and its objects with those in line where they stand."""
        things = list(solver.things[index])
        out: dict[int, PlacedNest] = {}
        places: dict[str, tuple[PlacedNest, InLinePlace]] = {}
        # Frames that stand in the copy of another are nested where that puts them, after it.
        waiting = list(range(len(things)))
        while waiting:
            ready = [n for n in waiting if solver.in_line.get(things[n].id) in (None, *places)]
            for number in ready or waiting:
                thing = things[number]
                leader = solver.in_line.get(thing.id)
                if leader is not None and not thing.hidden:
                    thing = things[number] = in_line(solver.document, thing, leader, places.get(leader))
                if thing.id not in solver.frames or thing.hidden:
                    continue
                placed = out[number] = solver.nested(thing, index, number)
                for place in in_line_places(placed.nest):
                    places.setdefault(place.object, (placed, place))
            waiting = [n for n in waiting if n not in ready] if ready else []
        # What stands in copy that has run on to this page comes with it.
        here = {t.id for t in things}
        for identity, (placed, place) in places.items():
            if identity not in here and identity not in solver.hang:
                come = (identity, *solver.document.along.get(identity, ()))
                for thing in (t for _, t in solver.document.objects() if t.id in come):
                    if not thing.hidden and thing.frame is None:
                        things.append(in_line(solver.document, thing, identity, (placed, place)))
        return [out[number] for number in sorted(out)], things

    # What the solver asks for

    def placed(self, solver: Solver, index: int, number: int, thing: PageObject) -> PlacedNest:
        """A frame's nest as its page stands: from the piece on that the frames before it leave."""
        mine = solver.frames[thing.id]
        shaped, begin = solver.begin(thing.id)
        wraps, factor, unsettled = solver.wraps[index], solver.factors.get(thing.id, 1.0), index in solver.unsettled
        unsettled = unsettled or thing.id in solver.cut_short
        # While a page comes to rest the same is asked for again and again.
        same, alike = (thing, shaped, wraps), (begin, factor, unsettled)
        known = solver.placed.get(thing.id)
        if known is not None and known[1] == alike and all(a is b for a, b in zip(known[0], same, strict=True)):
            placed = known[2]
            return placed if placed.key[0] == number else replace(placed, key=(number, *placed.key[1:]))
        pushing = solver.pushing(thing, index)
        placed = self._frame(
            index, number, thing, mine, shaped, begin, solver.goes_on(thing.id), pushing, unsettled, factor
        )
        solver.placed[thing.id] = (same, alike, placed)
        return placed

    def given(
        self, solver: Solver, index: int, thing: PageObject, place: Callable[[PageObject], PageObject] | None = None
    ) -> PageObject:
        """A frame that gives, as large as its copy needs; `place` puts it, in any size, where its ties do."""
        mine = solver.frames[thing.id]
        shaped, begin = solver.begin(thing.id)
        pushing = solver.pushing(thing, index)
        goes_on = solver.goes_on(thing.id)
        page = solver.document.pages[index].sheet.size
        own = (
            id(shaped),
            begin,
            goes_on,
            thing.box,
            thing.turn,
            thing.pivot,
            thing.outline,
            thing.stroke,
            mine.frame,
            page,
            place(thing).box if place else None,
            bool(pushing),
        )
        # Only wraps that can touch a size that was looked at have a say: while they stay the same, so do all steps of
        # the search.
        looked = self._looked.get(own)
        found = self._settled.get((own, looked, _near(pushing, looked))) if looked else None
        if (stands := solver.cut_short.get(thing.id)) is not None:
            return thing.model_copy(update={f: getattr(stands, f) for f in ("width", "height")})
        if found is not None and found[0].id == thing.id:
            if found[3]:
                solver.cut_short[thing.id] = found[1]
            if found[0] is thing:
                return found[1]
            return thing.model_copy(update={f: getattr(found[1], f) for f in ("x", "y", "width", "height")})

        seen: list[Box] = []

        def nest(other: PageObject, frame: Frame, probe: bool = False) -> FrameNest:
            other = place(other) if place else other
            return self._nested(other, frame, shaped, pushing, mine.copy.size, begin, goes_on, probe, seen)

        made, spent = given(
            thing,
            mine.frame,
            shaped if mine.frame.wrap_lines else mine.copy,
            mine.whole_lines,
            nest,
            bool(pushing),
            begin,
            page,
        )
        lefts, tops, rights, bottoms = zip(*seen, strict=True) if seen else ((0.0,), (0.0,), (0.0,), (0.0,))
        looked = (min(lefts), min(tops), max(rights), max(bottoms))
        self._looked.put(own, looked)
        self._settled.put((own, looked, _near(pushing, looked)), (thing, made, shaped, spent))
        if spent:
            solver.cut_short[thing.id] = made
        return made

    def factors(self, solver: Solver) -> dict[str, float]:
        """What the type of each frame is multiplied by: of one with fitted type so that all its copy fits, of a chain's
        so that the chain holds all, of a set's the smallest that any of it comes to."""
        out: dict[str, float] = {}
        sets: dict[str, float] = {}
        named: dict[str, str] = {}
        standing = {t.id for index in solver.pages for t in solver.things[index]}
        for identity, mine in solver.frames.items():
            if identity not in standing:
                continue  # it waits for its words
            chain = solver.document.chain_of.get(identity, (identity,))
            visible = [i for i in chain if i in solver.frames]
            if visible[0] != identity or not len(mine.copy.pieces):
                continue
            fitting = next((i for i in visible if solver.frames[i].frame.fit_type), None)
            if fitting is None:
                continue
            factor = self._factor(solver, visible, fitting)
            fit = solver.frames[fitting].frame.fit_type
            if fit is not None and fit.set:
                sets[fit.set] = min(factor, sets.get(fit.set, factor))
            for i in visible:
                out[i] = factor
                if fit is not None and fit.set:
                    named[i] = fit.set
        return {i: sets[named[i]] if i in named else factor for i, factor in out.items()}

    def _factor(self, solver: Solver, chain: Sequence[str], fitting: str) -> float:
        """What type is multiplied by so that all of a copy fits a frame, or the frames of a chain."""
        mine = solver.frames[fitting]
        copy = mine.copy if mine.frame.wrap_lines else mine.whole_lines
        things = {t.id: (index, t) for index in solver.pages for t in solver.things[index]}
        frames = []
        for identity in chain:
            index, thing = things[identity]
            own = solver.frames[identity].frame
            plain = own.model_copy(update={"sit": "top", "balance": False})
            frames.append((thing, plain, solver.pushing(thing, index)))
        key = (
            "factor",
            id(copy),
            fitting,
            tuple((t.box, t.turn, t.model_dump_json(), tuple(k for k, _ in near)) for t, _, near in frames),
        )
        found = self._factors.get(key)
        if found is None:
            last = len(frames) - 1

            def through(rough: ShapedCopy, probe: bool = False) -> FrameNest:
                begin = 0
                for number, (thing, plain, near) in enumerate(frames):
                    nest = self._nested(
                        thing, plain, rough, near, copy.size, begin, number < last, probe and number == last
                    )
                    rough, begin = nest.copy, nest.next_piece
                    if nest.broken:
                        break
                return nest

            def share(factor: float) -> float:
                nest = through(copy if factor == 1.0 else roughly_scaled(copy, factor), True)
                held = share_held(nest, 0 if last else nest.begin)
                return min(held, 0.9) if nest.broken else held

            most = _most_factor(copy, [_padded(thing, plain, copy.size)[1] for thing, plain, _ in frames])
            factor, spent = fitted(mine.frame, copy.size, share, most, copy.words)
            found = self._factors.put(key, (copy, factor, spent))
        if found[2]:
            solver.cut_short.update(dict.fromkeys(chain))
        return found[1]

    def shortened(self, placed: PlacedNest, lines: int) -> PlacedNest:
        """A nest that leaves its last lines to the next frame."""
        key = (*placed.key[1:], "without", lines)
        found = self._nests.get(key)
        if found is None or found[0] is not placed.nest.copy:
            found = self._nests.put(key, (placed.nest.copy, without_last_lines(placed.nest, lines)))
        return replace(placed, nest=found[1], key=(placed.key[0], *key))

    def written_out(self, paragraph: Paragraph, numbers: tuple[str, ...]) -> Paragraph:
        """A paragraph with its page numbers as text."""
        key = (id(paragraph), numbers)
        found = self._written_out.get(key)
        if found is None:
            found = self._written_out.put(key, (paragraph, with_numbers(paragraph, numbers)))
        return found[1]

    @contextmanager
    def naming_fonts(self, document: Document, copy: str, version: str) -> Iterator[None]:
        """Turns a missing font into a DocumentError that says where it is named."""
        try:
            yield
        except FontError as error:
            raise _font_error(document, copy, version, error) from None

    def in_points(self, thing: PageObject, em: float) -> PageObject:
        """An object whose clearance is in points (see wrapping.in_points), the same one each time."""
        key = (id(thing), em)
        found = self._in_points.get(key)
        if found is None or found[0] is not thing:
            found = self._in_points.put(key, (thing, in_points(thing, em)))
        return found[1]

    # One frame

    def _nested(
        self,
        thing: PageObject,
        frame: Frame,
        copy: ShapedCopy,
        pushing: list[Wrapping],
        size: float,
        begin: int = 0,
        goes_on: bool = False,
        probe: bool = False,
        seen: list[Box] | None = None,
    ) -> FrameNest:
        """Nest copy in a frame; an em of the frame's rules is `size` points. Where wraps could touch it is added to
        what is `seen`."""
        padded, reach = _padded(thing, frame, size)
        if seen is not None and not reach.empty:
            seen.append(reach.bounds)
        near = reaching(pushing, reach)
        rules = self._rules_of(frame, size)
        sized = seen is not None  # another size each time
        return self._nested_among(near, padded, rules, thing, frame, copy, begin, goes_on, probe, sized)

    def _nested_among(
        self,
        near: list[Wrapping],
        padded: Region,
        rules: FrameRules,
        thing: PageObject,
        frame: Frame,
        copy: ShapedCopy,
        begin: int,
        goes_on: bool,
        probe: bool = False,
        passing: bool = False,
    ) -> FrameNest:
        """Nest copy in a frame's padded outline among the wraps that reach it; what is only `passing` is not
        remembered."""
        x, y, width, height = thing.box
        wraps = tuple([w for _, w in near])
        space = None
        if frame.setting == "turned" and thing.turn:
            about = placing.pivot_on_page(thing)
            wraps = tuple([replace(w, region=w.region.turned(-thing.turn, about), inside=None) for w in wraps])
            rules = replace(rules, grid_from=placing.page_top_for(thing))
        elif frame.wrap_lines and not (passing or padded.empty or rules.arms_of_size):
            space = self._space_of(padded, near, rules)
        box = (x, y, x + width, y + height)
        return nest_frame(padded, box, wraps, copy, rules, self.shaper, frame.wrap_lines, begin, goes_on, probe, space)

    def _space_of(self, padded: Region, near: list[Wrapping], rules: FrameRules) -> tuple[Geometry, tuple[str, ...]]:
        """What `geometry_of` says, once: where only the copy has changed, the space is as it was."""
        key = (id(padded.unmoved), padded.shift, rules, tuple([k for k, _ in near]))
        if (known := self._spaces.get(key)) is None:
            found = geometry_of(padded, tuple([w for _, w in near]), rules)
            known = self._spaces.put(key, (padded, *found))
        return in_room(known[1]), known[2]

    def _frame(
        self,
        page: int,
        number: int,
        thing: PageObject,
        mine: Shaped,
        shaped: ShapedCopy,
        begin: int,
        goes_on: bool,
        pushing: list[Wrapping],
        unsettled: bool,
        factor: float,
    ) -> PlacedNest:
        frame = mine.frame
        size = mine.copy.size
        # Only wraps that can touch the frame count, so that dragging one re-nests only the frames it passes.
        padded, reach = _padded(thing, frame, size)
        rules = self._rules_of(frame, size)
        near = reaching(pushing, reach)
        turned = frame.setting == "turned" and thing.turn != 0
        key = (
            id(shaped),
            begin,
            goes_on,
            frame.wrap_lines,
            thing.box,
            thing.turn,
            thing.pivot,
            thing.outline.written,
            sides_of(frame, size),
            frame.padding.apart,
            placing.stroke_reach(thing.stroke),
            rules,
            turned,
            tuple(k for k, _ in near),
        )
        matrix = placing.matrix(thing) if turned else None

        def nested() -> FrameNest:
            return self._nested_among(near, padded, rules, thing, frame, shaped, begin, goes_on)

        if goes_on or begin:
            nest = self._in_chain((thing.id, mine.name, *key[2:]), shaped, begin, nested)
        elif (found := self._nests.get(key)) is not None:
            nest = found[1]
        else:
            nest = self._nests.put(key, (shaped, nested()))[1]
        placed = (page, thing, nest, mine.name, mine.version, _about_page(matrix, thing), (number, *key))
        return PlacedNest(*placed, unsettled or nest.spent, factor, mine.numbers)

    def _in_chain(self, key: Key, copy: ShapedCopy, begin: int, nested: Callable[[], FrameNest]) -> FrameNest:
        """The nest of a frame in a chain. One of each is kept, the last: what has changed elsewhere in the copy leaves
        it as it is."""
        known = self._in_chains.get(key)
        if known is not None and known[0] is copy and known[1] == begin:
            return known[2]
        kept = as_before(known[2], copy, begin) if known is not None else None
        return self._in_chains.put(key, (copy, begin, kept or nested()))[2]

    def _rules_of(self, frame: Frame, size: float) -> FrameRules:
        """A frame's rules in points (`frame_rules`), once."""
        key = (id(frame), size)
        if (known := self._rules.get(key)) is None:
            known = self._rules.put(key, (frame, frame_rules(frame, size)))
        return known[1]


def _most_factor(copy: ShapedCopy, regions: Sequence[Region]) -> float:
    """A factor above which outlines cannot hold copy: its longest piece is wider than any, or its lines, closed up,
    take more than their areas."""
    some = [r for r in regions if not r.empty]
    if not some or not len(copy.pieces):
        return 1.0
    widest = max(math.hypot(r.bounds[2] - r.bounds[0], r.bounds[3] - r.bounds[1]) for r in some)
    area = sum((r.bounds[2] - r.bounds[0]) * (r.bounds[3] - r.bounds[1]) for r in some)
    heights = float((copy.pieces[:, k.ASC] + copy.pieces[:, k.DESC]).min())
    length = 0.6 * float(copy.x[-1]) * max(heights, 1e-6)
    return min(1.02 * widest / max(copy.widest_piece, 1e-6), math.sqrt(area / max(length, 1e-9)) + 0.05)


def _size_of_nest(kept: tuple[ShapedCopy, FrameNest]) -> float:
    """What a nest takes, with its share of the copy that the frames of a chain hold together."""
    copy, nest = kept
    pieces = max(len(copy.pieces), 1)
    end = nest.next_piece if nest.goes_on else pieces
    return NEST_BYTES + size_of(copy) * max(end - nest.begin, 0) / pieces


def _near(pushing: list[Wrapping], box: Box) -> tuple[object, ...]:
    """What wraps that may reach into a box are known by."""
    return tuple(key for key, _ in in_box(pushing, box))


def _padded(thing: PageObject, frame: Frame, size: float) -> tuple[Region, Region]:
    """Where copy may stand as it is nested (unturned, when the frame is set turned), and on the page."""
    turned = frame.setting == "turned" and thing.turn != 0
    x, y, _, _ = thing.box
    if frame.padding.apart and len(set(sides_of(frame, size))) > 1:
        region = placing.padded_by_side(thing, sides_of(frame, size), level=not turned)
        return region, region.turned(thing.turn, placing.pivot_on_page(thing)) if turned else region
    own = placing.padded(thing, sides_of(frame, size)[0])
    reach = placing.on_page(own, thing) if not own.empty else own
    return (own.moved(x, y) if turned else reach), reach


def _about_page(matrix: Affine | None, thing: PageObject) -> Affine | None:
    """The turn as a matrix on page coordinates (lines of a turned frame are given where they stood unturned)."""
    if matrix is None:
        return None
    a, b, c, d, e, f = matrix
    x, y, _, _ = thing.box
    return (a, b, c, d, e - a * x - c * y, f - b * x - d * y)


def _font_error(document: Document, copy: str, version: str, error: FontError) -> DocumentError:
    """Where the font that is missing is named."""
    for name, style in document.head.styles.items():
        if style.font == error.family:
            return DocumentError(json_path(("styles", name, "font")), str(error))
    for number, paragraph in enumerate(document.copies[copy][version].paragraphs):
        at: tuple[str | int, ...] = ("copies", copy, "versions", version, "paragraphs", number)
        if paragraph.font == error.family:
            return DocumentError(json_path((*at, "font")), str(error))
        for run_number, run in enumerate(paragraph.runs):
            if run.font == error.family:
                return DocumentError(json_path((*at, "runs", run_number, "font")), str(error))
    return DocumentError("$", str(error))
