"""Shaped copy: paragraphs shaped once into the arrays that nesting reads.

A *piece* is what stands between two break opportunities, its trailing spaces apart. Widths come from running sums over
the paragraph, shaped whole; where a break would change the shaping (HarfBuzz flags the glyph as unsafe to break), the
difference is worked out here once, so that a line's width is what shaping that line alone gives.
"""

from __future__ import annotations

import unicodedata
from collections import OrderedDict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import icu
import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.alike import same_beginning
from nestline.copy.bidi import levels_of
from nestline.copy.breaks import HANGING_SPACES, MANDATORY, graphemes, line_breaks
from nestline.copy.hyphenation import hyphen_places
from nestline.copy.styles import Look, Rules, paragraph_rules, run_look
from nestline.document import lengths
from nestline.document.model import OBJECT, Paragraph, Style
from nestline.fonts.library import Face, FontLibrary
from nestline.fonts.shaping import Glyphs, shape
from nestline.remembering import Memory, remember

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Stretch:
    """A stretch of a paragraph in one look, font, script and direction: text[start:end].

    An odd `level` runs from right to left; `fallback` says that its font stands in for one that lacks its letters.
    """

    start: int
    end: int
    look: Look
    face: Face
    script: str | None
    glyphs: Glyphs
    level: int = 0
    fallback: bool = False
    role: str = ""
    """"drop" for the letters of a drop cap, which stand beside the lines, "tab" for a tab, "object" for one in line,
    "anchor" for the place of one that stands elsewhere."""
    advance: float = 0.0
    leader: str = ""
    object: str = ""
    heights: tuple[float, float] = (0.0, 0.0)
    """How far an object in line reaches above the baseline and below it."""

    @property
    def scale(self) -> float:
        """Points per font unit."""
        return self.look.size / self.face.units_per_em


@dataclass(frozen=True, eq=False)
class ShapedParagraph:
    """A paragraph shaped whole. Indices count code points of its text.

    `x` is the running width in points (len n + 1), `spaces` the running count of stretchable spaces, `letters` that of
    clusters; the piece arrays hold start, content end, end, what a break after sets (rows.NO_HYPHEN …), and what
    breaking there adds before (`start_change`) and after (`end_change`, a set hyphen included). `levels` are those of
    UAX #9 (None when all copy runs from left to right), `base` the paragraph's own. `tabs` and `fills` count tabs, and
    those that reach for the slot's end. The letters before `drop_end` are a drop cap: they take no room in the lines, but
    `drop_width` points beside them, their ink beginning `drop_bearing` right of their origin.
    """

    text: str
    rules: Rules
    stretches: tuple[Stretch, ...]
    x: Floats
    spaces: Floats
    piece_start: NDArray[np.int64]
    piece_content_end: NDArray[np.int64]
    piece_end: NDArray[np.int64]
    piece_forced: NDArray[np.int64]
    piece_hyphen: NDArray[np.int64]
    letters: Floats
    start_change: Floats
    end_change: Floats
    missing: tuple[int, ...]
    space_width: float
    levels: tuple[int, ...] | None
    base: int
    start_hang: Floats
    tabs: Floats
    fills: Floats
    drop_end: int = 0
    drop_width: float = 0.0
    drop_bearing: float = 0.0
    own_ascender: float = 0.0
    own_descender: float = 0.0
    """Of the letters of its own font."""

    @cached_property
    def segments(self) -> tuple[NDArray[np.int64], list[tuple[Face, Look]]]:
        """Its words by look (see `_segments_of`)."""
        return _segments_of(self)

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

    @cached_property
    def running(self) -> Floats:
        """Five rows: x, spaces, letters, tabs and fills before each code point, and at the end."""
        return np.stack([self.x, self.spaces, self.letters, self.tabs, self.fills])

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
        rows[:, k.HEIGHTS] = _heights(self)
        return rows

    @cached_property
    def rule_row(self) -> Floats:
        r, heights = self.rules, self.rows[:, k.HEIGHTS]
        # A line with tabs is set natural: no line of such a paragraph may count on its spaces closing up.
        least_space = 1.0 if self.tabs[-1] > 0 else r.least_space
        row = np.zeros(k.RULE_COLUMNS)
        row[k.LEADING], row[k.SIZE], row[k.GRID] = r.leading, r.size, r.grid
        row[k.ALIGN], row[k.ALIGN_LAST], row[k.BREAKING] = ALIGN[r.align], ALIGN[r.last], BREAKING[r.breaking]
        row[k.BEFORE], row[k.AFTER] = r.space_before, r.space_after
        row[k.INDENT], row[k.FIRST_INDENT] = r.indent, r.first_indent
        row[k.SPACE_WIDTH], row[k.LEAST_SPACE], row[k.GREATEST_SPACE] = self.space_width, least_space, r.greatest_space
        row[k.GREATEST_TRACKING], row[k.LONE_WORD] = r.greatest_tracking, LONE_WORD[r.last_word_alone]
        row[k.LADDER] = r.hyphenation.ladder if r.hyphenation else 2
        row[k.FROM_RIGHT], row[k.NEW_COLUMN] = float(self.base), float(r.new_column)
        row[k.KEEP_START], row[k.KEEP_END], row[k.KEEP_NEXT] = _kept(r)
        row[k.DROP_LINES] = r.drop_cap.lines if r.drop_cap and self.drop_end else 0
        row[k.DROP_WIDTH] = self.drop_width
        row[k.EVEN] = float(bool((heights == heights[:1]).all()))
        return row

    def stretch_at(self, index: int) -> Stretch:
        """The stretch that holds a code point (the last one for the paragraph's end)."""
        for stretch in self.stretches:
            if index < stretch.end:
                return stretch
        return self.stretches[-1]


