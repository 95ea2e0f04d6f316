"""Where lines end: total fit against the npm package `tex-linebreak` at equal figures, and against first fit."""

import itertools
import json
import math
import shutil
import subprocess
import unittest
from pathlib import Path
from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from draws import cases, fair, thrown
from nestline import rows as k
from nestline.copy.dummy import dummy_paragraphs
from nestline.copy.pairs import sense_breaks
from nestline.nesting.compiled.beam import beam_fit
from nestline.nesting.compiled.breaking import total_fit
from nestline.nesting.compiled.first_fit import Chosen, Slots
from nestline.nesting.compiled.first_fit import Paragraph as Rules
from nestline.nesting.compiled.known_breaks import course_over
from nestline.nesting.compiled.pieces import piece_width
from nestline.nesting.compiled.space import EPSILON
from nestline.nesting.compiled.total_fit import fit_below
from nestline.nesting.compiled.weights import (
    ACROSS,
    HOLE,
    OPEN_END,
    PAST_COST,
    TORN,
    UNFILLED,
    demerits_of,
    filling,
    fitness_of,
    weights_of,
)
from support import STORY, document, frame, nest_of, obstacle, paragraph

WEB = Path(__file__).parents[2] / "web"
SCRIPT = """
const { breakLines } = require("tex-linebreak");
const cases = JSON.parse(require("fs").readFileSync(0));
console.log(JSON.stringify(cases.map(({ items, widths, ratio }) => {
  try {
    return breakLines(items, widths, { initialMaxAdjustmentRatio: ratio, maxAdjustmentRatio: ratio,
      doubleHyphenPenalty: 10000, adjacentLooseTightPenalty: 3000 });
  } catch (error) { return null; }
})));
"""
SPACE, HYPHEN = 3.0, 3.6
GRADES = {k.NO_HYPHEN: [k.NO_GRADE] * 5 + [k.WEAK, k.KEPT, k.HELD], k.SET_HYPHEN: [k.NO_GRADE, k.POOR]}


def rule(**columns: float) -> np.ndarray:
    row = np.zeros(k.RULE_COLUMNS)
    row[k.ALIGN], row[k.SPACE_WIDTH], row[k.SIZE], row[k.BREAKING] = k.JUSTIFY, SPACE, 12, k.OPTIMAL
    row[k.LADDER], row[k.LEAST_SPACE], row[k.GREATEST_SPACE], row[k.LONE_WORD] = 100, 2 / 3, 99, -1
    for name, value in columns.items():
        row[getattr(k, name)] = value
    return row


def paragraph_of(words: list[list[float]]) -> tuple[np.ndarray, list[dict[str, Any]], list[int]]:
    """Pieces and the same boxes, glue and penalties: words as lists of syllables' widths."""
    rows: list[list[float]] = []
    items: list[dict[str, Any]] = []
    breaks: list[int] = []
    x = spaces = letters = 0.0
    for number, word in enumerate(words):
        for index, width in enumerate(word):
            row = [0.0] * k.PIECE_COLUMNS
            row[k.X0], row[k.X1], row[k.SPACE0], row[k.SPACE1] = x, x + width, spaces, spaces
            row[k.LETTERS0], row[k.LETTERS1] = letters, letters + round(width / 5)
            x, letters = x + width, row[k.LETTERS1]
            items.append({"type": "box", "width": width})
            if index + 1 < len(word):
                row[k.HYPHEN], row[k.CHANGE1] = k.SET_HYPHEN, HYPHEN
                breaks.append(len(items))
                items.append({"type": "penalty", "width": HYPHEN, "cost": 50, "flagged": True})
            elif number + 1 < len(words):
                breaks.append(len(items))
                items.append({"type": "glue", "width": SPACE, "stretch": SPACE / 2, "shrink": SPACE / 3})
                x, spaces, letters = x + SPACE, spaces + 1, letters + 1
            rows.append(row)
    rows[-1][k.FORCED] = 1
    items.append({"type": "glue", "width": 0, "stretch": 1e9, "shrink": 0})
    breaks.append(len(items))
    items.append({"type": "penalty", "width": 0, "cost": -1000, "flagged": False})
    return np.array(rows), items, breaks


