"""What is offered for a frame, each with the operations that make it so: cures of leftover, tries, and endings.

Nothing here changes a document: the designer points at an offer, sees it, and takes it or leaves it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from nestline.acts.acting import ActError, Acting
from nestline.acts.arranging import times, with_edges
from nestline.copy.shaped_paragraph import TWO_THIRDS
from nestline.copy.styles import Rules, paragraph_rules
from nestline.document import edits, lengths
from nestline.document.edits import Operation, Raw
from nestline.document.model import PageObject, Paragraph
from nestline.nesting.frame_nest import FrameNest
from nestline.nesting.quality import evenness, rivers

TryKind = Literal["align", "break", "letters", "room"]


def cures(thing_id: str) -> list[Raw]:
    """What can be done about words left over in a frame."""

    def put(rule: str, value: Any) -> list[Operation]:
        return [{"do": "put", "at": ["objects", thing_id, "frame", rule], "value": value}]

    return [
        {"label": "let it give", "hint": "Its lower edge follows the copy", "operations": put("give", ["bottom"])},
        {
            "label": "fit the type",
            "hint": "All sizes shrink until the copy fits",
            "operations": put("fit_type", {"least": "5pt"}),
        },
        {
            "label": "go on in another frame",
            "hint": "A frame of the same kind beside it, or on the next page",
            "operations": [{"do": "act", "act": "go-on", "given": {"frame": thing_id}}],
        },
    ]


def capitals(thing_id: str) -> Raw:
    """Common practice: copy in capitals looks centred only from cap height to baseline."""
    operations = [
        {"do": "put", "at": ["objects", thing_id, "frame", rule], "value": value}
        for rule, value in (("hang", "cap"), ("stand", "baseline"))
    ]
    label = "all capitals: hang from cap height, stand on the baseline"
    return {"label": label, "hint": "Capitals look centred from cap height to baseline only", "operations": operations}


@dataclass(frozen=True)
class _Copy:
    """A frame's copy as offers change it: where its paragraphs stand, as they are written, and their rules."""

    path: list[str | int]
    raws: list[Raw]
    rules: list[Rules]

    def each(self, change: Callable[[Raw, Rules], Raw]) -> list[Operation]:
        made = [change(raw, rules) for raw, rules in zip(self.raws, self.rules, strict=True)]
        return [{"do": "splice", "at": self.path, "from": 0, "remove": len(self.raws), "insert": made}]


def _copy_of(at: Acting, thing: PageObject, version: str | None) -> _Copy:
    if thing.frame is None:
        raise ActError(f"“{at.label(thing)}” holds no copy")
    name = thing.frame.copy_name
    key, content = at.document.version_of(name, version)
    base, styles = at.document.text_style_of(thing), at.document.head.styles

    def rules_of(paragraph: Paragraph) -> Rules:
        return paragraph_rules(paragraph, styles.get(paragraph.style) if paragraph.style else base, content.language)

    raws = at.document.raw["copies"][name]["versions"][key].get("paragraphs", [])
    return _Copy(["copies", name, "versions", key, "paragraphs"], raws, [rules_of(p) for p in content.paragraphs])


def _sized(raw: Raw, rules: Rules, size: float, leading: float = 1.0, tracking: float = 0.0) -> Raw:
    """A paragraph with its sizes times `size`, its leading times `leading` more, `tracking` ems more between
    letters."""
    new = {**with_edges(raw, rules, size), "size": round(rules.size * size, 4)}
    new["leading"] = round(rules.leading * size * leading, 4)
    for name in ("space_before", "space_after", "indent", "first_indent"):
        if name in raw:
            new[name] = times(raw[name], size)
    spaced = rules.look.tracking + tracking * rules.size
    if spaced or "tracking" in raw:
        new["tracking"] = round(spaced * size, 4)
    new["runs"] = [{**run, "size": times(run["size"], size)} if "size" in run else run for run in raw.get("runs", [])]
    return new


FITTED = {"word spaces alone": (0.0, 0.0), "letters a little": (0.01, 0.01), "letters as far as unseen": (0.02, 0.015)}
"""What the spaces between letters, in ems, and their widths may give, as shares."""


