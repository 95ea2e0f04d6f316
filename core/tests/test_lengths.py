"""Lengths: exact by definition (1 in = 72 pt = 6 pica = 25.4 mm = 96 px, CSS Values 4)."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from nestline.document import lengths


class Lengths(unittest.TestCase):
    def test_every_unit_is_exact(self) -> None:
        for text, pt in [
            ("12", 12),
            ("25.4mm", 72),
            ("2.54cm", 72),
            ("1in", 72),
            ("96px", 72),
            ("6pc", 72),
            ("1p6", 18),
            ("0p7", 7),
            ("2p", 24),
            ("0.25in", 18),
            ("20px", 15),
            ("0,5in", 36),
        ]:
            with self.subTest(text):
                self.assertAlmostEqual(lengths.points(text), pt, places=12)

    def test_an_em_is_the_type_size(self) -> None:
        self.assertAlmostEqual(lengths.points("1.3em", 10), 13)
        self.assertEqual(lengths.parse("2em + 3"), (3, 2))

    def test_sums_are_worked_out(self) -> None:
        self.assertAlmostEqual(lengths.points("1in - 12"), 60)
        self.assertAlmostEqual(lengths.points("3mm*2 + 1p6/3"), 6 * 72 / 25.4 + 6)

    def test_what_is_not_a_length_is_refused(self) -> None:
        for text in ["", "abc", "12 apples", "1//2", "3mm 4mm", "--3", "1/0", "+", "1e9", "9" * 200, "1p6p", "NaN"]:
            with self.subTest(text), self.assertRaises(lengths.LengthError):
                lengths.parse(text)
        for value in (True, float("nan"), float("inf"), 1e12):
            with self.subTest(value), self.assertRaises(lengths.LengthError):
                lengths.parse(value)

    @given(st.text(max_size=30))
    def test_any_text_gives_a_length_or_a_refusal(self, text: str) -> None:
        try:
            pt, em = lengths.parse(text)
        except lengths.LengthError:
            return
        self.assertLessEqual(abs(pt), 1e6)
        self.assertLessEqual(abs(em), 1e4)
