"""Lengths as people write them: `12`, `3mm`, `0.25in`, `1p6`, `20px`, `1.3em`, and sums of them.

Units: 1 in = 72 pt = 6 pica = 25.4 mm = 96 px (CSS Values 4, absolute lengths); an em is the type size.
"""

from __future__ import annotations

import math
import re
from functools import lru_cache

from nestline.errors import NestLineError

POINTS = {"pt": 1.0, "mm": 72 / 25.4, "cm": 720 / 25.4, "in": 72.0, "px": 0.75, "pc": 12.0}

Length = float | int | str

_PICA = re.compile(r"(\d+)p(\d+(?:\.\d+)?)?(?![a-z.\d])")
_TERM = re.compile(r"(\d+(?:\.\d*)?|\.\d+)\s*(pt|mm|cm|in|px|pc|em)?")
_LARGEST_PT = 1_000_000.0


class LengthError(NestLineError, ValueError):
    """The text is not a length."""


def parse(value: Length) -> tuple[float, float]:
    """A length as (points, ems); numbers and bare figures are points. Raises LengthError."""
    if isinstance(value, bool):
        raise LengthError(f"{value!r} is not a length")
    if isinstance(value, int | float):
        pt, em = float(value), 0.0
    else:
        pt, em = _parse_sum(value)
    if not math.isfinite(pt) or abs(pt) > _LARGEST_PT or abs(em) > 10_000:
        raise LengthError(f"{value!r} is too large a length")
    return pt, em


def points(value: Length, size: float = 0.0) -> float:
    """A length in points, an em being `size` points. Raises LengthError."""
    if type(value) is int or type(value) is float:
        return float(value)
    pt, em = parse(value)
    return pt + em * size


def more(value: Length, by: float) -> Length:
    """A length and `by` points more, in the unit that it has where it is written with one."""
    return f"{value} + {by:g}pt" if isinstance(value, str) else value + by


@lru_cache(maxsize=4096)
def _parse_sum(text: str) -> tuple[float, float]:
    """Terms joined by + and −, each a figure with a unit, possibly times or divided by a plain figure."""
    rest = text.strip().lower().replace("−", "-").replace("×", "*").replace(",", ".")
    if not rest or len(rest) > 100:
        raise _wrong(text)
    pt = em = 0.0
    first = True
    while rest:
        sign = 1.0
        if rest[0] in "+-":
            sign = -1.0 if rest[0] == "-" else 1.0
            rest = rest[1:].lstrip()
        elif not first:
            raise _wrong(text)
        first = False
        if match := _PICA.match(rest):
            term = (12.0 * float(match[1]) + float(match[2] or 0), 0.0)
        elif match := _TERM.match(rest):
            figure, unit = float(match[1]), match[2] or "pt"
            term = (0.0, figure) if unit == "em" else (figure * POINTS[unit], 0.0)
        else:
            raise _wrong(text)
        rest = rest[match.end() :].lstrip()
        while rest[:1] in ("*", "/") and rest:
            times = re.compile(r"[*/]\s*(\d+(?:\.\d*)?|\.\d+)").match(rest)
            if not times or (rest[0] == "/" and float(times[1]) == 0):
                raise _wrong(text)
            factor = float(times[1]) if rest[0] == "*" else 1 / float(times[1])
            term = (term[0] * factor, term[1] * factor)
            rest = rest[times.end() :].lstrip()
        pt, em = pt + sign * term[0], em + sign * term[1]
    return pt, em


def _wrong(text: str) -> LengthError:
    return LengthError(f"“{text}” is not a length; write for example 12, 3mm, 0.25in, 1p6, 20px or 1.3em")
