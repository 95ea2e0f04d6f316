"""Frames that follow their copy: the smallest size, growing from the least, that holds all of it with every rule true.

A size ends at its cap: the greatest that the frame states, else the page's. Where no size up to the cap holds all, it
is the smallest with the fewest words over; where none holds any, the frame stays as it is written.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Protocol

from nestline import rows as k
from nestline.copy.shaped_copy import ShapedCopy
from nestline.document.model import Bounds, Frame, Outline, PageObject
from nestline.nesting import compiled, work
from nestline.nesting.frame_nest import FrameNest
from nestline.outlines import path, placing

TALLEST = 14_400.0
"""How tall a frame is while the depth of its copy is measured, in points: 200 inches, the largest page of PDF (ISO
32000-1, annex C)."""
NEAR = 0.02
"""How near the least sufficient size is found, in points."""
FEW_STEP = 1.02
"""The step between sizes, as a factor, where none holds all and the fewest words over are looked for."""
WIDER, ENOUGH_WORSE = 1.08, 3
"""The step between widths tried for an outline that gives along both axes, and after how many larger areas it ends."""
Held = tuple[float, int]
"""How much of its copy a size holds, as a share of its length, and how many words are left over."""
PIXEL = 0.75
MOST_MORE = 50
"""How many steps more a rounded size may take until it holds what the size as it was found does."""


class NestIn(Protocol):
    def __call__(self, thing: PageObject, frame: Frame, /, probe: bool = False) -> FrameNest:
        """Nest the copy in a frame of another size or with other rules (see frame.nest_frame for a `probe`)."""


def sides_of(frame: Frame, size: float) -> tuple[float, float, float, float]:
    """Padding on the top, right, bottom and left, in points, an em being `size` points."""
    return frame.padding.points(size)


def resized(thing: PageObject, frame: Frame, width: float, height: float) -> PageObject:
    """The object in another size: edges that hold stay where they are on the page, of two that give the middle does.

    In proportion its pivot stays. Of a turned object the middle of a holding edge stays.
    """
    _, _, old_width, old_height = thing.box
    if "in-proportion" in frame.give:
        fx, fy = thing.pivot
    else:
        fx = _holds("left" in frame.give, "right" in frame.give)
        fy = _holds("top" in frame.give, "bottom" in frame.give)
    left, top, _, _ = thing.box
    if thing.turn == 0:
        x, y = _r(left + fx * (old_width - width)), _r(top + fy * (old_height - height))
        return thing.put(x=x, y=y, width=width, height=height)
    made = thing.put(width=width, height=height)
    x, y = path.at(placing.matrix(thing), (fx * old_width, fy * old_height))
    new_x, new_y = path.at(placing.matrix(made), (fx * width, fy * height))
    return made.put(x=_r(left + x - new_x), y=_r(top + y - new_y))


def _r(value: float) -> float:
    return round(value, 9)


def _holds(before: bool, after: bool) -> float:
    """Which fraction of an axis stays: its start, its end, or its middle."""
    return 0.5 if before and after else 1.0 if before else 0.0


def caps(page: tuple[float, float], turn: float) -> tuple[float, float]:
    """The greatest width and height that a frame turned by `turn` degrees grows to when it states none: the longest
    line of the page in its direction, in points."""
    cos, sin = abs(math.cos(math.radians(turn))), abs(math.sin(math.radians(turn)))
    width, height = page

    def longest(across: float, down: float) -> float:
        return min(width / across if across > 1e-9 else math.inf, height / down if down > 1e-9 else math.inf)

    return longest(cos, sin), longest(sin, cos)


def given(
    thing: PageObject,
    frame: Frame,
    copy: ShapedCopy,
    whole_lines: ShapedCopy,
    nest: NestIn,
    pushed: bool,
    begin: int = 0,
    page: tuple[float, float] = (TALLEST, TALLEST),
) -> tuple[PageObject, bool]:
    """A frame with edges that give, as large as its copy needs; and whether the work that it may take was spent before
    it was found: then it is the best so far.

    `whole_lines` is the copy without breaks but the forced ones; `pushed` says whether wraps may reach the frame;
    `begin` is the piece of the copy that the frame begins with; `page` the width and height of its page.
    """
    with work.within(work.SEARCH) as done:
        return _given(thing, frame, copy, whole_lines, nest, pushed, begin, page, done), done.spent


def _given(
    thing: PageObject,
    frame: Frame,
    copy: ShapedCopy,
    whole_lines: ShapedCopy,
    nest: NestIn,
    pushed: bool,
    begin: int,
    page: tuple[float, float],
    done: work.Work,
) -> PageObject:
    across = any(edge in frame.give for edge in ("left", "right"))
    down = any(edge in frame.give for edge in ("top", "bottom"))
    search = _Search(thing, frame, copy, whole_lines, nest, pushed, begin, caps(page, thing.turn), done)
    _, _, width, height = thing.box
    if "in-proportion" in frame.give:
        factor = search.factor()
        width, height = width * factor, height * factor
    elif not frame.wrap_lines:
        width = search.unwrapped_width() if across else width
        needed = search.stack(whole_lines)
        # A line of type is as high as its letters, whatever its height says.
        height = max(min(needed, search.high[1]), search.low[1] if down else height)
        if across and not search.square:
            # A hair wider than its longest line: a narrower outline counts as a box (frame.nest_frame).
            width = search.width(height, min(width + 2e-3, search.high[0]))
    elif across and down:
        width, height = search.both()
    elif across:
        width = search.width(height)
    elif down:
        height = search.height(width)
    return resized(thing, frame, *search.rounded(width, height))


def _up(value: float) -> float:
    """Rounded to a ten-thousandth of a point, never down by more than rounding errors."""
    return math.ceil(value * 1e4 - 1e-3) / 1e4


def by_halves(holds: Callable[[float], bool], good: float, bad: float, near: float, done: work.Work) -> float:
    """A value that holds, nearer than `near` to one that does not: between `good`, which does, and `bad`."""
    while abs(good - bad) > near and not done.spent:
        half = (good + bad) / 2
        if holds(half):
            good = half
        else:
            bad = half
    return good


class _Search:
    def __init__(
        self,
        thing: PageObject,
        frame: Frame,
        copy: ShapedCopy,
        whole_lines: ShapedCopy,
        nest: NestIn,
        pushed: bool,
        begin: int,
        page: tuple[float, float],
        done: work.Work,
    ) -> None:
        self.done = done
        self.thing, self.frame, self.copy, self.whole_lines = thing, frame, copy, whole_lines
        self.nest, self.pushed = nest, pushed
        # What a frame holds, it holds wherever its lines sit, and whether its columns are balanced or not.
        self.top = frame.model_copy(update={"sit": "top", "balance": False})
        inner = placing.stroke_reach(thing.stroke)[0]
        top, right, bottom, left = sides_of(frame, copy.size)
        self.across, self.down = left + right + 2 * inner, top + bottom + 2 * inner
        self.low = tuple(
            max(self._limit(frame.least, axis, 0.0), room + 0.5)
            for axis, room in (("width", self.across), ("height", self.down))
        )
        self.high = tuple(
            max(self._limit(frame.greatest, axis, most), low)
            for axis, most, low in zip(("width", "height"), page, self.low, strict=True)
        )
        self.rectangle = thing.outline.kind == "rectangle"
        self.square = self.rectangle and not any(thing.outline.radius.points(copy.size))
        # What the copy's lines take at the very least: their length, closed up, times the leading.
        before = float(copy.pieces[begin, k.X0]) if begin < len(copy.pieces) else 0.0
        self.length = 0.7 * (float(copy.x[-1]) - before) if len(copy.x) else 0.0
        self.leading = float(copy.rules[:, k.LEADING].min()) if len(copy.rules) else 1.0

    @staticmethod
    def _limit(bounds: Bounds | None, axis: str, default: float) -> float:
        value = getattr(bounds, axis) if bounds else None
        return default if value is None else float(value.pt)

    def share(self, width: float, height: float) -> float:
        """How much of the copy a size holds, as a share of its length; 1 when all."""
        return self._held(width, height)[0]

    def _held(self, width: float, height: float) -> Held:
        nest = self.nest(resized(self.thing, self.frame, width, height), self.top, probe=True)
        return share_held(nest, nest.begin), nest.leftover_words

    def first(
        self,
        hold: Callable[[float], Held],
        low: float,
        high: float,
        needed: Callable[[float, float], float],
        written: float,
        near: float = NEAR,
    ) -> float:
        """The first value from `low` on that holds all, by steps and then by halves; where none up to `high` does, the
        smallest with the fewest words over, and where none holds anything what is `written`.

        `needed` says from a value and the share it holds which is likely to hold all: a step goes nearly so far.
        """
        bad, (held, _) = low, hold(low)
        if held >= 1:
            return low
        while bad < high and not self.done.spent:
            at = min(max(bad + 0.985 * (needed(bad, held) - bad), 1.004 * bad + near), high)
            held = hold(at)[0]
            if held >= 1:
                return by_halves(lambda v: hold(v)[0] >= 1, at, bad, near, self.done)
            bad = at
        if self.done.spent:
            return bad
        # Not even the cap holds all: which values leave the fewest words over is looked for step by step.
        steps = max(2, math.ceil(math.log(high / low) / math.log(FEW_STEP))) if low > 0 and high > low else 1
        values = [low * (high / low) ** (i / steps) for i in range(steps)] + [high]
        found = [hold(value) for value in values]
        if (full := next((i for i, (share, _) in enumerate(found) if share >= 1), None)) is not None:
            before = values[full - 1] if full else values[0]
            return by_halves(lambda v: hold(v)[0] >= 1, values[full], before, near, self.done)
        if max(share for share, _ in found) <= 0:
            return min(max(written, low), high)
        fewest = min(words for _, words in found)
        best = next(i for i, (_, words) in enumerate(found) if words == fewest)
        return (
            by_halves(lambda v: hold(v)[1] <= fewest, values[best], values[best - 1], near, self.done) if best else low
        )

    def height(self, width: float, near: float = NEAR) -> float:
        low, high = self.low[1], self.high[1]
        low = min(max(low, self.down + (self.length / max(width, 1.0) - 1) * self.leading), high)
        level = self.thing.turn == 0 or self.frame.setting == "turned"
        grows_down = "top" not in self.frame.give
        if (
            self.rectangle
            and level
            and self.frame.columns == 1
            and self.frame.arms == "across"
            and (grows_down or not self.pushed)
        ):
            # The slots of a rectangle do not depend on its height: as deep as its lines stand in an endless one.
            tall = resized(self.thing, self.frame, width, max(TALLEST / 4, self.thing.box[3]))
            top, _, bottom, _ = sides_of(self.frame, self.copy.size)
            inner = placing.stroke_reach(self.thing.stroke)[0]
            nest = self.nest(tall, self.frame.model_copy(update={"sit": "top", "give": ("bottom",)}))
            if nest.next_piece >= len(nest.copy.pieces) and nest.lines:
                found = max(nest.stand_y - nest.geometry.bounds[1] + top + bottom + 2 * inner + 1e-5, self.low[1])
                if found <= high and self.share(width, _up(found)) >= 1:
                    return found
        down, written = self.down, self.thing.box[3]
        return self.first(
            lambda h: self._held(width, h), low, high, lambda h, held: down + (h - down) / max(held, 0.2), written, near
        )

    def width(self, height: float, least: float = 0.0) -> float:
        low, high = max(self.low[0], least), max(self.high[0], least)
        low = min(max(low, self.length * self.leading / max(height + 2 * self.leading, 1.0)), high)
        across, written = self.across, self.thing.box[2]
        return self.first(
            lambda w: self._held(w, height), low, high, lambda w, held: across + (w - across) / max(held, 0.2), written
        )

    def both(self) -> tuple[float, float]:
        """Width and height of a frame that gives along both: as wide as its longest line, then as high as it must be.
        An outline whose width changes with its height is the smallest in area of those at least so wide."""
        least, most = self.unwrapped_width(), self.high[0]
        if self.square and (self.thing.turn == 0 or self.frame.setting == "turned") or least >= most:
            return least, self.height(least)

        def area(width: float, near: float) -> float:
            height = self.height(width, near)
            return width * height if self.share(width, height) >= 1 else math.inf

        rough = max(0.005 * self.high[1], NEAR)
        count = max(1, math.floor(math.log(most / least) / math.log(WIDER)))
        widths = [least * (most / least) ** (i / count) for i in range(count + 1)]
        best, fewest, worse = least, math.inf, 0
        for width in widths:
            if self.done.spent:
                break
            found = area(width, rough)
            if found < fewest:
                best, fewest, worse = width, found, 0
            elif fewest < math.inf and (worse := worse + 1) == ENOUGH_WORSE:
                break  # wider and wider only makes it larger
        if fewest == math.inf:
            return most, self.height(most)
        return best, self.height(best)

    def factor(self) -> float:
        _, _, width, height = self.thing.box
        low = max(self.low[0] / width, self.low[1] / height, 1e-3)
        high = max(min(self.high[0] / width, self.high[1] / height), low)
        area = math.sqrt(0.8 * self.length * self.leading / (width * height))
        low = min(max(low, area), high)
        near = NEAR / max(width, height)
        return self.first(
            lambda f: self._held(f * width, f * height),
            low,
            high,
            lambda f, held: f / math.sqrt(max(held, 0.05)),
            1.0,
            near,
        )

    def rounded(self, width: float, height: float) -> tuple[float, float]:
        """A size that was found, rounded up (what did not change stays as it is). A curved outline may then just not
        hold what it held before: a little more."""
        _, _, old_width, old_height = self.thing.box
        up = (lambda v: math.ceil(v / PIXEL - 1e-4) * PIXEL) if self.frame.whole_pixels else _up
        step = PIXEL if self.frame.whole_pixels else 1e-4
        across = step * (max(1.0, width / height) if "in-proportion" in self.frame.give else 1.0)
        down = step * (max(1.0, height / width) if "in-proportion" in self.frame.give else 1.0)
        must_hold = not self.rectangle and self.share(width, height) >= 1
        size = width, height
        for more in range(MOST_MORE):
            size = (
                width if width == old_width else up(width + more * across),
                height if height == old_height else up(height + more * down),
            )
            if not must_hold or self.done.spent or self.share(*size) >= 1:
                break
        return size

    def unwrapped_width(self) -> float:
        """The width at which no line wraps, between the limits."""
        longest = longest_line(self.whole_lines)
        low = self.across + max(longest + 1e-4, 0.5 * self.copy.size)
        return min(max(low, self.low[0]), self.high[0])

    def stack(self, copy: ShapedCopy) -> float:
        """From the hang metric of the first line to the stand metric of the last, none of them wrapped, with padding:
        as in a box, whatever the outline."""
        if not len(copy.pieces):
            return self.down
        high = TALLEST / 4
        wide = max(self.thing.box[2], self.across + longest_line(copy) + 1)
        box = self.thing.model_copy(update={"outline": Outline()})
        nest = self.nest(resized(box, self.frame, wide, high), self.frame.model_copy(update={"sit": "top"}))
        top = nest.geometry.bounds[1]
        return nest.stand_y - top + self.down + 1e-5 if nest.lines else self.down


LEAST_FACTOR, MOST_FACTOR, FINEST = 0.25, 8.0, 5e-4
"""Limits of fitted type where none are given, and how near the largest factor is found."""


def share_held(nest: FrameNest, begin: int) -> float:
    """How much of its copy from piece `begin` on a nest and those before it hold, as a share of its length; 1
    when all."""
    pieces = nest.copy.pieces
    if nest.next_piece >= len(pieces):
        return 1.0
    before = float(pieces[begin, k.X0])
    return (float(pieces[nest.next_piece, k.X0]) - before) / max(float(pieces[-1, k.X1]) - before, 1e-9)


def may_give(frame: Frame, goes_on: bool) -> bool:
    """Whether a frame's edges give: those of one whose copy goes on in another only up to a greatest size."""
    if not frame.give or not goes_on:
        return bool(frame.give)
    axes = {"left": "width", "right": "width", "top": "height", "bottom": "height"}
    wanted = {"width", "height"} if "in-proportion" in frame.give else {axes[e] for e in frame.give}
    return all(frame.greatest is not None and getattr(frame.greatest, axis) is not None for axis in wanted)


