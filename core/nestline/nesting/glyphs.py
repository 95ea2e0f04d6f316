"""The letters of a nest: glyph ids with positions, as every output draws them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from weakref import WeakKeyDictionary

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.copy.bidi import visual_order
from nestline.copy.breaks import MANDATORY
from nestline.copy.line_ends import hyphen_of
from nestline.copy.shaped_paragraph import ShapedParagraph
from nestline.copy.stretches import Stretch
from nestline.copy.styles import Look
from nestline.document.model import OBJECT
from nestline.fonts.library import Face
from nestline.fonts.shaping import shape
from nestline.nesting import compiled
from nestline.nesting.frame_nest import FrameNest
from nestline.outlines.path import Affine


@dataclass(frozen=True, eq=False)
class GlyphRun:
    """Glyphs of one look on one line. Positions in points: `x` of each glyph's origin, `y` upwards from the baseline.

    `clusters` index code points of `text`, the paragraph's text; a `hyphen` set at the line's end stands in it at the
    last place before `end`. Letters are `wide` times as wide as their font has them: `placed` says how each is drawn.
    """

    record: int
    stretch: Stretch
    text: str
    start: int
    end: int
    ids: NDArray[np.int32]
    clusters: NDArray[np.int32]
    x: NDArray[np.float64]
    y: NDArray[np.float64]
    advances: NDArray[np.float64]
    hyphen: bool
    wide: float = 1.0
    apart: float = 0.0
    """What is between its letters beyond their advances, before they are drawn wider."""

    def placed(self, baseline: float) -> Iterator[tuple[int, Affine]]:
        """Each glyph, and what takes its outline from font units, y upwards, to points."""
        scale = self.stretch.scale
        for glyph, x, lift in zip(self.ids.tolist(), self.x.tolist(), self.y.tolist(), strict=True):
            yield glyph, (scale * self.wide, 0, 0, -scale, x, baseline - lift)


def glyph_runs(nest: FrameNest) -> Iterator[GlyphRun]:
    """Every line's glyphs, shaped as the line stands, in the copy's order."""
    return (run for run in _laid(nest) if run.stretch.role not in ("object", "anchor"))


@dataclass(frozen=True)
class InLinePlace:
    """Where an object stands in line, in points, the record of its line, and whether that lies past the edge."""

    object: str
    left: float
    top: float
    width: float
    past: bool
    record: int


_places: WeakKeyDictionary[FrameNest, list[InLinePlace]] = WeakKeyDictionary()


def in_line_places(nest: FrameNest) -> list[InLinePlace]:
    """Where the objects of a nest stand in line, or have their place in it."""
    if not nest.copy.holds_objects:
        return []
    # Asked for again and again while a page comes to rest.
    if (known := _places.get(nest)) is not None:
        return known
    out: list[InLinePlace] = []
    for run in _laid(nest, _records_with(nest, np.array(nest.copy.object_places))):
        if run.stretch.role in ("object", "anchor"):
            top = float(nest.records[run.record, k.BASELINE]) - run.stretch.heights[0]
            past = bool(nest.past[run.record])
            out.append(InLinePlace(run.stretch.object, float(run.x[0]), top, run.stretch.advance, past, run.record))
    _places[nest] = out
    return out


def _records_with(nest: FrameNest, places: NDArray[np.int64]) -> list[int]:
    """The records that hold any of some code points of the copy, given in order."""
    starts, ends = nest.ranges[:, k.RANGE_START], nest.ranges[:, k.RANGE_END]
    return [int(n) for n in np.flatnonzero(np.searchsorted(places, ends) > np.searchsorted(places, starts))]


def _laid(nest: FrameNest, records: Iterable[int] | None = None) -> Iterator[GlyphRun]:
    """Every line's glyphs, with a space for each object in line; of some records only where these are named."""
    copy = nest.copy
    for number in range(len(nest.records)) if records is None else records:
        index = nest.paragraph_of(number)
        paragraph = copy.paragraphs[index]
        base = int(copy.offset[index])
        start, end = (int(v) - base for v in nest.ranges[number])
        stop = int(copy.piece_end[int(nest.records[number, k.LAST])]) - base
        hyphenated = bool(nest.hyphens[number])
        parts = []
        for stretch in paragraph.stretches:
            a, b = max(start, stretch.start), min(end, stretch.end)
            while a < b and paragraph.text[b - 1] in MANDATORY:
                b -= 1
            if stretch.role == "drop" and a < b:
                yield _drop_cap(nest, number, paragraph, stretch, a, b)
            elif a < b:
                parts.append(_part(nest, number, paragraph, stretch, a, b, stop, hyphenated and b == end))
        # Where each stretch begins: from left to right in the order in which they are seen (UAX #9, L2).
        hang = float(copy.pieces[int(nest.records[number, k.FIRST]), k.HANG0])
        pen = float(nest.left[number]) - hang * float(nest.factors[number])
        pens = [0.0] * len(parts)
        for place in visual_order([p.stretch.level for p in parts]):
            pens[place] = pen
            pen += float(parts[place].advances.sum())
        for part, at in zip(parts, pens, strict=True):
            yield replace(part, x=part.x + at)


