"""Rules of copy from both sides: what drops, what a line is wide, where tabs lead, what is read from files,
dummy copy."""

import io
import random
import unittest
from dataclasses import replace
from itertools import islice, product
from typing import Any

import docx
import numpy as np
import odfdo

from draws import fair, seeds
from nestline import rows as k
from nestline.copy.drop_caps import drop_letters
from nestline.copy.dummy import PARTS, PROSE, _sentences, cut_to, dummy_paragraphs
from nestline.copy.imports import read_text
from nestline.copy.line_ends import hyphen_of
from nestline.copy.page_numbers import numbers_in
from nestline.copy.paragraph import shape_paragraph
from nestline.copy.rebreaking import broken_to_fit, scaled
from nestline.copy.shaped_copy import join_paragraphs
from nestline.copy.shaped_paragraph import ShapedParagraph, words_of
from nestline.copy.spelling import Speller
from nestline.copy.styles import paragraph_rules, run_look
from nestline.document.model import Paragraph, Run
from nestline.fonts.library import shipped_fonts
from nestline.fonts.shaping import shape
from support import document, frame, nest_of, paragraph, studio

FONTS = shipped_fonts()
WORDS = (
    "AVATAR Ty. “Wave,” office fjord (Yes) To Víly, Äpfel ’tis AWAY; P.T.A. fluffy –dash– yawl Vy. Tea, r. f) T’was"
).split()


def shaped(text: str, **rules: Any) -> ShapedParagraph:
    return shape_paragraph(Paragraph.model_validate({"runs": [{"text": text}], **rules}), None, "en", FONTS, {})


