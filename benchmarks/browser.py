"""A signed-in browser on the running application, for measuring and for pictures."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).resolve().parents[1]
ADDRESS = f"http://127.0.0.1:{os.environ.get('NEST_PORT', '8017')}/"
sys.path[:0] = [str(ROOT / "core" / "tests")]


@contextmanager
def application(signed_in: bool = True, width: int = 1280, height: int = 800) -> Iterator[Page]:
    """The application at 1280 × 800, as the demo's designer."""
    from chromium import ARGUMENTS, CHROMIUM

    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        page = browser.new_page(bypass_csp=True, viewport={"width": width, "height": height})
        page.goto(ADDRESS)
        page.get_by_label("Name").wait_for()
        if signed_in:
            page.get_by_label("Name").fill("designer")
            page.get_by_label("Password").fill("kite-day")
            page.get_by_role("button", name="Sign in", exact=True).click()
            page.get_by_role("heading", name="Documents").wait_for()
        yield page
        browser.close()


def open_document(page: Page, title: str) -> None:
    page.get_by_role("link", name=f"Open {title}").click()
    page.get_by_role("application").wait_for()
    page.wait_for_timeout(1500)


def on_page(page: Page, x: float, y: float) -> tuple[float, float]:
    """A point of the first page as a place on the screen."""
    box = page.get_by_role("application").bounding_box()
    assert box
    view = page.evaluate("nestLine.store.getState().view")
    k = view["scale"] * 4 / 3
    return box["x"] + view["x"] + x * k, box["y"] + view["y"] + y * k
