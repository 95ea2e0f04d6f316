"""What is drawn of a document."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

from ninja import Schema

from nestline.document.model import Breaking


class GuidesScene(Schema):
    x: list[float]
    y: list[float]


class GroupScene(Schema):
    id: str
    name: str
    hidden: bool
    locked: bool
    objects: list[str]
    inside: str | None
    leader: str | None
    """The object that all of it goes along with into copy, or would."""


class PageScene(Schema):
    width: float
    height: float
    bleed: float
    margins: tuple[float, float, float, float]
    guides: GuidesScene
    background: str | None
    side: Literal["alone", "left", "right"]
    order: list[str]
    groups: list[GroupScene]


class FillScene(Schema):
    color: str
    opacity: float


class StrokeScene(Schema):
    color: str
    width: float
    dash: list[float]
    cap: Literal["butt", "round", "square"]
    join: Literal["miter", "round", "bevel"]
    position: Literal["inside", "centred", "outside"]
    opacity: float


class PictureScene(Schema):
    file: str
    place: tuple[float, float, float, float]
    transparent: bool
    clip: str | None
    """The contour that it is painted inside of."""
    ppi: int


class TieScene(Schema):
    edge: str
    to: str
    its: str


class FollowsScene(Schema):
    """The recipe an object follows: which of its rules the object sets otherwise, and what it takes from it."""

    recipe: str
    departs: list[str]
    rules: dict[str, Any]
    text: bool


class AnchorScene(Schema):
    """How an object stands in the copy; one that waits is set nowhere: its words are left over, or its place is
    gone."""

    place: Literal["in-line", "beside", "centred"]
    shift: float | str
    side: Literal["left", "right", "fold", "edge", "start", "end"]
    x: float | str
    y: float | str
    out: bool | None
    outside: bool
    across: Literal["line", "column", "frame", "page"]
    down: Literal["line", "frame", "page"]
    waits: bool


class ContourScene(Schema):
    """A picture's contour: path data in the object's own box, its points, how sure it is; or why there is none."""

    path: str | None
    points: int
    confidence: float | None
    unsure: bool
    fault: str | None


class EmScene(Schema):
    of: str
    points: float


class ObjectScene(Schema):
    id: str
    page: int
    name: str
    box: tuple[float, float, float, float]
    turn: float
    pivot: tuple[float, float]
    matrix: tuple[float, float, float, float, float, float]
    path: str
    figures: dict[str, float]
    """Of a ready outline: what it is drawn with, its own figures or those of its kind."""
    fill: FillScene | None
    stroke: StrokeScene | None
    picture: PictureScene | None
    hidden: bool
    locked: bool
    paint: bool
    frame: bool
    copyName: str | None
    ties: list[TieScene]
    wrap: str | None
    em: EmScene | None
    """Of a clearance in ems: the frame whose copy it is an em of, and what that is in points."""
    contour: ContourScene | None
    follows: FollowsScene | None
    anchor: AnchorScene | None


class SecondStrokeScene(Schema):
    color: str
    width: float
    join: Literal["miter", "round", "bevel"]


class LetterStrokeScene(Schema):
    position: Literal["centred", "outside"]
    second: SecondStrokeScene | None
    color: str
    width: float
    dash: list[float]
    cap: Literal["butt", "round", "square"]
    join: Literal["miter", "round", "bevel"]


class MarkScene(Schema):
    text: str
    face: str
    size: float
    x: float
    baseline: float
    color: str


class UnderlineScene(Schema):
    left: float
    right: float
    y: float
    thickness: float
    color: str


class OfferScene(Schema):
    """A change that is offered: what it is called, and what makes it so."""

    label: str
    hint: str
    operations: list[dict[str, Any]]


class ChainScene(Schema):
    """A frame's place in its chain, counted from 0, and the frames before and after it."""

    place: int
    frames: list[str]
    before: str | None
    after: str | None
    continued: tuple[str, str]
    """How jump lines lead on and back in the copy's language, without the number."""


class AnchorMarkScene(Schema):
    """The place in the copy of an object that stands elsewhere; `mark` is x and y of both ends of a caret there, `left`
    whether it hangs at that side, `startsLeft` whether its line begins there."""

    frame: str
    page: int
    mark: tuple[float, float, float, float]
    left: bool
    startsLeft: bool


class AbsentScene(Schema):
    """A font that is not there, and the one that stands in for it."""

    family: str
    by: str


class LacksScene(Schema):
    axis: Literal["width", "height"]
    points: float


