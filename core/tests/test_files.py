"""Text files as copy: every word that is seen in one arrives, once and in its place, whatever holds it; what stays
behind is said.

Files are made here, node by node, with words that are known; which of those are seen is said by ECMA-376 part 1 (from
memory: 17.13.5 insertions and deletions, 17.4 tables, 17.5 content controls) and OpenDocument 1.3, part 3.
"""

import io
import random
import textwrap
import unittest
from collections.abc import Iterator
from typing import Any

import docx
import odfdo
from docx.enum.style import WD_STYLE_TYPE
from docx.oxml import parse_xml
from docx.oxml.ns import nsdecls
from docx.shared import Mm, Pt

from draws import fair, seeds
from nestline.copy.dummy import dummy_paragraphs
from nestline.copy.imported import Imported
from nestline.copy.imports import read_text
from nestline.nesting.quality import rivers
from support import document, frame, nest_of, paragraph

W = nsdecls("w")
BOX = (
    "<w:r {w}><mc:AlternateContent "
    'xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006"><mc:Choice '
    'Requires="wps"><w:drawing>'
    "<x "
    'xmlns="urn:x"><w:txbxContent>{inside}</w:txbxContent></x></w:drawing></mc:Choice>'
    '<mc:Fallback><w:pict><v:textbox xmlns:v="urn:'
    'schemas-microsoft-com:vml"><w:txbxContent>{inside}</w:txbxContent></v:textbox></w:pict></mc:Fallback></mc:AlternateContent></w:r>'
)


def words_of(found: Imported) -> list[str]:
    return " ".join("".join(r["text"] for r in p["runs"]) for p in found.paragraphs).split()


def lines_of(found: Imported) -> list[str]:
    return ["".join(r["text"] for r in p["runs"]) for p in found.paragraphs]


def frame_report_lines(nest: Any) -> list[list[tuple[str, float]]]:
    """By line its words, with where each begins."""
    drawn, segments = nest.drawn, nest.copy.segments
    lines: list[list[tuple[str, float]]] = [[] for _ in nest.records]
    for x, record, segment in zip(drawn.x, drawn.record, drawn.segment, strict=True):
        lines[record].append((nest.copy.text[segments.start[segment] : segments.end[segment]].strip(), float(x)))
    return lines


def saved(file: Any) -> bytes:
    out = io.BytesIO()
    file.save(out)
    return out.getvalue()


class Maker:
    """Random parts of a file, and the words of it that are seen, in their order."""

    def __init__(self, seed: int) -> None:
        self.dice = random.Random(seed)
        self.numbers = iter(range(10_000))

    def word(self) -> str:
        return f"w{next(self.numbers)}"

    # A DOCX file's

    def runs(self, deep: int = 0) -> tuple[str, list[str], list[str]]:
        """Markup of what stands in a paragraph, its words, and those of its text boxes."""
        markup, seen, boxed = "", [], []
        for _ in range(self.dice.randint(1, 4)):
            kind = self.dice.choice(
                ["r", "r", "r", "hyperlink", "ins", "sdt", "smartTag", "fldSimple", "del", "moveFrom", "hidden", "box"]
            )
            word = self.word()
            plain = f'<w:r><w:t xml:space="preserve">{word} </w:t></w:r>'
            if kind in ("r", "hidden"):
                markup += plain.replace("<w:r>", "<w:r><w:rPr><w:vanish/></w:rPr>") if kind == "hidden" else plain
                seen += [word] if kind == "r" else []
            elif kind in ("del", "moveFrom"):
                markup += f'<w:{kind} w:id="1" w:author="a">{plain.replace("w:t", "w:delText")}</w:{kind}>'
            elif kind == "box" and deep == 0:
                inside, words, _ = self.runs(1)
                markup += BOX.format(w="", inside=f"<w:p>{inside}</w:p>")
                boxed += words
            elif kind == "sdt":
                inner, words, more = self.runs(deep + 1) if deep < 2 else (plain, [word], [])
                markup += f"<w:sdt><w:sdtContent>{inner}</w:sdtContent></w:sdt>"
                seen, boxed = seen + words, boxed + more
            elif kind == "box":
                markup, seen = markup + plain, [*seen, word]
            else:
                named = {"ins": ' w:id="2" w:author="a"', "fldSimple": ' w:instr="TITLE"', "smartTag": ' w:element="x"'}
                markup += f"<w:{kind}{named.get(kind, '')}>{plain}</w:{kind}>"
                seen.append(word)
        return markup, seen, boxed

    def blocks(self, deep: int = 0) -> Iterator[tuple[str, list[str]]]:
        for _ in range(self.dice.randint(1, 4)):
            kind = self.dice.choice(["p", "p", "p", "tbl", "sdt"]) if deep < 2 else "p"
            if kind == "p":
                inside, words, boxed = self.runs()
                yield f"<w:p>{inside}</w:p>", words + boxed
                continue
            inner = list(self.blocks(deep + 1))
            markup, words = "".join(m for m, _ in inner), [w for _, found in inner for w in found]
            if kind == "sdt":
                yield f"<w:sdt><w:sdtContent>{markup}</w:sdtContent></w:sdt>", words
            else:
                last, more, boxed = self.runs(1)
                yield (
                    f"<w:tbl><w:tblPr/><w:tblGrid/><w:tr><w:tc>{markup}<w:p/></w:tc><w:tc><w:p>{last}</w:p></w:tc></w:tr></w:tbl>",
                    words + more + boxed,
                )


