"""Colours of a document: their figures, and what colours are called that come from elsewhere."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from itertools import count

from nestline.document.model import Head

BUILT_IN_COLORS = {"ink": "#1a1a1a", "paper": "#ffffff"}
LONGEST = 80
"""Characters of a colour's name (`Head.colors`)."""


def color_figure(head: Head, name: str) -> tuple[float, float, float]:
    """A colour by name or figure as red, green, blue in 0…1."""
    figure = name if name.startswith("#") else head.colors.get(name) or BUILT_IN_COLORS[name]
    digits = _long(figure)
    return int(digits[1:3], 16) / 255, int(digits[3:5], 16) / 255, int(digits[5:7], 16) / 255


def tinted(rgb: tuple[float, float, float], tint: float) -> tuple[float, float, float]:
    """A colour mixed with white: tint 100 is the colour, 0 is white."""
    share = tint / 100
    return tuple(1 - (1 - c) * share for c in rgb)  # type: ignore[return-value]


@dataclass(frozen=True)
class Offered:
    """A colour that a document has not: what it is called there, and whose it is, in words."""

    name: str
    said: str
    figure: str


def offered(colors: Mapping[str, str], others: Iterable[tuple[str, str, str]]) -> list[Offered]:
    """What of colours of others (name, figure, whose) a document with these colours has not. One whose name is another
    colour's there is called by whose it is, too, and numbered where that is taken as well; case does not tell names apart."""
    found = []
    taken = {name.lower(): _long(figure) for name, figure in {**BUILT_IN_COLORS, **colors}.items()}
    for name, figure, whose in others:
        names = (_called(name, whose, number) for number in count())
        free = next(one for one in names if taken.get(one.lower(), _long(figure)) == _long(figure))
        if free.lower() not in taken:
            taken[free.lower()] = _long(figure)
            found.append(Offered(free, f"{name}, of {whose}", figure))
    return found


def _called(name: str, whose: str, number: int) -> str:
    if number == 0:
        return name
    end = "" if number == 1 else f" {number}"
    return f"{name}, {whose}"[: LONGEST - len(end)] + end


def _long(figure: str) -> str:
    """#rrggbb, of #rgb too."""
    digits = figure[1:].lower()
    return f"#{digits}" if len(digits) == 6 else "#" + "".join(2 * c for c in digits)