def fitted(frame: Frame, size: float, share: Callable[[float], float], most: float, words: int) -> tuple[float, bool]:
    """As `_fitted`, and whether the work that it may take was spent before it was found."""
    with work.within(work.SEARCH) as done:
        return _fitted(frame, size, share, most, words, done), done.spent


def _fitted(
    frame: Frame, size: float, share: Callable[[float], float], most: float, words: int, done: work.Work
) -> float:
    """The largest factor on all sizes of the copy, between the limits, that leaves nothing over; the least when none
    does.

    `share` says how much of the copy a factor holds; no factor above `most` can hold all. That a factor holds all does
    not say that a smaller one does (in a curved outline a smaller word may come to stand where it is narrower), so that
    sizes are gone through from above in small steps.
    """
    fit = frame.fit_type
    assert fit is not None
    high = MOST_FACTOR if fit.grow else 1.0
    if fit.greatest is not None:
        greatest = fit.greatest.points(size) / size
        high = greatest if fit.grow else min(high, greatest)
    low = fit.least.points(size) / size if fit.least is not None else min(LEAST_FACTOR, high)
    high = max(high, low)
    if share(high) >= 1:
        return high
    bad = high
    if most < high:
        bad = max(most, low)
        if share(bad) >= 1:
            return by_halves(lambda factor: share(factor) >= 1, bad, high, FINEST, done)
    held = share(bad)
    few = words <= FEW_WORDS
    while bad > low and not done.spent:
        # How much of a few words is held says little of what holds all.
        step = FIT_STEP if few else max(FIT_STEP, 0.6 * (1 - math.sqrt(max(held, 0.05))))
        at = max(bad * (1 - step), low)
        held = share(at)
        if held >= 1:
            return by_halves(lambda factor: share(factor) >= 1, at, bad, FINEST, done)
        bad = at
    return low


FIT_STEP, FEW_WORDS = 0.004, 3
"""The least step between sizes that are tried, as a share; up to how many words every such size is."""


def longest_line(whole_lines: ShapedCopy) -> float:
    """The width of the longest line when none wraps, with its indent."""
    copy = whole_lines
    lines = [float(compiled.piece_width(copy.pieces, i, i)) for i in range(len(copy.pieces))]
    indents = [float(compiled.indents(copy.rules, int(p[k.PARAGRAPH]), True, True)) for p in copy.pieces]
    return max((a + b for a, b in zip(lines, indents, strict=True)), default=0.0)
