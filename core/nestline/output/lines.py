"""What stands where: the records of `--lines`, exactly as docs/document-format.md describes them."""

from __future__ import annotations

from typing import Any

import numpy as np

from nestline import rows as k
from nestline.copy.breaks import SOFT_HYPHEN
from nestline.document.model import OBJECT
from nestline.nesting.glyphs import GlyphRun, glyph_runs
from nestline.nesting.placed import PlacedNest

WRITTEN_HYPHEN = "-"
"""What a hyphen set by the engine is written as."""


def lines_report(nests: list[PlacedNest]) -> dict[str, Any]:
    """All frames' lines. Lengths in points from the page's trim corner, pages and lines counted from 1."""
    return {"frames": [frame_report(placed) for placed in nests]}


def frame_report(placed: PlacedNest) -> dict[str, Any]:
    nest = placed.nest
    report: dict[str, Any] = {
        "id": placed.thing.id,
        "page": placed.page + 1,
        "box": [_r(v) for v in placed.thing.box],
        "size": _r(nest.copy.size),
        "fill": round(nest.fill, 4),
        "residue": _r(nest.residue),
        "leftover": {"words": nest.leftover_words, "text": nest.leftover_text},
    }
    if placed.matrix is not None:
        report["matrix"] = [round(v, 9) for v in placed.matrix]
    drawn, segments, text = nest.drawn, nest.copy.segments, nest.copy.text
    lines = []
    caps = {run.record: run for run in glyph_runs(nest) if run.stretch.role == "drop"} if nest.has_caps else {}
    first_line: dict[int, int] = {}
    for row in nest.records:
        first_line.setdefault(int(row[k.COLUMN]), int(row[k.LINE]))
    for number, row in enumerate(nest.records):
        start, end = (int(v) for v in nest.ranges[number])
        words: list[dict[str, Any]] = []
        last_end = -1
        last_word: dict[str, Any] | None = None
        parts = []
        for at in np.flatnonzero(drawn.record == number):
            segment = drawn.segment[at]
            a, b = max(int(segments.start[segment]), start), min(int(segments.end[segment]), end)
            parts.append((a, b, float(drawn.x[at])))
        # As read: what is parted by a change of look alone is one word, wherever it is seen in a line of two
        # directions.
        for a, b, x in sorted(parts):
            width, shown = nest.drawn_width(number, a, b), text[a:b].replace(SOFT_HYPHEN, "")
            if a == last_end and last_word is not None:
                left, right = min(last_word["x"], x), max(last_word["x"] + last_word["width"], x + width)
                last_word |= {"text": last_word["text"] + shown, "x": _r(left), "width": _r(right - left)}
            else:
                last_word = {"text": shown, "x": _r(x), "width": _r(width)}
                words.append(last_word)
            last_end = b
        if nest.hyphens[number] and last_word is not None:
            last_word["text"] += WRITTEN_HYPHEN
        words.sort(key=lambda word: word["x"])
        if number in caps:
            _with_cap(words, caps[number], text, start)
        as_set = text[start:end].replace(SOFT_HYPHEN, "").replace(OBJECT, "")
        if nest.hyphens[number] and words:
            as_set += WRITTEN_HYPHEN
        if nest.mark is not None and nest.mark.record == number:
            as_set += nest.mark.text
            if last_word is not None:
                last_word["text"] += nest.mark.text
                last_word["width"] = _r(last_word["width"] + nest.mark.width)
        lines.append(
            {
                "column": int(row[k.COLUMN]) + 1,
                "line": int(row[k.LINE]) + 1 - first_line[int(row[k.COLUMN])],
                "baseline": _r(row[k.BASELINE]),
                "band": [_r(row[k.TOP]), _r(row[k.BOTTOM])],
                "slot": [_r(row[k.LEFT]), _r(row[k.RIGHT])],
                "left": _r(nest.left[number]),
                "right": _r(nest.right[number]),
                "past": bool(row[k.PAST]),
                "range": [start, end],
                "text": as_set,
                "words": words,
            }
        )
    report["lines"] = lines
    return report


def _with_cap(words: list[dict[str, Any]], cap: GlyphRun, text: str, start: int) -> None:
    """The first word as read: the letters of a drop cap belong to it, unless a space parts them."""
    letters = cap.text[cap.start : cap.end]
    x, width = float(cap.x[0]), float(cap.advances.sum())
    joined = words and text[start + len(letters) : start + len(letters) + 1].strip()
    if joined:
        end = words[0]["x"] + words[0]["width"]
        words[0] = {"text": letters + words[0]["text"], "x": _r(x), "width": _r(end - x)}
    else:
        words.insert(0, {"text": letters, "x": _r(x), "width": _r(width)})


def _r(value: float) -> float:
    return round(float(value), 6)
