"""Why here: which edge, clearance, metric or rule put a line's end, a gap or a baseline where it is.

Each record of a nest knows the owner of both ends of its slot and why its baseline is where it is; here that is put
into words, with its figure, the edge to light, and the rule by which it is changed.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.document.model import PageObject
from nestline.document.reading import Document
from nestline.nesting import compiled
from nestline.nesting.frame_nest import FrameNest
from nestline.nesting.giving import sides_of
from nestline.nesting.nests import Nests
from nestline.nesting.placed import PlacedNest
from nestline.outlines import path
from nestline.outlines.path import Affine

Spot = tuple[float, float]
What = Literal["left end", "right end", "baseline", "word spaces", "place", "size", "box"]
REACH = 40.0
"""How far beside a line its causes are still asked for, in points."""


@dataclass(frozen=True)
class Cause:
    """One thing and what put it there.

    `figure` is in points (None where there is none); `object` and `rule` name the control: a part of the rule sentence
    of that object. `lit` are stretches to light, each x0, y0, x1, y1 on the page.
    """

    what: What
    said: str
    figure: float | None
    object: str
    rule: str
    lit: tuple[tuple[float, float, float, float], ...] = ()
    away: float = 0.0


HANGS = {
    "ascender": "the ascenders",
    "cap": "the cap height",
    "ex": "the x-height",
    "line-box": "the line box",
    "ink": "the ink of the first line",
}
EDGES = ("top", "right", "bottom", "left")


def why_here(document: Document, nests: Nests, page: int, at: Spot) -> tuple[str, list[Cause]] | None:
    """The frame whose copy is at a place of a page, and the causes of what stands there, the nearest first. None where
    no copy is near."""
    best: tuple[float, PlacedNest, int, Spot] | None = None
    for placed in nests:
        if placed.page != page or not len(placed.nest.records):
            continue
        own = _back(placed.matrix, at)
        rows = placed.nest.records
        dy = np.maximum(np.maximum(rows[:, k.TOP] - own[1], own[1] - rows[:, k.BOTTOM]), 0)
        dx = np.maximum(np.maximum(rows[:, k.LEFT] - own[0], own[0] - rows[:, k.RIGHT]), 0)
        away = dy * 3 + dx
        number = int(np.argmin(away))
        if away[number] < REACH and (best is None or away[number] <= best[0]):
            best = (float(away[number]), placed, number, own)
    if best is None:
        return None
    _, placed, number, own = best
    labels = document.labels
    things = {t.id: t.model_copy(update={"name": labels[t.id]}) for t in document.pages[page].objects}
    causes = [*_ends(placed, number, own, things), _baseline(placed, number, own), *_spaces(placed, number, own)]
    causes.sort(key=lambda cause: cause.away)
    causes += _solved(placed)
    if placed.matrix is not None:
        causes = [replace(c, lit=tuple(_turned(placed.matrix, line) for line in c.lit)) for c in causes]
    return placed.thing.id, causes


def _back(matrix: Affine | None, at: Spot) -> Spot:
    return at if matrix is None else path.at(path.inverse(matrix), at)


def _turned(m: Affine, line: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
    x0, y0, x1, y1 = line
    return *path.at(m, (x0, y0)), *path.at(m, (x1, y1))


def _ends(placed: PlacedNest, number: int, at: Spot, things: dict[str, PageObject]) -> list[Cause]:
    """Both ends of a slot, and the ends of the slots beside it across a gap."""
    nest = placed.nest
    row = nest.records[number]
    out = []
    for what, column, cause_column in (("left end", k.LEFT, k.LEFT_CAUSE), ("right end", k.RIGHT, k.RIGHT_CAUSE)):
        x = float(row[column])
        cause = _end(placed, number, x, int(row[cause_column]), what == "left end", things)
        middle = (float(row[k.LEFT]) + float(row[k.RIGHT])) / 2
        beyond = at[0] < middle if what == "left end" else at[0] >= middle
        # Beyond it, in the gap, it is what is pointed at.
        past = at[0] < x if what == "left end" else at[0] > x
        out.append(replace(cause, away=0.0 if past else abs(at[0] - x) + (0 if beyond else 1000)))
    return out


def _end(placed: PlacedNest, number: int, x: float, owner: int, is_left: bool, things: dict[str, PageObject]) -> Cause:
    nest, thing, frame = placed.nest, placed.thing, placed.thing.frame
    assert frame is not None
    what: What = "left end" if is_left else "right end"
    row = nest.records[number]
    lit = _edges(nest, number, x, owner)
    if owner == int(k.BY_CAP):
        return Cause(what, "the drop cap", None, thing.id, "opening", lit)
    if row[k.PAST] > 0 or owner == int(k.BY_BOX):
        return Cause(what, "the column's box: the line runs past the edge", None, thing.id, "leftover", ())
    if owner > 0:
        wall = nest.wrap_ids[owner - 1]
        if not wall:
            gutter = nest.rules.gutter
            return Cause(what, "the column's edge, with its gutter", gutter, thing.id, "columns", lit)
        other = things[wall]
        if other.wrap.by == "below":
            return Cause(what, f"{other.label}: copy goes on below it", None, other.id, "wrap", lit)
        of = {"box": "box", "contour": "contour"}.get(other.wrap.by, "outline")
        given = other.wrap.clearance
        figure = (given.right if is_left else given.left).pt
        inside = "copy stays inside " if other.wrap.inside else ""
        said = f"{inside}{_possessive(other.label)} {of}" + (" + its clearance" if figure else "")
        return Cause(what, said, figure, other.id, "clearance" if figure else "wrap", lit)
    side = 3 if is_left else 1
    padding = sides_of(frame, nest.copy.size)[side]
    said = "the outline's edge" + (f" + padding on the {EDGES[side]}" if padding else "")
    return Cause(what, said, padding, thing.id, "padding" if padding else "outline", lit)


def _possessive(name: str) -> str:
    return f"{name}'" if name.endswith("s") else f"{name}'s"


def _edges(nest: FrameNest, number: int, x: float, owner: int) -> tuple[tuple[float, float, float, float], ...]:
    """The stretch of an edge, within the band, that makes a slot end at x."""
    if owner < 0:
        return ()
    row, space = nest.records[number], nest.geometry.space
    down = float(row[k.COLUMN]) * nest.geometry.shift
    top, bottom = float(row[k.TOP]) + down, float(row[k.BOTTOM]) + down
    edges = space.edges[space.rings[:, k.OWNER] == owner]
    low, high = (
        np.minimum(edges[:, k.EDGE_Y0], edges[:, k.EDGE_Y1]),
        np.maximum(edges[:, k.EDGE_Y0], edges[:, k.EDGE_Y1]),
    )
    edges = edges[(low <= bottom + 1e-6) & (high >= top - 1e-6)]
    found: list[tuple[float, tuple[float, float, float, float]]] = []
    for x0, y0, x1, y1 in edges.tolist():
        ends = []
        for limit in (top, bottom):
            share = (
                min(max((limit - y0) / (y1 - y0), 0.0), 1.0) if abs(y1 - y0) > 1e-12 else (0.0 if limit == top else 1.0)
            )
            ends.append((x0 + share * (x1 - x0), y0 + share * (y1 - y0)))
        (ax, ay), (bx, by) = ends
        off = 0.0 if min(ax, bx) <= x <= max(ax, bx) else min(abs(ax - x), abs(bx - x))
        found.append((off, (ax, ay - down, bx, by - down)))
    if not found:
        return ()
    nearest = min(off for off, _ in found)
    # With it what lies about that place, so that there is something to see.
    return tuple(line for off, line in sorted(found)[:24] if off <= nearest + 6)


def _baseline(placed: PlacedNest, number: int, at: Spot) -> Cause:
    nest, thing, frame = placed.nest, placed.thing, placed.thing.frame
    assert frame is not None
    row = nest.records[number]
    y = float(row[k.BASELINE])
    lit = ((float(row[k.LEFT]), y, float(row[k.RIGHT]), y),)
    away = abs(at[1] - y) + 6
    piece = nest.copy.pieces[int(row[k.FIRST])]
    paragraph = nest.copy.rules[int(piece[k.PARAGRAPH])]
    why = int(row[k.WHY])
    grid = float(paragraph[k.GRID])

    def cause(said: str, figure: float | None, rule: str, to: str = thing.id) -> Cause:
        return Cause("baseline", said, figure, to, rule, lit, away)

    if row[k.PAST] > 0:
        return cause("leading below the line above, past the edge", float(paragraph[k.LEADING]), "leftover")
    if why == k.BY_HANG:
        sit = {"middle": "lines sit in the middle", "bottom": "lines sit at the bottom"}.get(frame.sit)
        if sit and nest.next_piece >= len(nest.copy.pieces):
            off = f", {abs(nest.residue):.2f} pt off, the nearest there is" if not nest.exact else ""
            return cause(sit + off, None, "sit")
        hang = frame.hang if isinstance(frame.hang, str) and frame.hang in HANGS else None
        below = y - nest.geometry.bounds[1]
        if hang is None:
            return cause("the first baseline hangs this far below the top", below, "hang")
        return cause(f"the first line hangs from the top by {HANGS[hang]}", below, "hang")
    if why == k.BY_GEOMETRY:
        if (
            number == 0
            and abs(float(nest.width[0]) - (row[k.RIGHT] - row[k.LEFT])) < 0.01
            and paragraph[k.ALIGN] == k.JUSTIFY
        ):
            return cause("the first height below at which its words fill a slot", None, "outline")
        return cause("the first height below at which a slot is wide enough", None, "outline")
    before = nest.records[:number]
    above = before[(before[:, k.COLUMN] == row[k.COLUMN]) & (before[:, k.LINE] < row[k.LINE])]
    step = y - float(above[-1, k.BASELINE]) if len(above) else None
    if grid > 0:
        return cause("the baseline grid", grid, "opening")
    leading = float(paragraph[k.LEADING])
    by_box = nest.rules.band == "line-box"
    if step is not None and nest.opened > 0:
        return cause("leading, leaded out to fill the height", step, "sit")
    first = int(row[k.FIRST])
    starts = first > 0 and nest.copy.pieces[first - 1, k.PARAGRAPH] != piece[k.PARAGRAPH]
    if starts and step is not None and step > leading + 0.01:
        return cause(f"leading {leading:g} pt and the space between paragraphs", step, "opening")
    if step is not None and step > leading + 0.01 and (opener := _opener(nest, row, above[-1], by_box)):
        return cause("an object in line opens the line", step, "place", opener)
    if by_box and step is not None:
        return cause("line boxes one under another", step, "size")
    return cause("leading below the line above", step if step is not None else leading, "size")


def _opener(nest: FrameNest, row: NDArray[np.float64], above: NDArray[np.float64], by_box: bool) -> str | None:
    """The object in line that keeps a line away from the one above it, if one does."""
    best, name = 0.0, None
    for line, column in ((row, k.BOX_UP if by_box else k.OPENS), (above, k.BOX_DOWN if by_box else k.UNDER)):
        same = (nest.records[:, k.LINE] == line[k.LINE]) & (nest.records[:, k.COLUMN] == line[k.COLUMN])
        rows = nest.records[same]
        for piece in range(int(rows[0, k.FIRST]), int(rows[-1, k.LAST]) + 1):
            start, end = int(nest.copy.piece_start[piece]), int(nest.copy.piece_end[piece])
            objects = nest.copy.objects_between(start, end)
            if objects and nest.copy.pieces[piece, column] > best:
                best, name = float(nest.copy.pieces[piece, column]), objects[0]
    return name


def _given(nest: FrameNest, number: int) -> str:
    """What a line's word spaces and letters were given for it to fill its slot; empty where it is as its font
    has it."""
    piece = int(nest.records[number, k.FIRST])
    rule = nest.copy.rules[int(nest.copy.pieces[piece, k.PARAGRAPH])]
    more, own = float(nest.space_more[number]), float(rule[k.SPACE_WIDTH])
    track, wide = float(nest.tracks[number]) / float(rule[k.SIZE]), float(nest.factors[number]) - 1
    parts = []
    if abs(more) > 0.005 and own > 0:
        parts.append(f"word spaces {'opened' if more > 0 else 'closed'} by {abs(more) / own:.0%}")
    letters = [f"set {abs(track):.1%} of an em {'apart' if track > 0 else 'closer'}"] if abs(track) > 5e-4 else []
    if abs(wide) > 5e-4:
        letters.append(f"{abs(wide):.1%} {'wider' if wide > 0 else 'narrower'}")
    if letters:
        parts.append("letters " + " and ".join(letters))
    return f"{', '.join(parts)}, to justify".replace("%", " %") if parts else ""


def _spaces(placed: PlacedNest, number: int, at: Spot) -> list[Cause]:
    """Word spaces that were opened or closed to justify, and where letters begin within a slot that they do not
    fill."""
    nest, thing = placed.nest, placed.thing
    row = nest.records[number]
    piece = int(row[k.FIRST])
    rule = nest.copy.rules[int(nest.copy.pieces[piece, k.PARAGRAPH])]
    more, own = float(nest.space_more[number]), float(rule[k.SPACE_WIDTH])
    left, right = float(nest.left[number]), float(nest.right[number])
    inside = left < at[0] < right
    if said := _given(nest, number):
        return [Cause("word spaces", said, own + more, thing.id, "align", (), 12.0 if inside else 500.0)]
    if nest.loose[number]:
        return [
            Cause(
                "word spaces",
                "too few words to fill the line decently: it is set natural",
                None,
                thing.id,
                "align",
                (),
                5.0,
            )
        ]
    gap = left - float(row[k.LEFT])
    if gap > 0.05 and at[0] < left:
        indent = float(
            compiled.indents(
                nest.copy.rules,
                int(nest.copy.pieces[piece, k.PARAGRAPH]),
                bool(row[k.PARAGRAPH_START]),
                bool(row[k.PARAGRAPH_START]),
            )
        )
        if abs(indent - gap) < 0.05:
            return [Cause("word spaces", "the indent", indent, thing.id, "opening", (), 0.5)]
        ways = {k.CENTER: "the line is centred in its slot", k.END: "the line is set flush at the other end"}
        return [
            Cause("word spaces", ways.get(int(rule[k.ALIGN]), "the line's alignment"), gap, thing.id, "align", (), 0.5)
        ]
    return []


def _solved(placed: PlacedNest) -> list[Cause]:
    """What was solved for the whole frame: the size of its type, its own size."""
    thing, nest = placed.thing, placed.nest
    frame = thing.frame
    assert frame is not None
    out = []
    if placed.factor != 1.0:
        said = f"type is fitted to the frame: {placed.factor:.1%} of its size".replace("%", " %")
        out.append(Cause("size", said, nest.copy.size, thing.id, "fit"))
    if frame.give:
        edges = " and ".join(frame.give) if "in-proportion" not in frame.give else "all its edges, in proportion"
        out.append(
            Cause("box", f"the frame gives at the {edges}: it is as large as its copy", thing.box[3], thing.id, "give")
        )
    for tie in thing.ties:
        out.append(
            Cause(
                "place",
                f"its {tie.edge} is tied to the {tie.its_edge} of another",
                tie.gap.pt,
                tie.to,
                "ties",
            )
        )
    return out
