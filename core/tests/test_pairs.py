"""What belongs together stays together where another break costs less, and always inside figures."""

import random
import unittest

from draws import fair, seeds
from nestline import rows as k
from nestline.copy.compounds import joints
from nestline.copy.hyphenation import Hyphenation, hyphens
from nestline.copy.pairs import chosen_pairs, parted, reads_poorly, weak_ends
from nestline.copy.shaped_paragraph import ShapedParagraph
from support import STORY, document, frame, nest_of, paragraph

WORDS = (
    "kites fly high over the hill when wind comes from the west and string is long enough to hold them there at last"
).split()


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
            ("en", "Page |31, Part |II and chapters |4 of Henry |VIII at 7 |o’clock"),
            ("de", "Kapitel |4 auf Seite |31, Heinrich |VIII."),
            ("fr", "Chapitre |4, voie |2, Henri |IV"),
            ("en", "open 10–‖12 and 14 ‖– ‖16 |– or later"),
            ("de", "Am 3. |Mai um 10 |Uhr, z. ‖B. in Nr. |5 mit 12 |kg"),
            ("fr", "Le 3 |mai ‖: 10 |km ‖! « ‖Oui ‖» p. |5"),
        ):
            self.assertEqual(marked(said.replace("|", "").replace("‖", ""), language), said)

    def test_short_words_that_lead_on_are_left_at_a_line_end_less(self) -> None:
        for text, language, ends in (
            ("a kite of the town", "en", "a |kite of |the |town"),
            ("und der Wind in die Höhe", "de", "und |der |Wind in |die |Höhe"),
            ("le vent à la mer", "fr", "le |vent à |la |mer"),
            ("vitamin a\u00a0kite into", "en", "vitamin a\u00a0kite into"),
        ):
            marked_text = text
            for place in sorted(weak_ends(text, language), reverse=True):
                marked_text = marked_text[:place] + "|" + marked_text[place:]
            self.assertEqual(marked_text, ends)
        weak = dict.fromkeys(("optimal", "first-fit"), 0)
        for width in range(140, 400, 4):
            for breaking in weak:
                raw = document([frame(width=width, height=900)], paragraph(STORY * 2, breaking=breaking))
                nest = nest_of(raw).nest
                grades = nest.copy.pieces[nest.records[:-1, k.LAST].astype(int), k.GRADE]
                weak[breaking] += int((grades == k.WEAK).sum())
        self.assertLess(weak["optimal"], 0.7 * weak["first-fit"], weak)

    def test_no_line_begins_with_a_dash(self) -> None:
        begun = 0
        text = "kites fly—and how!—over the hill – as they do – when wind comes—from the west—and stays " * 3
        for width in range(150, 360, 3):
            nest = nest_of(document([frame(width=width, height=900)], paragraph(text))).nest
            begun += sum(nest.copy.text[int(start)] in "–—" for start, _ in nest.ranges)
        self.assertLessEqual(begun, 1)  # where the other ways are worse

    def test_what_only_looks_like_them_is_left_alone(self) -> None:
        for text in (
            "In 2024 kites flew",
            "He may come. May we?",
            "Then 3 kites came",
            "a well-known hill",
            "It ends. But not",
            "Then I went",
            "the pages flew",
            "Vitamin XL tablets",
            "May 1",
        ):
            self.assertEqual([p for p, g in parted(text, "en").items() if text != "May 1"], [], text)
        self.assertEqual(parted("Le jour ! dit-il", "en"), {})

    def test_a_hyphen_reads_poorly_by_two_letters_in_a_short_word_and_in_a_name(self) -> None:
        for marked_text, language, poor in (
            ("a re-gister", "en", True),
            ("a regis-ter", "en", False),
            ("was print-ed", "en", True),
            ("the kit-chens", "en", False),
            ("the kit-ten", "en", True),
            ("by Mar-garet there", "en", True),
            ("Kitch-ens have", "en", False),
            ("It ends. Kitch-ens have", "en", False),
            ("das Liegenschafts-amt", "de", False),
            ("das Liegen-schaftsamt", "de", True),
            ("die Nach-richten", "de", False),
            ("“Print-ing high", "en", False),
        ):
            place = marked_text.index("-")
            text = marked_text.replace("-", "")
            self.assertEqual(reads_poorly(text, place, language), poor, marked_text)

    def test_german_compounds_are_parted_at_their_joints(self) -> None:
        # From memory: where a reader of German would part them.
        for said in (
            "Liegenschafts-amt Aussichts-turm Gemeinde-wiese Küchen-tisch Spät-sommer "
            "Versicherungs-gesellschaft Sonnen-untergang "
            "Wörter-buch Regen-wetter Informations-abend Nachbarschafts-vereinigung Bürger-meister "
            "Kinder-garten Landschafts-bild"
        ).split():
            word = said.replace("-", "")
            self.assertEqual([said.index("-")], sorted(joints(word) & set(hyphens(word, "de", Hyphenation()))), said)
        for word in (
            "Nachbarschaft Landung Bildungen spielerisch verstehen Unterhaltung Entstehung Gewerbe Teilung Instinkt "
            "Freundschaft"
        ).split():
            self.assertEqual(joints(word) & set(hyphens(word, "de", Hyphenation())), set(), word)
        text = (
            "Das Liegenschaftsamt erlaubt der Nachbarschaftsvereinigung den Kindergarten am Aussichtsturm "
            "der Gemeindewiese. " * 4
        )
        share = {}
        for breaking in ("optimal", "first-fit"):
            ends: list[bool] = []
            for width in range(220, 400, 4):
                given = paragraph(text, align="justify", hyphenate=True, language="de", breaking=breaking)
                nest = nest_of(document([frame(width=width, height=3000)], given)).nest
                places = [int(nest.ranges[n][1]) for n in range(len(nest.records)) if nest.hyphens[n]]
                ends += [not reads_poorly(nest.copy.text, place, "de") for place in places]
            self.assertGreater(len(ends), 50)
            share[breaking] = sum(ends) / len(ends)
        self.assertGreater(share["optimal"], share["first-fit"] + 0.1)

    def test_a_column_ends_in_a_hyphen_far_less_than_other_lines(self) -> None:
        feet, others = [], []
        for seed in seeds(60):
            dice = random.Random(seed)
            box = {"width": dice.uniform(330, 520), "height": dice.uniform(90, 220), "columns": 3, "gutter": 12}
            raw = document([frame(**box)], paragraph(STORY * 6, align="justify", hyphenate=True, size=10))
            nest = nest_of(raw).nest
            for i in range(len(nest.records) - 1):
                if nest.records[i, k.PAST]:
                    break
                ends = nest.records[i + 1, k.COLUMN] != nest.records[i, k.COLUMN] or nest.records[i + 1, k.PAST] > 0
                (feet if ends else others).append(bool(nest.hyphens[i]))
        self.assertGreaterEqual(len(feet), fair(150))
        self.assertGreater(sum(others) / len(others), 0.06)
        self.assertLess(sum(feet) / len(feet), 0.5 * sum(others) / len(others))

    def test_words_that_the_designer_keeps_together(self) -> None:
        text = (
            "The Kite Day Parade comes by at noon, and the kite day parade of last year came late; no kite "
            "days before it. " * 2
        )
        parted_in = dict.fromkeys(((), ("Kite Day Parade",)), 0)
        for together in parted_in:
            for width in range(160, 420, 4):
                given = paragraph(text, together=list(together), breaking="optimal")
                nest = nest_of(document([frame(width=width, height=900)], given)).nest
                lines = [nest.copy.text[a:b].lower() for a, b in nest.ranges]
                whole = sum(line.count("kite day parade") for line in lines)
                parted_in[together] += 4 - whole
        free, kept = parted_in.values()
        self.assertGreater(free, 20)
        self.assertLessEqual(kept, 0.1 * free)
        self.assertEqual(sorted(chosen_pairs("a kite day or kite  day, kite days", ("kite day",))), [7, 20])

    def test_pairs_are_parted_far_less_than_by_chance_and_figures_never(self) -> None:
        pairs = ["47 km", "9.30 p.m.", "12 May", "St. Margaret", "p. 31", "10 000", "10 – 12"]
        torn = dict.fromkeys(("optimal", "first-fit"), 0)
        held = dict.fromkeys(("optimal", "first-fit"), 0)
        for number, seed in enumerate(range(40)):  # shares of few say nothing
            dice = random.Random(seed)
            words = [dice.choice(pairs) if dice.random() < 0.25 else dice.choice(WORDS) for _ in range(60)]
            for breaking in torn:
                rules = {"align": dice.choice(["justify", "start"]), "breaking": breaking, "hyphenate": True}
                nest = nest_of(
                    document([frame(width=150 + number * 3, height=900)], paragraph(" ".join(words), **rules))
                ).nest
                shaped = nest.copy.paragraphs[0]
                assert isinstance(shaped, ShapedParagraph)
                grades = nest.copy.pieces[nest.records[:-1, k.LAST].astype(int), k.GRADE]
                torn[breaking] += int((grades == k.KEPT).sum())
                held[breaking] += int((grades == k.HELD).sum())
        self.assertGreaterEqual(torn["first-fit"], fair(25))
        self.assertLessEqual(torn["optimal"], 0.2 * torn["first-fit"])
        self.assertGreaterEqual(held["first-fit"], fair(5))
        self.assertEqual(held["optimal"], 0)
