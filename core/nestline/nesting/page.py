"""A document nested: every frame of every page, each pushed by the wraps of the other objects of its page.

A `Nester` remembers nests by the values they depend on, so that after an edit only the frames whose outline, copy,
rules or wraps changed are nested again.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import get_args

from nestline.copy.shaped import ShapedCopy, Shaper
from nestline.document import lengths
from nestline.document.model import Frame, Hang, PageObject
from nestline.document.reading import Document, Page
from nestline.errors import DocumentError, NestLineError, json_path
from nestline.fonts.library import FontError, FontLibrary
from nestline.nesting import kernel as k
from nestline.nesting.frame import FrameNest, FrameRules, WrapRegion, frame_row, nest_frame
from nestline.outlines import placing
from nestline.outlines.path import Affine
from nestline.outlines.polygons import Region

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


class Nester:
    """Nests documents, remembering shaped copy and nests. Keep one per process."""

    def __init__(self, fonts: FontLibrary, remembered: int = 2000) -> None:
        self.shaper = Shaper(fonts)
        self._remembered = remembered
        self._settled: OrderedDict[tuple[int, int], tuple[PageObject, PageObject, ShapedCopy]] = OrderedDict()
        self._nests: OrderedDict[tuple[object, ...], tuple[ShapedCopy, FrameNest]] = OrderedDict()

    def nest(
        self, document: Document, contour_of: ContourOf, version: str | None = None, pages: Iterable[int] | None = None
    ) -> list[PlacedNest]:
        """Every frame's nest, page by page, back to front; of the named pages only when they are given.

        Raises DocumentError for a font that is not there.
        """
        wanted = range(len(document.pages)) if pages is None else pages
        return [placed for index in wanted for placed in self._page(document, index, contour_of, version)]

    def _page(self, document: Document, index: int, contour_of: ContourOf, version: str | None) -> Iterable[PlacedNest]:
        page = document.pages[index]
        wraps: list[tuple[tuple[object, ...], WrapRegion]] | None = None
        for number, thing in enumerate(page.objects):
            if thing.frame is None or thing.hidden:
                continue
            if wraps is None:
                wraps = page_wraps(page, contour_of)
            copy_name = thing.frame.copy_name
            version_name, copy = document.version_of(copy_name, version)
            try:
                shaped = self.shaper.copy(copy.paragraphs, document.head.styles, copy.language)
            except FontError as error:
                raise _font_error(document, copy_name, version_name, error) from None
            frame = thing.frame
            if not frame.wrap_lines:
                shaped = self.shaper.unwrapped(shaped)
                thing = self._given(thing, frame, shaped)
            pushing = [(key, w) for key, w in wraps if w.object_id != thing.id] if frame.pushed else []
            yield self._frame(index, number, thing, frame, shaped, pushing, copy_name, version_name)

    def _given(self, thing: PageObject, frame: Frame, copy: ShapedCopy) -> PageObject:
        """A frame that does not wrap as wide as its longest line needs: the edges that give move, the others hold.

        Where its lines need more height than it has, it grows at the bottom.
        """
        key = (id(thing), id(copy))
        found = self._settled.get(key)
        if found is None:
            room = 2 * (lengths.points(frame.padding, copy.size) + placing.stroke_reach(thing.stroke)[0])
            lines = [float(k.piece_width(copy.pieces, i, i)) for i in range(len(copy.pieces))]
            indents = [float(k.indents(copy.rules, int(p[k.PARAGRAPH]), True, True)) for p in copy.pieces]
            longest = max((a + b for a, b in zip(lines, indents, strict=True)), default=0.0)
            width = max(longest + 1e-4, 0.5 * copy.size) + room
            x, _, old, _ = thing.box
            both = "left" in frame.give and "right" in frame.give
            left = x + (old - width) / 2 if both else x + old - width if "left" in frame.give else x
            update = {"x": round(left, 4), "width": round(width, 4)}
            high = room + self._height(frame, copy)
            if high > thing.box[3]:
                update["height"] = round(high, 4)
            found = (thing, thing.model_copy(update=update), copy)
            self._settled[key] = found
            while len(self._settled) > self._remembered:
                self._settled.popitem(last=False)
        return found[1]

    @staticmethod
    def _height(frame: Frame, copy: ShapedCopy) -> float:
        """From the hang metric of the first line to the stand metric of the last, when none wraps."""
        if not len(copy.pieces):
            return 0.0
        row = frame_row(frame_rules(frame, copy.size), (0.0, 0.0, 1.0, 1.0))
        first, last = copy.pieces[0], copy.pieces[-1]
        total = float(k.hang_height(first, row)) + float(k.stand_depth(last, row)) + 1e-3
        for at in range(1, len(copy.pieces)):
            here, before = copy.pieces[at], copy.pieces[at - 1]
            step = (
                before[k.BOX_DOWN] + here[k.BOX_UP]
                if frame.band == "line-box"
                else copy.rules[int(here[k.PARAGRAPH])][k.LEADING]
            )
            total += float(step) + float(k.gap_above(copy.pieces, copy.rules, at))
        return total

    def _frame(
        self, page: int, number: int, thing: PageObject, frame: Frame, shaped: ShapedCopy,
        pushing: list[tuple[tuple[object, ...], WrapRegion]], copy: str, version: str,
    ) -> PlacedNest:  # fmt: skip
        size = shaped.size
        rules = frame_rules(frame, size)
        padding = lengths.points(frame.padding, size)
        turned = frame.setting == "turned" and thing.turn != 0
        own = placing.padded(thing, padding)
        # Only wraps that can touch the frame count, so that dragging one re-nests only the frames it passes.
        reach = placing.on_page(own, thing) if not own.empty else own
        near = [] if reach.empty else [(key, w) for key, w in pushing if _meet(reach.bounds, w.region)]
        key = (
            id(shaped), frame.wrap_lines, thing.box, thing.turn, thing.pivot, thing.outline.model_dump_json(), padding,
            placing.stroke_reach(thing.stroke), rules, turned, tuple(k for k, _ in near),
        )  # fmt: skip
        matrix = placing.matrix(thing) if turned else None
        found = self._nests.get(key)
        if found is None:
            wraps = tuple(w for _, w in near)
            x, y, width, height = thing.box
            if turned:
                # Nested in the page's place but unturned, then turned about the pivot.
                padded = own.moved(x, y)
                about = placing.pivot_on_page(thing)
                wraps = tuple(WrapRegion(w.region.turned(-thing.turn, about), w.object_id, w.sides) for w in wraps)
            else:
                padded = reach
            box = (x, y, x + width, y + height)
            nest = nest_frame(padded, box, wraps, shaped, rules, self.shaper, frame.wrap_lines)
            found = self._nests[key] = (shaped, nest)
            while len(self._nests) > self._remembered:
                self._nests.popitem(last=False)
        self._nests.move_to_end(key)
        return PlacedNest(page, thing, found[1], copy, version, _about_page(matrix, thing), (number, *key))


def settled(document: Document, nests: list[PlacedNest]) -> Document:
    """The document with every object as the nests made it (frames that give as large as their copy needs)."""
    changed = {n.thing.id: n.thing for n in nests if n.thing.frame and n.thing.frame.give}
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
        leaded=(*lengths.parse(frame.leaded.leading), *lengths.parse(frame.leaded.space)),
    )


def page_wraps(page: Page, contour_of: ContourOf) -> list[tuple[tuple[object, ...], WrapRegion]]:
    """What pushes copy away on a page, each with a key of everything it depends on."""
    out: list[tuple[tuple[object, ...], WrapRegion]] = []
    for thing, path in zip(page.objects, page.paths, strict=True):
        if thing.hidden or thing.wrap.by == "none":
            continue
        try:
            region = wrap_region(thing, contour_of)
        except NestLineError as error:
            raise DocumentError(json_path((*path, "contour")), str(error)) from None
        key = (
            thing.id, thing.box, thing.turn, thing.pivot, thing.outline.model_dump_json(), thing.wrap.model_dump_json(),
            placing.stroke_reach(thing.stroke), thing.picture and thing.picture.model_dump_json(),
            thing.contour and thing.contour.model_dump_json(),
        )  # fmt: skip
        out.append((key, WrapRegion(region, thing.id, thing.wrap.sides)))
    return out


def wrap_region(thing: PageObject, contour_of: ContourOf) -> Region:
    """Where an object lets no copy stand, on its page."""
    wrap = thing.wrap
    if wrap.by == "box":
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
