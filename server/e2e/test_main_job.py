"""The main job by hand: draw, paste copy, place a picture, drag it, centre, export, reload."""

import subprocess
import tempfile
from pathlib import Path

from demo.pictures import draw
from e2e.support import BrowserCase

STORY = (
    "Every year in late summer the wind comes back to Quarrowby Common, and the whole town walks up to meet it. Bring "
    "string, bring friends, and bring whatever you built at the kitchen table.\n"
    "At noon the long dragon goes up from the signal tower. It takes nine people to hold and one child to let go."
)


class MainJob(BrowserCase):
    def test_from_an_empty_page_to_a_pdf(self) -> None:
        page = self.page
        self.new_document("Kite sheet")
        kite = self.draw("Heart", (80, 80), (500, 560))

        # Copy: typed, then pasted, in the galley; every keystroke nests.
        galley = page.get_by_label("Copy", exact=True)
        galley.click()
        page.keyboard.type("Quarrowby ")
        self.settled()
        self.assertEqual(self.lines(kite), ["Quarrowby"])
        page.evaluate("(text) => navigator.clipboard && (window.pasted = text)", STORY)
        galley.evaluate(
            "(element, text) => { const data = new DataTransfer(); data.setData('text/plain', text);"
            " element.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, "
            "cancelable: true })) }",
            STORY,
        )
        self.settled()
        self.assertEqual(" ".join(self.lines(kite)).split(), f"Quarrowby {STORY}".split())
        page.keyboard.press("Escape")

        # A picture of their own, its wrap on.
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "my kite.png"
            file.write_bytes(draw()["pictures/delta-kite.png"])
            page.set_input_files("#picture-file", str(file))
            page.wait_for_function("Object.values(nestLine.store.getState().scene.objects).some((o) => o.picture)")
        self.settled()
        picture = self.state("selected")
        self.assertEqual(self.state(f"scene.objects.{picture}.name"), "my kite")
        before = self.lines(kite)

        # Dragged across: the lines change while the pointer is down, and stay as they were shown.
        x, y, w, h = self.state(f"scene.objects.{picture}.box")
        start, end = (x + w / 2, y + h / 2), (x + w / 2 + 90, y + h / 2 - 110)
        page.mouse.move(*self.on_page(*start))
        page.mouse.down()
        page.mouse.move(*self.on_page(*end), steps=14)
        page.wait_for_function("nestLine.store.getState().tried !== null")
        # The last position's preview has come.
        page.wait_for_function(
            "([id, x]) => Math.abs((nestLine.store.getState().tried?.objects[id]?.box[0] ?? 0) - x) < 0.7",
            arg=[picture, x + 90],
        )
        shown = self.state(f"tried.nests.{kite}.records")
        page.mouse.up()
        self.settled()
        self.assertNotEqual(self.lines(kite), before)
        self.assertEqual(self.state(f"scene.nests.{kite}.records"), shown, "nothing jumps on release")
        self.assertEqual(self.state("undoLabel"), "Move")

        # Centred already (a heart), then told otherwise by the sentence, then undone.
        page.get_by_role("region", name="Tally").get_by_role(
            "button", name=self.state(f"scene.labels.{kite}"), exact=True
        ).click()
        page.get_by_text("in the middle").wait_for()
        top = self.state(f"scene.nests.{kite}.records[1]")
        self.part("sit")
        page.get_by_role("radio", name="top").click()
        self.settled()
        self.assertLess(self.state(f"scene.nests.{kite}.records[1]"), top)
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Undo").click()
        self.settled()
        self.assertEqual(self.state(f"scene.nests.{kite}.records[1]"), top)

        # PDF.
        page.get_by_role("button", name="Export").click()
        with page.expect_download() as download:
            page.get_by_role("menuitem", name="PDF for print").click()
        text = subprocess.run(
            ["pdftotext", "-raw", str(download.value.path()), "-"], capture_output=True, text=True, check=True
        )
        self.assertEqual(sorted(text.stdout.split()), sorted(f"Quarrowby {STORY}".split()))

        # Everything is there after a reload.
        lines, objects = self.lines(kite), self.state("scene.objects")
        page.reload()
        page.get_by_role("application").wait_for()
        self.assertEqual(self.lines(kite), lines)
        self.assertEqual(self.state("scene.objects"), objects)
        page.get_by_role("button", name="All documents").click()
        page.get_by_role("heading", name="Kite sheet").wait_for()


