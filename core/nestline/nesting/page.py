"""A document nested: every frame of every page, each pushed by the wraps of the other objects of its page.

A `Nester` remembers nests by the values they depend on, so that after an edit only the frames whose outline, copy,
rules or wraps changed are nested again.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import get_args

import numpy as np

from nestline.copy.shaped import ShapedCopy, Shaper, roughly_scaled
from nestline.document import lengths
from nestline.document.model import Frame, Hang, Outline, PageObject
from nestline.document.reading import Document, Page
from nestline.errors import DocumentError, NestLineError, json_path
from nestline.fonts.library import FontError, FontLibrary
from nestline.nesting import kernel as k
from nestline.nesting.frame import FrameNest, FrameRules, WrapRegion, nest_frame
from nestline.nesting.giving import fitted, given, share_held, sides_of
from nestline.nesting.glyphs import InLinePlace, in_line_places
from nestline.nesting.tying import in_order, tied
from nestline.outlines import placing
from nestline.outlines.path import Affine
from nestline.outlines.polygons import Region, box_region

ContourOf = Callable[[PageObject], Region]
"""The visible contour of an object's picture in the object's own box, already cleared. Raises NestLineError."""


@dataclass(frozen=True, eq=False)
class PlacedNest:
    """A frame's nest on its page. `matrix` is set when the frame is set turned: its lines are before that turn."""

    page: int
    thing: PageObject
    nest: FrameNest
    copy: str
    version: str
    matrix: Affine | None
    key: tuple[object, ...]
    unsettled: bool = False
    """Whether the objects of its page did not come to rest: it is nested as they stood at last."""
    factor: float = 1.0
    """What its type is multiplied by, where type is fitted to the frame."""


Wrapping = tuple[tuple[object, ...], WrapRegion]
"""A wrap with a key of everything it depends on."""

ROUNDS, SETTLED = 12, 0.05
"""How often a page is nested until nothing moves, and what counts as not moving, in points."""


@dataclass(eq=False)
class _Shaped:
    """A frame's rules with its copy, shaped, and shaped without breaks but the forced ones."""

    frame: Frame
    copy: ShapedCopy
    whole_lines: ShapedCopy
    name: str
    version: str
    factor: float = 1.0


@dataclass(frozen=True, eq=False)
class _Settled:
    """A page whose objects have come to rest, and what fitted type of a set comes to by itself."""

    things: list[PageObject]
    frames: dict[str, _Shaped]
    wraps: list[Wrapping]
    unsettled: bool
    factors: list[tuple[str, float]]


