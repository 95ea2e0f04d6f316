"""Whole pieces of a designer's work, from an empty document, by mouse and keys: what each step leaves is as it
was set."""

from __future__ import annotations

import io
import os
import re
import tempfile
from collections.abc import Sequence
from pathlib import Path
from random import Random
from typing import Any

import docx

from demo.pictures import draw
from e2e.support import BrowserCase

SENTENCES = (
    "Bring string and a warm coat. The wind on the hill is colder than it looks from the road. Nobody "
    "hurries up there. "
    "At noon the long dragon goes up from the tower."
)


class Work(BrowserCase):
    """What hands do: nothing here reaches into the page but to read what is seen."""

    def begin(self, title: str, sheet: str = "A4 sheet") -> None:
        self.new_document(title, sheet)
        self.page.evaluate("nestLine.store.setState({ everyRule: true })")

    def look(self, name: str) -> None:
        """A picture of how it stands, where a folder for them is named."""
        if folder := os.environ.get("NEST_LOOK"):
            self.page.wait_for_timeout(400)
            self.page.screenshot(path=f"{folder}/{name}.png")

    def outline(self, key: str, start: tuple[float, float], end: tuple[float, float]) -> str:
        """Draw a ready outline by its keys and the mouse."""
        before = set(self.state("scene.objects"))
        self.page.keyboard.press("n")
        self.page.keyboard.press(key)
        self.drag(start, end)
        self.page.wait_for_function("nestLine.store.getState().justMade !== null")
        return next(iter(set(self.state("scene.objects")) - before))

    def keys(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)

    def type(self, text: str) -> None:
        self.page.keyboard.type(text)
        self.page.wait_for_timeout(80)
        self.settled()

    def bench(self) -> None:
        """Out of the copy, the keys on the bench."""
        self.page.keyboard.press("Escape")
        self.page.get_by_role("application").focus()

    def write(self, *, over: bool = True) -> None:
        """The caret into the copy of what is chosen; all of it chosen."""
        self.page.get_by_role("application").focus()
        self.page.keyboard.press("Enter")
        self.page.wait_for_function("nestLine.store.getState().caret !== null")
        if over:
            self.page.keyboard.press("Control+a")

    def press(self, x: float, y: float, **more: Any) -> None:
        self.page.mouse.click(*self.on_page(x, y), **more)

    def choose(self, part: str, *radios: str) -> None:
        self.part(part)
        for radio in radios:
            self.page.get_by_role("radio", name=radio, exact=True).click()
            self.settled()
        self.page.keyboard.press("Escape")

    def figure(self, part: str, label: str, text: str) -> None:
        self.part(part)
        field = self.page.get_by_label(label, exact=False).first
        field.fill(text)
        field.press("Enter")
        self.settled()
        self.page.keyboard.press("Escape")

    def rule(self, frame: str, name: str, number: int = 0) -> Any:
        shape = self.state(f"scene.nests.{frame}.shape")
        return self.page.evaluate(
            "([s, n, i]) => { const x = nestLine.store.getState().scene.shapes[s]; return x.rules[x.ruleOf[i]][n]; }",
            [shape, name, number],
        )

    def box(self, identity: str) -> list[float]:
        return list(self.state(f"scene.objects.{identity}.box"))

    def words(self, frame: str) -> str:
        return str(self.state(f"scene.shapes[nestLine.store.getState().scene.nests.{frame}.shape].text"))

    def near(self, a: Sequence[float], b: Sequence[float], delta: float = 0.6) -> None:
        for one, other in zip(a, b, strict=True):
            self.assertAlmostEqual(one, other, delta=delta)

    def bring(self, name: str, content: bytes) -> str:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / name
            file.write_bytes(content)
            before = len(self.state("scene.objects"))
            self.page.set_input_files("#picture-file", str(file))
            self.page.wait_for_function(f"Object.keys(nestLine.store.getState().scene.objects).length > {before}")
        self.settled()
        return str(self.state("selected"))


