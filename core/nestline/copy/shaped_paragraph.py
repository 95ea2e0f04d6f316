"""A paragraph shaped whole, and the rows that nesting reads of it.

A *piece* is what stands between two break opportunities, its trailing spaces apart."""

from __future__ import annotations

import zlib
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.copy.breaks import hangs, letters_of
from nestline.copy.pairs import chosen_pairs, parted, reads_poorly, sense_breaks, weak_ends
from nestline.copy.stretches import Stretch
from nestline.copy.styles import Look, Rules
from nestline.document.model import OBJECT
from nestline.fonts.library import Face

Floats = NDArray[np.float64]


ALIGN = {"start": k.START, "center": k.CENTER, "end": k.END, "justify": k.JUSTIFY}
BREAKING = {
    "first-fit": k.FIRST_FIT,
    "optimal": k.OPTIMAL,
    "balanced": k.BALANCED,
    "by-sense": k.BY_SENSE,
    "widening": k.WIDENING,
    "tapering": k.TAPERING,
}
JOINED = frozenset("Adlm Arab Aran Beng Chrs Deva Guru Mand Mani Mong Nkoo Ougr Phag Phlp Rohg Sogd Syrc".split())
"""Scripts whose letters join, or hang on one line: spaces between them would part them (Unicode 16, 9.2; the rest from
memory)."""
TWO_THIRDS, LEAST_SPACE_EMS = 0.667, 0.15
"""What a word space closes to at least, as a share of itself, and in ems: fonts whose space is narrow run their words
together sooner (common practice)."""
JUSTIFIED_EMS, RAGGED_EMS = 8.4, 5.0
"""The least room in which justified words share what is free decently, and ragged ones read as a line, in ems: about
twenty letters, and twelve (common practice). Less copy needs no more than itself."""
LONE_WORD = {None: 0.0, True: -1.0, False: 1.0}
"""A last word alone is dear, may stand, or may not."""


GRAIN = 2.0**24
"""Into how many parts a point is divided where widths run on."""


def fine(x: Floats) -> Floats:
    """Running widths to the next 1/16,777,216 of a point: sums and differences of such come out exact, so that copy is
    as wide wherever it stands, whatever stands before it."""
    return np.rint(x * GRAIN) / GRAIN


