"""Who stands by sets what the caller would have set, says it to the caller, and is never what a call is lost to."""

import json
import os
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path

from draws import thrown
from support import document, frame, paragraph

CORE = Path(__file__).parents[1]

#: A command that tells all that it sees of its caller, and the process that did it.
TELLING = """
import json, os, signal, sys, time
from pathlib import Path
from nestline import standby
if "wait" in sys.argv:
    signal.signal(signal.SIGINT, signal.default_int_handler)
foreign = standby.open_files()
def command(arguments):
    mask = os.umask(0); os.umask(mask)
    seen = {"process": os.getpid(), "arguments": arguments, "folder": os.getcwd(), "mask": mask,
      "word": os.environ.get("WORD")}
    print(json.dumps({**seen, "read": sys.stdin.read()}))
    print("aside", file=sys.stderr)
    if "die" in arguments: os._exit(9)
    if "wait" in arguments: time.sleep(30)
    if "end" in arguments: raise SystemExit(4)
    return 3 if "three" in arguments else 0
place, arguments = Path(sys.argv[1]), sys.argv[3:]
status = standby.ask(place, arguments)
if status is None:
    status = standby.outcome(command, [a for a in arguments if a != "die"])
    standby.stay(place, command, foreign, float(sys.argv[2]))
sys.exit(status)
"""


