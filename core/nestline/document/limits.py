"""How much a document may hold: generous for real work, and checked before anything is worked out.

docs/limits.md says the same to users; a test holds both together.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from typing import Any, NoReturn

from nestline.errors import DocumentError, NestLineError, json_path

MOST_JSON = 20_000_000
MOST_PAGES = 500
MOST_OBJECTS = 10_000
MOST_PARAGRAPHS = 50_000
MOST_LETTERS_OF_A_PARAGRAPH = 100_000
MOST_LETTERS = 3_000_000
MOST_COPIES = 5_000
MOST_DEEP = 40
"""How deep groups, and all parts of a document, may nest."""


def parse(content: str | bytes, where: str) -> Any:
    """JSON as documents may have it: UTF-8, finite figures, each name of a part once, no U+0000 and no half of a
    surrogate pair. Raises NestLineError in one line."""
    if len(content) > MOST_JSON:
        raise NestLineError(
            f"{where} has {len(content) / 1e6:.0f} MB of JSON; at most {MOST_JSON / 1e6:.0f} MB can be read"
        )

    def refuse(name: str) -> NoReturn:
        raise NestLineError(f"{where}: {name} is not a figure JSON knows")

    def once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        found = dict(pairs)
        if len(found) < len(pairs):
            names = [name for name, _ in pairs]
            twice = next(name for name in names if names.count(name) > 1)
            raise NestLineError(f"{where}: “{twice[:80]}” is there twice in one part")
        return found

    try:
        text = content if isinstance(content, str) else content.decode("utf-8-sig")
        found = json.loads(text, parse_constant=refuse, object_pairs_hook=once)
    except json.JSONDecodeError as error:
        raise NestLineError(f"{where}: line {error.lineno}, column {error.colno}: not JSON: {error.msg}") from None
    except (UnicodeDecodeError, RecursionError):
        raise NestLineError(f"{where} is not a JSON document") from None
    except ValueError:  # a figure of thousands of digits
        raise NestLineError(f"{where}: a figure has more digits than any figure of a document") from None
    check_values(found)
    return found


def check_values(part: Any, path: tuple[str | int, ...] = ()) -> None:
    """Raises DocumentError for letters that cannot be kept, and for what nests too deep."""
    if len(path) > MOST_DEEP:
        raise DocumentError(json_path(path), f"nests more than {MOST_DEEP} parts into each other")
    if isinstance(part, str):
        _check_text(part, path)
    elif isinstance(part, dict):
        for name, value in part.items():
            _check_text(name, path)
            check_values(value, (*path, name))
    elif isinstance(part, list):
        for index, value in enumerate(part):
            check_values(value, (*path, index))


def _check_text(text: str, path: tuple[str | int, ...]) -> None:
    if "\0" in text:
        raise DocumentError(json_path(path), "holds U+0000, which cannot be kept; take it out")
    try:
        text.encode()
    except UnicodeEncodeError:
        raise DocumentError(
            json_path(path), "holds half of a surrogate pair, which is no letter; take it out"
        ) from None


def check_counts(raw: Any) -> None:
    """Raises DocumentError where a raw document holds more than it may. What is not well formed is left to the
    reader."""
    if not isinstance(raw, dict):
        return
    pages = _items(raw.get("pages"))
    _at_most(len(pages), MOST_PAGES, "pages", ("pages",))
    _at_most(sum(_things(page) for page in pages), MOST_OBJECTS, "objects", ("pages",))
    copies = raw.get("copies")
    copies = copies if isinstance(copies, dict) else {}
    _at_most(len(copies), MOST_COPIES, "copies", ("copies",))
    letters = count = 0
    for path, paragraph in _paragraphs(copies):
        count += 1
        here = sum(len(run["text"]) for run in _items(paragraph.get("runs")) if isinstance(run.get("text"), str))
        _at_most(here, MOST_LETTERS_OF_A_PARAGRAPH, "letters in a paragraph", path)
        letters += here
    _at_most(count, MOST_PARAGRAPHS, "paragraphs", ("copies",))
    _at_most(letters, MOST_LETTERS, "letters", ("copies",))


def _at_most(count: int, most: int, what: str, path: tuple[str | int, ...]) -> None:
    if count > most:
        raise DocumentError(json_path(path), f"holds {count:,} {what}; there may be {most:,}")


def _items(value: Any) -> Sequence[dict[str, Any]]:
    return [one for one in value if isinstance(one, dict)] if isinstance(value, list) else []


def _things(part: dict[str, Any]) -> int:
    inner = _items(part.get("objects"))
    return len(inner) + sum(_things(one) for one in inner if "objects" in one)


def _paragraphs(copies: dict[str, Any]) -> Iterator[tuple[tuple[str | int, ...], dict[str, Any]]]:
    for name, copy in copies.items():
        versions = copy.get("versions") if isinstance(copy, dict) else None
        for version, content in versions.items() if isinstance(versions, dict) else ():
            for n, one in enumerate(_items(content.get("paragraphs") if isinstance(content, dict) else None)):
                yield ("copies", name, "versions", version, "paragraphs", n), one