class MetricsScene(Schema):
    """Heights of letters as shares of their type size; `up` and `down` are those of the line box."""

    ascender: float
    descender: float
    up: float
    down: float
    cap: float
    ex: float


class NestScene(Schema):
    """A nest; `records` is flat, a row of nestline.rows.SCREEN_RECORD a slot."""

    id: str
    page: int
    copyName: str
    version: str
    shape: str
    matrix: tuple[float, float, float, float, float, float] | None
    records: list[float]
    x: list[float]
    marks: list[MarkScene]
    underlines: list[UnderlineScene]
    columnRules: list[tuple[float, float, float]]
    columnStroke: StrokeScene | None
    lines: int
    size: float
    metrics: MetricsScene
    fill: float
    residue: float
    opened: float
    exact: bool
    loose: int
    broken: bool
    missing: int
    fallback: list[str]
    absent: list[AbsentScene]
    """Fonts of its copy that are not there."""
    words: int
    held: tuple[int, int]
    wordsHeld: int
    chain: ChainScene | None
    gives: bool
    """Whether its edges give; not before the last frame of a chain without a greatest size."""
    numbers: list[str]
    leftover: int
    leftoverStart: int
    lacks: LacksScene | None
    """What the frame lacks for what is left over."""
    pushedBy: list[str]
    """The objects that push copy away there, of a frame with words left over."""
    clipped: bool
    ends: Literal["past-the-edge", "at-the-edge", "with-the-last-line"]
    unsettled: bool
    textDeparts: list[str]
    capacity: int
    loosest: float
    gaps: bool
    rivers: int
    uneven: float
    factor: float
    bounds: tuple[float, float, float, float] | None
    cures: list[OfferScene]
    proposal: OfferScene | None


class LookScene(Schema):
    features: str
    stroke: LetterStrokeScene | None
    face: str
    size: float
    color: str
    tracking: float
    joined: bool
    fitted: str
    hyphen: str
    font: str
    weight: int
    fontWidth: float
    slope: Literal["normal", "italic"]
    colorName: str
    underline: bool
    tags: dict[str, int]


class StretchScene(Schema):
    least: float | None
    greatest: float
    letter_space: float
    letter_width: float
    letters: float


class HyphenLimitsScene(Schema):
    before: int
    after: int
    least: int
    ladder: int
    capitals: bool


class RuleScene(Schema):
    """A paragraph's rules as they hold, in points."""

    size: float
    leading: float
    align: Literal["start", "center", "end", "justify"]
    last: Literal["start", "center", "end", "justify"]
    spaceBefore: float
    spaceAfter: float
    firstIndent: float
    font: str
    weight: int
    fontWidth: float
    slope: Literal["normal", "italic"]
    color: str
    colorName: str
    tracking: float
    features: dict[str, int]
    underline: bool
    letterStroke: LetterStrokeScene | None
    direction: Literal["ltr", "rtl", "auto"]
    style: str | None
    departs: list[str]
    hangPunctuation: bool
    grid: float
    list: Literal["bullets", "numbers"] | None
    breaking: Breaking
    lastWord: Literal["avoided", "stands", "never"]
    hyphenated: bool
    hyphenLimits: HyphenLimitsScene | None
    together: tuple[str, ...]
    canHyphenate: bool
    language: str
    stretch: StretchScene
    indent: float
    keep: dict[str, Any] | None
    dropCap: dict[str, Any] | None
    newColumn: bool
    tabs: Sequence[dict[str, Any]]


class ShapeScene(Schema):
    rules: list[RuleScene]
    ruleOf: list[int]
    fromRight: list[bool]
    text: str
    start: list[int]
    end: list[int]
    look: list[int]
    rtl: list[int]
    width: list[float]
    looks: list[LookScene]
    words: int


class ShapePatch(Schema):
    """What makes one shape of another, of a long copy: of the text (in UTF-16 units) and of each list from where on how
    much is replaced by what. Starts and ends behind the change are moved by `shift`."""

    of: str
    text: tuple[int, int, str]
    shift: int
    lists: dict[str, Any]
    words: int


class SceneOut(Schema):
    """What is drawn, or what differs from what was drawn before; pages that are as they were are null."""

    pages: list[PageScene | None]
    objects: dict[str, ObjectScene]
    labels: dict[str, str]
    """What objects are called, of those that were called otherwise before."""
    nests: dict[str, NestScene]
    nested: list[str]
    shapes: dict[str, ShapeScene]
    patches: dict[str, ShapePatch]
    nowhere: dict[str, str]
    anchors: dict[str, AnchorMarkScene]