class LineEnds(unittest.TestCase):
    def test_a_line_is_as_wide_as_its_text_shaped_alone(self) -> None:
        """From any piece to any other, with the spaces that hang past its end, and the hyphen that a break sets."""
        compared = hyphens = kerned = 0
        for seed in seeds(60):
            dice = random.Random(seed)
            font, tracking = dice.choice(["EB Garamond", "Lato", "Vollkorn", "Source Sans 3"]), dice.choice([0, 0.3])
            text = " ".join(dice.choices([*WORDS, "internationalization", "Wavering"], k=12))
            p = shaped(text, font=font, tracking=tracking, hyphenate=True, hang_punctuation=False)
            (stretch,) = p.stretches
            rows = p.rows
            for _ in range(12):
                first = dice.randrange(len(rows))
                last = dice.randrange(first, min(first + 9, len(rows)))
                wide = rows[last, k.X1] - rows[first, k.X0] + rows[first, k.CHANGE0] + rows[last, k.CHANGE1]
                start, content = int(p.piece_start[first]), int(p.piece_content_end[last])
                end = int(p.piece_end[last])
                hyphen = rows[last, k.HYPHEN] == k.SET_HYPHEN
                line = p.text[start:end] + (hyphen_of(stretch.face) if hyphen else "")
                seen = len(line) if hyphen else content - start
                glyphs = shape(stretch.face, line, 0, len(line), "en", stretch.script, tracking != 0).before(seen)
                letters = len(set(glyphs.clusters.tolist()))
                alone = glyphs.width * stretch.scale + letters * tracking
                self.assertAlmostEqual(wide, alone, delta=1e-6, msg=(seed, line))
                compared += 1
                hyphens += hyphen
                kerned += abs(rows[first, k.CHANGE0]) + abs(rows[last, k.CHANGE1]) > 1e-9
        self.assertGreaterEqual(compared, fair(600))
        self.assertGreaterEqual(hyphens, fair(60))
        self.assertGreaterEqual(kerned, fair(60))

    def test_a_line_of_several_looks_is_as_wide_as_each_part_of_it_shaped_alone(self) -> None:
        compared = parted = 0
        for seed in seeds(40):
            dice = random.Random(f"looks {seed}")
            words = dice.choices([*WORDS, "internationalization", "Wavering"], k=14)
            runs = []
            while words:
                count = dice.randint(1, 3)
                text = " ".join(words[:count])
                words = words[count:]
                # The space stands before a change of look, or behind it, or there is none.
                space = dice.choice((" ", "", " ")) if words else ""
                before = dice.random() < 0.5
                runs += [
                    {
                        "text": text + (space if before else ""),
                        "size": dice.choice([9, 14]),
                        "slope": dice.choice(["normal", "italic"]),
                    }
                ]
                if words and space and not before:
                    words[0] = space + words[0]
            p = shape_paragraph(
                Paragraph.model_validate({"runs": runs, "hyphenate": True, "hang_punctuation": False}),
                None,
                "en",
                FONTS,
                {},
            )
            rows = p.rows
            for _ in range(14):
                first = dice.randrange(len(rows))
                last = dice.randrange(first, min(first + 9, len(rows)))
                wide = rows[last, k.X1] - rows[first, k.X0] + rows[first, k.CHANGE0] + rows[last, k.CHANGE1]
                start, content, end = int(p.piece_start[first]), int(p.piece_content_end[last]), int(p.piece_end[last])
                alone = 0.0
                inside = [s for s in p.stretches if s.start < end and s.end > start]
                for stretch in inside:
                    begin, stop = max(start, stretch.start), min(end, stretch.end)
                    part, seen = p.text[begin:stop], max(min(stop, content) - begin, 0)
                    if rows[last, k.HYPHEN] == k.SET_HYPHEN and stop == end:
                        part, seen = part + hyphen_of(stretch.face), seen + 1
                    glyphs = shape(stretch.face, part, 0, len(part), "en", stretch.script).before(seen)
                    alone += glyphs.width * stretch.scale
                self.assertAlmostEqual(wide, alone, delta=1e-6, msg=(seed, p.text[start:end]))
                compared += 1
                parted += len(inside) > 1
        self.assertGreaterEqual(compared, fair(400))
        self.assertGreaterEqual(parted, fair(200))

    def test_letters_run_backwards_at_every_odd_level(self) -> None:
        # UAX #9: Latin in Hebrew is of level 2, Hebrew in that of level 3.
        p = shaped(
            "\u05e9\u05dc\u05d5\u05dd \u2066kite \u2067\u05e8\u05d5\u05d7 \u05d8\u05d5\u05d1\u05d4\u2069 day\u2069",
            direction="rtl",
        )
        levels = {s.level for s in p.stretches}
        self.assertLessEqual({1, 2, 3}, levels)
        for stretch in p.stretches:
            clusters = stretch.glyphs.clusters
            if len(clusters) > 2:
                self.assertEqual(bool(clusters[0] > clusters[-1]), stretch.level % 2 == 1, stretch.level)

    def test_letters_set_apart_are_not_joined_whoever_sets_them_apart(self) -> None:
        for of_paragraph, of_run, joined in (
            (0, None, True),
            (0, 0, True),
            (0, 1.5, False),
            (0, -0.2, False),
            (1, None, False),
            (1, 0, False),
        ):
            base = Paragraph.model_validate(
                {
                    "runs": [{"text": "office", **({} if of_run is None else {"tracking": of_run})}],
                    "tracking": of_paragraph,
                }
            )
            look = run_look(base.runs[0], paragraph_rules(base, None, "en").look)
            self.assertEqual(look.joined, joined, (of_paragraph, of_run))

    def test_marks_hang_by_their_share(self) -> None:
        # Shares of our own (common practice: most of a point, some of a dash).
        for mark, share in (
            (".", 0.8),
            (",", 0.8),
            ("-", 0.6),
            ("”", 0.6),
            (":", 0.5),
            ("–", 0.3),
            ("…", 0.3),
            ("!", 0.2),
        ):
            plain, hung = (shaped(f"kites fly{mark}", hang_punctuation=hang) for hang in (False, True))
            width = plain.x[-1] - plain.x[-2]
            self.assertAlmostEqual(plain.end_change[-1] - hung.end_change[-1], share * width, places=9, msg=mark)

    def test_an_empty_line_hangs_nowhere(self) -> None:
        p = shaped("Tea.\u2028\u2028Tea.\u2028", hang_punctuation=True)
        empty = p.piece_content_end == p.piece_start
        self.assertTrue(empty.any())
        plain = shaped("Tea.\u2028\u2028Tea.\u2028", hang_punctuation=False)
        np.testing.assert_array_equal(p.end_change[empty], plain.end_change[empty])
        self.assertTrue((p.end_change[~empty] < plain.end_change[~empty]).any())

    def test_a_hyphen_is_of_the_letters_before_it(self) -> None:
        """Where a word changes its look just where it is broken."""
        text, seen = "extraordinary", 0
        for at in range(3, 10):
            p = shape_paragraph(
                Paragraph.model_validate(
                    {
                        "runs": [{"text": text[:at], "size": 24}, {"text": text[at:], "size": 9}],
                        "hyphenate": {"after": 2},
                    }
                ),
                None,
                "en",
                FONTS,
                {},
            )
            for end, change in zip(p.piece_end.tolist(), p.end_change.tolist(), strict=True):
                if end < len(text) and p.text[end - 1] != " ":
                    stretch = p.stretch_at(end - 1)
                    hyphen = shape(stretch.face, hyphen_of(stretch.face), 0, 1, "en").width
                    self.assertAlmostEqual(change, hyphen * stretch.scale, delta=0.02 * stretch.look.size)
                    seen += end == at
        self.assertGreater(seen, 0)