def _drop_cap(nest: FrameNest, number: int, paragraph: ShapedParagraph, stretch: Stretch, a: int, b: int) -> GlyphRun:
    """The letters of a drop cap, its ink where the record says and its baseline that of its last line."""
    drop = paragraph.rules.drop_cap
    assert drop is not None
    glyphs, scale = stretch.glyphs, stretch.scale
    advances = glyphs.advances * scale
    before = sum(
        float(s.glyphs.width) * s.scale for s in paragraph.stretches if s.role == "drop" and s.end <= stretch.start
    )
    left = float(nest.records[number, k.CAP_X]) - paragraph.drop_bearing + before
    x = left + np.concatenate([[0.0], np.cumsum(advances)[:-1]]) + glyphs.x_offsets * scale
    index = nest.paragraph_of(number)
    depth = float(compiled.drop_depth(nest.copy.rules, index))
    return GlyphRun(
        number,
        stretch,
        paragraph.text,
        a,
        b,
        glyphs.ids,
        glyphs.clusters,
        x.astype(np.float64),
        (glyphs.y_offsets * scale - depth).astype(np.float64),
        advances.astype(np.float64),
        False,
    )


def _part(
    nest: FrameNest, number: int, paragraph: ShapedParagraph, stretch: Stretch, a: int, b: int, stop: int, hyphen: bool
) -> GlyphRun:
    """The glyphs of one stretch on one line, from x = 0."""
    text, wide = paragraph.text.replace("\t", " ").replace(OBJECT, " "), float(nest.factors[number])
    if stretch.role in ("tab", "object", "anchor"):
        at = int(nest.copy.offset[nest.paragraph_of(number)]) + a
        filled = float(nest.fills[number]) * float(nest.copy.fills[at + 1] - nest.copy.fills[at])
        return GlyphRun(
            number,
            stretch,
            text,
            a,
            b,
            stretch.glyphs.ids,
            stretch.glyphs.clusters,
            np.zeros(1),
            np.zeros(1),
            np.array([stretch.advance * wide + filled]),
            False,
        )
    if hyphen:
        text = text[:b] + hyphen_of(stretch.face)
        b = stop = b + 1
    # The spaces that hang past the line's end are shaped with it, and not drawn.
    shaped_to = b if hyphen else max(b, min(stop, stretch.end))
    language, script, look = paragraph.rules.language, stretch.script, stretch.look
    rtl = stretch.level % 2 == 1
    glyphs = shape(stretch.face, text, a, shaped_to, language, script, not look.joined, look.features, rtl).before(b)
    spaces = np.array([text[c] in " \u00a0" for c in glyphs.clusters])
    cluster_ends = np.append(glyphs.clusters[1:] != glyphs.clusters[:-1], True)
    advances = (glyphs.advances * stretch.scale + cluster_ends * look.tracking) * wide
    advances += spaces * float(nest.space_more[number]) + cluster_ends * float(nest.tracks[number])
    x = np.concatenate([[0.0], np.cumsum(advances)[:-1]]) + glyphs.x_offsets * stretch.scale * wide
    return GlyphRun(
        number,
        stretch,
        text,
        a,
        b,
        glyphs.ids,
        glyphs.clusters,
        x,
        (glyphs.y_offsets * stretch.scale).astype(np.float64),
        advances,
        hyphen,
        wide,
        look.tracking + float(nest.tracks[number]) / wide,
    )


