"""Files that are kept: pictures and fonts that users bring, the shelf, what jobs take and give.

Where they are is Django's storage (STORAGES["default"]): a folder of this machine, or a store that several machines
share, which speaks S3 (NEST_STORE). Names are paths ("pictures/ab/abcd…"). What many machines can make anew is kept by
each of them: thumbnails, fonts with other features, and a copy of each font of a shared store, which is read from a
file.
"""

from __future__ import annotations

import contextlib
import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from botocore.exceptions import BotoCoreError, ClientError
from django.conf import settings
from django.core.files.base import ContentFile, File
from django.core.files.storage import FileSystemStorage, default_storage

from nestline.errors import NestLineError


class Away(NestLineError):
    """The store of files does not answer; the same may be asked again."""

    code = "away"
    status = 503


class Folder(FileSystemStorage):
    """A folder of this machine; a file is there whole or not at all."""

    def _save(self, name: str, content: Any) -> str:
        write_whole(Path(self.path(name)), content.read())
        return name


@contextmanager
def _answers() -> Iterator[None]:
    try:
        yield
    except (ClientError, BotoCoreError) as error:
        raise Away(
            "pictures and fonts cannot be reached just now; nothing was changed. It is tried again in a moment"
        ) from error


def is_kept(name: str) -> bool:
    """Raises Away."""
    with _answers():
        return default_storage.exists(name)


def read(name: str) -> bytes:
    """A file's content. Raises OSError when there is none, and Away."""
    with _answers(), default_storage.open(name) as file:
        content: bytes = file.read()
    return content


def opened(name: str) -> File[bytes]:
    """A file to be sent on; whoever gets it closes it. Raises OSError when there is none, and Away."""
    with _answers():
        file: File[bytes] = default_storage.open(name)
        file.seek(0)
    return file


def keep(name: str, content: bytes) -> None:
    """Keep a file whole, or not at all; one of that name that is there already stays. Raises NestLineError, Away."""
    if not is_kept(name):
        put(name, content)


def put(name: str, content: bytes) -> None:
    """Keep a file whole, or not at all, instead of what is there. Raises NestLineError, Away."""
    with _answers():
        default_storage.save(name, ContentFile(content))


def forget(*names: str) -> None:
    """Take files away, where they are there. Raises Away."""
    with _answers():
        for name in names:
            with contextlib.suppress(FileNotFoundError):
                default_storage.delete(name)


def forget_folder(folder: str) -> None:
    """Take a folder away with all that is in it. Raises Away."""
    forget(*names(folder))
    # A folder of this machine is there without files, too; one with others in it stays.
    with contextlib.suppress(OSError):
        forget(folder)


def names(folder: str) -> Iterator[str]:
    """All files of a folder and those below it, by name. Raises Away."""
    with _answers():
        try:
            folders, files = default_storage.listdir(folder)
        except FileNotFoundError:
            return
    for file in sorted(files):
        yield f"{folder}/{file}"
    for below in sorted(folders):
        yield from names(f"{folder}/{below}")


def here(name: str) -> Path | None:
    """A file of this machine with the content; None when there is none. Names must be those of a content, which never
    changes: a copy from a shared store is kept. Raises NestLineError, Away."""
    if isinstance(default_storage, FileSystemStorage):
        path = Path(default_storage.path(name))
        return path if path.is_file() else None
    copy = Path(settings.MEDIA_ROOT) / "copies" / name
    if not copy.is_file():
        try:
            content = read(name)
        except FileNotFoundError:
            return None
        write_whole(copy, content)
    return copy


def write_whole(path: Path, content: bytes) -> None:
    """Write a file of this machine whole or not at all. Raises NestLineError."""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, part = tempfile.mkstemp(dir=path.parent)
        try:
            with os.fdopen(handle, "wb") as file:
                file.write(content)
            os.replace(part, path)
        except BaseException:
            Path(part).unlink(missing_ok=True)
            raise
    except OSError as error:
        raise NestLineError(f"the file could not be kept: {error.strerror}. Nothing was changed.") from None