class Runs(unittest.TestCase):
    def test_a_run_says_its_own_and_inherits_the_rest(self) -> None:
        red, blue = ({"color": c, "width": w} for c, w in (("#ff0000", 1), ("#0000ff", 2)))
        said: dict[str, tuple[Any, Any]] = {
            "font": ("Lato", "Vollkorn"),
            "weight": (700, 400),
            "slope": ("italic", "normal"),
            "size": (20, 30),
            "color": ("#123456", "#654321"),
            "underline": (True, False),
            "letter_stroke": (red, blue),
            "features": ({"smcp": 1}, {"smcp": 0}),
            "font_width": (80, 90),
        }
        held = {"letter_stroke": "stroke", "font_width": "width"}
        for name, (of_paragraph, of_run) in said.items():
            looks = []
            for paragraph_says in ({}, {name: of_paragraph}):
                rules = paragraph_rules(Paragraph.model_validate({"runs": [], **paragraph_says}), None, "en")
                for run_says in ({}, {name: of_run}):
                    look = run_look(Run.model_validate({"text": "a", **run_says}), rules.look)
                    looks.append(getattr(look, held.get(name, name)))
                self.assertEqual(looks[-2], getattr(rules.look, held.get(name, name)), name)
            self.assertEqual(looks[1], looks[3], name)
            self.assertEqual(
                len({str(one) for one in (looks[0], looks[2], looks[3])}),
                2 if str(looks[0]) == str(looks[3]) else 3,
                name,
            )
            self.assertNotEqual(looks[2], looks[3], name)


class PageNumbers(unittest.TestCase):
    def test_each_names_its_page(self) -> None:
        """A chain over five pages, its third frame hidden, and a frame beside it on the second."""
        raw = document([], paragraph("Bring string"))
        (page,) = raw["pages"]
        frames = [
            frame(id=f"c{n}", x=10, y=10, width=60, height=60) | ({"hidden": True} if n == 2 else {}) for n in range(5)
        ]
        raw["pages"] = [{**page, "objects": [one]} for one in frames]
        raw["copies"]["own"] = {"versions": {"en": {"paragraphs": [{"runs": [{"text": "x"}]}]}}}
        raw["pages"][1]["objects"].append(frame(id="own", x=10, y=90, width=60, height=60, copy="own"))
        raw["chains"] = [[f"c{n}" for n in range(5)]]
        read = studio().read(raw)
        asked = {"c0": "1 2 ?", "c1": "2 4 1", "c2": "3 4 2", "c3": "4 5 2", "c4": "5 ? 4", "own": "2 ? ?"}
        fields = [Run.model_validate({"text": "", "field": name}) for name in ("page", "next-page", "previous-page")]
        for one, wanted in asked.items():
            self.assertEqual(" ".join(numbers_in(read, one, fields)), wanted, one)
            of = [field.model_copy(update={"of": one}) for field in fields]
            self.assertEqual(" ".join(numbers_in(read, "own", of)), wanted, one)