class Nester:
    """Nests documents, remembering shaped copy and nests. Keep one per process."""

    def __init__(self, fonts: FontLibrary, remembered: int = 2000) -> None:
        self.shaper = Shaper(fonts)
        self._remembered = remembered
        self._settled: OrderedDict[tuple[object, ...], tuple[PageObject, PageObject, ShapedCopy]] = OrderedDict()
        self._factors: OrderedDict[tuple[object, ...], tuple[ShapedCopy, float]] = OrderedDict()
        self._nests: OrderedDict[tuple[object, ...], tuple[ShapedCopy, FrameNest]] = OrderedDict()

    def nest(
        self, document: Document, contour_of: ContourOf, version: str | None = None, pages: Iterable[int] | None = None
    ) -> Nests:
        """Every frame's nest, page by page, back to front; of the named pages only when they are given.

        Raises DocumentError for a font that is not there.
        """
        everything = range(len(document.pages))
        wanted = everything if pages is None else list(pages)
        sets: dict[str, float] = {}
        fitted_sets = {t.frame.fit_type.set for _, t in document.objects() if t.frame and t.frame.fit_type}
        if fitted_sets - {None}:
            # Frames of a set share one size: the smallest that any of them comes to by itself.
            for index in everything:
                for name, factor in self._page(document, index, contour_of, version).factors:
                    sets[name] = min(factor, sets.get(name, factor))
        out = Nests()
        for index in wanted:
            page = self._page(document, index, contour_of, version)
            out.extend(self._placed(index, page, sets))
            old = document.pages[index].objects
            out.moved.update({t.id: t for t, was in zip(page.things, old, strict=True) if t is not was})
        return out

    def _page(self, document: Document, index: int, contour_of: ContourOf, version: str | None) -> _Settled:
        """A page's objects as they come to rest, with the factors that fitted type comes to."""
        page = document.pages[index]
        frames: dict[str, _Shaped] = {}
        in_line_of = in_line_sizes(page.objects)
        for thing in page.objects:
            if thing.frame is None or thing.hidden:
                continue
            copy_name = thing.frame.copy_name
            version_name, copy = document.version_of(copy_name, version)
            try:
                base = document.text_style_of(thing)
                shaped = self.shaper.copy(copy.paragraphs, document.head.styles, copy.language, base, in_line_of)
            except FontError as error:
                raise _font_error(document, copy_name, version_name, error) from None
            frames[thing.id] = _Shaped(thing.frame, shaped, self.shaper.unwrapped(shaped), copy_name, version_name)
        things = list(page.objects)
        wraps = page_wraps(page, things, contour_of) if frames else []
        unsettled = False
        if any(f.frame.give for f in frames.values()) or any(t.ties for t in things):
            moving = {t.id for t in things if t.ties or (t.id in frames and frames[t.id].frame.give)}
            for round_ in range(ROUNDS):
                moved = self._round(page, things, frames, wraps)
                far = max((_distance(a, b) for a, b in zip(things, moved, strict=True)), default=0.0)
                things = moved
                if not far or not any(w.object_id in moving for _, w in wraps):
                    break
                wraps = page_wraps(page, things, contour_of)
                if far <= SETTLED:
                    break
                unsettled = round_ == ROUNDS - 1
        factors = []
        for thing in things:
            mine = frames.get(thing.id)
            if mine is not None and mine.frame.fit_type and len(mine.copy.pieces):
                mine.factor = self._factor(thing, mine, _pushing(mine.frame, thing, wraps))
                if mine.frame.fit_type.set:
                    factors.append((mine.frame.fit_type.set, mine.factor))
        return _Settled(things, frames, wraps, unsettled, factors)

    def _placed(self, index: int, page: _Settled, sets: Mapping[str, float]) -> list[PlacedNest]:
        out: dict[int, PlacedNest] = {}
        places: dict[str, tuple[PlacedNest, InLinePlace]] = {}
        # Frames that stand in the copy of another are nested where that puts them, after it.
        waiting = list(range(len(page.things)))
        while waiting:
            ready = [n for n in waiting if page.things[n].anchor is None or page.things[n].id in places]
            for number in ready or waiting:
                thing = page.things[number]
                if thing.anchor is not None and not thing.hidden:
                    thing = page.things[number] = in_line(thing, places.get(thing.id))
                mine = page.frames.get(thing.id)
                if mine is None or thing.hidden:
                    continue
                fit = mine.frame.fit_type
                factor = sets[fit.set] if fit and fit.set and fit.set in sets else mine.factor
                pushing = _pushing(mine.frame, thing, page.wraps)
                placed = self._frame(index, number, thing, mine, pushing, page.unsettled, factor)
                out[number] = placed
                for place in in_line_places(placed.nest):
                    places.setdefault(place.object, (placed, place))
            waiting = [n for n in waiting if n not in ready] if ready else []
        return [out[number] for number in sorted(out)]

    def _factor(self, thing: PageObject, mine: _Shaped, pushing: list[Wrapping]) -> float:
        """What a frame's type is multiplied by so that all of it fits."""
        copy = mine.copy if mine.frame.wrap_lines else mine.whole_lines
        key = ("factor", id(copy), thing.box, thing.turn, thing.model_dump_json(), tuple(k for k, _ in pushing))
        found = self._factors.get(key)
        if found is None:
            frame = mine.frame.model_copy(update={"sit": "top", "balance": False})

            def share(factor: float) -> float:
                rough = copy if factor == 1.0 else roughly_scaled(copy, factor)
                nest = self._nested(thing, frame, rough, pushing, copy.size)
                held = share_held(nest)
                return min(held, 0.9) if nest.broken else held

            whole = self._nested(thing, frame, copy, pushing, copy.size)
            found = self._factors[key] = (copy, fitted(mine.frame, copy.size, share, whole.fill))
            while len(self._factors) > self._remembered:
                self._factors.popitem(last=False)
        return found[1]

    def _round(
        self, page: Page, things: list[PageObject], frames: dict[str, _Shaped], wraps: list[Wrapping]
    ) -> list[PageObject]:
        """Every object where its ties put it, every frame that gives as large as its copy needs, among the wraps as
        they are."""
        out = list(page.objects)
        by_id = {t.id: t for t in things}

        def baseline_of(thing: PageObject) -> float | None:
            mine = frames.get(thing.id)
            if mine is None:
                return None
            nest = self._frame(0, 0, thing, mine, _pushing(mine.frame, thing, wraps), False, 1.0).nest
            return float(nest.records[0, k.BASELINE]) if len(nest.records) else None

        for index in in_order(out):
            thing = tied(out[index], by_id, baseline_of)
            mine = frames.get(thing.id)
            if mine is not None and mine.frame.give and len(mine.copy.pieces):
                thing = self._given(thing, mine, _pushing(mine.frame, thing, wraps))
                thing = tied(thing, by_id, baseline_of, sizes=False)
            out[index] = by_id[thing.id] = thing
        return out

    def _given(self, thing: PageObject, mine: _Shaped, pushing: list[Wrapping]) -> PageObject:
        near = tuple(key for key, _ in pushing)
        key = (id(mine.copy), thing.box, thing.turn, thing.pivot, thing.outline, thing.stroke, mine.frame, near)
        found = self._settled.get(key)
        if found is not None and found[0].id == thing.id:
            return thing.model_copy(update={f: getattr(found[1], f) for f in ("x", "y", "width", "height")})
        made = self._sized(thing, mine, pushing)
        self._settled[key] = (thing, made, mine.copy)
        while len(self._settled) > self._remembered:
            self._settled.popitem(last=False)
        return made

    def _sized(self, thing: PageObject, mine: _Shaped, pushing: list[Wrapping]) -> PageObject:
        copy = mine.copy if mine.frame.wrap_lines else mine.whole_lines

        def nest(other: PageObject, frame: Frame) -> FrameNest:
            return self._nested(other, frame, copy, pushing, copy.size)

        return given(thing, mine.frame, mine.copy, mine.whole_lines, nest, bool(pushing))

    def _nested(
        self, thing: PageObject, frame: Frame, copy: ShapedCopy, pushing: list[Wrapping], size: float
    ) -> FrameNest:
        """Nest copy in a frame; an em of the frame's rules is `size` points."""
        padded, reach = _padded(thing, frame, size)
        near = [w for _, w in pushing if not reach.empty and _meet(reach.bounds, w.reach)]
        x, y, width, height = thing.box
        if frame.setting == "turned" and thing.turn:
            about = placing.pivot_on_page(thing)
            near = [replace(w, region=w.region.turned(-thing.turn, about), inside=None) for w in near]
        box = (x, y, x + width, y + height)
        rules = frame_rules(frame, size)
        return nest_frame(padded, box, tuple(near), copy, rules, self.shaper, frame.wrap_lines)

    def _frame(
        self, page: int, number: int, thing: PageObject, mine: _Shaped, pushing: list[Wrapping], unsettled: bool,
        factor: float,
    ) -> PlacedNest:  # fmt: skip
        frame = mine.frame
        shaped = mine.copy if frame.wrap_lines else mine.whole_lines
        size = shaped.size
        if factor != 1.0:
            shaped = self.shaper.scaled(shaped, factor)
        # Only wraps that can touch the frame count, so that dragging one re-nests only the frames it passes.
        _, reach = _padded(thing, frame, size)
        near = [] if reach.empty else [(key, w) for key, w in pushing if _meet(reach.bounds, w.reach)]
        turned = frame.setting == "turned" and thing.turn != 0
        key = (
            id(shaped), frame.wrap_lines, thing.box, thing.turn, thing.pivot, thing.outline.model_dump_json(),
            sides_of(frame, size), isinstance(frame.padding, tuple), placing.stroke_reach(thing.stroke),
            frame_rules(frame, size), turned, tuple(k for k, _ in near),
        )  # fmt: skip
        matrix = placing.matrix(thing) if turned else None
        found = self._nests.get(key)
        if found is None:
            found = self._nests[key] = (shaped, self._nested(thing, frame, shaped, near, size))
            while len(self._nests) > self._remembered:
                self._nests.popitem(last=False)
        self._nests.move_to_end(key)
        placed = (page, thing, found[1], mine.name, mine.version, _about_page(matrix, thing), (number, *key))
        return PlacedNest(*placed, unsettled, factor)