@dataclass(frozen=True)
class Mark:
    """What stands before a paragraph of a list, at the start of its first line. Points."""

    text: str
    face: Face
    look: Look
    x: float
    baseline: float


def marks(nest: FrameNest) -> list[Mark]:
    """What is drawn beside the copy's own letters: bullets, numbers, and what fills the room of tabs."""
    return [*list_marks(nest), *leaders(nest), *end_marks(nest)]


def end_marks(nest: FrameNest) -> list[Mark]:
    """What marks the end of copy that does not fit."""
    if nest.mark is None:
        return []
    row, at = nest.records[nest.mark.record], nest.mark.record
    from_right = nest.copy.rules[nest.paragraph_of(at), k.FROM_RIGHT] > 0
    x = float(nest.left[at]) - nest.mark.width if from_right else float(nest.right[at])
    stretch = nest.mark.stretch
    return [Mark(nest.mark.text, stretch.face, replace(stretch.look, underline=False), x, float(row[k.BASELINE]))]


def leaders(nest: FrameNest) -> list[Mark]:
    """What fills the room before tabs, in step from line to line."""
    bases = zip(nest.copy.paragraphs, nest.copy.offset.tolist(), strict=False)
    tabs = [base + s.start for p, base in bases for s in p.stretches if s.leader]
    if not tabs:
        return []
    out: list[Mark] = []
    for run in _laid(nest, _records_with(nest, np.array(tabs))):
        stretch = run.stretch
        if not stretch.leader:
            continue
        step = shape(stretch.face, stretch.leader, 0, len(stretch.leader), "en").width * stretch.scale
        margin = 0.15 * stretch.look.size
        left, right = float(run.x[0]) + margin, float(run.x[0] + run.advances[0]) - margin
        if step <= 0:
            continue
        first = int(np.ceil(left / step))
        count = int(np.floor(right / step)) - first
        if count > 0:
            baseline = float(nest.records[run.record, k.BASELINE])
            out.append(
                Mark(
                    stretch.leader * count, stretch.face, replace(stretch.look, underline=False), first * step, baseline
                )
            )
    return out


def drop_caps(nest: FrameNest) -> list[Mark]:
    """The drop caps of a nest, as a screen draws them (`glyph_runs` has their letters too)."""
    out: list[Mark] = []
    bases = zip(nest.copy.paragraphs, nest.copy.offset.tolist(), strict=False)
    begins = [base for p, base in bases if p.drop_end]
    if not begins:
        return out
    for run in _laid(nest, _records_with(nest, np.array(begins))):
        if run.stretch.role == "drop":
            baseline = float(nest.records[run.record, k.BASELINE]) - float(run.y[0])
            text = run.text[run.start : run.end]
            out.append(Mark(text, run.stretch.face, run.stretch.look, float(run.x[0]), baseline))
    return out


