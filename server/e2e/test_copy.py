"""Copy written on the page, brought from files, made up, replaced, and set in fonts of one's own."""

import io
import tempfile
from pathlib import Path

import docx
from PIL import Image

from e2e.support import BrowserCase
from nestline.fonts.library import SHIPPED


class Copy(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.new_document("Copy")

    def text(self, id: str) -> str:
        return self.page.evaluate(
            "(id) => { const s = nestLine.store.getState().scene; return s.shapes[s.nests[id].shape].text; }", id
        )

    def more(self, what: str) -> None:
        self.page.get_by_label("More for this copy").click()
        self.page.get_by_role("menuitem", name=what).click()

    def test_a_line_of_type_grows_with_its_words_and_is_enlarged_by_its_corner(self) -> None:
        page = self.page
        page.keyboard.press("n")
        page.keyboard.press("l")
        page.mouse.click(*self.on_page(80, 160))
        page.wait_for_function("nestLine.store.getState().caret !== null")
        page.keyboard.type("Kite")
        self.settled()
        line = self.state("selected")
        x, y, width, height = self.state(f"scene.objects.{line}.box")
        page.keyboard.type(" day")
        self.settled()
        wider = self.state(f"scene.objects.{line}.box")
        self.assertGreater(wider[2], width + 20)
        self.assertEqual(wider[0], x)
        page.keyboard.press("Escape")
        self.drag((x + wider[2], y + height), (x + 2 * wider[2], y + 2 * height))
        self.assertAlmostEqual(self.state(f"scene.nests.{line}.size"), 72, delta=2)

    def test_written_in_place_by_the_lines_as_they_are_set(self) -> None:
        page = self.page
        leaf = self.draw("Leaf", (80, 80), (400, 480))
        self.more("Dummy copy")
        page.wait_for_function("Object.keys(nestLine.store.getState().scene.nests).length === 1")
        self.settled()
        self.assertEqual(self.state(f"scene.nests.{leaf}.leftover"), 0)
        page.mouse.dblclick(*self.on_page(240, 280))
        page.wait_for_function("nestLine.store.getState().caret !== null")
        here = self.state("caret")["head"]
        page.keyboard.type("KITES ")
        self.settled()
        self.assertEqual(self.text(leaf)[here : here + 6], "KITES ")
        lines = self.lines(leaf)
        page.keyboard.press("Home")
        page.keyboard.press("Shift+End")
        page.wait_for_function("nestLine.store.getState().caret.anchor !== nestLine.store.getState().caret.head")
        caret = self.state("caret")
        chosen = self.text(leaf)[caret["anchor"] : caret["head"]]
        self.assertIn(chosen, lines)
        page.keyboard.press("ArrowUp")
        self.assertLess(self.state("caret")["head"], caret["head"])
        # The galley shows the same selection, and undo works as in any text field.
        page.keyboard.press("Control+z")
        self.settled()
        self.assertNotIn("KITES", self.text(leaf))
        page.keyboard.press("Escape")
        self.assertEqual(self.state("tool")["kind"], "hand")

    def test_a_text_file_and_its_formatting(self) -> None:
        frame = self.draw("Rectangle", (80, 80), (400, 480))
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "story.md"
            file.write_text("# Kite day\n\nBring **string** and *friends*.\n\n- first\n- second\n")
            self.page.get_by_label("Text file").set_input_files(str(file))
            self.page.get_by_text("is the copy of this frame now").wait_for()
            self.settled()
            self.assertEqual(self.text(frame), "Kite day\nBring string and friends.\nfirst\nsecond")
            self.assertEqual([m["text"] for m in self.state(f"scene.nests.{frame}.marks")], ["•", "•"])
            # A table's words are copy, its picture is not, and that is said.
            word = docx.Document()
            table = word.add_table(1, 2)
            table.cell(0, 0).text, table.cell(0, 1).text = "Noon", "The long dragon"
            picture = io.BytesIO()
            Image.new("RGB", (8, 8)).save(picture, "PNG")
            word.add_picture(picture)
            word.save(str(Path(folder) / "times.docx"))
            self.page.get_by_label("Text file").set_input_files(str(Path(folder) / "times.docx"))
            self.page.get_by_text(
                "“times.docx” is the copy of this frame now, but for a picture, which stays behind."
            ).wait_for()
            self.settled()
            self.assertEqual(self.text(frame).rstrip(), "Noon\tThe long dragon")
            broken = Path(folder) / "broken.docx"
            broken.write_bytes(b"PK\x03\x04 nothing")
            self.page.get_by_label("Text file").set_input_files(str(broken))
            self.page.get_by_role("alert").get_by_text("broken").wait_for()
        self.assertTrue(self.text(frame).startswith("Noon"))

    def test_found_and_replaced_and_turned_into_outlines(self) -> None:
        page = self.page
        frame = self.draw("Rectangle", (80, 80), (400, 300))
        page.get_by_role("textbox", name="Copy").click()
        page.keyboard.insert_text("A kite, a kite, and a boat")
        self.settled()
        self.more("Find and replace")
        page.get_by_label("Find", exact=True).fill("kite")
        page.get_by_text("In 2 places.").wait_for()
        page.get_by_label("Replace with").fill("dragon")
        page.get_by_role("button", name="Replace all").click()
        page.get_by_text("Replaced in").wait_for()
        page.get_by_role("button", name="Close").click()
        self.assertEqual(self.text(frame), "A dragon, a dragon, and a boat")
        self.more("Turn into outlines")
        page.get_by_role("button", name="Turn into outlines").click()
        page.wait_for_function("Object.keys(nestLine.store.getState().scene.nests).length === 0")
        self.assertEqual(len(self.state("scene.objects")), 2)

    def test_a_font_of_ones_own_small_capitals_and_a_style(self) -> None:
        page = self.page
        frame = self.draw("Rectangle", (80, 80), (400, 300))
        page.get_by_role("textbox", name="Copy").click()
        page.keyboard.insert_text("Bring string and friends")
        self.settled()
        from fontTools.ttLib import TTFont

        with tempfile.TemporaryDirectory() as folder:
            font = TTFont(SHIPPED / "Lato-Regular.ttf")
            for record in font["name"].names:
                if record.nameID in (1, 16):
                    record.string = "Quarrow Sans"
            font.save(Path(folder) / "quarrow.ttf")
            self.part("font")
            bring = page.get_by_role("button", name="Bring a font of your own …")
            with page.expect_file_chooser() as chooser:
                bring.click()
            chooser.value.set_files(str(Path(folder) / "quarrow.ttf"))
            page.get_by_text("can be used now").wait_for()
            page.get_by_role("radio", name="Quarrow Sans").click()
            self.settled()
            (Path(folder) / "no.ttf").write_bytes(b"no font")
            with page.expect_file_chooser() as chooser:
                bring.click()
            chooser.value.set_files(str(Path(folder) / "no.ttf"))
            page.get_by_role("alert").get_by_text("not a font file").wait_for()
        page.keyboard.press("Escape")
        self.drawn()
        self.assertTrue(self.state("document.copies['Copy 1'].versions.en.paragraphs[0].font") == "Quarrow Sans")
        self.part("font")
        page.get_by_role("radio", name="EB Garamond").click()
        self.settled()
        page.keyboard.press("Escape")
        width = self.state(f"scene.nests.{frame}.records[7]")
        self.part("letters")
        page.get_by_label("small capitals").click()
        self.settled()
        page.keyboard.press("Escape")
        self.assertNotEqual(self.state(f"scene.nests.{frame}.records[7]"), width)
        self.drawn()
        self.part("style")
        page.get_by_label("Name of a new style").fill("Small")
        page.get_by_role("button", name="Make", exact=True).click()
        self.settled()
        self.assertEqual(self.state("document.styles.Small.features"), {"smcp": 1})

    def test_copy_that_an_act_gives_is_in_the_galley_and_typed_behind(self) -> None:
        page = self.page
        frame = self.draw("Ellipse", (60, 60), (400, 300))
        page.get_by_role("region", name="Galley").get_by_role("button", name="More").click()
        page.get_by_text("Dummy copy").click()
        page.wait_for_function(f"nestLine.store.getState().scene.nests.{frame}?.words > 20")
        self.settled()
        galley = page.get_by_role("textbox", name="Copy")
        begun = galley.inner_text()[:40]
        self.assertTrue(begun.strip())
        galley.click()
        page.keyboard.press("Control+End")
        page.keyboard.insert_text(" Kites")
        self.settled()
        paragraphs = self.state("document.copies['Copy 1'].versions.en.paragraphs")
        said = "".join(run["text"] for paragraph in paragraphs for run in paragraph["runs"])
        self.assertTrue(said.startswith(begun[:30]) and said.endswith(" Kites"), said)

    def test_a_variable_font_is_drawn_as_heavy_and_wide_as_it_is_set(self) -> None:
        from demo.variable_font import FAMILY, variable_font

        page = self.page
        frame = self.draw("Rectangle", (80, 80), (400, 300))
        page.get_by_role("textbox", name="Copy").click()
        page.keyboard.insert_text("Wide words")
        self.settled()
        self.part("font")
        with page.expect_file_chooser() as chooser:
            page.get_by_role("button", name="Bring a font of your own …").click()
        chooser.value.set_files({"name": "kite.ttf", "mimeType": "font/ttf", "buffer": variable_font()})
        page.get_by_text("can be used now").wait_for()
        page.get_by_role("radio", name=FAMILY).click()
        self.settled()
        page.keyboard.press("Escape")
        plain = self.width_of_words(frame)
        self.part("letters")
        page.get_by_label("Width, typed").fill("125")
        page.keyboard.press("Enter")
        self.settled()
        page.get_by_label("Weight", exact=True).focus()
        page.keyboard.press("End")
        self.settled()
        page.keyboard.press("Escape")
        self.drawn()
        paragraph = self.state("document.copies['Copy 1'].versions.en.paragraphs[0]")
        self.assertEqual((paragraph["weight"], paragraph["font_width"]), (800, 125))
        # From weight 400 to 800 letters are wider by .08 of those at 300, and at width 125 by a quarter.
        self.assertAlmostEqual(self.width_of_words(frame) / plain, (1 + 0.1 + 0.25) / 1.02, delta=0.01)
        (look,) = self.state(f"scene.shapes[{self.state(f'scene.nests.{frame}.shape')!r}].looks")
        drawn = page.evaluate(
            """([face, size]) => { const c = document.createElement("canvas").getContext("2d");
            c.font = `${size}px "nest ${face}"`; return c.measureText("Wide").width + c.measureText("words").width }""",
            [look["face"], look["size"]],
        )
        self.assertAlmostEqual(drawn, self.width_of_words(frame), delta=0.05)

    def width_of_words(self, frame: str) -> float:
        """From the first word's beginning to the end of the last, in points."""
        shape = self.state(f"scene.shapes[{self.state(f'scene.nests.{frame}.shape')!r}]")
        return float(sum(shape["width"]))

    def test_what_stands_in_for_a_font_is_said_until_the_font_is_there(self) -> None:
        from fontTools.ttLib import TTFont

        page = self.page
        paragraphs = [
            {"font": "Quarrow Grotesque", "runs": [{"text": "Bring string and friends, and a kite if you have one."}]}
        ]
        frame = {"id": "f", "x": 40, "y": 40, "width": 220, "height": 120, "frame": {"copy": "c"}}
        pages = [{"width": 400, "height": 300, "objects": [frame]}]
        copies = {"c": {"versions": {"en": {"language": "en", "paragraphs": paragraphs}}}}
        self.open_raw({"format": "nest-line", "version": 1, "copies": copies, "pages": pages})
        notice = page.get_by_role("alert").filter(has_text="Quarrow Grotesque")
        notice.wait_for()
        self.assertIn("EB Garamond stands in", notice.inner_text())
        self.assertEqual(page.get_by_text("Quarrow Grotesque").count(), 2, "the sentence of the page says it too")
        stood_in = self.state("scene.nests.f.records[7]")
        page.mouse.click(*self.on_page(50, 50))
        # Its words can be worked on, and keep the font that they name; another that is not there is refused.
        page.get_by_label("Copy", exact=True).click()
        page.keyboard.press("Control+End")
        page.keyboard.insert_text(" It waits")
        self.settled()
        text = "document.copies.c.versions.en.paragraphs[0]"
        self.assertEqual(self.state(f"{text}.font"), "Quarrow Grotesque")
        self.assertTrue(self.state(f"{text}.runs[0].text").endswith("It waits"))
        with tempfile.TemporaryDirectory() as folder:
            font = TTFont(SHIPPED / "Oswald-Regular.ttf")
            for record in font["name"].names:
                if record.nameID in (1, 16):
                    record.string = "Quarrow Grotesque"
            font.save(Path(folder) / "quarrow.ttf")
            with page.expect_file_chooser() as chooser:
                page.get_by_role("button", name="Bring the font").last.click()
            chooser.value.set_files(str(Path(folder) / "quarrow.ttf"))
            page.get_by_text("its copy is set in it again").wait_for()
        self.assertEqual(self.state("scene.nests.f.absent"), [])
        self.assertNotEqual(self.state("scene.nests.f.records[7]"), stood_in)
        self.drawn()

    def test_hebrew_begins_at_the_right(self) -> None:
        frame = self.draw("Rectangle", (80, 80), (300, 300))
        self.page.get_by_role("textbox", name="Copy").click()
        self.page.keyboard.insert_text("עפיפונים עולים מעל הגבעה כל בוקר ובשנת 1845 עלה הראשון")
        self.settled()
        self.drawn()
        records = self.state(f"scene.nests.{frame}.records")
        self.assertAlmostEqual(records[7], records[5], delta=0.01)
        self.page.get_by_text("lacks is set in Noto Serif Hebrew").wait_for()

    def test_no_caret_stands_where_nobody_writes(self) -> None:
        self.draw("Heart", (80, 80), (300, 300))
        self.page.get_by_role("textbox", name="Copy").click()
        self.page.keyboard.insert_text("Bring string and friends")
        self.settled()
        self.page.keyboard.press("Escape")
        self.page.get_by_role("application").focus()
        self.part("align")
        self.page.get_by_role("radio", name="flush left").click()
        self.settled()
        self.assertIsNone(self.state("caret"))
