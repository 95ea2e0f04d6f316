"""The client's pure modules, tested by vitest (web/src/**/*.test.ts); each of its tests counts as one here."""

from __future__ import annotations

import json
import shutil
import subprocess
import unittest
from collections.abc import Iterator
from pathlib import Path
from typing import Any

WEB = Path(__file__).resolve().parents[2] / "web"


def told(name: str, said: str) -> unittest.FunctionTestCase:
    """One test of the client: what was wrong is said, or nothing."""

    def test() -> None:
        if said:
            raise AssertionError(said)

    test.__name__ = test.__qualname__ = f"web: {name}"
    return unittest.FunctionTestCase(test)


def run() -> Iterator[unittest.FunctionTestCase]:
    npx = shutil.which("npx")
    assert npx
    done = subprocess.run(
        [npx, "vitest", "run", "--reporter=json"], cwd=WEB, capture_output=True, text=True, check=False
    )
    found = done.stdout.find("{")
    if found < 0:
        yield told("vitest", done.stdout[-2000:] + done.stderr[-2000:])
        return
    for file in json.loads(done.stdout[found:])["testResults"]:
        name = Path(file["name"]).relative_to(WEB)
        if not file["assertionResults"]:
            yield told(str(name), file.get("message") or "the file has no tests")
        for one in file["assertionResults"]:
            failed = one["status"] != "passed"
            yield told(
                f"{name}: {one['fullName']}", "\n".join(one["failureMessages"]) or one["status"] if failed else ""
            )


class Client(unittest.TestCase):
    def run(self, result: Any = None) -> Any:
        """All tests of the client, one after the other."""
        for one in run():
            one.run(result)
        return result

    def test_all(self) -> None:
        """Stands for all of them where tests are listed."""
