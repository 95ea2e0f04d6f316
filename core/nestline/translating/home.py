"""What comes home from a translator, held against the document: what it changes, and what cannot be taken."""

from __future__ import annotations

import io
import zipfile
from collections import Counter
from collections.abc import Collection, Sequence
from dataclasses import dataclass

from nestline.document import limits
from nestline.document.edits import Operation, Raw
from nestline.document.reading import Document
from nestline.errors import NestLineError
from nestline.translating.segments import Content, content_of, problems_of, told
from nestline.translating.states import pairs, paragraphs_of, recorded, source_of, texts_of
from nestline.translating.table import read_table
from nestline.translating.xliff import MOST_BYTES, Home, Letter, read_xliff


@dataclass(frozen=True)
class Change:
    """A paragraph that came home: the words it was made from, what stands for them now and what would. `problems` keep
    it from being taken, `notes` do not; `stale` says that its source has other words by now."""

    copy: str
    number: int
    source: str
    before: str
    after: str
    problems: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()
    stale: bool = False

    @property
    def id(self) -> str:
        return f"{self.copy}/{self.number}"


@dataclass(frozen=True)
class Homecoming:
    """All that came home for a version, and the operations that take what can be taken."""

    version: str
    language: str
    changes: tuple[Change, ...]
    same: int
    """Paragraphs whose translation stands there already."""
    empty: int
    """Paragraphs that came home without one."""
    operations: tuple[Operation, ...]


def read_letter(name: str, content: bytes) -> Letter:
    """A file that came home: XLIFF, a table, or an archive with one XLIFF file in it. Raises NestLineError."""
    if content[:4] == b"PK\x03\x04":
        content = _unpacked(content)
    if content.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"<" or b"<\x00?" in content[:8] or b"\x00<" in content[:8]:
        return read_xliff(content)
    if name.lower().endswith((".xlf", ".xliff", ".zip")):
        return read_xliff(content)
    return read_table(content)


def _unpacked(content: bytes) -> bytes:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            found = [one for one in archive.infolist() if one.filename.lower().endswith((".xlf", ".xliff"))]
            if len(found) != 1:
                raise NestLineError(f"this archive holds {len(found)} XLIFF files; one is needed")
            with archive.open(found[0]) as file:
                inner = file.read(MOST_BYTES + 1)
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, OSError, EOFError, ValueError):
        raise NestLineError("this archive is not whole") from None
    except Exception as error:
        if type(error).__module__ == "zlib":
            raise NestLineError("this archive is not whole") from None
        raise
    if len(inner) > MOST_BYTES:
        raise NestLineError(f"its XLIFF file has more than {MOST_BYTES / 1e6:.0f} MB")
    return inner


def homecoming(
    document: Document, letter: Letter, version: str | None = None, only: Collection[str] | None = None
) -> Homecoming:
    """What a letter changes in a version: that which it names, else one of its language. `only` are the changes to be
    taken.

    Raises NestLineError where it is of no copy of the document.
    """
    target = version or letter.target or _of_language(document, letter.target_language)
    homes: dict[str, list[Home]] = {}
    for home in letter.units:
        assert isinstance(home, Home)
        homes.setdefault(home.copy, []).append(home)
    if homes and not any(copy in document.copies for copy in homes):
        raise NestLineError("none of the copies that this file translates is in this document")
    changes: list[Change] = []
    operations: list[Operation] = []
    same = empty = 0
    for copy, units in homes.items():
        if copy not in document.copies:
            changes += [_lost(one, f"there is no copy “{copy}” any more") for one in units if one.target is not None]
            continue
        source = letter.source if letter.source in document.copies[copy] else source_of(document, copy, target)
        if source is None or source == target:
            changes += [_lost(one, f"“{copy}” has no version that this could translate") for one in units]
            continue
        contents = [content_of(raw) for raw in paragraphs_of(document, copy, source)]
        there = texts_of(paragraphs_of(document, copy, target))
        stands = {p.number: there[p.there] for p in pairs(document, copy, source, target) if p.there is not None}
        where = _placed(units, contents)
        made: dict[int, Raw] = {}
        texts: dict[int, str] = {}
        kept: set[str] = set()
        for home in units:
            if home.target is None:
                empty += 1
                continue
            number = where.get(home.number)
            if number is None or number in made:
                why = (
                    "it came home twice" if number in made else "the paragraph that it translates is not there any more"
                )
                changes.append(_lost(home, why))
                continue
            content = contents[number]
            change = _change(home, content, number, stands.get(number, ""))
            takes = not change.problems and (only is None or change.id in only)
            if takes:
                made[number] = {"runs": content.runs(home.target)}
                texts[number] = told(home.source, content.codes)
                if change.after == texts[number]:
                    kept.add(change.after)
            if change.before == change.after and not change.problems:
                same += 1
            else:
                changes.append(change)
        if made:
            operations += recorded(document, copy, target, source, made, texts, kept)
    if target and not any(target in versions for versions in document.copies.values()):
        for operation in operations:
            if operation["at"][3:] == [target]:
                operation["value"]["language"] = letter.target_language or document.language_of(target)
    return Homecoming(target, letter.target_language, tuple(changes), same, empty, tuple(operations))


def _of_language(document: Document, language: str) -> str:
    for versions in document.copies.values():
        for name, version in versions.items():
            if version.language.lower() == language.lower():
                return name
    if not language:
        raise NestLineError("this file does not say which language it is in")
    return language


def _lost(home: Home, why: str) -> Change:
    spans = home.target or ()
    return Change(home.copy, home.number, told(home.source, {}), "", told(spans, {}), (why,))


def _placed(units: Sequence[Home], contents: Sequence[Content]) -> dict[int, int]:
    """Which paragraph each that went out is by now: its own place where the words are the same, else the only other
    with them; else the one that stands to the last that was found as it stood then."""
    texts = [content.text for content in contents]
    counts = Counter(texts)
    out: dict[int, int] = {}

    def same(home: Home, at: int) -> bool:
        return at < len(texts) and told(home.source, contents[at].codes) == texts[at]

    rest = []
    for home in units:
        if same(home, home.number):
            out[home.number] = home.number
        else:
            rest.append(home)
    taken = set(out.values())
    lost = []
    for home in rest:
        like = [n for n in range(len(texts)) if n not in taken and counts[texts[n]] == 1 and same(home, n)]
        if like:
            out[home.number] = like[0]
            taken.add(like[0])
        else:
            lost.append(home)
    for home in lost:
        before = max((n for n in out if n < home.number), default=None)
        at = home.number if before is None else out[before] + home.number - before
        if at < len(texts) and at not in taken:
            out[home.number] = at
            taken.add(at)
    return out


def _change(home: Home, content: Content, number: int, stands: str) -> Change:
    assert home.target is not None
    after = told(home.target, content.codes)
    wrong, notes = problems_of(content, home.target)
    if len(after) > limits.MOST_LETTERS_OF_A_PARAGRAPH:
        wrong.append(f"it has {len(after):,} letters; there may be {limits.MOST_LETTERS_OF_A_PARAGRAPH:,}")
    if bad := sorted({letter for letter in after if ord(letter) < 32 and letter != "\t"}):
        wrong.append(f"it holds signs that are no letters (U+{ord(bad[0]):04X}), maybe line ends: write it in one line")
    if not after.strip() and content.text.strip():
        wrong.append("it holds no words")
    source = told(home.source, content.codes)
    stale = source != content.text
    if stale:
        notes.append("the words that it was made from have changed since")
    return Change(home.copy, number, source, stands, after, tuple(wrong), tuple(notes), stale)
