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
    page.get_by_role("region", name="Tally").get_by_role("button", name=name, exact=True).click()
    page.wait_for_timeout(300)


def part(page: Page, name: str) -> None:
    page.locator(f'[data-part="{name}"]').click()
    page.wait_for_timeout(300)


def combining(page: Page) -> None:
    """A sheet made for the pictures and thrown away: outlines combined, points edited, copy written in place."""
    page.get_by_role("button", name="New document").click()
    page.get_by_label("Title").fill("Kite sheet")
    page.get_by_role("button", name="A4 sheet").click()
    page.get_by_role("application").wait_for()

    def draw(name: str, start: tuple[float, float], end: tuple[float, float]) -> None:
        page.get_by_role("navigation", name="Make").get_by_role("button").first.click()
        page.get_by_role("menuitem", name=name, exact=True).click()
        page.mouse.move(*on_page(page, *start))
        page.mouse.down()
        page.mouse.move(*on_page(page, *end), steps=8)
        page.mouse.up()
        page.wait_for_timeout(500)

    draw("Star", (80, 60), (330, 300))
    draw("Ellipse", (230, 120), (480, 330))
    page.keyboard.press("Control+a")
    part(page, "combine")
    page.get_by_role("button", name="joined into one").hover()
    shot(page, "combine")
    page.get_by_role("button", name="joined into one").click()
    page.wait_for_timeout(500)
    page.get_by_label("More for this copy").click()
    page.get_by_role("menuitem", name="Dummy copy").click()
    page.wait_for_timeout(1500)
    page.get_by_role("application").focus()
    page.keyboard.press("e")
    page.mouse.click(*on_page(page, 480, 225))
    shot(page, "points")
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.mouse.click(*on_page(page, 330, 200))
    page.mouse.dblclick(*on_page(page, 330, 200))
    page.wait_for_timeout(300)
    page.keyboard.press("Home")
    page.keyboard.press("Shift+ArrowDown")
    shot(page, "in-place")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="All documents").click()
    page.get_by_label("More for Kite sheet").first.click()
    page.get_by_role("menuitem", name="Delete").click()
    page.get_by_label("Close", exact=True).click()
    page.wait_for_timeout(500)


def flyer(page: Page) -> None:
    """The flyer: its chain, a contour on a busy sky, and why a line ends where it does."""
    open_document(page, "Kite Day, flyer")
    choose(page, "Story")
    shot(page, "chain")
    box = page.evaluate("nestLine.store.getState().scene.objects.box.box")
    page.keyboard.press("y")
    at = on_page(page, box[0] + 22, box[1] + box[3] * 0.45)
    page.mouse.move(*at)
    page.wait_for_timeout(900)
    page.mouse.move(at[0] + 1, at[1])
    shot(page, "why-here")
    page.keyboard.press("Escape")
    choose(page, "Dragon in the sky")
    part(page, "contour")
    shot(page, "contour")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="All documents").click()
    page.get_by_role("heading", name="Documents").wait_for()


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with application(signed_in=False) as page:
        shot(page, "sign-in")
    with application() as page:
        page.evaluate("localStorage.setItem('every-rule', 'no')")
        page.wait_for_timeout(4000)
        shot(page, "documents")
        open_document(page, "Quarrowby Kite Day")
        choose(page, "Story kite")
        shot(page, "poster")
        page.get_by_role("button", name="Close the list").click()
        part(page, "sit")
        shot(page, "where-lines-sit")
        page.keyboard.press("Escape")
        part(page, "tries")
        page.wait_for_timeout(4000)
        shot(page, "tries")
        page.keyboard.press("Escape")
        choose(page, "Story kite")
        part(page, "end-here")
        answer = page.get_by_role("button").filter(has_text="of what is allowed").first
        answer.wait_for()
        answer.hover()
        page.wait_for_timeout(900)
        shot(page, "end-here")
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
        page.get_by_role("heading", name="Documents").wait_for()
        combining(page)
        flyer(page)
        open_document(page, "Ticket screens")
        choose(page, "Main button")
        shot(page, "ticket")
        choose(page, "Tag")
        part(page, "give")
        shot(page, "give")
        page.keyboard.press("Escape")
        part(page, "recipe")
        page.get_by_role("button", name="Change Tag").click()
        part(page, "padding")
        page.get_by_label("Room to the edge").fill("0 30px")
        page.wait_for_timeout(900)
        shot(page, "recipe")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Done").click()
        page.get_by_role("button", name="All documents").click()
        open_document(page, "Workshop sheet")
        page.get_by_role("application").focus()
        for _ in range(4):
            page.keyboard.press("w")
            page.wait_for_timeout(1500)
        page.wait_for_timeout(2500)
        shot(page, "findings")
        page.get_by_role("button", name="All documents").click()
        page.get_by_role("button", name="Recipes").click()
        page.wait_for_timeout(800)
        shot(page, "recipes")


if __name__ == "__main__":
    main()
