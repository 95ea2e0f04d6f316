"""Copy brought in from files, made up, searched, and turned into outlines."""

import base64
import io
import unittest
import zipfile
from functools import cache
from typing import Any

import docx
from docx.enum.text import WD_ALIGN_PARAGRAPH
from docx.shared import Pt, RGBColor
from odfdo import Document, Element, Header, List, ListItem, Paragraph, Style

from nestline import rows as k
from nestline.acts import ActError
from nestline.copy.dummy import PROSE, cut_to, dummy_paragraphs
from nestline.copy.imported import TextError
from nestline.copy.imports import read_text
from nestline.outlines.path import from_svg
from nestline.outlines.polygons import area_of
from support import document, frame, nest_of, paragraph
from test_acts import done, outline, things


def text_of(found: Any) -> list[str]:
    return ["".join(r["text"] for r in p["runs"]) for p in found.paragraphs]


def a_docx() -> bytes:
    file = docx.Document()
    file.add_heading("Kite day", 1)
    p = file.add_paragraph("Bring ")
    p.add_run("string").bold = True
    p.add_run(" and ")
    p.add_run("friends").italic = True
    p.add_run(".").underline = True
    file.add_paragraph("first", style="List Bullet")
    file.add_paragraph("second", style="List Number")
    out = io.BytesIO()
    file.save(out)
    return out.getvalue()


def an_odt() -> bytes:
    file = Document("text")
    file.insert_style(Style("text", name="strong", area="text", bold=True), automatic=True)
    body = file.body
    body.clear()
    body.append(Header(1, "Kite day"))
    p = Paragraph("Bring ")
    p.append(Element.from_tag('<text:span text:style-name="strong">string</text:span>'))
    body.append(p)
    body.append(List([ListItem("first")]))
    out = io.BytesIO()
    file.save(out)
    return out.getvalue()


