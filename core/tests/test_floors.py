"""The house: floors of the core, one import upwards; no circles, there and in the server and the client."""

from __future__ import annotations

import ast
import re
import unittest
from collections.abc import Iterator
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
FLOORS = (
    {"errors", "rows", "alike", "remembering"},
    {"document", "outlines", "fonts", "pictures"},
    {"copy", "translating"},
    {"nesting"},
    {"output"},
    {"studio", "warming"},
    {"acts", "merging"},
    {"findings"},
    {"scene", "set", "standby"},
)
"""The floors of the core from the ground up: a room asks of its own floor and of those below."""
ROOMS = ("doors", "people", "assets", "desk", "documents", "keeping", "config")
"""The rooms of the server from the ground up: each asks of itself and of those before it."""
FLOORS_OF_CLIENT = (
    {"api"},
    {"state"},
    {"drawing"},
    {"parts"},
    {"findings", "people", "recipes", "translating", "tries"},
    {"bench", "galley"},
    {"sentence"},
    {"documents", "strain"},
    {"tally"},
    {"shell"},
    {"main"},
)
"""The floors of the client from the ground up."""
Graph = dict[str, set[str]]


def python_imports(folder: Path, source_root: Path) -> Graph:
    """Each module of a folder with those that it imports anywhere, also within its functions."""
    names = {
        ".".join(f.relative_to(source_root).with_suffix("").parts).removesuffix(".__init__"): f
        for f in folder.rglob("*.py")
    }

    def found(file: Path) -> Iterator[str]:
        for node in ast.walk(ast.parse(file.read_text())):
            if isinstance(node, ast.ImportFrom) and node.module:
                for one in node.names:
                    inner = f"{node.module}.{one.name}"
                    yield inner if inner in names else node.module
            elif isinstance(node, ast.Import):
                yield from (one.name for one in node.names)

    return {name: {to for to in found(file) if to in names and to != name} for name, file in names.items()}


def client_imports(folder: Path) -> Graph:
    """Each file of the client with those that it imports."""
    files = {
        f.relative_to(folder).with_suffix("").as_posix(): f
        for f in folder.rglob("*.ts*")
        if not f.name.endswith(".d.ts")
    }
    out: Graph = {}
    for name, file in files.items():
        paths = re.findall(r'from "(\.[^"]+)"', file.read_text())
        there = {(file.parent / path).resolve().relative_to(folder).as_posix() for path in paths}
        out[name] = {to for to in there if to in files}
    return out


def circle_of(graph: Graph) -> list[str] | None:
    """Modules that import one another in a ring; None where there are none."""
    try:
        TopologicalSorter(graph).prepare()
    except CycleError as error:
        return list(error.args[1])
    return None


class Floors(unittest.TestCase):
    def test_circles_are_found(self) -> None:
        self.assertIsNone(circle_of({"a": {"b"}, "b": {"c"}, "c": set()}))
        self.assertEqual(set(circle_of({"a": {"b"}, "b": {"c"}, "c": {"a"}}) or ()), {"a", "b", "c"})

    def test_nothing_goes_in_circles(self) -> None:
        for folder, root in (("core/nestline", "core"), ("server", "server"), ("demo", "."), ("benchmarks", ".")):
            with self.subTest(folder=folder):
                graph = python_imports(ROOT / folder, ROOT / root)
                self.assertGreater(len(graph), 2)
                self.assertIsNone(circle_of(graph))
        graph = client_imports(ROOT / "web" / "src")
        self.assertGreater(sum(map(len, graph.values())), 300)
        self.assertIsNone(circle_of(graph))

    def test_no_floor_asks_of_one_above(self) -> None:
        floor_of = {room: number for number, rooms in enumerate(FLOORS) for room in rooms}
        looked_at = 0
        for name, asked in python_imports(ROOT / "core" / "nestline", ROOT / "core").items():
            room = (name.split(".") + [""])[1]
            for other in asked:
                above = (other.split(".") + [""])[1]
                if room and above:
                    looked_at += 1
                    with self.subTest(module=name, asks=other):
                        self.assertLessEqual(floor_of[above], floor_of[room])
        self.assertGreater(looked_at, 500)

    def test_no_floor_of_the_client_asks_of_one_above_and_no_two_rooms_of_one_another(self) -> None:
        floor_of = {room: number for number, rooms in enumerate(FLOORS_OF_CLIENT) for room in rooms}
        asked: set[tuple[str, str]] = set()
        for name, others in client_imports(ROOT / "web" / "src").items():
            asked |= {(name.partition("/")[0], other.partition("/")[0]) for other in others}
        asked = {(room, other) for room, other in asked if room != other}
        self.assertGreater(len(asked), 40)
        for room, other in sorted(asked):
            with self.subTest(room=room, asks=other):
                self.assertLessEqual(floor_of[other], floor_of[room])
                self.assertNotIn((other, room), asked)

    def test_the_clients_state_is_written_by_its_own_actions_and_stands_in_no_modules_variable(self) -> None:
        source = ROOT / "web" / "src"
        files = [f for f in source.rglob("*.ts*") if ".test." not in f.name]
        self.assertGreater(len(files), 150)
        writes = re.compile(r"import \{[^}]*\bchange\b[^}]*\} from \"[./]*/store\"|useStore\.setState")
        for file in files:
            text = file.read_text()
            with self.subTest(file=file.name):
                self.assertNotRegex(text, re.compile(r"^(export )?let ", re.MULTILINE))
                if file.parent.name != "state":
                    self.assertNotRegex(text, writes)
                if file.parent.name == "model":
                    self.assertNotIn("/store", text)

    def test_no_two_files_of_the_clients_state_ask_each_other(self) -> None:
        asks = {
            n: {o for o in others if o.startswith("state/")}
            for n, others in client_imports(ROOT / "web" / "src").items()
        }
        below: set[str] = set()
        left = {name for name in asks if name.startswith("state/") and ".test" not in name}
        while ready := {name for name in left if asks[name] <= below}:
            below |= ready
            left -= ready
        self.assertEqual(left, set())
        self.assertGreater(len(below), 20)

    def test_no_room_of_the_server_asks_of_one_above(self) -> None:
        looked_at = 0
        for name, asked in python_imports(ROOT / "server", ROOT / "server").items():
            room = name.partition(".")[0]
            for other in asked if room in ROOMS else ():
                above = other.partition(".")[0]
                if above in ROOMS:
                    looked_at += 1
                    with self.subTest(module=name, asks=other):
                        self.assertLessEqual(ROOMS.index(above), ROOMS.index(room))
        self.assertGreater(looked_at, 100)


class Headings(unittest.TestCase):
    def test_every_heading_that_code_cites_is_there(self) -> None:
        cited: set[tuple[str, str]] = set()
        for folder, kinds in (
            ("core/nestline", "*.py"),
            ("server", "*.py"),
            ("web/src", "*.ts*"),
            ("benchmarks", "*.py"),
        ):
            for file in (ROOT / folder).rglob(kinds):
                text = re.sub(r"\n[ \t]*(?:\*|#)?[ \t]*", " ", file.read_text())
                cited |= set(re.findall(r'docs/([a-z-]+\.md), [“"]([^”"]+)[”"]', text))
        self.assertGreater(len(cited), 1)
        for page, heading in sorted(cited):
            with self.subTest(page=page, heading=heading):
                self.assertRegex((ROOT / "docs" / page).read_text(), rf"(?m)^#+ {re.escape(heading)}$")