class ALabelThatChanges(Work):
    def test_its_looks_stay_whatever_it_says(self) -> None:
        self.begin("Label", "Phone screen")
        label = self.outline("r", (60, 100), (160, 140))
        self.type("Fly")
        self.bench()
        # Pale by itself on ink.
        self.part("fill")
        self.page.locator(".card").get_by_role("button", name="ink", exact=True).click()
        self.settled()
        self.page.keyboard.press("Escape")
        self.part("color")
        self.page.locator(".card").get_by_role("button", name="paper", exact=True).click()
        self.settled()
        self.page.keyboard.press("Escape")
        self.figure("outline", "Corners", "20px")
        self.choose("align", "centred")
        self.choose("sit", "middle")
        self.choose("hang", "cap height")
        self.choose("stand", "the baseline")
        self.figure("size", "Type size", "18px")
        self.figure("padding", "Room to the edge", "8px 16px")
        self.part("give")
        for edge in ("left edge", "right edge"):
            self.page.get_by_role("checkbox", name=edge).click()
            self.settled()
        self.page.keyboard.press("Escape")
        self.look("1-label")
        middle = self.box(label)[0] + self.box(label)[2] / 2
        widths = []
        for said in ("Reserve a place on the hill", "Buy", "", "Fly"):
            self.press(middle, self.box(label)[1] + self.box(label)[3] / 2)
            self.write()
            if said:
                self.type(said)
            else:
                self.page.keyboard.press("Backspace")
                self.page.wait_for_timeout(100)
                self.settled()
            self.bench()
            x, _, width, _ = self.box(label)
            if said:
                widths.append(width)
                self.assertEqual(self.words(label), said)
                self.assertEqual((self.rule(label, "align"), self.rule(label, "colorName")), ("center", "paper"))
                self.assertAlmostEqual(self.rule(label, "size"), 13.5, delta=0.01)
            self.assertAlmostEqual(x + width / 2, middle, delta=0.3)
            self.assertEqual(self.state(f"scene.nests.{label}.leftover"), 0)
        self.assertGreater(widths[0], widths[2] + 20)
        # Two lines, then one.
        self.write(over=False)
        self.page.keyboard.press("Control+End")
        self.page.keyboard.press("Enter")
        self.type("now")
        self.assertEqual(self.state(f"scene.nests.{label}.lines"), 2)
        self.page.keyboard.press("Control+z")
        self.settled()
        self.bench()
        # Three of a kind, each under the one before: renamed, they keep one size and their gaps.
        row = [label]
        for _ in range(2):
            before = set(self.state("scene.objects"))
            self.page.get_by_role("application").focus()
            self.keys("Control+d")
            self.page.wait_for_function(f"Object.keys(nestLine.store.getState().scene.objects).length > {len(before)}")
            self.settled()
            row.append(next(iter(set(self.state("scene.objects")) - before)))
            self.part("ties")
            self.page.get_by_label("What it goes by").select_option(row[-2])
            self.page.get_by_role("button", name="under it").click()
            self.settled()
        self.look("1-label-three")
        gaps = [
            self.box(lower)[1] - self.box(upper)[1] - self.box(upper)[3]
            for upper, lower in zip(row, row[1:], strict=False)
        ]
        self.keys("Escape", "Escape")
        self.press(middle, self.box(label)[1] + self.box(label)[3] / 2)
        self.assertEqual(self.state("selected"), label)
        self.write()
        self.type("Up it goes")
        self.bench()
        self.assertGreater(self.box(label)[2], widths[2])
        for one in row:
            self.near([self.box(one)[0], *self.box(one)[2:]], [self.box(label)[0], *self.box(label)[2:]], 0.05)
            self.assertEqual((self.rule(one, "align"), self.rule(one, "colorName")), ("center", "paper"))
        self.near(
            gaps,
            [
                self.box(lower)[1] - self.box(upper)[1] - self.box(upper)[3]
                for upper, lower in zip(row, row[1:], strict=False)
            ],
            0.05,
        )
        # Its rules saved, a fourth made from them.
        self.part("recipe")
        self.page.get_by_role("button", name="Save a recipe of this frame").click()
        self.page.get_by_label("Name of the recipe").fill("Button")
        self.page.keyboard.press("Enter")
        self.settled()
        self.page.keyboard.press("Escape")
        boxes = [self.box(one) for one in row]
        self.keys("Escape", "Escape")
        fourth = self.outline("r", (150, 420), (250, 460))
        self.type("Land")
        self.bench()
        self.part("recipe")
        self.page.get_by_role("radio", name="Button").click()
        self.settled()
        self.look("1-label-four")
        self.assertEqual((self.rule(fourth, "align"), self.rule(fourth, "colorName")), ("center", "paper"))
        self.assertEqual(self.state(f"scene.objects.{fourth}.fill"), self.state(f"scene.objects.{label}.fill"))
        self.assertEqual([self.box(one) for one in row], boxes)
        self.assertEqual(self.state(f"scene.nests.{fourth}.leftover"), 0)


class CopyInAHeart(Work):
    def test_it_sits_well_at_once_and_follows(self) -> None:
        self.begin("Heart")
        heart = self.outline("h", (150, 150), (430, 430))
        self.page.evaluate("(t) => navigator.clipboard.writeText(t).catch(() => 0)", SENTENCES)
        self.type(SENTENCES)
        self.bench()
        self.assertEqual(self.rule(heart, "align"), "center")
        self.assertEqual(self.state(f"scene.nests.{heart}.leftover"), 0)
        self.look("2-heart")
        # Which size reads best: tried side by side.
        self.part("tries")
        self.page.get_by_text("110 %").first.wait_for()
        self.look("2-heart-tries")
        self.page.keyboard.press("Escape")
        self.page.wait_for_timeout(200)
        # Fill off and on.
        self.press(290, 240)
        self.part("fill")
        self.page.get_by_role("button", name="No fill").click()
        self.settled()
        self.assertIsNone(self.state(f"scene.objects.{heart}.fill"))
        lines = self.lines(heart)
        self.page.get_by_role("button", name="Undo").click()
        self.settled()
        self.assertEqual(self.lines(heart), lines)
        # A sentence more, one less.
        self.write(over=False)
        self.page.keyboard.press("Control+End")
        self.type(" Bring friends.")
        self.assertIn("Bring friends.", self.words(heart))
        self.bench()
        # Smaller until words are over: said, with what it lacks; then in proportion until all stand.
        x, y, w, h = self.box(heart)
        self.drag((x + w, y + h), (x + w * 0.5, y + h * 0.5))
        self.page.get_by_text("left over").first.wait_for()
        self.page.get_by_text("lacks").first.wait_for()
        self.look("2-heart-over")
        self.part("give")
        self.page.get_by_label("in proportion, about its pivot").click()
        self.settled()
        self.page.keyboard.press("Escape")
        self.assertEqual(self.state(f"scene.nests.{heart}.leftover"), 0)
        # Turned by 20° with level lines.
        self.part("place")
        turn = self.page.get_by_label("Turned by, in degrees")
        turn.fill("20")
        turn.press("Enter")
        self.settled()
        self.page.keyboard.press("Escape")
        self.assertEqual(self.state(f"scene.objects.{heart}.turn"), 20)
        self.assertIsNone(self.state(f"scene.nests.{heart}.matrix"))
        self.assertEqual(self.state(f"scene.nests.{heart}.leftover"), 0)
        self.look("2-heart-turned")