class Files(unittest.TestCase):
    def test_plain_text_in_any_usual_encoding(self) -> None:
        for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
            self.assertEqual(
                text_of(read_text("a.txt", "Drachen für Ötzi\r\nzwei".encode(encoding))), ["Drachen für Ötzi", "zwei"]
            )

    def test_markdown(self) -> None:
        found = read_text(
            "a.md", b"# Kite day\n\nBring **string** and *friends*  \nnow.\n\n- first\n- second\n\n1. one\n"
        )
        self.assertEqual(text_of(found), ["Kite day", "Bring string and friends\u2028now.", "first", "second", "one"])
        self.assertEqual(found.paragraphs[0]["style"], "Heading 1")
        self.assertEqual(found.paragraphs[1]["runs"][1], {"text": "string", "weight": 700})
        self.assertEqual(found.paragraphs[1]["runs"][3], {"text": "friends", "slope": "italic"})
        self.assertEqual(
            [p.get("list", {}).get("kind") for p in found.paragraphs], [None, None, "bullets", "bullets", "numbers"]
        )

    def test_docx_keeps_direct_sizes_and_colours_and_the_look_of_its_headings(self) -> None:
        file = docx.Document()
        file.styles["Heading 1"].font.size = Pt(23)
        file.styles["Heading 1"].font.color.rgb = RGBColor(0x12, 0x34, 0x56)
        file.add_heading("Kite day", 1)
        p = file.add_paragraph("Bring ")
        large = p.add_run("string")
        large.font.size, large.font.color.rgb = Pt(17.5), RGBColor(0xAA, 0, 0)
        p.alignment = WD_ALIGN_PARAGRAPH.CENTER
        out = io.BytesIO()
        file.save(out)
        raw = document([outline()])
        content = base64.b64encode(out.getvalue()).decode()
        after = done(raw, "bring-text", object="a", version="en", name="a.docx", content=content)
        heading = after["styles"]["Heading 1"]
        self.assertEqual((heading["size"], heading["color"], heading["weight"]), (23, "#123456", 700))
        body = after["copies"][things(after)["a"]["frame"]["copy"]]["versions"]["en"]["paragraphs"][1]
        self.assertEqual(body["align"], "center")
        self.assertEqual(body["runs"][1], {"text": "string", "size": 17.5, "color": "#aa0000"})
        plain = done(raw, "bring-text", object="a", version="en", name="a.docx", content=content, plain=True)
        self.assertEqual(
            set(plain["copies"][things(plain)["a"]["frame"]["copy"]]["versions"]["en"]["paragraphs"][1]["runs"][0]),
            {"text"},
        )

    def test_docx(self) -> None:
        found = read_text("a.docx", a_docx())
        self.assertEqual(text_of(found), ["Kite day", "Bring string and friends.", "first", "second"])
        self.assertEqual([r.get("weight") for r in found.paragraphs[1]["runs"]], [None, 700, None, None, None])
        self.assertEqual(found.paragraphs[1]["runs"][4], {"text": ".", "underline": True})
        self.assertEqual([p.get("list", {}).get("kind") for p in found.paragraphs], [None, None, "bullets", "numbers"])

    def test_odt(self) -> None:
        found = read_text("a.odt", an_odt())
        self.assertEqual(text_of(found), ["Kite day", "Bring string", "first"])
        self.assertEqual(found.paragraphs[1]["runs"][1], {"text": "string", "weight": 700})
        self.assertEqual(found.headings, {1})

    def test_plain_leaves_formatting_out(self) -> None:
        self.assertTrue(all(set(r) == {"text"} for p in read_text("a.docx", a_docx()).plain() for r in p["runs"]))

    def test_hostile_and_broken_files_are_refused_with_a_word(self) -> None:
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("word/document.xml", '<!DOCTYPE d [<!ENTITY a "b">]><d>&a;</d>')
        bomb = io.BytesIO()
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("word/document.xml", b" " * 210_000_000)
        for name, content in (
            ("a.docx", packed.getvalue()),
            ("a.docx", bomb.getvalue()),
            ("a.docx", a_docx()[:900]),
            ("a.pdf", b"%PDF-1.7"),
            ("a.txt", b"\x00\x01\x02\x03" * 50),
            ("a.txt", b"  \n "),
            ("a.zip", b"PK\x03\x04nonsense"),
        ):
            with self.assertRaises(TextError):
                read_text(name, content)

    def test_a_file_becomes_the_copy_of_a_frame(self) -> None:
        raw = document([outline("heart")])
        content = base64.b64encode(a_docx()).decode()
        after = done(raw, "bring-text", object="a", version="en", name="a.docx", content=content)
        nest = nest_of(after).nest
        self.assertTrue(nest.copy.text.startswith("Kite day\nBring string"))
        self.assertIn("Heading 1", after["styles"])
        again = done(
            after,
            "bring-text",
            object="a",
            version="en",
            name="b.txt",
            content=base64.b64encode(b"Other").decode(),
            plain=True,
        )
        self.assertEqual(nest_of(again).nest.copy.text, "Other")


class DummyCopy(unittest.TestCase):
    def test_it_fills_to_the_end_and_not_beyond(self) -> None:
        for kind in ("rectangle", "heart", "kite"):
            raw = document([outline(kind, width=260, height=300)])
            nest = nest_of(done(raw, "dummy-copy", object="a", version="en")).nest
            self.assertEqual(nest.leftover_words, 0)
            self.assertGreater(nest.fill, 0.9, kind)

    def test_it_is_in_the_copys_language_and_made_up(self) -> None:
        for language, prose in PROSE.items():
            text = " ".join(dummy_paragraphs(language, 60))
            self.assertIn(prose[0].split()[0], text)
            self.assertNotIn("orem ipsum", text)
        self.assertEqual(len(" ".join(cut_to(dummy_paragraphs("en", 90), 37)).split()), 37)


class ManyWords(unittest.TestCase):
    def test_no_paragraph_comes_twice_in_some_thousand_words_of_any_language(self) -> None:
        for language in PROSE:
            found = dummy_paragraphs(language, 4000)
            self.assertEqual(len(found), len(set(found)), language)
            sentences = [s for p in found for s in p.replace("! ", ". ").split(". ")]
            self.assertGreater(len(set(sentences)) / len(sentences), 0.98, language)
            self.assertLess(max(len(p.split()) for p in found), 160)

    def test_its_paragraphs_are_told_apart(self) -> None:
        for kind, field in (("rectangle", "first_indent"), ("heart", "space_before")):
            after = done(document([outline(kind, width=600, height=600)]), "dummy-copy", object="a", version="en")
            paragraphs = after["copies"][things(after)["a"]["frame"]["copy"]]["versions"]["en"]["paragraphs"]
            self.assertGreater(len(paragraphs), 3)
            self.assertTrue(all(field in p for p in paragraphs[1:]) and field not in paragraphs[0])


