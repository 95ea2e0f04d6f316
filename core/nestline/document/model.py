"""The open document's parts as frozen models. docs/document-format.md is written from them.

Unknown fields are refused by their path, never ignored.
"""

from __future__ import annotations

import re
from functools import cached_property
from typing import Annotated, Any, Literal, Self, get_args

from pydantic import (
    AfterValidator,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    StringConstraints,
    ValidationError,
    ValidatorFunctionWrapHandler,
    WrapValidator,
    field_validator,
    model_validator,
)

from nestline.document.lengths import ZERO, Length, Sides, not_negative

Align = Literal["start", "center", "end", "justify"]
Hang = Literal["ascender", "cap", "ex", "line-box", "ink"]
FIGURES_OF_KIND: dict[str, tuple[str, ...]] = {
    "rectangle": ("radius",),
    "ellipse": (),
    "polygon": ("sides",),
    "star": ("points", "depth"),
    "heart": (),
    "leaf": (),
    "kite": (),
    "bubble": ("radius", "depth", "tail"),
    "arch": ("depth",),
    "drop": (),
    "flag": ("depth",),
    "ticket": ("depth",),
    "cloud": ("points",),
    "ring": ("depth",),
    "path": ("d", "box"),
}
"""The ready outlines and the figures that each may have."""


class Part(BaseModel):
    """Base of every part: frozen, and strict about names."""

    model_config = ConfigDict(extra="forbid", frozen=True, protected_namespaces=())

    @cached_property
    def written(self) -> str:
        """The part as JSON: what is worked out from it is remembered by that."""
        return self.model_dump_json()

    def __copy__(self) -> Self:
        made = super().__copy__()
        made.__dict__.pop("written", None)  # of the one that it is made of
        return made


def _no_em(value: Length) -> Length:
    if value.em:
        raise ValueError("cannot be in em; write it in pt, mm, in, p or px")
    return value


def _positive(value: Length) -> Length:
    if max(value.pt, value.em) <= 0 or value.least < 0:
        raise ValueError("must be more than zero")
    return value


def _color(value: str) -> str:
    if value.startswith("#") and not re.fullmatch(r"#(?:[0-9a-fA-F]{3}|[0-9a-fA-F]{6})", value):
        raise ValueError(f"“{value}” is not a colour; write a name of `colors`, #rgb or #rrggbb")
    return value


Place = Annotated[Length, AfterValidator(_no_em)]
Extent = Annotated[Length, AfterValidator(_no_em), AfterValidator(_positive)]
Room = Annotated[Length, AfterValidator(not_negative)]
Margin = Annotated[Length, AfterValidator(_no_em), AfterValidator(not_negative)]
Size = Annotated[Length, AfterValidator(_positive)]
Color = Annotated[str, StringConstraints(min_length=1, max_length=80), AfterValidator(_color)]
Id = Annotated[str, StringConstraints(min_length=1, max_length=80)]
Name = Annotated[str, StringConstraints(max_length=200)]
Share = Annotated[float, Field(ge=0, le=1)]
Figure = Annotated[float, Field(allow_inf_nan=False, ge=-1e6, le=1e6)]


def _hang(value: Any, _: ValidatorFunctionWrapHandler) -> Any:
    if value in get_args(Hang):
        return value
    try:
        return not_negative(Length.read(value))
    except ValueError:
        raise ValueError(f"“{value}” is no metric; write ascender, cap, ex, line-box, ink or a length") from None


def _give(value: Any) -> Any:
    if isinstance(value, list | tuple):
        edges = ("top", "right", "bottom", "left")
        if "in-proportion" in value and len(value) > 1:
            raise ValueError('“in-proportion” stands alone; write ["in-proportion"] or the edges that give')
        wrong = next((v for v in value if v != "in-proportion" and v not in edges), None)
        if wrong is not None:
            raise ValueError(f"“{wrong}” is no edge; write top, right, bottom, left, or in-proportion alone")
        return tuple(dict.fromkeys(value))
    return value


def _features(value: dict[str, int]) -> dict[str, int]:
    for tag in value:
        if not re.fullmatch(r"[A-Za-z0-9]{4}", tag):
            raise ValueError(f"“{tag}” is no OpenType feature; a tag has four letters or figures, for example smcp")
    return value


