"""Beside pictures: parts read one by one, narrow lines set ragged; pictures into outlines and out; objects to other
pages."""

from __future__ import annotations

import io

from PIL import Image, ImageDraw

from e2e.support import BrowserCase
from nestline.rows import SCREEN_RECORD

STORY = "Bring string and paste and cane and silk to the grey tent on the hill before the wind gets up at noon. " * 7


def picture() -> bytes:
    image = Image.new("RGB", (120, 80), "#d8523a")
    ImageDraw.Draw(image).rectangle((10, 10, 60, 60), fill="#2f6f8f")
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


class Beside(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.new_document("Beside")

    def rows(self, frame: str) -> list[list[float]]:
        flat = self.state(f"scene.nests['{frame}'].records")
        width = len(SCREEN_RECORD)
        return [flat[n : n + width] for n in range(0, len(flat), width)]

    def story(self, align: str) -> str:
        page = self.page
        frame = self.draw("Rectangle", (60, 60), (520, 360))
        page.get_by_role("textbox", name="Copy").click()
        page.keyboard.insert_text(STORY)
        self.settled()
        page.keyboard.press("Escape")
        self.part("align")
        page.get_by_role("radio", name=align, exact=False).click()
        self.settled()
        page.keyboard.press("Escape")
        return frame

    def pushing(self, left: float, right: float) -> None:
        self.draw("Rectangle", (left, 40), (right, 300))
        self.part("wrap")
        self.page.get_by_role("radio", name="on both sides").click()
        self.settled()
        self.page.keyboard.press("Escape")

    def test_parts_side_by_side_are_read_one_by_one_when_asked(self) -> None:
        page = self.page
        frame = self.story("flush left")
        self.pushing(230, 350)
        page.evaluate(f"nestLine.store.setState({{ selected: '{frame}' }})")

        def sides() -> list[bool]:
            """Of the lines in the order of the copy beside the gap, whether each is right of it."""
            return [row[6] > 300 for row in self.rows(frame) if row[3] < 290]

        across = sides()
        self.assertGreater(sum(a != b for a, b in zip(across, across[1:], strict=False)), 8)
        self.part("columns")
        page.get_by_role("radio", name="read one by one").click()
        self.settled()
        page.keyboard.press("Escape")
        turned = sides()
        self.assertEqual(sum(a != b for a, b in zip(turned, turned[1:], strict=False)), 1)
        self.assertFalse(turned[0])
        page.get_by_role("button", name="Undo").click()
        self.settled()
        self.assertEqual(sides(), across)

    def test_lines_in_narrow_slots_are_set_ragged_when_asked(self) -> None:
        page = self.page
        frame = self.story("justified")
        self.pushing(155, 420)
        page.evaluate(f"nestLine.store.setState({{ selected: '{frame}' }})")

        def narrow() -> list[list[float]]:
            return [row for row in self.rows(frame) if row[7] < 160]

        self.assertEqual(narrow(), [])
        self.part("columns")
        page.get_by_role("radio", name="Lines in them are set ragged").click()
        self.settled()
        page.keyboard.press("Escape")
        ragged = narrow()
        self.assertGreater(len(ragged), 4)
        self.assertGreater(len({round(row[7]) for row in ragged}), 2)

    def test_a_picture_into_an_outline_and_out_and_to_another_page(self) -> None:
        page = self.page
        star = self.draw("Star", (60, 60), (260, 260))
        page.keyboard.press("Escape")
        page.locator("#picture-file").set_input_files(
            {"name": "kite.png", "mimeType": "image/png", "buffer": picture()}
        )
        page.wait_for_function("nestLine.store.getState().document.pages[0].objects.length === 2")
        self.settled()
        placed = self.state("selected")
        page.evaluate(f"nestLine.store.setState({{ selected: '{placed}', others: ['{star}'] }})")
        page.get_by_role("button", name="Put the picture into the outline").click()
        page.wait_for_function("nestLine.store.getState().document.pages[0].objects.length === 1")
        self.settled()
        held = f"document.pages[0].objects.find((o) => o.id === '{star}').picture"
        self.assertTrue(self.state(f"{held}.file"))
        page.wait_for_function(f"nestLine.store.getState().selected === '{star}'")
        # It is described for those who do not see it.
        self.part("alt")
        page.get_by_role("textbox", name="What the picture shows").fill("A red kite")
        page.keyboard.press("Enter")
        self.settled()
        self.assertEqual(self.state(f"{held}.alt"), "A red kite")
        self.part("within")
        page.get_by_role("button", name="Take it out of its outline").click()
        page.wait_for_function("nestLine.store.getState().document.pages[0].objects.length === 2")
        self.settled()
        self.assertIsNone(self.page.evaluate(f"() => nestLine.store.getState().{held} ?? null"))
        # Onto another page, by its line in the tally.
        page.evaluate("nestLine.store.setState({ selected: null, others: [] })")
        self.part("pages")
        page.get_by_role("button", name="Add a page behind page 1").click()
        page.wait_for_function("nestLine.store.getState().scene.pages.length === 2")
        self.settled()
        page.keyboard.press("Escape")
        tally = page.get_by_role("region", name="Tally")
        label = self.state(f"scene.labels['{star}']")
        tally.get_by_role("button", name=label, exact=True).drag_to(tally.get_by_role("heading", name="Page 2"))
        page.wait_for_function("nestLine.store.getState().document.pages[1].objects.length === 1")
        self.assertEqual(self.state("document.pages[1].objects[0].id"), star)

    def test_what_lies_behind_is_chosen_by_a_second_press_and_the_menu_tells_all(self) -> None:
        page = self.page
        back = self.draw("Rectangle", (60, 60), (360, 360))
        front = self.draw("Ellipse", (120, 120), (300, 300))
        page.keyboard.press("Escape")
        page.mouse.click(*self.on_page(210, 210))
        self.assertEqual(self.state("selected"), front)
        for _ in range(5):  # a press that a busy machine makes too late for a second one is a first one
            page.wait_for_timeout(700)
            page.mouse.click(*self.on_page(210, 210))
            if self.state("selected") == back:
                break
        self.assertEqual(self.state("selected"), back)
        page.mouse.click(*self.on_page(210, 210), button="right")
        page.get_by_role("menuitem", name="Ellipse").click()
        page.wait_for_function(f"nestLine.store.getState().selected === '{front}'")
        page.mouse.click(*self.on_page(210, 210), button="right")
        page.get_by_role("menuitem", name="Behind all others").click()
        page.wait_for_function(f"nestLine.store.getState().document.pages[0].objects[0].id === '{front}'")
        self.settled()
        # Beside all objects it speaks of the page.
        page.mouse.click(*self.on_page(500, 700), button="right")
        page.get_by_role("menuitem", name="Size of the page").click()
        page.get_by_role("textbox", name="Width").wait_for()

    def test_a_popover_dragged_aside_stays_while_one_looks(self) -> None:
        page = self.page
        self.draw("Rectangle", (60, 60), (360, 360))
        self.part("fill")
        panel = page.get_by_role("dialog", name="Fill of the outline")
        box = panel.bounding_box()
        assert box
        page.mouse.move(box["x"] + 60, box["y"] + 18)
        page.mouse.down()
        page.mouse.move(box["x"] + 160, box["y"] - 82, steps=5)
        page.mouse.up()
        moved = panel.bounding_box()
        assert moved
        self.assertAlmostEqual(moved["x"], box["x"] + 100, delta=3)
        page.mouse.click(*self.on_page(200, 200))
        page.wait_for_timeout(200)
        self.assertTrue(panel.is_visible())
        panel.get_by_role("button", name="Close").click()
        panel.wait_for(state="detached")
