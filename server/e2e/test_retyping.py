"""Formatting survives retyping, over random copies and selections, by keys in place and in the galley."""

from __future__ import annotations

from random import Random
from typing import Any

from draws import cases
from e2e.support import BrowserCase

WORDS = "kite string wind hill noon dragon pond geese tower".split()
LOOKS: list[dict[str, Any]] = [
    {},
    {"weight": 700},
    {"slope": "italic"},
    {"color": "#b3341f"},
    {"size": 15, "weight": 700},
    {"font": "Source Sans 3"},
]
RULES: list[dict[str, Any]] = [
    {},
    {"align": "center"},
    {"align": "end", "size": 9},
    {"space_before": 4},
    {"style": "Lead"},
]

Letters = list[tuple[str, dict[str, Any]]]
Flat = list[tuple[dict[str, Any], Letters]]


def some_copy(dice: Random) -> list[dict[str, Any]]:
    out = []
    for _ in range(dice.randint(1, 3)):
        runs: list[dict[str, Any]] = []
        for _ in range(dice.randint(1, 4)):
            look = dice.choice(
                [one for one in LOOKS if not runs or one != {k: v for k, v in runs[-1].items() if k != "text"}]
            )
            runs.append({"text": " ".join(dice.choices(WORDS, k=dice.randint(1, 2))) + " ", **look})
        runs[-1]["text"] = runs[-1]["text"].rstrip()
        out.append({**dice.choice(RULES), "runs": runs})
    return out


def flat(paragraphs: list[dict[str, Any]]) -> Flat:
    """Each paragraph's rules, and its letters with the look of each."""
    return [
        (
            {k: v for k, v in p.items() if k != "runs"},
            [(c, {k: v for k, v in r.items() if k != "text"}) for r in p["runs"] for c in r.get("text", "")],
        )
        for p in paragraphs
    ]


def retyped(was: Flat, start: int, end: int, text: str) -> Flat:
    """What stands when text is typed over a stretch that begins with a letter: that letter's look, its paragraph's
    rules."""
    at = 0
    keeps: Flat = []
    look: dict[str, Any] | None = None
    into: Letters | None = None
    for rules, letters in was:
        first, last = at, at + len(letters)
        at = last + 1
        before = letters[: max(0, min(start, last) - first)]
        behind = letters[max(0, end - first) :] if end <= last else []
        if first <= start < last:
            look = letters[start - first][1]
            into = [*before, *((c, look) for c in text), *behind]
            keeps.append((rules, into))
        elif into is not None and first <= end:
            into.extend(behind)  # joined to the paragraph that the stretch begins in
        else:
            keeps.append((rules, letters))
    return keeps


class Retyping(BrowserCase):
    def walk(self, held: str, to: int) -> None:
        """The caret to a place by its arrows, however long the page takes for each."""
        rests = 0
        while rests < 3:
            head = self.state("caret.head")
            rests = rests + 1 if head == to else 0
            if head != to:
                self.page.keyboard.press(f"{held}Arrow{'Right' if head < to else 'Left'}")
            self.page.wait_for_timeout(15)

    def test_what_is_typed_over_letters_looks_like_the_first_of_them(self) -> None:
        dice = Random(11)
        copies = {f"c{n}": some_copy(dice) for n in range(8)}
        raw = {
            "format": "nest-line",
            "version": 1,
            "language": "en",
            "styles": {"Body": {"size": 11}, "Lead": {"size": 13, "weight": 600}},
            "copies": {name: {"versions": {"en": {"paragraphs": paragraphs}}} for name, paragraphs in copies.items()},
            "pages": [
                {
                    "width": 595,
                    "height": 842,
                    "objects": [
                        {
                            "id": f"f{n}",
                            "x": 40 + n % 2 * 270,
                            "y": 40 + n // 2 * 190,
                            "width": 250,
                            "height": 170,
                            "frame": {"copy": f"c{n}"},
                        }
                        for n in range(8)
                    ],
                }
            ],
        }
        self.signed_in()
        self.open_raw(raw)
        keys = self.page.keyboard
        for n, (name, paragraphs) in enumerate(list(copies.items())[: cases(8, least=3)]):
            now = flat(paragraphs)
            frame = f"f{n}"
            self.page.mouse.click(*self.on_page(40 + n % 2 * 270 + 240, 40 + n // 2 * 190 + 160))
            self.page.wait_for_function(f"nestLine.store.getState().selected === '{frame}'")
            keys.press("Enter")
            self.writing()
            for step in range(3):
                size = sum(len(letters) + 1 for _, letters in now) - 1
                breaks = [sum(len(letters) + 1 for _, letters in now[: k + 1]) - 1 for k in range(len(now))]
                everything = step == 2
                # Half of the stretches begin where the look changes.
                looks = [look for _, letters in now for look in [*(one for _, one in letters), None]]
                changes = [i for i in range(1, size) if i not in breaks and looks[i] != looks[i - 1] is not None]
                anywhere = [i for i in range(size) if i not in breaks]
                start = 0 if everything else dice.choice(changes if changes and dice.random() < 0.5 else anywhere)
                end = size if everything else min(size, start + dice.choice([1, 2, 5, 14]))
                text = dice.choice(["Zut", "q", "Up it goes"])
                keys.press("Control+Home")
                if everything:
                    keys.press("Control+a")
                    if dice.random() < 0.5:  # emptied first
                        keys.press("Backspace")
                        self.page.wait_for_timeout(60)
                        self.settled()
                else:
                    self.walk("", start)
                    self.walk("Shift+", end)
                keys.type(text)
                self.page.wait_for_timeout(80)
                self.settled()
                now = retyped(now, start, end, text)
                stored = flat(self.state(f"document.copies['{name}'].versions.en.paragraphs"))
                self.assertEqual(stored, now, (n, step, start, end, text))
            keys.press("Escape")
            keys.press("Escape")
