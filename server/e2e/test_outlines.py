"""Outlines made and changed by hand: drawn, pointed, combined, arranged, caught on lines."""

import re
import tempfile
from pathlib import Path

from e2e.support import BrowserCase


class Outlines(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.new_document("Outlines")

    def box(self, id: str) -> list[float]:
        return self.state(f"scene.objects.{id}.box")

    def knots(self, id: str) -> int:
        path = self.state(f"scene.objects.{id}.path")
        places = re.findall(r"-?[\d.]+ -?[\d.]+(?=[A-Z])", path)
        return len(places) - (places[0] == places[-1])

    def click(self, x: float, y: float) -> None:
        self.page.mouse.click(*self.on_page(x, y))

    def test_drawn_freely_round_a_subject_and_its_points_moved(self) -> None:
        page = self.page
        page.keyboard.press("n")
        page.keyboard.press("d")
        for corner in ((100, 100), (300, 90), (340, 260), (999, 999)):
            if corner != (999, 999):
                self.click(*corner)
        self.click(200, 400)
        page.keyboard.press("Backspace")
        self.drag((220, 330), (160, 340))
        self.click(100, 100)
        page.wait_for_function("nestLine.store.getState().selected !== null")
        made = self.state("selected")
        self.assertEqual(self.knots(made), 4)
        x, y, width, _ = self.box(made)
        self.assertAlmostEqual(x, 100, delta=3)
        self.assertAlmostEqual(width, 240, delta=3)

        # A point more where the edge is clicked, then moved: copy re-nests while it moves.
        page.get_by_role("textbox", name="Copy").click()
        page.keyboard.insert_text("Bring string, bring friends, and bring whatever you built. " * 6)
        self.settled()
        before = self.lines(made)
        page.keyboard.press("Escape")
        page.get_by_role("application").focus()
        page.keyboard.press("e")
        self.click(200, 95)
        self.settled()
        self.assertEqual(self.knots(made), 5)
        page.mouse.move(*self.on_page(200, 95))
        page.mouse.down()
        page.mouse.move(*self.on_page(200, 180), steps=8)
        page.wait_for_function(f"nestLine.store.getState().tried?.nests?.{made}")
        page.mouse.up()
        self.settled()
        self.assertNotEqual(self.lines(made), before)
        page.keyboard.press("Delete")
        self.settled()
        self.assertEqual(self.knots(made), 4)

    def test_a_ready_outline_becomes_a_path_only_when_its_points_are_edited(self) -> None:
        star = self.draw("Star", (100, 100), (300, 300))
        self.part("outline")
        slider = self.page.get_by_role("slider", name="Points")
        slider.focus()
        slider.press("ArrowRight")
        self.settled()
        self.assertEqual(self.knots(star), 12)
        self.page.keyboard.press("Escape")
        self.page.get_by_role("application").focus()
        self.page.keyboard.press("e")
        x, y, width, _ = self.box(star)
        self.drag((x + width / 2, y), (x + width / 2, y - 30))
        self.page.get_by_text("drawn by its points from now on").wait_for()
        self.assertEqual(self.state("document.pages[0].objects[0].outline.kind"), "path")
        self.page.get_by_role("button", name="Undo", exact=True).click()
        self.settled()
        self.assertEqual(self.state("document.pages[0].objects[0].outline.kind"), "star")

    def test_several_are_combined_and_the_result_is_shown_before(self) -> None:
        a = self.draw("Rectangle", (100, 100), (250, 250))
        b = self.draw("Ellipse", (180, 180), (330, 330))
        self.drag((60, 60), (400, 400))
        self.assertEqual({self.state("selected"), *self.state("others")}, {a, b})
        self.part("combine")
        self.page.get_by_role("button", name="joined into one").hover()
        self.page.wait_for_function("nestLine.store.getState().tried !== null")
        self.assertEqual(len(self.state("scene.objects")), 2)
        self.page.get_by_role("button", name="joined into one").click()
        self.page.wait_for_function("Object.keys(nestLine.store.getState().scene.objects).length === 1")
        kept = self.state("selected")
        self.assertAlmostEqual(self.box(kept)[2], 230, delta=3)

    def test_brought_level_spaced_and_duplicated(self) -> None:
        a = self.draw("Rectangle", (100, 100), (150, 150))
        b = self.draw("Rectangle", (200, 130), (260, 190))
        c = self.draw("Rectangle", (400, 300), (450, 360))
        self.page.keyboard.press("Control+a")
        self.part("align-objects")
        self.page.get_by_role("button", name="top edges").click()
        self.settled()
        self.page.keyboard.press("Escape")
        tops = {round(self.box(i)[1]) for i in (a, b, c)}
        self.assertEqual(len(tops), 1)
        self.part("distribute")
        self.page.get_by_role("button", name="across", exact=True).click()
        self.settled()
        self.page.keyboard.press("Escape")
        boxes = [self.box(i) for i in (a, b, c)]
        gaps = [boxes[1][0] - boxes[0][0] - boxes[0][2], boxes[2][0] - boxes[1][0] - boxes[1][2]]
        self.assertAlmostEqual(*gaps, delta=0.01)
        self.page.get_by_role("application").focus()
        self.page.keyboard.press("Control+d")
        self.page.wait_for_function("Object.keys(nestLine.store.getState().scene.objects).length === 6")
        self.page.keyboard.press("Delete")
        self.page.wait_for_function("Object.keys(nestLine.store.getState().scene.objects).length === 3")

    def test_copied_into_another_document(self) -> None:
        self.draw("Heart", (100, 100), (300, 300))
        self.page.get_by_role("textbox", name="Copy").click()
        self.page.keyboard.insert_text("Bring string")
        self.settled()
        self.page.keyboard.press("Escape")
        self.page.get_by_role("application").focus()
        self.page.keyboard.press("Control+c")
        self.page.get_by_role("button", name="All documents").click()
        self.new_document("Second")
        self.page.get_by_role("application").focus()
        self.page.keyboard.press("Control+v")
        self.page.wait_for_function("Object.keys(nestLine.store.getState().scene.nests).length === 1")
        self.assertEqual(self.lines(self.state("selected")), ["Bring string"])

    def test_things_catch_on_edges_and_say_on_which(self) -> None:
        self.draw("Rectangle", (100, 100), (200, 160))
        b = self.draw("Rectangle", (320, 240), (400, 300))
        self.page.evaluate("nestLine.store.setState({ snapping: true })")
        mouse = self.page.mouse
        mouse.move(*self.on_page(360, 270))
        mouse.down()
        mouse.move(*self.on_page(360, 133), steps=6)
        self.page.wait_for_function("nestLine.store.getState().caught.some((c) => c.axis === 'y')")
        mouse.up()
        self.settled()
        caught = {self.box(b)[1], self.box(b)[1] + 30, self.box(b)[1] + 60}
        first = self.state("document.pages[0].objects[0]")
        lines = {first["y"], first["y"] + first["height"] / 2, first["y"] + first["height"]}
        self.assertTrue(any(abs(p - q) < 0.02 for p in caught for q in lines))
        self.assertEqual(self.state("caught"), [])

    def test_svg_outlines_come_in_by_the_picture_button(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "two.svg"
            file.write_text(
                '<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100"><rect width="80" '
                'height="50" fill="#c00"/>'
                '<circle cx="150" cy="50" r="40"/></svg>'
            )
            self.page.set_input_files("#picture-file", str(file))
            self.page.wait_for_function("Object.keys(nestLine.store.getState().scene.objects).length === 2")
            bad = Path(folder) / "bad.svg"
            bad.write_text('<!DOCTYPE s [<!ENTITY a "b">]><svg xmlns="http://www.w3.org/2000/svg">&a;</svg>')
            self.page.set_input_files("#picture-file", str(bad))
            self.page.get_by_role("alert").get_by_text("not brought in").wait_for()
        self.assertEqual(len(self.state("scene.objects")), 2)

    def test_the_page_is_told_its_size_margins_and_guides(self) -> None:
        self.part("page-size")
        self.page.get_by_role("button", name="A5").click()
        self.page.wait_for_function("Math.abs(nestLine.store.getState().scene.pages[0].width - 419.53) < 0.1")
        self.page.keyboard.press("Escape")
        self.part("margins")
        field = self.page.get_by_role("textbox", name="Margins")
        field.fill("10mm 5mm")
        field.press("Enter")
        self.settled()
        margins = self.state("scene.pages[0].margins")
        self.assertEqual([round(m, 2) for m in margins], [28.35, 14.17, 28.35, 14.17])

    def test_a_guide_is_dragged_out_of_a_ruler_and_back(self) -> None:
        box = self.page.get_by_role("application").bounding_box()
        assert box
        mouse = self.page.mouse
        mouse.move(box["x"] + 300, box["y"] + 8)
        mouse.down()
        mouse.move(*self.on_page(300, 200), steps=6)
        mouse.up()
        self.settled()
        (guide,) = self.state("scene.pages[0].guides.y")
        self.assertAlmostEqual(guide, 200, delta=1)
        self.drag((-8, guide), (-8, -60))
        self.assertEqual(self.state("scene.pages[0].guides.y"), [])