class ACaptionUnderAPicture(Work):
    def test_it_goes_along_as_wide_and_unpushed(self) -> None:
        self.begin("Caption")
        body = self.outline("r", (60, 60), (540, 780))
        self.page.get_by_label("More for this copy").click()
        self.page.get_by_role("menuitem", name="Dummy copy").click()
        self.page.wait_for_function("Object.keys(nestLine.store.getState().scene.nests).length === 1")
        self.settled()
        picture = self.bring("tower.png", draw()["pictures/tower.png"])
        caption = self.outline("r", (200, 600), (300, 630))
        self.type("The signal tower at noon")
        self.bench()
        self.part("ties")
        self.page.get_by_label("What it goes by").select_option(picture)
        self.page.get_by_role("button", name="under it").click()
        self.settled()  # its card is shut by the choice; Esc would let go of the caption
        self.figure("padding", "Room to the edge", "4 0 0 0")
        self.look("3-caption")
        px, py, pw, ph = self.box(picture)
        cx, cy, cw, _ = self.box(caption)
        self.near([cx, cw, cy], [px, pw, py + ph + 6])
        self.assertEqual(self.state(f"scene.nests.{caption}.leftover"), 0)
        # The picture moves; the caption goes along, unpushed.
        self.press(px + pw / 2, py + ph / 2)
        self.assertEqual(self.state("selected"), picture)
        self.drag((px + pw / 2, py + ph / 2), (px + pw / 2 + 60, py + ph / 2 - 80))
        moved = self.box(picture)
        self.near(self.box(caption)[:3], [moved[0], moved[1] + moved[3] + 6, moved[2]])
        before = self.lines(body)
        # Three lines, then one: the caption grows down, and the copy round it makes way.
        self.page.keyboard.press("Escape")  # the handles of the picture lie over a thin caption
        self.press(moved[0] + moved[2] / 2, moved[1] + moved[3] + 12)
        self.assertEqual(self.state("selected"), caption)
        high = self.box(caption)[3]
        self.write()
        self.type("The signal tower at noon, with the long dragon above it, seen from the pond, where the geese stand")
        self.bench()
        self.assertGreater(self.box(caption)[3], high + 10)
        self.assertEqual(self.state(f"scene.nests.{caption}.leftover"), 0)
        self.near(self.box(caption)[:3], [moved[0], moved[1] + moved[3] + 6, moved[2]])
        self.look("3-caption-three")
        self.write()
        self.type("Noon")
        self.bench()
        self.assertLessEqual(self.box(caption)[3], high + 0.1)
        self.assertEqual(self.lines(body), before)


class RoundASubject(Work):
    def word_file(self) -> bytes:
        file = docx.Document()
        file.add_heading("The long dragon", 1)
        for number in range(10):
            file.add_paragraph(f"{SENTENCES} It was the {number + 1}th year, and the grass was dry. {SENTENCES}")
            if number == 4:
                file.add_heading("On the common", 2)
        out = io.BytesIO()
        file.save(out)
        return out.getvalue()

    def test_copy_runs_round_the_thing_and_no_word_is_covered(self) -> None:
        page = self.page
        self.begin("Round")
        body = self.outline("r", (50, 50), (545, 790))
        page.keyboard.press("Escape")
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "story.docx"
            file.write_bytes(self.word_file())
            page.get_by_label("More for this copy").click()
            with page.expect_file_chooser() as chooser:
                page.get_by_role("menuitem", name="Bring text from a file").click()
            chooser.value.set_files(str(file))
            page.wait_for_function("Object.keys(nestLine.store.getState().scene.nests).length === 1")
        self.settled()
        self.press(300, 400)
        self.part("columns")
        page.get_by_role("radio", name="2", exact=True).click()
        self.settled()
        page.keyboard.press("Escape")
        self.assertIn("The long dragon", self.words(body))
        picture = self.bring("box-kite-on-white.jpg", draw()["pictures/box-kite-on-white.jpg"])
        object_ = self.state(f"scene.objects.{picture}")
        self.assertEqual(self.state("document.pages[0].objects[1].wrap.by"), "contour")
        self.assertTrue(object_["picture"]["clip"])
        self.look("4-round")
        lines = self.lines(body)
        # Farther, nearer.
        self.figure("clearance", "Copy keeps away by", "1em")
        farther = self.lines(body)
        self.assertNotEqual(farther, lines)
        page.get_by_text("An em of").wait_for(state="detached")
        # Moved while the copy flows.
        x, y, w, h = self.box(picture)
        self.drag((x + w / 2, y + h / 2), (x + w / 2 + 40, y + h / 2 - 60))
        self.assertNotEqual(self.lines(body), farther)
        # A busy photograph instead: all ways to a contour are there from the first moment.
        busy = self.bring("dragon-kite-in-the-sky.jpg", draw()["pictures/dragon-kite-in-the-sky.jpg"])
        self.part("contour")
        page.get_by_role("radio", name="on its busy background").click()
        page.wait_for_function(f"nestLine.store.getState().scene.objects.{busy}.contour?.points > 0", timeout=60_000)
        self.settled()
        page.keyboard.press("Escape")
        self.look("4-round-busy")


class ATwoEndedPlate(Work):
    def test_a_plate_of_a_rectangle_and_two_circles(self) -> None:
        page = self.page
        self.begin("Plate")
        page.evaluate("nestLine.store.setState({ snapping: true })")
        self.outline("r", (150, 200), (450, 300))
        page.keyboard.press("Escape")
        self.outline("e", (100, 200), (200, 300))
        page.keyboard.press("Escape")
        self.outline("e", (400, 200), (500, 300))
        page.keyboard.press("Escape")
        page.get_by_role("application").focus()
        page.keyboard.press("Control+a")
        self.part("combine")
        page.get_by_role("button", name="joined into one").click()
        page.wait_for_function("Object.keys(nestLine.store.getState().scene.objects).length === 1")
        self.settled()
        plate = self.state("selected")
        self.near(self.box(plate), [100, 200, 400, 100], 1.5)
        # A circle cut out of a corner.
        page.keyboard.press("Escape")
        self.outline("e", (470, 180), (530, 240))
        page.keyboard.press("Escape")
        page.keyboard.down("Shift")
        page.mouse.click(*self.on_page(300, 250))
        page.keyboard.up("Shift")
        self.part("combine")
        page.get_by_role("button", name="cut out of the one chosen last").click()
        page.wait_for_function("Object.keys(nestLine.store.getState().scene.objects).length === 1")
        self.settled()
        # Deep green, pale copy by itself, dots round it that stay dots.
        self.part("fill")
        page.get_by_role("button", name="ink", exact=True).click()
        self.settled()
        page.keyboard.press("Escape")
        self.figure("stroke", "Width", "4")
        self.part("stroke")
        page.get_by_role("radio", name="dotted").click()
        self.settled()
        page.get_by_label("Width", exact=False).first.fill("8")
        page.get_by_label("Width", exact=False).first.press("Enter")
        self.settled()
        page.keyboard.press("Escape")
        stroke = self.state("scene.objects[nestLine.store.getState().selected].stroke")
        self.assertEqual((stroke["width"], stroke["dash"]), (8, [0, 20]))
        page.get_by_role("application").focus()
        page.keyboard.press("Enter")
        self.type("To the kites")
        self.bench()
        one = self.state("selected")
        self.assertEqual(self.rule(one, "colorName"), "paper")
        self.look("5-plate")


