"""Documents in and out: as JSON, or as a zip archive with the pictures beside it."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Callable, Iterator
from pathlib import PurePosixPath
from typing import Any

from django.db import transaction

from assets.models import Picture
from assets.store import keep_picture, picture_of
from documents.models import Document
from documents.store import Raw, create
from nestline.document import limits
from nestline.errors import BROKEN_ARCHIVE, NestLineError
from nestline.pictures.files import MOST_BYTES

MOST_PARTS = 500
MOST_UNPACKED = 400_000_000
"""Bytes of all parts of an archive together; its document and each picture have limits of their own."""


def as_json(raw: Raw) -> bytes:
    return json.dumps(raw, ensure_ascii=False, indent=1).encode()


Tell = Callable[[float], None]
"""Told how far something is, from 0 to 1."""


def as_archive(owner_id: int, raw: Raw, tell: Tell = lambda share: None) -> bytes:
    """The document and its pictures as a zip: `document.json` and `pictures/…`."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("document.json", as_json(raw))
        files = files_of(raw)
        for number, file in enumerate(files):
            tell(number / len(files))
            archive.writestr(file, picture_of(owner_id, file).content)
    return out.getvalue()


def files_of(raw: Raw) -> list[str]:
    """The files of all pictures and masks that a document names."""
    return sorted({thing[part][field] for thing, part, field in _file_places(raw)})


def bring_in(owner_id: int, name: str, content: bytes, tell: Tell = lambda share: None) -> Document:
    """Import a document from JSON or a zip archive of it. Raises NestLineError; then nothing is kept."""
    pictures: dict[str, bytes] = {}
    if content[:4] == b"PK\x03\x04":
        content, pictures = _unpacked(content)
    raw = limits.parse(content, name.replace("\0", "")[:200] or "the file")
    if not isinstance(raw, dict) or raw.get("format") != "nest-line":
        raise NestLineError("this is not a Nest Line document: its JSON has no “format”: “nest-line”")
    limits.check_counts(raw)
    with transaction.atomic():
        raw = _with_own_pictures(owner_id, raw, pictures, tell)
        _with_boxes(raw)
        return create(owner_id, raw)


def _unpacked(content: bytes) -> tuple[bytes, dict[str, bytes]]:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            parts = [p for p in archive.infolist() if not p.is_dir()]
            if len(parts) > MOST_PARTS:
                raise NestLineError(f"the archive has {len(parts)} parts; there may be {MOST_PARTS}")
            whole = sum(p.file_size for p in parts)
            if whole > MOST_UNPACKED:
                raise NestLineError(
                    f"the archive unpacks to {whole / 1e6:.0f} MB; at most {MOST_UNPACKED / 1e6:.0f} MB can be"
                )
            files = {p.filename: _part(archive, p) for p in parts}
    except NestLineError:
        raise
    except BROKEN_ARCHIVE:
        raise NestLineError("the archive is damaged or not a zip file") from None
    documents = [name for name in files if name.endswith(".json")]
    if len(documents) != 1:
        raise NestLineError("the archive needs one .json file, the document, and its pictures beside it")
    folder = PurePosixPath(documents[0]).parent
    pictures = {
        str(PurePosixPath(n).relative_to(folder)): c
        for n, c in files.items()
        if PurePosixPath(n).is_relative_to(folder)
    }
    return files[documents[0]], pictures


def _part(archive: zipfile.ZipFile, part: zipfile.ZipInfo) -> bytes:
    """One part, read to its limit: what an archive says of its size need not be true."""
    most = limits.MOST_JSON if part.filename.endswith(".json") else MOST_BYTES
    with archive.open(part) as file:
        content = file.read(most + 1)
    if len(content) > most:
        raise NestLineError(
            f"“{part.filename[:80]}” in the archive has more than {most / 1e6:.0f} MB, which is the most"
        )
    return content


def _things(raw: Raw) -> Iterator[Raw]:
    """Every object, those in groups too; leaves what is not well formed to the reader."""

    def walk(things: Any) -> Iterator[Raw]:
        for thing in _items(things):
            if "objects" in thing:
                yield from walk(thing["objects"])
            else:
                yield thing

    for page in _items(raw.get("pages")):
        yield from walk(page.get("objects"))


def _file_places(raw: Raw) -> Iterator[tuple[Raw, str, str]]:
    """Every place that names a picture's file: the object, its part, the field in that."""
    for thing in _things(raw):
        for part, field in (("picture", "file"), ("contour", "mask")):
            value = thing.get(part)
            if isinstance(value, dict) and isinstance(value.get(field), str):
                yield thing, part, field


def _items(value: Any) -> list[Raw]:
    return [v for v in value if isinstance(v, dict)] if isinstance(value, list) else []


def _with_own_pictures(owner_id: int, raw: Raw, pictures: dict[str, bytes], tell: Tell) -> Raw:
    kept: dict[str, Picture] = {}
    places = list(_file_places(raw))
    for number, (thing, part, field) in enumerate(places):
        tell(0.1 + 0.5 * number / len(places))
        file = thing[part][field]
        if file in pictures:
            if file not in kept:
                kept[file] = keep_picture(owner_id, file, pictures[file])
            thing[part] = {**thing[part], field: kept[file].file}
    return raw


def _with_boxes(raw: Raw) -> None:
    """Path data without a box is drawn in the object's size; say so, since the object can be sized from now on."""
    from nestline.document import lengths

    for thing in _things(raw):
        outline = thing.get("outline")
        if isinstance(outline, dict) and outline.get("kind") == "path" and not outline.get("box"):
            try:
                outline["box"] = [lengths.points(thing["width"]), lengths.points(thing["height"])]
            except (KeyError, TypeError, lengths.LengthError):
                continue
