"""Loops that are linked instead of compiled one by one: what is kept is called without compiling, and comes to the same."""

import json
import random
import re
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from numba.core.compiler import Flags
from numba.core.ir import Loc, Scope

from nestline.nesting import compiled
from nestline.nesting.linking import REACHED_INTO, _options, inner_loops, linked

CORE = Path(__file__).parents[1]

#: Compiles one loop that Python calls, with those below it, and says what it comes to and how many were compiled.
CALLING = """
import contextlib, json, sys
import numpy as np
from numba.core import event
from nestline.nesting import compiled
from nestline.nesting.linking import inner_loops, linked
made = []
class Listener(event.Listener):
    def on_start(self, event): made.append(event.data["dispatcher"].py_func.__name__)
    def on_end(self, event): pass
event.register("numba:compile", Listener())
choice = np.random.default_rng(3)
with linked() if sys.argv[1] == "linked" else contextlib.nullcontext():
    came_to = []
    for _ in range(50):
        ring = choice.uniform(0, 100, (7, 2))
        edges = np.column_stack((ring, np.roll(ring, -1, 0)))
        members, *index = compiled.index_by_height(edges, 4.0, 64)
        came_to.append([members.tolist(), *(float(one) if np.isscalar(one) else one.tolist() for one in index)])
    refused = None
    if sys.argv[1] == "linked":
        inner = inner_loops()["strip_of"]
        try:
            inner(1.0, 0.0, 4.0, 3)
        except Exception as error:
            refused = type(error).__name__
print(json.dumps({"came_to": came_to, "made": len(made), "refused": refused}))
"""


class Linking(unittest.TestCase):
    def test_numba_is_as_it_is_reached_into(self) -> None:
        """Else everything would be compiled as before, which takes half as long again, and nobody would see it."""
        for owner, name in REACHED_INTO:
            self.assertTrue(hasattr(owner, name), name)

    def test_the_core_calls_only_what_the_loops_name(self) -> None:
        self.assertGreater(len(inner_loops()), 100)
        for file in (CORE / "nestline").rglob("*.py"):
            if file.parent.name != "compiled":
                self.assertIsNone(re.search(r"^\s*from nestline\.nesting\.compiled\.", file.read_text(), re.M), file)
        self.assertFalse(set(compiled.__all__) & set(inner_loops()))

    def test_options_come_to_what_numba_says(self) -> None:
        choice = random.Random(8)
        for _ in range(200):
            flags = Flags()
            for name in choice.sample(["nrt", "boundscheck", "no_rewrites", "release_gil", "forceinline"], 3):
                setattr(flags, name, choice.random() < 0.5)
            self.assertEqual(_options(flags), flags.values())

    def test_numba_is_left_as_it_was(self) -> None:
        before = {(owner, name): getattr(owner, name) for owner, name in REACHED_INTO}
        nothing = mock.patch("nestline.nesting.linking.inner_loops", return_value={})  # these go on being called here
        with nothing, self.assertRaises(ZeroDivisionError), linked():
            raise ZeroDivisionError
        self.assertEqual({(owner, name): getattr(owner, name) for owner, name in REACHED_INTO}, before)
        self.assertNotIn("__deepcopy__", {**vars(Loc), **vars(Scope)})

    def test_what_is_linked_is_kept_and_comes_to_the_same(self) -> None:
        with tempfile.TemporaryDirectory() as kept, tempfile.TemporaryDirectory() as other:

            def call(how: str, where: str) -> dict[str, object]:
                done = subprocess.run(
                    [sys.executable, "-c", CALLING, how],
                    env={"PYTHONPATH": str(CORE), "NUMBA_CACHE_DIR": where},
                    capture_output=True,
                    text=True,
                    check=True,
                )
                told: dict[str, object] = json.loads(done.stdout)
                return told

            linked, again, plain = call("linked", kept), call("kept", kept), call("plain", other)
            self.assertEqual(linked["came_to"], plain["came_to"])
            self.assertEqual(again["came_to"], plain["came_to"])
            self.assertEqual(again["made"], 0)
            self.assertGreater(plain["made"], 1)  # type: ignore[arg-type]
            self.assertEqual(linked["refused"], "MemoryError")


if __name__ == "__main__":
    unittest.main()