class AFullPagePhotograph(Work):
    def test_it_is_background_and_copy_stands_over_it(self) -> None:
        page = self.page
        self.begin("Photograph")
        photo = self.bring("dragon-kite-in-the-sky.jpg", draw()["pictures/dragon-kite-in-the-sky.jpg"])
        # As large as the page.
        for label, text in (("From the left", "0"), ("From the top", "0"), ("Width", "210mm"), ("Height", "297mm")):
            self.figure("place", label, text)
        # Copy in an outline drawn by clicks.
        page.keyboard.press("Escape")
        page.get_by_role("application").focus()
        page.keyboard.press("n")
        page.keyboard.press("d")
        for x, y in ((120, 500), (480, 480), (500, 760), (140, 770)):
            self.press(x, y)
        self.press(120, 500)
        page.wait_for_function("Object.keys(nestLine.store.getState().scene.objects).length === 2")
        self.settled()
        page.keyboard.press("Enter")
        self.type(SENTENCES)
        self.bench()
        frame = self.state("selected")
        # The photograph behind pushes nothing: all words stand.
        self.assertEqual(self.state(f"scene.nests.{frame}.leftover"), 0)
        self.assertEqual(self.state(f"scene.nests.{frame}.pushedBy"), [])
        self.part("fill")
        page.get_by_role("button", name="paper", exact=True).click()
        self.settled()
        page.get_by_role("slider", name="Opacity").focus()
        for _ in range(30):
            page.keyboard.press("ArrowLeft")
        self.settled()
        page.keyboard.press("Escape")
        fill = self.state(f"scene.objects.{frame}.fill")
        self.assertAlmostEqual(fill["opacity"], 0.7, delta=0.001)
        self.assertIn("70 % opaque", page.locator('[data-part="fill"]').inner_text())
        self.look("6-photograph")
        # Clean, and back by Esc.
        page.get_by_role("application").focus()
        page.wait_for_timeout(1100)
        page.keyboard.press(".")
        page.get_by_role("region", name="Tally").wait_for(state="detached")
        self.look("6-photograph-clean")
        page.keyboard.press("Escape")
        page.get_by_role("region", name="Tally").wait_for()
        del photo


class AStarToItsWords(Work):
    def test_type_goes_into_a_star_that_stays_as_it_was_seen(self) -> None:
        page = self.page
        self.begin("Star")
        star = self.outline("s", (160, 300), (440, 580))
        page.keyboard.press("Escape")
        seen = self.box(star)
        # Separate words: a line of type.
        page.keyboard.press("n")
        page.keyboard.press("l")
        self.press(120, 150)
        page.wait_for_function("nestLine.store.getState().caret !== null")
        self.type("Up and away at noon")
        self.bench()
        line = self.state("selected")
        page.keyboard.down("Shift")
        self.press(300, 440)
        page.keyboard.up("Shift")
        self.assertEqual({self.state("selected"), *self.state("others")}, {star, line})
        page.get_by_role("button", name="Put the copy into the outline").click()
        page.wait_for_function("Object.keys(nestLine.store.getState().scene.objects).length === 1")
        self.settled()
        self.near(self.box(star), seen, 0.05)
        self.look("7-star")
        # Sized until no word is lost: in proportion.
        self.part("give")
        page.get_by_label("in proportion, about its pivot").click()
        self.settled()
        page.keyboard.press("Escape")
        self.assertEqual(self.state(f"scene.nests.{star}.leftover"), 0)
        grown = self.box(star)
        for align in ("flush left", "justified", "centred"):
            self.choose("align", align)
            self.assertEqual(self.state(f"scene.nests.{star}.leftover"), 0)
        self.choose("align", "centred")
        grown = self.box(star)
        # Only then the letters as outlines: the star stays as it was seen.
        page.get_by_label("More for this copy").click()
        page.get_by_role("menuitem", name="Turn into outlines").click()
        page.get_by_role("dialog").locator(".button-main").click()
        page.wait_for_function("Object.keys(nestLine.store.getState().scene.nests).length === 0")
        self.settled()
        self.near(self.box(star), grown, 0.05)
        self.look("7-star-outlines")


