"""Copy that runs on over frames and pages, objects that belong to it, and why things stand where they do."""

from typing import Any

from e2e.support import BrowserCase

LONG = "Bring string and a warm coat, the wind on Quarry Hill is colder than it looks from the road below. "
BODY = {"font": "EB Garamond", "size": 12, "leading": 15, "breaking": "first-fit"}


def sheet(*objects: dict[str, Any]) -> dict[str, Any]:
    return {"width": 420, "height": 300, "objects": list(objects)}


def raw(pages: list[dict[str, Any]], *paragraphs: Any, **more: Any) -> dict[str, Any]:
    """A document whose copy is `story`; a paragraph is its text or its runs."""
    made = [{**BODY, "runs": [{"text": p}] if isinstance(p, str) else p} for p in paragraphs]
    copies = {"story": {"versions": {"en": {"language": "en", "paragraphs": made}}}}
    return {"format": "nest-line", "version": 1, "title": "Trial", "copies": copies, "pages": pages, **more}


def box(
    identity: str, x: float = 30, y: float = 30, width: float = 160, height: float = 90, **more: Any
) -> dict[str, Any]:
    return {"id": identity, "name": identity, "x": x, "y": y, "width": width, "height": height, **more}


class Chains(BrowserCase):
    def look_at_all(self) -> None:
        self.page.evaluate("nestLine.store.setState({ view: { scale: 0.8, x: 60, y: 30 } })")
        self.drawn()

    def text(self, frame: str) -> str:
        return " ".join(self.lines(frame))

    def test_the_end_tag_is_dragged_to_an_empty_place_and_a_jump_line_knows_its_page_after_pages_are_swapped(
        self,
    ) -> None:
        page = self.page
        self.signed_in()
        self.open_raw(raw([sheet(box("front", frame={"copy": "story"})), sheet()], LONG * 6))
        self.look_at_all()
        page.mouse.click(*self.on_page(100, 70))
        tag = page.get_by_role("button", name="goes on …")
        place = tag.bounding_box()
        assert place
        page.mouse.move(place["x"] + 12, place["y"] + 8)
        page.mouse.down()
        page.mouse.move(*self.on_sheet(1, 40, 50), steps=8)
        page.mouse.up()
        page.wait_for_function("nestLine.store.getState().document.chains?.length === 1")
        self.settled()
        (chain,) = self.state("document.chains")
        first, second = (self.state(f"scene.nests.{i}") for i in chain)
        self.assertEqual((first["page"], second["page"]), (0, 1))
        self.assertEqual(first["held"][1], second["held"][0])
        self.assertEqual(first["leftover"], 0)
        # The galley shows all of it as one, with a mark where the second frame begins.
        self.assertEqual(page.locator(".frame-begins").count(), 1)
        page.mouse.click(*self.on_page(100, 70))
        self.part("chain")
        page.get_by_label("Wording of the line that leads on").fill("more on page")
        page.get_by_role("button", name="below this frame").click()
        page.wait_for_function("nestLine.store.getState().scene.pages[0].order.length === 2")
        self.settled()
        jump = next(i for i in self.state("scene.pages[0].order") if i != "front")
        self.assertEqual(self.text(jump), "more on page 2")
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        self.part("pages")
        page.get_by_role("button", name="Page 1 behind the one below it").click()
        page.wait_for_function("nestLine.store.getState().scene.objects.front.page === 1")
        self.settled()
        self.assertEqual(self.text(jump), "more on page 1")
        self.assertEqual(self.state("scene.nowhere"), {})

    def test_a_frame_is_put_in_between_taken_out_and_the_chain_cut(self) -> None:
        page = self.page
        self.sign_in()
        frames = [
            box("f1", frame={"copy": "story"}),
            box("f2", x=220, frame={"copy": "story"}),
            box("mid", y=160, outline={"kind": "ellipse"}),
        ]
        self.open_raw(raw([sheet(*frames)], LONG * 6, chains=[["f1", "f2"]]))
        words = self.state("scene.nests.f1.words")
        page.mouse.click(*self.on_page(100, 70))
        self.part("chain")
        page.get_by_role("button", name="mid", exact=True).last.click()
        page.wait_for_function("nestLine.store.getState().document.chains[0].length === 3")
        self.assertEqual(self.state("document.chains[0]"), ["f1", "mid", "f2"])
        held = sum(self.state(f"scene.nests.{i}.wordsHeld") for i in ("f1", "mid", "f2"))
        self.assertEqual(held + self.state("scene.nests.f2.leftover"), words)
        self.part("chain")
        page.get_by_role("button", name="Cut behind this frame").click()
        page.wait_for_function("nestLine.store.getState().document.chains[0].length === 2")
        self.settled()
        self.assertEqual(self.state("scene.nests.f1.leftover"), 0)
        self.assertTrue(self.text("mid"))

    def test_the_caret_goes_with_its_words_from_frame_to_frame(self) -> None:
        page = self.page
        self.sign_in()
        frames = [box("f1", frame={"copy": "story"}), box("f2", x=220, frame={"copy": "story"})]
        self.open_raw(raw([sheet(*frames)], LONG * 3, chains=[["f1", "f2"]]))
        page.mouse.click(*self.on_page(100, 70))
        page.keyboard.press("Enter")
        self.writing()
        page.keyboard.press("Control+End")
        page.wait_for_function("nestLine.store.getState().selected === 'f2'")
        page.keyboard.type("And one more.")
        self.settled()
        page.wait_for_function(
            "nestLine.store.getState().document.copies.story.versions.en.paragraphs[0].runs[0].text.endsWith"
            "('And one more.')"
        )
        page.keyboard.press("Control+Home")
        page.wait_for_function("nestLine.store.getState().selected === 'f1'")