def _segments_of(p: ShapedParagraph) -> tuple[NDArray[np.int64], list[tuple[Face, Look]]]:
    """A paragraph's words by look, a row each: start, end, which of the looks given beside them, from right to left."""
    rows: list[tuple[int, int, int, int]] = []
    looks: list[tuple[Face, Look]] = []
    cuts = {int(c) for c, before in zip(p.piece_start[1:], p.piece_hyphen, strict=False) if before != k.SET_HYPHEN}
    for s in p.stretches:
        if s.role:
            continue
        pair = (s.face, s.look)
        if pair not in looks:
            looks.append(pair)
        number = looks.index(pair)
        begin = None
        for i in range(s.start, s.end + 1):
            space = i == s.end or p.text[i] in HANGING_SPACES or p.text[i] == "\u00a0"
            if begin is not None and (space or i in cuts):
                rows.append((begin, i, number, s.level % 2))
                begin = None
            if not space and begin is None:
                begin = i
    return np.array(rows, dtype=np.int64).reshape(len(rows), k.WORD_COLUMNS), looks


InLine = Mapping[str, tuple[float, float, float, float] | None]
"""Objects in line by id: width, height, and how far they stand above the baseline: in points, and in ems more. None for
an object that only has its place in the copy, and stands elsewhere."""
ATTACHED = "\ufe00"
"""What stands for such a place where breaks are looked for: it goes with the letter before it (UAX #14, CM)."""


def shape_paragraph(
    paragraph: Paragraph, style: Style | None, language: str, fonts: FontLibrary, in_line: InLine
) -> ShapedParagraph:
    """Shape a paragraph. Raises FontError for a family that is not there."""
    rules = paragraph_rules(paragraph, style, language)
    text = paragraph.text
    stretches: list[Stretch] = []
    levels, base = levels_of(text, rules.direction, rules.language)
    shown = text.replace("\t", " ").replace(OBJECT, " ")
    drop_end, drop_stop = _drop_letters(text, rules)
    cuts = {drop_end, drop_stop, *(i + more for i, c in enumerate(text) if c == "\t" for more in (0, 1))}
    broken = list(text)
    at = 0
    for run in paragraph.runs:
        look = run_look(run, rules.look)
        if run.object is not None:
            face = fonts.face(look.font, look.weight, look.slope)
            space = shape(face, shown, at, at + 1, rules.language)
            found = in_line.get(run.object, (0.0, 0.0, 0.0, 0.0))
            width, height, shift, ems = found or (0.0, 0.0, 0.0, 0.0)
            if found is None:
                broken[at] = ATTACHED
            shift += ems * look.size
            up, down = height + shift, -shift
            where = (
                at,
                at + 1,
                look,
                face,
                None,
                space,
                levels[at],
                False,
                "object" if found is not None else "anchor",
                width,
                "",
                run.object,
                (up, down),
            )
            stretches.append(Stretch(*where))
            at += 1
            continue
        for begin, stop, script in _by_script(text, at, at + len(run.text)):
            for left, right, face in _by_face(
                text, begin, stop, levels, fonts.face(look.font, look.weight, look.slope), fonts
            ):
                inner = sorted(c for c in cuts if left < c < right)
                for start, end in zip([left, *inner], [*inner, right], strict=True):
                    role, own, own_face = "", look, face
                    if text[start] == "\t":
                        role = "tab"
                    elif start < drop_end:
                        role, own = "drop", _drop_look(look, rules, fonts)
                        own_face = fonts.face(own.font, own.weight, own.slope)
                        own_face = own_face if own_face.has(text[start]) else face
                    rtl = levels[start] % 2 == 1
                    glyphs = shape(
                        own_face, shown, start, end, rules.language, script, not own.joined, own.features, rtl
                    )
                    asked = fonts.face(own.font, own.weight, own.slope)
                    stretches.append(
                        Stretch(start, end, own, own_face, script, glyphs, levels[start], own_face is not asked, role)
                    )
        at += len(run.text)
    if not stretches:
        bare = fonts.face(rules.look.font, rules.look.weight, rules.look.slope)
        stretches = [Stretch(0, 0, rules.look, bare, None, shape(bare, "", 0, 0, rules.language))]

    n = len(text)
    x, safe = np.zeros(n + 1), np.ones(n + 1, dtype=bool)
    missing: list[int] = []
    for stretch in stretches:
        if stretch.role or stretch.end <= drop_stop:
            x[stretch.start + 1 : stretch.end + 1] = x[stretch.start]
            safe[stretch.start : stretch.end] = True
        if stretch.role == "object":
            x[stretch.end] = x[stretch.start] + stretch.advance
        if stretch.role in ("tab", "object", "anchor"):
            continue
        if not stretch.role and stretch.end > drop_stop:
            _running_widths(stretch, x, safe)
        missing += [int(c) for c in stretch.glyphs.clusters[stretch.glyphs.ids == 0] if text[c] not in MANDATORY]
    spaces = np.zeros(n + 1)
    spaces[1:] = np.cumsum([c in " \u00a0" and i >= drop_stop for i, c in enumerate(text)])
    tabs, fills = np.zeros(n + 1), np.zeros(n + 1)
    if "\t" in text:
        tabs[1:] = np.cumsum([c == "\t" for c in text])
        _set_tabs(text, rules, stretches, x, fills)
    drop_width, drop_bearing = _drop_extent([s for s in stretches if s.role == "drop"], rules)

    words = line_breaks("".join(broken), rules.language) or [0]
    syllables = set(hyphen_places(text, rules.language, rules.hyphenation)) - set(words)
    ends = sorted({*words, *syllables})
    starts = [0, *ends[:-1]]
    contents, hyphens = [], []
    for start, end in zip(starts, ends, strict=True):
        content = end
        while content > start and text[content - 1] in HANGING_SPACES:
            content -= 1
        contents.append(content)
        written = content == end and end < n and text[end - 1] in "-\u2010"
        hyphens.append(k.SET_HYPHEN if end in syllables else k.OWN_HYPHEN if written else k.NO_HYPHEN)
    forced = [1 if end == n or text[end - 1] in MANDATORY else 0 for end in ends]

    whole = _Reshaper(shown, tuple(stretches), rules.language, x, safe)
    start_change = np.array([whole.change_at_start(s, c) for s, c in zip(starts, contents, strict=True)])
    end_change = np.array(
        [
            whole.change_with_hyphen(s, e) if h == k.SET_HYPHEN else whole.change_at_end(s, c, e)
            for s, c, e, h in zip(starts, contents, ends, hyphens, strict=True)
        ]
    )
    hang = np.zeros(len(starts))
    if rules.hang_punctuation:
        hang = np.array([whole.hang_at_start(s, c) for s, c in zip(starts, contents, strict=True)])
        start_change = start_change - hang
        end_change = end_change - np.array(
            [whole.hang_at_end(s, c, h == k.SET_HYPHEN) for s, c, h in zip(starts, contents, hyphens, strict=True)]
        )
    letters = np.zeros(n + 1)
    for stretch in stretches:
        if not stretch.role and stretch.end > drop_stop:
            letters[np.unique(stretch.glyphs.clusters) + 1] = 1
    letters = np.cumsum(letters)
    first = fonts.face(rules.look.font, rules.look.weight, rules.look.slope)
    space_width = shape(first, " ", 0, 1, rules.language).width * rules.size / first.units_per_em
    integer = np.int64
    return ShapedParagraph(
        text, rules, tuple(stretches), x, spaces, np.array(starts, integer), np.array(contents, integer),
        np.array(ends, integer), np.array(forced, integer), np.array(hyphens, integer), letters, start_change, end_change, tuple(missing), space_width,
        tuple(levels) if any(levels) else None, base, hang, tabs, fills, drop_end, drop_width, drop_bearing,
        first.metrics.ascender * rules.size, first.metrics.descender * rules.size,
    )  # fmt: skip