class AStoryThatRunsOn(Work):
    def test_a_sidebar_grows_and_the_story_goes_on_overleaf(self) -> None:
        page = self.page
        self.begin("Story")
        side = self.outline("r", (60, 80), (260, 180))
        self.type(SENTENCES)
        self.bench()
        self.part("give")
        page.get_by_role("checkbox", name="bottom edge").click()
        self.settled()
        page.keyboard.press("Escape")
        high = self.box(side)[3]
        self.write(over=False)
        page.keyboard.press("Control+End")
        page.keyboard.press("Enter")
        self.type(SENTENCES)
        self.bench()
        grown = self.box(side)
        self.assertGreater(grown[3], high + 20)
        self.near(grown[:3], [60, 80, 200], 0.6)
        # Its words are cut: it shrinks again.
        self.write(over=False)
        page.keyboard.press("Control+End")
        page.keyboard.press("Shift+Control+ArrowUp")
        page.keyboard.press("Backspace")
        page.wait_for_timeout(150)
        self.settled()
        self.bench()
        self.assertLess(self.box(side)[3], grown[3] - 10)
        # Held where it is seen: nothing moves.
        now = self.box(side)
        self.part("give")
        page.get_by_role("checkbox", name="bottom edge").click()
        self.settled()
        page.keyboard.press("Escape")
        self.near(self.box(side), now, 0.05)
        # The story goes on in another frame: its tag dragged to an empty place.
        tag = page.get_by_role("button", name="goes on …").bounding_box()
        assert tag
        page.mouse.move(tag["x"] + 20, tag["y"] + 8)
        page.mouse.down()
        page.mouse.move(*self.on_page(340, 120), steps=8)
        page.mouse.up()
        page.wait_for_function("(nestLine.store.getState().document.chains ?? []).length === 1")
        self.settled()
        self.near(self.box(side), now, 0.05)
        page.get_by_role("button", name="Undo").click()
        self.settled()
        # Overleaf: a page more, the tag of the words left over dragged onto it.
        self.press(560, 820)
        self.keys("Escape")
        self.part("pages")
        page.get_by_role("button", name="Add a page behind page 1").click()
        page.wait_for_function("nestLine.store.getState().scene.pages.length === 2")
        self.settled()
        page.keyboard.press("Escape")
        canvas = page.get_by_role("application").bounding_box()
        assert canvas
        for _ in range(4):
            page.get_by_role("button", name="Zoom out").click()
        page.mouse.move(canvas["x"] + 30, canvas["y"] + 300)
        page.mouse.wheel(0, -200)
        page.wait_for_timeout(200)
        self.look("8-pages")
        self.press(160, 100)
        self.write(over=False)
        page.keyboard.press("Control+End")
        page.keyboard.press("Enter")
        self.type(SENTENCES)
        self.bench()
        self.keys("Escape")
        over = page.get_by_role("button", name="left over")
        over.wait_for()
        tag = over.bounding_box()
        assert tag
        page.mouse.move(tag["x"] + 20, tag["y"] + 8)
        page.mouse.down()
        page.mouse.move(*self.on_page(140, 1100), steps=12)
        page.mouse.up()
        page.wait_for_function("(nestLine.store.getState().document.chains ?? []).length === 1")
        self.settled()
        over.wait_for(state="detached")
        [_, overleaf] = self.state("document.chains[0]")
        self.assertEqual(self.state(f"scene.objects.{overleaf}.page"), 1)
        self.near(self.box(side), now, 0.05)
        # A jump line knows its page, also after the pages were swapped.
        page.get_by_role("region", name="Tally").get_by_role("listitem").first.get_by_role("button").first.click()
        self.part("chain")
        page.get_by_role("button", name="below this frame").click()
        page.wait_for_function("Object.keys(nestLine.store.getState().scene.objects).length === 3")
        self.settled()
        jump = next(iter(set(self.state("scene.objects")) - {side, overleaf}))
        self.assertEqual(self.words(jump), "continued on page 2")
        self.look("8-jump")
        # A second frame put between.
        page.get_by_role("region", name="Tally").get_by_role(
            "button", name=self.state(f"scene.labels.{side}"), exact=True
        ).click()
        self.part("chain")
        page.get_by_role("button", name="a new frame of the same kind").click()
        page.wait_for_function("nestLine.store.getState().document.chains[0].length === 3")
        self.settled()
        self.look("8-between")
        said = " ".join(self.lines(side) + self.lines(self.state("document.chains[0][1]")) + self.lines(overleaf))
        self.assertEqual(said.split(), self.words(side).split())
        page.get_by_role("button", name="Undo").click()
        self.settled()
        self.keys("Escape", "Escape")
        self.part("pages")
        page.get_by_label("Page 2 before the one above it").click()
        page.wait_for_function(f"nestLine.store.getState().scene.objects.{side}.page === 1")
        self.settled()
        page.keyboard.press("Escape")
        self.assertEqual(self.words(jump), "continued on page 1")
        self.look("8-swapped")


class APictureInTheCopy(Work):
    def test_in_line_at_the_caret_then_beside_then_in_the_middle(self) -> None:
        page = self.page
        self.begin("In the copy")
        body = self.outline("r", (120, 60), (480, 560))
        self.type(SENTENCES)
        page.keyboard.press("Enter")
        self.type("Here it stands.")
        # The caret on an empty line of its own; a picture comes there.
        page.keyboard.press("Home")
        page.keyboard.press("Enter")
        page.keyboard.press("ArrowUp")
        page.wait_for_timeout(150)
        self.settled()
        picture = self.bring("reel.png", draw()["pictures/reel.png"])
        anchor = self.state(f"scene.objects.{picture}.anchor")
        self.assertEqual((anchor["place"], anchor["waits"]), ("in-line", False))
        paragraphs = self.state("document.copies['Copy 1'].versions.en.paragraphs")
        self.assertEqual([r.get("object") for r in paragraphs[1]["runs"]], [picture])
        self.assertIsNone(self.state(f"scene.objects.{picture}.wrap"), "in a line it pushes nothing")
        page.get_by_text("other copy takes no notice while it stands in a line").wait_for()
        self.look("9-in-line")
        # Hung out of the left edge of its line, moving with it.
        self.part("anchor")
        page.get_by_role("radio", name="beside its line").click()
        self.settled()
        page.get_by_label("It hangs at the").wait_for()
        # In the way of its own line it stays beside it, and copy goes on below.
        self.assertFalse(self.state(f"scene.nests.{body}.unsettled"))
        across = page.get_by_label("Distance across")
        across.fill("8mm")
        across.press("Enter")
        self.settled()
        self.look("9-beside")
        page.keyboard.press("Escape")
        before = self.box(picture)
        self.press(200, 100)
        self.write(over=False)
        page.keyboard.press("Control+Home")
        self.type(SENTENCES + " ")
        self.bench()
        self.assertGreater(self.box(picture)[1], before[1] + 10)
        self.assertAlmostEqual(self.box(picture)[0], before[0], delta=0.1)
        # In the middle of the frame, and still there when copy is added.
        x, y, w, h = self.box(picture)
        self.press(x + w / 2, y + h / 2)
        self.assertEqual(self.state("selected"), picture)
        self.part("anchor")
        page.get_by_role("radio", name="in the middle of the frame").click()
        self.settled()
        page.keyboard.press("Escape")
        x, y, w, h = self.box(picture)
        self.near([x + w / 2, y + h / 2], [300, 310], 1)
        self.look("9-middle")
        # Duplicated, the frame brings it along; deleted, it leaves it where it is.
        self.keys("Escape", "Escape")
        self.press(140, 550)
        self.assertEqual(self.state("selected"), body)
        page.keyboard.press("Control+d")
        self.settled()
        self.assertEqual(self.state("document.pages[0].objects.length"), 4)
        page.keyboard.press("Delete")
        self.settled()
        self.assertEqual(self.state("document.pages[0].objects.length"), 3)


