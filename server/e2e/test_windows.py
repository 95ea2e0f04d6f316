"""Two windows of one document, a reload while the server is away, and a session that ended, in the real client."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager

import psycopg
from django.db import connection
from playwright.sync_api import Page
from psycopg import sql

from e2e.support import WAIT, BrowserCase

TEXT = (
    "Object.values(nestLine.store.getState().document.copies)[0].versions.en.paragraphs[0].runs.map((r) => "
    "r.text).join('')"
)
SETTLED = "!nestLine.store.getState().saving && !nestLine.store.getState().tried"


@contextmanager
def no_database() -> Iterator[None]:
    """The test's database ends all connections, and takes none."""
    wanted = connection.settings_dict
    connection.close()
    with psycopg.connect(
        dbname="postgres",
        user=wanted["USER"],
        password=wanted["PASSWORD"],
        host=wanted["HOST"],
        port=wanted["PORT"],
        autocommit=True,
    ) as outside:
        name = sql.Identifier(wanted["NAME"])
        outside.execute(sql.SQL("alter database {} with allow_connections false").format(name))
        try:
            outside.execute(
                "select pg_terminate_backend(pid) from pg_stat_activity where datname = %s", [wanted["NAME"]]
            )
            yield
        finally:
            outside.execute(sql.SQL("alter database {} with allow_connections true").format(name))