def _drop_letters(text: str, rules: Rules) -> tuple[int, int]:
    """Where a drop cap's letters end, and where the copy beside it begins; 0, 0 without one.

    A mark before the first letter (an opening quotation mark) drops with it.
    """
    if rules.drop_cap is None or not text.strip():
        return 0, 0
    ends = graphemes(text)
    wanted = rules.drop_cap.letters
    if len(ends) > 1 and unicodedata.category(text[0]).startswith("P"):
        wanted += 1
    end = ends[min(wanted, len(ends)) - 1]
    if end >= len(text.rstrip()) or text[0] in HANGING_SPACES:
        return 0, 0
    stop = end
    while stop < len(text) and text[stop] in HANGING_SPACES and text[stop] not in MANDATORY:
        stop += 1
    return end, stop


def _drop_look(look: Look, rules: Rules, fonts: FontLibrary) -> Look:
    """A drop cap reaches from the cap height of its first line to the baseline of its last."""
    drop = rules.drop_cap
    assert drop is not None
    made = replace(
        look, font=drop.font or look.font, weight=drop.weight or look.weight, slope=drop.slope or look.slope,
        color=drop.color or look.color, underline=False, tracking=0.0,
    )  # fmt: skip
    base = fonts.face(rules.look.font, rules.look.weight, rules.look.slope)
    face = fonts.face(made.font, made.weight, made.slope)
    high = (drop.lines - 1) * rules.leading + base.metrics.cap * rules.size
    return replace(made, size=round(high / max(face.metrics.cap, 0.1), 4))


def _drop_extent(stretches: list[Stretch], rules: Rules) -> tuple[float, float]:
    """The room that a drop cap takes beside its lines (its ink and its gap), and where its ink begins."""
    if not stretches or rules.drop_cap is None:
        return 0.0, 0.0
    pen, left, right = 0.0, 1e9, -1e9
    for stretch in stretches:
        for glyph, advance, offset in zip(
            stretch.glyphs.ids.tolist(),
            stretch.glyphs.advances.tolist(),
            stretch.glyphs.x_offsets.tolist(),
            strict=True,
        ):
            box = stretch.face.hb_font.get_glyph_extents(glyph)
            if box is not None and box.width:
                begin = pen + (offset + box.x_bearing) * stretch.scale
                left, right = min(left, begin), max(right, begin + box.width * stretch.scale)
            pen += advance * stretch.scale
    if right < left:
        left, right = 0.0, pen
    return right - left + lengths.points(rules.drop_cap.gap, rules.size), left


DEFAULT_TAB = 3.0
"""Where no tabs are set, one leads to the next multiple of so many ems."""
LEAST_TAB = 0.25
"""The least room of a tab, in ems."""


def _set_tabs(text: str, rules: Rules, stretches: list[Stretch], x: Floats, fills: Floats) -> None:
    """Give every tab the width that leads to its place, counted from the start of its line in the copy."""
    places = sorted(
        ((lengths.points(t.at, rules.size), t) for t in rules.tabs if t.at != "end"), key=lambda place: place[0]
    )
    to_end = next((t for t in rules.tabs if t.at == "end"), None)
    least = LEAST_TAB * rules.size
    line_start = 0
    for number, stretch in enumerate(stretches):
        if stretch.role != "tab":
            continue
        at = stretch.start
        for i in range(line_start, at):
            if text[i] in MANDATORY:
                line_start = i + 1
        indent = rules.indent + (rules.first_indent if line_start == 0 else 0.0)
        here = indent + float(x[at] - x[line_start])
        stop = at + 1
        while stop < len(text) and text[stop] != "\t" and text[stop] not in MANDATORY:
            stop += 1
        following = float(x[stop] - x[at + 1])
        wanted, leader = -1.0, ""
        for place, tab in places:
            width = place - here - _share_before(tab.align, text, at + 1, stop, x, following)
            if place > here + 1e-6 and width >= 0:
                wanted, leader = max(width, least if tab.align != "start" else width), tab.leader
                break
        if wanted < 0 and to_end is not None:
            wanted, leader = least, to_end.leader
            fills[at + 1 :] += 1
        elif wanted < 0:
            step = DEFAULT_TAB * rules.size
            wanted = (int(here / step + 1e-9) + 1) * step - here
        stretches[number] = replace(stretch, advance=wanted, leader=leader)
        x[at + 1 :] += wanted


