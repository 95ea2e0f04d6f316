"""What goes over the line: the shapes of what windows send and are answered with (server/openapi.json is made
of them)."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from documents.exports import Kind, Letters
from documents.reach import Need
from nestline.acts.offers import Allowed, TryKind
from nestline.document.model import Breaking, Contour
from nestline.findings.strain import GREATEST, LARGEST_TYPE, LEAST, Strain
from nestline.output.translations import What


class DocumentOut(Schema):
    id: int
    title: str
    changed: datetime
    picture: str
    width: float
    height: float
    pages: int
    folder: str
    deleted: datetime | None
    owner: str | None
    """Whose it is, where it is somebody else's."""
    may: Need
    shared: bool
    """Whether it is one's own and shared with somebody."""


class DocumentsOut(Schema):
    documents: list[DocumentOut]


class NewDocument(Schema):
    title: str = Field("", max_length=200)
    width: str = "210mm"
    height: str = "297mm"
    bleed: str | None = None
    """That which is usual for the unit where none is given: 3 mm, an eighth of an inch, none on a screen."""
    unit: Literal["pt", "mm", "cm", "in", "px", "pc"] = "mm"
    facing: bool = False
    words: str = Field("", max_length=400_000)
    """Copy that stands on its page at once, a paragraph a line."""
    folder: str = Field("", max_length=100)


class ManyIn(Schema):
    """What is done with several documents: put into a folder ("" takes them out), deleted, restored, or, of deleted
    ones, forgotten for good."""

    ids: list[int] = Field(max_length=1000)
    do: Literal["folder", "delete", "restore", "forget"]
    folder: str = Field("", max_length=100)


class ManyOut(Schema):
    """How many documents something was done with."""

    count: int


class Rename(Schema):
    title: str = Field(max_length=200)


class Operation(Schema):
    """One operation of an edit (see docs/choices.md, "Edits")."""

    do: Literal["put", "cut", "splice", "act"]
    at: list[str | int] | None = None
    act: str | None = None
    given: dict[str, Any] | None = None
    value: Any = None
    start: int | None = Field(None, alias="from")
    remove: int | None = None
    insert: list[Any] | None = None

    model_config = ConfigDict(populate_by_name=True)


class StepIn(Schema):
    """What a window asks for: `base` is the revision that it stands on, `mark` the id of what it asks for, by which
    that is never done twice, `prefer` the side that holds where both changed the same, `shown` the name of what it
    shows."""

    base: int
    shown: str = Field("", max_length=40)
    window: str = Field("", max_length=40)
    mark: str = Field("", max_length=40)
    prefer: Literal["mine", "theirs"] | None = None


class EditIn(StepIn):
    operations: list[Operation]
    on: list[Operation] = []
    """The window's own changes since `base`, on which this one was made."""
    seen: list[int] = Field([], max_length=40)
    """The pages that the window shows."""
    label: str = "Change"
    join: str = Field("", max_length=120)


class PreviewIn(Schema):
    """A window counts its previews: one that is overtaken by the next before its turn comes is not worked out."""

    base: int
    operations: list[Operation]
    window: str = Field("", max_length=40)
    number: int = 0


class TriesIn(Schema):
    base: int
    object: str
    kind: TryKind
    version: str | None = None
    strain: float = Field(default=0, ge=LEAST, le=GREATEST)


class TryOut(Schema):
    across: str
    down: str
    operations: list[dict[str, Any]]
    shown: list[dict[str, Any]]
    """What shows it: under the strain that was asked for; never stored."""


class CureOut(Schema):
    label: str
    operations: list[dict[str, Any]]


class FindingOut(Schema):
    """Something that was measured on a page (nestline.findings.finding): pages counted from 0, marks are boxes
    there."""

    kind: str
    title: str
    object: str
    page: int
    figure: float | None
    limit: float | None
    unit: str
    message: str
    words: str
    range: tuple[int, int] | None
    marks: list[tuple[float, float, float, float]]
    fault: bool
    neverMind: bool
    hasCures: bool
    shown: Literal["words", "line", "nothing"]


class TypedColorIn(Schema):
    """A colour as it is typed, and the object whose copy is to have it."""

    text: str = Field(max_length=200)
    object: str | None = None


class ReadColorOut(Schema):
    """What a typed colour comes to, a name or #rrggbb, and how well copy of it is read where it stands (1 to 21):
    `said` in words, `poor` where it is too little. Empty where there is nothing to tell."""

    color: str | None
    contrast: float | None
    behind: str | None
    said: str | None
    poor: bool


class OfferedOut(Schema):
    """A colour that a document has not: what it is called there, and whose it is, in words."""

    name: str
    said: str
    figure: str


class FindingsOut(Schema):
    revision: int
    findings: list[FindingOut]


class CuresIn(Schema):
    """Which finding is to be mended."""

    base: int
    kind: str
    object: str
    page: int
    range: tuple[int, int] | None = None
    version: str | None = None


class TriedOut(CureOut):
    """A cure that was tried: whether it mends what it is for, and how many other findings come and go with it."""

    mends: bool
    more: int
    fewer: int


