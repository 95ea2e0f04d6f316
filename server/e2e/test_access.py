"""For everyone: by keyboard alone, by touch, in narrow windows, and by what axe-core says of every view and popover.

axe-core (npm) checks what WCAG 2.0 to 2.2, A and AA, say of markup, names, contrast and the size of targets.
"""

from __future__ import annotations

import itertools
import time
from pathlib import Path
from typing import Any

from django.conf import settings
from playwright.sync_api import Page

from demo.pictures import draw
from draws import SEED, cases
from e2e.support import WAIT, BrowserCase

AXE = Path(settings.WEB_DIST).parent / "node_modules" / "axe-core" / "axe.min.js"
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]

CUT_RINGS = """() => {
    const cut = [];
    const worked = 'button, input, select, textarea, [tabindex="0"]';
    for (const e of document.querySelector('[role=dialog]').querySelectorAll(worked)) {
        if (!e.getClientRects().length || e.disabled) continue;
        e.focus({ focusVisible: true });
        e.scrollIntoView({ block: 'nearest' });
        // A hidden control shows its ring on what stands for it.
        if (document.activeElement !== e || getComputedStyle(e).outlineStyle === 'none') continue;
        const ring = parseFloat(getComputedStyle(e).outlineWidth) + parseFloat(getComputedStyle(e).outlineOffset);
        const box = e.getBoundingClientRect();
        for (let over = e.parentElement; over && over !== document.body; over = over.parentElement) {
            if (getComputedStyle(over).overflowX === 'visible') continue;
            const frame = over.getBoundingClientRect();
            const left = frame.x + over.clientLeft, top = frame.y + over.clientTop;
            const lacks = [left - box.x + ring, box.right + ring - left - over.clientWidth, top - box.y + ring,
                           box.bottom + ring - top - over.clientHeight];
            if (Math.max(...lacks) > 0.6) cut.push([e.outerHTML.slice(0, 120), over.className,
              lacks.map(Math.round).join()]);
        }
    }
    return cut;
}"""
"""Controls of the open popover whose ring, when they have the keys, is cut by something that scrolls or clips."""