def _share_before(align: str, text: str, start: int, stop: int, x: Floats, following: float) -> float:
    """How much of what follows a tab stands before its place."""
    if align == "center":
        return following / 2
    if align == "end":
        return following
    if align == "figure":
        mark = next((i for i in range(start, stop) if text[i] in ".,"), stop)
        return float(x[mark] - x[start])
    return 0.0


def _running_widths(stretch: Stretch, x: Floats, safe: NDArray[np.bool_]) -> None:
    """Fill x and safe over one stretch; a cluster of several code points shares its advance evenly among them."""
    start, end, glyphs = stretch.start, stretch.end, stretch.glyphs
    if end == start:
        return
    advance = np.zeros(end - start)
    np.add.at(advance, glyphs.clusters - start, glyphs.advances * stretch.scale)
    heads = np.unique(glyphs.clusters) - start
    advance[heads] += stretch.look.tracking
    lengths = np.diff(np.append(heads, end - start))
    advance = np.repeat(advance[heads] / lengths, lengths)
    x[start + 1 : end + 1] = x[start] + np.cumsum(advance)
    inside = np.ones(end - start, dtype=bool)
    inside[heads] = False
    safe[start:end][inside] = False
    safe[glyphs.clusters[glyphs.unsafe]] = False


HANGING = {
    **dict.fromkeys(".,", 0.8),
    **dict.fromkeys("-\u2010\u2011", 0.6),
    **dict.fromkeys("\"'“”‘’„‚«»‹›", 0.6),
    **dict.fromkeys(":;", 0.5),
    **dict.fromkeys("–—…", 0.3),
    **dict.fromkeys("!?()[]*", 0.2),
}
"""The share of a mark that hangs outside its slot (common practice; figures of our own)."""


def hyphen_of(face: Face) -> str:
    """The hyphen that the engine sets: U+2010 where the font has it, else U+002D (CSS Text 4, "hyphenate-character")."""
    return "\u2010" if face.hb_font.get_nominal_glyph(0x2010) else "-"


class _Reshaper:
    """Works out how a line's width differs from the running widths when the line starts or ends in a place."""

    def __init__(self, text: str, stretches: tuple[Stretch, ...], language: str, x: Floats, safe: NDArray[np.bool_]):
        self.text, self.stretches, self.language, self.x, self.safe = text, stretches, language, x, safe

    def change_at_start(self, start: int, content: int) -> float:
        stretch = self._stretch(start)
        if stretch is None or self.safe[start] or start == stretch.start or content <= start:
            return 0.0
        end = start + 1
        while end < stretch.end and not self.safe[end]:
            end += 1
        return self._width(stretch, start, end) - float(self.x[end] - self.x[start])

    def change_at_end(self, start: int, content: int, end: int) -> float:
        """The spaces that hang past a line's end are shaped with it (CSS Text 3, 4.1.3), so its last letter keeps them."""
        stretch = self._stretch(content - 1) if content > start else None
        if stretch is None or content >= stretch.end:
            return 0.0
        stop = min(end, stretch.end)
        if stop == stretch.end or self.safe[stop]:
            return 0.0
        begin = stop - 1
        while begin > stretch.start and not self.safe[begin]:
            begin -= 1
        if begin >= content:
            return 0.0
        return self._width(stretch, begin, stop, content) - float(self.x[content] - self.x[begin])

    def hang_at_start(self, start: int, content: int) -> float:
        """How far the first mark of a line hangs out before its slot."""
        if content <= start:
            return 0.0
        return HANGING.get(self.text[start], 0.0) * float(self.x[start + 1] - self.x[start])

    def hang_at_end(self, start: int, content: int, hyphenated: bool) -> float:
        """How far the last mark of a line hangs out behind its slot."""
        stretch = self._stretch(content - 1) if content > start else None
        if stretch is None:
            return 0.0
        if hyphenated:
            hyphen = shape(stretch.face, hyphen_of(stretch.face), 0, 1, self.language)
            return HANGING["-"] * hyphen.width * stretch.scale
        return HANGING.get(self.text[content - 1], 0.0) * float(self.x[content] - self.x[content - 1])

    def change_with_hyphen(self, start: int, end: int) -> float:
        """What a hyphen set at `end` adds, shaped with the letters before it."""
        stretch = self._stretch(end - 1)
        if stretch is None:
            return 0.0
        begin = end - 1
        while begin > max(stretch.start, start) and not self.safe[begin]:
            begin -= 1
        shaped = self.text[begin:end] + hyphen_of(stretch.face)
        tracked = not stretch.look.joined
        glyphs = shape(
            stretch.face, shaped, 0, len(shaped), self.language, stretch.script, tracked, stretch.look.features
        )
        count = len(np.unique(glyphs.clusters))
        width = float(glyphs.advances.sum()) * stretch.scale + count * stretch.look.tracking
        return width - float(self.x[end] - self.x[begin])

    def _stretch(self, index: int) -> Stretch | None:
        return next((s for s in self.stretches if s.start <= index < s.end), None)

    def _width(self, stretch: Stretch, start: int, end: int, upto: int | None = None) -> float:
        """The width of text[start:upto] when text[start:end] is shaped alone."""
        tracked = not stretch.look.joined
        glyphs = shape(
            stretch.face, self.text, start, end, self.language, stretch.script, tracked, stretch.look.features
        )
        within = glyphs.clusters < (end if upto is None else upto)
        count = len(np.unique(glyphs.clusters[within]))
        return float(glyphs.advances[within].sum()) * stretch.scale + count * stretch.look.tracking


