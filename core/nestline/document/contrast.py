"""How well one colour is told from another (WCAG 2.2, "relative luminance" and "contrast ratio")."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Rgb = tuple[float, float, float]

_SHARES = np.array([0.2126, 0.7152, 0.0722])


def luminances(rgb: Floats) -> Floats:
    """The relative luminance of colours, the last axis red, green and blue in 0…1."""
    linear = np.where(rgb <= 0.04045, rgb / 12.92, ((rgb + 0.055) / 1.055) ** 2.4)
    found: Floats = linear @ _SHARES
    return found


def ratios(a: Floats, b: Floats) -> Floats:
    """The contrast of each colour with another, 1 to 21."""
    one, other = luminances(a), luminances(b)
    found: Floats = (np.maximum(one, other) + 0.05) / (np.minimum(one, other) + 0.05)
    return found


def contrast(a: Rgb, b: Rgb) -> float:
    """The contrast of two colours, 1 to 21."""
    return float(ratios(np.array(a), np.array(b)))


ENOUGH, ENOUGH_FOR_LARGE = 4.5, 3.0
"""WCAG 2.2, 1.4.3 "Contrast (Minimum)": for copy of any size, and for large type."""


def enough(ratio: float) -> str:
    """Whether copy of this contrast can be read, in words."""
    if ratio >= ENOUGH:
        return "enough for any size"
    return "enough for large type only" if ratio >= ENOUGH_FOR_LARGE else "too little to be read"
