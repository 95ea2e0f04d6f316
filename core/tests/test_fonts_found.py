"""By what a font is found: its kind, its scripts; and one put in the place of another everywhere."""

from __future__ import annotations

import unittest
from typing import Any

from fontTools.ttLib import TTFont

from nestline.acts import ActError, expanded
from nestline.document import edits
from nestline.fonts.about import SCRIPTS, kind_of, scripts_of
from nestline.fonts.library import shipped_fonts
from support import document, frame, paragraph, studio

KINDS = {
    "EB Garamond": "serif",
    "Vollkorn": "serif",
    "Abril Fatface": "serif",
    "Source Sans 3": "sans",
    "Lato": "sans",
    "Oswald": "sans",
    "League Spartan": "sans",
    "Noto Serif Hebrew": "other",
    "Noto Naskh Arabic": "other",
}
"""As their designers call them."""


class Found(unittest.TestCase):
    def test_the_kind_of_every_shipped_face(self) -> None:
        faces = [face for face in shipped_fonts().faces.values() if face.family in KINDS]
        self.assertGreater(len(faces), 15)
        for face in faces:
            self.assertEqual(kind_of(face), KINDS[face.family], face.key)

    def test_scripts_by_the_files_own_tables(self) -> None:
        for face in shipped_fonts().faces.values():
            drawn = set(TTFont(face.path).getBestCmap())
            wanted = [name for name, letters in SCRIPTS.items() if drawn.issuperset(map(ord, letters))]
            self.assertEqual(list(scripts_of(face)), wanted)

    def test_one_font_is_put_in_the_place_of_another_everywhere(self) -> None:
        runs = [{"text": "Fly ", "font": "Lost"}, {"text": "a kite"}]
        raw = document([frame()], {**paragraph("Up"), "font": "Lost"}, {"runs": runs})
        raw["styles"] = {"Body": {"font": "Lost"}, "Head": {"font": "Lato"}}

        def fonts(value: Any) -> list[str]:
            if isinstance(value, dict):
                return [v for k, v in value.items() if k == "font"] + [f for v in value.values() for f in fonts(v)]
            return [f for v in value for f in fonts(v)] if isinstance(value, list) else []

        self.assertEqual(sorted(fonts(raw)).count("Lost"), 3)
        act = {"do": "act", "act": "replace-font", "given": {"font": "Lost", "by": "Vollkorn"}}
        made = edits.apply(raw, expanded(studio(), raw, [act])).document
        self.assertEqual(sorted(fonts(made)), sorted(f if f != "Lost" else "Vollkorn" for f in fonts(raw)))
        with self.assertRaises(ActError):
            expanded(studio(), raw, [{**act, "given": {"font": "Lost", "by": "Gone"}}])


if __name__ == "__main__":
    unittest.main()
