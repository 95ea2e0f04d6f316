"""PDF, PNG, lines and `./nest set`: the words in them are the words of the copy, in order.

The PDF is read back with poppler's pdftotext, pdffonts and pdfinfo, and checked with qpdf (Debian's poppler-utils,
qpdf).
"""

import io
import json
import re
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any

import numpy as np
from hypothesis import given, settings
from PIL import Image

from draws import cases
from nestline.nesting.glyphs import glyph_runs
from nestline.output.lines import lines_report
from nestline.output.png import png_pages
from support import STORY, document, documents, frame, nest_of, nested, obstacle, paragraph, studio

CORE = Path(__file__).resolve().parents[1]


def run(*command: str, given: bytes | None = None) -> str:
    done = subprocess.run(command, input=given, capture_output=True, check=False)
    if done.returncode:
        raise AssertionError(done.stderr.decode() + done.stdout.decode())
    return done.stdout.decode()


def pdf_of(raw: dict[str, Any]) -> bytes:
    return studio().pdf(studio().read(raw))


def words_in(pdf: bytes) -> list[str]:
    """Words as read back; a hyphen that was set is read as a soft one at its line's end, and goes. (Its raw mode sees
    no spaces under .15 em.)"""
    text = run("pdftotext", "-", "-", given=pdf)
    return text.replace("\u00ad\n", "").replace("\u00ad", "").split()


HARD = (
    "Affable officers flow; “Ty” AVAWA To fjord. Wörter, naïve, Žluťoučký kůň, Ξεσκεπάζω, съешь ещё — e\u0301 office "
    "ﬁne ½ № 3×4"
)


class Pdf(unittest.TestCase):
    def test_copy_read_back_is_the_copy(self) -> None:
        for family in studio().fonts.families:
            text = (
                HARD
                if family in ("EB Garamond", "Vollkorn", "Lato", "Source Sans 3")
                else "Affable officers flow; Ty AVAWA To fjord."
            )
            raw = document(
                [frame(width=400, height=300)],
                paragraph(text, font=family),
                paragraph(STORY, font=family, align="justify"),
            )
            self.assertEqual(words_in(pdf_of(raw)), f"{text} {STORY}".split(), family)

    def test_right_to_left_words_are_read_back_in_the_order_of_their_letters(self) -> None:
        for text in (
            "The word עפיפון means kite, and الطريق is the way.",
            "الريح على التل أبرد مما تبدو لا سلام",
            "עפיפונים על הגבעה",
        ):
            pdf = pdf_of(document([frame(width=400)], paragraph(text, size=14)))
            read = re.sub("[\u202a-\u202e]", "", run("pdftotext", "-", "-", given=pdf))
            # A space where the direction turns is the reader's to find, and poppler's does not.
            self.assertEqual("".join(read.split()), "".join(text.split()))

    @settings(max_examples=cases(8))
    @given(documents())
    def test_any_nest_read_back_has_every_word(self, raw: dict[str, Any]) -> None:
        raw["pages"][0]["objects"][0].pop("turn", None)
        nest = nest_of(raw).nest
        if nest.broken:
            return
        # Past the page's edge nothing is read back: give the page room.
        raw["pages"][0] |= {"width": 4000, "height": 9000}
        self.assertEqual("".join(sorted(words_in(pdf_of(raw)))), "".join(sorted(nest.copy.text.split())))

    def test_fonts_are_embedded_subsets_with_unicode(self) -> None:
        raw = document(
            [frame()],
            paragraph("Kite"),
            paragraph("Kite", font="League Spartan"),
            paragraph("Kite", font="Lato", weight=700),
        )
        rows = run("pdffonts", "-", given=pdf_of(raw)).splitlines()[2:]
        self.assertEqual(len(rows), 3)
        for row in rows:
            self.assertRegex(row, r"^[A-Z]{6}\+.* yes yes yes ")

    def test_boxes_are_exact_and_qpdf_has_no_complaint(self) -> None:
        raw = document([frame()], paragraph(STORY))
        raw["pages"][0] |= {"width": "148mm", "height": "210mm", "bleed": "3mm"}
        with tempfile.NamedTemporaryFile(suffix=".pdf") as file:
            file.write(pdf_of(raw))
            file.flush()
            boxes = {
                row.split(":")[0]: [float(v) for v in row.split(":")[1].split()]
                for row in run("pdfinfo", "-box", file.name).splitlines()
                if "Box" in row
            }
            self.assertIn("No syntax or stream encoding errors", run("qpdf", "--check", file.name))
        mm = 72 / 25.4
        np.testing.assert_allclose(boxes["TrimBox"], [3 * mm, 3 * mm, 151 * mm, 213 * mm], atol=0.01)
        np.testing.assert_allclose(boxes["MediaBox"], [0, 0, 154 * mm, 216 * mm], atol=0.01)

    def test_the_same_document_gives_the_same_bytes(self) -> None:
        raw = document([frame(fill={"color": "#ff0000", "opacity": 0.5}), obstacle()], paragraph(STORY))
        self.assertEqual(pdf_of(raw), pdf_of(json.loads(json.dumps(raw))))

    def test_paint_is_where_it_should_be(self) -> None:
        square = {"id": "a", "x": 10, "y": 20, "width": 30, "height": 30, "fill": {"color": "#ff0000"}}
        ring = {
            "id": "b",
            "x": 60,
            "y": 20,
            "width": 30,
            "height": 30,
            "stroke": {"color": "#0000ff", "width": 4, "position": "inside"},
        }
        outer = {
            "id": "c",
            "x": 10,
            "y": 60,
            "width": 20,
            "height": 20,
            "stroke": {"color": "#00ff00", "width": 4, "position": "outside"},
        }
        image = Image.open(
            io.BytesIO(png_pages(pdf_of(document([square, ring, outer], width=100, height=100)), 72)[0])
        ).convert("RGB")
        self.assertEqual(image.size, (100, 100))
        red, blue, green, white = (255, 0, 0), (0, 0, 255), (0, 255, 0), (255, 255, 255)
        for x, y, color in [
            (11, 21, red),
            (39, 49, red),
            (41, 30, white),
            (62, 35, blue),
            (66, 35, white),
            (58, 35, white),
            (8, 70, green),
            (12, 70, white),
        ]:
            self.assertEqual(image.getpixel((x, y)), color, (x, y))


