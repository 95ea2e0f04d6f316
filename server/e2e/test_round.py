"""Copy round pictures: a subject traced on white, its clearance, copy below it and inside a shape."""

import tempfile
from pathlib import Path

from demo.pictures import draw
from e2e.support import BrowserCase
from nestline.rows import SCREEN_RECORD

LONG = "Bring string and a warm coat, the wind on Quarry Hill is colder than it looks from the road below. "


class Round(BrowserCase):
    def test_a_box_kite_on_white_is_wrapped_closely_and_copy_goes_below_it(self) -> None:
        page = self.page
        self.new_document("Round", "Phone screen")
        frame = self.draw("Rectangle", (20, 20), (270, 400))
        page.get_by_label("Copy", exact=True).click()
        page.keyboard.insert_text(LONG * 12)
        self.settled()
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "box kite.jpg"
            file.write_bytes(draw()["pictures/box-kite-on-white.jpg"])
            page.set_input_files("#picture-file", str(file))
            page.wait_for_function("Object.values(nestLine.store.getState().scene.objects).some((o) => o.picture)")
        self.settled()
        picture = self.state("selected")

        def slots() -> list[list[float]]:
            """Top, bottom, left, right of every slot that holds copy in the frame."""
            return page.evaluate(  # type: ignore[no-any-return]
                """([id, columns]) => { const r = nestLine.store.getState().scene.nests[id].records; const out = [];
                   for (let i = 0; i < r.length; i += columns) if (!r[i + 10]) out.push([r[i + 2], r[i + 3], r[i + 4],
                     r[i + 5]]); return out; }""",
                [frame, len(SCREEN_RECORD)],
            )

        def narrowest() -> float:
            return min(right - left for _, _, left, right in slots())

        x, y, w, h = self.state(f"scene.objects.{picture}.box")
        self.drag((x + w / 2, y + h / 2), (x + w / 2 + 145 - (x + w / 2), y + h / 2 + 200 - (y + h / 2)))
        x, y, w, h = self.state(f"scene.objects.{picture}.box")
        self.assertIn("plain background", page.locator('[data-part="contour"]').inner_text())
        close = slots()
        # Closer than the box: some slot reaches into it, and none covers its middle.
        beside = [s for s in close if s[0] > y and s[1] < y + h]
        self.assertTrue(any(x + 3 < s[3] < x + w or x < s[2] < x + w - 3 for s in beside))
        # Its points are moved by hand.
        self.part("contour")
        page.get_by_role("button", name="Edit its points by hand").click()
        page.wait_for_function("nestLine.store.getState().tool.of === 'contour'")
        self.settled()
        traced = self.state(f"scene.objects.{picture}.contour")
        self.assertLess(traced["points"], 60)
        px, py = (float(v) for v in traced["path"][1:].split("C")[0].split("L")[0].split())
        self.drag((x + px, y + py), (x + px - 30, y + py - 12))
        page.wait_for_function("nestLine.store.getState().undoLabel === 'Move point'")
        self.assertNotEqual(slots(), close)
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        self.assertIn("drawn by hand", page.locator('[data-part="contour"]').inner_text())
        page.get_by_role("button", name="Undo").click()
        self.settled()
        self.part("clearance")
        page.get_by_label("Copy keeps away by").fill("24pt")
        page.keyboard.press("Enter")
        self.settled()
        page.keyboard.press("Escape")
        self.assertNotEqual(slots(), close)
        self.assertLessEqual(narrowest(), min(s[3] - s[2] for s in close) + 0.01)
        # Nothing beside it at all.
        self.part("wrap")
        page.get_by_role("radio", name="no: on below it").click()
        self.settled()
        page.keyboard.press("Escape")
        self.assertTrue(all(s[1] <= y - 24 + 0.1 or s[0] >= y + h + 24 - 0.1 for s in slots()))
        self.assertEqual(len({round(s[3] - s[2], 1) for s in slots()}), 1)
        # Copy inside its outline only.
        self.part("wrap")
        page.get_by_role("radio", name="only inside it").click()
        self.settled()
        page.get_by_role("radio", name="its outline").click()
        self.settled()
        page.keyboard.press("Escape")
        inside = slots()
        self.assertTrue(inside and all(s[2] >= x + 24 - 0.1 and s[3] <= x + w - 24 + 0.1 for s in inside))
