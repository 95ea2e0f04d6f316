"""Copy that runs from right to left: carets, selections and arrows go as they are seen; alignment and side follow."""

from __future__ import annotations

from typing import Any

from e2e.support import BrowserCase

HEBREW = "הביאו חוט וחברים אל הגבעה"
MIXED = "הביאו kite day וחברים"


def rtl(text: str, **rules: Any) -> dict[str, Any]:
    thing = {"id": "f", "x": 40, "y": 40, "width": 300, "height": 120, "frame": {"copy": "Label"}}
    paragraphs = [{"runs": [{"text": text}], "size": 18, **rules}]
    copies = {"Label": {"versions": {"en": {"language": "he", "paragraphs": paragraphs}}}}
    pages = [{"width": 400, "height": 300, "objects": [thing]}]
    return {"format": "nest-line", "version": 1, "title": "Right to left", "copies": copies, "pages": pages}


class FromTheRight(BrowserCase):
    def open(self, text: str) -> None:
        self.signed_in()
        self.open_raw(rtl(text))
        self.page.mouse.dblclick(*self.on_page(300, 50))
        self.writing()

    def x(self) -> float:
        return float(self.page.get_by_role("application").get_attribute("data-caret") or "nan")

    def walk(self, key: str, most: int) -> list[float]:
        """Where the caret stands after each press of an arrow, until it moves no more."""
        seen = [self.x()]
        for _ in range(most):
            self.page.keyboard.press(key)
            self.page.wait_for_timeout(30)
            seen.append(self.x())
        return seen

    def test_arrows_move_as_they_are_seen(self) -> None:
        self.open(HEBREW)
        self.page.keyboard.press("Home")
        self.page.wait_for_timeout(60)
        going = self.walk("ArrowLeft", len(HEBREW))
        self.assertEqual(going, sorted(going, reverse=True))
        self.assertGreater(going[0] - going[-1], 100)
        back = self.walk("ArrowRight", len(HEBREW))
        self.assertEqual(back, sorted(back))
        self.assertAlmostEqual(back[-1], going[0], 1)

    def test_arrows_move_as_they_are_seen_through_words_of_both_ways(self) -> None:
        self.open(MIXED)
        self.page.keyboard.press("Home")
        self.page.wait_for_timeout(60)
        going = self.walk("ArrowLeft", len(MIXED) + 3)
        self.assertEqual(going, sorted(going, reverse=True))
        self.assertGreater(going[0] - going[-1], 100)

    def test_it_begins_at_the_right_and_what_hangs_where_lines_begin_is_there(self) -> None:
        self.open(HEBREW)
        nest = self.state("scene.nests.f.records")
        self.assertTrue(self.state("scene.shapes[nestLine.store.getState().scene.nests.f.shape].fromRight")[0])
        self.assertGreater(len(nest), 0)
        galley = self.page.locator(".galley .ProseMirror p").first
        self.assertEqual(galley.evaluate("(e) => getComputedStyle(e).unicodeBidi"), "plaintext")
        self.page.keyboard.press("Escape")
        self.page.evaluate("nestLine.store.setState({ selected: 'f' })")
        self.part("align")
        self.page.get_by_role("radio", name="flush right").wait_for()
