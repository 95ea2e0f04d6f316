"""Hyphenation: Liang's patterns within limits, and how a set hyphen is drawn, counted and read back."""

import unittest

from nestline.copy.hyphenation import Hyphenation, has_patterns, hyphen_places, hyphens
from support import document, frame, nest_of, paragraph, studio

TEN = {
    "en": "wonderful",
    "de": "Wetterbericht",
    "fr": "magnifique",
    "es": "maravilloso",
    "it": "meraviglioso",
    "pt": "maravilhoso",
    "nl": "schitterend",
    "sv": "underbar",
    "da": "vidunderlig",
    "fi": "taivaanranta",
    "pl": "wspaniały",
    "cs": "nádherný",
    "el": "υπέροχος",
    "ru": "прекрасный",
    "hu": "csodálatos",
}


def parts(word: str, language: str = "en-US", limits: Hyphenation = Hyphenation()) -> str:
    found = hyphens(word, language, limits)
    return "-".join(word[a:b] for a, b in zip((0, *found), (*found, len(word)), strict=True))


class Words(unittest.TestCase):
    def test_words_of_liangs_thesis(self) -> None:
        # Liang 1983, title page, and Knuth, The TeXbook, appendix H, from memory.
        for word in ("hy-phen-ation", "con-cate-na-tion", "su-per-cal-ifrag-ilis-tic"):
            self.assertEqual(parts(word.replace("-", "")), word)

    def test_the_exceptions_of_the_patterns_themselves(self) -> None:
        # Exceptions of hyphen.tex (Knuth, from memory): associate, project, present are not hyphenated by pattern
        # alone.
        self.assertEqual(parts("present", limits=Hyphenation(before=2, after=3)), "present")
        self.assertEqual(parts("project"), "project")

    def test_at_least_ten_languages(self) -> None:
        able = [
            language
            for language, word in TEN.items()
            if has_patterns(language) and hyphens(word, language, Hyphenation())
        ]
        self.assertGreaterEqual(len(able), 10, able)

    def test_letters_behind_an_apostrophe_count_as_letters_after_the_hyphen(self) -> None:
        # Common practice in French: no break at the apostrophe, but before the letter that is elided.
        for word, language in (
            ("jus-qu’au", "fr"),
            ("quel-qu’un", "fr"),
            ("lors-qu’il", "fr"),
            ("l’ins-ti-tu-teur", "fr"),
            ("au-jourd’hui", "fr"),
            ("quell’al-tro", "it"),
            ("some-body’s", "en"),
            ("couldn’t", "en"),
        ):
            plain = word.replace("-", "")
            found = hyphen_places(plain, language, Hyphenation())
            said = "-".join(plain[a:b] for a, b in zip((0, *found), (*found, len(plain)), strict=True))
            self.assertEqual(said, word)
        self.assertEqual(hyphen_places("jusqu’", "fr", Hyphenation()), [])
        self.assertEqual(hyphen_places("jusqu’au", "fr", Hyphenation(after=5)), [])

    def test_two_letters_may_end_a_word_where_a_language_does_so_unless_it_is_said(self) -> None:
        for language, word, said in (
            ("de", "zählte", "zähl-te"),
            ("de-AT", "Kette", "Ket-te"),
            ("it", "ficelle", "fi-cel-le"),
            ("en", "kitty", "kitty"),
        ):
            found = hyphens(word, language, Hyphenation())
            self.assertEqual("-".join(word[a:b] for a, b in zip((0, *found), (*found, len(word)), strict=True)), said)
            self.assertFalse(any(len(word) - p < 3 for p in hyphens(word, language, Hyphenation(after=3))))
        self.assertEqual(hyphens("zählte", "de", Hyphenation(after=2)), (4,))

    def test_limits_hold(self) -> None:
        for before, after in ((2, 2), (3, 3), (4, 4)):
            for word in ("concatenation", "typographical", "quarrelsome"):
                for place in hyphens(word, "en", Hyphenation(before=before, after=after)):
                    self.assertGreaterEqual(place, before)
                    self.assertLessEqual(place, len(word) - after)
        self.assertEqual(hyphens("kite", "en", Hyphenation(least=6)), ())

    def test_capitals_and_addresses_are_left_whole(self) -> None:
        self.assertEqual(hyphen_places("CONCATENATION", "en", Hyphenation()), [])
        self.assertNotEqual(hyphen_places("CONCATENATION", "en", Hyphenation(capitals=True)), [])
        self.assertEqual(hyphen_places("www.concatenation.example", "en", Hyphenation()), [])

    def test_a_soft_hyphen_counts_always_and_alone(self) -> None:
        text = "concat\u00adenation"
        self.assertEqual(hyphen_places(text, "en", None), [7])
        self.assertEqual(hyphen_places(text, "en", Hyphenation()), [7])


class Lines(unittest.TestCase):
    def test_a_set_hyphen_is_part_of_its_line(self) -> None:
        raw = document(
            [frame(width=120)], paragraph("typographical concatenation", size=14, hyphenate=True, align="justify")
        )
        nest = nest_of(raw).nest
        self.assertTrue(nest.hyphens.any())
        for number in range(len(nest.records)):
            self.assertLessEqual(nest.right[number], nest.records[number, 7] + 1e-6)

    def test_never_more_hyphens_in_a_row_than_allowed(self) -> None:
        text = "typographical concatenation supercalifragilistic wonderfully unhyphenated considerations " * 4
        for breaking in ("optimal", "first-fit"):
            for ladder in (1, 2, 3):
                limits = {"ladder": ladder}
                raw = document([frame(width=110, height=2000)], paragraph(text, hyphenate=limits, breaking=breaking))
                run = longest = 0
                for set_here in nest_of(raw).nest.hyphens:
                    run = run + 1 if set_here else 0
                    longest = max(longest, run)
                self.assertLessEqual(longest, ladder)
                self.assertGreater(longest, 0)

    def test_letters_set_apart_make_the_line_wider_by_their_number(self) -> None:
        a, b = (nest_of(document([frame()], paragraph("kites", size=20, tracking=t))).nest for t in (0, "0.1em"))
        self.assertAlmostEqual(b.width[0] - a.width[0], 5 * 2.0, places=6)

    def test_letters_set_apart_are_not_joined(self) -> None:
        shaper = studio().nester.shaper
        for tracking, joined in ((0, True), (1, False)):
            doc = studio().read(document([frame()], paragraph("fficio", tracking=tracking)))
            copy = doc.copies["story"]["en"].paragraphs
            glyphs = shaper.copy(copy, {}, "en").paragraphs[0].stretches[0].glyphs
            self.assertEqual(len(glyphs.ids) < 6, joined)