def _by_script(text: str, start: int, end: int) -> list[tuple[int, int, str | None]]:
    """A run cut where its script changes (UAX #24; common and inherited characters go with what stands before)."""
    out: list[tuple[int, int, str | None]] = []
    begin, current = start, None
    for i in range(start, end):
        if text[i] < "\u0250":
            script = "Latn" if text[i].isalpha() else None
        else:
            code = icu.Script.getScript(text[i]).getShortName()
            script = None if code in ("Zyyy", "Zinh", "Zzzz") else code
        if script is None or script == current:
            continue
        if current is not None:
            out.append((begin, i, current))
            begin = i
        current = script
    if end > begin:
        out.append((begin, end, current))
    return out


def _by_face(
    text: str, start: int, end: int, levels: list[int], asked: Face, fonts: FontLibrary
) -> list[tuple[int, int, Face]]:
    """A stretch cut where its direction changes and where its font lacks letters, which another then draws."""
    out: list[tuple[int, int, Face]] = []
    begin, current = start, asked
    for i in range(start, end):
        letter = text[i]
        face = current
        if letter > " " and not _stays(letter):
            face = asked if asked.has(letter) else current if current.has(letter) else fonts.fallback(letter, asked)
        if i > begin and (face is not current or levels[i] != levels[i - 1]):
            out.append((begin, i, current))
            begin = i
        current = face
    if end > begin:
        out.append((begin, end, current))
    return out


def _stays(letter: str) -> bool:
    """Marks, joiners and spaces are drawn by the font of what stands before them."""
    if letter < "\u0300":
        return letter in "\u00a0\u00ad"
    return unicodedata.category(letter) in ("Mn", "Me", "Mc", "Cf", "Zs", "Cc")


@dataclass(frozen=True, eq=False)
class ShapedCopy:
    """A whole copy, its paragraphs one after another, in the arrays that nesting reads (nestline.rows).

    `offset` is where each paragraph starts in the copy, a paragraph's end counting one code point. `x` and `spaces`
    run on over all paragraphs. `pieces` has a row a piece, `paragraphs` a row a paragraph.
    """

    paragraphs: tuple[ShapedParagraph, ...]
    offset: NDArray[np.int64]
    x: Floats
    spaces: Floats
    letters: Floats
    fills: Floats
    piece_start: NDArray[np.int64]
    piece_content_end: NDArray[np.int64]
    piece_end: NDArray[np.int64]
    pieces: Floats
    rules: Floats
    segments: Segments
    text: str
    words: int
    window: tuple[int, int] | None = None
    """The paragraphs, first and behind the last, that the figures of pieces, running widths and words are there for, where they
    are not there for all: places in the text, and which words there are, always are (see `join_paragraphs`)."""

    @cached_property
    def whole(self) -> ShapedCopy:
        """The copy with all its figures."""
        return self if self.window is None else join_paragraphs(self.paragraphs)

    @property
    def size(self) -> float:
        """The type size of the first paragraph, in points."""
        return self.paragraphs[0].rules.size if self.paragraphs else 11.0

    @cached_property
    def in_capitals(self) -> bool:
        """Whether all its letters are capitals, and there is more than one."""
        return self.text.isupper() and sum(c.isupper() for c in self.text) > 1

    @cached_property
    def holds_objects(self) -> bool:
        """Whether any object stands in line or has its place here."""
        return OBJECT in self.text

    @cached_property
    def object_places(self) -> tuple[int, ...]:
        """The code points that stand for objects, in line or elsewhere."""
        return tuple(n for n, letter in enumerate(self.text) if letter == OBJECT)

    def objects_between(self, start: int, end: int) -> list[str]:
        """The ids of the objects in line in copy[start:end]."""
        return [
            s.object
            for p, base in zip(self.paragraphs, self.offset.tolist(), strict=False)
            for s in p.stretches
            if s.role == "object" and start <= base + s.start < end
        ]

    @cached_property
    def piece_words(self) -> NDArray[np.int64]:
        """For each piece the first word segment that it reaches into, and the one after the last."""
        out = np.zeros((len(self.piece_start), 2), np.int64)
        within = slice(None)
        if self.window is not None:
            within = slice(*np.searchsorted(self.piece_start, self.offset[list(self.window)]).tolist())
        starts, ends = self.piece_start[within], self.piece_content_end[within]
        out[within, k.RANGE_START] = np.searchsorted(self.segments.end, starts, side="right")
        out[within, k.RANGE_END] = np.maximum(out[within, k.RANGE_START], np.searchsorted(self.segments.start, ends))
        return out

    @cached_property
    def levels(self) -> NDArray[np.int64]:
        """The level of every code point (UAX #9), a paragraph's end having its paragraph's."""
        parts = [[*(p.levels or [0] * len(p.text)), p.base] for p in self.paragraphs]
        return np.array([level for part in parts for level in part], dtype=np.int64)

    @cached_property
    def bidi(self) -> bool:
        """Whether any of it runs from right to left."""
        return any(p.levels is not None for p in self.paragraphs)

    def ink(self, start: int, end: int) -> tuple[float, float]:
        """How far the ink of copy[start:end] reaches above its baseline and below it, in points; 0, 0 without any."""
        up, down = -1e9, -1e9
        for paragraph, base in zip(self.paragraphs, self.offset.tolist(), strict=False):
            if base >= end or base + len(paragraph.text) <= start:
                continue
            for s in paragraph.stretches:
                if s.role or s.start + base >= end or s.end + base <= start:
                    continue
                for glyph, cluster, lift in zip(
                    s.glyphs.ids.tolist(), s.glyphs.clusters.tolist(), s.glyphs.y_offsets.tolist(), strict=True
                ):
                    box = s.face.hb_font.get_glyph_extents(glyph) if start <= cluster + base < end else None
                    if box is not None and box.height:
                        up = max(up, (box.y_bearing + lift) * s.scale)
                        down = max(down, -(box.y_bearing + box.height + lift) * s.scale)
        return (up, down) if up > -1e9 else (0.0, 0.0)

    @cached_property
    def widest_indent(self) -> float:
        """The most room that a slot loses to indents, in points."""
        return (
            float((self.rules[:, k.INDENT] + np.maximum(self.rules[:, k.FIRST_INDENT], 0)).max())
            if len(self.rules)
            else 0.0
        )

    @cached_property
    def widest_piece(self) -> float:
        """The width of the widest piece, in points."""
        return float((self.pieces[:, k.X1] - self.pieces[:, k.X0]).max()) if len(self.pieces) else 0.0