class DropCaps(unittest.TestCase):
    def test_what_drops(self) -> None:
        for text, letters, wanted in (
            ("Kites fly", 1, (1, 1)),
            ("“Kites” fly", 1, (2, 2)),
            ("Kites fly", 5, (5, 6)),
            ("A kite flies", 1, (1, 2)),
            ("Kites", 5, (0, 0)),
            ("K", 1, (0, 0)),
            (" Kites", 1, (0, 0)),
            ("", 1, (0, 0)),
            ("e\u0301tude in F", 1, (2, 2)),
            ("A\u2028kite", 1, (1, 1)),
        ):
            rules = paragraph_rules(
                Paragraph.model_validate({"runs": [], "drop_cap": {"lines": 2, "letters": letters}}), None, "en"
            )
            self.assertEqual(drop_letters(text, rules), wanted, text)
        self.assertEqual(drop_letters("Kites fly", replace(rules, drop_cap=None)), (0, 0))

    def test_it_takes_its_ink_and_its_gap_and_is_not_tracked(self) -> None:
        """The ink by fontTools' own bounds of the letters."""
        for font, letters, tracking, gap in product(("EB Garamond", "Lato"), ("A", "W", "Of", "“J"), (0, 3), (0, 4)):
            p = shaped(
                f"{letters}x kites",
                font=font,
                tracking=tracking,
                drop_cap={"lines": 3, "letters": len(letters.strip("“")), "gap": gap},
            )
            (stretch,) = [one for one in p.stretches if one.role == "drop"]
            ends, pen = [], 0.0
            for glyph, advance in zip(stretch.glyphs.ids.tolist(), stretch.glyphs.advances.tolist(), strict=True):
                points = [x for _, pts in contours(stretch.face, glyph) for x, _ in pts]
                ends += [pen + min(points), pen + max(points)]
                pen += advance
            self.assertAlmostEqual(
                p.drop_width, (max(ends) - min(ends)) * stretch.scale + gap, delta=0.01 * stretch.look.size
            )
            self.assertEqual(stretch.look.tracking, 0)


class Tabs(unittest.TestCase):
    def test_where_tabs_lead(self) -> None:
        def after(text: str, **rules: Any) -> float:
            """Where what follows the last tab begins, in the line of its paragraph."""
            p = shaped(text, size=10, **rules)
            begin = max(text.rfind("\u2028"), -1) + 1
            indent = rules.get("indent", 0) + (rules.get("first_indent", 0) if begin == 0 else 0)
            return float(p.x[text.rfind("\t") + 1] - p.x[begin]) + indent

        plain = shaped("kite", size=10).x
        wide = float(plain[-1])
        figure = float(shaped("12", size=10).x[-1])
        tabs = {
            "tabs": [
                {"at": 60},
                {"at": 120, "align": "end"},
                {"at": 180, "align": "center"},
                {"at": 240, "align": "figure"},
            ]
        }
        self.assertAlmostEqual(after("a\tkite", **tabs), 60)
        self.assertAlmostEqual(after("a\tb\tkite", **tabs) + wide, 120)
        self.assertAlmostEqual(after("a\tb\tc\tkite", **tabs) + wide / 2, 180)
        self.assertAlmostEqual(after("a\tb\tc\td\t12,5", **tabs) + figure, 240)
        # What is too wide to end at a tab goes to the next.
        narrow = {"tabs": [{"at": 30, "align": "end"}, {"at": 200, "align": "end"}]}
        self.assertAlmostEqual(
            after("a\tkites fly high", **narrow) + float(shaped("kites fly high", size=10).x[-1]), 200
        )
        self.assertAlmostEqual(after("a\tkite"), 30)
        self.assertAlmostEqual(after("kites fly high\tkite"), 60)
        # Counted from the line's own start; the first line's indent counts in the first line alone.
        self.assertAlmostEqual(after("a\tkite", first_indent=35), 60)
        self.assertAlmostEqual(after("a\u2028a\tkite", first_indent=35), 30)
        self.assertAlmostEqual(after("a\tkite", indent=12, first_indent=35, **tabs), 60)
        self.assertAlmostEqual(after("a\u2028b\tkite", indent=12, **tabs), 60)
        # What ends before its place keeps a quarter of an em.
        near = {"tabs": [{"at": 50, "align": "end"}]}
        lefts = [after("m" * n + "\tkite", **near) - float(shaped("m" * n, size=10).x[-1]) for n in range(1, 5)]
        self.assertTrue(all(left >= 2.5 - 1e-9 or left == 0 for left in lefts), lefts)


