"""All tests, dealt out to as many processes as there are cores: `python -m config.dealing [--all] [--seed N] [LABELS]`.

Each process finds all tests and takes one class after the other that no other has taken (`Claims`: a file a class, made
by whoever comes first), with a database of its own. Those that took longest last time come first, so that all end
together. Given LABELS, one process runs these.
"""

from __future__ import annotations

import argparse
import json
import os
import re
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
ALL_TESTS = ("core/tests", "server/tests", "server/e2e")
SEED = int(os.environ.get("NEST_SEED", "0"))
"""What random tests draw by; 0 where nobody has said one: each is drawn as it always was."""

SEEN_BEFORE = ROOT / "server" / "tests" / "took.json"
"""How long each class took, in seconds, where this machine has not run them."""

FAILED_ONCE = ROOT / "core" / "tests" / "failed_once.json"
"""Seeds that a test failed with, by its name: it is run with them, too, each time."""

Took = dict[str, list[float]]


def class_of(test: str) -> str:
    """The class of a test by its dotted name."""
    return test.rpartition(".")[0] or test


def processor_seconds(process: int) -> float:
    """What a process and those that it began have spent of the processors, as far as they are still there or were
    waited for."""
    spent: dict[int, tuple[int, float]] = {}
    for path in Path("/proc").glob("[0-9]*/stat"):
        try:
            fields = path.read_text().rpartition(")")[2].split()
        except OSError:
            continue
        spent[int(path.parent.name)] = (int(fields[1]), sum(map(int, fields[11:15])) / os.sysconf("SC_CLK_TCK"))
    total, inside = 0.0, {process}
    for number in sorted(spent):  # whoever began another is mostly older
        if number == process or spent[number][0] in inside:
            inside.add(number)
            total += spent[number][1]
    return total


@dataclass(frozen=True)
class Claims:
    """Which classes are taken, as files of a folder that all processes of a run share, and how long each took last
    time."""

    folder: Path
    last: dict[str, float]

    @classmethod
    def of_this_run(cls) -> Claims | None:
        """Those of the folder that NEST_CLAIMS names; None where nothing is dealt."""
        folder = os.environ.get("NEST_CLAIMS")
        return cls(Path(folder), last_times()) if folder else None

    def longest_first(self, names: Iterable[str]) -> list[str]:
        """In the order in which they are taken; one that nobody has run yet counts as long."""
        return sorted(names, key=lambda name: (-self.last.get(name, 1e6), name))

    def take(self, name: str) -> bool:
        """Whether it is ours now."""
        try:
            os.close(os.open(self.folder / f"{name}.taken", os.O_CREAT | os.O_EXCL))
        except FileExistsError:
            return False
        return True

    def done(self, name: str, seconds: float, processor: float, tests: int) -> None:
        new = self.folder / f"{name}.new"
        new.write_text(json.dumps([round(seconds, 2), round(processor, 2), tests]))
        new.rename(self.folder / f"{name}.done")

    def took(self) -> Took:
        """Seconds, processor seconds and how many tests, of each class that is done."""
        return {file.stem: json.loads(file.read_text()) for file in self.folder.glob("*.done")}


def kept_times() -> Path:
    """Where this machine remembers how long each class took."""
    return Path(os.environ.get("NEST_KEPT") or tempfile.gettempdir()) / "took.json"


def last_times() -> dict[str, float]:
    for file in (kept_times(), SEEN_BEFORE):
        try:
            return {name: float(took[0]) for name, took in json.loads(file.read_text()).items()}
        except (OSError, ValueError):
            continue
    return {}


def keep_times(took: Took) -> None:
    """Remember them, beside those of classes that were not run."""
    try:
        before = json.loads(kept_times().read_text())
    except (OSError, ValueError):
        before = {}
    new = kept_times().with_suffix(f".{os.getpid()}")
    new.write_text(json.dumps({**before, **took}, indent=0, sort_keys=True))
    new.rename(kept_times())


class Process:
    """One process that runs tests, with a log and a database of its own."""

    def __init__(self, name: str, labels: list[str], folder: Path, **environment: str) -> None:
        self.log = folder / f"{name}.log"
        with self.log.open("wb") as out:
            self.process = subprocess.Popen(
                [sys.executable, "manage.py", "test", "--no-input", *labels],
                cwd=ROOT / "server",
                env={**os.environ, "NEST_DB_NAME": name, **environment},
                stdout=out,
                stderr=out,
            )

    def closing(self) -> tuple[int, int]:
        """How many passed and how many failed; one failed where it ended without saying so."""
        found = re.findall(r"^(\d+) passed, (\d+) failed", self.log.read_text(errors="replace"), re.M)
        return (int(found[-1][0]), int(found[-1][1])) if found else (0, 1)

    def said(self) -> list[str]:
        """The lines that name what failed or was unsteady."""
        return re.findall(r"^(?:FAILED|UNSTEADY) [^(\n].*$", self.log.read_text(errors="replace"), re.M)