@dataclass(frozen=True, eq=False)
class Segments:
    """Words by look: what a drawing program draws at one x. Indices count code points of the copy."""

    start: NDArray[np.int64]
    end: NDArray[np.int64]
    x: Floats
    width: Floats
    spaces: Floats
    letters: Floats
    fills: Floats
    look: NDArray[np.int64]
    rtl: NDArray[np.int64]
    looks: tuple[tuple[Face, Look], ...]


ALIGN = {"start": k.START, "center": k.CENTER, "end": k.END, "justify": k.JUSTIFY}
BREAKING = {"first-fit": k.FIRST_FIT, "optimal": k.OPTIMAL, "balanced": k.BALANCED}
LONE_WORD = {None: 0.0, True: -1.0, False: 1.0}
"""A last word alone is dear, may stand, or may not."""


def join_paragraphs(
    paragraphs: Sequence[ShapedParagraph], like: ShapedCopy | None = None, window: tuple[int, int] | None = None
) -> ShapedCopy:
    """The arrays of a copy from those of its paragraphs; what it begins with as another copy does is taken over from that.

    With a `window` the figures of those paragraphs alone are there, and of the first and the last, so that what is seen of
    a long copy is there at once: all others are 0.
    """
    if not paragraphs:
        none, empty = np.zeros(0, np.int64), np.zeros(0)
        return ShapedCopy(
            (), np.zeros(1, np.int64), empty, empty, empty, empty, none, none, none, np.zeros((0, k.PIECE_COLUMNS)),
            np.zeros((0, k.RULE_COLUMNS)), _segments((), none, empty, empty, empty, empty), "", 0,
        )  # fmt: skip
    offset = _running(np.array([len(p.text) + 1 for p in paragraphs], dtype=np.int64))
    behind = _running(np.array([len(p.piece_start) for p in paragraphs], dtype=np.int64))
    # How far each paragraph's own running figures are moved on by those of the paragraphs before.
    bases = np.zeros((len(paragraphs) + 1, len(k.RUNNING0)))
    np.cumsum([p.running[:, -1] for p in paragraphs], axis=0, out=bases[1:])
    further = np.zeros((len(paragraphs), k.PIECE_COLUMNS))
    further[:, k.RUNNING0] = further[:, k.RUNNING1] = bases[:-1]
    further[:, k.PARAGRAPH] = np.arange(len(paragraphs))
    # Written where they stay: copies on the way would cost more than all the adding.
    # Zeros that nobody writes to cost no memory, and no time.
    running = np.zeros((len(k.RUNNING0), offset[-1]))
    places, pieces = np.zeros((3, behind[-1]), np.int64), np.zeros((behind[-1], k.PIECE_COLUMNS))
    same = 0
    if window is not None:
        return _joined_in(paragraphs, window, offset, behind, bases, further, running, places, pieces)
    if like is not None and like.window is None and (same := same_beginning(like.paragraphs, paragraphs)):
        letters_in, pieces_in = int(offset[same]), int(behind[same])
        kept = (like.x, like.spaces, like.letters, None, like.fills)
        for row, values in zip(running, kept, strict=True):
            if values is not None:
                row[:letters_in] = values[:letters_in]
        for row, starts in zip(places, (like.piece_start, like.piece_content_end, like.piece_end), strict=True):
            row[:pieces_in] = starts[:pieces_in]
        pieces[:pieces_in] = like.pieces[:pieces_in]
    for p, at, first, base, more in zip(
        paragraphs[same:], offset[same:].tolist(), behind[same:].tolist(), bases[same:, :, None], further[same:],
        strict=False,
    ):  # fmt: skip
        np.add(p.running, base, out=running[:, at : at + len(p.text) + 1])
        np.add(p.places, at, out=places[:, first : first + len(p.piece_start)])
        np.add(p.rows, more, out=pieces[first : first + len(p.piece_start)])
    x, spaces, letters, _, fills = running
    starts, contents, ends = places
    return ShapedCopy(
        tuple(paragraphs), offset, x, spaces, letters, fills, starts, contents, ends, pieces,
        np.stack([p.rule_row for p in paragraphs]), _segments(paragraphs, offset, x, spaces, letters, fills),
        "\n".join(p.text for p in paragraphs), sum(p.words for p in paragraphs),
    )  # fmt: skip


def _joined_in(
    paragraphs: Sequence[ShapedParagraph], window: tuple[int, int], offset: NDArray[np.int64], behind: NDArray[np.int64],
    bases: Floats, further: Floats, running: Floats, places: NDArray[np.int64], pieces: Floats,
) -> ShapedCopy:  # fmt: skip
    """The copy with the figures of a window."""
    first, last = window
    for number in dict.fromkeys((0, *range(first, last), len(paragraphs) - 1)):
        p, at, begin = paragraphs[number], int(offset[number]), int(behind[number])
        np.add(p.running, bases[number][:, None], out=running[:, at : at + len(p.text) + 1])
        np.add(p.rows, further[number], out=pieces[begin : begin + len(p.piece_start)])
    every = np.concatenate([p.places for p in paragraphs], axis=1)
    np.add(every, np.repeat(offset[:-1], np.diff(behind)), out=places)
    x, spaces, letters, _, fills = running
    starts, contents, ends = places
    return ShapedCopy(
        tuple(paragraphs), offset, x, spaces, letters, fills, starts, contents, ends, pieces,
        np.stack([p.rule_row for p in paragraphs]), _segments(paragraphs, offset, x, spaces, letters, fills, window),
        "\n".join(p.text for p in paragraphs), sum(p.words for p in paragraphs), window,
    )  # fmt: skip


