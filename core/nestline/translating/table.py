"""Copy as a table (CSV, RFC 4180) that translators fill in: a row a paragraph, codes written as {1}bold{/1} and
{2/}."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Mapping

from nestline.errors import NestLineError
from nestline.translating.segments import Code, Span
from nestline.translating.xliff import MOST_BYTES, Home, Letter, Unit

PARAGRAPH_OF = ("copy", "paragraph")
NOTES = ("frame", "room", "changed", "picture")
STATE = "state"
CODE = re.compile(r"\{(/?)([0-9]{1,6})(/?)\}")


def write_table(letter: Letter) -> bytes:
    """A CSV file in UTF-8 with a byte order mark, as spreadsheets read it: words and translation in columns that are
    headed by their versions' names and languages."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(
        [*PARAGRAPH_OF, _head(letter.source, letter.source_language), _head(letter.target, letter.target_language)]
        + [STATE, *NOTES]
    )
    for unit in letter.units:
        assert isinstance(unit, Unit)
        told = dict(unit.notes)
        target = "" if unit.target is None else _written(unit.target, unit.content.codes)
        words = _written(unit.content.spans, unit.content.codes)
        rows.writerow([unit.copy, unit.number + 1, words, target, unit.state, *(told.get(name, "") for name in NOTES)])
    return b"\xef\xbb\xbf" + out.getvalue().encode()


def read_table(content: bytes) -> Letter:
    """What stands in such a table, whatever its columns' order, with commas, semicolons or tabs between. Raises
    NestLineError."""
    if len(content) > MOST_BYTES:
        raise NestLineError(f"this file has {len(content) / 1e6:.0f} MB; there may be {MOST_BYTES / 1e6:.0f}")
    try:
        text = content.decode("utf-16" if content[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig")
    except UnicodeDecodeError:
        raise NestLineError("this table is not UTF-8; save it as “CSV UTF-8”") from None
    first = text.partition("\n")[0]
    parted_by = max(",;\t", key=first.count)
    try:
        rows = list(csv.reader(io.StringIO(text), delimiter=parted_by, strict=True))
    except csv.Error as error:
        raise NestLineError(f"this table is not whole: {error}") from None
    head = [name.strip() for name in rows[0]] if rows else []
    places = {name: head.index(name) for name in PARAGRAPH_OF if name in head}
    words = [
        n
        for n, name in enumerate(head)
        if name not in (*PARAGRAPH_OF, STATE, *NOTES) and re.search(r"\([^()]+\)$", name)
    ]
    if len(places) < len(PARAGRAPH_OF) or len(words) < 2:
        raise NestLineError("this is no table of copy: it needs the columns copy, paragraph, and one for each version")
    (source, source_language), (target, target_language) = (_headed(head[n]) for n in words[:2])
    homes = []
    for number, row in enumerate(rows[1:], 2):
        if not any(cell.strip() for cell in row):
            continue
        row = [*row, *[""] * (len(head) - len(row))]
        at = row[places["paragraph"]].strip()
        if not re.fullmatch("[1-9][0-9]{0,6}", at):
            raise NestLineError(f"row {number} says “{at[:20]}” for a paragraph; it is a figure from 1 on")
        made = row[words[1]]
        homes.append(
            Home(row[places["copy"]], int(at) - 1, _read(row[words[0]]), _read(made) if made.strip() else None)
        )
    return Letter(source, target, source_language, target_language, homes)


def _head(version: str, language: str) -> str:
    return f"{version} ({language})"


def _headed(name: str) -> tuple[str, str]:
    version, _, language = name.rpartition(" (")
    return version, language[:-1]


def _written(spans: Iterable[Span], codes: Mapping[str, Code]) -> str:
    out = []
    for span in spans:
        text = span.text.replace("{", "{{").replace("}", "}}")
        code = codes.get(span.code or "")
        out.append(text if code is None else f"{{{code.id}/}}" if code.alone else f"{{{code.id}}}{text}{{/{code.id}}}")
    return "".join(out)


def _read(text: str) -> tuple[Span, ...]:
    """Codes of a cell. What is no code stays as it is written."""
    out: list[Span] = []
    code: str | None = None
    said: list[str] = []

    def flush() -> None:
        if said:
            out.append(Span("".join(said), code))
            said.clear()

    at = 0
    while at < len(text):
        if text[at : at + 2] in ("{{", "}}"):
            said.append(text[at])
            at += 2
        elif found := CODE.match(text, at):
            flush()
            closes, id, alone = found.groups()
            if alone:
                out.append(Span("", id))
            else:
                code = None if closes else id
            at = found.end()
        else:
            said.append(text[at])
            at += 1
    flush()
    return tuple(out)