class OfWord(unittest.TestCase):
    def test_every_word_that_is_seen_arrives_once_and_in_its_place(self) -> None:
        held = 0
        for seed in seeds(50):
            file, wanted = docx.Document(), []
            for markup, words in Maker(seed).blocks():
                file.element.body.insert(len(file.element.body) - 1, parse_xml(markup.replace(">", f" {W}>", 1)))
                wanted += words
            if wanted:
                self.assertEqual(words_of(read_text("a.docx", saved(file))), wanted, seed)
                held += len(wanted)
        self.assertGreaterEqual(held, fair(300))

    def test_a_row_of_a_table_is_a_paragraph(self) -> None:
        file = docx.Document()
        table = file.add_table(2, 3)
        for place, word in enumerate(("Mon", "9.00", "Kites", "Tue", "", "")):
            table.cell(place // 3, place % 3).text = word
        file.add_paragraph("Come.")
        self.assertEqual(lines_of(read_text("a.docx", saved(file))), ["Mon\t9.00\tKites", "Tue", "Come."])

    def test_cells_of_a_table_stand_below_one_another_and_make_no_river(self) -> None:
        cells = [
            ["9.30", "Gates", "the long fence"],
            ["10.00", "Box kites", "upper field"],
            ["12.00", "The long dragon", "tower"],
            ["4 p.m.", "Prizes", ""],
        ]
        file = docx.Document()
        table = file.add_table(len(cells), 3)
        for across, row in enumerate(cells):
            for down, word in enumerate(row):
                table.cell(across, down).text = word
        nest = nest_of(document([frame(width=400)], *read_text("a.docx", saved(file)).paragraphs)).nest
        lines = frame_report_lines(nest)
        self.assertEqual(len(lines), len(cells))
        for column in range(3):
            starts = {
                round(x, 3)
                for line, row in zip(lines, cells, strict=True)
                for word, x in line
                if row[column] and word == row[column].split()[0]
            }
            self.assertEqual(len(starts), 1, column)
        self.assertEqual(rivers(nest), [])
        spaced = [paragraph(" ".join([row[0], "\u2003\u2003", *row[1:]])) for row in cells]
        self.assertTrue(len(rivers(nest_of(document([frame(width=400)], *spaced)).nest)) > 0, "what is no tab is seen")

    def test_what_stays_behind_is_said(self) -> None:
        file = docx.Document()
        self.assertEqual(read_text("a.docx", saved_with(file, "<w:r><w:t>Kite</w:t></w:r>")).left_out, [])
        found = read_text(
            "a.docx",
            saved_with(
                docx.Document(),
                '<w:r><w:t>Kite</w:t><w:footnoteReference w:id="2"/></w:r><w:r><w:endnoteReference w:id="3"/></w:r>'
                '<w:r><w:sym w:font="Wingdings" w:char="F04A"/></w:r><w:r><w:drawing><pic:pic '
                'xmlns:pic="urn:p"/></w:drawing></w:r>',
            ),
        )
        self.assertEqual((found.left_out, lines_of(found)), (["2 footnotes", "a picture", "a symbol"], ["Kite"]))
        # A paragraph of pictures alone leaves none behind; one that is empty in the file stays.
        picture = docx.Document()
        picture.add_paragraph("Kite")
        picture.add_paragraph("")
        content = saved_with(picture, '<w:r><w:drawing><pic:pic xmlns:pic="urn:p"/></w:drawing></w:r>')
        self.assertEqual(lines_of(read_text("a.docx", content)), ["Kite", ""])

    def test_letters_that_have_a_sign_of_their_own(self) -> None:
        inside = (
            "<w:r><w:t>box</w:t><w:noBreakHyphen/><w:t>kite</w:t><w:tab/><w:t>am</w:t><w:softHyphen/><w:t>ber</w:t><w:br/></w:r>"
            '<w:r><w:br w:type="page"/></w:r><w:r><w:t>m</w:t></w:r><w:r><w:rPr><w:vertAlign '
            'w:val="superscript"/></w:rPr><w:t>2</w:t></w:r>'
            "<w:r><w:t>, H</w:t></w:r><w:r><w:rPr><w:vertAlign "
            'w:val="subscript"/></w:rPr><w:t>2</w:t></w:r><w:r><w:t>O, 1</w:t></w:r>'
            "<w:r><w:rPr><w:vertAlign "
            'w:val="superscript"/></w:rPr><w:t>st</w:t></w:r><w:r><w:rPr><w:caps/></w:rPr><w:t> '
            "straße</w:t></w:r>"
        )
        found = read_text("a.docx", saved_with(docx.Document(), inside))
        self.assertEqual(lines_of(found), ["box\u2011kite\tam\u00adber\u2028m², H₂O, 1st STRASSE"])

    def test_styles_that_are_based_on_each_other_end(self) -> None:
        file = docx.Document()
        one, other = (file.styles.add_style(name, WD_STYLE_TYPE.PARAGRAPH) for name in ("One", "Other"))
        one.base_style, other.base_style, one.font.italic = other, one, True
        file.add_paragraph("Kite", style="Other")
        (found,) = read_text("a.docx", saved(file)).paragraphs
        self.assertEqual(found, {"runs": [{"text": "Kite"}], "slope": "italic"})

    def test_lists_are_of_the_kind_that_the_file_says(self) -> None:
        file = docx.Document()
        numbering = file.part.numbering_part.element
        for number, kind in ((900, "bullet"), (901, "decimal"), (902, "lowerLetter")):
            numbering.insert(
                0,
                parse_xml(
                    f'<w:abstractNum {W} w:abstractNumId="{number}"><w:lvl w:ilvl="0"><w:numFmt '
                    f'w:val="{kind}"/></w:lvl></w:abstractNum>'
                ),
            )
            numbering.append(parse_xml(f'<w:num {W} w:numId="{number}"><w:abstractNumId w:val="{number}"/></w:num>'))
            line = file.add_paragraph("Bring string")
            properties = line._p.get_or_add_pPr().get_or_add_numPr()
            properties._add_numId().val, properties._add_ilvl().val = number, 0
        found = [p.get("list", {}).get("kind") for p in read_text("a.docx", saved(file)).paragraphs]
        self.assertEqual(found, ["bullets", "numbers", "numbers"])

    def test_what_is_said_of_a_paragraph_by_itself_and_by_its_style(self) -> None:
        file = docx.Document()
        quote = file.styles.add_style("Calm", WD_STYLE_TYPE.PARAGRAPH)
        quote.base_style = file.styles["Normal"]
        quote.font.italic, quote.paragraph_format.left_indent = True, Mm(5)
        strong = file.styles.add_style("Loud", WD_STYLE_TYPE.CHARACTER)
        strong.font.bold = True
        line = file.add_paragraph("Nobody flies ", style="Calm")
        line.add_run("alone", style="Loud")
        line.add_run(" here").italic = False
        line.paragraph_format.first_line_indent, line.paragraph_format.space_after = Pt(9), Pt(4)
        line.paragraph_format.keep_with_next = True
        file.add_paragraph("Plain.")
        first, second = read_text("a.docx", saved(file)).paragraphs
        self.assertEqual(
            {k: v for k, v in first.items() if k != "runs"},
            {"slope": "italic", "indent": 14.15, "first_indent": 9.0, "space_after": 4.0, "keep": {"next": True}},
        )
        self.assertEqual(
            first["runs"],
            [{"text": "Nobody flies "}, {"text": "alone", "weight": 700}, {"text": " here", "slope": "normal"}],
        )
        self.assertEqual(second, {"runs": [{"text": "Plain."}]})


def saved_with(file: Any, inside: str) -> bytes:
    """A file of one paragraph with this in it."""
    file.element.body.insert(0, parse_xml(f"<w:p {W}>{inside}</w:p>"))
    return saved(file)


class OfOpenDocument(unittest.TestCase):
    def made(self, *markup: str) -> Imported:
        file = odfdo.Document("text")
        file.body.clear()
        for one in markup:
            file.body.append(odfdo.Element.from_tag(one))
        return read_text("a.odt", saved(file))

    def test_words_of_tables_boxes_sections_and_lists(self) -> None:
        def cell(*words: str) -> str:
            return f"<table:table-cell>{''.join(f'<text:p>{word}</text:p>' for word in words)}</table:table-cell>"

        box = "<draw:frame><draw:text-box><text:p>boxed</text:p></draw:text-box></draw:frame>"
        found = self.made(
            f"<text:p>one {box}two</text:p>",
            f"<table:table><table:table-row>{cell('Mon')}{cell('9.00')}{cell('')}</table:table-row>"
            f"<table:table-row>{cell('a', 'b')}{cell('c')}</table:table-row></table:table>",
            '<text:section text:name="s"><text:p>in a section</text:p></text:section>',
            "<text:list><text:list-item><text:p>first</text:p><text:list><text:list-item><text:p>deeper</text:p></text:list-item></text:list></text:list-item></text:list>",
            "<text:p>with a <text:a>link</text:a><text:note><text:note-body><text:p>not "
            "here</text:p></text:note-body></text:note></text:p>",
            "<text:p><draw:frame><draw:image/></draw:frame>end</text:p>",
        )
        self.assertEqual(
            lines_of(found),
            ["one two", "boxed", "Mon\t9.00", "a", "b", "c", "in a section", "first", "deeper", "with a link", "end"],
        )
        self.assertEqual(found.left_out, ["a footnote", "a picture"])
        self.assertEqual([p.get("list") for p in found.paragraphs[7:9]], [{"kind": "bullets"}] * 2)

    def test_what_styles_say(self) -> None:
        file = odfdo.Document("text")
        style = odfdo.Style("paragraph", name="Calm", parent_style="Standard")
        style.set_properties(
            {"fo:margin-left": "5mm", "fo:text-align": "center", "fo:keep-with-next": "always"}, area="paragraph"
        )
        style.set_properties({"fo:font-style": "italic"}, area="text")
        raised = odfdo.Style("text", name="Up")
        raised.set_properties({"style:text-position": "super 58%"}, area="text")
        for one in (style, raised):
            file.insert_style(one, automatic=True)
        file.body.clear()
        file.body.append(
            odfdo.Element.from_tag(
                '<text:p text:style-name="Calm">10 m<text:span text:style-name="Up">2</text:span></text:p>'
            )
        )
        (found,) = read_text("a.odt", saved(file)).paragraphs
        self.assertEqual(
            found,
            {
                "runs": [{"text": "10 m²"}],
                "slope": "italic",
                "indent": 14.17,
                "align": "center",
                "keep": {"next": True},
            },
        )


class OfText(unittest.TestCase):
    def test_what_was_wrapped_at_any_width_comes_back_as_it_was_and_lists_of_lines_stay(self) -> None:
        for seed in seeds(60):
            dice = random.Random(seed)
            paragraphs = [dummy_paragraphs("en", dice.randint(30, 80))[0] for _ in range(dice.randint(1, 4))]
            wrapped = "\n\n".join(
                textwrap.fill(p, dice.randint(50, 96)) if seed % 2 else textwrap.fill(p, 72) for p in paragraphs
            )
            if not seed % 2:
                self.assertEqual(lines_of(read_text("a.txt", wrapped.encode())), paragraphs, seed)
            lines = [" ".join(dice.choices(paragraphs[0].split(), k=dice.randint(1, 12))) for _ in range(12)]
            listed = "\n".join(lines[:6]) + "\n\n" + "\n".join(lines[6:])
            self.assertEqual(lines_of(read_text("a.txt", listed.encode())), [*lines[:6], "", *lines[6:]], seed)

    def test_an_address_stays_in_its_lines(self) -> None:
        text = "The Kite Shed\n4 Signal Lane\nQuarrowby\n\nOpen on Sundays\nand in the wind"
        self.assertEqual(lines_of(read_text("a.txt", text.encode())), text.split("\n"))

    def test_lists_in_lists_and_headings_of_any_depth(self) -> None:
        found = read_text("a.md", b"1. one\n   - inner\n2. two\n\n##### Deep\n")
        self.assertEqual(
            [(p.get("list") or {}).get("kind") for p in found.paragraphs], ["numbers", "bullets", "numbers", None]
        )
        self.assertEqual(found.paragraphs[3]["style"], "Heading 3")
        file = docx.Document()
        for level in (3, 5, 9):
            file.styles[f"Heading {level}"].font.size = Pt(10 + level)
            file.add_heading("Deep", level)
        found = read_text("a.docx", saved(file))
        self.assertEqual([p["style"] for p in found.paragraphs], ["Heading 3"] * 3)
        self.assertEqual({level: look["size"] for level, look in found.looks.items()}, {3: 13.0})

    def test_tables_breaks_and_markup_of_markdown(self) -> None:
        text = (
            "| Mon | 9.00 |\n| --- | --- |\n| Tue | *late* |\n\n<p>Come <b>all</b></p>\n\none<br>two ![kite](k.png)\n"
        )
        found = read_text("a.md", text.encode())
        self.assertEqual(lines_of(found), ["Mon\t9.00", "Tue\tlate", "Come all", "one\u2028two "])
        self.assertEqual(found.left_out, ["a picture"])


if __name__ == "__main__":
    unittest.main()
