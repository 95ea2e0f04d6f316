"""Browser tests: the real client in Debian's Chromium against a live server. Any page error fails the test."""

from __future__ import annotations

import json
import os
import tempfile
import threading
import time
from copy import deepcopy
from functools import cache
from pathlib import Path
from typing import Any, ClassVar

from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.signals import request_finished, request_started
from django.db import DatabaseError, connection
from django.test import Client, override_settings
from playwright.sync_api import Browser, BrowserContext, Page, Playwright, TimeoutError, sync_playwright

from chromium import ARGUMENTS, CHROMIUM
from config.runner import AFTER_BROWSERS
from documents.exchange import bring_in
from documents.management.commands.load_demo import _archive
from nestline.rows import SCREEN_RECORD
from tests.live import Live

MEDIA = tempfile.TemporaryDirectory()


WAIT = 1000 * int(os.environ.get("NEST_WAIT", "120"))
"""How long to wait for anything, in ms: generous, for busy machines; nothing here measures time."""


def launch(playwright: Playwright) -> Browser:
    return playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS, timeout=WAIT)


@cache
def playwright() -> Playwright:
    return sync_playwright().start()


RUNNING: list[Browser] = []


def end_browser() -> None:
    """End the browser and what drives it: its loop would be in the way of what comes after."""
    if RUNNING:
        RUNNING.pop().close()
        playwright().stop()
        playwright.cache_clear()


AFTER_BROWSERS.append(end_browser)


def shared_browser() -> Browser:
    """One browser for all classes, begun again where it has ended; each test has a context of its own."""
    if not RUNNING or not RUNNING[-1].is_connected():
        RUNNING.append(launch(playwright()))
    return RUNNING[-1]


STATE = """() => {
  const { scene, ...state } = nestLine.store.getState();
  const plain = (value) => {
    try {
      return String(JSON.stringify(value)).slice(0, 300);
    } catch {
      return String(value);
    }
  };
  const said = Object.entries(state).filter(([, value]) => typeof value !== "function").map(([name, value]) =>
    `${name} ${plain(value)}`);
  return [...said, `focus ${document.activeElement?.outerHTML.slice(0, 200)}`].join("; ");
}"""


class Under:
    """Counts the requests that the live server has under way."""

    def __init__(self) -> None:
        self.count = 0
        self._lock = threading.Lock()
        request_started.connect(self._begun, weak=False)
        request_finished.connect(self._ended, weak=False)

    def _begun(self, **_: object) -> None:
        with self._lock:
            self.count += 1

    def _ended(self, **_: object) -> None:
        with self._lock:
            self.count -= 1

    def none_left(self, seconds: float = 20.0) -> None:
        """Wait until none is under way, at most so long."""
        end = time.monotonic() + seconds
        while self.count > 0 and time.monotonic() < end:
            time.sleep(0.02)
        with self._lock:
            self.count = 0


UNDER_WAY = Under()

SHEETS = {
    "A4 sheet": {"width": "210mm", "height": "297mm", "unit": "mm"},
    "A5 flyer": {"width": "148mm", "height": "210mm", "unit": "mm"},
    "Phone screen": {"width": "390px", "height": "844px", "unit": "px"},
}
"""Sheets as the dialog offers them."""


