"""How well a colour is read where it stands: painted areas over one another reckoned by hand, contrasts by WCAG 2.2's
formula."""

from __future__ import annotations

import unittest
from typing import Any

from draws import thrown
from nestline.acts.own_copy import ColorRead, color_read
from support import document, frame, paragraph
from test_offers import acting

Raw = dict[str, Any]
Rgb = tuple[float, ...]


def figure(color: Rgb) -> str:
    return "#" + "".join(f"{round(c * 255):02x}" for c in color)


def luminance(color: Rgb) -> float:
    """WCAG 2.2, "relative luminance"."""
    r, g, b = (c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in color)
    return 0.2126 * r + 0.7152 * g + 0.0722 * b


def contrast(a: Rgb, b: Rgb) -> float:
    """WCAG 2.2, "contrast ratio"."""
    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def read(raw: Raw, color: str) -> ColorRead:
    return color_read(acting(raw), "f", color)


def painted(color: Rgb, share: float = 1.0, **place: Any) -> Raw:
    return {
        "id": "p",
        "x": 0,
        "y": 0,
        "width": 600,
        "height": 800,
        "fill": {"color": figure(color), "opacity": share},
        **place,
    }


class Read(unittest.TestCase):
    def test_on_painted_areas_over_one_another(self) -> None:
        dice = thrown(2)
        for _ in range(60):
            sheet, under, own, text = (tuple(dice.randrange(256) / 255 for _ in range(3)) for _ in range(4))
            shares = [dice.choice([1.0, 0.5, 0.25]) for _ in range(2)]
            raw = document([frame(fill={"color": figure(own), "opacity": shares[1]})], paragraph("Kites"))
            raw["pages"][0]["background"] = figure(sheet)
            raw["pages"][0]["objects"].insert(0, painted(under, shares[0]))
            behind = sheet
            for color, share in ((under, shares[0]), (own, shares[1])):
                behind = tuple(b + (c - b) * share for b, c in zip(behind, color, strict=True))
            found = read(raw, figure(text))
            self.assertAlmostEqual(found.contrast, contrast(text, behind), delta=0.006)
            self.assertEqual(found.poor, contrast(text, behind) < 3)

    def test_what_lies_behind_is_called_what_it_is(self) -> None:
        for more, said in (
            ([], "the sheet"),
            ([painted((1.0, 1.0, 1.0))], "the sheet"),
            ([painted((0.8, 0.1, 0.1))], "what lies behind it"),
            ([painted((0.0, 0.4, 0.2))], "Moss"),
        ):
            raw = document([frame()], paragraph("Kites"))
            raw["colors"] = {"Moss": "#006633"}
            raw["pages"][0]["objects"][:0] = more
            self.assertEqual(read(raw, "#000000").behind, said)
        raw["pages"][0]["background"] = "#ffffff"
        raw["pages"][0]["objects"].pop(0)
        self.assertNotEqual(read(raw, "#000000").behind, "the sheet", "it has a colour of its own")

    def test_what_is_hidden_in_front_or_elsewhere_does_not_lie_behind(self) -> None:
        plain = read(document([frame()], paragraph("Kites")), "#000000").contrast
        self.assertEqual(plain, 21)
        for place, alike in (
            ({"hidden": True}, True),
            ({"x": 500}, True),
            ({"width": 1, "height": 1}, True),
            ({}, False),
        ):
            raw = document([frame()], paragraph("Kites"))
            raw["pages"][0]["objects"].insert(0, painted((0.2, 0.2, 0.2), **place))
            self.assertEqual(read(raw, "#000000").contrast == plain, alike, place)
        raw = document([frame()], paragraph("Kites"))
        raw["pages"][0]["objects"].append(painted((0.2, 0.2, 0.2)))
        self.assertEqual(read(raw, "#000000").contrast, plain)

    def test_it_is_said_whether_that_is_enough(self) -> None:
        for grey, said in (
            (0x76, "enough for any size"),
            (0x77, "enough for large type only"),
            (0x94, "enough for large type only"),
            (0x95, "too little to be read"),
        ):
            found = read(document([frame()], paragraph("Kites")), f"#{grey:02x}{grey:02x}{grey:02x}")
            self.assertEqual((found.said, found.poor), (said, said.startswith("too")))


if __name__ == "__main__":
    unittest.main()
