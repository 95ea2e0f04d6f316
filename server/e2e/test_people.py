"""From an invitation to the end of an account; a passkey; a document edited by two people; read only, said and held."""

import re
from typing import Any

from django.contrib.auth import get_user_model
from playwright.sync_api import Page

from e2e.support import WAIT, BrowserCase
from people.models import Passkey


def story() -> dict[str, Any]:
    text = {"versions": {"en": {"language": "en", "paragraphs": [{"size": 14, "runs": [{"text": "Bring string."}]}]}}}
    thing = {"id": "f", "x": 40, "y": 40, "width": 300, "height": 160, "frame": {"copy": "story"}}
    return {
        "format": "nest-line",
        "version": 1,
        "title": "Shared sheet",
        "language": "en",
        "copies": {"story": text},
        "pages": [{"width": 400, "height": 560, "objects": [thing]}],
    }


class People(BrowserCase):
    def another(self) -> Page:
        """A browser of somebody else."""
        context = self.browser.new_context(
            bypass_csp=True, viewport={"width": 1280, "height": 800}, accept_downloads=True
        )
        context.set_default_timeout(WAIT)
        self.addCleanup(context.close)
        page = context.new_page()
        page.on("pageerror", lambda error: self.faults.append(str(error)))
        return page

    def said(self, page: Page, text: str | re.Pattern[str]) -> None:
        page.get_by_role("status").filter(has_text=text).first.wait_for()

    def test_from_an_invitation_to_the_end_of_an_account(self) -> None:
        get_user_model().objects.filter(username="ada").update(is_staff=True)
        self.sign_in()
        page = self.page
        page.get_by_role("link", name="ada", exact=True).click()
        page.get_by_label("Name", exact=True).fill("cyd")
        page.get_by_role("button", name="Make a link").click()
        link = page.get_by_label("Link", exact=True).input_value()
        page.get_by_role("button", name="Take it back").wait_for()
        cyd = self.another()
        cyd.goto(link)
        cyd.get_by_text("ada invites you").wait_for()
        self.assertEqual(cyd.get_by_label("Name").input_value(), "cyd")
        cyd.get_by_label("Password").fill("password1")
        cyd.get_by_role("button", name="Come in").click()
        cyd.get_by_role("alert").filter(has_text="too common").wait_for()
        cyd.get_by_label("Password").fill("three-strings-and-a-tail")
        cyd.get_by_role("button", name="Come in").click()
        cyd.get_by_role("heading", name="Documents").wait_for()
        # The link is over.
        again = self.another()
        again.goto(link)
        again.get_by_role("heading", name="Not any more").wait_for()
        # Another password; the address; all data.
        cyd.get_by_role("link", name="cyd", exact=True).click()
        cyd.get_by_label("E-mail").fill("cyd@example.org")
        cyd.get_by_role("button", name="Keep it").click()
        self.said(cyd, "Your address is kept")
        cyd.get_by_role("button", name="Change the password").click()
        cyd.get_by_label("Password now").fill("three-strings-and-a-tail")
        cyd.get_by_label("New password").fill("two-tails-and-no-string")
        cyd.get_by_role("button", name="Change it").click()
        self.said(cyd, "Your password is changed")
        cyd.get_by_role("region", name="What happened").get_by_text("Password changed").wait_for()
        # The end.
        cyd.get_by_role("button", name="Delete this account").click()
        cyd.get_by_label("Your password").fill("two-tails-and-no-string")
        cyd.get_by_role("button", name="Delete cyd for good").click()
        cyd.get_by_role("button", name="Sign in", exact=True).wait_for()
        self.assertFalse(get_user_model().objects.filter(username="cyd").exists())

    def test_a_passkey_is_made_and_lets_in(self) -> None:
        self.sign_in()
        page = self.page
        keys = page.context.new_cdp_session(page)
        keys.send("WebAuthn.enable")
        options = {
            "protocol": "ctap2",
            "transport": "internal",
            "hasResidentKey": True,
            "hasUserVerification": True,
            "isUserVerified": True,
            "automaticPresenceSimulation": True,
        }
        keys.send("WebAuthn.addVirtualAuthenticator", {"options": options})
        page.get_by_role("link", name="ada", exact=True).click()
        page.get_by_role("button", name="Make a passkey on this device").click()
        self.said(page, "The passkey is kept")
        page.get_by_role("button", name="Take it away").wait_for()
        page.get_by_role("button", name="Sign out").click()
        page.get_by_role("button", name="Sign in with a passkey").click()
        page.get_by_role("link", name="ada", exact=True).wait_for()
        self.assertEqual(Passkey.objects.get().count, 2)
        # Taken away it lets nobody in.
        page.get_by_role("link", name="ada", exact=True).click()
        page.get_by_text("by passkey").wait_for()
        page.get_by_role("button", name="Take it away").click()
        page.get_by_role("button", name="Take it away").wait_for(state="detached")
        page.get_by_role("button", name="Sign out").click()
        page.get_by_role("button", name="Sign in with a passkey").click()
        page.get_by_role("alert").filter(has_text="could not be checked").wait_for()

    def test_a_document_is_edited_by_two_people_and_read_only_is_held(self) -> None:
        get_user_model().objects.create_user("ben", password="kites-down-low")
        self.signed_in()
        self.open_raw(story())
        page = self.page
        page.get_by_role("button", name="Share", exact=True).click()
        page.get_by_label("With whom").fill("nobody")
        page.get_by_role("button", name="Share", exact=True).last.click()
        page.get_by_role("alert").filter(has_text="Nobody is called").wait_for()
        page.get_by_label("With whom").fill("ben")
        page.get_by_role("button", name="Share", exact=True).last.click()
        page.get_by_label("What ben may do").wait_for()
        # To see: said, and held in every door.
        ben = self.another()
        ben.goto(self.live_server_url)
        ben.get_by_label("Name").fill("ben")
        ben.get_by_label("Password").fill("kites-down-low")
        ben.get_by_role("button", name="Sign in", exact=True).click()
        ben.get_by_text("ada’s, to see").wait_for()
        ben.get_by_role("link", name="Open Shared sheet").click()
        ben.get_by_text("Read only").wait_for()
        ben.wait_for_selector("canvas[data-drawn=whole]")
        ben.evaluate("nestLine.store.setState({ selected: 'f', others: [] })")
        ben.get_by_role("application").focus()
        ben.keyboard.press("ArrowRight")
        self.said(ben, "yours to see")
        ben.keyboard.press("Delete")
        copy = ben.get_by_role("textbox", name="Copy")
        self.assertEqual(copy.get_attribute("contenteditable"), "false")
        self.assertEqual(ben.evaluate("nestLine.store.getState().revision"), 1)
        refused = ben.evaluate(
            """async (id) => (await fetch(`/api/documents/${id}/edits`, { method: 'POST', headers: {
              'Content-Type': 'application/json',
               'X-CSRFToken': document.cookie.match(/csrftoken=([^;]+)/)[1] }, body: JSON.stringify({ base: 1,
                 operations: [{ do: 'cut', at: ['objects', 'f'] }] }) })).status""",
            self.state("id"),
        )
        self.assertEqual(refused, 403)
        # To change: at once, without loading again.
        page.get_by_label("What ben may do").select_option("edit")
        ben.get_by_text("Read only").wait_for(state="detached")
        page.get_by_role("button", name="Done").click()
        # Each sees where the other is, and what they change.
        ben.get_by_role("application").focus()
        ben.keyboard.press("ArrowRight")
        page.wait_for_function("nestLine.store.getState().scene.objects.f.box[0] === 41")
        page.wait_for_function(
            "nestLine.store.getState().windows.some((w) => w.who === 'ben' && w.chosen.includes('f'))"
        )
        page.get_by_role("textbox", name="Copy").or_(page.get_by_role("application")).first.focus()
        page.evaluate("nestLine.store.setState({ selected: 'f', others: [] })")
        page.get_by_role("textbox", name="Copy").click()
        page.keyboard.press("End")
        page.keyboard.type(" Bring friends.")
        self.settled()
        ben.wait_for_function(
            "JSON.stringify(nestLine.store.getState().document.copies).includes('Bring string. Bring friends.')"
        )
        ben.wait_for_function("nestLine.store.getState().windows.some((w) => w.who === 'ada')")
        # No more: what is open stays to be read, and nothing is stored from it.
        page.get_by_role("button", name="Share", exact=True).click()
        page.get_by_role("button", name="Share it with ben no more").click()
        self.said(ben, "not shared with you any more")
        ben.get_by_role("application").focus()
        ben.keyboard.press("ArrowRight")
        ben.wait_for_timeout(500)
        self.assertEqual(self.state("scene.objects.f.box")[0], 41)

    def test_a_team_shares_its_library(self) -> None:
        self.sign_in()
        page = self.page
        page.get_by_role("link", name="Teams").click()
        page.get_by_label("Name of a new team").fill("Posters")
        page.get_by_role("button", name="Make it").click()
        posters = page.get_by_role("region", name="Posters")
        posters.get_by_label("Name of a colour for Posters").fill("sea")
        posters.get_by_role("button", name="Keep it").click()
        posters.get_by_text("#2f6f8f").wait_for()
        posters.get_by_label("Name of a colour for Posters").fill("Paper")
        posters.get_by_role("button", name="Keep it").click()
        posters.get_by_role("listitem").filter(has_text="Paper").wait_for()
        self.open_raw(story())
        page.evaluate("nestLine.store.setState({ selected: 'f', others: [] })")
        self.part("fill")
        page.get_by_role("button", name="sea, of Posters").first.click()
        self.settled()
        self.assertEqual(self.state("document.colors.sea"), "#2f6f8f")
        self.assertEqual(self.state("document.pages[0].objects[0].fill.color"), "sea")
        # One that the document calls another colour by comes in by its team's name, too; what the document calls so
        # stays.
        page.get_by_role("button", name="Paper, of Posters").click()
        self.settled()
        self.assertEqual(self.state("document.colors")["Paper, Posters"], "#2f6f8f")
        self.assertEqual(self.state("document.pages[0].objects[0].fill.color"), "Paper, Posters")
        page.get_by_role("button", name="Paper, of Posters").wait_for(state="detached")