class ByKeyboard(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.new_document("By keys")
        self.page.get_by_role("application").focus()

    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)
        self.page.wait_for_timeout(60)
        self.settled()

    def box(self) -> list[float]:
        return self.page.evaluate(
            "() => { const s = nestLine.store.getState(); return [...s.scene.objects[s.selected].box]; }"
        )

    def said(self, text: str) -> None:
        self.page.get_by_role("status").filter(has_text=text).wait_for()

    def made(self, count: int) -> None:
        self.page.wait_for_function(
            "(n) => nestLine.store.getState().document.pages[0].objects.length === n", arg=count
        )

    def test_the_main_job(self) -> None:
        page = self.page
        # An outline is made, written into, moved, sized and turned.
        self.press("n", "r", "Enter")
        self.page.wait_for_function("nestLine.store.getState().justMade")
        page.keyboard.type("Fly a kite up the steep hill with all of your friends")
        self.settled()
        self.press("Escape")
        self.page.wait_for_function("document.activeElement.tagName === 'CANVAS'")
        self.said("per cent full")
        x, y, width, height = self.box()
        self.press("ArrowRight", "ArrowRight", "Shift+ArrowDown", "Control+ArrowRight", "Control+Shift+ArrowDown", "]")
        now = self.box()
        for a, b in zip(now, [x + 2, y + 10, width + 1, height + 10], strict=True):
            self.assertAlmostEqual(a, b, 2)
        self.assertEqual(self.state("scene.objects[nestLine.store.getState().selected].turn"), 1)
        self.said("Turn")
        # A rule, found by an everyday word; its figure; the arrows nudge from the sentence again.
        self.press("d")
        page.keyboard.type("inset")
        self.press("Enter")
        page.get_by_role("textbox", name="Room to the edge").wait_for()
        page.wait_for_function("document.activeElement.tagName === 'INPUT'")
        page.keyboard.type("18pt")
        self.press("Enter", "Escape")
        frame = self.state("selected")
        self.assertEqual(self.state(f"document.pages[0].objects.find((o) => o.id === '{frame}').frame.padding"), "18pt")
        self.press("ArrowLeft")
        self.assertAlmostEqual(self.box()[0], x + 1, 2)
        # From area to area.
        for key, there in (("s", "[data-sentence]"), ("t", "[data-tally]"), ("m", "header"), ("b", "canvas")):
            self.press("t", key)
            page.wait_for_function("(there) => document.activeElement.closest(there)", arg=there)
        # A free outline, point by point; its points.
        self.press("n", "d", " ", *["ArrowRight"] * 9, " ", *["ArrowDown"] * 9, " ", "Enter")
        self.made(2)
        self.assertNotEqual(self.state("selected"), frame)
        self.press("Escape", "e", "Tab")  # typed at once it would be its copy
        self.said("Point 1")
        before = self.state("scene.objects[nestLine.store.getState().selected].path")
        self.press("ArrowUp", "a")
        self.assertNotEqual(self.state("scene.objects[nestLine.store.getState().selected].path"), before)
        self.press("Escape", "Escape")
        # A line of type, then back to the first; why its lines end there.
        self.press("n", "l", "Enter")
        self.writing()
        page.keyboard.type("Kite Day")
        self.settled()
        self.press("Escape")
        self.made(3)
        for _ in range(6):
            if self.state("selected") == frame:
                break
            self.press("j")
        self.assertEqual(self.state("selected"), frame)
        self.press("y", "ArrowRight", "ArrowRight")
        page.get_by_label("Why here", exact=True).wait_for()
        self.press("Escape", "Escape")
        # What can be done with it, by the menu key.
        page.get_by_role("application").focus()
        self.press("Shift+F10")
        page.get_by_role("menuitem", name="Duplicate").wait_for()
        self.press("ArrowDown", "ArrowDown", "Enter")
        self.made(4)
        self.press("Control+z")
        self.made(3)
        self.said("Undone: Duplicate")

    def test_a_picture_in_the_copy(self) -> None:
        page = self.page
        self.press("n", "r", "Enter")
        page.wait_for_function("nestLine.store.getState().justMade")
        page.keyboard.type("The reel hums")
        self.settled()
        self.writing()
        self.press("Enter", "Enter")
        page.keyboard.type("and the line runs out")
        self.settled()
        self.press("ArrowUp")
        # While the caret stands on the empty line, a picture is asked for and comes there.
        self.press("Control+.")
        page.keyboard.type("picture")
        page.get_by_role("option", name="Picture", exact=False).first.wait_for()
        with page.expect_file_chooser() as chooser:
            page.keyboard.press("Enter")
        chooser.value.set_files({"name": "reel.png", "mimeType": "image/png", "buffer": draw()["pictures/reel.png"]})
        self.made(2)
        self.settled()
        picture = self.state("selected")
        paragraphs = self.state("document.copies['Copy 1'].versions.en.paragraphs")
        self.assertEqual([r.get("object") for r in paragraphs[1]["runs"]], [picture])
        self.assertEqual(
            [p["runs"][0].get("text") for p in (paragraphs[0], paragraphs[2])],
            ["The reel hums", "and the line runs out"],
        )
        # Beside its line, then in the middle of its frame, by the rule's own name.
        page.get_by_role("application").focus()
        page.wait_for_timeout(1100)  # a caret that went by itself keeps letters for a second
        for place, option in (("beside", "beside its line"), ("centred", "in the middle of the frame")):
            self.press("d")
            page.keyboard.type("where it belongs")
            self.press("Enter")
            page.get_by_role("radio", name=option).wait_for()
            for _ in range(8):
                if page.get_by_role("radio", name=option).is_checked():
                    break
                if not page.evaluate("document.activeElement.getAttribute('role') === 'radio'"):
                    page.keyboard.press("Tab")
                else:
                    page.keyboard.press("ArrowDown")
                page.wait_for_timeout(150)
                self.settled()
            self.press("Escape")
            self.assertEqual(
                self.state(f"document.pages[0].objects.find((o) => o.id === '{picture}').anchor.place"), place
            )
            page.get_by_role("application").focus()

    def to(self, what: str) -> None:
        """The object is chosen, by going from one to the next."""
        for _ in range(6):
            if self.state("selected") == what:
                return
            self.press("j")
        self.fail(f"{what} is not reached")

    def tab_to(self, text: str) -> None:
        """Tab until a control of this name has the keys."""
        for _ in range(14):
            if self.page.evaluate("document.activeElement.textContent").startswith(text):
                return
            self.press("Tab")
        self.fail(f"{text!r} is not reached")

    def test_frames_are_chained_and_tied(self) -> None:
        page = self.page
        self.press("n", "r", "Enter")
        page.wait_for_function("nestLine.store.getState().justMade")
        page.keyboard.type("Bring string, bring friends and a kite that can bear the wind up on the hill. ")
        page.keyboard.insert_text(
            "Whoever has none is lent one by the signal tower, for as long as the wind blows. " * 8
        )
        self.settled()
        self.press("Escape")
        first = self.state("selected")
        self.press("n", "r", "Enter")
        page.wait_for_function("nestLine.store.getState().justMade")
        self.press("Escape", *["Shift+ArrowDown"] * 20, *["Shift+ArrowRight"] * 4)
        second = self.state("selected")
        # The copy goes on in the second; no word is left over.
        self.to(first)
        self.assertGreater(self.state(f"scene.nests['{first}'].leftover"), 0)
        self.press("r", "n")
        self.tab_to("Rectangle 1")
        self.press("Enter")
        self.assertEqual(self.state("document.chains"), [[first, second]])
        self.assertEqual(self.state(f"scene.nests['{second}'].leftover"), 0)
        # The second is tied under the first, and goes along when that is moved.
        page.get_by_role("application").focus()
        self.to(second)
        self.press("d")
        page.keyboard.type("pin")
        self.press("Enter")
        page.get_by_role("combobox", name="What it goes by").wait_for()
        self.tab_to("Add a tie")
        self.press("Enter", "Escape")
        of = f"document.pages[0].objects.find((o) => o.id === '{second}').ties"
        self.assertEqual([(t["edge"], t["to"]) for t in self.state(of)], [("top", first)])
        page.get_by_role("application").focus()
        self.to(first)
        before = self.state(f"scene.objects['{second}'].box")[1]
        self.press(*["ArrowDown"] * 3)
        self.assertAlmostEqual(self.state(f"scene.objects['{second}'].box")[1], before + 3, 3)

    def test_keys_are_looked_for_changed_and_switched_off(self) -> None:
        page = self.page
        self.press("?")
        page.get_by_role("textbox", name="Search the keys").fill("clean")
        page.get_by_role("button", name="Clean view: .; change").click()
        self.press("c", "w", "Enter")
        page.get_by_role("status").filter(has_text="Clean view has C W now").wait_for()
        page.get_by_role("button", name="Close").click()
        page.get_by_role("application").focus()
        self.press(".")
        self.assertFalse(self.state("clean"))
        self.press("c", "w")
        self.assertTrue(self.state("clean"))
        self.press("Escape")
        self.press("?")
        page.get_by_role("checkbox", name="single letters").click()
        page.get_by_role("button", name="Close").click()
        page.get_by_role("application").focus()
        self.press("c", "w", "n", "r", "Enter")
        self.assertFalse(self.state("clean"))
        self.assertEqual(self.state("tool.kind"), "hand")
        page.get_by_role("button", name="Do …").click()
        page.keyboard.type("keyboard")
        self.press("Enter")
        page.get_by_role("button", name="All as they were").click()
        page.get_by_role("button", name="Close").click()
        page.get_by_role("application").focus()
        self.press(".")
        self.assertTrue(self.state("clean"))


