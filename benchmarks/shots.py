"""Makes the pictures in docs/screenshots from the demo data, at 1280 × 800."""

from __future__ import annotations

from playwright.sync_api import Page

from benchmarks.browser import ROOT, application, on_page, open_document

FOLDER = ROOT / "docs" / "screenshots"


def shot(page: Page, name: str) -> None:
    page.wait_for_timeout(500)
    page.screenshot(path=str(FOLDER / f"{name}.png"))
    print(f"docs/screenshots/{name}.png")


def choose(page: Page, name: str) -> None:
    page.get_by_label("Tally").get_by_role("button", name=name, exact=True).click()
    page.wait_for_timeout(300)


def part(page: Page, name: str) -> None:
    page.locator(f'[data-part="{name}"]').click()
    page.wait_for_timeout(300)


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with application(signed_in=False) as page:
        shot(page, "sign-in")
    with application() as page:
        page.wait_for_timeout(4000)
        shot(page, "documents")
        open_document(page, "Quarrowby Kite Day")
        choose(page, "Story kite")
        shot(page, "poster")
        page.get_by_role("button", name="Close the list").click()
        part(page, "sit")
        shot(page, "where-lines-sit")
        page.keyboard.press("Escape")
        part(page, "hang")
        shot(page, "hang")
        page.keyboard.press("Escape")
        choose(page, "Delta kite")
        box = page.evaluate("nestLine.store.getState().scene.objects.delta.box")
        at = on_page(page, box[0] + box[2] / 2, box[1] + box[3] * 0.45)
        page.mouse.move(*at)
        page.mouse.down()
        page.mouse.move(at[0] - 86, at[1] + 60, steps=12)
        page.wait_for_timeout(900)
        shot(page, "dragging-a-wrap")
        page.keyboard.press("Escape")
        page.mouse.up()
        page.wait_for_timeout(300)
        page.get_by_role("button", name="Clean view").click()
        page.get_by_role("button", name="Whole page").wait_for(state="detached")
        page.keyboard.press("0")
        shot(page, "clean-view")
        page.get_by_role("button", name="Clean view").click()
        page.get_by_role("button", name="All documents").click()
        open_document(page, "Ticket screen")
        choose(page, "Main button")
        shot(page, "ticket")


if __name__ == "__main__":
    main()
