"""Strain: the document under shorter or longer copy, as it would come home from a translation, before there is one.

How much a text grows depends on its length: the shorter, the more. The table is IBM's, as quoted by the W3C's article
"Text size in translation" (from memory), each row by its middle. A strain of +30 per cent is the table itself, of +60
twice that, and so on.
"""

from __future__ import annotations

from dataclasses import dataclass

from nestline.acts.acting import Acting
from nestline.acts.offers import TryKind, tries
from nestline.copy.dummy import PROSE, dummy_paragraphs, has_dummy
from nestline.copy.styles import DEFAULT_SIZE
from nestline.document import lengths
from nestline.document.edits import Operation, Raw, apply
from nestline.document.reading import Document
from nestline.studio import Studio

GROWTH = ((10, 1.5), (20, 0.9), (30, 0.7), (50, 0.5), (70, 0.355))
"""Texts of so many letters at most grow by such a share at +30 per cent; longer ones by LONG."""
LONG = 0.3
USUAL = 30.0
LEAST, GREATEST = -50.0, 200.0
LARGEST_TYPE = 100.0
"""Type is made larger by so many per cent at most; 20 is what readers of large type ask for (common practice)."""
TONGUES = tuple(PROSE)
"""Languages that copy is made up in."""
SHOWN = (0.0, 15.0, 30.0, 60.0)
"""The strains of the page of small pictures."""
MOST_SET = 20
"""So often a document is set to find how far its frames hold."""
STEPS = (0.0, 5.0, 10.0, 15.0, 20.0, 30.0, 40.0, 60.0, 80.0, 100.0)
"""Strains that are tried for how far frames hold."""


def growth(letters: int, by: float) -> float:
    """By which share a text of so many letters grows at a strain in per cent; what shrinks, shrinks by the strain
    itself."""
    if by <= 0:
        return by / 100
    share = next((share for most, share in GROWTH if letters <= most), LONG)
    return share * by / USUAL


@dataclass(frozen=True)
class Strain:
    """What a document is put under: copy longer `by` per cent, in the words of a language, type larger by per cent,
    another sheet (its width and height as written), pictures that have not come yet."""

    by: float = 0.0
    language: str | None = None
    type: float = 0.0
    sheet: tuple[str, str] | None = None
    pictures: bool = True

    @property
    def said(self) -> str:
        """In a few words."""
        if self == Strain():
            return "as it is"
        parts = [f"{self.by:+g} %".replace("-", "−")] if self.by else []
        parts += [f"type {self.type:+g} %"] if self.type else []
        parts += [" × ".join(self.sheet)] if self.sheet else []
        return ", ".join(
            parts + ([] if self.pictures else ["no pictures"]) + ([self.language] if self.language else [])
        )


def strained(document: Document, strain: Strain, version: str | None = None) -> list[Operation]:
    """What puts a document under strain, as operations that are never stored."""
    out: list[Operation] = []
    plain = _plain_size(document)
    for name in document.copies:
        key, content = document.version_of(name, version)
        raws = document.raw["copies"][name]["versions"][key]["paragraphs"]
        tongue = strain.language or content.language
        made = [_paragraph(raw, strain.by, tongue, strain.language is not None) for raw in raws]
        if strain.type:
            made = [_larger_paragraph(raw, strain.type, plain) for raw in made]
        path: list[str | int] = ["copies", name, "versions", key, "paragraphs"]
        if made != raws:
            out.append({"do": "put", "at": path, "value": made})
    if strain.type:
        out += _larger_styles(document, strain.type)
    if strain.sheet is not None:
        for number in range(len(document.pages)):
            out += [
                {"do": "put", "at": ["pages", number, field], "value": value}
                for field, value in zip(("width", "height"), strain.sheet, strict=True)
            ]
    if not strain.pictures:
        out += [
            {"do": "put", "at": ["objects", thing.id, "hidden"], "value": True}
            for _, thing in document.objects()
            if thing.picture is not None and not thing.hidden
        ]
    return out


def tries_under(at: Acting, object_id: str, kind: TryKind, version: str | None, by: float) -> list[Raw]:
    """The ways to try a frame in (offers.tries), each with what shows it with copy `by` per cent longer: `operations`
    are what is taken, `shown` is never stored. Raises ActError."""
    found = tries(at, object_id, kind, version)
    if not by:
        return [{**one, "shown": one["operations"]} for one in found]
    under = strained(at.document, Strain(by), version)
    longer = Acting(at.studio, at.studio.read(apply(at.document.raw, under).document))
    shown = tries(longer, object_id, kind, version)
    return [{**one, "shown": [*under, *other["operations"]]} for one, other in zip(found, shown, strict=True)]


def _plain_size(document: Document) -> set[str | None]:
    """Styles that say no size, None for no style at all, where no recipe says one either."""
    recipes = document.raw.get("recipes", {}).values()
    if any("size" in (recipe.get("text") or {}) for recipe in recipes):
        return set()
    return {None, *(name for name, style in document.raw.get("styles", {}).items() if "size" not in style)}


