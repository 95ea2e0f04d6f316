"""Variable fonts: what they vary in, and their letters at one weight and width.

Two axes of the OpenType specification are kept, which a designer asks for by figures: `wght` (1 to 1000, 400 is
regular) and `wdth` (per cent of the normal width). All others stand at their defaults.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from fontTools.ttLib import TTFont

WEIGHT, WIDTH = "wght", "wdth"
NORMAL_WIDTH = 100.0

Range = tuple[float, float]


@dataclass(frozen=True)
class Axes:
    """Least and greatest weight and width, in per cent of the normal one; None where a font has no such axis."""

    weight: Range | None = None
    width: Range | None = None

    def at(self, weight: float, width: float) -> dict[str, float]:
        """Where each axis stands for a weight and width, as near as it goes."""
        asked = {WEIGHT: (self.weight, weight), WIDTH: (self.width, width)}
        return {tag: _within(value, *ends) for tag, (ends, value) in asked.items() if ends is not None}


def _within(value: float, least: float, greatest: float) -> float:
    return min(max(value, least), greatest)


def axes_of(font: TTFont) -> Axes:
    """What a font varies in."""
    if "fvar" not in font:
        return Axes()
    ends = {axis.axisTag: (float(axis.minValue), float(axis.maxValue)) for axis in font["fvar"].axes}
    return Axes(ends.get(WEIGHT), ends.get(WIDTH))


def without_other_axes(font: TTFont) -> TTFont:
    """A font that varies in weight and width alone; a plain one where it has neither."""
    others = {axis.axisTag: None for axis in font["fvar"].axes if axis.axisTag not in (WEIGHT, WIDTH)}
    return _instance(font, others) if others else font


def pinned(font: TTFont, at: Mapping[str, float]) -> TTFont:
    """A variable font at one place of its axes, plain. The fewer glyphs it has, the quicker: subset it first."""
    return _instance(font, at, downgradeCFF2="CFF2" in font)


def _instance(font: TTFont, places: Mapping[str, float | None], **more: bool) -> TTFont:
    from fontTools.varLib import instancer  # a quarter of a second to load; most documents set no such font

    return instancer.instantiateVariableFont(font, places, inplace=True, **more)
