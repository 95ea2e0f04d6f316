"""The code is clean, and what is generated is not stale."""

import hashlib
import os
import shutil
import subprocess
import sys
import unittest
from collections.abc import Callable, Iterator
from functools import wraps
from pathlib import Path
from typing import Any

from config.management.commands.export_schema import (
    DOCUMENT_SCHEMA,
    RECORDS,
    RULES,
    SCHEMA,
    document_schema_text,
    records_text,
    rules_text,
    schema_text,
)

ROOT = Path(__file__).resolve().parents[2]


def run(*command: str, cwd: Path = ROOT, env: dict[str, str] | None = None) -> None:
    done = subprocess.run(command, cwd=cwd, env=env, capture_output=True, text=True, check=False)
    if done.returncode:
        raise AssertionError(f"{' '.join(command[:4])}\n{done.stdout[-4000:]}{done.stderr[-2000:]}")


def once(name: str, *asked: str) -> Callable[[Callable[[Any], None]], Callable[[Any], None]]:
    """A check that depends on the contents of some files and folders alone: where it has passed on this machine with
    just these, it is not made again. What it was made with (packages, settings) is among them."""

    def of(check: Callable[[Any], None]) -> Callable[[Any], None]:
        @wraps(check)
        def checked(self: Any) -> None:
            digest = hashlib.sha256()
            for file in sorted(files(*asked)):
                digest.update(f"{file.relative_to(ROOT)}\0".encode() + hashlib.sha256(file.read_bytes()).digest())
            kept = os.environ.get("NEST_KEPT")
            mark = Path(kept or "/nowhere") / f"passed-{name}"
            if mark.exists() and mark.read_text() == digest.hexdigest():
                return
            check(self)
            if kept:
                new = mark.with_suffix(f".{os.getpid()}")
                new.write_text(digest.hexdigest())
                new.rename(mark)

        return checked

    return of


def files(*asked: str) -> Iterator[Path]:
    """The files that git knows of, or would, below some places."""
    command = ["git", "ls-files", "--cached", "--others", "--exclude-standard", "--deduplicate", *asked]
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=True)
    yield from (ROOT / name for name in done.stdout.splitlines() if (ROOT / name).is_file())


PYTHON = ("*.py", "pyproject.toml", "server/mypy.ini", "requirements*.txt")
CLIENT = ("web/src", "web/*.json", "web/*.js", "web/*.ts", "web/.prettier*")


class Ruff(unittest.TestCase):
    @once("ruff", *PYTHON)
    def test_ruff(self) -> None:
        run(sys.executable, "-m", "ruff", "check", ".")

    @once("ruff-format", *PYTHON)
    def test_ruff_format(self) -> None:
        run(sys.executable, "-m", "ruff", "format", "--check", ".")


class TypesOfTheCore(unittest.TestCase):
    @once("mypy-core", "core", *PYTHON[1:])
    def test_mypy_on_the_core(self) -> None:
        run(sys.executable, "-m", "mypy", "core/nestline")


class TypesOfTheServer(unittest.TestCase):
    @once("mypy-server", *PYTHON)
    def test_mypy_on_the_server(self) -> None:
        environment = os.environ | {"PYTHONPATH": f"{ROOT / 'core'}:{ROOT / 'server'}"}
        rooms = ("documents", "assets", "config", "desk", "people", "doors", "keeping")
        run(sys.executable, "-m", "mypy", *rooms, cwd=ROOT / "server", env=environment)


class OfTheClient(unittest.TestCase):
    @once("eslint", *CLIENT)
    def test_eslint(self) -> None:
        run(npx(), "eslint", "src", cwd=ROOT / "web")

    @once("tsc", *CLIENT)
    def test_types(self) -> None:
        run(npx(), "tsc", "-b", cwd=ROOT / "web")

    @once("prettier", *CLIENT)
    def test_prettier(self) -> None:
        run(npx(), "prettier", "--check", "src", cwd=ROOT / "web")


def npx() -> str:
    found = shutil.which("npx")
    assert found
    return found


class Clean(unittest.TestCase):
    def test_the_schema_is_not_stale(self) -> None:
        self.assertEqual(SCHEMA.read_text(), schema_text(), "run ./nest schema")
        self.assertEqual(DOCUMENT_SCHEMA.read_text(), document_schema_text(), "run ./nest schema")
        self.assertEqual(RECORDS.read_text(), records_text(), "run ./nest schema")
        self.assertEqual(RULES.read_text(), rules_text(), "run ./nest schema")

    def test_the_clients_types_are_not_stale(self) -> None:
        fresh = subprocess.run(
            [npx(), "openapi-typescript", str(SCHEMA)], cwd=ROOT / "web", capture_output=True, text=True, check=True
        )
        self.assertEqual(
            (ROOT / "web/src/api/schema.d.ts").read_text().strip(), fresh.stdout.strip(), "run ./nest schema"
        )

    def test_the_core_stands_alone(self) -> None:
        """No Django, HTTP or database in the core."""
        for path in (ROOT / "core").rglob("*.py"):
            for word in ("import django", "from django", "psycopg", "ninja", "requests"):
                self.assertNotIn(word, path.read_text(), path)
