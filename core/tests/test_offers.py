"""What is offered for a frame: endings that end, tries that are what they say, cures that cure."""

import unittest
from typing import Any

from nestline import rows as k
from nestline.acts import ActError, expanded
from nestline.acts.acting import Acting
from nestline.acts.offers import Allowed, Ending, cures, endings, tries
from nestline.document import edits
from support import STORY, document, frame, nest_of, paragraph, studio


def acting(raw: dict[str, Any]) -> Acting:
    return Acting(studio(), studio().read(raw))


def with_(raw: dict[str, Any], operations: list[dict[str, Any]]) -> Any:
    return nest_of(edits.apply(raw, operations).document).nest


def column(words: int, **rules: Any) -> dict[str, Any]:
    text = " ".join((STORY * 8).split()[:words])
    return document([frame(width=170, height=200, padding=8, **rules)], paragraph(text, size=10, leading=13))


class EndHere(unittest.TestCase):
    def found(self, raw: dict[str, Any], **allowed: float) -> list[Ending]:
        return endings(acting(raw), "f", Allowed(**allowed) if allowed else None)

    def test_each_answer_holds_all_words_and_hardly_more_would_not(self) -> None:
        for words in (88, 106):  # too few to fill the frame, and too many for it
            raw = column(words)
            found = self.found(raw)
            self.assertGreaterEqual(len(found), 1)
            self.assertLessEqual(len(found), 3)
            for one in found:
                with self.subTest(one.label, words=words):
                    nest = with_(raw, one.operations)
                    self.assertEqual(nest.leftover_words, 0)
                    # The last line stands within one more line of the frame's end.
                    last = float(nest.records[-1, k.BASELINE])
                    self.assertGreater(last + 1.6 * nest.copy.paragraphs[0].rules.leading, 100 + 200 - 8 * 1.5)

    def test_answers_keep_within_what_is_allowed(self) -> None:
        raw = column(106)
        for one in self.found(raw, size=0.06, leading=0, tracking=0, word_space=0, padding=0, outline=0):
            size = with_(raw, one.operations).copy.size
            self.assertGreaterEqual(size, 10 * 0.94 - 1e-6)
            self.assertLess(size, 10)
            self.assertIn("type", one.changes[0])

    def test_where_limits_are_too_narrow_it_says_so(self) -> None:
        with self.assertRaisesRegex(ActError, "left over"):
            self.found(column(200))
        with self.assertRaisesRegex(ActError, "never fills"):
            self.found(column(8))

    def test_frames_that_end_with_their_copy_anyway(self) -> None:
        for rules in ({"give": ["bottom"]}, {"fit_type": {"least": 5}}):
            with self.assertRaisesRegex(ActError, "anyway"):
                self.found(column(60, **rules))

    def test_the_nearest_to_what_is_comes_first(self) -> None:
        found = [round(e.distance, 1) for e in self.found(column(106))]
        self.assertEqual(found, sorted(found))


class Tries(unittest.TestCase):
    def test_every_try_is_what_it_says(self) -> None:
        raw = column(60)
        for kind, count in (("align", 9), ("break", 6), ("letters", 6), ("room", 9)):
            made = tries(acting(raw), "f", kind)  # type: ignore[arg-type]
            self.assertEqual(len(made), count)
            self.assertEqual(len({(t["across"], t["down"]) for t in made}), count)
        by = {(t["across"], t["down"]): with_(raw, t["operations"]) for t in tries(acting(raw), "f", "letters")}
        self.assertEqual(set(by["word spaces alone", "hyphenated"].factors), {1.0})
        for said, most in (("letters a little", 0.01), ("letters as far as unseen", 0.015)):
            nest = by[said, "hyphenated"]
            self.assertEqual(nest.copy.paragraphs[0].rules.fitted_width, most)
            self.assertTrue(0.003 < abs(nest.factors - 1).max() <= most, nest.factors)
        by = {(t["across"], t["down"]): with_(raw, t["operations"]) for t in tries(acting(raw), "f", "align")}
        self.assertEqual(by["justified", "110 %"].copy.paragraphs[0].rules.align, "justify")
        self.assertAlmostEqual(by["justified", "110 %"].copy.size, 11)
        # A size that crosses where display begins keeps its edges: nothing but the size is tried.
        large = column(60)
        large["copies"]["story"]["versions"]["en"]["paragraphs"] = [paragraph("Tea at the tower", size=19)]
        for one in tries(acting(large), "f", "align"):
            self.assertFalse(with_(large, one["operations"]).copy.paragraphs[0].rules.hang_punctuation, one)
        self.assertEqual(by["flush", "100 %"].records.tolist(), nest_of(raw).nest.records.tolist())

    def test_cures_cure(self) -> None:
        raw = column(150)
        for cure in cures("f"):
            cured = edits.apply(raw, expanded(studio(), raw, cure["operations"])).document
            nests = studio().nest(studio().read(cured))
            self.assertEqual(nests[-1].nest.leftover_words, 0, cure["label"])


if __name__ == "__main__":
    unittest.main()