class Sentence(BrowserCase):
    def test_rules_are_said_in_the_sentence(self) -> None:
        page = self.page
        self.new_document("Rules", "Phone screen")
        frame = self.draw("Rectangle", (40, 40), (240, 240))
        page.get_by_label("Copy", exact=True).click()
        page.keyboard.type("Bring string and bring friends")
        self.settled()
        page.keyboard.press("Escape")

        # Padding: typed with a unit and a sum, shown at once, kept on Enter.
        self.part("padding")
        field = page.get_by_label("Room to the edge")
        field.fill("10mm + 6pt")
        page.wait_for_function("nestLine.store.getState().tried !== null")
        field.press("Enter")
        self.settled()
        self.assertAlmostEqual(self.state(f"scene.nests.{frame}.bounds[0]"), 40 + 720 / 25.4 + 6, delta=0.6)
        # What is not a length is said in words, and nothing changes.
        revision = self.state("revision")
        field.fill("10 apples")
        page.get_by_role("alert").get_by_text("is not a length").wait_for()
        field.fill("12")
        field.press("ArrowUp")
        self.assertEqual(field.input_value(), "13")
        page.keyboard.press("Escape")
        self.settled()
        self.assertGreaterEqual(self.state("revision"), revision)

        for part, choice, path, value in [
            ("sit", "bottom", "frame.sit", "bottom"),
            ("hang", "cap height", "frame.hang", "cap"),
            ("stand", "the baseline", "frame.stand", "baseline"),
            ("band", "its line box", "frame.band", "line-box"),
            ("wrap", "on the left", "wrap.sides", "left"),
            ("wrap", "its outline", "wrap.by", "outline"),
        ]:
            self.part(part)
            page.get_by_role("radio", name=choice).click()
            self.settled()
            self.assertEqual(self.state(f"document.pages[0].objects[0].{path}"), value)
            page.keyboard.press("Escape")
        self.part("align")
        page.get_by_role("radio", name="flush right").click()
        self.settled()
        page.keyboard.press("Escape")
        self.assertEqual(
            self.state(f"scene.shapes[nestLine.store.getState().scene.nests.{frame}.shape].rules[0].align"), "end"
        )
        self.part("size")
        page.get_by_label("Type size").fill("20pt")
        page.get_by_label("Type size").press("Enter")
        self.settled()
        self.assertEqual(self.state(f"scene.nests.{frame}.size"), 20)
        page.keyboard.press("Escape")
        self.part("fill")
        page.get_by_role("button", name="No fill").click()
        self.settled()
        self.assertIsNone(self.state("document.pages[0].objects[0].fill"))
        self.part("stroke")
        page.get_by_role("button", name="kite red").click()
        self.settled()
        self.assertEqual(self.state("document.pages[0].objects[0].stroke.color"), "kite red")

    def test_leftover_is_tagged_on_the_bench_in_the_tally_and_in_the_galley(self) -> None:
        page = self.page
        self.new_document("Leftover", "A5 flyer")
        self.draw("Ellipse", (60, 60), (160, 130))
        page.get_by_label("Copy", exact=True).click()
        page.keyboard.insert_text(STORY)
        self.settled()
        words = self.state("scene.nests")
        (nest,) = words.values()
        self.assertGreater(nest["leftover"], 5)
        page.get_by_role("button", name=f"{nest['leftover']} words left over").wait_for()
        page.get_by_text(f"{nest['leftover']} over").first.wait_for()
        self.assertIn(page.locator(".leftover").first.inner_text().split()[0], STORY)