Features = Annotated[dict[str, Annotated[int, Field(ge=0, le=999)]], AfterValidator(_features)]


class Line(Part):
    """What a painted line has: colour, width, dashes, ends and corners."""

    color: Color = "ink"
    width: Margin = Length.read(1)
    dash: tuple[Room, ...] = ()
    cap: Literal["butt", "round", "square"] = "butt"
    join: Literal["miter", "round", "bevel"] = "miter"

    @property
    def dashes(self) -> list[float]:
        """Dashes and gaps by turns in points: an em of them is the line's own width."""
        return [d.points(self.width.pt) for d in self.dash]


class SecondStroke(Part):
    """A stroke behind the letters and their first stroke: `width` shows outside the letters."""

    color: Color = "paper"
    width: Margin = Length.read(2)
    join: Literal["miter", "round", "bevel"] = "round"


class LetterStroke(Line):
    """The stroke of the letters, another thing than that of the outline: centred on their edge and over their fill, or
    `outside`, behind it, so that `width` shows outside them. A `second` may lie behind that."""

    width: Margin = Length.read(0.5)
    join: Literal["miter", "round", "bevel"] = "round"
    position: Literal["centred", "outside"] = "centred"
    second: SecondStroke | None = None


class ListMark(Part):
    """What stands before a paragraph: a bullet, or its number among its neighbours."""

    kind: Literal["bullets", "numbers"] = "bullets"
    mark: Annotated[str, StringConstraints(min_length=1, max_length=20)] | None = None
    indent: Room = Length.read("1.6em")


def _or_figure(field: str) -> BeforeValidator:
    """A part that may be given by its one everyday figure."""

    def read(value: Any) -> Any:
        plain = isinstance(value, int | float) and not isinstance(value, bool)
        return {name: value for name in field.split()} if plain else value

    return BeforeValidator(read)


class Keep(Part):
    """Which lines stay together where a paragraph runs on into another column or frame.

    At least `start` lines at a column's start and `end` at its end; all of them (`whole`); the paragraph with the next
    one (`next`).
    """

    start: Annotated[int, Field(ge=1, le=50)] = 2
    end: Annotated[int, Field(ge=1, le=50)] = 2
    whole: bool = False
    next: bool = False


class DropCap(Part):
    """The first letters of a paragraph, as tall as some of its lines; what is not named is as in the paragraph."""

    lines: Annotated[int, Field(ge=2, le=20)] = 3
    letters: Annotated[int, Field(ge=1, le=10)] = 1
    gap: Room = Length.read("0.2em")
    font: Annotated[str, StringConstraints(min_length=1, max_length=120)] | None = None
    weight: Annotated[int, Field(ge=1, le=1000)] | None = None
    slope: Literal["normal", "italic"] | None = None
    color: Color | None = None


def _tab_place(value: Any, _: ValidatorFunctionWrapHandler) -> Any:
    return value if value == "end" else not_negative(Length.read(value))


class Tab(Part):
    """Where a tab leads: a length from the slot's start, or the slot's end; how what follows stands to it; what fills
    the room before it."""

    at: Annotated[Length | Literal["end"], WrapValidator(_tab_place)]
    align: Literal["start", "center", "end", "figure"] = "start"
    leader: Annotated[str, StringConstraints(max_length=5)] = ""


class Letters(Part):
    """How letters look; None inherits (run from paragraph, paragraph from style, style from the defaults)."""

    font: Annotated[str, StringConstraints(min_length=1, max_length=120)] | None = None
    weight: Annotated[int, Field(ge=1, le=1000)] | None = None
    font_width: Annotated[float, Field(ge=25, le=200)] | None = None
    slope: Literal["normal", "italic"] | None = None
    size: Size | None = None
    color: Color | None = None
    tracking: Length | None = None
    features: Features | None = None
    underline: bool | None = None
    letter_stroke: LetterStroke | None = None