class TwoWindows(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.new_document("Shared")
        self.frame = self.draw("Rectangle", (60, 60), (360, 200))
        self.page.get_by_role("textbox", name="Copy").click()
        self.page.keyboard.insert_text("Bring string and tape to the hill at noon")
        self.settled()
        self.page.keyboard.press("Escape")
        self.other = self.page.context.new_page()
        self.other.on("pageerror", lambda error: self.faults.append(str(error)))
        self.other.goto(self.page.url)
        self.other.get_by_role("application").wait_for()
        self.page.wait_for_function("nestLine.store.getState().windows.length === 1")

    def words(self, page: Page) -> str:
        return page.evaluate(
            "Object.values(nestLine.store.getState().document.copies)[0].versions.en.paragraphs.map((p) => "
            "p.runs.map((r) => r.text).join('')).join('|')"
        )

    def write(self, page: Page, at: int, text: str) -> None:
        """Type at a place of the copy, letter by letter."""
        page.bring_to_front()
        page.evaluate(f"nestLine.store.setState({{ selected: '{self.frame}', others: [] }})")
        page.get_by_role("textbox", name="Copy").click()
        page.keyboard.press("Control+Home")
        for _ in range(at):
            page.keyboard.press("ArrowRight")
        page.keyboard.type(text)

    def take_back(self, page: Page, before: str, after: str) -> None:
        """Take back what was typed between two words: on a busy machine letters come with pauses, and go one after the
        other."""
        there = f"text.indexOf('{before}') + {len(before)}, text.indexOf('{after}')"
        between = f"(() => {{ const text = {TEXT}; return text.slice({there}); }})()"
        while rest := page.evaluate(between):
            page.keyboard.press("Control+z")
            page.wait_for_function(f"(rest) => {between}.length < rest.length", arg=rest)

    def same(self, wanted: str) -> None:
        for page in (self.page, self.other):
            page.wait_for_function(SETTLED)
            page.wait_for_function(
                f"(wanted) => {TEXT} === wanted",
                arg=wanted,
            )
            galley = page.get_by_role("textbox", name="Copy")
            if galley.count():
                self.assertEqual(galley.inner_text().strip(), wanted)

    def test_what_one_does_is_seen_in_the_other_and_where_it_is(self) -> None:
        self.drag((200, 130), (220, 170))
        self.settled()
        x, y = self.state(f"scene.objects['{self.frame}'].box")[:2]
        self.other.wait_for_function(
            "([id, x, y]) => { const b = nestLine.store.getState().scene.objects[id].box; return "
            "Math.abs(b[0] - x) < 0.01 && Math.abs(b[1] - y) < 0.01; }",
            arg=[self.frame, x, y],
        )
        self.other.get_by_text("ada, another window").wait_for()
        self.other.get_by_role("button", name="ada, page 1").wait_for()
        self.other.close()
        self.page.wait_for_function("nestLine.store.getState().windows.length === 0")

    def test_both_type_in_one_paragraph_and_each_takes_back_its_own(self) -> None:
        self.write(self.page, len("Bring "), "strong ")
        self.same("Bring strong string and tape to the hill at noon")
        self.write(self.other, len("Bring strong string and tape"), ", glue")
        self.same("Bring strong string and tape, glue to the hill at noon")
        self.page.wait_for_timeout(2200)  # what is typed after a pause is taken back by itself
        # At the same time: neither waits for the other.
        self.page.bring_to_front()
        for a, b in zip("big ", " xyz", strict=True):
            self.page.keyboard.type(a)
            self.other.keyboard.type(b)
        self.same("Bring strong big string and tape, glue xyz to the hill at noon")
        self.take_back(self.page, "strong ", "string")
        self.same("Bring strong string and tape, glue xyz to the hill at noon")
        self.take_back(self.other, ", glue", " to the hill")
        self.same("Bring strong string and tape, glue to the hill at noon")

    def test_what_collides_is_shown_with_both_and_chosen(self) -> None:
        for page in (self.page, self.other):
            page.evaluate("nestLine.store.setState({ everyRule: true })")
        # The other hears of nothing for a while.
        self.other.context.set_offline(False)
        self.other.evaluate(
            "() => { window.plain = fetch; window.fetch = () => Promise.reject(new TypeError('away')); }"
        )
        self.write(self.other, len("Bring string"), "s")
        self.write(self.page, len("Bring st"), "o")
        self.settled()
        self.other.bring_to_front()
        self.other.evaluate("() => { window.fetch = window.plain; }")
        self.other.get_by_role("heading", name="Two changes of the same").wait_for()
        dialog = self.other.get_by_role("alertdialog")
        self.assertIn("storing", dialog.inner_text())
        self.assertIn("strings", dialog.inner_text())
        self.other.get_by_role("button", name="Keep the other window’s").click()
        self.same("Bring storing and tape to the hill at noon")
        self.other.get_by_role("button", name="Redo", exact=True).click()
        self.same("Bring strings and tape to the hill at noon")


class Away(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.new_document("Away")
        self.frame = self.draw("Rectangle", (60, 60), (360, 200))
        self.page.get_by_role("textbox", name="Copy").click()
        self.page.keyboard.insert_text("Fly a kite")
        self.settled()

    def words(self) -> str:
        return self.state("document.copies['Copy 1'].versions.en.paragraphs[0].runs.map((r) => r.text).join('')")

    def test_a_reload_while_the_server_is_away_loses_no_word(self) -> None:
        page = self.page
        page.evaluate("() => { window.fetch = () => Promise.reject(new TypeError('away')); }")
        page.keyboard.type(" up the")
        page.get_by_text(re.compile("waits? since")).wait_for()
        page.keyboard.type(" hill")
        page.wait_for_timeout(700)
        page.on("dialog", lambda dialog: dialog.accept())
        page.reload()
        page.get_by_role("application").wait_for()
        page.get_by_text("What waited from before is stored").wait_for()
        page.wait_for_function(SETTLED)
        self.assertEqual(self.words(), "Fly a kite up the hill")

    def test_what_waits_is_said_in_the_list_and_stored_when_the_document_is_opened(self) -> None:
        page = self.page
        page.evaluate("() => { window.plain = fetch; window.fetch = () => Promise.reject(new TypeError('away')); }")
        page.keyboard.type(" up the hill")
        page.get_by_text(re.compile("waits? since")).wait_for()
        page.wait_for_timeout(700)  # the last letters are kept a moment after they are typed
        page.on("dialog", lambda dialog: dialog.accept())
        page.goto(self.live_server_url)
        page.get_by_text(re.compile("changes? waits? here")).wait_for()
        page.get_by_role("link", name="Open Away").click()
        page.get_by_role("application").wait_for()
        page.wait_for_function(SETTLED)
        page.wait_for_function(
            "nestLine.store.getState().document.copies['Copy 1'].versions.en.paragraphs[0].runs.map((r) => "
            "r.text).join('') === 'Fly a kite up the hill'"
        )

    def test_the_database_stops_for_ten_seconds_while_words_are_typed(self) -> None:
        page = self.page
        page.keyboard.type(" up", delay=30)
        with no_database():
            page.keyboard.type(" the steep hill", delay=250)
            page.get_by_text(re.compile("waits? since")).wait_for()
            page.keyboard.type(" with all your friends", delay=250)
            self.assertIn(
                "Fly a kite up the steep hill with all your friends",
                page.get_by_role("textbox", name="Copy").inner_text(),
            )
        page.keyboard.type(" at noon", delay=30)
        page.wait_for_function(SETTLED)
        page.wait_for_function("nestLine.store.getState().away === null")
        self.assertEqual(self.words(), "Fly a kite up the steep hill with all your friends at noon")
        stored = page.evaluate(
            "fetch(`/api/documents/${nestLine.store.getState().id}`).then((answer) => answer.json())"
        )
        runs = stored["document"]["copies"]["Copy 1"]["versions"]["en"]["paragraphs"][0]["runs"]
        self.assertEqual("".join(run["text"] for run in runs), self.words())

    def faulty(self, times: int) -> None:
        """The server fails at the next changes, as it should never."""
        self.page.evaluate(
            """(times) => {
              const plain = window.fetch;
              let left = times;
              window.fetch = (...asked) => {
                if (!String(asked[0]).includes('/edits') || left-- <= 0) return plain(...asked);
                return Promise.resolve(new Response('{"message": "Something went wrong."}', { status: 500 }));
              };
            }""",
            times,
        )

    def test_a_fault_of_the_server_of_a_moment_loses_no_word(self) -> None:
        self.faulty(2)
        self.page.keyboard.type(" up the steep hill", delay=100)
        self.page.wait_for_function(SETTLED)
        self.assertEqual(self.words(), "Fly a kite up the steep hill")
        self.assertEqual(self.page.get_by_role("textbox", name="Copy").inner_text(), "Fly a kite up the steep hill")

    def test_words_that_a_fault_keeps_out_can_be_taken_along(self) -> None:
        self.page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        self.faulty(5)
        self.page.keyboard.insert_text(" up")
        self.page.get_by_role("button", name="Copy what was typed").click()
        self.assertIn("kite up", self.page.evaluate("navigator.clipboard.readText()"))
        self.assertEqual(self.words(), "Fly a kite")

    def test_too_many_tries_to_sign_in_are_said(self) -> None:
        page = self.page
        page.context.clear_cookies()
        page.goto(self.live_server_url)
        page.get_by_label("Name").fill("ada")
        for number in range(9):
            page.get_by_label("Password").fill(f"guess {number}")
            page.get_by_role("button", name="Sign in", exact=True).click()
            page.wait_for_function("!document.querySelector('form button').disabled")
        page.get_by_role("alert").get_by_text("too many tries").wait_for()

    def test_a_session_that_ended_is_signed_in_again_in_place(self) -> None:
        page = self.page
        page.context.clear_cookies()
        page.keyboard.type(" at noon")
        page.get_by_text("Your session has ended").wait_for()
        page.get_by_label("Name").fill("ada")
        page.get_by_label("Password").fill("kites-up-high")
        page.get_by_role("button", name="Sign in", exact=True).click()
        page.get_by_text("everything is stored").wait_for()
        self.settled()
        self.assertEqual(self.words(), "Fly a kite at noon")


class Policy(BrowserCase):
    def test_every_view_keeps_to_the_pages_policy(self) -> None:
        """Without leave to pass it by, as the other tests have: no style, script or connection is refused."""
        context = self.browser.new_context(viewport={"width": 1280, "height": 800})
        context.set_default_timeout(WAIT)
        self.addCleanup(context.close)
        self.page = page = context.new_page()
        refused: list[str] = []
        page.on("console", lambda said: refused.append(said.text) if said.type == "error" else None)
        page.on("pageerror", lambda error: self.faults.append(str(error)))
        self.sign_in()
        page.get_by_role("button", name="New document").click()
        page.get_by_label("Title").fill("Policy")
        page.get_by_role("button", name="A4 sheet").click()
        page.get_by_role("application").wait_for()
        page.get_by_role("button", name="Outline").click()
        page.get_by_role("menuitem", name="Ellipse").click()
        box = page.get_by_role("application").bounding_box()
        assert box
        page.mouse.move(box["x"] + 250, box["y"] + 120)
        page.mouse.down()
        page.mouse.move(box["x"] + 450, box["y"] + 300, steps=5)
        page.mouse.up()
        page.get_by_text("It holds no copy").wait_for()
        page.keyboard.type("Bring string and friends")
        page.get_by_text("4 words").wait_for()
        self.part("font")
        page.get_by_role("radio", name="Vollkorn").click()
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Shelf").click()
        page.wait_for_timeout(500)
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Export").click()
        page.get_by_text("PDF for print").wait_for()
        page.keyboard.press("Escape")
        page.get_by_role("button", name="All documents").click()
        page.get_by_role("heading", name="Documents").wait_for()
        page.wait_for_timeout(500)
        self.assertEqual(refused, [])