class Alike(unittest.TestCase):
    def test_the_letters_drawn_stand_where_the_lines_say(self) -> None:
        """The glyphs of the PDF against the words of `--lines`: every word starts within 0.01 pt of its record."""
        raw = document(
            [frame("heart", width=400, height=380), obstacle(x=280, y=200)],
            paragraph(STORY, align="justify", font="Vollkorn", size=12),
        )
        placed = nested(raw)[0]
        starts = {}
        for glyphs in glyph_runs(placed.nest):
            for x, cluster in zip(glyphs.x, glyphs.clusters, strict=True):
                starts.setdefault(int(cluster), float(x))
        checked = 0
        for line in lines_report([placed])["frames"][0]["lines"]:
            at = line["range"][0]
            for word in line["words"]:
                at = placed.nest.copy.text.index(word["text"], at)
                self.assertAlmostEqual(starts[at], word["x"], delta=0.01)
                checked += 1
        self.assertGreater(checked, 40)


class Set(unittest.TestCase):
    def set(
        self, raw: Any, *options: str, name: str = "document.json"
    ) -> tuple[subprocess.CompletedProcess[str], Path]:
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(lambda: subprocess.run(["rm", "-rf", str(folder)], check=False))
        (folder / name).write_text(raw if isinstance(raw, str) else json.dumps(raw))
        command = [sys.executable, "-m", "nestline.set", name, *options]
        return subprocess.run(
            command,
            cwd=folder,
            capture_output=True,
            text=True,
            check=False,
            env={"PYTHONPATH": str(CORE), "PATH": "/usr/bin"},
        ), folder

    def test_lines_and_pdf_are_written(self) -> None:
        done, folder = self.set(
            document([frame(sit="middle")], paragraph(STORY)), "--lines", "out/l.json", "--pdf", "o.pdf", "--png", "png"
        )
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        (report,) = json.loads((folder / "out/l.json").read_text())["frames"]
        self.assertEqual(
            (report["id"], report["page"], report["box"], report["size"]), ("f", 1, [100, 100, 300, 280], 11)
        )
        self.assertEqual(report["leftover"], {"words": 0, "text": ""})
        line = report["lines"][0]
        self.assertEqual(
            set(line), {"column", "line", "baseline", "band", "slot", "left", "right", "past", "range", "text", "words"}
        )
        self.assertEqual(line["text"], " ".join(w["text"] for w in line["words"]))
        self.assertEqual(line["text"], STORY[slice(*line["range"])])
        self.assertEqual(words_in((folder / "o.pdf").read_bytes()), STORY.split())
        self.assertTrue((folder / "png/page-1.png").is_file())

    def test_versions_are_chosen_by_name(self) -> None:
        raw = document([frame()], paragraph("Kite"))
        raw["copies"]["story"]["versions"]["de"] = {"language": "de", "paragraphs": [paragraph("Drachen")]}
        done, folder = self.set(raw, "--version", "de", "--lines", "l.json")
        self.assertEqual(done.returncode, 0)
        self.assertIn("Drachen", (folder / "l.json").read_text())
        done, _ = self.set(raw, "--version", "fi", "--lines", "l.json")
        self.assertEqual(done.returncode, 2)
        self.assertIn("de, en", done.stderr)

    def test_every_fault_is_one_line_with_status_2_and_nothing_written(self) -> None:
        faults: list[tuple[Any, str]] = [
            ("{", "line 1, column 2"),
            ("[]", "$"),
            (document([{**frame(), "width": "3 apples"}], paragraph("Kite")), "$.pages[0].objects[0].width"),
            (
                document([frame()], paragraph("Kite", font="Quarrow Sans")),
                "$.copies.story.versions.en.paragraphs[0].font",
            ),
            (
                document([{**frame(), "picture": {"file": "no.png"}}], paragraph("Kite")),
                "$.pages[0].objects[0].picture.file",
            ),
            (document([frame(columns=0)], paragraph("Kite")), "$.pages[0].objects[0].frame.columns"),
            ('{"format": "nest-line", "version": 1, "pages": [{"width": NaN}]}', "NaN"),
        ]
        for raw, said in faults:
            with self.subTest(said):
                done, folder = self.set(raw, "--lines", "l.json", "--pdf", "o.pdf")
                self.assertEqual(done.returncode, 2)
                self.assertIn(said, done.stderr)
                self.assertEqual(done.stderr.count("\n"), 1)
                self.assertEqual([p.name for p in folder.iterdir()], ["document.json"])