class HyphenLimits(Part):
    """Limits of hyphenation: least letters before and after the hyphen (unsaid: three, or two where a language does
    so), least letters of a word, hyphens in a row."""

    before: Annotated[int, Field(ge=1, le=20)] = 2
    after: Annotated[int, Field(ge=1, le=20)] | None = None
    least: Annotated[int, Field(ge=2, le=40)] = 5
    ladder: Annotated[int, Field(ge=1, le=1000)] = 2
    capitals: bool = False


Breaking = Literal["optimal", "first-fit", "balanced", "by-sense", "widening", "tapering"]


Together = Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=100)]
"""Words that a line had better not part."""


class StretchLimits(Part):
    """How far justified lines may open and close: word spaces as shares of the font's own; the spaces between letters,
    in ems, and letters' widths, as shares, both ways; `letters`, in ems, what letters open when all else is at its
    limit.

    Word spaces whose least is not said close to two thirds, but never to less than `LEAST_SPACE_EMS`.
    """

    least: Annotated[float | None, Field(ge=0.3, le=1)] = None
    greatest: Annotated[float, Field(ge=1, le=20)] = 3
    letter_space: Annotated[float, Field(ge=0, le=0.02)] = 0.01
    letter_width: Annotated[float, Field(ge=0, le=0.015)] = 0.01
    letters: Annotated[float, Field(ge=0, le=1)] = 0


class ParagraphRules(Letters):
    """A paragraph's rules; None inherits."""

    leading: Size | None = None
    align: Align | None = None
    last: Align | None = None
    breaking: Breaking | None = None
    hyphenate: bool | HyphenLimits | None = None
    together: Annotated[tuple[Together, ...], Field(max_length=100)] | None = None
    stretch: StretchLimits | None = None
    language: Annotated[str, StringConstraints(pattern=r"^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$")] | None = None
    direction: Literal["ltr", "rtl", "auto"] | None = None
    space_before: Room | None = None
    space_after: Room | None = None
    indent: Room | None = None
    first_indent: Room | None = None
    list: Annotated[ListMark | None, BeforeValidator(lambda v: {"kind": v} if isinstance(v, str) else v)] = None
    keep: Annotated[Keep | Literal[False] | None, _or_figure("start end")] = None
    last_word_alone: bool | None = None
    hang_punctuation: bool | None = None
    drop_cap: Annotated[DropCap | Literal[False] | None, _or_figure("lines")] = None
    tabs: tuple[Tab, ...] | None = None
    new_column: bool | None = None
    grid: Size | None = None


class Style(ParagraphRules):
    """A named style of the document."""


TextStyle = Style
"""A style as a recipe holds it, for paragraphs that name none."""


def _frame_rules(value: Any) -> Any:
    if not isinstance(value, dict):
        raise ValueError("must be a JSON object of rules of a frame")
    if "copy" in value:
        raise ValueError("a recipe names no copy; leave “copy” out")
    try:
        Frame.model_validate({"copy": "any", **value})
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(step) for step in first["loc"] if not str(step).startswith("function-"))
        said = str(first["ctx"]["error"]) if first["type"] == "value_error" else first["msg"]
        raise ValueError(f"{where}: {said}") from None
    return value


OBJECT = "\ufffc"
"""What stands in a copy's text for an object in line."""


class Run(Letters):
    """A stretch of copy in one look, or the place of an object that belongs to the copy."""

    text: Annotated[str, StringConstraints(max_length=1_000_000)] = ""
    object: Id | None = None
    field: Literal["page", "next-page", "previous-page"] | None = None
    of: Id | None = None

    @model_validator(mode="after")
    def _text_or_object(self) -> Run:
        if self.object is not None and self.text:
            raise ValueError("a run holds text or an object, not both; write two runs")
        if self.field is not None and (self.text or self.object is not None):
            raise ValueError("a run holds text, an object or a page number, only one of them; write several runs")
        if self.of is not None and self.field is None:
            raise ValueError("“of” says whose page number it is; write a `field` with it")
        if OBJECT in self.text:
            raise ValueError("U+FFFC stands for objects in line; take it out of the text")
        return self


class Paragraph(ParagraphRules):
    """One paragraph of copy; its own fields override its style's."""

    style: Name | None = None
    runs: tuple[Run, ...] = ()

    @property
    def text(self) -> str:
        return "".join(OBJECT if run.object else run.text for run in self.runs)

    @cached_property
    def refers(self) -> bool:
        """Whether anything but its style names another part of the document: a colour, an object, a frame."""
        return self.color is not None or any(r.color or r.object or r.of for r in self.runs)