class ByTouch(BrowserCase):
    def test_choose_drag_pinch_and_press_long(self) -> None:
        self.new_document("Touched")
        frame = self.draw("Rectangle", (60, 60), (260, 200))
        hands = self.page.context.new_cdp_session(self.page)

        def touch(kind: str, *points: tuple[float, float]) -> None:
            found = [{"x": x, "y": y, "id": n} for n, (x, y) in enumerate(points)]
            hands.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": found})
            self.page.wait_for_timeout(30)

        self.page.keyboard.press("Escape")
        self.assertIsNone(self.state("selected"))
        start = self.on_page(160, 130)
        touch("touchStart", start)
        touch("touchEnd")
        self.assertEqual(self.state("selected"), frame)
        x = self.state(f"scene.objects['{frame}'].box")[0]
        touch("touchStart", start)
        for step in range(1, 9):
            touch("touchMove", (start[0] + 6 * step, start[1]))
        touch("touchEnd")
        self.settled()
        self.assertGreater(self.state(f"scene.objects['{frame}'].box")[0], x + 20)
        scale = self.state("view.scale")
        touch("touchStart", (600, 300), (640, 300))
        for step in range(1, 7):
            touch("touchMove", (600 - 6 * step, 300), (640 + 6 * step, 300))
        touch("touchEnd")
        self.assertGreater(self.state("view.scale"), scale * 1.5)
        self.page.keyboard.press("0")
        touch("touchStart", self.on_page(200, 140))
        self.page.get_by_role("menuitem", name="Duplicate").wait_for()
        touch("touchEnd")
        self.page.get_by_role("menuitem", name="Duplicate").click()
        self.page.wait_for_function("nestLine.store.getState().document.pages[0].objects.length === 2")

    def test_draw_size_and_write_on_a_tablet(self) -> None:
        page = self.tablet()
        self.new_document("By hand")
        hands = page.context.new_cdp_session(page)

        def touch(kind: str, *points: tuple[float, float]) -> None:
            found = [{"x": x, "y": y, "id": n} for n, (x, y) in enumerate(points)]
            hands.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": found})
            page.wait_for_timeout(30)

        def twice(at: tuple[float, float]) -> None:
            """Press twice as quickly as a finger does, however long the machine takes to hand it on."""
            began = time.time()
            for number, kind in enumerate(("touchStart", "touchEnd", "touchStart", "touchEnd")):
                points = [{"x": at[0], "y": at[1], "id": 0}] if kind == "touchStart" else []
                hands.send(
                    "Input.dispatchTouchEvent",
                    {"type": kind, "touchPoints": points, "timestamp": began + 0.05 * number},
                )

        def finger(*path: tuple[float, float], rest: int = 0) -> None:
            """From the first place by way of the others, in points of the page; it may rest before it moves."""
            places = [self.on_page(*at) for at in path]
            touch("touchStart", places[0])
            page.wait_for_timeout(rest)
            for (ax, ay), (bx, by) in itertools.pairwise(places):
                for step in range(1, 9):
                    touch("touchMove", (ax + (bx - ax) * step / 8, ay + (by - ay) * step / 8))
            touch("touchEnd")

        def made() -> str:
            page.wait_for_function("nestLine.store.getState().justMade !== null")
            self.settled()
            return str(self.state("selected"))

        # A ready outline, by a finger that thinks for a second before it goes: no menu comes instead.
        page.get_by_role("navigation", name="Make").get_by_role("button").first.tap()
        page.get_by_role("menuitem", name="Heart", exact=True).tap()
        finger((60, 60), (260, 240), rest=900)
        heart = made()
        self.assertEqual(page.get_by_role("menu").count(), 0)
        x, y, width, height = self.state(f"scene.objects['{heart}'].box")
        self.assertAlmostEqual(width, 200, delta=3)
        self.assertAlmostEqual(height, 180, delta=3)
        # By a handle, met 9 px beside its middle.
        kx, ky = self.on_page(260, 240)
        touch("touchStart", (kx + 9, ky + 8))
        for step in range(1, 9):
            touch("touchMove", (kx + 9 + 6 * step, ky + 8 + 3 * step))
        touch("touchEnd")
        self.settled()
        page.wait_for_function(f"nestLine.store.getState().scene.objects['{heart}'].box[2] > {width + 40}")
        # Pressed twice it takes words: into what an on-screen keyboard writes.
        middle = self.on_page(160, 130)
        twice(middle)
        self.writing()
        page.wait_for_function("document.activeElement.isContentEditable")
        page.keyboard.insert_text("Bring string, bring friends, bring the wind.")
        page.wait_for_function("JSON.stringify(nestLine.store.getState().document.copies).includes('bring the wind.')")
        self.settled()
        self.assertIn("string", " ".join(self.lines(heart)))
        # The finger puts the caret into the lines, and there chooses a word.
        twice(middle)
        page.wait_for_function("nestLine.store.getState().tool.kind === 'copy' && nestLine.store.getState().caret")
        page.wait_for_timeout(600)
        twice(middle)
        page.wait_for_function("(c => c && c.anchor !== c.head)(nestLine.store.getState().caret)")
        page.touchscreen.tap(*self.on_page(520, 700))
        page.wait_for_function("nestLine.store.getState().tool.kind === 'hand'")

        # A free outline, point by point; two fingers in between move the page, and leave no point behind.
        page.get_by_role("button", name="Draw", exact=True).tap()
        for at in ((80, 420), (300, 400)):
            page.touchscreen.tap(*self.on_page(*at))
        far = [self.on_page(200, 500), self.on_page(300, 500)]
        touch("touchStart", far[0])
        touch("touchStart", *far)
        for step in range(1, 5):
            touch("touchMove", (far[0][0], far[0][1] - 5 * step), (far[1][0], far[1][1] - 5 * step))
        touch("touchEnd")
        page.wait_for_function("nestLine.store.getState().draft?.knots.length === 2")
        finger((320, 560), (280, 620))  # a curve
        page.touchscreen.tap(*self.on_page(200, 600))
        page.get_by_role("button", name="Take one back").tap()
        page.wait_for_function("nestLine.store.getState().draft?.knots.length === 3")
        x, y = self.on_page(80, 420)
        page.touchscreen.tap(x + 12, y + 10)  # closes, as near as a finger comes
        drawn = made()
        x, y, width, height = self.state(f"scene.objects['{drawn}'].box")
        self.assertTrue(x < 85 and y < 405 and x + width > 300 and y + height > 555, (x, y, width, height))
        # Every mode that Esc ends has a button that does.
        page.get_by_role("navigation", name="Make").get_by_role("button").first.tap()
        page.get_by_role("menuitem", name="Rectangle", exact=True).tap()
        page.get_by_role("button", name="Leave it").tap()
        page.wait_for_function("nestLine.store.getState().tool.kind === 'hand'")

    def tablet(self) -> Page:
        """A page that is touched, in place of the one that is pointed at."""
        context = self.browser.new_context(bypass_csp=True, has_touch=True, viewport={"width": 1180, "height": 820})
        context.set_default_timeout(WAIT)
        self.addCleanup(context.close)
        self.page = context.new_page()
        self.page.on("pageerror", lambda error: self.faults.append(str(error)))
        return self.page


