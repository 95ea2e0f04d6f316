"""A shaped paragraph with other breaks, or in another size."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.copy.breaks import graphemes
from nestline.copy.shaped_copy import ShapedCopy
from nestline.copy.shaped_paragraph import ShapedParagraph, fine
from nestline.copy.styles import Look

Floats = NDArray[np.float64]


def broken_to_fit(p: ShapedParagraph, widest: float) -> ShapedParagraph:
    """The paragraph with every piece wider than `widest` points broken between graphemes; itself when none is."""
    if p.widest_piece <= widest:
        return p
    widths = p.piece_widths
    boundaries = np.array(graphemes(p.text), dtype=np.int64)
    rows: list[tuple[int, int, int, int, int, float, float, float]] = []
    for n in range(len(widths)):
        start, content, end = int(p.piece_start[n]), int(p.piece_content_end[n]), int(p.piece_end[n])
        first_change, first_hang = float(p.start_change[n]), float(p.start_hang[n])
        if widths[n] > widest:
            inner = boundaries[(boundaries > start) & (boundaries < content)]
            begin = start
            for this, after in zip(inner, [*inner[1:], content], strict=False):
                if p.x[after] - p.x[begin] > widest - 1e-6:
                    rows.append(
                        (
                            begin,
                            int(this),
                            int(this),
                            0,
                            k.NO_HYPHEN,
                            first_change if begin == start else 0.0,
                            0.0,
                            first_hang if begin == start else 0.0,
                        )
                    )
                    begin = int(this)
            if begin != start:
                start, first_change, first_hang = begin, 0.0, 0.0
        kind = int(p.piece_hyphen[n])
        rows.append(
            (start, content, end, int(p.piece_forced[n]), kind, first_change, float(p.end_change[n]), first_hang)
        )
    columns = [np.array(c) for c in zip(*rows, strict=True)]
    return replace(
        p,
        piece_start=columns[0],
        piece_content_end=columns[1],
        piece_end=columns[2],
        piece_forced=columns[3],
        piece_hyphen=columns[4],
        start_change=columns[5].astype(np.float64),
        end_change=columns[6].astype(np.float64),
        start_hang=columns[7].astype(np.float64),
    )


def unwrapped(p: ShapedParagraph) -> ShapedParagraph:
    """The paragraph with no break but the forced ones."""
    last = np.flatnonzero(p.piece_forced > 0)
    first = np.concatenate([[0], last[:-1] + 1]).astype(np.int64)
    return replace(
        p,
        piece_start=p.piece_start[first],
        piece_content_end=p.piece_content_end[last],
        piece_end=p.piece_end[last],
        piece_forced=p.piece_forced[last],
        piece_hyphen=p.piece_hyphen[last],
        start_change=p.start_change[first],
        end_change=p.end_change[last],
        start_hang=p.start_hang[first],
    )


def scaled(p: ShapedParagraph, factor: float) -> ShapedParagraph:
    """The paragraph with all its sizes times a factor; a baseline grid stays as it is."""

    def look(one: Look) -> Look:
        return replace(one, size=one.size * factor, tracking=one.tracking * factor)

    r = p.rules
    lengths_of = (
        "size",
        "leading",
        "space_before",
        "space_after",
        "indent",
        "first_indent",
        "list_indent",
        "greatest_tracking",
        "fitted_space",
    )
    rules = replace(
        r,
        look=look(r.look),
        **{name: getattr(r, name) * factor for name in lengths_of},
    )
    stretches = tuple(
        replace(
            s, look=look(s.look), advance=s.advance * factor, heights=(s.heights[0] * factor, s.heights[1] * factor)
        )
        for s in p.stretches
    )
    arrays = (
        "start_change",
        "end_change",
        "start_hang",
        "space_width",
        "drop_width",
        "drop_bearing",
        "own_ascender",
        "own_descender",
    )
    running = p.running.copy()
    running[k.RUNNING_X] = fine(running[k.RUNNING_X] * factor)
    return replace(
        p, rules=rules, stretches=stretches, running=running, **{name: getattr(p, name) * factor for name in arrays}
    )


def roughly_scaled(copy: ShapedCopy, factor: float) -> ShapedCopy:
    """The copy's figures times a factor, as far as lines are set by them: for a search, not for drawing."""
    pieces, rules = copy.pieces.copy(), copy.rules.copy()
    pieces[:, list(k.PIECE_LENGTHS)] *= factor
    rules[:, list(k.RULE_LENGTHS)] *= factor
    return replace(copy, pieces=pieces, rules=rules)
