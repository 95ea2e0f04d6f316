"""What of a copy is still to be translated: paragraphs with those that stand for them in another version."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher
from typing import Literal

from nestline.document.edits import Operation, Raw
from nestline.document.reading import Document
from nestline.translating.segments import content_of

State = Literal["new", "stale", "done"]
FEW = 50
"""So many paragraphs are put singly; more of them as a whole."""


@dataclass(frozen=True)
class Pair:
    """A paragraph of a copy (`number`), and the one that stands for it in another version (`there`), where there is
    one. It is new while that has its very words, stale where its words have changed since; `was` is what they were
    then."""

    number: int
    there: int | None
    state: State
    text: str
    was: str | None = None


def paragraphs_of(document: Document, copy: str, version: str) -> list[Raw]:
    """The paragraphs of a version as they are written; none where the copy has no such version."""
    found: list[Raw] = document.raw["copies"][copy]["versions"].get(version, {}).get("paragraphs", [])
    return found


def texts_of(paragraphs: Sequence[Raw]) -> list[str]:
    return [content_of(one).text for one in paragraphs]


def has_words(text: str) -> bool:
    """Whether there is anything to translate: figures and signs stay as they are."""
    return any(letter.isalpha() for letter in text)


def pairs(document: Document, copy: str, source: str, target: str) -> list[Pair]:
    """For each paragraph of the source's version what stands for it in the target's, and whether that is still right.

    Without a record of what it was translated from, a version that has as many paragraphs counts as done.
    """
    now = texts_of(paragraphs_of(document, copy, source))
    there = texts_of(paragraphs_of(document, copy, target))
    version = document.copies[copy].get(target)
    record = version.source if version is not None else None
    if record is None or record.version != source:
        return [
            Pair(n, n if n < len(there) else None, "done" if n < len(there) or not has_words(text) else "new", text)
            for n, text in enumerate(now)
        ]
    out = []
    for number, at in enumerate(_aligned(record.paragraphs, now)):
        text = now[number]
        if at is None or at >= len(there):
            out.append(Pair(number, None, "new" if has_words(text) else "done", text))
            continue
        was = record.paragraphs[at]
        state: State = "done"
        if there[at] == was and has_words(was) and was not in record.kept:
            state = "new"
        elif was != text:
            state = "stale"
        out.append(Pair(number, at, state, text, was if state == "stale" else None))
    return out


def _aligned(old: Sequence[str], now: Sequence[str]) -> list[int | None]:
    """For each of the new paragraphs which of the old it is, as it was or changed; None for one that was put in."""
    out: list[int | None] = [None] * len(now)
    for tag, a, to, b, end in SequenceMatcher(None, old, now, autojunk=False).get_opcodes():
        if tag in ("equal", "replace"):
            for step in range(min(to - a, end - b)):
                out[b + step] = a + step
    return out


def source_of(document: Document, copy: str, target: str) -> str | None:
    """The version that another was translated from: that which it says, else that of the document's language, the
    first."""
    versions = document.copies[copy]
    if target in versions and (told := versions[target].source) is not None and told.version in versions:
        return told.version
    names = [name for name in versions if name != target]
    return document.head.language if document.head.language in names else next(iter(names), None)


def recorded(
    document: Document, copy: str, target: str, source: str, made: dict[int, Raw], texts: dict[int, str], kept: set[str]
) -> list[Operation]:
    """Operations that put translations of some paragraphs of the source's version into the target's, and say what they
    were made from: `made` by the source's numbers; `texts` where the words that were translated are not those that
    stand there now.

    A version that is not there is made of the source's paragraphs; where the source's were put in or taken out since,
    so are the target's.
    """
    raws, there = paragraphs_of(document, copy, source), paragraphs_of(document, copy, target)
    found = pairs(document, copy, source, target)
    version = document.copies[copy].get(target)
    record = version.source if version is not None and version.source and version.source.version == source else None
    paragraphs, told = [], []
    for pair in found:
        stood = raws[pair.number] if pair.there is None else there[pair.there]
        # How it looks is the paragraph's that stands there, else that of the words it was made from.
        paragraphs.append({**stood, **made[pair.number]} if pair.number in made else stood)
        before = pair.was if pair.was is not None else pair.text
        told.append(texts.get(pair.number, pair.text) if pair.number in made else before)
    value: Raw = {"version": source, "paragraphs": told}
    if words := sorted(set(record.kept if record else ()) | kept):
        value["kept"] = words
    path: list[str | int] = ["copies", copy, "versions", target]
    if version is None:
        language = document.language_of(target)
        return [{"do": "put", "at": path, "value": {"language": language, "paragraphs": paragraphs, "source": value}}]
    out: list[Operation] = []
    changed = sum(a != b for a, b in zip(paragraphs, there, strict=False))
    if [pair.there for pair in found] == list(range(len(there))) and changed <= FEW:
        out += [
            {"do": "put", "at": [*path, "paragraphs", n], "value": paragraphs[n]}
            for n, old in enumerate(there)
            if paragraphs[n] != old
        ]
    else:
        out.append({"do": "put", "at": [*path, "paragraphs"], "value": paragraphs})
    return [*out, {"do": "put", "at": [*path, "source"], "value": value}]