class Narrow(BrowserCase):
    def test_panels_fold_and_nothing_leaves_the_window(self) -> None:
        self.new_document("Narrow")
        self.draw("Rectangle", (60, 60), (260, 200))
        page = self.page
        for wide, high in ((3840, 2160), (1280, 800), (1024, 640), (820, 1100), (640, 400)):
            page.set_viewport_size({"width": wide, "height": high})
            folded = (
                f"nestLine.store.getState().galley === {str(wide >= 920).lower()} && nestLine.store.getState().tally "
                f"=== {str(wide >= 720).lower()}"
            )
            page.wait_for_function(folded)
            page.wait_for_timeout(120)
            over = page.evaluate(
                "[...document.querySelectorAll('header *')].filter((e) => e.getBoundingClientRect().right > "
                "innerWidth + 1).length"
            )
            self.assertEqual(over, 0, wide)
            bench = page.get_by_role("application").bounding_box()
            assert bench
            self.assertGreater(bench["width"], wide * 0.5)
            self.assertGreater(bench["height"], high * 0.45)
        self.assertFalse(self.state("galley") or self.state("tally"))
        page.set_viewport_size({"width": 1280, "height": 800})
        page.wait_for_function("nestLine.store.getState().galley && nestLine.store.getState().tally")
        page.get_by_role("application").focus()
        page.keyboard.press(";")
        page.keyboard.press("'")
        self.assertFalse(self.state("galley") or self.state("tally"))
        page.keyboard.press("'")
        edge = page.get_by_role("separator", name="Edge of the tally").bounding_box()
        assert edge
        page.mouse.move(edge["x"] + 3, 300)
        page.mouse.down()
        page.mouse.move(edge["x"] - 77, 300, steps=4)
        page.mouse.up()
        page.reload()
        page.get_by_role("application").wait_for()
        self.assertEqual((self.state("galley"), self.state("tally")), (False, True))
        again = page.get_by_role("separator", name="Edge of the tally").bounding_box()
        assert again
        self.assertAlmostEqual(again["x"], edge["x"] - 80, delta=4)