class Hands(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.new_document("Hands")
        self.id = self.draw("Star", (100, 100), (300, 300))

    def box(self) -> list[float]:
        return self.state(f"scene.objects.{self.id}.box")

    def test_size_turn_nudge_delete_and_undo(self) -> None:
        page = self.page
        self.drag((300, 300), (360, 330))
        x, y, w, h = self.box()
        self.assertAlmostEqual(w, 260, delta=2)
        self.assertAlmostEqual(h, 230, delta=2)
        self.assertEqual((round(x), round(y)), (100, 100))
        handle = page.evaluate(
            """() => { const o = nestLine.store.getState().scene.objects[nestLine.store.getState().selected];
              return o.box }"""
        )
        k = self.state("view")["scale"] * 4 / 3
        cx, cy = handle[0] + handle[2] / 2, handle[1] + handle[3] / 2
        dx, dy = handle[2] / 2, handle[3] / 2
        length = (dx * dx + dy * dy) ** 0.5
        at = (cx + dx + dx / length * 21 / k, cy - dy - dy / length * 21 / k)  # outside the upper right corner
        self.drag(at, (cx, cy + 300))
        self.assertNotEqual(self.state(f"scene.objects.{self.id}.turn"), 0)
        page.get_by_role("application").focus()
        before = self.box()
        page.keyboard.press("ArrowRight")
        page.keyboard.press("Shift+ArrowDown")
        self.settled()
        self.assertEqual([round(b - a, 2) for a, b in zip(before, self.box(), strict=True)], [1, 10, 0, 0])
        page.keyboard.press("Delete")
        self.settled()
        self.assertEqual(self.state("document.pages[0].objects"), [])
        page.keyboard.press("Control+z")
        page.wait_for_function("nestLine.store.getState().document.pages[0].objects.length === 1")

    def test_escape_leaves_a_drag_undone(self) -> None:
        before, revision = self.box(), self.state("revision")
        mouse = self.page.mouse
        mouse.move(*self.on_page(200, 200))
        mouse.down()
        mouse.move(*self.on_page(260, 280), steps=6)
        self.page.wait_for_function("nestLine.store.getState().tried !== null")
        self.page.keyboard.press("Escape")
        mouse.up()
        self.settled()
        self.assertEqual((self.box(), self.state("revision")), (before, revision))

    def test_the_keyboard_makes_and_looks(self) -> None:
        page = self.page
        page.get_by_role("application").focus()
        page.keyboard.press("?")
        page.get_by_role("heading", name="The keyboard").wait_for()
        page.keyboard.press("Escape")
        page.get_by_role("heading", name="The keyboard").wait_for(state="detached")
        page.get_by_role("application").focus()
        page.keyboard.press(".")
        page.get_by_role("region", name="Tally").wait_for(state="detached")
        page.keyboard.press(".")
        page.get_by_role("region", name="Tally").wait_for()
        page.keyboard.press("n")
        page.keyboard.press("e")
        page.get_by_text("Drag from one corner to the other").wait_for()
        page.keyboard.press("Escape")


class DocumentsList(BrowserCase):
    def test_rename_delete_with_undo_and_sign_out(self) -> None:
        page = self.page
        self.sign_in()
        page.get_by_text("There is nothing here yet").wait_for()
        self.new_document("First")
        page.get_by_role("button", name="All documents").click()
        page.get_by_role("button", name="More for First").click()
        page.get_by_role("menuitem", name="Rename").click()
        page.get_by_label("Title").fill("Second")
        page.keyboard.press("Enter")
        page.get_by_role("heading", name="Second").wait_for()
        page.get_by_role("button", name="More for Second").click()
        page.get_by_role("menuitem", name="Delete").click()
        page.get_by_role("heading", name="Second").wait_for(state="detached")
        page.get_by_role("button", name="Undo").click()
        page.get_by_role("heading", name="Second").wait_for()
        page.get_by_role("button", name="Sign out").click()
        page.get_by_role("button", name="Sign in", exact=True).wait_for()
        page.get_by_label("Name").fill("ada")
        page.get_by_label("Password").fill("wrong")
        page.get_by_role("button", name="Sign in", exact=True).click()
        page.get_by_text("do not belong together").wait_for()
