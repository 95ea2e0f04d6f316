"""Pages: added, drawn on, duplicated, moved, deleted, of different sizes."""

from e2e.support import BrowserCase


class Pages(BrowserCase):
    def press(self, name: str) -> None:
        self.page.get_by_role("button", name=name).click()
        self.settled()

    def nothing_selected(self) -> None:
        self.page.evaluate("nestLine.store.setState({ selected: null, others: [], tool: { kind: 'hand' } })")

    def on_each(self) -> list[int]:
        return self.page.evaluate("nestLine.store.getState().document.pages.map((p) => p.objects.length)")  # type: ignore[no-any-return]

    def test_pages_are_made_filled_moved_and_deleted(self) -> None:
        page = self.page
        self.new_document("Pages", "Phone screen")
        self.draw("Star", (30, 30), (120, 120))
        self.nothing_selected()
        self.part("pages")
        self.press("Add a page behind page 1")
        self.assertEqual(self.on_each(), [1, 0])
        page.keyboard.press("Escape")
        self.assertEqual(page.locator('[data-part="pages"]').inner_text(), "page 2 of 2")
        # The second page is another size; the first one stays.
        self.part("page-size")
        page.get_by_role("button", name="Laptop").click()
        self.settled()
        page.keyboard.press("Escape")
        sizes = self.page.evaluate("nestLine.store.getState().scene.pages.map((p) => Math.round(p.width / 0.75))")
        self.assertEqual(sizes, [390, 1280])
        self.part("pages")
        self.press("Page 1 duplicated")
        self.assertEqual(self.on_each(), [1, 1, 0])
        self.press("Page 3 before the one above it")
        self.assertEqual(self.on_each(), [1, 0, 1])
        self.press("Page 1 deleted")
        self.assertEqual(self.on_each(), [0, 1])
        self.press("Page 2 deleted")
        self.assertTrue(page.get_by_role("button", name="Page 1 deleted").is_disabled())
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Undo").click()
        self.settled()
        self.assertEqual(self.on_each(), [0, 1])
