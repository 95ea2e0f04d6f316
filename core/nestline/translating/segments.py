"""A paragraph as a translator is given it: its words, with codes where its look changes and for what is no word."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

from nestline.document.edits import Raw
from nestline.document.model import OBJECT

LINE_BREAK = "\u2028"
Kind = Literal["look", "object", "page-number", "break"]


@dataclass(frozen=True)
class Code:
    """What a code stands for: words of another look, an object in the copy, a page number, a line's forced end."""

    id: str
    kind: Kind
    run: Raw
    """The run, without its text."""

    @property
    def alone(self) -> bool:
        """Whether it holds no words."""
        return self.kind != "look"

    @property
    def needed(self) -> bool:
        """Whether a translation without it would lose something of the document."""
        return self.kind in ("object", "page-number")

    @property
    def said(self) -> str:
        """What it is, for who translates."""
        match self.kind:
            case "object":
                return "an object in the copy"
            case "page-number":
                return "a page number"
            case "break":
                return "a forced line end"
        named = [name for name in ("bold", "italic", "underline") if name in _marks(self.run)]
        return " ".join(named) or "words of another look"


@dataclass(frozen=True)
class Span:
    """Words of one look, or a code that stands alone: `code` is then its id, and `text` empty."""

    text: str
    code: str | None = None


@dataclass(frozen=True, eq=False)
class Content:
    """A paragraph's words and codes. `main` is the look of words outside all codes."""

    spans: tuple[Span, ...]
    codes: Mapping[str, Code]
    main: Raw

    @cached_property
    def text(self) -> str:
        """The words alone, U+FFFC for an object or a page number, U+2028 for a forced line end."""
        return told(self.spans, self.codes)

    def runs(self, spans: Iterable[Span]) -> list[Raw]:
        """Runs of a translation of it, its codes' looks on their words."""
        out: list[Raw] = []
        for span in spans:
            code = self.codes.get(span.code or "")
            if code is not None and code.kind in ("object", "page-number"):
                out.append(dict(code.run))
                continue
            look = self.main if code is None else code.run
            text = LINE_BREAK if code is not None and code.kind == "break" else span.text
            if out and "text" in out[-1] and {k: v for k, v in out[-1].items() if k != "text"} == look:
                out[-1]["text"] += text
            elif text:
                out.append({**look, "text": text})
        return out


def told(spans: Iterable[Span], codes: Mapping[str, Code]) -> str:
    """The words of spans, a sign for each code that stands alone."""
    out = []
    for span in spans:
        code = codes.get(span.code or "")
        out.append(span.text if code is None or not code.alone else LINE_BREAK if code.kind == "break" else OBJECT)
    return "".join(out)


def content_of(paragraph: Raw) -> Content:
    """A paragraph of the open format as words and codes. The look of most of its letters needs no code."""
    runs: Sequence[Raw] = paragraph.get("runs", [])
    looks: list[Raw] = []
    letters: Counter[int] = Counter()
    for run in runs:
        if run.get("text"):
            look = _look(run)
            if look not in looks:
                looks.append(look)
            letters[looks.index(look)] += len(run["text"])
    main = looks[letters.most_common(1)[0][0]] if letters else {}
    codes: dict[str, Code] = {}
    spans: list[Span] = []

    def code(kind: Kind, run: Raw) -> str:
        id = str(len(codes) + 1)
        codes[id] = Code(id, kind, run)
        return id

    for run in runs:
        if run.get("object") or run.get("field"):
            spans.append(Span("", code("object" if run.get("object") else "page-number", _look(run))))
            continue
        look = _look(run)
        own = None if look == main else code("look", look)
        parts = str(run.get("text", "")).split(LINE_BREAK)
        for number, part in enumerate(parts):
            if number:
                spans.append(Span("", code("break", look)))
            if part:
                spans.append(Span(part, own))
    return Content(tuple(spans), codes, main)


def _look(run: Raw) -> Raw:
    return {name: value for name, value in run.items() if name != "text"}


def _marks(look: Mapping[str, Any]) -> set[str]:
    found = set()
    weight = look.get("weight")
    if isinstance(weight, int | float) and weight >= 600:
        found.add("bold")
    if look.get("slope") == "italic":
        found.add("italic")
    if look.get("underline"):
        found.add("underline")
    return found


def problems_of(content: Content, spans: Sequence[Span]) -> tuple[list[str], list[str]]:
    """What is wrong with a translation's codes: what keeps it from being taken, and what is only told."""
    wrong, told_only = [], []
    counts = Counter(span.code for span in spans if span.code is not None)
    for id in counts:
        if id not in content.codes:
            wrong.append(f"it has a code {id} that the words it was made from have not")
    for id, code in content.codes.items():
        if code.needed and not counts[id]:
            wrong.append(f"the code {id} is missing: {code.said}")
        elif code.needed and counts[id] > 1:
            wrong.append(f"the code {id} stands there {counts[id]} times: {code.said}")
        elif code.kind == "look" and not counts[id]:
            told_only.append(f"the code {id} is missing: {code.said} have no look of their own")
    return wrong, told_only