class Source(Part):
    """What a version of a copy was translated from: another version, and what its paragraphs read then, one for each of
    this version's. `kept` are those whose words stay as they are in this language."""

    version: Annotated[str, StringConstraints(min_length=1, max_length=80)]
    paragraphs: Annotated[
        tuple[Annotated[str, StringConstraints(max_length=1_000_000)], ...], Field(max_length=100_000)
    ] = ()
    kept: Annotated[tuple[Annotated[str, StringConstraints(max_length=1_000_000)], ...], Field(max_length=100_000)] = ()


class Outline(Part):
    """The closed path of an object: a ready kind with its figures, or path data."""

    kind: Literal[
        "rectangle",
        "ellipse",
        "polygon",
        "star",
        "heart",
        "leaf",
        "kite",
        "bubble",
        "arch",
        "drop",
        "flag",
        "ticket",
        "cloud",
        "ring",
        "path",
    ] = "rectangle"
    radius: Sides = Sides()
    sides: Annotated[int, Field(ge=3, le=100)] | None = None
    points: Annotated[int, Field(ge=3, le=100)] | None = None
    depth: Annotated[float, Field(ge=0.01, le=0.99)] | None = None
    tail: Share | None = None
    d: Annotated[str, StringConstraints(min_length=1, max_length=500_000)] | None = None
    box: tuple[Annotated[float, Field(gt=0, le=1e6)], Annotated[float, Field(gt=0, le=1e6)]] | None = None

    @model_validator(mode="after")
    def _figures(self) -> Outline:
        for name in ("radius", "sides", "points", "depth", "tail", "d", "box"):
            value = getattr(self, name)
            if value not in (None, Sides()) and name not in FIGURES_OF_KIND[self.kind]:
                raise ValueError(f"“{name}” belongs to another kind of outline than “{self.kind}”; leave it out")
        if self.kind == "path" and self.d is None:
            raise ValueError("an outline of kind “path” needs `d`, its path data")
        return self


class Fill(Part):
    color: Color
    tint: Annotated[float, Field(ge=0, le=100)] = 100
    opacity: Share = 1


class Stroke(Line):
    """The painted edge of an outline."""

    position: Literal["inside", "centred", "outside"] = "centred"
    opacity: Share = 1


def _within_the_folder(name: str) -> str:
    """A file beside the document, or below: no way up, no root, no address."""
    parts = name.replace("\\", "/").split("/")
    if ".." in parts or not parts[0] or ":" in parts[0] or "\0" in name:
        raise ValueError("must be a file in the document’s folder or below it; write for example pictures/kite.png")
    return name


File = Annotated[str, StringConstraints(min_length=1, max_length=500), AfterValidator(_within_the_folder)]


class Picture(Part):
    file: File
    alt: Annotated[str, StringConstraints(max_length=2000)] = ""
    x: Place = ZERO
    y: Place = ZERO
    scale: Annotated[float, Field(ge=0.01, le=100)] = 1
    fit: Literal["fill", "whole"] = "fill"
    clip: Literal["outline", "contour"] = "outline"
    """What it is painted inside of: its object's outline, or its own contour within that."""


Mark = Annotated[tuple[tuple[Share, Share], ...], Field(min_length=1, max_length=2000)]


class Subject(Part):
    """What the designer marked as the picture's subject: a rectangle around it (x, y, width, height), strokes on it
    that are to be kept, and strokes beside it. All in fractions of the picture."""

    box: tuple[Share, Share, Share, Share] | None = None
    keep: Annotated[tuple[Mark, ...], Field(max_length=200)] = ()
    drop: Annotated[tuple[Mark, ...], Field(max_length=200)] = ()

    @model_validator(mode="after")
    def _some_size(self) -> Subject:
        if self.box is not None and (self.box[2] <= 0 or self.box[3] <= 0):
            raise ValueError("the rectangle around the subject needs some width and height")
        return self


