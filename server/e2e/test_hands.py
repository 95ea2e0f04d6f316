"""What is brought, taken and dragged with the hand: pictures dropped and pasted, a colour off the page, pages in their
strip, a pen, a screen that was measured."""

import base64

from demo.pictures import draw
from e2e.support import BrowserCase

PICTURE = base64.b64encode(draw()["pictures/reel.png"]).decode()
HELD = """(picture) => {
    const bytes = Uint8Array.from(atob(picture), (c) => c.charCodeAt(0));
    const held = new DataTransfer();
    held.items.add(new File([bytes], "reel.png", { type: "image/png" }));
    return held;
}"""


class Hands(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.new_document("By hand")

    def objects(self, count: int) -> None:
        self.page.wait_for_function(
            "(n) => nestLine.store.getState().document.pages[0].objects.length === n", arg=count
        )
        self.settled()

    def test_a_picture_dropped_on_an_outline_says_where_it_goes_first(self) -> None:
        page = self.page
        star = self.draw("Star", (60, 60), (260, 260))
        label = self.state(f"scene.labels['{star}']")
        held = page.evaluate_handle(HELD, PICTURE)
        x, y = self.on_page(160, 170)

        def drag(kind: str, x: float, y: float) -> None:
            page.dispatch_event("canvas", kind, {"dataTransfer": held, "clientX": x, "clientY": y, "bubbles": True})

        drag("dragover", x, y)
        page.get_by_text(f"goes into “{label}”").wait_for()
        drag("dragover", *self.on_page(400, 600))
        page.get_by_text(f"goes into “{label}”").wait_for(state="hidden")
        drag("dragover", x, y)
        drag("drop", x, y)
        page.wait_for_function(
            f"nestLine.store.getState().document.pages[0].objects.find((o) => o.id === '{star}').picture"
        )
        self.settled()
        self.objects(1)
        page.get_by_text(f"goes into “{label}”").wait_for(state="hidden")
        # On the bare page it stands by itself, where it was dropped.
        drag("dragover", *self.on_page(400, 600))
        drag("drop", *self.on_page(400, 600))
        self.objects(2)
        left, top, width, height = self.state(f"scene.objects['{self.state('selected')}'].box")
        self.assertAlmostEqual(left + width / 2, 400, delta=2)
        self.assertAlmostEqual(top + height / 2, 600, delta=2)

    def test_a_picture_is_pasted(self) -> None:
        page = self.page
        held = page.evaluate_handle(HELD, PICTURE)
        page.get_by_role("application").focus()
        page.evaluate(
            "(held) => document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: "
            "held, bubbles: true }))",
            held,
        )
        self.objects(1)
        self.assertTrue(self.state(f"scene.objects['{self.state('selected')}'].picture"))

    def test_a_colour_is_taken_off_the_page(self) -> None:
        page = self.page
        first = self.draw("Rectangle", (60, 60), (260, 200))
        page.keyboard.press("Escape")
        other = self.draw("Rectangle", (60, 300), (260, 440))
        page.evaluate(f"nestLine.store.setState({{ selected: '{first}', others: [] }})")
        self.part("fill")
        page.get_by_label("Colour", exact=False).first.wait_for()
        field = page.get_by_role("textbox", name="Colour").first
        field.fill("#3a7bd5")
        field.press("Enter")
        self.settled()
        page.keyboard.press("Escape")
        page.evaluate(f"nestLine.store.setState({{ selected: '{other}', others: [] }})")
        self.part("fill")
        page.get_by_role("button", name="from the page").click()
        page.mouse.click(*self.on_page(100, 100))
        self.settled()
        fills = {o["id"]: o["fill"]["color"] for o in self.state("document.pages[0].objects")}
        self.assertEqual(fills[other], "#3a7bd5")
        # Esc leaves it as it was, and what is open stays open.
        page.get_by_role("button", name="from the page").click()
        page.keyboard.press("Escape")
        page.get_by_role("button", name="from the page").wait_for()
        self.assertEqual(self.state("document.pages[0].objects[1].fill.color"), "#3a7bd5")

    def test_a_colour_is_typed_as_people_write_it_and_how_well_it_is_read_is_told_where_it_stands(self) -> None:
        page = self.page
        back = {"id": "b", "x": 40, "y": 40, "width": 300, "height": 300, "fill": {"color": "#102030"}}
        frame = {"id": "f", "x": 60, "y": 60, "width": 200, "height": 100, "frame": {"copy": "c"}}
        copies = {
            "c": {
                "versions": {"en": {"language": "en", "paragraphs": [{"runs": [{"text": "Fly"}], "color": "#ffffff"}]}}
            }
        }
        pages = [{"width": 400, "height": 400, "objects": [back, frame]}]
        self.open_raw(
            {"format": "nest-line", "version": 1, "copies": copies, "pages": pages, "colors": {"night": "#102030"}}
        )
        page.evaluate("nestLine.store.setState({ selected: 'f', others: [] })")
        self.part("color")
        page.get_by_text("16.5 : 1 on night, enough for any size").wait_for()  # by WCAG's formula, by hand
        field = page.get_by_role("textbox", name="Colour by name, hex, RGB or CMYK")
        field.fill("0 0 0 90")
        field.press("Enter")
        page.get_by_text("too little to be read").wait_for()
        self.assertEqual(self.state("document.copies.c.versions.en.paragraphs[0].color"), "#1a1a1a")
        field.fill("nonsense")
        page.wait_for_function("document.querySelector('[aria-label^=\"Colour by name\"]').ariaInvalid === 'true'")
        field.press("Enter")
        self.settled()
        self.assertEqual(self.state("document.copies.c.versions.en.paragraphs[0].color"), "#1a1a1a")

    def test_pages_are_dragged_in_their_strip(self) -> None:
        page = self.page
        self.draw("Rectangle", (60, 60), (260, 200))
        page.keyboard.press("Escape")
        for count in (1, 2):
            self.part("pages")
            page.get_by_role("button", name=f"Add a page behind page {count}").click()
            page.wait_for_function(f"nestLine.store.getState().scene.pages.length === {count + 1}")
            self.settled()
            page.keyboard.press("Escape")
        page.evaluate("nestLine.store.setState({ strip: true })")
        strip = page.get_by_role("navigation", name="Pages")
        marks = strip.get_by_role("listitem")
        box = marks.nth(2).bounding_box()
        assert box
        marks.nth(0).drag_to(marks.nth(2), target_position={"x": box["width"] - 4, "y": 20})
        page.wait_for_function("nestLine.store.getState().document.pages[2].objects.length === 1")
        self.settled()
        # By keys it comes back.
        strip.get_by_role("button", name="3").press("Alt+ArrowLeft")
        page.wait_for_function("nestLine.store.getState().document.pages[1].objects.length === 1")

    def test_a_pen_chooses_and_drags(self) -> None:
        frame = self.draw("Rectangle", (60, 60), (260, 200))
        self.page.keyboard.press("Escape")
        hands = self.page.context.new_cdp_session(self.page)
        x, y = self.on_page(160, 130)
        a_px = 1 / (self.on_page(161, 130)[0] - x)

        def pen(kind: str, x: float, y: float) -> None:
            pressed = 0 if kind == "mouseReleased" else 1
            hands.send(
                "Input.dispatchMouseEvent",
                {
                    "type": kind,
                    "x": x,
                    "y": y,
                    "button": "left",
                    "buttons": pressed,
                    "clickCount": 1,
                    "pointerType": "pen",
                    "force": 0.6,
                },
            )
            self.page.wait_for_timeout(30)

        before = self.state(f"scene.objects['{frame}'].box")[0]
        pen("mousePressed", x, y)
        for step in range(1, 11):
            pen("mouseMoved", x + 5 * step, y)
        pen("mouseReleased", x + 50, y)
        self.settled()
        self.assertEqual(self.state("selected"), frame)
        self.assertAlmostEqual(self.state(f"scene.objects['{frame}'].box")[0] - before, 50 * a_px, delta=1)

    def test_real_size_is_that_of_a_measured_screen(self) -> None:
        page = self.page
        page.get_by_role("application").focus()
        page.keyboard.press("1")
        page.get_by_label("Width of the card").fill("120")
        page.get_by_role("button", name="It is as wide").click()
        page.wait_for_timeout(300)
        left, _ = self.on_page(0, 0)
        right, _ = self.on_page(72, 0)
        self.assertAlmostEqual(right - left, 120, delta=0.1)
        page.keyboard.press("0")
        page.keyboard.press("1")
        page.wait_for_timeout(300)
        left, _ = self.on_page(0, 0)
        right, _ = self.on_page(72, 0)
        self.assertAlmostEqual(right - left, 120, delta=0.1)


class Several(BrowserCase):
    def test_several_close_up_each_to_its_own_copy(self) -> None:
        page = self.page
        self.sign_in()
        words = {"one": "Fly", "two": "Reserve a place"}
        objects = [
            {"id": id, "x": 40, "y": 40 + 80 * n, "width": 250, "height": 40, "frame": {"copy": id}}
            for n, id in enumerate(words)
        ]
        copies = {
            id: {"versions": {"en": {"language": "en", "paragraphs": [{"runs": [{"text": text}]}]}}}
            for id, text in words.items()
        }
        pages = [{"width": 400, "height": 300, "objects": objects}]
        self.open_raw({"format": "nest-line", "version": 1, "title": "Two", "copies": copies, "pages": pages})
        page.evaluate("nestLine.store.setState({ selected: 'one', others: ['two'] })")
        self.part("give")
        page.get_by_role("button", name="from the right").click()
        self.settled()
        widths = [self.state(f"scene.objects['{id}'].box")[2] for id in words]
        self.assertLess(widths[0], widths[1])
        self.assertLess(widths[1], 150)