def _padded(thing: PageObject, frame: Frame, size: float) -> tuple[Region, Region]:
    """Where copy may stand as it is nested (unturned, when the frame is set turned), and on the page."""
    turned = frame.setting == "turned" and thing.turn != 0
    x, y, _, _ = thing.box
    if isinstance(frame.padding, tuple) and len(set(sides_of(frame, size))) > 1:
        region = placing.padded_by_side(thing, sides_of(frame, size), level=not turned)
        return region, region.turned(thing.turn, placing.pivot_on_page(thing)) if turned else region
    own = placing.padded(thing, sides_of(frame, size)[0])
    reach = placing.on_page(own, thing) if not own.empty else own
    return (own.moved(x, y) if turned else reach), reach


def _pushing(frame: Frame, thing: PageObject, wraps: list[Wrapping]) -> list[Wrapping]:
    return [(key, w) for key, w in wraps if w.object_id != thing.id] if frame.pushed else []


def _distance(a: PageObject, b: PageObject) -> float:
    return max(abs(v - w) for v, w in zip(a.box, b.box, strict=True)) if a is not b else 0.0


class Nests(list[PlacedNest]):
    """Every frame's nest, and the objects that came to rest elsewhere than the document says."""

    def __init__(self) -> None:
        super().__init__()
        self.moved: dict[str, PageObject] = {}


