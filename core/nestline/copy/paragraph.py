"""A paragraph shaped: from its runs to stretches, pieces and running figures.

Widths come from running sums over the paragraph, shaped whole; where a break would change the shaping (HarfBuzz flags the
glyph as unsafe to break), the difference is worked out once, so that a line's width is what shaping that line alone gives."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.copy.bidi import levels_of
from nestline.copy.breaks import HANGING_SPACES, MANDATORY, line_breaks
from nestline.copy.drop_caps import drop_extent, drop_letters, drop_look
from nestline.copy.hyphenation import hyphen_places
from nestline.copy.itemizing import by_face, by_script
from nestline.copy.line_ends import LineEnds
from nestline.copy.shaped_paragraph import ShapedParagraph
from nestline.copy.stretches import Stretch
from nestline.copy.styles import Look, Rules, paragraph_rules, run_look
from nestline.copy.tabs import set_tabs
from nestline.document.model import OBJECT, Paragraph, Style
from nestline.fonts.library import FontLibrary
from nestline.fonts.shaping import shape

Floats = NDArray[np.float64]


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
    levels, base = levels_of(text, rules.direction, rules.language)
    drop = drop_letters(text, rules)
    stretches = list(_stretches(paragraph, text, rules, levels, drop, fonts, in_line))
    x, safe, missing = _widths(text, stretches, drop[1])
    spaces = _running(text, lambda i, c: c in " \u00a0" and i >= drop[1])
    tabs, fills = _running(text, lambda _, c: c == "\t"), np.zeros(len(text) + 1)
    if "\t" in text:
        set_tabs(text, rules, stretches, x, fills)
    drop_width, drop_bearing = drop_extent([s for s in stretches if s.role == "drop"], rules)
    pieces = _pieces(text, stretches, rules)
    whole = LineEnds(_shown(text), tuple(stretches), rules.language, x, safe)
    start_change, end_change, hang = _changes_at_ends(whole, pieces, rules)
    first = rules.look.face(fonts)
    space_width = shape(first, " ", 0, 1, rules.language).width * rules.size / first.units_per_em
    starts, contents, ends, forced, hyphens = (np.array(column, np.int64) for column in zip(*pieces, strict=True))
    return ShapedParagraph(
        text, rules, tuple(stretches), x, spaces, starts, contents, ends, forced, hyphens, _letters(text, stretches, drop[1]),
        start_change, end_change, missing, space_width, tuple(levels) if any(levels) else None, base, hang, tabs, fills,
        drop[0], drop_width, drop_bearing, first.metrics.ascender * rules.size, first.metrics.descender * rules.size,
    )  # fmt: skip


def _shown(text: str) -> str:
    """A text as it is shaped: tabs and objects are room."""
    return text.replace("\t", " ").replace(OBJECT, " ")


def _running(text: str, counts: Callable[[int, str], bool]) -> Floats:
    """How many letters count before each, and in all."""
    return np.concatenate([[0.0], np.cumsum([counts(i, c) for i, c in enumerate(text)], dtype=float)])


# Stretches: letters of one look, face, script and direction


def _stretches(
    paragraph: Paragraph, text: str, rules: Rules, levels: list[int], drop: tuple[int, int], fonts: FontLibrary,
    in_line: InLine,
) -> Iterator[Stretch]:  # fmt: skip
    """A paragraph's stretches; one without letters where it is empty."""
    shown, at = _shown(text), 0
    for run in paragraph.runs:
        look = run_look(run, rules.look)
        if run.object is not None:
            yield _object_stretch(run.object, at, look, shown, levels[at], rules.language, fonts, in_line)
            at += 1
        else:
            yield from _letter_stretches(text, shown, at, at + len(run.text), look, rules, levels, drop, fonts)
            at += len(run.text)
    if not at:
        bare = rules.look.face(fonts)
        yield Stretch(0, 0, rules.look, bare, None, shape(bare, "", 0, 0, rules.language))


def _object_stretch(
    identity: str, at: int, look: Look, shown: str, level: int, language: str, fonts: FontLibrary, in_line: InLine
) -> Stretch:
    """The room of an object in line, or the place of one that stands elsewhere."""
    face = look.face(fonts)
    found = in_line.get(identity, (0.0, 0.0, 0.0, 0.0))
    width, height, shift, ems = found or (0.0, 0.0, 0.0, 0.0)
    shift += ems * look.size
    role = "object" if found is not None else "anchor"
    space = shape(face, shown, at, at + 1, language)
    return Stretch(
        at, at + 1, look, face, None, space, level, False, role, width, "", identity, (height + shift, -shift)
    )  # fmt: skip