def ours(
    pieces: np.ndarray,
    widths: list[float],
    most_r: float = 1e9,
    bands: list[int] | None = None,
    past: int = 10_000,
    going_on: tuple[bool, int] = (False, 0),
    narrow: float = 0.0,
    **columns: float,
) -> list[tuple[int, int, int]] | None:
    """First piece, last piece and slot of each line, or None where no breaks do. Slots are of one band each, or of
    `bands`."""
    n = len(widths)
    chosen = Chosen(*(np.empty(n, np.int64) for _ in range(3)))
    slots = Slots(np.zeros(n), np.array(widths), np.array(bands or range(n)), n, past, *going_on, narrow)
    lines = total_fit(
        pieces, Rules(rule(**columns), 0, len(pieces), True), slots, 0.0, 1.0, most_r, n, -1.0, 0.0, chosen
    )
    return list(zip(*(row[:lines].tolist() for row in chosen), strict=True)) if lines > 0 else None


class TotalFit(unittest.TestCase):
    def test_the_same_breaks_as_tex_linebreak_over_lines_of_many_widths(self) -> None:
        node = shutil.which("node")
        if not node or not (WEB / "node_modules/tex-linebreak").is_dir():
            self.skipTest("node or the package tex-linebreak is not installed")
        dice = thrown(7)
        cases, mine = [], []
        for _ in range(150):
            words = [
                [dice.uniform(4, 22) for _ in range(dice.choice([1, 1, 1, 2, 3]))] for _ in range(dice.randint(8, 120))
            ]
            pieces, items, breaks = paragraph_of(words)
            widths = [dice.uniform(150, 340) for _ in range(80)]
            # Up to r = 1 our weights are theirs; beyond it ours grow less.
            tolerance = dice.choice([0.7, 0.85, 1.0])
            cases.append({"items": items, "widths": widths, "ratio": tolerance})
            found = ours(pieces, widths, tolerance)
            mine.append([0, *(breaks[last] for _, last, _ in found)] if found else None)
        done = subprocess.run(
            [node, "-e", SCRIPT], input=json.dumps(cases), capture_output=True, text=True, check=True, cwd=WEB
        )
        theirs = json.loads(done.stdout)
        self.assertGreater(sum(t is not None for t in theirs), 75)
        self.assertEqual(mine, theirs)

    def test_total_fit_is_never_worse_than_first_fit(self) -> None:
        worst_of = []
        for width in range(150, 330, 20):
            worst = []
            for breaking in ("optimal", "first-fit"):
                raw = document(
                    [frame(width=width, height=900)],
                    paragraph(STORY, align="justify", breaking=breaking, hyphenate=True),
                )
                nest = nest_of(raw).nest
                worst.append(max(abs(float(v)) for v in nest.space_more))
            worst_of.append(worst)
        ratios = [a / b for a, b in worst_of]
        self.assertLess(sum(ratios) / len(ratios), 0.8)

    def test_what_the_bound_cuts_off_is_never_the_best(self) -> None:
        """Within one tolerance every way is weighed: with the beam's bound and without any, the breaks are the same."""
        dice = thrown(11)
        compared = 0
        for _ in range(150):
            words = [[dice.uniform(6, 20) for _ in range(dice.choice([1, 1, 2]))] for _ in range(dice.randint(10, 90))]
            pieces, _, _ = paragraph_of(words)
            n = 60
            widths = np.array([dice.uniform(70, 170) for _ in range(n)])
            weights = weights_of(rule(), 10.0, 0.0, -1.0, 0.0, 0, n + 1, False, 0, 0.0)
            rooms = np.append(widths + EPSILON, 0.0)
            found = []
            good, bound = 0, np.inf
            for limited in (True, False):
                chosen = Chosen(*(np.empty(n, np.int64) for _ in range(3)))
                course = course_over(rooms, np.arange(n + 1), 0, weights, n)
                if limited:
                    good, bound = beam_fit(pieces, weights, 0, len(pieces), course, 4.0, chosen)
                most = bound * (1 + 1e-9) if limited else np.inf
                lines = fit_below(pieces, weights, 0, len(pieces), course, 4.0, most, chosen, 60 * len(pieces) + 500)
                found.append((lines, chosen.last[: max(lines, 0)].tolist()))
            if good:
                compared += 1
                self.assertEqual(*found)
        self.assertGreaterEqual(compared, fair(100))

    def test_no_way_is_cheaper_than_the_one_chosen(self) -> None:
        """Against every way, reckoned slot by slot in plain Python: columns, outlines, pictures with slots on both
        sides, copy that only lines left unfilled let end, hyphens in a row at their limit, letters that share."""
        dice = thrown(5)
        seen = dict.fromkeys(("compared", "holes", "over", "hyphens", "skipped", "goes on", "open ends"), 0)
        for number in range(cases(100, least=20)):
            words = [
                [dice.uniform(4, 15) for _ in range(dice.choice([1, 1, 1, 2, 3]))] for _ in range(dice.randint(6, 26))
            ]
            pieces, _, _ = paragraph_of(words)
            kind = number % 4
            if kind == 0:
                widths = [dice.uniform(40, 150)] * 40
            elif kind == 1:
                widths = [dice.uniform(14, 40), *(40 + 60 * abs(math.sin(i / 5 + number)) for i in range(50))]
            else:
                widths = [dice.uniform(9, 90) if 2 <= i < 12 else 110.0 for i in range(40)]
            bands = [i if kind < 2 or not 2 <= i < 12 else 2 + (i - 2) // 2 for i in range(len(widths))]
            pieces[:-1, k.GRADE] = [dice.choice(GRADES[int(hyphen)]) for hyphen in pieces[:-1, k.HYPHEN]]
            ladder, greatest, lone = dice.choice([1, 2, 100]), dice.choice([2.0, 3.0, 6.0]), dice.choice([-1, 0])
            given = {"LADDER": ladder, "GREATEST_SPACE": greatest, "LONE_WORD": lone}
            if number % 5 == 4:
                given["ALIGN"] = dice.choice([k.START, k.END, k.CENTER])
            if number % 7 == 2:
                given["ALIGN_LAST"] = k.JUSTIFY
            given |= {"FITTED_SPACE": dice.choice([0, 0.12, 0.24]), "FITTED_WIDTH": dice.choice([0, 0.01, 0.015])}
            # A frame that does not hold all: slots past its edge, each of the frame's width.
            past = dice.randint(1, 8) if number % 3 == 0 else 10_000
            widths = [width if i < past else 150.0 for i, width in enumerate(widths)]
            given |= {"KEEP_START": dice.choice([0, 2, 3])}
            self.narrow = 60.0 if number % 4 >= 2 and number % 3 == 1 else 0.0
            self.going_on = (number % 6 == 0, dice.choice([0, 2, 3]))
            mine = ours(pieces, widths, 1e9, bands, past, self.going_on, self.narrow, **given)
            self.after: dict[tuple[int, int], int | None] = {}
            self.filled: dict[tuple[int, int, int], tuple[bool, int, float, float, float, bool]] = {}
            self.open_ends: set[tuple[int, int, int]] = set()
            cheapest = self._cheapest(pieces, widths, bands, past, given)
            if mine is None:
                self.assertEqual(cheapest, np.inf)
                continue
            cost, holes, over, hyphens = self._cost(pieces, widths, bands, past, mine, given)
            self.assertAlmostEqual(cost, cheapest, delta=1e-7 * cheapest, msg=str(number))
            seen["compared"] += 1
            seen["holes"] += holes > 0
            seen["over"] += over > 0
            seen["goes on"] += self.going_on[0] and mine[-1][2] >= past
            seen["hyphens"] += hyphens > 1
            seen["skipped"] += mine[-1][2] >= len(mine)
            first, last, slot = mine[-1]
            seen["open ends"] += (slot, first, last) in self.open_ends
        self.assertGreaterEqual(seen["compared"], fair(85))
        for name, least in (
            ("holes", 8),
            ("over", 5),
            ("hyphens", 14),
            ("skipped", 1),
            ("goes on", 4),
            ("open ends", 2),
        ):
            self.assertGreaterEqual(seen[name], fair(least), seen)

    def _line(
        self,
        pieces: np.ndarray,
        widths: list[float],
        bands: list[int],
        past: int,
        slot: int,
        first: int,
        last: int,
        before: tuple[int, int],
        given: dict[str, float],
    ) -> tuple[float, tuple[int, int], int | None]:
        """What a line in a slot costs after one with a fitness and so many hyphens in a row, what it leaves behind, and
        the next slot; ∞ where it cannot be."""
        weights = self.weights
        ends, hyphen, wide, gaps, r, fits = self._filled(pieces, slot, first, last, widths[slot], given)
        if not fits or (hyphen == k.SET_HYPHEN and before[1] >= given["LADDER"]):
            return np.inf, before, None
        if (slot, last) not in self.after:
            free = (
                s
                for s in range(slot + 1, len(widths))
                if ends or piece_width(pieces, last + 1, last + 1) <= widths[s] + EPSILON
            )
            self.after[slot, last] = next(free, None)
        after = self.after[slot, last]
        fit = fitness_of(weights, r, ends and not weights.last_justified, before[0])
        lone = ends and gaps == 0 and first > 0
        across = hyphen > 0 and not ends and after is not None and bands[after] == bands[slot]
        grade = pieces[last, k.GRADE]
        cost = demerits_of(weights, r, wide, hyphen, grade, before[1], fit, before[0], ends, lone, slot, across)
        cost += OPEN_END if (slot, first, last) in self.open_ends else 0.0
        return cost, (fit, before[1] + 1 if hyphen else 0), after

    def _filled(
        self, pieces: np.ndarray, slot: int, first: int, last: int, room: float, given: dict[str, float]
    ) -> tuple[bool, int, float, float, float, bool]:
        """Of a line in a slot: whether it ends the paragraph, its hyphen, width and gaps, its r, and whether the slot
        holds it."""
        if (slot, first, last) not in self.filled:
            ends, hyphen = last == len(pieces) - 1, int(pieces[last, k.HYPHEN])
            gaps, wide = pieces[last, k.SPACE1] - pieces[first, k.SPACE0], float(piece_width(pieces, first, last))
            letters = pieces[last, k.LETTERS1] - pieces[first, k.LETTERS0] - 1
            justified = given.get("ALIGN", k.JUSTIFY) == k.JUSTIFY
            lent = (given["FITTED_SPACE"] * letters + given["FITTED_WIDTH"] * wide) * justified
            natural = ends and not self.weights.last_justified
            r = filling(self.weights, room - wide, gaps, letters, lent, natural, room < self.narrow)
            if ends and UNFILLED <= r < np.inf:
                r, self.open_ends = 0.0, {*self.open_ends, (slot, first, last)}
            fits = r < np.inf and wide - gaps * SPACE / 3 * justified - lent <= room + EPSILON
            self.filled[slot, first, last] = ends, hyphen, wide, gaps, r, fits
        return self.filled[slot, first, last]

    def _cheapest(
        self, pieces: np.ndarray, widths: list[float], bands: list[int], past: int, given: dict[str, float]
    ) -> float:
        """The least that any way costs."""
        begin = next(s for s, width in enumerate(widths) if piece_width(pieces, 0, 0) <= width + EPSILON)
        # Where slots grow, copy begins in one that holds two words, if there is any.
        first_two = [p for p in range(len(pieces)) if pieces[p, k.SPACE1] <= 1]
        if pieces[-1, k.SPACE1] >= 2:
            growing = [begin]
            while growing[-1] + 1 < min(len(widths), past) and widths[growing[-1] + 1] > widths[growing[-1]]:
                growing.append(growing[-1] + 1)
            opening = piece_width(pieces, 0, first_two[-1])
            begin = next((s for s in growing if s < past and widths[s] + EPSILON >= opening), begin)
        self.weights = weights_of(rule(**given), 1.0, 0.0, -1.0, 0.0, begin, past, *self.going_on, self.narrow)
        ways: list[dict[tuple[int, tuple[int, int]], float]] = [{} for _ in widths]
        ways[begin][0, (-1, 0)] = 0.0
        best = np.inf
        begins_at, ends_at = pieces[:, k.X0].tolist(), pieces[:, k.X1].tolist()
        for slot in range(len(widths)):
            for (first, before), cost in ways[slot].items():
                for last in range(first, len(pieces)):
                    if ends_at[last] - begins_at[first] > 1.6 * widths[slot]:
                        break
                    more, behind, after = self._line(pieces, widths, bands, past, slot, first, last, before, given)
                    if more == np.inf:
                        continue
                    if last == len(pieces) - 1:
                        best = min(best, cost + more)
                    elif after is not None:
                        key = (last + 1, (behind[0], min(behind[1], int(given["LADDER"]))))
                        ways[after][key] = min(ways[after].get(key, np.inf), cost + more)
        return best

    def _cost(
        self,
        pieces: np.ndarray,
        widths: list[float],
        bands: list[int],
        past: int,
        lines: list[tuple[int, int, int]],
        given: dict[str, float],
    ) -> tuple[float, int, int, int]:
        """What lines cost, how many are left unfilled, stand past the edge, and end in a hyphen."""
        cost, before, holes, skipped, hyphens = 0.0, (-1, 0), 0, 0, 0
        for number, (first, last, slot) in enumerate(lines):
            more, before, after = self._line(pieces, widths, bands, past, slot, first, last, before, given)
            cost += more
            hyphens += before[1] > 0
            gap = before[1] > 0 and after is not None and bands[after] == bands[slot]
            torn = TORN if pieces[last, k.GRADE] == k.HELD else 0
            over = PAST_COST if slot >= past and not self.going_on[0] else 0
            holes += more - (ACROSS if gap else 0) - torn - over >= HOLE
            skipped += over > 0
            if number + 1 < len(lines):
                self.assertEqual(lines[number + 1][2], after)
        return cost, holes, skipped, hyphens

    def test_a_last_line_that_cannot_be_filled_tears_no_hole_before_it(self) -> None:
        """Filled where it can be: else it ends the paragraph as ever, and the lines before are as if it had not been
        asked."""
        open_ends, filled = [], 0
        for width in range(90, 330, 6):
            nests = {
                last: nest_of(
                    document([frame(width=width, height=900)], paragraph(STORY, align="justify", last=last, size=14))
                ).nest
                for last in ("justify", "start")
            }
            holes = {last: int(nest.loose[:-1].sum()) for last, nest in nests.items()}
            self.assertLessEqual(holes["justify"], holes["start"], width)
            if nests["justify"].loose[-1]:
                open_ends.append(width)
            else:
                filled += 1
        self.assertGreater(len(open_ends), 3)
        self.assertGreater(filled, 3)

    def test_word_spaces_close_no_more_than_allowed(self) -> None:
        for width in range(150, 330, 20):
            nest = nest_of(document([frame(width=width, height=900)], paragraph(STORY, align="justify"))).nest
            space = nest.copy.rules[0, k.SPACE_WIDTH]
            self.assertGreaterEqual(nest.space_more.min(), -space / 3 - 1e-3)
            self.assertTrue((nest.right <= nest.records[:, k.RIGHT] + 1e-6).all())

    def test_last_line_filled_too(self) -> None:
        filled = 0
        for width in range(150, 330, 9):
            last = paragraph(STORY, align="justify", last="justify")
            nest = nest_of(document([frame(width=width, height=900)], last)).nest
            gap = float(nest.records[-1, k.RIGHT]) - float(nest.right[-1])
            # One that would have to open further than its greatest space is left as it is.
            self.assertEqual(gap < 1e-6, not nest.loose[-1], width)
            filled += not nest.loose[-1]
        self.assertGreater(filled, 5)

    def test_a_last_word_alone_is_avoided_and_can_be_forbidden(self) -> None:
        def lone(rule: bool | None) -> int:
            count = 0
            for width in range(150, 330, 3):
                raw = document([frame(width=width, height=900)], paragraph(STORY, align="start", last_word_alone=rule))
                nest = nest_of(raw).nest
                start, end = nest.ranges[-1]
                count += " " not in nest.copy.text[start:end]
            return count

        self.assertGreater(lone(True), lone(None))
        self.assertEqual(lone(False), 0)

    def test_what_first_fit_holds_optimal_holds_too(self) -> None:
        held = 0
        for width in range(200, 300, 4):
            for breaking in ("first-fit", "optimal"):
                raw = document(
                    [frame("ellipse", width=width, height=150)], paragraph(STORY, breaking=breaking, align="justify")
                )
                nest = nest_of(raw).nest
                if breaking == "first-fit" and nest.leftover_words:
                    break
                held += breaking == "optimal"
                self.assertEqual(nest.leftover_words, 0)
        self.assertGreater(held, 0)

    @given(st.lists(st.text("abcdefgh", min_size=1, max_size=9), min_size=2, max_size=30), st.integers(90, 300))
    def test_it_is_the_same_every_time_and_runs_through_all_slots(self, words: list[str], width: int) -> None:
        raw = document(
            [frame(width=width, height=500, least_slot=12), obstacle(x=120, y=110, width=40, height=60)],
            paragraph(" ".join(words), align="justify"),
        )
        a, b = nest_of(raw).nest, nest_of(json.loads(json.dumps(raw))).nest
        self.assertEqual(a.records.tolist(), b.records.tolist())
        self.assertEqual(a.leftover_words, 0)


class Balanced(unittest.TestCase):
    def test_lines_are_of_even_length_and_no_more_than_first_fit(self) -> None:
        text = "Bring string, bring friends, and bring whatever you built"
        for width in range(120, 260, 10):
            widths = {}
            for breaking in ("balanced", "first-fit"):
                raw = document([frame(width=width)], paragraph(text, size=16, align="center", breaking=breaking))
                widths[breaking] = nest_of(raw).nest.width
            self.assertEqual(len(widths["balanced"]), len(widths["first-fit"]))
            if len(widths["balanced"]) > 1:
                self.assertLessEqual(np.ptp(widths["balanced"]), np.ptp(widths["first-fit"]) + 1e-6)


class Rag(unittest.TestCase):
    """Ends of ragged lines: three within half an em of one another, and short of the edge, are a step; three that get
    longer or shorter by an em each a wedge (common practice)."""

    def seen(self, breaking: str, align: str) -> tuple[int, int]:
        steps = wedges = 0
        dice = thrown(3)
        words = " ".join(dummy_paragraphs("en", 900)).split()
        for number in range(200):
            start, width = dice.randrange(len(words) - 90), dice.randint(80, 280)
            text = " ".join(words[start : start + dice.randint(30, 90)])
            rules = {"align": align, "breaking": breaking, "size": 11, "hyphenate": number % 2 == 0}
            nest = nest_of(document([frame(width=width, height=3000)], paragraph(text, **rules))).nest
            records = nest.records[:-1]
            short = (records[:, k.RIGHT] - records[:, k.LEFT] - nest.width[:-1]) / 11
            for ends in zip(short, short[1:], short[2:], strict=False):
                a, b, c = ends
                steps += max(ends) - min(ends) < 0.5 and min(ends) > 1
                wedges += (b - a >= 1 and c - b >= 1) or (a - b >= 1 and b - c >= 1)
        return steps, wedges

    def test_ragged_lines_make_fewer_steps_and_wedges(self) -> None:
        steps, wedges = self.seen("optimal", "start")
        plain_steps, plain_wedges = self.seen("first-fit", "start")
        self.assertGreater(plain_wedges, 5)
        self.assertLess(steps + wedges, plain_steps + plain_wedges)
        self.assertLess(wedges, plain_wedges / 2)
        self.assertEqual(self.seen("optimal", "end"), (steps, wedges))


class Headings(unittest.TestCase):
    HEADS = (
        "The Wind Comes Back to Every Town That Waves at It",
        "String, paste and patience: how a box kite is made in an afternoon",
        "Nobody flies alone here, and nobody wants to",
        "A lantern for the hill, a line for every hand",
        "What the signal tower saw in the summer of the long dragon",
    )

    def set(self, text: str, breaking: str, width: int) -> tuple[list[str], list[float]]:
        given = paragraph(text, breaking=breaking, size=26, align="center")
        nest = nest_of(document([frame(width=width, height=900)], given)).nest
        return [nest.copy.text[a:b] for a, b in nest.ranges], nest.width.tolist()

    def test_lines_grow_or_get_shorter_as_chosen(self) -> None:
        right = dict.fromkeys(("widening", "tapering", "balanced"), 0)
        steps = 0
        for text, width in itertools.product(self.HEADS, range(230, 520, 10)):
            for breaking in right:
                lines, widths = self.set(text, breaking, width)
                self.assertEqual(" ".join(lines), text)
                self.assertLessEqual(max(widths), width + 1e-6)
                way = -1 if breaking == "tapering" else 1
                right[breaking] += sum(way * (b - a) > 0 for a, b in itertools.pairwise(widths))
                steps += breaking == "balanced" and len(widths) - 1
            self.assertLessEqual(
                len(self.set(text, "widening", width)[0]), len(self.set(text, "balanced", width)[0]) + 1
            )
        self.assertGreater(right["widening"], 0.8 * steps, (right, steps))
        self.assertGreater(right["tapering"], 0.8 * steps, (right, steps))
        self.assertLess(right["balanced"], 0.7 * steps)

    def test_by_sense_lines_end_behind_marks_and_before_words_that_lead_on(self) -> None:
        places = {text: sense_breaks(text, "en") for text in self.HEADS}
        self.assertEqual(
            sorted(text[p:][:7] for text in self.HEADS[1:2] for p in places[text]),
            ["a box k", "and pat", "how a b", "in an a", "is made", "paste a"],
        )
        share = {}
        for breaking in ("by-sense", "balanced"):
            ends = []
            for text, width in itertools.product(self.HEADS, range(230, 520, 10)):
                lines, _ = self.set(text, breaking, width)
                at = 0
                for line in lines[:-1]:
                    at += len(line) + 1
                    ends.append(at in places[text])
            share[breaking] = sum(ends) / len(ends)
        self.assertGreater(share["by-sense"], 0.75, share)
        self.assertGreater(share["by-sense"], share["balanced"] + 0.2, share)