class Rebreaking(unittest.TestCase):
    def test_pieces_wider_than_what_there_is_are_broken_and_no_others(self) -> None:
        broken = whole = 0
        for seed in seeds(40):
            dice = random.Random(seed)
            text = " ".join(dice.choices([*WORDS, "incomprehensibilities", "e\u0301tude\u0301s"], k=10))
            p = shaped(text)
            widest = dice.uniform(0.3, 1.1) * p.widest_piece
            made = broken_to_fit(p, widest)
            if widest >= p.widest_piece:
                self.assertIs(made, p)
                whole += 1
                continue
            starts = set(made.piece_start.tolist())
            self.assertTrue(set(p.piece_start.tolist()) <= starts)
            self.assertEqual(made.piece_start[1:].tolist(), made.piece_end[:-1].tolist())
            self.assertEqual((int(made.piece_start[0]), int(made.piece_end[-1])), (0, len(text)))
            for number, (start, end) in enumerate(zip(p.piece_start, p.piece_end, strict=True)):
                inner = [s for s in starts if start < s < end]
                self.assertEqual(bool(inner), bool(p.piece_widths[number] > widest))
                broken += bool(inner)
                self.assertTrue(all(text[s] != "\u0301" for s in inner))
            ink = made.x[made.piece_content_end] - made.x[made.piece_start]
            several = [
                len(text[a:b].replace("\u0301", "")) > 1 for a, b in zip(made.piece_start, made.piece_content_end)
            ]
            self.assertTrue((ink[np.array(several)] <= widest + 1e-6).all())
            # Each takes as many letters as it can.
            ends = set(p.piece_end.tolist())
            for start, end in zip(made.piece_start.tolist(), made.piece_end.tolist(), strict=True):
                after = end + 1 + (text[end + 1 : end + 2] == "\u0301")
                if end not in ends:
                    self.assertGreater(made.x[after] - made.x[start], widest - 2e-6, (seed, text[start:after]))
        self.assertIs(broken_to_fit(p, p.widest_piece), p)
        self.assertGreaterEqual(broken, fair(30))
        self.assertGreaterEqual(whole, fair(2))

    def test_pieces_are_words_of_their_own_but_behind_a_hyphen_that_is_set(self) -> None:
        p = shaped("Box-kites fly internationally", hyphenate=True)
        words, _ = words_of(p)
        self.assertEqual([p.text[a:b] for a, b, *_ in words.tolist()], ["Box-", "kites", "fly", "internationally"])
        self.assertGreater(len(p.piece_start), 4)

    def test_scaled_it_is_the_same_paragraph_in_other_lengths(self) -> None:
        lengths = {
            "size": 11,
            "leading": 14,
            "space_before": 3,
            "space_after": 5,
            "indent": 7,
            "first_indent": 2,
            "tracking": 0.2,
        }
        for factor in (0.37, 1, 2.5):
            for more in (
                {},
                {"list": "numbers"},
                {"drop_cap": {"lines": 2, "gap": "0.2em"}},
                {"stretch": {"letters": 0.05, "letter_space": 0.02}},
                {"keep": {"start": 2}},
            ):
                said = {"align": "justify", "hyphenate": True, "hang_punctuation": factor > 1, **more}
                found = scaled(shaped("Bring string, bring friends", **lengths, **said), factor)
                wanted = shaped(
                    "Bring string, bring friends", **{name: v * factor for name, v in lengths.items()}, **said
                )
                np.testing.assert_allclose(found.rows, wanted.rows, atol=1e-3 * factor, err_msg=str(more))
                np.testing.assert_allclose(found.rule_row, wanted.rule_row, atol=1e-3 * factor, err_msg=str(more))


class Ink(unittest.TestCase):
    def test_ink_is_what_the_letters_reach(self) -> None:
        for text in ("xay", "Ápq", "e\u0323\u0301", "ooo", "Q"):
            p = shaped(text, size=20)
            copy = join_paragraphs([shaped("before"), p])
            at = int(copy.offset[1])
            (stretch,) = p.stretches
            up, down = [], []
            for glyph, lift in zip(stretch.glyphs.ids.tolist(), stretch.glyphs.y_offsets.tolist(), strict=True):
                points = np.concatenate(
                    [np.array([xy for _, pts in c for xy in pts]) for c in [contours(stretch.face, glyph)]]
                )
                up.append((points[:, 1].max() + lift) * stretch.scale)
                down.append(-(points[:, 1].min() + lift) * stretch.scale)
            found = copy.ink(at, at + len(text))
            np.testing.assert_allclose(found, (max(up), max(down)), atol=0.35, err_msg=text)
        self.assertEqual(copy.ink(at + 1, at + 1), (0.0, 0.0))


