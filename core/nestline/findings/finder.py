"""All that is found in a document, in the order of its pages; what lines, words and objects have is looked for in rooms
of their own."""

from __future__ import annotations

from collections import Counter, OrderedDict
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from nestline.acts.expanding import expanded
from nestline.document import edits
from nestline.document.colors import color_figure
from nestline.document.contrast import ENOUGH, ENOUGH_FOR_LARGE, ratios
from nestline.document.model import Head, PageObject
from nestline.document.naming import labels_of
from nestline.document.reading import Document
from nestline.errors import NestLineError
from nestline.findings import said
from nestline.findings.cures import cures_of
from nestline.findings.finding import KINDS, QUOTED, Finding, Medium, Tried
from nestline.findings.lines import marked, parted
from nestline.findings.sight import Seen, Sight, touch
from nestline.findings.things import OFF, Things, of_frame
from nestline.findings.translated import of_versions
from nestline.findings.words import SetWords, set_words
from nestline.nesting.nests import Nests, settled
from nestline.nesting.placed import PlacedNest
from nestline.outlines import placing
from nestline.remembering import remember
from nestline.studio import Studio

LARGE, LARGE_BOLD = 18.0, 14.0
"""Large type by WCAG 2.2: so many points, or so many where it is bold."""
ACROSS, DOWN = 13, 7
"""How many points each word is looked at in."""
FINE, STEEP = ((41, 23), (181, 101)), 1.01
"""And in how many where what lies behind it is uneven and its contrast near the limit, or below; the second where
contrasts round the tenth percentile differ by more than such a factor."""
UNEVEN, NEAR = 1.03, 1.4
"""From which spread of contrasts on a word is looked at so, and up to how many times the limit."""
MOST_FRAMES = 600
"""Frames whose findings are remembered."""


