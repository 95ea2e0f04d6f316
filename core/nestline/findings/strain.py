"""Strain: the document under shorter or longer copy, as it would come home from a translation, before there is one.

How much a text grows depends on its length: the shorter, the more. The table is IBM's, as quoted by the W3C's article "Text size in
translation" (from memory), each row by its middle. A strain of +30 per cent is the table itself, of +60 twice that, and so on.
"""

from __future__ import annotations

from dataclasses import dataclass

from nestline.copy.dummy import dummy_paragraphs, has_dummy
from nestline.document.edits import Operation, Raw, apply
from nestline.document.reading import Document
from nestline.studio import Studio

GROWTH = ((10, 1.5), (20, 0.9), (30, 0.7), (50, 0.5), (70, 0.355))
"""Texts of so many letters at most grow by such a share at +30 per cent; longer ones by LONG."""
LONG = 0.3
USUAL = 30.0
LEAST, GREATEST = -50.0, 200.0
STEPS = (0.0, 5.0, 10.0, 15.0, 20.0, 30.0, 40.0, 60.0, 80.0, 100.0)
"""Strains that are tried for how far frames hold."""


def growth(letters: int, by: float) -> float:
    """By which share a text of so many letters grows at a strain in per cent; what shrinks, shrinks by the strain itself."""
    if by <= 0:
        return by / 100
    share = next((share for most, share in GROWTH if letters <= most), LONG)
    return share * by / USUAL


def strained(document: Document, by: float, language: str | None = None, version: str | None = None) -> list[Operation]:
    """What makes of a document's copies what they would be under a strain, in the words of another language where one is named."""
    out: list[Operation] = []
    for name in document.copies:
        key, content = document.version_of(name, version)
        raws = document.raw["copies"][name]["versions"][key]["paragraphs"]
        tongue = language or content.language
        made = [_paragraph(raw, by, tongue, language is not None) for raw in raws]
        path: list[str | int] = ["copies", name, "versions", key, "paragraphs"]
        if made != raws:
            out.append({"do": "put", "at": path, "value": made})
    return out


def _paragraph(raw: Raw, by: float, language: str, other: bool) -> Raw:
    """A paragraph longer or shorter, its looks kept: words are put behind its last letters, or taken away there."""
    runs = raw.get("runs", [])
    text = "".join(run.get("text", "") for run in runs)
    letters = len(text)
    # Figures are not translated.
    if not any(letter.isalpha() for letter in text) or not (by or other):
        return raw
    wanted = max(round(letters * (1 + growth(letters, by))), 1)
    if other:
        look = {field: value for field, value in runs[0].items() if field not in ("text", "object", "field", "of")}
        return {**raw, "language": language, "runs": [{**look, "text": _words(language, wanted)}]}
    if wanted <= letters:
        return {**raw, "runs": _cut(runs, wanted)}
    last = max(n for n, run in enumerate(runs) if run.get("text"))
    more = {**runs[last], "text": f"{runs[last]['text']} {_words(language, wanted - letters - 1)}".rstrip()}
    return {**raw, "runs": [*runs[:last], more, *runs[last + 1 :]]}


def _cut(runs: list[Raw], letters: int) -> list[Raw]:
    """The first letters of runs, to a word's end; what is no text stays."""
    out = []
    for run in runs:
        text = run.get("text")
        if text is None:
            out.append(run)
            continue
        kept = text if len(text) <= letters else (text[: letters + 1].rpartition(" ")[0] or text[:letters])
        letters = max(letters - len(text), 0)
        if kept:
            out.append({**run, "text": kept})
    return out


def _words(language: str, letters: int) -> str:
    """So many letters of made-up prose, to a whole word."""
    tongue = language if has_dummy(language) else "en"
    text = " ".join(dummy_paragraphs(tongue, letters // 4 + 12))
    if letters >= len(text):
        return text
    cut = text[: max(letters, 1)]
    return cut if text[len(cut)] == " " else (cut.rpartition(" ")[0] or cut)


@dataclass(frozen=True)
class Holds:
    """Up to which strain a frame holds its copy, in per cent: None where it holds the greatest that is tried."""

    object: str
    up_to: float | None


def holds(studio: Studio, document: Document, version: str | None = None) -> list[Holds]:
    """For each frame with copy the last step at which nothing is left over; those that break first come first. A frame that lacks
    room as it is holds up to a strain below nothing."""
    broken: dict[str, float] = {}
    frames: list[str] = []
    for before, by in zip((-1.0, *STEPS), STEPS, strict=False):
        after = studio.read(apply(document.raw, strained(document, by, None, version)).document)
        for placed in studio.nest(after, version):
            frames += [placed.thing.id] * (by == 0)
            if placed.nest.leftover_words:
                broken.setdefault(placed.thing.id, before)
        if len(broken) == len(frames):
            break
    found = [Holds(id, broken.get(id)) for id in dict.fromkeys(frames)]
    return sorted(found, key=lambda one: GREATEST if one.up_to is None else one.up_to)
