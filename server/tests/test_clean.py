"""The code is clean, and what is generated is not stale."""

import os
import shutil
import subprocess
import sys
import unittest
from pathlib import Path

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


class Clean(unittest.TestCase):
    def test_ruff(self) -> None:
        run(sys.executable, "-m", "ruff", "check", ".")

    def test_ruff_format(self) -> None:
        run(sys.executable, "-m", "ruff", "format", "--check", ".")

    def test_mypy_on_the_core(self) -> None:
        run(sys.executable, "-m", "mypy", "core/nestline")

    def test_mypy_on_the_server(self) -> None:
        paths = f"{ROOT / 'core'}:{ROOT / 'server'}"
        environment = os.environ | {"PYTHONPATH": paths}
        run(
            sys.executable,
            "-m",
            "mypy",
            "documents",
            "assets",
            "config",
            "desk",
            "people",
            "doors",
            "keeping",
            cwd=ROOT / "server",
            env=environment,
        )

    def test_eslint_and_types_of_the_client(self) -> None:
        npx = shutil.which("npx")
        assert npx
        run(npx, "eslint", "src", cwd=ROOT / "web")
        run(npx, "tsc", "-b", cwd=ROOT / "web")

    def test_prettier(self) -> None:
        npx = shutil.which("npx")
        assert npx
        run(npx, "prettier", "--check", "src", cwd=ROOT / "web")

    def test_the_schema_is_not_stale(self) -> None:
        self.assertEqual(SCHEMA.read_text(), schema_text(), "run ./nest schema")
        self.assertEqual(DOCUMENT_SCHEMA.read_text(), document_schema_text(), "run ./nest schema")
        self.assertEqual(RECORDS.read_text(), records_text(), "run ./nest schema")
        self.assertEqual(RULES.read_text(), rules_text(), "run ./nest schema")

    def test_the_clients_types_are_not_stale(self) -> None:
        npx = shutil.which("npx")
        assert npx
        fresh = subprocess.run(
            [npx, "openapi-typescript", str(SCHEMA)], cwd=ROOT / "web", capture_output=True, text=True, check=True
        )
        self.assertEqual(
            (ROOT / "web/src/api/schema.d.ts").read_text().strip(), fresh.stdout.strip(), "run ./nest schema"
        )

    def test_the_core_stands_alone(self) -> None:
        """No Django, HTTP or database in the core."""
        for path in (ROOT / "core").rglob("*.py"):
            for word in ("import django", "from django", "psycopg", "ninja", "requests"):
                self.assertNotIn(word, path.read_text(), path)
