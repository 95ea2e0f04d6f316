"""Copy as it goes out to be translated: what of it, with the frame it stands in, how many letters fit, and a picture of
it."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Literal

import numpy as np

from nestline import rows as k
from nestline.document.reading import Document
from nestline.errors import NestLineError
from nestline.nesting.nests import Nests
from nestline.nesting.placed import PlacedNest
from nestline.outlines import placing
from nestline.output.png import Pages
from nestline.translating.segments import Content, Span, content_of
from nestline.translating.states import pairs, paragraphs_of
from nestline.translating.xliff import Letter, Unit, write_xliff

What = Literal["all", "new"]
PICTURE_DPI = 110.0
ROUND = 12.0
"""So many points of the page are seen round a frame in its picture."""
MOST_PIXELS = 1600


def letter_out(document: Document, nests: Nests, source: str, target: str, what: What = "all") -> Letter:
    """The copies of a version as they go out for another, in its language, or what of them is new or changed since last
    time. `nests` are those of the source's version. Raises NestLineError where there is nothing to send."""
    if source == target:
        raise NestLineError("choose another version than the one it is made from")
    first: dict[str, list[PlacedNest]] = {}
    for placed in nests:
        first.setdefault(placed.copy, []).append(placed)
    files = picture_names(document, nests)
    units: list[Unit] = []
    tongue = ""
    for copy, versions in document.copies.items():
        if source not in versions:
            continue
        tongue = tongue or versions[source].language
        raws, there = paragraphs_of(document, copy, source), paragraphs_of(document, copy, target)
        for pair in pairs(document, copy, source, target):
            if not pair.text.strip("\ufffc\u2028 \t") or (what == "new" and pair.state == "done"):
                continue
            content = content_of(raws[pair.number])
            made = None
            if pair.there is not None and pair.state != "new":
                made = _carried(content_of(there[pair.there]), content)
            notes = _notes(document, first.get(copy, []), pair.number, files)
            if pair.was is not None:
                notes.append(("changed", f"was: {pair.was}"))
            units.append(Unit(copy, pair.number, content, pair.state, made, tuple(notes)))
    if not tongue:
        raise NestLineError(f"no copy has a version “{source}”")
    if not units:
        raise NestLineError("nothing is new or changed since last time" if what == "new" else "there are no words yet")
    return Letter(source, target, tongue, document.language_of(target), units)


def _carried(made: Content, content: Content) -> tuple[Span, ...]:
    """A translation's words with the codes of the words it was made from: those of the same kind and look, in order."""
    free = dict(content.codes)
    known: dict[str, str | None] = {}
    for id, code in made.codes.items():
        like = [name for name, other in free.items() if other.kind == code.kind]
        exact = [name for name in like if free[name].run == code.run]
        known[id] = next(iter(exact or like), None)
        free.pop(known[id] or "", None)
    out = []
    for span in made.spans:
        now = known.get(span.code or "")
        if span.code is None or now is not None:
            out.append(replace(span, code=now))
        elif span.text:
            out.append(Span(span.text))
    return tuple(out)


def _notes(
    document: Document, frames: Sequence[PlacedNest], paragraph: int, files: Mapping[str, str]
) -> list[tuple[str, str]]:
    """The frame where a paragraph begins, what fits there, and the name of its picture."""
    placed = next((one for one in frames if _begins(one, paragraph)), frames[0] if frames else None)
    if placed is None:
        return [("frame", "it stands in no frame that is shown")]
    label = document.labels[placed.thing.id]
    return [
        ("frame", f"{label}, page {placed.page + 1}"),
        ("room", room_said(placed)),
        ("picture", files[placed.thing.id]),
    ]


def _begins(placed: PlacedNest, paragraph: int) -> bool:
    rows = placed.nest.records
    if not len(rows):
        return False
    at = placed.nest.copy.pieces[rows[:, k.FIRST].astype(np.int64), k.PARAGRAPH]
    return bool(((at == paragraph) & (rows[:, k.PARAGRAPH_START] > 0)).any())


def room_said(placed: PlacedNest) -> str:
    """How many letters a frame holds, as its copy is set: in a line, and in all."""
    nest = placed.nest
    kept = ~nest.past
    if not kept.any():
        return "it holds no words as it is"
    start, end = nest.held
    letters = max(end - start, 1)
    each = max(float(nest.width[kept].sum()) / letters, 0.1)
    rows = nest.records[kept]
    widest = float((rows[:, k.RIGHT] - rows[:, k.LEFT]).max())
    whole = letters if nest.leftover_words else int(letters / max(nest.fill, 0.02))
    more = "; it gives" if placed.thing.frame is not None and placed.thing.frame.give else ""
    return f"about {widest / each:.0f} letters in a line, {whole} in all{more}"


def picture_names(document: Document, nests: Nests) -> dict[str, str]:
    """What the picture of each frame is called in the archive."""
    out: dict[str, str] = {}
    for placed in nests:
        plain = re.sub(r"[^\w]+", "-", document.labels[placed.thing.id]).strip("-").lower()[:40] or "frame"
        name = f"frames/{placed.page + 1}-{plain}.png"
        number = 2
        while name in out.values():
            name = f"frames/{placed.page + 1}-{plain}-{number}.png"
            number += 1
        out[placed.thing.id] = name
    return out


def frame_pictures(document: Document, nests: Nests, pdf: bytes, wanted: set[str]) -> dict[str, bytes]:
    """Pictures (PNG) of frames with what is round them, by their names in the archive; `wanted` are those names."""
    names = picture_names(document, nests)
    pages: dict[int, list[PlacedNest]] = {}
    for placed in nests:
        if names[placed.thing.id] in wanted:
            pages.setdefault(placed.page, []).append(placed)
    out: dict[str, bytes] = {}
    with Pages(pdf) as painter:
        for page, frames in pages.items():
            sheet = document.pages[page].sheet
            bleed = sheet.bleed.pt
            scale = min(PICTURE_DPI / 72, MOST_PIXELS / (max(sheet.size) + 2 * bleed))
            image = painter.painted(page, 72 * scale)
            for placed in frames:
                left, top, right, bottom = placing.bounds_on_page(placed.thing)
                box = (left + bleed - ROUND, top + bleed - ROUND, right + bleed + ROUND, bottom + bleed + ROUND)
                x0, y0 = (max(int(v * scale), 0) for v in box[:2])
                x1, y1 = min(int(box[2] * scale) + 1, image.width), min(int(box[3] * scale) + 1, image.height)
                if x1 <= x0 or y1 <= y0:
                    continue
                buffer = io.BytesIO()
                image.crop((x0, y0, x1, y1)).save(buffer, "PNG")
                out[names[placed.thing.id]] = buffer.getvalue()
    return out


def archive_out(letter: Letter, pictures: Mapping[str, bytes], name: str) -> bytes:
    """A zip archive: the XLIFF file, and the pictures of frames that its notes name."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(f"{name}.xlf", write_xliff(letter))
        for file, content in pictures.items():
            archive.writestr(file, content)
    return out.getvalue()