def _running(parts: NDArray[Any]) -> NDArray[Any]:
    """Where each part begins, and the end of all."""
    return np.concatenate([[0], np.cumsum(parts)]).astype(parts.dtype)


def _kept(rules: Rules) -> tuple[float, float, float]:
    """Lines kept together at a column's start and at its end, and whether the paragraph stays with the next."""
    keep = rules.keep
    if keep is None:
        return 1.0, 1.0, 0.0
    if keep.whole:
        return 1e6, 1e6, float(keep.next)
    return float(keep.start), float(keep.end), float(keep.next)


def _heights(p: ShapedParagraph) -> Floats:
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


def _segments(
    paragraphs: Sequence[ShapedParagraph], offset: NDArray[np.int64], x: Floats, spaces: Floats, letters: Floats,
    fills: Floats, window: tuple[int, int] | None = None,
) -> Segments:  # fmt: skip
    """The words of a copy by look; with a `window` those of other paragraphs, but the first and the last, are of no width."""
    numbers: dict[tuple[Face, Look], int] = {}
    rows = []
    pairs_before: list[tuple[Face, Look]] = []
    mine: list[int] = []
    for p in paragraphs:
        own, pairs = p.segments
        if pairs != pairs_before:  # most follow one that looks the same: to number it anew would cost more
            mine, pairs_before = [numbers.setdefault(pair, len(numbers)) for pair in pairs], pairs
        if mine != list(range(len(mine))):
            own = own.copy()
            own[:, k.WORD_LOOK] = np.array(mine, dtype=np.int64)[own[:, k.WORD_LOOK]]
        rows.append(own)
    joined = np.concatenate(rows) if rows else np.zeros((0, k.WORD_COLUMNS), dtype=np.int64)
    joined[:, [k.WORD_START, k.WORD_END]] += np.repeat(offset[: len(rows)], [len(own) for own in rows])[:, None]
    looks = tuple(numbers)
    a, b, look_of, rtl = (np.ascontiguousarray(column) for column in joined.T)
    if not len(a):
        empty = np.zeros(0)
        return Segments(a, b, empty, empty, empty, empty, empty, a, a, looks)
    ranges = [slice(None)]
    if window is not None:
        behind = _running(np.array([len(own) for own in rows], dtype=np.int64))
        first, last = behind[list(window)].tolist()
        ranges = [slice(0, behind[1]), slice(first, last), slice(behind[-2], None)]

    def of(values: Floats, at: NDArray[np.int64]) -> Floats:
        out = np.zeros(len(at))
        for one in ranges:
            out[one] = values[at[one]]
        return out

    starts = of(x, a)
    return Segments(
        a, b, starts, of(x, b) - starts, of(spaces, a), of(letters, a), of(fills, a), look_of, rtl, looks,
    )  # fmt: skip


def broken_to_fit(p: ShapedParagraph, widest: float) -> ShapedParagraph:
    """The paragraph with every piece wider than `widest` points broken between graphemes; itself when none is."""
    if p.widest_piece <= widest:
        return p
    widths = p.piece_widths
    boundaries = np.array(graphemes(p.text), dtype=np.int64)
    rows: list[tuple[int, int, int, int, int, float, float, float]] = []
    for n in range(len(widths)):
        start, content, end = int(p.piece_start[n]), int(p.piece_content_end[n]), int(p.piece_end[n])
        first_change, first_hang = float(p.start_change[n]), float(p.start_hang[n])
        if widths[n] > widest:
            inner = boundaries[(boundaries > start) & (boundaries < content)]
            begin = start
            for this, after in zip(inner, [*inner[1:], content], strict=False):
                if p.x[after] - p.x[begin] > widest - 1e-6:
                    rows.append(
                        (
                            begin,
                            int(this),
                            int(this),
                            0,
                            k.NO_HYPHEN,
                            first_change if begin == start else 0.0,
                            0.0,
                            first_hang if begin == start else 0.0,
                        )
                    )
                    begin = int(this)
            if begin != start:
                start, first_change, first_hang = begin, 0.0, 0.0
        kind = int(p.piece_hyphen[n])
        rows.append(
            (start, content, end, int(p.piece_forced[n]), kind, first_change, float(p.end_change[n]), first_hang)
        )
    columns = [np.array(c) for c in zip(*rows, strict=True)]
    return replace(
        p, piece_start=columns[0], piece_content_end=columns[1], piece_end=columns[2], piece_forced=columns[3],
        piece_hyphen=columns[4], start_change=columns[5].astype(np.float64), end_change=columns[6].astype(np.float64),
        start_hang=columns[7].astype(np.float64),
    )  # fmt: skip


def unwrapped(p: ShapedParagraph) -> ShapedParagraph:
    """The paragraph with no break but the forced ones."""
    last = np.flatnonzero(p.piece_forced > 0)
    first = np.concatenate([[0], last[:-1] + 1]).astype(np.int64)
    return replace(
        p, piece_start=p.piece_start[first], piece_content_end=p.piece_content_end[last], piece_end=p.piece_end[last],
        piece_forced=p.piece_forced[last], piece_hyphen=p.piece_hyphen[last], start_change=p.start_change[first],
        end_change=p.end_change[last], start_hang=p.start_hang[first],
    )  # fmt: skip


def scaled(p: ShapedParagraph, factor: float) -> ShapedParagraph:
    """The paragraph with all its sizes times a factor; a baseline grid stays as it is."""

    def look(one: Look) -> Look:
        return replace(one, size=one.size * factor, tracking=one.tracking * factor)

    r = p.rules
    lengths_of = ("size", "leading", "space_before", "space_after", "indent", "first_indent", "list_indent")
    rules = replace(
        r, look=look(r.look), greatest_tracking=r.greatest_tracking * factor,
        **{name: getattr(r, name) * factor for name in lengths_of},
    )  # fmt: skip
    stretches = tuple(
        replace(
            s, look=look(s.look), advance=s.advance * factor, heights=(s.heights[0] * factor, s.heights[1] * factor)
        )
        for s in p.stretches
    )
    arrays = (
        "x", "start_change", "end_change", "start_hang", "space_width", "drop_width", "drop_bearing", "own_ascender",
        "own_descender",
    )  # fmt: skip
    return replace(p, rules=rules, stretches=stretches, **{name: getattr(p, name) * factor for name in arrays})


