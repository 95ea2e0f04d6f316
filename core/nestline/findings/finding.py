"""What is found: faults that were measured, each with its place, figure and limit, and the kinds there are."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from nestline.document.contrast import ENOUGH
from nestline.document.edits import Operation

Medium = Literal["print", "screen"]
Shown = Literal["words", "line", "nothing"]
Box = tuple[float, float, float, float]
"""Left, top, right and bottom on a page, in points."""


@dataclass(frozen=True)
class Kind:
    """A kind of finding. Limits are None where there is no figure to set: it is found where it is there at all."""

    name: str
    title: str
    fault: bool = True
    """Else it is a note: it may well be meant."""
    print: float | None = None
    screen: float | None = None
    least: bool = True
    """Whether the limit is the least that will do; else the most."""
    unit: str = ""
    shown: Shown = "words"
    """What is drawn on the page: marks under its words, a line through its places, or nothing, where its frame says it
    already."""

    def limit(self, medium: Medium) -> float | None:
        return self.print if medium == "print" else self.screen


KINDS = {
    kind.name: kind
    for kind in (
        Kind("leftover", "Words left over", print=0, screen=0, least=False, unit="words", shown="nothing"),
        Kind("hidden", "Words under something", print=0.5, screen=0.5, least=False, unit="of a word"),
        Kind("pale", "Words hard to read", print=ENOUGH, screen=ENOUGH, unit=": 1"),
        Kind("cut-off", "Words off the page", print=0, screen=0, least=False, unit="pt"),
        Kind("small", "Small type", print=6.0, screen=8.25, unit="pt"),
        Kind(
            "no-letter", "Letters that the font lacks", print=0, screen=0, least=False, unit="letters", shown="nothing"
        ),
        Kind("stand-in", "Fonts that are not here", shown="nothing"),
        Kind("unfilled", "Justified lines left unfilled", print=0, screen=0, least=False, unit="lines"),
        Kind("loose", "Loose lines", print=1.0, screen=1.0, least=False, unit="more space"),
        Kind("river", "Rivers", print=3, screen=3, least=False, unit="lines", shown="line"),
        Kind("ladder", "Hyphens below one another", print=2, screen=2, least=False, unit="in a row"),
        Kind("across", "Hyphens across a gap", print=0, screen=0, least=False, unit="hyphens"),
        Kind("lone-slot", "One word alone in its room", fault=False, print=0, screen=0, least=False, unit="lines"),
        Kind("orphan", "First lines alone at a column's foot", print=2, screen=2, unit="lines"),
        Kind("widow", "Last lines alone at a column's head", print=2, screen=2, unit="lines"),
        Kind("last-word", "Last words alone", fault=False, print=0, screen=0, least=False, unit="words"),
        Kind("measure", "Lines too short or too long to read easily", fault=False, unit="letters"),
        Kind("tight-padding", "Copy close to a painted edge", fault=False, print=0.5, screen=0.5, unit="em"),
        Kind("empty", "Frames without copy", fault=False, shown="nothing"),
        Kind("no-room", "Frames with almost no room", print=0.25, screen=0.25, unit="of its area"),
        Kind("off-page", "Objects off the page", print=0, screen=0, least=False, unit="pt"),
        Kind("coarse", "Pictures of few pixels", print=150, screen=72, unit="pixels an inch", shown="nothing"),
        Kind("doubtful", "Doubtful contours", print=0.9, screen=0.9, unit="sure", shown="nothing"),
        Kind("no-contour", "Contours that were not found", shown="nothing"),
        Kind("unsettled", "Objects that do not come to rest", shown="nothing"),
        Kind("waiting", "Objects whose place in the copy is not set"),
        Kind("no-embed", "Fonts that must not go out"),
        Kind("no-version", "Versions that are missing"),
        Kind("stale", "Translations of words that have changed"),
        Kind(
            "untranslated",
            "Words that are not translated yet",
            fault=False,
            print=0,
            screen=0,
            least=False,
            unit="paragraphs",
        ),
        Kind("curved", "Long copy in a curved outline", fault=False, print=180, screen=180, least=False, unit="words"),
        Kind("unlike", "Padding unlike its siblings’", fault=False),
        Kind("near", "Edges that nearly meet", fault=False, print=2, screen=2, unit="pt"),
        Kind("nowhere", "Page numbers that lead nowhere"),
    )
}
"""All kinds, in the order in which they are told. Limits of type size, resolution and measure are common practice;
those of contrast are WCAG 2.2's (1.4.3), 3 : 1 for large type."""


QUOTED = 200
"""So many letters of its words tell a finding from others."""


@dataclass(frozen=True)
class Cure:
    """An act that mends a finding: what it is called, and what it does."""

    label: str
    operations: tuple[Operation, ...]


@dataclass(frozen=True)
class Finding:
    """Something that was measured on a page."""

    kind: str
    object: str
    page: int
    figure: float | None
    limit: float | None
    details: tuple[str, ...] = ()
    """What its sentence names besides: families, letters, versions, a reason."""
    message: str = ""
    """Its sentence, once it is told (`said.message`)."""
    range: tuple[int, int] | None = None
    """The words it speaks of, in code points of the copy."""
    words: str = ""
    marks: tuple[Box, ...] = ()
    """Where it is on its page."""
    cures: tuple[Cure, ...] = ()
    fault: bool = True
    never_mind: bool = False


@dataclass(frozen=True)
class Tried:
    """What a cure comes to: whether it mends what it is for, and how many other findings come and go with it."""

    cure: Cure
    mends: bool
    more: int
    fewer: int