@dataclass(frozen=True, eq=False)
class ShapedParagraph:
    """A paragraph shaped whole. Indices count code points of its text.

    `x` is the running width in points (len n + 1), `spaces` the running count of stretchable spaces, `letters` that of
    clusters; the piece arrays hold start, content end, end, what a break after sets (rows.NO_HYPHEN …), and what
    breaking there adds before (`start_change`) and after (`end_change`, a set hyphen included). `levels` are those of
    UAX #9 (None when all copy runs from left to right), `base` the paragraph's own. `tabs` and `fills` count tabs, and
    those that reach for the slot's end. The letters before `drop_end` are a drop cap: they take no room in the lines,
    but `drop_width` points beside them, their ink beginning `drop_bearing` right of their origin.
    """

    text: str
    rules: Rules
    stretches: tuple[Stretch, ...]
    running: Floats
    """Five rows: x, spaces, letters, tabs and fills before each code point, and at the end."""
    piece_start: NDArray[np.int64]
    piece_content_end: NDArray[np.int64]
    piece_end: NDArray[np.int64]
    piece_forced: NDArray[np.int64]
    piece_hyphen: NDArray[np.int64]
    start_change: Floats
    end_change: Floats
    missing: tuple[int, ...]
    space_width: float
    levels: tuple[int, ...] | None
    base: int
    start_hang: Floats
    drop_end: int = 0
    drop_width: float = 0.0
    drop_bearing: float = 0.0
    own_ascender: float = 0.0
    own_descender: float = 0.0
    """Of the letters of its own font."""

    @cached_property
    def segments(self) -> tuple[NDArray[np.int64], list[tuple[Face, Look]]]:
        """Its words by look (see `words_of`)."""
        return words_of(self)

    @cached_property
    def sum(self) -> int:
        """A figure of its text, the same wherever it stands."""
        return zlib.crc32(self.text.encode("utf-8", "surrogatepass"))

    @cached_property
    def words(self) -> int:
        return len(self.text.replace(OBJECT, " ").split())

    @cached_property
    def piece_widths(self) -> Floats:
        """The width of every piece when it stands alone in a line, in points."""
        return self.x[self.piece_content_end] - self.x[self.piece_start] + self.start_change + self.end_change

    @cached_property
    def widest_piece(self) -> float:
        return float(self.piece_widths.max(initial=-np.inf))

    @property
    def x(self) -> Floats:
        return _row(self.running, k.RUNNING_X)

    @property
    def spaces(self) -> Floats:
        return _row(self.running, k.RUNNING_SPACES)

    @property
    def letters(self) -> Floats:
        return _row(self.running, k.RUNNING_LETTERS)

    @property
    def tabs(self) -> Floats:
        return _row(self.running, k.RUNNING_TABS)

    @property
    def fills(self) -> Floats:
        return _row(self.running, k.RUNNING_FILLS)

    @cached_property
    def places(self) -> NDArray[np.int64]:
        """Three rows: where each piece starts, its content ends, and it ends."""
        return np.stack([self.piece_start, self.piece_content_end, self.piece_end])

    @cached_property
    def rows(self) -> Floats:
        """Its pieces' rows, counted from its own start."""
        rows = np.zeros((len(self.piece_start), k.PIECE_COLUMNS))
        rows[:, k.RUNNING0] = self.running[:, self.piece_start].T
        rows[:, k.RUNNING1] = self.running[:, self.piece_content_end].T
        rows[:, k.CHANGE0], rows[:, k.CHANGE1] = self.start_change, self.end_change
        rows[:, k.FORCED], rows[:, k.HYPHEN], rows[:, k.HANG0] = self.piece_forced, self.piece_hyphen, self.start_hang
        rows[:, k.HEIGHTS] = heights_of(self)
        rows[:, k.GRADE] = grades_of(self)
        rows[:, k.LETTERS1] += self.piece_hyphen == k.SET_HYPHEN  # the hyphen is one, too
        return rows

    @property
    def least_space(self) -> float:
        """What its word spaces close to at least, as a share of their own width."""
        if self.rules.least_space is not None:
            return self.rules.least_space
        # What stays between two words: letters that are set closer take from the space on both sides of it.
        least = LEAST_SPACE_EMS * self.rules.size + 2 * self.rules.fitted_space
        return min(1.0, max(TWO_THIRDS, least / max(self.space_width * (1 - self.rules.fitted_width), 1e-9)))

    @cached_property
    def rule_row(self) -> Floats:
        r, heights = self.rules, self.rows[:, k.HEIGHTS]
        # A line with tabs is set natural: no line of such a paragraph may count on closing up.
        has_tabs = self.tabs[-1] > 0
        least_space = 1.0 if has_tabs else self.least_space
        row = np.zeros(k.RULE_COLUMNS)
        if not has_tabs and not any(s.script in JOINED for s in self.stretches):
            row[k.FITTED_SPACE], row[k.FITTED_WIDTH] = r.fitted_space, r.fitted_width
        room = JUSTIFIED_EMS if r.align == "justify" else RAGGED_EMS
        row[k.LEAST_ROOM] = min(room * r.size, float(self.x[-1]))
        row[k.RAGGED_ROOM] = min(RAGGED_EMS * r.size, float(self.x[-1]))
        row[k.LEADING], row[k.SIZE], row[k.GRID] = r.leading, r.size, r.grid
        row[k.ALIGN], row[k.ALIGN_LAST], row[k.BREAKING] = ALIGN[r.align], ALIGN[r.last], BREAKING[r.breaking]
        row[k.BEFORE], row[k.AFTER] = r.space_before, r.space_after
        row[k.INDENT], row[k.FIRST_INDENT] = r.indent, r.first_indent
        row[k.SPACE_WIDTH], row[k.LEAST_SPACE], row[k.GREATEST_SPACE] = self.space_width, least_space, r.greatest_space
        row[k.GREATEST_TRACKING], row[k.LONE_WORD] = r.greatest_tracking, LONE_WORD[r.last_word_alone]
        row[k.LADDER] = r.hyphenation.ladder if r.hyphenation else 2
        row[k.FROM_RIGHT], row[k.NEW_COLUMN] = float(self.base), float(r.new_column)
        row[k.KEEP_START], row[k.KEEP_END], row[k.KEEP_NEXT] = kept_together(r)
        row[k.DROP_LINES] = r.drop_cap.lines if r.drop_cap and self.drop_end else 0
        row[k.DROP_WIDTH] = self.drop_width
        row[k.EVEN] = float(bool((heights == heights[:1]).all()))
        return row

    @cached_property
    def rule_rows(self) -> Floats:
        """Its rule row, as a table of one."""
        return self.rule_row[None]

    def stretch_at(self, index: int) -> Stretch:
        """The stretch that holds a code point (the last one for the paragraph's end)."""
        for stretch in self.stretches:
            if index < stretch.end:
                return stretch
        return self.stretches[-1]


