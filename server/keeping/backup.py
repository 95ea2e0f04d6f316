"""Backups: the database, pictures and fonts, and the secret, in one file; restored into an empty home.

The file is a tar archive: `manifest.json`, `database.dump` (pg_dump's custom form: a snapshot of one moment),
`media/…`, `secret`. Files are named by their content and written before the row that names them; while a backup is made
none is deleted (`holding`). So every file that the snapshot names is there. What can be made again is left out:
thumbnails, drawn fonts, results of jobs.
"""

from __future__ import annotations

import glob
import io
import json
import os
import shutil
import subprocess
import tarfile
import tempfile
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.db import DatabaseError, connection
from django.db.migrations.recorder import MigrationRecorder

from assets import media
from assets.holding import holding
from documents.models import Document
from nestline.errors import NestLineError

FORMAT, VERSION = "nest-line-backup", 1
KEPT = ("pictures", "fonts", "shelf")
"""Folders of the media that are kept."""


def backup(file: Path) -> dict[str, Any]:
    """Write a backup; the file is there whole or not at all. Returns its manifest. Raises NestLineError."""
    part = file.with_name(f"{file.name}.part")
    try:
        with holding(), tempfile.TemporaryDirectory() as folder:
            dump = Path(folder) / "database.dump"
            _run([_tool("pg_dump"), "--format=custom", "--no-owner", "--no-privileges", f"--file={dump}", *_where()])
            found = _manifest()
            with tarfile.open(part, "w") as archive:
                _put(archive, "manifest.json", json.dumps(found, indent=1).encode())
                _put(archive, "secret", settings.SECRET_KEY.encode())
                archive.add(dump, "database.dump")
                for name in _files():
                    _put(archive, f"media/{name}", media.read(name))
        part.chmod(0o600)
        os.replace(part, file)
    except OSError as error:
        raise NestLineError(f"the backup could not be written: {error.strerror or error}") from None
    finally:
        part.unlink(missing_ok=True)
    return found


def restore(file: Path) -> dict[str, Any]:
    """Fill an empty database and its media from a backup, and bring it to this version. Returns the manifest, the
    secret in it. Raises NestLineError; then nothing is there that was not before."""
    try:
        with tarfile.open(file) as archive, tempfile.TemporaryDirectory() as folder:
            known = archive.extractfile("manifest.json")
            found = json.loads(known.read()) if known else {}
            if found.get("format") != FORMAT or found.get("version") != VERSION:
                raise NestLineError("this is no backup of Nest Line, or of a later version of it")
            _check_empty()
            archive.extract("database.dump", folder, filter="data")
            # Files first: named by their content, they are nothing to anybody until a row names them.
            for member in archive.getmembers():
                if member.name.startswith("media/") and (kept := archive.extractfile(member)):
                    media.keep(member.name.removeprefix("media/"), kept.read())
            secret = archive.extractfile("secret")
            found["secret"] = secret.read().decode() if secret else ""
            connection.close()
            _run(
                [
                    _tool("pg_restore"),
                    "--no-owner",
                    "--no-privileges",
                    "--clean",
                    "--if-exists",
                    "--single-transaction",
                    "--exit-on-error",
                    *_where(),
                    str(Path(folder) / "database.dump"),
                ]
            )
    except (OSError, tarfile.TarError, ValueError, KeyError) as error:
        raise NestLineError(f"this backup cannot be read: {error}") from None
    return found


def _check_empty() -> None:
    try:
        if User.objects.exists() or Document.objects.exists():
            raise NestLineError(
                "there are accounts or documents here already; a backup is restored into an empty home alone"
            )
    except DatabaseError:
        connection.close()  # there are no tables yet


def _files() -> Iterator[str]:
    for folder in KEPT:
        yield from media.names(folder)


def _manifest() -> dict[str, Any]:
    applied = sorted(f"{app}.{name}" for app, name in MigrationRecorder(connection).applied_migrations())
    return {
        "format": FORMAT,
        "version": VERSION,
        "made": datetime.now(UTC).isoformat(timespec="seconds"),
        "accounts": User.objects.count(),
        "documents": Document.objects.count(),
        "files": sum(1 for _ in _files()),
        "migrations": applied,
    }


def _put(archive: tarfile.TarFile, name: str, content: bytes) -> None:
    member = tarfile.TarInfo(name)
    member.size, member.mode = len(content), 0o600
    archive.addfile(member, io.BytesIO(content))


def _where() -> list[str]:
    wanted = connection.settings_dict
    return [
        f"--host={wanted['HOST']}",
        f"--port={wanted['PORT']}",
        f"--username={wanted['USER']}",
        f"--dbname={wanted['NAME']}",
    ]


def _tool(name: str) -> str:
    """PostgreSQL's own program, of the newest version that is here."""
    found = shutil.which(name) or next(iter(sorted(glob.glob(f"/usr/lib/postgresql/*/bin/{name}"), reverse=True)), None)
    if found is None:
        raise NestLineError(f"{name} is not here; install postgresql-client")
    return found


def _run(command: list[str]) -> None:
    password = {"PGPASSWORD": str(connection.settings_dict["PASSWORD"])}
    done = subprocess.run(command, env={**os.environ, **password}, capture_output=True, text=True, check=False)
    if done.returncode:
        said = (done.stderr.strip().splitlines() or ["it ended without a word"])[-1]
        raise NestLineError(f"{Path(command[0]).name} failed: {said}")
