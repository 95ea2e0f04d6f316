"""The one command: what it says, and what it refuses, in one line."""

import json
import os
import socket
import subprocess
import tempfile
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


def nest(*arguments: str, **environment: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [str(ROOT / "nest"), *arguments], capture_output=True, text=True, check=False, env={**os.environ, **environment}
    )


class Command(unittest.TestCase):
    def refused(self, *arguments: str, **environment: str) -> str:
        done = nest(*arguments, **environment)
        self.assertNotEqual(done.returncode, 0)
        self.assertEqual(done.stderr.count("\n"), 1, done.stderr)
        return done.stderr

    def test_help_lists_every_command(self) -> None:
        said = nest("help").stdout
        for command in ("start", "stop", "test", "set", "shots", "speed", "schema"):
            self.assertIn(f"./nest {command}", said)

    def test_what_it_does_not_know_it_says(self) -> None:
        self.assertIn("no command “fly”", self.refused("fly"))
        self.assertIn("not a port", self.refused("start", "--port", "abc"))
        self.assertIn("not a port", self.refused("start", "--port", "70000"))
        self.assertIn("does not know", self.refused("start", "--prot", "1"))

    def test_a_taken_port_is_said_before_anything_is_done(self) -> None:
        with socket.create_server(("127.0.0.1", 0)) as taken:
            port = str(taken.getsockname()[1])
            self.assertIn(f"port {port} is taken", self.refused("start", "--port", port))

    def test_set_works_from_any_folder(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            document = {
                "format": "nest-line",
                "version": 1,
                "copies": {"s": {"versions": {"en": {"paragraphs": [{"runs": [{"text": "Kite"}]}]}}}},
                "pages": [
                    {
                        "width": 100,
                        "height": 100,
                        "objects": [{"id": "f", "x": 0, "y": 0, "width": 90, "height": 90, "frame": {"copy": "s"}}],
                    }
                ],
            }
            (Path(folder) / "d.json").write_text(json.dumps(document))
            done = subprocess.run(
                [str(ROOT / "nest"), "set", "d.json", "--lines", "l.json"],
                cwd=folder,
                capture_output=True,
                text=True,
                check=False,
            )
            self.assertEqual((done.returncode, done.stdout), (0, ""), done.stderr)
            lines = json.loads((Path(folder) / "l.json").read_text())["frames"][0]["lines"]
            self.assertEqual(lines[0]["text"], "Kite")
            self.assertIn("no file", self.refused("set", f"{folder}/none.json"))

    def test_set_puts_a_document_under_strain(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            document = {
                "format": "nest-line",
                "version": 1,
                "copies": {"s": {"versions": {"en": {"paragraphs": [{"runs": [{"text": "Kite Day"}]}]}}}},
                "pages": [
                    {
                        "width": 100,
                        "height": 100,
                        "objects": [{"id": "f", "x": 0, "y": 0, "width": 60, "height": 16, "frame": {"copy": "s"}}],
                    }
                ],
            }
            (Path(folder) / "d.json").write_text(json.dumps(document))

            def found(*more: str) -> tuple[int, str, str]:
                asked = [str(ROOT / "nest"), "set", "d.json", "--lines", "l.json", "--strict", *more]
                done = subprocess.run(asked, cwd=folder, capture_output=True, text=True, check=False)
                lines = json.loads((Path(folder) / "l.json").read_text())["frames"][0]["lines"]
                return done.returncode, lines[0]["text"], done.stderr

            self.assertEqual(found(), (0, "Kite Day", ""))
            code, _, said = found("--strain", "+60")
            self.assertEqual((code, "left over" in said), (3, True))
            self.assertEqual(found("--strain", "-50")[1], "Kite")
            self.assertNotIn("Kite", found("--words", "fi")[1])
            self.assertEqual(found("--type", "90")[0], 3)
            for wrong in (["--strain", "900"], ["--words", "xx"], ["--type", "-4"]):
                code, _, said = found(*wrong)
                self.assertEqual((code, "will not do" in said or "no made-up words" in said), (2, True), said)

    def test_set_tells_what_is_wrong_and_fails_on_it_when_asked(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            run = {"text": "Kite", "color": "#e8e4d8"}
            document = {
                "format": "nest-line",
                "version": 1,
                "copies": {"s": {"versions": {"en": {"paragraphs": [{"runs": [run]}]}}}},
                "pages": [
                    {
                        "width": 100,
                        "height": 100,
                        "objects": [{"id": "f", "x": 0, "y": 0, "width": 90, "height": 90, "frame": {"copy": "s"}}],
                    }
                ],
            }
            for aside, left in ([], 3), ([{"kind": "pale"}], 0):
                document["findings"] = {"never_mind": aside}
                (Path(folder) / "d.json").write_text(json.dumps(document))
                asked = [str(ROOT / "nest"), "set", "d.json", "--findings", "f.json"]
                done = subprocess.run(asked, cwd=folder, capture_output=True, text=True, check=False)
                self.assertEqual((done.returncode, done.stderr), (0, ""))
                found = json.loads((Path(folder) / "f.json").read_text())
                self.assertEqual(
                    [(f["kind"], f["frame"], f["page"], f["range"], f["limit"]) for f in found],
                    [("pale", "f", 1, [0, 4], 4.5)] * (left > 0),
                )
                strict = subprocess.run([*asked, "--strict"], cwd=folder, capture_output=True, text=True, check=False)
                self.assertEqual(strict.returncode, left)
                self.assertEqual("hard to read" in strict.stderr, left > 0)