class Anchors(BrowserCase):
    def test_a_margin_picture_moves_down_as_paragraphs_are_added_above(self) -> None:
        page = self.page
        self.sign_in()
        objects = [
            box("f", x=80, width=300, height=240, frame={"copy": "story"}),
            box("pic", x=40, y=100, width=26, height=26, fill={"color": "#c04030"}),
        ]
        self.open_raw(raw([sheet(*objects)], LONG, LONG, LONG))
        page.mouse.click(*self.on_page(50, 110))
        self.part("anchor")
        page.get_by_role("radio", name="beside its line").click()
        page.wait_for_function("nestLine.store.getState().scene.anchors.pic")
        self.settled()
        before = self.state("scene.objects.pic.box")
        self.assertAlmostEqual(before[0], 40, delta=0.1)
        page.keyboard.press("Escape")
        page.mouse.click(*self.on_page(200, 60))
        page.keyboard.press("Enter")
        self.writing()
        page.keyboard.press("Control+Home")
        page.keyboard.insert_text("Another paragraph, above all others.")
        page.keyboard.press("Enter")
        self.settled()
        page.wait_for_function(f"nestLine.store.getState().scene.objects.pic.box[1] > {before[1] + 14}")
        self.assertAlmostEqual(self.state("scene.objects.pic.box")[0], before[0], delta=0.1)

    def test_its_mark_is_dragged_to_other_words(self) -> None:
        page = self.page
        self.sign_in()
        pic = box("pic", width=26, height=26, fill={"color": "#c04030"}, anchor={"place": "beside", "x": -6})
        runs = [{"object": "pic"}, {"text": LONG * 4}]
        self.open_raw(raw([sheet(box("f", x=80, width=300, height=240, frame={"copy": "story"}), pic)], runs))
        y = self.state("scene.objects.pic.box")[1]
        page.mouse.click(*self.on_page(60, y + 13))
        x1, y1, _, _ = self.state("scene.anchors.pic.mark")
        self.drag((x1, y1), (180, y1 + 64))
        self.assertGreater(self.state("scene.objects.pic.box")[1], y + 40)

    def test_how_an_object_stands_changes_and_its_words_do_not(self) -> None:
        page = self.page
        self.sign_in()
        objects = [
            box("far", x=40, y=320, width=100, height=40, frame={"copy": "caption"}),
            box("f", x=80, width=200, height=240, frame={"copy": "story"}),
            box("pic", x=90, y=120, width=300, height=30, fill={"color": "#c04030"}),
        ]
        copies = {"caption": {"versions": {"en": {"language": "en", "paragraphs": [{"runs": [{"text": "A kite"}]}]}}}}
        document = raw([sheet(*objects)], LONG, LONG)
        self.open_raw({**document, "copies": {**document["copies"], **copies}})
        page.mouse.click(*self.on_page(360, 135))
        self.part("anchor")
        page.get_by_role("radio", name="beside its line").click()
        page.wait_for_function("nestLine.store.getState().scene.anchors.pic?.frame === 'f'")
        self.settled()
        runs = "document.copies.story.versions.en.paragraphs.flatMap((p) => p.runs.map((r) => r.object ?? r.text))"
        before = self.state(runs)
        self.assertIn("pic", before)
        page.get_by_role("radio", name="in the middle of the frame").click()
        self.settled()
        self.assertEqual(self.state("document.pages[0].objects[2].wrap.clearance"), 9)
        page.get_by_role("radio", name="in line").click()
        self.settled()
        self.assertEqual(self.state(runs), before)
        page.get_by_role("button", name="It is wider than the frame: fit it").click()
        self.settled()
        self.assertEqual(self.state("scene.objects.pic.box")[2:], [200, 20])

    def test_a_frame_before_the_last_says_why_it_does_not_give(self) -> None:
        page = self.page
        self.sign_in()
        first = box("f1", x=40, width=150, height=80, frame={"copy": "story", "give": ["bottom"]})
        second = box("f2", x=230, width=150, height=80, frame={"copy": "story"})
        self.open_raw(raw([sheet(first, second)], LONG * 8, chains=[["f1", "f2"]]))
        page.mouse.click(*self.on_page(60, 60))
        self.part("give")
        note = page.get_by_text("it gives only up to a greatest size")
        note.wait_for()
        page.get_by_label("Greatest height").fill("120")
        page.get_by_label("Greatest height").press("Enter")
        self.settled()
        self.assertEqual(note.count(), 0)
        self.assertAlmostEqual(self.state("scene.objects.f1.box")[3], 120, delta=0.1)

    def test_a_centred_picture_stays_centred(self) -> None:
        page = self.page
        self.sign_in()
        pic = box(
            "pic", x=300, y=250, width=40, height=40, fill={"color": "#c04030"}, wrap={"by": "box", "clearance": 8}
        )
        self.open_raw(raw([sheet(box("f", x=40, width=200, height=200, frame={"copy": "story"}), pic)], LONG * 2))
        page.mouse.click(*self.on_page(320, 270))
        self.part("anchor")
        page.get_by_role("radio", name="in the middle of the frame").click()
        page.wait_for_function("nestLine.store.getState().scene.anchors.pic")
        self.settled()
        self.assertEqual(self.state("scene.objects.pic.box")[:2], [120, 110])
        before = self.lines("f")
        page.keyboard.press("Escape")
        page.mouse.click(*self.on_page(60, 60))
        page.keyboard.press("Enter")
        self.writing()
        page.keyboard.press("Control+Home")
        page.keyboard.insert_text("More words are put before all of it. ")
        self.settled()
        self.assertNotEqual(self.lines("f"), before)
        self.assertEqual(self.state("scene.objects.pic.box")[:2], [120, 110])

    def test_copied_with_its_words_it_is_there_twice(self) -> None:
        page = self.page
        self.sign_in()
        pic = box("pic", width=12, height=10, fill={"color": "#c04030"}, anchor={"place": "in-line"})
        runs = [{"text": "Fly "}, {"object": "pic"}, {"text": " high"}]
        self.open_raw(raw([sheet(box("f", x=80, width=300, height=140, frame={"copy": "story"}), pic)], runs))
        page.mouse.click(*self.on_page(200, 120))
        page.keyboard.press("Enter")
        self.writing()
        page.keyboard.press("Control+a")
        page.keyboard.press("Control+c")
        page.keyboard.press("Control+End")
        page.keyboard.press("Control+v")
        page.wait_for_function(
            "Object.values(nestLine.store.getState().scene.objects).filter((o) => o.anchor && !o.hidden).length === 2"
        )
        self.settled()
        shown = [o for o in self.state("scene.objects").values() if o["anchor"] and not o["hidden"]]
        self.assertEqual(len(shown), 2)
        self.assertNotEqual(shown[0]["box"][:2], shown[1]["box"][:2])


