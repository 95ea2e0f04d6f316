"""What objects are called: by their name, else by the words that stand in them, else by their kind and a number."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from typing import Protocol

from nestline.document.model import OBJECT, PageObject, Paragraph

MOST_LETTERS = 28
"""How long a name is that is made from words, in characters."""
KINDS = {"path": "Outline", "bubble": "Bubble", "flag": "Flag"}


class Words(Protocol):
    """A version of a copy."""

    @property
    def paragraphs(self) -> Sequence[Paragraph]: ...


class Things(Protocol):
    """What is asked of a document."""

    @property
    def chain_of(self) -> Mapping[str, Sequence[str]]: ...

    def objects(self) -> Iterator[tuple[int, PageObject]]: ...

    def version_of(self, copy: str, version: str | None = None) -> tuple[str, Words]: ...


def kind_of(thing: PageObject) -> str:
    """What kind of thing an object is, in a word."""
    if thing.picture is not None:
        return "Picture"
    if thing.frame is not None:
        return "Frame"
    return KINDS.get(thing.outline.kind, thing.outline.kind.capitalize())


def labels_of(document: Things) -> dict[str, str]:
    """What every object is called. Names of words that are alike are numbered from the second on, those of kinds from
    one."""
    out: dict[str, str] = {}
    taken = {thing.name for _, thing in document.objects() if thing.name}
    counts: Counter[str] = Counter()
    alike: Counter[str] = Counter()
    begins: dict[str, str] = {}
    for _, thing in document.objects():
        said = thing.name or (_words_of(document, thing, begins) if thing.frame is not None else "")
        if said and not thing.name:
            # Two frames of the same words are told apart.
            alike[said] += 1
            said = said if alike[said] == 1 else f"{said} {alike[said]}"
        while not said:
            kind = kind_of(thing)
            counts[kind] += 1
            numbered = f"{kind} {counts[kind]}"
            said = "" if numbered in taken else numbered
        out[thing.id] = said
    return out


def _words_of(document: Things, thing: PageObject, known: dict[str, str]) -> str:
    """The first words of the copy of a frame; of a later frame of a chain those, and its place in the chain. `known`
    are those of copies that were asked for before."""
    assert thing.frame is not None
    name = thing.frame.copy_name
    if (said := known.get(name)) is None:
        said = known[name] = _first_words(document, name)
    chain = document.chain_of.get(thing.id, ())
    number = chain.index(thing.id) if thing.id in chain else 0
    return f"{said} ({number + 1})" if said and number else said


def _first_words(document: Things, copy: str) -> str:
    _, version = document.version_of(copy)
    words: list[str] = []
    for paragraph in version.paragraphs:
        words += paragraph.text.replace(OBJECT, " ").split()[:12]
        if len(words) >= 12:
            break
    said = ""
    for word in words:
        longer = f"{said} {word}".strip()
        if len(longer) > MOST_LETTERS:
            said = f"{(said or word[:MOST_LETTERS]).rstrip(',;:.')} …"
            break
        said = longer
    return said