class Replacing(unittest.TestCase):
    def test_words_are_replaced_everywhere_and_keep_their_look(self) -> None:
        runs = [{"text": "A ki"}, {"text": "te", "weight": 700}, {"text": " and a Kite"}]
        raw = document([frame()], {"runs": runs}, paragraph("no bird"))
        after = done(raw, "replace", find="kite", replace="dragon")
        made = after["copies"]["story"]["versions"]["en"]["paragraphs"]
        self.assertEqual(made[0]["runs"], [{"text": "A dragon"}, {"text": " and a dragon"}])
        self.assertEqual(made[1], raw["copies"]["story"]["versions"]["en"]["paragraphs"][1])

    def test_capitals_and_whole_words(self) -> None:
        raw = document([frame()], paragraph("Kite kite kites"))
        for options, left in (
            ({"capitals": True}, "Kite x xs"),
            ({"words": True}, "x x kites"),
            ({"words": True, "capitals": True}, "Kite x kites"),
        ):
            after = done(raw, "replace", find="kite", replace="x", **options)
            self.assertEqual(after["copies"]["story"]["versions"]["en"]["paragraphs"][0]["runs"][0]["text"], left)

    def test_what_is_nowhere_is_said(self) -> None:
        with self.assertRaisesRegex(ActError, "nowhere"):
            done(document([frame()], paragraph("Kite")), "replace", find="boat", replace="")


class ToOutlines(unittest.TestCase):
    def test_letters_cover_what_the_printed_letters_cover(self) -> None:
        raw = document([frame(fill={"color": "#eeeeee"})], paragraph("Kite day", size=40))
        after = done(raw, "copy-to-outlines", object="f")
        letters = things(after)["o1"]
        area = area_of(from_svg(letters["outline"]["d"])).area
        face = nest_of(raw).nest.copy.paragraphs[0].stretches[0]
        own = sum(area_of(face.face.outline(int(g))).area for g in face.glyphs.ids) * face.scale**2
        self.assertAlmostEqual(area, own, delta=0.01 * own)
        self.assertNotIn("story", after["copies"])
        self.assertNotIn("frame", things(after)["f"])

    def test_letters_stand_where_their_frame_stood_among_the_others(self) -> None:
        for painted in (True, False):
            for place in range(3):
                mine = frame(fill={"color": "#eeeeee"}) if painted else frame()
                others = [{"id": f"p{n}", "x": 0, "y": 0, "width": 9, "height": 9} for n in range(3)]
                raw = document([*others[:place], mine, *others[place:]], paragraph("Kite", size=40))
                left = [t["id"] for t in done(raw, "copy-to-outlines", object="f")["pages"][0]["objects"]]
                before = [o["id"] for o in others]
                before[place:place] = ["f", "o1"] if painted else ["o1"]
                self.assertEqual(left, before)

    def test_underlines_are_as_thick_and_as_deep_as_the_font_says(self) -> None:
        raws = [document([frame()], paragraph("Kite", size=40, underline=underlined)) for underlined in (False, True)]
        plain, lined = (things(done(raw, "copy-to-outlines", object="f"))["o1"] for raw in raws)
        nest = nest_of(raws[1]).nest
        metrics = nest.copy.paragraphs[0].stretches[0].face.metrics
        wide = float(nest.copy.x[4] - nest.copy.x[0])
        area = area_of(from_svg(lined["outline"]["d"])).area - area_of(from_svg(plain["outline"]["d"])).area
        self.assertAlmostEqual(area / wide, metrics.underline_thickness * 40, delta=0.02)
        foot = nest.records[0, k.BASELINE] + (metrics.underline_at + metrics.underline_thickness / 2) * 40
        self.assertAlmostEqual(lined["y"] + lined["height"], foot, delta=0.02)

    def test_each_colour_is_an_object_and_no_word_is_lost(self) -> None:
        runs = [{"text": "Kite "}, {"text": "day", "color": "#ff0000"}]
        after = done(document([frame()], {"runs": runs}), "copy-to-outlines", object="f")
        self.assertEqual([t["fill"]["color"] for t in things(after).values()], ["ink", "#ff0000"])
        whole, small = (
            area_of(from_svg(things(done(raw, "copy-to-outlines", object="f"))["o1"]["outline"]["d"])).area
            for raw in (document([frame(height=h)], paragraph("Kite day", size=30)) for h in (280, 20))
        )
        self.assertAlmostEqual(whole, small, delta=0.5)

    def test_a_long_copy_becomes_several_objects_with_every_letter_once(self) -> None:
        raw = document([frame(width=400, height=600)], paragraph(" ".join(dummy_paragraphs("en", 220)), size=8))
        after = done(raw, "copy-to-outlines", object="f")
        letters = [area_of(from_svg(t["outline"]["d"])).area for t in things(after).values()]
        self.assertGreater(len(letters), 1)
        copy = nest_of(raw).nest.copy
        inked = cache(lambda face, glyph: area_of(face.outline(glyph)).area)
        drawn = sum(inked(s.face, int(g)) * s.scale**2 for s in copy.paragraphs[0].stretches for g in s.glyphs.ids)
        self.assertAlmostEqual(sum(letters), drawn, delta=0.01 * drawn)


