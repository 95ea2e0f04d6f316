"""Lengths as people write them: `12`, `3mm`, `0.25in`, `1p6`, `20px`, `1.3em`, and sums of them.

Units: 1 in = 72 pt = 6 pica = 25.4 mm = 96 px (CSS Values 4, absolute lengths); an em is the type size.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema, core_schema

from nestline.errors import NestLineError

POINTS = {"pt": 1.0, "mm": 72 / 25.4, "cm": 720 / 25.4, "in": 72.0, "px": 0.75, "pc": 12.0}

Written = float | int | str
"""A length as it is written: a number is points."""

_PICA = re.compile(r"(\d+)p(\d+(?:\.\d+)?)?(?![a-z.\d])")
_TERM = re.compile(r"(\d+(?:\.\d*)?|\.\d+)\s*(pt|mm|cm|in|px|pc|em)?")
_LARGEST_PT = 1_000_000.0


class LengthError(NestLineError, ValueError):
    """The text is not a length."""

    code = "length"


class _Written:
    """A value that models read as it is written, and write so again."""

    __slots__ = ()

    @staticmethod
    def read(value: object) -> Any:
        raise NotImplementedError

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        kept = core_schema.plain_serializer_function_ser_schema(lambda value: value.raw)
        return core_schema.no_info_plain_validator_function(cls.read, serialization=kept)


@dataclass(frozen=True, slots=True)
class Length(_Written):
    """`pt` points and `em` times a type size, as it was `written`; two are equal that come to the same."""

    pt: float
    em: float = 0.0
    written: Written | None = field(default=None, compare=False)

    @staticmethod
    def read(value: object) -> Length:
        """A length from how it is written. Raises LengthError."""
        if isinstance(value, Length):
            return value
        if not isinstance(value, str | int | float) or isinstance(value, bool):
            raise LengthError("is not a length; write for example 12, 3mm, 0.25in, 1p6, 20px or 1.3em")
        return Length(*parse(value), value)

    def points(self, size: float = 0.0) -> float:
        """In points, an em being `size` points."""
        return self.pt + self.em * size

    def __bool__(self) -> bool:
        """Whether it comes to anything."""
        return bool(self.pt or self.em)

    @property
    def least(self) -> float:
        """The less of its points and its ems, by which it is told whether it may come to less than nothing."""
        return min(self.pt, self.em)

    @property
    def raw(self) -> Written:
        """As it is written, or its points."""
        return self.pt if self.written is None else self.written

    @classmethod
    def __get_pydantic_json_schema__(cls, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        return {"type": ["number", "string"]}


ZERO = Length(0.0, 0.0, 0)


@dataclass(frozen=True, slots=True)
class Sides(_Written):
    """A length for each side of a box. Where one was written for all they are not `apart`."""

    top: Length = ZERO
    right: Length = ZERO
    bottom: Length = ZERO
    left: Length = ZERO
    apart: bool = False

    @staticmethod
    def all(length: Length) -> Sides:
        return Sides(length, length, length, length)

    @staticmethod
    def read(value: object) -> Sides:
        """One length, or four: top, right, bottom, left; none below zero. Raises LengthError."""
        if isinstance(value, Sides):
            return value
        if not isinstance(value, list | tuple):
            return Sides.all(not_negative(Length.read(value)))
        if len(value) != 4:
            raise LengthError("needs one length, or four: top, right, bottom, left")
        top, right, bottom, left = (not_negative(Length.read(one)) for one in value)
        return Sides(top, right, bottom, left, True)

    def __bool__(self) -> bool:
        """Whether any of them comes to anything."""
        return any(self.four)

    @property
    def four(self) -> tuple[Length, Length, Length, Length]:
        return self.top, self.right, self.bottom, self.left

    def points(self, size: float = 0.0) -> tuple[float, float, float, float]:
        """Top, right, bottom, left in points, an em being `size` points."""
        return self.top.points(size), self.right.points(size), self.bottom.points(size), self.left.points(size)

    @property
    def raw(self) -> Written | list[Written]:
        """As it is written."""
        return [one.raw for one in self.four] if self.apart else self.top.raw

    @classmethod
    def __get_pydantic_json_schema__(cls, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        one = {"type": ["number", "string"]}
        return {"anyOf": [one, {"type": "array", "items": one, "minItems": 4, "maxItems": 4}]}


def not_negative(length: Length) -> Length:
    """The length. Raises LengthError where it is below zero."""
    if length.least < 0:
        raise LengthError("is below zero; write a length of zero or more")
    return length


def parse(value: Written) -> tuple[float, float]:
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


def points(value: Written, size: float = 0.0) -> float:
    """A length in points, an em being `size` points. Raises LengthError."""
    if type(value) is int or type(value) is float:
        return float(value)
    pt, em = parse(value)
    return pt + em * size


def more(value: Written, by: float) -> Written:
    """A length and `by` points more, in the unit that it has where it is written with one."""
    return f"{value} {'-' if by < 0 else '+'} {abs(by):g}pt" if isinstance(value, str) else value + by


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
