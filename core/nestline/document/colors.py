"""Colours of a document: their figures, and what colours are called that come from elsewhere."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
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


_FIGURE = re.compile(r"(-?\d+(?:[.,]\d+)?)\s*(%?)")


def typed_color(text: str, colors: Mapping[str, str]) -> str | None:
    """A colour as people write it: a name of the document's, #rgb or #rrggbb (with # or without), red, green and blue
    to 255 or in per cent, or four figures of CMYK in per cent; its name or its figure #rrggbb, None where it is none.
    CMYK becomes RGB by the plain conversion of CSS Color 5, "Converting CMYK Colors to sRGB": what is printed depends
    on paper and ink. CSS's own names are not taken: a document's names are its own."""
    said = text.strip().lower()
    for name in (*colors, *BUILT_IN_COLORS):
        if name.lower() == said:
            return name
    if found := re.fullmatch(r"#?([0-9a-f]{3}|[0-9a-f]{6})", said):
        return _long(f"#{found[1]}")
    figures = [(float(value.replace(",", ".")), bool(share)) for value, share in _FIGURE.findall(said)]
    rest = re.sub(r"[\s,;/()]+", "", _FIGURE.sub("", said))
    if len(figures) == 3 and rest in ("", "rgb"):
        parts = [value * 2.55 if share else value for value, share in figures]
        return _figure(parts) if all(0 <= part <= 255 for part in parts) else None
    if len(figures) == 4 and rest in ("", "cmyk", "device-cmyk") and all(0 <= value <= 100 for value, _ in figures):
        *inks, black = (value / 100 for value, _ in figures)
        return _figure([255 * (1 - min(1.0, ink * (1 - black) + black)) for ink in inks])
    return None


def _figure(parts: Sequence[float]) -> str:
    return "#" + "".join(f"{int(round(part, 6) + 0.5):02x}" for part in parts)


def called(rgb: Sequence[float], colors: Mapping[str, str]) -> str | None:
    """The name of a colour (its parts from 0 to 1) in a document, where it has one."""
    figure = _figure([255 * part for part in rgb])
    return next((name for name, own in {**colors, **BUILT_IN_COLORS}.items() if _long(own) == figure), None)


@dataclass(frozen=True)
class Offered:
    """A colour that a document has not: what it is called there, and whose it is, in words."""

    name: str
    said: str
    figure: str


def offered(colors: Mapping[str, str], others: Iterable[tuple[str, str, str]]) -> list[Offered]:
    """What of colours of others (name, figure, whose) a document with these colours has not. One whose name is another
    colour's there is called by whose it is, too, and numbered where that is taken as well; case does not tell names
    apart."""
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
