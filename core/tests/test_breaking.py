"""Where lines end: total fit against the npm package `tex-linebreak` at equal figures, and against first fit."""

import json
import random
import shutil
import subprocess
import unittest
from pathlib import Path
from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from nestline import rows as k
from nestline.nesting.compiled.beam import beam_fit
from nestline.nesting.compiled.breaking import total_fit
from nestline.nesting.compiled.first_fit import Chosen, Slots
from nestline.nesting.compiled.first_fit import Paragraph as Rules
from nestline.nesting.compiled.known_breaks import course_over
from nestline.nesting.compiled.pieces import piece_width
from nestline.nesting.compiled.space import EPSILON
from nestline.nesting.compiled.total_fit import fit_below
from nestline.nesting.compiled.weights import demerits_of, filling, fitness_of, weights_of
from support import STORY, document, frame, nest_of, obstacle, paragraph

WEB = Path(__file__).parents[2] / "web"
SCRIPT = """
const { breakLines } = require("tex-linebreak");
const cases = JSON.parse(require("fs").readFileSync(0));
console.log(JSON.stringify(cases.map(({ items, widths, ratio }) => {
  try {
    return breakLines(items, widths, { initialMaxAdjustmentRatio: ratio, maxAdjustmentRatio: ratio,
      doubleHyphenPenalty: 3000, adjacentLooseTightPenalty: 3000 });
  } catch (error) { return null; }
})));
"""
SPACE, HYPHEN = 3.0, 3.6


def rule(**columns: float) -> np.ndarray:
    row = np.zeros(15)
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
    x = spaces = 0.0
    for number, word in enumerate(words):
        for index, width in enumerate(word):
            row = [0.0] * k.PIECE_COLUMNS
            row[k.X0], row[k.X1], row[k.SPACE0], row[k.SPACE1] = x, x + width, spaces, spaces
            x += width
            items.append({"type": "box", "width": width})
            if index + 1 < len(word):
                row[k.HYPHEN], row[k.CHANGE1] = k.SET_HYPHEN, HYPHEN
                breaks.append(len(items))
                items.append({"type": "penalty", "width": HYPHEN, "cost": 50, "flagged": True})
            elif number + 1 < len(words):
                breaks.append(len(items))
                items.append({"type": "glue", "width": SPACE, "stretch": SPACE / 2, "shrink": SPACE / 3})
                x += SPACE
                spaces += 1
            rows.append(row)
    rows[-1][k.FORCED] = 1
    items.append({"type": "glue", "width": 0, "stretch": 1e9, "shrink": 0})
    breaks.append(len(items))
    items.append({"type": "penalty", "width": 0, "cost": -1000, "flagged": False})
    return np.array(rows), items, breaks


def ours(pieces: np.ndarray, widths: list[float], *steps: float) -> list[int] | None:
    """The last piece of each line, or None where no breaks do."""
    n = len(widths)
    tolerances = np.array(steps)
    tolerances.flags.writeable = False
    out = [np.empty(n, np.int64) for _ in range(3)]
    slots = Slots(np.zeros(n), np.array(widths), n, n + 1)
    chosen = Chosen(*out)
    lines = total_fit(pieces, Rules(rule(), 0, len(pieces), True), slots, 0.0, 1.0, tolerances, n, -1.0, chosen)
    return chosen.last[:lines].tolist() if lines > 0 else None


def worst_r(pieces: np.ndarray, widths: list[float], last: list[int]) -> float:
    """The r of the loosest line but the last, a line of one word aside, by the definition of Knuth and Plass."""
    worst, first = 0.0, 0
    for end, width in zip(last[:-1], widths, strict=False):
        gaps = pieces[end, k.SPACE1] - pieces[first, k.SPACE0]
        free = width - float(piece_width(pieces, first, end))
        if gaps:
            worst = max(worst, free / (gaps * SPACE / 2))
        first = end + 1
    return worst


