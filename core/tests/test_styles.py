"""Which rule holds: a run over its paragraph, a paragraph over its style, a style over the defaults."""

import unittest
from typing import Any

from nestline.copy.styles import paragraph_rules, run_look
from nestline.document.colors import color_figure, tinted
from nestline.document.model import Paragraph, Run, Style
from support import document, frame, nest_of, paragraph, studio


def rules(style: dict[str, Any] | None = None, **own: Any) -> Any:
    return paragraph_rules(
        Paragraph.model_validate(own), Style.model_validate(style) if style is not None else None, "en"
    )


class Rules(unittest.TestCase):
    def test_defaults(self) -> None:
        got = rules()
        self.assertEqual((got.size, got.leading, got.align, got.last), (11, 13.75, "start", "start"))
        self.assertEqual(
            (got.look.font, got.look.weight, got.look.slope, got.look.color), ("EB Garamond", 400, "normal", "ink")
        )

    def test_a_style_over_the_defaults_and_a_paragraph_over_its_style(self) -> None:
        style = {"size": 20, "align": "center", "font": "Lato", "space_after": "1em"}
        self.assertEqual((rules(style).size, rules(style).align, rules(style).space_after), (20, "center", 20))
        got = rules(style, size=10, align="end")
        self.assertEqual((got.size, got.align, got.look.font, got.space_after), (10, "end", "Lato", 10))

    def test_leading_in_em_follows_the_size_and_in_points_does_not(self) -> None:
        self.assertEqual(rules({"leading": "1.5em", "size": 10}, size=20).leading, 30)
        self.assertEqual(rules({"leading": 14, "size": 10}, size=20).leading, 14)

    def test_a_run_over_its_paragraph(self) -> None:
        base = rules({"font": "Vollkorn", "size": 10}).look
        got = run_look(Run.model_validate({"text": "x", "slope": "italic", "size": "1.5em"}), base)
        self.assertEqual((got.font, got.slope, got.size, got.weight), ("Vollkorn", "italic", 15, 400))

    def test_lengths_of_a_frame_in_em_follow_its_copys_first_paragraph(self) -> None:
        nest = nest_of(document([frame(padding="1em")], paragraph("Kite", size=30))).nest
        self.assertAlmostEqual(nest.padded.bounds[0], 130)
        self.assertAlmostEqual(nest.copy.size, 30)


class Colors(unittest.TestCase):
    def test_names_and_figures(self) -> None:
        head = studio().read(document([], colors={"lake": "#2f6f8f"})).head
        self.assertEqual(color_figure(head, "lake"), (0x2F / 255, 0x6F / 255, 0x8F / 255))
        self.assertEqual(color_figure(head, "#f00"), (1, 0, 0))
        self.assertEqual(color_figure(head, "paper"), (1, 1, 1))

    def test_a_document_may_mix_its_own_ink(self) -> None:
        head = studio().read(document([], colors={"ink": "#102030"})).head
        self.assertEqual(color_figure(head, "ink"), (0x10 / 255, 0x20 / 255, 0x30 / 255))

    def test_a_tint_is_mixed_with_white(self) -> None:
        self.assertEqual(tinted((0.0, 0.5, 1.0), 100), (0.0, 0.5, 1.0))
        self.assertEqual(tinted((0.0, 0.5, 1.0), 0), (1, 1, 1))
        self.assertEqual(tinted((0.0, 0.5, 1.0), 50), (0.5, 0.75, 1.0))
