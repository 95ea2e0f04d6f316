"""Rules that travel: recipes followed and changed, versions of copies, several frames changed at once."""

import json
import tempfile
from pathlib import Path

from e2e.support import BrowserCase


class Travelling(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.new_document("Travelling", "Phone screen")

    def label(self, text: str, x: float, y: float) -> str:
        frame = self.draw("Rectangle", (x, y), (x + 90, y + 34))
        self.page.get_by_label("Copy", exact=True).click()
        self.page.keyboard.insert_text(text)
        self.settled()
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("Escape")
        return frame

    def choose(self, *frames: str) -> None:
        self.page.evaluate(
            "(ids) => nestLine.store.setState({ selected: ids[0], others: ids.slice(1), tool: { kind: 'hand' } })",
            list(frames),
        )

    def length(self, field: str, text: str) -> None:
        self.page.get_by_label(field).fill(text)
        self.page.keyboard.press("Enter")
        self.settled()
        self.page.keyboard.press("Escape")

    def follow(self, frame: str, recipe: str) -> None:
        self.choose(frame)
        self.part("recipe")
        self.page.get_by_role("radio", name=recipe).click()
        self.settled()

    def object(self, id: str) -> dict:  # type: ignore[type-arg]
        return self.page.evaluate(
            "(id) => nestLine.store.getState().document.pages[0].objects.find((o) => o.id === id)", id
        )  # type: ignore[no-any-return]

    def width(self, id: str) -> float:
        return self.state(f"scene.objects.{id}.box")[2]  # type: ignore[no-any-return]

    def test_buttons_follow_a_recipe_keep_their_padding_and_change_together(self) -> None:
        page = self.page
        one, two = self.label("Fly", 30, 40), self.label("Reserve", 30, 120)
        self.follow(one, "Button")
        self.follow(two, "Button")
        short, long = self.width(one), self.width(two)
        self.assertLess(short, long)
        # Longer words: the button grows, its padding stays.
        self.choose(one)
        page.get_by_label("Copy", exact=True).click()
        page.keyboard.press("Control+a")
        page.keyboard.insert_text("Reserve a place on the hill")
        self.settled()
        page.keyboard.press("Escape")
        self.assertGreater(self.width(one), 2 * short)
        nest = self.state(f"scene.nests.{one}")
        box = self.state(f"scene.objects.{one}.box")
        left, right = nest["records"][6], nest["records"][7]
        self.assertAlmostEqual(left - box[0], 1.4 * 12, delta=0.8)
        self.assertAlmostEqual(box[0] + box[2] - right, 1.4 * 12, delta=0.8)
        # One departs, says so, and returns.
        self.part("padding")
        self.length("Room to the edge", "30")
        self.assertIn("but for its padding", page.locator('[data-part="recipe"]').inner_text())
        self.part("recipe")
        page.get_by_role("button", name="return", exact=True).click()
        self.settled()
        page.keyboard.press("Escape")
        self.assertNotIn("padding", self.object(one)["frame"])
        # The recipe itself: both change.
        before = self.width(one), self.width(two)
        self.part("recipe")
        page.get_by_role("button", name="Change Button").click()
        self.part("padding")
        self.length("Room to the edge", "8 40")
        self.assertEqual(self.state("document.recipes.Button.frame.padding"), ["8px", "40px", "8px", "40px"])
        self.assertGreater(min(self.width(one) - before[0], self.width(two) - before[1]), 20)
        page.get_by_role("button", name="Done").click()
        # Let go, it stays as it is.
        wide = self.width(one)
        self.part("recipe")
        page.get_by_role("button", name="Let this frame go").click()
        self.settled()
        self.assertEqual((self.width(one), self.object(one).get("recipe")), (wide, None))

    def test_a_recipe_of_ones_own_is_for_new_frames_of_another_document(self) -> None:
        page = self.page
        frame = self.label("Bring string", 30, 40)
        self.choose(frame)
        self.part("padding")
        self.length("Room to the edge", "7")
        self.part("recipe")
        page.get_by_role("button", name="Save a recipe").click()
        page.get_by_label("Name of the recipe").fill("Seven")
        page.get_by_role("button", name="Save", exact=True).click()
        self.settled()
        self.part("recipe")
        page.get_by_role("button", name="Keep Seven").click()
        page.get_by_text("is in your library").wait_for()
        page.get_by_role("button", name="All documents").click()
        page.get_by_role("button", name="Recipes").click()
        row = page.get_by_role("listitem").filter(has_text="Seven")
        row.get_by_label("for new frames").click()
        page.get_by_text("New frames follow Seven.").wait_for()
        with page.expect_download() as given:
            page.get_by_role("link", name="Give out as JSON").click()
        content = json.loads(Path(given.value.path()).read_text())
        self.assertEqual(content["recipes"]["Seven"]["frame"]["padding"], "7px")
        # Taken out and brought in again.
        row.get_by_role("button", name="Take out Seven").click()
        page.get_by_text("is taken out of your library").wait_for()
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "recipes.json"
            file.write_text(json.dumps(content))
            page.get_by_label("File of recipes").set_input_files(file)
            page.get_by_text("are in your library").wait_for()
        row.get_by_label("for new frames").click()
        page.get_by_text("New frames follow Seven.").wait_for()
        page.get_by_role("button", name="Done").click()
        self.new_document("Another", "Phone screen")
        new = self.label("Fly", 30, 40)
        self.assertEqual(self.object(new)["recipe"], "Seven")
        self.assertEqual(self.state(f"scene.objects.{new}.follows.rules.frame.padding"), "7px")

    def test_copy_replaced_by_its_german_version_and_what_stands_in(self) -> None:
        page = self.page
        frame = self.label("Fly a kite", 30, 40)
        self.choose(frame)
        self.part("give")
        page.get_by_role("checkbox", name="right edge holds").click()
        page.get_by_label("lines do not wrap").click()
        self.settled()
        page.keyboard.press("Escape")
        english = self.width(frame)
        page.get_by_label("Version shown: English").click()
        page.get_by_role("menuitem", name="Add a version").click()
        page.get_by_role("combobox", name="Language").select_option("de")
        page.get_by_role("button", name="Add it").click()
        self.settled()
        page.get_by_label("Copy", exact=True).click()
        page.keyboard.press("Control+a")
        page.keyboard.insert_text("Einen Drachen über dem Hügel steigen lassen")
        self.settled()
        page.keyboard.press("Escape")
        self.assertGreater(self.width(frame), 2 * english)
        self.assertEqual(self.lines(frame), ["Einen Drachen über dem Hügel steigen lassen"])
        # A frame made now has German copy alone; English falls back to it, visibly.
        late = self.label("Nur deutsch", 30, 120)
        self.choose(late)
        page.get_by_label("Version shown: German").click()
        page.get_by_role("menuitem", name="English").click()
        self.settled()
        self.assertAlmostEqual(self.width(frame), english, delta=0.01)
        page.get_by_role("region", name="Tally").get_by_text("de ·").wait_for()
        page.get_by_text("This copy has no English").wait_for()
        page.get_by_role("button", name="Add it").click()
        self.settled()
        self.assertEqual(self.state(f"scene.nests.{late}.version"), "en")

    def test_several_frames_say_ranges_and_change_together(self) -> None:
        page = self.page
        one, two = self.label("Fly", 30, 40), self.label("Land", 30, 120)
        for frame, padding, size in ((one, "4px", "9px"), (two, "10px", "14px")):
            self.choose(frame)
            self.part("padding")
            self.length("Room to the edge", padding)
            self.part("size")
            self.length("Type size", size)
        self.choose(one, two)
        said = lambda part: page.locator(f'[data-part="{part}"]').inner_text()  # noqa: E731
        self.assertEqual(said("padding"), "4–10 px")
        self.assertIn("9–14", said("size"))
        self.part("sit")
        page.get_by_role("radio", name="middle").click()
        self.settled()
        page.keyboard.press("Escape")
        self.part("padding")
        self.length("Room to the edge", "6px")
        self.part("size")
        self.length("Type size", "11px")
        self.assertEqual([self.object(i)["frame"]["padding"] for i in (one, two)], ["6px", "6px"])
        self.assertEqual([self.object(i)["frame"]["sit"] for i in (one, two)], ["middle", "middle"])
        self.assertEqual([self.state(f"scene.nests.{i}.size") for i in (one, two)], [8.25, 8.25])
        self.assertEqual(said("padding"), "6 px")