class WhyHere(BrowserCase):
    def test_it_names_the_right_object_and_opens_its_control(self) -> None:
        page = self.page
        self.sign_in()
        objects = [
            box("f", x=40, width=340, height=240, frame={"copy": "story", "padding": 6}),
            box(
                "near",
                x=150,
                y=90,
                width=60,
                height=60,
                outline={"kind": "ellipse"},
                wrap={"by": "outline", "clearance": 9},
            ),
            box(
                "far",
                x=300,
                y=90,
                width=60,
                height=60,
                outline={"kind": "ellipse"},
                wrap={"by": "outline", "clearance": 4},
            ),
        ]
        self.open_raw(raw([sheet(*objects)], LONG * 9))
        page.keyboard.press("y")
        page.mouse.move(*self.on_page(146, 120))
        card = page.get_by_label("Why here", exact=True)
        page.wait_for_function("nestLine.store.getState().why?.causes[0].object === 'near'")
        self.assertIn("near's outline", card.inner_text())
        page.mouse.move(*self.on_page(296, 120))
        page.wait_for_function("nestLine.store.getState().why?.causes[0].object === 'far'")
        page.mouse.click(*self.on_page(296, 120))
        page.get_by_role("button", name="Change it").first.click()
        page.get_by_label("Copy keeps away by").wait_for()
        self.assertEqual(self.state("selected"), "far")


class Shelf(BrowserCase):
    def test_a_picture_is_found_and_put_on_the_page(self) -> None:
        from assets.shelf import fill_shelf
        from demo.pictures import SHELF, draw

        fill_shelf([(file, title, words, draw()[f"pictures/{file}"]) for file, title, words, _ in SHELF[:5]])
        page = self.page
        self.signed_in()
        self.open_raw(raw([sheet()], "Up."))
        page.get_by_role("button", name="Shelf").click()
        page.get_by_label("Search the shelf").fill("dragon par")
        page.get_by_role("button", name="Dragon kite").wait_for()
        page.get_by_label("Search the shelf").fill("nothing so")
        page.get_by_text("Nothing on the shelf answers").wait_for()
        page.get_by_label("Search the shelf").fill("delta")
        picture = page.get_by_role("button", name="Delta kite")
        picture.drag_to(page.get_by_role("application"), target_position={"x": 300, "y": 200})
        page.wait_for_function("Object.values(nestLine.store.getState().scene.objects).some((o) => o.picture)")
        self.settled()
        self.assertTrue(self.state("scene.objects")[self.state("selected")]["picture"]["transparent"])