class ColumnsInAnOval(Work):
    def test_leaded_out_with_a_tint_and_a_gutter(self) -> None:
        page = self.page
        self.begin("Oval")
        oval = self.outline("e", (80, 120), (520, 700))
        page.get_by_label("More for this copy").click()
        page.get_by_role("menuitem", name="Dummy copy").click()
        page.wait_for_function("Object.keys(nestLine.store.getState().scene.nests).length === 1")
        self.settled()
        self.press(300, 400)
        self.part("fill")
        page.get_by_role("slider", name="Tint").focus()
        for _ in range(40):
            page.keyboard.press("ArrowLeft")
        self.settled()
        page.keyboard.press("Escape")
        # Keys held on a slider lose no step.
        self.assertEqual(self.state("document.pages[0].objects[0].fill.tint"), 60)
        self.assertIn("a 60 % straw fill", page.locator('[data-part="fill"]').inner_text())
        self.part("columns")
        page.get_by_role("radio", name="2", exact=True).click()
        self.settled()
        page.keyboard.press("Escape")
        self.choose("align", "justified")
        self.choose("hang", "cap height")
        self.part("sit")
        page.get_by_role("radio", name="leaded out").click()
        self.settled()
        page.keyboard.press("Escape")
        self.assertLess(self.state(f"scene.nests.{oval}.leftover"), 40)
        # A gutter of 8 mm; the first lines of both columns still side by side.
        self.figure("columns", "Gutter", "8mm")
        self.look("12-oval")
        plain = self.lines(oval)
        # A pull quote across both columns: the copy makes way at once, and no word of it stands under the quote.
        self.keys("Escape", "Escape")
        quote = self.outline("r", (190, 370), (410, 430))
        self.type("Nobody hurries up there")
        self.bench()
        self.choose("wrap", "on both sides")
        self.assertNotEqual(self.lines(oval), plain)
        x, y, width, height = self.box(quote)
        flat = self.state(f"scene.nests.{oval}.records")
        for at in range(0, len(flat), 15):
            baseline, left, right = flat[at + 1], flat[at + 6], flat[at + 7]
            self.assertFalse(
                y < baseline < y + height and left < x + width - 0.1 and right > x + 0.1, (baseline, left, right)
            )
        self.look("12-quote")
        # The last line of a paragraph filled, and let go again.
        self.keys("Escape", "Escape")
        self.press(300, 600)
        self.assertEqual(self.state("selected"), oval)
        self.part("align")
        loose = self.state(f"scene.nests.{oval}.records")
        page.get_by_role("radio", name="filled").click()
        self.settled()
        self.assertNotEqual(self.state(f"scene.nests.{oval}.records"), loose)
        page.locator(".card").get_by_role("radio", name="left", exact=True).click()
        self.settled()
        self.assertEqual(self.state(f"scene.nests.{oval}.records"), loose)
        page.keyboard.press("Escape")
        # The leading by dragging its figure: no step of the hand is lost, and nothing but the lines moves.
        still, leading = (self.box(oval), self.box(quote)), self.rule(oval, "leading")
        self.part("size")
        handle = page.locator(".card").get_by_text("Leading ↔", exact=True).bounding_box()
        assert handle
        page.mouse.move(handle["x"] + 10, handle["y"] + handle["height"] / 2)
        page.mouse.down()
        page.mouse.move(handle["x"] + 40, handle["y"] + handle["height"] / 2, steps=10)
        page.mouse.up()
        self.settled()
        page.keyboard.press("Escape")
        self.assertGreater(self.rule(oval, "leading"), leading)
        self.assertEqual((self.box(oval), self.box(quote)), still)
        self.look("12-leading")


class AnOldDocument(Work):
    def test_guides_in_a_hurry_twenty_steps_back_and_forth(self) -> None:
        page = self.page
        self.begin("Old")
        frame = self.outline("r", (100, 100), (300, 200))
        page.keyboard.press("Escape")
        canvas = page.get_by_role("application").bounding_box()
        assert canvas
        # Two guides out of both rulers, one right after the other.
        for start, end in (
            ((canvas["x"] + 300, canvas["y"] + 6), self.on_page(200, 300)),
            ((canvas["x"] + 6, canvas["y"] + 300), self.on_page(250, 200)),
        ):
            page.mouse.move(*start)
            page.mouse.down()
            page.mouse.move(*end, steps=5)
            page.mouse.up()
        self.settled()
        guides = self.state("document.pages[0].guides")
        self.assertEqual((len(guides["x"]), len(guides["y"])), (1, 1))
        self.assertIsNone(self.state("collided"))
        # Thirty steps with a key held: none is lost.
        self.press(200, 150)
        x = self.box(frame)[0]
        for _ in range(30):
            page.keyboard.press("ArrowRight")
        self.settled()
        self.assertAlmostEqual(self.box(frame)[0], x + 30, delta=0.01)
        # Changes of different kinds, then back and forth over them, in a hurry.
        for key in ("ArrowDown", "ArrowLeft"):
            for _ in range(4):
                page.keyboard.press(key)
                page.wait_for_timeout(60)
        self.settled()
        after = self.box(frame)
        for _ in range(20):
            page.keyboard.press("Control+z")
        self.settled()
        self.assertEqual(self.state("document.pages[0].objects"), [])
        for _ in range(20):
            page.keyboard.press("Control+Shift+z")
        self.settled()
        self.near(self.box(frame), after, 0.01)

    def test_a_picture_replaced_a_colour_renamed_a_page_doubled(self) -> None:
        page = self.page
        self.begin("Old still")
        pictures = draw()
        body = self.outline("r", (60, 60), (535, 780))
        page.get_by_label("More for this copy").click()
        page.get_by_role("menuitem", name="Dummy copy").click()
        page.wait_for_function("Object.keys(nestLine.store.getState().scene.nests).length === 1")
        self.settled()
        picture = self.bring("box-kite-on-white.jpg", pictures["pictures/box-kite-on-white.jpg"])
        box, lines = self.box(picture), self.lines(body)
        # Another picture where it stands: its box stays, the copy runs round what the new one shows.
        self.part("within")
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "tower.png"
            file.write_bytes(pictures["pictures/tower.png"])
            old = self.state(f"scene.objects.{picture}.picture.file")
            page.locator(".card input[type=file]").set_input_files(str(file))
            page.wait_for_function(f"nestLine.store.getState().scene.objects.{picture}.picture.file !== '{old}'")
        self.settled()
        page.keyboard.press("Escape")
        self.assertEqual(self.box(picture), box)
        self.assertNotEqual(self.lines(body), lines)
        lines = self.lines(body)
        self.look("13-replaced")
        # A colour renamed everywhere: nothing that is seen changes.
        self.keys("Escape", "Escape")
        self.press(580, 830)
        self.part("colors")
        field = page.get_by_label("Name of straw")
        field.fill("stubble")
        field.press("Enter")
        self.settled()
        page.keyboard.press("Escape")
        self.press(80, 700)
        self.assertEqual(self.state("selected"), body)
        self.assertIn("a stubble fill", page.locator('[data-part="fill"]').inner_text())
        self.assertEqual((self.lines(body), self.box(picture)), (lines, box))
        # The page doubled: the same on both, each with copy of its own.
        self.keys("Escape", "Escape")
        self.press(580, 830)
        self.part("pages")
        page.get_by_label("Page 1 duplicated").click()
        page.wait_for_function("nestLine.store.getState().scene.pages.length === 2")
        self.settled()
        page.keyboard.press("Escape")
        first, second = (self.state(f"scene.pages[{n}].order") for n in (0, 1))
        self.assertEqual([self.box(one) for one in second], [self.box(one) for one in first])
        self.assertEqual([self.lines(one) for one in second if one in self.state("scene.nests")], [lines])
        self.look("13-doubled")