def tries(at: Acting, object_id: str, kind: TryKind, version: str | None = None) -> list[Raw]:
    """The same frame several ways, a grid: each with its place across and down in words, and its operations."""
    copy = _copy_of(at, at.thing(object_id), version)

    def frame(rule: str, value: Any) -> list[Operation]:
        return [{"do": "put", "at": ["objects", object_id, "frame", rule], "value": value}]

    Change = Callable[[Raw, Rules], Raw]
    Choices = list[tuple[str, Change | None, list[Operation]]]

    def rule(name: str, choices: dict[Any, str]) -> Choices:
        def change(value: Any) -> Change:
            return lambda raw, _: {**raw, name: value}

        return [(said, change(value), []) for value, said in choices.items()]

    def sized(share: float) -> Change:
        return lambda raw, rules: _sized(raw, rules, share)

    across: Choices
    down: Choices
    if kind == "align":
        across = rule("align", {"start": "flush", "center": "centred", "justify": "justified"})
        down = [(f"{share * 100:.0f} %", sized(share), []) for share in (0.9, 1.0, 1.1)]
    elif kind == "break":
        said = {"optimal": "weighed together", "first-fit": "filled one by one", "balanced": "of even length"}
        across, down = rule("breaking", said), rule("hyphenate", {False: "not hyphenated", True: "hyphenated"})
    elif kind == "letters":

        def fitted(space: float, width: float) -> Change:
            limits = {"letter_space": space, "letter_width": width}
            return lambda raw, rules: {**raw, "align": "justify", "stretch": {**rules.stretch.model_dump(), **limits}}

        across = [(words, fitted(*limits), []) for words, limits in FITTED.items()]
        down = rule("hyphenate", {False: "not hyphenated", True: "hyphenated"})
    else:
        sits = {"top": "at the top", "middle": "in the middle", "leaded": "leaded out"}
        across = [(words, None, frame("sit", value)) for value, words in sits.items()]
        down = [(f"{em:g} em of room", None, frame("padding", f"{em:g}em")) for em in (0.5, 1.0, 1.5)]
    out = []
    for down_said, lower, down_operations in down:
        for across_said, upper, across_operations in across:

            def both(
                raw: Raw, rules: Rules, upper: Any = upper, lower: Any = lower
            ) -> Raw:  # the sizes first: they read the rules as they are
                made = lower(raw, rules) if lower else raw
                return upper(made, rules) if upper else made

            operations = copy.each(both) if upper or lower else []
            operations += across_operations + down_operations
            out.append({"across": across_said, "down": down_said, "operations": operations})
    return out


