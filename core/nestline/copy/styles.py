"""Which rules hold for a paragraph and its runs, once style and defaults have been looked up."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass

from nestline.copy.hyphenation import Hyphenation
from nestline.document.lengths import ZERO, Length
from nestline.document.model import (
    DropCap,
    HyphenLimits,
    Keep,
    LetterStroke,
    ListMark,
    Paragraph,
    ParagraphRules,
    Run,
    StretchLimits,
    Style,
    Tab,
)
from nestline.fonts.library import DEFAULT_FAMILY, Face, FontLibrary
from nestline.fonts.varying import NORMAL_WIDTH
from nestline.remembering import remember

DEFAULT_SIZE = 11
DEFAULT_LEADING = Length.read("1.25em")


@dataclass(frozen=True)
class Look:
    """How a run's letters look. `size` and `tracking` in points; letters set apart are not `joined` by ligatures.
    `width` is that of a variable font, in per cent of its normal one."""

    font: str
    weight: int
    slope: str
    size: float
    color: str
    tracking: float = 0.0
    joined: bool = True
    underline: bool = False
    stroke: LetterStroke | None = None
    features: tuple[tuple[str, int], ...] = ()
    width: float = NORMAL_WIDTH

    def face(self, fonts: FontLibrary) -> Face:
        """What it is drawn with."""
        return fonts.face(self.font, self.weight, self.slope, self.width)


@dataclass(frozen=True)
class Rules:
    """A paragraph's rules in points."""

    size: float
    leading: float
    align: str
    last: str
    space_before: float
    space_after: float
    indent: float
    first_indent: float
    language: str
    look: Look
    breaking: str = "optimal"
    hyphenation: Hyphenation | None = None
    last_word_alone: bool | None = None
    least_space: float | None = None
    greatest_space: float = 3.0
    greatest_tracking: float = 0.0
    fitted_space: float = 0.0
    fitted_width: float = 0.0
    together: tuple[str, ...] = ()
    style: str | None = None
    departs: tuple[str, ...] = ()
    direction: str = "auto"
    hang_punctuation: bool = False
    grid: float = 0.0
    list_mark: ListMark | None = None
    list_indent: float = 0.0
    keep: Keep | None = None
    drop_cap: DropCap | None = None
    tabs: tuple[Tab, ...] = ()
    new_column: bool = False

    @property
    def stretch(self) -> StretchLimits:
        """How far its justified lines may open and close, as the document says it."""
        return StretchLimits(
            least=self.least_space,
            greatest=self.greatest_space,
            letter_space=round(self.fitted_space / self.size, 4),
            letter_width=self.fitted_width,
            letters=round(self.greatest_tracking / self.size, 4),
        )


DISPLAY = 20.0
"""From so large a size on, in points, copy is display: its edges are made straight by eye where nothing else is
said."""


def paragraph_rules(paragraph: Paragraph, style: Style | None, language: str) -> Rules:
    """The rules of a paragraph: its own fields, else its style's, else the defaults."""

    def pick(name: str, default: object) -> object:
        own = getattr(paragraph, name)
        if own is None and style is not None:
            own = getattr(style, name)
        return default if own is None else own

    def length(name: str, size: float, default: Length = ZERO) -> float:
        found = pick(name, default)
        assert isinstance(found, Length)
        return found.points(size)

    size = length("size", DEFAULT_SIZE, Length(DEFAULT_SIZE))

    stretch = pick("stretch", StretchLimits())
    assert isinstance(stretch, StretchLimits)
    look = Look(
        str(pick("font", DEFAULT_FAMILY)),
        int(pick("weight", 400)),  # type: ignore[call-overload]
        str(pick("slope", "normal")),
        size,
        str(pick("color", "ink")),
        length("tracking", size),
        length("tracking", size) == 0 and stretch.letters == 0,
        bool(pick("underline", False)),
        stroke if isinstance(stroke := pick("letter_stroke", None), LetterStroke) else None,
        _tags(pick("features", None)),
        float(pick("font_width", NORMAL_WIDTH)),  # type: ignore[arg-type]
    )
    limits = pick("hyphenate", False)
    hyphenation = Hyphenation(**limits.model_dump()) if isinstance(limits, HyphenLimits) else None
    if limits is True:
        hyphenation = Hyphenation()
    mark = pick("list", None)
    assert mark is None or isinstance(mark, ListMark)
    list_indent = mark.indent.points(size) if mark else 0.0
    lone = pick("last_word_alone", None)
    keep, drop = pick("keep", None), pick("drop_cap", None)
    tabs = pick("tabs", ())
    assert isinstance(tabs, tuple)
    found = Rules(
        size=size,
        leading=length("leading", size, DEFAULT_LEADING),
        align=str(pick("align", "start")),
        last=str(pick("last", "start")),
        space_before=length("space_before", size),
        space_after=length("space_after", size),
        indent=length("indent", size) + list_indent,
        first_indent=0.0 if isinstance(drop, DropCap) else length("first_indent", size),
        language=str(pick("language", language)),
        look=look,
        breaking=str(pick("breaking", "optimal")),
        hyphenation=hyphenation,
        last_word_alone=lone if isinstance(lone, bool) else None,
        least_space=stretch.least,
        greatest_space=stretch.greatest,
        greatest_tracking=stretch.letters * size,
        fitted_space=stretch.letter_space * size,
        fitted_width=stretch.letter_width,
        together=together if isinstance(together := pick("together", ()), tuple) else (),
        style=paragraph.style,
        departs=tuple(f for f in ParagraphRules.model_fields if getattr(paragraph, f) is not None),
        direction=str(pick("direction", "auto")),
        hang_punctuation=bool(pick("hang_punctuation", size >= DISPLAY)),
        grid=length("grid", size),
        list_mark=mark,
        list_indent=list_indent,
        keep=keep if isinstance(keep, Keep) else None,
        drop_cap=drop if isinstance(drop, DropCap) else None,
        tabs=tabs,
        new_column=bool(pick("new_column", False)),
    )
    if (known := _rules.get(found)) is not None:
        return known
    remember(_rules, found, found, MOST_RULES)
    return found


_rules: OrderedDict[Rules, Rules] = OrderedDict()
"""Paragraphs of the same rules share them: most of a copy's do, and are known by that to look the same."""
MOST_RULES = 500


def _tags(features: object) -> tuple[tuple[str, int], ...]:
    return tuple(sorted(features.items())) if isinstance(features, dict) else ()


def run_look(run: Run, base: Look) -> Look:
    """How a run looks: its own fields over its paragraph's."""
    size = base.size if run.size is None else run.size.points(base.size)
    tracking = base.tracking if run.tracking is None else run.tracking.points(size)
    return Look(
        run.font or base.font,
        run.weight or base.weight,
        run.slope or base.slope,
        size,
        run.color or base.color,
        tracking,
        base.joined and tracking == 0,
        base.underline if run.underline is None else run.underline,
        base.stroke if run.letter_stroke is None else run.letter_stroke,
        base.features if run.features is None else _tags({**dict(base.features), **run.features}),
        run.font_width or base.width,
    )