class Keys(Work):
    """Focus is where the eye is."""

    def test_keys_go_where_the_eye_is(self) -> None:
        page = self.page
        self.begin("Keys")
        one = self.outline("r", (60, 60), (260, 160))
        # An empty outline entered once does not draw later choices into copy.
        page.keyboard.press("Escape")
        page.get_by_role("application").focus()
        page.keyboard.press("Enter")
        page.wait_for_function("document.activeElement.closest('.galley') !== null")
        page.keyboard.press("Escape")
        other = self.outline("r", (60, 300), (260, 400))
        page.keyboard.press("Escape")
        self.press(100, 100)
        self.assertEqual(self.state("selected"), one)
        self.assertEqual(page.evaluate("document.activeElement.tagName"), "CANVAS")
        # A field that is opened by keys has its value chosen, and the key is not typed into it.
        page.wait_for_timeout(1100)
        page.keyboard.press("r")
        page.keyboard.press("z") if False else page.keyboard.press("x")
        field = page.get_by_label("From the left")
        field.wait_for()
        self.assertNotIn("x", field.input_value().replace("px", ""))
        page.keyboard.type("30")
        page.keyboard.press("Enter")
        self.settled()
        self.near([self.box(one)[0]], [30 * 72 / 25.4], 0.1)
        page.keyboard.press("Escape")
        # Typing in an outline just made is its copy, letters that are shortcuts too; after Esc they are shortcuts
        # again.
        third = self.outline("e", (60, 500), (300, 640))
        self.type("new rain")
        self.assertEqual(self.words(third), "new rain")
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        # Delete after choosing in the tally takes the object.
        tally = page.get_by_role("region", name="Tally")
        tally.get_by_role("button", name=self.state(f"scene.labels.{other}"), exact=True).click()
        page.keyboard.press("Delete")
        page.wait_for_function(f"!nestLine.store.getState().scene.objects.{other}")
        self.settled()
        # Another name by F2; without one it is called by its words.
        tally.get_by_role("button", name="new rain", exact=True).click()
        page.keyboard.press("F2")
        page.keyboard.type("Badge")
        page.keyboard.press("Enter")
        self.settled()
        tally.get_by_role("button", name="Badge", exact=True).wait_for()
        # Clean view ends with Esc.
        page.get_by_role("application").focus()
        page.wait_for_timeout(1100)
        page.keyboard.press(".")
        tally.wait_for(state="detached")
        page.keyboard.press("Escape")
        tally.wait_for()

    def test_formatting_survives_retyping_in_the_galley_too(self) -> None:
        page = self.page
        self.begin("Retyping")
        frame = self.outline("h", (100, 100), (400, 400))
        # On ink the first letter and the second are pale.
        page.keyboard.press("Escape")
        self.part("fill")
        page.get_by_role("button", name="ink", exact=True).click()
        self.settled()
        page.keyboard.press("Escape")
        page.get_by_label("Copy", exact=True).click()
        self.type("S")
        self.type("tring")
        self.assertEqual(self.words(frame), "String")
        self.assertEqual((self.rule(frame, "colorName"), self.rule(frame, "align")), ("paper", "center"))
        # Some words bold; typed over they stay bold; emptied and written anew the look is kept.
        page.keyboard.press("Control+a")
        page.keyboard.press("Control+b")
        self.settled()
        self.type("Kites")
        runs = self.state("document.copies['Copy 1'].versions.en.paragraphs[0].runs")
        self.assertEqual(runs, [{"text": "Kites", "weight": 700}])
        page.keyboard.press("Control+a")
        page.keyboard.press("Backspace")
        page.wait_for_timeout(150)
        self.settled()
        runs = self.state("document.copies['Copy 1'].versions.en.paragraphs[0].runs")
        self.assertEqual(runs, [{"text": "", "weight": 700}])
        self.bench()
        self.press(250, 200)
        page.keyboard.press("Enter")
        page.wait_for_function("nestLine.store.getState().caret !== null")
        self.type("Up")
        runs = self.state("document.copies['Copy 1'].versions.en.paragraphs[0].runs")
        self.assertEqual(runs, [{"text": "Up", "weight": 700}])
        self.assertEqual((self.rule(frame, "colorName"), self.rule(frame, "align")), ("paper", "center"))

    def test_two_fingers_move_the_bench_and_no_object(self) -> None:
        page = self.page
        self.begin("Fingers")
        frame = self.outline("r", (100, 100), (300, 300))
        page.keyboard.press("Escape")
        box, view = self.box(frame), self.state("view")
        x, y = self.on_page(200, 200)
        page.evaluate(
            """([x, y]) => {
              const canvas = document.querySelector('canvas');
              canvas.setPointerCapture = () => {};
              const touch = (type, id, dx, dy) => canvas.dispatchEvent(new PointerEvent(type, { pointerId: id,
                pointerType: 'touch', clientX: x + dx, clientY: y + dy, button: 0, bubbles: true,
                isPrimary: id === 11 }));
              touch('pointerdown', 11, 0, 0); touch('pointermove', 11, 4, 0);
              touch('pointerdown', 12, 40, 0);
              for (let i = 1; i <= 10; i++) { touch('pointermove', 11, -6 * i, 5 * i); touch('pointermove', 12,
                40 + 6 * i, 5 * i); }
              touch('pointerup', 11, -60, 50); touch('pointerup', 12, 100, 50);
            }""",
            [x, y],
        )
        page.wait_for_timeout(300)
        self.settled()
        self.assertEqual(self.box(frame), box)
        self.assertGreater(self.state("view")["scale"], view["scale"] * 1.5)