@override_settings(MEDIA_ROOT=Path(MEDIA.name), PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])
class BrowserCase(StaticLiveServerTestCase):
    """A signed-out page of 1280 × 800 px, and the account `ada`."""

    page: Page
    context: ClassVar[BrowserContext | None] = None

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.browser = shared_browser()
        cls.live = Live().__enter__()
        policy = deepcopy(settings.CONTENT_SECURITY_POLICY)
        policy["DIRECTIVES"]["connect-src"].append(f"http://localhost:{cls.live.port}")
        cls.enterClassContext(override_settings(LIVE_PORT=str(cls.live.port), CONTENT_SECURITY_POLICY=policy))

    @classmethod
    def tearDownClass(cls) -> None:
        if cls.context is not None and cls.context.browser in RUNNING:
            cls.context.close()
        cls.context = None
        cls.live.__exit__()
        super().tearDownClass()

    def _fixture_teardown(self) -> None:
        """Empty the tables, once nobody uses them: a page that is closed leaves its last requests running."""
        UNDER_WAY.none_left()
        for left in range(5, -1, -1):
            try:
                return super()._fixture_teardown()
            except DatabaseError:  # a deadlock with what they left
                if not left:
                    raise
                connection.close()
                time.sleep(1)

    def setUp(self) -> None:
        from documents import store

        store._states.clear()
        get_user_model().objects.create_user("ada", password="kites-up-high")
        self.page = self.fresh_page()
        self.faults: list[str] = []
        self.page.on("pageerror", lambda error: self.faults.append(str(error)))
        self.addCleanup(lambda: self.assertEqual(self.faults, []))

    def fresh_page(self) -> Page:
        """A page of the class's context, in which nothing is kept of the test before but the application's files."""
        context = self.shared_context()
        page = context.new_page()
        for before in context.pages[:-1]:
            before.close()
        kept = context.new_cdp_session(page)
        what = {"origin": self.live_server_url, "storageTypes": "cookies,local_storage,indexeddb,cache_storage"}
        kept.send("Storage.clearDataForOrigin", what)
        kept.detach()
        context.clear_cookies()
        context.clear_permissions()
        context.set_offline(False)
        self.addCleanup(page.close)
        return page

    @classmethod
    def shared_context(cls) -> BrowserContext:
        """Of the class: so the application's files are read once."""
        if cls.context is None or cls.browser is not cls.context.browser or not cls.browser.is_connected():
            cls.browser = shared_browser()
            cls.context = cls.browser.new_context(
                bypass_csp=True, viewport={"width": 1280, "height": 800}, accept_downloads=True
            )
            cls.context.set_default_timeout(WAIT)
        return cls.context

    def signed_in(self) -> Client:
        """Ada signs in by the API, for the browser too; how one signs in by hand is e2e.test_people's."""
        client = Client()
        asked = {"name": "ada", "password": "kites-up-high"}
        self.assertEqual(client.post("/api/session", asked, content_type="application/json").status_code, 200)
        session = client.cookies[settings.SESSION_COOKIE_NAME].value
        self.page.context.add_cookies(
            [{"name": settings.SESSION_COOKIE_NAME, "value": session, "url": self.live_server_url}]
        )
        return client

    def sign_in(self) -> None:
        """Ada's documents."""
        self.signed_in()
        self.page.goto(self.live_server_url)
        self.page.get_by_role("heading", name="Documents").wait_for()

    def new_document(self, title: str, sheet: str = "A4 sheet") -> None:
        """A new document of Ada's, open; how one is made by hand is e2e.test_documents's."""
        asked = {"title": title, "words": "", "facing": False, "folder": "", **SHEETS[sheet]}
        made = self.signed_in().post("/api/documents", asked, content_type="application/json")
        self.assertEqual(made.status_code, 200, made.content)
        self.page.goto(f"{self.live_server_url}/d/{made.json()['id']}")
        self.page.get_by_role("application").wait_for()
        # Drags end where they are let go; what things catch on has tests of its own.
        # The sentence says every rule, so that each can be reached.
        self.page.evaluate("nestLine.store.setState({ snapping: false, everyRule: true })")

    def open_raw(self, raw: dict[str, Any], pictures: dict[str, bytes] | None = None) -> None:
        """A document of the open format, kept for ada and opened."""
        user = get_user_model().objects.get(username="ada")
        row = bring_in(user.id, "document", _archive(json.dumps(raw).encode(), pictures or {}))
        self.page.goto(f"{self.live_server_url}/d/{row.id}")
        self.page.get_by_role("application").wait_for()
        self.page.evaluate("nestLine.store.setState({ snapping: false, everyRule: true })")
        self.drawn()

    def writing(self) -> None:
        """Wait until the caret stands in the copy on the page."""
        self.page.wait_for_function("nestLine.store.getState().caret && !nestLine.store.getState().wanted")

    def on_sheet(self, page: int, x: float, y: float) -> tuple[float, float]:
        """A point of any page, in points, as a place on the screen; pages stand one under another."""
        sheets = self.state("scene.pages")
        return self.on_page(x, y + sum(s["height"] + 36 + 2 * s["bleed"] for s in sheets[:page]))

    def state(self, path: str) -> Any:
        """A value of the client's store, for example `revision` or `scene.nests`."""
        return self.page.evaluate(f"nestLine.store.getState().{path}")

    def settled(self) -> None:
        """Wait until everything is stored; says what the state was when it does not come to that."""
        try:
            self.page.wait_for_function("!nestLine.store.getState().saving && !nestLine.store.getState().tried")
        except TimeoutError as error:
            raise AssertionError(f"not everything was stored: {self.page.evaluate(STATE)}") from error

    def drawn(self) -> None:
        """Wait until the bench is drawn as it stands, with all fonts and pictures."""
        twice = "() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))"
        self.page.evaluate(twice)
        self.page.wait_for_selector("canvas[data-drawn=whole]")
        self.page.evaluate(twice)

    def on_page(self, x: float, y: float) -> tuple[float, float]:
        """A point of the first page, in points, as a place on the screen."""
        box = self.page.get_by_role("application").bounding_box()
        assert box
        view = self.state("view")
        k = view["scale"] * 4 / 3
        return box["x"] + view["x"] + x * k, box["y"] + view["y"] + y * k

    def drag(self, start: tuple[float, float], end: tuple[float, float], steps: int = 12) -> None:
        """Press at a point of the page, move to another, let go. Both in points."""
        mouse = self.page.mouse
        mouse.move(*self.on_page(*start))
        mouse.down()
        mouse.move(*self.on_page(*end), steps=steps)
        mouse.up()
        self.settled()

    def draw(self, name: str, start: tuple[float, float], end: tuple[float, float]) -> str:
        """Draw an outline from the menu; its id."""
        before = set(self.state("scene.objects"))
        self.page.get_by_role("navigation", name="Make").get_by_role("button").first.click()
        self.page.get_by_role("menuitem", name=name, exact=True).click()
        self.drag(start, end)
        self.page.wait_for_function("nestLine.store.getState().justMade !== null")
        # Until then typing would begin its copy; letters are shortcuts again.
        self.page.keyboard.press("Escape")
        self.page.wait_for_function("nestLine.store.getState().justMade === null")
        return next(iter(set(self.state("scene.objects")) - before))

    def part(self, name: str) -> None:
        """Open a part of the sentence: its first line is pressed, where it takes two."""
        part = self.page.locator(f'[data-part="{name}"]')
        part.scroll_into_view_if_needed()
        place = part.evaluate("""(e) => { const [line] = e.getClientRects(), box = e.getBoundingClientRect();
            return { x: line.x - box.x + line.width / 2, y: line.y - box.y + line.height / 2 }; }""")
        part.click(position=place)

    def lines(self, id: str) -> list[str]:
        """A frame's lines as text, of what is stored."""
        return self.page.evaluate(
            """([id, columns]) => { const s = nestLine.store.getState().scene; const n = s.nests[id];
              const text = Array.from(s.shapes[n.shape].text);
               const out = []; for (let r = 0; r < n.records.length; r += columns)
                 out.push(text.slice(n.records[r + 8], n.records[r + 9]).join('')); return out; }""",
            [id, len(SCREEN_RECORD)],
        )