class Finder:
    """Finds what is wrong in a studio's documents. Keep one a studio: it remembers pictures."""

    def __init__(self, studio: Studio) -> None:
        self._things = Things(studio.pictures, studio.contours, studio.fonts)
        self._sight = Sight(studio.pictures, studio.contours)
        self._words_of: OrderedDict[tuple[object, ...], tuple[PlacedNest, Head, list[Finding]]] = OrderedDict()
        self._lines_of: OrderedDict[int, tuple[PlacedNest, list[Finding]]] = OrderedDict()

    def find(self, document: Document, nests: Nests, pause: Callable[[], None] = lambda: None) -> list[Finding]:
        """What is found in a document and its nests, what is set aside with it. Between frames that take time it
        pauses, for whoever waits for the same studio."""
        rested = settled(document, nests)
        found = [
            *self._words(rested, nests, pause),
            *self._lines(rested, nests),
            *self._things.find(rested, document, nests),
        ]
        found += of_versions(document, nests)
        order = {name: place for place, name in enumerate(KINDS)}
        kept = []
        for one in found:
            limit = _limit(document, one.kind) if one.limit is None else one.limit
            if limit is not None and one.figure is not None and _will_do(one, limit):
                continue
            kept.append(replace(one, limit=limit))
        names = labels_of(document) if kept else {}
        placed_of = {placed.thing.id: placed for placed in nests}
        kept = [_complete(one, rested, names, placed_of.get(one.object)) for one in _as_one(kept)]
        return sorted(kept, key=lambda one: (one.page, order[one.kind], one.object, one.range or (0, 0)))

    def tried(self, studio: Studio, document: Document, one: Finding, found: Sequence[Finding]) -> list[Tried]:
        """What each cure of a finding comes to: done, nested and looked at again. Those that mend it come first; one
        that cannot be done is left out."""
        out = []
        for cure in one.cures:
            try:
                operations = expanded(studio, document.raw, list(cure.operations))
                after = studio.read(edits.apply(document.raw, operations).document)
                left = self.find(after, studio.nest(after))
            except NestLineError:
                continue
            before, now = Counter(_about(f) for f in open_ones(found)), Counter(_about(f) for f in open_ones(left))
            mends = now[_about(one)] < before[_about(one)]
            out.append(Tried(cure, mends, sum((now - before).values()), sum((before - now).values())))
        return sorted(out, key=lambda tried: (not tried.mends, tried.more - tried.fewer))

    # Words: seen at all, read, on the page, large enough

    def _words(self, document: Document, nests: Nests, pause: Callable[[], None]) -> Iterator[Finding]:
        places = [{t.id: at for at, t in enumerate(page.objects)} for page in document.pages]
        bounds = [[placing.bounds_on_page(t) for t in page.objects] for page in document.pages]
        for placed in nests:
            if placed.thing.hidden or placed.thing.id not in places[placed.page]:
                continue
            page = document.pages[placed.page]
            # What words look like depends on their nest, and on what is painted where they stand.
            words = set_words(placed)
            place = places[placed.page][placed.thing.id]
            touching = [touch(box, words.reach) for box in bounds[placed.page]]
            near = [(at <= place, t) for at, t in enumerate(page.objects) if touching[at] and not t.hidden]
            painted = tuple((below, t.id, t.box, t.turn, t.paint, _written(t)) for below, t in near)
            key = (id(placed.nest), id(document.head), page.sheet.written, painted)
            if (known := self._words_of.get(key)) is None:
                pause()
                # What is known by its identity is kept with it.
                known = (placed, document.head, list(self._of_words(document, words, place)))
                remember(self._words_of, key, known, MOST_FRAMES)
            yield from known[-1]

    def _of_words(self, document: Document, words: SetWords, place: int) -> Iterator[Finding]:
        if not len(words):
            return
        points = words.points(ACROSS, DOWN).reshape(-1, 2)
        yield from self._seen(document, words, place, self._sight.seen(document, words.placed.page, place, points))
        yield from self._cut_off(document, words)
        yield from self._small(document, words)

    def _finely(
        self, document: Document, words: SetWords, place: int, inks: NDArray[np.float64], which: NDArray[np.int64]
    ) -> NDArray[np.float64]:
        """The contrasts of some words, looked at in many points; in very many where an edge runs through the
        percentile."""
        told = np.empty(len(which))
        left = np.arange(len(which))
        for across, down in FINE:
            points = words.points(across, down, which[left]).reshape(-1, 2)
            seen = self._sight.seen(document, words.placed.page, place, points)
            ink = seen.of(np.repeat(inks[which[left]], across * down, axis=0))
            found = ratios(ink, seen.behind_seen).reshape(len(left), -1)
            below, told[left], above = np.percentile(found, (9, 10, 11), axis=1)
            left = left[above > below * STEEP]
            if not len(left):
                break
        return told

    def _seen(self, document: Document, words: SetWords, place: int, seen: Seen) -> Iterator[Finding]:
        looks = words.placed.nest.copy.segments.looks
        inks = np.array([color_figure(document.head, look.color) for _, look in looks])[words.look]
        each = (len(words), ACROSS * DOWN)
        covered = 1 - seen.through.reshape(each).mean(axis=1)
        least = _limit(document, "pale") or 0.0
        ink = seen.of(np.repeat(inks, each[1], axis=0))
        found = ratios(ink, seen.behind_seen).reshape(each)
        told = np.percentile(found, 10, axis=1)
        uneven = np.flatnonzero((found.max(axis=1) > UNEVEN * found.min(axis=1)) & (told < NEAR * least))
        if len(uneven):
            told[uneven] = self._finely(document, words, place, inks, uneven)
        bold = np.array([look.weight >= 700 for _, look in looks])[words.look]
        large = (words.size >= LARGE) | (bold & (words.size >= LARGE_BOLD))
        hidden = covered > 0.5
        yield from _gathered("hidden", words, hidden, covered, None, np.max)
        stroked = np.array([look.stroke is not None for _, look in looks])[words.look]
        for is_large, limit in ((False, least), (True, min(least, ENOUGH_FOR_LARGE) if least <= ENOUGH else least)):
            pale = ~hidden & ~stroked & (large == is_large) & (told < limit)
            yield from _gathered("pale", words, pale, told, limit, np.min)

    @staticmethod
    def _cut_off(document: Document, words: SetWords) -> Iterator[Finding]:
        width, height = document.pages[words.placed.page].sheet.size
        boxes = np.array([words.box(n) for n in range(len(words))])
        left, top, right, bottom = boxes.T
        over = np.maximum.reduce([-left, -top, right - width, bottom - height])
        yield from _gathered("cut-off", words, over > OFF, over, None, np.max)

    @staticmethod
    def _small(document: Document, words: SetWords) -> Iterator[Finding]:
        least = _limit(document, "small") or 0.0
        yield from _gathered("small", words, words.size < least, words.size, None, np.min)

    # Lines

    def _lines(self, document: Document, nests: Nests) -> Iterator[Finding]:
        runs: dict[str, list[PlacedNest]] = {}
        for placed in nests:
            chain = document.chain_of.get(placed.thing.id)
            runs.setdefault(chain[0] if chain else placed.thing.id, []).append(placed)
            if (known := self._lines_of.get(id(placed.nest))) is None:
                found = [of_frame(placed, one.kind, one.figure, one.range, one.marks) for one in marked(placed)]
                known = (placed, found)
                remember(self._lines_of, id(placed.nest), known, MOST_FRAMES)
            yield from known[1]
        for run in runs.values():
            chain = document.chain_of.get(run[0].thing.id)
            if chain:
                run.sort(key=lambda placed: chain.index(placed.thing.id))
            for one in parted(run):
                yield of_frame(one.placed, one.kind, one.figure, one.range, one.marks)


