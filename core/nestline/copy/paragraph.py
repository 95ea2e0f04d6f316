"""A paragraph shaped: from its runs to stretches, pieces and running figures.

Widths come from running sums over the paragraph, shaped whole; where a break would change the shaping (HarfBuzz flags
the glyph as unsafe to break), the difference is worked out once, so that a line's width is what shaping that line alone
gives."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.copy.bidi import levels_of
from nestline.copy.breaks import MANDATORY, forces, hangs, letters_of, line_breaks
from nestline.copy.drop_caps import drop_extent, drop_letters, drop_look
from nestline.copy.hyphenation import hyphen_places
from nestline.copy.itemizing import by_face, by_script
from nestline.copy.line_ends import LineEnds
from nestline.copy.shaped_paragraph import ShapedParagraph, fine
from nestline.copy.stretches import Stretch
from nestline.copy.styles import Look, Rules, paragraph_rules, run_look
from nestline.copy.tabs import set_tabs
from nestline.document.model import OBJECT, Paragraph, Style
from nestline.fonts.library import FontLibrary
from nestline.fonts.shaping import shape

Floats = NDArray[np.float64]
Whole = NDArray[np.int64]
Letters = NDArray[np.uint32]


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
    x = fine(x)
    letters = letters_of(text)
    is_space = (letters == ord(" ")) | (letters == ord("\u00a0"))
    is_space[: drop[1]] = False
    spaces = _running(is_space)
    tabs, fills = _running(letters == ord("\t")), np.zeros(len(text) + 1)
    if "\t" in text:
        set_tabs(text, rules, stretches, x, fills)
        x = fine(x)
    drop_width, drop_bearing = drop_extent([s for s in stretches if s.role == "drop"], rules)
    pieces = _pieces(text, letters, stretches, rules)
    whole = LineEnds(_shown(text), tuple(stretches), rules.language, x, safe)
    start_change, end_change, hang = _changes_at_ends(whole, pieces, rules)
    first = rules.look.face(fonts)
    space_width = shape(first, " ", 0, 1, rules.language).width * rules.size / first.units_per_em
    running = np.stack([x, spaces, _letters(text, stretches, drop[1]), tabs, fills])
    return ShapedParagraph(
        text,
        rules,
        tuple(stretches),
        running,
        *pieces,
        start_change,
        end_change,
        missing,
        space_width,
        tuple(levels) if any(levels) else None,
        base,
        hang,
        drop[0],
        drop_width,
        drop_bearing,
        first.metrics.ascender * rules.size,
        first.metrics.descender * rules.size,
    )


def _shown(text: str) -> str:
    """A text as it is shaped: tabs and objects are room."""
    return text.replace("\t", " ").replace(OBJECT, " ")


def _running(counts: NDArray[np.bool_]) -> Floats:
    """How many letters count before each, and in all."""
    return np.concatenate([[0.0], np.cumsum(counts, dtype=float)])


# Stretches: letters of one look, face, script and direction


def _stretches(
    paragraph: Paragraph,
    text: str,
    rules: Rules,
    levels: list[int],
    drop: tuple[int, int],
    fonts: FontLibrary,
    in_line: InLine,
) -> Iterator[Stretch]:
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
    )


def _letter_stretches(
    text: str,
    shown: str,
    start: int,
    stop: int,
    look: Look,
    rules: Rules,
    levels: list[int],
    drop: tuple[int, int],
    fonts: FontLibrary,
) -> Iterator[Stretch]:
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
    """How many letters, marks on them not counted, stand before each code point, and in all: what tracking is shared
    by."""
    letters = np.zeros(len(text) + 1)
    for stretch in stretches:
        if not stretch.role and stretch.end > drop_stop:
            letters[stretch.glyphs.clusters + 1] = 1
    return np.cumsum(letters)


# Pieces: from one place where a line may break to the next


class Pieces(NamedTuple):
    """The pieces of a paragraph, an array each."""

    starts: Whole
    contents: Whole
    """Where what is seen of each ends: spaces that hang follow."""
    ends: Whole
    forced: Whole
    hyphens: Whole


def _pieces(text: str, letters: Letters, stretches: Sequence[Stretch], rules: Rules) -> Pieces:
    """The pieces of a paragraph; one where it is empty."""
    places = {s.start for s in stretches if s.role == "anchor"}
    broken = "".join(ATTACHED if i in places else c for i, c in enumerate(text)) if places else text
    words = line_breaks(broken, rules.language) or [0]
    syllables = set(hyphen_places(text, rules.language, rules.hyphenation)) - set(words)
    ends = np.array(sorted({*words, *syllables}), np.int64)
    starts = np.append(0, ends[:-1])
    # Behind the last letter before each place that is seen.
    seen = np.maximum.accumulate(np.append(0, np.where(hangs(letters), 0, np.arange(1, len(text) + 1))))
    contents = np.maximum(starts, seen[ends])
    last = np.append(letters, 0)[ends - 1]
    written = (contents == ends) & (ends < len(text)) & ((last == ord("-")) | (last == ord("\u2010")))
    hyphens = np.where(written, k.OWN_HYPHEN, k.NO_HYPHEN)
    if syllables:
        hyphens[np.isin(ends, list(syllables))] = k.SET_HYPHEN
    forced = (ends == len(text)) | (forces(last) & (ends > 0))
    return Pieces(starts, contents, ends, forced.astype(np.int64), hyphens)


def _changes_at_ends(whole: LineEnds, pieces: Pieces, rules: Rules) -> tuple[Floats, Floats, Floats]:
    """For each piece: how much wider it is where it begins a line and where it ends one, and how far it hangs out at
    the start."""
    starts, contents, ends = pieces.starts.tolist(), pieces.contents.tolist(), pieces.ends.tolist()
    set_hyphen = pieces.hyphens == k.SET_HYPHEN
    start_change, end_change, hang = np.zeros((3, len(starts)))
    # Elsewhere letters may be parted, and stay what they are.
    for i in np.flatnonzero(~whole.safe[pieces.starts]).tolist():
        start_change[i] = whole.change_at_start(starts[i], contents[i])
    for i in np.flatnonzero(~whole.safe[pieces.ends] & ~set_hyphen).tolist():
        end_change[i] = whole.change_at_end(starts[i], contents[i], ends[i])
    for i in np.flatnonzero(set_hyphen).tolist():
        end_change[i] = whole.change_with_hyphen(starts[i], ends[i])
    if rules.hang_punctuation:
        hang = np.array([whole.hang_at_start(a, b) for a, b in zip(starts, contents, strict=True)])
        start_change = start_change - hang
        hyphened = zip(starts, contents, set_hyphen.tolist(), strict=True)
        end_change = end_change - np.array([whole.hang_at_end(a, b, hyphen) for a, b, hyphen in hyphened])
    return start_change, end_change, hang


def _running_widths(stretch: Stretch, x: Floats, safe: NDArray[np.bool_]) -> None:
    """Fill x and safe over one stretch; a cluster of several code points shares its advance evenly among them."""
    start, end, glyphs = stretch.start, stretch.end, stretch.glyphs
    if end == start:
        return
    within = glyphs.clusters - start
    advance = np.bincount(within, glyphs.advances * stretch.scale, end - start).astype(np.float64)
    begins = np.zeros(end - start, dtype=bool)
    begins[within] = True
    heads = np.flatnonzero(begins)
    advance[heads] += stretch.look.tracking
    lengths = np.diff(np.append(heads, end - start))
    advance = np.repeat(advance[heads] / lengths, lengths)
    x[start + 1 : end + 1] = x[start] + np.cumsum(advance)
    safe[start:end][~begins] = False
    safe[glyphs.clusters[glyphs.unsafe]] = False