def settled(document: Document, nests: Nests) -> Document:
    """The document with every object as it came to rest: frames as large as their copy needs, ties held."""
    changed = nests.moved
    if not changed:
        return document
    pages = tuple(replace(p, objects=tuple(changed.get(t.id, t) for t in p.objects)) for p in document.pages)
    return replace(document, pages=pages)


def _meet(bounds: tuple[float, float, float, float], region: Region) -> bool:
    if region.empty:
        return False
    left, top, right, bottom = region.bounds
    return left < bounds[2] and right > bounds[0] and top < bounds[3] and bottom > bounds[1]


def _about_page(matrix: Affine | None, thing: PageObject) -> Affine | None:
    """The turn as a matrix on page coordinates (lines of a turned frame are given where they stood unturned)."""
    if matrix is None:
        return None
    a, b, c, d, e, f = matrix
    x, y, _, _ = thing.box
    return (a, b, c, d, e - a * x - c * y, f - b * x - d * y)


def frame_rules(frame: Frame, size: float) -> FrameRules:
    """A frame's rules in points, an em being the size of its copy's first paragraph."""
    hang = frame.hang if frame.hang in get_args(Hang) else lengths.points(frame.hang, size)
    least_pt, least_em = lengths.parse(frame.least_slot) if frame.wrap_lines else (0.0, 0.0)
    return FrameRules(
        sit=frame.sit,
        lift=lengths.points(frame.lift, size),
        hang=hang,
        hang_least=lengths.points(frame.hang_least, size),
        stand=frame.stand,
        band=frame.band,
        least_slot_pt=least_pt,
        least_slot_em=least_em,
        columns=frame.columns,
        gutter=lengths.points(frame.gutter, size),
        balance=frame.balance,
        ends=frame.leftover.ends,
        mark=frame.leftover.mark,
        leaded=(*lengths.parse(frame.leaded.leading), *lengths.parse(frame.leaded.space)),
    )


def in_line_sizes(things: Sequence[PageObject]) -> dict[str, tuple[float, float, float, float]]:
    """What objects that stand in line take up there (see copy.shaped.InLine)."""
    out = {}
    for thing in things:
        if thing.anchor is not None and not thing.hidden:
            out[thing.id] = (thing.box[2], thing.box[3], *lengths.parse(thing.anchor.shift))
    return out


