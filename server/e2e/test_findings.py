"""What is wrong is seen, walked through, mended and set aside; an export says what is open."""

from typing import Any

from e2e.support import BrowserCase

WORDS = "Bring string and friends and a kite if you have one"


def copy(text: str, **rules: Any) -> dict[str, Any]:
    return {"versions": {"en": {"language": "en", "paragraphs": [{**rules, "runs": [{"text": text}]}]}}}


def planted() -> dict[str, Any]:
    """A clean frame, one whose words lie under a painted object, one whose words are pale, and one of four points."""
    frames = {"clean": (40, {}), "under": (160, {}), "pale": (280, {"color": "#ddd9cc"}), "tiny": (400, {"size": 4})}
    objects = [
        {"id": name, "x": 40, "y": y, "width": 300, "height": 80, "frame": {"copy": name}}
        for name, (y, _) in frames.items()
    ]
    objects.append({"id": "lid", "x": 30, "y": 150, "width": 330, "height": 60, "fill": {"color": "#f6dfa4"}})
    return {
        "format": "nest-line",
        "version": 1,
        "language": "en",
        "copies": {
            name: copy(WORDS, size=14, **rules) if "size" not in rules else copy(WORDS, **rules)
            for name, (_, rules) in frames.items()
        },
        "pages": [{"width": 400, "height": 560, "objects": objects}],
    }