_LENGTHS_OF_PIECES = [0, 1, 2, 3, *range(8, 16), 19]
_LENGTHS_OF_RULES = [0, 3, 4, 5, 6, 7, 8, 13, 21]


def roughly_scaled(copy: ShapedCopy, factor: float) -> ShapedCopy:
    """The copy's figures times a factor, as far as lines are set by them: for a search, not for drawing."""
    pieces, rules = copy.pieces.copy(), copy.rules.copy()
    pieces[:, _LENGTHS_OF_PIECES] *= factor
    rules[:, _LENGTHS_OF_RULES] *= factor
    return replace(copy, pieces=pieces, rules=rules)


NOTHING_IN_LINE: InLine = {}
MOST_SHAPED = 20e6
"""The bytes of paragraphs, and of copies with theirs, that are remembered when shaped, about."""
PARAGRAPH_BYTES, COPY_BYTES = 200, 290
"""What a letter takes of a shaped paragraph, and of a copy with its paragraphs, about (measured: 50 words a paragraph)."""
MOST_SCALED = 3
LONG = 60
"""Paragraphs from which on a copy takes over what it has in common with how it was before."""


def size_of(copy: ShapedCopy) -> float:
    """What a copy takes with its paragraphs, in bytes, about."""
    return 2e3 + COPY_BYTES * len(copy.text)


class Shaper:
    """Shapes copies, remembering paragraphs and copies by identity of their (frozen) parts. Keep one for each
    document."""

    def __init__(self, fonts: FontLibrary) -> None:
        self.fonts = fonts
        self._paragraphs: Memory[tuple[object, ...], tuple[Paragraph, ShapedParagraph]] = Memory(
            MOST_SHAPED, lambda kept: 2e3 + PARAGRAPH_BYTES * len(kept[1].text)
        )
        self._copies: Memory[tuple[int, ...], ShapedCopy] = Memory(MOST_SHAPED, size_of)
        self._joined_last: ShapedCopy | None = None
        """The long copy that was joined last: the next state of it begins as it does."""

    def round(self, passing: bool) -> None:
        """A document, or a passing state of it, is gone through from here on (see `Memory`)."""
        self._paragraphs.round(passing)
        self._copies.round(passing)

    @property
    def size(self) -> float:
        """What is remembered, in bytes, about."""
        return self._paragraphs.size + self._copies.size

    def paragraph(
        self, paragraph: Paragraph, style: Style | None, language: str, in_line: InLine = NOTHING_IN_LINE
    ) -> ShapedParagraph:
        # A style is compared by value: an edit of the document's head reads its styles again.
        inside = tuple(in_line.get(r.object, ()) for r in paragraph.runs if r.object) if in_line else ()
        key = (id(paragraph), style.model_dump_json(exclude_defaults=True) if style else None, language, inside)
        if found := self._paragraphs.get(key):
            return found[1]
        return self._paragraphs.put(key, (paragraph, shape_paragraph(paragraph, style, language, self.fonts, in_line)))[
            1
        ]

    def copy(
        self, paragraphs: Sequence[Paragraph], styles: Mapping[str, Style], language: str, base: Style | None = None,
        in_line: InLine = NOTHING_IN_LINE,
    ) -> ShapedCopy:  # fmt: skip
        """A copy of one version; paragraphs without a style have the `base`. Raises FontError."""
        return self.joined(
            [self.paragraph(p, styles.get(p.style) if p.style else base, language, in_line) for p in paragraphs]
        )

    def windowed(
        self, paragraphs: Sequence[Paragraph], styles: Mapping[str, Style], language: str, base: Style | None,
        in_line: InLine, window: tuple[int, int],
    ) -> ShapedCopy:  # fmt: skip
        """As `copy`, with the figures of some paragraphs alone; it is not remembered."""
        shaped = [self.paragraph(p, styles.get(p.style) if p.style else base, language, in_line) for p in paragraphs]
        return join_paragraphs(shaped, window=window)

    def joined(self, shaped: Sequence[ShapedParagraph]) -> ShapedCopy:
        key = tuple(id(p) for p in shaped)
        found = self._copies.get(key)
        if found is None:
            like = self._joined_last if len(shaped) > LONG else None
            found = self._copies.put(key, join_paragraphs(shaped, like))
            if len(shaped) > LONG:
                self._joined_last = found
        return found

    def scaled(self, copy: ShapedCopy, factor: float) -> ShapedCopy:
        """The copy with all sizes times a factor."""
        known = copy.__dict__.setdefault("_scaled", OrderedDict())
        if factor not in known:
            remember(known, factor, join_paragraphs([scaled(p, factor) for p in copy.paragraphs]), MOST_SCALED)
        return known[factor]  # type: ignore[no-any-return]

    def unwrapped(self, copy: ShapedCopy) -> ShapedCopy:
        """The copy with no break but the forced ones."""
        found = copy.__dict__.get("_unwrapped")
        if found is None:
            found = join_paragraphs([unwrapped(p) for p in copy.paragraphs])
            copy.__dict__["_unwrapped"] = found
        return found  # type: ignore[no-any-return]

    def broken_to_fit(self, copy: ShapedCopy, widest: float) -> ShapedCopy:
        """The copy with pieces wider than `widest` broken between graphemes; itself when there are none."""
        broken = [broken_to_fit(p, widest) for p in copy.paragraphs]
        if all(a is b for a, b in zip(broken, copy.paragraphs, strict=True)):
            return copy
        return join_paragraphs(broken)