def in_line(thing: PageObject, found: tuple[PlacedNest, InLinePlace] | None) -> PageObject:
    """An object where the copy that it belongs to puts it; hidden while that is not set anywhere."""
    if found is None:
        return thing.model_copy(update={"hidden": True})
    placed, place = found
    size = place.width / thing.box[2] if thing.box[2] else 1.0
    width, height, x, y, turn = thing.box[2] * size, thing.box[3] * size, place.left, place.top, thing.turn
    if placed.matrix is not None:
        a, b, c, d, e, f = placed.matrix
        middle = (x + thing.pivot[0] * width, y + thing.pivot[1] * height)
        x = a * middle[0] + c * middle[1] + e - thing.pivot[0] * width
        y = b * middle[0] + d * middle[1] + f - thing.pivot[1] * height
        turn += placed.thing.turn
    box = {"x": round(x, 4), "y": round(y, 4), "width": round(width, 4), "height": round(height, 4), "turn": turn}
    return thing.model_copy(update=box)


def page_wraps(page: Page, things: Sequence[PageObject], contour_of: ContourOf) -> list[Wrapping]:
    """What pushes copy away on a page, each with a key of everything it depends on."""
    out: list[Wrapping] = []
    for thing, path in zip(things, page.paths, strict=True):
        if thing.hidden or thing.wrap.by == "none" or thing.anchor is not None:
            continue
        try:
            region = wrap_region(thing, contour_of)
            inside = region if thing.wrap.inside else None
            region = all_but(region) if inside is not None else region
        except NestLineError as error:
            raise DocumentError(json_path((*path, "contour")), str(error)) from None
        key = (
            thing.id, thing.box, thing.turn, thing.pivot, thing.outline.model_dump_json(), thing.wrap.model_dump_json(),
            placing.stroke_reach(thing.stroke), thing.picture and thing.picture.model_dump_json(),
            thing.contour and thing.contour.model_dump_json(),
        )  # fmt: skip
        sides = "below" if thing.wrap.by == "below" else "both" if inside is not None else thing.wrap.sides
        out.append((key, WrapRegion(region, thing.id, sides, inside)))
    return out


FARTHEST = 20_000.0
"""How far everything reaches about a shape that copy stays inside, in points."""


def all_but(region: Region) -> Region:
    """Everything but a region: what pushes copy into it."""
    if region.empty:
        return region
    left, top, right, bottom = region.bounds
    far = box_region(left - FARTHEST, top - FARTHEST, right + FARTHEST, bottom + FARTHEST)
    return Region(np.concatenate([far.edges, region.edges]), np.concatenate([far.starts, region.starts]))


def wrap_region(thing: PageObject, contour_of: ContourOf) -> Region:
    """Where an object lets no copy stand, on its page; where it must stand, with `inside`: its shape without the
    clearance."""
    wrap = thing.wrap
    if wrap.inside and wrap.by != "contour":
        given = max(wrap.clearance, key=lengths.points) if isinstance(wrap.clearance, tuple) else wrap.clearance
        own = placing.padded(
            thing.model_copy(update={"outline": Outline()}) if wrap.by == "box" else thing, lengths.points(given)
        )
        return placing.on_page(own, thing)
    if wrap.by == "box" or (wrap.by == "below" and isinstance(wrap.clearance, tuple)):
        given = wrap.clearance if isinstance(wrap.clearance, tuple) else (wrap.clearance,) * 4
        reach = placing.stroke_reach(thing.stroke)[1]
        top, right, bottom, left = (lengths.points(c) + reach for c in given)
        _, _, width, height = thing.box
        own = placing.cleared_box(width, height, (top, right, bottom, left))
    elif wrap.by == "contour" and thing.picture is not None:
        own = contour_of(thing)
    else:
        own = placing.cleared_outline(thing, lengths.points(wrap.clearance))
    return placing.on_page(own, thing)


def _font_error(document: Document, copy: str, version: str, error: FontError) -> DocumentError:
    """Where the font that is missing is named."""
    families = {name for name in str(error).split("“")[1].split("”")[:1]}
    for name, style in document.head.styles.items():
        if style.font in families:
            return DocumentError(json_path(("styles", name, "font")), str(error))
    for number, paragraph in enumerate(document.copies[copy][version].paragraphs):
        at: tuple[str | int, ...] = ("copies", copy, "versions", version, "paragraphs", number)
        if paragraph.font in families:
            return DocumentError(json_path((*at, "font")), str(error))
        for run_number, run in enumerate(paragraph.runs):
            if run.font in families:
                return DocumentError(json_path((*at, "runs", run_number, "font")), str(error))
    return DocumentError("$", str(error))
