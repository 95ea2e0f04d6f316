"""The list of documents: two hundred of them searched, ordered, put into folders, opened in a tab of their own, thrown
away."""

from __future__ import annotations

from django.contrib.auth import get_user_model
from django.db import transaction

from documents.store import create
from e2e.support import BrowserCase
from nestline.document.beginning import begun

COUNT = 200


class TwoHundred(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        ada = get_user_model().objects.get(username="ada")
        for number in range(COUNT):
            with transaction.atomic():
                create(
                    ada.id, begun(f"Hill {number:03}", "210mm", f"{200 + number}mm", "3mm", "mm", words="Fly a kite")
                )

    def titles(self) -> list[str]:
        return self.page.get_by_role("heading", level=2).all_inner_texts()

    def test_they_are_found_and_dealt_with(self) -> None:
        page = self.page
        asked: list[str] = []
        page.on("request", lambda request: "picture.png" in request.url and asked.append(request.url))
        self.sign_in()
        page.get_by_role("link", name="Open Hill 199").wait_for()
        self.assertEqual(len(self.titles()), COUNT)
        page.wait_for_timeout(500)
        self.assertLess(len(set(asked)), COUNT / 2)  # pictures are made for what is looked at
        search = page.get_by_role("searchbox", name="Search the documents")
        search.fill("17")
        self.assertEqual(len(self.titles()), sum("17" in f"{n:03}" for n in range(COUNT)))
        search.fill("hill 01")
        wanted = [f"Hill {n:03}" for n in range(COUNT) if "01" in f"{n:03}"]
        page.get_by_role("combobox", name="Order").select_option("title")
        self.assertEqual(self.titles(), wanted)
        page.get_by_role("combobox", name="Order").select_option("size")
        self.assertEqual(self.titles(), wanted[::-1])
        # Real links: one opens in a tab of its own.
        with page.context.expect_page() as opened:
            page.get_by_role("link", name="Open Hill 015").click(modifiers=["Control"])
        opened.value.get_by_role("application").wait_for()
        self.assertTrue(opened.value.title().startswith("Hill 015"))
        opened.value.close()
        # Many at once, into a folder and into the bin.
        page.get_by_role("checkbox", name="Choose Hill 019").click()
        page.get_by_role("checkbox", name="Choose Hill 015").click(modifiers=["Shift"])
        page.get_by_role("status").filter(has_text="5 chosen").wait_for()
        page.get_by_role("textbox", name="Folder").or_(page.get_by_role("combobox", name="Folder")).fill("Kites")
        page.get_by_role("button", name="Put into it").click()
        page.get_by_role("button", name="Kites", exact=True).click()
        search.fill("")
        self.assertEqual(len(self.titles()), 5)
        page.get_by_role("button", name="More for Hill 017").click()
        page.get_by_role("menuitem", name="Duplicate").click()
        page.get_by_role("heading", name="Hill 017, copy").wait_for()
        page.get_by_role("checkbox", name="Choose Hill 018").click()
        page.get_by_role("button", name="Delete", exact=True).click()
        page.get_by_text("“Hill 018” is deleted.").wait_for()
        page.get_by_role("button", name="Undo").click()
        page.get_by_text("“Hill 018” is back.").wait_for()
        page.get_by_role("button", name="More for Hill 018").click()
        page.get_by_role("menuitem", name="Delete").click()
        page.get_by_role("link", name="Open Hill 018").wait_for(state="detached")
        page.get_by_role("button", name="Bin").click()
        page.get_by_role("button", name="Empty the bin").wait_for()
        self.assertEqual(self.titles(), ["Hill 018"])
        page.get_by_role("button", name="Empty the bin").click()
        page.get_by_role("button", name="Delete for good").click()
        page.get_by_text("The bin is empty.").wait_for()

    def test_one_is_begun_on_its_own_size_with_copy(self) -> None:
        page = self.page
        self.sign_in()
        page.get_by_role("button", name="New document").click()
        page.get_by_label("Title").fill("Square")
        page.get_by_role("textbox", name="Copy").fill("Bring string.\nBring friends.")
        page.get_by_role("checkbox", name="pages lie open in pairs").check()
        page.get_by_role("textbox", name="Width").fill("8")
        page.get_by_role("textbox", name="Height").fill("200 mm")
        page.get_by_role("combobox", name="Unit").select_option("in")
        page.get_by_role("button", name="Begin").click()
        page.get_by_role("application").wait_for()
        sheet = self.state("scene.pages[0]")
        self.assertAlmostEqual(sheet["width"], 576, 2)
        self.assertAlmostEqual(sheet["height"], 200 / 25.4 * 72, 2)
        self.assertEqual(self.lines("copy"), ["Bring string.", "Bring friends."])
        self.assertTrue(self.state("document.facing"))