class Looks(unittest.TestCase):
    def test_numbers_count_on_and_bullets_hang_in_the_indent(self) -> None:
        from nestline.nesting.glyphs import list_marks

        items = [
            paragraph(t, list={"kind": kind})
            for t, kind in (("a", "numbers"), ("b", "numbers"), ("c", "bullets"), ("d", "numbers"))
        ]
        nest = nest_of(document([frame()], *items)).nest
        self.assertEqual([m.text for m in list_marks(nest)], ["1.", "2.", "•", "1."])
        self.assertTrue(all(abs(m.x - 100) < 1e-9 for m in list_marks(nest)))
        self.assertAlmostEqual(float(nest.left[0]), 100 + 1.6 * 11)

    def test_an_underline_runs_through_the_spaces_of_its_words(self) -> None:
        from nestline.nesting.glyphs import underlines

        runs = [{"text": "Bring "}, {"text": "string and friends", "underline": True}, {"text": " now"}]
        nest = nest_of(document([frame(width=600)], {"runs": runs})).nest
        (line,) = underlines(nest)
        start, end = nest.copy.x[6], nest.copy.x[24]
        self.assertAlmostEqual(line.right - line.left, end - start, places=6)


class TypeLines(unittest.TestCase):
    def test_a_line_of_type_is_as_wide_as_its_words_need(self) -> None:
        after = done(document([]), "type-line", page=0, at=[100, 200], version="en", text="Kite day")
        placed = nest_of(after)
        self.assertEqual((placed.nest.lines, placed.nest.leftover_words), (1, 0))
        self.assertAlmostEqual(placed.thing.box[2], float(placed.nest.width[0]), delta=0.001)
        self.assertEqual(placed.thing.box[0], 100)

    def test_it_never_wraps_but_where_it_is_told(self) -> None:
        text = " ".join(["Quarrowby Kite Day"] * 30)
        after = done(document([]), "type-line", page=0, at=[0, 50], version="en", text=f"{text}\u2028below")
        after["pages"][0]["objects"][0]["height"] = 200
        nest = nest_of(after).nest
        self.assertEqual([nest.copy.text[a:b].rstrip("\u2028") for a, b in nest.ranges], [text, "below"])

    def test_the_edge_that_holds_stays(self) -> None:
        for give, still in ((["right"], 0.0), (["left"], 1.0), (["left", "right"], 0.5)):
            for text in ("Fly", "Reserve a place on the hill"):
                raw = document([frame(width=80, wrap_lines=False, give=give, padding=6)], paragraph(text))
                x, _, width, _ = nest_of(raw).thing.box
                self.assertAlmostEqual(x + still * width, 100 + still * 80, places=3)
                self.assertEqual(nest_of(raw).nest.leftover_words, 0)

    def test_it_is_high_enough_for_its_letters(self) -> None:
        for size in (12, 36, 120):
            raw = document(
                [frame(width=80, height=20, wrap_lines=False, give=["right"])], paragraph("Kite\u2028day", size=size)
            )
            placed = nest_of(raw)
            self.assertEqual((placed.nest.lines, placed.nest.leftover_words), (2, 0))
            self.assertEqual(placed.thing.box[1], 100)