def contours(face: Any, glyph: int) -> list[Any]:
    """A glyph as fontTools records it: its outline's points, control points apart where there are extremes."""
    from fontTools.pens.recordingPen import DecomposingRecordingPen

    font = face.open()
    names = font.getGlyphSet()
    pen = DecomposingRecordingPen(names)
    names[font.getGlyphName(glyph)].draw(pen)
    return [(op, [p for p in pts if p is not None]) for op, pts in pen.value if pts]


class Files(unittest.TestCase):
    def test_old_encodings_are_read(self) -> None:
        for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
            found = read_text("t.txt", "Größe – „Drachen“".encode(encoding))
            self.assertEqual(found.paragraphs[0]["runs"][0]["text"], "Größe – „Drachen“", encoding)

    def test_markdown_breaks_lines_where_it_says_so(self) -> None:
        found = read_text("t.md", b"One **bold** and *slanted* line  \nbroken\nand run on.\n\n**a****b** c")
        runs = found.paragraphs[0]["runs"]
        self.assertEqual("".join(r["text"] for r in runs), "One bold and slanted line\u2028broken and run on.")
        self.assertEqual([r["text"] for r in runs if r.get("weight") == 700], ["bold"])
        self.assertEqual([r["text"] for r in runs if r.get("slope") == "italic"], ["slanted"])
        looks = [{key: v for key, v in r.items() if key != "text"} for r in runs]
        self.assertTrue(all(a != b for a, b in zip(looks, looks[1:])), "runs of one look are one")


