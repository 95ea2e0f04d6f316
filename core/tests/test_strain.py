"""Strain: texts grow by the published table, looks and figures stay, and how far frames hold is as far as a scan says.

The table is IBM's, as the W3C's article "Text size in translation" quotes it (from memory)."""

import io
import random
import unittest
from typing import Any

from PIL import Image

from draws import seeds, thrown
from nestline.acts.acting import Acting
from nestline.document import edits
from nestline.errors import NestLineError
from nestline.findings.strain import STEPS, TONGUES, Strain, growth, holds, strained, tries_under
from nestline.findings.strain_sheet import strain_sheet
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
    return edits.apply(raw, strained(studio().read(raw), Strain(by, language))).document


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
        draws = thrown(2)
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
        held = document([frame()], {"runs": [{"field": "page"}, *runs, {"field": "page", "weight": 700}]})
        made = under(held, 0, "de")["copies"]["story"]["versions"]["en"]["paragraphs"][0]["runs"]
        self.assertEqual([run.get("field") for run in made], ["page", None, "page"])
        (german, _) = texts(under(raw, 0, "de"))
        self.assertNotIn("string", german)
        self.assertEqual(strained(studio().read(raw), Strain()), [])

    def test_how_far_a_frame_holds_is_what_a_scan_of_strains_says(self) -> None:
        for seed in seeds(6):
            draws = random.Random(seed)
            words = " ".join(draws.choices(["kite", "afternoon", "the", "wind"], k=draws.randint(5, 40)))
            raw = document([frame(width=draws.randint(80, 200), height=draws.randint(40, 160))], paragraph(words))
            (found,) = holds(studio(), studio().read(raw))

            def fits(by: float, raw: dict[str, Any] = raw) -> bool:
                (placed,) = studio().nest(studio().read(under(raw, by)))
                return placed.nest.leftover_words == 0

            broken = next((by for by in STEPS if not fits(by)), None)
            if broken is None or found.up_to is None:
                self.assertEqual((found.up_to, broken), (None, None))
            elif broken == 0:
                self.assertEqual(found.up_to, -1)
            else:
                # It holds there, and one per cent more is too much.
                self.assertTrue(STEPS[STEPS.index(broken) - 1] <= found.up_to < broken)
                self.assertTrue(fits(found.up_to))
                self.assertFalse(fits(found.up_to + 1))


class OtherStrains(unittest.TestCase):
    def under(self, raw: dict[str, Any], strain: Strain) -> Any:
        return studio().read(edits.apply(raw, strained(studio().read(raw), strain)).document)

    def test_tries_under_strain_are_the_same_tries_of_longer_copy(self) -> None:
        draws = thrown(7)
        for kind in ("align", "break", "letters", "room"):
            for by in (0, 15, 60):
                words = " ".join(draws.choices(["kite", "afternoon", "the", "patience"], k=draws.randint(20, 60)))
                looks = {"size": draws.choice((9, 12)), "align": draws.choice(("start", "center"))}
                raw = document([frame(height=400)], paragraph(words, **looks), paragraph("Tea at the tower."))
                at = Acting(studio(), studio().read(raw))
                longer = under(raw, by)
                for one in tries_under(at, "f", kind, None, by):  # type: ignore[arg-type]
                    taken, shown = (edits.apply(raw, one[part]).document for part in ("operations", "shown"))
                    self.assertEqual(texts(taken), texts(raw))
                    self.assertEqual(texts(shown), texts(longer), (kind, by, one["across"]))
                    both = [studio().nest(studio().read(made))[0] for made in (taken, shown)]
                    rules = [[p.rules for p in placed.nest.copy.paragraphs] for placed in both]
                    self.assertEqual(rules[0], rules[1], "all but the words is the same")
                    self.assertEqual(both[0].thing.frame, both[1].thing.frame)

    def test_larger_type_is_larger_wherever_its_size_is_said(self) -> None:
        draws = thrown(4)
        for _ in range(20):
            by = draws.choice([10, 20, 55])
            rules = [{}, {"size": 14}, {"size": "18pt", "leading": "21pt"}, {"style": "Small"}, {"style": "Airy"}]
            paragraphs = [paragraph("Bring string", **draws.choice(rules)) for _ in range(5)]
            paragraphs[0]["runs"].append({"text": " now", "size": 20})
            styles = {"Small": {"size": 8, "leading": "1.5em"}, "Airy": {"leading": 30}}
            raw = document([frame(height=900)], *paragraphs, styles=styles)
            (before,), (after,) = studio().nest(studio().read(raw)), studio().nest(self.under(raw, Strain(type=by)))
            for a, b in zip(before.nest.copy.paragraphs, after.nest.copy.paragraphs, strict=True):
                self.assertAlmostEqual(b.rules.size, a.rules.size * (1 + by / 100), 2)
                self.assertAlmostEqual(b.rules.leading, a.rules.leading * (1 + by / 100), 2)
            sizes = [[s.look.size for p in n.nest.copy.paragraphs for s in p.stretches] for n in (before, after)]
            for a_size, b_size in zip(*sizes, strict=True):
                self.assertAlmostEqual(b_size, a_size * (1 + by / 100), 2)

    def test_another_sheet_has_its_size_and_pictures_that_are_missing_push_nothing(self) -> None:
        picture = {
            "id": "p",
            "x": 100,
            "y": 100,
            "width": 150,
            "height": 280,
            "picture": {"file": "kite.png"},
            "wrap": {"by": "box"},
        }
        raw = document([frame(width=300, height=280), picture], paragraph("Bring string and friends. " * 40))
        on = self.under(raw, Strain(sheet=("148mm", "210mm")))
        self.assertAlmostEqual(on.pages[0].sheet.size[0], 148 / 25.4 * 72, 6)
        without = self.under(raw, Strain(pictures=False))
        self.assertEqual([t.hidden for t in without.pages[0].objects], [False, True])

    def test_words_of_every_tongue_are_in_its_own_letters(self) -> None:
        raw = document([frame()], paragraph("Bring string, bring friends"))
        for tongue, letters in (("ar", "ا"), ("el", "α"), ("de", "e"), ("fi", "i")):
            made = self.under(raw, Strain(30, tongue))
            (placed,) = studio().nest(made)
            self.assertIn(letters, placed.nest.copy.text)
            self.assertEqual(sum(len(p.missing) for p in placed.nest.copy.paragraphs), 0)
        self.assertTrue(set(TONGUES) >= {"ar", "de", "el", "fi"})

    def test_the_page_of_pictures_has_a_column_a_strain_and_a_row_a_page(self) -> None:
        raw = document([frame()], paragraph("Bring string, bring friends"))
        raw["pages"].append({"width": 300, "height": 400, "objects": []})
        made = strain_sheet(studio(), studio().read(raw), [Strain(0), Strain(30), Strain(60)])
        image = Image.open(io.BytesIO(made)).convert("L")
        self.assertGreater(image.width, 3 * 620)
        self.assertGreater(image.height, 620 + 620 * 4 // 9)
        raw["pages"] += [dict(raw["pages"][1]) for _ in range(7)]
        with self.assertRaisesRegex(NestLineError, "9 pages"):
            strain_sheet(studio(), studio().read(raw), [Strain(0)])