LATE = """(most) => { window.plainFetch ??= window.fetch; let seed = 7; const dice = () => (seed = (seed * 16807)
  % 2147483647) / 2147483647;
  window.fetch = async (...given) => { await new Promise((r) => setTimeout(r, dice() * most / 2));
    const a = await window.plainFetch(...given);
    await new Promise((r) => setTimeout(r, dice() * most / 2)); return a; }; }"""
"""Holds every answer of the server back, each for another time, in ms at most."""
LOSE = """() => { const plain = window.fetch; window.answersLost = 0;
  window.fetch = async (...given) => { const a = await plain(...given);
    if (String(given[0]).endsWith("/edits") && !window.answersLost) { window.answersLost++;
      throw new TypeError("lost"); } return a; }; }"""
"""Loses the answer to the next edit: it is made, and nothing says so."""
SEEN = """([id, x, y]) => { const s = nestLine.store.getState();
  const b = (s.tried?.objects[id] ?? s.scene.objects[id]).box;
  return Math.abs(b[0] - x) < 1.2 && Math.abs(b[1] - y) < 1.2; }"""


class Latency(Work):
    def test_no_step_is_lost_however_slow_the_line_and_fast_the_hand(self) -> None:
        page = self.page
        self.begin("Latency")
        page.evaluate("nestLine.store.setState({ snapping: false })")
        places = {}
        for x, y in ((60, 60), (60, 260), (300, 160)):
            one = self.outline("r", (x, y), (x + 100, y + 60))
            page.keyboard.press("Escape")
            places[one] = self.box(one)
        dice = Random(3)
        guides = 0
        canvas = page.get_by_role("application").bounding_box()
        assert canvas
        for most in (0, 150, 500):
            page.evaluate(LATE, most)
            for _ in range(14):
                one = dice.choice(list(places))
                box = places[one]
                what = dice.choice(["drag", "drag", "keys", "guide"])
                middle = (box[0] + box[2] / 2, box[1] + box[3] / 2)
                if what == "guide":
                    page.mouse.move(canvas["x"] + 6, canvas["y"] + 300)
                    page.mouse.down()
                    page.mouse.move(*self.on_page(dice.uniform(20, 570), 300), steps=3)
                    page.mouse.up()
                    guides += 1
                    continue
                # The hand takes hold of a thing as soon as it is seen there, stored or not.
                page.wait_for_function(SEEN, arg=[one, box[0], box[1]])
                page.mouse.move(*self.on_page(*middle))
                page.mouse.down()
                if what == "drag":
                    by = (dice.uniform(-30, 30), dice.uniform(-30, 30))
                    page.mouse.move(*self.on_page(middle[0] + by[0], middle[1] + by[1]), steps=4)
                    page.mouse.up()
                    box[0] += by[0]
                    box[1] += by[1]
                    continue
                page.mouse.up()
                for _ in range(dice.randint(1, 6)):
                    key, dx, dy = dice.choice([("ArrowRight", 1, 0), ("ArrowDown", 0, 1), ("Shift+ArrowLeft", -10, 0)])
                    page.keyboard.press(key)
                    box[0] += dx
                    box[1] += dy
            self.settled()
            self.assertIsNone(self.state("collided"))
            self.assertIsNone(self.state("notice"))
            for one, box in places.items():
                # A hand is as exact as a pixel: what it did is summed here, not what it came to.
                self.near(self.box(one)[:2], box[:2], 6)
                places[one] = self.box(one)
            self.assertEqual(len((self.state("document.pages[0].guides") or {"x": []})["x"]), guides)

    def test_the_network_away_for_a_while_loses_no_word(self) -> None:
        page = self.page
        self.begin("Away")
        frame = self.outline("r", (60, 60), (360, 200))
        self.type("Fly a kite")
        page.context.set_offline(True)
        page.keyboard.type(" up the hill")
        page.get_by_text(re.compile("waits? since")).wait_for()
        # The galley keeps the words and goes on taking more.
        page.keyboard.type(" at noon")
        self.assertIn("Fly a kite up the hill at noon", page.locator(".galley").inner_text())
        self.look("13-away")
        page.wait_for_timeout(1500)
        page.context.set_offline(False)
        page.get_by_text("everything is stored").wait_for()
        self.settled()
        self.assertEqual(self.words(frame), "Fly a kite up the hill at noon")
        self.assertIsNone(self.state("collided"))
        self.assertIn("Fly a kite up the hill at noon", page.locator(".galley").inner_text())
        # A change that was made while its answer was lost is not made twice.
        self.bench()
        self.press(200, 150)
        box = self.box(frame)
        page.evaluate(LOSE)
        page.keyboard.press("ArrowRight")
        page.get_by_text(re.compile("waits? since")).wait_for()
        page.get_by_text(re.compile("waits? since")).wait_for(state="detached")
        self.settled()
        self.assertEqual(page.evaluate("window.answersLost"), 1)
        self.assertIsNone(self.state("collided"))
        self.near(self.box(frame)[:2], [box[0] + 1, box[1]], 0.01)
        page.keyboard.press("ArrowRight")
        self.settled()
        self.near(self.box(frame)[:2], [box[0] + 2, box[1]], 0.01)
