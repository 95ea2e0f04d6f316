"""Which rules hold for a paragraph and its runs, once style and defaults have been looked up."""

from __future__ import annotations

from dataclasses import dataclass

from nestline.document import lengths
from nestline.document.model import Paragraph, Run, Style
from nestline.fonts.library import DEFAULT_FAMILY

DEFAULT_SIZE = 11
DEFAULT_LEADING = "1.25em"


@dataclass(frozen=True)
class Look:
    """How a run's letters look. `size` in points."""

    font: str
    weight: int
    slope: str
    size: float
    color: str


@dataclass(frozen=True)
class Rules:
    """A paragraph's rules in points."""

    size: float
    leading: float
    align: str
    last: str
    space_before: float
    space_after: float
    indent: float
    first_indent: float
    language: str
    look: Look


def paragraph_rules(paragraph: Paragraph, style: Style | None, language: str) -> Rules:
    """The rules of a paragraph: its own fields, else its style's, else the defaults."""

    def pick(name: str, default: object) -> object:
        own = getattr(paragraph, name)
        if own is None and style is not None:
            own = getattr(style, name)
        return default if own is None else own

    size = lengths.points(pick("size", DEFAULT_SIZE), DEFAULT_SIZE)  # type: ignore[arg-type]

    def length(name: str, default: lengths.Length = 0) -> float:
        return lengths.points(pick(name, default), size)  # type: ignore[arg-type]

    look = Look(
        str(pick("font", DEFAULT_FAMILY)),
        int(pick("weight", 400)),  # type: ignore[call-overload]
        str(pick("slope", "normal")),
        size,
        str(pick("color", "ink")),
    )
    return Rules(
        size=size,
        leading=length("leading", DEFAULT_LEADING),
        align=str(pick("align", "start")),
        last=str(pick("last", "start")),
        space_before=length("space_before"),
        space_after=length("space_after"),
        indent=length("indent"),
        first_indent=length("first_indent"),
        language=str(pick("language", language)),
        look=look,
    )


def run_look(run: Run, base: Look) -> Look:
    """How a run looks: its own fields over its paragraph's."""
    return Look(
        run.font or base.font,
        run.weight or base.weight,
        run.slope or base.slope,
        base.size if run.size is None else lengths.points(run.size, base.size),
        run.color or base.color,
    )