def list_marks(nest: FrameNest) -> list[Mark]:
    """The bullets and numbers of a nest's lists; neighbours in a list of numbers count on, and end in one place."""
    out: list[Mark] = []
    paragraphs = nest.copy.paragraphs
    if not any(p.rules.list_mark for p in paragraphs):
        return out
    number, numbers = 0, []
    for p in paragraphs:
        mark = p.rules.list_mark
        number = number + 1 if mark and mark.kind == "numbers" else 0
        numbers.append(number)
    widest = _widest_numbers(paragraphs, numbers)
    for record, row in enumerate(nest.records):
        index = nest.paragraph_of(record)
        rules = paragraphs[index].rules
        if not rules.list_mark or row[k.PARAGRAPH_START] == 0:
            continue
        stretch = paragraphs[index].stretches[0]
        text, x = rules.list_mark.mark or "•", float(nest.left[record]) - rules.list_indent
        if rules.list_mark.kind == "numbers":
            text = _number(paragraphs[index], numbers[index])
            x += widest[index] - _mark_width(stretch, text)
        out.append(Mark(text, stretch.face, replace(stretch.look, underline=False), x, float(row[k.BASELINE])))
    return out


def _number(paragraph: ShapedParagraph, number: int) -> str:
    mark = paragraph.rules.list_mark
    return f"{number}{(mark.mark if mark else None) or '.'}"


def _mark_width(stretch: Stretch, text: str) -> float:
    return shape(stretch.face, text, 0, len(text), "en").width * stretch.scale


def _widest_numbers(paragraphs: Sequence[ShapedParagraph], numbers: list[int]) -> list[float]:
    """Of each paragraph the width of the widest number in the list that it is in: numbers align on their points."""
    out = [0.0] * len(numbers)
    start = 0
    for i in range(len(numbers) + 1):
        if i < len(numbers) and (numbers[i] > 1 or (numbers[i] == 1 and start == i)):
            continue
        widths = [_mark_width(paragraphs[j].stretches[0], _number(paragraphs[j], numbers[j])) for j in range(start, i)]
        out[start:i] = [max(widths, default=0.0)] * (i - start)
        start = i if i < len(numbers) and numbers[i] == 1 else i + 1
    return out


def column_rules(nest: FrameNest) -> list[tuple[float, float, float]]:
    """Where a rule between columns stands: x, top and bottom, as deep as the lines on either side of it."""
    out: list[tuple[float, float, float]] = []
    strips = nest.geometry.strips
    for column in range(0 if strips.arms else strips.count - 1):
        beside = nest.records[(nest.records[:, k.COLUMN] == column) | (nest.records[:, k.COLUMN] == column + 1)]
        if (beside[:, k.COLUMN] == column + 1).any():
            x = strips.right + column * strips.step + (strips.step - strips.right + strips.left) / 2
            out.append((x, float(beside[:, k.TOP].min()), float(beside[:, k.BOTTOM].max())))
    return out


@dataclass(frozen=True)
class Underline:
    """A stretch of underlining: x from and to, y and thickness in points, its colour by name."""

    left: float
    right: float
    y: float
    thickness: float
    color: str
    record: int


def underlines(nest: FrameNest) -> list[Underline]:
    """Every stretch of underlined copy, running on through the spaces between its words."""
    segments = nest.copy.segments
    if not any(look.underline for _, look in segments.looks):
        return []
    out: list[Underline] = []
    drawn = nest.drawn
    before = -2
    for at, (record, segment, x) in enumerate(zip(drawn.record, drawn.segment, drawn.x, strict=True)):
        face, look = segments.looks[int(segments.look[segment])]
        if not look.underline:
            continue
        start, end = nest.ranges[record]
        a, b = max(int(start), int(segments.start[segment])), min(int(end), int(segments.end[segment]))
        right = float(x) + nest.drawn_width(record, a, b)
        m = face.metrics
        y = float(nest.records[record, k.BASELINE]) + m.underline_at * look.size
        if out and before == at - 1 and out[-1].record == record and out[-1].color == look.color:
            out[-1] = replace(out[-1], right=right)
        else:
            out.append(Underline(float(x), right, y, m.underline_thickness * look.size, look.color, int(record)))
        before = at
    return out
