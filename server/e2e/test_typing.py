"""What is typed is what the copy reads: whenever the keys come, however slow the server is, whether it is there
or not."""

from __future__ import annotations

import random
from collections.abc import Callable
from datetime import UTC, datetime

from playwright.sync_api import Route

from draws import SEED, seeds
from e2e.support import BrowserCase

PLACES = [(40.0, 60.0), (230.0, 60.0), (420.0, 60.0)]
WORDS = ["4.50", "Kites", ",", " rn,", "string?", " and ", "+1", "0", ".", " y", "Fly", "!"]


class Typing(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.new_document("Typing")

    def words(self, thing: str) -> str | None:
        return self.page.evaluate(
            """(id) => {
              const { document } = nestLine.store.getState();
              const copy = document.pages[0].objects.find((o) => o.id === id).frame?.copy;
              return copy ? document.copies[copy].versions.en.paragraphs.map((p) => p.runs.map((r) =>
                r.text).join("")).join("|") : "";
            }""",
            thing,
        )

    def outlines(self) -> list[str]:
        return [
            self.draw("Ellipse", (x, y), (x + 150, y + 140))
            if i != 1
            else self.draw("Rectangle", (x, y), (x + 150, y + 140))
            for i, (x, y) in enumerate(PLACES)
        ]

    def hindered(self, dice: random.Random, away: bool) -> Callable[[Route], None]:
        """A server that takes its time, or is often not there."""

        def on_the_way(route: Route) -> None:
            if away and dice.random() < 0.6:
                return route.abort()
            self.page.wait_for_timeout(dice.choice([0, 30, 150, 400]))
            route.continue_()

        return on_the_way

    def test_words_typed_at_random_moments_are_all_there(self) -> None:
        page = self.page
        for number, seed in enumerate(seeds(8, least=2), SEED):
            dice = random.Random(seed)
            things = self.outlines()
            typed = dict.fromkeys(things, "")
            mode = ["quick", "slow", "away", "slow"][number % 4]

            if mode != "quick":
                page.route("**/edits", self.hindered(random.Random(seed), away=mode == "away"))
            at = None
            for _ in range(7):
                which = dice.randrange(3)
                x, y = PLACES[which]
                if at != which:
                    page.mouse.click(*self.on_page(x + 75, y + 70))
                    page.wait_for_function(f"nestLine.store.getState().selected === '{things[which]}'")
                    page.wait_for_timeout(dice.choice([0, 20, 600]))
                    at = which
                if dice.random() < 0.3:
                    page.keyboard.press("ArrowDown")  # a nudge, on its way with the words
                page.keyboard.press("Enter")
                page.wait_for_timeout(dice.choice([0, 0, 30, 200]))
                for _ in range(dice.randrange(1, 4)):
                    word = dice.choice(WORDS)
                    page.keyboard.type(word, delay=dice.choice([0, 5, 40]))
                    typed[things[which]] += word
                page.keyboard.press("Escape")
            page.unroute_all(behavior="wait")
            self.settled()
            for thing in things:
                self.assertEqual(self.words(thing), typed[thing], (seed, mode, which))
            page.keyboard.press("Escape")
            page.keyboard.press("Control+a")
            page.keyboard.press("Delete")
            page.wait_for_function("nestLine.store.getState().document.pages[0].objects.length === 0")

    def test_words_go_on_where_the_caret_stood_when_something_takes_the_keys_away(self) -> None:
        page = self.page
        thing = self.outlines()[0]
        x, y = PLACES[0]
        page.mouse.click(*self.on_page(x + 75, y + 70))
        page.keyboard.press("Enter")
        page.keyboard.type("Kites fly")
        for _ in range(4):
            page.keyboard.press("ArrowLeft")
        # They go on for a second: however slow the machine, no time passes.
        page.clock.set_fixed_time(datetime.now(UTC))
        for letters in ("all ", "can ", "t"):  # the body has them, then the page
            page.evaluate("document.activeElement.blur()")
            if letters == "can ":
                page.evaluate("document.querySelector('canvas').focus()")
            page.keyboard.type(letters, delay=5)
        self.settled()
        self.assertEqual(self.words(thing), "Kitesall can t fly")
        # Left on purpose, letters are shortcuts again.
        page.keyboard.press("Escape")
        page.keyboard.type("xyz")
        self.settled()
        self.assertEqual(self.words(thing), "Kitesall can t fly")

    def test_words_typed_before_what_is_drawn_is_stored_are_its_copy(self) -> None:
        page = self.page
        words = "Bring string, n r 5 ? and friends"

        def slow(seconds: float) -> Callable[[Route], None]:
            def on_the_way(route: Route) -> None:
                page.wait_for_timeout(1000 * seconds)
                route.continue_()

            return on_the_way

        for number, (keys, seconds) in enumerate((("nr", 0.0), ("nr", 0.4), ("nr", 1.2), ("nl", 0.0), ("nl", 0.9))):
            before = set(self.state("scene.objects"))
            page.get_by_role("application").focus()
            page.route("**/edits", slow(seconds))
            for key in keys:
                page.keyboard.press(key)
            x, y = 40 + 190 * (number % 3), 60 + 200 * (number // 3)
            page.mouse.move(*self.on_page(x, y))
            page.mouse.down()
            page.mouse.move(*self.on_page(x + 150, y + 140), steps=4)
            page.mouse.up()
            page.keyboard.type(words, delay=3)
            page.wait_for_function(
                "(n) => Object.keys(nestLine.store.getState().scene.objects).length > n", arg=len(before)
            )
            self.writing()
            self.settled()
            (made,) = set(self.state("scene.objects")) - before
            page.wait_for_function(
                """([id, words]) => { const { document } = nestLine.store.getState();
                    const copy = document.pages[0].objects.find((o) => o.id === id).frame?.copy;
                    return copy && document.copies[copy].versions.en.paragraphs.map((p) => p.runs.map((r) =>
                      r.text).join("")).join("|") === words; }""",
                arg=[made, words],
            )
            self.assertEqual(self.words(made), words)
            self.assertIsNone(self.state("asks"))
            self.settled()
            page.unroute("**/edits")
            page.keyboard.press("Escape")
            page.keyboard.press("Escape")

    def test_first_words_typed_while_the_server_is_away_outlive_a_reload(self) -> None:
        page = self.page
        thing = self.outlines()[0]
        x, y = PLACES[0]
        page.mouse.click(*self.on_page(x + 75, y + 70))
        page.route("**/api/**", lambda route: route.abort())
        page.keyboard.press("Enter")
        page.keyboard.type("Kites at", delay=20)
        page.wait_for_function("nestLine.store.getState().away")
        page.keyboard.type(" 4.50", delay=20)
        page.once("dialog", lambda dialog: dialog.accept())
        page.unroute_all(behavior="wait")
        page.reload()
        page.get_by_role("application").wait_for()
        page.wait_for_function(
            f"nestLine.store.getState().document?.pages[0].objects.find((o) => o.id === '{thing}')?.frame"
        )
        self.settled()
        self.assertEqual(self.words(thing), "Kites at 4.50")

    def test_copy_that_undo_takes_back_is_gone_from_the_galley_too(self) -> None:
        page = self.page
        thing = self.outlines()[0]
        page.keyboard.type("")
        x, y = PLACES[0]
        page.mouse.click(*self.on_page(x + 75, y + 70))
        page.keyboard.press("Enter")
        page.keyboard.type("Kites")
        self.settled()
        self.assertEqual(self.words(thing), "Kites")
        page.keyboard.press("Control+z")
        page.wait_for_function(
            f"!nestLine.store.getState().document.pages[0].objects.find((o) => o.id === '{thing}').frame"
        )
        page.wait_for_function("document.querySelector('.tiptap').innerText.trim() === ''")
        page.keyboard.type("Dragons")
        self.settled()
        self.assertEqual(self.words(thing), "Dragons")