class Allowed(BaseModel):
    """How far an ending may depart from what is: shares either way; tracking in ems. 0 leaves a thing as it is."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    size: Annotated[float, Field(ge=0, le=0.5)] = 0.1
    leading: Annotated[float, Field(ge=0, le=0.5)] = 0.12
    tracking: Annotated[float, Field(ge=0, le=0.1)] = 0.02
    word_space: Annotated[float, Field(ge=0, le=0.5)] = 0.15
    padding: Annotated[float, Field(ge=0, le=1)] = 0.5
    outline: Annotated[float, Field(ge=0, le=0.5)] = 0.08


MIXES: dict[str, tuple[str, ...]] = {
    "The type, with its leading": ("size",),
    "The leading alone": ("leading",),
    "The spaces of words and letters": ("tracking", "word_space"),
    "The room and the outline": ("padding", "outline"),
    "A little of each": ("size", "leading", "tracking", "word_space", "padding", "outline"),
}
STEPS = 11
"""Halvings of the way between the tightest and the widest of a mix: the rest is below a thousandth of a size."""
OFFERED = 3


@dataclass(frozen=True)
class Ending:
    """A way to make copy end with the frame: what it takes and what it costs.

    `changes` are the departures in words, `distance` their sum as shares of what is allowed, `worst` the loosest line,
    `hyphens`, `rivers` and `lines` as they come out, `uneven` how much word spaces differ.
    """

    label: str
    operations: list[Operation]
    changes: list[str]
    distance: float
    worst: float
    hyphens: int
    rivers: int
    uneven: float
    lines: int


@dataclass
class _Search:
    at: Acting
    thing: PageObject
    allowed: Allowed
    version: str | None
    copy: _Copy = field(init=False)

    def __post_init__(self) -> None:
        self.copy = _copy_of(self.at, self.thing, self.version)

    def moved(self, mix: tuple[str, ...], t: float) -> dict[str, float]:
        """What each part of a mix comes to: at t = −1 as tight as allowed, at 1 as wide."""
        return {part: t * getattr(self.allowed, part) for part in mix if getattr(self.allowed, part) > 0}

    def operations(self, by: dict[str, float]) -> list[Operation]:
        out: list[Operation] = []
        size, leading = 1 + by.get("size", 0.0), 1 + by.get("leading", 0.0)
        spaces = by.get("word_space", 0.0)
        if by.keys() & {"size", "leading", "tracking", "word_space"}:

            def change(raw: Raw, rules: Rules) -> Raw:
                new = _sized(raw, rules, size, leading, by.get("tracking", 0.0))
                if spaces and rules.align == "justify":
                    least = min(1.0, max(0.3, (rules.least_space or TWO_THIRDS) + spaces))
                    new["stretch"] = {**rules.stretch.model_dump(), "least": round(least, 4)}
                return new

            out += self.copy.each(change)
        frame = self.thing.frame
        assert frame is not None
        if by.get("padding"):
            given = frame.padding
            scaled = [times_em(side.raw, 1 + by["padding"]) for side in given.four]
            value = scaled if given.apart else scaled[0]
            out.append({"do": "put", "at": ["objects", self.thing.id, "frame", "padding"], "value": value})
        if by.get("outline"):
            x, y, width, height = self.thing.box
            factor = 1 - by["outline"]
            dx, dy = width * (factor - 1) * self.thing.pivot[0], height * (factor - 1) * self.thing.pivot[1]
            for name, value in (("x", x - dx), ("y", y - dy), ("width", width * factor), ("height", height * factor)):
                out.append({"do": "put", "at": ["objects", self.thing.id, name], "value": round(value, 3)})
        return out

    def nest(self, operations: list[Operation]) -> FrameNest:
        raw = edits.apply(self.at.document.raw, operations).document if operations else self.at.document.raw
        return self.at.placed(self.at.document.last_of_chain(self.thing.id), self.version, raw).nest

    def ending(self, label: str, mix: tuple[str, ...]) -> Ending | None:
        """The widest of a mix at which nothing is left over; None when the copy ends there at no width allowed."""
        justified = any(r.align == "justify" for r in self.copy.rules)
        can = {"word_space": justified, "padding": self._has_padding()}
        mix = tuple(part for part in mix if can.get(part, True))
        if not self.moved(mix, 1.0):
            return None

        def over(t: float) -> bool:
            return self.nest(self.operations(self.moved(mix, t))).leftover_words > 0

        low, high = -1.0, 1.0
        if over(low) or not over(high):
            return None
        for _ in range(STEPS):
            middle = (low + high) / 2
            if over(middle):
                high = middle
            else:
                low = middle
        by = self.moved(mix, low)
        operations = self.operations(by)
        nest = self.nest(operations)
        distance = sum(abs(v) / getattr(self.allowed, part) for part, v in by.items()) / len(by)
        return Ending(
            label,
            operations,
            self.changes(by),
            round(distance, 3),
            round(nest.loosest, 3),
            int(nest.hyphens[~nest.past].sum()),
            len(rivers(nest)),
            round(evenness(nest), 3),
            nest.lines,
        )

    def _has_padding(self) -> bool:
        return self.thing.frame is not None and any(side > 0 for side in self.thing.frame.padding.points(10))

    def changes(self, by: dict[str, float]) -> list[str]:
        """Departures in words."""
        size = self.copy.rules[0].size if self.copy.rules else 11.0
        out = []
        for part, v in by.items():
            if part == "size":
                out.append(f"type {size * (1 + v):.2f} pt instead of {size:g}")
            elif part == "tracking":
                out.append(f"{v * 1000:+.0f}/1000 em between letters".replace("-", "−"))
            elif part == "word_space":
                out.append(f"narrowest word spaces {abs(v):.0%} {'less' if v < 0 else 'more'}".replace("%", " %"))
            elif part in ("leading", "padding"):
                out.append(f"{abs(v):.1%} {'less' if v < 0 else 'more'} {part}".replace("%", " %"))
            elif part == "outline":
                out.append(f"outline {abs(v):.1%} {'larger' if v < 0 else 'smaller'}".replace("%", " %"))
        return out


def times_em(length: Any, factor: float) -> Any:
    """A length times a factor, ems too."""
    pt, em = lengths.parse(length)
    parts = [*([f"{pt * factor:.4g}"] if pt or not em else []), *([f"{em * factor:.4g}em"] if em else [])]
    return " + ".join(parts)


def endings(at: Acting, object_id: str, allowed: Allowed | None = None, version: str | None = None) -> list[Ending]:
    """Up to three ways to make the copy of a frame end exactly with it, the nearest to what is first. Raises
    ActError."""
    thing = at.thing(object_id)
    if thing.frame is None:
        raise ActError(f"“{at.label(thing)}” holds no copy")
    if thing.frame.give:
        raise ActError("this frame gives: it ends with its copy anyway")
    if thing.frame.fit_type:
        raise ActError("the type of this frame is fitted: it ends with its copy anyway")
    search = _Search(at, thing, allowed or Allowed(), version)
    if not search.copy.rules or not any(r.get("runs") for r in search.copy.raws):
        raise ActError("there is no copy in this frame yet")
    found = [e for label, mix in MIXES.items() if (e := search.ending(label, mix))]
    if not found:
        over = search.nest([]).leftover_words
        raise ActError(
            f"within these limits "
            f"{'some words stay left over' if over else 'the copy never fills the frame'}; allow more"
        )
    return sorted(found, key=lambda e: (round(e.distance, 1), e.worst))[:OFFERED]