def _row(table: Floats, number: int) -> Floats:
    row: Floats = table[number]
    return row


def words_of(p: ShapedParagraph) -> tuple[NDArray[np.int64], list[tuple[Face, Look]]]:
    """A paragraph's words by look, a row each: start, end, which of the looks given beside them, from right to left."""
    count = len(p.text)
    letters = letters_of(p.text)
    white = hangs(letters) | (letters == ord("\u00a0"))
    parts = np.zeros(count, dtype=bool)
    parts[p.piece_start[1:][p.piece_hyphen[:-1] != k.SET_HYPHEN]] = True
    looks: list[tuple[Face, Look]] = []
    look_of, backwards = np.zeros((2, count), np.int64)
    for s in p.stretches:
        parts[s.start : s.start + 1] = True
        if s.role:
            white[s.start : s.end] = True
            continue
        pair = (s.face, s.look)
        if pair not in looks:
            looks.append(pair)
        look_of[s.start : s.end], backwards[s.start : s.end] = looks.index(pair), s.level % 2
    begins = np.flatnonzero(~white & (parts | np.append(True, white)[:count]))
    stops = np.append(np.flatnonzero(white | parts), count)
    rows = np.empty((len(begins), k.WORD_COLUMNS), np.int64)
    rows[:, k.WORD_START], rows[:, k.WORD_END] = begins, stops[np.searchsorted(stops, begins, side="right")]
    rows[:, k.WORD_LOOK], rows[:, k.WORD_RTL] = look_of[begins], backwards[begins]
    return rows, looks


def grades_of(p: ShapedParagraph) -> Floats:
    """How ill a break after each piece is (rows.NO_GRADE …)."""
    kept, weak = parted(p.text, p.rules.language), weak_ends(p.text, p.rules.language)
    chosen = chosen_pairs(p.text, p.rules.together) if p.rules.together else frozenset()
    # A justified line is not left unfilled for it.
    held = k.KEPT if p.rules.align == "justify" else k.HELD
    out = np.zeros(len(p.piece_end))
    for i, (end, hyphen) in enumerate(zip(p.piece_end.tolist(), p.piece_hyphen.tolist(), strict=True)):
        if hyphen == k.SET_HYPHEN:
            out[i] = k.POOR if reads_poorly(p.text, end, p.rules.language) else k.NO_GRADE
        else:
            out[i] = max(kept.get(end, k.WEAK if end in weak else k.NO_GRADE), held if end in chosen else k.NO_GRADE)
    if p.rules.breaking == "by-sense":
        senses = sense_breaks(p.text, p.rules.language)
        for i, end in enumerate(p.piece_end.tolist()):
            if p.piece_hyphen[i] == k.SET_HYPHEN or end not in senses:
                out[i] = max(out[i], k.KEPT)
            elif out[i] == k.NO_GRADE and senses[end] > 0:
                out[i] = k.WEAK  # a lesser break costs as much as a short word at a line’s end
    return out


def kept_together(rules: Rules) -> tuple[float, float, float]:
    """Lines kept together at a column's start and at its end, and whether the paragraph stays with the next."""
    keep = rules.keep
    if keep is None:
        return 1.0, 1.0, 0.0
    if keep.whole:
        return 1e6, 1e6, float(keep.next)
    return float(keep.start), float(keep.end), float(keep.next)


def heights_of(p: ShapedParagraph) -> Floats:
    """For each piece: letters' ascender and descender, line box above and below, cap and x-height, and how far the
    baselines above and below keep away from its objects in line, in points."""
    table = []
    stretches = [s for s in p.stretches if s.role not in ("drop", "anchor")] or list(p.stretches)
    for s in stretches:
        m, size = s.face.metrics, s.look.size
        if s.role == "object":
            up, down = s.heights
            table.append((up, down, up, down, up, up, up + p.own_descender, down + p.own_ascender))
            continue
        half = (p.rules.leading - (m.ascent + m.descent) * size) / 2
        table.append(
            (
                m.ascender * size,
                m.descender * size,
                m.ascent * size + half,
                m.descent * size + half,
                m.cap * size,
                m.ex * size,
                0.0,
                0.0,
            )
        )
    out = np.full((len(p.piece_start), 8), -1e9)
    if len(stretches) == 1:
        out[:] = table[0]
        return out
    for s, row in zip(stretches, table, strict=True):
        touches = (p.piece_start < s.end) & (p.piece_end > s.start)
        out[touches] = np.maximum(out[touches], row)
    bare = (out < -1e8).all(axis=1)
    out[bare] = next((row for s, row in zip(stretches, table, strict=True) if s.role != "object"), table[0])
    return out