class Axe(BrowserCase):
    """Nothing serious in any view or popover, light or dark."""

    def check(self, where: str, within: str = "html") -> None:
        self.page.evaluate(AXE.read_text())
        found: list[dict[str, Any]] = self.page.evaluate(
            """([tags, within]) => axe.run(document.querySelector(within), { resultTypes: ['violations'], runOnly: {
              type: 'tag', values: tags } }).then((r) =>
                 r.violations.filter((v) => ['serious', 'critical'].includes(v.impact)).map((v) =>
                   ({ id: v.id, nodes: v.nodes.slice(0, 3).map((n) => n.html.slice(0, 160)) })))""",
            [TAGS, within],
        )
        self.assertEqual(found, [], where)

    def test_every_view_and_popover(self) -> None:
        page = self.page
        page.goto(self.live_server_url)
        page.get_by_label("Password").wait_for()
        self.check("signing in")
        self.new_document("Everyone")
        for number, dark in enumerate(("light", "dark") if cases(2, least=1) == 2 else (("light", "dark")[SEED % 2],)):
            page.emulate_media(color_scheme=dark)  # type: ignore[arg-type]
            page.goto(self.live_server_url)
            page.get_by_role("link", name="Open Everyone").wait_for()
            self.check(f"{dark}: documents")
            page.get_by_role("button", name="New document").click()
            self.check(f"{dark}: new document")
            page.keyboard.press("Escape")
            page.get_by_role("button", name="Bin").click()
            self.check(f"{dark}: bin")
            page.get_by_role("button", name="Bin").click()
            for place, there in (("/account", "Coming in"), ("/teams", "Teams"), ("/api/reference", "The API")):
                page.goto(f"{self.live_server_url}{place}")
                page.get_by_role("heading", name=there, exact=True).wait_for()
                self.check(f"{dark}: {place}")
            page.goto(self.live_server_url)
            page.get_by_role("link", name="Open Everyone").click()
            page.get_by_role("application").wait_for()
            page.evaluate("nestLine.store.setState({ snapping: false, everyRule: true })")
            self.check(f"{dark}: nothing chosen")
            if number == 0:
                frame = self.draw("Heart", (60, 60), (360, 360))
                page.get_by_role("textbox", name="Copy").click()
                page.keyboard.insert_text("Bring string, bring friends. " * 12)
                self.settled()
                page.keyboard.press("Escape")
            page.evaluate(f"nestLine.store.setState({{ selected: '{frame}' }})")
            page.wait_for_timeout(150)
            self.check(f"{dark}: a frame")
            parts = page.evaluate(
                "[...document.querySelectorAll('[data-sentence] .part[aria-expanded]')].map((e) => e.dataset.part)"
            )
            self.assertGreater(len(parts), 25)
            for part in parts:
                self.part(part)
                page.wait_for_function("document.querySelector('.part[data-open]')")
                self.check(f"{dark}: {part}", "[role=dialog]")
                if number == 0:
                    self.assertEqual(self.page.evaluate(CUT_RINGS), [], part)
                page.keyboard.press("Escape")
                page.wait_for_function("!document.querySelector('.part[data-open]')")
            for asks in ("do", "keys", "words", "screen", "share"):
                page.evaluate(f"nestLine.store.setState({{ asks: '{asks}' }})")
                page.get_by_role("dialog").wait_for(state="attached")
                self.check(f"{dark}: {asks}")
                page.evaluate("nestLine.store.setState({ asks: null })")
                page.get_by_role("dialog").wait_for(state="detached")
            page.mouse.click(*self.on_page(200, 160), button="right")
            page.get_by_role("menu").wait_for()
            self.check(f"{dark}: menu")
            page.keyboard.press("Escape")
            page.get_by_role("button", name="Export").click()
            self.check(f"{dark}: export")
            page.keyboard.press("Escape")