def _larger_paragraph(raw: Raw, by: float, plain: set[str | None]) -> Raw:
    made = _larger({**raw, "runs": [_larger(run, by) for run in raw.get("runs", [])]}, by)
    if "size" not in raw and raw.get("style") in plain:
        made["size"] = round(DEFAULT_SIZE * (1 + by / 100), 3)
    return made


def _larger(raw: Raw, by: float) -> Raw:
    """Sizes and leadings of some rules larger by per cent; those in ems follow by themselves."""
    out = dict(raw)
    for field in ("size", "leading"):
        if field in raw and raw[field] is not None:
            points, ems = lengths.parse(raw[field])
            if not ems:
                out[field] = round(points * (1 + by / 100), 3)
    return out


def _larger_styles(document: Document, by: float) -> list[Operation]:
    styles = [(["styles", name], style) for name, style in document.raw.get("styles", {}).items()]
    styles += [
        (["recipes", name, "text"], recipe["text"])
        for name, recipe in document.raw.get("recipes", {}).items()
        if recipe.get("text")
    ]
    made = [(path, style, _larger(style, by)) for path, style in styles]
    return [{"do": "put", "at": path, "value": larger} for path, style, larger in made if larger != style]


def _paragraph(raw: Raw, by: float, language: str, other: bool) -> Raw:
    """A paragraph longer or shorter, its looks kept: words are put behind its last letters, or taken away there."""
    runs = raw.get("runs", [])
    text = "".join(run.get("text", "") for run in runs)
    letters = len(text)
    # Figures are not translated.
    if not any(letter.isalpha() for letter in text) or not (by or other):
        return raw
    wanted = max(round(letters * (1 + growth(letters, by))), 1)
    if other:
        first = next(n for n, run in enumerate(runs) if run.get("text"))
        # What is no words stays where it stands: before them or behind.
        kept = [[run for run in part if not run.get("text")] for part in (runs[:first], runs[first + 1 :])]
        return {
            **raw,
            "language": language,
            "runs": [*kept[0], {**runs[first], "text": _words(language, wanted)}, *kept[1]],
        }
    if wanted <= letters:
        return {**raw, "runs": _cut(runs, wanted)}
    last = max(n for n, run in enumerate(runs) if run.get("text"))
    more = {**runs[last], "text": f"{runs[last]['text']} {_words(language, wanted - letters - 1)}".rstrip()}
    return {**raw, "runs": [*runs[:last], more, *runs[last + 1 :]]}


def _cut(runs: list[Raw], letters: int) -> list[Raw]:
    """The first letters of runs, to a word's end; what is no text stays."""
    out = []
    for run in runs:
        text = run.get("text")
        if text is None:
            out.append(run)
            continue
        kept = text if len(text) <= letters else (text[: letters + 1].rpartition(" ")[0] or text[:letters])
        letters = max(letters - len(text), 0)
        if kept:
            out.append({**run, "text": kept})
    return out


def _words(language: str, letters: int) -> str:
    """So many letters of made-up prose, to a whole word."""
    tongue = language if has_dummy(language) else "en"
    text = " ".join(dummy_paragraphs(tongue, letters // 4 + 12))
    if letters >= len(text):
        return text
    cut = text[: max(letters, 1)]
    return cut if text[len(cut)] == " " else (cut.rpartition(" ")[0] or cut)


@dataclass(frozen=True)
class Holds:
    """Up to which strain a frame holds its copy, in per cent: None where it holds the greatest that is tried."""

    object: str
    up_to: float | None


def holds(studio: Studio, document: Document, version: str | None = None) -> list[Holds]:
    """For each frame with copy the last whole per cent at which nothing is left over; those that break first come
    first. A frame that lacks room as it is holds up to a strain below nothing. It is looked for between two of STEPS by
    halves, for those that break first before others, until the document was set MOST_SET times: what is left is told by
    its step."""
    known: dict[float, set[str]] = {}
    frames: dict[str, None] = {}

    def broken_at(by: float) -> set[str]:
        if by not in known:
            after = studio.read(apply(document.raw, strained(document, Strain(by), version)).document)
            nests = studio.nest(after, version)
            frames.update(dict.fromkeys(placed.thing.id for placed in nests))
            known[by] = {placed.thing.id for placed in nests if placed.nest.leftover_words and placed.nest.mark is None}
        return known[by]

    first: dict[str, tuple[float, float]] = {}
    for before, by in zip((-1.0, *STEPS), STEPS, strict=False):
        for id in broken_at(by):
            first.setdefault(id, (before, by))
        if len(first) == len(frames):
            break
    found = []
    for id in sorted(frames, key=lambda one: first.get(one, (GREATEST, GREATEST))):
        if id not in first:
            found.append(Holds(id, None))
            continue
        low, high = first[id]
        while high - low > 1 and (len(known) < MOST_SET or float((low + high) // 2) in known):
            middle = float((low + high) // 2)
            low, high = (low, middle) if id in broken_at(middle) else (middle, high)
        found.append(Holds(id, low))
    return sorted(found, key=lambda one: GREATEST if one.up_to is None else one.up_to)