class Contour(Part):
    """How the contour of the object's picture is found: from its `alpha`, on a `plain` or a `busy` background (with the
    `subject` that was marked), from a `mask` picture (light is the subject), or as a `path` (`d`: SVG path data in
    fractions of the picture, its width and height being 1).

    `smoothness` lets smooth curves of few points take the place of the exact edge; `points` is the most that a ring may
    have.
    """

    source: Annotated[Literal["alpha", "plain", "busy", "mask", "path"] | None, Field(alias="from")] = None
    threshold: Share = 0.5
    smoothness: Share = 0
    holes: bool = False
    points: Annotated[int, Field(ge=3, le=5000)] | None = None
    mask: File | None = None
    d: Annotated[str, StringConstraints(min_length=1, max_length=500_000)] | None = None
    subject: Subject | None = None

    @model_validator(mode="after")
    def _what_it_needs(self) -> Contour:
        if self.source == "mask" and self.mask is None:
            raise ValueError("a contour from a mask needs `mask`, the file of the mask picture")
        if self.source == "path" and self.d is None:
            raise ValueError("a contour from a path needs `d`, its path data")
        return self


CLEAR_BY_SIDE = ("none", "box", "below")
"""Wraps that may have a clearance for each side."""


class Wrap(Part):
    """How the object pushes copy away: by a shape, `below` by all of the column beside it, or, `inside`, by everything
    but its shape."""

    by: Literal["none", "box", "outline", "contour", "below"] = "none"
    clearance: Sides = Sides()
    sides: Literal["both", "left", "right", "widest"] = "both"
    inside: bool = False

    @model_validator(mode="after")
    def _four_only_for_a_box(self) -> Wrap:
        if self.clearance.apart and self.by not in CLEAR_BY_SIDE:
            raise ValueError("a clearance for each side goes with a wrap by “box” or “below”; write one length")
        if self.inside and self.by == "below":
            raise ValueError("copy cannot go on below an object and stand inside it; write box, outline or contour")
        return self


class Anchor(Part):
    """How an object belongs to the copy at its run.

    `in-line` it stands there like a letter, its lower edge on the baseline, or `shift` above it. `beside` it hangs at a
    `side` of its line (`start` is where its paragraph's lines begin: left, or right where it runs from right to left),
    its column, its frame or its page (`across`), `x` within that edge or, where x is negative or `out` is set, as far
    outside it; its top is `y` below the hang metric of its line, or below the top of its frame or its page (`down`). It
    is kept on the page. `centred` it stands in the middle of its frame, x and y off it.
    """

    place: Literal["in-line", "beside", "centred"] = "in-line"
    shift: Length = ZERO
    side: Literal["left", "right", "fold", "edge", "start", "end"] = "left"
    x: Place = ZERO
    y: Place = ZERO
    out: bool | None = None
    across: Literal["line", "column", "frame", "page"] = "frame"
    down: Literal["line", "frame", "page"] = "line"

    @property
    def outside(self) -> bool:
        return self.x.pt < 0 if self.out is None else self.out


class Bounds(Part):
    """A least or a greatest size."""

    width: Extent | None = None
    height: Extent | None = None


class FitType(Part):
    """One factor on all sizes of the copy, the largest that leaves nothing over: between a least and a greatest type
    size of its first paragraph. Frames of one `set` share the smallest of their factors."""

    least: Size | None = None
    greatest: Size | None = None
    grow: bool = False
    set: Annotated[str, StringConstraints(min_length=1, max_length=80)] | None = None

    @model_validator(mode="after")
    def _limits(self) -> FitType:
        plain = [v for v in (self.least, self.greatest) if v is not None and not v.em]
        if len(plain) == 2 and plain[0].pt > plain[1].pt:
            raise ValueError("the least type size is more than the greatest")
        return self


class Leftover(Part):
    """Where copy ends that does not fit, and what marks its end."""

    ends: Literal["past-the-edge", "at-the-edge", "with-the-last-line"] = "past-the-edge"
    mark: Annotated[str, StringConstraints(max_length=80)] = ""


class Leaded(Part):
    """How far a frame that is leaded out may open: its greatest leading, its greatest space between paragraphs."""

    leading: Size = Length.read("1.6em")
    space: Room = Length.read("1em")