class Dummy(unittest.TestCase):
    def test_it_is_prose_of_the_language_first_each_sentence_once(self) -> None:
        for language, prose in PROSE.items():
            first = dummy_paragraphs(language, 1)
            self.assertEqual(dummy_paragraphs(f"{language}-XY", 1), first)
            self.assertEqual(first, [f"{prose[0]} {prose[1]}"])
            many = dummy_paragraphs(language, 400)
            self.assertEqual(many[: len(prose) // 2], [f"{a} {b}" for a, b in zip(prose[::2], prose[1::2])])
            self.assertGreaterEqual(sum(len(t.split()) for t in many), 400)
            self.assertLess(sum(len(t.split()) for t in many[:-1]), 400)

    def test_cut_copy_has_so_many_words_and_ends_as_a_sentence(self) -> None:
        paragraphs = ["One two three. Four five, six.", "Seven eight."]
        self.assertEqual(cut_to(paragraphs, 8), paragraphs)
        self.assertEqual(cut_to(paragraphs, 6), paragraphs[:1])
        self.assertEqual(cut_to(paragraphs, 5), ["One two three. Four five."])
        self.assertEqual(cut_to(paragraphs, 3), ["One two three."])
        self.assertEqual(cut_to(paragraphs, 7), [paragraphs[0], "Seven."])
        self.assertEqual(cut_to(paragraphs, 0), [])


class Spelling(unittest.TestCase):
    def test_a_tag_is_looked_up_by_its_base_alone(self) -> None:
        speller = Speller(FONTS.faces["Lato-Regular"].path.parents[4] / "web" / "node_modules")
        languages = speller.languages()
        if not languages:
            self.skipTest("no dictionaries are installed")
        self.assertEqual(speller.unknown(["Drachen", "Drachn"], "de-DE"), ["Drachn"])
        self.assertEqual(speller.unknown(["kite", "kitte"], "en"), ["kitte"])
        self.assertIsNone(speller.unknown(["x"], "qq"))
        self.assertIsNone(speller.unknown(["x"], "a"))


class Slips(unittest.TestCase):
    """Rules that small slips in went unseen before."""

    def test_dummy_sentences_are_all_others_until_all_have_been_said(self) -> None:
        for language, (openings, clauses, endings) in PARTS.items():
            whole = len(openings) * len(clauses) * len(endings)
            made = list(islice(_sentences(language), whole + 3))
            self.assertEqual(len(set(made[:whole])), whole, language)
            self.assertEqual(made[whole:], made[:3])

    def test_the_last_line_stands_on_the_descenders_of_its_size(self) -> None:
        for size in (6, 20, 48):
            raw = document([frame(sit="bottom", stand="descender", height=200)], paragraph("Bring", size=size))
            nest = nest_of(raw).nest
            face = studio().fonts.face("EB Garamond")
            self.assertAlmostEqual(float(nest.records[-1, k.BASELINE]), 300 - face.metrics.descender * size, 2)

    def test_words_behind_what_is_set_otherwise_are_read(self) -> None:
        made = odfdo.Document("text")
        made.body.clear()
        words = odfdo.Paragraph("Bring ")
        for inner, tail in (("string", ", bring "), ("friends", ""), ("and", " a kite"), ("<text:s/>", "tail")):
            span = odfdo.Element.from_tag(f"<text:span>{inner}</text:span>")
            span.tail = tail
            words.append(span)
        made.body.append(words)
        out = io.BytesIO()
        made.save(out)
        (found,) = read_text("a.odt", out.getvalue()).paragraphs
        self.assertEqual("".join(run["text"] for run in found["runs"]), "Bring string, bring friendsand a kite tail")

    def test_tabs_and_line_breaks_of_a_word_file_are_read(self) -> None:
        made, out = docx.Document(), io.BytesIO()
        made.add_paragraph("10:00\tKites\nand string")
        made.save(out)
        (found,) = read_text("a.docx", out.getvalue()).paragraphs
        self.assertEqual("".join(run["text"] for run in found["runs"]), "10:00\tKites\u2028and string")

    def test_lines_of_a_plain_file_are_paragraphs(self) -> None:
        for text, wanted in (
            ("one\ntwo", ["one", "two"]),
            ("one\ntwo\n\nthree", ["one", "two", "", "three"]),
            ("one\n\ntwo", ["one", "", "two"]),
            ("one\ntwo\n\n", ["one", "two"]),
        ):
            found = ["".join(run["text"] for run in p["runs"]) for p in read_text("a.txt", text.encode()).paragraphs]
            self.assertEqual(found, wanted, text)

    def test_a_slot_must_hold_more_of_justified_words_than_of_others(self) -> None:
        for align, ems in (("justify", 8.4), ("start", 5.0), ("center", 5.0), ("end", 5.0)):
            row = shaped("Bring string and friends, and whatever you built", align=align, size=20).rule_row
            self.assertEqual((row[k.LEAST_ROOM], row[k.RAGGED_ROOM]), (20 * ems, 100), align)
        p = shaped("I", align="justify", size=20)
        self.assertEqual(p.rule_row[k.LEAST_ROOM], p.x[-1])

    def test_a_hyphen_of_the_copy_is_its_own_anywhere_in_it(self) -> None:
        p = shaped("kite " * 80 + "box-kite fly- ing")
        own = [
            p.text[start:end]
            for start, end in zip(p.piece_start, p.piece_end, strict=True)
            if end in p.piece_end[p.piece_hyphen == k.OWN_HYPHEN]
        ]
        self.assertEqual(own, ["box-"])

    def test_lists_of_a_word_file_are_of_their_kind(self) -> None:
        made, out = docx.Document(), io.BytesIO()
        for style in ("List Number", "List Bullet", "List Paragraph", "Normal"):
            line = made.add_paragraph("Bring string", style=style)
            if style != "Normal":
                line._p.get_or_add_pPr().get_or_add_numPr()
        made.add_paragraph("Bring friends", style="List Number")
        made.save(out)
        found = [(one.get("list") or {}).get("kind") for one in read_text("a.docx", out.getvalue()).paragraphs]
        self.assertEqual(found, ["numbers", "bullets", "bullets", None, "numbers"])

    def test_every_kind_of_underline_of_a_file_is_one(self) -> None:
        for kind, seen in (("dotted", True), ("solid", True), ("none", False)):
            made = odfdo.Document("text")
            style = odfdo.Style("text", name="u", area="text")
            style.set_properties({"style:text-underline-style": kind}, area="text")
            made.insert_style(style, automatic=True)
            made.body.clear()
            words = odfdo.Paragraph("Bring ")
            words.append(odfdo.Element.from_tag('<text:span text:style-name="u">string</text:span>'))
            made.body.append(words)
            out = io.BytesIO()
            made.save(out)
            (found,) = read_text("a.odt", out.getvalue()).paragraphs
            self.assertEqual(any(run.get("underline") for run in found["runs"]), seen, kind)
