"""A paragraph shaped: from its runs to stretches, pieces and running figures.

Widths come from running sums over the paragraph, shaped whole; where a break would change the shaping (HarfBuzz flags the
glyph as unsafe to break), the difference is worked out once, so that a line's width is what shaping that line alone gives."""

from __future__ import annotations

from collections.abc import Mapping

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
from nestline.copy.styles import paragraph_rules, run_look
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
    stretches: list[Stretch] = []
    levels, base = levels_of(text, rules.direction, rules.language)
    shown = text.replace("\t", " ").replace(OBJECT, " ")
    drop_end, drop_stop = drop_letters(text, rules)
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
        for begin, stop, script in by_script(text, at, at + len(run.text)):
            for left, right, face in by_face(
                text, begin, stop, levels, fonts.face(look.font, look.weight, look.slope), fonts
            ):
                inner = sorted(c for c in cuts if left < c < right)
                for start, end in zip([left, *inner], [*inner, right], strict=True):
                    role, own, own_face = "", look, face
                    if text[start] == "\t":
                        role = "tab"
                    elif start < drop_end:
                        role, own = "drop", drop_look(look, rules, fonts)
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
        set_tabs(text, rules, stretches, x, fills)
    drop_width, drop_bearing = drop_extent([s for s in stretches if s.role == "drop"], rules)

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

    whole = LineEnds(shown, tuple(stretches), rules.language, x, safe)
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
