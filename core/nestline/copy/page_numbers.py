"""Page numbers in copy: which page each names in a frame, and how it reads there."""

from __future__ import annotations

from collections.abc import Iterable

from nestline.document.model import Paragraph, Run
from nestline.document.reading import Document

NOWHERE = "?"
"""What a page number reads that leads nowhere."""


def fields_in(paragraphs: Iterable[Paragraph]) -> list[Run]:
    """The page numbers in a copy, in order."""
    return [r for p in paragraphs for r in p.runs if r.field]


def numbers_in(document: Document, frame: str, fields: Iterable[Run]) -> tuple[str, ...]:
    """What the page numbers of a copy read in a frame, in order."""
    out = []
    for run in fields:
        page = page_named(document, run, frame)
        out.append(NOWHERE if page is None else str(page + 1))
    return tuple(out)


def page_named(document: Document, run: Run, frame: str) -> int | None:
    """The index of the page that a field in a frame's copy names; None when it leads nowhere."""
    of = run.of or frame
    if run.field == "page":
        return document.page_of[of]
    chain = document.chain_of.get(of)
    if chain is None:
        return None
    at = chain.index(of)
    hidden = {t.id for _, t in document.objects() if t.hidden}
    there = chain[at + 1 :] if run.field == "next-page" else chain[:at][::-1]
    found = next((i for i in there if i not in hidden), None)
    return None if found is None else document.page_of[found]


def with_numbers(paragraph: Paragraph, numbers: tuple[str, ...]) -> Paragraph:
    """A paragraph with its page numbers as text."""
    left = iter(numbers)
    runs = tuple(
        run.model_copy(update={"text": next(left), "field": None, "of": None}) if run.field else run
        for run in paragraph.runs
    )
    return paragraph.model_copy(update={"runs": runs})
