"""What the tests share: documents made in a line, and random outlines, copies and wraps."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from hypothesis import settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from draws import SEED, cases
from nestline.document.model import PageObject
from nestline.errors import NestLineError
from nestline.nesting.placed import PlacedNest
from nestline.outlines.polygons import Region
from nestline.studio import Studio

settings.register_profile("nest", deadline=None, max_examples=cases(30), derandomize=SEED == 0, database=None)
settings.load_profile("nest")


STORY = (
    "Every year in late summer the wind comes back to Quarrowby Common, and the whole town walks up to meet it. Bring "
    "string, bring friends, and bring whatever you built at the kitchen table. At noon the long dragon goes "
    "up from the "
    "signal tower: it takes nine people to hold and one child to let go."
)


def no_pictures(file: str) -> Any:
    raise NestLineError(f"there is no picture “{file}”")


@lru_cache(maxsize=1)
def studio() -> Studio:
    """One engine for all tests."""
    return Studio(no_pictures)


def paragraph(text: str, **rules: Any) -> dict[str, Any]:
    return {"runs": [{"text": text}], **rules}


def document(
    objects: list[dict[str, Any]], *paragraphs: dict[str, Any], width: float = 900, height: float = 900, **head: Any
) -> dict[str, Any]:
    """A one-page document whose copy is called `story`."""
    copies = {"story": {"versions": {"en": {"language": "en", "paragraphs": list(paragraphs)}}}} if paragraphs else {}
    return {
        "format": "nest-line",
        "version": 1,
        "copies": copies,
        "pages": [{"width": width, "height": height, "objects": objects}],
        **head,
    }


def frame(
    kind: str = "rectangle", x: float = 100, y: float = 100, width: float = 300, height: float = 280, **rules: Any
) -> dict[str, Any]:
    """An object with copy; `outline` gives more than a kind."""
    outline = rules.pop("outline", {"kind": kind})
    thing = {k: rules.pop(k) for k in ("id", "turn", "pivot", "fill", "stroke") if k in rules}
    return {
        "id": "f",
        "x": x,
        "y": y,
        "width": width,
        "height": height,
        "outline": outline,
        **thing,
        "frame": {"copy": "story", **rules},
    }


def obstacle(
    name: str = "w",
    x: float = 200,
    y: float = 180,
    width: float = 80,
    height: float = 80,
    kind: str = "ellipse",
    **more: Any,
) -> dict[str, Any]:
    wrap = {
        "by": "outline",
        "clearance": more.pop("clearance", 6),
        **({"sides": more.pop("sides")} if "sides" in more else {}),
    }
    return {
        "id": name,
        "x": x,
        "y": y,
        "width": width,
        "height": height,
        "outline": {"kind": kind},
        "wrap": wrap,
        **more,
    }


def nested(raw: dict[str, Any]) -> list[PlacedNest]:
    return studio().nest(studio().read(raw))


def nest_of(raw: dict[str, Any]) -> PlacedNest:
    return nested(raw)[0]


def thing_of(raw: dict[str, Any]) -> PageObject:
    return PageObject.model_validate(raw)


KINDS = (
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
)

words = st.text(alphabet="abcdefghilmnoprstuvw", min_size=1, max_size=11)
texts = st.lists(words, min_size=1, max_size=70).map(" ".join)
lengths = st.integers(0, 400).map(lambda n: n / 10)


@st.composite
def documents(draw: st.DrawFn) -> dict[str, Any]:
    """A random frame with random copy among random wraps."""
    rules: dict[str, Any] = {
        "padding": draw(st.integers(0, 25)),
        "sit": draw(st.sampled_from(["top", "middle", "bottom"])),
        "hang": draw(st.sampled_from(["ascender", "cap", "ex", "line-box", 9])),
        "stand": draw(st.sampled_from(["baseline", "descender", "line-box"])),
        "band": draw(st.sampled_from(["letters", "line-box"])),
        "least_slot": draw(st.sampled_from(["3em", 0, 20])),
    }
    turn = draw(st.sampled_from([0, 0, 0, 17, -40, 90]))
    setting = draw(st.sampled_from(["level", "turned"]))
    thing = frame(
        draw(st.sampled_from(KINDS)),
        width=draw(st.integers(60, 420)),
        height=draw(st.integers(40, 420)),
        turn=turn,
        setting=setting,
        **rules,
    )
    wraps = [
        obstacle(
            f"w{i}", draw(st.integers(60, 420)), draw(st.integers(60, 420)), draw(st.integers(20, 160)),
            draw(st.integers(20, 160)), draw(st.sampled_from(KINDS)), clearance=draw(st.integers(0, 20)),
            sides=draw(st.sampled_from(["both", "both", "left", "right", "widest"])), turn=draw(st.sampled_from([0,
              33])),
        )
        for i in range(draw(st.integers(0, 3)))
    ]  # fmt: skip
    align = draw(st.sampled_from(["start", "center", "end", "justify"]))
    paragraphs = [
        paragraph(
            text,
            align=align,
            size=draw(st.sampled_from([8, 11, 16])),
            space_after=draw(st.sampled_from([0, 6])),
            breaking=draw(st.sampled_from(["optimal", "first-fit", "balanced", "by-sense", "widening", "tapering"])),
            hyphenate=draw(st.booleans()),
        )
        for text in draw(st.lists(texts, min_size=1, max_size=3))
    ]
    return document([thing, *wraps], *paragraphs)


def area(region: Region) -> Polygon:
    """A region as a Shapely area, worked out apart from the engine: symmetric difference of its rings."""
    rings: list[list[tuple[float, float]]] = []
    for edge, start in zip(region.edges, region.starts, strict=True):
        if start:
            rings.append([])
        rings[-1].append((edge[0], edge[1]))
    whole = Polygon()
    for ring in rings:
        whole = whole.symmetric_difference(Polygon(ring).buffer(0))
    return whole