class TotalFit(unittest.TestCase):
    def test_a_narrow_tip_does_not_spoil_the_lines_below_it(self) -> None:
        # The first slots hold a word each, far too loosely. With one tolerance for all lines the search is whole, and
        # slow; the steps of tolerance may not lead to anything looser.
        dice, same = random.Random(11), 0
        for _ in range(60):
            words = [[dice.uniform(6, 24) for _ in range(dice.choice([1, 1, 2]))] for _ in range(60)]
            pieces, _, _ = paragraph_of(words)
            widths = [50, 60, *(90 + 22 * min(i, 9) for i in range(60))]
            whole, stepped = ours(pieces, widths, 19.9), ours(pieces, widths, 2.0, 4.0, 8.0, 1e9)
            assert whole and stepped
            same += whole == stepped
            self.assertLessEqual(
                worst_r(pieces, widths, stepped), max(2.0, worst_r(pieces, widths, whole)) * 1.25 + 1e-9
            )
        self.assertGreaterEqual(same, 50)

    def test_the_same_breaks_as_tex_linebreak_over_lines_of_many_widths(self) -> None:
        node = shutil.which("node")
        if not node or not (WEB / "node_modules/tex-linebreak").is_dir():
            self.skipTest("node or the package tex-linebreak is not installed")
        dice = random.Random(7)
        cases, mine = [], []
        for _ in range(150):
            words = [
                [dice.uniform(4, 22) for _ in range(dice.choice([1, 1, 1, 2, 3]))] for _ in range(dice.randint(8, 120))
            ]
            pieces, items, breaks = paragraph_of(words)
            widths = [dice.uniform(70, 260) for _ in range(80)]
            tolerance = dice.choice([1.5, 2.0, 4.0, 8.0])
            cases.append({"items": items, "widths": widths, "ratio": tolerance})
            last = ours(pieces, widths, tolerance)
            mine.append([0, *(breaks[p] for p in last)] if last else None)
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
        dice = random.Random(11)
        compared = 0
        for _ in range(150):
            words = [[dice.uniform(6, 20) for _ in range(dice.choice([1, 1, 2]))] for _ in range(dice.randint(10, 90))]
            pieces, _, _ = paragraph_of(words)
            n = 60
            widths = np.array([dice.uniform(70, 170) for _ in range(n)])
            weights = weights_of(rule(), 10.0, 0.0, -1.0, n + 1)
            rooms = np.append(widths + EPSILON, 0.0)
            tolerances = np.array([4.0])
            tolerances.flags.writeable = False
            found = []
            good, bound = 0, np.inf
            for limited in (True, False):
                chosen = Chosen(*(np.empty(n, np.int64) for _ in range(3)))
                course = course_over(rooms, 0, weights, n)
                if limited:
                    good, bound = beam_fit(pieces, weights, 0, len(pieces), course, tolerances, chosen)
                most = bound * (1 + 1e-9) if limited else np.inf
                lines = fit_below(
                    pieces, weights, 0, len(pieces), course, tolerances, most, chosen, 60 * len(pieces) + 500
                )
                found.append((lines, chosen.last[: max(lines, 0)].tolist()))
            if good:
                compared += 1
                self.assertEqual(*found)
        self.assertGreater(compared, 100)

    def test_no_way_is_cheaper_than_the_one_chosen(self) -> None:
        """Against every way, reckoned slot by slot in plain Python: beside a contour, in a rectangle below it, to its end."""
        dice = random.Random(5)
        compared = fewer = 0
        for number in range(60):
            words = [[dice.uniform(4, 14) for _ in range(dice.choice([1, 1, 1, 2]))] for _ in range(120)]
            pieces, _, _ = paragraph_of(words)
            widths = [dice.uniform(60, 100) if 2 <= i < 5 else 120.0 for i in range(60)]
            lines = len(ours(pieces, widths, 4.0) or ())
            # Slots in plenty, and one fewer than the best way takes.
            for count in (lines - 1, len(widths)) if number % 6 == 0 else (lines - 1,):
                mine = ours(pieces, widths[:count], 4.0) if lines else None
                cheapest = self._cheapest(pieces, widths[:count], 4.0) if lines else np.inf
                if mine is None:
                    self.assertEqual(cheapest, np.inf)
                    continue
                compared, fewer = compared + 1, fewer + (count < lines)
                self.assertAlmostEqual(self._cost(pieces, widths, mine), cheapest, delta=1e-6 * cheapest)
        self.assertGreater(compared, 15)
        self.assertGreater(fewer, 8)

    def _line(
        self, pieces: np.ndarray, width: float, first: int, last: int, before: tuple[int, int], tolerance: float
    ) -> tuple[float, tuple[int, int]]:
        """What a line costs after one with a fitness and a hyphen or none, and what it leaves behind; ∞ when too loose."""
        weights = weights_of(rule(), 1.0, 0.0, -1.0, 10_000)
        ends, hyphen = last == len(pieces) - 1, int(pieces[last, k.HYPHEN])
        gaps, wide = pieces[last, k.SPACE1] - pieces[first, k.SPACE0], float(piece_width(pieces, first, last))
        r = filling(weights, width - wide, gaps, ends)
        if wide - gaps * SPACE / 3 > width + EPSILON or r > tolerance:
            return np.inf, before
        fit = fitness_of(weights, r)
        lone = ends and gaps == 0 and first > 0
        return demerits_of(weights, r, wide, hyphen, before[1], fit, before[0], lone, 0), (fit, min(hyphen, 1))

    def _cheapest(self, pieces: np.ndarray, widths: list[float], tolerance: float) -> float:
        """The least that any way costs."""
        ways: dict[tuple[int, tuple[int, int]], float] = {(0, (-1, 0)): 0.0}
        best = np.inf
        for width in widths:
            further: dict[tuple[int, tuple[int, int]], float] = {}
            for (first, before), cost in ways.items():
                for last in range(first, len(pieces)):
                    if pieces[last, k.X1] - pieces[first, k.X0] > 1.4 * width:
                        break
                    more, behind = self._line(pieces, width, first, last, before, tolerance)
                    if more == np.inf:
                        continue
                    if last == len(pieces) - 1:
                        best = min(best, cost + more)
                    key = (last + 1, behind)
                    further[key] = min(further.get(key, np.inf), cost + more)
            ways = further
        return best

    def _cost(self, pieces: np.ndarray, widths: list[float], lasts: list[int]) -> float:
        cost, first, before = 0.0, 0, (-1, 0)
        for width, last in zip(widths, lasts, strict=False):
            more, before = self._line(pieces, width, first, last, before, 1e9)
            cost, first = cost + more, last + 1
        return cost

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