class StrainIn(Schema):
    """What the document is to be put under: copy longer by per cent, in the words of a language, larger type, another
    sheet, pictures that have not come."""

    by: float = Field(default=0, ge=LEAST, le=GREATEST)
    language: str | None = Field(default=None, max_length=35)
    type: float = Field(default=0, ge=0, le=LARGEST_TYPE)
    sheet: tuple[str, str] | None = None
    pictures: bool = True
    version: str | None = None

    def strain(self) -> Strain:
        return Strain(self.by, self.language or None, self.type, self.sheet, self.pictures)


class StrainOut(Schema):
    """What makes the document so, to be previewed: nothing of it is to be stored."""

    operations: list[dict[str, Any]]


class HoldsOut(Schema):
    """Up to which strain a frame holds its copy, in per cent: below nothing where it lacks room as it is, null where it
    holds all."""

    object: str
    upTo: float | None


class TranslatedOut(Schema):
    """How far a version is: how many paragraphs are new, have other words in the source by now (stale), or are done."""

    version: str
    language: str
    source: str
    new: int
    stale: int
    done: int


class DeskIn(Schema):
    """What is sent to the stand-in for a translation desk: how long it takes, and whether it gives up in the middle."""

    source: str = Field(max_length=80)
    target: str = Field(min_length=1, max_length=80)
    what: What = "all"
    seconds: float = Field(default=8, ge=0, le=120)
    fails: bool = False


class HomecomingIn(Schema):
    """A file that came home, in base 64, and the version it is for: that which it names when left out."""

    name: str = Field(default="", max_length=400)
    content: str = Field(max_length=45_000_000)
    version: str | None = Field(default=None, min_length=1, max_length=80)


class ChangeOut(Schema):
    """A paragraph that came home; `problems` keep it from being taken."""

    id: str
    copyName: str
    number: int
    label: str
    source: str
    before: str
    after: str
    problems: list[str]
    notes: list[str]


class HomecomingOut(Schema):
    """What a translation would change: `same` stand there already, `empty` came without one; `told` would be wrong with
    it."""

    version: str
    language: str
    same: int
    empty: int
    told: list[str]
    changes: list[ChangeOut]


class EndingsIn(Schema):
    base: int
    object: str
    allowed: Allowed
    version: str | None = None


class EndingOut(Schema):
    """A way to make copy end with its frame, and what it costs (nestline.acts.offers)."""

    label: str
    operations: list[dict[str, Any]]
    changes: list[str]
    distance: float
    worst: float
    rivers: int
    uneven: float
    hyphens: int
    lines: int


class TraceStep(Schema):
    """How far a contour is traced; when it is `done`, what was wrong if anything."""

    share: float
    done: bool
    fault: str | None


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


class OpenOut(Schema):
    """A document as it stands: `document` is the open format (docs/document-format.md)."""

    id: int
    revision: int
    undo: str | None
    redo: str | None
    document: dict[str, Any]
    scene: SceneOut
    pictures: dict[str, str]
    complete: bool
    """Whether the scene holds every page, or the first alone."""
    shown: str
    may: Need
    """What whoever asks may do with it."""
    owner: str


class ShareIn(Schema):
    """With whom, by name, or with which team; what they may do."""

    name: str = Field("", max_length=150)
    team: int | None = None
    may: Literal["see", "edit"] = "see"


class ShareOut(Schema):
    id: int
    name: str
    team: bool
    may: Literal["see", "edit"]


class EditOut(Schema):
    """What an edit changed: the parts of `document` that are new, or, of a large one, the `operations` that make it so,
    and the difference of the scene. Where it is not `complete`, the pages that are seen are as they are now and the
    others as they were: they are asked for (`/rest`). `shown` is what the window calls what it shows from then on."""

    revision: int
    undo: str | None
    redo: str | None
    document: dict[str, Any]
    operations: list[dict[str, Any]] | None
    scene: SceneOut
    pictures: dict[str, str]
    complete: bool
    shown: str


class RestOut(Schema):
    """What was still missing of a revision's scene."""

    revision: int
    scene: SceneOut
    shown: str


class JobOut(Schema):
    """A job: how far it is from 0 to 1, and when it is done what came of it: a file to be had for a week, or a
    document."""

    id: int
    kind: Literal["export", "import", "trace", "desk", "account"]
    state: Literal["waiting", "running", "done", "failed", "cancelled"]
    share: float
    said: str
    path: str
    name: str
    size: int
    document: int | None
    made: datetime
    url: str | None


class ExportIn(Schema):
    kind: Kind
    page: int = 1
    dpi: float = 150
    letters: Letters = "outlines"


class ExportOut(Schema):
    """Where the file is to be had at once, or the job that makes it."""

    url: str | None
    job: JobOut | None


class HereIn(Schema):
    """Where a window is: the page that it looks at, what is chosen there, and whether it is being closed."""

    window: str = Field(min_length=1, max_length=40)
    page: int = 0
    chosen: list[str] = Field([], max_length=20)
    gone: bool = False
    hello: bool = False


class WhyIn(Schema):
    page: int
    at: tuple[float, float]


class CauseOut(Schema):
    """What put a line's end, a baseline or a solved value where it is (nestline.nesting.causes)."""

    what: Literal["left end", "right end", "baseline", "word spaces", "place", "size", "box"]
    said: str
    figure: float | None
    object: str
    rule: str
    lit: list[tuple[float, float, float, float]]


class WhyOut(Schema):
    """The causes at a place of a page, the nearest first; without a frame when no copy is near."""

    frame: str | None
    causes: list[CauseOut]


class TraceIn(Schema):
    object: str
    contour: Contour
