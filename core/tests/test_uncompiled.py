"""The compiled loops are plain Python functions: the tests of slots hold for them uncompiled too."""

import os
import subprocess
import sys
import unittest
from pathlib import Path

HERE = Path(__file__).parent


class Uncompiled(unittest.TestCase):
    def test_slots_are_the_same_without_compiling(self) -> None:
        environment = {**os.environ, "NUMBA_DISABLE_JIT": "1", "PYTHONPATH": f"{HERE.parent}:{HERE}"}
        command = [sys.executable, "-m", "unittest", "test_slots.Chords", "test_slots.Bands"]
        done = subprocess.run(command, cwd=HERE, env=environment, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr[-2000:])
        self.assertIn("OK", done.stderr)