class Standby(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.place = self.folder / "own" / "place"

    def start(self, *arguments: str, stays: float = 20, word: str = "", mask: int = 0o022) -> subprocess.Popen[str]:
        return subprocess.Popen(
            [sys.executable, "-c", TELLING, str(self.place), str(stays), *arguments],
            cwd=self.folder,
            env={"PYTHONPATH": str(CORE), "PATH": "/usr/bin", "WORD": word},
            umask=mask,
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            text=True,
            start_new_session=True,
        )

    def call(self, *arguments: str, given: str = "", **how: object) -> tuple[int, dict[str, object], int]:
        """The exit status, what the command told, and the process that was called."""
        called = self.start(*arguments, **how)  # type: ignore[arg-type]
        out, aside = called.communicate(given, timeout=20)
        self.assertEqual(aside, "aside\n")
        return called.returncode, json.loads(out), called.pid

    def until(self, true: Callable[[], bool]) -> None:
        end = time.monotonic() + 10
        while not true():
            self.assertLess(time.monotonic(), end)
            time.sleep(0.02)

    def standing(self) -> None:
        """One that stands by, with its place taken."""
        self.call()
        self.until(self.place.exists)

    def test_what_is_asked_of_one_who_stands_by_is_as_if_done_here(self) -> None:
        choice = thrown(7)
        self.standing()
        for _ in range(12):
            word, given = (choice.choice(["", "kite", "día “x”", "a\nb"]) for _ in range(2))
            arguments = choice.sample(["one", "two words", "drei–vier", "", "three", "end"], choice.randrange(4))
            mask = choice.choice([0o022, 0o077])
            status, told, called = self.call(*arguments, given=given, word=word, mask=mask)
            with self.subTest(arguments=arguments, word=word):
                self.assertNotEqual(told.pop("process"), called)
                here = {"arguments": arguments, "folder": str(self.folder), "mask": mask, "word": word, "read": given}
                self.assertEqual(told, here)
                said = [4 if a == "end" else 3 for a in ("end", "three") if a in arguments]
                self.assertEqual(status, said[0] if said else 0)

    def test_a_call_that_it_dies_over_is_done_by_its_caller(self) -> None:
        self.standing()
        called = self.start("die")
        out, _ = called.communicate(timeout=20)
        self.assertEqual((called.returncode, json.loads(out.splitlines()[-1])["process"]), (0, called.pid))

    def test_where_it_was_killed_the_next_one_stands_by(self) -> None:
        self.standing()
        (standing,) = self.processes()
        os.kill(standing, signal.SIGKILL)
        self.until(lambda: not self.processes())
        _, told, called = self.call()
        self.assertEqual(told["process"], called)
        self.until(lambda: len(self.processes()) == 1)
        self.until(lambda: self.call()[1]["process"] != called)

    def test_many_at_once_are_all_done(self) -> None:
        self.standing()
        calls = [self.start(str(n)) for n in range(8)]
        told = [json.loads(one.communicate(timeout=20)[0]) for one in calls]
        self.assertEqual([one["arguments"] for one in told], [[str(n)] for n in range(8)])
        self.assertFalse({one["process"] for one in told} & {one.pid for one in calls})

    def test_only_one_is_left_of_many_that_begin_at_once(self) -> None:
        for one in [self.start() for _ in range(5)]:
            one.communicate(timeout=20)
        self.until(lambda: self.place.exists() and len(self.processes()) == 1)
        _, told, called = self.call()
        self.assertNotEqual(told["process"], called)

    def test_an_interrupt_of_the_caller_interrupts_it(self) -> None:
        self.standing()
        called = self.start("wait")
        assert called.stdin is not None and called.stderr is not None
        called.stdin.close()
        self.assertEqual(called.stderr.readline(), "aside\n")
        called.send_signal(signal.SIGINT)
        self.assertEqual(called.wait(10), 130)
        self.until(lambda: len(self.processes()) == 1)
        for pipe in (called.stdout, called.stderr):
            assert pipe is not None
            pipe.close()

    def test_it_ends_by_itself_and_where_its_place_is_taken_away(self) -> None:
        self.call(stays=0.2)
        self.until(lambda: not self.processes())
        self.until(lambda: not self.place.exists())
        self.standing()
        self.place.unlink()
        self.until(lambda: not self.processes())

    def test_a_folder_that_cannot_be_made_costs_nothing(self) -> None:
        (self.folder / "own").write_text("a file")
        status, told, called = self.call("three")
        self.assertEqual((status, told["process"]), (3, called))
        self.until(lambda: not self.processes())

    def test_only_its_user_reaches_it(self) -> None:
        self.standing()
        self.assertEqual(self.place.parent.stat().st_mode & 0o777, 0o700)

    def processes(self) -> list[int]:
        """Those that run with this place as an argument."""
        found = []
        for one in Path("/proc").glob("[0-9]*"):
            try:
                state = (one / "stat").read_text()
            except OSError:
                continue
            if str(self.place).encode() in command_line(one) and state.rsplit(")")[-1].split()[0] != "Z":
                found.append(int(one.name))
        return found


class SetByOneWhoStandsBy(unittest.TestCase):
    def test_a_document_is_written_the_same_and_faults_are_said_the_same(self) -> None:
        copy = paragraph("Bring string, bring friends, and a thermos of tea. " * 9, align="justify")
        good = document([frame("ellipse", sit="middle")], copy)
        bad = document([frame(columns=0)], copy)
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            for which, raw in {"good": good, "bad": bad}.items():
                (folder / f"{which}.json").write_text(json.dumps(raw))
            place = folder / "own" / "place"

            def set_it(by: list[str], which: str) -> tuple[int, str, str, dict[str, bytes]]:
                options = [f"{which}.json", "--lines", "l.json", "--pdf", "o.pdf", "--svg", "s"]
                done = subprocess.run(
                    [sys.executable, "-m", *by, *options],
                    cwd=folder,
                    env={"PYTHONPATH": str(CORE), "PATH": "/usr/bin"},
                    capture_output=True,
                    text=True,
                    check=False,
                )
                written = {one: folder / one for one in ("l.json", "o.pdf", "s/page-1.svg")}
                contents = {one: path.read_bytes() for one, path in written.items() if path.exists()}
                for path in written.values():
                    path.unlink(missing_ok=True)
                return done.returncode, done.stdout, done.stderr, contents

            plain = {which: set_it(["nestline.set"], which) for which in ("good", "bad")}
            standby = ["nestline.standby", str(place)]
            self.assertEqual(set_it(standby, "good"), plain["good"])
            while not place.exists():
                time.sleep(0.02)
            for which in ("good", "bad", "good"):
                with self.subTest(which):
                    self.assertEqual(set_it(standby, which), plain[which])

    def test_one_who_began_with_a_call_that_came_to_nothing_is_as_ready(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            place = Path(name) / "own" / "place"
            command = [sys.executable, "-m", "nestline.standby", str(place), "--no-such-option"]
            done = subprocess.run(command, env={"PYTHONPATH": str(CORE)}, capture_output=True, check=False)
            self.assertEqual(done.returncode, 2)
            while not place.exists():
                time.sleep(0.02)
            (standing,) = [one for one in Path("/proc").glob("[0-9]*") if str(place).encode() in command_line(one)]
            self.assertIn("llvmlite", (standing / "maps").read_text())


def command_line(process: Path) -> list[bytes]:
    try:
        return (process / "cmdline").read_bytes().split(b"\0")
    except OSError:
        return []


if __name__ == "__main__":
    unittest.main()
