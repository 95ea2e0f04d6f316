"""Strain: texts grow by the published table, looks and figures stay, and how far frames hold is as far as a scan says.

The table is IBM's, as the W3C's article "Text size in translation" quotes it (from memory)."""

import random
import unittest
from typing import Any

from nestline.document import edits
from nestline.findings.strain import STEPS, growth, holds, strained
from support import document, frame, paragraph, studio

TABLE = (
    (1, 10, 1.0, 2.0),
    (11, 20, 0.8, 1.0),
    (21, 30, 0.6, 0.8),
    (31, 50, 0.4, 0.6),
    (51, 70, 0.31, 0.4),
    (71, 9000, 0.3, 0.3),
)


def under(raw: dict[str, Any], by: float, language: str | None = None) -> dict[str, Any]:
    return edits.apply(raw, strained(studio().read(raw), by, language)).document


def texts(raw: dict[str, Any]) -> list[str]:
    (copy,) = raw["copies"].values()
    (version,) = copy["versions"].values()
    return ["".join(run.get("text", "") for run in p["runs"]) for p in version["paragraphs"]]


class Growing(unittest.TestCase):
    def test_growth_is_within_the_published_table(self) -> None:
        for least, most, low, high in TABLE:
            for letters in {least, most, (least + most) // 2}:
                self.assertTrue(low <= growth(letters, 30) <= high, letters)
                self.assertAlmostEqual(growth(letters, 60), 2 * growth(letters, 30))
                self.assertEqual(growth(letters, -40), -0.4)

    def test_texts_come_to_that_length_to_a_word_and_more_strain_only_adds(self) -> None:
        draws = random.Random(2)
        for _ in range(40):
            words = " ".join(draws.choices(["kite", "afternoon", "the", "patience", "wind"], k=draws.randint(2, 60)))
            raw = document([frame(height=600)], paragraph(words))
            before = words
            for by in (5, 30, 60, 120, 200):
                (text,) = texts(under(raw, by))
                wanted = len(words) * (1 + growth(len(words), by))
                self.assertLessEqual(text and abs(len(text) - wanted), 16, (by, text))
                self.assertTrue(text.startswith(before.rpartition(" ")[0]))
                before = text
            (short,) = texts(under(raw, -50))
            self.assertTrue(words.startswith(short))
            self.assertLessEqual(len(short), len(words) / 2 + 1)

    def test_looks_stay_figures_stay_and_the_document_is_as_it_was(self) -> None:
        runs = [{"text": "Bring "}, {"text": "string", "weight": 700}]
        raw = document([frame()], {"runs": runs, "align": "center"}, {"runs": [{"text": "12.50"}]})
        kept = repr(raw)
        made = under(raw, 60)
        (copy,) = made["copies"].values()
        first, figures = copy["versions"]["en"]["paragraphs"]
        self.assertEqual(
            (first["align"], first["runs"][0], first["runs"][1]["weight"]), ("center", {"text": "Bring "}, 700)
        )
        self.assertEqual(figures["runs"], [{"text": "12.50"}])
        self.assertEqual(repr(raw), kept)
        (german, _) = texts(under(raw, 0, "de"))
        self.assertNotIn("string", german)
        self.assertEqual(strained(studio().read(raw), 0), [])

    def test_how_far_a_frame_holds_is_what_a_scan_of_strains_says(self) -> None:
        for seed in range(6):
            draws = random.Random(seed)
            words = " ".join(draws.choices(["kite", "afternoon", "the", "wind"], k=draws.randint(5, 40)))
            raw = document([frame(width=draws.randint(80, 200), height=draws.randint(40, 160))], paragraph(words))
            (found,) = holds(studio(), studio().read(raw))
            fits = []
            for by in STEPS:
                (placed,) = studio().nest(studio().read(under(raw, by)))
                fits.append(placed.nest.leftover_words == 0)
            broken = next((n for n, fit in enumerate(fits) if not fit), None)
            self.assertEqual(found.up_to, None if broken is None else (-1.0, *STEPS)[broken])