def run(seed: int) -> bool:
    """Run all tests; whether none failed."""
    began = time.monotonic()
    with tempfile.TemporaryDirectory(prefix="nest-tests-") as name:
        folder = Path(name)
        logs = Path(os.environ.get("NEST_HOME") or folder)
        claims = Claims(folder, last_times())
        labels = [str(ROOT / part) for part in ALL_TESTS]
        processes = [
            Process(f"part{number}", labels, logs, NEST_CLAIMS=name, NEST_SEED=str(seed))
            for number in range(os.cpu_count() or 2)
        ]
        told: set[str] = set()
        while any(one.process.poll() is None for one in processes):
            time.sleep(1)
            for done, (seconds, processor, tests) in claims.took().items():
                if done not in told:
                    told.add(done)
                    print(f"{seconds:6.1f} s  {processor:6.1f} s of a processor  {tests:3.0f}  {done}", flush=True)
        processes += [
            Process(f"again{past}", names, logs, NEST_SEED=past, NEST_CASES="1")
            for past, names in failed_before().items()
        ]
        for one in processes:
            one.process.wait()
        took = claims.took()
    keep_times(took)
    remember_failures(
        seed, [line.split()[1].rstrip(":") for one in processes for line in one.said() if line.startswith("FAILED")]
    )
    closings = [one.closing() for one in processes]
    passed, failed = sum(some for some, _ in closings), sum(some for _, some in closings)
    for one, (_, some) in zip(processes, closings, strict=True):
        if some:
            print(f"---- {one.log}", one.log.read_text(errors="replace"), sep="\n")
    print(table(took), f"{time.monotonic() - began:.0f} s in all, with seed {seed}", sep="\n")
    print(*(line for one in processes for line in one.said()), sep="\n")
    print(f"{passed} passed, {failed} failed", flush=True)
    return not failed


def failed_before() -> dict[str, list[str]]:
    """Tests by the seeds that they failed with."""
    found: dict[str, list[str]] = json.loads(FAILED_ONCE.read_text()) if FAILED_ONCE.exists() else {}
    return found


def remember_failures(seed: int, tests: list[str]) -> None:
    """Write tests that draw cases and failed into the file of those that did: from now on they are run with that seed,
    too."""
    draw = [
        test
        for test in tests
        for file in (
            *ROOT.glob(f"core/tests/{test.split('.')[0]}.py"),
            *ROOT.glob(f"server/{'/'.join(test.split('.')[:2])}.py"),
        )
        if not test.startswith("e2e.") and re.search(r"^from (?:draws|hypothesis) ", file.read_text(), re.M)
    ]
    if draw:
        found = failed_before()
        found[str(seed)] = sorted({*found.get(str(seed), []), *draw})
        FAILED_ONCE.write_text(json.dumps(found, indent=2, sort_keys=True) + "\n")


def table(took: Took) -> str:
    """What the parts took: tests, minutes, minutes of a processor."""
    parts: dict[str, list[float]] = {}
    for name, (seconds, processor, tests) in took.items():
        part = {"e2e": "browser", "tests": "server"}.get(name.partition(".")[0], "core")
        part = "checkers" if name.startswith("tests.test_clean") or name.startswith("tests.test_client") else part
        for index, figure in enumerate((tests, seconds / 60, processor / 60)):
            parts.setdefault(part, [0, 0, 0])[index] += figure
    return "\n".join(
        f"{part:10} {tests:5.0f} tests {minutes:6.1f} min {processor:6.1f} min of a processor"
        for part, (tests, minutes, processor) in sorted(parts.items())
    )


def own_seed() -> int:
    """Another seed each time;
      where it is integrated that of the cases that were always drawn: what is found there must be of the
    change, and whoever made it can draw the same."""
    return 0 if os.environ.get("CI") else int(time.time()) % 100_000


def main() -> int:
    asked = argparse.ArgumentParser(prog="./nest test")
    asked.add_argument("--all", action="store_true", help="draw all random cases, not a fifth of them")
    asked.add_argument("--seed", type=int, help="draw the cases of this seed")
    asked.add_argument("labels", nargs="*")
    given = asked.parse_args()
    seed = given.seed if given.seed is not None else own_seed()
    if given.all:
        os.environ["NEST_CASES"] = "1"
    if not given.labels:
        return int(not run(seed))
    print(f"seed {seed}", flush=True)
    os.environ["NEST_SEED"] = str(seed)
    labels = [str(ROOT / one) if (ROOT / one).exists() else one for one in given.labels]
    return subprocess.call([sys.executable, "manage.py", "test", "--no-input", *labels], cwd=ROOT / "server")


if __name__ == "__main__":
    sys.exit(main())
