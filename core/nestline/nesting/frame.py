"""One frame nested: outline and wraps to slots, copy to lines, lines to where they sit. A pure function of its
inputs."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.copy.shaped_copy import ShapedCopy
from nestline.copy.shaper import Shaper
from nestline.nesting import compiled, work
from nestline.nesting.frame_nest import FrameNest
from nestline.nesting.frame_rules import FrameRules
from nestline.nesting.frame_space import (
    SLOTS,
    Geometry,
    WrapRegion,
    band_reach,
    frame_row,
    geometry_of,
    space_of,
    strips_of,
)
from nestline.nesting.sit import Sitting
from nestline.outlines.polygons import Region, box_region

Floats = NDArray[np.float64]


def nest_frame(
    padded: Region,
    box: tuple[float, float, float, float],
    wraps: tuple[WrapRegion, ...],
    copy: ShapedCopy,
    rules: FrameRules,
    shaper: Shaper,
    wrap_lines: bool = True,
    begin: int = 0,
    goes_on: bool = False,
    probe: bool = False,
    space: tuple[Geometry, tuple[str, ...]] | None = None,
) -> FrameNest:
    """Nest copy into a padded outline among wraps: from a piece on, when frames before hold what is before it.

    With `goes_on` what finds no slot goes on in another frame: no line runs past the edge, and no mark is set. A
    `probe` only finds how much of the copy the frame can hold, in as few lines as there can be: its nest has no
    records. `box` (left, top, right, bottom) is where lines past the edge stand when the padding leaves nothing of the
    outline. `space` is what `geometry_of` says of outline, wraps and rules, where that is known already (for lines that
    wrap). All in one set of coordinates: the page's, or the frame's own when it is set turned.
    """
    with work.within(work.FRAME) as done:
        work.count(OF_A_NEST + len(copy.pieces) // 8)
        nest = _nest_frame(padded, box, wraps, copy, rules, shaper, wrap_lines, begin, goes_on, probe, space, done)
    return replace(nest, spent=True, exact=False) if done.spent else nest


OF_A_NEST = 1000
"""What a nest takes besides its bands, counted as bands: the padded outline, the index of its edges."""
OF_A_LETTER = 30
"""What a letter takes where words are broken to fit, counted as bands."""


def _nest_frame(
    padded: Region,
    box: tuple[float, float, float, float],
    wraps: tuple[WrapRegion, ...],
    copy: ShapedCopy,
    rules: FrameRules,
    shaper: Shaper,
    wrap_lines: bool,
    begin: int,
    goes_on: bool,
    probe: bool,
    space: tuple[Geometry, tuple[str, ...]] | None,
    doing: work.Work,
) -> FrameNest:
    ids: tuple[str, ...] = ()
    own_right = padded.bounds[2] if not padded.empty else box[2]
    if not wrap_lines and not padded.empty:
        padded = _for_whole_lines(padded, copy)
    if padded.empty:
        left, top, right, _ = box
        bounds = (left, top, right, top)
        geometry = Geometry(space_of([], []), bounds, strips_of(bounds, rules), 0.0)
    else:
        geometry, ids = space or geometry_of(padded, wraps, rules)
    bounds = geometry.bounds
    frame = frame_row(rules, bounds, geometry.strips, geometry.shift)
    broken, whole = False, copy
    if wrap_lines:
        copy, broken = _with_pieces_that_fit(whole, geometry, rules, frame, shaper, begin)
        if broken and begin:
            starts = np.append(whole.piece_start, len(whole.text))
            begin = (
                int(np.searchsorted(copy.piece_start, starts[begin])) if begin < len(starts) - 1 else len(copy.pieces)
            )
    sitting = Sitting(geometry, copy, rules, frame, begin, goes_on, doing)
    if probe and "ink" not in (rules.hang, rules.stand):
        return _probed(sitting, padded, ids, broken, begin)
    if len(sitting.pieces) and not padded.empty:
        sitting.solve()
    written, mark = sitting.written, None
    edge = None
    if not wrap_lines and copy.widest_piece + copy.widest_indent > box[2] - box[0] and not padded.empty:
        edge = own_right
    over = sitting.next_piece < len(sitting.pieces) and not goes_on
    if over and rules.mark and written:
        mark = sitting.marked(rules.mark)
        written = sitting.written
    if over and rules.ends != "with-the-last-line":
        written = sitting.fill_past()
    kept = sitting.records[:written].copy()
    alignment = _aligned(sitting.rows, sitting.frame, kept)
    if begin:
        kept[:, k.FIRST] += begin
        kept[:, k.LAST] += begin
    if sitting.continued and written:
        kept[0, k.PARAGRAPH_START] = 0.0
    return FrameNest(
        copy=copy,
        records=kept,
        alignment=alignment,
        next_piece=begin + sitting.next_piece,
        start_y=sitting.start_y,
        residue=sitting.residue,
        exact=sitting.exact,
        lines=int(sitting.ends[k.END_LINES]),
        padded=padded,
        wrap_ids=ids,
        geometry=geometry,
        rules=rules,
        broken=broken,
        opened=sitting.opened,
        stand_y=float(sitting.ends[k.END_STAND]),
        mark=mark,
        edge=edge,
        begin=begin,
        goes_on=goes_on,
        whole=whole if broken else None,
    )


def _probed(sitting: Sitting, padded: Region, ids: tuple[str, ...], broken: bool, begin: int) -> FrameNest:
    """How far copy comes, without its lines."""
    if len(sitting.pieces) and not padded.empty:
        sitting.probe()
    return FrameNest(
        copy=sitting.copy,
        records=sitting.records[:0],
        alignment=np.zeros((k.ALIGNMENT_ROWS, 0)),
        next_piece=begin + sitting.next_piece,
        start_y=sitting.start_y,
        residue=0.0,
        exact=True,
        lines=int(sitting.ends[k.END_LINES]),
        padded=padded,
        wrap_ids=ids,
        geometry=sitting.geometry,
        rules=sitting.rules,
        broken=broken,
        opened=0.0,
        stand_y=float(sitting.ends[k.END_STAND]),
        begin=begin,
    )


def _for_whole_lines(padded: Region, copy: ShapedCopy) -> Region:
    """The padded outline, or a box wide enough for the longest line when that does not fit it."""
    left, top, right, bottom = padded.bounds
    need = copy.widest_piece + copy.widest_indent + 1e-3
    return box_region(left, top, left + need, bottom) if need > right - left else padded


def _with_pieces_that_fit(
    copy: ShapedCopy, geometry: Geometry, rules: FrameRules, frame: Floats, shaper: Shaper, begin: int = 0
) -> tuple[ShapedCopy, bool]:
    """The copy, with pieces that no slot of the frame can hold broken between graphemes."""
    widest = copy.widest_piece
    left, top, right, bottom = geometry.bounds
    if not len(copy.pieces):
        return copy, False
    fits, slots = right - left, SLOTS
    if len(geometry.space.edges):
        piece, paragraph = copy.pieces[0], copy.rules[0]
        up, down = band_reach(piece, frame)
        leading = float(paragraph[k.LEADING])
        space = geometry.space
        left, right = geometry.strips.left, geometry.strips.right
        if work.run(
            compiled.surely_fits, space, widest + copy.widest_indent, top + up, bottom - down, up, down, leading, slots
        ):
            return copy, False
        hang, stand = float(compiled.hang_height(piece, frame)), float(compiled.stand_depth(piece, frame))
        fits = float(
            work.run(compiled.width_that_always_fits, space, top + up, bottom - down, up, down, leading, slots)
        )
        # A single line may stand with both its ends cut.
        single = top + min(up, hang)
        alone = float(work.run(compiled.widest_in_band, space, top, single + min(down, stand), slots))
        fits = max(fits, alone)
        fits = fits or right - left
    indent = copy.widest_indent
    fits -= indent if indent < fits else 0.0
    if widest <= fits or _first_fits_alone(copy, geometry, frame, fits, slots, begin):
        return copy, False
    work.count(OF_A_LETTER * len(copy.text))
    broken = shaper.broken_to_fit(copy, fits)
    return broken, broken is not copy


def _first_fits_alone(
    copy: ShapedCopy, geometry: Geometry, frame: Floats, fits: float, slots: Floats, begin: int
) -> bool:
    """Whether only the first piece is wider than `fits`, and a band somewhere holds it: the first line stands there."""
    if begin >= len(copy.pieces) or not len(geometry.space.edges) or geometry.strips.count > 1:
        return False
    pieces, paragraph = copy.pieces, int(copy.pieces[begin, k.PARAGRAPH])
    others = np.delete(np.arange(begin, len(pieces)), 0)
    changes = pieces[others, k.CHANGE0] + pieces[others, k.CHANGE1]
    if len(others) and float((pieces[others, k.X1] - pieces[others, k.X0] + changes).max()) > fits:
        return False
    if copy.rules[paragraph, k.DROP_LINES] > 0:
        return False
    piece = pieces[begin]
    up, down = band_reach(piece, frame)
    hang, stand = float(compiled.hang_height(piece, frame)), float(compiled.stand_depth(piece, frame))
    need = float(compiled.piece_width(pieces, begin, begin)) + float(
        compiled.indents(copy.rules, paragraph, True, True)
    )
    _, top, _, bottom = geometry.bounds
    found = work.run(
        compiled.next_usable, geometry.space, top + hang, min(up, hang), min(down, stand), need, bottom - stand, slots
    )
    return bool(found < compiled.FAR)


def _aligned(copy: compiled.Rows, frame: Floats, records: Floats) -> Floats:
    """Where letters stand in records of a copy."""
    out = np.empty((k.ALIGNMENT_ROWS, len(records)))
    compiled.align_records(copy, frame, records, out)
    return out