class Frame(Part):
    """The rules of an object that has been given copy."""

    copy_name: Name = Field(alias="copy")
    padding: Sides = Sides()
    columns: Annotated[int, Field(ge=1, le=40)] = 1
    gutter: Room = Length.read(12)
    balance: bool = False
    column_rule: Stroke | None = None
    setting: Literal["level", "turned"] = "level"
    sit: Literal["top", "middle", "bottom", "leaded"] = "top"
    lift: Length = ZERO
    hang: Annotated[Hang | Length, WrapValidator(_hang)] = "ascender"
    hang_least: Room = ZERO
    stand: Literal["baseline", "descender", "line-box", "ink"] = "descender"
    band: Literal["letters", "line-box"] = "letters"
    give: Annotated[tuple[Literal["top", "right", "bottom", "left", "in-proportion"], ...], BeforeValidator(_give)] = ()
    least: Bounds | None = None
    greatest: Bounds | None = None
    whole_pixels: bool = False
    fit_type: FitType | None = None
    leftover: Leftover = Field(default_factory=lambda: Leftover.model_validate({}))
    wrap_lines: bool = True
    pushed: bool = True
    least_slot: Room | Literal["by-copy", "ragged-by-copy"] = "by-copy"
    arms: Literal["across", "in-turn"] = "across"
    leaded: Leaded = Leaded()

    @model_validator(mode="after")
    def _limits(self) -> Frame:
        for axis in ("width", "height"):
            low, high = (getattr(b, axis) if b else None for b in (self.least, self.greatest))
            if low is not None and high is not None and low.pt > high.pt:
                raise ValueError(f"the least {axis} is more than the greatest")
        return self


TieEdge = Literal["top", "right", "bottom", "left", "width", "baseline"]
_ALONG = {"left": "across", "right": "across", "top": "down", "bottom": "down", "baseline": "down", "width": "width"}


def edges_along(edge: TieEdge) -> tuple[TieEdge, ...]:
    """The edges of another object that an edge can be tied to: those of its axis."""
    return tuple(other for other in get_args(TieEdge) if _ALONG[other] == _ALONG[edge])


class Tie(Part):
    """An edge, the width or the first baseline of an object bound to another's, at a distance."""

    edge: TieEdge
    to: Id
    its: TieEdge | None = None
    gap: Place = ZERO

    @property
    def its_edge(self) -> TieEdge:
        return self.its or self.edge

    @model_validator(mode="after")
    def _along_one_axis(self) -> Tie:
        if self.its_edge not in edges_along(self.edge):
            raise ValueError(f"its {self.edge} cannot be tied to another's {self.its_edge}; tie edges of one axis")
        return self


class PageObject(Part):
    """An object of a page: an outline with its paint, maybe a picture, maybe copy."""

    id: Id
    name: Name = ""
    x: Place
    y: Place
    width: Extent
    height: Extent
    turn: Figure = 0
    pivot: tuple[Figure, Figure] = (0.5, 0.5)
    outline: Outline = Outline()
    fill: Fill | None = None
    stroke: Stroke | None = None
    hidden: bool = False
    locked: bool = False
    paint: bool = True
    picture: Picture | None = None
    contour: Contour | None = None
    wrap: Wrap = Field(default_factory=lambda: Wrap.model_validate({}))
    anchor: Anchor | None = None
    ties: tuple[Tie, ...] = ()
    recipe: Annotated[str, StringConstraints(min_length=1, max_length=80)] | None = None
    departs: tuple[str, ...] = ()
    frame: Frame | None = None

    @model_validator(mode="after")
    def _each_edge_tied_once(self) -> PageObject:
        edges = [tie.edge for tie in self.ties]
        twice = next((edge for edge in edges if edges.count(edge) > 1), None)
        if twice:
            raise ValueError(f"the {twice} is tied twice; one tie an edge")
        return self

    @model_validator(mode="after")
    def _path_in_its_box(self) -> PageObject:
        """A path without a box is drawn at the object's own size: from here on it is stretched with its object."""
        if self.outline.d is not None and self.outline.box is None:
            size = self.width.pt, self.height.pt
            object.__setattr__(self, "outline", self.outline.model_copy(update={"box": size}))
        return self

    @property
    def box(self) -> tuple[float, float, float, float]:
        """The unturned box: x, y, width, height in points."""
        return self.x.pt, self.y.pt, self.width.pt, self.height.pt

    def put(self, turn: float | None = None, **points: float) -> PageObject:
        """A copy that stands elsewhere, is of another size or turn: any of x, y, width, height, in points."""
        turned = {} if turn is None else {"turn": turn}
        return self.model_copy(update={edge: Length(value) for edge, value in points.items()} | turned)

    @property
    def label(self) -> str:
        return self.name or self.outline.kind.capitalize()