def _limit(document: Document, kind: str) -> float | None:
    """The limit of a kind in a document: its own, else that of print or of screens."""
    medium: Medium = "screen" if document.head.unit == "px" else "print"
    return document.head.findings.limits.get(kind, KINDS[kind].limit(medium))


TOLD_ONCE = {"loose", "unfilled", "last-word", "lone-slot"}
"""What is told once a frame, however many lines have it."""


def _as_one(found: Sequence[Finding]) -> list[Finding]:
    """Findings of lines that are alike in one frame made one: with the worst figure, or how many they are, and all
    their places."""
    out: list[Finding] = []
    first: dict[tuple[str, str], int] = {}
    for one in found:
        key = (one.kind, one.object)
        if one.kind not in TOLD_ONCE or key not in first:
            first.setdefault(key, len(out))
            out.append(one)
            continue
        before = out[first[key]]
        worst = before if one.kind != "loose" or (before.figure or 0) >= (one.figure or 0) else one
        marks, figure = before.marks + one.marks, worst.figure
        if one.kind != "loose":
            figure = float(len(marks))
        out[first[key]] = replace(worst, marks=marks, figure=figure)
    return out


def _written(thing: PageObject) -> tuple[object, ...]:
    """What an object is painted by."""
    parts = (thing.outline, thing.fill, thing.picture, thing.contour)
    return tuple(part and part.written for part in parts)


def _will_do(one: Finding, limit: float) -> bool:
    assert one.figure is not None
    return one.figure >= limit - 1e-9 if KINDS[one.kind].least else one.figure <= limit + 1e-9


def _gathered(
    kind: str,
    words: SetWords,
    which: NDArray[np.bool_],
    figures: NDArray[np.float64],
    limit: float | None,
    worst: Callable[[NDArray[np.float64]], float],
) -> Iterator[Finding]:
    """A finding for each stretch of neighbouring words that are so, with the worst figure of them."""
    stretch: list[int] = []
    order = np.argsort(words.start, kind="stable").tolist()
    for at in [*order, None]:
        if at is not None and which[at]:
            stretch.append(at)
        elif stretch:
            range_ = (int(words.start[stretch[0]]), int(words.end[stretch[-1]]))
            figure = round(float(worst(figures[stretch])), 3)
            found = of_frame(words.placed, kind, figure, range_, tuple(words.box(n) for n in stretch))
            yield replace(found, limit=limit)
            stretch = []


def _complete(one: Finding, document: Document, names: dict[str, str], placed: PlacedNest | None) -> Finding:
    """With its sentence, its cures, and whether it is set aside."""
    aside = any(
        rule.kind == one.kind and rule.object in (None, one.object) and rule.words in (None, one.words[:QUOTED])
        for rule in document.head.findings.never_mind
    )
    fault = one.fault and KINDS[one.kind].fault
    told = replace(
        one, never_mind=aside, fault=fault, message=said.message(one, names.get(one.object, one.object), placed)
    )
    return replace(told, cures=cures_of(told, document, placed))


def _about(one: Finding) -> tuple[str, str]:
    return one.kind, one.object


def open_ones(findings: Iterable[Finding]) -> list[Finding]:
    """Those that are not set aside."""
    return [one for one in findings if not one.never_mind]


def findings_report(findings: Iterable[Finding]) -> list[dict[str, object]]:
    """The list of `--findings`, as docs/document-format.md describes it: pages counted from 1, what is set aside left
    out."""
    return [
        {
            "kind": one.kind,
            "frame": one.object,
            "page": one.page + 1,
            "range": list(one.range) if one.range else None,
            "figure": one.figure,
            "limit": one.limit,
            "message": one.message,
            "fault": one.fault,
        }
        for one in open_ones(findings)
    ]


def faults_in(findings: Sequence[Finding]) -> list[Finding]:
    return [one for one in open_ones(findings) if one.fault]
