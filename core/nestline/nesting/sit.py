"""Where a frame's lines sit: the search for the start, the depth and the leading."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.copy.shaped_copy import ShapedCopy
from nestline.fonts.shaping import shape
from nestline.nesting import compiled, work
from nestline.nesting.frame_nest import EndMark
from nestline.nesting.frame_rules import FrameRules
from nestline.nesting.frame_space import RECKONED_IN, SLOTS, Geometry

Floats = NDArray[np.float64]
MOST_RECORDS = 20_000


def _by_whole_steps(leading: Floats, more: Floats, grid: Floats) -> Floats:
    """What leadings open by where lines stand on a grid: to whole steps of it, so that a paragraph's lines are apart
    alike."""
    steps = np.floor((leading + more) / np.maximum(grid, 1e-9) + 1e-9) * grid
    opened: Floats = np.where(grid > 0, np.maximum(steps - leading, 0.0), more)
    return opened


class Sitting:
    """A frame's copy nested where its rules let it sit: the search for the start, the depth and the leading."""

    def __init__(
        self,
        geometry: Geometry,
        copy: ShapedCopy,
        rules: FrameRules,
        frame: Floats,
        begin: int,
        goes_on: bool,
        doing: work.Work,
    ) -> None:
        self.geometry, self.copy, self.rules = geometry, copy, rules
        self.space = geometry.space
        self.work = doing
        self.rows = compiled.Rows(copy.pieces[begin:], copy.rules)
        self.begin = begin
        self.continued = 0 < begin < len(copy.pieces) and (
            copy.pieces[begin - 1, k.PARAGRAPH] == copy.pieces[begin, k.PARAGRAPH]
        )
        if self.continued:
            # The rest of a paragraph is neither indented as its first line is, nor does it have its drop cap.
            rules_of = copy.rules.copy()
            paragraph = int(copy.pieces[begin, k.PARAGRAPH])
            rules_of[paragraph, [k.FIRST_INDENT, k.DROP_LINES, k.DROP_WIDTH, k.NEW_COLUMN]] = 0.0
            self.rows = compiled.Rows(self.pieces, rules_of)
        self.frame = frame
        self.frame[k.GOES_ON] = 1.0 if goes_on else 0.0
        self.out = compiled.Written(
            np.empty((min(MOST_RECORDS, 2 * len(self.pieces) + 64), k.RECORD_COLUMNS)),
            np.zeros(k.ENDS),
            SLOTS,
            RECKONED_IN,
        )
        self.records, self.ends = self.out.records, self.out.ends
        self.written = self.next_piece = 0
        self.start_y, self.residue, self.exact = geometry.bounds[1], 0.0, True
        self.opened = 0.0
        self.least_start = geometry.bounds[1]

    @property
    def pieces(self) -> Floats:
        return self.rows.pieces

    @property
    def paragraphs(self) -> Floats:
        return self.rows.rules

    def fill_past(self) -> int:
        """Set what is left over past the edge, where lines go on by leading. Returns the records written."""
        lines, ends, frame = int(self.ends[k.END_LINES]), self.ends, self.frame
        baseline = float(ends[k.END_BASELINE]) if lines else self.geometry.bounds[1]
        across = float(ends[k.END_COLUMN]) * self.geometry.strips.step
        reached = compiled.Reached(
            self.next_piece, self.written, lines, baseline, self.reach_below(self.written), False, 0
        )
        left, right = float(frame[k.X_LEFT]) + across, float(frame[k.X_RIGHT]) + across
        written = int(compiled.fill_past(self.rows, frame, left, right, reached, self.out))
        self.records[self.written : written, k.COLUMN] = ends[k.END_COLUMN]
        return written

    def solve(self) -> None:
        """Nest where the rules say, an edge by ink solved for until it is that of the line it belongs to."""
        hang_ink, stand_ink = self.rules.hang == "ink", self.rules.stand == "ink"
        if hang_ink or stand_ink:
            piece = self.pieces[0]
            self.frame[k.HANG_LENGTH] = self.frame[k.HANG_LENGTH] if not hang_ink else piece[k.ASC]
            self.frame[k.STAND_LENGTH] = self.pieces[-1, k.DESC]
        for again in range(6 if hang_ink or stand_ink else 1):
            self._solve()
            if self.work.spent or not (hang_ink or stand_ink) or not self.written:
                break
            up, down = self._ink()
            same = True
            if hang_ink:
                same = abs(up - self.frame[k.HANG_LENGTH]) < 1e-9
                self.frame[k.HANG_LENGTH] = up if again < 3 else max(up, self.frame[k.HANG_LENGTH])
            if stand_ink:
                same = same and abs(down - self.frame[k.STAND_LENGTH]) < 1e-9
                self.frame[k.STAND_LENGTH] = down if again < 3 else max(down, self.frame[k.STAND_LENGTH])
            if same:
                break

    def probe(self) -> None:
        """Nest once from the top, in as few lines as there can be. Where nothing speaks for a shorter line, those are
        lines filled one by one; else the fewest are looked for among all."""
        # A search asks this again and again of one copy.
        known: dict[object, tuple[compiled.Rows, bool]] = self.copy.__dict__.setdefault("_probed", {})
        key = (self.begin, self.rules.columns == 1)
        if key not in known:
            known[key] = self._in_fewest_lines()
        self.rows, among_all = known[key]
        self.frame[k.TIGHT] = float(among_all)
        self._from_the_top()
        self._nest(self.least_start)

    def _in_fewest_lines(self) -> tuple[compiled.Rows, bool]:
        """The rows by which copy comes to the fewest lines, and whether those are to be looked for among all."""
        optimal = self.paragraphs[:, k.BREAKING] == k.OPTIMAL
        if not optimal.any():
            return self.rows, False
        if not self._fewest_one_by_one():
            return self.rows, True
        rules = self.paragraphs.copy()
        rules[optimal, k.BREAKING] = k.FIRST_FIT
        return compiled.Rows(self.pieces, rules), False

    def _fewest_one_by_one(self) -> bool:
        """Whether lines that take as much as they can are the fewest: no space closes up, no hyphens in a row are too
        many, no lines keep together, and none is higher for what stands in it."""
        rules, pieces = self.paragraphs, self.pieces
        free = rules[:, k.ALIGN] != k.JUSTIFY
        free &= (rules[:, k.KEEP_START] <= 1) & (rules[:, k.KEEP_END] <= 1) & (rules[:, k.KEEP_NEXT] == 0)
        alike = np.ptp(pieces[:, k.HEIGHTS], axis=0).max() < 1e-9
        return bool(
            free.all() and alike and self.rules.columns == 1 and not (pieces[:, k.HYPHEN] == k.SET_HYPHEN).any()
        )

    def marked(self, text: str) -> EndMark | None:
        """Give a mark its room in the last slot: words make way for it, and none follows a space or a comma."""
        copy, pieces = self.copy, self.pieces
        for number in range(self.written - 1, -1, -1):
            row = self.records[number]
            first, last = int(row[k.FIRST]), int(row[k.LAST])
            paragraph = int(pieces[first, k.PARAGRAPH])
            room = (
                row[k.RIGHT]
                - row[k.LEFT]
                - compiled.indents(self.paragraphs, paragraph, row[k.PARAGRAPH_START] > 0, row[k.PARAGRAPH_START] > 0)
            )
            for piece in range(last, first - 1, -1):
                end = int(copy.piece_content_end[self.begin + piece])
                stretch = copy.paragraphs[paragraph].stretch_at(max(end - 1 - int(copy.offset[paragraph]), 0))
                width = shape(stretch.face, text, 0, len(text), "en").width * stretch.scale
                ends_well = (
                    end > 0 and copy.text[end - 1] not in ",;: \u00a0" and pieces[piece, k.HYPHEN] == k.NO_HYPHEN
                )
                if ends_well and float(compiled.piece_width(pieces, first, piece)) + width <= room + 1e-6:
                    row[k.LAST] = piece
                    if self.paragraphs[paragraph, k.FROM_RIGHT] > 0:
                        row[k.LEFT] += width
                    else:
                        row[k.RIGHT] -= width
                    self.written, self.next_piece = number + 1, piece + 1
                    return EndMark(text, number, width, stretch)
        return None

    def _ink(self) -> tuple[float, float]:
        """How far the ink of the first line reaches above its baseline, and that of the last line below its own."""
        lines = self.records[: self.written, k.LINE]
        heights = []
        for rows in (np.flatnonzero(lines == lines[0]), np.flatnonzero(lines == lines[-1])):
            first, last = (self.begin + int(self.records[rows[i], c]) for i, c in ((0, k.FIRST), (-1, k.LAST)))
            heights.append(self.copy.ink(int(self.copy.piece_start[first]), int(self.copy.piece_content_end[last])))
        return heights[0][0], heights[1][1]

    def reach_below(self, written: int) -> float:
        """What the last line written asks of the step to the line below it."""
        column = k.BOX_DOWN if self.rules.band == "line-box" else k.UNDER
        if not written:
            return float(self.pieces[0, column])
        line = self.records[:written, k.LINE] == self.records[written - 1, k.LINE]
        first, last = int(self.records[:written][line][0, k.FIRST]), int(self.records[written - 1, k.LAST])
        return float(self.pieces[first : last + 1, column].max())

    def _from_the_top(self) -> None:
        # What the first line hangs from is at least hang_least above the first baseline.
        top = self.geometry.bounds[1]
        self.least_start = top
        if self.rules.hang_least > 0:
            hang = float(compiled.hang_height(self.pieces[0], self.frame))
            self.least_start = top + max(0.0, self.rules.hang_least - hang)

    def _solve(self) -> None:
        self._from_the_top()
        self.frame[k.TIGHT] = 0.0
        self._sit()
        over = self.next_piece < len(self.pieces) and not self.frame[k.GOES_ON]
        if over and (self.paragraphs[:, k.BREAKING] == k.OPTIMAL).any():
            # The best breaks leave words over: fewer lines come before better ones, when that holds all.
            self.frame[k.TIGHT] = 1.0
            self._sit()
            if self.next_piece < len(self.pieces):
                self.frame[k.TIGHT] = 0.0
                self._nest(self.least_start)
        if self.next_piece < len(self.pieces):
            self.residue, self.exact = 0.0, True
        self.start_y = float(self.ends[k.END_HANG]) if self.ends[k.END_LINES] else self.start_y

    def _nest(self, y: float) -> bool:
        """Nest from a start; whether nothing is left over."""
        self.start_y = y
        self.written, self.next_piece = work.run(compiled.nest_from, self.space, self.rows, self.frame, 0, y, self.out)
        return bool(self.next_piece >= len(self.pieces))

    def _usable(self) -> tuple[float, float]:
        found: tuple[float, float] = work.run(compiled.usable_height, self.space, self.rows, self.frame, self.out.slots)
        return found

    def _sit(self) -> None:
        sit = self.rules.sit
        self.residue, self.exact = 0.0, True
        if sit == "leaded" and self._lead_out():
            return
        balanced = self.rules.balance and self.rules.columns > 1
        if sit == "top" or not (balanced or self._sit_between(sit)):
            self._nest(self.least_start)
            if balanced:
                self._balance()
        elif balanced:
            self._sit_balanced(sit)

    def _sit_between(self, sit: str) -> bool:
        """Nest in the middle or at the bottom; False where no start holds all copy."""
        high, low = self._usable()
        if high >= compiled.FAR or low <= -compiled.FAR:
            return False
        aim_bottom = sit == "bottom"
        lift = 0.0 if aim_bottom else self.rules.lift
        y = work.run(compiled.solve_sit, self.space, self.rows, self.frame, aim_bottom, lift, high, low, self.out)
        if y >= compiled.FAR:
            return False
        self._nest(float(y))
        below = low - float(self.ends[k.END_STAND])
        self.residue = -below if aim_bottom else float(self.ends[k.END_HANG]) - high - below + 2 * lift
        self.exact = abs(self.residue) <= 0.05
        return True

    def _balance(self) -> None:
        """Nest to the smallest depth that holds all in columns, from the start as it is."""
        if self.next_piece < len(self.pieces):
            return
        floor, start = float(self.frame[k.Y_BOTTOM]), self.start_y
        low, high = start, float(self.ends[k.END_STAND])
        while high - low > 0.01 and not self.work.spent:
            self.frame[k.Y_BOTTOM] = (low + high) / 2
            if self._nest(start):
                high = min(float(self.frame[k.Y_BOTTOM]), float(self.ends[k.END_STAND]) + 1e-6)
            else:
                low = float(self.frame[k.Y_BOTTOM])
        self.frame[k.Y_BOTTOM] = high
        self._nest(start)
        self.frame[k.Y_BOTTOM] = floor

    def _sit_balanced(self, sit: str) -> None:
        """Balanced columns in the middle or at the bottom: balanced first, then moved, until both are true."""
        high, low = self._usable()
        self._nest(self.least_start)
        self._balance()
        if high >= compiled.FAR or self.next_piece < len(self.pieces):
            return
        best_y, best = self.start_y, compiled.FAR
        y = self.least_start
        for _ in range(8):
            if self.work.spent:
                break
            self._nest(y)
            self._balance()
            if self.next_piece < len(self.pieces):
                break
            below = low - float(self.ends[k.END_STAND])
            off = -below if sit == "bottom" else float(self.ends[k.END_HANG]) - high - below + 2 * self.rules.lift
            if abs(off) < best and (sit != "bottom" or off <= 1e-6):
                best_y, best, self.residue = y, abs(off), off
            if abs(off) < 1e-6:
                return
            y = min(max(y - off / (1 if sit == "bottom" else 2), self.least_start), low)
        self._nest(best_y)
        self._balance()
        self.exact = abs(self.residue) <= 0.05

    def _lead_out(self) -> bool:
        """Open paragraph spaces, then the leading, until the last line stands at the bottom; False with leftover.

        One line alone sits in the middle, and so do balanced columns of one line each.
        """
        if not self._nest(self.least_start):
            return False
        if self.rules.balance and self.rules.columns > 1:
            self._lead_out_balanced()
            return True
        if self.ends[k.END_LINES] <= 1:
            return self._sit_between("middle")
        _, low = self._usable()
        plain = self.rows

        def gap(opening: float) -> float:
            """How far above the bottom the last line stands; below zero when copy is left over."""
            self.rows = self._opened(plain, opening)
            if not self._nest(self.least_start):
                return -1.0
            return low - float(self.ends[k.END_STAND])

        best, best_gap = 0.0, gap(0.0)
        steps = 32
        here, here_gap = 0.0, best_gap
        for step in range(1, steps + 1):
            there = 2 * step / steps
            there_gap = gap(there)
            if here_gap >= 0 > there_gap:
                a, b = here, there
                while b - a > 1e-7:
                    half = (a + b) / 2
                    found = gap(half)
                    if found >= 0:
                        a = half
                        if found < best_gap:
                            best, best_gap = half, found
                    else:
                        b = half
            elif 0 <= there_gap < best_gap:
                best, best_gap = there, there_gap
            if best_gap < 0.01:
                break
            here, here_gap = there, there_gap
        self.residue = -gap(best)
        self.opened = best
        self.exact = abs(self.residue) <= 0.05
        return True

    def _lead_out_balanced(self) -> None:
        """Open balanced columns, from a start that holds all, until the deepest stands at the bottom: opened as far as
        all columns, full, hold the copy, the smallest common depth is theirs."""
        _, low = self._usable()
        plain = self.rows

        def balanced(opening: float) -> bool:
            self.rows = self._opened(plain, opening)
            fits = self._nest(self.least_start)
            self._balance()
            return fits

        balanced(0.0)
        if len(np.unique(self.records[: self.written, k.COLUMN])) == int(self.ends[k.END_LINES]):
            self._sit_balanced("middle")
            return
        most = 2.0
        if not balanced(most):
            least = 0.0
            while most - least > 1e-7 and not self.work.spent:
                half = (least + most) / 2
                self.rows = self._opened(plain, half)
                if self._nest(self.least_start):
                    least = half
                else:
                    most = half
            most = least
            balanced(most)
        self.opened = most
        self.residue = float(self.ends[k.END_STAND]) - low
        self.exact = abs(self.residue) <= 0.05

    def _opened(self, plain: compiled.Rows, opening: float) -> compiled.Rows:
        """Pieces and rules with paragraph spaces opened (up to 1) and then the leading (up to 2)."""
        leading_pt, leading_em, space_pt, space_em = self.rules.leaded
        pieces, rules = plain.pieces, plain.rules.copy()
        sizes = rules[:, k.SIZE]
        gaps = rules[1:, k.BEFORE] + rules[:-1, k.AFTER]
        rules[1:, k.BEFORE] += min(opening, 1.0) * np.maximum(space_pt + space_em * sizes[1:] - gaps, 0)
        if opening > 1:
            more = (opening - 1) * np.maximum(leading_pt + leading_em * sizes - rules[:, k.LEADING], 0)
            more = _by_whole_steps(rules[:, k.LEADING], more, rules[:, k.GRID])
            rules[:, k.LEADING] += more
            pieces = pieces.copy()
            each = more[pieces[:, k.PARAGRAPH].astype(np.int64)] / 2
            pieces[:, k.BOX_UP] += each
            pieces[:, k.BOX_DOWN] += each
        return compiled.Rows(pieces, rules)
