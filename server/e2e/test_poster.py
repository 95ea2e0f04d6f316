"""The demo's poster made by hand from an empty page, with what the interface offers."""

import subprocess
import tempfile
from pathlib import Path

from demo.pictures import draw
from e2e.support import BrowserCase

STORY = (
    "Every year in late summer the wind comes back to Quarrowby Common, and the whole town walks up to meet "
    "it. Bring string, "
    "bring friends, and bring whatever you built at the kitchen table: a diamond of brown paper, a box of "
    "cane and silk, or "
    "something with too many tails. At noon the long dragon goes up from the signal tower. It takes nine "
    "people to hold, and "
    "one child to let go."
)
DAY = (
    "Tents open, string is cut. The long dragon goes up. Judging by ear. Lanterns, as soon as it is dark enough to "
    "see them."
)
WAY = "Walk up Ropewalk Lane and keep the tower on your left. If it rains we fly wet kites."


class Poster(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.new_document("Poster")

    def close(self) -> None:
        self.page.keyboard.press("Escape")
        self.page.wait_for_function("!document.querySelector('.part[data-open]')")

    def length(self, part: str, label: str, text: str) -> None:
        self.part(part)
        field = self.page.get_by_role("textbox", name=label)
        field.fill(text)
        field.press("Enter")
        self.settled()
        self.close()

    def choose(self, part: str, name: str) -> None:
        self.part(part)
        self.page.get_by_role("radio", name=name, exact=True).click()
        self.settled()
        self.close()

    def color(self, part: str, figure: str, name: str) -> None:
        """A colour by its figure, given a name at once; or by its name when it has one already."""
        self.part(part)
        if self.page.get_by_role("button", name=name, exact=True).count():
            self.page.get_by_role("button", name=name, exact=True).first.click()
        else:
            self.page.locator(".card input[type=color]").fill(figure)
            self.page.get_by_label("Name of this colour").fill(name)
            self.page.get_by_role("button", name="Name", exact=True).click()
        self.settled()
        self.close()

    def write(self, text: str) -> None:
        self.page.get_by_role("textbox", name="Copy").click()
        self.page.keyboard.insert_text(text)
        self.settled()
        self.page.keyboard.press("Escape")

    def line(self, x: float, y: float, text: str) -> str:
        self.page.get_by_role("button", name="Type line").click()
        self.page.mouse.click(*self.on_page(x, y))
        self.page.wait_for_function("nestLine.store.getState().caret !== null")
        self.page.keyboard.insert_text(text)
        self.settled()
        self.page.keyboard.press("Escape")
        return self.state("selected")

    def hill(self, knots: list[tuple[float, float, float, float]]) -> str:
        """Drawn freely: x, y and where the curve is dragged to (the same place: a corner)."""
        before = set(self.state("scene.objects"))
        self.page.get_by_role("button", name="Draw", exact=True).click()
        for x, y, to_x, to_y in knots:
            mouse = self.page.mouse
            mouse.move(*self.on_page(x, y))
            mouse.down()
            if (x, y) != (to_x, to_y):
                mouse.move(*self.on_page(to_x, to_y), steps=4)
            mouse.up()
        self.page.keyboard.press("Enter")
        self.page.wait_for_function(
            "(n) => Object.keys(nestLine.store.getState().scene.objects).length > n", arg=len(before)
        )
        self.settled()
        return next(iter(set(self.state("scene.objects")) - before))

    def test_from_an_empty_page(self) -> None:
        page = self.page
        # An A3 sheet with a sky.
        self.part("page-size")
        page.get_by_role("button", name="A3", exact=True).click()
        self.settled()
        self.close()
        self.color("background", "#dcebe9", "sky")
        page.keyboard.press("0")

        # Hills, drawn freely.
        far = self.hill(
            [(0, 1000, 0, 1000), (420, 890, 560, 880), (842, 920, 842, 920), (842, 1191, 842, 1191), (0, 1191, 0, 1191)]
        )
        self.color("fill", "#7fa98a", "hill")
        near = self.hill(
            [
                (0, 1060, 0, 1060),
                (470, 1010, 620, 1020),
                (842, 1040, 842, 1040),
                (842, 1191, 842, 1191),
                (0, 1191, 0, 1191),
            ]
        )
        self.color("fill", "#1d3a33", "night hill")

        # The title, a line of display type.
        title = self.line(60, 130, "Quarrowby Kite Day")
        self.choose("font", "Abril Fatface")
        self.length("size", "Type size", "70")

        # The story in a large kite, in its middle, from cap height.
        kite = self.draw("Kite", (64, 212), (624, 924))
        self.write(STORY)
        self.length("padding", "Room to the edge", "20")
        self.length("size", "Type size", "17")
        self.length("size", "Leading", "21")
        self.choose("hang", "cap height")
        lines = self.lines(kite)

        # A kite of their own flies beside it; copy runs round its contour.
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "delta kite.png"
            file.write_bytes(draw()["pictures/delta-kite.png"])
            page.set_input_files("#picture-file", str(file))
            page.wait_for_function("Object.values(nestLine.store.getState().scene.objects).some((o) => o.picture)")
        self.settled()
        delta = self.state("selected")
        x, y, w, h = self.state(f"scene.objects.{delta}.box")
        self.drag((x + w / 2, y + h / 2), (600, 420))
        self.length("clearance", "Copy keeps away by", "12")
        self.assertNotEqual(self.lines(kite), lines)

        # The programme stands in a box that an ellipse is cut out of.
        day = self.draw("Rectangle", (540, 640), (800, 900))
        self.write(DAY)
        ellipse = self.draw("Ellipse", (440, 800), (640, 960))
        page.keyboard.down("Shift")
        page.mouse.click(*self.on_page(780, 880))
        page.keyboard.up("Shift")
        self.assertEqual((self.state("selected"), self.state("others")), (day, [ellipse]))
        self.part("combine")
        page.get_by_role("button", name="cut out of the one chosen last").click()
        page.wait_for_function(f"!nestLine.store.getState().scene.objects['{ellipse}']")
        self.settled()
        self.part("fill")
        page.get_by_role("button", name="No fill").click()
        self.settled()
        self.assertIsNone(self.state(f"scene.objects.{day}.fill"))
        self.assertEqual(self.state("document.pages[0].objects").__len__(), 6)

        # A price badge, turned, its figures in its middle.
        badge = self.draw("Polygon", (70, 800), (200, 930))
        self.part("outline")
        slider = page.get_by_role("slider", name="Sides")
        slider.focus()
        for _ in range(6):
            slider.press("ArrowRight")
        self.settled()
        self.close()
        self.color("fill", "#cf4a32", "kite red")
        self.write("Free")
        self.choose("align", "centred")
        self.choose("sit", "middle")
        self.part("place")
        turn = page.get_by_label("Turned by, in degrees")
        turn.fill("-8")
        turn.press("Enter")
        self.settled()
        self.close()
        self.choose("setting", "turn with it")
        self.assertEqual(self.state("document.pages[0].objects").__len__(), 7)

        # Pale copy on the dark hill: it reads by itself.
        page.mouse.click(*self.on_page(420, 1150))
        self.assertEqual(self.state("selected"), near)
        self.write(WAY)
        self.assertEqual(
            self.state(f"scene.shapes['{self.state(f'scene.nests.{near}.shape')}'].rules[0].colorName"), "paper"
        )
        self.choose("align", "centred")

        # Nothing is left over, and every word is in the PDF.
        over = {i: self.state(f"scene.nests.{i}.leftover") for i in (title, kite, day, badge, near)}
        self.assertEqual(set(over.values()), {0}, over)
        self.assertNotIn(far, self.state("scene.nests"))
        # Drawn by hand, the hill ends half a point into the bleed, which is said before it goes out.
        page.get_by_role("region", name="Tally").get_by_text("fault").wait_for()
        page.get_by_role("button", name="Export").click()
        page.get_by_role("menuitem", name="PDF for print").click()
        page.get_by_text("press again to export all the same").wait_for()
        with page.expect_download() as download:
            page.get_by_role("menuitem", name="PDF for print").click()
        text = subprocess.run(
            ["pdftotext", "-raw", str(download.value.path()), "-"], capture_output=True, text=True, check=True
        )
        words = f"Quarrowby Kite Day {STORY} {DAY} Free {WAY}".split()
        self.assertEqual(sorted(text.stdout.split()), sorted(words))
