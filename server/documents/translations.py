"""Translations of a document: sent out, and looked at as they come home."""

from __future__ import annotations

from collections import Counter
from typing import Any, Literal

from django.utils.text import slugify

from documents.models import Document
from documents.store import State, state_of
from documents.studios import finder_of
from nestline.document import edits
from nestline.findings.finder import open_ones
from nestline.output.translations import What, archive_out, frame_pictures, letter_out
from nestline.translating.home import Homecoming, homecoming, read_letter
from nestline.translating.states import pairs, source_of
from nestline.translating.table import write_table
from nestline.translating.xliff import Letter, write_xliff

Form = Literal["xliff", "csv"]
MEDIA = {"xliff": "application/zip", "csv": "text/csv; charset=utf-8"}
TOLD = ("leftover", "no-letter", "waiting", "cut-off")
"""What is told of a translation before it is taken, where it comes with it."""


def letter(state: State, source: str, target: str, what: What) -> tuple[Letter, Any]:
    """What goes out, and the nests of the version it is made from; call with the state's lock held."""
    document = state.studio.read(state.raw)
    nests = state.studio.nest(document, source)
    return letter_out(document, nests, source, target, what), nests


def sent(row: Document, form: Form, source: str, target: str, what: What) -> tuple[str, bytes, str]:
    """A file's name, its content and its media type. Raises NestLineError."""
    state = state_of(row)
    name = f"{slugify(row.title) or 'document'}-{slugify(target) or 'translation'}"
    with state.lock:
        found, nests = letter(state, source, target, what)
        if form == "csv":
            return f"{name}.csv", write_table(found), MEDIA[form]
        document = state.studio.read(state.raw)
        wanted = {said for unit in found.units for kind, said in getattr(unit, "notes", ()) if kind == "picture"}
        pictures = frame_pictures(document, nests, state.studio.pdf(document, source), wanted)
    return f"{name}.zip", archive_out(found, pictures, name), MEDIA[form]


def sent_to_desk(row: Document, source: str, target: str, what: What) -> bytes:
    state = state_of(row)
    with state.lock:
        return write_xliff(letter(state, source, target, what)[0])


def states(state: State) -> list[dict[str, Any]]:
    """How far each version is: how many of its paragraphs are new, stale or done, against what it was made from."""
    document = state.studio.read(state.raw)
    names = dict.fromkeys(name for versions in document.copies.values() for name in versions)
    out = []
    for name in names:
        counts: Counter[str] = Counter()
        sources: Counter[str] = Counter()
        for copy, versions in document.copies.items():
            source = source_of(document, copy, name)
            told = versions[name].source if name in versions else None
            if source is None or (told is None and name == document.head.language):
                continue
            sources[source] += 1
            counts.update(pair.state for pair in pairs(document, copy, source, name))
        if sources:
            (source, _), language = sources.most_common(1)[0], document.language_of(name)
            out.append(
                {
                    "version": name,
                    "language": language,
                    "source": source,
                    **{k: counts[k] for k in ("new", "stale", "done")},
                }
            )
    return out


def come_home(
    state: State, name: str, content: bytes, version: str | None
) -> tuple[Homecoming, dict[str, str], list[str]]:
    """What a file would change, what the frames of its copies are called, and what would be wrong that is not now; call
    with the state's lock held."""
    document = state.studio.read(state.raw)
    found = homecoming(document, read_letter(name, content), version)
    labels: dict[str, str] = {}
    for _, thing in document.objects():
        if thing.frame is not None:
            labels.setdefault(thing.frame.copy_name, document.labels[thing.id])
    if not found.operations:
        return found, labels, []
    after = state.studio.read(edits.apply(state.raw, list(found.operations)).document)
    finder = finder_of(state.studio)
    before = finder.find(document, state.studio.nest(document, found.version))
    now = finder.find(after, state.studio.nest(after, found.version))
    known = Counter((one.kind, one.object) for one in open_ones(before))
    told = []
    for one in open_ones(now):
        known[(one.kind, one.object)] -= 1
        if one.kind in TOLD and known[(one.kind, one.object)] < 0:
            told.append(one.message)
    return found, labels, told