def _letter_stretches(
    text: str, shown: str, start: int, stop: int, look: Look, rules: Rules, levels: list[int], drop: tuple[int, int],
    fonts: FontLibrary,
) -> Iterator[Stretch]:  # fmt: skip
    """The stretches of a run's letters: tabs, and those of a drop cap, apart."""
    asked = look.face(fonts)
    cuts = {*drop, *(i + more for i in range(start, stop) if text[i] == "\t" for more in (0, 1))}
    for begin, end, script in by_script(text, start, stop):
        for left, right, face in by_face(text, begin, end, levels, asked, fonts):
            inner = sorted(cut for cut in cuts if left < cut < right)
            for a, b in zip([left, *inner], [*inner, right], strict=True):
                role, own, own_face, own_asked = "", look, face, asked
                if text[a] == "\t":
                    role = "tab"
                elif a < drop[0]:
                    role, own = "drop", drop_look(look, rules, fonts)
                    own_asked = own.face(fonts)
                    own_face = own_asked if own_asked.has(text[a]) else face
                backwards = levels[a] % 2 == 1
                glyphs = shape(own_face, shown, a, b, rules.language, script, not own.joined, own.features, backwards)
                yield Stretch(a, b, own, own_face, script, glyphs, levels[a], own_face is not own_asked, role)


def _widths(
    text: str, stretches: Sequence[Stretch], drop_stop: int
) -> tuple[Floats, NDArray[np.bool_], tuple[int, ...]]:
    """The x before each letter and at the end, where glyphs may be parted, and the letters that no font has."""
    x, safe = np.zeros(len(text) + 1), np.ones(len(text) + 1, dtype=bool)
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
    return x, safe, tuple(missing)


def _letters(text: str, stretches: Sequence[Stretch], drop_stop: int) -> Floats:
    """How many letters, marks on them not counted, stand before each code point, and in all: what tracking is shared by."""
    letters = np.zeros(len(text) + 1)
    for stretch in stretches:
        if not stretch.role and stretch.end > drop_stop:
            letters[np.unique(stretch.glyphs.clusters) + 1] = 1
    return np.cumsum(letters)


# Pieces: from one place where a line may break to the next


class Piece(NamedTuple):
    start: int
    content: int
    """Where what is seen of it ends: spaces that hang follow."""
    end: int
    forced: int
    hyphen: int


def _pieces(text: str, stretches: Sequence[Stretch], rules: Rules) -> list[Piece]:
    """The pieces of a paragraph; one where it is empty."""
    places = {s.start for s in stretches if s.role == "anchor"}
    broken = "".join(ATTACHED if i in places else c for i, c in enumerate(text))
    words = line_breaks(broken, rules.language) or [0]
    syllables = set(hyphen_places(text, rules.language, rules.hyphenation)) - set(words)
    ends = sorted({*words, *syllables})
    out = []
    for start, end in zip([0, *ends[:-1]], ends, strict=True):
        content = end
        while content > start and text[content - 1] in HANGING_SPACES:
            content -= 1
        written = content == end and end < len(text) and text[end - 1] in "-\u2010"
        hyphen = k.SET_HYPHEN if end in syllables else k.OWN_HYPHEN if written else k.NO_HYPHEN
        forced = 1 if end == len(text) or text[end - 1] in MANDATORY else 0
        out.append(Piece(start, content, end, forced, hyphen))
    return out


def _changes_at_ends(whole: LineEnds, pieces: Sequence[Piece], rules: Rules) -> tuple[Floats, Floats, Floats]:
    """For each piece: how much wider it is where it begins a line and where it ends one, and how far it hangs out at the
    start."""
    start_change = np.array([whole.change_at_start(p.start, p.content) for p in pieces])
    end_change = np.array(
        [
            whole.change_with_hyphen(p.start, p.end)
            if p.hyphen == k.SET_HYPHEN
            else whole.change_at_end(p.start, p.content, p.end)
            for p in pieces
        ]
    )
    hang = np.zeros(len(pieces))
    if rules.hang_punctuation:
        hang = np.array([whole.hang_at_start(p.start, p.content) for p in pieces])
        start_change = start_change - hang
        end_change = end_change - np.array(
            [whole.hang_at_end(p.start, p.content, p.hyphen == k.SET_HYPHEN) for p in pieces]
        )
    return start_change, end_change, hang


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