class WhatIsWrong(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.signed_in()
        self.open_raw(planted())
        self.tally = self.page.get_by_role("region", name="Tally")

    def counted(self, said: str) -> None:
        self.tally.get_by_role("button", name=said, exact=True).wait_for()

    def test_it_is_walked_through_mended_and_set_aside(self) -> None:
        page = self.page
        self.counted("3 faults")
        page.get_by_role("application").focus()
        page.keyboard.press("w")
        wrong = page.get_by_role("complementary", name="What is wrong")
        wrong.get_by_text("cannot be seen").last.wait_for()
        self.assertEqual(self.state("selected"), "under")
        # What mends it was tried, and is offered at the words, too: taken there it is gone, and undone, it is back.
        page.get_by_role("group", name="What mends it").get_by_role(
            "button", name="put it before what covers it"
        ).click()
        self.settled()
        self.counted("2 faults")
        page.get_by_role("application").focus()
        page.keyboard.press("Control+z")
        self.settled()
        self.counted("3 faults")
        # It is read again from the menu of its frame.
        page.evaluate("nestLine.store.setState({ selected: 'under', others: [] })")
        page.get_by_role("application").focus()
        page.keyboard.press("Shift+F10")
        page.get_by_role("menuitem", name="cannot be seen").click()
        wrong.get_by_role("button", name="put it before what covers it").click()
        self.settled()
        self.counted("2 faults")
        self.assertEqual([o["id"] for o in self.state("document.pages[0].objects")][-1], "under")
        page.get_by_role("application").focus()
        page.keyboard.press("Control+z")
        self.settled()
        self.counted("3 faults")
        seen = []
        for key in ("w", "w", "Shift+W"):
            page.get_by_role("application").focus()
            page.keyboard.press(key)
            page.wait_for_timeout(150)
            seen.append(self.state("selected"))
        self.assertEqual(len(set(seen)), 2)
        self.assertEqual(seen[0], seen[2])
        # Set aside, and brought back.
        page.get_by_role("button", name="Never mind this one").click()
        self.settled()
        self.counted("2 faults")
        wrong.get_by_role("button", name="1 set aside").click()
        page.get_by_role("complementary", name="What is wrong").get_by_role("listitem").get_by_role(
            "button"
        ).first.click()
        page.get_by_role("button", name="Bring it back").click()
        self.settled()
        self.counted("3 faults")

    def test_one_kind_is_shown_a_river_is_a_line_and_a_limit_is_the_documents_own(self) -> None:
        page = self.page
        raw = planted()
        raw["copies"]["river"] = copy("wind " * 60, size=14, align="justify")
        raw["pages"][0]["width"] = 700
        thing = {"id": "river", "x": 450, "y": 40, "width": 98, "height": 460, "frame": {"copy": "river"}}
        raw["pages"][0]["objects"].append(thing)
        self.open_raw(raw)
        page.get_by_role("application").focus()
        page.keyboard.press("w")
        wrong = page.get_by_role("complementary", name="What is wrong")
        kinds = wrong.get_by_role("combobox", name="Which kinds")
        found = wrong.get_by_role("listitem").filter(has=page.locator("[aria-label=fault], [aria-label=note]"))
        found.nth(2).wait_for()  # there are more of them than the rivers
        kinds.select_option(label="Rivers (2)")
        page.wait_for_timeout(300)
        told = wrong.get_by_role("listitem").all_inner_texts()
        self.assertEqual([text.startswith("A river of") for text in told], [True, True], told)
        # A river is drawn as a line down its gaps, from above to below.
        lines = page.locator("polyline[data-line=river]")
        self.assertEqual(lines.count(), 2)
        points = [tuple(map(float, p.split(","))) for p in (lines.first.get_attribute("points") or "").split()]
        self.assertGreater(len(points), 20)
        self.assertEqual([y for _, y in points], sorted(y for _, y in points))
        # Told from four points on, type of four points is no fault any more; as usual, it is.
        kinds.select_option(label="Small type (1)")
        wrong.get_by_role("button", name="is set in 4 pt").click()
        wrong.get_by_role("textbox", name="Limit: Small type").fill("4")
        page.keyboard.press("Enter")
        self.settled()
        wrong.get_by_role("listitem").get_by_text("is set in 4 pt").wait_for(state="detached")
        self.assertEqual(self.state("document.findings.limits"), {"small": 4})
        page.get_by_role("application").focus()
        page.keyboard.press("Control+z")
        self.settled()
        wrong.get_by_role("listitem").get_by_text("is set in 4 pt").wait_for()

    def test_strain_of_type_sheet_and_pictures_and_a_page_of_small_pictures(self) -> None:
        page = self.page
        self.counted("3 faults")
        revision = self.state("revision")
        strain = page.get_by_role("region", name="Strain")
        strain.get_by_role("button", name="More of strain").click()
        strain.get_by_role("spinbutton", name="type larger").fill("50")
        strain.get_by_text("with type 50 % larger").wait_for()
        page.wait_for_function("nestLine.store.getState().tried?.nests.clean.size === 21")
        strain.get_by_role("combobox", name="On which sheet").select_option(label="A5")
        page.wait_for_function("Math.abs(nestLine.store.getState().tried?.pages[0]?.width - 419.53) < 0.1")
        strain.get_by_role("button", name="Back", exact=True).click()
        page.wait_for_function("nestLine.store.getState().tried === null")
        strain.get_by_role("button", name="A page of pictures").click()
        picture = page.get_by_role("img", name="15, 30 and 60 per cent")
        picture.wait_for()
        with page.expect_download() as had:
            page.get_by_role("link", name="Save the picture").click()
        self.assertTrue(had.value.suggested_filename.endswith("-strain.png"))
        self.assertEqual(self.state("revision"), revision)

    def test_strain_is_seen_and_leaves_the_document_as_it_is(self) -> None:
        page = self.page
        raw = planted()
        raw["pages"][0]["objects"][0]["height"] = 36  # as high as its two lines
        self.open_raw(raw)
        self.counted("3 faults")
        revision, before = self.state("revision"), self.lines("clean")
        by = page.get_by_label("Strain, typed")
        by.fill("60")
        page.get_by_text("nothing is changed").wait_for()
        page.wait_for_function("nestLine.store.getState().tried !== null")
        page.get_by_label("In which words").select_option("de")
        page.wait_for_function("JSON.stringify(nestLine.store.getState().tried?.shapes ?? {}).includes('Der Wind')")
        page.get_by_role("region", name="Strain").get_by_role("button", name="Back").click()
        page.wait_for_function("nestLine.store.getState().tried === null")
        self.assertEqual((self.state("revision"), self.lines("clean")), (revision, before))
        page.get_by_role("button", name="How far does each hold?").click()
        self.tally.get_by_text("holds").first.wait_for()
        # The fullest frame breaks first; pressed, it is chosen.
        first = self.tally.get_by_role("list", name="First to break").get_by_role("button").first
        first.wait_for()
        page.evaluate("nestLine.store.setState({ selected: null, others: [] })")
        first.click()
        self.assertEqual(self.state("selected"), "clean")
        self.assertEqual(self.state("revision"), revision)

    def test_an_export_says_what_is_open_and_goes_ahead(self) -> None:
        page = self.page
        self.counted("3 faults")
        page.get_by_role("button", name="Export").click()
        page.get_by_role("menuitem", name="3 faults are open").wait_for()
        page.get_by_role("menuitem", name="PDF", exact=False).first.click()
        page.get_by_text("press again to export all the same").wait_for()
        with page.expect_download() as download:
            page.get_by_role("menuitem", name="PDF", exact=False).first.click()
        self.assertTrue(download.value.suggested_filename.endswith(".pdf"))

    def test_it_follows_what_is_typed_and_says_when_all_is_well(self) -> None:
        page = self.page
        self.counted("3 faults")
        for id in ("under", "pale", "tiny"):
            page.evaluate(f"nestLine.store.setState({{ selected: '{id}', others: [] }})")
            page.get_by_role("application").focus()
            page.keyboard.press("Delete")
            self.settled()
        self.tally.get_by_text("fault").wait_for(state="detached")
        page.get_by_role("application").focus()
        page.keyboard.press("w")
        page.get_by_text("nothing is wrong", exact=False).first.wait_for()