class Group(Part):
    """Objects that belong together, in coordinates of their page. Its box is what they take up: the fields of one may
    stand here, and are not read."""

    id: Id
    name: Name = ""
    x: Place = ZERO
    y: Place = ZERO
    width: Margin = ZERO
    height: Margin = ZERO
    turn: Annotated[float, Field(ge=0, le=0)] = 0
    pivot: Any = None
    hidden: bool = False
    locked: bool = False

    @property
    def label(self) -> str:
        return self.name or self.id


class Guides(Part):
    x: tuple[Place, ...] = ()
    y: tuple[Place, ...] = ()


class PageSheet(Part):
    """A page without its objects: size, bleed, margins, guides, background."""

    width: Extent
    height: Extent
    bleed: Margin = ZERO
    margins: Sides = Sides()
    guides: Guides = Guides()
    background: Color | None = None

    @property
    def size(self) -> tuple[float, float]:
        """Trim width and height in points."""
        return self.width.pt, self.height.pt


class Recipe(Part):
    """A named set of rules that frames follow; what it does not name is each frame's own."""

    frame: Annotated[dict[str, Any], BeforeValidator(_frame_rules)] = {}
    fill: Fill | None = None
    stroke: Stroke | None = None
    paint: bool = True
    wrap: Wrap | None = None
    text: Style | None = None


class NeverMind(Part):
    """Findings that are set aside: those of a kind, in one object where it is named, of some words where these are."""

    kind: Annotated[str, StringConstraints(min_length=1, max_length=40)]
    object: Id | None = None
    words: Annotated[str, StringConstraints(max_length=2000)] | None = None


class FindingRules(Part):
    """What is set aside among a document's findings, and limits of its own for kinds of them."""

    never_mind: Annotated[tuple[NeverMind, ...], Field(max_length=2000)] = ()
    limits: dict[
        Annotated[str, StringConstraints(min_length=1, max_length=40)], Annotated[float, Field(ge=0, le=1e6)]
    ] = {}


Chain = Annotated[tuple[Id, ...], Field(min_length=2, max_length=2000)]
"""Frames that share one copy, in the order in which it runs on."""


class Head(Part):
    """The document's own fields, without its pages and copies."""

    format: Literal["nest-line"]
    version: Literal[1]
    title: Name = ""
    words: tuple[Annotated[str, StringConstraints(min_length=1, max_length=100)], ...] = ()
    language: Annotated[str, StringConstraints(pattern=r"^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$")] = "en"
    unit: Literal["pt", "mm", "cm", "in", "px", "pc"] = "mm"
    colors: dict[Annotated[str, StringConstraints(min_length=1, max_length=80)], Color] = {}
    styles: dict[Name, Style] = {}
    recipes: dict[Annotated[str, StringConstraints(min_length=1, max_length=80)], Recipe] = {}
    showing: Annotated[str, StringConstraints(min_length=1, max_length=80)] | None = None
    chains: tuple[Chain, ...] = ()
    findings: FindingRules = FindingRules()
    facing: bool = False
    """Whether pages lie open in pairs: the first is a right-hand page, the second its left-hand neighbour's back."""

    @field_validator("version", mode="before")
    @classmethod
    def _a_figure(cls, value: Any) -> Any:
        if isinstance(value, bool):
            raise ValueError("must be 1")
        return value

    @model_validator(mode="after")
    def _colors_are_figures(self) -> Head:
        for name, value in self.colors.items():
            if not value.startswith("#"):
                raise ValueError(f"the colour “{name}” must be written as #rgb or #rrggbb")
        return self
